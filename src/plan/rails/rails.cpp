#include "yardpass/plan/rails.h"

#include <algorithm>
#include <cmath>
#include <iterator>

#include "geom/along_line.h"
#include "yardpass/geom/region.h"
#include "yardpass/geom/text.h"

namespace yardpass {

namespace {

using detail::AlongLine;

constexpr double kSame = 1e-9;

/// Shares from 0 to 1, sorted, each once, with more in between so that steps stay below `longest` on a
/// length.
std::vector<double> filled(std::vector<double> shares, double length, double longest) {
  shares.insert(shares.end(), {0.0, 1.0});
  std::sort(shares.begin(), shares.end());
  std::vector<double> result{0};
  const double least = std::max(kSame, 1e-6 / std::max(length, 1e-6));
  for (const double share : shares) {
    if (share <= result.back() + least || (share < 1 && share > 1 - least)) continue;
    const double from = result.back();
    const int pieces = std::max(1, static_cast<int>(std::ceil((share - from) * length / longest)));
    for (int k = 1; k <= pieces; ++k) result.push_back(from + (share - from) * k / pieces);
  }
  return result;
}

/// Shares of the points of a line between two ways.
void add_shares(std::vector<double>& shares, const AlongLine& line, double from, double to) {
  if (!(to > from)) return;
  for (const double turn : {0.0, line.length()})
    for (const double way : line.ways())
      if (way + turn > from && way + turn < to) shares.push_back((way + turn - from) / (to - from));
}

struct MatchedWays {
  double from = 0, to = 0;
};

Vec2 around(const AlongLine& line, double way) {
  return line.at(way > line.length() ? way - line.length() : way);
}

/// The way on `to` at which rails from equal shares are shortest, by the sum of their squares.
double best_turn(const AlongLine& from, const AlongLine& to) {
  constexpr int kRails = 240, kTurns = 480;
  const auto sum = [&](double turn) {
    double squares = 0;
    for (int i = 0; i < kRails; ++i) {
      const double share = static_cast<double>(i) / kRails;
      const Vec2 rail =
          around(to, std::fmod(turn + share * to.length(), to.length())) - from.at(share * from.length());
      squares += rail.squaredNorm();
    }
    return squares;
  };
  double best = 0, least = sum(0);
  double step = to.length() / kTurns;
  const auto look = [&](double turn) {
    turn = std::fmod(turn + to.length(), to.length());
    if (const double squares = sum(turn); squares < least) least = squares, best = turn;
  };
  for (int i = 1; i < kTurns; ++i) look(i * step);
  for (; step > 1e-4 * to.length() / kTurns; step *= 0.5) {
    const double middle = best;
    look(middle - step), look(middle + step);
  }
  return best;
}

/// Where both curves belong together, in order; the last is once around, or the end.
std::vector<MatchedWays> matched_ways(const AlongLine& from, const AlongLine& to, bool closed,
                                      std::span<const MatchedPlaces> matched) {
  std::vector<MatchedWays> ways;
  for (const MatchedPlaces& match : matched) ways.push_back({from.nearest(match.from), to.nearest(match.to)});
  std::sort(ways.begin(), ways.end(),
            [](const MatchedWays& a, const MatchedWays& b) { return a.from < b.from; });
  if (!closed) {
    ways.insert(ways.begin(), {0, 0});
    ways.push_back({from.length(), to.length()});
    const auto is_end = [&](const MatchedWays& a, const MatchedWays& b) {
      return std::abs(a.from - b.from) < kSame && std::abs(a.to - b.to) < kSame;
    };
    ways.erase(std::unique(ways.begin(), ways.end(), is_end), ways.end());
  } else {
    if (ways.empty()) ways.push_back({0, best_turn(from, to)});
    for (std::size_t i = 1; i < ways.size(); ++i)
      if (ways[i].to < ways[0].to) ways[i].to += to.length();
    ways.push_back({ways[0].from + from.length(), ways[0].to + to.length()});
  }
  for (std::size_t i = 1; i < ways.size(); ++i)
    if (!(ways[i].from > ways[i - 1].from + kSame) || !(ways[i].to > ways[i - 1].to + kSame))
      throw Error("matched places come in another order on one curve than on the other");
  return ways;
}

/// Whether `to` runs against `from`.
bool runs_against(const Polyline2& from, const Polyline2& to, bool closed) {
  if (closed) return (signed_area(from) > 0) != (signed_area(to) > 0);
  return (from.front() - to.front()).norm() + (from.back() - to.back()).norm() >
         (from.front() - to.back()).norm() + (from.back() - to.front()).norm();
}

}  // namespace

Rails straight_rails(const Polyline2& from, const Polyline2& to, bool closed, double longest_mm,
                     std::span<const MatchedPlaces> matched) {
  require(longest_mm > 0, "longest_mm", "must be above 0");
  Polyline2 other = to;
  if (from.size() < 2 || to.size() < 2) throw Error("a curve has no length");
  if (runs_against(from, to, closed)) std::reverse(other.begin(), other.end());
  const AlongLine a(from, closed), b(std::move(other), closed);
  if (!(a.length() > 0) || !(b.length() > 0)) throw Error("a curve has no length");
  const std::vector<MatchedWays> ways = matched_ways(a, b, closed, matched);
  Rails rails;
  rails.closed = closed;
  for (std::size_t i = 1; i < ways.size(); ++i) {
    const MatchedWays &start = ways[i - 1], &end = ways[i];
    std::vector<double> shares;
    add_shares(shares, a, start.from, end.from);
    add_shares(shares, b, start.to, end.to);
    const double size = std::max(end.from - start.from, end.to - start.to);
    for (const double share : filled(std::move(shares), size, longest_mm)) {
      if (share == 0 && i > 1) continue;  // the end of the stretch before
      rails.lines.push_back({around(a, start.from + share * (end.from - start.from)),
                             around(b, start.to + share * (end.to - start.to))});
    }
  }
  if (closed) rails.lines.pop_back();  // the first again
  return rails;
}

Rails patch_rails(const PatchSides& sides, double longest_mm) {
  require(longest_mm > 0, "longest_mm", "must be above 0");
  const AlongLine first(sides.first, false), last(sides.last, false), start(sides.start, false),
      end(sides.end, false);
  const auto shares = [](const AlongLine& a, const AlongLine& b, double longest) {
    std::vector<double> all;
    add_shares(all, a, 0, a.length());
    add_shares(all, b, 0, b.length());
    return filled(std::move(all), std::max(a.length(), b.length()), longest);
  };
  const auto at = [](const AlongLine& line, double share) { return line.at(share * line.length()); };
  const std::vector<double> across = shares(first, last, longest_mm), along = shares(start, end, 1e9);
  const Vec2 corners[] = {first.points().front(), first.points().back(), last.points().front(),
                          last.points().back()};
  Rails rails;
  for (const double u : across) {
    const Vec2 low = at(first, u), high = at(last, u);
    Polyline2 line;
    for (const double v : along)
      line.emplace_back((1 - v) * low + v * high + (1 - u) * at(start, v) + u * at(end, v) -
                        ((1 - u) * (1 - v) * corners[0] + u * (1 - v) * corners[1] +
                         (1 - u) * v * corners[2] + u * v * corners[3]));
    rails.lines.push_back(std::move(line));
  }
  return rails;
}

namespace {

struct CornerTurns {
  double sum = 0, least = 0, size = 0;  // mm2
};

/// Of a cell between two rails, from their points i to the next; `sign`: how they are to turn.
CornerTurns corner_turns(const Polyline2& a, const Polyline2& b, std::size_t i, double sign) {
  CornerTurns turns{0, std::numeric_limits<double>::infinity(), 0};
  const Vec2 along[] = {b[i] - a[i], b[i + 1] - a[i + 1]}, across[] = {a[i + 1] - a[i], b[i + 1] - b[i]};
  for (const Vec2& u : along)
    for (const Vec2& v : across) {
      const double turn = sign * (u.x() * v.y() - u.y() * v.x());
      turns.sum += turn;
      turns.least = std::min(turns.least, turn);
      turns.size = std::max(turns.size, u.norm() * v.norm());
    }
  return turns;
}

}  // namespace

RailFolds folds_of(const Rails& rails) {
  RailFolds folds;
  const std::size_t n = rails.lines.size(), pairs = rails.closed ? n : n - 1;
  const auto next = [&](std::size_t j) -> const Polyline2& { return rails.lines[(j + 1) % n]; };
  double whole = 0, worst = 0;
  for (std::size_t j = 0; j < pairs; ++j)
    for (std::size_t i = 0; i + 1 < rails.lines[j].size(); ++i)
      whole += corner_turns(rails.lines[j], next(j), i, 1).sum;
  for (std::size_t j = 0; j < pairs; ++j)
    for (std::size_t i = 0; i + 1 < rails.lines[j].size(); ++i) {
      const Polyline2 &a = rails.lines[j], &b = next(j);
      const CornerTurns turns = corner_turns(a, b, i, whole < 0 ? -1 : 1);
      ++folds.cells;
      if (turns.least > -(1e-9 * turns.size + 1e-12)) continue;
      ++folds.folded;
      if (turns.least < worst) worst = turns.least, folds.at = 0.25 * (a[i] + a[i + 1] + b[i] + b[i + 1]);
    }
  return folds;
}

}  // namespace yardpass
