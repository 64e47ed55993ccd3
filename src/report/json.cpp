#include <fmt/format.h>

#include "report/edge_sizes.h"
#include "report/json_values.h"
#include "yardpass/geom/text.h"
#include "yardpass/report/figures.h"
#include "yardpass/report/report.h"
#include "yardpass/version.h"

namespace yardpass {

namespace {

using detail::InUnits;
using detail::Json;
using detail::rounded;
using detail::triple;

Json tool_json(const InUnits& in, const Tool& tool) {
  Json holder = Json::array();
  for (const HolderSection& section : tool.holder)
    holder.push_back({{"length", in.length(section.length_mm)},
                      {"lower_diameter", in.length(section.lower_diameter_mm)},
                      {"upper_diameter", in.length(section.upper_diameter_mm)}});
  Json outline = Json::array();
  for (const auto& point : tool.outline)
    outline.push_back({in.length(point.r_mm), in.length(point.z_mm), in.length(point.arc_mm)});
  const double corner = in.length(tool.shape == Shape::ball ? 0.5 * tool.diameter_mm : tool.corner_radius_mm);
  return {{"number", tool.number},
          {"name", tool.name},
          {"shape", name_of(tool.shape)},
          {"diameter", in.length(tool.diameter_mm)},
          {"corner_radius", corner},
          {"taper_angle", tool.taper_angle_deg},
          {"tip_diameter", in.length(tool.tip_diameter_mm)},
          {"outline", outline},
          {"flute_length", in.length(tool.flute_length_mm)},
          {"neck_diameter", in.length(tool.neck_diameter_mm)},
          {"neck_length", in.length(tool.neck_length_mm)},
          {"shank_diameter", in.length(tool.shank_diameter_mm)},
          {"stickout", in.length(tool.stickout_mm)},
          {"holder", holder},
          {"neck_clearance", in.length(tool.neck_clearance_mm)},
          {"shank_clearance", in.length(tool.shank_clearance_mm)},
          {"holder_clearance", in.length(tool.holder_clearance_mm)},
          {"spindle", tool.spindle_rpm},
          {"feed", in.length(tool.feed_mm_min)}};
}

/// What the figures leave out of a statistic: areas, places, shares within limits.
void add_left(const InUnits& in, Json& json, const LeftStatistics& left) {
  json["area"] = in.area(left.area_mm2);
  json["least"] = in.length(left.least_mm);
  json["mean"] = in.length(left.mean_mm);
  json["median"] = in.length(left.median_mm);
  json["percentile_95"] = in.length(left.p95_mm);
  json["percentile_99"] = in.length(left.p99_mm);
  json["greatest"] = in.length(left.greatest_mm);
  json["greatest_at"] = in.place(left.greatest_at);
  json["within"] = Json::array();
  for (const auto& w : left.within)
    json["within"].push_back({{"limit", in.length(w.limit_mm)}, {"share", rounded(w.share)}});
}

/// Whole numbers stay whole.
Json figure_json(const InUnits& in, const Figure& figure, const OperationReport& operation) {
  const auto value = figure.value(operation);
  if (!value) return nullptr;
  if (figure.form == Figure::Form::count) return static_cast<std::int64_t>(*value);
  if (figure.form == Figure::Form::area) return in.area(*value);
  const bool length = figure.form == Figure::Form::length || figure.form == Figure::Form::way;
  return length ? in.length(*value) : rounded(*value);
}

Json values_json(const Telling& telling, const std::vector<SettledValue>& values) {
  Json json = Json::array();
  for (const SettledValue& value : values)
    json.push_back({{"key", value.key}, {"value", telling.words(value.value)}, {"source", value.source}});
  return json;
}

Json operation_json(const Telling& telling, const OperationReport& operation) {
  const InUnits in(telling.units());
  Json json{{"number", operation.number},
            {"name", operation.name},
            {"strategy", operation.strategy},
            {"tool", operation.judged.tool},
            {"in_program", operation.has_moves()}};
  detail::add_figures(json, operation, telling.units());
  if (operation.judged.engagement.length_mm > 0)
    for (const double share : operation.judged.engagement.shares_by_ten())
      json["engagement"]["histogram"].push_back(rounded(share));
  if (operation.edges) detail::add_edges(json["edges"], *operation.edges, telling.units());
  if (operation.is_judged) add_left(in, json["left"], operation.left);
  if (operation.is_judged && operation.has_moves()) add_left(in, json["left_after"], operation.left_after);
  json["values"] = Json::array();
  const auto add_values = [&](const std::vector<SettledValue>& values) {
    for (Json& value : values_json(telling, values)) json["values"].push_back(std::move(value));
  };
  if (operation.settled) add_values(operation.settled->told);
  if (operation.planned) add_values(operation.planned->facts);
  json["notes"] = notes_of(operation, telling);
  return json;
}

Json left_json(const Report& report) {
  const InUnits in(report.telling.units());
  const WhyLeft& left = report.judged.why_left;
  Json thickest = Json::array();
  for (const ThickPlace& place : left.thickest) {
    Json entry{
        {"at", in.place(place.at)}, {"left", in.length(place.left_mm)}, {"because", name_of(place.why)}};
    if (place.last_cut >= 0) {
      const ProgramMove& move = report.judged.program.moves[static_cast<std::size_t>(place.last_cut)];
      entry["operation"] = report.operation_of(move.operation).name;
      entry["operation_number"] = report.operation_of(move.operation).number;
      entry["line"] = move.line;
    }
    thickest.push_back(entry);
  }
  return {{"thicker_than", in.length(left.limit_mm)},
          {"on_purpose_area", in.area(left.on_purpose_mm2)},
          {"out_of_reach_area", in.area(left.out_of_reach_mm2)},
          {"missed_area", in.area(left.missed_mm2)},
          {"not_explained_area", in.area(left.not_asked_mm2)},
          {"asked_every", left.asked_every},
          {"thickest", thickest}};
}

Json finding_json(const Report& report, const Finding& finding) {
  const InUnits in(report.telling.units());
  Json json{{"kind", id_of(finding.kind)},
            {"operation", report.operation_of(finding.operation).name},
            {"operation_number", report.operation_of(finding.operation).number},
            {"line", finding.line},
            {"at", in.place(finding.at)},
            {"depth", is_an_angle(finding.kind) ? Json(nullptr) : Json(in.length(finding.depth_mm))},
            {"deepest_line", finding.worst_line},
            {"moves", finding.moves}};
  if (is_an_angle(finding.kind)) json["angle"] = finding.depth_mm;
  const std::int32_t pass = report.pass_of_line(finding.worst_line);
  json["pass"] = pass > 0 ? Json(pass) : Json(nullptr);
  if (!finding.keep_away.empty()) json["keep_away"] = finding.keep_away;
  if (!finding.accepted_because.empty()) json["accepted_because"] = finding.accepted_because;
  return json;
}

}  // namespace

void detail::add_figures(Json& json, const OperationReport& operation, Units units) {
  for (const Figure& figure : all_figures()) {
    const std::string key = figure.key;
    const std::size_t dot = key.find('.');
    Json& place = dot == std::string::npos ? json[key] : json[key.substr(0, dot)][key.substr(dot + 1)];
    place = figure_json(InUnits(units), figure, operation);
  }
}

namespace {

const char* verdict_of(const Report& report) {
  if (!report.judged.judged) return "not judged";
  if (report.only_a_look()) return "quick look";
  return report.clean() ? (report.judged.whole() ? "clean" : "clean so far") : "findings";
}

}  // namespace

detail::Json detail::whole_json(const Report& report) {
  const InUnits in(report.telling.units());
  const Judgement& judgement = report.judged.judgement;
  Json json{{"yardpass", YARDPASS_VERSION},
            {"title", report.job().title},
            {"verdict", verdict_of(report)},
            {"quick_look", report.job().coarser.any()},
            {"judged", report.judged.judged},
            {"units", name_of(report.telling.units())},
            {"seconds", rounded(judgement.seconds)},
            {"machine", report.job().machine.name.empty() ? Json(nullptr) : Json(report.job().machine.name)},
            {"stock", in.box(report.setup.block)},
            {"part",
             {{"box", in.box(report.setup.summary.box)},
              {"triangles", report.setup.summary.triangles},
              {"closed", report.setup.summary.edges.closed()},
              {"file", detail::part_file_json(report.setup)}}},
            {"cell", in.length(report.setup.cell_mm)}};
  json["stock"]["notes"] = report.setup.stock_notes;
  json["stock"]["hidden_squares"] = judgement.hidden_squares;
  json["stock"]["seen"] = in.length(judgement.seen_mm);
  json["stock"]["cells"] = report.setup.stock->heights().size();
  json["stock"]["bytes"] = report.setup.stock->memory_bytes();
  json["regions"] = detail::named_regions_json(report.setup);
  json["tools"] = Json::array();
  for (const Tool& tool : report.job().tools) json["tools"].push_back(tool_json(in, tool));
  json["values"] = Json::object();
  for (const TableValues& table : report.job().told)
    json["values"][table.table] = values_json(report.telling, table.values);
  json["notes"] = job_notes(report);
  json["operations"] = Json::array();
  for (const OperationReport& operation : report.operations)
    json["operations"].push_back(operation_json(report.telling, operation));
  json["findings"] = Json::array();
  for (const Finding& finding : judgement.findings) json["findings"].push_back(finding_json(report, finding));
  json["disagreements"] = Json::array();
  for (const Note& note : report.judged.disagreements)
    json["disagreements"].push_back(report.telling.words(note));
  json["left"] = report.judged.judged ? left_json(report) : Json(nullptr);
  json["not_judged"] = report.not_judged;
  json["resumed"] = nullptr;
  if (const auto& at = report.judged.resumed)
    json["resumed"] = {{"program", one_line(at->program)},
                       {"line", at->line},
                       {"at", in.place(at->at)},
                       {"came_down_line", at->came_down_line}};
  return json;
}

std::string report_json(const Report& report) { return detail::dumped(detail::whole_json(report)); }

}  // namespace yardpass
