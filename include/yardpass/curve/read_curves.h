/// Reading curve files: SVG and OBJ lines. DXF is read by the target of its own in yardpass/dxf.
#pragma once

#include <filesystem>
#include <string_view>

#include "yardpass/curve/curve.h"
#include "yardpass/part/read_mesh.h"

namespace yardpass {

struct CurveReadOptions {
  /// Unit of the numbers in the file. Empty: what the file says, else millimetres. In SVG the unit of one
  /// user unit; if empty, width, height and viewBox say it, and without them it is 1/96 inch.
  std::optional<LengthUnit> unit = {};
  double tolerance_mm = 0.001;  ///< chords leave arcs, ellipses and splines by no more
  bool texts = true;            ///< of DXF, as strokes; else they are passed over
};

/// Curves in the order of the file, in millimetres.
struct CurveFile {
  std::vector<Curve> curves;
  std::string format;              ///< "SVG", "OBJ", "DXF"
  std::string unit_words;          ///< "mm (the file)", "inch (as asked for)", ...
  std::vector<std::string> notes;  ///< what was passed over: "2 texts passed over"
};

/// Reads SVG (all shapes and paths, with transforms; Y upwards, the origin at the lower left of the page, Z
/// 0) or OBJ (`l` lines in space; a line that ends where it began is closed), by the ending of the file.
/// Layer: in SVG the id of the outermost group, in OBJ `g`. Name: in SVG the id of the shape, in OBJ `o`.
/// Shapes of which the file tells that they are not shown are passed over. Throws Error with file and line
/// for: no such file, damaged text, points that are not finite or beyond 1e6 mm, no curve at all.
[[nodiscard]] CurveFile read_curves(const std::filesystem::path& file, const CurveReadOptions& options = {});

/// The same from memory; `name` appears in messages, and its ending says the format.
[[nodiscard]] CurveFile read_curve_bytes(std::string_view bytes, const std::string& name,
                                         const CurveReadOptions& options = {});

}  // namespace yardpass
