#include "report/seam_picture.h"

#include <fmt/format.h>

#include "geom/bands.h"
#include "report/part_view.h"
#include "report/plot.h"

namespace yardpass::detail {

namespace {

const Colour kSteep = hex(0xd77a2d), kShallow = hex(0x8fbfdd), kNeither = hex(0xdfe2e6);

/// A part of a colour under the lamp.
Colour lit(const Colour& colour, double light) {
  return {colour.r * light, colour.g * light, colour.b * light};
}

}  // namespace

void draw_seam(const Inspection& inspection, const SlopeSeam& seam, const std::filesystem::path& file) {
  const Telling telling(inspection.setup.job.units);
  Canvas canvas(kWidth, kHeight, telling);
  draw_title(canvas, fmt::format("{}. {}", seam.operation, seam.name),
             fmt::format("where the tool's axis runs over steep and shallow parts, split at {:g} degrees; {}",
                         seam.angle_deg,
                         !seam.only                       ? "it cuts both"
                         : *seam.only == Steepness::steep ? "it keeps to the steep side"
                                                          : "it keeps to the shallow side"));
  const Mesh& mesh = inspection.setup.part->mesh();
  const Bands steep(seam.areas.steep), shallow(seam.areas.shallow);
  const PartView above(mesh, kPlot, 0, 90);
  above.paint(canvas, [&](int i, int j) {
    const Vec2 at = plan(above.place(i, j));
    const Colour& colour = steep.contains(at) ? kSteep : shallow.contains(at) ? kShallow : kNeither;
    // So that walls are not too dark for their colour.
    return lit(colour, 0.4 + 0.6 * above.light(above.triangle(i, j)));
  });
  // The axis runs beside walls too, where there is no part below.
  canvas.clip(above.plan().frame());
  for (const Polyline2& loop : seam.areas.steep.loops) {
    canvas.move_to(above.plan().to_page(loop.back()));
    for (const Vec2& p : loop) canvas.line_to(above.plan().to_page(p));
    canvas.stroke(kInk, 1);
  }
  canvas.unclip();
  draw_axes(canvas, above.plan());
  const auto words = [&](const char* side, std::int64_t pieces, double area) {
    return fmt::format("{}: {} {}, {}", side, pieces, pieces == 1 ? "area" : "areas",
                       telling.area_words(area));
  };
  double y = 90;
  y = draw_swatch(canvas, kPanel, y, kSteep, words("steep", seam.areas.steep_pieces, seam.areas.steep_mm2));
  y = draw_swatch(canvas, kPanel, y, kShallow,
                  words("shallow", seam.areas.shallow_pieces, seam.areas.shallow_mm2));
  y = draw_swatch(canvas, kPanel, y, kNeither, "not worked in");
  canvas.text({kPanel, y += 16}, "on all but 1 % of each:", 12, kInk);
  canvas.text({kPanel, y += 20}, fmt::format("steep from {:.1f} degrees", seam.areas.gentlest_steep_deg), 12,
              kInk);
  canvas.text({kPanel, y += 20}, fmt::format("shallow up to {:.1f} degrees", seam.areas.steepest_shallow_deg),
              12, kInk);
  canvas.save(file);
}

}  // namespace yardpass::detail
