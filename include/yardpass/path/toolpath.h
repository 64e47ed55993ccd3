/// The whole way of a tool through an operation, air moves included.
#pragma once

#include <cstdint>
#include <optional>
#include <vector>

#include "yardpass/geom/arc.h"
#include "yardpass/tool/tool.h"

namespace yardpass {

enum class MoveKind : std::uint8_t {
  rapid,   ///< as fast as the machine can, through air
  plunge,  ///< at feed, straight down
  ramp,    ///< at feed, down along a cut
  cut,
  link,  ///< at feed, from one cut to the next
  lead,  ///< at the feed of cuts, into a cut or out of it
};
[[nodiscard]] const char* name_of(MoveKind kind);

struct Move {
  Vec3 to;
  MoveKind kind = MoveKind::cut;
  double feed_mm_min = 0;  ///< 0 for rapids
  std::int32_t cut = -1;   ///< index into Toolpath::cuts: what it cuts, or is on the way to; -1: none
  std::int32_t arc = -1;   ///< index into Toolpath::arcs, which ends at `to`; -1: straight
};

/// Where a cut comes from.
struct CutOrigin {
  std::int32_t group = 0;  ///< of the plan
  std::int32_t pass = 0;   ///< row, ring or level of the strategy, from 1; 0: not counted
};

/// Begins and ends on the clearance plane.
struct Toolpath {
  Tool tool;  ///< completed; the one that all moves were planned with
  Vec3 start = Vec3::Zero();
  std::vector<Move> moves;
  std::vector<CutOrigin> cuts;
  std::vector<Arc> arcs = {};  ///< each as its program will say it, see `posted` in geom/posted.h
  /// The moves stay free if rounding moves a point by so much; nothing: nobody says so, as of a path made by
  /// hand.
  std::optional<double> rounding_reserve_mm;

  /// Nothing for a straight move.
  [[nodiscard]] const Arc* arc_of(const Move& move) const {
    return move.arc < 0 ? nullptr : &arcs[static_cast<std::size_t>(move.arc)];
  }
  /// The pass that a move cuts or leads to; 0 if that is not known.
  [[nodiscard]] std::int32_t pass_of(const Move& move) const {
    return move.cut < 0 ? 0 : cuts[static_cast<std::size_t>(move.cut)].pass;
  }
};

struct PathLengths {
  double cut_mm = 0, ramp_mm = 0, plunge_mm = 0, link_mm = 0, lead_mm = 0, rapid_mm = 0;
  std::int64_t retracts = 0;  ///< rapids that rise, the last one included

  void add(const PathLengths& more);
};
[[nodiscard]] PathLengths measure(const Toolpath& path);

}  // namespace yardpass
