// Bounded engagement: steps a second beside the plainest form of the same walk.
#include "bench.h"
#include "plain_walk.h"
#include "yardpass/geom/polyline.h"

using namespace yardpass;
using namespace yardpass::bench;

namespace {

LevelRaster pocket(double radius) {
  LevelMaterial material;
  material.stands = material.wanted = [](const Vec2&) { return true; };
  material.block = Box2(Vec2(-100, -80), Vec2(100, 80));
  material.all_stands = true;
  return level_raster(offset(rectangle(Box2(Vec2(-60, -40), Vec2(60, 40))), -radius), material, radius,
                      radius / 45, 0.01);
}

/// Of what a pass from a disc in the middle can reach.
double standing_after(const BoundedWalk& walk, PlainWalk field) {
  for (const WalkPiece& piece : walk.pieces) {
    if (piece.kind == WalkPiece::Kind::helix)
      for (int k = 0; k < 36; ++k) {
        const auto at = [&](int i) {
          const double angle = i * std::numbers::pi / 18;
          return Vec2(piece.helix.centre + piece.helix.radius_mm * Vec2(std::cos(angle), std::sin(angle)));
        };
        field.clear(at(k), at(k + 1));
      }
    for (std::size_t i = 1; i < piece.points.size(); ++i) field.clear(piece.points[i - 1], piece.points[i]);
  }
  return field.standing_mm2();
}

}  // namespace

int main() {
  constexpr double kRadius = 5, kAngle = 60;
  WaysDown down;
  down.helix = [](const Vec2& at, double room, double least) -> std::optional<Helix> {
    return room > least ? std::optional(Helix{at, std::min(room - 0.1, 2.5), false}) : std::nullopt;
  };
  const BoundedWalkOptions options{kRadius, kAngle, MaterialHand::right, {0, 0}};
  double start = now_s();
  const BoundedWalk walk = walk_bounded(pocket(kRadius), options, down);
  const double ours = static_cast<double>(walk.steps) / (now_s() - start);

  PlainWalk plain(pocket(kRadius), kRadius, kAngle);
  const double all = plain.standing_mm2();
  for (int k = 0; k < 36; ++k) {
    const double angle = k * std::numbers::pi / 18, next = (k + 1) * std::numbers::pi / 18;
    plain.clear(2.5 * Vec2(std::cos(angle), std::sin(angle)), 2.5 * Vec2(std::cos(next), std::sin(next)));
  }
  start = now_s();
  const long steps = plain.pass({2.5, 0}, std::numbers::pi / 2);
  const double plainly = static_cast<double>(steps) / (now_s() - start);
  // The plain one makes the first pass only, which leaves the corners.
  const double left = standing_after(walk, PlainWalk(pocket(kRadius), kRadius, kAngle));
  require(left < 0.005 * all, "the walk clears the pocket");
  require(plain.standing_mm2() < 0.6 * all && steps > 1000,
          "so does the plain one, but for what lies beyond its first pass");
  std::printf(
      "pocket 120 x 80, radius 5, 60 degrees: %lld steps, %.0f a second; plainly %ld, %.0f a second\n",
      static_cast<long long>(walk.steps), ours, steps, plainly);
  row("steps a second, times a plain walk", ours / plainly, "x", 3, 8, true);
}
