#include "yardpass/strategy/all.h"

#include "yardpass/strategy/break_edges.h"
#include "yardpass/strategy/by_slope.h"
#include "yardpass/strategy/engraving.h"
#include "yardpass/strategy/flats.h"
#include "yardpass/strategy/flowline.h"
#include "yardpass/strategy/morph.h"
#include "yardpass/strategy/parallel.h"
#include "yardpass/strategy/pencil.h"
#include "yardpass/strategy/points.h"
#include "yardpass/strategy/projected.h"
#include "yardpass/strategy/rest_finishing.h"
#include "yardpass/strategy/roughing.h"
#include "yardpass/strategy/scallop.h"
#include "yardpass/strategy/square_to_curve.h"
#include "yardpass/strategy/waterline.h"

namespace yardpass {

namespace {

template <typename Options>
std::unique_ptr<Pattern> pattern() {
  return std::make_unique<PatternOf<Options>>();
}

// A list, not objects that register themselves: those are dropped from a static archive.
constexpr Strategy kStrategies[] = {
    {"roughing", Work::clear, "levels from the top of the stock down, loops inside each area",
     pattern<RoughingOptions>},
    {"parallel", Work::floors_and_slopes, "straight passes side by side", pattern<ParallelOptions>},
    {"scallop", Work::floors_and_slopes, "passes equally far apart on the surface, from any curve",
     pattern<ScallopOptions>},
    {"flats", Work::floors_and_slopes, "level faces at their exact height, off the walls",
     pattern<FlatsOptions>},
    {"waterline", Work::steep, "level passes along the walls, from the top down", pattern<WaterlineOptions>},
    {"by-slope", Work::steep,
     "waterlines where the part is steep, straight or scallop passes where it is shallow",
     pattern<BySlopeOptions>},
    {"morph", Work::along_a_form, "passes that blend from one curve into another", pattern<MorphOptions>},
    {"flowline", Work::along_a_form, "passes that flow from side to side of a patch, between two others",
     pattern<FlowlineOptions>},
    {"square-to-curve", Work::along_a_form, "passes square to a curve, evenly spread along it",
     pattern<SquareOptions>},
    {"pencil", Work::corners, "along the corners that the tool touches on two sides", pattern<PencilOptions>},
    {"rest-finishing", Work::corners, "only where a larger tool left material",
     pattern<RestFinishingOptions>},
    {"edge-break", Work::edges, "every sharp outer edge to one size", pattern<EdgeBreakOptions>},
    {"projected", Work::drawn, "curves of one's own, dropped onto the part", pattern<ProjectedOptions>},
    {"engraving", Work::drawn, "strokes at a depth below the surface", pattern<EngravingOptions>},
    {"points", Work::drawn, "a way through given points and nothing else", pattern<PointsOptions>},
};

}  // namespace

std::span<const Strategy> all_strategies() { return kStrategies; }

const Strategy* strategy_named(const std::string& name) {
  for (const Strategy& strategy : kStrategies)
    if (name == strategy.name) return &strategy;
  return nullptr;
}

const char* name_of(Work work) {
  switch (work) {
    case Work::clear:
      return "clear";
    case Work::floors_and_slopes:
      return "floors and slopes";
    case Work::steep:
      return "steep";
    case Work::along_a_form:
      return "along a form";
    case Work::corners:
      return "corners";
    case Work::edges:
      return "edges";
    case Work::drawn:
      return "drawn";
  }
  return "";
}

}  // namespace yardpass
