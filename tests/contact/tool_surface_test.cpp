// A tool over a part: completed, with its reserve, never mixed up.
#include "yardpass/contact/tool_surface.h"

#include <gtest/gtest.h>

#include "support/nasty.h"
#include "yardpass/geom/rounding.h"

namespace yardpass {
namespace {

std::shared_ptr<const ContactPart> plate() {
  return make_contact_part(
      testing::sheet(Box2(Vec2(-20, -20), Vec2(20, 20)), 4, 4, [](double, double) { return 0.0; }));
}

TEST(ToolSurface, IsTheTipSurfaceOfItsToolWithTheReserveForRounding) {
  const Tool ball{.name = "ball6", .diameter_mm = 6, .feed_mm_min = 900};
  const ToolSurface surface(plate(), ball, {.allowance_mm = 0.2}, 0.01);
  EXPECT_EQ(surface.tool().plunge_feed_mm_min, 300) << "completed";
  EXPECT_NEAR(surface.rounding_reserve_mm(), rounding_reserve(2), 0);
  EXPECT_NEAR(surface.height({0, 0}), 0.2 + rounding_reserve(2), 1e-12);
  EXPECT_NEAR(ToolSurface(plate(), ball, {.allowance_mm = 0.2}, std::nullopt).height({0, 0}), 0.2, 1e-12);
  const ToolSurface copy = surface;  // NOLINT(performance-unnecessary-copy-initialization): that is the test
  EXPECT_EQ(&copy.tool(), &surface.tool()) << "one tool, however often the surface is copied";
}

TEST(ToolSurface, AToolSaysWhatItLacksByItsKey) {
  const auto message = [](const Tool& tool) {
    try {
      (void)ToolSurface(plate(), tool);
      return std::string("accepted");
    } catch (const Error& error) {
      return std::string(error.what());
    }
  };
  EXPECT_EQ(message({.name = "b"}), "tool \"b\": \"diameter\" is missing; in mm; of a taper at its tip");
  EXPECT_NE(
      message({.name = "b", .shape = Shape::bull, .diameter_mm = 6}).find("\"corner_radius\" is missing"),
      std::string::npos);
  EXPECT_NE(
      message({.name = "t", .shape = Shape::taper, .diameter_mm = 6}).find("\"taper_angle\" is missing"),
      std::string::npos);
  EXPECT_NE(message({.name = "p", .shape = Shape::profile, .diameter_mm = 6}).find("\"outline\" is missing"),
            std::string::npos);
  EXPECT_EQ(message({.name = "b", .diameter_mm = 6}), "accepted") << "feeds are asked for by who needs them";
}

}  // namespace
}  // namespace yardpass
