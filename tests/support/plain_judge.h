// A judge written from the definition, sharing nothing with the library's but tip surfaces and the reader:
// the tool is moved along in small steps over fine cells.
#pragma once

#include <map>
#include <string>

#include "yardpass/contact/assembly.h"
#include "yardpass/verify/judge.h"

namespace yardpass::testing {

/// Depths in millimetres: how deep each kind of harm goes at the worst, by what is certain to be harm
/// (`at_least`) and by what may be (`at_most`: with all that steps, cells and rims leave open).
struct PlainHarm {
  double at_least = 0, at_most = 0;
  std::int32_t line = 0;  ///< of the worst certain one
};

struct PlainVerdict {
  std::map<FindingKind, PlainHarm> harm;
  std::vector<double> heights;  ///< of the fine cells at the end, row by row
  int columns = 0, rows = 0;
  double mean_left_mm =
      0;  ///< in Z over all fine cells where the part's upper side is above the stock's bottom
};

/// `splits`: fine cells along the side of a cell of the stock; odd, so that each cell has one at its middle.
PlainVerdict judge_plainly(const Program& program, const std::shared_ptr<const ContactPart>& part,
                           const std::vector<Tool>& tools, const Stock& stock, int splits, double step_mm);

}  // namespace yardpass::testing
