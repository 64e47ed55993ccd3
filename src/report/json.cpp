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
              {"cut", operation.planned ? Json(rounded(operation.cut_s)) : Json(nullptr)},
              {"entry", operation.planned ? Json(rounded(operation.entry_s)) : Json(nullptr)},
              {"link", operation.planned ? Json(rounded(operation.link_s)) : Json(nullptr)},
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
  json["excess_after"] = excess_json(operation.excess_after);
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

std::string report_json(const Report& report) {
  const Judgement& judgement = report.judged.judgement;
  Json json{{"yardpass", YARDPASS_VERSION},
            {"title", report.job.title},
            {"verdict", report.clean() ? (report.judged.whole() ? "clean" : "clean so far") : "findings"},
            {"units", "mm"},
            {"seconds", rounded(judgement.seconds)},
            {"machine", report.job.machine_name.empty() ? Json(nullptr) : Json(report.job.machine_name)},
            {"stock", box(report.world.block)},
            {"part",
             {{"box", box(report.world.summary.box)},
              {"triangles", report.world.summary.triangles},
              {"closed", report.world.summary.edges.closed()},
              {"file", detail::part_file_json(report.world)}}},
            {"cell", report.world.cell_mm}};
  json["stock"]["notes"] = report.world.stock_notes;
  json["stock"]["cells"] = report.world.stock->heights().size();
  json["stock"]["bytes"] = report.world.stock->memory_bytes();
  json["regions"] = detail::named_regions_json(report.world);
  json["tools"] = Json::array();
  for (const Tool& tool : report.job.tools) json["tools"].push_back(tool_json(tool));
  json["operations"] = Json::array();
  for (const OperationReport& operation : report.operations)
    json["operations"].push_back(operation_json(operation));
  json["findings"] = Json::array();
  for (const Finding& finding : judgement.findings) json["findings"].push_back(finding_json(report, finding));
  json["left"] = left_json(report);
  json["not_judged"] = report.not_judged;
  return json.dump(2) + "\n";
}

}  // namespace yardpass
