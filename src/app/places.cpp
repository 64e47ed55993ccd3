#include "app/places.h"

#include <algorithm>
#include <cmath>
#include <cstdlib>

#include <fmt/format.h>

namespace yardpass::app {

namespace {

/// Numbers between commas; nothing of it if there is anything else.
std::vector<double> numbers_of(const std::string& text) {
  std::vector<double> numbers;
  std::size_t at = 0;
  while (at <= text.size()) {
    const std::size_t comma = std::min(text.find(',', at), text.size());
    const std::string word = text.substr(at, comma - at);
    char* end = nullptr;
    const double value = std::strtod(word.c_str(), &end);
    if (word.empty() || *end != '\0' || !(std::abs(value) <= 1e6)) return {};
    numbers.push_back(value);
    at = comma + 1;
  }
  return numbers;
}

}  // namespace

std::vector<double> place_of(const std::string& text) {
  std::vector<double> numbers = numbers_of(text);
  if (numbers.size() < 2 || numbers.size() > 3)
    throw Error(
        fmt::format("--place \"{}\": must be X,Y (seen from above) or X,Y,Z (the nearest point)", text));
  return numbers;
}

std::optional<SectionLine> section_of(const std::string& text, Units units, const std::string& out) {
  if (text.empty()) return std::nullopt;
  const std::vector<double> n = numbers_of(text);
  const double mm = millimetres(units);
  if (n.size() != 4 || (n[0] == n[2] && n[1] == n[3]))
    throw Error(fmt::format("--section \"{}\": must be X,Y,X,Y, two places seen from above", text));
  if (out.empty()) throw Error("--section is drawn: say with --out where to");
  return SectionLine{{mm * n[0], mm * n[1]}, {mm * n[2], mm * n[3]}};
}

}  // namespace yardpass::app
