#include <algorithm>

#include "strategy/level_keys.h"
#include "yardpass/geom/text.h"

namespace yardpass {

namespace detail {

void pattern_keys(LevelPattern& pattern, double& angle_deg, LoopDirection& direction, Keys& keys,
                  double* engagement_deg, double tool_limit_deg) {
  constexpr std::pair<LevelPattern, const char*> patterns[] = {{LevelPattern::loops, "loops"},
                                                               {LevelPattern::lines, "lines"}};
  constexpr std::pair<LevelPattern, const char*> all[] = {
      {LevelPattern::loops, "loops"}, {LevelPattern::lines, "lines"}, {LevelPattern::bounded, "bounded"}};
  const char* because = "they need no turns";
  if (engagement_deg)
    keys.choice("pattern", pattern, all, LevelPattern::loops, because,
                {.says = "loops that follow the outlines; straight lines and then once along the outline; or "
                         "passes of bounded engagement",
                 .usual = "`\"loops\"`"});
  else
    keys.choice("pattern", pattern, patterns, LevelPattern::loops, because,
                {.says = "loops that follow the outlines, or straight lines and then once along the outline",
                 .usual = "`\"loops\"`"});
  if (engagement_deg) {
    const double below_limit = std::clamp(tool_limit_deg - 15, 20.0, 60.0);
    keys.number(
        "engagement", *engagement_deg,
        tool_limit_deg > 0 && below_limit < 60
            ? Derived{below_limit, "15 below the tool's widest engagement"}
            : Derived{60, "a quarter of the diameter at a time, and cutters stay cool"},
        {.says = "of passes of bounded engagement: the angle of the cutter that meets material at most",
         .usual = "60, at most 15 below the tool's `widest_engagement`",
         .unit = Unit::degrees,
         .low = 20,
         .high = 150});
    keys.idle_if(pattern != LevelPattern::bounded, "engagement", "only `pattern = \"bounded\"` keeps to one");
  }
  const bool lines = pattern == LevelPattern::lines;
  keys.number(
      "angle", angle_deg, {0, "along X"},
      {.says = "of lines, from X", .usual = "0, along X", .unit = Unit::degrees, .low = -360, .high = 360});
  keys.idle_if(!lines, "angle", "only lines have one (`pattern = \"lines\"`)");
  constexpr std::pair<LoopDirection, const char*> directions[] = {
      {LoopDirection::climb, "climb"},
      {LoopDirection::conventional, "conventional"},
      {LoopDirection::zigzag, "zigzag"}};
  keys.choice(
      "direction", direction, directions, lines ? LoopDirection::zigzag : LoopDirection::climb,
      lines ? "lines run to and fro" : "chips get thinner, not thicker",
      {.says = "the material on the right of the way (climb), on its left, or every second loop, line "
               "or pass back",
       .usual = "loops: `\"climb\"`; lines: `\"zigzag\"`"});
}

void level_stepover_key(double& stepover_mm, const Derived& usual, const char* says, const char* usual_words,
                        const Tool& tool, Keys& keys) {
  keys.number("stepover", stepover_mm, usual,
              {.says = says,
               .usual = usual_words,
               .low = 0,
               .high = 1e4,
               .above_low = true,
               .of_tool = true,
               .coarsened = Coarsened::spacing});
  keys.refuse_if(stepover_mm >= tool.diameter_mm, {"stepover"},
                 "is " + short_number(stepover_mm) + ", but must be below the tool's diameter, " +
                     short_number(tool.diameter_mm));
}

void order_key(LevelOrder& order, const char* because, const char* says, Keys& keys) {
  constexpr std::pair<LevelOrder, const char*> orders[] = {{LevelOrder::by_area, "by area"},
                                                           {LevelOrder::by_level, "by level"}};
  keys.choice("order", order, orders, LevelOrder::by_area, because, {.says = says, .usual = "`\"by area\"`"});
}

void ramp_angle_key(double& angle_deg, const Tool& tool, Keys& keys) {
  const bool gentle = tool.steepest_entry_deg < 3;
  keys.number("ramp_angle", angle_deg,
              gentle ? Derived{tool.steepest_entry_deg, "the tool's steepest entry"}
                     : Derived{3, "3 degrees, which cutters take in steel"},
              {.says = "steepest way down into the material",
               .usual = "3, at most the tool's `steepest_entry`",
               .unit = Unit::degrees,
               .low = 0,
               .high = 45,
               .above_low = true});
  keys.refuse_if(angle_deg > tool.steepest_entry_deg, {"ramp_angle"},
                 "is " + short_number(angle_deg) + ", steeper than the tool's \"steepest_entry\", " +
                     short_number(tool.steepest_entry_deg));
}

}  // namespace detail

namespace {

void keys_of_entry(RoughingOptions& options, const Tool& tool, Keys& keys) {
  const double d = tool.diameter_mm;
  const bool drawn = keys.says("keep_inside"), kept_out = keys.says("keep_out");
  keys.flag(
      "may_leave", options.may_leave, !drawn && !kept_out,
      {.says = "ways in may come from beside the stock, outside the boundary, where that reaches to the "
               "stock's side",
       .usual = "true if no boundary is drawn"});
  keys.refuse_if(options.may_leave && kept_out, {"may_leave"},
                 "cannot be true beside \"keep_out\": ways in could lead over it");
  keys.number("corner_radius", options.corner_radius_mm, {0.04 * d, "0.04 of the tool's diameter"},
              {.says = "least radius of corners in loops inside an area",
               .usual = "0.04 of the diameter",
               .low = 0,
               .high = 1e3,
               .of_tool = true});
  keys.idle_if(options.pattern == LevelPattern::bounded, "corner_radius", "passes are round by themselves");
  keys.flag("round_at_walls", options.round_at_walls, false,
            {.says = "loops along walls keep that radius too, and leave more in corners", .usual = "false"});
  keys.idle_if(options.pattern == LevelPattern::bounded, "round_at_walls",
               "passes go into corners as far as their smallest turns");
  constexpr std::pair<LevelEntry, const char*> entries[] = {
      {LevelEntry::helix, "helix"}, {LevelEntry::ramp, "ramp"}, {LevelEntry::plunge, "plunge"}};
  keys.choice("entry", options.entry, entries, LevelEntry::helix, "where nothing is open",
              {.says = "way down into solid material: a helix, or a ramp where none fits; always a ramp; or "
                       "straight down",
               .usual = "`\"helix\"`"});
  keys.refuse_if(options.entry == LevelEntry::plunge && tool.steepest_entry_deg < 90, {"entry"},
                 "is \"plunge\", but the tool's \"steepest_entry\" is " +
                     short_number(tool.steepest_entry_deg) + ": straight down needs 90");
  keys.number("helix_radius", options.helix_radius_mm,
              {0.25 * d, "half the tool's radius, so that no core stays"},
              {.says = "of the tool's axis on its way down, where there is room",
               .usual = "a quarter of the diameter, so that no core stays",
               .low = 0,
               .high = 1e3,
               .above_low = true,
               .of_tool = true});
  const double least = std::min(0.075 * d, options.helix_radius_mm);
  keys.number("least_helix", options.least_helix_mm, {least, "0.15 of the tool's radius"},
              {.says = "least radius of a helix: narrower than the tool and twice this, there is none",
               .usual = "0.075 of the diameter, at most `helix_radius`",
               .low = 0,
               .high = 1e3,
               .above_low = true,
               .of_tool = true});
  keys.refuse_if(options.least_helix_mm > options.helix_radius_mm, {"least_helix", "helix_radius"},
                 "is " + short_number(options.least_helix_mm) + ", but must not be above \"helix_radius\", " +
                     short_number(options.helix_radius_mm));
  keys.number("least_ramp", options.least_ramp_mm, {0.25 * d, "a quarter of the tool's diameter"},
              {.says = "a cut that spans less, in X and in Y, is not ramped down along",
               .usual = "a quarter of the diameter",
               .low = 0,
               .high = 1e3,
               .of_tool = true});
}

}  // namespace

void keys_of(RoughingOptions& options, const Tool& tool, Keys& keys) {
  const double d = tool.diameter_mm;
  const bool short_flutes = tool.flute_length_mm > 0 && tool.flute_length_mm < 0.25 * d;
  keys.number("stepdown", options.stepdown_mm,
              short_flutes ? Derived{tool.flute_length_mm, "the flute length"}
                           : Derived{0.25 * d, "a quarter of the tool's diameter"},
              {.says = "between levels",
               .usual = "a quarter of the diameter, at most the flute length",
               .low = 0,
               .high = 1e4,
               .above_low = true,
               .of_tool = true});
  keys.refuse_if(tool.flute_length_mm > 0 && options.stepdown_mm > tool.flute_length_mm + 1e-9, {"stepdown"},
                 "is " + short_number(options.stepdown_mm) + ", more than the tool's \"flute_length\", " +
                     short_number(tool.flute_length_mm));
  detail::level_stepover_key(
      options.stepover_mm, {0.45 * d, "0.45 of the tool's diameter, so that no peg stays"},
      "between loops; below the tool's diameter", "0.45 of the diameter, so that no peg stays", tool, keys);
  detail::ramp_angle_key(options.ramp_angle_deg, tool, keys);
  detail::pattern_keys(options.pattern, options.angle_deg, options.direction, keys, &options.engagement_deg,
                       tool.widest_engagement_deg);
  const bool bounded = options.pattern == LevelPattern::bounded;
  keys.idle_if(bounded, "stepover", "it follows from `engagement`");
  keys_of_entry(options, tool, keys);
  keys.number(
      "thinnest", options.thinnest_mm, {0.05 * d, "a twentieth of the tool's diameter"},
      {.says = "material that earlier operations left is left again where it is thinner than this, sideways",
       .usual = "a twentieth of the diameter",
       .low = 0,
       .high = 1e3,
       .of_tool = true});
  keys.number("step_on_slopes", options.step_on_slopes_mm, {0, "no levels in between"},
              {.says = "where slopes keep thicker steps than this between two levels, wider ones than "
                       "`thinnest`, thinner levels are cut in between, from below upwards; 0: nowhere",
               .usual = "0",
               .low = 0,
               .high = 1e4,
               .of_tool = true});
  detail::order_key(options.order, "fewer ways through the air",
                    "each area down to its bottom before the next, or level by level", keys);
}

Usual usual_of(const RoughingOptions& options, const Tool& tool) {
  Usual usual;
  usual.allowance_mm = {std::max(0.1, 0.03 * tool.diameter_mm),
                        "0.03 of the tool's diameter, at least 0.1 mm"};
  usual.tolerance_mm = {std::clamp(usual.allowance_mm.value / 6, 0.01, 0.1), "a sixth of the allowance"};
  usual.spacing_mm = options.stepover_mm;
  usual.at_levels = true;
  usual.spread = Spread::at_levels;
  usual.stepdown_mm = options.stepdown_mm;
  usual.repeats = false;
  usual.ramp_angle_deg = options.ramp_angle_deg;
  return usual;
}

}  // namespace yardpass
