// Links: what order, low lifts and smooth links save against the clearance plane every time, and what they
// cost beside planning the same passes.
#include <cmath>
#include <random>
#include <string>

#include "bench.h"
#include "ground.h"
#include "parts.h"
#include "sheet.h"
#include "yardpass/link/link.h"
#include "yardpass/plan/trim.h"
#include "yardpass/strategy/parallel.h"

using namespace yardpass;
using namespace yardpass::bench;

namespace {

struct Air {
  double seconds = 0, all = 0, cut_m = 0;
  std::int64_t rises = 0;
};

/// Without speeding up and slowing down, but with 0.05 s for every stop between feed and rapid.
Air air_of(const Toolpath& path, const LinkOptions& options) {
  Air air;
  Vec3 at = path.start;
  bool rapid = true;
  for (const Move& move : path.moves) {
    const Vec3 way = (move.to - at).cwiseAbs();
    const bool is_rapid = move.kind == MoveKind::rapid;
    const double seconds = is_rapid ? way.cwiseQuotient(options.rapid_mm_min).maxCoeff() * 60
                                    : way.norm() / move.feed_mm_min * 60;
    air.all += seconds + (is_rapid != rapid ? 0.05 : 0);
    if (move.kind == MoveKind::cut) air.cut_m += way.norm() / 1000;
    if (is_rapid || move.kind == MoveKind::link) air.seconds += seconds + (is_rapid != rapid ? 0.05 : 0);
    air.rises += is_rapid && move.to.z() > at.z();
    rapid = is_rapid;
    at = move.to;
  }
  return air;
}

/// Every move at feed free of the part, and no rapid in the material as it then is.
void prove(const Toolpath& path, const ToolSurface& surface, Stock stock) {
  Vec3 at = path.start;
  std::vector<SweptMove> moves;
  for (const Move& move : path.moves) {
    require(surface.clearance(at, move.to, 0).room >= -1e-6, "a move is not free of the part");
    moves.push_back({at, move.to, 0, move.kind != MoveKind::rapid});
    at = move.to;
  }
  CarveLog log;
  carve(stock, std::span<const Profile>(&surface.cutter(), 1), moves, &log);
  for (const double entered : log.entered) require(entered <= 0, "a rapid enters material");
}

void run(const std::string& name, const Mesh& mesh, const Tool& tool, const ParallelOptions& options,
         const std::optional<SlopeLimits>& slope) {
  const auto part = make_contact_part(mesh);
  const ToolSurface surface(part, tool);
  Box3 block = mesh.box();
  block.max().z() += 0.4;
  // Roughed: 0.3 mm stand on the part.
  Stock stock(block, 0.25);
  const TipSurface needle(part, Profile::needle());
  for (int row = 0; row < stock.rows(); ++row)
    for (int column = 0; column < stock.columns(); ++column)
      stock.set_height(column, row,
                       std::max(block.min().z(), needle.height(stock.centre(column, row)) + 0.3));
  Bounds bounds{rectangle(plan(mesh.box()))};
  bounds.slope = slope;
  double plan_s = now_s();
  const CutPlan plan =
      cuts_within(bounds, surface, nullptr, 0.005, [&](const Site& site, const Progress& progress) {
        return cuts_of(options, site, progress);
      }).plan;
  plan_s = now_s() - plan_s;
  LinkOptions links;
  links.plane_z = block.max().z() + 5;
  links.steps.ladder = {2.5 * options.stepover_mm, 2 * tool.diameter_mm, 1e5};
  links.steps.leads.in = {.shape = LeadShape::arc, .radius_mm = 0.2 * tool.diameter_mm};
  links.steps.leads.out = links.steps.leads.in;
  double link_s = now_s();
  const LinkedCuts linked = link_cuts(plan, surface, stock, links);
  link_s = now_s() - link_s;
  double plain_s = now_s();
  const LinkedCuts by_plane = link_cuts(plan, surface, stock, plain(links));
  plain_s = now_s() - plain_s;
  prove(linked.path, surface, stock);
  const Air before = air_of(by_plane.path, links), after = air_of(linked.path, links);
  require(after.all <= before.all, "no slower than the plain linker");
  const LinkCounts& n = linked.counts;
  std::printf("%s: %lld pieces, %.1f m; planned in %.2f s, linked in %.2f s (plain: %.2f s)\n", name.c_str(),
              static_cast<long long>(plan.cut_count()), after.cut_m, plan_s, link_s, plain_s);
  std::printf("  stay down %lld, hops %lld, lifts %lld, planes %lld; leads %lld of %lld\n",
              static_cast<long long>(n.stay_down), static_cast<long long>(n.hops),
              static_cast<long long>(n.lifts), static_cast<long long>(n.planes),
              static_cast<long long>(n.leads), static_cast<long long>(n.leads_wanted));
  std::printf("  in the air: %.1f s of %.1f s, plain %.1f s of %.1f s\n", after.seconds, after.all,
              before.seconds, before.all);
  row("  time in the air against the plain linker", after.seconds / before.seconds, "x", 0.5, 0.25, false);
  row("  rises a metre of cut", static_cast<double>(after.rises) / after.cut_m, "", 0.5, 0.25, false);
  row("  rises against the plain linker",
      static_cast<double>(after.rises) / static_cast<double>(before.rises), "x", 0.25, 0.1, false);
  row("  linking against planning, time", link_s / plan_s, "x", 1, 0.5, false);
}

void order_many() {
  std::mt19937 random(7);
  const auto any = [&](double size) { return size * (static_cast<double>(random()) / 4294967296.0); };
  CutGroup group;
  group.keep_order = group.keep_direction = false;
  for (int k = 0; k < 10000; ++k) {
    const Vec3 at(any(300), any(200), 0);
    group.cuts.push_back({.points = {at, at + Vec3(any(4) - 2, any(4) - 2, 0)}});
  }
  CutPlan plan;
  plan.groups.push_back(std::move(group));
  const double start = now_s();
  const OrderedPlan best = ordered(plan, {});
  const double seconds = now_s() - start;
  require(best.plan.cut_count() == 10000, "all pieces are there");
  require(best.after_s <= best.before_s, "no slower than planned");
  std::printf("10,000 pieces anywhere: links %.0f s as planned, %.0f s in order\n", best.before_s,
              best.after_s);
  row("  ordering 10,000 pieces", seconds, "s", 10, 3, false);
}

}  // namespace

int main() {
  order_many();
  Tool tool{.name = "ball", .number = 1, .diameter_mm = 6, .spindle_rpm = 12000, .feed_mm_min = 2000};
  const Mesh tray = demo::sheet(Box2(Vec2(-80, -60), Vec2(80, 60)), 300, 225, mold);
  run("mold, 30 degrees, zigzag", tray, tool, {.angle_deg = 30, .stepover_mm = 0.5}, {});
  run("mold, one way", tray, tool, {.angle_deg = 30, .stepover_mm = 0.5, .direction = PassDirection::one_way},
      {});
  run("mold, only up to 20 degrees", tray, tool, {.angle_deg = 30, .stepover_mm = 0.5}, SlopeLimits{0, 20});
  tool.diameter_mm = 8;
  run("porthole ring, only from 30 degrees", demo::porthole_ring(), tool, {.stepover_mm = 0.5},
      SlopeLimits{30, 90});
  return 0;
}
