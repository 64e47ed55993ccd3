// Lines that were lifted one by one, put together again.
#pragma once

#include <algorithm>
#include <utility>
#include <vector>

#include "yardpass/plan/cuts.h"

namespace yardpass::detail {

/// A line to be lifted, and what becomes of it.
struct LiftedLine {
  Polyline2 points;
  bool closed = false;
  std::int32_t pass = 0;
  std::size_t group = 0;
  bool joined = false;  ///< goes on from the line before, without a gap
  std::vector<Polyline3> pieces = {};
};

/// Appends its pieces as cuts. A line that goes on from the one before is one with it: where they meet
/// lifting may have left them a part of the tolerance apart in height, and the higher place is free for both.
inline void add_cuts(std::vector<Cut>& cuts, LiftedLine line) {
  constexpr double kSame = 1e-6;  // mm
  bool joined = line.joined;
  for (Polyline3& piece : line.pieces) {
    if (piece.size() < 2) continue;
    Vec3* const last = cuts.empty() ? nullptr : &cuts.back().points.back();
    if (joined && last && (plan(*last) - plan(piece.front())).norm() < kSame) {
      last->z() = std::max(last->z(), piece.front().z());
      cuts.back().points.insert(cuts.back().points.end(), piece.begin() + 1, piece.end());
      continue;
    }
    joined = false;
    Cut cut{.points = std::move(piece), .pass = line.pass};
    const bool whole = line.closed && line.pieces.size() == 1 && cut.points.size() > 3 &&
                       (plan(cut.points.front()) - plan(cut.points.back())).norm() < kSame;
    if (whole) {
      cut.points.front().z() = std::max(cut.points.front().z(), cut.points.back().z());
      cut.points.pop_back(), cut.closed = true;
    }
    cuts.push_back(std::move(cut));
  }
}

}  // namespace yardpass::detail
