#include "plan/front/rays.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "geom/parallel_for.h"

namespace yardpass::detail {

namespace {

/// How the height changes, a millimetre along X and along Y.
Vec2 slope_of(const FrontPoint& point) {
  const double upright = std::max(point.normal.z(), 1e-6);
  return {-point.normal.x() / upright, -point.normal.y() / upright};
}

/// Between a place nearer than the step and one farther, or over a jump between them.
FrontPoint by_bisection(const Ground& ground, const FrontPoint& base, Vec2 across, double step,
                        FrontCounts& counts) {
  constexpr int kTouches = 12, kToBorder = 6;
  constexpr double kClose = 0.01, kJump = 0.05, kEarly = 0.2, kBeyond = 0.02;  // of the step
  ++counts.bisected;
  const double size = across.norm();
  if (!(size > 1e-9)) return {};
  across /= size;
  const auto at = [&](double far, std::int32_t near) {
    ++counts.touches;
    return ground.at(plan(base.tip) + far * across, near);
  };
  double low = 0, high = step;
  FrontPoint before = base, after = at(high, base.triangle);
  if (!after.touched) {
    for (int k = 0; k < kToBorder; ++k) {
      const double middle = 0.5 * (low + high);
      const FrontPoint there = at(middle, before.triangle);
      (there.touched ? low : high) = middle;
      if (there.touched) before = there;
    }
    ++counts.jumps;
    return (before.tip - base.tip).norm() > kEarly * step ? before : FrontPoint{};
  }
  for (int k = 0; k < kTouches; ++k) {
    const double middle = 0.5 * (low + high);
    const FrontPoint there = at(middle, before.triangle);
    if (there.touched && (there.tip - base.tip).norm() < step)
      low = middle, before = there;
    else
      high = middle, after = there;
    if (after.touched && (after.tip - before.tip).norm() < kClose * step) return after;
  }
  if (after.touched && (after.tip - before.tip).norm() < kJump * step) return after;
  ++counts.jumps;
  if (after.touched && base.triangle >= 0 && after.triangle >= 0)
    counts.jumped(std::abs(after.tip.z() - before.tip.z()), before.tip);
  if ((before.tip - base.tip).norm() > kEarly * step) return before;
  return at(high + kBeyond * step, after.triangle);
}

/// Ways along which rays go square from one point.
struct Aims {
  std::vector<Vec3> along;
  bool hollow = false;  // two that cross: the point itself stands between their heads
};

Vec3 turned(const Vec3& v, double angle, const Vec3& axis) { return Eigen::AngleAxisd(angle, axis) * v; }

void fan(const Vec3& from, double first, double last, const Vec3& axis, Aims& aims) {
  constexpr double kFan = 0.15;  // radians between rays
  const int steps = std::max(1, static_cast<int>(std::ceil((last - first) / kFan)));
  for (int k = 0; k <= steps; ++k)
    aims.along.push_back(turned(from, first + (last - first) * k / steps, axis));
}

/// An edge of the front in the tangent plane of a point; nothing of it if it climbs a cliff.
Vec3 in_tangent_plane(const Vec3& edge, const Vec3& normal) {
  constexpr double kCliff = 0.3;
  const Vec3 flat = edge - edge.dot(normal) * normal;
  return flat.norm() < kCliff * edge.norm() ? Vec3(0, 0, 0) : flat;
}

/// `before`, `after`: its neighbours; null at the ends of an open chain.
Aims aims_at(const FrontPoint* before, const FrontPoint& here, const FrontPoint* after) {
  constexpr double kStraight = 0.25;  // radians
  constexpr double kQuarter = 0.5 * std::numbers::pi;
  const auto edge = [&](const FrontPoint* from, const FrontPoint* to) {
    return from && to && from->touched && to->touched ? Vec3(to->tip - from->tip) : Vec3(0, 0, 0);
  };
  const Vec3 steep0 = edge(before, &here), steep1 = edge(&here, after);
  Vec3 e0 = in_tangent_plane(steep0, here.normal), e1 = in_tangent_plane(steep1, here.normal);
  if (e0.isZero() && e1.isZero()) {
    e0 = Vec3(steep0.x(), steep0.y(), 0), e1 = Vec3(steep1.x(), steep1.y(), 0);
    if (e0.norm() < 1e-7) e0.setZero();
    if (e1.norm() < 1e-7) e1.setZero();
  }
  Aims aims;
  if (e0.isZero()) e0 = e1;
  if (e1.isZero()) e1 = e0;
  if (e0.isZero()) return aims;
  const double l0 = e0.norm(), l1 = e1.norm();
  e0 /= l0, e1 /= l1;
  const double turn = std::atan2(e0.cross(e1).dot(here.normal), e0.dot(e1));
  const bool ends = before && after && before->live != after->live;
  if (ends && (before->ended || after->ended)) {
    aims.along.push_back(after->live ? e1 : e0);
  } else if (ends) {
    // Only the side that lives tells the direction, and the end spreads out.
    if (after->live)
      fan(e1, -kQuarter, 0, here.normal, aims);
    else
      fan(e0, 0, kQuarter, here.normal, aims);
  } else if (std::abs(turn) < kStraight) {
    aims.along.push_back((e0 * l1 + e1 * l0).normalized());  // of the parabola through the three
  } else if (turn > 0) {
    fan(e0, 0, turn, here.normal, aims);
  } else {
    aims.along = {e0, e1};
    aims.hollow = true;
  }
  return aims;
}

struct Ray {
  FrontPoint base, head;
  Vec3 along;
  double step;
};

class Refining {
 public:
  Refining(const Ground& ground, double stepover, FrontCounts& counts)
      : ground_(ground), stepover_(stepover), counts_(counts) {}

