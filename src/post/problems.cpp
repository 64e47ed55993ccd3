#include "post/problems.h"

#include <algorithm>
#include <cctype>

#include "yardpass/geom/error.h"

namespace yardpass::detail {

namespace {

constexpr std::size_t kKept = 3;

/// A letter with its number is a word of its own kind; numbers in sentences are not.
std::string kind_of(const std::string& what) {
  std::string kind;
  bool word = false;
  for (const char c : what) {
    const bool digit = std::isdigit(static_cast<unsigned char>(c)) || c == '.';
    if (!digit || word) kind += c;
    if (!digit) word = c == 'G' || c == 'M';
  }
  return kind;
}

}  // namespace

void Problems::add(std::int32_t line, const std::string& what) {
  std::vector<std::size_t>& same = by_kind_[kind_of(what)];
  if (!same.empty() && found_[same.back()].line == line && found_[same.back()].what == what) return;
  if (same.size() == kKept) {
    ++found_[same.back()].more;
    return;
  }
  same.push_back(found_.size());
  found_.push_back({line, what});
}

void Problems::refuse() const {
  if (found_.empty()) return;
  std::vector<Found> sorted = found_;
  std::stable_sort(sorted.begin(), sorted.end(),
                   [](const Found& a, const Found& b) { return a.line < b.line; });
  std::string text;
  for (const Found& one : sorted) {
    text += (text.empty() ? "" : "\n") + name_ + ":" + std::to_string(one.line) + ": " + one.what;
    if (one.more > 0) text += " (and " + std::to_string(one.more) + " more like this)";
  }
  throw Error(text);
}

}  // namespace yardpass::detail
