// How far apart the passes of an operation lie on the surface.
#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "report/plot.h"
#include "report/run_pictures.h"
#include "report/shading.h"
#include "yardpass/geom/text.h"

namespace yardpass {

namespace {

using detail::Canvas;
using detail::hex;
using detail::kFaint;
using detail::kInk;
using detail::kPanel;
using detail::kPlot;
using detail::PlanView;

/// Up to so many times what was asked: darker is farther, so the order survives in grey.
struct Step {
  double up_to;
  unsigned colour;
};
constexpr Step kSteps[] = {{0.9, 0xf1e9c9}, {1.02, 0xcfd8a0}, {1.25, 0x8fbf9f},
                           {1.6, 0x4f93ac}, {2.5, 0x3a5f9a},  {1e9, 0x2a2452}};

std::size_t step_of(double times) {
  std::size_t k = 0;
  while (times > kSteps[k].up_to) ++k;
  return k;
}

void draw_legend(Canvas& canvas, const TrueSpacing& spacing, double top) {
  canvas.text({kPanel, top}, "to the next pass, on the surface", 13, kInk, Canvas::Align::left, true);
  canvas.text({kPanel, top + 17}, fmt::format("asked for: {}", canvas.telling().with_unit(spacing.asked_mm)),
              12, kFaint);
  top += 32;
  std::vector<std::size_t> count(std::size(kSteps), 0);
  for (const SpacingAt& place : spacing.places) ++count[step_of(place.mm / spacing.asked_mm)];
  for (std::size_t k = std::size(kSteps); k-- > 0;) {
    const double below = k == 0 ? 0 : kSteps[k - 1].up_to * spacing.asked_mm;
    const std::string words = kSteps[k].up_to > 1e8
                                  ? "above " + canvas.telling().number(below)
                                  : fmt::format("{} to {}", canvas.telling().number(below),
                                                canvas.telling().number(kSteps[k].up_to * spacing.asked_mm));
    canvas.fill({kPanel, top, 44, 26}, hex(kSteps[k].colour));
    canvas.outline({kPanel, top, 44, 26}, kFaint, 0.6);
    canvas.text({kPanel + 56, top + 18}, words, 13, kInk);
    canvas.text(
        {kPanel + 230, top + 18},
        fmt::format("{:.1f} %", 100.0 * static_cast<double>(count[k]) /
                                    static_cast<double>(std::max<std::size_t>(spacing.places.size(), 1))),
        13, kFaint, Canvas::Align::right);
    top += 32;
  }
  canvas.text({kPanel, top + 12}, "share of the length that has a neighbour", 12, kFaint);
  top += 40;
  canvas.circle({kPanel + 22, top}, 9, hex(0x000000), 2);
  canvas.text({kPanel + 56, top + 5}, "widest: " + canvas.telling().with_unit(spacing.greatest_mm), 13, kInk);
}

void draw_spacing_of(const OperationReport& operation, const TrueSpacing& spacing,
                     const detail::Shading& shading, const PlanView& view, const Report& report,
                     const std::filesystem::path& file) {
  Canvas canvas(detail::kWidth, detail::kHeight, report.telling);
  canvas.stamp(not_for_cutting(report));
  detail::draw_title(
      canvas, fmt::format("{}. {}: how far apart its passes lie", operation.number, operation.name),
      fmt::format("{}, T{} {}; from place to place on each pass to the next one", operation.strategy,
                  operation.judged.tool, operation.tool ? operation.tool->name : ""));
  canvas.paint(view.frame(), [&](const Vec2& p) { return shading.at(view.to_part(p)); });
  canvas.clip(view.frame());
  // Wide enough to close the ground between passes, where they are near enough to each other.
  const double radius = std::clamp(0.55 * spacing.asked_mm * view.scale(), 1.6, 4.0);
  for (std::size_t k = 0; k < std::size(kSteps); ++k)  // the farthest on top
    for (const SpacingAt& place : spacing.places)
      if (step_of(place.mm / spacing.asked_mm) == k)
        canvas.disc(view.to_page(plan(place.tip)), radius, hex(kSteps[k].colour));
  canvas.circle(view.to_page(plan(spacing.at)), 9, hex(0x000000), 2);
  canvas.unclip();
  detail::draw_axes(canvas, view);
  draw_legend(canvas, spacing, 90);
  canvas.save(file);
}

}  // namespace

namespace detail {

void draw_spacing(OutputSource& source) {
  const Report& report = source.report;
  const PlanView view(plan_of_block(report), kPlot);
  std::optional<Shading> shading;
  for (const OperationReport& operation : report.operations) {
    if (!operation.planned || operation.planned->spacing.places.empty()) continue;
    if (!shading) shading.emplace(report.setup.part, plan_of_block(report), 1 / view.scale());
    draw_spacing_of(operation, operation.planned->spacing, *shading, view, report,
                    source.picture(fmt::format("spacing-{}", operation.number),
                                   fmt::format("How far apart the passes of operation {} \"{}\" lie",
                                               operation.number, one_line(operation.name))));
  }
}

}  // namespace detail

}  // namespace yardpass
