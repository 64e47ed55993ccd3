#include "plan/valley/chains.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <functional>

#include "geom/chained_ends.h"
#include "geom/parallel_for.h"

namespace yardpass::detail {

namespace {

/// Every side of a cell that a valley crosses, by number: twice that of its lower left node, and one more if
/// the side goes up.
class Crossings {
 public:
  Crossings(const KinkFinder& finder, const CellGrid& grid, const std::vector<Sounding>& soundings)
      : grid_(grid), number_(2 * soundings.size(), -1) {
    std::vector<std::vector<std::pair<std::size_t, ValleyPoint>>> of_row(static_cast<std::size_t>(grid.rows));
    parallel_for(grid.rows, [&](int row) {
      for (int column = 0; column < grid.columns; ++column)
        for (int up = 0; up < 2; ++up) {
          if (column + 1 - up >= grid.columns || row + up >= grid.rows) continue;
          const Sounding &a = soundings[grid.index(column, row)],
                         &b = soundings[grid.index(column + 1 - up, row + up)];
          if (!finder.promises(a, b)) continue;
          if (const std::optional<ValleyPoint> found = finder.close_in(a, b))
            of_row[static_cast<std::size_t>(row)].emplace_back(side(column, row, up), *found);
        }
    });
    for (const auto& row : of_row)
      for (const auto& [at, point] : row) {
        number_[at] = static_cast<std::int32_t>(points.size());
        points.push_back(point);
      }
  }

  /// Those on the four sides of a cell, in its round.
  [[nodiscard]] std::vector<std::int32_t> of_cell(int column, int row) const {
    std::vector<std::int32_t> found;
    for (const std::size_t at :
         {side(column, row, 0), side(column + 1, row, 1), side(column, row + 1, 0), side(column, row, 1)})
      if (number_[at] >= 0) found.push_back(number_[at]);
    return found;
  }
  std::vector<ValleyPoint> points;