  /// Heads between those of two neighbouring rays, where the front bends.
  void between(const Ray& a, const Ray& b, FrontLoop& heads, int depth = 0) const {
    constexpr int kDeepest = 6;
    if (depth >= kDeepest || !bends(a, b)) return;
    Ray middle;
    const Vec2 place = 0.5 * (plan(a.base.tip) + plan(b.base.tip));
    if ((place - plan(a.base.tip)).norm() < 1e-12) {
      middle.base = a.base;
    } else {
      middle.base = ground_.at(place, a.base.triangle);
      ++counts_.touches;
    }
    if (!middle.base.touched) return;
    middle.base.pass = a.base.pass;
    middle.base.live = true;
    middle.along = (a.along + b.along).normalized();
    middle.step = 0.5 * (a.step + b.step);
    middle.head = head_of(ground_, middle.base, middle.along, middle.step, counts_);
    if (!middle.head.touched) return;
    between(a, middle, heads, depth + 1);
    heads.push_back(middle.head);
    between(middle, b, heads, depth + 1);
  }

 private:
  [[nodiscard]] bool bends(const Ray& a, const Ray& b) const {
    constexpr double kInPlan = 0.004, kInSpace = 0.02, kLongest = 2, kShort = 0.02, kFacet = 0.25;
    const auto angle = [](const Vec3& u, const Vec3& v) {
      return std::acos(std::clamp(u.dot(v), -1.0, 1.0));
    };
    const Vec2 t0 = plan(a.along), t1 = plan(b.along);
    const double plan_turn =
        std::acos(std::clamp(t0.dot(t1) / std::max(1e-12, t0.norm() * t1.norm()), -1.0, 1.0));
    const double in_plan = (plan(b.head.tip) - plan(a.head.tip)).norm(),
                 in_space = (b.head.tip - a.head.tip).norm();
    if (!(in_plan > 20 * kRegionStep) || in_space < kShort * stepover_) return false;
    // An error in plan is as much more in space as the way there is steep.
    const auto level = [](const Ray& ray) {
      const Vec3 way = ray.head.tip - ray.base.tip;
      return std::max(0.01, plan(way).norm() / std::max(1e-12, way.norm()));
    };
    if (in_plan * plan_turn / 8 > kInPlan * stepover_ * std::min(level(a), level(b))) return true;
    if (in_space > kLongest * stepover_) return true;
    const double turn = std::max(angle(a.along, b.along), angle(a.head.normal, b.head.normal));
    return in_space > kFacet * stepover_ && in_space * turn / 8 > kInSpace * stepover_;
  }

  const Ground& ground_;
  double stepover_;
  FrontCounts& counts_;
};

/// Of one point: its rays, and heads between the first of them and the second and so on, then up to those of
/// the next point.
struct FromPoint {
  std::vector<Ray> rays;
  bool hollow = false;
  std::vector<FrontLoop> between;
  FrontLoop to_next;
  FrontCounts counts;
};

}  // namespace

FrontPoint head_of(const Ground& ground, const FrontPoint& base, const Vec3& along, double step,
                   FrontCounts& counts) {
  constexpr int kSteps = 9;
  constexpr double kUpright = 0.005;                             // cosine: 89.7 degrees
  constexpr double kFar = 2e-3, kSquare = 4e-3, kLongest = 0.7;  // of the step
  ++counts.rays;
  const Vec3 across = along.cross(base.normal);
  const double size = across.norm();
  if (!(size > 1e-9)) return {};
  const Vec3 right = across / size;
  Vec2 place = plan(base.tip) + plan(right) * step;
  std::int32_t near = base.triangle;
  FrontPoint head;
  bool found = false;
  for (int k = 0; k < kSteps && base.normal.z() > kUpright; ++k) {
    head = ground.at(place, near);
    ++counts.touches;
    if (!head.touched) break;
    near = head.triangle;
    const Vec3 way = head.tip - base.tip;
    const double far = way.norm(), beside = way.dot(along), off = far - step;
    if (far < 1e-9) break;
    if (std::abs(off) < kFar * step && std::abs(beside) < kSquare * step && way.dot(right) > 0) {
      found = true;
      break;
    }
    const Vec2 slope = slope_of(head);
    const Vec2 j1 = plan(along) + along.z() * slope, j2 = (plan(way) + way.z() * slope) / far;
    const double det = j1.x() * j2.y() - j1.y() * j2.x();
    if (std::abs(det) < 1e-12) break;
    Vec2 move(-(beside * j2.y() - off * j1.y()) / det, -(j1.x() * off - j2.x() * beside) / det);
    const double rise = std::hypot(move.norm(), slope.dot(move));
    if (rise > kLongest * step) move *= kLongest * step / rise;
    place = plan(head.tip) + move;
  }
  if (!found) head = by_bisection(ground, base, plan(right), step, counts);
  head.pass = base.pass;
  return head;
}

namespace {

/// The rays of all chains at once: first their heads, then what is between them, then all in order.
class Casting {
 public:
  Casting(const Ground& ground, const std::vector<FrontChain>& chains, double stepover)
      : ground_(ground), chains_(chains), stepover_(stepover), from_(chains.size()) {
    for (std::size_t c = 0; c < chains.size(); ++c) {
      from_[c].resize(chains[c].points.size());
      for (std::size_t i = 0; i < chains[c].points.size(); ++i)
        if (chains[c].points[i].live && chains[c].points[i].touched) all_.push_back({c, i});
    }
  }

