// Ways in and out of cuts, and their order.
#include <algorithm>
#include <map>

#include "link/links_on_floor.h"
#include "support/rng.h"

namespace yardpass {
namespace {

using testing::expect_clean;
using testing::kPi;
using testing::LinksOnFloor;
using testing::Rng;

TEST_F(LinksOnFloor, LeadsRunIntoTheCutWithoutACorner) {
  links_.steps.ladder = {0, 0, 1e9};
  links_.steps.leads.in = {.shape = LeadShape::arc, .radius_mm = 2};
  links_.steps.leads.out = {.shape = LeadShape::straight, .length_mm = 3, .angle_deg = 30};
  const Toolpath one = path(flat_, lines({{{-20, 0, 0}, {20, 0, 0}}}, false));
  std::vector<Polyline3> leads(1);
  Vec3 at = one.start;
  for (const Move& move : one.moves) {
    if (move.kind != MoveKind::lead && !leads.back().empty()) leads.emplace_back();
    if (move.kind == MoveKind::lead) {
      if (leads.back().empty()) leads.back().push_back(at);
      leads.back().push_back(move.to);
    }
    at = move.to;
  }
  ASSERT_GE(leads.size(), 2u);
  for (const Vec3& p : leads[0]) EXPECT_NEAR((p - Vec3(-20, 0, 2)).norm(), 2, 1e-9) << "on the circle";
  EXPECT_LT((leads[0].front() - Vec3(-22, 0, 2)).norm(), 1e-9) << "a quarter of it";
  EXPECT_EQ(leads[0].back(), Vec3(-20, 0, 0));
  ASSERT_EQ(leads[1].size(), 2u);
  EXPECT_LT((leads[1].back() - Vec3(20 + 3 * std::cos(kPi / 6), 0, 1.5)).norm(), 1e-9);
}

TEST_F(LinksOnFloor, ALeadThatWouldEnterTheWallIsSmallerOrElsewhere) {
  links_.steps.leads.in =
      links_.steps.leads.out = {.shape = LeadShape::arc, .plane = LeadPlane::level, .radius_mm = 2};
  // Along the wall of the ridge, which stands on its left: the arc must swing to the right.
  const double beside = 2 + 3 + 0.001;
  const ToolSurface surface = testing::exact_surface(ridge_, tool_);
  const Toolpath along =
      link_cuts(lines({{{beside, -10, 0}, {beside, 10, 0}}}, false), surface, bare_, links_).path;
  double least = 1e9, most = -1e9;
  for (const Move& move : along.moves)
    least = std::min(least, move.to.x()), most = std::max(most, move.to.x());
  EXPECT_GE(least, beside - 1e-9);
  EXPECT_GT(most, beside + 0.4) << "there is a lead, away from the wall";
  expect_clean(along, surface, bare_, links_);
}

TEST_F(LinksOnFloor, ClosedCutsBeginWhereTheLeadFitsAndOverlap) {
  links_.steps.leads.in = links_.steps.leads.out = {.shape = LeadShape::arc, .radius_mm = 1};
  Cut loop{.points = {{10, -10, 0}, {30, -10, 0}, {30, 10, 0}, {10, 10, 0}}, .closed = true};
  const Toolpath round = path(flat_, plan_of({loop}));
  double cut = 0;
  Vec3 at = round.start;
  for (const Move& move : round.moves) {
    if (move.kind == MoveKind::cut) cut += (move.to - at).norm();
    at = move.to;
  }
  EXPECT_NEAR(cut, 81, 1e-6) << "once round and a radius over the start";
}

// In cells of a fortieth of a stepover of 1: where a ring closes it keeps what it keeps elsewhere.
TEST_F(LinksOnFloor, TheSeamOfAClosedCutLeavesNoMark) {
  links_.steps.leads.in = links_.steps.leads.out = {.shape = LeadShape::arc, .radius_mm = 1};
  constexpr double kRadius = 6;
  Cut ring{.points = {}, .closed = true};
  for (int k = 0; k < 720; ++k)
    ring.points.emplace_back(kRadius * std::cos(k * kPi / 360), kRadius * std::sin(k * kPi / 360), 0);
  const Stock fine(Box3(Vec3(-9, -9, -1), Vec3(9, 9, 0.3)), 0.025);
  const LinkedCuts linked = link_cuts(plan_of({ring}), testing::exact_surface(flat_, tool_), fine, links_);
  Vec3 at = linked.path.start, seam = at;
  for (const Move& move : linked.path.moves) {
    if (move.kind == MoveKind::lead) seam = move.to;
    if (move.kind == MoveKind::cut) break;
    at = move.to;
  }
  ASSERT_NEAR(plan(seam).norm(), kRadius, 1e-3);
  // By distance from the middle, here and a quarter round.
  const auto height = [&](double radius, double angle) {
    const Vec2 place(radius * std::cos(angle), radius * std::sin(angle));
    return linked.stock.heights()[*linked.stock.cell_at(place)];
  };
  const double here = std::atan2(seam.y(), seam.x());
  for (double radius = kRadius - 1; radius <= kRadius + 1; radius += 0.02)
    for (double off = -0.4; off <= 0.4; off += 0.01) {
      const double elsewhere = height(radius, here + kPi / 2 + off);
      // Cells lie within 0.018 of the place that is asked for, on a slope of up to a third.
      EXPECT_NEAR(height(radius, here + off), elsewhere, links_.tolerance_mm + 0.006) << radius << " " << off;
    }
}

TEST_F(LinksOnFloor, TheOrderIsFreeOnlyWhereThePlanSaysSo) {
  std::vector<Polyline3> many;
  for (int k = 0; k < 20; ++k) {
    const double y = (k * 7) % 20;
    many.push_back({{-20, y, 0}, {-10, y, 0}});
    many.push_back({{10, y, 0}, {20, y, 0}});
  }
  links_.steps.ladder = {3, 0, 1e9};
  const auto passes = [](const Toolpath& path) {
    std::vector<std::int32_t> order;
    for (const CutOrigin& cut : path.cuts) order.push_back(cut.pass);
    return order;
  };
  std::vector<std::int32_t> planned(many.size());
  for (std::size_t i = 0; i < planned.size(); ++i) planned[i] = static_cast<std::int32_t>(i) + 1;
  EXPECT_EQ(passes(path(flat_, lines(many, false))), planned);
  const Toolpath free = path(flat_, lines(many, true));
  EXPECT_NE(passes(free), planned);
  std::vector<std::int32_t> sorted = passes(free);
  std::sort(sorted.begin(), sorted.end());
  EXPECT_EQ(sorted, planned) << "each once";
  EXPECT_LE(measure(free).retracts, 3) << "one side after the other";
  links_.order = CutOrder::as_planned;
  EXPECT_EQ(passes(path(flat_, lines(many, true))), planned);
  links_.order = CutOrder::quickest;
  CutPlan directed = lines(many, true);
  directed.groups[0].keep_direction = true;
  const Toolpath one_way = path(flat_, directed);
  Vec3 at = one_way.start;
  for (const Move& move : one_way.moves) {
    if (move.kind == MoveKind::cut) EXPECT_GT(move.to.x(), at.x()) << "turned round";
    at = move.to;
  }
  links_.start_near = Vec2(15, 19);
  const Toolpath near = path(flat_, lines(many, true));
  EXPECT_GT(near.start.x(), 9);
  EXPECT_GT(near.start.y(), 17);
}

TEST_F(LinksOnFloor, GroupsComeAfterWhatTheyWaitFor) {
  CutPlan plan;
  for (int k = 0; k < 6; ++k) {
    const double x = (k * 5) % 6;
    plan.groups.push_back({.cuts = {{.points = {{4 * x, 0, 0}, {4 * x, 3, 0}}, .pass = k + 1}}, .after = {}});
  }
  plan.keep_group_order = false;
  plan.groups[5].after = {1};
  plan.groups[3].after = {2};
  const OrderedPlan order = ordered(plan, {});
  EXPECT_LE(order.after_s, order.before_s);
  std::map<std::int32_t, std::int32_t> place;
  for (std::size_t g = 0; g < order.plan.groups.size(); ++g) {
    place[order.plan.groups[g].cuts[0].pass] = static_cast<std::int32_t>(g);
    for (const std::int32_t before : order.plan.groups[g].after)
      EXPECT_LT(before, static_cast<std::int32_t>(g));
  }
  EXPECT_LT(place[2], place[6]);
  EXPECT_LT(place[3], place[4]);
}

TEST_F(LinksOnFloor, OrderIsNeverWorseThanThePlan) {
  for (int seed = 0; seed < testing::rounds(200); ++seed) {
    Rng rng(static_cast<std::uint64_t>(seed) + 77);
    CutPlan plan;
    for (int g = 0, groups = 1 + rng.pick(3); g < groups; ++g) {
      CutGroup group;
      group.keep_order = rng.pick(4) == 0, group.keep_direction = rng.pick(2);
      for (int k = 0, cuts = 1 + rng.pick(30); k < cuts; ++k) {
        Cut cut;
        const Vec3 at(rng.uniform(0, 60), rng.uniform(0, 60), rng.uniform(0, 3));
        cut.closed = rng.pick(4) == 0;
        for (std::size_t i = 0; i < 3; ++i)
          cut.points.push_back(at + Vec3(rng.uniform(-5, 5), rng.uniform(-5, 5), 0));
        group.cuts.push_back(cut);
      }
      plan.groups.push_back(std::move(group));
    }
    const OrderedPlan order = ordered(plan, {});
    EXPECT_LE(order.after_s, order.before_s);
    EXPECT_EQ(order.plan.cut_count(), plan.cut_count());
    for (std::size_t g = 0; g < plan.groups.size(); ++g) {
      if (!plan.groups[g].keep_order) continue;
      for (std::size_t k = 0; k < plan.groups[g].cuts.size(); ++k)
        if (!plan.groups[g].cuts[k].closed)
          EXPECT_EQ(order.plan.groups[g].cuts[k].points, plan.groups[g].cuts[k].points);
    }
  }
}

TEST_F(LinksOnFloor, ApproachAndExitLeadTheToolThroughTheirPlaces) {
  links_.approach = {{-30, 30, 5}, {-30, 0, 5}};
  links_.exit = {{30, 0, 4}};
  const Toolpath through = path(flat_, lines({{{-20, 0, 0}, {20, 0, 0}}}, false));
  EXPECT_EQ(plan(through.start), Vec2(-30, 30));
  const auto visits = [&](const Vec3& place) {
    return std::any_of(through.moves.begin(), through.moves.end(),
                       [&](const Move& move) { return move.to == place; });
  };
  EXPECT_TRUE(visits(links_.approach[0]) && visits(links_.approach[1]) && visits(links_.exit[0]));
  // Whatever the way in of the cut itself.
  const CutPlan ramped = plan_of({{.points = {{-20, 0, 0}, {20, 0, 0}}, .entry = Entry::ramp}});
  EXPECT_EQ(plan(path(flat_, ramped).start), Vec2(-30, 30));
  links_.approach = {{-30, 0, 5}, {30, 0, 5}};
  const ToolSurface surface = testing::exact_surface(ridge_, tool_);
  try {
    (void)link_cuts(lines({{{10, 0, 0}, {20, 0, 0}}}, false), surface, bare_, links_);
    FAIL() << "through the ridge";
  } catch (const Error& error) {
    EXPECT_STREQ(
        error.what(),
        "way in: from X -30 Y 0 Z 5 to X 30 Y 0 Z 5 is not free of the part, or leads over what is kept out");
  }
}

}  // namespace
}  // namespace yardpass
