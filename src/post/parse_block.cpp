#include "post/parse_block.h"

#include <algorithm>
#include <charconv>
#include <cmath>

#include "yardpass/geom/error.h"
#include "yardpass/geom/text.h"

namespace yardpass::detail {

namespace {

bool is_blank(char c) { return c == ' ' || c == '\t' || c == '\r'; }

std::string sign_text(char c) {
  if (c == '#' || c == '[' || c == ']' || c == '=')
    return std::string("\"") + c + "\" is not understood: variables and expressions are not worked out";
  return std::string("\"") + c + "\" is not understood";
}

/// The number behind a letter; `at` is moved behind it.
double number_of(std::string_view line, char letter, std::size_t& at) {
  while (at < line.size() && is_blank(line[at])) ++at;
  if (at < line.size() && (line[at] == '#' || line[at] == '[')) throw Error(sign_text(line[at]));
  const bool plus = at < line.size() && line[at] == '+';
  if (plus) ++at;
  if (plus && at < line.size() && line[at] == '-')
    throw Error(std::string("the word ") + letter + " has two signs");
  double value = 0;
  const auto [end, code] =
      std::from_chars(line.data() + at, line.data() + line.size(), value, std::chars_format::fixed);
  if (code != std::errc() || !std::isfinite(value))
    throw Error(std::string("the word ") + letter + " has no number");
  at = static_cast<std::size_t>(end - line.data());
  return value;
}

void add_word(Block& block, char letter, double value) {
  if (letter == 'G') return block.g.push_back(value);
  if (letter == 'M') return block.m.push_back(value);
  auto& slot = block.words[static_cast<std::size_t>(letter - 'A')];
  if (slot) throw Error(std::string("the word ") + letter + " stands twice in one block");
  slot = value;
}

}  // namespace

bool Block::has(double code) const { return std::find(g.begin(), g.end(), code) != g.end(); }
bool Block::has_m(double code) const { return std::find(m.begin(), m.end(), code) != m.end(); }
bool Block::empty() const {
  return g.empty() && m.empty() &&
         std::none_of(words.begin(), words.end(), [](const auto& word) { return word.has_value(); });
}

std::string code_text(double code) { return short_number(code); }

Block parse_block(std::string_view line) {
  Block block;
  for (std::size_t i = 0; i < line.size();) {
    const char c = line[i];
    if (is_blank(c)) {
      ++i;
    } else if (c == ';') {
      block.comments.emplace_back(line.substr(i + 1));
      break;
    } else if (c == '(') {
      const std::size_t close = line.find(')', i);
      if (close == std::string_view::npos) throw Error("a comment is not closed");
      block.comments.emplace_back(line.substr(i + 1, close - i - 1));
      if (block.comments.back().find('(') != std::string::npos) throw Error("a comment within a comment");
      i = close + 1;
    } else if (c == '%') {
      block.percent = true;
      ++i;
    } else if (c == '/' && block.empty()) {
      block.marked = true;
      ++i;
    } else if (c == ':' && block.empty()) {
      // Some write program numbers so.
      add_word(block, 'O', number_of(line, ':', ++i));
    } else {
      const char letter = static_cast<char>(c >= 'a' && c <= 'z' ? c - 'a' + 'A' : c);
      if (letter < 'A' || letter > 'Z') throw Error(sign_text(c));
      // Words of a language, such as IF and GOTO, are no single letters.
      if (i + 1 < line.size() && std::isalpha(static_cast<unsigned char>(line[i + 1]))) {
        std::size_t end = i;
        while (end < line.size() && std::isalpha(static_cast<unsigned char>(line[end]))) ++end;
        throw Error("\"" + std::string(line.substr(i, end - i)) + "\" is not understood");
      }
      const double value = number_of(line, letter, ++i);
      add_word(block, letter, value);
    }
  }
  return block;
}

}  // namespace yardpass::detail
