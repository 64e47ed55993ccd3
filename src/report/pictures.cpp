#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "report/left_colours.h"
#include "report/plot.h"
#include "report/run_pictures.h"
#include "report/why_left_picture.h"
#include "yardpass/contact/tip_surface.h"
#include "yardpass/geom/text.h"
#include "yardpass/report/figures.h"
#include "yardpass/report/report.h"

namespace yardpass {

namespace {

using detail::Canvas;
using detail::Colour;
using detail::draw_axes;
using detail::draw_title;
using detail::Frame;
using detail::hex;
using detail::kBelowPart;
using detail::kFaint;
using detail::kHeight;
using detail::kInk;
using detail::kLeftSteps;
using detail::kNoPartThere;
using detail::kPanel;
using detail::kPlot;
using detail::kWidth;
using detail::left_colour;
using detail::PlanView;
using detail::round_step;

void draw_left_map(const Report& report, const Box2& box, const std::filesystem::path& file) {
  Canvas canvas(kWidth, kHeight, report.telling);
  canvas.stamp(not_for_cutting(report));
  draw_title(canvas, "Material left at the end",
             fmt::format("{}; simulated from the program as read back, cells of {}", report.job().title,
                         report.telling.with_unit(report.setup.cell_mm)));
  const PlanView view(box, kPlot);
  const Stock& stock = report.judged.judgement.stock;
  const LeftMap& map = report.judged.left;
  const double cell = stock.cell_mm();
  canvas.paint(view.frame(), [&](const Vec2& p) {
    // The worst of the cells under the pixel, so that a thin mark does not fall between pixels.
    const Vec2 at = view.to_part(p), half(0.5 / view.scale(), 0.5 / view.scale());
    const auto clamp_column = [&](double x) {
      return std::clamp(static_cast<int>((x - stock.block().min().x()) / cell), 0, map.columns - 1);
    };
    const auto clamp_row = [&](double y) {
      return std::clamp(static_cast<int>((y - stock.block().min().y()) / cell), 0, map.rows - 1);
    };
    float low = 1e9f, high = std::numeric_limits<float>::quiet_NaN();
    for (int j = clamp_row(at.y() - half.y()); j <= clamp_row(at.y() + half.y()); ++j) {
      for (int i = clamp_column(at.x() - half.x()); i <= clamp_column(at.x() + half.x()); ++i) {
        const float value = map.left_mm[stock.index(i, j)];
        if (std::isnan(value)) continue;
        low = std::min(low, value);
        if (!(high >= value)) high = value;
      }
    }
    return left_colour(low < -0.001f ? low : high);
  });
  canvas.clip(view.frame());
  for (const OperationReport& operation : report.operations) {
    const Region area = area_of(report.setup, report.settled, operation.number);
    for (const auto& loop : area.loops) {
      canvas.move_to(view.to_page(loop.back()));
      for (const Vec2& p : loop) canvas.line_to(view.to_page(p));
    }
  }
  canvas.stroke(hex(0x22272e, 0.8), 1.2, Canvas::Line::dashed);
  for (const auto& finding : report.judged.judgement.findings)
    canvas.circle(view.to_page(plan(finding.at)), 9, hex(0x000000), 2.5);
  canvas.unclip();
  draw_axes(canvas, view);
  detail::draw_left_steps(canvas, 90);
  canvas.move_to({kPanel, 560}), canvas.line_to({kPanel + 44, 560}),
      canvas.stroke(hex(0x22272e, 0.8), 1.2, Canvas::Line::dashed);
  canvas.text({kPanel + 56, 564}, "boundary", 13, kInk);
  const double y =
      detail::draw_words(canvas, kPanel, 600, "verdict: " + verdict_words(report), 15, kInk, true);
  if (!report.judged.judgement.findings.empty()) {
    canvas.circle({kPanel + 22, y + 5}, 9, hex(0x000000), 2.5);
    canvas.text({kPanel + 56, y + 10}, "finding", 13, kInk);
  }
  canvas.save(file);
}

}  // namespace

namespace detail {

std::string stem_of(const char* kind, const Report& report, std::size_t index) {
  const std::int32_t number = report.operations[index].number;
  std::size_t again = 1;
  for (std::size_t k = 0; k < index; ++k) again += report.operations[k].number == number;
  return fmt::format("{}-{}{}", kind, number, again == 1 ? "" : fmt::format("-{}", again));
}

Box2 plan_of_block(const Report& report) {
  Box2 box = plan(report.setup.block);
  const double pad = 0.03 * box.sizes().maxCoeff();
  box.extend(Vec2(box.min().array() - pad));
  box.extend(Vec2(box.max().array() + pad));
  return box;
}

void draw_how_much_is_left(OutputSource& source) {
  if (!source.report.judged.judged) return;
  draw_left_map(source.report, plan_of_block(source.report),
                source.picture("left", "Material left on the part at the end"));
}

void draw_left(OutputSource& source) {
  if (!source.report.judged.judged) return;
  draw_why_left(source.report, plan_of_block(source.report),
                source.picture("why-left", "Why material is left"));
}

}  // namespace detail

const char* name_of(PictureForm form) {
  return form == PictureForm::png ? "png" : form == PictureForm::svg ? "svg" : "pdf";
}

}  // namespace yardpass
