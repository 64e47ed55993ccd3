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

void draw_profiles(const std::string& folder) {
  Canvas canvas(1280, 420);
  canvas.text({24, 34}, "Cutters as convex profiles", 19, kInk, Canvas::Align::left, true);
  canvas.text({24, 54},
              "solid: the tool as it is; dashed: thicker all round by 0.6 mm, its tip lower by as much", 13,
              kFaint);
  const NamedCutter cutters[] = {
      {"ball", Profile::ball(6)},
      {"flat", Profile::flat(6)},
      {"bull nose", Profile::bull(6, 1.2)},
      {"tapered ball", Profile::taper(2.4, 8, 1.2, 9)},
      {"tapered bull", Profile::taper(3, 10, 0.6, 9)},
      {"tapered flat", Profile::taper(2.4, 10, 0, 9)},
      {"chamfer", Profile::chamfer(6, 45, 1)},
      {"free profile", Profile::from_pieces({{0, 0, 1.2, 0.25, 0.25 / 1.2, 0.25 / 1.2},
                                             {1.2, 0.25, 2.2, 1.1, 0.85, 0.85},
                                             {2.2, 1.1, 3, 4.5, 4.25, 4.25}})}};
  for (int i = 0; i < 8; ++i) {
    const PlanView view(Box2(Vec2(-4.4, -1.4), Vec2(4.4, 11)), {24.0 + 155 * i, 75, 150, 270});
    const NamedCutter& c = cutters[i];
    draw_line(canvas, view, outline(c.profile, {0, 0}, 10), kInk, 2);
    const Resized grown = *resized(c.profile, 0.6);
    draw_line(canvas, view, outline(grown.profile, {0, grown.tip_z_mm}, 10 - grown.tip_z_mm), kLines[0], 1.3,
              true);
    canvas.move_to(view.to_page({0, -1.2})), canvas.line_to(view.to_page({0, 10.6})),
        canvas.stroke(kFaint, 0.6, Canvas::Line::dashed);
    canvas.text({24.0 + 155 * i + 75, 385}, c.name, 14, kInk, Canvas::Align::middle);
  }
  canvas.save(folder + "/tip-profiles.png");
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

void draw_proof(const std::string& folder) {
  Canvas canvas(1280, 620);
  canvas.text({24, 34}, "Proof of one move", 19, kInk, Canvas::Align::left, true);
  canvas.text({24, 54},
              "room of a ball of 6 mm above each triangle of the corner, along a straight move; each line is "
              "convex, so its least value has a closed form",
              13, kFaint);
  const auto part = make_contact_part(corner_part());
  const TipSurface surface(part, Profile::ball(6));
  const Vec3 a(-9, -6, 3.2), b(8, 7, 6.4);
  const Frame frame{70, 90, 1170, 470};
  const double low = -2.5, high = 6;
  const auto to_page = [&](double share, double room) {
    return Vec2(frame.left + share * frame.width, frame.top + (high - room) / (high - low) * frame.height);
  };
  canvas.clip(frame);
  canvas.fill({frame.left, to_page(0, 0).y(), frame.width, frame.height}, hex(0xfbe9e0));
  for (std::int32_t t = 0; t < 8; ++t) {
    bool open = false;
    for (int i = 0; i <= 2000; ++i) {
      const double share = i / 2000.0;
      const Vec3 tip = a + share * (b - a);
      const double height = surface.height_over(t, plan(tip));
      if (height == kNothingBelow) {
        open = false;
        continue;
      }
      open ? canvas.line_to(to_page(share, tip.z() - height))
           : canvas.move_to(to_page(share, tip.z() - height));
      open = true;
    }
    canvas.stroke(kLines[t % 4], 2);
  }
  canvas.unclip();
  canvas.move_to(to_page(0, 0)), canvas.line_to(to_page(1, 0)), canvas.stroke(kInk, 1.2);
  const Clearance least = surface.clearance(a, b);
  canvas.circle(to_page(least.share, least.room), 7, kInk, 2);
  char text[160];
  std::snprintf(text, sizeof text, "least room %.3f mm at %.1f %% of the move", least.room,
                100 * least.share);
  canvas.text(to_page(least.share, least.room) + Vec2(0, -16), text, 14, kInk, Canvas::Align::middle);
  canvas.text({frame.left + 8, to_page(0, 0).y() - 8}, "room 0: touching", 13, kFaint);
  canvas.text({frame.left + 8, to_page(0, 0).y() + 20}, "inside the part", 13, kFaint);
  for (double room = -2; room <= high; room += 2) {
    std::snprintf(text, sizeof text, "%g", room);
    canvas.text(to_page(0, room) + Vec2(-10, 5), text, 12, kFaint, Canvas::Align::right);
  }
  canvas.text({frame.left, frame.top - 10}, "room in Z, mm", 12, kFaint);
  canvas.text({frame.left, frame.top + frame.height + 20}, "start of the move", 12, kFaint);
  canvas.text({frame.left + frame.width, frame.top + frame.height + 20}, "its end", 12, kFaint,
              Canvas::Align::right);
  canvas.outline(frame, kFaint);
  canvas.save(folder + "/tip-proof.png");
}

}  // namespace

int main(int count, char** words) {
  if (count != 2) {
    std::fprintf(stderr, "usage: draw_tip_surface FOLDER\n");
    return 2;
  }
  try {
    draw_profiles(words[1]);
    draw_surfaces(words[1]);
    draw_proof(words[1]);
  } catch (const std::exception& error) {
    std::fprintf(stderr, "draw_tip_surface: %s\n", error.what());
    return 2;
  }
}
