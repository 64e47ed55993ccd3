// Draws the picture of docs/strategy/roughing.md into the folder given: a level of the paddle blade's mold by
// loops and by bounded engagement, coloured by how much of the cutter meets material.
#include <algorithm>
#include <array>
#include <cstdio>

#include <fmt/format.h>

#include "drawing.h"
#include "yardpass/link/link.h"
#include "yardpass/part/read_mesh.h"
#include "yardpass/stock/engagement.h"
#include "yardpass/strategy/roughing.h"

namespace {

constexpr double kTop = -6, kLevel = -8, kLimit = 60;

/// Up to an angle.
struct Band {
  double up_to_deg;
  detail::Colour colour;
  const char* says;
};
const std::array<Band, 5> kBands{{{1, hex(0xb9bfc7), "nothing"},
                                  {kLimit + 5, hex(0x0072b2), "up to 65"},
                                  {90, hex(0xe69f00), "to 90"},
                                  {135, hex(0xd55e00), "to 135"},
                                  {181, hex(0x8b1a1a), "to 180 degrees"}}};
detail::Colour colour_of(double degrees) {
  return std::find_if(kBands.begin(), kBands.end(),
                      [&](const Band& band) { return degrees < band.up_to_deg; })
      ->colour;
}

struct Level {
  const char* title;
  std::vector<EngagementStep> steps;  // of cuts; entries and links apart
  std::vector<std::pair<Vec3, Vec3>> others;
  double cut_mm = 0, other_mm = 0, greatest_deg = 0;
};

Level cut(const char* title, const ToolSurface& surface, const Stock& block, LevelPattern pattern) {
  RoughingOptions options{.stepdown_mm = kTop - kLevel, .stepover_mm = 4.5};
  options.pattern = pattern, options.may_leave = true, options.engagement_deg = kLimit;
  options.helix_radius_mm = 2.5, options.least_helix_mm = 0.75;
  const Box2 box(plan(block.block().min()), plan(block.block().max()));
  const Region area = rectangle(box);
  Site site{surface, area, &block, 0.05};
  site.top_z = kTop, site.bottom_z = kLevel;
  LinkOptions links{.plane_z = kTop + 10, .steps = {.ladder = {.stay_down_mm = 20}}};
  const Toolpath path = link_cuts(cuts_of(options, site), surface, block, links).path;
  Level level{title, {}, {}};
  EngagementMeter meter(block, surface.cutter());
  Vec3 at = path.start;
  bool entering = false;
  double entered = 0;
  for (const Move& move : path.moves) {
    const bool down = move.kind == MoveKind::ramp || move.kind == MoveKind::plunge;
    entering = down || (entering && move.kind == MoveKind::cut && entered < 16);
    entered = down ? 0 : entered + (move.to - at).norm();
    if (move.kind == MoveKind::rapid) {
      meter.lift();
    } else {
      const bool counts = move.kind == MoveKind::cut && !entering;
      meter.go(at, move.to, [&](const EngagementStep& step) {
        if (!counts) return;
        level.steps.push_back(step);
        level.cut_mm += (step.to - step.from).norm();
        level.greatest_deg = std::max(level.greatest_deg, step.angle_deg);
      });
      if (!counts) level.others.emplace_back(at, move.to), level.other_mm += (move.to - at).norm();
    }
    at = move.to;
  }
  return level;
}

void draw_level(Canvas& canvas, const Frame& frame, const Level& level, const Box2& box) {
  const PlanView view(box, frame);
  canvas.text({frame.left, frame.top - 28}, level.title, 14, kInk, Canvas::Align::left, true);
  canvas.text(
      {frame.left, frame.top - 10},
      fmt::format(
          "greatest {:.0f} degrees; {:.2f} m of cuts, {:.2f} m of links and ways in; {:.0f} s at 2400",
          level.greatest_deg, level.cut_mm / 1000, level.other_mm / 1000,
          (level.cut_mm + level.other_mm) / 2400 * 60),
      12, kInk);
  canvas.clip(frame);
  for (const auto& [from, to] : level.others) {
    canvas.move_to(view.to_page(plan(from))), canvas.line_to(view.to_page(plan(to)));
    canvas.stroke(hex(0x9aa3ad), 0.5, Canvas::Line::solid);
  }
  for (const EngagementStep& step : level.steps) {
    canvas.move_to(view.to_page(plan(step.from))), canvas.line_to(view.to_page(plan(step.to)));
    canvas.stroke(colour_of(step.angle_deg), 1.1, Canvas::Line::solid);
  }
  canvas.unclip();
  canvas.outline(frame, kFaint);
}

/// Share of the length by ten degrees.
void draw_histogram(Canvas& canvas, const Frame& frame, const Level& level) {
  std::array<double, 18> share{};
  for (const EngagementStep& step : level.steps)
    share[static_cast<std::size_t>(std::min(17.0, step.angle_deg / 10))] +=
        (step.to - step.from).norm() / level.cut_mm;
  const double wide = frame.width / 18, high = frame.height - 34;
  for (std::size_t k = 0; k < share.size(); ++k) {
    const double left = frame.left + static_cast<double>(k) * wide, bottom = frame.top + frame.height - 18,
                 top = bottom - high * share[k] / 0.7;
    for (double x = left + 2; x < left + wide - 2; x += 1) {
      canvas.move_to({x, bottom}), canvas.line_to({x, top});
      canvas.stroke(colour_of(10.0 * static_cast<double>(k) + 4), 1.4, Canvas::Line::solid);
    }
    if (share[k] >= 0.0005)
      canvas.text({left + 0.5 * wide, top - 4}, fmt::format("{:.1f}", 100 * share[k]), 10, kInk,
                  Canvas::Align::middle);
    canvas.text({left, frame.top + frame.height - 4}, fmt::format("{}", 10 * k), 10, kInk,
                Canvas::Align::middle);
  }
}

}  // namespace

