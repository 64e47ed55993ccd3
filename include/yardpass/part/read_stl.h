/// Reading and writing meshes as STL.
#pragma once

#include <filesystem>

#include "yardpass/geom/error.h"
#include "yardpass/geom/mesh.h"

namespace yardpass {

/// Reads a binary or ASCII STL file whose numbers are millimetres and welds equal corners. Which of the two
/// it is, is decided by the file's length against the triangle count in it, so a binary file that begins with
/// "solid" is fine. Throws Error with file and triangle (or line) for: no such file, truncated or overlong
/// data, a corner that is not finite or beyond 1e6 mm, no triangle at all.
[[nodiscard]] Mesh read_stl(const std::filesystem::path& file, const Progress& progress = {});

/// Writes binary STL (single precision, as the format has it). Throws Error if the file cannot be written.
void write_stl(const std::filesystem::path& file, const Mesh& mesh, const std::string& title);

/// The mesh with its corners rounded to single precision: what reading back a written file gives. Judging a
/// part by the file that others get needs the mesh to be this one.
[[nodiscard]] Mesh rounded_to_single(Mesh mesh);

}  // namespace yardpass
