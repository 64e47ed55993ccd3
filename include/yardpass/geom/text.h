/// Names may hold any bytes; files and screens may not.
#pragma once

#include <string>

#include <string_view>
#include "yardpass/geom/vec.h"

namespace yardpass {

/// The text as one line of valid UTF-8 without control characters: whatever else becomes a question mark.
[[nodiscard]] std::string one_line(std::string_view text);

/// At most so many characters (not bytes), the last one an ellipsis where something was left out. REQUIRES:
/// valid UTF-8.
[[nodiscard]] std::string shortened(std::string_view text, std::size_t characters);

/// A number for a sentence: at most six significant digits or decimals, no zeros behind them, no exponent.
[[nodiscard]] std::string short_number(double value);

/// How many characters a text of valid UTF-8 has.
[[nodiscard]] std::size_t character_count(std::string_view text);

/// "X 1.5 Y 2 Z -3.25", to a thousandth.
[[nodiscard]] std::string place_words(const Vec3& place);

}  // namespace yardpass
