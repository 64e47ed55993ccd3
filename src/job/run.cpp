#include "yardpass/job/run.h"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "geom/parallel_for.h"
#include "job/stage.h"
#include "job/world_regions.h"
#include "yardpass/link/link.h"
#include "yardpass/plan/defaults.h"
#include "yardpass/plan/parallel.h"
#include "yardpass/plan/roughing.h"

namespace yardpass {

namespace {

/// Planning of one operation: settles its values, remembering where they come from, and runs its strategy.
class OperationPlanner {
 public:
  OperationPlanner(const JobWorld& world, const OperationJob& operation)
      : job_(world.job), world_(world), operation_(operation), tool_(world.job.tool_of(operation)) {
    result_.name = operation.name;
    result_.strategy = operation.strategy;
    result_.tool = &tool_;
    boundary_ = area_of(world, operation.name);
    if (operation.keep_out) boundary_ = subtract(boundary_, *operation.keep_out);
    if (operation.keep_inside)
      value(
          "keep_inside", fmt::format("{} loop(s), {:.0f} mm2", boundary_.loops.size(), boundary_.area_mm2()),
          operation.keep_inside_name.empty()
              ? fmt::format("line {}", operation.line_of("keep_inside"))
              : fmt::format("\"{}\", line {}", operation.keep_inside_name, operation.line_of("keep_inside")));
    else
      value("keep_inside", "the part's rectangle in plan", "default: no boundary is given");
    value("limit", name_of(operation.limit.by), source("limit", "default: the tool's centre"));
    if (operation.limit.margin_mm != 0)
      value("margin", fmt::format("{:g} mm", operation.limit.margin_mm), source("margin", "given"));
    result_.area = centre_area(boundary_, 0.5 * tool_.diameter_mm, operation.limit, operation.limit_where);
    for (const auto& [key, names] :
         {std::pair("lids", &operation.lids), std::pair("extensions", &operation.extensions),
          std::pair("guards", &operation.guards)})
      if (!names->empty()) value(key, fmt::format("{}", fmt::join(*names, ", ")), source(key, "given"));
  }

  OperationResult run(Stock& stock, const StageProgress& progress) {
    const bool roughing = operation_.strategy == "roughing";
    auto cuts = roughing ? rough(progress) : parallel(progress);
    drop_scraps(cuts);
    compare_with_mesh(links_.tolerance_mm);
    links_.clearance_z = world_.clearance_z;
    links_.approach_mm = number("approach", operation_.approach_mm, {1, "above the material"});
    links_.link_distance_mm =
        number("link_distance", operation_.link_distance_mm, {2.5 * stepover_, "two and a half stepovers"});
    value("clearance plane", fmt::format("Z {:g}", world_.clearance_z),
          fmt::format("{:g} mm above stock and part", job_.clearance_mm));
    result_.path =
        link_cuts(cuts, *surface_, tool_, stock, links_, detail::stage(progress, "link " + operation_.name));
    result_.lengths = measure(result_.path);
    result_.points = std::count_if(result_.path.moves.begin(), result_.path.moves.end(),
                                   [](const Move& move) { return move.kind != MoveKind::rapid; });
    if (cuts.empty())
      result_.notes.push_back("nothing to cut: the tool reaches no place inside the boundary");
    return std::move(result_);
  }

 private:
  std::vector<Cut> rough(const StageProgress& progress) {
    const RoughingDefaults defaults = roughing_defaults(tool_);
    RoughingOptions options;
    options.top_z =
        operation_.top_z ? number("top", operation_.top_z, {0, ""}, "mm, in Z") : world_.block.max().z();
    if (operation_.bottom_z) options.bottom_z = number("bottom", operation_.bottom_z, {0, ""}, "mm, in Z");
    if (options.top_z < world_.block.max().z())
      result_.notes.push_back(fmt::format("the levels start {:g} mm below the top of the stock",
                                          world_.block.max().z() - options.top_z));
    make_surface(number("allowance", operation_.allowance_mm, defaults.allowance_mm));
    options.stepdown_mm = number("stepdown", operation_.stepdown_mm, defaults.stepdown_mm);
    options.stepover_mm = stepover_ = number("stepover", operation_.stepover_mm, defaults.stepover_mm);
    if (options.stepover_mm >= tool_.diameter_mm)
      refuse("stepover", fmt::format("is {}, but must be below the tool's diameter, {}", options.stepover_mm,
                                     tool_.diameter_mm));
    options.tolerance_mm = links_.tolerance_mm =
        number("tolerance", operation_.tolerance_mm, defaults.tolerance_mm);
    links_.ramp_angle_deg =
        number("ramp_angle", operation_.ramp_angle_deg, defaults.ramp_angle_deg, "degrees");
    RoughingPlan plan =
        plan_roughing(*surface_, result_.area, options, detail::stage(progress, "plan " + operation_.name));
    if (!plan.levels_z.empty())
      value("levels",
            fmt::format("{}, Z {:.3f} to {:.3f}", plan.levels_z.size(), plan.levels_z.front(),
                        plan.levels_z.back()),
            "from the top of the stock, and one on each flat");
    if (plan.pegs > 0)
      result_.notes.push_back(fmt::format("{} pegs between loops were cut on their own", plan.pegs));
    if (tool_.flute_length_mm < options.stepdown_mm)
      result_.notes.push_back(
          fmt::format("the stepdown is deeper than the flutes, {:g} mm", tool_.flute_length_mm));
    return std::move(plan.cuts);
  }

