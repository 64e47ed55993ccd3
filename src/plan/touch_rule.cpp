#include "yardpass/plan/touch_rule.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <numbers>

#include "geom/bands.h"
#include "plan/touch_walk.h"
#include "plan/within_tolerance.h"

namespace yardpass {

using Belongs = TouchRule::Belongs;

struct TouchRule::Areas {
  detail::Bands inside, loose, sure;
  Region region;
};

TouchRule::TouchRule(const std::optional<Region>& inside, const std::optional<SlopeLimits>& slope,
                     double tolerance_mm)
    : slope_(slope) {
  require(tolerance_mm >= 0, "tolerance_mm", "must be at least 0");
  if (!inside) return;
  areas_ = std::make_shared<Areas>(
      Areas{detail::Bands(*inside),
            detail::Bands(tolerance_mm > 0 ? offset(*inside, detail::loose_by(tolerance_mm)) : *inside),
            detail::Bands(tolerance_mm > 0 ? detail::what_stays_if_drawn_in(*inside, tolerance_mm) : *inside),
            unite(*inside, {})});
}

std::optional<Vec2> TouchRule::nearest_inside(const Vec2& place, double reach) const {
  if (!areas_) return std::nullopt;
  constexpr double kInside = 1e-4;
  std::optional<Vec2> nearest;
  for (const Polyline2& loop : areas_->region.loops) {
    const NearestOnLoop found = nearest_on_loop(loop, place);
    if (found.distance_mm > reach) continue;
    reach = found.distance_mm;
    const Vec2 way = (loop[(found.piece + 1) % loop.size()] - loop[found.piece]).normalized();
    nearest = found.at + kInside * Vec2(-way.y(), way.x());  // the area lies on the left
  }
  return nearest;
}

namespace {

/// How much of a triangle's unit normal points up or down.
double upward(const ContactPart& part, std::int32_t triangle) {
  const Mesh& mesh = part.mesh();
  const auto t = static_cast<std::size_t>(triangle);
  const Vec3 normal = (mesh.corner(t, 1) - mesh.corner(t, 0)).cross(mesh.corner(t, 2) - mesh.corner(t, 0));
  return std::abs(normal.z()) / std::max(normal.norm(), 1e-300);
}

}  // namespace

Belongs TouchRule::operator()(const ContactPart& part, const Touch& touch, bool upright) const {
  Belongs result = Belongs::surely;
  if (areas_) {
    const Vec2 at = plan(touch.point);
    if (areas_->inside.contains(at))
      result = areas_->sure.contains(at) ? Belongs::surely : Belongs::yes;
    else
      result = areas_->loose.contains(at) ? Belongs::nearly : Belongs::no;
  }
  if (!slope_ || result == Belongs::no) return result;
  constexpr double kRounding = 1e-4, kNearly = 1;
  // A tool from above touches nothing that faces down but at its rim, where that is as good as upright.
  const double slope =
      upright ? 90 : std::acos(std::min(1.0, upward(part, touch.triangle))) * 180 / std::numbers::pi;
  const double outside = std::max(slope_->least_deg - slope, slope - slope_->greatest_deg);
  if (outside > kNearly) return Belongs::no;
  return outside > kRounding ? std::min(result, Belongs::nearly) : result;
}

namespace {

/// Goes along a path and collects what belongs.
class Collector {
 public:
  Collector(const TipSurface& surface, const Polyline3& path, const TouchRule& rule, double precision,
            const TipSurface* thicker, double floats)
      : surface_(surface),
        path_(path),
        rule_(rule),
        precision_(precision),
        walk_(surface),
        beside_(thicker ? *thicker : surface),
        floats_(thicker ? floats : std::numeric_limits<double>::infinity()),
        needle_(surface.shared_part(), Profile::needle()) {
    const Profile::Piece& end = surface.cutter().pieces().front();
    if (end.arc == 0 && end.z0 == end.z1) flat_ = end.r1;
  }

  PiecesThatBelong run(double step_mm) {
    if (path_.size() < 2) return std::move(result_);
    visit({0, 0}, {0, 0});
    for (std::size_t i = 0; i + 1 < path_.size(); ++i) {
      const int steps = detail::steps_between(path_[i], path_[i + 1], step_mm);
      for (int k = 1; k <= steps; ++k)
        visit({i, static_cast<double>(k - 1) / steps}, {i, static_cast<double>(k) / steps});
    }
    if (before_ >= Belongs::yes) last_ = {path_.size() - 2, 1};
    finish();
    return std::move(result_);
  }

