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
    // What was never in the file has no line there.
    text += fmt::format("{}{}{}: {}", text.empty() ? "" : "\n", entry.file,
                        entry.line > 0 ? fmt::format(":{}", entry.line) : "", entry.what);
  throw Error(text);
}

std::string listed(const std::vector<std::string>& words) {
  return fmt::format("{}", fmt::join(words, ", "));
}

std::optional<std::string> nearest_word(const std::string& word, const std::vector<std::string>& list) {
  // Edit distance, row by row.
  std::optional<std::string> best;
  std::size_t best_steps = (word.size() + 1) / 2;
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

void TableReader::wrong(const std::string& what) {
  mistakes_.add(line(), fmt::format("{}: {}", where_, what));
}

void TableReader::finish(const std::function<std::string(const std::string& key)>& belongs) {
  const std::vector<std::string> valid(known_.begin(), known_.end());
  for (const auto& [name, node] : table_) {
    if (known_.contains(name)) continue;
    const std::string elsewhere = belongs ? belongs(name) : "";
    mistakes_.add(node, elsewhere.empty() ? fmt::format("{}: unknown key \"{}\"{}; valid: {}", where_, name,
                                                        did_you_mean(name, valid), listed(valid))
                                          : fmt::format("{}: \"{}\" {}", where_, name, elsewhere));
  }
}

std::string did_you_mean(const std::string& word, const std::vector<std::string>& list) {
  const auto near = nearest_word(word, list);
  return near ? fmt::format(" (did you mean \"{}\"?)", *near) : "";
}

std::string not_defined(const std::string& name, const std::vector<std::string>& defined) {
  return fmt::format("\"{}\", which is not defined{}; there are: {}", name, did_you_mean(name, defined),
                     defined.empty() ? "none" : listed(defined));
}

}  // namespace yardpass::detail