  std::vector<Cut> parallel(const StageProgress& progress) {
    const ParallelDefaults defaults = parallel_defaults(tool_, operation_.scallop_mm.value_or(0));
    ParallelOptions options;
    make_surface(number("allowance", operation_.allowance_mm, defaults.allowance_mm));
    if (operation_.scallop_mm) number("scallop_height", operation_.scallop_mm, defaults.scallop_mm);
    options.stepover_mm = stepover_ = number("stepover", operation_.stepover_mm, defaults.stepover_mm);
    if (tool_.shape != Shape::chamfer && tool_.shape != Shape::profile)
      result_.scallop_mm = scallop_height(tool_, stepover_);
    options.angle_deg = number("angle", operation_.angle_deg, defaults.angle_deg, "degrees");
    options.tolerance_mm = links_.tolerance_mm =
        number("tolerance", operation_.tolerance_mm, defaults.tolerance_mm);
    options.zigzag = operation_.zigzag.value_or(true);
    value("direction", options.zigzag ? "zigzag" : "one-way", source("direction", "default: less air"));
    if (operation_.top_z) options.top_z = number("top", operation_.top_z, {0, ""}, "mm, in Z");
    if (operation_.bottom_z) options.bottom_z = number("bottom", operation_.bottom_z, {0, ""}, "mm, in Z");
    const auto plan = [&] {
      return at_touch(plan_parallel(*surface_, result_.area, options,
                                    detail::stage(progress, "plan " + operation_.name)));
    };
    std::vector<Cut> cuts = plan();
    if (const double margin = margin_without_climbs(cuts); margin < 0 && operation_.avoid_climbs) {
      result_.area = intersect(result_.area, offset(boundary_, margin));
      cuts = plan();
    }
    return cuts;
  }

  /// By the point of touch, passes are cut where it leaves the boundary.
  std::vector<Cut> at_touch(std::vector<Cut> cuts) const {
    if (operation_.limit.by != LimitBy::touch) return cuts;
    const double margin = operation_.limit.margin_mm;
    const Region area = margin == 0 ? boundary_ : offset(boundary_, margin);
    std::vector<std::vector<Polyline3>> pieces(cuts.size());
    detail::parallel_for(cuts.size(), {}, [&](std::size_t i) {
      pieces[i] = cut_at_touch(*surface_, cuts[i].points, area, std::min(0.25, 0.1 * tool_.diameter_mm));
    });
    std::vector<Cut> result;
    for (auto& of_cut : pieces)
      for (auto& piece : of_cut) result.push_back({std::move(piece), false, Entry::straight});
    return result;
  }

  /// Tells where passes climb a wall outside the boundary, and gives the margin that stops them; 0 if none
  /// does.
  double margin_without_climbs(const std::vector<Cut>& cuts) {
    if (!operation_.keep_inside || operation_.limit.by == LimitBy::touch) return 0;
    std::vector<Polyline3> lines;
    for (const Cut& cut : cuts) lines.push_back(cut.points);
    Region simple;
    for (const Polyline2& loop : boundary_.loops) simple.loops.push_back(simplify_loop(loop, 0.0005));
    const auto climbs = wall_climbs(*surface_, lines, simple, std::max(0.05, 0.05 * tool_.diameter_mm));
    if (climbs.empty()) return 0;
    double margin = 0;
    for (const WallClimb& climb : climbs) margin = std::min(margin, climb.margin_mm);
    const Vec3& at = climbs.front().at;
    result_.notes.push_back(fmt::format(
        "{} of {} passes climb a wall outside the boundary, the highest {:.3f} mm at X {:.3f} Y {:.3f} Z "
        "{:.3f}; {}",
        climbs.size(), lines.size(), climbs.front().height_mm, at.x(), at.y(), at.z(),
        operation_.avoid_climbs
            ? fmt::format("avoided by a margin of {:.2f} mm, as asked for", margin)
            : fmt::format("a margin of {:.2f} mm would stop it (or climbs = \"avoid\")", margin)));
    return margin;
  }

