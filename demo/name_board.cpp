#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>

#include "builder.h"
#include "parts.h"

namespace yardpass::demo {

namespace {

constexpr double kPi = std::numbers::pi;
constexpr double kLength = 150, kWidth = 50, kThick = 16, kCorner = 12;
constexpr double kDraft = 6 * kPi / 180, kRound = 3;
constexpr double kInnermost = 24;  // a strip of 2 mm stays in the middle
constexpr int kRings = 44;

/// Crowned both ways.
double crown_z(const Vec2& p) { return -p.x() * p.x() / 2800 - p.y() * p.y() / 360; }

/// So far inside the outline of the foot: up the drafted side, round the rim, onto the crown.
double board_z(const Vec2& p, double inside) {
  double low = -kThick, high = 1;
  for (int step = 0; step < 60; ++step) {
    const double z = 0.5 * (low + high);
    const double above = z - crown_z(p), off = ((z + kThick) * std::tan(kDraft) - inside) * std::cos(kDraft);
    const double at = above > -kRound && off > -kRound ? std::hypot(above + kRound, off + kRound) - kRound
                                                       : std::max(above, off);
    (at > 0 ? high : low) = z;
  }
  return 0.5 * (low + high);
}

/// A rounded rectangle so far inside the foot, its straight sides in pieces too.
Polyline2 ring_at(double inside) {
  constexpr int kOfCorner = 32;
  const double corner = std::max(kCorner - inside, 0.4);
  const Vec2 half(0.5 * kLength - inside - corner, 0.5 * kWidth - inside - corner);
  Polyline2 ring;
  for (int k = 0; k < 4; ++k) {
    const Vec2 centre(k == 0 || k == 3 ? half.x() : -half.x(), k < 2 ? half.y() : -half.y());
    for (int i = 0; i <= kOfCorner; ++i) {
      const double angle = 0.5 * kPi * (k + 1.0 * i / kOfCorner);
      ring.push_back(centre + corner * Vec2(std::cos(angle), std::sin(angle)));
    }
    const Vec2 from = ring.back(), way = k % 2 == 0 ? Vec2((k == 0 ? -2 : 2) * half.x(), 0)
                                                    : Vec2(0, (k == 1 ? -2 : 2) * half.y());
    const int parts = k % 2 == 0 ? 48 : 14;
    for (int i = 1; i < parts; ++i) ring.push_back(from + way * (1.0 * i / parts));
  }
  return ring;
}

}  // namespace

Mesh name_board() {
  Polyline2 profile;
  for (int i = 0; i <= 6000; ++i) {
    const double inside = kInnermost * std::pow(i / 6000.0, 2);
    profile.emplace_back(inside, board_z({0, 0.5 * kWidth - inside}, inside));
  }
  Builder builder;
  std::vector<std::vector<int>> rings;
  for (const Vec2& place : spread_by_bend(profile, kRings)) {
    rings.emplace_back();
    for (const Vec2& p : ring_at(place.x()))
      rings.back().push_back(builder.point(with_z(p, rings.size() == 1 ? -kThick : board_z(p, place.x()))));
  }
  for (std::size_t k = 0; k + 1 < rings.size(); ++k) builder.band(rings[k], rings[k + 1]);
  // The innermost ring closes on the middle line.
  std::map<float, int> middle;
  std::vector<int> line;
  for (const Vec2& p : ring_at(kInnermost)) {
    const Vec2 on_line(p.x(), 0);
    const auto [at, is_new] = middle.try_emplace(static_cast<float>(p.x()), -1);
    if (is_new) at->second = builder.point(with_z(on_line, crown_z(on_line)));
    line.push_back(at->second);
  }
  builder.band(rings.back(), line);
  std::erase_if(builder.mesh.triangles,
                [](const auto& t) { return t[0] == t[1] || t[1] == t[2] || t[0] == t[2]; });
  builder.face_below(rings.front(), {});
  return builder.mesh;
}

std::vector<Curve> name_board_drawing() {
  constexpr double kInside = 7, kStrand = 4.2, kHalf = 1.5;
  const Polyline2 loop =
      rounded_rectangle(kLength - 2 * kInside, kWidth - 2 * kInside, kCorner - 0.5 * kInside);
  std::vector<double> ways{0};
  for (std::size_t i = 0; i < loop.size(); ++i)
    ways.push_back(ways.back() + (loop[(i + 1) % loop.size()] - loop[i]).norm());
  const auto at = [&](double way, double beside) {
    way = std::fmod(way + ways.back(), ways.back());
    const auto k =
        static_cast<std::size_t>(std::upper_bound(ways.begin(), ways.end(), way) - ways.begin()) - 1;
    const Vec2 along = (loop[(k + 1) % loop.size()] - loop[k]).normalized();
    return Vec2(loop[k] + (way - ways[k]) * along + beside * Vec2(-along.y(), along.x()));
  };
  const int strands = static_cast<int>(std::round(ways.back() / kStrand));
  std::vector<Curve> curves;
  for (int i = 0; i < strands; ++i) {
    Curve strand{{}, false, "strand", "rope"};
    constexpr int kPoints = 24;
    for (int k = 0; k <= kPoints; ++k) {
      // An S across the rope, deepest in its middle.
      const double t = 2.0 * k / kPoints - 1;
      const double way = (i + 0.5 + 0.62 * t) * ways.back() / strands;
      strand.points.push_back(
          with_z(at(way, kHalf * std::sin(0.5 * kPi * t)), -0.35 + 0.27 * std::pow(t, 2)));
    }
    curves.push_back(std::move(strand));
  }
  return curves;
}

}  // namespace yardpass::demo
