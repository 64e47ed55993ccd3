// Draws the pictures of docs/tip-surface.md into the folder given.
#include <cmath>
#include <cstdio>

#include "report/canvas.h"
#include "yardpass/contact/tip_surface.h"
#include "yardpass/geom/polyline.h"

using namespace yardpass;
using detail::Canvas;
using detail::Colour;
using detail::Frame;
using detail::hex;
using detail::PlanView;

namespace {

const Colour kInk = hex(0x22272e), kFaint = hex(0x6b7480), kSteel = hex(0xc9ced6), kCutter = hex(0xe8ecf1);
const Colour kLines[] = {hex(0x0072b2), hex(0xd55e00), hex(0x009e73), hex(0xcc79a7)};

struct NamedCutter {
  const char* name;
  Profile profile;
};

/// Outline of a cutter standing with its tip at `tip`, up to `top` above it, as a closed line in (x, z).
Polyline2 outline(const Profile& cutter, const Vec2& tip, double top) {
  Polyline2 right;
  for (int i = 0; i <= 200; ++i) {
    const double r = cutter.radius() * i / 200;
    right.emplace_back(r, cutter.height(r));
  }
  right.emplace_back(cutter.radius(), std::max(top, right.back().y()));
  Polyline2 line;
  for (auto it = right.rbegin(); it != right.rend(); ++it)
    line.emplace_back(tip.x() - it->x(), tip.y() + it->y());
  for (const Vec2& p : right) line.emplace_back(tip.x() + p.x(), tip.y() + p.y());
  return line;
}

void draw_line(Canvas& canvas, const PlanView& view, const Polyline2& line, const Colour& colour,
               double width, bool dashed = false) {
  for (std::size_t i = 0; i < line.size(); ++i)
    i == 0 ? canvas.move_to(view.to_page(line[i])) : canvas.line_to(view.to_page(line[i]));
  canvas.stroke(colour, width, dashed ? Canvas::Line::dashed : Canvas::Line::solid);
}

/// A ridge along Y with a sharp edge: its section is a corner.
Mesh corner_part() {
  Mesh mesh;
  const double section[][2] = {{-14, 0}, {-4, 0}, {0, 7}, {1.5, 2}, {14, 0.5}};
  for (const auto& p : section)
    mesh.points.emplace_back(p[0], -40, p[1]), mesh.points.emplace_back(p[0], 40, p[1]);
  for (int i = 0; i + 1 < 5; ++i) {
    mesh.triangles.push_back({2 * i, 2 * i + 2, 2 * i + 1});
    mesh.triangles.push_back({2 * i + 1, 2 * i + 2, 2 * i + 3});
  }
  return mesh;
}

void draw_surfaces(const std::string& folder) {
  Canvas canvas(1280, 620);
  canvas.text({24, 34}, "Tip surfaces of one corner under four cutters", 19, kInk, Canvas::Align::left, true);
  canvas.text({24, 54}, "each line: how low the tip can stand; the tool may be anywhere on or above its line",
              13, kFaint);
  const auto part = make_contact_part(corner_part());
  const PlanView view(Box2(Vec2(-14, -1.5), Vec2(14, 12)), {40, 80, 1200, 500});
  canvas.clip(view.frame());
  Polyline2 section;
  for (int i = 0; i <= 1400; ++i)
    section.emplace_back(-14 + 0.02 * i, TipSurface(part, Profile::needle()).height({-14 + 0.02 * i, 0}));
  for (const Vec2& p : section)
    canvas.move_to(view.to_page(p)), canvas.line_to(view.to_page({p.x(), -1.5})), canvas.stroke(kSteel, 1.2);
  const NamedCutter cutters[] = {{"ball, 6 mm", Profile::ball(6)},
                                 {"flat, 6 mm", Profile::flat(6)},
                                 {"bull nose, 6 mm, corner 1 mm", Profile::bull(6, 1)},
                                 {"tapered ball, tip 2 mm, 15 degrees", Profile::taper(2, 15, 1, 8)}};
  for (int k = 0; k < 4; ++k) {
    const TipSurface surface(part, cutters[k].profile);
    Polyline2 line;
    for (int i = 0; i <= 2800; ++i) {
      const double x = -14 + 0.01 * i;
      line.emplace_back(x, surface.height({x, 0}));
    }
    draw_line(canvas, view, line, kLines[k], 2.4);
  }
  const double x = -3.4;
  const Profile ball = Profile::ball(6);
  draw_line(canvas, view, outline(ball, {x, TipSurface(part, ball).height({x, 0})}, 20), kLines[0], 1.2,
            true);
  canvas.unclip();
  for (int k = 0; k < 4; ++k) {
    canvas.move_to({850, 110.0 + 24 * k}), canvas.line_to({885, 110.0 + 24 * k}),
        canvas.stroke(kLines[k], 2.4);
    canvas.text({895, 115.0 + 24 * k}, cutters[k].name, 14, kInk);
  }
  canvas.outline(view.frame(), kFaint);
  canvas.save(folder + "/tip-surfaces.png");
}

}  // namespace

int main(int count, char** words) {
  if (count != 2) {
    std::fprintf(stderr, "usage: draw_tip_surface FOLDER\n");
    return 2;
  }
  try {
    draw_surfaces(words[1]);
  } catch (const std::exception& error) {
    std::fprintf(stderr, "draw_tip_surface: %s\n", error.what());
    return 2;
  }
}
