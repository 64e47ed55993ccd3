/// How letters look and where a line of them stands.
#pragma once

#include <cstdint>

namespace yardpass {

enum class LetterStyle : std::uint8_t {
  plain,   ///< one stroke, without serifs
  script,  ///< one stroke, as written by hand
  twin,    ///< two strokes side by side: a heavier hand
  book,    ///< with serifs, of several strokes
  slanted  ///< the same, leaning
};
/// What of a line of text stands at its place.
enum class LetterAlign : std::uint8_t { start, middle, end };

}  // namespace yardpass
