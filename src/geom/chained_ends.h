// Lines joined where their ends meet.
#pragma once

#include <array>
#include <functional>
#include <optional>
#include <vector>

#include "yardpass/geom/vec.h"

namespace yardpass::detail {

/// One of the two ends of a line.
struct LineEnd {
  std::size_t line = 0;  ///< by index
  bool last = false;     ///< else its first point
};

/// The end that each end of each line goes on with: first points, then last ones.
using EndPartners = std::vector<std::array<std::optional<LineEnd>, 2>>;

/// The places of a line's ends; nothing for a line without ends.
using LineEnds = std::optional<std::array<Vec3, 2>>;

/// Every end goes on with one other at most, no farther away than `reach`: the nearest pairs first. `may`:
/// which pairs are allowed; a line may go on with itself.
[[nodiscard]] EndPartners partners_within(const std::vector<LineEnds>& ends, double reach,
                                          const std::function<bool(const LineEnd&, const LineEnd&)>& may);

/// Lines in one go: each with the end by which it is entered.
struct EndChain {
  std::vector<LineEnd> lines;
  bool ring = false;  ///< the last goes on with the first
};
/// By the first line of each, which runs forward.
[[nodiscard]] std::vector<EndChain> chained(const EndPartners& partners);

}  // namespace yardpass::detail
