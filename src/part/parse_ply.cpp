// PLY (polygon file format): corners and faces; all else is passed over. Numbers keep the file's precision.
#include <algorithm>
#include <array>
#include <bit>
#include <cmath>
#include <cstring>

#include "part/mesh_source.h"

namespace yardpass::detail {

namespace {

enum class Kind { int8, uint8, int16, uint16, int32, uint32, float32, float64 };

struct KindName {
  std::string_view short_name, long_name;
  Kind kind;
  std::size_t bytes;
};
constexpr std::array<KindName, 8> kKinds{{{"char", "int8", Kind::int8, 1},
                                          {"uchar", "uint8", Kind::uint8, 1},
                                          {"short", "int16", Kind::int16, 2},
                                          {"ushort", "uint16", Kind::uint16, 2},
                                          {"int", "int32", Kind::int32, 4},
                                          {"uint", "uint32", Kind::uint32, 4},
                                          {"float", "float32", Kind::float32, 4},
                                          {"double", "float64", Kind::float64, 8}}};

std::size_t bytes_of(Kind kind) { return kKinds[static_cast<std::size_t>(kind)].bytes; }

struct Property {
  std::string name;
  Kind kind = Kind::float32;
  bool list = false;
  Kind count_kind = Kind::uint8;
};

struct Element {
  std::string name;
  std::int64_t count = 0;
  std::vector<Property> properties;
  [[nodiscard]] int index_of(std::string_view wanted) const {
    for (std::size_t i = 0; i < properties.size(); ++i)
      if (properties[i].name == wanted) return static_cast<int>(i);
    return -1;
  }
};

std::string whole_text(double value) {
  return std::abs(value) < 1e15 ? std::to_string(static_cast<std::int64_t>(value)) : "out of all range";
}

/// Values in the order of the file, from text or from bytes.
class ValueReader {
 public:
  ValueReader(const MeshSource& source, std::size_t start, std::size_t line)
      : source_(source), at_(start), words_(source, source.bytes.substr(start), line) {}
  enum class Form { text, little, big } form = Form::text;

  double next(Kind kind) {
    if (form == Form::text) {
      const std::string_view word = words_.next();
      if (word.empty()) words_.fail("the file ends before all that its header promises");
      return words_.to_number(word);
    }
    const std::size_t size = bytes_of(kind);
    if (at_ + size > source_.bytes.size())
      source_.fail("ends at byte " + std::to_string(source_.bytes.size()) +
                   ", before all that its header promises: truncated");
    std::array<unsigned char, 8> raw{};
    std::memcpy(raw.data(), source_.bytes.data() + at_, size);
    at_ += size;
    const bool here_little = std::endian::native == std::endian::little;
    if ((form == Form::little) != here_little)
      std::reverse(raw.begin(), raw.begin() + static_cast<std::ptrdiff_t>(size));
    switch (kind) {
      case Kind::int8:
        return as<std::int8_t>(raw);
      case Kind::uint8:
        return as<std::uint8_t>(raw);
      case Kind::int16:
        return as<std::int16_t>(raw);
      case Kind::uint16:
        return as<std::uint16_t>(raw);
      case Kind::int32:
        return as<std::int32_t>(raw);
      case Kind::uint32:
        return as<std::uint32_t>(raw);
      case Kind::float32:
        return as<float>(raw);
      case Kind::float64:
        return as<double>(raw);
    }
    return 0;
  }
  /// At least this many bytes belong to one value, so a count that needs more than are left is a lie.
  [[nodiscard]] std::size_t bytes_left() const {
    return source_.bytes.size() - std::min(source_.bytes.size(), form == Form::text ? 0 : at_);
  }
  [[noreturn]] void fail(const std::string& what) const {
    if (form == Form::text) words_.fail(what);
    source_.fail("byte " + std::to_string(at_) + ": " + what);
  }

