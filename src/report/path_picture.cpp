// The toolpath of an operation over its part. Cuts are coloured by their height; what else there is, is told
// by its stroke alone, so the picture can be read in grey and with any kind of colour blindness.
#include <algorithm>
#include <array>
#include <cmath>
#include <optional>

#include <fmt/format.h>

#include "report/cut_scale.h"
#include "report/detail_place.h"
#include "report/plot.h"
#include "report/run_pictures.h"
#include "report/shading.h"
#include "report/strokes.h"
#include "yardpass/contact/tip_surface.h"
#include "yardpass/geom/text.h"
#include "yardpass/report/figures.h"

namespace yardpass {

namespace {

using detail::Canvas;
using detail::Colour;
using detail::CutScale;
using detail::Frame;
using detail::hex;
using detail::kFaint;
using detail::kInk;
using detail::kPanel;
using detail::kPlot;
using detail::PlanView;
using detail::scale_of_cuts;
using detail::Shading;
using detail::Stroke;
using detail::strokes_of;

const Colour kBand = hex(0x7d8ea3, 0.35), kArrow = hex(0x55647a), kEntry = hex(0x22272e),
             kCore = hex(0xffffff), kFirst = hex(0x2f9e8f, 0.75);

/// From low to high: ever lighter, and told apart with any kind of colour blindness.
Colour ramp(double share) {
  static constexpr std::array<unsigned, 6> stops{0x17163f, 0x45277e, 0x84347c, 0xbc4a63, 0xdf7744, 0xe8ac3c};
  const double at = std::clamp(share, 0.0, 1.0) * (stops.size() - 1);
  const auto i = std::min(static_cast<std::size_t>(at), stops.size() - 2);
  const Colour a = hex(stops[i]), b = hex(stops[i + 1]);
  const double t = at - static_cast<double>(i);
  return {a.r + t * (b.r - a.r), a.g + t * (b.g - a.g), a.b + t * (b.b - a.b)};
}
constexpr int kShades = 24;

Colour paler(const Colour& c) { return {0.5 * (c.r + 1), 0.5 * (c.g + 1), 0.5 * (c.b + 1)}; }

std::vector<Stroke>::const_iterator first_cut(const std::vector<Stroke>& strokes) {
  return std::find_if(strokes.begin(), strokes.end(),
                      [](const Stroke& stroke) { return stroke.kind == MoveKind::cut; });
}

/// Lines of one look, joined where they follow each other.
template <typename Wanted>
void trace(Canvas& canvas, const PlanView& view, const std::vector<Stroke>& strokes, const Wanted& wanted) {
  Vec2 last(1e300, 0);
  for (const Stroke& stroke : strokes) {
    if (!wanted(stroke)) continue;
    if (plan(stroke.from) != last) canvas.move_to(view.to_page(plan(stroke.from)));
    canvas.line_to(view.to_page(plan(stroke.to)));
    last = plan(stroke.to);
  }
}

void draw_cuts(Canvas& canvas, const PlanView& view, const std::vector<Stroke>& strokes,
               const CutScale& scale, double width) {
  const auto shade_of = [&](const Stroke& stroke) {
    return std::clamp(static_cast<int>(scale.share(stroke) * kShades), 0, kShades - 1);
  };
  for (int shade = 0; shade < kShades; ++shade)
    for (const bool lighter : {false, true}) {
      trace(canvas, view, strokes, [&](const Stroke& stroke) {
        return stroke.kind == MoveKind::cut && shade_of(stroke) == shade && scale.lighter(stroke) == lighter;
      });
      canvas.stroke(lighter ? paler(ramp((shade + 0.5) / kShades)) : ramp((shade + 0.5) / kShades), width);
    }
}

void draw_rapid(Canvas& canvas, const Vec2& from, const Vec2& to) {
  canvas.move_to(from), canvas.line_to(to), canvas.stroke(kBand, 6);
  if ((to - from).norm() > 24) canvas.arrow(0.5 * (from + to), to - from, 9, kArrow);
}

void draw_link(Canvas& canvas, double width) {
  canvas.stroke_again(kEntry, width + 2.2);
  canvas.stroke(kCore, width);
}

void draw_strokes(Canvas& canvas, const PlanView& view, const std::vector<Stroke>& strokes,
                  const CutScale& scale, double width) {
  for (const Stroke& stroke : strokes)
    if (stroke.kind == MoveKind::rapid && plan(stroke.from) != plan(stroke.to))
      draw_rapid(canvas, view.to_page(plan(stroke.from)), view.to_page(plan(stroke.to)));
  draw_cuts(canvas, view, strokes, scale, width);
  trace(canvas, view, strokes, [](const Stroke& stroke) { return stroke.kind == MoveKind::link; });
  draw_link(canvas, width);
  trace(canvas, view, strokes, [](const Stroke& stroke) { return stroke.kind == MoveKind::ramp; });
  canvas.stroke(kEntry, 2.4 * width + 0.6, Canvas::Line::dotted);
  trace(canvas, view, strokes, [](const Stroke& stroke) { return stroke.kind == MoveKind::lead; });
  canvas.stroke(kEntry, width);
  for (const Stroke& stroke : strokes)
    if (stroke.kind == MoveKind::plunge && plan(stroke.from) == plan(stroke.to))
      canvas.disc(view.to_page(plan(stroke.to)), 2.6, kEntry);
}

/// What was to be followed and is not.
void draw_left_alone(Canvas& canvas, const PlanView& view, const std::vector<Polyline3>& lines) {
  for (const Polyline3& line : lines) {
    canvas.move_to(view.to_page(plan(line.front())));
    for (const Vec3& p : line) canvas.line_to(view.to_page(plan(p)));
  }
  canvas.stroke(kEntry, 2, Canvas::Line::dashed);
}

/// The first pass, lit up from behind.
void light_first_pass(Canvas& canvas, const PlanView& view, const std::vector<Stroke>& strokes,
                      double width) {
  const auto first = first_cut(strokes);
  if (first == strokes.end() || first->pass == 0) return;  // one that is not counted may be all there is
  bool over = false;  // pieces of it that are cut later are no longer the beginning
  trace(canvas, view, strokes, [&](const Stroke& stroke) {
    if (&stroke < &*first) return false;
    over = over || (stroke.kind == MoveKind::cut && stroke.pass != first->pass);
    return stroke.kind == MoveKind::cut && !over;
  });
  canvas.stroke(kFirst, width + 5);
}

/// Where cutting begins, and which way it goes from there.
void mark_start(Canvas& canvas, const Vec2& at, const Vec2& way) {
  canvas.disc(at, 6.5, kCore);
  canvas.circle(at, 6.5, kEntry, 2);
  if (!(way.norm() > 0)) return;
  const Vec2 ahead = at + 28 * way.normalized();
  canvas.move_to(at + 7.5 * way.normalized()), canvas.line_to(ahead), canvas.stroke(kCore, 5);
  canvas.move_to(at + 7.5 * way.normalized()), canvas.line_to(ahead), canvas.stroke(kEntry, 2.2);
  canvas.arrow(ahead, way, 13, kEntry);
}

void mark_start(Canvas& canvas, const PlanView& view, const std::vector<Stroke>& strokes) {
  const auto first = first_cut(strokes);
  if (first == strokes.end()) return;
  // Ahead by some pixels along the cut, so that the arrow shows where it leads.
  const Vec2 at = view.to_page(plan(first->from));
  Vec2 ahead = at;
  for (auto stroke = first; stroke != strokes.end() && stroke->kind == MoveKind::cut; ++stroke) {
    ahead = view.to_page(plan(stroke->to));
    if ((ahead - at).norm() > 12) break;
  }
  mark_start(canvas, at, ahead - at);
}

void mark_end(Canvas& canvas, const Vec2& at) {
  const double half = 5.5;
  const Frame square{std::round(at.x() - half), std::round(at.y() - half), 2 * half, 2 * half};
  canvas.fill(square, kCore);
  canvas.outline(square, kEntry, 2);
}

void mark_end(Canvas& canvas, const PlanView& view, const std::vector<Stroke>& strokes) {
  const auto last = std::find_if(strokes.rbegin(), strokes.rend(),
                                 [](const Stroke& stroke) { return stroke.kind == MoveKind::cut; });
  if (last != strokes.rend()) mark_end(canvas, view.to_page(plan(last->to)));
}

double draw_scale(Canvas& canvas, const CutScale& scale, double top) {
  const Telling& telling = canvas.telling();
  canvas.text({kPanel, top},
              scale.by_height ? fmt::format("cuts by height of the tip, {}", telling.unit()) : "cuts by pass",
              13, kInk);
  canvas.paint({kPanel, top + 8, 230, 14}, [&](const Vec2& p) { return ramp((p.x() - kPanel) / 230); });
  canvas.outline({kPanel, top + 8, 230, 14}, kFaint, 0.6);
  const auto words = [&](double value) {
    return scale.by_height ? telling.number(value) : fmt::format("{:.0f}", value);
  };
  canvas.text({kPanel, top + 38}, words(scale.low), 12, kFaint);
  canvas.text({kPanel + 230, top + 38}, words(scale.high), 12, kFaint, Canvas::Align::right);
  if (!scale.levels.empty())
    canvas.text({kPanel + 115, top + 38}, fmt::format("{} levels", scale.levels.size()), 12, kFaint,
                Canvas::Align::middle);
  return top + 62;
}

double draw_legend(Canvas& canvas, const CutScale& scale, bool left_alone, double top) {
  top = draw_scale(canvas, scale, top);
  const auto entry = [&](const char* words) {
    canvas.text({kPanel + 60, top}, words, 13, kInk);
    top += 22;
  };
  const auto line = [&] { canvas.move_to({kPanel, top - 4}), canvas.line_to({kPanel + 46, top - 4}); };
  line(), canvas.stroke(ramp(0.35), 2);
  entry("cut");
  line(), canvas.stroke(kFirst, 6);
  entry("first pass");
  mark_start(canvas, {kPanel + 9, top - 4}, {1, 0});
  entry("start, and its direction");
  mark_end(canvas, {kPanel + 9, top - 4});
  entry("end of the last cut");
  line(), draw_link(canvas, 1.4);
  entry("link at feed");
  line(), canvas.stroke(kEntry, 3.4, Canvas::Line::dotted);
  entry("ramp into the material");
  line(), canvas.stroke(kEntry, 1.6);
  entry("lead into a cut or out of it");
  canvas.disc({kPanel + 23, top - 4}, 2.6, kEntry);
  entry("plunge");
  draw_rapid(canvas, {kPanel, top - 4}, {kPanel + 46, top - 4});
  entry("rapid");
  if (left_alone) {
    line(), canvas.stroke(kEntry, 2, Canvas::Line::dashed);
    entry("edge left alone");
  }
  return top + 12;
}

/// The points of cuts, if they can be told apart.
bool draw_points(Canvas& canvas, const PlanView& view, const std::vector<Stroke>& strokes) {
  constexpr double kApart = 5;  // pixels
  constexpr std::size_t kMost = 400;
  std::vector<Vec2> points;
  double length = 0;
  for (const Stroke& stroke : strokes) {
    if (stroke.kind != MoveKind::cut || !view.box().contains(plan(stroke.to))) continue;
    points.push_back(view.to_page(plan(stroke.to)));
    length += view.scale() * plan(stroke.to - stroke.from).norm();
  }
  if (points.size() > kMost || length < kApart * static_cast<double>(points.size())) return false;
  for (const Vec2& p : points) canvas.disc(p, 1.7, kEntry);
  return !points.empty();
}

void draw_detail(Canvas& canvas, const std::shared_ptr<const ContactPart>& part,
                 const std::vector<Stroke>& strokes, const CutScale& scale, const Box2& box, double top) {
  const double room = std::min(230.0, detail::kHeight - 40.0 - (top + 18));
  const PlanView view(box, {kPanel, top + 18, room, room});
  const double side = box.sizes().x();
  const Shading shading(part, view.box(), 1 / view.scale());
  const Frame frame = view.frame();
  canvas.clip(frame);
  canvas.paint(frame, [&](const Vec2& p) { return shading.at(view.to_part(p)); });
  draw_strokes(canvas, view, strokes, scale, 1.4);
  const bool points = draw_points(canvas, view, strokes);
  canvas.unclip();
  canvas.outline(frame, kFaint);
  const std::string words = fmt::format("detail (dashed), {} x {}{}", canvas.telling().number(side),
                                        canvas.telling().with_unit(side), points ? ", points" : "");
  canvas.text({kPanel, top + 8}, words, canvas.fitting_size(words, 13, 244), kInk);
}

/// Where a piece of the plot is shown larger.
void mark_detail(Canvas& canvas, const PlanView& view, const Box2& box) {
  const Vec2 a = view.to_page(box.min()), b = view.to_page(box.max());
  canvas.move_to(a), canvas.line_to({b.x(), a.y()}), canvas.line_to(b), canvas.line_to({a.x(), b.y()});
  canvas.line_to(a);
  canvas.stroke(kInk, 1.4, Canvas::Line::dashed);
}

void draw_path(const Report& report, std::size_t index, const Shading& shading, const Box2& box,
               const std::filesystem::path& file) {
  const OperationReport& operation = report.operations[index];
  Canvas canvas(detail::kWidth, detail::kHeight, report.telling);
  canvas.stamp(not_for_cutting(report));
  detail::draw_title(canvas, fmt::format("{}. {}", operation.number, operation.name),
                     fmt::format("{}, T{} {}; toolpath over the part, seen from above", operation.strategy,
                                 operation.judged.tool, operation.tool ? operation.tool->name : ""));
  const PlanView view(box, kPlot);
  canvas.paint(view.frame(), [&](const Vec2& p) { return shading.at(view.to_part(p)); });
  const auto strokes = strokes_of(report, operation.in_program);
  const CutScale scale = scale_of_cuts(strokes);
  canvas.clip(view.frame());
  const double width = strokes.size() > 20000 ? 0.6 : 1.0;
  static const std::vector<Polyline3> kNone;
  const std::vector<Polyline3>& left_alone = operation.planned ? operation.planned->left_alone : kNone;
  draw_left_alone(canvas, view, left_alone);
  light_first_pass(canvas, view, strokes, width);
  draw_strokes(canvas, view, strokes, scale, width);
  mark_end(canvas, view, strokes);
  mark_start(canvas, view, strokes);
  const std::optional<Box2> detail_box =
      detail::place_of_detail(strokes, !scale.levels.empty(), box, report.telling.units());
  if (detail_box) mark_detail(canvas, view, *detail_box);
  bool any_finding = false;
  for (const auto& finding : report.judged.judgement.findings)
    if (finding.operation == operation.in_program)
      canvas.circle(view.to_page(plan(finding.at)), 9, hex(0x000000), 2.5), any_finding = true;
  canvas.unclip();
  detail::draw_axes(canvas, view);
  double top = draw_legend(canvas, scale, !left_alone.empty(), 90);
  const auto row = [&](const std::string& name, const std::string& value) {
    canvas.text({kPanel, top}, name, 13, kFaint);
    canvas.text({kPanel + 230, top}, value, 13, kInk, Canvas::Align::right);
    top += 20;
  };
  for (const Figure& figure : all_figures())
    if (figure.places & kOnPicture)
      row(heading_words(figure, report.telling), in_words(figure, operation, report.telling));
  if (any_finding) {
    canvas.circle({kPanel + 10, top - 4}, 8, hex(0x000000), 2.5);
    row("      finding", "");
  }
  if (detail_box) draw_detail(canvas, report.setup.part, strokes, scale, *detail_box, top + 8);
  canvas.save(file);
}

}  // namespace

namespace detail {

namespace {

/// The block, and what an operation cuts beside it, as far as that leaves the block large.
Box2 plan_of_path(const Report& report, std::int32_t operation) {
  const Box2 block = plan_of_block(report);
  Box2 most = block, cuts;
  const Vec2 beside = 0.12 * block.sizes();
  most.extend(Vec2(block.min() - beside)), most.extend(Vec2(block.max() + beside));
  for (const ProgramMove& move : report.judged.program.moves)
    if (!move.rapid() && move.operation == operation)
      cuts.extend(plan(move.from)), cuts.extend(plan(move.to));
  if (cuts.isEmpty() || block.contains(cuts)) return block;
  const double pad = 0.02 * cuts.sizes().maxCoeff();
  cuts.extend(Vec2(cuts.min().array() - pad)), cuts.extend(Vec2(cuts.max().array() + pad));
  return block.merged(cuts).intersection(most);
}

}  // namespace

void draw_paths(OutputSource& source) {
  const Report& report = source.report;
  std::optional<Shading> shading;
  Box2 shaded;
  for (std::size_t i = 0; i < report.operations.size(); ++i) {
    const OperationReport& operation = report.operations[i];
    if (!operation.has_moves()) continue;
    const Box2 box = plan_of_path(report, operation.in_program);
    if (!shading || box.min() != shaded.min() || box.max() != shaded.max())
      shading.emplace(report.setup.part, box, 1 / PlanView(box, kPlot).scale());
    shaded = box;
    const std::string stem = stem_of("path", report, i);
    draw_path(
        report, i, *shading, box,
        source.picture(stem, operation.number > 0 ? fmt::format("Toolpath of operation {} \"{}\"",
                                                                operation.number, one_line(operation.name))
                                                  : "Toolpath of moves that name no operation"));
  }
}

}  // namespace detail

}  // namespace yardpass
