#include "yardpass/curve/close_loop.h"

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <numeric>

#include "curve/crossings.h"
#include "yardpass/curve/edit_curves.h"
#include "yardpass/geom/region.h"

namespace yardpass {

const char* name_of(Meeting meeting) {
  switch (meeting) {
    case Meeting::touching:
      return "touching";
    case Meeting::cut_back:
      return "cut back";
    case Meeting::extended:
      return "extended";
    case Meeting::bridged:
      return "bridged";
  }
  return "";
}

namespace {

/// One end of a piece: 2 x piece, + 1 at its far end.
using End = std::size_t;

/// How two ends would meet: how far each goes on (positive) or is cut back (negative), in plan.
struct Bringing {
  End a, b;
  Meeting how = Meeting::bridged;
  double cost = 0;
  double on_a = 0, on_b = 0;
};

/// The last stretch of a piece towards one of its ends, run on straight beyond it. Places are measured from
/// the end outwards: below zero on the piece.
class Tail {
 public:
  Tail(const Curve& piece, bool at_end, double reach) {
    Polyline2 line = in_plan(piece);
    if (!at_end) std::reverse(line.begin(), line.end());
    end_ = line.back();
    const std::size_t last = line.size() - 1;
    places_.push_back(0);
    points_.push_back(end_);
    for (std::size_t i = last; i > 0 && places_.back() > -reach; --i) {
      places_.push_back(places_.back() - (line[i] - line[i - 1]).norm());
      points_.push_back(line[i - 1]);
    }
    std::reverse(points_.begin(), points_.end());
    std::reverse(places_.begin(), places_.end());
    std::size_t back = last;  // the direction of the last piece that has one
    while (back > 0 && (line[last] - line[back - 1]).norm() < 1e-9) --back;
    if (back > 0) {
      points_.push_back(end_ + (line[last] - line[back - 1]).normalized() * reach);
      places_.push_back(reach);
    }
  }
  [[nodiscard]] const Vec2& end() const { return end_; }
  [[nodiscard]] const Polyline2& points() const { return points_; }
  [[nodiscard]] double place(std::size_t piece, double share) const {
    return places_[piece] + share * (places_[piece + 1] - places_[piece]);
  }

 private:
  Vec2 end_;
  Polyline2 points_;
  std::vector<double> places_;
};

class LoopMaker {
 public:
  LoopMaker(const std::vector<Curve>& pieces, double gap) : pieces_(pieces), gap_(gap) {}

  ClosedLoop run() {
    check();
    if (pieces_.size() == 1 && pieces_.front().closed) return finished(pieces_.front(), {});
    choose();
    return walk();
  }

 private:
  [[nodiscard]] std::string called(std::size_t piece) const {
    return pieces_[piece].name.empty() ? "piece " + std::to_string(piece + 1)
                                       : "\"" + pieces_[piece].name + "\"";
  }
  [[nodiscard]] static std::string words(const Vec3& p) {
    char text[80];
    std::snprintf(text, sizeof text, "(%.3f, %.3f, %.3f)", p.x(), p.y(), p.z());
    return text;
  }
  [[nodiscard]] static std::string words(double mm) {
    char text[40];
    std::snprintf(text, sizeof text, "%.3f mm", mm);
    return text;
  }
  [[noreturn]] void fail(const std::string& what, std::vector<Vec3> places) const {
    throw LoopError(what, pieces_, std::move(places));
  }
  [[nodiscard]] Vec3 end_point(End end) const {
    const Polyline3& points = pieces_[end / 2].points;
    return end % 2 == 1 ? points.back() : points.front();
  }

  void check() const {
    if (pieces_.empty()) throw Error("a loop needs at least one piece");
    for (std::size_t i = 0; i < pieces_.size(); ++i) {
      if (length(std::span<const Vec2>(in_plan(pieces_[i]))) < 1e-9)
        fail(called(i) + " has no length seen from above", pieces_[i].points);
      if (pieces_[i].closed && pieces_.size() > 1)
        fail(called(i) + " is closed already and cannot be one of several pieces of a loop",
             {pieces_[i].points.front()});
    }
  }

