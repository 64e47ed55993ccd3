#include "plan/walk/walker.h"

#include <algorithm>
#include <cmath>
#include <deque>
#include <numbers>

#include "plan/distance_map.h"
#include "yardpass/geom/polyline.h"

namespace yardpass::detail {

namespace {

constexpr double kDegree = std::numbers::pi / 180;
constexpr double kMeets = 1.5 * kDegree;    // less is nothing
constexpr double kCuts = 3 * kDegree;       // less is a skin that a link may take
constexpr double kIdle = 0.02;              // of what a step along a straight wall takes: a link may take it
constexpr double kGivesUp = 270 * kDegree;  // of turns towards where nothing is
constexpr int kTurns = 12;                  // tried between the sharpest ones
constexpr int kBisections = 4;

Vec2 direction(double heading) { return {std::cos(heading), std::sin(heading)}; }

}  // namespace

Walker::Walker(Front& front, const BoundedWalkOptions& options, const RoundOptions& round,
               const WaysDown& down, BoundedWalk& result)
    : front_(front),
      options_(options),
      round_(round),
      down_(down),
      result_(result),
      nodes_(front, round.node_mm),
      limit_(options.engagement_deg * kDegree),
      hand_(options.hand == MaterialHand::left ? -1 : 1),
      most_turn_(round.step_mm / round.least_turn_mm) {}

Vec2 Walker::run(const Vec2& from) {
  at_ = from;
  // Every pass wears a node, every way down takes one.
  for (std::size_t guard = 0; guard < 4 * nodes_.size() + 4; ++guard) {
    const int by_ground = is_down_ ? nodes_.nearest_front(at_) : -1;
    const int node = by_ground >= 0 ? by_ground : nodes_.front_by_air(at_);
    if (node >= 0)
      pass_from(node);
    else if (!come_down())
      break;
  }
  return at_;
}

/// A pass from a node at the front, or from where the front ends; with the way there.
void Walker::pass_from(int node) {
  int start = node;
  if (options_.hand == MaterialHand::either)
    hand_ = -hand_;
  else if (const int end = nodes_.back_along_front(node, options_.hand); !nodes_.worn(end))
    start = end;
  const std::optional<Vec2> towards = nodes_.towards_uncleared(start);
  if (!towards) {
    nodes_.tries(start) = Nodes::kMostTries;
    ++nodes_.tries(node);
    return;
  }
  auto way = is_down_ ? nodes_.way(at_, start) : std::nullopt;
  // From the air it comes down only where nothing stands, not even what is left on purpose.
  if (!way && !front_.cleared(nodes_.place(start), true)) {
    nodes_.tries(start) = Nodes::kMostTries;
    ++nodes_.tries(node);
    return;
  }
  if (way) add_link(std::move(*way));
  at_ = nodes_.place(start);
  is_down_ = true;
  // Along the front first, else straight at it, else the other way.
  const double along[] = {0.5 * std::numbers::pi, 0, std::numbers::pi};
  const double heading = std::atan2(towards->y(), towards->x()) + hand_ * along[nodes_.tries(start)];
  ++nodes_.tries(start);
  if (start != node) ++nodes_.tries(node);
  std::vector<Step> steps;
  Box2 passed(at_);
  const Vec2 first = at_;
  walk(first, heading, steps, passed);
  add_pass(first, std::move(steps));
  nodes_.update(passed);
}

void Walker::add_link(Polyline2 points) {
  if (points.size() < 2 || length(std::span<const Vec2>(points)) < 1e-9) return;
  at_ = points.back();
  result_.pieces.push_back({WalkPiece::Kind::link, std::move(points)});
}

std::optional<double> Walker::passable(const Vec2& at, double heading, double turn) const {
  const Vec2 ahead = direction(heading + hand_ * turn), to = at + round_.step_mm * ahead;
  if (front_.blocked(to)) return std::nullopt;
  const double engaged = front_.engaged(to, ahead);
  return engaged <= limit_ ? std::optional(engaged) : std::nullopt;
}

/// Turns change little from step to step, so they are looked for around the last one; only the sharpest one
/// towards the material is always tried, for that is where material may have come to an end.
std::optional<Walker::Turn> Walker::next_turn(const Vec2& at, double heading, double last) const {
  const double grain = 2 * most_turn_ / kTurns;
  double good = -most_turn_;
  std::optional<double> engaged = passable(at, heading, good);
  if (engaged) return Turn{good, *engaged};
  double bad = good;
  good = std::clamp(last, -most_turn_ + grain, most_turn_);
  engaged = passable(at, heading, good);
  if (engaged) {
    while (good - grain > bad + 1e-12) {
      const auto nearer = passable(at, heading, good - grain);
      if (!nearer) {
        bad = good - grain;
        break;
      }
      good -= grain, engaged = nearer;
    }
  } else {
    constexpr double kCoarse = 6 * kDegree, kMost = 150 * kDegree;
    while (!engaged && good < kMost) {
      bad = good;
      good = good < most_turn_ - 1e-12 ? std::min(good + grain, most_turn_) : good + kCoarse;
      engaged = passable(at, heading, good);
    }
    if (!engaged) return std::nullopt;
  }
  for (int k = 0; k < kBisections; ++k) {
    const double middle = 0.5 * (good + bad);
    const auto there = passable(at, heading, middle);
    if (there)
      good = middle, engaged = there;
    else
      bad = middle;
  }
  return Turn{good, *engaged};
}

Vec2 Walker::walk(const Vec2& start, double heading, std::vector<Step>& steps, Box2& passed) {
  const double radius = front_.radius(), step = round_.step_mm;
  // Material goes late, else the arc beside the tool is as thin as a step's turn and is not seen.
  const double late = std::clamp(1.5 * round_.least_turn_mm, 0.15 * radius, 0.2 * radius);
  const auto held = static_cast<std::size_t>(late / step) + 1;
  std::deque<Vec2> behind{start};
  front_.clear_at(start);
  std::size_t cleared = 0;
  double useless = 0;  // way on which nothing went that is to be cut
  const auto clear_next = [&] {
    const Front::Taken taken = front_.clear(behind[0], behind[1], false);
    steps[cleared++].taken_mm2 = taken.all_mm2;
    useless = taken.wanted_mm2 > 0 ? 0 : useless + step;
    behind.pop_front();
  };
  double idle = 0, turned = 0, last = 0;
  Vec2 at = start;
  // No pass is longer than this: every step that cuts clears some of the area.
  const LevelRaster& raster = front_.raster();
  const double area = static_cast<double>(raster.material.size()) * raster.cell_mm * raster.cell_mm;
  const auto most = static_cast<std::size_t>(100 * area / (step * radius)) + 1000;
  while (steps.size() < most && useless < 3 * radius) {
    const std::optional<Turn> turn = next_turn(at, heading, last);
    if (!turn) break;
    last = turn->turn;
    heading += hand_ * turn->turn;
    at += step * direction(heading);
    steps.push_back({at, turn->engaged});
    passed.extend(at);
    behind.push_back(at);
    while (behind.size() > held + 1) clear_next();
    if (turn->engaged > kMeets) {
      idle = turned = 0;
    } else {
      idle += step, turned += std::max(0.0, -turn->turn);
      if (turned > kGivesUp || idle > 2 * radius) break;
    }
  }
  while (behind.size() > 1) clear_next();
  result_.steps += static_cast<std::int64_t>(steps.size());
  return at;
}

/// Steps around which next to nothing is taken away.
std::vector<bool> Walker::idle_steps(const std::vector<Step>& steps) const {
  constexpr std::size_t kReach = 2;
  const double stepover = front_.radius() * (1 - std::cos(limit_));
  std::vector<double> taken{0};
  for (const Step& step : steps) taken.push_back(taken.back() + step.taken_mm2);
  std::vector<bool> idle(steps.size());
  for (std::size_t k = 0; k < steps.size(); ++k) {
    const std::size_t first = k > kReach ? k - kReach : 0, last = std::min(steps.size(), k + kReach + 1);
    idle[k] =
        steps[k].engaged < kCuts ||
        taken[last] - taken[first] < kIdle * static_cast<double>(last - first) * round_.step_mm * stepover;
  }
  return idle;
}

/// Idle ends are left out; idle beginnings and long idle stretches are links.
void Walker::add_pass(const Vec2& start, std::vector<Step> steps) {
  std::vector<bool> idle = idle_steps(steps);
  while (!steps.empty() && idle.back()) steps.pop_back(), idle.pop_back();
  if (steps.empty()) {
    at_ = start;
    return;
  }
  const auto least = static_cast<std::size_t>(0.5 * front_.radius() / round_.step_mm);
  std::vector<WalkPiece> pieces{{WalkPiece::Kind::cut, {start}}};
  for (std::size_t k = 0; k < steps.size();) {
    std::size_t end = k;
    while (end < steps.size() && idle[end] == idle[k]) ++end;
    const auto kind = idle[k] && (k == 0 || end - k > least) ? WalkPiece::Kind::link : WalkPiece::Kind::cut;
    if (pieces.back().kind != kind) {
      const Vec2 from = pieces.back().points.back();
      if (pieces.back().points.size() < 2) pieces.pop_back();
      pieces.push_back({kind, {from}});
    }
    for (; k < end; ++k) pieces.back().points.push_back(steps[k].to);
  }
  at_ = pieces.back().points.back();
  for (WalkPiece& piece : pieces) result_.pieces.push_back(std::move(piece));
}

/// Where nothing that is cleared leads to: at the place with most room.
bool Walker::come_down() {
  if (room_.empty()) {
    const LevelRaster& raster = front_.raster();
    Mask blocked(raster.blocked.size());
    for (std::size_t i = 0; i < blocked.size(); ++i) blocked[i] = raster.blocked[i] > 0;
    const std::vector<float> far = squared_distances(raster.columns, raster.rows, blocked, false);
    room_.assign(nodes_.size(), 0);
    for (int node = 0; node < static_cast<int>(nodes_.size()); ++node) {
      if (nodes_.state(node) != Nodes::State::uncleared) continue;
      const Vec2 cell = (nodes_.place(node) - raster.origin) / raster.cell_mm;
      room_[static_cast<std::size_t>(node)] = static_cast<float>(
          raster.cell_mm *
          std::sqrt(static_cast<double>(far[raster.index(static_cast<int>(std::lround(cell.x())),
                                                         static_cast<int>(std::lround(cell.y())))])));
    }
  }
  int best = -1;
  for (int node = 0; node < static_cast<int>(nodes_.size()); ++node)
    if (nodes_.state(node) == Nodes::State::uncleared && !nodes_.worn(node) &&
        (best < 0 || room_[static_cast<std::size_t>(node)] > room_[static_cast<std::size_t>(best)]))
      best = node;
  if (best < 0) return false;
  const double room = static_cast<double>(room_[static_cast<std::size_t>(best)]) + front_.raster().cell_mm;
  nodes_.tries(best) = Nodes::kMostTries;
  if (!down_.only_ramps && by_helix(best, room)) return true;
  const bool may_ramp = down_.only_ramps || round_.last;
  if (may_ramp && by_ramp(best)) return true;
  if (may_ramp || room < round_.least_turn_mm) give_up_around(best);
  return true;
}

bool Walker::by_helix(int node, double room) {
  if (room < round_.least_turn_mm || !down_.helix) return false;
  const std::optional<Helix> helix = down_.helix(nodes_.place(node), room, round_.least_turn_mm);
  if (!helix) return false;
  constexpr int kChords = 36;
  const double hand = helix->clockwise ? -1 : 1;
  const auto at = [&](int k) {
    return Vec2(helix->centre + helix->radius_mm * direction(hand * 2 * std::numbers::pi * k / kChords));
  };
  for (int k = 0; k < kChords; ++k) front_.clear(at(k), at(k + 1), true);
  WalkPiece piece{WalkPiece::Kind::helix, {at(0)}};
  piece.helix = *helix;
  result_.pieces.push_back(std::move(piece));
  at_ = at(0), is_down_ = true;
  nodes_.update({helix->centre.array() - helix->radius_mm, helix->centre.array() + helix->radius_mm});
  return true;
}

/// Along the longest line through a node, in one of a few directions.
bool Walker::by_ramp(int node) {
  if (!down_.ramp) return false;
  constexpr int kDirections = 16;
  const Vec2 middle = nodes_.place(node);
  const double grain = front_.raster().cell_mm, most = 4 * front_.radius();
  Vec2 from = middle, to = middle;
  for (int k = 0; k < kDirections; ++k) {
    const Vec2 ahead = direction(std::numbers::pi * k / kDirections);
    double ends[2];
    for (const int side : {0, 1}) {
      double& far = ends[side];
      for (far = 0; far < most && !front_.blocked(middle + (side == 0 ? -1 : 1) * (far + grain) * ahead);)
        far += grain;
    }
    if (ends[0] + ends[1] > (to - from).norm() + 1e-9)
      from = middle - ends[0] * ahead, to = middle + ends[1] * ahead;
  }
  if (from == to || !down_.ramp(from, to)) return false;
  front_.clear(from, to, true);
  result_.pieces.push_back({WalkPiece::Kind::ramp, {from, to}});
  at_ = to, is_down_ = true;
  Box2 passed(from);
  passed.extend(to);
  nodes_.update(passed);
  return true;
}

void Walker::give_up_around(int node) {
  for (const int one : nodes_.uncleared_around(node)) nodes_.tries(one) = Nodes::kMostTries;
}

}  // namespace yardpass::detail
