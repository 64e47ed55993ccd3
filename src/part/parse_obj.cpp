// Wavefront OBJ: polygons with groups; all else is passed over. Numbers keep double precision.
#include <array>

#include "part/mesh_source.h"

namespace yardpass::detail {

namespace {

class ObjParser {
 public:
  ObjParser(const MeshSource& source, const Progress& progress)
      : source_(source), progress_(progress), words_(source, without_byte_order_mark(source)) {
    parsed_.format = "OBJ";
  }

  ParsedMesh run() {
    std::size_t lines = 0;
    while (!words_.at_end()) {
      if (++lines % 65536 == 0)
        report(progress_, static_cast<double>(words_.at()) / static_cast<double>(source_.bytes.size()));
      statement();
      words_.skip_line();
    }
    if (passed_over_ > 0)
      parsed_.notes.push_back(std::to_string(passed_over_) + " lines, points and free curves passed over");
    if (polygons_ > 0) parsed_.notes.push_back(std::to_string(polygons_) + " polygons cut into triangles");
    if (groups_.names.size() > 1)
      parsed_.groups = groups_.names;
    else
      parsed_.group_of_triangle.clear();
    return std::move(parsed_);
  }

 private:
  void statement() {
    const std::string_view word = words_.next_on_line();
    if (word == "v") {
      const double x = number(), y = number(), z = number();
      parsed_.mesh.points.emplace_back(x, y, z);
    } else if (word == "f") {
      face();
    } else if (word == "g" || word == "o") {
      group_ = groups_.number(std::string(words_.rest_of_line()));
    } else if (word == "l" || word == "p" || word == "curv" || word == "surf") {
      ++passed_over_;
    } else if (!word.empty() && word.front() != '#' && !is_known(word)) {
      words_.fail("unknown statement " + quoted(word) + "; is this an OBJ file?");
    }
  }

  static bool is_known(std::string_view word) {
    static constexpr std::array<std::string_view, 29> known{
        "vt",       "vn",       "vp",   "s",      "usemtl", "mtllib",     "mg",        "bevel",
        "c_interp", "d_interp", "lod",  "maplib", "usemap", "shadow_obj", "trace_obj", "cstype",
        "deg",      "bmat",     "step", "curv2",  "parm",   "trim",       "hole",      "scrv",
        "sp",       "end",      "con",  "ctech",  "stech"};
    for (const auto& other : known)
      if (word == other) return true;
    return false;
  }

  double number() {
    const std::string_view word = words_.next_on_line();
    if (word.empty()) words_.fail("a corner needs three numbers");
    return words_.to_number(word);
  }

  void face() {
    corners_.clear();
    for (;;) {
      const std::string_view word = words_.next_on_line();
      if (word.empty() || word.front() == '#') break;
      if (word == "\\") {  // the statement goes on in the next line
        words_.skip_line();
        continue;
      }
      const std::int64_t index = words_.to_whole(word.substr(0, word.find('/')));
      const auto count = static_cast<std::int64_t>(parsed_.mesh.points.size());
      const std::int64_t corner = index < 0 ? count + index : index - 1;
      if (index == 0 || corner < 0 || corner >= count)
        words_.fail("corner " + std::to_string(index) + " does not exist; so far there are " +
                    std::to_string(count));
      corners_.push_back(static_cast<std::int32_t>(corner));
    }
    if (corners_.size() < 3) words_.fail("a face needs three corners or more");
    if (corners_.size() > 10000) words_.fail("a face with more than 10000 corners");
    polygons_ += corners_.size() > 3;
    if (group_ < 0) group_ = groups_.number("");
    parsed_.add_polygon(corners_, group_);
  }

  const MeshSource& source_;
  const Progress& progress_;
  Words words_;
  ParsedMesh parsed_;
  GroupNames groups_;
  std::int32_t group_ = -1;
  std::vector<std::int32_t> corners_;
  std::int64_t passed_over_ = 0, polygons_ = 0;
};

}  // namespace

ParsedMesh parse_obj(const MeshSource& source, const Progress& progress) {
  return ObjParser(source, progress).run();
}

}  // namespace yardpass::detail
