#include "yardpass/plan/four_sides.h"

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <numbers>
#include <optional>

#include "plan/rails/line_crossings.h"

namespace yardpass {

namespace {

using detail::AlongLine;
using detail::crossings;
using detail::CrossingWays;

constexpr double kSame = 1e-6;  // mm
constexpr const char* kRoles[] = {"first pass", "last pass", "start", "end"};

std::string at_words(const Vec2& p) {
  char text[64];
  std::snprintf(text, sizeof text, "X %.3f Y %.3f", p.x(), p.y());
  return text;
}

std::string called(const Curve& curve, const std::string& role) {
  return curve.name.empty() ? role : curve.name + " (" + role + ")";
}

class SideMaker {
 public:
  SideMaker(const NamedSides& sides, double reach) : reach_(reach) {
    pieces_ = {sides.first, sides.last, sides.start, sides.end};
    for (std::size_t i = 0; i < 4; ++i) pieces_[i].name = called(pieces_[i], kRoles[i]);
    for (const Curve& curve : sides.between) {
      pieces_.push_back(curve);
      pieces_.back().name = called(curve, "curve between");
    }
  }

  FourSides run() {
    for (const Curve& piece : pieces_) {
      if (piece.closed)
        fail(piece.name + " is closed; sides and curves between them are open", piece.points.front());
      if (!(length(piece) > kSame))
        fail(piece.name + " has no length", piece.points.empty() ? Vec3(0, 0, 0) : piece.points.front());
    }
    const ClosedLoop loop = close_loop({pieces_.begin(), pieces_.begin() + 4}, reach_);
    split(loop);
    FourSides result;
    result.junctions = loop.junctions;
    result.start = line_[2], result.end = line_[3];
    result.guides = guides();
    return result;
  }

 private:
  [[noreturn]] void fail(const std::string& what, const Vec3& at) const {
    throw LoopError(what, pieces_, {at});
  }
  [[noreturn]] void fail(const std::string& what, const Vec2& at) const {
    fail(what + ", at " + at_words(at), with_z(at, pieces_.front().points.front().z()));
  }

  /// The loop's stretches by side, each the way it is to run.
  void split(const ClosedLoop& loop) {
    const std::vector<Junction>& corners = loop.junctions;
    const AlongLine around(in_plan(loop.curve), true);
    std::array<double, 4> ways{};
    for (std::size_t k = 0; k < 4; ++k) ways[k] = around.nearest(plan(corners[k].at));
    std::array<std::size_t, 4> order{};
    for (std::size_t k = 0; k < 4; ++k) order[k] = corners[k].to;
    for (std::size_t k = 0; k < 4; ++k) {
      const double from = ways[k], to = ways[(k + 1) % 4];
      Polyline2 line = to > from ? around.between(from, to) : around.between(from, around.length());
      if (to <= from) {
        const Polyline2 rest = around.between(0, to);
        line.insert(line.end(), rest.begin() + 1, rest.end());
      }
      line_[order[k]] = std::move(line);
    }
    const auto place = static_cast<std::size_t>(std::find(order.begin(), order.end(), 0u) - order.begin());
    if (order[(place + 2) % 4] != 1)
      fail(pieces_[0].name + " and " + pieces_[1].name +
               " meet, but must lie opposite each other, with the start and the end between them",
           line_[0].back());
    // As the loop runs, the first pass leads from what comes before it to what comes after.
    if (order[(place + 1) % 4] == 3) {
      std::reverse(line_[1].begin(), line_[1].end());
      std::reverse(line_[2].begin(), line_[2].end());
    } else {
      std::reverse(line_[0].begin(), line_[0].end());
      std::reverse(line_[3].begin(), line_[3].end());
    }
  }

  struct Guide {
    Polyline2 line;
    double on_start = 0, on_end = 0;
    std::size_t piece = 0;
  };

  std::vector<Polyline2> guides() const {
    const AlongLine start(line_[2], false), end(line_[3], false);
    std::vector<Guide> all{{line_[0], 0, 0, 0}, {line_[1], start.length(), end.length(), 1}};
    for (std::size_t i = 4; i < pieces_.size(); ++i) all.push_back(between(i, start, end));
    std::sort(all.begin(), all.end(), [](const Guide& a, const Guide& b) { return a.on_start < b.on_start; });
    for (std::size_t i = 1; i < all.size(); ++i) {
      const auto crossed = crossings(AlongLine(all[i - 1].line, false), AlongLine(all[i].line, false));
      if (!crossed.empty() || all[i].on_end <= all[i - 1].on_end + kSame ||
          all[i].on_start <= all[i - 1].on_start + kSame)
        fail(pieces_[all[i - 1].piece].name + " and " + pieces_[all[i].piece].name + " cross or touch",
             crossed.empty() ? all[i].line.back()
                             : AlongLine(all[i - 1].line, false).at(crossed.front().on_a));
    }
    if (all.front().piece != 0 || all.back().piece != 1)
      fail("a curve between does not lie between the first and the last pass", all.front().line.front());
    std::vector<Polyline2> lines;
    for (Guide& guide : all) lines.push_back(std::move(guide.line));
    return lines;
  }

