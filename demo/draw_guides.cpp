// Draws the picture of docs/limits.md into the folder given: sections through passes with and without guides.
#include <cmath>
#include <cstdio>

#include "drawing.h"
#include "parts.h"
#include "yardpass/contact/lift.h"
#include "yardpass/part/guides.h"
#include "yardpass/part/read_mesh.h"
#include "yardpass/plan/wall_rides.h"

namespace {

const detail::Colour kSteel = hex(0xc9ced6), kPass = hex(0x0072b2), kBall = hex(0xd55e00),
                     kGuide = hex(0x009e73);

/// One panel: a section along X at y, the part, what guides, and the pass of a ball over both.
struct Panel {
  const char* title;
  Frame frame;
  double y, left, right, low, high;
  double pass_from, pass_to;
};

void draw_section(Canvas& canvas, const PlanView& view, const Mesh& mesh, double y, double low,
                  const detail::Colour& colour, double width, bool filled) {
  const TipSurface needle(make_contact_part(mesh), Profile::needle());
  const double left = view.box().min().x(), right = view.box().max().x();
  bool open = false;
  for (int i = 0; i <= 1600; ++i) {
    const double x = left + (right - left) * i / 1600, z = needle.height({x, y});
    if (filled) {
      if (z == kNothingBelow) continue;
      canvas.move_to(view.to_page({x, z})), canvas.line_to(view.to_page({x, low})),
          canvas.stroke(colour, width);
      continue;
    }
    if (z != kNothingBelow)
      open ? canvas.line_to(view.to_page({x, z})) : canvas.move_to(view.to_page({x, z}));
    open = z != kNothingBelow;
  }
  if (!filled) canvas.stroke(colour, width);
}

void draw_panel(Canvas& canvas, const Panel& panel, const Mesh& part, const Mesh& guide, double radius) {
  const PlanView view(Box2(Vec2(panel.left, panel.low), Vec2(panel.right, panel.high)), panel.frame);
  canvas.text({view.frame().left, view.frame().top - 8}, panel.title, 14, kInk);
  canvas.clip(view.frame());
  draw_section(canvas, view, part, panel.y, panel.low, kSteel, 1.2, true);
  Mesh both = part;
  if (!guide.triangles.empty()) {
    draw_section(canvas, view, guide, panel.y, panel.low, kGuide, 2.4, false);
    append(both, guide);
  }
  const TipSurface ball(make_contact_part(both), Profile::ball(2 * radius));
  const std::vector<Vec2> line{{panel.pass_from, panel.y}, {panel.pass_to, panel.y}};
  for (const Polyline3& piece : lift(ball, line, {.tolerance_mm = 0.005})) {
    for (std::size_t i = 0; i < piece.size(); ++i) {
      const Vec2 p = view.to_page({piece[i].x(), piece[i].z()});
      i == 0 ? canvas.move_to(p) : canvas.line_to(p);
    }
    canvas.stroke(kPass, 2.2);
    const Vec3& end = piece.back();
    canvas.circle(view.to_page({end.x(), end.z() + radius}), radius * view.scale(), kBall, 1.4);
  }
  canvas.unclip();
  canvas.outline(view.frame(), kFaint);
}

Mesh walled_floor() {
  Mesh mesh;
  const double section[][2] = {{-40, 0}, {12, 0}, {12.4, 7}, {40, 7}};
  for (const auto& p : section)
    mesh.points.emplace_back(p[0], -20, p[1]), mesh.points.emplace_back(p[0], 20, p[1]);
  for (int i = 0; i < 3; ++i) {
    mesh.triangles.push_back({2 * i, 2 * i + 2, 2 * i + 1});
    mesh.triangles.push_back({2 * i + 1, 2 * i + 2, 2 * i + 3});
  }
  return mesh;
}

TriangleSet region_at(const Mesh& mesh, const Joints& joints, const Vec2& place) {
  Pick what;
  what.under = {place};
  return pick(mesh, joints, split_into_regions(mesh, joints), {}, what);
}

void draw(const std::string& demo_folder, const std::string& folder) {
  Canvas canvas(1280, 800);
  detail::draw_title(canvas, "Where a pass goes",
                     "grey: the part in section; green: what guides; blue: the tip of a ball of 6 mm; "
                     "orange: the ball at the end");
  const auto column = [](int k) { return 24.0 + 630 * k; };
  const auto row = [](int k) { return 96.0 + 236 * k; };
  const Mesh blade = read_mesh(demo_folder + "/paddle-blade.stl").mesh;
  const Joints blade_joints(blade);
  Mesh lid;
  for (const Rim& rim : rims_of(blade, blade_joints, region_at(blade, blade_joints, {0, 55})))
    if (rim.is_hole && rim.widest_mm() < 15) append(lid, flat_lid(rim));
  Panel panel{"a dowel hole, as it is: the pass dives in",
              {column(0), row(0), 600, 190},
              47,
              60,
              94,
              -5.5,
              4.5,
              62,
              89};
  draw_panel(canvas, panel, blade, {}, 3);
  panel.title = "under a lid: straight over, the rim stays sharp", panel.frame.left = column(1);
  draw_panel(canvas, panel, blade, lid, 3);

  const Mesh punch = read_mesh(demo_folder + "/fairlead-punch.stl").mesh;
  const Joints punch_joints(punch);
  const Mesh run_out =
      run_out_of(punch, punch_joints, region_at(punch, punch_joints, {0, 0}), {.length_mm = 6});
  panel = {"the end of the saddle, as it is: the pass rolls over the edge",
           {column(0), row(1), 600, 190},
           0,
           24,
           50,
           -6,
           2.2,
           26,
           42.5};
  draw_panel(canvas, panel, punch, {}, 3);
  panel.title = "with a run-out: it leaves in line with the saddle", panel.frame.left = column(1);
  draw_panel(canvas, panel, punch, run_out, 3);

  const Mesh floor = walled_floor();
  panel = {"a boundary at the foot of a wall, axis on it: the pass rides up",
           {column(0), row(2), 600, 190},
           0,
           -12,
           24,
           -1.5,
           10,
           -10,
           12};
  draw_panel(canvas, panel, floor, {}, 3);
  const TipSurface ball(make_contact_part(floor), Profile::ball(6));
  const Region area = rectangle(Box2(Vec2(-10, -5), Vec2(12, 5)));
  const std::vector<Vec2> line{{-10, 0}, {12, 0}};
  const auto rides = wall_rides(ball, lift(ball, line, {.tolerance_mm = 0.005}), area, area);
  const double margin = rides.empty() ? 0 : -rides.front().inside_mm - 0.01;
  char title[120];
  std::snprintf(title, sizeof title, "with the margin that the note names, %.2f mm: it stays on the floor",
                margin);
  panel.title = title, panel.frame.left = column(1), panel.pass_to = 12 + margin;
  draw_panel(canvas, panel, floor, {}, 3);
  canvas.save(folder + "/limits.png");
}

}  // namespace

int main(int count, char** words) {
  if (count != 3) {
    std::fprintf(stderr, "usage: draw_guides DEMO_FOLDER FOLDER\n");
    return 2;
  }
  try {
    draw(words[1], words[2]);
  } catch (const std::exception& error) {
    std::fprintf(stderr, "draw_guides: %s\n", error.what());
    return 2;
  }
}
