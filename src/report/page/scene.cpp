#include "report/page/scene.h"

#include <algorithm>

#include "report/left_colours.h"
#include "report/page/packed.h"
#include "setup/parts_of_setup.h"
#include "yardpass/geom/text.h"
#include "yardpass/report/changes.h"
#include "yardpass/report/figures.h"

namespace yardpass::detail {

namespace {

Json left_colours_json() {
  Json steps = Json::array();
  for (const LeftStep& step : kLeftSteps) steps.push_back({step.up_to_mm, step.colour});
  return {{"steps", steps}, {"below", kBelowPart}, {"no_part", kNoPartThere}};
}

Scene begun(const JobSetup& setup, const std::string& title, const char* of) {
  Scene scene;
  scene.about = {{"of", of},
                 {"title", one_line(title)},
                 {"step", kSceneStep},
                 {"units", name_of(setup.job.units)},
                 {"mm_per_unit", millimetres(setup.job.units)},
                 {"left_colours", left_colours_json()},
                 {"layers", Json::array()},
                 {"sheets", Json::array()}};
  return scene;
}

Json findings_json(const Report& report) {
  Json list = Json::array();
  for (const Finding& finding : report.judged.judgement.findings)
    list.push_back({{"kind", name_of(finding.kind)},
                    {"operation", finding.operation},
                    {"line", finding.line},
                    {"worst_line", finding.worst_line},
                    {"pass", report.pass_of_line(finding.worst_line)},
                    {"moves", finding.moves},
                    {"depth", rounded(finding.depth_mm)},
                    {"an_angle", is_an_angle(finding.kind)},
                    {"accepted", one_line(finding.accepted_because)},
                    {"at", triple(finding.at)}});
  return list;
}

Json thickest_json(const Report& report) {
  Json list = Json::array();
  for (const ThickPlace& place : report.judged.why_left.thickest) {
    const bool cut = place.last_cut >= 0;
    const ProgramMove* move =
        cut ? &report.judged.program.moves[static_cast<std::size_t>(place.last_cut)] : nullptr;
    list.push_back({{"left", rounded(place.left_mm)},
                    {"why", name_of(place.why)},
                    {"operation", cut ? move->operation : -1},
                    {"line", cut ? move->line : 0},
                    {"at", triple(place.at)}});
  }
  return list;
}

const char* name_of(Figure::Form form) {
  switch (form) {
    case Figure::Form::duration:
      return "duration";
    case Figure::Form::way:
      return "way";
    case Figure::Form::percent:
      return "percent";
    case Figure::Form::area:
      return "area";
    case Figure::Form::length:
    case Figure::Form::room:
      return "length";
    case Figure::Form::count:
    case Figure::Form::degrees:
      break;
  }
  return "count";
}

/// What an earlier report.json is held against.
void add_told(Scene& scene, const Report& report) {
  const Json whole = whole_json(report);
  Json told{{"operations", Json::array()}};
  for (const char* key : {"title", "units", "seconds", "verdict", "left", "findings"}) told[key] = whole[key];
  Json figures = Json::array();
  for (const char* key : figures_of_changes())
    for (const Figure& figure : all_figures())
      if (std::string_view(figure.key) == key)
        figures.push_back({{"key", key}, {"heading", figure.heading}, {"form", name_of(figure.form)}});
  for (const Json& operation : whole["operations"]) {
    Json one;
    for (const char* key : {"number", "name", "strategy"}) one[key] = operation[key];
    for (const Json& figure : figures) {
      const std::string key = figure["key"], first = key.substr(0, key.find('.'));
      if (operation.contains(first)) one[first] = operation[first];
    }
    told["operations"].push_back(std::move(one));
  }
  scene.about["told"] = std::move(told);
  scene.about["told_figures"] = std::move(figures);
}

}  // namespace

Scene scene_of(const Report& report) {
  const JobSetup& setup = report.setup;
  const Mesh& mesh = setup.part->mesh();
  const Joints joints(mesh);
  Scene scene = begun(setup, report.job().title, report.run ? "run" : "check");
  if (setup.region_map.of_triangle.empty())
    add_part(scene, mesh,
             split_into_regions(mesh, joints, setup.record.group_of_triangle, setup.job.splitting),
             report.telling);
  else
    add_part(scene, mesh, setup.region_map, report.telling);
  add_edges(scene, edge_pieces_of(mesh, joints).pieces());
  add_named(scene, setup);
  add_stock(scene, report, add_moves(scene, report));
  scene.about["findings"] = findings_json(report);
  scene.about["resumed"] = report.judged.resumed.has_value();
  scene.about["thickest"] = thickest_json(report);
  add_told(scene, report);
  return scene;
}

Scene scene_of(const Inspection& inspection) {
  const JobSetup& setup = inspection.setup;
  Scene scene = begun(setup, inspection.title, "part");
  add_part(scene, setup.part->mesh(), setup.region_map, Telling(setup.job.units));
  add_edges(scene, inspection.edges);
  add_named(scene, setup);
  for (const OperationCurves& curves : inspection.roles)
    for (const CurveRole& role : curves.roles)
      add_layer(scene, "role", std::to_string(curves.operation) + " " + curves.name + ": " + role.role,
                {draped(setup.part, role.line, role.closed)});
  return scene;
}

}  // namespace yardpass::detail
