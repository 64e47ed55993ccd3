#include "job/parse_toml.h"

#include <algorithm>
#include <fstream>
#include <sstream>

#include <toml++/toml.h>

#include "yardpass/geom/error.h"

namespace yardpass::detail {

namespace {

int line_of(const toml::node& node) { return static_cast<int>(node.source().begin.line); }

Given given(const toml::node& node);

/// toml++ sorts keys by name; here they come as they stand in the file.
GivenTable given_table(const toml::table& table) {
  std::vector<std::pair<const toml::key*, const toml::node*>> entries;
  for (const auto& [key, node] : table) entries.emplace_back(&key, &node);
  std::stable_sort(entries.begin(), entries.end(), [](const auto& a, const auto& b) {
    const auto &p = a.first->source().begin, &q = b.first->source().begin;
    return p.line != q.line ? p.line < q.line : p.column < q.column;
  });
  GivenTable result(line_of(table));
  for (const auto& [key, node] : entries) result.set(std::string(key->str()), given(*node));
  return result;
}

Given given(const toml::node& node) {
  const int line = line_of(node);
  if (const auto* table = node.as_table()) return Given(given_table(*table), line);
  if (const auto* list = node.as_array()) {
    GivenList result;
    for (const toml::node& one : *list) result.push_back(given(one));
    return Given(std::move(result), line);
  }
  if (const auto value = node.value_exact<bool>()) return {*value, line};
  if (const auto value = node.value_exact<std::int64_t>()) return {*value, line};
  if (const auto value = node.value_exact<double>()) return {*value, line};
  if (const auto value = node.value_exact<std::string>()) return {*value, line};
  return {Given::Other{"a date or a time"}, line};
}

}  // namespace

std::optional<GivenTable> parse_toml_file(const std::filesystem::path& file, Mistakes& mistakes) {
  std::ifstream in(file, std::ios::binary);
  if (!in || std::filesystem::is_directory(file))
    throw Error(file.string() + ": cannot be opened for reading");
  std::ostringstream text;
  text << in.rdbuf();
  try {
    return given_table(toml::parse(text.str(), file.string()));
  } catch (const toml::parse_error& error) {
    mistakes.add(static_cast<int>(error.source().begin.line), std::string(error.description()));
    return std::nullopt;
  }
}

}  // namespace yardpass::detail
