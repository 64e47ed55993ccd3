/// Writing meshes as binary STL.
#pragma once

#include <filesystem>
#include <string>

#include "yardpass/geom/error.h"
#include "yardpass/geom/mesh.h"

namespace yardpass {

/// Writes binary STL (single precision, as the format has it). Throws Error if the file cannot be written.
void write_stl(const std::filesystem::path& file, const Mesh& mesh, const std::string& title);

/// The mesh with its corners rounded to single precision: what reading back a written file gives. Judging a
/// part by the file that others get needs the mesh to be this one.
[[nodiscard]] Mesh rounded_to_single(Mesh mesh);

}  // namespace yardpass
