#include <cmath>

#include "builder.h"
#include "parts.h"

namespace yardpass::demo {

namespace {

constexpr double kPlateZ = -12, kBottomZ = -24;

Polyline2 moved(Polyline2 loop, const Vec2& by) {
  for (Vec2& p : loop) p += by;
  return loop;
}

/// Height of the saddle that the round pad has for a top.
double saddle(const Vec2& from_middle) {
  return 1 + (from_middle.x() * from_middle.x() - from_middle.y() * from_middle.y()) / 150;
}

}  // namespace

Mesh cleat_base() {
  Builder builder;
  const auto plate_low = builder.ring(rounded_rectangle(140, 70, 10), kBottomZ),
             plate_top = builder.ring(rounded_rectangle(138, 68, 9), kPlateZ);
  builder.band(plate_low, plate_top);
  std::vector<std::vector<int>> above, below;
  // A pad with a horn that stands 0.6 mm from one of its edges.
  const Vec2 pad(-32, 0), horn = pad + Vec2(0, 14.4);
  above.push_back(builder.ring(moved(rounded_rectangle(54, 42, 7), pad), kPlateZ));
  const auto pad_top = builder.ring(moved(rounded_rectangle(50, 38, 5), pad), 0);
  builder.band(above.back(), pad_top);
  const auto horn_foot = builder.ring(moved(rounded_rectangle(20, 8, 3), horn), 0),
             horn_top = builder.ring(moved(rounded_rectangle(18, 6, 2), horn), 12);
  builder.face(pad_top, {horn_foot});
  builder.band(horn_foot, horn_top);
  builder.face(horn_top, {});
  // A round pad whose top is a saddle: its rim bends both ways.
  constexpr int kCorners = 480;
  const Vec2 round(36, 0);
  above.push_back(builder.ring(circle(round, 24, kCorners), kPlateZ));
  std::vector<int> outer = above.back();
  for (const double radius : {22.0, 21.0, 18.0, 13.0, 8.0, 4.0}) {
    std::vector<int> ring;
    for (const Vec2& p : circle({0, 0}, radius, kCorners))
      ring.push_back(builder.point(with_z(p + round, saddle(p))));
    builder.band(outer, ring);
    outer = ring;
  }
  builder.fan(outer, builder.point(with_z(round, saddle({0, 0}))));
  for (const double x : {-60.0, 60.0})
    for (const double y : {-25.0, 25.0}) {
      above.push_back(builder.ring(circle({x, y}, 3.5, 96), kPlateZ));
      below.push_back(builder.ring(circle({x, y}, 3.5, 96), kBottomZ));
      builder.band(above.back(), below.back());
    }
  builder.face(plate_top, above);
  builder.face_below(plate_low, below);
  return builder.mesh;
}

}  // namespace yardpass::demo