  /// A line run on straight at its ends.
  [[nodiscard]] Polyline2 longer(Polyline2 line) const {
    const auto on = [&](const Vec2& from, const Vec2& to) -> Vec2 {
      return to + (to - from).normalized() * reach_;
    };
    if (!(reach_ > 0)) return line;
    line.insert(line.begin(), on(line[1], line[0]));
    line.push_back(on(line[line.size() - 2], line.back()));
    return line;
  }

  [[nodiscard]] Guide between(std::size_t piece, const AlongLine& start, const AlongLine& end) const {
    const AlongLine whole(in_plan(pieces_[piece]), false);
    const auto meet = [&](const AlongLine& line) {
      return std::pair(crossings(line, start), crossings(line, end));
    };
    AlongLine line = whole;
    auto [at_start, at_end] = meet(line);
    if (at_start.empty() || at_end.empty()) {
      line = AlongLine(longer(whole.points()), false);
      std::tie(at_start, at_end) = meet(line);
    }
    const auto by_way = [](const CrossingWays& a, const CrossingWays& b) { return a.on_a < b.on_a; };
    if (at_start.empty() || at_end.empty()) {
      const bool no_start = at_start.empty();
      const AlongLine& side = no_start ? start : end;
      const auto far = [&](const Vec2& p) { return (side.at(side.nearest(p)) - p).norm(); };
      const Vec2 &a = whole.points().front(), &b = whole.points().back();
      char text[80];
      std::snprintf(text, sizeof text, " does not come to the %s: %.3f mm are missing, the reach is %.3f mm",
                    no_start ? "start" : "end", std::min(far(a), far(b)), reach_);
      fail(pieces_[piece].name + text, far(a) < far(b) ? a : b);
    }
    // The stretch between the last crossing of the one and the first of the other.
    std::sort(at_start.begin(), at_start.end(), by_way);
    std::sort(at_end.begin(), at_end.end(), by_way);
    if (at_start.front().on_a < at_end.front().on_a) {
      const CrossingWays &from = at_start.back(), &to = at_end.front();
      if (!(to.on_a > from.on_a))
        fail(pieces_[piece].name + " crosses the start behind the end", line.at(from.on_a));
      return {line.between(from.on_a, to.on_a), from.on_b, to.on_b, piece};
    }
    const CrossingWays &from = at_end.back(), &to = at_start.front();
    if (!(to.on_a > from.on_a))
      fail(pieces_[piece].name + " crosses the end behind the start", line.at(from.on_a));
    Polyline2 turned = line.between(from.on_a, to.on_a);
    std::reverse(turned.begin(), turned.end());
    return {std::move(turned), to.on_b, from.on_b, piece};
  }

