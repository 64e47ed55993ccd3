#include "yardpass/stock/engagement.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <numbers>

namespace yardpass {

namespace {

constexpr std::size_t kDirections = 180;
constexpr double kStep = 0.03, kSkin = 0.01;  // of the radius
constexpr double kLate = 0.12;                // of the radius; and at least so many cells:
constexpr double kLateCells = 3;
constexpr double kGentle = 0.3;  // radians; in sharper turns all goes that lies under the cutter
constexpr double kLevel = 1e-6;
constexpr double kLeast = 3;    // degrees: less is noise of the cells
constexpr int kHeights = 4096;  // places of the cutter in a table, evenly by the square of their distance

/// Unit vectors over the leading half, for a heading along X.
const std::array<Vec2, kDirections>& leading_half() {
  static const std::array<Vec2, kDirections> directions = [] {
    std::array<Vec2, kDirections> all;
    for (std::size_t k = 0; k < kDirections; ++k) {
      const double angle = std::numbers::pi * ((static_cast<double>(k) + 0.5) / kDirections - 0.5);
      all[k] = {std::cos(angle), std::sin(angle)};
    }
    return all;
  }();
  return directions;
}

}  // namespace

EngagementMeter::EngagementMeter(Stock stock, const Profile& cutter)
    : stock_(std::move(stock)),
      tops_(stock_),
      radius_(cutter.radius()),
      step_(std::max(kStep * radius_, 1e-3)),
      skin_(kSkin * radius_),
      late_(static_cast<std::size_t>(
          std::ceil(std::max(kLate * radius_, kLateCells * stock_.cell_mm()) / step_ - 1e-9))),
      flat_(cutter.radius_at_height(1e-6)),
      cutter_(cutter),
      heights_(kHeights + 2) {
  for (int k = 0; k <= kHeights; ++k)
    heights_[static_cast<std::size_t>(k)] =
        cutter.height(radius_ * std::sqrt(static_cast<double>(k) / kHeights));
  heights_.back() = heights_[kHeights];
  const double beside = std::min(1.0, stock_.cell_mm() / (static_cast<double>(late_) * step_));
  blind_ = static_cast<std::size_t>(std::ceil(kDirections * std::asin(beside) / std::numbers::pi));
  // Where the cutter is no longer flat, narrower rings too, a cell apart.
  const double cell = stock_.cell_mm(), least = std::max(cutter.radius_at_height(skin_), 0.2 * radius_);
  for (double ring = radius_; ring == radius_ || ring > least; ring -= cell) {
    Ring one{std::max(ring - 0.5 * cell, 0.75 * ring), std::max(ring - cell, 0.5 * ring), 0, 0};
    one.outer_height = cutter.height(one.outer) + skin_, one.inner_height = cutter.height(one.inner) + skin_;
    rings_.push_back(one);
  }
}

EngagementMeter::Tops::Tops(const Stock& stock)
    : columns_((stock.columns() + kSide - 1) / kSide),
      top_(static_cast<std::size_t>(columns_) * static_cast<std::size_t>((stock.rows() + kSide - 1) / kSide)),
      changed_(top_.size(), 0) {
  for (int row = 0; row < stock.rows(); row += kSide)
    for (int column = 0; column < stock.columns(); column += kSide) look(stock, column / kSide, row / kSide);
}

void EngagementMeter::Tops::look(const Stock& stock, int block_column, int block_row) {
  double top = -std::numeric_limits<double>::infinity();
  const int last_row = std::min((block_row + 1) * kSide, stock.rows()),
            last_column = std::min((block_column + 1) * kSide, stock.columns());
  for (int row = block_row * kSide; row < last_row; ++row)
    for (int column = block_column * kSide; column < last_column; ++column)
      top = std::max(top, stock.height(column, row));
  const std::size_t block = index(block_column * kSide, block_row * kSide);
  top_[block] = top;
  changed_[block] = 0;
}

double EngagementMeter::Tops::highest(const Stock& stock, const Stock::CellRange& range, bool exactly) {
  double top = -std::numeric_limits<double>::infinity();
  if (range.empty()) return top;
  for (int row = range.first_row / kSide; row <= (range.last_row - 1) / kSide; ++row)
    for (int column = range.first_column / kSide; column <= (range.last_column - 1) / kSide; ++column) {
      const std::size_t block = index(column * kSide, row * kSide);
      // Cells only fall, so what was highest once stays a bound.
      if (changed_[block] && exactly) look(stock, column, row);
      top = std::max(top, top_[block]);
    }
  return top;
}

/// Of the cutter, between two places of its table.
double EngagementMeter::height_at(double square) const {
  const double at = square * kHeights / (radius_ * radius_);
  const auto k = static_cast<std::size_t>(at);
  return heights_[k] + (at - static_cast<double>(k)) * (heights_[k + 1] - heights_[k]);
}

void EngagementMeter::turn_to(const Vec2& heading) {
  const auto& half = leading_half();
  ahead_.resize(kDirections);
  for (std::size_t k = 0; k < kDirections; ++k)
    ahead_[k] = {heading.x() * half[k].x() - heading.y() * half[k].y(),
                 heading.y() * half[k].x() + heading.x() * half[k].y()};
}

/// How many directions meet material at a ring; `at` in cells from the corner of the stock. `checked`: parts
/// of the ring may lie beside the stock.
template <bool checked>
double EngagementMeter::met_by(const Ring& ring, const Vec2& at, double z) const {
  const double outer = ring.outer / stock_.cell_mm(), inner = ring.inner / stock_.cell_mm();
  const double outer_z = z + ring.outer_height, inner_z = z + ring.inner_height;
  const int columns = stock_.columns(), rows = stock_.rows();
  const double* const heights = stock_.heights().data();
  const auto stands = [&](double x, double y, double threshold) {
    if constexpr (checked)
      if (!(x >= 0 && y >= 0 && x < columns && y < rows)) return 0;
    return static_cast<int>(
        heights[static_cast<std::ptrdiff_t>(y) * columns + static_cast<std::ptrdiff_t>(x)] > threshold);
  };
  const auto met = [&](std::size_t k) {
    const Vec2& out = ahead_[k];
    return stands(at.x() + outer * out.x(), at.y() + outer * out.y(), outer_z) +
           stands(at.x() + inner * out.x(), at.y() + inner * out.y(), inner_z);
  };
  const std::size_t first = blind_, last = kDirections - 1 - blind_;
  int sum = 0;  // halves of directions
  for (std::size_t k = first; k <= last; ++k) sum += met(k);
  if (0.5 * sum * 180 / kDirections < kLeast) return 0;
  // Beside the cutter what goes late is too thin to be seen: it is as what comes next to it.
  const double beside = 0.5 * (met(first) + met(first + 1) + met(last) + met(last - 1));
  return 0.5 * sum + static_cast<double>(blind_) * 0.5 * beside;
}

double EngagementMeter::angle_at(const Vec3& tip) {
  const double cell = stock_.cell_mm();
  // Half a cell more, for the places of a ring lie anywhere in their cells.
  const Vec2 reach = Vec2::Constant(radius_ + cell);
  const Stock::CellRange under = stock_.cells_between(plan(tip) - reach, plan(tip) + reach);
  double top = tops_.highest(stock_, under, false);
  bool exact = false;
  const Vec2 at = (plan(tip) - plan(stock_.block().min())) / cell;
  const double wide = radius_ / cell;
  const bool within = at.minCoeff() - wide > 0 && at.x() + wide < stock_.columns() - 1e-6 &&
                      at.y() + wide < stock_.rows() - 1e-6;
  for (const Ring& ring : rings_) {
    if (top <= tip.z() + std::min(ring.outer_height, ring.inner_height)) continue;
    const double met = within ? met_by<false>(ring, at, tip.z()) : met_by<true>(ring, at, tip.z());
    if (met > 0) return std::min(met * 180 / kDirections, 180.0);
    // The bound was too high by what has been cleared since.
    if (!exact) top = tops_.highest(stock_, under, true), exact = true;
  }
  return 0;
}

/// What has to go at a place so that the places of a way together take all of what the cutter sweeps: each
/// cell goes where the cutter is lowest over it, that is where its surface is as steep as the way.
EngagementMeter::Strip EngagementMeter::strip_of(const Behind& behind) const {
  const double everything = 2 * radius_, cell = stock_.cell_mm();
  if (!std::isfinite(behind.rise - behind.fall) || behind.turn > kGentle) return {-everything, everything};
  const double half = 0.5 * step_ + cell, back = half + radius_ * behind.turn;
  const double ahead = behind.rise < kLevel ? 0 : cutter_.radius_at_slope(behind.rise);
  const double after = behind.fall > -kLevel ? 0 : cutter_.radius_at_slope(-behind.fall);
  return {-after - back, ahead + half};
}

/// Takes away what stands under the cutter in a strip across its way.
bool EngagementMeter::clear(const Behind& behind, const Strip& strip) {
  const double cell = stock_.cell_mm();
  const Vec2 at = plan(behind.tip), heading = behind.heading;
  const auto range = stock_.cells_between(at - Vec2::Constant(radius_), at + Vec2::Constant(radius_));
  bool taken = false;
  const auto heights = stock_.heights();
  const double left = stock_.block().min().x(), near = 1e-9 * radius_;
  for (int row = range.first_row; row < range.last_row; ++row) {
    const double y = stock_.centre(0, row).y() - at.y();
    double high = std::sqrt(std::max(0.0, radius_ * radius_ - y * y)), low = -high;
    // Along the row the strip lies between two places.
    if (std::abs(heading.x()) > 1e-9) {
      const double a = (strip.from - y * heading.y()) / heading.x(),
                   b = (strip.to - y * heading.y()) / heading.x();
      low = std::max(low, std::min(a, b) - near), high = std::min(high, std::max(a, b) + near);
    } else if (y * heading.y() < strip.from || y * heading.y() > strip.to) {
      continue;
    }
    for (int column = std::max(range.first_column, static_cast<int>((at.x() + low - left) / cell));
         column < range.last_column; ++column) {
      const double x = stock_.centre(column, row).x() - at.x();
      if (x > high) break;
      const double square = x * x + y * y;
      if (square > radius_ * radius_ || x < low) continue;
      double& height = heights[stock_.index(column, row)];
      const double z = behind.tip.z() + (square <= flat_ * flat_ ? 0 : height_at(square));
      if (height > z) {
        taken |= height > z + 1e-6;
        height = z;
        tops_.lowered(column, row);
      }
    }
  }
  return taken;
}

void EngagementMeter::go(const Vec3& from, const Vec3& to,
                         const std::function<void(const EngagementStep&)>& visit) {
  constexpr double kUpright = std::numeric_limits<double>::infinity();
  const Vec3 way = to - from;
  const double across = plan(way).norm();
  const Vec2 heading = across > 1e-9 ? Vec2(plan(way) / across) : Vec2(0, 0);
  const double slope = across > 1e-9 ? way.z() / across : kUpright;
  const int parts = std::max(1, static_cast<int>(std::ceil(way.norm() / step_)));
  // What it cut before a sharp corner does not stand in its new way.
  constexpr double kSharp = 0.7;  // cosine
  if (!behind_.empty() && behind_.back().heading.dot(heading) < kSharp) lift();
  if (behind_.empty()) behind_.push_back({from, heading, -kUpright, kUpright, 0});
  const double cosine = behind_.back().heading.dot(heading);
  double turn = std::acos(std::clamp(cosine, -1.0, 1.0));
  // In a hollow of the way the lowest place is the corner itself.
  behind_.back().fall = std::min(behind_.back().fall, slope);
  behind_.back().rise = std::max(behind_.back().rise, slope);
  turn_to(heading);
  for (int k = 1; k <= parts; ++k) {
    EngagementStep step{from + way * ((k - 1.0) / parts), from + way * (static_cast<double>(k) / parts)};
    if (across > 0.1 * way.norm()) step.angle_deg = angle_at(step.to);
    behind_.push_back({step.to, heading, slope, slope, turn});
    turn = 0;
    while (behind_.size() > late_) {
      taken_ = clear(behind_.front(), strip_of(behind_.front()));
      behind_.pop_front();
    }
    step.takes = taken_ || step.angle_deg > 0;
    visit(step);
  }
}

void EngagementMeter::lift() {
  for (const Behind& last : behind_) clear(last, {-2 * radius_, 2 * radius_});
  behind_.clear();
  taken_ = false;
}

}  // namespace yardpass
