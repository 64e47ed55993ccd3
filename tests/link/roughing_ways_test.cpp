// Ways in, order and corners of roughing, by definition and by formula.
#include <gtest/gtest.h>

#include <cmath>

#include "support/nasty.h"
#include "support/planning.h"
#include "yardpass/link/link.h"
#include "yardpass/plan/roomy_place.h"

namespace yardpass {
namespace {

using Ground = std::function<double(double x, double y)>;

constexpr double kHalf = 26;

Stock block(double top, double bottom = -20, double half = kHalf) {
  return {Box3(Vec3(-half, -half, bottom), Vec3(half, half, top)), 0.25};
}

ToolSurface surface_of(const Ground& ground, const Tool& tool, double allowance, double step = 0.25) {
  const int squares = static_cast<int>(2 * kHalf / step);
  return testing::exact_surface(
      make_contact_part(
          testing::sheet(Box2(Vec2(-kHalf, -kHalf), Vec2(kHalf, kHalf)), squares, squares, ground)),
      tool, {.allowance_mm = allowance});
}

const Region kWhole = rectangle(Box2(Vec2(-kHalf, -kHalf), Vec2(kHalf, kHalf)));

RoughingOptions options_for(double diameter) {
  return {.stepdown_mm = 2,
          .stepover_mm = 0.43 * diameter,
          .helix_radius_mm = 0.25 * diameter,
          .least_helix_mm = 0.075 * diameter,
          .least_ramp_mm = 0.25 * diameter};
}

const Note* noted(const CutPlan& plan, const std::string& about) {
  for (const Note& note : plan.notes)
    if (note.about == about) return &note;
  return nullptr;
}

// A closed square pocket with room for the tool's axis of 2 * room a side.
CutPlan rough_square(double room, double least_helix, double least_ramp) {
  constexpr double kAllowance = 0.2, kRadius = 3;
  // Walls upright to within a hair: the pocket's corners are places of the mesh.
  const double half = room + kRadius + kAllowance;
  Mesh mesh;
  const auto quad = [&](const Vec3& a, const Vec3& b, const Vec3& c, const Vec3& d) {
    const auto first = static_cast<std::int32_t>(mesh.points.size());
    mesh.points.insert(mesh.points.end(), {a, b, c, d});
    mesh.triangles.push_back({first, first + 1, first + 2});
    mesh.triangles.push_back({first, first + 2, first + 3});
  };
  const double h = half, k = kHalf, low = -5;
  quad({-h, -h, low}, {h, -h, low}, {h, h, low}, {-h, h, low});
  quad({-k, -k, 0}, {k, -k, 0}, {k, -h, 0}, {-k, -h, 0});
  quad({-k, h, 0}, {k, h, 0}, {k, k, 0}, {-k, k, 0});
  quad({-k, -h, 0}, {-h, -h, 0}, {-h, h, 0}, {-k, h, 0});
  quad({h, -h, 0}, {k, -h, 0}, {k, h, 0}, {h, h, 0});
  quad({-h, -h, low}, {-h, -h, 0}, {h, -h, 0}, {h, -h, low});
  quad({h, -h, low}, {h, -h, 0}, {h, h, 0}, {h, h, low});
  quad({h, h, low}, {h, h, 0}, {-h, h, 0}, {-h, h, low});
  quad({-h, h, low}, {-h, h, 0}, {-h, -h, 0}, {-h, -h, low});
  const ToolSurface surface = testing::exact_surface(make_contact_part(mesh), testing::flat_tool(2 * kRadius),
                                                     {.allowance_mm = kAllowance});
  const Stock before = block(0);
  RoughingOptions options = options_for(6);
  options.least_helix_mm = least_helix, options.least_ramp_mm = least_ramp;
  return cuts_of(options, {surface, kWhole, &before, 0.02});
}

TEST(RoughingWays, AHelixIsRefusedWhereItDoesNotFitAndMadeWhereItJustDoes) {
  constexpr double kLeast = 0.6, kNoRamp = 100;
  for (const double more : {0.001, 0.01, 0.3}) {
    const CutPlan fits = rough_square(kLeast + more, kLeast, kNoRamp);
    ASSERT_FALSE(fits.empty()) << more;
    EXPECT_EQ(fits.groups[0].cuts[0].entry, Entry::helix);
    EXPECT_GE(fits.groups[0].cuts[0].helix.radius_mm, kLeast - 1e-9);
    EXPECT_EQ(noted(fits, "refused"), nullptr);
  }
  for (const double less : {0.001, 0.01, 0.3}) {
    const CutPlan none = rough_square(kLeast - less, kLeast, kNoRamp);
    EXPECT_TRUE(none.empty()) << less;
    const Note* note = noted(none, "refused");
    ASSERT_NE(note, nullptr);
    // As wide as the tool and twice the room, 4.8 deep (the floor's allowance stays), at three levels.
    const double half = 3 + kLeast - less, area = 4 * half * half - (4 - std::numbers::pi) * 9;
    EXPECT_EQ(note->values[0].value[0], 3);
    EXPECT_NEAR(note->values[2].value[0], 4.8 * area, 0.06 * 4.8 * area);
    const CutPlan ramped = rough_square(kLeast - less, kLeast, 0.2);
    ASSERT_FALSE(ramped.empty());
    EXPECT_EQ(ramped.groups[0].cuts[0].entry, Entry::ramp);
  }
}

TEST(RoughingWays, RampsInSolidOnlyWhereNothingIsOpen) {
  // A terrace, open all round, and a pocket in it.
  const ToolSurface surface = surface_of(
      [](double x, double y) {
        if (std::hypot(x, y) < 8) return -8.0;
        return std::max(std::abs(x), std::abs(y)) < 18 ? 0.0 : -6.0;
      },
      testing::flat_tool(6), 0.2);
  RoughingOptions options = options_for(6);
  options.may_leave = true;
  const Stock before = block(1);
  const CutPlan plan = cuts_of(options, {surface, kWhole, &before, 0.02});
  int helices = 0, from_air = 0;
  for (const CutGroup& group : plan.groups) {
    const Cut& first = group.cuts.front();
    const Vec2 at = yardpass::plan(first.points.front());
    if (first.entry == Entry::helix) {
      ++helices;
      EXPECT_LT(at.norm(), 8) << "only the pocket is closed";
      EXPECT_LT(group.level_z, 0) << at.transpose();
    } else {
      ++from_air;
      EXPECT_GT(std::max(std::abs(at.x()), std::abs(at.y())), kHalf) << "from beside the stock";
    }
    for (std::size_t k = 1; k < group.cuts.size(); ++k) EXPECT_NE(group.cuts[k].entry, Entry::helix);
  }
  EXPECT_EQ(helices, 5);  // at -1, -3, -5, -7 and the floor
  EXPECT_GE(from_air, 4);
  options.may_leave = false;
  for (const CutGroup& group : cuts_of(options, {surface, kWhole, &before, 0.02}).groups)
    for (const Cut& cut : group.cuts)
      for (const Vec3& p : cut.points)
        EXPECT_TRUE(std::max(std::abs(p.x()), std::abs(p.y())) <= kHalf + 1e-6);
}

TEST(RoughingWays, ADrilledPlaceIsUsed) {
  const ToolSurface surface = surface_of(
      [](double x, double y) { return std::hypot(x, y) < 16 ? -6.0 : 0.0; }, testing::flat_tool(6), 0.2);
  Stock before = block(0);
  const Profile drill[] = {Profile::flat(7)};
  const Vec2 hole(5, -3);
  const SweptMove down[] = {{with_z(hole, 0), with_z(hole, -6), 0, true}};
  carve(before, drill, down);
  const std::vector<Vec2> places = {hole};
  Site site{surface, kWhole, &before, 0.02};
  site.drilled = places;
  const CutPlan plan = cuts_of(options_for(6), site);
  ASSERT_FALSE(plan.empty());
  for (const CutGroup& group : plan.groups) {
    EXPECT_EQ(yardpass::plan(group.cuts.front().points.front()), hole);
    EXPECT_EQ(group.cuts.front().entry, Entry::ramp) << "which is a plunge where all is cleared";
  }
  const Toolpath path = link_cuts(plan, surface, before, {.plane_z = 5}).path;
  EXPECT_EQ(measure(path).ramp_mm, 0);
}

// Nine pockets, four levels each.
TEST(RoughingWays, ATrayOfPocketsIsCutPocketByPocket) {
  const ToolSurface surface = surface_of(
      [](double x, double y) {
        const auto near = [](double v) { return std::abs(v - 16 * std::round(v / 16)); };
        return std::max(near(x), near(y)) < 6 && std::max(std::abs(x), std::abs(y)) < 23 ? -8.0 : 0.0;
      },
      testing::flat_tool(6), 0.1);
  const Stock before = block(0);
  RoughingOptions options = options_for(6);
  const auto jumps = [&](LevelOrder order) {
    options.order = order;
    int count = 0;
    Vec2 last(0, 0);
    bool first = true;
    for (const CutGroup& group : cuts_of(options, {surface, kWhole, &before, 0.02}).groups) {
      const Vec2 at = group.cuts.front().helix.centre;
      count += !first && (at - last).norm() > 8;
      last = at, first = false;
    }
    return count;
  };
  const int by_area = jumps(LevelOrder::by_area), by_level = jumps(LevelOrder::by_level);
  EXPECT_EQ(by_area, 8) << "nine pockets";
  EXPECT_LE(3 * by_area, by_level);
}

TEST(RoughingWays, AfterTheLoopAlongThemWallsKeepNoMoreThanTheAllowance) {
  // A round pocket, drafted by a grid's step at most: measured at the middle of its levels.
  const double radius = 17;
  const ToolSurface surface =
      surface_of([&](double x, double y) { return std::hypot(x, y) < radius ? -6.0 : 0.0; },
                 testing::flat_tool(6), 0.3, 0.1);
  const Stock before{Box3(Vec3(-kHalf, -kHalf, -20), Vec3(kHalf, kHalf, 0)), 0.1};
  RoughingOptions options = options_for(6);
  options.pattern = LevelPattern::lines;
  options.direction = LoopDirection::zigzag;
  options.angle_deg = 37;
  const CutPlan plan = cuts_of(options, {surface, kWhole, &before, 0.01});
  const Stock left = link_cuts(plan, surface, before, {.plane_z = 5}).stock;
  double thickest = 0;
  for (int row = 0; row < left.rows(); ++row)
    for (int column = 0; column < left.columns(); ++column) {
      const double to_wall = radius - left.centre(column, row).norm();
      if (to_wall > 0 && left.height(column, row) > -5.5) thickest = std::max(thickest, to_wall);
    }
  // The wall of the mesh is a step of 0.1 wide, and cells are 0.1.
  EXPECT_LE(thickest, 0.3 + 0.02 + 0.1 + 0.08);
  EXPECT_GE(thickest, 0.3 - 0.1 - 0.08);
}

TEST(RoughingWays, LoopsHaveCornersOfAtLeastTheRadius) {
  const ToolSurface surface = surface_of(
      [](double x, double y) {
        return std::abs(x) + 0.6 * std::abs(y) < 18 && std::abs(y) < 20 ? -4.0 : 0.0;
      },
      testing::flat_tool(5), 0.2);
  const Stock before = block(0);
  RoughingOptions options = options_for(5);
  options.corner_radius_mm = 0.8;
  for (const bool at_walls : {false, true}) {
    options.round_at_walls = at_walls;
    int loops = 0, sharp = 0;
    for (const Cut& cut : testing::all_cuts(cuts_of(options, {surface, kWhole, &before, 0.02}))) {
      Polyline2 loop;
      for (std::size_t i = 1; i < cut.points.size(); ++i) loop.push_back(yardpass::plan(cut.points[i]));
      loop.pop_back();  // closed, after the way in
      const Region inside = unite({{loop}}, {});
      // A disc of the radius reaches every place inside: by definition of the least radius.
      const Region opened = offset(offset(inside, -(0.8 - 0.02)), 0.8 - 0.02);
      ++loops;
      sharp += offset(subtract(inside, opened), -0.01).area_mm2() > 1e-4;
    }
    EXPECT_GT(loops, 6);
    EXPECT_LE(sharp, at_walls ? 0 : loops / 3) << "only the loops along walls, " << loops;
    if (!at_walls) EXPECT_GT(sharp, 0);
  }
}

TEST(RoughingWays, AnotherAllowanceOnAGroupOfTriangles) {
  Mesh mesh = testing::sheet(Box2(Vec2(-kHalf, -kHalf), Vec2(kHalf, kHalf)), 208, 208,
                             [](double x, double) { return x < 0 ? -5.0 : -3.0; });
  std::vector<std::uint8_t> groups(mesh.triangles.size(), 0);
  for (std::size_t t = 0; t < groups.size(); ++t)
    if (mesh.corner(t, 0).x() >= 0 && mesh.corner(t, 1).x() >= 0 && mesh.corner(t, 2).x() >= 0) groups[t] = 1;
  const ToolSurface surface =
      testing::exact_surface(make_contact_part(mesh, {}, groups), testing::flat_tool(6),
                             {.allowance_mm = 0.2, .group_extra_mm = {0, 0.5}});
  const Stock before = block(0);
  RoughingOptions options = options_for(6);
  options.stepdown_mm = 10, options.may_leave = true;
  const Stock left =
      link_cuts(cuts_of(options, {surface, kWhole, &before, 0.02}), surface, before, {.plane_z = 5}).stock;
  for (int row = 40; row < left.rows() - 40; row += 7)
    for (int column = 0; column < left.columns(); column += 5) {
      const double x = left.centre(column, row).x();
      if (x < -0.5) EXPECT_NEAR(left.height(column, row), -4.8, 1e-6) << x;
      if (x > 0.5) EXPECT_NEAR(left.height(column, row), -2.3, 1e-6) << x;
    }
}

TEST(RoomyPlace, HasTheRoomThatIsAskedOrTheGreatest) {
  const Region square = rectangle(Box2(Vec2(-5, -3), Vec2(5, 3)));
  EXPECT_NEAR(roomy_place(square, 100)->room_mm, 3, 1e-4);
  const auto place = roomy_place(square, 1);
  EXPECT_GE(place->room_mm, 1);
  EXPECT_NEAR(room_at(square, place->at), place->room_mm, 1e-12);
  EXPECT_FALSE(roomy_place({}, 1));
  EXPECT_NEAR(room_at(square, {5.5, 0}), -0.5, 1e-12);
}

TEST(LevelOrder, NothingComesBeforeWhatItNeeds) {
  const auto at = [](double x, double z, double half) {
    return LevelPiece{rectangle(Box2(Vec2(x - half, -half), Vec2(x + half, half))), z, {x, 0}, {x, 0}};
  };
  const std::vector<LevelPiece> pieces = {at(0, -1, 20),  at(-10, -2, 4), at(10, -2, 4),
                                          at(-10, -3, 3), at(10, -3, 3),  at(-10, -4, 2)};
  const auto before = pieces_before(pieces, 2);
  const std::vector<std::vector<std::int32_t>> expected = {{}, {0}, {0}, {1}, {2}, {3}};
  EXPECT_EQ(before, expected);
  const std::vector<std::int32_t> by_level = {0, 1, 2, 4, 3, 5},
                                  by_area = order_of(pieces, before, LevelOrder::by_area);
  EXPECT_EQ(order_of(pieces, before, LevelOrder::by_level), by_level);
  EXPECT_EQ(by_area.size(), 6u);
  const auto place = [&](std::int32_t k) {
    return std::find(by_area.begin(), by_area.end(), k) - by_area.begin();
  };
  EXPECT_EQ(place(3), place(1) + 1);
  EXPECT_EQ(place(5), place(3) + 1);
  EXPECT_EQ(place(4), place(2) + 1);
}

}  // namespace
}  // namespace yardpass
