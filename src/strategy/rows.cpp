#include "strategy/rows.h"

#include <algorithm>
#include <cmath>

#include "plan/within_tolerance.h"

namespace yardpass::detail {

namespace {

// Rows keep so far inside the outermost lines of the area: a row exactly on an edge would be neither in nor
// out.
constexpr double kInset = 1e-4;
// What the tolerance adds to both ends of a row where the area ends across it, in tolerances; much more: it
// ends along it.
constexpr double kSquareEnds = 20;

}  // namespace

Rows::Rows(const Region& area, double angle_deg, double tolerance_mm)
    : area_(area), frame_(frame_of(angle_deg)), slack_(loose_by(tolerance_mm)) {
  if (area.empty()) return;
  loose_ = offset(area, slack_);
  for (const auto& loop : area.loops) {
    for (const Vec2& p : loop) {
      low_ = std::min(low_, p.dot(frame_.across)), high_ = std::max(high_, p.dot(frame_.across));
      left_ = std::min(left_, p.dot(frame_.along)), right_ = std::max(right_, p.dot(frame_.along));
    }
  }
  low_ += kInset, high_ -= kInset;
}

Row Rows::at(double place) const {
  Row row{place};
  const Vec2 from = frame_.along * (left_ - 1) + frame_.across * place,
             to = frame_.along * (right_ + 1) + frame_.across * place;
  const double length = (to - from).norm();
  const std::vector<Interval> strict = inside(area_, from, to), around = inside(loose_, from, to);
  std::size_t k = 0;
  for (const Interval& outer : around) {
    std::vector<Interval> within;
    for (; k < strict.size() && strict[k].from < outer.to; ++k)
      if (strict[k].from >= outer.from) within.push_back(strict[k]);
    if (within.empty() || (within.back().to - within.front().from) * length < 10 * kInset) continue;
    const double beyond = (outer.to - within.back().to + within.front().from - outer.from) * length;
    row.whole = row.whole && within.size() == 1 && beyond < kSquareEnds * slack_;
    row.pieces.push_back({from + within.front().from * (to - from), from + within.back().to * (to - from)});
  }
  return row;
}

Row Rows::near(double place) const {
  constexpr int kTries = 4;
  Row row = at(place);
  for (int k = 1; k <= kTries && !row.whole; ++k)
    for (const double side : {1.0, -1.0}) {
      Row other = at(place + side * slack_ * k / kTries);
      if (!other.pieces.empty() && other.whole) return other;
    }
  return row;
}

double Rows::drawn_in(double from, double to, double step,
                      const std::function<Counts(const Row& row)>& counts) const {
  constexpr double kPrecision = 2e-4;
  constexpr int kTries = 4;
  const double way = to > from ? 1 : -1;
  double in = from, out = from;
  while (!counts(at(in)).something) {
    if (in == to) return to + way;  // nothing counts
    out = in;
    in = way > 0 ? std::min(in + step, to) : std::max(in - step, to);
  }
  while (std::abs(in - out) > kPrecision) {
    const double middle = 0.5 * (in + out);
    (counts(at(middle)).something ? in : out) = middle;
  }
  for (int k = 0; k <= kTries; ++k) {
    const double place = in + way * slack_ * k / kTries;
    const Counts found = counts(at(place));
    if (found.something && found.whole) return place;
  }
  return in;
}

void Rows::draw_in(double step, const std::function<Counts(const Row& row)>& counts) {
  if (!(high_ > low_)) return;
  const double low = drawn_in(low_, high_, step, counts), high = drawn_in(high_, low_, step, counts);
  low_ = low, high_ = high;
}

std::vector<double> Rows::spread(double stepover, bool on_border) const {
  std::vector<double> places;
  if (!(high_ >= low_)) return places;
  const double steps = std::max(1.0, std::ceil((high_ - low_) / stepover - 1e-9));
  const auto rows = static_cast<std::size_t>(steps) + (on_border ? 1 : 0);
  for (std::size_t row = 0; row < rows; ++row)
    places.push_back(low_ + (high_ - low_) * ((static_cast<double>(row) + (on_border ? 0 : 0.5)) / steps));
  return places;
}

}  // namespace yardpass::detail
