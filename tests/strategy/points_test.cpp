// An operation made only of given points.
#include "yardpass/strategy/points.h"

#include <gtest/gtest.h>

#include "support/nasty.h"
#include "support/planning.h"
#include "yardpass/link/link.h"

namespace yardpass {
namespace {

class Points : public ::testing::Test {
 protected:
  std::shared_ptr<const ContactPart> part_ =
      make_contact_part(testing::sheet(Box2(Vec2(-30, -30), Vec2(30, 30)), 60, 1,
                                       [](double x, double) { return std::abs(x) < 2 ? 5.0 : 0.0; }));
  ToolSurface surface_ = testing::exact_surface(part_, testing::ball_tool(6));
  Region area_ = rectangle(Box2(Vec2(-30, -30), Vec2(30, 30)));
  Stock bare_{Box3(Vec3(-30, -30, -5), Vec3(30, 30, 0)), 0.25};
  LinkOptions links_{.plane_z = 20};

  [[nodiscard]] CutPlan plan(const PointsOptions& options) const {
    return cuts_of(options, {surface_, area_, nullptr, 0.01});
  }
};

TEST_F(Points, TheTipGoesFromOneToTheNextAndNowhereElse) {
  const Polyline3 points{{-20, 0, 9}, {20, 0, 9}, {20, 0, 1}, {20, 15, 1}};
  const Toolpath path = link_cuts(plan({.points = points}), surface_, bare_, links_).path;
  Polyline3 visited;
  Vec3 at = path.start;
  for (const Move& move : path.moves) {
    if (move.kind == MoveKind::cut || move.kind == MoveKind::plunge) {
      if (visited.empty()) visited.push_back(at);
      if (move.to != visited.back()) visited.push_back(move.to);
    }
    at = move.to;
  }
  EXPECT_EQ(visited, points);
  EXPECT_EQ(plan({.points = {{-20, 0, 9}, {-20, 0, 9}, {20, 0, 9}}}).groups[0].cuts[0].points.size(), 2u);
}

TEST_F(Points, AWayThroughThePartIsRefusedWithThePlace) {
  try {
    (void)plan({.points = {{-20, 0, 2}, {20, 0, 2}}});
    FAIL();
  } catch (const Error& error) {
    const std::string says = error.what();
    EXPECT_EQ(says.find("points: the way from X -20 Y 0 Z 2 to X 20 Y 0 Z 2 is not free of the part: at X "),
              0u)
        << says;
    EXPECT_NE(says.find("3 mm higher"), std::string::npos) << says;
  }
  EXPECT_THROW((void)plan({.points = {{0, 0, 9}, {0, 0, 9}}}), Error);
}

TEST_F(Points, AtRapidNothingMayBeInTheWay) {
  const PointsOptions over{.points = {{-20, 0, 9}, {20, 0, 9}}, .rapid = true};
  const Toolpath path = link_cuts(plan(over), surface_, bare_, links_).path;
  for (const Move& move : path.moves) EXPECT_EQ(move.kind, MoveKind::rapid);
  Stock standing(Box3(Vec3(-30, -30, -5), Vec3(30, 30, 12)), 0.25);
  try {
    (void)link_cuts(plan(over), surface_, standing, links_);
    FAIL() << "through the block";
  } catch (const Error& error) {
    EXPECT_STREQ(error.what(),
                 "a rapid from X -20 Y 0 Z 9 to X 20 Y 0 Z 9 would meet material; at feed it may");
  }
}

}  // namespace
}  // namespace yardpass
