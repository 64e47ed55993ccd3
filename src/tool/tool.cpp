#include "yardpass/tool/tool.h"

#include <algorithm>
#include <cmath>

#include "yardpass/geom/error.h"

namespace yardpass {

Profile profile_of(const Tool& tool) {
  switch (tool.shape) {
    case Shape::ball:
    case Shape::lollipop:
      return Profile::ball(tool.diameter_mm);
    case Shape::flat:
      return Profile::flat(tool.diameter_mm);
    case Shape::tslot:
      if (tool.corner_radius_mm <= 0) return Profile::flat(tool.diameter_mm);
      return Profile::bull(tool.diameter_mm, tool.corner_radius_mm);
    case Shape::bull:
      return Profile::bull(tool.diameter_mm, tool.corner_radius_mm);
    case Shape::taper:
      return Profile::taper(tool.diameter_mm, tool.taper_angle_deg, tool.corner_radius_mm,
                            tool.flute_length_mm);
    case Shape::chamfer:
      return Profile::chamfer(tool.diameter_mm, tool.taper_angle_deg, tool.tip_diameter_mm);
    case Shape::profile:
      return Profile::from_outline(tool.outline);
  }
  throw Error("unknown tool shape");
}

std::vector<ToolLack> lacks(const Tool& tool) {
  std::vector<ToolLack> result;
  const auto need = [&](bool there, const char* key, const char* what) {
    if (!there) result.push_back({key, what});
  };
  need(tool.diameter_mm > 0, "diameter", "in mm; of a taper at its tip");
  if (tool.shape == Shape::bull) need(tool.corner_radius_mm > 0, "corner_radius", "a bull nose needs it");
  if (tool.shape == Shape::taper || tool.shape == Shape::chamfer)
    need(tool.taper_angle_deg > 0, "taper_angle", "degrees from the axis");
  if (tool.shape == Shape::profile)
    need(!tool.outline.empty(), "outline", "points [r, z] or [r, z, arc radius] from the tip outwards");
  if (tool.shape == Shape::taper)
    need(tool.flute_length_mm > 0, "flute_length", "it gives the length of the cone");
  return result;
}

namespace {

[[noreturn]] void fail(const Tool& tool, const char* key, const std::string& what) {
  throw Error("tool \"" + tool.name + "\": \"" + key + "\" is missing; " + what);
}

}  // namespace

void require_feeds(const Tool& tool) {
  if (!(tool.feed_mm_min > 0)) fail(tool, "feed", "mm/min");
  if (!(tool.plunge_feed_mm_min > 0 && tool.ramp_feed_mm_min > 0 && tool.link_feed_mm_min > 0))
    throw Error("tool \"" + tool.name + "\": it is not completed: see completed()");
}

void require_number_and_spindle(const Tool& tool) {
  if (!(tool.number > 0)) fail(tool, "number", "the T word of the tool change, above 0");
  if (!(tool.spindle_rpm >= 0.5)) fail(tool, "spindle", "turns a minute");
}

}  // namespace yardpass
