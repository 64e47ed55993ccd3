// What roughing promises, on parts of every kind: proven over the whole toolpath on a simulated stock.
#include <gtest/gtest.h>

#include <cmath>
#include <numbers>

#include "parts.h"
#include "support/nasty.h"
#include "support/planning.h"
#include "yardpass/contact/assembly.h"
#include "yardpass/link/link.h"
#include "yardpass/plan/level_area.h"
#include "yardpass/plan/roomy_place.h"

namespace yardpass {
namespace {

using Ground = std::function<double(double x, double y)>;

constexpr double kHalf = 26, kCell = 0.25, kTop = 0.5, kDeepest = -12;

struct Case {
  const char* name;
  Ground ground;
};

double terrain(int seed, double x, double y) {
  const double a = 0.37 * seed, b = 1.3 + 0.21 * seed;
  return -5 + 3 * std::sin(x / 7 + a) * std::cos(y / 6 - b) + 1.8 * std::sin((x + y) / 3.1 + b) -
         1.2 * std::cos((x - 2 * y) / 4.3 + a);
}

bool in_box(double x, double y, double half_x, double half_y) {
  return std::abs(x) < half_x && std::abs(y) < half_y;
}

std::vector<Case> cases() {
  return {
      {"terrain", [](double x, double y) { return terrain(1, x, y); }},
      {"rough terrain", [](double x, double y) { return 1.4 * terrain(5, 1.5 * x, 1.4 * y) + 1; }},
      {"pocket with islands",
       [](double x, double y) {
         if (!in_box(x, y, 22, 19)) return 0.0;
         if (std::hypot(x - 9, y - 4) < 4 || std::hypot(x + 11, y + 3) < 3 || in_box(x, y - 14, 3, 3))
           return -1.5;
         return -8.0;
       }},
      {"narrow necks",
       [](double x, double y) {
         const bool rooms = std::hypot(x - 15, y) < 9 || std::hypot(x + 15, y) < 9;
         return rooms || in_box(x, y, 15, 3.4) || in_box(x, y - 20, 24, 3.25) ? -7.0 : 0.0;
       }},
      {"open side",
       [](double x, double y) { return x > -18 && std::abs(y) < 16 && std::hypot(x, y) > 4 ? -6.0 : 0.0; }},
      {"tilted floor",
       [](double x, double y) { return in_box(x, y, 23, 18) ? -4 - 0.12 * x - 0.07 * y : 0.0; }},
      {"boss", [](double x, double y) { return std::min(0.0, 2 * (13 - std::hypot(x, 1.3 * y))); }},
  };
}

/// The part's ground, never below kDeepest.
std::shared_ptr<const ContactPart> part_of(const Case& one) {
  return make_contact_part(
      testing::sheet(Box2(Vec2(-kHalf, -kHalf), Vec2(kHalf, kHalf)), 208, 208,
                     [&](double x, double y) { return std::max(kDeepest, one.ground(x, y)); }));
}

struct Roughed {
  CutPlan plan;
  Toolpath path;
  Stock left;
};

struct Shop {
  ToolSurface surface;
  Region area = rectangle(Box2(Vec2(-kHalf, -kHalf), Vec2(kHalf, kHalf)));
  double tolerance = 0.02;
  LinkOptions links{.plane_z = 6, .steps = {.ladder = {.stay_down_mm = 8}}};

