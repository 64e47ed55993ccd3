#include "yardpass/part/read_stl.h"

#include <charconv>
#include <cmath>
#include <cstring>
#include <fstream>
#include <string_view>

namespace yardpass {

namespace {

constexpr double kFarthest = 1e6;
constexpr std::size_t kHeader = 84, kRecord = 50;

[[noreturn]] void fail(const std::filesystem::path& file, const std::string& what) {
  throw Error(file.string() + ": " + what);
}

std::string read_whole(const std::filesystem::path& file) {
  std::error_code code;
  if (!std::filesystem::exists(file, code)) fail(file, "no such file");
  if (!std::filesystem::is_regular_file(file, code)) fail(file, "is not a file");
  std::ifstream in(file, std::ios::binary);
  if (!in) fail(file, "cannot be opened for reading");
  std::string bytes(static_cast<std::size_t>(std::filesystem::file_size(file)), '\0');
  in.read(bytes.data(), static_cast<std::streamsize>(bytes.size()));
  if (!in) fail(file, "cannot be read to its end");
  return bytes;
}

void check_corner(const std::filesystem::path& file, const Vec3& p, const std::string& where) {
  if (!p.allFinite()) fail(file, where + ": a coordinate is not finite");
  if (p.cwiseAbs().maxCoeff() > kFarthest)
    fail(file, where + ": a coordinate is beyond 1e6 mm; is the file damaged or in another unit?");
}

Mesh parse_binary(const std::filesystem::path& file, std::string_view bytes, const Progress& progress) {
  const std::size_t count = (bytes.size() - kHeader) / kRecord;
  Mesh mesh;
  mesh.points.reserve(count * 3);
  mesh.triangles.reserve(count);
  for (std::size_t i = 0; i < count; ++i) {
    if (i % 65536 == 0) report(progress, static_cast<double>(i) / static_cast<double>(count));
    float values[9];
    std::memcpy(values, bytes.data() + kHeader + i * kRecord + 12, sizeof values);
    const auto first = static_cast<std::int32_t>(mesh.points.size());
    for (int k = 0; k < 3; ++k) {
      const Vec3 p(values[3 * k], values[3 * k + 1], values[3 * k + 2]);
      check_corner(file, p, "triangle " + std::to_string(i + 1));
      mesh.points.push_back(p);
    }
    mesh.triangles.push_back({first, first + 1, first + 2});
  }
  return mesh;
}

/// Words of an ASCII file with their line numbers.
class Words {
 public:
  explicit Words(std::string_view text) : text_(text) {}
  /// The next word, empty at the end.
  std::string_view next() {
    while (at_ < text_.size() && is_space(text_[at_])) line_ += text_[at_++] == '\n';
    const std::size_t start = at_;
    while (at_ < text_.size() && !is_space(text_[at_])) ++at_;
    return text_.substr(start, at_ - start);
  }
  void skip_line() {
    while (at_ < text_.size() && text_[at_] != '\n') ++at_;
  }
  [[nodiscard]] std::size_t line() const { return line_; }

 private:
  static bool is_space(char c) {
    return c == ' ' || c == '\t' || c == '\r' || c == '\n' || c == '\f' || c == '\v';
  }
  std::string_view text_;
  std::size_t at_ = 0, line_ = 1;
};

bool same_word(std::string_view a, std::string_view b) {
  return a.size() == b.size() && std::equal(a.begin(), a.end(), b.begin(), [](char x, char y) {
           return std::tolower(static_cast<unsigned char>(x)) == y;
         });
}

Mesh parse_ascii(const std::filesystem::path& file, std::string_view text) {
  Words words(text);
  const auto where = [&] { return "line " + std::to_string(words.line()); };
  const auto number = [&] {
    std::string_view word = words.next();
    if (!word.empty() && word.front() == '+') word.remove_prefix(1);
    double value = 0;
    const auto [end, code] = std::from_chars(word.data(), word.data() + word.size(), value);
    if (word.empty() || code == std::errc::invalid_argument || end != word.data() + word.size())
      fail(file,
           where() + ": expected a number, found \"" + std::string(word.substr(0, 40)) +
               (word.find(',') != std::string_view::npos ? "\" (decimals need a point, not a comma)" : "\""));
    return value;
  };
  const auto expect = [&](std::string_view wanted) {
    const std::string_view word = words.next();
    if (!same_word(word, wanted))
      fail(file, where() + ": expected \"" + std::string(wanted) + "\", found \"" +
                     (word.empty() ? "the end of the file" : std::string(word.substr(0, 40))) + "\"");
  };
  Mesh mesh;
  expect("solid");
  words.skip_line();
  for (;;) {
    const std::string_view word = words.next();
    if (word.empty()) fail(file, where() + ": the file ends before \"endsolid\"");
    if (same_word(word, "endsolid")) {
      words.skip_line();
      if (words.next().empty()) break;  // some files hold several solids in a row
      words.skip_line();
      continue;
    }
    if (!same_word(word, "facet"))
      fail(file, where() + ": expected \"facet\" or \"endsolid\", found \"" +
                     std::string(word.substr(0, 40)) + "\"");
    expect("normal");
    for (int k = 0; k < 3; ++k) words.next();  // not used: facing comes from the order of the corners
    expect("outer");
    expect("loop");
    const auto first = static_cast<std::int32_t>(mesh.points.size());
    for (int k = 0; k < 3; ++k) {
      expect("vertex");
      const double x = number(), y = number(), z = number();
      check_corner(file, {x, y, z}, where());
      mesh.points.emplace_back(x, y, z);
    }
    expect("endloop");
    expect("endfacet");
    mesh.triangles.push_back({first, first + 1, first + 2});
  }
  return mesh;
}

}  // namespace

Mesh read_stl(const std::filesystem::path& file, const Progress& progress) {
  const std::string bytes = read_whole(file);
  if (bytes.empty()) fail(file, "is empty");
  std::uint32_t count = 0;
  if (bytes.size() >= kHeader) std::memcpy(&count, bytes.data() + 80, sizeof count);
  const bool fits = bytes.size() >= kHeader && bytes.size() == kHeader + kRecord * std::size_t{count};
  const std::size_t first_letter = bytes.find_first_not_of(" \t\r\n");
  const bool text_start = first_letter != std::string::npos &&
                          same_word(std::string_view(bytes).substr(first_letter, 5), "solid");
  // A header may say "solid" too: real text has no zero bytes.
  const bool ascii = !fits && text_start && std::memchr(bytes.data(), 0, bytes.size()) == nullptr;
  Mesh mesh;
  if (ascii) {
    mesh = parse_ascii(file, bytes);
  } else {
    if (bytes.size() < kHeader)
      fail(file, "is neither ASCII STL (no \"solid\" at its start) nor binary STL (below 84 bytes)");
    if (!fits)
      fail(file, "binary STL promises " + std::to_string(count) + " triangles, " +
                     std::to_string(kHeader + kRecord * std::size_t{count}) + " bytes, but the file has " +
                     std::to_string(bytes.size()) + ": truncated or damaged");
    mesh = parse_binary(file, bytes, progress);
  }
  if (mesh.triangles.empty()) fail(file, "holds no triangle");
  return weld(mesh);
}

}  // namespace yardpass
