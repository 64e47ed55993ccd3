/// Reading meshes: STL (binary and ASCII), OBJ, PLY (ASCII, binary of both byte orders), 3MF.
#pragma once

#include <cstdint>
#include <filesystem>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "yardpass/geom/error.h"
#include "yardpass/geom/mesh.h"

namespace yardpass {

enum class LengthUnit { micrometre, millimetre, centimetre, metre, inch, foot };
/// How many millimetres one of it is.
[[nodiscard]] double millimetres(LengthUnit unit);
/// "um", "mm", "cm", "m", "inch", "foot"
[[nodiscard]] const char* name_of(LengthUnit unit);

struct ReadOptions {
  /// Unit of the numbers in the file. Empty: what the file says (3MF does), else millimetres.
  std::optional<LengthUnit> unit = {};
  double weld_mm = 0;  ///< corners nearer than this become one; 0: only equal ones
  /// Triangles with a corner that is not finite or beyond 1e6 mm are left out and counted; else they are an
  /// error.
  bool drop_not_finite = false;
};

/// A mesh as read, in millimetres, with what the file tells about it.
struct MeshFile {
  Mesh mesh;
  /// Groups, objects or solids that the file names, in its order. Empty if it names none.
  std::vector<std::string> groups;
  std::vector<std::int32_t> group_of_triangle;  ///< index into groups; empty if there are none
  std::string format;                           ///< "binary STL", "OBJ", ...
  LengthUnit unit = LengthUnit::millimetre;
  std::string unit_source;         ///< "the file", "as asked for", "default: the format has no unit"
  std::int64_t welded = 0;         ///< different corners that the weld tolerance joined
  std::int64_t dropped = 0;        ///< triangles left out because of drop_not_finite
  std::vector<std::string> notes;  ///< what was passed over or changed in reading
};

/// Reads a mesh file; its ending says what it is, and if it has another ending, its first bytes do. Binary
/// and ASCII STL are told apart by the file's length against the triangle count in it, so a binary file that
/// begins with "solid" is fine. Polygons are cut into triangles. Nothing is repaired. Throws Error with file
/// and line, triangle or byte for: no such file, truncated or overlong data, indices without a corner, words
/// where a number should be, corners that are not finite or beyond 1e6 mm, no triangle at all.
[[nodiscard]] MeshFile read_mesh(const std::filesystem::path& file, const ReadOptions& options = {},
                                 const Progress& progress = {});

/// The same from memory; `name` appears in messages, and its ending says the format.
[[nodiscard]] MeshFile read_mesh_bytes(std::string_view bytes, const std::string& name,
                                       const ReadOptions& options = {}, const Progress& progress = {});

}  // namespace yardpass