  std::vector<Heads> heads(FrontCounts& counts) {
    parallel_for(all_.size(), [&](std::size_t k) { cast(all_[k]); });
    parallel_for(all_.size(), [&](std::size_t k) { fill_between(all_[k]); });
    std::vector<Heads> result(chains_.size());
    for (std::size_t c = 0; c < chains_.size(); ++c)
      for (std::size_t i = 0; i < from_[c].size(); ++i) {
        counts.add(from_[c][i].counts);
        collect(chains_[c].points[i], i, from_[c][i], result[c]);
      }
    return result;
  }

 private:
  struct Where {
    std::size_t chain, point;
  };

  [[nodiscard]] std::optional<std::size_t> next_of(const Where& w) const {
    if (w.point + 1 < chains_[w.chain].points.size()) return w.point + 1;
    return chains_[w.chain].closed ? std::optional<std::size_t>(0) : std::nullopt;
  }
  [[nodiscard]] std::optional<std::size_t> before(const Where& w) const {
    if (w.point > 0) return w.point - 1;
    return chains_[w.chain].closed ? std::optional(chains_[w.chain].points.size() - 1) : std::nullopt;
  }

  void cast(const Where& w) {
    const FrontChain& chain = chains_[w.chain];
    FromPoint& mine = from_[w.chain][w.point];
    const FrontPoint& here = chain.points[w.point];
    const std::optional<std::size_t> last = before(w), next = next_of(w);
    const Aims aims =
        aims_at(last ? &chain.points[*last] : nullptr, here, next ? &chain.points[*next] : nullptr);
    mine.hollow = aims.hollow;
    const double step = chain.steps.empty() ? stepover_ : chain.steps[w.point];
    for (const Vec3& along : aims.along) {
      Ray ray{here, {}, along, step};
      ray.head = step < 1e-9 ? here : head_of(ground_, here, along, step, mine.counts);
      if (ray.head.touched) mine.rays.push_back(std::move(ray));
    }
  }

  void fill_between(const Where& w) {
    FromPoint& mine = from_[w.chain][w.point];
    if (mine.rays.empty()) return;
    const Refining refining(ground_, stepover_, mine.counts);
    mine.between.resize(mine.rays.size());
    if (!mine.hollow)
      for (std::size_t j = 0; j + 1 < mine.rays.size(); ++j)
        refining.between(mine.rays[j], mine.rays[j + 1], mine.between[j]);
    const std::optional<std::size_t> next = next_of(w);
    if (next && !from_[w.chain][*next].rays.empty())
      refining.between(mine.rays.back(), from_[w.chain][*next].rays.front(), mine.to_next);
  }

  static void collect(const FrontPoint& here, std::size_t i, const FromPoint& mine, Heads& heads) {
    const auto take = [&](const FrontPoint& point) {
      heads.points.push_back(point);
      Vec3& tip = heads.points.back().tip;
      const Vec2 place = on_lattice(plan(tip));
      tip.x() = place.x(), tip.y() = place.y();
      heads.base.push_back(i);
    };
    if (mine.rays.empty()) {
      take(here);
      heads.points.back().ended = here.live;
      return;
    }
    for (std::size_t j = 0; j < mine.rays.size(); ++j) {
      if (j > 0 && mine.hollow) take(here);
      take(mine.rays[j].head);
      for (const FrontPoint& head : mine.between[j]) take(head);
    }
    for (const FrontPoint& head : mine.to_next) take(head);
  }

  const Ground& ground_;
  const std::vector<FrontChain>& chains_;
  double stepover_;
  std::vector<Where> all_;
  std::vector<std::vector<FromPoint>> from_;
};

}  // namespace

std::vector<Heads> heads_of(const Ground& ground, const std::vector<FrontChain>& chains, double stepover,
                            FrontCounts& counts) {
  return Casting(ground, chains, stepover).heads(counts);
}

}  // namespace yardpass::detail
