#include <algorithm>
#include <cstring>

#include "part/mesh_source.h"

namespace yardpass::detail {

namespace {

constexpr std::size_t kHeader = 84, kRecord = 50;

ParsedMesh parse_binary(const MeshSource& source, std::size_t count, const Progress& progress) {
  ParsedMesh parsed;
  parsed.format = "binary STL";
  Mesh& mesh = parsed.mesh;
  mesh.points.reserve(count * 3);
  mesh.triangles.reserve(count);
  for (std::size_t i = 0; i < count; ++i) {
    if (i % 65536 == 0) report(progress, static_cast<double>(i) / static_cast<double>(count));
    float values[9];
    std::memcpy(values, source.bytes.data() + kHeader + i * kRecord + 12, sizeof values);
    const auto first = static_cast<std::int32_t>(mesh.points.size());
    for (int k = 0; k < 3; ++k) mesh.points.emplace_back(values[3 * k], values[3 * k + 1], values[3 * k + 2]);
    mesh.triangles.push_back({first, first + 1, first + 2});
  }
  return parsed;
}

/// Whether the words that come next begin a triangle, the file's end or another solid.
bool goes_on(Words ahead) {
  const std::string_view word = ahead.next_on_line();
  return (same_word(word, "facet") && same_word(ahead.next(), "normal")) || same_word(word, "endsolid") ||
         same_word(word, "solid");
}

/// The rest of the line is a name, as far as nothing else stands there: some files are one single line.
std::string name_on_line(Words& words) {
  std::string name;
  while (!goes_on(words)) {
    const std::string_view word = words.next_on_line();
    if (word.empty()) break;
    name += (name.empty() ? "" : " ") + std::string(word);
  }
  return name;
}

/// Tells what stands behind the end of a text, if it is more than white space and zero bytes.
void note_what_follows(std::string_view rest, ParsedMesh& parsed) {
  const auto blank = [](char c) { return c == '\0' || c == '\x1a' || (c >= '\t' && c <= '\r') || c == ' '; };
  while (!rest.empty() && blank(rest.front())) rest.remove_prefix(1);
  if (rest.empty()) return;
  parsed.notes.push_back(std::to_string(rest.size()) + " bytes behind the last \"endsolid\" passed over");
}

ParsedMesh parse_ascii(const MeshSource& source, std::string_view text, const Progress& progress) {
  Words words(source, text);
  const auto expect = [&](std::string_view wanted) {
    const std::string_view word = words.next();
    if (!same_word(word, wanted))
      words.fail("expected \"" + std::string(wanted) + "\", found " + quoted(word));
  };
  ParsedMesh parsed;
  parsed.format = "ASCII STL";
  Mesh& mesh = parsed.mesh;
  GroupNames groups;
  expect("solid");
  std::int32_t group = groups.number(name_on_line(words));
  for (;;) {
    const std::string_view word = words.next();
    if (word.empty()) words.fail("the file ends before \"endsolid\"");
    if (same_word(word, "endsolid")) {
      (void)name_on_line(words);
      const std::size_t end = words.at();
      if (!same_word(words.next(), "solid")) {  // some files hold several solids in a row
        note_what_follows(text.substr(end), parsed);
        break;
      }
      group = groups.number(name_on_line(words));
      continue;
    }
    if (!same_word(word, "facet")) words.fail("expected \"facet\" or \"endsolid\", found " + quoted(word));
    expect("normal");
    for (int k = 0; k < 3; ++k) words.next();  // not used: facing comes from the order of the corners
    expect("outer");
    expect("loop");
    const auto first = static_cast<std::int32_t>(mesh.points.size());
    for (int k = 0; k < 3; ++k) {
      expect("vertex");
      const double x = words.number(), y = words.number(), z = words.number();
      mesh.points.emplace_back(x, y, z);
    }
    expect("endloop");
    expect("endfacet");
    mesh.triangles.push_back({first, first + 1, first + 2});
    parsed.group_of_triangle.push_back(group);
    if (mesh.triangles.size() % 65536 == 0)
      report(progress, static_cast<double>(words.at()) / static_cast<double>(source.bytes.size()));
  }
  // The one name of a single solid is a title, not a group.
  if (groups.names.size() > 1)
    parsed.groups = groups.names;
  else
    parsed.group_of_triangle.clear();
  return parsed;
}

/// Text begins with "solid"; a header may say so too, but real text has no zero bytes where its facets begin.
bool is_text(const MeshSource& source) {
  std::string_view start = without_byte_order_mark(source).substr(0, 2048);
  const std::size_t letter = start.find_first_not_of(" \t\r\n");
  if (letter == std::string_view::npos || !same_word(start.substr(letter, 5), "solid")) return false;
  const std::size_t zero = start.find('\0');
  if (zero == std::string_view::npos) return true;
  // Zero bytes at the end of a short text are padding.
  return start.substr(0, zero).find("endsolid") != std::string_view::npos;
}

}  // namespace

ParsedMesh parse_stl(const MeshSource& source, const Progress& progress) {
  const std::string_view bytes = source.bytes;
  std::uint32_t count = 0;
  if (bytes.size() >= kHeader) std::memcpy(&count, bytes.data() + 80, sizeof count);
  const bool fits = bytes.size() >= kHeader && bytes.size() == kHeader + kRecord * std::size_t{count};
  if (!fits && is_text(source)) return parse_ascii(source, without_byte_order_mark(source), progress);
  if (bytes.size() < kHeader)
    source.fail("is neither ASCII STL (no \"solid\" at its start) nor binary STL (below 84 bytes)");
  const std::size_t wanted = kHeader + kRecord * std::size_t{count};
  const std::string promise = "binary STL promises " + std::to_string(count) + " triangles, " +
                              std::to_string(wanted) + " bytes, but the file has " +
                              std::to_string(bytes.size());
  if (bytes.size() < wanted) source.fail(promise + ": truncated or damaged");
  const std::size_t more = bytes.size() - wanted;
  if (more >= kRecord)
    source.fail(promise + ", enough for " + std::to_string((bytes.size() - kHeader) / kRecord) +
                " triangles: its count or its end is damaged");
  ParsedMesh parsed = parse_binary(source, count, progress);
  if (more > 0)
    parsed.notes.push_back(std::to_string(more) + (more == 1 ? " byte" : " bytes") +
                           " behind the last triangle passed over");
  return parsed;
}

}  // namespace yardpass::detail
