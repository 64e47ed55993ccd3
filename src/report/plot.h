// Pages of one look: title, a plot with axes, a panel for the legend.
#pragma once

#include "report/canvas.h"

namespace yardpass::detail {

inline constexpr int kWidth = 1280, kHeight = 800;
inline constexpr Frame kPlot{64, 78, 930, 660};
inline constexpr double kPanel = 1020;  // left side of the legend
/// Pages with a part from above and from a corner, and a wider panel.
inline constexpr Frame kFromAbove{64, 84, 550, 640}, kFromCorner{640, 84, 330, 640};
inline constexpr double kWidePanel = 995;
inline constexpr double kMargin = 16;
inline const Colour kInk = hex(0x22272e), kFaint = hex(0x6b7480);

void draw_title(Canvas& canvas, const std::string& title, const std::string& below);
/// Lengths along the plot, in the units of the job. Returns what its words cover.
std::vector<Frame> draw_axes(Canvas& canvas, const PlanView& view, const char* across = "X",
                             const char* up = "Y");
/// Words in the panel at the right, in as many lines as they need; returns the top of what comes next.
double draw_words(Canvas& canvas, double left, double top, const std::string& words, double size,
                  const Colour& colour = kInk, bool bold = false);
/// A number in a box, joined to the place that it names.
void draw_callout(Canvas& canvas, const Vec2& from, const Frame& label, const std::string& words,
                  const Colour& rim = kInk);
/// A filled square with words beside it, at the left side `left`; returns the top of the next one.
double draw_swatch(Canvas& canvas, double left, double top, const Colour& colour, const std::string& words);
/// 1, 2 or 5 times a power of ten, at least `wanted`.
double round_step(double wanted);

}  // namespace yardpass::detail
