#include <algorithm>
#include <cmath>
#include <limits>

#include <fmt/format.h>

#include "report/json_values.h"
#include "yardpass/report/report.h"
#include "yardpass/version.h"

namespace yardpass {

namespace {

using detail::box;
using detail::Json;
using detail::rounded;
using detail::triple;

Json tool_json(const Tool& tool) {
  Json holder = Json::array();
  for (const HolderSection& section : tool.holder)
    holder.push_back({{"length", section.length_mm},
                      {"lower_diameter", section.lower_diameter_mm},
                      {"upper_diameter", section.upper_diameter_mm}});
  Json outline = Json::array();
  for (const auto& point : tool.outline) outline.push_back({point.r_mm, point.z_mm, point.arc_mm});
  const double corner = tool.shape == Shape::ball ? 0.5 * tool.diameter_mm : tool.corner_radius_mm;
  return {{"number", tool.number},
          {"name", tool.name},
          {"shape", name_of(tool.shape)},
          {"diameter", tool.diameter_mm},
          {"corner_radius", corner},
          {"taper_angle", tool.taper_angle_deg},
          {"tip_diameter", tool.tip_diameter_mm},
          {"outline", outline},
          {"flute_length", tool.flute_length_mm},
          {"neck_diameter", tool.neck_diameter_mm},
          {"neck_length", tool.neck_length_mm},
          {"shank_diameter", tool.shank_diameter_mm},
          {"stickout", tool.stickout_mm},
          {"holder", holder},
          {"spindle", tool.spindle_rpm},
          {"feed", tool.feed_mm_min}};
}

Json excess_json(const ExcessStatistics& excess) {
  Json within = Json::array();
  for (const auto& w : excess.within) within.push_back({{"limit", w.limit_mm}, {"share", rounded(w.share)}});
  return {{"area", rounded(excess.area_mm2)},
          {"least", rounded(excess.least_mm)},
          {"mean", rounded(excess.mean_mm)},
          {"median", rounded(excess.median_mm)},
          {"percentile_95", rounded(excess.p95_mm)},
          {"percentile_99", rounded(excess.p99_mm)},
          {"greatest", rounded(excess.greatest_mm)},
          {"greatest_at", triple(excess.greatest_at)},
          {"within", within}};
}

Json operation_json(const OperationReport& operation) {
  const OperationJudgement& judged = operation.judged;
  Json json{{"name", operation.name},
            {"strategy", operation.strategy},
            {"tool", judged.tool},
            {"seconds", rounded(judged.time.all_s())},
            {"time",
             {{"feed", rounded(judged.time.feed_s)},
              {"rapid", rounded(judged.time.rapid_s)},
              {"retract", rounded(judged.time.retract_s)},
              {"tool_change", rounded(judged.time.tool_change_s)},
              {"without_acceleration", rounded(judged.time.plain_s)}}}};
  if (operation.planned) {
    const PathLengths& lengths = operation.planned->lengths;
    json["cut_length"] = rounded(lengths.cut_mm + lengths.ramp_mm + lengths.plunge_mm);
    json["link_length"] = rounded(lengths.link_mm);
  } else {
    // A program alone does not tell links from cuts.
    json["cut_length"] = rounded(judged.feed_mm);
    json["link_length"] = nullptr;
  }
  json["rapid_length"] = rounded(judged.rapid_mm);
  json["retracts"] = judged.retracts;
  json["points"] = judged.moves;
  json["least_clearance"] = rounded(judged.least_clearance_mm);
  json["least_clearance_line"] = judged.least_clearance_line;
  json["least_stickout"] =
      judged.least_stickout_mm > 0 ? Json(rounded(judged.least_stickout_mm)) : Json(nullptr);
  json["intended_depth"] = operation.intended_depth_mm;
  json["air_feed_length"] = rounded(judged.air_feed_mm);
  json["excess"] = excess_json(operation.excess);
  if (!operation.planned) return json;
  if (operation.planned->scallop_mm)
    json["scallop"] = {{"asked", rounded(*operation.planned->scallop_mm)},
                       {"measured", rounded(operation.measured_scallop_mm)}};
  json["values"] = Json::array();
  for (const ValueInForce& value : operation.planned->values)
    json["values"].push_back({{"key", value.key}, {"value", value.value}, {"source", value.source}});
  json["notes"] = operation.planned->notes;
  return json;
}

Json left_json(const Report& report) {
  const Leftover& left = report.judged.leftover;
  Json thickest = Json::array();
  for (const ThickPlace& place : left.thickest) {
    Json entry{
        {"at", triple(place.at)}, {"excess", rounded(place.excess_mm)}, {"because", name_of(place.why)}};
    if (place.last_cut >= 0) {
      const ProgramMove& move = report.judged.program.moves[static_cast<std::size_t>(place.last_cut)];
      entry["operation"] = report.judged.program.operations[static_cast<std::size_t>(move.operation)];
      entry["line"] = move.line;
    }
    thickest.push_back(entry);
  }
  return {{"thicker_than", left.limit_mm},
          {"on_purpose_area", rounded(left.on_purpose_mm2)},
          {"out_of_reach_area", rounded(left.out_of_reach_mm2)},
          {"missed_area", rounded(left.missed_mm2)},
          {"thickest", thickest}};
}

Json finding_json(const Report& report, const Finding& finding) {
  Json json{{"kind", id_of(finding.kind)},
            {"operation", report.judged.program.operations[static_cast<std::size_t>(finding.operation)]},
            {"line", finding.line},
            {"at", triple(finding.at)},
            {"depth", rounded(finding.depth_mm)},
            {"deepest_line", finding.worst_line},
            {"moves", finding.moves}};
  if (!finding.guard.empty()) json["guard"] = finding.guard;
  if (!finding.accepted_because.empty()) json["accepted_because"] = finding.accepted_because;
  return json;
}

}  // namespace

std::string clock(double seconds) {
  const auto total = static_cast<long>(std::lround(seconds));
  if (total < 3600) return fmt::format("{}:{:02}", total / 60, total % 60);
  return fmt::format("{}:{:02}:{:02}", total / 3600, total / 60 % 60, total % 60);
}

std::string in_words(const Finding& finding) {
  std::string text =
      fmt::format("line {}: {} {:.3f} mm deep at X {:.3f} Y {:.3f} Z {:.3f}", finding.line,
                  name_of(finding.kind), finding.depth_mm, finding.at.x(), finding.at.y(), finding.at.z());
  if (finding.moves > 1)
    text += fmt::format(" ({} moves, deepest in line {})", finding.moves, finding.worst_line);
  if (!finding.guard.empty()) text += fmt::format(", guard \"{}\"", finding.guard);
  if (!finding.accepted_because.empty()) text += fmt::format(", accepted: {}", finding.accepted_because);
  return text;
}

namespace {

double allowance_of(const Job& job, const std::string& name) {
  for (const OperationJob& operation : job.operations)
    if (operation.name == name) return operation.allowance_mm.value_or(0);
  return 0;
}

void add_operations(Report& report, const std::vector<OperationResult>* planned) {
  const JudgedProgram& judged = report.judged;
  // Ridges are what was cut: what is left on purpose or out of reach is none.
  ExcessMap wanted = judged.excess;
  for (std::size_t i = 0; i < wanted.excess_mm.size(); ++i)
    if (judged.leftover.why[i] == LeftBecause::on_purpose ||
        judged.leftover.why[i] == LeftBecause::out_of_reach)
      wanted.excess_mm[i] = std::numeric_limits<float>::quiet_NaN();
  for (const OperationJudgement& operation : judged.judgement.operations) {
    OperationReport entry;
    entry.name = operation.name;
    entry.judged = operation;
    for (const OperationJob& known : report.job.operations)
      if (known.name == operation.name)
        entry.strategy = known.strategy, entry.intended_depth_mm = known.intended_depth_mm;
    for (const Tool& tool : report.job.tools)
      if (tool.number == operation.tool) entry.tool = &tool;
    if (planned)
      for (const OperationResult& result : *planned)
        if (result.name == operation.name) entry.planned = &result;
    entry.excess = statistics(judged.excess, judged.judgement.stock, area_of(report.world, operation.name));
    entry.measured_scallop_mm =
        statistics(wanted, judged.judgement.stock, area_of(report.world, operation.name)).p99_mm -
        allowance_of(report.job, operation.name);
    report.operations.push_back(std::move(entry));
  }
}

}  // namespace

/// Area of faces that hang over: a height map sees nothing below them. Faces at the bottom do not count.
double undercut_of(const JobWorld& world) {
  const Mesh& mesh = world.part->mesh();
  const double bottom = world.part->box().min().z() + 1e-3;
  double area = 0;
  for (std::size_t t = 0; t < mesh.triangles.size(); ++t) {
    const Vec3 normal = (mesh.corner(t, 1) - mesh.corner(t, 0)).cross(mesh.corner(t, 2) - mesh.corner(t, 0));
    const bool flat_bottom =
        std::max({mesh.corner(t, 0).z(), mesh.corner(t, 1).z(), mesh.corner(t, 2).z()}) < bottom;
    if (normal.z() < -0.005 * normal.norm() && !flat_bottom) area += normal.norm() / 2;
  }
  return area;
}

Report make_report(const RunResult& run) {
  Report report{run.world.job, run.world, run.judged, &run.posted, {}, undercut_of(run.world)};
  add_operations(report, &run.operations);
  return report;
}

Report make_report(const JobWorld& world, const JudgedProgram& judged) {
  Report report{world.job, world, judged, nullptr, {}, undercut_of(world)};
  add_operations(report, nullptr);
  return report;
}

std::string verdict_words(const Report& report) {
  const auto& findings = report.judged.judgement.findings;
  const auto accepted = std::count_if(findings.begin(), findings.end(), [](const Finding& finding) {
    return !finding.accepted_because.empty();
  });
  const auto counted = [](auto n) { return fmt::format("{} finding{}", n, n == 1 ? "" : "s"); };
  const std::string part = report.judged.whole()
                               ? ""
                               : fmt::format(", but only up to line {} of {}", report.judged.up_to_line,
                                             report.judged.program.lines);
  if (findings.empty()) return "clean" + part;
  if (report.clean())
    return fmt::format("clean but for {} accepted {}", accepted, accepted == 1 ? "finding" : "findings") +
           part;
  return (accepted > 0 ? fmt::format("{}, {} of them accepted", counted(findings.size()), accepted)
                       : counted(findings.size())) +
         part;
}

std::string left_words(const Report& report) {
  const Leftover& left = report.judged.leftover;
  std::string words = fmt::format(
      "thicker than {:g} mm: {:.1f} mm2 missed, {:.1f} mm2 out of reach of the tools used, {:.1f} mm2 on "
      "purpose",
      left.limit_mm, left.missed_mm2, left.out_of_reach_mm2, left.on_purpose_mm2);
  if (!left.thickest.empty() && left.thickest[0].why != LeftBecause::on_purpose)
    words += fmt::format("; thickest {}: {:.3f} mm at X {:.2f} Y {:.2f} Z {:.2f}",
                         name_of(left.thickest[0].why), left.thickest[0].excess_mm, left.thickest[0].at.x(),
                         left.thickest[0].at.y(), left.thickest[0].at.z());
  return words;
}

std::string report_json(const Report& report) {
  const Judgement& judgement = report.judged.judgement;
  Json json{{"yardpass", YARDPASS_VERSION},
            {"title", report.job.title},
            {"verdict", report.clean() ? (report.judged.whole() ? "clean" : "clean so far") : "findings"},
            {"units", "mm"},
            {"seconds", rounded(judgement.seconds)},
            {"stock", box(report.world.block)},
            {"part",
             {{"box", box(report.world.summary.box)},
              {"triangles", report.world.summary.triangles},
              {"closed", report.world.summary.edges.closed()},
              {"file", detail::part_file_json(report.world)}}},
            {"cell", report.world.cell_mm}};
  json["regions"] = detail::named_regions_json(report.world);
  json["tools"] = Json::array();
  for (const Tool& tool : report.job.tools) json["tools"].push_back(tool_json(tool));
  json["operations"] = Json::array();
  for (const OperationReport& operation : report.operations)
    json["operations"].push_back(operation_json(operation));
  json["findings"] = Json::array();
  for (const Finding& finding : judgement.findings) json["findings"].push_back(finding_json(report, finding));
  json["left"] = left_json(report);
  json["not_judged"] = Json::array();
  if (!report.judged.whole())
    json["not_judged"].push_back(
        fmt::format("lines after {} of {}", report.judged.up_to_line, report.judged.program.lines));
  if (report.undercut_mm2 > 0)
    json["not_judged"].push_back(fmt::format(
        "{:.1f} mm2 of undercut faces: material below an overhang is not seen", report.undercut_mm2));
  return json.dump(2) + "\n";
}

}  // namespace yardpass
