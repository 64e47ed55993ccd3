// Wavefront OBJ: `l` lines with groups and object names; faces and points are passed over.
#include "curve/parse_curves.h"

namespace yardpass::detail {

CurveFile parse_obj_curves(const MeshSource& source, const CurveReadOptions& options) {
  CurveFile file;
  file.format = "OBJ";
  const LengthUnit unit = options.unit.value_or(LengthUnit::millimetre);
  file.unit_words =
      std::string(name_of(unit)) + (options.unit ? " (as asked for)" : " (default: the format has no unit)");
  Words words(source, source.bytes);
  std::vector<Vec3> points;
  std::string layer, name;
  std::int64_t faces = 0;
  while (!words.at_end()) {
    const std::string_view word = words.next_on_line();
    if (word == "v") {
      Vec3 p;
      for (int k = 0; k < 3; ++k) {
        const std::string_view number = words.next_on_line();
        if (number.empty()) words.fail("a point needs three numbers");
        p[k] = words.to_number(number) * millimetres(unit);
      }
      points.push_back(p);
    } else if (word == "g") {
      layer = words.rest_of_line();
    } else if (word == "o") {
      name = words.rest_of_line();
    } else if (word == "l") {
      Curve curve{{}, false, name, layer, ""};
      for (std::string_view next = words.next_on_line(); !next.empty() && next.front() != '#';
           next = words.next_on_line()) {
        if (next == "\\") {
          words.skip_line();
          continue;
        }
        const std::int64_t index = words.to_whole(next.substr(0, next.find('/')));
        const auto count = static_cast<std::int64_t>(points.size());
        const std::int64_t at = index < 0 ? count + index : index - 1;
        if (index == 0 || at < 0 || at >= count)
          words.fail("point " + std::to_string(index) + " does not exist; so far there are " +
                     std::to_string(count));
        curve.points.push_back(points[static_cast<std::size_t>(at)]);
      }
      if (curve.points.size() < 2) words.fail("a line needs two points or more");
      file.curves.push_back(std::move(curve));
    } else if (word == "f") {
      ++faces;
    }
    words.skip_line();
  }
  note_passed_over(file, faces, "face(s)");
  return file;
}

}  // namespace yardpass::detail