  double reach_;
  std::vector<Curve> pieces_;
  std::array<Polyline2, 4> line_;
};

Curve curve_of(Polyline2 line) {
  Curve curve;
  for (const Vec2& p : line) curve.points.push_back(with_z(p, 0));
  return curve;
}

double turn_deg(const Vec2& before, const Vec2& after) {
  const double cross = before.x() * after.y() - before.y() * after.x();
  return std::abs(std::atan2(cross, before.dot(after))) * 180 / std::numbers::pi;
}

/// The turn of a line around a way, between chords of a size.
double turn_at(const AlongLine& line, bool closed, double way, double chord) {
  const double whole = line.length();
  const auto at = [&](double place) {
    if (closed) return line.at(std::fmod(std::fmod(place, whole) + whole, whole));
    return line.at(std::clamp(place, 0.0, whole));
  };
  if (!closed && (way < chord || way > whole - chord)) return 0;
  return turn_deg(at(way) - at(way - chord), at(way + chord) - at(way));
}

/// The sharpest places of stretches that turn by more, no two within `apart`.
std::vector<std::pair<double, double>> sharpest(const AlongLine& line, bool closed, double chord,
                                                double apart, double least_deg) {
  const double whole = line.length(), step = 0.25 * chord;
  std::vector<std::pair<double, double>> turns;  // turn, way
  for (double way = 0; way < whole; way += step) turns.emplace_back(turn_at(line, closed, way, chord), way);
  for (const double way : line.ways())
    if (way < whole) turns.emplace_back(turn_at(line, closed, way, chord), way);
  std::stable_sort(turns.begin(), turns.end(),
                   [](const auto& a, const auto& b) { return a.first > b.first; });
  std::vector<std::pair<double, double>> chosen;
  for (const auto& [turn, way] : turns) {
    if (turn < least_deg) break;
    const bool near = std::any_of(chosen.begin(), chosen.end(), [&, at = way](const auto& one) {
      const double off = std::abs(one.second - at);
      return std::min(off, closed ? whole - off : off) < apart;
    });
    if (!near) chosen.emplace_back(turn, way);
  }
  return chosen;
}

}  // namespace

FourSides bring_together(const NamedSides& sides, double reach_mm) {
  require(reach_mm >= 0, "reach_mm", "must not be negative");
  return SideMaker(sides, reach_mm).run();
}

std::vector<Rails> rails_of(const FourSides& sides, double longest_mm) {
  const AlongLine start(sides.start, false), end(sides.end, false);
  std::vector<Rails> rails;
  for (std::size_t i = 1; i < sides.guides.size(); ++i) {
    const Polyline2 &low = sides.guides[i - 1], &high = sides.guides[i];
    rails.push_back(
        patch_rails({low, high, start.between(start.nearest(low.front()), start.nearest(high.front())),
                     end.between(end.nearest(low.back()), end.nearest(high.back()))},
                    longest_mm));
  }
  return rails;
}

NamedSides sides_of(const Polyline2& loop, const std::array<Vec2, 4>& corners) {
  const AlongLine around(loop, true);
  std::array<double, 4> ways{};
  for (std::size_t k = 0; k < 4; ++k) ways[k] = around.nearest(corners[k]);
  std::sort(ways.begin(), ways.end());
  std::array<Polyline2, 4> sides;
  for (std::size_t k = 0; k < 4; ++k) {
    if (k < 3) {
      sides[k] = around.between(ways[k], ways[k + 1]);
      continue;
    }
    sides[k] = around.between(ways[3], around.length());
    const Polyline2 rest = around.between(0, ways[0]);
    sides[k].insert(sides[k].end(), rest.begin() + 1, rest.end());
  }
  const auto size = [&](std::size_t k) { return length(std::span<const Vec2>(sides[k])); };
  const std::size_t run = size(0) + size(2) >= size(1) + size(3) ? 0 : 1;
  const auto before = [](const Polyline2& a, const Polyline2& b, int axis) {
    const auto middle = [](const Polyline2& line) {
      const AlongLine along(line, false);
      return along.at(0.5 * along.length());
    };
    const Vec2 way = middle(b) - middle(a);
    const double main = way[axis], other = way[1 - axis];
    return std::abs(main) >= 0.1 * std::abs(other) ? main > 0 : other > 0;
  };
  std::size_t first = run, last = run + 2, start = run + 1, end = (run + 3) % 4;
  if (!before(sides[first], sides[last], 1)) std::swap(first, last);
  if (!before(sides[start], sides[end], 0)) std::swap(start, end);
  return {curve_of(sides[first]), curve_of(sides[last]), curve_of(sides[start]), curve_of(sides[end]), {}};
}

std::array<Vec2, 4> clearest_corners(const Polyline2& loop) {
  constexpr double kWindow = 1.0 / 30, kLeast = 35, kClear = 0.7;
  const AlongLine around(loop, true);
  if (loop.size() < 3 || !(around.length() > 0)) throw Error("the border has no length");
  const double chord = kWindow * around.length();
  const auto turns = sharpest(around, true, chord, 1.5 * chord, 5);
  if (turns.size() < 4 || turns[3].first < kLeast ||
      (turns.size() > 4 && turns[4].first > kClear * turns[3].first)) {
    std::string what = "the border has no four clear corners; it turns by";
    char text[48];
    for (std::size_t i = 0; i < std::min<std::size_t>(turns.size(), 5); ++i) {
      const Vec2 at = around.at(turns[i].second);
      std::snprintf(text, sizeof text, "%s %.0f degrees at ", i > 0 ? "," : "", turns[i].first);
      what += text + at_words(at);
    }
    if (turns.empty()) what += " less than 5 degrees everywhere";
    throw Error(what);
  }
  std::array<Vec2, 4> corners;
  for (std::size_t i = 0; i < 4; ++i) corners[i] = around.at(turns[i].second);
  return corners;
}

std::vector<Kink> kinks_of(const Polyline2& line, bool closed, double within_mm, double least_deg) {
  const AlongLine along(line, closed);
  std::vector<Kink> kinks;
  // An arc turns half as much on half of the way, a kink all the same.
  constexpr double kSharp = 0.75;
  for (const auto& [turn, way] : sharpest(along, closed, 0.5 * within_mm, 2 * within_mm, least_deg))
    if (turn_at(along, closed, way, 0.25 * within_mm) > kSharp * turn) kinks.push_back({along.at(way), turn});
  return kinks;
}

}  // namespace yardpass
