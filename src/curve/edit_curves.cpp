#include "yardpass/curve/edit_curves.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

#include "curve/crossings.h"
#include "geom/chained_ends.h"
#include "yardpass/geom/region.h"

namespace yardpass {

namespace {

Curve like(const Curve& whole, Polyline3 points, bool closed = false) {
  return {std::move(points), closed, whole.name, whole.layer, whole.colour};
}

/// Points with the first one again at the end of a closed curve.
Polyline3 run_of(const Curve& curve) {
  Polyline3 points = curve.points;
  if (curve.closed && !points.empty()) points.push_back(points.front());
  return points;
}

Vec3 between(const Vec3& a, const Vec3& b, double share) { return a + share * (b - a); }

/// The place on a run that is nearest to a point, seen from above.
struct Foot {
  std::size_t piece = 0;
  double share = 0, distance = std::numeric_limits<double>::infinity();
};

Foot foot_of(const Polyline3& run, const Vec2& p) {
  Foot best;
  for (std::size_t i = 0; i + 1 < run.size(); ++i) {
    const Vec2 a = plan(run[i]), u = plan(run[i + 1]) - a;
    const double square = u.squaredNorm();
    const double share = square > 0 ? std::clamp((p - a).dot(u) / square, 0.0, 1.0) : 0.0;
    const double distance = (p - a - share * u).norm();
    if (distance < best.distance) best = {i, share, distance};
  }
  return best;
}

void add_point(Polyline3& points, const Vec3& p) {
  if (points.empty() || (points.back() - p).norm() > 1e-9) points.push_back(p);
}

/// A place along a run: number of the piece plus the share of it.
std::vector<Curve> cut_run(const Curve& curve, std::vector<double> places) {
  const Polyline3 run = run_of(curve);
  const double end = static_cast<double>(run.size()) - 1;
  std::sort(places.begin(), places.end());
  places.erase(std::unique(places.begin(), places.end(), [](double a, double b) { return b - a < 1e-9; }),
               places.end());
  std::erase_if(places, [&](double t) { return !curve.closed && (t < 1e-9 || t > end - 1e-9); });
  if (curve.closed && places.size() > 1 && places.front() < 1e-9 && places.back() > end - 1e-9)
    places.pop_back();
  if (places.empty()) return {curve};
  const auto at = [&](double t) {
    const auto i = std::min(static_cast<std::size_t>(t), run.size() - 2);
    return between(run[i], run[i + 1], t - static_cast<double>(i));
  };
  const auto add_stretch = [&](Polyline3& points, double from, double to) {
    add_point(points, at(from));
    for (auto i = static_cast<std::size_t>(from) + 1; static_cast<double>(i) < to; ++i)
      add_point(points, run[i]);
    add_point(points, at(to));
  };
  std::vector<Curve> result;
  if (!curve.closed) {
    places.insert(places.begin(), 0.0);
    places.push_back(end);
  }
  for (std::size_t k = 0; k + 1 < places.size(); ++k) {
    Polyline3 points;
    add_stretch(points, places[k], places[k + 1]);
    result.push_back(like(curve, std::move(points)));
  }
  if (curve.closed) {  // the stretch over the seam
    Polyline3 points;
    add_stretch(points, places.back(), end);
    add_stretch(points, 0.0, places.front());
    result.push_back(like(curve, std::move(points)));
  }
  return result;
}

}  // namespace

Curve flattened(Curve curve, double z) {
  for (Vec3& p : curve.points) p.z() = z;
  return curve;
}

Curve shifted(Curve curve, const Vec3& by) {
  for (Vec3& p : curve.points) p += by;
  return curve;
}

Curve reversed(Curve curve) {
  std::reverse(curve.points.begin() + (curve.closed && !curve.points.empty() ? 1 : 0), curve.points.end());
  return curve;
}

Curve simplified(const Curve& curve, double tolerance_mm) {
  const std::span<const Vec3> points(curve.points);
  return like(curve, curve.closed ? simplify_loop(points, tolerance_mm) : simplify(points, tolerance_mm),
              curve.closed);
}

std::vector<Curve> split_at(const Curve& curve, const Vec2& place) {
  const Polyline3 run = run_of(curve);
  if (run.size() < 2) return {curve};
  const Foot foot = foot_of(run, place);
  return cut_run(curve, {static_cast<double>(foot.piece) + foot.share});
}

std::vector<Curve> split_at_corners(const Curve& curve, double least_turn_deg) {
  const Polyline3 run = run_of(curve);
  const double least_cos = std::cos(least_turn_deg * std::numbers::pi / 180);
  std::vector<double> places;
  const auto turns = [&](const Vec3& a, const Vec3& b, const Vec3& c) {
    return (b - a).normalized().dot((c - b).normalized()) < least_cos;
  };
  for (std::size_t i = 1; i + 1 < run.size(); ++i)
    if (turns(run[i - 1], run[i], run[i + 1])) places.push_back(static_cast<double>(i));
  if (curve.closed && run.size() > 3 && turns(run[run.size() - 2], run[0], run[1])) places.push_back(0);
  return cut_run(curve, std::move(places));
}

std::vector<Curve> cut_at_crossings(const std::vector<Curve>& curves) {
  struct Piece {
    double low_x;
    std::size_t curve, piece;
    Vec2 a, b;
  };
  std::vector<Piece> all;
  for (std::size_t c = 0; c < curves.size(); ++c) {
    const Polyline3 run = run_of(curves[c]);
    for (std::size_t i = 0; i + 1 < run.size(); ++i) {
      const Vec2 a = plan(run[i]), b = plan(run[i + 1]);
      if ((a - b).norm() > 0) all.push_back({std::min(a.x(), b.x()), c, i, a, b});
    }
  }
  std::stable_sort(all.begin(), all.end(), [](const Piece& p, const Piece& q) { return p.low_x < q.low_x; });
  std::vector<std::vector<double>> places(curves.size());
  constexpr double slack = 1e-9;
  for (std::size_t i = 0; i < all.size(); ++i)
    for (std::size_t j = i + 1; j < all.size(); ++j) {
      const Piece &p = all[i], &q = all[j];
      if (q.low_x > std::max(p.a.x(), p.b.x()) + slack) break;
      const auto crossing = detail::line_crossing(p.a, p.b, q.a, q.b);
      if (!crossing || crossing->s < -slack || crossing->s > 1 + slack || crossing->t < -slack ||
          crossing->t > 1 + slack)
        continue;
      const double at_p = static_cast<double>(p.piece) + std::clamp(crossing->s, 0.0, 1.0),
                   at_q = static_cast<double>(q.piece) + std::clamp(crossing->t, 0.0, 1.0);
      if (p.curve == q.curve) {  // neighbours along a curve touch, which is no crossing
        const double all_of_it = static_cast<double>(run_of(curves[p.curve]).size()) - 1;
        const double along = std::abs(at_p - at_q);
        if (along < 1e-6 || (curves[p.curve].closed && all_of_it - along < 1e-6)) continue;
      }
      places[p.curve].push_back(at_p);
      places[q.curve].push_back(at_q);
    }
  std::vector<Curve> result;
  for (std::size_t c = 0; c < curves.size(); ++c)
    for (Curve& piece : cut_run(curves[c], places[c])) result.push_back(std::move(piece));
  return result;
}

std::vector<Curve> joined(std::vector<Curve> curves, double gap_mm) {
  std::erase_if(curves, [](const Curve& c) { return c.points.empty(); });
  std::vector<detail::LineEnds> ends;
  for (const Curve& c : curves) {
    ends.emplace_back();
    if (!c.closed) ends.back() = {c.points.front(), c.points.back()};
  }
  const auto may = [&](const detail::LineEnd& a, const detail::LineEnd& b) {
    return a.line != b.line || curves[a.line].points.size() > 2;
  };
  std::vector<Curve> result;
  for (const detail::EndChain& chain : detail::chained(detail::partners_within(ends, gap_mm, may))) {
    // Name, layer and colour are those of the earliest.
    const auto earliest =
        std::min_element(chain.lines.begin(), chain.lines.end(),
                         [](const detail::LineEnd& a, const detail::LineEnd& b) { return a.line < b.line; });
    Curve whole = curves[earliest->line];
    Polyline3 points;
    for (const detail::LineEnd& at : chain.lines) {
      Polyline3 more = curves[at.line].points;
      if (at.last) std::reverse(more.begin(), more.end());
      if (points.empty())
        points = std::move(more);
      else
        for (const Vec3& p : more) add_point(points, p);
    }
    whole.points = std::move(points);
    if (chain.ring) {
      whole.closed = true;
      if ((whole.points.front() - whole.points.back()).norm() < 1e-9) whole.points.pop_back();
    }
    result.push_back(std::move(whole));
  }
  return result;
}

std::vector<Curve> beside(const Curve& curve, double distance_mm) {
  const Polyline3 run = run_of(curve);
  std::vector<Curve> result;
  if (distance_mm == 0 || run.size() < 2) return {curve};
  const auto raise = [&](const Vec2& p) {
    const Foot foot = foot_of(run, p);
    return Vec3(p.x(), p.y(), between(run[foot.piece], run[foot.piece + 1], foot.share).z());
  };
  if (curve.closed) {
    Region area{{in_plan(curve)}};
    const double outwards = signed_area(area.loops.front()) > 0 ? -distance_mm : distance_mm;
    area = offset(unite(area, {}), outwards);
    for (const Polyline2& loop : area.loops) {
      Polyline3 points;
      for (const Vec2& p : loop) points.push_back(raise(p));
      if (outwards * distance_mm > 0) std::reverse(points.begin(), points.end());  // it ran clockwise
      result.push_back(like(curve, std::move(points), true));
    }
    return result;
  }
  // The outline of the band around the curve, of which the wanted side is kept, without the round ends.
  const auto on_side = [&](const Vec2& p) {
    const Foot foot = foot_of(run, p);
    const Vec2 a = plan(run[foot.piece]), u = (plan(run[foot.piece + 1]) - a).normalized(), w = p - a;
    const double along = w.dot(u), all = (plan(run[foot.piece + 1]) - a).norm();
    const bool before = foot.piece == 0 && along < -1e-4,
               beyond = foot.piece + 2 == run.size() && along > all + 1e-4;
    return !before && !beyond && (u.x() * w.y() - u.y() * w.x()) * distance_mm > 0;
  };
  for (const Polyline2& loop : around({in_plan(curve)}, false, std::abs(distance_mm)).loops) {
    const std::size_t n = loop.size();
    std::size_t start = 0;  // a point that is not wanted, so that no run is cut in two
    while (start < n && on_side(loop[start])) ++start;
    Polyline3 points;
    const auto finish = [&] {
      // The band lies to the left of its outline, so what is left of the curve runs against it.
      if (distance_mm > 0) std::reverse(points.begin(), points.end());
      if (points.size() > 1) result.push_back(like(curve, points));
      points.clear();
    };
    for (std::size_t k = 0; k < n; ++k) {
      const Vec2& p = loop[(start + k) % n];
      if (on_side(p))
        points.push_back(raise(p));
      else
        finish();
    }
    if (start == n && !points.empty()) {
      if (distance_mm > 0) std::reverse(points.begin(), points.end());
      result.push_back(like(curve, points, true));
    } else {
      finish();
    }
  }
  return result;
}

}  // namespace yardpass
