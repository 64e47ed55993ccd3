// The walk with bounded engagement in its plainest form: every heading tried from the sharpest on, sines and
// cosines worked out anew, all cells around the cutter lowered at each step.
#pragma once

#include <cmath>
#include <deque>
#include <numbers>

#include "yardpass/plan/bounded_walk.h"

namespace yardpass::bench {

class PlainWalk {
 public:
  PlainWalk(LevelRaster raster, double radius, double limit_deg)
      : raster_(std::move(raster)), radius_(radius), limit_(limit_deg * std::numbers::pi / 180) {}

  /// One pass with the material on the right; returns its steps.
  long pass(Vec2 at, double heading) {
    const double step = 0.05 * radius_, most = step / (0.3 * radius_), degree = std::numbers::pi / 180;
    std::deque<Vec2> behind{at};
    double idle = 0;
    long steps = 0;
    for (; steps < 10000000; ++steps) {
      double good = 99, bad = 99;
      for (int k = -6; k <= 6 && good == 99; ++k)
        (may(at, heading, most * k / 6) ? good : bad) = most * k / 6;
      for (int k = 1; k <= 24 && good == 99; ++k)
        (may(at, heading, most + k * 6 * degree) ? good : bad) = most + k * 6 * degree;
      if (good == 99) break;
      for (int k = 0; k < 4 && bad != 99; ++k) {
        const double middle = 0.5 * (good + bad);
        (may(at, heading, middle) ? good : bad) = middle;
      }
      heading += good;
      at += step * Vec2(std::cos(heading), std::sin(heading));
      idle = engaged(at, heading) > 1.5 * degree ? 0 : idle + step;
      behind.push_back(at);
      while (behind.size() > 5) clear(behind[0], behind[1]), behind.pop_front();
      if (idle > 2 * radius_) break;
    }
    while (behind.size() > 1) clear(behind[0], behind[1]), behind.pop_front();
    return steps;
  }
  void clear(const Vec2& a, const Vec2& b) {
    for (int row = 0; row < raster_.rows; ++row) {
      const double y = raster_.place(0, row).y();
      if (y < std::min(a.y(), b.y()) - 1.2 * radius_ || y > std::max(a.y(), b.y()) + 1.2 * radius_) continue;
      for (int column = 0; column < raster_.columns; ++column) {
        const Vec2 p = raster_.place(column, row);
        if (p.x() < std::min(a.x(), b.x()) - 1.2 * radius_) continue;
        if (p.x() > std::max(a.x(), b.x()) + 1.2 * radius_) break;
        const Vec2 way = b - a;
        const double t =
            way.squaredNorm() > 0 ? std::clamp((p - a).dot(way) / way.squaredNorm(), 0.0, 1.0) : 0;
        float& value = raster_.material[raster_.index(column, row)];
        value = std::min(value, static_cast<float>((p - a - t * way).norm() - radius_));
      }
    }
  }
  [[nodiscard]] double standing_mm2() const {
    double count = 0;
    for (const float value : raster_.material) count += value > 0.4 * raster_.cell_mm;
    return count * raster_.cell_mm * raster_.cell_mm;
  }

 private:
  [[nodiscard]] double sample(const std::vector<float>& field, const Vec2& p) const {
    const Vec2 at = (p - raster_.origin) / raster_.cell_mm;
    const int i = std::clamp(static_cast<int>(at.x()), 0, raster_.columns - 2),
              j = std::clamp(static_cast<int>(at.y()), 0, raster_.rows - 2);
    const double fx = at.x() - i, fy = at.y() - j;
    const auto value = [&](int x, int y) { return static_cast<double>(field[raster_.index(x, y)]); };
    return (1 - fy) * ((1 - fx) * value(i, j) + fx * value(i + 1, j)) +
           fy * ((1 - fx) * value(i, j + 1) + fx * value(i + 1, j + 1));
  }
  [[nodiscard]] double engaged(const Vec2& p, double heading) const {
    double sum = 0, before = 0;
    for (int k = 0; k <= 90; ++k) {
      const double angle = heading + std::numbers::pi * (k / 90.0 - 0.5);
      const double d = sample(raster_.material, p + radius_ * Vec2(std::cos(angle), std::sin(angle))) -
                       0.1 * raster_.cell_mm;
      if (k > 0 && (d > 0 || before > 0))
        sum += d > 0 && before > 0 ? 1 : std::max(d, before) / std::abs(d - before);
      before = d;
    }
    return sum * std::numbers::pi / 90;
  }
  [[nodiscard]] bool may(const Vec2& at, double heading, double turn) const {
    const Vec2 to = at + 0.05 * radius_ * Vec2(std::cos(heading + turn), std::sin(heading + turn));
    return sample(raster_.blocked, to) <= 0 && engaged(to, heading + turn) <= limit_;
  }

  LevelRaster raster_;
  double radius_, limit_;
};

}  // namespace yardpass::bench