  [[nodiscard]] Site site(const Stock& before) const { return {surface, area, &before, tolerance}; }
  [[nodiscard]] Roughed rough(const RoughingOptions& options, const Stock& before) const {
    CutPlan plan = cuts_of(options, site(before));
    LinkedCuts linked = link_cuts(plan, surface, before, links);
    return {std::move(plan), std::move(linked.path), std::move(linked.stock)};
  }
  [[nodiscard]] static Stock block() {
    return {Box3(Vec3(-kHalf, -kHalf, kDeepest - 2), Vec3(kHalf, kHalf, kTop)), kCell};
  }
};

Tool tool_of(int kind) {
  Tool tool = kind == 2 ? testing::ball_tool(6) : testing::flat_tool(6);
  if (kind == 1) tool.shape = Shape::bull, tool.corner_radius_mm = 1;
  tool.steepest_entry_deg = 5, tool.plunge_through_mm = 0.3;
  return tool;
}

/// No rapid in material, no gouge of the allowance, ways down that the tool takes. `links_take_skins`: what
/// is told apart as links of a pass of bounded engagement may take what is next to nothing.
void expect_safe(const Toolpath& path, const ToolSurface& surface, Stock stock, double plunge_through,
                 bool links_take_skins = false) {
  const Profile cutter[] = {surface.cutter()};
  const TipSurface plain(surface.shared_part(), surface.cutter());
  const double allowance = surface.allowance_mm();
  const double steepest = std::tan(5 * std::numbers::pi / 180) + 1e-9;
  const Profile core = Profile::flat(1.2);
  std::vector<SweptMove> pending;
  std::vector<bool> is_link;
  const auto catch_up = [&] {
    CarveLog log;
    carve(stock, cutter, pending, &log);
    // Rapids meet nothing, links at most what they touch.
    for (std::size_t i = 0; i < pending.size(); ++i)
      ASSERT_LE(log.entered[i], is_link[i] ? 0.011 : 0) << "material at " << pending[i].to.transpose();
    is_link.clear();
    pending.clear();
  };
  Vec3 at = path.start;
  for (const Move& move : path.moves) {
    const bool rapid = move.kind == MoveKind::rapid;
    if (!rapid) ASSERT_GE(room_around(plain, at, move.to, allowance), allowance - 1e-8);
    if (!rapid && at.z() - move.to.z() > steepest * (plan(at) - plan(move.to)).norm()) {
      catch_up();
      EXPECT_LE(stock.free_height(core, plan(move.to)) - move.to.z(), plunge_through + 1e-9)
          << "straight down at " << move.to.transpose();
    }
    is_link.push_back(move.kind == MoveKind::link && !links_take_skins);
    pending.push_back({at, move.to, 0, !rapid && !is_link.back()});
    at = move.to;
  }
  catch_up();
}

/// What the tool could remove from allowed positions at the levels, and how much of that is left, as volumes.
struct Volumes {
  double removable = 0, left = 0;
};

Volumes volumes(const Shop& shop, const Roughed& roughed, const Stock& before) {
  const LevelAreas areas(shop.surface, shop.area.box(), {.tolerance_mm = shop.tolerance});
  constexpr int kSample = 4;
  const double radius = shop.surface.cutter().radius();
  std::vector<double> reach(before.heights().begin(), before.heights().end());
  for (const double z : testing::levels_of(roughed.plan)) {
    const Region free = intersect(areas.at(z).area, shop.area);
    for (int row = 1; row < before.rows(); row += kSample)
      for (int column = 1; column < before.columns(); column += kSample) {
        const double far = std::max(0.0, -room_at(free, before.centre(column, row)));
        double& height = reach[before.index(column, row)];
        // Cuts keep up to the tolerance farther from walls than the allowance asks.
        if (far < radius - shop.tolerance) height = std::min(height, z + shop.surface.cutter().height(far));
      }
  }
  Volumes result;
  const double cell2 = std::pow(kSample * before.cell_mm(), 2);
  for (std::size_t i = 0; i < reach.size(); ++i) {
    result.removable += (before.heights()[i] - reach[i]) * cell2;
    if (reach[i] < before.heights()[i])
      result.left += std::max(0.0, roughed.left.heights()[i] - reach[i]) * cell2;
  }
  return result;
}

double noted_volume(const CutPlan& plan) {
  for (const Note& note : plan.notes)
    if (note.about == "refused") return note.values[2].value[0];
  return 0;
}

double length_of(const CutPlan& plan) {
  double sum = 0;
  for (const CutGroup& group : plan.groups)
    for (const Cut& cut : group.cuts)
      if (!cut.link) sum += length(std::span<const Vec3>(cut.points));
  return sum;
}

class RoughedParts : public ::testing::TestWithParam<std::tuple<int, int, LevelPattern>> {};

TEST_P(RoughedParts, AreSafeAndLeaveNothingThatCouldGo) {
  const auto [which, kind, pattern] = GetParam();
  const Case one = cases()[static_cast<std::size_t>(which)];
  const Shop shop{testing::exact_surface(part_of(one), tool_of(kind), {.allowance_mm = 0.2})};
  RoughingOptions options{.stepdown_mm = 2, .stepover_mm = kind == 2 ? 1.5 : 2.6};
  options.pattern = pattern;
  options.angle_deg = 23;
  if (pattern == LevelPattern::lines) options.direction = LoopDirection::zigzag;
  options.corner_radius_mm = 0.3;
  options.helix_radius_mm = 1.5, options.least_helix_mm = 0.45, options.least_ramp_mm = 1.5;
  options.may_leave = true;
  const Stock before = Shop::block();
  const Roughed roughed = shop.rough(options, before);
  ASSERT_FALSE(roughed.plan.empty());
  expect_safe(roughed.path, shop.surface, before, 0.3, pattern == LevelPattern::bounded);
  const Volumes volume = volumes(shop, roughed, before);
  EXPECT_LE(volume.left - noted_volume(roughed.plan), (kind == 2 ? 0.02 : 0.005) * volume.removable)
      << volume.left << " of " << volume.removable;
  // The same once more: nothing, and that is said.
  const CutPlan again = cuts_of(options, shop.site(roughed.left));
  if (pattern == LevelPattern::bounded) {  // what was left in corners may be tried again
    EXPECT_LE(length_of(again), 0.03 * length_of(roughed.plan));
    return;
  }
  EXPECT_TRUE(again.empty()) << again.cut_count() << " cuts, the first at "
                             << again.groups.front().cuts.front().points.front().transpose();
}

TEST(RoughedDemoParts, AreSafeAndLeaveNothingThatCouldGo) {
  for (const auto& [mesh, diameter] :
       {std::pair(demo::paddle_blade_mold(), 10.0), std::pair(demo::fairlead_punch(), 12.0),
        std::pair(demo::porthole_ring(), 12.0)}) {
    Tool tool = testing::flat_tool(diameter);
    tool.steepest_entry_deg = 5, tool.plunge_through_mm = 0.3;
    const Box3 box = mesh.box();
    const Box2 block(plan(box.min()).array() - 2, plan(box.max()).array() + 2);
    Shop shop{testing::exact_surface(make_contact_part(mesh), tool, {.allowance_mm = 0.3})};
    shop.area = rectangle(block);
    shop.tolerance = 0.05, shop.links.plane_z = box.max().z() + 8;
    const Stock before(Box3(Vec3(block.min().x(), block.min().y(), box.min().z()),
                            Vec3(block.max().x(), block.max().y(), box.max().z() + 1)),
                       0.6);
    RoughingOptions options{.stepdown_mm = 5, .stepover_mm = 0.45 * diameter};
    options.corner_radius_mm = 0.04 * diameter;
    options.helix_radius_mm = 0.25 * diameter, options.least_helix_mm = 0.075 * diameter;
    options.least_ramp_mm = 0.25 * diameter, options.may_leave = true;
    const Roughed roughed = shop.rough(options, before);
    expect_safe(roughed.path, shop.surface, before, 0.3);
    const Volumes volume = volumes(shop, roughed, before);
    EXPECT_LE(volume.left - noted_volume(roughed.plan), 0.005 * volume.removable) << diameter;
    EXPECT_TRUE(cuts_of(options, shop.site(roughed.left)).empty());
  }
}

INSTANTIATE_TEST_SUITE_P(Loops, RoughedParts,
                         ::testing::Combine(::testing::Range(0, 7), ::testing::Range(0, 3),
                                            ::testing::Values(LevelPattern::loops)));
INSTANTIATE_TEST_SUITE_P(Lines, RoughedParts,
                         ::testing::Combine(::testing::Range(0, 7), ::testing::Values(0),
                                            ::testing::Values(LevelPattern::lines)));

INSTANTIATE_TEST_SUITE_P(Bounded, RoughedParts,
                         ::testing::Combine(::testing::Range(0, 7), ::testing::Values(0),
                                            ::testing::Values(LevelPattern::bounded)));
INSTANTIATE_TEST_SUITE_P(BoundedRound, RoughedParts,
                         ::testing::Combine(::testing::Values(0, 2), ::testing::Values(1, 2),
                                            ::testing::Values(LevelPattern::bounded)));

/// The widest step along X that keeps more than so much above what the tool can reach, on some lines.
double widest_step(const Shop& shop, const Stock& left, double thicker_than) {
  const TipSurface& surface = shop.surface;
  const double radius = surface.cutter().radius();
  const auto reach = [&](const Vec2& p) {
    double lowest = surface.height(p);
    for (int k = 0; k < 16; ++k) {
      const Vec2 at = p + 0.95 * radius * Vec2(std::cos(k * 0.3927), std::sin(k * 0.3927));
      if (shop.area.contains(at))
        lowest = std::min(lowest, surface.height(at) + surface.cutter().height(0.95 * radius));
    }
    return lowest;
  };
  double widest = 0;
  for (int row = 12; row < left.rows(); row += 16)
    for (int column = 0, since = 0; column < left.columns(); ++column) {
      since = left.height(column, row) - reach(left.centre(column, row)) > thicker_than ? since + 1 : 0;
      widest = std::max(widest, since * left.cell_mm());
    }
  return widest;
}

/// A cone with a slope of 2 in 3: levels of 5 leave steps of 5, those in between take them down to 1.25.
TEST(LevelsBetween, LeaveNoStepThickerThanAskedForOnSlopes) {
  const Case cone{"cone", [](double x, double y) { return std::min(0.0, 3 - 2.0 / 3 * std::hypot(x, y)); }};
  const Shop shop{testing::exact_surface(part_of(cone), tool_of(0), {.allowance_mm = 0.2})};
  for (const LevelPattern pattern : {LevelPattern::loops, LevelPattern::bounded}) {
    RoughingOptions options{.stepdown_mm = 5, .stepover_mm = 2.6};
    options.pattern = pattern, options.may_leave = true, options.thinnest_mm = 0.4;
    const Stock before = Shop::block();
    const Roughed deep = shop.rough(options, before);
    options.step_on_slopes_mm = 1.25;
    const Roughed all = shop.rough(options, before);
    expect_safe(all.path, shop.surface, before, 0.3, pattern == LevelPattern::bounded);
    EXPECT_GT(widest_step(shop, deep.left, 2.5), 3) << "deep levels alone leave steps";
    EXPECT_LT(widest_step(shop, all.left, 1.25 + 0.35), 1) << "those in between take them down";
    double length = 0;
    for (const SettledValue& fact : all.plan.facts)
      if (fact.key == "length between") length = fact.value.value[0];
    EXPECT_GT(length, 100) << "what it costs is told";
    // From below upwards, and after the level below.
    std::vector<double> order;
    for (const CutGroup& group : all.plan.groups)
      if (order.empty() || order.back() != group.level_z) order.push_back(group.level_z);
    const auto deepest =
        std::find_if(order.begin(), order.end(), [](double z) { return std::abs(z - (kTop - 5)) < 1e-6; });
    ASSERT_GE(order.end() - deepest, 4);
    for (int k = 1; k < 4; ++k) EXPECT_NEAR(deepest[k], kTop - 5 + 1.25 * k, 1e-6);
    if (pattern == LevelPattern::loops) EXPECT_TRUE(cuts_of(options, shop.site(all.left)).empty());
  }
}

/// Two cones, cut one after the other: their levels count once.
TEST(LevelsBetween, AreCountedByHeight) {
  const Case cones{
      "cones", [](double x, double y) { return std::min(0.0, 2 - 1.2 * std::hypot(std::abs(x) - 14, y)); }};
  const Shop shop{testing::exact_surface(part_of(cones), tool_of(0), {.allowance_mm = 0.2})};
  RoughingOptions options{.stepdown_mm = 4, .stepover_mm = 2.6};
  options.may_leave = true, options.thinnest_mm = 0.4, options.step_on_slopes_mm = 1;
  const Roughed roughed = shop.rough(options, Shop::block());
  std::int64_t told = 0;
  for (const SettledValue& fact : roughed.plan.facts)
    if (fact.key == "levels" || fact.key == "levels between")
      told += static_cast<std::int64_t>(fact.value.value[0]);
  std::vector<double> all = testing::levels_of(roughed.plan);
  std::sort(all.begin(), all.end());
  all.erase(std::unique(all.begin(), all.end()), all.end());
  EXPECT_GT(all.size(), 6U);
  EXPECT_EQ(told, static_cast<std::int64_t>(all.size()));
  EXPECT_GT(roughed.plan.groups.size(), all.size()) << "more than one area at some heights";
}

/// On a staircase of upright walls there is nothing to add.
TEST(LevelsBetween, AddNothingOnUprightWalls) {
  const Case stairs{"stairs", [](double x, double) { return x > 8 ? -10.0 : x > -8 ? -5.0 : 0.0; }};
  const Shop shop{testing::exact_surface(part_of(stairs), tool_of(0), {.allowance_mm = 0.2})};
  RoughingOptions options{.stepdown_mm = 5, .stepover_mm = 2.6};
  options.may_leave = true, options.step_on_slopes_mm = 1;
  const Roughed roughed = shop.rough(options, Shop::block());
  for (const SettledValue& fact : roughed.plan.facts) EXPECT_NE(fact.key, "levels between");
}

Tool with_holder(double stickout) {
  Tool tool = tool_of(0);
  tool.flute_length_mm = stickout - 1, tool.stickout_mm = stickout, tool.shank_diameter_mm = 6;
  tool.holder = {{20, 14, 14}};
  tool.holder_clearance_mm = 0.3;
  return tool;
}

/// Bodies above the flutes meet no material on the whole way.
void expect_clear_of_material(const Toolpath& path, const Tool& tool, Stock stock) {
  const Profile cutter[] = {profile_of(tool)};
  std::vector<TestedBody> bodies;
  for (const ToolSection& section : sections_above(completed(tool)))
    if (section.profile.radius() > cutter[0].radius())
      bodies.push_back({0, section.profile, section.above_tip_mm, true});
  ASSERT_FALSE(bodies.empty());
  std::vector<SweptMove> moves;
  Vec3 at = path.start;
  for (const Move& move : path.moves)
    moves.push_back({at, move.to, 0, move.kind != MoveKind::rapid}), at = move.to;
  CarveLog log;
  carve(stock, cutter, moves, &log, {}, bodies);
  EXPECT_TRUE(log.meetings.empty()) << log.meetings.size() << ", the first at "
                                    << log.meetings.front().at.transpose();
}

/// A short tool in a deep pocket cuts what its holder lets it, a long one exactly the rest: together what the
/// long one alone leaves.
TEST(SharedReach, ShortAndLongToolTogetherLeaveWhatTheLongOneLeaves) {
  const Case pocket{"deep pocket", [](double x, double y) {
                      if (!in_box(x, y, 20, 16)) return 0.0;
                      return std::hypot(x + 8, y) < 5 ? -2.0 : -11.5;
                    }};
  const auto part = part_of(pocket);
  const Tool long_tool = with_holder(30), short_tool = with_holder(7);
  const Shop by_long{testing::exact_surface(part, long_tool, {.allowance_mm = 0.2})},
      by_short{testing::exact_surface(part, short_tool, {.allowance_mm = 0.2})};
  for (const LevelPattern pattern : {LevelPattern::loops, LevelPattern::bounded}) {
    RoughingOptions options{.stepdown_mm = 2, .stepover_mm = 2.6};
    options.pattern = pattern, options.may_leave = true;
    options.helix_radius_mm = 1.5, options.least_helix_mm = 0.45, options.least_ramp_mm = 1.5;
    const Stock before = Shop::block();
    const Roughed alone = by_long.rough(options, before);
    const Roughed first = by_short.rough(options, before);
    const Roughed rest = by_long.rough(options, first.left);
    expect_clear_of_material(first.path, short_tool, before);
    expect_clear_of_material(rest.path, long_tool, first.left);
    ASSERT_FALSE(first.plan.empty());
    ASSERT_FALSE(rest.plan.empty());
    EXPECT_GT(first.left.volume_mm3(), alone.left.volume_mm3() * 1.02) << "the short one does not reach all";
    EXPECT_NEAR(rest.left.volume_mm3(), alone.left.volume_mm3(),
                0.005 * (before.volume_mm3() - alone.left.volume_mm3()));
  }
}

}  // namespace
}  // namespace yardpass
