/// Rails: lines across passes, from one curve that is a pass to the next. Passes lie at equal shares of the
/// rails' lengths on the surface, so they blend from curve to curve. All of it in plan, in millimetres. Pure
/// functions: safe from many threads.
#pragma once

#include <cstdint>
#include <span>
#include <vector>

#include "yardpass/contact/tip_surface.h"
#include "yardpass/geom/error.h"
#include "yardpass/geom/polyline.h"

namespace yardpass {

/// Side by side, all with as many points (at least two). Their first points, in order, are one curve, their
/// last points the other; between neighbouring rails, and between neighbouring points of them, places are
/// bilinear.
struct Rails {
  std::vector<Polyline2> lines;
  bool closed = false;  ///< the last rail is followed by the first
};

/// A place of one curve and the place of the other that it blends into.
struct MatchedPlaces {
  Vec2 from{0, 0}, to{0, 0};
};

/// Straight rails between places at equal shares of the lengths of both curves, between matched places if
/// there are any: at all points of both, and nowhere farther apart than `longest_mm`. Both are open and run
/// the same way (else `to` is turned round), or both closed: then `to` is also turned so that the sum of
/// squared lengths is least, unless places are matched. Matched places count at the nearest place of each
/// curve. Throws Error if a curve has no length, one is closed and the other open, or matched places come in
/// another order on one than on the other.
[[nodiscard]] Rails straight_rails(const Polyline2& from, const Polyline2& to, bool closed, double longest_mm,
                                   std::span<const MatchedPlaces> matched = {});

/// Four sides of a patch. `first` and `last` run from `start` to `end`; `start` and `end` from `first` to
/// `last`. Where two meet they have one and the same place.
struct PatchSides {
  Polyline2 first, last, start, end;
};
/// Rails from `first` to `last`, the outer ones being `start` and `end`; sides are followed exactly, by
/// shares of their lengths. Source: S. A. Coons, "Surfaces for computer-aided design of space forms", 1967.
[[nodiscard]] Rails patch_rails(const PatchSides& sides, double longest_mm);

/// Cells between neighbouring rails where the places between them do not follow each other as at the rest.
struct RailFolds {
  std::int64_t cells = 0, folded = 0;
  Vec2 at{0, 0};  ///< the middle of the worst
};
/// Exact: a bilinear cell folds nowhere if the triangles at its four corners lie the same way round.
[[nodiscard]] RailFolds folds_of(const Rails& rails);

/// Rails with the same curves at their ends (and outermost rails), with what is between them moved until it
/// folds nowhere or no more can be done. Source: A. M. Winslow, "Numerical solution of the quasilinear
/// Poisson equation in a nonuniform triangle mesh", 1966.
[[nodiscard]] Rails relaxed(const Rails& rails);

/// What a rail is divided by.
enum class RailMeasure : std::uint8_t {
  tip,    ///< its length on the tip surface
  ridges  ///< that too, but where the ground is hollow so much more that ridges of a ball stay as on flat
          ///< ground
};

/// Rails divided by their length on the tip surface.
class DividedRails {
 public:
  /// Finds lengths by touches, no two of a rail farther apart than 0.4 of the stepover in space; where rails
  /// beside each other divide so differently that passes between them would lie too far apart, more rails are
  /// put between them. Upright walls, on which no pass can lie, do not count. Runs on all cores; the result
  /// does not depend on their number. Throws Stopped.
  DividedRails(const TipSurface& surface, Rails rails, double stepover_mm, const Progress& progress = {},
               RailMeasure measure = RailMeasure::tip);

  /// So many steps, none longer than the stepover, lie between the first and the last pass.
  [[nodiscard]] std::int32_t steps() const { return steps_; }
  /// Through all rails at this share of each one's length, in their order; of closed ones the first point is
  /// not repeated.
  [[nodiscard]] Polyline2 pass(double share) const;
  /// Once around from share to share, evenly by the length of the curves; both ends lie on the first rail.
  [[nodiscard]] Polyline2 turn(double from_share, double to_share) const;

  struct Facts {
    double longest_mm = 0, median_gap_mm = 0;  ///< of rails, as measured; between neighbouring passes
    Vec3 longest_at{0, 0, 0};                  ///< the longest rail's middle
    double needed = 1;  ///< of the passes' length, what would do if all of them were a stepover apart
    double highest_wall_mm = 0;
    Vec3 wall_at{0, 0, 0};  ///< its foot or top
    std::int64_t touches = 0;
  };
  [[nodiscard]] const Facts& facts() const { return facts_; }

 private:
  struct Mark {
    double at = 0, way = 0;  // along the rail: its points by number; on the surface, from its start
    double contact = 0;      // as far as the place of touch went
  };
  struct Rail {
    Polyline2 line;
    double across = 0;             // from the first rail, by the mean of both curves
    std::vector<Mark> marks = {};  // none: it divides as the rails beside it do
    [[nodiscard]] bool measured() const { return !marks.empty(); }
    [[nodiscard]] double length() const { return marks.back().way; }
    [[nodiscard]] double at_share(double share) const;
    [[nodiscard]] double way_at(double at) const;
    [[nodiscard]] Vec2 place(double at) const;
  };
  struct Measured;
  void measure(const TipSurface& surface, Rail& rail, Measured& found) const;
  void measure_some(const TipSurface& surface, const Progress& progress);
  /// Between each two measured ones that are not known to divide alike; false: there was nothing to do.
  bool measure_between(const TipSurface& surface, const Progress& progress);
  void take(const std::vector<Measured>& found);
  [[nodiscard]] bool even_between(const Rail& a, const Rail& middle, const Rail& b) const;
  /// Calls visit(rail, place) for all rails in order; shares: of the way across to that along.
  template <typename Share, typename Visit>
  void visit_places(const Share& share, const Visit& visit) const;
  void count_steps();
  void lengthen_in_hollows();
  void tell(const TipSurface& surface);

  double stepover_;
  bool closed_;
  std::int32_t steps_ = 1;
  double around_ = 0;        // of closed ones, once around by `across`
  std::vector<Rail> rails_;  // the first is measured, and of open ones the last
  std::vector<char> even_;   // of a measured one: up to the next
  Facts facts_;
};

}  // namespace yardpass
