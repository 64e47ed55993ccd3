#include "job/table_reader.h"

#include <algorithm>

#include <fmt/format.h>

#include "yardpass/geom/error.h"
#include "yardpass/geom/text.h"

namespace yardpass::detail {

void Mistakes::add(int line, const std::string& what) { list_.push_back({file_, line, one_line(what)}); }

void Mistakes::take(const Mistakes& other) {
  list_.insert(list_.end(), other.list_.begin(), other.list_.end());
}

void Mistakes::raise() {
  if (list_.empty()) return;
  std::stable_sort(list_.begin(), list_.end(), [&](const Entry& a, const Entry& b) {
    return a.file == b.file ? a.line < b.line : a.file == file_;
  });
  std::string text;
  for (const Entry& entry : list_)
    text += fmt::format("{}{}:{}: {}", text.empty() ? "" : "\n", entry.file, entry.line, entry.what);
  throw Error(text);
}

std::string listed(const std::vector<std::string>& words) {
  return fmt::format("{}", fmt::join(words, ", "));
}

std::optional<std::string> nearest_word(const std::string& word, const std::vector<std::string>& list) {
  // Edit distance, row by row.
  std::optional<std::string> best;
  std::size_t best_steps = word.size() / 2;
  for (const std::string& other : list) {
    std::vector<std::size_t> row(other.size() + 1);
    for (std::size_t j = 0; j <= other.size(); ++j) row[j] = j;
    for (std::size_t i = 1; i <= word.size(); ++i) {
      std::size_t corner = row[0];
      row[0] = i;
      for (std::size_t j = 1; j <= other.size(); ++j) {
        const std::size_t changed = corner + (word[i - 1] != other[j - 1]);
        corner = row[j];
        row[j] = std::min({row[j] + 1, row[j - 1] + 1, changed});
      }
    }
    if (row.back() <= best_steps && (!best || row.back() < best_steps)) best = other, best_steps = row.back();
  }
  return best;
}

const Given* TableReader::any(const char* key) {
  known_.insert(key);
  return table_.get(key);
}

int TableReader::line_of(const char* key) const {
  const Given* node = table_.get(key);
  return node ? node->line() : 0;
}

void TableReader::wrong(const Given& node, const std::string& key, const std::string& what) {
  mistakes_.add(node, fmt::format("{}: \"{}\" {}", where_, key, what));
}

void TableReader::missing(const char* key, const std::string& what) {
  mistakes_.add(line(), fmt::format("{}: \"{}\" is missing; {}", where_, key, what));
}

std::optional<double> TableReader::number(const char* key, const Range& range) {
  const Given* node = any(key);
  if (!node) return std::nullopt;
  const std::string from = fmt::format("{} {}", range.low_open ? "above" : "at least", range.low);
  const std::string valid = range.high < 1e9
                                ? fmt::format("{} and at most {} {}", from, range.high, range.unit)
                                : fmt::format("{} {}", from, range.unit);
  if (!node->is_number()) {
    wrong(*node, key, fmt::format("must be a number, {}", valid));
    return std::nullopt;
  }
  const double value = *node->number();
  const bool good = (range.low_open ? value > range.low : value >= range.low) && value <= range.high;
  if (!good) {
    wrong(*node, key, fmt::format("is {}, but must be {}", value, valid));
    return std::nullopt;
  }
  return value;
}

std::optional<std::int64_t> TableReader::whole(const char* key, std::int64_t low, std::int64_t high) {
  const Given* node = any(key);
  if (!node) return std::nullopt;
  const auto value = node->whole();
  if (!value || *value < low || *value > high) {
    wrong(*node, key, fmt::format("must be a whole number from {} to {}", low, high));
    return std::nullopt;
  }
  return value;
}

std::optional<std::string> TableReader::text(const char* key) {
  const Given* node = any(key);
  if (!node) return std::nullopt;
  auto value = node->text();
  if (!value || value->empty()) {
    wrong(*node, key, "must be a text in quotes, not empty");
    return std::nullopt;
  }
  return value;
}

std::optional<std::string> TableReader::choice(const char* key, const std::vector<std::string>& valid) {
  auto value = text(key);
  if (!value || std::find(valid.begin(), valid.end(), *value) != valid.end()) return value;
  const auto near = nearest_word(*value, valid);
  wrong(*table_.get(key), key,
        fmt::format("is \"{}\", which is not known{}; valid: {}", *value,
                    near ? fmt::format(" (did you mean \"{}\"?)", *near) : "", listed(valid)));
  return std::nullopt;
}

std::optional<bool> TableReader::flag(const char* key) {
  const Given* node = any(key);
  if (!node) return std::nullopt;
  const auto value = node->flag();
  if (!value) wrong(*node, key, "must be true or false");
  return value;
}

const GivenTable* TableReader::table(const char* key) {
  const Given* node = any(key);
  if (!node) return nullptr;
  if (!node->table()) wrong(*node, key, fmt::format("must be a table, [{}]", key));
  return node->table();
}

const GivenList* TableReader::array(const char* key) {
  const Given* node = any(key);
  if (!node) return nullptr;
  if (!node->list()) wrong(*node, key, "must be a list");
  return node->list();
}

void TableReader::finish() {
  const std::vector<std::string> valid(known_.begin(), known_.end());
  for (const auto& [name, node] : table_) {
    if (known_.contains(name)) continue;
    const auto near = nearest_word(name, valid);
    mistakes_.add(node,
                  fmt::format("{}: unknown key \"{}\"{}; valid: {}", where_, name,
                              near ? fmt::format(" (did you mean \"{}\"?)", *near) : "", listed(valid)));
  }
}

}  // namespace yardpass::detail
