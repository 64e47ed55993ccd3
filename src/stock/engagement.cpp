#include "yardpass/stock/engagement.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <numbers>
#include <numeric>

namespace yardpass {

namespace {

constexpr std::size_t kDirections = 180;
constexpr double kStep = 0.03, kSkin = 0.01;  // of the radius
constexpr double kLate = 0.12;                // of the radius; and at least so many cells:
constexpr double kLateCells = 3;
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

/// `at` in cells from the corner of the stock.
bool EngagementMeter::stands(const Vec2& at, double z) const {
  if (!(at.x() >= 0 && at.y() >= 0 && at.x() < stock_.columns() && at.y() < stock_.rows())) return false;
  return stock_.height(static_cast<int>(at.x()), static_cast<int>(at.y())) > z;
}

double EngagementMeter::angle_at(const Vec3& tip, const Vec2& heading) {
  const double cell = stock_.cell_mm();
  // Half a cell more, for the places of a ring lie anywhere in their cells.
  const Vec2 reach = Vec2::Constant(radius_ + cell);
  const Stock::CellRange under = stock_.cells_between(plan(tip) - reach, plan(tip) + reach);
  double top = tops_.highest(stock_, under, false);
  bool exact = false;
  const Vec2 at = (plan(tip) - plan(stock_.block().min())) / cell;
  for (const Ring& ring : rings_) {
    const double threshold = tip.z() + std::min(ring.outer_height, ring.inner_height);
    if (top <= threshold) continue;
    const double outer = ring.outer / cell, inner = ring.inner / cell;
    std::array<double, kDirections> met{};
    for (std::size_t k = blind_; k + blind_ < kDirections; ++k) {
      const Vec2& direction = leading_half()[k];
      const Vec2 out(heading.x() * direction.x() - heading.y() * direction.y(),
                     heading.y() * direction.x() + heading.x() * direction.y());
      met[k] = 0.5 * stands(at + outer * out, tip.z() + ring.outer_height) +
               0.5 * stands(at + inner * out, tip.z() + ring.inner_height);
    }
    double sum = std::accumulate(met.begin(), met.end(), 0.0);
    if (sum * 180 / kDirections < kLeast) {
      // The bound was too high by what has been cleared since.
      if (!exact) top = tops_.highest(stock_, under, true), exact = true;
      continue;
    }
    // Beside the cutter what goes late is too thin to be seen: it is as what comes next to it.
    for (const std::size_t edge : {blind_, kDirections - 1 - blind_}) {
      const std::size_t next = edge == blind_ ? edge + 1 : edge - 1;
      sum += static_cast<double>(blind_) * 0.5 * (met[edge] + met[next]);
    }
    return std::min(sum * 180 / kDirections, 180.0);
  }
  return 0;
}

/// Takes away what stands under the cutter: all of it, or what lies ahead of its middle less `slack`.
bool EngagementMeter::clear(const Vec3& tip, const Vec2& heading, double slack) {
  const double cell = stock_.cell_mm();
  const Vec2 at = plan(tip);
  const auto range = stock_.cells_between(at - Vec2::Constant(radius_), at + Vec2::Constant(radius_));
  // What lay under the flat of the cutter a step ago is cleared already.
  const double inner = slack < radius_ ? flat_ - 2 * step_ - cell : -1;
  bool taken = false;
  const auto heights = stock_.heights();
  for (int row = range.first_row; row < range.last_row; ++row) {
    const double y = stock_.centre(0, row).y() - at.y();
    const double half = std::sqrt(std::max(0.0, radius_ * radius_ - y * y));
    for (int column = std::max(range.first_column,
                               static_cast<int>((at.x() - half - stock_.block().min().x()) / cell));
         column < range.last_column; ++column) {
      const double x = stock_.centre(column, row).x() - at.x();
      if (x > half) break;
      const double square = x * x + y * y;
      if (square > radius_ * radius_ || x * heading.x() + y * heading.y() < -slack) continue;
      if (inner > 0 && square < inner * inner) continue;
      double& height = heights[stock_.index(column, row)];
      const double low = tip.z() + (square <= flat_ * flat_ ? 0 : height_at(square));
      if (height > low) {
        taken |= height > low + 1e-6;
        height = low;
        tops_.lowered(column, row);
      }
    }
  }
  return taken;
}

void EngagementMeter::go(const Vec3& from, const Vec3& to,
                         const std::function<void(const EngagementStep&)>& visit) {
  const Vec3 way = to - from;
  const double across = plan(way).norm();
  const Vec2 heading = across > 1e-9 ? Vec2(plan(way) / across) : Vec2(0, 0);
  const int parts = std::max(1, static_cast<int>(std::ceil(way.norm() / step_)));
  // What it cut before a sharp corner does not stand in its new way.
  constexpr double kSharp = 0.7;  // cosine
  if (!behind_.empty() && behind_.back().heading.dot(heading) < kSharp) lift();
  if (behind_.empty()) behind_.push_back({from, heading, true});
  for (int k = 1; k <= parts; ++k) {
    EngagementStep step{from + way * ((k - 1.0) / parts), from + way * (static_cast<double>(k) / parts)};
    if (across > 0.1 * way.norm()) step.angle_deg = angle_at(step.to, heading);
    // Flat ends that stay at their height only meet what lies before their rim.
    const bool whole = std::abs(way.z()) > 1e-6 || across < 1e-9;
    behind_.push_back({step.to, heading, whole});
    while (behind_.size() > late_) {
      const Behind& last = behind_.front();
      taken_ = clear(last.tip, last.heading, last.whole ? 2 * radius_ : 2 * step_ + stock_.cell_mm());
      behind_.pop_front();
    }
    step.takes = taken_;
    visit(step);
  }
}

void EngagementMeter::lift() {
  for (const Behind& last : behind_) clear(last.tip, last.heading, 2 * radius_);
  behind_.clear();
  taken_ = false;
}

}  // namespace yardpass
