#include <algorithm>

#include "job/job_keys.h"

namespace yardpass::detail {

namespace {

constexpr std::pair<Axis, const char*> kAxes[] = {{Axis::x, "x"}, {Axis::y, "y"}, {Axis::z, "z"}};

Vec3 triple(const std::vector<double>& numbers) {
  return numbers.size() == 1 ? Vec3::Constant(numbers[0]) : Vec3(numbers[0], numbers[1], numbers[2]);
}

void keys_of(Turn& turn, Keys& keys) {
  keys.choice("axis", turn.axis, kAxes, Axis::z, "",
              {.says = "`\"x\"`, `\"y\"` or `\"z\"`", .required = true});
  keys.number("angle", turn.angle_deg, {0, ""},
              {.says = "right-handed", .unit = Unit::degrees, .low = -360, .high = 360, .required = true});
}

void keys_of(Origin& origin, Keys& keys) {
  constexpr std::pair<Origin::Of, const char*> of[] = {{Origin::Of::part, "part"},
                                                       {Origin::Of::stock, "stock"}};
  keys.choice("of", origin.of, of, Origin::Of::part, "", {.says = "of what", .required = true});
  constexpr const char* x[] = {"left", "middle", "right"};
  constexpr const char* y[] = {"front", "middle", "back"};
  constexpr const char* z[] = {"bottom", "middle", "top"};
  const auto coordinate = [&](const char* key, std::span<const char* const> words, std::size_t k) {
    std::optional<std::size_t> word;
    keys.word_or_number(key, word, origin.coordinate[k], words,
                        {.says = "a place of it, or a coordinate", .required = true});
    origin.share[k] = word ? std::optional(0.5 * static_cast<double>(*word)) : std::nullopt;
  };
  coordinate("x", x, 0);
  coordinate("y", y, 1);
  coordinate("z", z, 2);
}

}  // namespace

void keys_of(PartJob& part, Keys& keys) {
  keys.file("mesh", part.mesh,
            {.says = "the mesh of the part: STL, OBJ, PLY or 3MF, beside the job file", .required = true});
  keys.choice("unit", part.read.unit, kUnitWords,
              {.says = "of the numbers in the mesh file", .usual = "what the file says, else mm"});
  keys.number(
      "weld", part.read.weld_mm, {0, "only equal corners"},
      {.says = "corners nearer than this become one", .usual = "0: only equal ones", .low = 0, .high = 1});
  std::vector<const char*> repairs;
  for (const Repair repair : all_repairs()) repairs.push_back(name_of(repair));
  std::vector<std::size_t> chosen;
  keys.words("repair", chosen, repairs, {.says = "repairs to carry out, a list", .usual = "none"});
  part.repairs.clear();
  for (const std::size_t i : chosen) part.repairs.push_back(all_repairs()[i]);
  part.read.drop_not_finite =
      std::find(part.repairs.begin(), part.repairs.end(), Repair::not_finite) != part.repairs.end();
  Placement& placement = part.placement;
  std::vector<double> factor{1};
  keys.numbers("shrink_factor", factor, {1, 3},
               "a factor, 1.006 for 0.6 % of shrinking, or three of them [x, y, z]",
               {.says = "sizes are multiplied by it: 1.013 for 1.3 %; or `[x, y, z]`",
                .usual = "1",
                .unit = Unit::none,
                .low = 0.5,
                .high = 2});
  placement.shrink_factor = triple(factor);
  keys.choice("mirror", placement.mirror, kAxes,
              {.says = "this coordinate changes its sign, before anything is planned, so climb stays climb",
               .usual = "none"});
  placement.turns.clear();
  keys.each("turn",
            [&](Keys& one) {
              Turn turn;
              keys_of(turn, one);
              placement.turns.push_back(turn);
            },
            {.says = "one after the other, about the file's zero: `[{ axis = \"x\", angle = 180 }, ...]`",
             .usual = "none"});
  std::vector<double> move{0, 0, 0};
  keys.numbers("move", move, {3}, "[x, y, z]", {.says = "`[x, y, z]`, after turning", .usual = "none"});
  placement.move = triple(move);
  part.origin.reset();
  keys.table("origin",
             [&](Keys& inner) {
               Origin origin;
               keys_of(origin, inner);
               part.origin = origin;
             },
             {.says = "what becomes zero: `{ of = \"stock\", x = \"middle\", y = \"front\", z = \"top\" }`",
              .usual = "the file's zero"});
}

void keys_of(RegionOptions& splitting, Keys& keys) {
  keys.number("crease_angle", splitting.crease_deg, {25, "25 degrees"},
              {.says = "joints that turn by more split regions",
               .usual = "25",
               .unit = Unit::degrees,
               .low = 0,
               .high = 180,
               .above_low = true});
  keys.number("bend_radius", splitting.bend_radius_mm,
              {.says = "bends tighter than this are regions of their own; 0: none",
               .usual = "from the part",
               .low = 0,
               .high = 1e4});
  keys.number("total_turn", splitting.total_turn_deg, {0, "no limit"},
              {.says = "a region's normals stay within this angle of where it began; 0: no limit",
               .usual = "0",
               .unit = Unit::degrees,
               .low = 0,
               .high = 180});
  keys.number("scrap_area", splitting.scrap_mm2,
              {.says = "smaller regions join the neighbour they have the longest smooth border with",
               .usual = "a ten-thousandth of the surface",
               .unit = Unit::mm2,
               .low = 0,
               .high = 1e9});
}

void keys_of(RegionJob& region, Keys& keys) {
  keys.places("at", region.at, 0,
              {.says = "the regions at these places, `[x, y]` (from above) or `[x, y, z]` (nearest)"});
  keys.counts("numbers", region.numbers, {.says = "regions by their numbers on the picture"});
  keys.names("group", region.groups, Named::anything,
             {.says = "groups, objects or solids that the mesh file names"});
  keys.names("union_of", region.union_of, Named::regions, {.says = "other named regions together"});
  keys.names("neighbours_of", region.neighbours_of, Named::regions,
             {.says = "all that touches a named region, without itself"});
  keys.names("without", region.without, Named::regions, {.says = "named regions taken away"});
  std::vector<double> slope;
  keys.numbers("slope", slope, {2},
               "[least, greatest] in degrees from level, between 0 and 180; above 90 faces down",
               {.says = "only triangles of these slopes, `[least, greatest]` from level; above 90 faces down",
                .unit = Unit::degrees,
                .low = 0,
                .high = 180});
  region.slope_deg.reset();
  if (slope.size() == 2) region.slope_deg = {slope[0], slope[1]};
  keys.refuse_if(slope.size() == 2 && slope[0] > slope[1], {"slope"},
                 "must be [least, greatest] in degrees from level, between 0 and 180; above 90 faces down");
  std::optional<Corners> box;
  keys.corners("box", box, {.says = "only what lies in a box, two opposite corners"});
  region.box.reset();
  if (box) region.box = Box3(Vec3(box->low.data()), Vec3(box->high.data()));
  keys.loops("inside", region.inside, {.says = "only what lies inside loops, seen from above"});
  bool says_something = false;
  for (const char* key :
       {"at", "numbers", "group", "union_of", "neighbours_of", "without", "slope", "box", "inside"})
    says_something |= keys.says(key);
  keys.refuse_if(
      !says_something, {},
      "says nothing; give at least one of: at, numbers, group, union_of, neighbours_of, slope, box, inside, "
      "without");
}

}  // namespace yardpass::detail
