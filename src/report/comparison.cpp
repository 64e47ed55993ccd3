#include "yardpass/report/comparison.h"

#include <algorithm>

#include <fmt/format.h>

#include "report/json_values.h"
#include "report/plot.h"
#include "report/run_pictures.h"
#include "report/shading.h"
#include "yardpass/geom/text.h"
#include "yardpass/report/figures.h"
#include "yardpass/version.h"

namespace yardpass {

namespace {

using detail::Canvas;
using detail::Colour;
using detail::hex;

/// Told apart with any kind of colour blindness, and by their strokes.
struct Look {
  unsigned colour;
  Canvas::Line line;
};
constexpr Look kLooks[] = {{0x0a5a8c, Canvas::Line::solid},
                           {0xd0661c, Canvas::Line::dashed},
                           {0x3b8f6b, Canvas::Line::dotted},
                           {0x8a3f8f, Canvas::Line::solid}};

const OperationReport* row_of(const ComparedRun& run) {
  for (const OperationReport& operation : run.report->operations)
    if (operation.number == run.operation) return &operation;
  return nullptr;
}

std::vector<OperationReport> rows_of(const std::vector<ComparedRun>& runs) {
  std::vector<OperationReport> rows;
  for (const ComparedRun& run : runs) {
    const OperationReport* const row = row_of(run);
    if (!row) continue;
    rows.push_back(*row);
    rows.back().name = run.words;
    rows.back().number = 0;
  }
  return rows;
}

bool judged(const std::vector<ComparedRun>& runs) {
  return std::all_of(runs.begin(), runs.end(),
                     [](const ComparedRun& run) { return run.report->judged.judged; });
}

constexpr double kDrawn = 0.01;  // mm, of arcs drawn as chords

void draw_cuts(Canvas& canvas, const detail::PlanView& view, const ComparedRun& run, const Look& look) {
  const OperationReport* const row = row_of(run);
  if (!row || !row->planned) return;
  const Toolpath& path = row->planned->path;
  Vec3 at = path.start;
  bool down = false;
  for (const Move& move : path.moves) {
    const bool cuts = move.kind == MoveKind::cut;
    if (cuts && !down) canvas.move_to(view.to_page(plan(at)));
    const Arc* const arc = path.arc_of(move);
    if (cuts && arc)
      for (const Vec3& p : chord_points(*arc, kDrawn)) canvas.line_to(view.to_page(plan(p)));
    else if (cuts)
      canvas.line_to(view.to_page(plan(move.to)));
    down = cuts;
    at = move.to;
  }
  canvas.stroke(hex(look.colour, 0.85), 1.1, look.line);
}

/// A small piece, so wide that single passes are told apart.
void draw_detail(Canvas& canvas, const std::vector<ComparedRun>& runs, std::size_t drawn, double top) {
  const OperationReport* const row = row_of(runs[0]);
  if (!row || !row->planned || row->planned->path.moves.empty()) return;
  const Toolpath& path = row->planned->path;
  const double spacing =
      row->settled && row->settled->usual.spacing_mm > 0 ? row->settled->usual.spacing_mm : 0.5;
  const double mm = millimetres(canvas.telling().units());
  // Never so much of the part that nothing looks larger.
  const double most = std::max(4.0, 0.25 * plan(runs[0].report->setup.part->box().sizes()).minCoeff());
  const double side = mm * detail::round_step(std::clamp(16 * spacing, 4.0, most) / mm);
  const Vec2 middle = plan(path.moves[path.moves.size() / 2].to);
  const detail::PlanView view(Box2(middle.array() - 0.5 * side, middle.array() + 0.5 * side),
                              {detail::kPanel, top + 18, 240, 240});
  canvas.text({detail::kPanel, top + 8},
              fmt::format("detail, {} x {}", canvas.telling().number(side), canvas.telling().with_unit(side)),
              13, detail::kInk);
  canvas.clip(view.frame());
  for (std::size_t i = 0; i < drawn; ++i) draw_cuts(canvas, view, runs[i], kLooks[i]);
  canvas.unclip();
  canvas.outline(view.frame(), detail::kFaint);
}

bool same_path(const ComparedRun& a, const ComparedRun& b) {
  const OperationReport *const one = row_of(a), *const other = row_of(b);
  if (!one || !other || !one->planned || !other->planned) return false;
  const std::vector<Move>&moves = one->planned->path.moves, &others = other->planned->path.moves;
  return std::equal(moves.begin(), moves.end(), others.begin(), others.end(),
                    [](const Move& m, const Move& n) {
                      return m.to == n.to && (m.arc < 0) == (n.arc < 0) && m.kind == n.kind &&
                             m.feed_mm_min == n.feed_mm_min;
                    });
}

}  // namespace

std::vector<std::pair<std::size_t, std::size_t>> alike(const std::vector<ComparedRun>& runs) {
  std::vector<std::pair<std::size_t, std::size_t>> pairs;
  for (std::size_t i = 1; i < runs.size(); ++i)
    for (std::size_t k = 0; k < i; ++k)
      if (same_path(runs[k], runs[i])) {
        pairs.emplace_back(k, i);
        break;
      }
  return pairs;
}

std::string comparison_table(const std::vector<ComparedRun>& runs) {
  if (runs.empty()) return {};
  return figures_table(rows_of(runs), judged(runs) ? kCompared : kPlanned, runs[0].report->telling);
}

std::size_t quickest(const std::vector<ComparedRun>& runs) {
  std::size_t best = 0;
  const auto seconds = [&](std::size_t i) {
    const OperationReport* const row = row_of(runs[i]);
    return row ? row->judged.time.all_s() : 0;
  };
  for (std::size_t i = 1; i < runs.size(); ++i)
    if (seconds(i) < seconds(best)) best = i;
  return best;
}

std::string comparison_json(const std::vector<ComparedRun>& runs) {
  detail::Json json{{"yardpass", YARDPASS_VERSION}};
  if (!runs.empty()) {
    json["title"] = runs[0].report->job().title;
    json["units"] = name_of(runs[0].report->telling.units());
    json["quick_look"] = runs[0].report->job().coarser.any();
    json["judged"] = judged(runs);
  }
  json["variants"] = detail::Json::array();
  for (const ComparedRun& run : runs) {
    detail::Json one{{"words", run.words}, {"operation_number", run.operation}};
    if (const OperationReport* const row = row_of(run))
      detail::add_figures(one, *row, run.report->telling.units());
    json["variants"].push_back(std::move(one));
  }
  return detail::dumped(json);
}

void draw_comparison(const std::vector<ComparedRun>& runs, const std::filesystem::path& file) {
  if (runs.empty()) return;
  const Report& first = *runs[0].report;
  Canvas canvas(detail::kWidth, detail::kHeight, first.telling);
  canvas.stamp(not_for_cutting(first));
  const std::size_t drawn = std::min(runs.size(), std::size(kLooks));
  detail::draw_title(
      canvas, first.job().title + ": what if",
      drawn < runs.size()
          ? fmt::format("cuts of the first {} of {}, over the part seen from above", drawn, runs.size())
          : "cuts over the part, seen from above");
  const Box2 box = detail::plan_of_block(first);
  const detail::PlanView view(box, detail::kPlot);
  const detail::Shading shading(first.setup.part, box, 1 / view.scale());
  canvas.paint(view.frame(), [&](const Vec2& p) { return shading.at(view.to_part(p)); });
  canvas.clip(view.frame());
  for (std::size_t i = 0; i < drawn; ++i) draw_cuts(canvas, view, runs[i], kLooks[i]);
  canvas.unclip();
  detail::draw_axes(canvas, view);
  const auto is_told = [&](const Figure& figure) {
    return (figure.places & (judged(runs) ? kCompared : kPlanned)) != 0;
  };
  const auto rows = static_cast<double>(std::count_if(all_figures().begin(), all_figures().end(), is_told));
  constexpr double kBesides = 40;  // of each variant: its name, and a gap
  const double row_high = std::min(
      15.0, ((detail::kHeight - 40 - 96) / static_cast<double>(drawn) - kBesides) / std::max(1.0, rows));
  double top = 96;
  for (std::size_t i = 0; i < drawn; ++i) {
    const double y = top;
    canvas.move_to({detail::kPanel, y}), canvas.line_to({detail::kPanel + 46, y});
    canvas.stroke(hex(kLooks[i].colour), 2.2, kLooks[i].line);
    canvas.text({detail::kPanel + 56, y + 4}, canvas.fitting(runs[i].words, 13, 188, true), 13, detail::kInk,
                Canvas::Align::left, true);
    top += 24;
    const OperationReport* const row = row_of(runs[i]);
    if (!row) continue;
    for (const Figure& figure : all_figures()) {
      if (!is_told(figure)) continue;
      const double size = 0.8 * row_high;
      canvas.text({detail::kPanel, top}, heading_words(figure, first.telling), size, detail::kFaint);
      canvas.text({detail::kPanel + 240, top}, in_words(figure, *row, first.telling), size, detail::kInk,
                  Canvas::Align::right);
      top += row_high;
    }
    top += 16;
  }
  if (drawn <= 2) draw_detail(canvas, runs, drawn, top);
  canvas.save(file);
}

}  // namespace yardpass