  [[nodiscard]] Bringing bring(End a, End b, const Tail& tail_a, const Tail& tail_b) const {
    const double apart = (tail_a.end() - tail_b.end()).norm();
    Bringing best{a, b, apart < 1e-6 ? Meeting::touching : Meeting::bridged, apart, 0, 0};
    if (best.how == Meeting::touching) return best;
    bool met = false;
    for (std::size_t i = 0; i + 1 < tail_a.points().size(); ++i)
      for (std::size_t j = 0; j + 1 < tail_b.points().size(); ++j) {
        const auto crossing = detail::line_crossing(tail_a.points()[i], tail_a.points()[i + 1],
                                                    tail_b.points()[j], tail_b.points()[j + 1]);
        if (!crossing || crossing->s < 0 || crossing->s > 1 || crossing->t < 0 || crossing->t > 1) continue;
        const double on_a = tail_a.place(i, crossing->s), on_b = tail_b.place(j, crossing->t);
        const double cost = std::max(std::abs(on_a), std::abs(on_b));
        // A corner far beyond the gap is not what a person would draw: lines that run nearly side by side are
        // bridged.
        const bool cut = on_a <= 0 && on_b <= 0;
        if (cost > gap_ || (!cut && cost > 2 * apart) || (met && cost >= best.cost)) continue;
        best = {a, b, cut ? Meeting::cut_back : Meeting::extended, cost, on_a, on_b};
        met = true;
      }
    return best;
  }

  void choose() {
    std::vector<Tail> tails;
    for (End end = 0; end < 2 * pieces_.size(); ++end)
      tails.emplace_back(pieces_[end / 2], end % 2 == 1, gap_);
    for (End a = 0; a < tails.size(); ++a)
      for (End b = a + 1; b < tails.size(); ++b)
        if (a / 2 != b / 2 || pieces_.size() == 1) ways_.push_back(bring(a, b, tails[a], tails[b]));
    std::stable_sort(ways_.begin(), ways_.end(),
                     [](const Bringing& x, const Bringing& y) { return x.cost < y.cost; });
    partner_.assign(tails.size(), nullptr);
    std::vector<std::size_t> chain(pieces_.size());  // pieces that hang together already
    std::iota(chain.begin(), chain.end(), std::size_t{0});
    std::size_t chosen = 0;
    for (const Bringing& way : ways_) {
      if (way.cost > gap_ || partner_[way.a] || partner_[way.b]) continue;
      const std::size_t one = chain[way.a / 2], other = chain[way.b / 2];
      if (one == other && chosen + 1 < pieces_.size()) continue;  // it would close too early
      std::replace(chain.begin(), chain.end(), other, one);
      partner_[way.a] = partner_[way.b] = &way;
      ++chosen;
    }
    if (chosen < pieces_.size()) complain();
  }

  /// Names the open ends and how far the nearest other open end is.
  [[noreturn]] void complain() const {
    std::string what = "the pieces do not close to a loop";
    std::vector<Vec3> places;
    for (End end = 0; end < partner_.size(); ++end) {
      if (partner_[end]) continue;
      places.push_back(end_point(end));
      const Bringing* nearest = nullptr;
      for (const Bringing& way : ways_)
        if ((way.a == end && !partner_[way.b]) || (way.b == end && !partner_[way.a])) {
          nearest = &way;
          break;
        }
      what += "; the " + std::string(end % 2 == 1 ? "end of " : "start of ") + called(end / 2) + " at " +
              words(end_point(end)) + " is open";
      if (nearest) {
        const End other = nearest->a == end ? nearest->b : nearest->a;
        what += ", " + words(nearest->cost) + " from the " + (other % 2 == 1 ? "end of " : "start of ") +
                called(other / 2) + " (allowed: " + words(gap_) + ")";
      }
    }
    fail(what, std::move(places));
  }

