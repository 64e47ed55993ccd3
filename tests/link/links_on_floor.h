// A floor, bare or with a ridge across it, and what every toolpath over it must keep.
#pragma once

#include <gtest/gtest.h>

#include <cmath>
#include <numbers>

#include "support/nasty.h"
#include "support/planning.h"
#include "yardpass/link/link.h"

namespace yardpass::testing {

inline constexpr double kPi = std::numbers::pi;

/// From the plane and back to it, off the part, and no rapid in the material as it then is.
inline void expect_clean(const Toolpath& path, const TipSurface& surface, Stock stock,
                         const LinkOptions& options) {
  Vec3 at = path.start;
  EXPECT_EQ(at.z(), options.plane_z);
  std::vector<SweptMove> moves;
  for (const Move& move : path.moves) {
    EXPECT_GE(surface.clearance(at, move.to, 0).room, -1e-8)
        << name_of(move.kind) << " from " << at.transpose() << " to " << move.to.transpose();
    EXPECT_EQ(move.feed_mm_min > 0, move.kind != MoveKind::rapid);
    if (move.kind == MoveKind::rapid && options.dog_leg_rapids &&
        std::min(at.z(), move.to.z()) < options.plane_z)
      EXPECT_EQ(((move.to - at).array() != 0).count(), 1) << "one axis at a time below the plane";
    moves.push_back({at, move.to, 0, move.kind != MoveKind::rapid});
    at = move.to;
  }
  EXPECT_EQ(at.z(), options.plane_z);
  CarveLog log;
  carve(stock, std::span<const Profile>(&surface.cutter(), 1), moves, &log);
  for (std::size_t i = 0; i < moves.size(); ++i)
    EXPECT_EQ(log.entered[i], 0) << "a rapid to " << moves[i].to.transpose();
}

class LinksOnFloor : public ::testing::Test {
 protected:
  LinksOnFloor() {
    tool_.steepest_entry_deg = 90;
    links_.plane_z = 20;
  }
  static double ground(double x, double) { return std::abs(x) < 2 ? 8 : 0; }
  std::shared_ptr<const ContactPart> flat_ =
      make_contact_part(sheet(Box2(Vec2(-40, -40), Vec2(40, 40)), 2, 2, [](double, double) { return 0.0; }));
  std::shared_ptr<const ContactPart> ridge_ =
      make_contact_part(sheet(Box2(Vec2(-40, -40), Vec2(40, 40)), 80, 2, ground));
  Stock bare_{Box3(Vec3(-40, -40, -5), Vec3(40, 40, 0)), 0.25};
  Tool tool_ = ball_tool(6);
  LinkOptions links_;

  [[nodiscard]] Toolpath path(const std::shared_ptr<const ContactPart>& part, const CutPlan& plan) const {
    return link_cuts(plan, exact_surface(part, tool_), bare_, links_).path;
  }
  [[nodiscard]] static CutPlan lines(const std::vector<Polyline3>& lines, bool free_order) {
    std::vector<Cut> cuts;
    std::int32_t pass = 0;
    for (const Polyline3& line : lines) cuts.push_back({.points = line, .pass = ++pass});
    CutPlan plan = plan_of(std::move(cuts));
    plan.groups[0].keep_order = plan.groups[0].keep_direction = !free_order;
    return plan;
  }
};

}  // namespace yardpass::testing
