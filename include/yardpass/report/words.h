/// Values, notes and findings in words.
#pragma once

#include <string>
#include <vector>

#include "yardpass/keys/quantity.h"
#include "yardpass/verify/finding.h"

namespace yardpass {

/// "0.3 mm", "45 degrees", "12", "X 12.1 Y 7 Z -3.2", or the words themselves.
[[nodiscard]] std::string in_words(const Quantity& quantity);
[[nodiscard]] std::string in_words(const Note& note);

/// "1:02:03" or "2:03" (hours only when there are any).
[[nodiscard]] std::string clock(double seconds);
/// A share of 0 to 1 in percent, rounded to a tenth, but never to all or nothing what is not.
[[nodiscard]] std::string percent_words(double share);

/// Short words for a finding: "gouge 0.100 mm deep at X 12.1 Y 7 Z -3.2 (3 moves)".
[[nodiscard]] std::string in_words(const Finding& finding);
/// The findings to show where there is room for only so many: those not accepted first, the deepest of them;
/// told in the order of the program, the very first one always.
[[nodiscard]] std::vector<const Finding*> worst_findings(const std::vector<Finding>& findings,
                                                         std::size_t most);

}  // namespace yardpass
