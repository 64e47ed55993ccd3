#include "report/left_colours.h"

#include <fmt/format.h>

#include "report/plot.h"

namespace yardpass::detail {

double draw_left_steps(Canvas& canvas, double top) {
  canvas.text({kPanel, top}, fmt::format("material left on the part, {}", canvas.telling().unit()), 13, kInk,
              Canvas::Align::left, true);
  canvas.text({kPanel, top + 17}, "(distance to its surface)", 12, kFaint);
  top += 32;
  const double height = 34;
  const auto swatch = [&](unsigned colour, const std::string& words) {
    canvas.fill({kPanel, top, 44, height - 4}, hex(colour));
    canvas.outline({kPanel, top, 44, height - 4}, kFaint, 0.6);
    canvas.text({kPanel + 56, top + 20}, words, 13, kInk);
    top += height;
  };
  for (std::size_t i = std::size(kLeftSteps); i-- > 0;) {
    const double below = i == 0 ? 0 : kLeftSteps[i - 1].up_to_mm;
    swatch(kLeftSteps[i].colour, kLeftSteps[i].up_to_mm > 1e8
                                     ? "above " + canvas.telling().number(below)
                                     : fmt::format("{} to {}", canvas.telling().number(below),
                                                   canvas.telling().number(kLeftSteps[i].up_to_mm)));
  }
  top += 8;
  swatch(kBelowPart, "cut below the part");
  swatch(kNoPartThere, "no part here");
  return top;
}

}  // namespace yardpass::detail
