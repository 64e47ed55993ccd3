// What the readers of the mesh formats share.
#pragma once

#include <map>
#include <string>
#include <string_view>

#include "yardpass/part/read_mesh.h"

namespace yardpass::detail {

/// The bytes of a file with the name that messages call it by.
struct MeshSource {
  std::string_view bytes;
  std::string name;
  bool drop_not_finite = false;
  [[noreturn]] void fail(const std::string& what) const { throw Error(name + ": " + what); }
};

/// A mesh as the file says it: numbers in the file's unit, corners not yet shared.
struct ParsedMesh {
  std::string format;
  Mesh mesh;
  std::vector<std::string> groups;
  std::vector<std::int32_t> group_of_triangle;
  std::optional<LengthUnit> unit;
  std::vector<std::string> notes;

  /// Adds a polygon, cut into triangles, to a group (-1: none).
  void add_polygon(const std::vector<std::int32_t>& corners, std::int32_t group);
};

ParsedMesh parse_stl(const MeshSource& source, const Progress& progress);
ParsedMesh parse_obj(const MeshSource& source, const Progress& progress);
ParsedMesh parse_ply(const MeshSource& source, const Progress& progress);
ParsedMesh parse_3mf(const MeshSource& source, const Progress& progress);

/// Numbers groups by name, in order of appearance.
class GroupNames {
 public:
  std::int32_t number(const std::string& name);
  std::vector<std::string> names;

 private:
  std::map<std::string, std::int32_t> numbers_;
};

/// Words of a text file with their line numbers.
class Words {
 public:
  Words(const MeshSource& source, std::string_view text, std::size_t first_line = 1)
      : source_(source), text_(text), line_(first_line) {}
  /// The next word, on whatever line; empty at the end.
  std::string_view next();
  /// The next word on the same line, empty at its end.
  std::string_view next_on_line();
  /// A number, the next word on whatever line. Fails with the line if it is none.
  double number() { return to_number(next()); }
  double to_number(std::string_view word) const;
  std::int64_t to_whole(std::string_view word) const;
  /// The rest of the line, without white space at its ends; the line end itself stays.
  std::string_view rest_of_line();
  void skip_line();
  [[nodiscard]] bool at_end() const { return at_ >= text_.size(); }
  [[nodiscard]] std::size_t line() const { return line_; }
  [[nodiscard]] std::size_t at() const { return at_; }
  [[noreturn]] void fail(const std::string& what) const;

 private:
  void take_line_end();

  const MeshSource& source_;
  std::string_view text_;
  std::size_t at_ = 0, line_;
};

/// The text without the mark of its byte order that some editors put before UTF-8. Fails for text in UTF-16.
std::string_view without_byte_order_mark(const MeshSource& source);

/// Equal but for the case of the letters of `a`.
bool same_word(std::string_view a, std::string_view b);
/// For messages: in quotes, cut if it is long, without unprintable bytes.
std::string quoted(std::string_view word);

}  // namespace yardpass::detail
