#include "strategy/pattern_keys.h"

#include "yardpass/plan/spacing.h"

namespace yardpass::detail {

bool stepover_keys(double& stepover_mm, const Tool& tool, Keys& keys, const char* says) {
  constexpr double usual_scallop = 0.01;
  double scallop = usual_scallop;
  const auto scallop_key = [&](const Derived& usual) {
    keys.number("scallop_height", scallop, usual,
                {.says = "height of the ridges on flat ground, instead of the stepover",
                 .usual = "0.01",
                 .low = 0,
                 .high = 100,
                 .above_low = true,
                 .instead_of = "stepover"});
  };
  const auto stepover_key = [&] {
    keys.number(
        "stepover", stepover_mm, stepover_for(tool, scallop, keys.says("scallop_height")),
        {.says = says,
         .usual =
             "from the scallop height; with flat ends half the flat width, with points 0.05 of the diameter",
         .low = 0,
         .high = 1e4,
         .above_low = true,
         .of_tool = true,
         .coarsened = Coarsened::spacing});
  };
  if (keys.says("stepover")) {
    stepover_key();
    scallop_key({scallop_height(tool, stepover_mm), "by the stepover"});
  } else {
    scallop_key({usual_scallop, "0.01 mm"});
    stepover_key();
  }
  keys.idle_if(!spaced_by_scallop(tool), "scallop_height",
               "the stepover of this cutter does not follow from a height of ridges");
  return keys.says("scallop_height");
}

}  // namespace yardpass::detail