int main(int count, char** arguments) {
  if (count != 3) {
    std::fprintf(stderr, "usage: draw_engagement DEMO_FOLDER FOLDER\n");
    return 2;
  }
  const auto part = make_contact_part(read_mesh(std::string(arguments[1]) + "/paddle-blade.stl").mesh);
  const Tool tool{.name = "flat10",
                  .number = 1,
                  .shape = Shape::flat,
                  .diameter_mm = 10,
                  .spindle_rpm = 8000,
                  .feed_mm_min = 2400};
  const ToolSurface surface(part, tool, {.allowance_mm = 0.3});
  Box3 block = part->box();
  block.min().z() = -14, block.max().z() = kTop;
  block.min().x() -= 4, block.min().y() -= 4, block.max().x() += 4, block.max().y() += 4;
  const Stock stock(block, 0.1);
  const Box2 box(plan(block.min()).array() - 12, plan(block.max()).array() + 12);
  Canvas canvas(1280, 800);
  detail::draw_title(
      canvas, "A level of the paddle blade's mold: how much of the cutter meets material",
      "flat end of 10 mm, a step of 2 mm; below: share of the cut length, in %, by angle; grey: "
      "links and ways in");
  double x = 760;
  for (const Band& band : kBands) {
    canvas.text({x, 96}, band.says, 12, band.colour, Canvas::Align::left, true);
    x += 40 + 7.0 * static_cast<double>(std::string(band.says).size());
  }
  const Level levels[] = {cut("loops", surface, stock, LevelPattern::loops),
                          cut("bounded engagement, 60 degrees", surface, stock, LevelPattern::bounded)};
  for (const int k : {0, 1}) {
    draw_level(canvas, Frame{24.0 + 624 * k, 150, 608, 440}, levels[k], box);
    draw_histogram(canvas, Frame{24.0 + 624 * k, 606, 608, 180}, levels[k]);
  }
  canvas.save(std::string(arguments[2]) + "/roughing.png");
  return 0;
}
