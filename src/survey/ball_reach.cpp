#include "yardpass/survey/ball_reach.h"

#include <cmath>

namespace yardpass {

namespace {

/// Distance from a place to the nearest free centre above a point in plan.
class CentreSearch {
 public:
  CentreSearch(const TipSurface& ball, const Vec3& place, const Vec3& normal, std::int32_t triangle,
               double tolerance)
      : ball_(ball),
        place_(place),
        radius_(ball.cutter().radius()),
        start_(plan(place) + radius_ * plan(normal)),
        start_z_(place.z() + radius_ * normal.z()),
        near_(triangle),
        enough_(radius_ + tolerance),
        reach_(std::sqrt(2 * radius_ * tolerance + tolerance * tolerance) + tolerance) {}

  bool found() {
    double best = distance(start_);
    if (best <= enough_) return true;
    if (is_hopeless()) return false;
    Vec2 at = start_;
    double step = reach_ / 2;
    for (int halvings = 0; halvings < 6;) {
      const Vec2 centre = at;
      double least = best;
      for (int k = 0; k < 8; ++k) {
        const Vec2 tried = centre + step * Vec2(kWays[k][0], kWays[k][1]);
        if ((tried - start_).norm() > reach_) continue;
        const double d = distance(tried);
        if (d <= enough_) return true;
        if (d < least) least = d, at = tried;
      }
      if (least < best)
        best = least;
      else
        step /= 2, ++halvings;
    }
    return false;
  }

 private:
  double distance(const Vec2& centre) {
    const auto touch = ball_.touch(centre, near_);
    if (!touch) return (centre - plan(place_)).norm();
    near_ = touch->triangle;
    contact_ = touch->point;
    return std::hypot((centre - plan(place_)).norm(), std::max(0.0, touch->height + radius_ - place_.z()));
  }

  /// What stopped the ball may lie so deep inside it at its start that no centre close enough clears it.
  [[nodiscard]] bool is_hopeless() const {
    const double depth = radius_ - (contact_ - with_z(start_, start_z_)).norm();
    return depth > 2 * reach_;
  }

  static constexpr double kHalf = 0.70710678118654752;
  static constexpr double kWays[8][2] = {{1, 0},  {kHalf, kHalf},   {0, 1},  {-kHalf, kHalf},
                                         {-1, 0}, {-kHalf, -kHalf}, {0, -1}, {kHalf, -kHalf}};
  const TipSurface& ball_;
  const Vec3& place_;
  double radius_;
  Vec2 start_;
  double start_z_;
  std::int32_t near_;
  Vec3 contact_{0, 0, 0};
  double enough_, reach_;
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
