#include <algorithm>

#include "job/job_keys.h"

namespace yardpass::detail {

namespace {

void words_of_moves(Controller& controller, Keys& keys) {
  constexpr std::pair<bool, const char*> units[] = {{false, "mm"}, {true, "inch"}};
  keys.choice("program_units", controller.inches, units, false, "as this file is in",
              {.says = "what the program is written in: G21 or G20", .usual = "`\"mm\"`"});
  number_keys(controller, keys);
  keys.flag("modal", controller.modal, true,
            {.says = "words are written only when their value changes; `false`: in every block",
             .usual = "`true`"});
  keys.whole("line_numbers", controller.line_numbers, 0,
             {.says = "steps of N words; 0: none", .usual = "0", .unit = Unit::none, .low = 0, .high = 1000});
  constexpr std::pair<bool, const char*> feeds[] = {{false, "a-minute"}, {true, "inverse-time"}};
  keys.choice("feeds", controller.inverse_time, feeds, false, "lengths a minute (G94)",
              {.says = "lengths a minute (G94), or moves a minute (G93), each block with its own F",
               .usual = "`\"a-minute\"`"});
  constexpr const char* planes[] = {"none", "XY", "ZX", "YZ"};
  std::vector<std::size_t> taken;
  keys.words("arcs", taken, planes,
             {.says = "planes in which it takes arcs (G17, G18, G19), where operations are smoothed. None is "
                      "longer than half a turn",
              .usual = "all three"});
  if (keys.says("arcs")) {
    controller.arc_planes = {false, false, false};
    for (const std::size_t plane : taken)
      if (plane > 0) controller.arc_planes[plane - 1] = true;
    keys.refuse_if(taken.size() > 1 && std::find(taken.begin(), taken.end(), 0u) != taken.end(), {"arcs"},
                   "must be \"none\" alone, or planes");
  }
  constexpr std::pair<bool, const char*> by[] = {{false, "centre"}, {true, "radius"}};
  keys.choice("arcs_by", controller.arcs_by_radius, by, false, "exact for every arc",
              {.says = "I, J, K from the start to the axis, or R", .usual = "`\"centre\"`"});
}

void words_of_the_machine(Controller& controller, Keys& keys) {
  keys.flag("length_compensation", controller.length_compensation, true,
            {.says = "G43 with the tool's number; `false`: the control sees to it with the tool change",
             .usual = "`true`"});
  const auto text = [&](const char* key, std::string& value, const char* says, const char* usual) {
    const std::string before = value;
    keys.text(key, value, {.says = says, .usual = usual});
    if (!keys.says(key)) value = before;
  };
  text("coolant_on", controller.coolant_on, "word", "`\"M8\"`");
  text("coolant_off", controller.coolant_off, "word", "`\"M9\"`");
  keys.number("spindle_from", controller.least_rpm, {0, "any"},
              {.says = "slowest speed of its spindle",
               .usual = "any",
               .unit = Unit::turns_min,
               .low = 0,
               .high = 2e5});
  keys.number("spindle_to", controller.most_rpm, {2e5, "any"},
              {.says = "fastest", .usual = "any", .unit = Unit::turns_min, .low = 1, .high = 2e5});
  keys.refuse_if(controller.least_rpm > controller.most_rpm, {"spindle_from", "spindle_to"},
                 "leave no speed: the slowest is above the fastest");
  using Stops = Controller::Stops;
  constexpr std::pair<Stops, const char*> stops[] = {{Stops::never, "never"},
                                                     {Stops::before_tools, "before-tools"},
                                                     {Stops::before_operations, "before-operations"}};
  keys.choice(
      "optional_stops", controller.optional_stops, stops, Stops::never, "it runs through",
      {.says = "M1: before each tool but the first, or before each operation", .usual = "`\"never\"`"});
}

void lines_of_its_own(Controller& controller, Keys& keys) {
  const auto lines = [&](const char* key, std::vector<std::string>& value, const char* says,
                         const char* usual) {
    const std::vector<std::string> before = value;
    keys.names(key, value, Named::anything, {.says = says, .usual = usual});
    if (!keys.says(key)) value = before;
  };
  lines("first_lines", controller.first_lines, "lines behind the program's own first ones", "none");
  lines("last_lines", controller.last_lines, "lines before the end (M30)", "none");
  lines("tool_change", controller.tool_change, "lines of a tool change", "`\"T{tool} M6\"`");
  keys.text(
      "path_tolerance", controller.path_tolerance,
      {.says = "line at the start of each operation, for example `\"G64 P{tolerance}\"`", .usual = "none"});
}

void comments_and_files(Controller& controller, Keys& keys) {
  using Comments = Controller::Comments;
  constexpr std::pair<Comments, const char*> comments[] = {
      {Comments::brackets, "brackets"}, {Comments::semicolon, "semicolon"}, {Comments::none, "none"}};
  keys.choice(
      "comments", controller.comments, comments, Comments::brackets, "every control takes them",
      {.says = "how they are written; without them the judged program, with them, stays beside the one "
               "for the machine",
       .usual = "`\"brackets\"`"});
  keys.flag("capitals", controller.capitals, false,
            {.says = "comments in capital letters", .usual = "`false`"});
  const std::string signs = controller.comment_signs;
  keys.text("comment_signs", controller.comment_signs,
            {.says = "signs that comments may hold besides letters and digits; others become `_`",
             .usual = "blank and `.,:;-+/=_*#`"});
  if (!keys.says("comment_signs")) controller.comment_signs = signs;
  keys.refuse_if(controller.comment_signs.find_first_of("()%\n\r") != std::string::npos, {"comment_signs"},
                 "must not hold brackets, % or line ends");
  keys.whole("comment_length", controller.comment_length, 100,
             {.says = "letters of a comment", .usual = "100", .unit = Unit::none, .low = 16, .high = 250});
  keys.whole("program_number", controller.program_number, 0,
             {.says = "O word; several files count on from it; 0: none",
              .usual = "0",
              .unit = Unit::none,
              .low = 0,
              .high = 99999});
  using Files = Controller::Files;
  constexpr std::pair<Files, const char*> files[] = {
      {Files::one, "one"}, {Files::each_tool, "each-tool"}, {Files::each_operation, "each-operation"}};
  keys.choice("files", controller.files, files, Files::one, "all in one",
              {.says = "for the machine: `program-1.nc`, `program-2.nc`, ... beside the whole one",
               .usual = "`\"one\"`"});
  keys.whole(
      "most_blocks", controller.most_blocks, 0,
      {.says = "of one file; longer programs go on in another, from the plane for rapids; 0: any number",
       .usual = "0",
       .unit = Unit::none,
       .low = 0,
       .high = 1e8});
}

}  // namespace

void number_keys(Controller& controller, Keys& keys) {
  constexpr std::pair<int, const char*> offsets[] = {{54, "G54"}, {55, "G55"}, {56, "G56"},
                                                     {57, "G57"}, {58, "G58"}, {59, "G59"}};
  int offset = 54;
  keys.choice("work_offset", offset, offsets, 54, "the first",
              {.says = "`\"G54\"` to `\"G59\"`", .usual = "`\"G54\"`"});
  controller.work_offset = "G" + std::to_string(offset);
  keys.whole("decimals", controller.decimals, controller.inches ? 4 : 3,
             {.says = "of X, Y, Z, I, J, K and R in the program",
              .usual = "3, of inches 4",
              .unit = Unit::none,
              .low = 2,
              .high = 6});
}

void keys_of(Controller& controller, Keys& keys) {
  words_of_moves(controller, keys);
  words_of_the_machine(controller, keys);
  lines_of_its_own(controller, keys);
  comments_and_files(controller, keys);
}

}  // namespace yardpass::detail
