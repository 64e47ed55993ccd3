#include "report/why_left_picture.h"

#include <algorithm>

#include <fmt/format.h>

#include "report/plot.h"

namespace yardpass::detail {

namespace {

Colour colour_of(LeftBecause why) {
  switch (why) {
    case LeftBecause::thin:
      return hex(0xf3f4f6);
    case LeftBecause::no_part:
      return hex(0xd9dce1);
    case LeftBecause::on_purpose:
      return hex(0xc3cedb);
    case LeftBecause::out_of_reach:
      return hex(0x56b4e9);
    case LeftBecause::not_asked:
      return hex(0xe7d18a);
    case LeftBecause::missed:
      return hex(0xd55e00);
  }
  return hex(0xffffff);
}

}  // namespace

void draw_why_left(const Report& report, const Box2& box, const std::filesystem::path& file) {
  Canvas canvas(kWidth, kHeight, report.telling);
  canvas.stamp(not_for_cutting(report));
  const WhyLeft& left = report.judged.why_left;
  const Stock& stock = report.judged.judgement.stock;
  draw_title(canvas, "Why material is left",
             fmt::format("{}; places with more than {} at the end of the program", report.job().title,
                         report.telling.with_unit(left.limit_mm)));
  const PlanView view(box, kPlot);
  const double half = 0.5 / view.scale();
  canvas.paint(view.frame(), [&](const Vec2& p) {
    const Vec2 at = view.to_part(p);
    const auto range = stock.cells_between({at.x() - half, at.y() - half}, {at.x() + half, at.y() + half});
    // The reason that most wants to be seen of the cells under the pixel: in the order of the list, missed
    // last.
    auto most = LeftBecause::thin;
    bool any = false, all_beside = true;
    const Stock::CellRange one =
        range.empty() ? stock.cells_between({at.x() - stock.cell_mm() / 2, at.y() - stock.cell_mm() / 2},
                                            {at.x() + stock.cell_mm() / 2, at.y() + stock.cell_mm() / 2})
                      : range;
    for (int row = one.first_row; row < one.last_row; ++row)
      for (int column = one.first_column; column < one.last_column; ++column) {
        const LeftBecause why = left.why[stock.index(column, row)];
        any = true;
        if (why == LeftBecause::no_part) continue;
        all_beside = false;
        most = std::max(most, why);
      }
    return colour_of(!any || all_beside ? LeftBecause::no_part : most);
  });
  canvas.clip(view.frame());
  for (std::size_t i = 0; i < left.thickest.size(); ++i) {
    const Vec2 at = view.to_page(plan(left.thickest[i].at));
    canvas.circle(at, 7, kInk, 1.8);
    canvas.text(at + Vec2(9, -6), std::to_string(i + 1), 12, kInk, Canvas::Align::left, true);
  }
  canvas.unclip();
  draw_axes(canvas, view);
  double y = 90;
  y = draw_swatch(canvas, kPanel, y, colour_of(LeftBecause::missed),
                  "missed, " + report.telling.area_words(left.missed_mm2));
  if (left.not_asked_mm2 > 0)
    y = draw_swatch(canvas, kPanel, y, colour_of(LeftBecause::not_asked),
                    "not explained, " + report.telling.area_words(left.not_asked_mm2));
  y = draw_swatch(canvas, kPanel, y, colour_of(LeftBecause::out_of_reach),
                  "out of reach, " + report.telling.area_words(left.out_of_reach_mm2));
  y = draw_swatch(canvas, kPanel, y, colour_of(LeftBecause::on_purpose),
                  "on purpose, " + report.telling.area_words(left.on_purpose_mm2));
  y = draw_swatch(canvas, kPanel, y, colour_of(LeftBecause::thin),
                  "up to " + report.telling.with_unit(left.limit_mm));
  y = draw_swatch(canvas, kPanel, y, colour_of(LeftBecause::no_part), "no part here");
  if (!left.thickest.empty())
    canvas.text({kPanel, y += 24}, "thickest places", 13, kInk, Canvas::Align::left, true);
  for (std::size_t i = 0; i < left.thickest.size(); ++i) {
    const ThickPlace& place = left.thickest[i];
    canvas.text({kPanel + 20, y += 22}, fmt::format("{}", i + 1), 12, kInk, Canvas::Align::right, true);
    canvas.text({kPanel + 28, y},
                fmt::format("{}, {}", report.telling.with_unit(place.left_mm), name_of(place.why)), 12, kInk);
    const std::string where = report.telling.place(place.at);
    canvas.text({kPanel + 28, y += 15}, where, canvas.fitting_size(where, 12, kWidth - kMargin - kPanel - 28),
                kFaint);
  }
  canvas.save(file);
}

}  // namespace yardpass::detail
