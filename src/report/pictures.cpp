#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "report/why_left_picture.h"
#include "report/plot.h"
#include "report/run_pictures.h"
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
using detail::kFaint;
using detail::kHeight;
using detail::kInk;
using detail::kPanel;
using detail::kPlot;
using detail::kWidth;
using detail::PlanView;
using detail::round_step;

// Okabe and Ito, "Color Universal Design", 2008: told apart with any kind of colour blindness.
const Colour kCut = hex(0x0072b2), kLink = hex(0xd55e00), kRapid = hex(0xcc79a7), kRamp = hex(0x009e73);

/// Heights of the part on a pixel grid, shaded from the upper left.
class Shading {
 public:
  Shading(const std::shared_ptr<const ContactPart>& part, const Box2& box, double pixel_mm)
      : grid_(Box3(with_z(box.min(), 0), with_z(box.max(), 1)), pixel_mm),
        heights_(part_heights(grid_, part)) {}

  [[nodiscard]] Colour at(const Vec2& p) const {
    const double c = grid_.cell_mm();
    const int i = static_cast<int>((p.x() - grid_.block().min().x()) / c),
              j = static_cast<int>((p.y() - grid_.block().min().y()) / c);
    const double here = height(i, j);
    if (here == kNothingBelow) return hex(0xffffff);
    const auto slope = [&](double before, double after) {
      if (before == kNothingBelow || after == kNothingBelow) return 0.0;
      return (after - before) / (2 * c);
    };
    const Vec3 normal =
        Vec3(-slope(height(i - 1, j), height(i + 1, j)), -slope(height(i, j - 1), height(i, j + 1)), 1)
            .normalized();
    const double light = normal.dot(Vec3(-0.45, 0.55, 0.70));
    const double grey = std::clamp(0.58 + 0.46 * light, 0.35, 0.97);
    return {grey, grey, std::min(1.0, grey * 1.015)};
  }

 private:
  [[nodiscard]] double height(int i, int j) const {
    return heights_[grid_.index(std::clamp(i, 0, grid_.columns() - 1), std::clamp(j, 0, grid_.rows() - 1))];
  }
  Stock grid_;
  std::vector<double> heights_;
};

struct Stroke {
  MoveKind kind;
  Vec3 from, to;
};

/// The moves of one operation as posted and read back; what each is for is known only when we posted it
/// ourselves.
std::vector<Stroke> strokes_of(const Report& report, std::int32_t operation) {
  std::vector<Stroke> strokes;
  for (const ProgramMove& move : report.judged.program.moves) {
    if (move.operation != operation || (move.rapid() && move.from.z() >= kChangeHeight)) continue;
    MoveKind kind = move.rapid() ? MoveKind::rapid : MoveKind::cut;
    const Move* planned = report.run && !move.rapid() ? move_of_line(*report.run, move.line) : nullptr;
    if (planned) kind = planned->kind;
    const std::vector<Vec3> points = report.judged.program.points_of(move, 0.01);
    for (std::size_t k = 0; k + 1 < points.size(); ++k) strokes.push_back({kind, points[k], points[k + 1]});
  }
  return strokes;
}

void draw_strokes(Canvas& canvas, const PlanView& view, const std::vector<Stroke>& strokes, double width) {
  const auto draw = [&](auto wanted, const Colour& colour, double line_width, bool dashed) {
    Vec2 last(1e300, 0);
    for (const Stroke& stroke : strokes) {
      if (!wanted(stroke.kind)) continue;
      if (plan(stroke.from) != last) canvas.move_to(view.to_page(plan(stroke.from)));
      canvas.line_to(view.to_page(plan(stroke.to)));
      last = plan(stroke.to);
    }
    canvas.stroke(colour, line_width, dashed);
  };
  draw([](MoveKind k) { return k == MoveKind::cut; }, kCut, width, false);
  draw([](MoveKind k) { return k == MoveKind::ramp; }, kRamp, 2 * width, false);
  draw([](MoveKind k) { return k == MoveKind::link; }, kLink, 2 * width, false);
  draw([](MoveKind k) { return k == MoveKind::rapid; }, kRapid, 1.4, true);
  for (const Stroke& stroke : strokes)
    if (stroke.kind == MoveKind::plunge && plan(stroke.from) == plan(stroke.to))
      canvas.circle(view.to_page(plan(stroke.to)), 3, kRamp, 1.3);
}