 private:
  [[nodiscard]] std::size_t side(int column, int row, int up) const {
    return 2 * grid_.index(column, row) + static_cast<std::size_t>(up);
  }
  CellGrid grid_;
  std::vector<std::int32_t> number_;
};

/// How well a chord goes with the directions of the valley at its ends.
double fit(const ValleyPoint& a, const ValleyPoint& b) {
  const Vec2 along = b.place - a.place;
  const double size = along.norm();
  if (size < 1e-12) return 2;
  return std::abs(along.dot(a.direction())) / size + std::abs(along.dot(b.direction())) / size;
}

}  // namespace

std::vector<ValleyChain> chains_of_grid(const KinkFinder& finder, const CellGrid& grid,
                                        const std::vector<Sounding>& soundings) {
  const Crossings crossings(finder, grid, soundings);
  const std::vector<ValleyPoint>& points = crossings.points;
  std::vector<std::vector<std::int32_t>> next(points.size());
  const auto link = [&](std::int32_t a, std::int32_t b) {
    if (!goes_on(points[static_cast<std::size_t>(a)], points[static_cast<std::size_t>(b)])) return;
    next[static_cast<std::size_t>(a)].push_back(b);
    next[static_cast<std::size_t>(b)].push_back(a);
  };
  const auto fits = [&](std::int32_t a, std::int32_t b) {
    return fit(points[static_cast<std::size_t>(a)], points[static_cast<std::size_t>(b)]);
  };
  for (int row = 0; row + 1 < grid.rows; ++row)
    for (int column = 0; column + 1 < grid.columns; ++column) {
      const std::vector<std::int32_t> k = crossings.of_cell(column, row);
      if (k.size() == 2) {
        link(k[0], k[1]);
      } else if (k.size() == 3) {
        // The pair that goes best together; the third ends here.
        std::array<std::size_t, 2> best{0, 1};
        double most = -1;
        for (std::size_t a = 0; a < 3; ++a)
          for (std::size_t b = a + 1; b < 3; ++b)
            if (const double here = fits(k[a], k[b]); here > most) most = here, best = {a, b};
        link(k[best[0]], k[best[1]]);
      } else if (k.size() == 4) {
        constexpr std::array<std::array<std::size_t, 4>, 3> kPairs{
            {{0, 1, 2, 3}, {0, 3, 1, 2}, {0, 2, 1, 3}}};
        const auto best = std::max_element(kPairs.begin(), kPairs.end(), [&](const auto& p, const auto& q) {
          return fits(k[p[0]], k[p[1]]) + fits(k[p[2]], k[p[3]]) <
                 fits(k[q[0]], k[q[1]]) + fits(k[q[2]], k[q[3]]);
        });
        link(k[(*best)[0]], k[(*best)[1]]);
        link(k[(*best)[2]], k[(*best)[3]]);
      }
    }
  std::vector<bool> used(points.size(), false);
  std::vector<ValleyChain> chains;
  const auto walk = [&](std::size_t first) {
    ValleyChain chain;
    std::size_t at = first;
    for (bool going = true; going;) {
      used[at] = true;
      chain.points.push_back(points[at]);
      going = false;
      for (const std::int32_t other : next[at])
        if (const auto k = static_cast<std::size_t>(other); !used[k]) {
          at = k, going = true;
          break;
        }
    }
    chain.closed = chain.points.size() > 2 && std::find(next[at].begin(), next[at].end(),
                                                        static_cast<std::int32_t>(first)) != next[at].end();
    chains.push_back(std::move(chain));
  };
  // From ends first; what is left are rings.
  for (std::size_t i = 0; i < points.size(); ++i)
    if (!used[i] && next[i].size() < 2) walk(i);
  for (std::size_t i = 0; i < points.size(); ++i)
    if (!used[i]) walk(i);
  return chains;
}

void follow_on(const KinkFinder& finder, double reach, ValleyChain& chain) {
  constexpr double kLeast = 0.002;  // mm
  if (chain.closed || chain.points.empty()) return;
  for (int end = 0; end < 2; ++end) {
    std::reverse(chain.points.begin(), chain.points.end());
    Vec2 way = chain.points.back().direction();
    if (chain.points.size() > 1) {
      const Vec2 chord = chain.points.back().place - chain.points[chain.points.size() - 2].place;
      if (way.norm() == 0) way = chord.normalized();
      if (way.dot(chord) < 0) way = -way;
    } else if (end == 1) {
      way = -way;
    }
    double gone = 0, step = 0.25 * reach;
    while (step > kLeast && gone < reach && way.norm() > 0) {
      const Vec2 at = chain.points.back().place + step * way;
      const std::optional<ValleyPoint> found = finder.across(at, way, 0.3 * step + 4 * kLeast);
      if (!found) {
        step *= 0.5;
        continue;
      }
      const Vec2 moved = found->place - chain.points.back().place;
      Vec2 onward = found->direction();
      if (onward.dot(way) < 0) onward = -onward;
      // A valley does not turn round within a step; another one that crosses it may be met.
      if (onward.dot(way) < 0.7 || moved.dot(way) < 0.5 * step || !goes_on(chain.points.back(), *found)) {
        step *= 0.5;
        continue;
      }
      gone += moved.norm();
      chain.points.push_back(*found);
      way = onward;
    }
  }
}

namespace {

const ValleyPoint& point_of(const std::vector<ValleyChain>& chains, const LineEnd& end) {
  const std::vector<ValleyPoint>& points = chains[end.line].points;
  return end.last ? points.back() : points.front();
}

/// The straight end of a chain: in the very corner the touches may be of any two of three sides.
struct Ray {
  Vec2 from, way;
};
Ray ray_of(const std::vector<ValleyChain>& chains, const LineEnd& end, double back) {
  std::vector<Vec2> line;
  for (const ValleyPoint& point : chains[end.line].points) line.push_back(point.place);
  if (!end.last) std::reverse(line.begin(), line.end());
  std::size_t from = line.size() - 1;
  while (from > 0 && (line[from] - line.back()).norm() < back) --from;
  const std::size_t before = from > 0 ? from - 1 : from;
  const Vec2 chord = before < from ? Vec2(line[from] - line[before]) : Vec2(line.back() - line[from]);
  return {line[from], chord.norm() > 0 ? Vec2(chord.normalized()) : Vec2(0, 0)};
}

/// Where two ends would meet if they ran on straight, if that is near them; else half-way between them.
Vec2 meeting(const Ray& a, const Ray& b, const Vec2& half, double reach) {
  const double cross = cross2(a.way, b.way);
  if (std::abs(cross) < 0.1) return half;
  const Vec2 at = a.from + cross2(Vec2(b.from - a.from), b.way) / cross * a.way;
  return (at - half).norm() <= reach ? at : half;
}

}  // namespace

std::vector<ValleyChain> met(std::vector<ValleyChain> chains, double reach) {
  std::vector<LineEnd> ends;
  for (std::size_t i = 0; i < chains.size(); ++i)
    if (!chains[i].closed && chains[i].points.size() > 1)
      for (const bool last : {false, true}) ends.push_back({i, last});
  // Groups of ends that are near each other.
  std::vector<std::size_t> group(ends.size());
  for (std::size_t i = 0; i < ends.size(); ++i) group[i] = i;
  const std::function<std::size_t(std::size_t)> root = [&](std::size_t i) {
    return group[i] == i ? i : group[i] = root(group[i]);
  };
  std::vector<std::size_t> by_x(ends.size());
  for (std::size_t i = 0; i < by_x.size(); ++i) by_x[i] = i;
  const auto place = [&](std::size_t i) -> const Vec2& { return point_of(chains, ends[i]).place; };
  const auto height = [&](std::size_t i) { return point_of(chains, ends[i]).height; };
  std::sort(by_x.begin(), by_x.end(), [&](std::size_t a, std::size_t b) {
    return std::pair(place(a).x(), a) < std::pair(place(b).x(), b);
  });
  for (std::size_t i = 0; i < by_x.size(); ++i)
    for (std::size_t k = i + 1; k < by_x.size() && place(by_x[k]).x() - place(by_x[i]).x() <= reach; ++k)
      if ((place(by_x[k]) - place(by_x[i])).norm() <= reach &&
          std::abs(height(by_x[k]) - height(by_x[i])) <= 3 * reach) {
        const std::size_t a = root(by_x[i]), b = root(by_x[k]);
        group[std::max(a, b)] = std::min(a, b);
      }
  std::vector<std::vector<std::size_t>> of_group(ends.size());
  for (std::size_t i = 0; i < ends.size(); ++i) of_group[root(i)].push_back(i);
  EndPartners partner(chains.size());
  for (const std::vector<std::size_t>& members : of_group) {
    if (members.size() < 2) continue;
    // Of ends that run together at an angle the sharpest pair says where.
    Vec2 at = 0.5 * (place(members[0]) + place(members[1]));
    double most = 0;
    for (std::size_t a = 0; a < members.size(); ++a)
      for (std::size_t b = a + 1; b < members.size(); ++b) {
        const Ray p = ray_of(chains, ends[members[a]], 0.5 * reach),
                  q = ray_of(chains, ends[members[b]], 0.5 * reach);
        if (const double angle = std::abs(cross2(p.way, q.way)); angle >= most)
          most = angle, at = meeting(p, q, 0.5 * (place(members[a]) + place(members[b])), reach);
      }
    for (const std::size_t i : members) {
      std::vector<ValleyPoint>& points = chains[ends[i].line].points;
      ValleyPoint corner = point_of(chains, ends[i]);
      corner.place = at;
      const auto beside = [&](const ValleyPoint& p) { return (p.place - at).norm() < 0.5 * reach; };
      while (points.size() > 1 && beside(ends[i].last ? points.back() : points.front()))
        points.erase(ends[i].last ? points.end() - 1 : points.begin());
      points.insert(ends[i].last ? points.end() : points.begin(), corner);
    }
    if (members.size() == 2) {
      const LineEnd a = ends[members[0]], b = ends[members[1]];
      partner[a.line][a.last] = b;
      partner[b.line][b.last] = a;
    }
  }
  std::vector<ValleyChain> result;
  for (const EndChain& chain : chained(partner)) {
    ValleyChain whole;
    whole.closed = chain.ring || chains[chain.lines.front().line].closed;
    for (const LineEnd& at : chain.lines) {
      std::vector<ValleyPoint> points = std::move(chains[at.line].points);
      if (at.last) std::reverse(points.begin(), points.end());
      const bool same =
          !whole.points.empty() && (whole.points.back().place - points.front().place).norm() < 1e-9;
      whole.points.insert(whole.points.end(), points.begin() + (same ? 1 : 0), points.end());
    }
    if (whole.closed && whole.points.size() > 2 &&
        (whole.points.front().place - whole.points.back().place).norm() < 1e-9)
      whole.points.pop_back();
    result.push_back(std::move(whole));
  }
  return result;
}

void refine(const KinkFinder& finder, double tolerance, ValleyChain& chain) {
  constexpr int kDeepest = 7;
  std::vector<ValleyPoint> fine;
  const std::function<void(const ValleyPoint&, const ValleyPoint&, int)> between =
      [&](const ValleyPoint& a, const ValleyPoint& b, int depth) {
        const Vec2 along = b.place - a.place;
        const double size = along.norm();
        if (depth > kDeepest || size < 4 * tolerance) return;
        // Round a corner the valley lies farther off.
        const bool corner = std::abs(cross2(a.direction(), b.direction())) > 0.3;
        const std::optional<ValleyPoint> middle = finder.across(
            0.5 * (a.place + b.place), along / size, std::max(4 * tolerance, (corner ? 0.6 : 0.15) * size));
        if (!middle) return;
        const double off = std::abs(cross2(Vec2(middle->place - a.place), along)) / size;
        if (off <= tolerance) return;
        between(a, *middle, depth + 1);
        fine.push_back(*middle);
        between(*middle, b, depth + 1);
      };
  const std::size_t count = chain.points.size();
  for (std::size_t i = 0; i < count; ++i) {
    fine.push_back(chain.points[i]);
    if (i + 1 < count || chain.closed) between(chain.points[i], chain.points[(i + 1) % count], 0);
  }
  chain.points = std::move(fine);
}

}  // namespace yardpass::detail
