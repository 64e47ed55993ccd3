// The demo meshes as they are in the tree: reading them is quicker than making them.
#pragma once

#include <string>

#include "yardpass/part/read_mesh.h"

namespace yardpass::testing {

inline Mesh demo_mesh(const std::string& name) {
  return read_mesh(YARDPASS_SOURCE_FOLDER "/demo/" + name + ".stl").mesh;
}

}  // namespace yardpass::testing
