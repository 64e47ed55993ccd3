#include "job/job_keys.h"
#include "yardpass/strategy/all.h"

namespace yardpass::detail {

namespace {

using Shape = StockJob::Shape;

Box3 box_of(const Corners& corners) { return Box3(Vec3(corners.low.data()), Vec3(corners.high.data())); }

void keys_of(DrilledHoles& holes, Keys& keys) {
  keys.text("name", holes.name, {.says = "any text", .required = true});
  std::vector<std::vector<double>> places;
  keys.places("at", places, 0, {.says = "their middles, `[x, y]`", .required = true});
  holes.at.clear();
  bool in_space = false;
  for (const std::vector<double>& place : places) {
    holes.at.emplace_back(place[0], place[1]);
    in_space |= place.size() > 2;
  }
  keys.refuse_if(in_space, {"at"}, "must be places [x, y]: how low holes go is said by \"bottom\"");
  keys.number("diameter", holes.diameter_mm, {0, ""},
              {.says = "of each", .low = 0, .high = 1e4, .above_low = true, .required = true});
  keys.number("bottom", holes.bottom_z, {.says = "how low they go", .usual = "through"});
}

}  // namespace

void keys_of(Job& job, Keys& keys) {
  keys.text("title", job.title, {.says = "any text", .required = true});
  constexpr std::pair<Units, const char*> units[] = {{Units::mm, "mm"}, {Units::inch, "inch"}};
  keys.choice(
      "units", job.units, units, Units::mm, "millimetres",
      {.says = "of all lengths, feeds and areas in the file and in all that is told", .usual = "`\"mm\"`"});
  keys.file(
      "rack", job.rack_file,
      {.says = "tools that jobs share: a file with `[tools.NAME]` tables, and `units` as of the job. Taken "
               "are those that the job names; what its own `[tools.NAME]` says counts",
       .usual = "none"});
}

void keys_of(StockJob& stock, Keys& keys) {
  keys.text("material", stock.material,
            {.says = "what it is of: tools that have cutting data for it (`materials`) cut by that",
             .usual = "not said"});
  std::optional<double> around_part;
  keys.number("around_part", around_part,
              {.says = "the part itself as placed, grown evenly by this; 0: the part as it is",
               .low = 0,
               .high = 1e4});
  std::optional<Corners> corners;
  keys.corners("corners", corners, {.says = "a block by two opposite corners `[[x, y, z], [x, y, z]]`"});
  constexpr std::pair<Shape, const char*> bars[] = {
      {Shape::upright_bar, "upright"}, {Shape::bar_along_x, "along-x"}, {Shape::bar_along_y, "along-y"}};
  std::optional<Shape> bar;
  keys.choice("bar", bar, bars,
              {.says = "a round bar around the middle of the part. Of a lying bar the simulation sees the "
                       "upper half, and "
                       "below its middle straight down"});
  std::filesystem::path mesh, file;
  keys.file("mesh", mesh, {.says = "a mesh in program coordinates, for example a casting"});
  keys.file(
      "file", file,
      {.says =
           "what another run left: `stock.npy` with its `stock.frame` beside it, written by `--save-stock`"});
  keys.flag(
      "with_part", stock.with_part, false,
      {.says = "`true`: the mesh is drawn like the part's: in its unit, scaled, mirrored, turned, moved and "
               "given its origin as the part is",
       .usual = "`false`",
       .belongs_to = "mesh"});
  keys.idle_if(mesh.empty() && !keys.says("with_part"), "with_part", "no mesh is said");
  keys.one_of({"around_part", "corners", "bar", "mesh", "file"}, false);
  stock.shape = Shape::block;
  if (around_part) stock.shape = Shape::around_part, stock.around_part_mm = *around_part;
  if (corners) stock.shape = Shape::corners, stock.corners = box_of(*corners);
  if (bar) stock.shape = *bar;
  if (!mesh.empty()) stock.shape = Shape::mesh, stock.path = mesh;
  if (!file.empty()) stock.shape = Shape::file, stock.path = file;
  const bool block = stock.shape == Shape::block, upright = stock.shape == Shape::upright_bar,
             lying = stock.shape == Shape::bar_along_x || stock.shape == Shape::bar_along_y;
  std::vector<double> margin{5, 5};
  keys.numbers("margin", margin, {2}, "[x, y], each at least 0",
               {.says = "`[x, y]` around the part; of a lying bar only along it",
                .usual = "`[5, 5]`",
                .low = 0,
                .high = 1e4});
  stock.margin_mm = Vec2(margin.data());
  keys.number("above", stock.above_mm, {2, "2 mm"},
              {.says = "extra on top of the part (not of lying bars)", .usual = "2", .low = 0, .high = 1e4});
  keys.number("diameter", stock.diameter_mm, {0, ""},
              {.says = "of a bar", .low = 0, .high = 1e4, .above_low = true, .belongs_to = "bar"});
  keys.idle_if(!bar && !keys.says("diameter"), "diameter", "it is no bar");
  keys.idle_if(!around_part && !keys.says("around_part"), "around_part", "another kind of stock is said");
  keys.refuse_if(bar && !keys.says("diameter"), {"bar"}, "needs \"diameter\": the two need each other");
  keys.refuse_if(
      !block && !lying && !upright, {"margin"},
      "belongs to stock around the part, not to \"around_part\", \"corners\", \"mesh\" or \"file\"");
  keys.refuse_if(
      !block && !lying && !upright, {"above"},
      "belongs to stock around the part, not to \"around_part\", \"corners\", \"mesh\" or \"file\"");
  keys.refuse_if(upright, {"margin"}, "says nothing of an upright bar; its diameter does");
  keys.refuse_if(lying, {"above"}, "says nothing of a lying bar; its diameter does");
  keys.number(
      "cell", stock.cell_mm,
      {.says = "of the simulation",
       .usual = "about 2.5 million cells, more where a tool is less than four of them wide, in round steps",
       .low = 0.001,
       .high = 100});
  keys.refuse_if(stock.shape == Shape::file, {"cell"}, "comes from the file");
  stock.drilled.clear();
  keys.each("drilled",
            [&](Keys& one) {
              DrilledHoles holes;
              keys_of(holes, one);
              stock.drilled.push_back(std::move(holes));
            },
            {.says = "holes that are there before the first cut, for roughing to come down in: tables of "
                     "`name`, `at`, `diameter`, `bottom`",
             .usual = "none"});
  keys.text(
      "cleared_by", stock.cleared_by,
      {.says = "a tool of this job that has cleared, level by level, all it reaches of the block before the "
               "first operation, for a program that only takes the rest",
       .usual = "none"});
  const bool cleared = !stock.cleared_by.empty();
  keys.number("cleared_leaving", stock.cleared_leaving_mm,
              {.says = "the allowance that it left",
               .usual = "0.03 of its diameter, at least 0.1",
               .low = 0,
               .high = 1e3,
               .belongs_to = "cleared_by"});
  keys.number("cleared_stepdown", stock.cleared_stepdown_mm,
              {.says = "between its levels",
               .usual = "a quarter of its diameter",
               .low = 0,
               .high = 1e4,
               .above_low = true,
               .belongs_to = "cleared_by"});
  for (const char* key : {"cleared_leaving", "cleared_stepdown"})
    keys.idle_if(!cleared && !keys.says(key), key, "no tool has cleared before");
  keys.refuse_if(!cleared && stock.cleared_leaving_mm.has_value(), {"cleared_leaving"},
                 "needs \"cleared_by\"");
  keys.refuse_if(!cleared && stock.cleared_stepdown_mm.has_value(), {"cleared_stepdown"},
                 "needs \"cleared_by\"");
}

void keys_of(MachineJob& machine, Keys& keys) {
  keys.text("name", machine.name, {.says = "told in the report", .usual = "none"});
  keys.number(
      "rapid_plane", machine.rapid_plane_mm, {5, "5 mm"},
      {.says = "height of the plane where rapids run across, above stock, part and what is kept away from",
       .usual = "5",
       .low = 0.1,
       .high = 1000});
  constexpr std::pair<bool, const char*> rapids[] = {{false, "straight"}, {true, "dog-leg"}};
  keys.choice("rapids", machine.controller.dog_leg_rapids, rapids, false, "all axes arrive together",
              {.says = "straight, or each axis on its own, at its own speed, until it is there. The judge "
                       "proves rapids as "
                       "they are told here",
               .usual = "`\"straight\"`"});
  std::optional<Corners> travel;
  keys.corners(
      "travel", travel,
      {.says = "where the tip may be, two opposite corners in program coordinates", .usual = "anywhere"});
  if (travel) machine.travel = box_of(*travel);
  std::vector<double> rapid(machine.motion.rapid_mm_min.data(), machine.motion.rapid_mm_min.data() + 3);
  keys.numbers("rapid_feed", rapid, {1, 3}, "a speed, or [x, y, z]",
               {.says = "speed of rapids, or `[x, y, z]` of the axes; for times and dog-legs",
                .usual = "15000",
                .unit = Unit::mm_min,
                .low = 0,
                .high = 1e6,
                .above_low = true});
  machine.motion.rapid_mm_min = rapid.size() == 1 ? Vec3::Constant(rapid[0]) : Vec3(rapid.data());
  keys.number("acceleration", machine.motion.acceleration_mm_s2,
              {machine.motion.acceleration_mm_s2, "2000 mm/s2"},
              {.says = "along the path, for times",
               .usual = "2000",
               .unit = Unit::mm_s2,
               .low = 0,
               .high = 1e6,
               .above_low = true});
  keys.number("corner_jump", machine.motion.corner_jump_mm_min,
              {machine.motion.corner_jump_mm_min, "600 mm/min"},
              {.says = "the most the velocity may change at once where two moves meet, for times",
               .usual = "600",
               .unit = Unit::mm_min,
               .low = 0,
               .high = 1e6,
               .above_low = true});
  keys.number("tool_change_time", machine.motion.tool_change_s, {machine.motion.tool_change_s, "10 seconds"},
              {.says = "for times", .usual = "10", .unit = Unit::seconds, .low = 0, .high = 3600});
  keys.number("tool_change_height", machine.change_z,
              {.says = "Z, in program coordinates, from which the tip comes down after a tool change; for "
                       "times and proofs",
               .usual = "the plane for rapids",
               .low = -1e5,
               .high = 1e5});
  keys.number(
      "file_minutes", machine.file_minutes, {0, "any"},
      {.says = "longest time of one file: the program also goes, for the machine, into `program-1.nc`, "
               "`program-2.nc`, ..., which end and begin on the plane for rapids. Where an operation "
               "stays down longer, it goes up there and comes back; 0: any",
       .usual = "0",
       .unit = Unit::none,
       .low = 0,
       .high = 1e5});
  keys.number(
      "file_length", machine.file_length_mm, {0, "any"},
      {.says = "longest way at feed of one file, likewise; 0: any", .usual = "0", .low = 0, .high = 1e9});
  keys.refuse_if(machine.file_minutes > 0 && machine.file_minutes < 1, {"file_minutes"},
                 "must be 0 or at least 1");
  keys.refuse_if(machine.file_length_mm > 0 && machine.file_length_mm < 100, {"file_length"},
                 "must be 0 or at least 100 mm");
  keys.file(
      "controller", machine.controller_file,
      {.says =
           "its control, described in a file of its own beside the job, see [controllers](controllers.md). "
           "`work_offset` and `decimals` of this table count before those of the file",
       .usual = "millimetres, arcs by their centre, one file"});
  number_keys(machine.controller, keys);
  constexpr const char* lines[] = {"title", "date"};
  std::vector<std::size_t> header;
  keys.words("header", header, lines,
             {.says = "what the program's head says besides its tools: `\"title\"`, `\"date\"` (of the day "
                      "it is made: then "
                      "two runs may differ)",
              .usual = "nothing"});
  for (const std::size_t line : header) {
    machine.controller.title |= line == 0;
    machine.dated |= line == 1;
  }
}

void keys_of(LeftJob& left, Keys& keys) {
  keys.number("thicker_than", left.thicker_than_mm, {0.05, "0.05 mm"},
              {.says = "material thicker than this is explained: missed, out of reach, on purpose",
               .usual = "0.05",
               .low = 0.001,
               .high = 100});
  keys.flag("explain", left.explained, true,
            {.says = "`false`: only measured; why it is there is not looked for", .usual = "`true`"});
}

void keys_of(AcceptedJob& accepted, Keys& keys) {
  std::vector<const char*> kinds;
  std::vector<FindingKind> acceptable;
  for (const FindingKind kind : all_finding_kinds())
    if (can_be_accepted(kind)) acceptable.push_back(kind), kinds.push_back(id_of(kind));
  std::optional<std::size_t> kind;
  keys.word("finding", kind, kinds, {.says = "its kind, as in report.json", .required = true});
  if (kind) accepted.finding.kind = acceptable[*kind];
  keys.name("operation", accepted.operation, Named::operations,
            {.says = "the operation that makes it", .required = true});
  keys.number("up_to", accepted.finding.up_to_mm, {0, ""},
              {.says = "the depth that is still accepted",
               .low = 0,
               .high = 1e4,
               .above_low = true,
               .required = true});
  keys.text("reason", accepted.finding.reason, {.says = "why this may stay", .required = true});
}

void keys_of(OperationHead& head, Keys& keys) {
  keys.text("name", head.name, {.says = "any text, each its own", .required = true});
  keys.name("copy_of", head.copy_of, Named::operations,
            {.says = "another operation, before or after this one: all of its keys but `active` and those "
                     "that are said here",
             .usual = "none"});
  std::vector<const char*> strategies;
  for (const Strategy& strategy : all_strategies()) strategies.push_back(strategy.name);
  keys.word("strategy", head.strategy, strategies, {.says = "what it does, by name", .required = true});
  keys.name("tool", head.tool, Named::tools, {.says = "from the tool table", .required = true});
  keys.flag("active", head.active, true,
            {.says = "`false`: affects neither program, stock nor totals", .usual = "`true`"});
}

}  // namespace yardpass::detail
