#include "yardpass/geom/text.h"

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <cstdio>

namespace yardpass {

namespace {

/// How many bytes the character at the start of the text has; 0 if they are no UTF-8 (RFC 3629).
std::size_t bytes_of_character(std::string_view text) {
  const auto byte = [&](std::size_t i) { return static_cast<std::uint8_t>(text[i]); };
  const std::uint8_t first = byte(0);
  const std::size_t count = first < 0x80   ? 1
                            : first < 0xc2 ? 0
                            : first < 0xe0 ? 2
                            : first < 0xf0 ? 3
                            : first < 0xf5 ? 4
                                           : 0;
  if (count == 0 || text.size() < count) return 0;
  for (std::size_t i = 1; i < count; ++i)
    if ((byte(i) & 0xc0) != 0x80) return 0;
  // Longer than needed, a half of a surrogate pair, or beyond U+10FFFF.
  if ((first == 0xe0 && byte(1) < 0xa0) || (first == 0xed && byte(1) >= 0xa0) ||
      (first == 0xf0 && byte(1) < 0x90) || (first == 0xf4 && byte(1) >= 0x90))
    return 0;
  return count;
}

bool is_control(std::string_view character) {
  const auto byte = [&](std::size_t i) { return static_cast<std::uint8_t>(character[i]); };
  if (character.size() == 1) return byte(0) < 0x20 || byte(0) == 0x7f;
  return character.size() == 2 && byte(0) == 0xc2 && byte(1) < 0xa0;
}

}  // namespace

std::string one_line(std::string_view text) {
  std::string result;
  while (!text.empty()) {
    const std::size_t count = bytes_of_character(text);
    if (count == 0 || is_control(text.substr(0, count)))
      result += '?';
    else
      result += text.substr(0, count);
    text.remove_prefix(count == 0 ? 1 : count);
  }
  return result;
}

std::string short_number(double value) {
  char text[64];
  std::snprintf(text, sizeof text, "%g", value);
  std::string result = text;
  if (result.find('e') == std::string::npos) return result;
  std::snprintf(text, sizeof text, "%.*f", std::abs(value) < 1 ? 6 : 0, std::clamp(value, -1e30, 1e30));
  result = text;
  if (result.find('.') == std::string::npos) return result;
  result.erase(result.find_last_not_of('0') + 1);
  if (result.back() == '.') result.pop_back();
  return result;
}

std::size_t character_count(std::string_view text) {
  std::size_t count = 0;
  for (const char c : text) count += (static_cast<std::uint8_t>(c) & 0xc0) != 0x80;
  return count;
}

std::string shortened(std::string_view text, std::size_t characters) {
  if (character_count(text) <= characters) return std::string(text);
  std::size_t count = 0, at = 0;
  while (at < text.size()) {
    if ((static_cast<std::uint8_t>(text[at]) & 0xc0) != 0x80 && count++ == characters - 1) break;
    ++at;
  }
  return std::string(text.substr(0, at)) + "\u2026";
}

std::string place_words(const Vec3& place) {
  const auto words = [](double v) { return short_number(std::round(v * 1000) / 1000); };
  return "X " + words(place.x()) + " Y " + words(place.y()) + " Z " + words(place.z());
}

}  // namespace yardpass