 private:
  template <typename Number>
  static double as(const std::array<unsigned char, 8>& raw) {
    Number value;
    std::memcpy(&value, raw.data(), sizeof value);
    return static_cast<double>(value);
  }
  const MeshSource& source_;
  std::size_t at_;
  Words words_;
};

class PlyParser {
 public:
  PlyParser(const MeshSource& source, const Progress& progress) : source_(source), progress_(progress) {}

  ParsedMesh run() {
    read_header();
    ValueReader values(source_, body_, line_);
    values.form = form_;
    for (const Element& element : elements_) {
      if (element.name == "vertex")
        read_corners(element, values);
      else if (element.name == "face")
        read_faces(element, values);
      else
        pass_over(element, values);
    }
    if (polygons_ > 0) parsed_.notes.push_back(std::to_string(polygons_) + " polygons cut into triangles");
    return std::move(parsed_);
  }

 private:
  void read_header() {
    const std::string_view text = without_byte_order_mark(source_);
    const std::size_t before = source_.bytes.size() - text.size();
    Words words(source_, text);
    if (words.next() != "ply") words.fail("expected \"ply\" as the first word");
    bool ended = false, has_format = false;
    while (!ended) {
      words.skip_line();
      if (words.at_end()) words.fail("the header has no \"end_header\"");
      const std::string_view word = words.next_on_line();
      if (word == "format") {
        const std::string_view form = words.next_on_line();
        has_format = true;
        if (form == "ascii")
          form_ = ValueReader::Form::text, parsed_.format = "ASCII PLY";
        else if (form == "binary_little_endian")
          form_ = ValueReader::Form::little, parsed_.format = "binary PLY";
        else if (form == "binary_big_endian")
          form_ = ValueReader::Form::big, parsed_.format = "binary PLY";
        else
          words.fail("unknown format " + quoted(form) +
                     "; valid: ascii, binary_little_endian, binary_big_endian");
      } else if (word == "element") {
        Element element;
        element.name = std::string(words.next_on_line());
        element.count = words.to_whole(words.next_on_line());
        if (element.count < 0) words.fail("an element cannot have a count below 0");
        elements_.push_back(element);
      } else if (word == "property") {
        if (elements_.empty()) words.fail("a property before any element");
        elements_.back().properties.push_back(read_property(words));
      } else if (word == "end_header") {
        ended = true;
      } else if (!word.empty() && word != "comment" && word != "obj_info") {
        words.fail("unknown header word " + quoted(word));
      }
    }
    if (!has_format) words.fail("the header has no \"format\"");
    const std::size_t last = words.at();
    words.skip_line();
    body_ = before + words.at(), line_ = words.line();
    // Where lines end in carriage returns alone, a line feed behind the last one is the first byte of the
    // body.
    const bool returns_alone = text.size() > 4 && text[3] == '\r' && text[4] != '\n';
    if (returns_alone && words.at() - last == 2) --body_;
  }

  static Property read_property(Words& words) {
    const auto kind = [&]() {
      const std::string_view word = words.next_on_line();
      for (const auto& known : kKinds)
        if (word == known.short_name || word == known.long_name) return known.kind;
      words.fail("unknown type " + quoted(word) +
                 "; valid: char, uchar, short, ushort, int, uint, float, double, list");
    };
    Property property;
    Words ahead = words;
    if (ahead.next_on_line() == "list") {
      words.next_on_line();
      property.list = true;
      property.count_kind = kind();
    }
    property.kind = kind();
    property.name = std::string(words.next_on_line());
    return property;
  }

  void check_count(const Element& element, const ValueReader& values) const {
    // In text every value takes a digit and a blank; in bytes its size, of a list that of its count.
    std::size_t least = 0;
    for (const Property& p : element.properties)
      least += form_ == ValueReader::Form::text ? 2 : bytes_of(p.list ? p.count_kind : p.kind);
    const auto possible = least == 0 ? 0 : values.bytes_left() / least + 1;
    if (static_cast<std::size_t>(element.count) > possible)
      source_.fail("promises " + std::to_string(element.count) + " times \"" + element.name +
                   "\", but is too short for them: truncated or damaged");
  }

