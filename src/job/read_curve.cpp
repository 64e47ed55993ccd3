#include <algorithm>

#include <fmt/format.h>

#include "job/job_tables.h"

namespace yardpass::detail {

namespace {

constexpr EdgeExtent kExtents[] = {EdgeExtent::piece, EdgeExtent::run, EdgeExtent::loop};
const std::vector<std::string> kExtentNames{"piece", "run", "loop"};

/// `points = [[x, y, z], ...]`: two coordinates lie at Z 0.
Curve read_point_curve(TableReader& reader, const Given& node, bool closed) {
  Curve curve{{}, closed};
  const GivenList* list = node.list();
  if (!list || list->size() < (closed ? 3U : 2U)) {
    reader.wrong(node, "points",
                 fmt::format("must be a list of at least {} points [x, y] or [x, y, z]", closed ? 3 : 2));
    return curve;
  }
  for (const Given& point : *list)
    if (const auto p = read_numbers(reader, point, "points", 2, 3, "points [x, y] or [x, y, z]"))
      curve.points.emplace_back((*p)[0], (*p)[1], p->size() == 3 ? (*p)[2] : 0);
  return curve;
}

struct EditKind {
  const char* key;
  CurveEdit::What what;
};
constexpr EditKind kEdits[] = {
    {"flatten", CurveEdit::What::flatten},   {"shift", CurveEdit::What::shift},
    {"project", CurveEdit::What::project},   {"offset", CurveEdit::What::offset},
    {"join", CurveEdit::What::join},         {"cut_at_crossings", CurveEdit::What::cut_at_crossings},
    {"split_at", CurveEdit::What::split_at}, {"split_at_corners", CurveEdit::What::split_at_corners},
    {"keep", CurveEdit::What::keep},         {"reverse", CurveEdit::What::reverse},
    {"simplify", CurveEdit::What::simplify}};

void read_edit_value(TableReader& one, const EditKind& kind, CurveEdit& edit) {
  const auto number = [&](const Range& range) { edit.value = one.number(kind.key, range).value_or(0); };
  using What = CurveEdit::What;
  switch (kind.what) {
    case What::flatten:
      number(kPlace);
      break;
    case What::offset:
      number({-1000, 1000});
      break;
    case What::join:
      number(kLength);
      break;
    case What::split_at_corners:
      number({0, 180, true, "degrees"});
      break;
    case What::simplify:
      number({0, 10, true});
      break;
    case What::keep:
      edit.numbers = read_counts(one, kind.key, "of the curves so far");
      break;
    case What::shift:
      if (const auto p = read_numbers(one, *one.any(kind.key), kind.key, 3, 3, "[x, y, z]"))
        edit.by = Vec3(p->data());
      break;
    case What::split_at:
      if (const auto p = read_numbers(one, *one.any(kind.key), kind.key, 2, 2, "a place [x, y]"))
        edit.by = Vec3((*p)[0], (*p)[1], 0);
      break;
    case What::project:
    case What::cut_at_crossings:
    case What::reverse:
      if (!one.flag(kind.key).value_or(true))
        one.wrong(*one.any(kind.key), kind.key, "can only be true; leave the step out instead");
      break;
  }
}

void read_edits(TableReader& reader, CurveJob& curve) {
  const GivenList* list = reader.array("edits");
  if (!list) return;
  std::vector<std::string> names;
  for (const EditKind& kind : kEdits) names.emplace_back(kind.key);
  for (const Given& node : *list) {
    const GivenTable* table = node.table();
    const std::string key = table && table->size() == 1 ? std::string(table->begin()->first) : "";
    const auto at = std::find(names.begin(), names.end(), key);
    if (at == names.end()) {
      reader.wrong(
          node, "edits",
          fmt::format("must be a list of steps like {{ join = 0.1 }}, each with one of: {}", listed(names)));
      continue;
    }
    const EditKind& kind = kEdits[at - names.begin()];
    TableReader one(*table, reader.where() + ", edits", reader.mistakes());
    CurveEdit edit;
    edit.what = kind.what;
    edit.line = node.line();
    read_edit_value(one, kind, edit);
    curve.edits.push_back(std::move(edit));
  }
}

void read_file_keys(TableReader& reader, const GivenTable& table, const std::filesystem::path& folder,
                    CurveJob& curve) {
  if (const auto file = reader.text("file")) {
    curve.file = folder / *file;
    std::error_code code;
    if (!std::filesystem::exists(curve.file, code))
      reader.wrong(*table.get("file"), "file",
                   fmt::format("names {}, which does not exist", curve.file.string()));
#ifndef YARDPASS_WITH_DXF
    if (curve.file.extension() == ".dxf" || curve.file.extension() == ".DXF")
      reader.wrong(*table.get("file"), "file",
                   "is DXF, but this copy of the program was built without it; SVG and OBJ can be read");
#endif
  }
  curve.unit = read_length_unit(reader);
  curve.with_part = reader.flag("with_part").value_or(false);
  curve.layer = reader.text("layer").value_or("");
  curve.colour = reader.text("colour").value_or("");
  const bool is_colour = curve.colour.size() == 7 && curve.colour[0] == '#' &&
                         curve.colour.find_first_not_of("0123456789abcdef", 1) == std::string::npos;
  if (!curve.colour.empty() && !is_colour)
    reader.wrong(*table.get("colour"), "colour",
                 "must be \"#rrggbb\" in small letters, for example \"#ff0000\"");
  curve.named = read_names(reader, "named");
  for (const char* key : {"unit", "with_part", "layer", "colour", "named"})
    if (table.contains(key) && !table.contains("file"))
      reader.wrong(*table.get(key), key, "belongs to \"file\"");
}

}  // namespace

CurveJob read_curve_table(const std::string& name, const GivenTable& table,
                          const std::filesystem::path& folder, Mistakes& mistakes) {
  TableReader reader(table, fmt::format("curve \"{}\"", name), mistakes);
  CurveJob curve;
  curve.name = name;
  curve.line = reader.line();
  read_file_keys(reader, table, folder, curve);
  const bool closed = reader.flag("closed").value_or(false);
  if (const Given* node = reader.any("points"))
    curve.points.push_back(read_point_curve(reader, *node, closed));
  if (table.contains("closed") && !table.contains("points"))
    reader.wrong(*table.get("closed"), "closed", "belongs to \"points\"");
  curve.edges = read_counts(reader, "edges", "as on the picture of the sharp edges");
  if (const Given* node = reader.any("edges_at")) curve.edges_at = read_places(reader, *node, "edges_at");
  if (const Given* node = reader.any("edges_between")) {
    curve.edges_between = read_places(reader, *node, "edges_between");
    if (curve.edges_between.size() != 2) reader.wrong(*node, "edges_between", "must be two places");
  }
  if (const auto extent = reader.choice("extent", kExtentNames))
    curve.extent =
        kExtents[std::find(kExtentNames.begin(), kExtentNames.end(), *extent) - kExtentNames.begin()];
  if (table.contains("extent") && !table.contains("edges") && !table.contains("edges_at"))
    reader.wrong(*table.get("extent"), "extent", "belongs to \"edges\" and \"edges_at\"");
  curve.border_of = reader.text("border_of").value_or("");
  curve.holes_of = reader.text("holes_of").value_or("");
  curve.silhouette = reader.flag("silhouette").value_or(false);
  curve.slice_z = reader.number("slice", kPlace);
  curve.curves = read_names(reader, "curves");
  if (const Given* node = reader.any("at")) curve.at = read_places(reader, *node, "at");
  read_edits(reader, curve);
  reader.finish();
  const std::vector<std::string> sources{"file",      "points",   "edges",      "edges_at", "edges_between",
                                         "border_of", "holes_of", "silhouette", "slice",    "curves"};
  const auto given = std::count_if(sources.begin(), sources.end(),
                                   [&](const std::string& key) { return table.contains(key); });
  if (given != 1)
    mistakes.add(curve.line, fmt::format("curve \"{}\": needs one of: {}", name, listed(sources)));
  return curve;
}

void check_curve_names(const Job& job, Mistakes& mistakes) {
  const std::vector<std::string> names = names_of(job.curves), regions = names_of(job.regions);
  for (const CurveJob& curve : job.curves) {
    const std::string who = fmt::format("curve \"{}\"", curve.name);
    for (const std::string& region : {curve.border_of, curve.holes_of})
      if (!region.empty() && std::find(regions.begin(), regions.end(), region) == regions.end())
        mistakes.add(curve.line, fmt::format("{}: names the region {}", who, not_defined(region, regions)));
    for (const std::string& name : curve.curves)
      if (std::find(names.begin(), names.end(), name) == names.end())
        mistakes.add(curve.line, fmt::format("{}: names the curve {}", who, not_defined(name, names)));
  }
  for (const std::size_t i : leading_back(names, [&](std::size_t k) { return job.curves[k].curves; }))
    mistakes.add(job.curves[i].line,
                 fmt::format("curve \"{}\": leads back to itself by the names it uses", job.curves[i].name));
}

}  // namespace yardpass::detail
