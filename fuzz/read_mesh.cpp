// Any bytes: a mesh whose promises hold, or an Error that names the file.
#include <cstdint>
#include <cstdlib>
#include <cstring>
#include <string>

#include "yardpass/part/read_mesh.h"

using namespace yardpass;

namespace {

void require(bool holds) {
  if (!holds) std::abort();
}

}  // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  ReadOptions options;
  // The first byte chooses how it is read; the rest is the file.
  if (size > 0) options.drop_not_finite = (data[0] & 1) != 0, options.weld_mm = (data[0] & 2) != 0 ? 0.01 : 0;
  const std::string bytes(reinterpret_cast<const char*>(data) + (size > 0), size > 0 ? size - 1 : 0);
  const std::string name = "file" YARDPASS_ENDING;
  try {
    const MeshFile file = read_mesh_bytes(bytes, name, options);
    require(!file.mesh.triangles.empty());
    for (const Vec3& p : file.mesh.points) require(p.allFinite() && p.cwiseAbs().maxCoeff() <= 1e6);
    for (const auto& t : file.mesh.triangles)
      for (const auto i : t) require(i >= 0 && static_cast<std::size_t>(i) < file.mesh.points.size());
    require(file.group_of_triangle.empty() || file.group_of_triangle.size() == file.mesh.triangles.size());
    for (const auto g : file.group_of_triangle)
      require(g >= 0 && static_cast<std::size_t>(g) < file.groups.size());
  } catch (const Error& error) {
    require(std::string(error.what()).rfind(name + ": ", 0) == 0);
  }
  return 0;
}