  /// A piece in running order, cut back at both ends as its junctions ask for.
  [[nodiscard]] Polyline3 trimmed(std::size_t piece, bool forwards) const {
    Polyline3 points = pieces_[piece].points;
    const auto on = [&](End end) {
      return partner_[end]->a == end ? partner_[end]->on_a : partner_[end]->on_b;
    };
    double at_front = on(2 * piece), at_back = on(2 * piece + 1);
    if (!forwards) {
      std::reverse(points.begin(), points.end());
      std::swap(at_front, at_back);
    }
    const double all = length(std::span<const Vec2>(in_plan({points, false})));
    if (-std::min(at_front, 0.0) - std::min(at_back, 0.0) >= all)
      fail(called(piece) + " lies wholly outside the crossings with its neighbours",
           {points.front(), points.back()});
    adjust(points, at_back);
    std::reverse(points.begin(), points.end());
    adjust(points, at_front);
    std::reverse(points.begin(), points.end());
    return points;
  }
  /// Runs the last point on by a length in plan, at its height, or takes that much away.
  static void adjust(Polyline3& points, double on) {
    if (on > 0) {
      std::size_t back = points.size() - 1;
      while (back > 0 && (plan(points.back()) - plan(points[back - 1])).norm() < 1e-9) --back;
      const Vec2 way = (plan(points.back()) - plan(points[back - 1])).normalized();
      points.back() += Vec3(on * way.x(), on * way.y(), 0);
    }
    for (double off = -on; off > 0 && points.size() > 1;) {
      const Vec3 a = points[points.size() - 2], b = points.back();
      const double piece = (plan(b) - plan(a)).norm();
      points.pop_back();
      if (piece > off) points.push_back(b + (a - b) * (off / piece));
      off -= piece;
    }
  }

  ClosedLoop walk() const {
    Curve curve{{}, true, "", pieces_.front().layer, pieces_.front().colour};
    std::vector<Junction> junctions;
    End entry = 0;
    for (std::size_t k = 0; k < pieces_.size(); ++k) {
      const Polyline3 points = trimmed(entry / 2, entry % 2 == 0);
      for (const Vec3& p : points)
        if (curve.points.empty() || (curve.points.back() - p).norm() > 1e-7) curve.points.push_back(p);
      const End leave = entry ^ 1U;
      const Bringing& way = *partner_[leave];
      const End next = way.a == leave ? way.b : way.a;
      Vec3 at = points.back();
      if (way.how == Meeting::bridged) at = (at + end_point(next)) / 2;
      junctions.push_back({entry / 2, next / 2, way.how, way.cost, at});
      entry = next;
    }
    if ((curve.points.front() - curve.points.back()).norm() < 1e-7) curve.points.pop_back();
    return finished(std::move(curve), std::move(junctions));
  }

  ClosedLoop finished(Curve curve, std::vector<Junction> junctions) const {
    const Polyline2 loop = in_plan(curve);
    const double area = signed_area(loop);
    const Region whole = unite({{loop}}, {});
    if (whole.loops.size() != 1 ||
        std::abs(whole.area_mm2() - std::abs(area)) > 1e-5 * length(std::span<const Vec2>(loop)) + 1e-6)
      fail("the loop through the pieces crosses itself or encloses nothing", crossings_of(curve));
    if (area < 0) {
      curve = reversed(std::move(curve));
      std::reverse(junctions.begin(), junctions.end());
      for (Junction& j : junctions) std::swap(j.from, j.to);
    }
    return {std::move(curve), std::move(junctions)};
  }
  static std::vector<Vec3> crossings_of(const Curve& curve) {
    std::vector<Vec3> places;
    for (const Curve& piece : cut_at_crossings({curve})) places.push_back(piece.points.front());
    return places;
  }

  const std::vector<Curve>& pieces_;
  double gap_;
  std::vector<Bringing> ways_;            // cheapest first
  std::vector<const Bringing*> partner_;  // of each end
};

}  // namespace

ClosedLoop close_loop(const std::vector<Curve>& pieces, double gap_mm) {
  return LoopMaker(pieces, gap_mm).run();
}

}  // namespace yardpass