double draw_legend(Canvas& canvas, double top) {
  const auto entry = [&](const char* words, const Colour& colour, double width, bool dashed) {
    canvas.move_to({kPanel, top - 4});
    canvas.line_to({kPanel + 34, top - 4});
    canvas.stroke(colour, width, dashed);
    canvas.text({kPanel + 44, top}, words, 13, kInk);
    top += 22;
  };
  entry("cutting", kCut, 2, false);
  entry("ramp into the material", kRamp, 3, false);
  entry("link at feed", kLink, 3, false);
  entry("rapid", kRapid, 1.5, true);
  canvas.circle({kPanel + 17, top - 4}, 3, kRamp, 1.3);
  canvas.text({kPanel + 44, top}, "plunge", 13, kInk);
  return top + 30;
}

/// A piece of the path large enough to see single passes: around a link, or around the middle cut.
void draw_detail(Canvas& canvas, const std::shared_ptr<const ContactPart>& part,
                 const std::vector<Stroke>& strokes, double top) {
  std::vector<Vec2> places;
  for (const Stroke& stroke : strokes)
    if (stroke.kind == MoveKind::link) places.push_back(0.5 * (plan(stroke.from) + plan(stroke.to)));
  if (places.empty())
    for (const Stroke& stroke : strokes)
      if (stroke.kind == MoveKind::cut) places.push_back(plan(stroke.from));
  if (places.empty()) return;
  const Vec2 middle = places[places.size() / 2];
  double spacing = 1e9;
  for (const Vec2& p : places)
    if ((p - middle).norm() > 1e-3) spacing = std::min(spacing, (p - middle).norm());
  const double half = 0.5 * round_step(std::clamp(12 * spacing, 4.0, 50.0));
  const PlanView view(Box2(middle.array() - half, middle.array() + half), {kPanel, top + 18, 230, 230});
  canvas.text({kPanel, top + 8}, fmt::format("detail, {:g} x {:g} mm", 2 * half, 2 * half), 13, kInk);
  const Shading shading(part, view.box(), 1 / view.scale());
  const Frame frame = view.frame();
  canvas.clip(frame);
  canvas.paint(frame, [&](const Vec2& p) { return shading.at(view.to_part(p)); });
  draw_strokes(canvas, view, strokes, 1.2);
  canvas.unclip();
  canvas.outline(frame, kFaint);
}

void draw_path(const Report& report, std::size_t index, const Shading& shading, const Box2& box,
               const std::filesystem::path& file) {
  const OperationReport& operation = report.operations[index];
  Canvas canvas(kWidth, kHeight);
  draw_title(canvas, fmt::format("{}. {}", operation.number, operation.name),
             fmt::format("{}, T{} {}; toolpath over the part, seen from above", operation.strategy,
                         operation.judged.tool, operation.tool ? operation.tool->name : ""));
  const PlanView view(box, kPlot);
  canvas.paint(view.frame(), [&](const Vec2& p) { return shading.at(view.to_part(p)); });
  const auto strokes = strokes_of(report, operation.in_program);
  canvas.clip(view.frame());
  draw_strokes(canvas, view, strokes, strokes.size() > 20000 ? 0.5 : 0.9);
  for (const auto& finding : report.judged.judgement.findings)
    if (finding.operation == operation.in_program)
      canvas.circle(view.to_page(plan(finding.at)), 9, hex(0x000000), 2.5);
  canvas.unclip();
  draw_axes(canvas, view);
  double top = draw_legend(canvas, 90);
  const auto row = [&](const std::string& name, const std::string& value) {
    canvas.text({kPanel, top}, name, 13, kFaint);
    canvas.text({kPanel + 230, top}, value, 13, kInk, Canvas::Align::right);
    top += 20;
  };
  for (const Figure& figure : all_figures())
    if (figure.places & kOnPicture) row(figure.heading, in_words(figure, operation));
  draw_detail(canvas, report.setup.part, strokes, top + 20);
  canvas.save(file);
}

/// Steps of the excess map: lighter is thinner, so the order survives in grey.
struct LeftStep {
  double up_to_mm;
  unsigned colour;
};
constexpr LeftStep kSteps[] = {{0.005, 0xfdf6d8}, {0.01, 0xf3e3a2}, {0.02, 0xdccb7c},
                                 {0.05, 0xa8c08a},  {0.1, 0x6eaf9c},  {0.2, 0x3f93a6},
                                 {0.5, 0x2f6fa0},   {1.0, 0x2d4a8a},  {1e9, 0x26234f}};
constexpr unsigned kBelowPart = 0xe0457b, kNoPart = 0xd9dde2;

Colour left_colour(double excess) {
  if (std::isnan(excess)) return hex(kNoPart);
  if (excess < -0.001) return hex(kBelowPart);
  for (const LeftStep& step : kSteps)
    if (excess <= step.up_to_mm) return hex(step.colour);
  return hex(kSteps[std::size(kSteps) - 1].colour);
}

