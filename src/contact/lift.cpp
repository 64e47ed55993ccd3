// Marches along the curve with chords as long as the tolerance lets them be. A chord starts at the height
// where the one before it ended and its far end is raised until the chord is free. Freedom is proved by
// `clearance` for all points of a chord. Closeness is proved from below: over one triangle the surface is
// concave, so between two touches it lies above the line through the heights of either one's triangle.
#include "yardpass/contact/lift.h"

#include <algorithm>
#include <array>
#include <cmath>

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
      : surface_(surface),
        floor_(options.floor_z),
        tolerance_(options.tolerance_mm),
        step_(1.5 * std::sqrt(8 * std::max(1.0, surface.cutter().radius()) * options.tolerance_mm)) {}

  std::vector<Polyline3> run(std::span<const Vec2> curve) {
    Knot at = knot_at(curve.front());
    if (at.over_part()) add(at.place, at.height);
    for (std::size_t i = 1; i < curve.size(); ++i)
      if (curve[i] != at.place) at = straight(at, curve[i]);
    end_line();
    return std::move(lines_);
  }

 private:
  [[nodiscard]] Knot knot_at(const Vec2& place) const {
    Knot knot{place};
    if (const auto touch = surface_.touch(place, near_)) {
      knot.height = touch->height, knot.triangle = touch->triangle;
      near_ = touch->triangle;
    }
    if (knot.height < floor_) knot.height = floor_, knot.triangle = -1;
    return knot;
  }

  /// A lower bound of the surface at `place` that is concave along any line: the triangle's own height, or
  /// the floor.
  [[nodiscard]] double guide(const Knot& from, const Vec2& place) const {
    return from.triangle < 0 ? floor_ : surface_.height_over(from.triangle, place);
  }

  void add(const Vec2& place, double z) {
    const Vec3 p = with_z(place, z);
    if (line_.empty() || line_.back() != p) line_.push_back(p);
  }

  void end_line() {
    drop_points_on_lines();
    if (line_.size() >= 2) lines_.push_back(std::move(line_));
    line_.clear();
  }

  /// A point on the straight line between its neighbours, to rounding, is none that is needed.
  void drop_points_on_lines() {
    std::size_t kept = 0;
    for (std::size_t i = 0; i < line_.size(); ++i) {
      if (kept >= 2 && distance_to_segment(line_[kept - 1], line_[kept - 2], line_[i]) < 1e-11) --kept;
      line_[kept++] = line_[i];
    }
    line_.resize(kept);
  }

  /// From the last point emitted (at `at`) to `end`, which is emitted too.
  Knot straight(Knot at, const Vec2& end) {
    const Vec2 start = at.place;
    const double length = (end - start).norm();
    double done = 0;
    while (done < length) {
      int tries = 0;
      for (double step = step_;; ++tries) {
        // A last scrap is taken along, and the end is met exactly.
        const bool last = done + 1.05 * step >= length;
        if (last) step = length - done;
        const Knot next = knot_at(last ? end : Vec2(start + ((done + step) / length) * (end - start)));
        const double shorter = piece(at, next, step <= 0.5 * tolerance_);
        if (shorter < 1) {
          step *= shorter;
          continue;
        }
        done = last ? length : done + step;
        at = next;
        // Steps cut off by the curve's corners say nothing about the surface.
        if (!last || tries > 0) step_ = step * (tries > 0 ? 1.2 : 1.6);
        break;
      }
    }
    return at;
  }

  /// Emits the piece from a to b if it keeps the promise (a shortest piece always does) and returns 1; else
  /// returns what share of it might.
  double piece(const Knot& a, const Knot& b, bool shortest) {
    if (!a.over_part() || !b.over_part()) return piece_at_rim(a, b, shortest) ? 1 : 0.7;
    const double shorter = chord(a, b);
    if (shorter == 1 || !shortest) return shorter;
    jump(a, b);
    return 1;
  }

  /// Sagittas grow with the square of the length.
  static double shorter_by(double allowed, double found) {
    return std::clamp(0.98 * std::sqrt(allowed / found), 0.3, 0.95);
  }

  /// The last point emitted may still be raised a little: each piece leaves that much of the tolerance at its
  /// end.
  double chord(const Knot& a, const Knot& b) {
    const double reserve = 0.06 * tolerance_, most = tolerance_ - 1.25 * reserve;
    Vec3 from = line_.back(), to = with_z(b.place, b.height);
    // Touches on the way, cheaper than proofs: they show most chords that are too long, and about how high
    // the end must be.
    const std::array<Knot, 3> inner{knot_at(0.75 * a.place + 0.25 * b.place),
                                    knot_at(0.5 * (a.place + b.place)),
                                    knot_at(0.25 * a.place + 0.75 * b.place)};
    const auto share_of = [](std::size_t k) { return 0.25 * static_cast<double>(k + 1); };
    bool below = false;
    for (std::size_t k = 0; k < 3; ++k) {
      const double line = from.z() + share_of(k) * (to.z() - from.z());
      if (line - inner[k].height > tolerance_) return shorter_by(tolerance_, line - inner[k].height);
      below |= line < inner[k].height;
    }
    // From a little above the surface a chord over a dome has a place where it touches; from on it, it would
    // need the tangent.
    if (below) from.z() += 0.8 * reserve;
    for (std::size_t k = 0; below && k < 3; ++k)
      to.z() = std::max(to.z(), from.z() + (inner[k].height - from.z()) / share_of(k));
    // The far end is raised until the chord is free; each round meets the place that was deepest.
    for (int round = 0;; ++round) {
      if (to.z() - b.height > most) {
        // Over a dome a chord is as long as the sum of the roots of its heights at both ends.
        const double start = std::sqrt(std::max(0.0, from.z() - a.height));
        return std::clamp(0.98 * (start + std::sqrt(most)) / (start + std::sqrt(to.z() - b.height)), 0.3,
                          0.95);
      }
      const Clearance deepest = surface_.clearance(from, to, 0.0, inner[1].triangle);
      if (deepest.room >= 0) break;
      if (!below) {
        from.z() += 0.8 * reserve;
        below = true;
        continue;
      }
      if (deepest.room > -0.2 * reserve) {
        from.z() -= deepest.room, to.z() -= deepest.room;
        break;
      }
      if (round == 10 || deepest.share < 1e-3) return 0.85;
      to.z() -= deepest.room / deepest.share;
    }
    const double end = to.z() + reserve;
    const auto line_at = [&](double share) { return from.z() + share * (end - from.z()); };
    if (!left_within(a, from.z(), inner[0], line_at(0.25), 0)) return 0.85;
    for (std::size_t k = 0; k < 2; ++k)
      if (!left_within(inner[k], line_at(share_of(k)), inner[k + 1], line_at(share_of(k + 1)), 0))
        return 0.85;
    if (!left_within(inner[2], line_at(0.75), b, end, 0)) return 0.85;
    line_.back().z() = from.z();
    add(b.place, to.z());
    return 1;
  }

  /// At a wall: straight up or down, and level in between.
  void jump(const Knot& a, const Knot& b) {
    double top = std::max({a.height, b.height, line_.back().z()});
    top += std::max(0.0, -surface_.clearance(with_z(a.place, top), with_z(b.place, top), 0.0).room);
    add(a.place, top);
    add(b.place, top);
    add(b.place, b.height);
  }

  /// At the edge of what lies below, or beyond it.
  bool piece_at_rim(const Knot& a, const Knot& b, bool shortest) {
    if (!a.over_part() && !b.over_part()) {
      const double deep = surface_.part().box().min().z() - 1e4;
      if (surface_.clearance(with_z(a.place, deep), with_z(b.place, deep)).triangle < 0) return true;
    }
    if (!shortest) return false;
    end_line();
    if (b.over_part()) add(b.place, b.height);
    return true;
  }

  /// Is the line from s to e, at these heights, nowhere higher than the tolerance above the surface? Touches
  /// half-way are added as witnesses as long as they help.
  bool left_within(const Knot& s, double line_s, const Knot& e, double line_e, int depth) const {
    const double at_s = line_s - s.height, at_e = line_e - e.height;
    if (at_s > tolerance_ || at_e > tolerance_) return false;
    const double by_s = line_e - guide(s, e.place), by_e = line_s - guide(e, s.place);
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
    if (bound <= tolerance_) return true;
    if (depth >= 12 || (e.place - s.place).norm() < 1e-7) return false;
    const Knot middle = knot_at(0.5 * (s.place + e.place));
    const double half = 0.5 * (line_s + line_e);
    return left_within(s, line_s, middle, half, depth + 1) && left_within(middle, half, e, line_e, depth + 1);
  }

  const TipSurface& surface_;
  double floor_, tolerance_;
  double step_;                     // of the next chord, in plan
  mutable std::int32_t near_ = -1;  // touched last: where the next search begins
  Polyline3 line_;
  std::vector<Polyline3> lines_;
};

}  // namespace

std::vector<Polyline3> lift(const TipSurface& surface, std::span<const Vec2> curve,
                            const LiftOptions& options) {
  require(options.tolerance_mm > 1e-6, "tolerance_mm", "must be above 1e-6");
  if (curve.size() < 2) return {};
  return Lifter(surface, options).run(curve);
}

}  // namespace yardpass