  void tick(std::int64_t done, std::int64_t all) const {
    if (done % 65536 == 0) report(progress_, static_cast<double>(done) / static_cast<double>(all));
  }

  void read_corners(const Element& element, ValueReader& values) {
    std::array<int, 3> place{element.index_of("x"), element.index_of("y"), element.index_of("z")};
    if (std::count_if(place.begin(), place.end(), [](int i) { return i >= 0; }) < 3)
      source_.fail("the element \"vertex\" has no properties x, y and z");
    check_count(element, values);
    parsed_.mesh.points.reserve(static_cast<std::size_t>(element.count));
    for (std::int64_t i = 0; i < element.count; ++i) {
      tick(i, element.count);
      Vec3 p(0, 0, 0);
      for (std::size_t k = 0; k < element.properties.size(); ++k) {
        const double value = read_value(element.properties[k], values, nullptr);
        for (int axis = 0; axis < 3; ++axis)
          if (place[static_cast<std::size_t>(axis)] == static_cast<int>(k)) p[axis] = value;
      }
      parsed_.mesh.points.push_back(p);
    }
  }

  void read_faces(const Element& element, ValueReader& values) {
    int place = element.index_of("vertex_indices");
    if (place < 0) place = element.index_of("vertex_index");
    if (place < 0 || !element.properties[static_cast<std::size_t>(place)].list)
      source_.fail("the element \"face\" has no list vertex_indices");
    check_count(element, values);
    parsed_.mesh.triangles.reserve(static_cast<std::size_t>(element.count));
    std::vector<double> list;
    std::vector<std::int32_t> corners;
    const auto count = static_cast<double>(parsed_.mesh.points.size());
    for (std::int64_t i = 0; i < element.count; ++i) {
      tick(i, element.count);
      for (std::size_t k = 0; k < element.properties.size(); ++k)
        read_value(element.properties[k], values, static_cast<int>(k) == place ? &list : nullptr);
      corners.clear();
      for (const double index : list) {
        if (!(index >= 0 && index < count) || index != static_cast<double>(static_cast<std::int64_t>(index)))
          values.fail("face " + std::to_string(i + 1) + " names corner " + whole_text(index) +
                      ", which does not exist; there are " + std::to_string(parsed_.mesh.points.size()));
        corners.push_back(static_cast<std::int32_t>(index));
      }
      if (corners.size() < 3) values.fail("face " + std::to_string(i + 1) + " has fewer than three corners");
      if (corners.size() > 10000) values.fail("a face with more than 10000 corners");
      polygons_ += corners.size() > 3;
      parsed_.add_polygon(corners, -1);
    }
  }

  void pass_over(const Element& element, ValueReader& values) {
    if (element.properties.empty()) return;
    check_count(element, values);
    for (std::int64_t i = 0; i < element.count; ++i)
      for (const Property& property : element.properties) read_value(property, values, nullptr);
    if (element.count > 0) parsed_.notes.push_back("\"" + element.name + "\" passed over");
  }

  /// The value, or the values of a list into `list`.
  double read_value(const Property& property, ValueReader& values, std::vector<double>* list) const {
    if (!property.list) return values.next(property.kind);
    const double count = values.next(property.count_kind);
    if (!(count >= 0 && count <= 1e6)) values.fail("a list of " + std::to_string(count) + " values");
    if (list) list->clear();
    for (int i = 0; i < static_cast<int>(count); ++i) {
      const double value = values.next(property.kind);
      if (list) list->push_back(value);
    }
    return count;
  }

  const MeshSource& source_;
  const Progress& progress_;
  ParsedMesh parsed_;
  std::vector<Element> elements_;
  ValueReader::Form form_ = ValueReader::Form::text;
  std::size_t body_ = 0, line_ = 1;
  std::int64_t polygons_ = 0;
};

}  // namespace

ParsedMesh parse_ply(const MeshSource& source, const Progress& progress) {
  return PlyParser(source, progress).run();
}

}  // namespace yardpass::detail
