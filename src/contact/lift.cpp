// Splits a curve until every chord, raised by what it needs to be free, provably stays within the tolerance
// of the tip surface. Freedom is proved by `clearance` for all points of a chord. Closeness is proved from
// below: over one triangle the surface is concave, so between two touches it lies above the line through the
// heights of either one's triangle.
#include "yardpass/contact/lift.h"

#include <algorithm>
#include <cassert>

namespace yardpass {

namespace {

struct Knot {
  Vec2 place;
  double height = kNothingBelow;
  std::int32_t triangle = -1;  // -1: the floor, or nothing
  [[nodiscard]] bool over_part() const { return height != kNothingBelow; }
};

class Lifter {
 public:
  Lifter(const TipSurface& surface, const LiftOptions& options)
      : surface_(surface), options_(options), half_(0.5 * options.tolerance_mm) {}

  std::vector<Polyline3> run(std::span<const Vec2> curve) {
    Knot before = knot_at(curve.front());
    if (before.over_part()) add(before.place, before.height);
    for (std::size_t i = 1; i < curve.size(); ++i) {
      if (curve[i] == before.place) continue;
      const Knot next = knot_at(curve[i]);
      piece(before, next);
      before = next;
    }
    end_line();
    return std::move(lines_);
  }

 private:
  [[nodiscard]] Knot knot_at(const Vec2& place) const {
    Knot knot{place};
    if (const auto touch = surface_.touch(place))
      knot.height = touch->height, knot.triangle = touch->triangle;
    if (knot.height < options_.floor_z) knot.height = options_.floor_z, knot.triangle = -1;
    return knot;
  }

  /// A lower bound of the surface at `place` that is concave along any line: the triangle's own height, or
  /// the floor.
  [[nodiscard]] double guide(const Knot& from, const Vec2& place) const {
    if (from.triangle < 0) return options_.floor_z;
    return surface_.height_over(from.triangle, place);
  }

  void add(const Vec2& place, double z) {
    if (!line_.empty() && line_.back() == with_z(place, z)) return;
    line_.push_back(with_z(place, z));
  }

  void end_line() {
    if (line_.size() >= 2) lines_.push_back(std::move(line_));
    line_.clear();
  }

  /// Emits the curve from the last point emitted (at a) to b.
  void piece(const Knot& a, const Knot& b) {
    const double length = (b.place - a.place).norm();
    if (!a.over_part() || !b.over_part()) return piece_at_rim(a, b, length);
    const Vec3 from = with_z(a.place, a.height), to = with_z(b.place, b.height);
    const Clearance room = surface_.clearance(from, to);
    const double raise = std::max(0.0, -room.room);
    double split = 0.5;
    if (raise <= half_) {
      if (excess_within(a, a.height, b, b.height, 0)) {
        line_.back().z() = std::max(line_.back().z(), a.height + raise);
        add(b.place, b.height + raise);
        return;
      }
    } else if (room.share > 0.1 && room.share < 0.9) {
      split = room.share;
    }
    if (length <= half_) return jump(a, b);
    const Knot middle = knot_at(a.place + split * (b.place - a.place));
    piece(a, middle);
    piece(middle, b);
  }

  /// At a wall: straight up or down, and level in between.
  void jump(const Knot& a, const Knot& b) {
    double top = std::max(a.height, b.height);
    top += std::max(0.0, -surface_.clearance(with_z(a.place, top), with_z(b.place, top), 0.0).room);
    add(a.place, std::max(top, line_.back().z()));
    add(b.place, top);
    add(b.place, b.height);
  }

  /// At the edge of what lies below, or beyond it.
  void piece_at_rim(const Knot& a, const Knot& b, double length) {
    if (!a.over_part() && !b.over_part()) {
      const double deep = surface_.part().box().min().z() - 1e4;
      if (surface_.clearance(with_z(a.place, deep), with_z(b.place, deep)).triangle < 0) return;
    }
    if (length <= half_) {
      end_line();
      if (b.over_part()) add(b.place, b.height);
      return;
    }
    const Knot middle = knot_at(0.5 * (a.place + b.place));
    piece(a, middle);
    piece(middle, b);
  }

  /// Is the chord from s to e (or this part of a longer one) nowhere more than half the tolerance above the
  /// surface? Touches half-way are added as witnesses as long as they help.
  bool excess_within(const Knot& s, double chord_s, const Knot& e, double chord_e, int depth) const {
    const double at_s = chord_s - s.height, at_e = chord_e - e.height;
    if (at_s > half_ || at_e > half_) return false;
    const double by_s = chord_e - guide(s, e.place), by_e = chord_s - guide(e, s.place);
    // A line through each end bounds the excess; the lesser of the two is greatest at an end or where they
    // cross.
    double bound;
    if (by_s == -kNothingBelow || by_e == -kNothingBelow) {
      bound = by_s == -kNothingBelow ? std::max(by_e, at_e) : std::max(at_s, by_s);
    } else {
      const double turn = (by_s - at_s) + (by_e - at_e);
      const double share = turn > 0 ? (by_e - at_s) / turn : 0.0;
      bound = std::max({at_s, at_e, at_s + share * (by_s - at_s)});
    }
    if (bound <= half_) return true;
    if (depth >= 12 || (e.place - s.place).norm() < 1e-7) return false;
    const Knot middle = knot_at(0.5 * (s.place + e.place));
    const double chord = 0.5 * (chord_s + chord_e);
    return excess_within(s, chord_s, middle, chord, depth + 1) &&
           excess_within(middle, chord, e, chord_e, depth + 1);
  }

  const TipSurface& surface_;
  const LiftOptions& options_;
  double half_;
  Polyline3 line_;
  std::vector<Polyline3> lines_;
};

}  // namespace

std::vector<Polyline3> lift(const TipSurface& surface, std::span<const Vec2> curve,
                            const LiftOptions& options) {
  assert(options.tolerance_mm > 1e-6);
  if (curve.size() < 2) return {};
  return Lifter(surface, options).run(curve);
}

}  // namespace yardpass
