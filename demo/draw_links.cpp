// Draws the picture of docs/links.md into the folder given: a panel for each kind of link and lead, on the
// mold of the paddle blade.
#include <cmath>
#include <cstdio>

#include "drawing.h"
#include "yardpass/link/link.h"
#include "yardpass/part/read_mesh.h"
#include "yardpass/strategy/parallel.h"

namespace {

const detail::Colour kSteel = hex(0xc9ced6), kCut = hex(0x0072b2), kLink = hex(0xd55e00),
                     kLead = hex(0x009e73), kRapid = hex(0x5b4a8a);

/// From above, or from the front with the part in section at a Y.
struct Panel {
  const char* title;
  const char* says;
  Box2 box;
  bool from_above = true;
  double section_y = 0;
};

Vec2 seen(const Vec3& p, const Panel& panel) {
  return panel.from_above ? Vec2(p.x(), p.y()) : Vec2(p.x(), p.z());
}

detail::Colour colour_of(MoveKind kind) {
  switch (kind) {
    case MoveKind::rapid:
      return kRapid;
    case MoveKind::link:
      return kLink;
    case MoveKind::cut:
      return kCut;
    default:
      return kLead;
  }
}

void draw_panel(Canvas& canvas, const Frame& frame, const Panel& panel, const TipSurface& needle,
                const Toolpath& path) {
  const PlanView view(panel.box, frame);
  canvas.text({frame.left, frame.top - 26}, panel.title, 14, kInk, Canvas::Align::left, true);
  canvas.text({frame.left, frame.top - 9}, panel.says, 12, kInk);
  canvas.clip(frame);
  if (!panel.from_above)
    for (int i = 0; i <= 1200; ++i) {
      const double x = panel.box.min().x() + panel.box.sizes().x() * i / 1200,
                   z = needle.height({x, panel.section_y});
      if (z == kNothingBelow) continue;
      canvas.move_to(view.to_page({x, z}));
      canvas.line_to(view.to_page({x, panel.box.min().y()}));
      canvas.stroke(kSteel, 1.2);
    }
  for (const bool rapids : {false, true}) {
    Vec3 at = path.start;
    for (const Move& move : path.moves) {
      const Vec2 a = view.to_page(seen(at, panel)), b = view.to_page(seen(move.to, panel));
      at = move.to;
      if ((move.kind == MoveKind::rapid) != rapids) continue;
      canvas.move_to(a), canvas.line_to(b);
      canvas.stroke(colour_of(move.kind), move.kind == MoveKind::cut ? 1.6 : 2.4,
                    rapids ? Canvas::Line::dashed : Canvas::Line::solid);
      if (move.kind == MoveKind::rapid && (b - a).norm() > 40) canvas.arrow(0.5 * (a + b), b - a, 8, kRapid);
    }
  }
  canvas.unclip();
  canvas.outline(frame, kFaint);
}

class Picture {
 public:
  explicit Picture(const std::string& demo_folder)
      : part_(make_contact_part(read_mesh(demo_folder + "/paddle-blade.stl").mesh)),
        surface_(part_, tool()),
        needle_(part_, Profile::needle()),
        block_(part_->box()) {
    // All roughed: only the part is in the way.
    block_.max().z() = block_.min().z() + 1;
    links_.plane_z = part_->box().max().z() + 8;
    links_.steps.ladder = {0, 0, 0};
  }

  void draw(const std::string& folder) {
    Canvas canvas(1280, 800);
    detail::draw_title(canvas, "What happens between cuts",
                       "blue: cuts; orange: links at feed; green: ways in and out at feed; violet, dashed: "
                       "rapids; grey: the part in section. Ball of 6 mm");
    const auto frame = [](int column, int row) {
      return Frame{24.0 + 420 * column, 132.0 + 350 * row, 392, 286};
    };
    const CutPlan edge = passes(Box2(Vec2(-6, -8), Vec2(14, 8)), 1.2);
    const Box2 turn(Vec2(6, -4), Vec2(18, 4.75));
    LinkOptions links = links_;
    links.steps.ladder.stay_down_mm = 4;
    draw_panel(canvas, frame(0, 0), {"stay down", "straight where free, else along the surface", turn},
               needle_, path(edge, links));
    links.steps.ladder = {0, 12, 0};
    draw_panel(canvas, frame(1, 0), {"hop", "on along the one cut, smoothly over, in along the other", turn},
               needle_, path(edge, links));
    draw_loop(canvas, frame(2, 0));
    const CutPlan across = plan_of(cuts_beside());
    Panel section{"lift", "at rapid, just high enough over what is between",
                  Box2(Vec2(-30, -14), Vec2(30, 29.8)), false, kSectionY};
    links = links_;
    links.steps.ladder.lift_mm = 1e9;
    links.steps.leads.in = links.steps.leads.out = {.shape = LeadShape::arc, .radius_mm = 3};
    draw_panel(canvas, frame(0, 1), section, needle_, path(across, links));
    section.title = "plane", section.says = "the same by way of the clearance plane";
    links.steps.ladder.lift_mm = 0;
    draw_panel(canvas, frame(1, 1), section, needle_, path(across, links));
    const Vec3 end = across.groups[0].cuts[0].points.back();
    links.steps.leads.out = {.shape = LeadShape::straight, .length_mm = 4, .angle_deg = 40};
    section = {"leads", "an arc in the plane of cut and normal; straight at 40 degrees",
               Box2(Vec2(end.x() - 14, end.z() - 4), Vec2(end.x() + 6, end.z() + 10.6)), false, kSectionY};
    draw_panel(canvas, frame(2, 1), section, needle_, path(short_cut(end), links));
    canvas.save(folder + "/links.png");
  }

