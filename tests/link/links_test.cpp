// What lies between cuts, by its promises: nothing gouged, no rapid in material, nothing lost, no time lost.
#include <gtest/gtest.h>

#include <cmath>
#include <map>
#include <numbers>
#include <optional>

#include "support/nasty.h"
#include "support/planning.h"
#include "support/rng.h"
#include "yardpass/link/link.h"

namespace yardpass {
namespace {

using testing::Rng;

constexpr double kPi = std::numbers::pi;

double seconds_of(const Toolpath& path, const LinkOptions& options) {
  double seconds = 0;
  Vec3 at = path.start;
  for (const Move& move : path.moves) {
    const Vec3 way = (move.to - at).cwiseAbs();
    // Rapids from rest to rest; so short ones never get up to speed.
    const double rapid = way.cwiseQuotient(options.rapid_mm_min).maxCoeff() * 60;
    const double up = way.norm() > 0 ? way.norm() / rapid / options.acceleration_mm_s2 : 0;
    seconds += move.kind != MoveKind::rapid ? way.norm() / move.feed_mm_min * 60
               : rapid > up                 ? rapid + up
                                            : 2 * std::sqrt(way.norm() / options.acceleration_mm_s2);
    at = move.to;
  }
  return seconds;
}

/// From the plane and back to it, off the part, and no rapid in the material as it then is.
void expect_clean(const Toolpath& path, const TipSurface& surface, Stock stock, const LinkOptions& options) {
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

/// Every point of every cut is run, within the hundredth of a millimetre that controls like, the way round
/// that is allowed.
void expect_all_cut(const CutPlan& plan, const Toolpath& path, bool may_turn) {
  std::vector<Polyline3> run(1);
  Vec3 from = path.start;
  for (const Move& move : path.moves) {
    const bool cuts = move.kind == MoveKind::cut || move.kind == MoveKind::plunge;
    if (!cuts && !run.back().empty()) run.emplace_back();
    if (cuts && run.back().empty()) run.back().push_back(from);
    if (cuts) run.back().push_back(move.to);
    from = move.to;
  }
  /// Where a line first and last comes by a place, as counts of pieces; nothing if it does not.
  const auto places_on = [](const Polyline3& line, const Vec3& p) {
    std::optional<std::pair<double, double>> places;
    for (std::size_t i = 0; i + 1 < line.size(); ++i)
      if (distance_to_segment(p, line[i], line[i + 1]) < 0.01) {
        const double at =
            static_cast<double>(i) + (p - line[i]).norm() / std::max(1e-9, (line[i + 1] - line[i]).norm());
        if (!places) places.emplace(at, at);
        places->second = at;
      }
    return places;
  };
  std::size_t missing = 0;
  for (const CutGroup& group : plan.groups)
    for (const Cut& cut : group.cuts) {
      const bool found = std::any_of(run.begin(), run.end(), [&](const Polyline3& line) {
        const auto first = places_on(line, cut.points.front()), last = places_on(line, cut.points.back());
        return first && last && (may_turn || first->first <= last->second) &&
               std::all_of(cut.points.begin(), cut.points.end(),
                           [&](const Vec3& p) { return places_on(line, p).has_value(); });
      });
      missing += !found;
    }
  EXPECT_EQ(missing, 0u);
}

Tool any_tool(Rng& rng) {
  Tool tool = testing::ball_tool(rng.uniform(1, 5));
  switch (rng.pick(5)) {
    case 0:
      tool.shape = Shape::flat;
      break;
    case 1:
      tool.shape = Shape::bull, tool.corner_radius_mm = 0.2 * tool.diameter_mm;
      break;
    case 2:
      tool.shape = Shape::taper, tool.taper_angle_deg = 8;
      tool.diameter_mm *= 0.5, tool.corner_radius_mm = 0.2 * tool.diameter_mm;
      tool.shank_diameter_mm = 6;
      break;
    default:
      break;
  }
  tool.steepest_entry_deg = 90;
  tool.flute_length_mm = 10, tool.stickout_mm = 14, tool.shank_diameter_mm = 6;
  tool.holder = {{20, 12, 16}};
  tool.link_feed_mm_min = rng.uniform(500, 4000);
  return tool;
}

Lead any_lead(Rng& rng, double size) {
  Lead lead;
  lead.shape = static_cast<LeadShape>(rng.pick(4));
  lead.plane = static_cast<LeadPlane>(rng.pick(3));
  lead.radius_mm = lead.length_mm = rng.uniform(0.1, 0.6) * size;
  lead.sweep_deg = rng.uniform(20, 180);
  lead.angle_deg = rng.uniform(0, 90);
  return lead;
}

TEST(Links, RandomCutsOnNastyPartsAreCleanAndNoSlowerThanByThePlane) {
  const int rounds = testing::rounds(60);
  for (int seed = 0; seed < rounds; ++seed) {
    SCOPED_TRACE(seed);
    Rng rng(static_cast<std::uint64_t>(seed) + 1800);
    const Mesh mesh = testing::nasty_part(rng, seed % testing::kNastyKinds);
    const auto part = make_contact_part(mesh);
    const ToolSurface surface =
        testing::exact_surface(part, any_tool(rng), {.allowance_mm = rng.pick(2) * 0.1});
    Box3 block = mesh.box();
    block.min().array() -= 1, block.max().array() += 1;
    const double size = plan(block).sizes().maxCoeff();
    const Stock stock(block, std::max(size / 150, 0.02));
    ParallelOptions options;
    options.stepover_mm = size / (5 + static_cast<double>(rng.pick(12)));
    options.angle_deg = rng.uniform(0, 180);
    options.direction = rng.pick(2) ? PassDirection::zigzag : PassDirection::one_way;
    const Region area = rectangle(plan(block));
    CutPlan plan = cuts_of(options, {surface, area, nullptr, 0.02});
    if (plan.empty()) continue;
    LinkOptions links;
    links.plane_z = block.max().z() + rng.uniform(2, 10);
    links.steps.ladder = {rng.uniform(0, 2) * options.stepover_mm, rng.uniform(0, 4) * options.stepover_mm,
                          rng.pick(3) ? 1e9 : size / 3};
    links.steps.leads = {any_lead(rng, surface.tool().diameter_mm),
                         any_lead(rng, surface.tool().diameter_mm)};
    if (rng.pick(2)) links.gaps = Between{{size, size, size}, {}};
    links.dog_leg_rapids = rng.pick(3) == 0;
    const LinkedCuts linked = link_cuts(plan, surface, stock, links);
    expect_clean(linked.path, surface, stock, links);
    expect_all_cut(plan, linked.path, options.direction == PassDirection::zigzag);
    // Leads that are asked for may be longer than none.
    LinkOptions bare = links;
    bare.steps.leads = {};
    const LinkedCuts by_plane = link_cuts(plan, surface, stock, plain(links));
    EXPECT_LE(seconds_of(link_cuts(plan, surface, stock, bare).path, links),
              seconds_of(by_plane.path, links) * (1 + 1e-9));
  }
}

// A floor with two posts: cuts lie between them and on either side.
class LinksOnFloor : public ::testing::Test {
 protected:
  LinksOnFloor() {
    tool_.steepest_entry_deg = 90;
    links_.plane_z = 20;
  }
  static double ground(double x, double) { return std::abs(x) < 2 ? 8 : 0; }
  std::shared_ptr<const ContactPart> flat_ = make_contact_part(
      testing::sheet(Box2(Vec2(-40, -40), Vec2(40, 40)), 2, 2, [](double, double) { return 0.0; }));
  std::shared_ptr<const ContactPart> ridge_ =
      make_contact_part(testing::sheet(Box2(Vec2(-40, -40), Vec2(40, 40)), 80, 2, ground));
  Stock bare_{Box3(Vec3(-40, -40, -5), Vec3(40, 40, 0)), 0.25};
  Tool tool_ = testing::ball_tool(6);
  LinkOptions links_;

  [[nodiscard]] Toolpath path(const std::shared_ptr<const ContactPart>& part, const CutPlan& plan) const {
    return link_cuts(plan, testing::exact_surface(part, tool_), bare_, links_).path;
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

TEST_F(LinksOnFloor, ALiftIsJustHighEnoughOverWhatIsBetween) {
  links_.steps.ladder = {0, 0, 1e9};
  const Toolpath over = path(ridge_, lines({{{-20, 0, 0}, {-10, 0, 0}}, {{10, 0, 0}, {20, 0, 0}}}, false));
  double highest = 0;
  for (const Move& move : over.moves)
    if (&move != &over.moves.back()) highest = std::max(highest, move.to.z());
  EXPECT_NEAR(highest, 8 + links_.feed_height_mm, 1e-6) << "the ridge is 8 high";
  links_.steps.ladder.lift_mm = 10;
  for (const Move& move :
       path(ridge_, lines({{{-20, 0, 0}, {-10, 0, 0}}, {{10, 0, 0}, {20, 0, 0}}}, false)).moves)
    highest = std::max(highest, move.to.z());
  EXPECT_EQ(highest, links_.plane_z) << "too far for a lift";
}

TEST_F(LinksOnFloor, AHopIsSmoothAtItsEndsAndLow) {
  links_.steps.ladder = {0, 10, 0};
  const Toolpath hop = path(flat_, lines({{{-20, 0, 0}, {20, 0, 0}}, {{20, 2, 0}, {-20, 2, 0}}}, false));
  Polyline3 line;
  Vec3 at = hop.start;
  for (const Move& move : hop.moves) {
    if (move.kind == MoveKind::link) {
      if (line.empty()) line.push_back(at);
      line.push_back(move.to);
    }
    at = move.to;
  }
  ASSERT_GT(line.size(), 8u);
  const auto turn = [](const Vec3& a, const Vec3& b) {
    return std::acos(a.normalized().dot(b.normalized()));
  };
  EXPECT_LT(turn(line[1] - line[0], {1, 0, 0}), 5 * kPi / 180);
  EXPECT_LT(turn(line.back() - line[line.size() - 2], {-1, 0, 0}), 5 * kPi / 180);
  double steepest = 0, shortest = 1e9;
  for (std::size_t i = 1; i < line.size(); ++i) {
    EXPECT_LT(line[i].z(), 3) << "below a radius";
    shortest = std::min(shortest, (line[i] - line[i - 1]).norm());
    if (i > 1) steepest = std::max(steepest, turn(line[i] - line[i - 1], line[i - 1] - line[i - 2]));
  }
  EXPECT_LT(steepest, 25 * kPi / 180);
  EXPECT_GT(shortest, 0.01);
}

TEST_F(LinksOnFloor, AHopIsNoCutThroughWhatStandsBetween) {
  links_.steps.ladder = {0, 30, 1e9};
  const CutPlan two = lines({{{-20, 0, 0}, {-8, 0, 0}}, {{8, 0, 0}, {20, 0, 0}}}, false);
  const auto hops = [&](double thick) {
    Stock stock(Box3(Vec3(-40, -40, -5), Vec3(40, 40, 4)), 0.25);
    for (int row = 0; row < stock.rows(); ++row)
      for (int column = 0; column < stock.columns(); ++column)
        stock.set_height(column, row, std::abs(stock.centre(column, row).x()) < 2 ? thick : 0);
    const LinkedCuts linked = link_cuts(two, testing::exact_surface(flat_, tool_), stock, links_);
    expect_clean(linked.path, testing::exact_surface(flat_, tool_), stock, links_);
    return linked.counts.hops;
  };
  EXPECT_EQ(hops(0.3), 1) << "no more than finishing meets";
  EXPECT_EQ(hops(3), 0) << "a bar of 3";
}

// Beside a wall a ramp begins above what is under the tool, not at the top of the wall.
TEST_F(LinksOnFloor, RampsBeginJustAboveWhatIsUnderTheTool) {
  tool_ = testing::flat_tool(6);
  tool_.steepest_entry_deg = 5;
  Cut along{.points = {{2 + 3 + 0.05, -15, 0}, {2 + 3 + 0.05, 15, 0}}, .entry = Entry::ramp};
  Stock stock(Box3(Vec3(-40, -40, -5), Vec3(40, 40, 8)), 0.25);
  for (int row = 0; row < stock.rows(); ++row)
    for (int column = 0; column < stock.columns(); ++column)
      stock.set_height(column, row, stock.centre(column, row).x() < 2.04 ? 8 : 0.5);
  const LinkedCuts linked = link_cuts(plan_of({along}), testing::exact_surface(ridge_, tool_), stock, links_);
  expect_clean(linked.path, testing::exact_surface(ridge_, tool_), stock, links_);
  double highest = 0;
  for (const Move& move : linked.path.moves)
    if (move.kind == MoveKind::ramp) highest = std::max(highest, move.to.z());
  EXPECT_LT(highest, 0.61);
  EXPECT_GT(measure(linked.path).ramp_mm, 5) << "down through the half millimetre";
}

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
  links_.approach = {{-30, 0, 5}, {30, 0, 5}};
  const ToolSurface surface = testing::exact_surface(ridge_, tool_);
  try {
    (void)link_cuts(lines({{{10, 0, 0}, {20, 0, 0}}}, false), surface, bare_, links_);
    FAIL() << "through the ridge";
  } catch (const Error& error) {
    EXPECT_STREQ(error.what(), "way in: from X -30 Y 0 Z 5 to X 30 Y 0 Z 5 is not free of the part");
  }
}

// A scan's small steps are no reason to change the feed a thousand times.
TEST_F(LinksOnFloor, FeedChangesAreWorthIt) {
  Rng rng(5);
  Polyline3 line{{-30, 0, 3}};
  for (int k = 0; k < 600; ++k)
    line.push_back(line.back() + Vec3(0.1, 0, 0)),
        line.push_back(line.back() + Vec3(0, 0, (k % 2 ? -1 : 1) * 0.002));
  const auto changes = [](const Toolpath& path) {
    int count = 0;
    for (std::size_t i = 1; i < path.moves.size(); ++i) {
      const MoveKind a = path.moves[i - 1].kind, b = path.moves[i].kind;
      const auto of_cut = [](MoveKind kind) { return kind == MoveKind::cut || kind == MoveKind::plunge; };
      count += of_cut(a) && of_cut(b) && a != b;
    }
    return count;
  };
  EXPECT_LE(changes(path(flat_, lines({line}, false))), 1);
  // Stairs down: each fall is worth it, but not two changes within a radius.
  Polyline3 stairs{{-30, 0, 15}};
  for (int k = 0; k < 15; ++k) {
    stairs.push_back(stairs.back() + Vec3(0.4, 0, 0));
    stairs.push_back(stairs.back() + Vec3(0, 0, -1));
  }
  stairs.push_back(stairs.back() + Vec3(10, 0, 0));
  EXPECT_LE(changes(path(flat_, lines({stairs}, false))), 3);
}

TEST_F(LinksOnFloor, NoBlockIsShorterThanAHundredth) {
  Polyline3 line{{-30, 0, 0}};
  for (int k = 1; k < 3000; ++k) line.push_back({-30 + 0.004 * k, 0, k % 2 ? 0.0004 : 0});
  line.push_back({20, 0, 0});
  const Toolpath one = path(flat_, lines({line}, false));
  Vec3 at = one.start;
  for (const Move& move : one.moves) {
    EXPECT_GE((move.to - at).norm(), 0.01);
    at = move.to;
  }
}

TEST_F(LinksOnFloor, WrongOptionsAreRefused) {
  const CutPlan one = lines({{{-20, 0, 0}, {20, 0, 0}}}, false);
  const auto refused = [&](LinkOptions links) {
    links.plane_z = 20;
    EXPECT_THROW((void)link_cuts(one, testing::exact_surface(flat_, tool_), bare_, links), Error);
  };
  LinkOptions wrong;
  wrong.steps.ladder.hop_mm = -1;
  refused(wrong);
  wrong = {};
  wrong.steps.leads.in.radius_mm = 0;
  refused(wrong);
  wrong = {};
  wrong.gaps = Between{};
  wrong.gaps->leads.out.sweep_deg = 200;
  refused(wrong);
  wrong = {};
  wrong.rapid_mm_min.x() = 0;
  refused(wrong);
}

}  // namespace
}  // namespace yardpass