  /// Bits at a boundary that are there only because of the tolerance.
  void drop_scraps(std::vector<Cut>& cuts) {
    const double shortest = 5 * links_.tolerance_mm;
    const auto dropped = std::erase_if(
        cuts, [&](const Cut& cut) { return length(std::span<const Vec3>(cut.points)) < shortest; });
    if (dropped > 0)
      result_.notes.push_back(fmt::format("{} shorter than {:g} mm dropped",
                                          dropped == 1 ? "1 scrap" : fmt::format("{} scraps", dropped),
                                          shortest));
  }

  void make_surface(double allowance) {
    TipSurfaceOptions options{.allowance_mm = allowance};
    if (operation_.wall_allowance_mm || operation_.floor_allowance_mm) {
      const double wall =
          number("wall_allowance", operation_.wall_allowance_mm, {allowance, "the allowance"});
      const double floor =
          number("floor_allowance", operation_.floor_allowance_mm, {allowance, "the allowance"});
      options = {.allowance_mm = std::min(wall, floor),
                 .wall_extra_mm = std::max(0.0, wall - floor),
                 .floor_extra_mm = std::max(0.0, floor - wall)};
    }
    // Posting rounds each coordinate; a tool thicker by that much keeps the rounded moves free as well.
    options.allowance_mm += rounding_reserve(job_.controller);
    const auto part = detail::guided_part(world_, operation_, allowance, options.group_extra_mm, {});
    surface_.emplace(part, profile_of(tool_), options);
  }

  [[noreturn]] void refuse(const std::string& key, const std::string& what) const {
    throw Error(fmt::format("{}:{}: operation \"{}\": \"{}\" {}", job_.file.string(), operation_.line_of(key),
                            operation_.name, key, what));
  }

  [[nodiscard]] std::string source(const std::string& key, const std::string& otherwise) const {
    for (const auto& [name, line] : operation_.lines)
      if (name == key) return fmt::format("line {}{}", line, measured(key));
    return otherwise;
  }

  void value(const std::string& key, const std::string& text, const std::string& from) {
    result_.values.push_back({key, text, from});
  }

  double number(const std::string& key, const std::optional<double>& given, const Derived& otherwise,
                const char* unit = "mm") {
    const double chosen = given.value_or(otherwise.value);
    value(key, fmt::format("{:.4g} {}", chosen, unit),
          given ? source(key, "given") : "default: " + otherwise.rule);
    return chosen;
  }

  /// ", measured: ..." for a value that was.
  [[nodiscard]] std::string measured(const std::string& key) const {
    for (const auto& note : world_.measured)
      if (note.operation == operation_.name && note.key == key) return ", " + note.words;
    return "";
  }

  /// Facets coarser than the tolerance show on the workpiece, whatever the toolpath does.
  void compare_with_mesh(double tolerance) {
    const double chord = world_.diagnosis.chord_error.p95_mm;
    if (chord > tolerance)
      result_.notes.push_back(fmt::format(
          "the tolerance, {:.4g} mm, is finer than the mesh: its facets lie up to {:.4g} mm off the "
          "surface they stand for (estimated, 95 % of the area)",
          tolerance, chord));
  }

  const Job& job_;
  const JobWorld& world_;
  const OperationJob& operation_;
  const Tool& tool_;
  OperationResult result_;
  LinkOptions links_;
  double stepover_ = 0;
  Region boundary_;  ///< without the limit's rule
  std::optional<TipSurface> surface_;
};

}  // namespace

Region area_of(const JobWorld& world, const std::string& operation) {
  for (const OperationJob& candidate : world.job.operations)
    if (candidate.name == operation && candidate.keep_inside) return *candidate.keep_inside;
  return rectangle(plan(world.part->box()));
}

RunResult run_job(const Job& given, const StageProgress& progress) {
  JobWorld world = load_world(given, progress);
  const Job& job = world.job;
  Stock stock = world.new_stock();
  std::vector<OperationResult> operations;
  for (const OperationJob& operation : job.operations)
    if (operation.active) operations.push_back(OperationPlanner(world, operation).run(stock, progress));
  if (operations.empty()) throw Error(job.file.string() + ": no operation is active");
  std::vector<OperationPath> paths;
  for (const OperationResult& operation : operations)
    paths.push_back({operation.name, operation.strategy, operation.tool, &operation.path});
  PostedProgram posted = write_program(job.title, paths, job.controller);
  JudgedProgram judged = judge_program(read_program(posted.text, "program.nc"), world, progress);
  return {std::move(world), std::move(operations), std::move(posted), std::move(judged)};
}

}  // namespace yardpass
