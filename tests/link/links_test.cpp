// What lies between cuts, by its promises: nothing gouged, no rapid in material, nothing lost, no time lost.
#include <gtest/gtest.h>

#include <cmath>
#include <optional>

#include "link/links_on_floor.h"
#include "support/rng.h"

namespace yardpass {
namespace {

using testing::expect_clean;
using testing::kPi;
using testing::LinksOnFloor;
using testing::Rng;

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