void draw_colour_bar(Canvas& canvas, double top) {
  canvas.text({kPanel, top}, "material left on the part, mm", 13, kInk, Canvas::Align::left, true);
  canvas.text({kPanel, top + 17}, "(distance to its surface)", 12, kFaint);
  top += 32;
  const double height = 34;
  const auto swatch = [&](unsigned colour, const std::string& words) {
    canvas.fill({kPanel, top, 44, height - 4}, hex(colour));
    canvas.outline({kPanel, top, 44, height - 4}, kFaint, 0.6);
    canvas.text({kPanel + 56, top + 20}, words, 13, kInk);
    top += height;
  };
  for (std::size_t i = std::size(kSteps); i-- > 0;) {
    const double below = i == 0 ? 0 : kSteps[i - 1].up_to_mm;
    swatch(kSteps[i].colour, kSteps[i].up_to_mm > 1e8
                                 ? fmt::format("above {:g}", below)
                                 : fmt::format("{:g} to {:g}", below, kSteps[i].up_to_mm));
  }
  top += 8;
  swatch(kBelowPart, "cut below the part");
  swatch(kNoPart, "no part here");
}

void draw_left_map(const Report& report, const Box2& box, const std::filesystem::path& file) {
  Canvas canvas(kWidth, kHeight);
  draw_title(canvas, "Material left at the end",
             fmt::format("{}; simulated from the program as read back, cells of {:g} mm", report.job().title,
                         report.setup.cell_mm));
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
  canvas.stroke(hex(0x22272e, 0.8), 1.2, true);
  for (const auto& finding : report.judged.judgement.findings)
    canvas.circle(view.to_page(plan(finding.at)), 9, hex(0x000000), 2.5);
  canvas.unclip();
  draw_axes(canvas, view);
  draw_colour_bar(canvas, 90);
  canvas.move_to({kPanel, 560}), canvas.line_to({kPanel + 44, 560}),
      canvas.stroke(hex(0x22272e, 0.8), 1.2, true);
  canvas.text({kPanel + 56, 564}, "boundary", 13, kInk);
  canvas.text({kPanel, 600}, "verdict: " + verdict_words(report), 15, kInk, Canvas::Align::left, true);
  if (!report.clean()) {
    canvas.circle({kPanel + 22, 625}, 9, hex(0x000000), 2.5);
    canvas.text({kPanel + 56, 630}, "finding", 13, kInk);
  }
  canvas.save(file);
}

}  // namespace

namespace detail {

Box2 plan_of_block(const Report& report) {
  Box2 box = plan(report.setup.block);
  const double pad = 0.03 * box.sizes().maxCoeff();
  box.extend(Vec2(box.min().array() - pad));
  box.extend(Vec2(box.max().array() + pad));
  return box;
}

void draw_paths(OutputSource& source) {
  const Report& report = source.report;
  const Box2 box = plan_of_block(report);
  const PlanView view(box, kPlot);
  const Shading shading(report.setup.part, box, 1 / view.scale());
  for (std::size_t i = 0; i < report.operations.size(); ++i) {
    const OperationReport& operation = report.operations[i];
    if (!operation.has_moves()) continue;
    std::size_t again = 1;  // a program may come back to an operation
    for (std::size_t k = 0; k < i; ++k) again += report.operations[k].number == operation.number;
    source.pictures.push_back({again == 1 ? fmt::format("path-{}.png", operation.number)
                                          : fmt::format("path-{}-{}.png", operation.number, again),
                               operation.number > 0 ? fmt::format("Toolpath of operation {} \"{}\"",
                                                                  operation.number, one_line(operation.name))
                                                    : "Toolpath of moves that name no operation"});
    draw_path(report, i, shading, box, source.folder / source.pictures.back().file);
  }
}

void draw_how_much_is_left(OutputSource& source) {
  source.pictures.push_back({"excess.png", "Material left on the part at the end"});
  draw_left_map(source.report, plan_of_block(source.report), source.folder / "excess.png");
}

void draw_left(OutputSource& source) {
  source.pictures.push_back({"left.png", "Why material is left"});
  draw_why_left(source.report, plan_of_block(source.report), source.folder / "left.png");
}

}  // namespace detail

std::vector<Picture> draw_pictures(const Report& report, const std::filesystem::path& folder) {
  OutputSource source{report, {}, false, folder};
  for (const auto draw : {detail::draw_paths, detail::draw_how_much_is_left, detail::draw_left}) draw(source);
  return std::move(source.pictures);
}

}  // namespace yardpass
