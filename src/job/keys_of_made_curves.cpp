#include <functional>

#include "job/curve_keys.h"
#include "yardpass/curve/made_curves.h"

namespace yardpass::detail {

namespace {

using What = CurveEdit::What;

constexpr double kMost = 1e4;  // mm

About size(const char* says, const char* usual = "", double low = 0, bool above = true) {
  return {.says = says, .usual = usual, .low = low, .high = kMost, .above_low = above};
}

Vec2 centre_key(Keys& keys) {
  std::vector<double> centre;
  keys.numbers("centre", centre, {2}, "[x, y]", {.says = "the middle, `[x, y]`", .required = true});
  return centre.size() == 2 ? Vec2(centre[0], centre[1]) : Vec2(0, 0);
}
void step_key(double& step, Keys& keys) {
  About about = size("from each to the next");
  about.required = true;
  keys.number("step", step, {1, ""}, about);
}
void radius_keys(double& from, double& to, bool from_0, Keys& keys) {
  About about = size("the radius with which it begins", from_0 ? "0" : "", 0, !from_0);
  about.required = !from_0;
  keys.number("from", from, {0, "the middle"}, about);
  about = size("the radius with which it ends", "", 0, !from_0);
  about.required = true;
  keys.number("to", to, {10, ""}, about);
  keys.refuse_if(from == to, {"to"}, "is the radius with which it begins");
}
/// What is refused only where the curves are made.
void make(CurveJob& curve, Keys& keys, const char* key, const std::function<std::vector<Curve>()>& made) {
  try {
    for (Curve& one : made()) curve.points.push_back(std::move(one));
  } catch (const Error& error) {
    keys.refuse_if(true, {key}, error.what());
  }
}

std::int64_t count_key(const char* key, const char* says, Keys& keys) {
  int count = 1;
  keys.whole(key, count, 1, {.says = says, .unit = Unit::none, .low = 1, .high = 1e5, .required = true});
  return count;
}
Vec2 pair_key(const char* key, const char* says, Keys& keys) {
  std::vector<double> numbers;
  keys.numbers(key, numbers, {2}, "[x, y]", {.says = says, .required = true});
  return numbers.size() == 2 ? Vec2(numbers[0], numbers[1]) : Vec2(0, 0);
}

}  // namespace

void made_keys(CurveJob& curve, Keys& keys) {
  keys.table("rings",
             [&](Keys& inner) {
               RingsFrom from;
               from.centre = centre_key(inner);
               radius_keys(from.from_mm, from.to_mm, false, inner);
               step_key(from.step_mm, inner);
               make(curve, inner, "step", [&] { return rings(from); });
             },
             {.says = "circles about a place"});
  keys.table("rays",
             [&](Keys& inner) {
               RaysFrom from;
               from.centre = centre_key(inner);
               radius_keys(from.from_mm, from.to_mm, true, inner);
               inner.whole("count", from.count, 12,
                           {.says = "how many", .usual = "12", .unit = Unit::none, .low = 1, .high = 1e5});
               inner.number("first_angle", from.first_deg, {0, "along X"},
                            {.says = "direction of the first, from X",
                             .usual = "0",
                             .unit = Unit::degrees,
                             .low = -360,
                             .high = 360});
               inner.number("sweep", from.sweep_deg, {360, "all round"},
                            {.says = "angle over which they are spread, counter-clockwise",
                             .usual = "360",
                             .unit = Unit::degrees,
                             .low = -360,
                             .high = 360});
               make(curve, inner, "count", [&] { return rays(from); });
             },
             {.says = "straight lines away from a place"});
  keys.table(
      "spiral",
      [&](Keys& inner) {
        SpiralFrom from;
        from.centre = centre_key(inner);
        radius_keys(from.from_mm, from.to_mm, true, inner);
        step_key(from.step_mm, inner);
        constexpr std::pair<bool, const char*> turns[] = {{false, "counter-clockwise"}, {true, "clockwise"}};
        inner.choice("turns", from.clockwise, turns, false, "",
                     {.says = "which way round", .usual = "`\"counter-clockwise\"`"});
        make(curve, inner, "step", [&] { return std::vector<Curve>{spiral(from)}; });
      },
      {.says = "one line round a place"});
}

void text_keys(CurveJob& curve, Keys& keys) {
  TextJob& text = curve.text;
  keys.text("text", text.says, {.says = "letters as strokes; `\\n` begins a new line"});
#ifndef YARDPASS_WITH_LETTERING
  keys.refuse_if(!text.says.empty(), {"text"},
                 "is not possible: this copy of the program was built without it");
#endif
  keys.refuse_if(keys.says("text") && text.says.find_first_not_of(" \n\t") == std::string::npos, {"text"},
                 "has no letter");
  keys.number("letter_height", text.height_mm, {5, "5 mm"},
              {.says = "height of capital letters",
               .usual = "5",
               .low = 0,
               .high = kMost,
               .above_low = true,
               .belongs_to = "text"});
  constexpr std::pair<LetterStyle, const char*> styles[] = {{LetterStyle::plain, "plain"},
                                                            {LetterStyle::script, "script"},
                                                            {LetterStyle::twin, "twin"},
                                                            {LetterStyle::book, "book"},
                                                            {LetterStyle::slanted, "slanted"}};
  keys.choice("letter_style", text.style, styles, LetterStyle::plain, "one stroke",
              {.says = "without serifs, as by hand, in two strokes, with serifs, or leaning",
               .usual = "`\"plain\"`",
               .belongs_to = "text"});
  keys.number(
      "letter_spacing", text.spacing_mm, {0, "as the letters are"},
      {.says = "added between letters", .usual = "0", .low = -100, .high = 1000, .belongs_to = "text"});
  constexpr std::pair<LetterAlign, const char*> aligns[] = {
      {LetterAlign::start, "start"}, {LetterAlign::middle, "middle"}, {LetterAlign::end, "end"}};
  keys.choice("text_align", text.align, aligns, LetterAlign::start, "it begins there",
              {.says = "what of the text stands at its place: its start, middle or end",
               .usual = "`\"start\"`",
               .belongs_to = "text"});
  keys.numbers("text_at", text.at, {2}, "[x, y]",
               {.says = "its place: on the base of the first line", .belongs_to = "text"});
  keys.number("text_angle", text.angle_deg, {0, "along X"},
              {.says = "of the line of text, from X",
               .usual = "0",
               .unit = Unit::degrees,
               .low = -360,
               .high = 360,
               .belongs_to = "text"});
  keys.name("text_along", text.along, Named::curves,
            {.says = "instead: the curve on whose left side it stands", .belongs_to = "text"});
  keys.refuse_if(keys.says("text") && keys.says("text_at") == keys.says("text_along"), {"text"},
                 "needs \"text_at\", a place, or \"text_along\", a curve");
  keys.refuse_if(keys.says("text_along") && keys.says("text_angle"), {"text_angle"},
                 "belongs to \"text_at\"; along a curve letters stand square to it");
}

void copy_keys(CurveEdit& edit, Keys& keys) {
  const auto table = [&](const char* key, What what, const char* says, const auto& visit) {
    keys.table(key,
               [&](Keys& inner) {
                 edit.what = what;
                 edit.numbers.clear();
                 visit(inner);
               },
               {.says = says});
  };
  table("offsets", What::offsets, "of closed curves: the borders of their area, grown again and again",
        [&](Keys& inner) {
          double step = 1;
          inner.number("step", step, {1, ""},
                       {.says = "how much each is farther out; negative: in",
                        .low = -1000,
                        .high = 1000,
                        .required = true});
          inner.refuse_if(step == 0, {"step"}, "must not be 0");
          edit.by = Vec3(step, 0, 0);
          edit.numbers = {count_key("count", "how many", inner)};
        });
  table("row", What::row, "copies in a row", [&](Keys& inner) {
    edit.by = with_z(pair_key("by", "how far each is shifted, `[x, y]`", inner), 0);
    edit.numbers = {count_key("count", "how many in all", inner)};
  });
  table("grid", What::grid, "copies in a grid", [&](Keys& inner) {
    edit.by = with_z(pair_key("by", "from column to column and from row to row, `[x, y]`", inner), 0);
    edit.numbers = {count_key("columns", "along X", inner), count_key("rows", "along Y", inner)};
  });
  table("ring", What::ring, "copies turned round a place, by equal angles", [&](Keys& inner) {
    edit.by = with_z(pair_key("centre", "the place, `[x, y]`", inner), 0);
    edit.numbers = {count_key("count", "how many in all", inner)};
  });
}

}  // namespace yardpass::detail
