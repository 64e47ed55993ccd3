#include <algorithm>
#include <cmath>

#include "job/curve_keys.h"
#include "job/job_keys.h"
#include "yardpass/curve/made_curves.h"

namespace yardpass::detail {

namespace {

using What = CurveEdit::What;

/// A step has one key: its kind.
void keys_of(CurveEdit& edit, Keys& keys) {
  std::optional<double> value;
  const auto number = [&](const char* key, What what, const About& about) {
    value.reset();
    keys.number(key, value, about);
    if (keys.says(key)) edit.what = what, edit.value = value.value_or(0);
  };
  const auto done = [&](const char* key, What what, const About& about) {
    bool said = true;
    keys.flag(key, said, true, about);
    if (keys.says(key)) edit.what = what;
    keys.refuse_if(keys.says(key) && !said, {key}, "can only be true; leave the step out instead");
  };
  const auto vector = [&](const char* key, What what, std::size_t count, const char* form,
                          const About& about) {
    std::vector<double> numbers;
    keys.numbers(key, numbers, {count}, form, about);
    if (keys.says(key)) edit.what = what;
    if (numbers.size() == count) edit.by = Vec3(numbers[0], numbers[1], count > 2 ? numbers[2] : 0);
  };
  number("flatten", What::flatten, {.says = "to this height"});
  vector("shift", What::shift, 3, "[x, y, z]", {.says = "by `[x, y, z]`"});
  done("project", What::project, {.says = "`true`: straight down on the part", .usual = "left out"});
  number("offset", What::offset, {.says = "to a line beside it, left positive", .low = -1000, .high = 1000});
  number("join", What::join, {.says = "ends nearer than this", .low = 0, .high = 1e4, .above_low = true});
  done("cut_at_crossings", What::cut_at_crossings,
       {.says = "`true`: where they cross each other, seen from above", .usual = "left out"});
  vector("split_at", What::split_at, 2, "a place [x, y]",
         {.says = "at the point nearest to a place `[x, y]`"});
  number("split_at_corners", What::split_at_corners,
         {.says = "that turn by more", .unit = Unit::degrees, .low = 0, .high = 180, .above_low = true});
  keys.counts("keep", edit.numbers, {.says = "only these of the curves so far, by number from 1"});
  if (keys.says("keep")) edit.what = What::keep;
  done("reverse", What::reverse, {.says = "`true`: the other way", .usual = "left out"});
  number("simplify", What::simplify,
         {.says = "fewer points, within this tolerance", .low = 0, .high = 10, .above_low = true});
  copy_keys(edit, keys);
  keys.one_of({"flatten", "shift", "project", "offset", "join", "cut_at_crossings", "split_at",
               "split_at_corners", "keep", "reverse", "simplify", "offsets", "row", "grid", "ring"},
              true);
}

void file_keys(CurveJob& curve, Keys& keys) {
  keys.file("file", curve.file, {.says = "a drawing beside the job file: DXF, SVG or OBJ lines"});
#ifndef YARDPASS_WITH_DXF
  const std::string ending = curve.file.extension().string();
  keys.refuse_if(ending == ".dxf" || ending == ".DXF", {"file"},
                 "is DXF, but this copy of the program was built without it; SVG and OBJ can be read");
#endif
  keys.choice("unit", curve.unit, kUnitWords,
              {.says = "of the numbers in the drawing",
               .usual = "what the file says, else mm",
               .belongs_to = "file"});
  keys.flag("with_part", curve.with_part, false,
            {.says = "the drawing lies as the mesh file does and is placed as the part is",
             .usual = "`false`",
             .belongs_to = "file"});
  keys.flag("texts", curve.texts, true,
            {.says = "texts of a DXF become strokes, as large and turned as they are drawn",
             .usual = "`true`",
             .belongs_to = "file"});
  keys.text("layer", curve.layer, {.says = "only this layer", .usual = "all", .belongs_to = "file"});
  keys.text("colour", curve.colour,
            {.says = "only this colour, `\"#rrggbb\"`", .usual = "all", .belongs_to = "file"});
  const bool is_colour = curve.colour.size() == 7 && curve.colour[0] == '#' &&
                         curve.colour.find_first_not_of("0123456789abcdef", 1) == std::string::npos;
  keys.refuse_if(!curve.colour.empty() && !is_colour, {"colour"},
                 "must be \"#rrggbb\" in small letters, for example \"#ff0000\"");
  keys.names("named", curve.named, Named::anything,
             {.says = "only curves of these names", .usual = "all", .belongs_to = "file"});
}

}  // namespace

void keys_of(CurveJob& curve, Keys& keys) {
  file_keys(curve, keys);
  bool closed = false;
  keys.flag("closed", closed, false,
            {.says = "the points close to a loop", .usual = "`false`", .belongs_to = "points"});
  std::vector<std::vector<double>> points;
  keys.points("points", points, closed ? 3 : 2, "points [x, y] or [x, y, z]",
              {.says = "one curve by its points, `[x, y]` (at Z 0) or `[x, y, z]`"});
  curve.points.clear();
  if (!points.empty()) {
    curve.points.push_back({{}, closed});
    for (const auto& p : points)
      curve.points.back().points.emplace_back(p[0], p[1], p.size() == 3 ? p[2] : 0);
  }
  made_keys(curve, keys);
  text_keys(curve, keys);
  std::vector<double> circle, rectangle;
  keys.numbers("circle", circle, {3}, "[x, y, diameter]", {.says = "a circle by `[x, y, diameter]`, at Z 0"});
  keys.numbers("rectangle", rectangle, {4}, "[x, y, x, y]",
               {.says = "a rectangle by two opposite corners `[x, y, x, y]`, at Z 0"});
  double corner = 0;
  keys.number(
      "corner_radius", corner, {0, "sharp corners"},
      {.says = "of the rectangle's corners", .usual = "0", .low = 0, .high = 1e4, .belongs_to = "rectangle"});
  if (circle.size() == 3) {
    keys.refuse_if(!(circle[2] > 0), {"circle"}, "its diameter, the third number, must be above 0");
    if (circle[2] > 0) curve.points.push_back(circle_curve({circle[0], circle[1]}, 0.5 * circle[2]));
  }
  if (rectangle.size() == 4) {
    const Vec2 a(rectangle[0], rectangle[1]), b(rectangle[2], rectangle[3]);
    const double least = (a - b).cwiseAbs().minCoeff();
    keys.refuse_if(!(least > 0), {"rectangle"}, "its corners must differ in X and in Y");
    keys.refuse_if(least > 0 && 2 * corner > least, {"corner_radius"},
                   "is more than half of the rectangle's shorter side");
    if (least > 0 && 2 * corner <= least) curve.points.push_back(rectangle_curve(a, b, corner));
  }
  keys.counts("edges", curve.edges, {.says = "pieces of sharp edges by their numbers on the picture"});
  keys.places("edges_at", curve.edges_at, 0, {.says = "the pieces nearest to places"});
  keys.places("edges_between", curve.edges_between, 2,
              {.says = "along sharp edges from one place to another"});
  constexpr std::pair<EdgeExtent, const char*> extents[] = {
      {EdgeExtent::piece, "piece"}, {EdgeExtent::run, "run"}, {EdgeExtent::loop, "loop"}};
  keys.choice("extent", curve.extent, extents, EdgeExtent::piece, "just the piece",
              {.says = "how far to follow `edges` and `edges_at`: the piece, on as long as it is smooth, or "
                       "all the way round",
               .usual = "`\"piece\"`"});
  keys.refuse_if(keys.says("extent") && !keys.says("edges") && !keys.says("edges_at"), {"extent"},
                 "belongs to \"edges\" and \"edges_at\"");
  keys.name("border_of", curve.border_of, Named::regions, {.says = "all borders of a region"});
  keys.name("holes_of", curve.holes_of, Named::regions, {.says = "the rims of a region's holes"});
  keys.flag("silhouette", curve.silhouette, false,
            {.says = "the outline of the part from above", .usual = "`false`"});
  keys.number("slice", curve.slice_z, {.says = "the part's outline at a height"});
  keys.names("curves", curve.curves, Named::curves, {.says = "other named curves"});
  keys.name("boundary", curve.boundary, Named::boundaries,
            {.says = "the border of a boundary, at Z 0; for operations only"});
  keys.one_of(
      {"file", "points", "circle", "rectangle", "rings", "rays", "spiral", "text", "edges", "edges_at",
       "edges_between", "border_of", "holes_of", "silhouette", "slice", "curves", "boundary"},
      true);
  keys.places("at", curve.at, 0, {.says = "of all these only the nearest to each place", .usual = "all"});
  curve.edits.clear();
  keys.each("edits",
            [&](Keys& one) {
              CurveEdit edit;
              keys_of(edit, one);
              edit.line = one.line();
              curve.edits.push_back(std::move(edit));
            },
            {.says = "steps done in their order, each a table with one key", .usual = "none"});
}

void keys_of(BoundaryJob& boundary, Keys& keys) {
  keys.loops("points", boundary.points, {.says = "points, or loops; odd depth is inside"});
  keys.name("region", boundary.region, Named::regions, {.says = "the outline of a region from above"});
  keys.flag("silhouette", boundary.silhouette, false,
            {.says = "the outline of the whole part", .usual = "`false`"});
  keys.number("slice", boundary.slice_z, {.says = "where the part is solid at a height"});
  keys.names("curves", boundary.curves, Named::curves, {.says = "closed curves; odd depth is inside"});
  keys.names("loop_from", boundary.loop_from, Named::curves, {.says = "one loop from scattered pieces"});
  keys.names("union_of", boundary.union_of, Named::boundaries, {.says = "other boundaries together"});
  keys.names("common_to", boundary.common_to, Named::boundaries,
             {.says = "what all of these boundaries share"});
  keys.one_of({"points", "region", "silhouette", "slice", "curves", "loop_from", "union_of", "common_to"},
              true);
  keys.number("gap", boundary.gap_mm, {0, ""},
              {.says = "the most that may be added or cut off where pieces meet",
               .low = 0,
               .high = 1e4,
               .belongs_to = "loop_from"});
  keys.refuse_if(keys.says("loop_from") && !keys.says("gap"), {"loop_from"},
                 "needs \"gap\": \"loop_from\" and \"gap\" need each other");
  keys.names("without", boundary.without, Named::boundaries,
             {.says = "other boundaries taken away", .usual = "none"});
  keys.flag("fill_holes", boundary.fill_holes, false, {.says = "outer loops only", .usual = "`false`"});
  keys.number("offset", boundary.offset_mm, {0, "as it is"},
              {.says = "grown, outward positive", .usual = "0", .low = -1000, .high = 1000});
  keys.number("simplify", boundary.simplify_mm, {0, "as it is"},
              {.says = "fewer points, within this tolerance", .usual = "0", .low = 0, .high = 10});
}

void keys_of(LidJob& lid, Keys& keys) {
  keys.name("holes_of", lid.holes_of, Named::regions, {.says = "the region whose holes are covered"});
  keys.loops("over", lid.over, {.says = "instead: an area in plan"});
  keys.one_of({"holes_of", "over"}, true);
  keys.number("widest", lid.widest_mm,
              {.says = "only holes up to this size in plan",
               .usual = "all",
               .low = 0,
               .high = 1e4,
               .above_low = true,
               .belongs_to = "holes_of"});
  keys.places("at", lid.at, 0,
              {.says = "only the holes nearest to these places, `[x, y]` or `[x, y, z]`",
               .usual = "all",
               .belongs_to = "holes_of"});
  keys.name("continues", lid.continues, Named::regions,
            {.says = "the region whose surface a lid over an area continues", .belongs_to = "over"});
  constexpr std::pair<bool, const char*> shapes[] = {{false, "flat"}, {true, "smooth"}};
  keys.choice("shape", lid.smooth, shapes, false, "from rim to rim",
              {.says = "straight across, or as the surface around goes on", .usual = "`\"flat\"`"});
  keys.number("spacing", lid.spacing_mm,
              {.says = "of the points of a smooth lid",
               .usual = "a fortieth of the opening",
               .low = 0.01,
               .high = 100});
  keys.refuse_if(keys.says("over") && (!lid.smooth || lid.continues.empty()), {"over"},
                 "needs shape = \"smooth\" and \"continues\", the region whose surface it continues");
}

void keys_of(RunOutJob& run_out, Keys& keys) {
  keys.name("edge_of", run_out.edge_of, Named::regions,
            {.says = "the region whose outer edge runs on", .required = true});
  keys.places("between", run_out.between, 2,
              {.says = "only from one of these two places of the edge to the other, the shorter way",
               .usual = "the whole edge"});
  keys.name(
      "along", run_out.along, Named::curves,
      {.says = "only where the edge runs along a named curve, within 0.1 mm", .usual = "the whole edge"});
  keys.number("length", run_out.length_mm, {0, ""},
              {.says = "how far", .low = 0, .high = 1e4, .above_low = true, .required = true});
  constexpr std::pair<bool, const char*> shapes[] = {{false, "straight"}, {true, "curved"}};
  keys.choice("shape", run_out.curved, shapes, false, "in line with the surface",
              {.says = "on in line, or as curved as the surface is at its edge", .usual = "`\"straight\"`"});
}

void keys_of(CarrierJob& carrier, Keys& keys) {
  keys.names("between", carrier.between, Named::curves, {.says = "two curves: a ruled face"});
  keys.name("section", carrier.section, Named::curves, {.says = "a curve that is swept along another"});
  keys.loops("patch", carrier.patch, {.says = "a flat patch"});
  keys.name("copy_of", carrier.copy_of, Named::regions, {.says = "a region, moved off by `offset`"});
  keys.one_of({"between", "section", "patch", "copy_of"}, true);
  keys.refuse_if(keys.says("between") && carrier.between.size() != 2, {"between"}, "needs two curves");
  keys.name("along", carrier.along, Named::curves,
            {.says = "the curve that a section is swept along", .belongs_to = "section"});
  keys.number("z", carrier.z, {0, ""}, {.says = "height of a patch", .belongs_to = "patch"});
  keys.number("offset", carrier.offset_mm, {0, ""},
              {.says = "how far a copy is moved off, along its normals",
               .low = -1000,
               .high = 1000,
               .belongs_to = "copy_of"});
  for (const auto& [a, b] :
       {std::pair("section", "along"), std::pair("patch", "z"), std::pair("copy_of", "offset")})
    keys.refuse_if(keys.says(a) && !keys.says(b), {a},
                   std::string("needs \"") + b + "\": the two need each other");
}

void keys_of(KeepAwayJob& keep_away, Keys& keys) {
  keys.name("region", keep_away.region, Named::regions, {.says = "a region of the part"});
  keys.file("mesh", keep_away.mesh, {.says = "another mesh, in program coordinates: a clamp, a vice"});
  keys.one_of({"region", "mesh"}, true);
  keys.number(
      "clearance", keep_away.clearance_mm, {0, ""},
      {.says = "the gap that stays between it and the tool", .low = 0, .high = 1e4, .required = true});
  keys.choice("in_the_way", keep_away.in_the_way, kInTheWayWords, InTheWay::refuse,
              "nothing is left out unasked",
              {.says = "what finishing does where it keeps the cutter off the part: the operation is refused "
                       "with the place, that bit of the pass is left out, or the tool rides over it",
               .usual = "`\"refuse\"`"});
}

}  // namespace yardpass::detail