 private:
  struct Place {
    std::size_t segment = 0;
    double share = 0;
  };

  void visit(const Place& from, const Place& to) {
    const Belongs here = belongs(to);
    if (here >= Belongs::yes && before_ < Belongs::yes) {
      const Place begin = last_that_belongs(to, from);
      if (!first_) first_ = begin;
    }
    if (here < Belongs::yes && before_ >= Belongs::yes) last_ = last_that_belongs(from, to);
    if (here == Belongs::surely) surely_ = true;
    if (here == Belongs::nearly) ++nearly_;
    if (here == Belongs::no) finish();
    before_ = here;
  }
  void finish() {
    if (first_ && surely_)
      add();
    else if (first_)
      ++result_.scraps;
    if (first_ && nearly_ > 2) result_.whole = false;
    first_.reset();
    surely_ = false;
    nearly_ = 0;
  }
  void add() {
    Polyline3 piece{at(*first_)};
    for (std::size_t i = first_->segment + 1; i <= last_.segment; ++i)
      if (piece.back() != path_[i]) piece.push_back(path_[i]);
    if (piece.back() != at(last_)) piece.push_back(at(last_));
    if (piece.size() > 1) result_.pieces.push_back(std::move(piece));
  }
  /// Between two places of one segment of which one belongs: the last that does.
  [[nodiscard]] Place last_that_belongs(Place in, Place out) {
    const Vec3 way = path_[in.segment + 1] - path_[in.segment];
    while (std::abs(out.share - in.share) * way.norm() > precision_) {
      const Place middle{in.segment, 0.5 * (in.share + out.share)};
      (belongs(middle) >= Belongs::yes ? in : out) = middle;
    }
    return in;
  }
  [[nodiscard]] Belongs belongs(const Place& place) {
    const Vec3 tip = at(place);
    auto touch = walk_.touch(tip);
    bool upright = false;
    if (const double below = touch ? touch->height : kNothingBelow; tip.z() - below > floats_)
      if (const auto wall = beside_.touch(tip); wall && wall->height >= tip.z() - kTouchError) {
        upright = wall->height > tip.z() + floats_;
        touch = wall;
      }
    if (!touch) return Belongs::no;
    Belongs result = rule_(surface_.part(), *touch, upright);
    if (result >= Belongs::yes || !(flat_ > 0) || touch->normal.z() < 1 - 1e-9) return result;
    const Vec2 axis = plan(tip);
    for (const std::optional<Vec2>& other : {std::optional(axis), rule_.nearest_inside(axis, flat_)}) {
      constexpr double kLevel = 1e-4;
      const auto under = other ? needle_.touch(*other) : std::nullopt;
      if (under && under->point.z() >= touch->point.z() - kLevel &&
          upward(surface_.part(), under->triangle) > 1 - 1e-9)
        result = std::max(result, rule_(surface_.part(), *under));
    }
    return result;
  }
  [[nodiscard]] Vec3 at(const Place& place) const {
    if (place.share == 1) return path_[place.segment + 1];
    return path_[place.segment] + place.share * (path_[place.segment + 1] - path_[place.segment]);
  }

  const TipSurface& surface_;
  const Polyline3& path_;
  const TouchRule& rule_;
  double precision_;
  detail::TouchWalk walk_, beside_;
  double floats_;
  TipSurface needle_;
  double flat_ = 0;  // radius of a flat end
  PiecesThatBelong result_;
  std::optional<Place> first_;  // of the piece in hand
  Place last_;
  bool surely_ = false;
  int nearly_ = 0;  // steps
  Belongs before_ = Belongs::no;
};

}  // namespace

PiecesThatBelong pieces_that_belong(const TipSurface& surface, const Polyline3& path, const TouchRule& rule,
                                    double step_mm, double precision_mm, const TipSurface* thicker,
                                    double floats_mm) {
  require(step_mm > 0 && precision_mm > 0, "step_mm and precision_mm", "must be above 0");
  return Collector(surface, path, rule, precision_mm, thicker, floats_mm).run(step_mm);
}

}  // namespace yardpass