 private:
  static constexpr double kSectionY = 0;
  static Tool tool() {
    return {.name = "ball6",
            .number = 1,
            .diameter_mm = 6,
            .spindle_rpm = 12000,
            .feed_mm_min = 1800,
            .steepest_entry_deg = 90};
  }
  [[nodiscard]] CutPlan passes(const Box2& box, double stepover) const {
    CutPlan plan =
        cuts_of(ParallelOptions{.stepover_mm = stepover}, {surface_, rectangle(box), nullptr, 0.005});
    for (CutGroup& group : plan.groups) group.keep_order = true;
    return plan;
  }
  [[nodiscard]] Toolpath path(const CutPlan& plan, const LinkOptions& links) const {
    return link_cuts(plan, surface_, Stock(block_, 0.25), links).path;
  }
  /// Two cuts in line with something between them.
  [[nodiscard]] std::vector<Cut> cuts_beside() const {
    std::vector<Cut> cuts;
    for (const auto& [from, to] : {std::pair(-26.0, -8.0), std::pair(8.0, 26.0)}) {
      CutPlan plan = cuts_of(
          ParallelOptions{.stepover_mm = 5},
          {surface_, rectangle(Box2(Vec2(from, kSectionY), Vec2(to, kSectionY + 0.01))), nullptr, 0.005});
      cuts.push_back(plan.groups[0].cuts.front());
      cuts.back().pass = std::ssize(cuts) == 1 ? 1 : 2;
    }
    return cuts;
  }
  [[nodiscard]] CutPlan short_cut(const Vec3& end) const {
    CutPlan plan =
        cuts_of(ParallelOptions{.stepover_mm = 5},
                {surface_, rectangle(Box2(Vec2(end.x() - 8, kSectionY), Vec2(end.x(), kSectionY + 0.01))),
                 nullptr, 0.005});
    plan.groups[0].cuts.resize(1);
    return plan;
  }
  /// A closed cut, begun where its lead fits and run over its start.
  void draw_loop(Canvas& canvas, const Frame& frame) const {
    Cut loop;
    loop.closed = true;
    for (int k = 0; k < 120; ++k) {
      const double angle = 2 * 3.14159265358979 * k / 120;
      const Vec2 at(6 + 9 * std::cos(angle), 6 * std::sin(angle));
      loop.points.push_back(with_z(at, surface_.height(at) + 0.002));
    }
    LinkOptions links = links_;
    links.steps.leads.in =
        links.steps.leads.out = {.shape = LeadShape::arc, .plane = LeadPlane::level, .radius_mm = 2.5};
    draw_panel(
        canvas, frame,
        {"closed cuts", "begun where the lead fits, run over their start", Box2(Vec2(-6, -8), Vec2(18, 9.5))},
        needle_, path(plan_of({loop}), links));
  }

  std::shared_ptr<const ContactPart> part_;
  ToolSurface surface_;
  TipSurface needle_;
  Box3 block_;
  LinkOptions links_;
};

}  // namespace

int main(int argc, char** argv) {
  if (argc != 3) {
    std::fprintf(stderr, "usage: draw_links DEMO_FOLDER FOLDER\n");
    return 2;
  }
  try {
    Picture(argv[1]).draw(argv[2]);
  } catch (const std::exception& error) {
    std::fprintf(stderr, "draw_links: %s\n", error.what());
    return 2;
  }
  return 0;
}
