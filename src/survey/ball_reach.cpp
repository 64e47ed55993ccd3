#include "yardpass/survey/ball_reach.h"

#include <cmath>

namespace yardpass {

namespace {

/// Looks for a free centre at most radius + tolerance away from a place. What is free stays free further up,
/// so it is enough to look at exactly that distance: directions from the place, near its normal.
class CentreSearch {
 public:
  CentreSearch(const TipSurface& ball, const Vec3& place, const Vec3& normal, std::int32_t triangle,
               double tolerance)
      : ball_(ball),
        place_(place),
        normal_(normal),
        across_(normal.unitOrthogonal()),
        along_(normal.cross(across_)),
        radius_(ball.cutter().radius()),
        distance_(radius_ + tolerance),
        near_(triangle),
        reach_(std::sqrt(2 * radius_ * tolerance + tolerance * tolerance) + tolerance) {}

  bool found() {
    Vec2 at(0, 0);  // millimetres across the normal
    double best = missing(at);
    if (best <= 0) return true;
    if (is_hopeless()) return false;
    double step = reach_ / 2;
    for (int halvings = 0; halvings < 6;) {
      const Vec2 centre = at;
      double least = best;
      for (const auto& way : kWays) {
        const Vec2 tried = centre + step * Vec2(way[0], way[1]);
        if (tried.norm() > reach_) continue;
        const double m = missing(tried);
        if (m <= 0) return true;
        if (m < least) least = m, at = tried;
      }
      if (least < best)
        best = least;
      else
        step /= 2, ++halvings;
    }
    return false;
  }

 private:
  /// How far the ball would have to go up to be free, standing in a direction from the place.
  double missing(const Vec2& off) {
    const Vec3 direction = (distance_ * normal_ + off.x() * across_ + off.y() * along_).normalized();
    const Vec3 centre = place_ + distance_ * direction;
    const auto touch = ball_.touch(plan(centre), near_);
    if (!touch) return 0;
    near_ = touch->triangle;
    contact_ = touch->point;
    return touch->height + radius_ - centre.z();
  }

  /// What stopped the ball may lie so deep inside it at its start that no centre close enough clears it.
  [[nodiscard]] bool is_hopeless() const {
    const double depth = radius_ - (contact_ - place_ - distance_ * normal_).norm();
    return depth > 2 * reach_;
  }

  static constexpr double kHalf = 0.70710678118654752;
  static constexpr double kWays[8][2] = {{1, 0},  {kHalf, kHalf},   {0, 1},  {-kHalf, kHalf},
                                         {-1, 0}, {-kHalf, -kHalf}, {0, -1}, {kHalf, -kHalf}};
  const TipSurface& ball_;
  const Vec3& place_;
  const Vec3& normal_;
  Vec3 across_, along_;
  double radius_, distance_;
  std::int32_t near_;
  Vec3 contact_{0, 0, 0};
  double reach_;
};

}  // namespace

ReachProbe::ReachProbe(const std::shared_ptr<const ContactPart>& part, std::vector<double> diameters_mm,
                       double tolerance_mm)
    : part_(part), diameters_(std::move(diameters_mm)), tolerance_(tolerance_mm) {
  for (const double diameter : diameters_) balls_.emplace_back(part_, Profile::ball(diameter));
}

bool ReachProbe::reaches(const TipSurface& ball, const Vec3& place, const Vec3& normal,
                         std::int32_t triangle) const {
  return CentreSearch(ball, place, normal, triangle, tolerance_).found();
}

std::size_t ReachProbe::count_reaching(const Vec3& place, const Vec3& normal, std::int32_t triangle) const {
  std::size_t low = 0, high = balls_.size();  // the first `low` reach it, those from `high` on do not
  while (low < high) {
    const std::size_t middle = (low + high) / 2;
    if (reaches(balls_[middle], place, normal, triangle))
      low = middle + 1;
    else
      high = middle;
  }
  return low;
}

double ReachProbe::largest_radius(const Vec3& place, const Vec3& normal, double reaches_mm,
                                  double fails_mm) const {
  double radius = 0.99 * fails_mm;  // first whether there is anything to find below
  while (fails_mm - reaches_mm > 0.01 * fails_mm) {
    if (reaches(TipSurface(part_, Profile::ball(2 * radius)), place, normal, -1))
      reaches_mm = radius;
    else
      fails_mm = radius;
    radius = 0.5 * (reaches_mm + fails_mm);
  }
  return reaches_mm;
}

}  // namespace yardpass
