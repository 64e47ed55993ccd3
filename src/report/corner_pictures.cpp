// Toolpaths and stock from a corner.
#include <algorithm>
#include <array>
#include <cmath>

#include <fmt/format.h>

#include "report/left_colours.h"
#include "report/part_view.h"
#include "report/plot.h"
#include "report/run_pictures.h"
#include "report/strokes.h"
#include "yardpass/geom/text.h"

namespace yardpass::detail {

namespace {

constexpr Frame kView{24, 70, 980, 690};
constexpr double kAzimuth = 30, kElevation = 35;

struct Look {
  MoveKind kind;
  unsigned colour;
  double width;
  Canvas::Line line;
};
// The colours are those of the page.
constexpr std::array<Look, 6> kLooks{{{MoveKind::rapid, 0xc2543f, 0.9, Canvas::Line::dashed},
                                      {MoveKind::cut, 0x1f4e8c, 0.8, Canvas::Line::solid},
                                      {MoveKind::link, 0x2a8f6a, 1.4, Canvas::Line::solid},
                                      {MoveKind::lead, 0xe08a1e, 1.4, Canvas::Line::solid},
                                      {MoveKind::ramp, 0xb5347a, 1.4, Canvas::Line::solid},
                                      {MoveKind::plunge, 0xb5347a, 1.4, Canvas::Line::solid}}};

/// Where the path begins and ends.
void mark_ends(Canvas& canvas, const PartView& view, const std::vector<Stroke>& strokes) {
  const auto is_cut = [](const Stroke& stroke) { return stroke.kind == MoveKind::cut; };
  const auto first = std::find_if(strokes.begin(), strokes.end(), is_cut);
  if (first == strokes.end()) return;
  const auto last = std::find_if(strokes.rbegin(), strokes.rend(), is_cut);
  canvas.disc(view.to_page(first->from), 6, hex(0xffffff));
  canvas.circle(view.to_page(first->from), 6, kInk, 2);
  const Vec2 end = view.to_page(last->to);
  canvas.fill({end.x() - 5, end.y() - 5, 10, 10}, hex(0xffffff));
  canvas.outline({end.x() - 4, end.y() - 4, 8, 8}, kInk, 2);
}

void legend(Canvas& canvas, const std::vector<Stroke>& strokes, bool findings) {
  double y = 96;
  canvas.text({kPanel, y}, "moves", 13, kInk, Canvas::Align::left, true);
  const auto row = [&](const std::string& words) { canvas.text({kPanel + 44, y + 4}, words, 13, kInk); };
  y += 24;
  for (const Look& look : kLooks) {
    if (std::none_of(strokes.begin(), strokes.end(), [&](const Stroke& s) { return s.kind == look.kind; }))
      continue;
    canvas.move_to({kPanel, y}), canvas.line_to({kPanel + 32, y});
    canvas.stroke(hex(look.colour), 1.5 * look.width + 0.6, look.line);
    row(name_of(look.kind));
    y += 24;
  }
  y += 8;
  canvas.circle({kPanel + 16, y}, 6, kInk, 2), row("first cut begins"), y += 24;
  canvas.outline({kPanel + 12, y - 4, 8, 8}, kInk, 2), row("last cut ends"), y += 24;
  if (findings) canvas.circle({kPanel + 16, y}, 9, hex(0xc2185b), 2.5), row("finding"), y += 24;
  canvas.text({kPanel, y + 16}, "what the part hides is left out", 12, kFaint);
}

/// A length of the view's plane, which is the same in all its directions.
void draw_scale(Canvas& canvas, const PartView& view) {
  const double mm = millimetres(canvas.telling().units());
  const double long_mm = mm * round_step(110 / view.plan().scale() / mm),
               wide = long_mm * view.plan().scale();
  const double y = 782;
  canvas.move_to({24, y - 6}), canvas.line_to({24, y}), canvas.line_to({24 + wide, y}),
      canvas.line_to({24 + wide, y - 6}), canvas.stroke(kInk, 1.5);
  canvas.text({32 + wide, y}, canvas.telling().with_unit(long_mm), 12, kInk);
}

void draw_path_view(const Report& report, const OperationReport& operation,
                    const std::filesystem::path& file) {
  Canvas canvas(kWidth, kHeight, report.telling);
  canvas.stamp(not_for_cutting(report));
  draw_title(
      canvas, fmt::format("{}. {}", operation.number, operation.name),
      fmt::format("{}, T{} {}; toolpath of the tip over the part, from the right front corner",
                  operation.strategy, operation.judged.tool, operation.tool ? operation.tool->name : ""));
  const std::vector<Stroke> strokes = strokes_of(report, operation.in_program);
  Box3 cuts;
  for (const Stroke& stroke : strokes)
    if (stroke.kind != MoveKind::rapid) cuts.extend(stroke.from), cuts.extend(stroke.to);
  const PartView view(report.setup.part->mesh(), kView, kAzimuth, kElevation, cuts);
  view.paint(canvas, [&](int i, int j) {
    const double light = 0.52 + 0.46 * view.light(view.triangle(i, j));
    return Colour{light, light, std::min(1.0, 1.02 * light)};
  });
  canvas.clip({0, 60, kPanel - 10, kHeight - 60.0});
  for (const Look& look : kLooks) {
    for (const Stroke& stroke : strokes)
      if (stroke.kind == look.kind) view.trace(canvas, stroke.from, stroke.to);
    canvas.stroke(hex(look.colour), strokes.size() > 20000 ? 0.7 * look.width : look.width, look.line);
  }
  mark_ends(canvas, view, strokes);
  bool any = false;
  for (const Finding& finding : report.judged.judgement.findings)
    if (finding.operation == operation.in_program)
      canvas.circle(view.to_page(finding.at), 9, hex(0xc2185b), 2.5), any = true;
  canvas.unclip();
  legend(canvas, strokes, any);
  draw_scale(canvas, view);
  canvas.save(file);
}

}  // namespace

void draw_corner_paths(OutputSource& source) {
  const Report& report = source.report;
  for (std::size_t i = 0; i < report.operations.size(); ++i) {
    const OperationReport& operation = report.operations[i];
    if (!operation.has_moves()) continue;
    const std::string stem = stem_of("view", report, i);
    draw_path_view(report, operation,
                   source.picture(stem, fmt::format("Toolpath of operation {} \"{}\", from a corner",
                                                    operation.number, one_line(operation.name))));
  }
}

void draw_stock_view(OutputSource& source) {
  const Report& report = source.report;
  if (!report.judged.judged) return;
  const Stock& stock = report.judged.judgement.stock;
  const LeftMap& left = report.judged.left;
  const Mesh& mesh = mesh_of_stock(source);
  if (mesh.triangles.empty()) return;
  Canvas canvas(kWidth, kHeight, report.telling);
  canvas.stamp(not_for_cutting(report));
  draw_title(canvas, report.job().title + ": the stock that remains",
             "from the right front corner; coloured by what is left on the part");
  const PartView view(mesh, kView, kAzimuth, kElevation);
  view.paint(canvas, [&](int i, int j) {
    const Vec3 p = view.place(i, j);
    const Vec3 normal = unit_normal(mesh, static_cast<std::size_t>(view.triangle(i, j)));
    // A wall belongs to the cell whose material it bounds; the sides of the block to none.
    const Vec2 inside = plan(p) - 0.25 * stock.cell_mm() * plan(normal);
    const Vec2 to_rim =
        (plan(p) - plan(stock.block().center())).cwiseAbs() - 0.5 * plan(stock.block().sizes());
    const bool side = std::abs(normal.z()) < 1e-3 && to_rim.maxCoeff() > -1e-6;
    const std::optional<std::size_t> cell = stock.cell_at(inside);
    const bool on_part = cell && !side && normal.z() > -1e-3;
    const Colour colour = on_part ? left_colour(static_cast<double>(left.left_mm[*cell])) : hex(kNoPartThere);
    const double light = 0.3 + 0.7 * view.light(view.triangle(i, j));
    return Colour{colour.r * light, colour.g * light, colour.b * light};
  });
  const double y = draw_left_steps(canvas, 96);
  draw_words(canvas, kPanel, y + 20, "verdict: " + verdict_words(report), 14, kInk, true);
  draw_scale(canvas, view);
  canvas.save(source.picture("stock", "The stock that remains"));
}

}  // namespace yardpass::detail
