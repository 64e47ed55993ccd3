#include <fmt/format.h>

#include "report/json_values.h"
#include "yardpass/report/figures.h"
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

/// What the figures leave out of a statistic: areas, places, shares within limits.
void add_left(Json& json, const LeftStatistics& excess) {
  json["area"] = rounded(excess.area_mm2);
  json["least"] = rounded(excess.least_mm);
  json["mean"] = rounded(excess.mean_mm);
  json["median"] = rounded(excess.median_mm);
  json["percentile_95"] = rounded(excess.p95_mm);
  json["percentile_99"] = rounded(excess.p99_mm);
  json["greatest"] = rounded(excess.greatest_mm);
  json["greatest_at"] = triple(excess.greatest_at);
  json["within"] = Json::array();
  for (const auto& w : excess.within)
    json["within"].push_back({{"limit", w.limit_mm}, {"share", rounded(w.share)}});
}

/// Whole numbers stay whole.
Json figure_json(const Figure& figure, const OperationReport& operation) {
  const auto value = figure.value(operation);
  if (!value) return nullptr;
  if (figure.form == Figure::Form::count) return static_cast<std::int64_t>(*value);
  return rounded(*value);
}

Json operation_json(const OperationReport& operation) {
  Json json{{"number", operation.number},
            {"name", operation.name},
            {"strategy", operation.strategy},
            {"tool", operation.judged.tool},
            {"in_program", operation.has_moves()}};
  for (const Figure& figure : all_figures()) {
    const std::string key = figure.key;
    const std::size_t dot = key.find('.');
    Json& place = dot == std::string::npos ? json[key] : json[key.substr(0, dot)][key.substr(dot + 1)];
    place = figure_json(figure, operation);
  }
  add_left(json["excess"], operation.excess);
  if (operation.has_moves()) add_left(json["left_after"], operation.left_after);
  json["values"] = Json::array();
  const auto add_values = [&](const std::vector<SettledValue>& values) {
    for (const SettledValue& value : values)
      json["values"].push_back(
          {{"key", value.key}, {"value", in_words(value.value)}, {"source", value.source}});
  };
  if (operation.settled) add_values(operation.settled->told);
  if (operation.planned) add_values(operation.planned->facts);
  json["notes"] = notes_of(operation);
  return json;
}

Json left_json(const Report& report) {
  const WhyLeft& left = report.judged.why_left;
  Json thickest = Json::array();
  for (const ThickPlace& place : left.thickest) {
    Json entry{
        {"at", triple(place.at)}, {"excess", rounded(place.left_mm)}, {"because", name_of(place.why)}};
    if (place.last_cut >= 0) {
      const ProgramMove& move = report.judged.program.moves[static_cast<std::size_t>(place.last_cut)];
      entry["operation"] = report.operation_of(move.operation).name;
      entry["operation_number"] = report.operation_of(move.operation).number;
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
            {"operation", report.operation_of(finding.operation).name},
            {"operation_number", report.operation_of(finding.operation).number},
            {"line", finding.line},
            {"at", triple(finding.at)},
            {"depth", rounded(finding.depth_mm)},
            {"deepest_line", finding.worst_line},
            {"moves", finding.moves}};
  const std::int32_t pass = report.pass_of_line(finding.worst_line);
  json["pass"] = pass > 0 ? Json(pass) : Json(nullptr);
  if (!finding.keep_away.empty()) json["keep_away"] = finding.keep_away;
  if (!finding.accepted_because.empty()) json["accepted_because"] = finding.accepted_because;
  return json;
}

}  // namespace

std::string report_json(const Report& report) {
  const Judgement& judgement = report.judged.judgement;
  Json json{{"yardpass", YARDPASS_VERSION},
            {"title", report.job().title},
            {"verdict", report.clean() ? (report.judged.whole() ? "clean" : "clean so far") : "findings"},
            {"units", "mm"},
            {"seconds", rounded(judgement.seconds)},
            {"machine", report.job().machine_name.empty() ? Json(nullptr) : Json(report.job().machine_name)},
            {"stock", box(report.setup.block)},
            {"part",
             {{"box", box(report.setup.summary.box)},
              {"triangles", report.setup.summary.triangles},
              {"closed", report.setup.summary.edges.closed()},
              {"file", detail::part_file_json(report.setup)}}},
            {"cell", report.setup.cell_mm}};
  json["stock"]["notes"] = report.setup.stock_notes;
  json["stock"]["cells"] = report.setup.stock->heights().size();
  json["stock"]["bytes"] = report.setup.stock->memory_bytes();
  json["regions"] = detail::named_regions_json(report.setup);
  json["tools"] = Json::array();
  for (const Tool& tool : report.job().tools) json["tools"].push_back(tool_json(tool));
  json["operations"] = Json::array();
  for (const OperationReport& operation : report.operations)
    json["operations"].push_back(operation_json(operation));
  json["findings"] = Json::array();
  for (const Finding& finding : judgement.findings) json["findings"].push_back(finding_json(report, finding));
  json["left"] = left_json(report);
  json["not_judged"] = report.not_judged;
  return detail::dumped(json);
}

}  // namespace yardpass
