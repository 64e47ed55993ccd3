#include <cstring>

#include "part/mesh_source.h"

namespace yardpass::detail {

namespace {

constexpr std::size_t kHeader = 84, kRecord = 50;

ParsedMesh parse_binary(const MeshSource& source, const Progress& progress) {
  const std::size_t count = (source.bytes.size() - kHeader) / kRecord;
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

ParsedMesh parse_ascii(const MeshSource& source, const Progress& progress) {
  Words words(source, source.bytes);
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
  std::int32_t group = groups.number(std::string(words.rest_of_line()));
  for (;;) {
    const std::string_view word = words.next();
    if (word.empty()) words.fail("the file ends before \"endsolid\"");
    if (same_word(word, "endsolid")) {
      words.skip_line();
      if (words.next().empty()) break;  // some files hold several solids in a row
      group = groups.number(std::string(words.rest_of_line()));
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

}  // namespace

ParsedMesh parse_stl(const MeshSource& source, const Progress& progress) {
  const std::string_view bytes = source.bytes;
  std::uint32_t count = 0;
  if (bytes.size() >= kHeader) std::memcpy(&count, bytes.data() + 80, sizeof count);
  const bool fits = bytes.size() >= kHeader && bytes.size() == kHeader + kRecord * std::size_t{count};
  const std::size_t first_letter = bytes.find_first_not_of(" \t\r\n");
  const bool text_start =
      first_letter != std::string_view::npos && same_word(bytes.substr(first_letter, 5), "solid");
  // A header may say "solid" too: real text has no zero bytes.
  if (!fits && text_start && std::memchr(bytes.data(), 0, bytes.size()) == nullptr)
    return parse_ascii(source, progress);
  if (bytes.size() < kHeader)
    source.fail("is neither ASCII STL (no \"solid\" at its start) nor binary STL (below 84 bytes)");
  if (!fits)
    source.fail("binary STL promises " + std::to_string(count) + " triangles, " +
                std::to_string(kHeader + kRecord * std::size_t{count}) + " bytes, but the file has " +
                std::to_string(bytes.size()) + ": truncated or damaged");
  return parse_binary(source, progress);
}

}  // namespace yardpass::detail
