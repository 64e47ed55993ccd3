#include <algorithm>
#include <cctype>
#include <charconv>
#include <cstdlib>

#include "part/mesh_source.h"

namespace yardpass::detail {

namespace {

bool is_blank(char c) { return c == ' ' || c == '\t' || c == '\f' || c == '\v'; }
/// A carriage return ends a line too, alone or with a line feed behind it.
bool ends_line(char c) { return c == '\n' || c == '\r'; }

}  // namespace

std::string_view without_byte_order_mark(const MeshSource& source) {
  std::string_view bytes = source.bytes;
  if (bytes.starts_with("\xff\xfe") || bytes.starts_with("\xfe\xff"))
    source.fail("is text in UTF-16, by its first two bytes; valid: plain text or UTF-8");
  if (bytes.starts_with("\xef\xbb\xbf")) bytes.remove_prefix(3);
  return bytes;
}

bool same_word(std::string_view a, std::string_view b) {
  return a.size() == b.size() && std::equal(a.begin(), a.end(), b.begin(), [](char x, char y) {
           return std::tolower(static_cast<unsigned char>(x)) == y;
         });
}

std::string quoted(std::string_view word) {
  if (word.empty()) return "the end of the file";
  std::string text = "\"";
  for (const char c : word.substr(0, 40)) text += std::isprint(static_cast<unsigned char>(c)) != 0 ? c : '?';
  return text + "\"";
}

void Words::fail(const std::string& what) const {
  source_.fail("line " + std::to_string(line_) + ": " + what);
}

void Words::take_line_end() {
  if (at_ >= text_.size()) return;
  const bool two = text_[at_] == '\r' && at_ + 1 < text_.size() && text_[at_ + 1] == '\n';
  at_ += two ? 2 : 1;
  ++line_;
}

std::string_view Words::next() {
  while (at_ < text_.size() && (is_blank(text_[at_]) || ends_line(text_[at_])))
    if (ends_line(text_[at_]))
      take_line_end();
    else
      ++at_;
  return next_on_line();
}

std::string_view Words::next_on_line() {
  while (at_ < text_.size() && is_blank(text_[at_])) ++at_;
  const std::size_t start = at_;
  while (at_ < text_.size() && !is_blank(text_[at_]) && !ends_line(text_[at_])) ++at_;
  return text_.substr(start, at_ - start);
}

std::string_view Words::rest_of_line() {
  while (at_ < text_.size() && is_blank(text_[at_])) ++at_;
  const std::size_t start = at_;
  while (at_ < text_.size() && !ends_line(text_[at_])) ++at_;
  std::string_view rest = text_.substr(start, at_ - start);
  while (!rest.empty() && is_blank(rest.back())) rest.remove_suffix(1);
  return rest;
}

void Words::skip_line() {
  while (at_ < text_.size() && !ends_line(text_[at_])) ++at_;
  take_line_end();
}

double Words::to_number(std::string_view word) const {
  const std::string_view whole = word;
  if (!word.empty() && word.front() == '+') word.remove_prefix(1);
  double value = 0;
  const auto [end, code] = std::from_chars(word.data(), word.data() + word.size(), value);
  // Too large or too small for a double: strtod tells which, as infinity or (nearly) zero.
  if (code == std::errc::result_out_of_range) value = std::strtod(std::string(word).c_str(), nullptr);
  if (word.empty() || code == std::errc::invalid_argument || end != word.data() + word.size())
    fail("expected a number, found " + quoted(whole) +
         (whole.find(',') != std::string_view::npos ? " (decimals need a point, not a comma)" : ""));
  return value;
}

std::int64_t Words::to_whole(std::string_view word) const {
  std::int64_t value = 0;
  const auto [end, code] = std::from_chars(word.data(), word.data() + word.size(), value);
  if (word.empty() || code != std::errc() || end != word.data() + word.size())
    fail("expected a whole number, found " + quoted(word));
  return value;
}

std::int32_t GroupNames::number(const std::string& name) {
  const auto [at, added] = numbers_.try_emplace(name, static_cast<std::int32_t>(names.size()));
  if (added) names.push_back(name);
  return at->second;
}

}  // namespace yardpass::detail
