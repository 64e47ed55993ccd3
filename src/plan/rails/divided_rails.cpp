#include <algorithm>
#include <cmath>

#include "geom/parallel_for.h"
#include "yardpass/plan/rails.h"

namespace yardpass {

namespace {

constexpr double kApart = 0.4;      // of the stepover, between touches
constexpr double kMostGap = 1.012;  // of the stepover, between the passes half-way between two rails
constexpr double kUpright = 1e-4;   // mm in plan: a step of the surface within that is a wall
constexpr double kFirstApart = 2;   // mm between rails that are measured at first
constexpr double kNoMore = 0.02;    // mm between rails
constexpr int kMostRounds = 12;

struct Sample {
  double at = 0;
  Vec2 place{0, 0};
  double z = 0;
  Vec3 contact{0, 0, 0};
  bool touched = false;
};

Polyline2 half_way(const Polyline2& a, const Polyline2& b) {
  Polyline2 middle(a.size());
  for (std::size_t i = 0; i < a.size(); ++i) middle[i] = 0.5 * (a[i] + b[i]);
  return middle;
}

double widest_apart(const Polyline2& a, const Polyline2& b) {
  double widest = 0;
  for (std::size_t i = 0; i < a.size(); ++i) widest = std::max(widest, (a[i] - b[i]).norm());
  return widest;
}

}  // namespace

/// What measuring one rail finds beside its length.
struct DividedRails::Measured {
  std::int64_t touches = 0;
  double wall = 0;
  Vec3 wall_at{0, 0, 0};
};

double DividedRails::Rail::at_share(double share) const {
  const double way = share * length();
  const auto above = std::upper_bound(marks.begin(), marks.end(), way,
                                      [](double value, const Mark& mark) { return value < mark.way; });
  if (above == marks.end()) return marks.back().at;
  if (above == marks.begin()) return marks.front().at;
  const Mark &low = *(above - 1), &high = *above;
  return low.at + (high.at - low.at) * (way - low.way) / (high.way - low.way);
}

double DividedRails::Rail::way_at(double at) const {
  const auto above = std::upper_bound(marks.begin(), marks.end(), at,
                                      [](double value, const Mark& mark) { return value < mark.at; });
  if (above == marks.end()) return marks.back().way;
  if (above == marks.begin()) return 0;
  const Mark &low = *(above - 1), &high = *above;
  return low.way + (high.way - low.way) * (at - low.at) / (high.at - low.at);
}

Vec2 DividedRails::Rail::place(double at) const {
  const auto i = std::min(static_cast<std::size_t>(std::max(at, 0.0)), line.size() - 2);
  return line[i] + (at - static_cast<double>(i)) * (line[i + 1] - line[i]);
}

DividedRails::DividedRails(const TipSurface& surface, Rails rails, double stepover_mm,
                           const Progress& progress, RailMeasure measure)
    : stepover_(stepover_mm), closed_(rails.closed) {
  require(stepover_mm > 0, "stepover_mm", "must be above 0");
  require(rails.lines.size() > 1, "rails", "there must be two at least");
  const std::size_t points = rails.lines.front().size();
  for (Polyline2& line : rails.lines) {
    require(line.size() > 1 && line.size() == points, "rails",
            "must have two points at least, and all as many");
    rails_.push_back({std::move(line)});
  }
  for (std::size_t i = 1; i <= rails_.size(); ++i) {
    const Polyline2 &line = rails_[i % rails_.size()].line, &before = rails_[i - 1].line;
    const double step = 0.5 * ((line.front() - before.front()).norm() + (line.back() - before.back()).norm());
    if (i < rails_.size())
      rails_[i].across = rails_[i - 1].across + step;
    else
      around_ = rails_[i - 1].across + step;
  }
  measure_some(surface, part_of(progress, 0, 0.3));
  for (int round = 0; round < kMostRounds; ++round)
    if (!measure_between(surface,
                         part_of(progress, 1 - std::pow(0.7, round + 1), 1 - std::pow(0.7, round + 2))))
      break;
  if (measure == RailMeasure::ridges) lengthen_in_hollows();
  tell(surface);
}

void DividedRails::measure(const TipSurface& surface, Rail& rail, Measured& found) const {
  std::int32_t near = -1;
  const auto sample = [&](double at) {
    Sample one{at, rail.place(at)};
    ++found.touches;
    if (const auto touch = surface.touch(one.place, near))
      near = touch->triangle, one.z = touch->height, one.contact = touch->point, one.touched = true;
    return one;
  };
  const double apart = kApart * stepover_;
  const auto space = [](const Sample& a, const Sample& b) {
    const double rise = a.touched && b.touched ? b.z - a.z : 0;
    return std::hypot((b.place - a.place).norm(), rise);
  };
  Sample here = sample(0);
  rail.marks = {{}};
  std::vector<Sample> ahead;  // nearest last
  const auto go_on = [&](const Sample& to) {
    ahead.assign(1, to);
    while (!ahead.empty()) {
      const Sample next = ahead.back();
      const double plan = (next.place - here.place).norm();
      const bool rim = here.touched != next.touched, far = space(here, next) > apart;
      if ((rim || far) && plan > kUpright) {
        ahead.push_back(sample(0.5 * (here.at + next.at)));
        continue;
      }
      ahead.pop_back();
      const double rise = std::abs(next.z - here.z);
      if (far && !rim && rise > found.wall) found.wall = rise, found.wall_at = with_z(next.place, next.z);
      const Mark& last = rail.marks.back();
      rail.marks.push_back(
          {next.at, last.way + (far || rim ? plan : space(here, next)),
           last.contact + (far || rim || !here.touched ? plan : (next.contact - here.contact).norm())});
      here = next;
    }
  };
  for (std::size_t i = 0; i + 1 < rail.line.size(); ++i) {
    const double size = (rail.line[i + 1] - rail.line[i]).norm();
    const int pieces = std::max(1, static_cast<int>(std::ceil(size / apart)));
    for (int k = 1; k <= pieces; ++k) go_on(sample(static_cast<double>(i) + static_cast<double>(k) / pieces));
  }
}

bool DividedRails::even_between(const Rail& a, const Rail& middle, const Rail& b) const {
  const double wide = (b.across > a.across ? b.across : b.across + around_) - a.across,
               f = wide > 0 ? (middle.across - a.across) / wide : 0.5;
  double before = 0;
  for (std::int32_t k = 1; k <= steps_; ++k) {
    const double share = static_cast<double>(k) / steps_,
                 way = middle.way_at((1 - f) * a.at_share(share) + f * b.at_share(share));
    if (way - before > kMostGap * stepover_) return false;
    before = way;
  }
  return true;
}

void DividedRails::take(const std::vector<Measured>& found) {
  for (const Measured& one : found) {
    facts_.touches += one.touches;
    if (one.wall > facts_.highest_wall_mm) facts_.highest_wall_mm = one.wall, facts_.wall_at = one.wall_at;
  }
  count_steps();
}

void DividedRails::count_steps() {
  double longest = 0;
  for (const Rail& rail : rails_)
    if (rail.measured()) longest = std::max(longest, rail.length());
  // One rounding for all: a hair more than a whole number of stepovers is not another pass.
  steps_ = std::max(1, static_cast<std::int32_t>(std::ceil(longest / stepover_ - 1e-9)));
}

void DividedRails::measure_some(const TipSurface& surface, const Progress& progress) {
  std::vector<std::size_t> chosen{0};
  for (std::size_t i = 1; i < rails_.size(); ++i) {
    const bool last = !closed_ && i + 1 == rails_.size();
    const std::size_t next = std::min(i + 1, rails_.size() - 1);
    if (last || widest_apart(rails_[chosen.back()].line, rails_[next].line) > kFirstApart)
      chosen.push_back(i);
  }
  std::vector<Measured> found(chosen.size());
  detail::parallel_for(chosen.size(), progress,
                       [&](std::size_t k) { measure(surface, rails_[chosen[k]], found[k]); });
  even_.assign(rails_.size(), 0);
  if (!closed_) even_.back() = 1;
  take(found);
}

bool DividedRails::measure_between(const TipSurface& surface, const Progress& progress) {
  struct Pair {
    std::size_t from, to, middle = 0;  // `middle`: a rail that is there; 0: a new one
    Rail made = {};
    bool even = false;
  };
  std::vector<std::size_t> measured;
  for (std::size_t i = 0; i < rails_.size(); ++i)
    if (rails_[i].measured()) measured.push_back(i);
  std::vector<Pair> pairs;
  for (std::size_t k = 0; k < measured.size(); ++k) {
    const std::size_t from = measured[k], to = k + 1 < measured.size() ? measured[k + 1] : rails_.size();
    if (even_[from] || (to == rails_.size() && !closed_)) continue;
    const Rail &a = rails_[from], &b = rails_[to % rails_.size()];
    if (widest_apart(a.line, b.line) <= kNoMore) continue;
    Pair pair{from, to};
    const double half = 0.5 * (a.across + (to < rails_.size() ? b.across : around_));
    for (std::size_t i = from + 1; i < to; ++i)
      if (pair.middle == 0 || std::abs(rails_[i].across - half) < std::abs(rails_[pair.middle].across - half))
        pair.middle = i;
    if (pair.middle == 0) pair.made = {half_way(a.line, b.line), half, {}};
    pairs.push_back(std::move(pair));
  }
  if (pairs.empty()) return false;
  std::vector<Measured> found(pairs.size());
  detail::parallel_for(pairs.size(), progress, [&](std::size_t k) {
    Pair& pair = pairs[k];
    Rail& middle = pair.middle > 0 ? rails_[pair.middle] : pair.made;
    measure(surface, middle, found[k]);
    pair.even = even_between(rails_[pair.from], middle, rails_[pair.to % rails_.size()]);
  });
  std::vector<Rail> all;
  std::vector<char> even;
  std::size_t next = 0;
  for (std::size_t i = 0; i < rails_.size(); ++i) {
    const bool has_pair = next < pairs.size() && pairs[next].from == i;
    all.push_back(std::move(rails_[i]));
    even.push_back(has_pair ? (pairs[next].even ? 1 : 0) : even_[i]);
    if (!has_pair) continue;
    const Pair& pair = pairs[next++];
    if (pair.middle > 0)
      even_[pair.middle] = pair.even ? 1 : 0;
    else
      all.push_back(pair.made), even.push_back(pair.even ? 1 : 0);
  }
  rails_ = std::move(all), even_ = std::move(even);
  take(found);
  return true;
}

void DividedRails::tell(const TipSurface& surface) {
  double whole = 0, sum = 0;
  std::vector<std::pair<double, double>> gaps;  // and how wide
  std::vector<const Rail*> measured;
  for (const Rail& rail : rails_)
    if (rail.measured()) measured.push_back(&rail);
  const std::size_t n = measured.size();
  const auto middle = [](const Rail& rail) { return rail.place(rail.at_share(0.5)); };
  for (std::size_t i = 0; i < n; ++i) {
    const Rail& rail = *measured[i];
    if (rail.length() > facts_.longest_mm)
      facts_.longest_mm = rail.length(), facts_.longest_at = with_z(middle(rail), 0);
    const auto beside = [&](std::size_t other) { return (middle(rail) - middle(*measured[other])).norm(); };
    double wide = 0;
    if (closed_ || i + 1 < n) wide += 0.5 * beside((i + 1) % n);
    if (closed_ || i > 0) wide += 0.5 * beside((i + n - 1) % n);
    whole += wide, sum += wide * rail.length();
    gaps.emplace_back(rail.length() / steps_, wide);
  }
  if (const auto touch = surface.touch(plan(facts_.longest_at))) facts_.longest_at.z() = touch->height;
  std::sort(gaps.begin(), gaps.end());
  double passed = 0;
  for (const auto& [gap, wide] : gaps)
    if ((passed += wide) >= 0.5 * whole) {
      facts_.median_gap_mm = gap;
      break;
    }
  facts_.needed = whole > 0 ? sum / whole / (steps_ * stepover_) : 1;
}

template <typename Share, typename Visit>
void DividedRails::visit_places(const Share& share, const Visit& visit) const {
  const std::size_t n = rails_.size();
  std::size_t from = 0, to = 0;
  for (std::size_t i = 0; i < n; ++i) {
    const Rail& rail = rails_[i];
    const double along = share(rail.across);
    if (rail.measured()) {
      from = i;
      visit(rail.place(rail.at_share(along)));
      continue;
    }
    if (to <= i)
      for (to = i + 1; to < n && !rails_[to].measured();) ++to;
    const Rail &a = rails_[from], &b = rails_[to % n];
    const double wide = (to < n ? b.across : around_) - a.across,
                 f = wide > 0 ? (rail.across - a.across) / wide : 0;
    visit(rail.place((1 - f) * a.at_share(along) + f * b.at_share(along)));
  }
}

namespace {

void add_place(Polyline2& line, const Vec2& place) {
  if (line.empty() || (place - line.back()).norm() > 1e-9) line.push_back(place);
}

}  // namespace

Polyline2 DividedRails::pass(double share) const {
  Polyline2 line;
  visit_places([&](double) { return share; }, [&](const Vec2& place) { add_place(line, place); });
  if (closed_ && line.size() > 1 && (line.front() - line.back()).norm() <= 1e-9) line.pop_back();
  return line;
}

Polyline2 DividedRails::turn(double from_share, double to_share) const {
  require(closed_, "rails", "of a turn must be closed");
  Polyline2 line;
  visit_places([&](double across) { return from_share + across / around_ * (to_share - from_share); },
               [&](const Vec2& place) { add_place(line, place); });
  add_place(line, rails_.front().place(rails_.front().at_share(to_share)));
  return line;
}

}  // namespace yardpass
