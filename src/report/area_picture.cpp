#include "report/area_picture.h"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "geom/bands.h"
#include "report/part_view.h"
#include "report/plot.h"
#include "yardpass/geom/text.h"
#include "yardpass/report/report.h"

namespace yardpass {

namespace detail {

namespace {

const Colour kInside = hex(0x5aa9a3), kOutside = hex(0xe2e5e9), kOffPart = hex(0xd3ebe8);
constexpr std::size_t kMost = 20;
constexpr double kTitle = 40, kGap = 14;

/// Panels of one size that fill the page below its title.
class Panels {
 public:
  Panels(std::size_t count, double part_aspect) {
    const Frame page{24, 66, kWidth - 48.0, kHeight - 66 - 30.0};
    double best = 0;
    for (std::size_t columns = 1; columns <= count; ++columns) {
      const auto rows = (count + columns - 1) / columns;
      const Frame one{page.left, page.top, page.width / static_cast<double>(columns) - kGap,
                      page.height / static_cast<double>(rows) - kGap - kTitle};
      const double drawn = std::min(one.width, one.height * part_aspect);
      if (drawn > best) best = drawn, columns_ = columns, first_ = one;
    }
  }
  [[nodiscard]] Frame at(std::size_t i) const {
    Frame frame = first_;
    frame.left += static_cast<double>(i % columns_) * (first_.width + kGap);
    frame.top += static_cast<double>(i / columns_) * (first_.height + kGap + kTitle) + kTitle;
    return frame;
  }

 private:
  std::size_t columns_ = 1;
  Frame first_{};
};

void draw_panel(Canvas& canvas, const Frame& frame, const Inspection& inspection, const Settled& settled,
                const Box2& seen) {
  const Telling& telling = canvas.telling();
  const std::string name = fmt::format("{}. {}", settled.number, one_line(settled.name));
  canvas.text({frame.left, frame.top - 24}, canvas.fitting(name, 13, frame.width, true), 13, kInk,
              Canvas::Align::left, true);
  canvas.text({frame.left, frame.top - 8}, canvas.fitting(works_in_words(settled, telling), 11, frame.width),
              11, kFaint);
  const Mesh& mesh = inspection.setup.part->mesh();
  const PlanView view(seen, frame);
  const Frame drawn = view.frame();
  const Bands area(settled.works_in);
  const PartView above(mesh, drawn, seen);
  canvas.paint(drawn, [&](const Vec2& p) {
    const int i = std::min(above.width() - 1, static_cast<int>(p.x() - drawn.left)),
              j = std::min(above.height() - 1, static_cast<int>(p.y() - drawn.top));
    const bool inside = area.contains(view.to_part(p));
    if (above.triangle(i, j) < 0) return inside ? kOffPart : hex(0xffffff);
    const Colour& colour = inside ? kInside : kOutside;
    const double light = 0.4 + 0.6 * above.light(above.triangle(i, j));
    return Colour{colour.r * light, colour.g * light, colour.b * light};
  });
  canvas.clip(drawn);
  for (const Polyline2& loop : settled.works_in.loops) {
    canvas.move_to(view.to_page(loop.back()));
    for (const Vec2& p : loop) canvas.line_to(view.to_page(p));
    canvas.stroke(kInk, 1.2);
  }
  canvas.unclip();
  canvas.outline(drawn, kFaint, 0.5);
}

}  // namespace

void draw_areas(const Inspection& inspection, const std::filesystem::path& file) {
  const auto& operations = inspection.operations;
  const std::size_t count = std::min(kMost, operations.size());
  Canvas canvas(kWidth, kHeight, Telling(inspection.setup.job.units));
  draw_title(canvas, inspection.title + ": where each operation works",
             fmt::format("seen from above; green: inside its boundary; what the tool keeps of it comes with "
                         "planning{}",
                         count < operations.size()
                             ? fmt::format("; {} more operations are not drawn", operations.size() - count)
                             : ""));
  Box2 seen = plan(inspection.setup.part->box());
  for (const Settled& settled : operations)
    for (const Polyline2& loop : settled.works_in.loops)
      for (const Vec2& p : loop) seen.extend(p);
  const double pad = 0.02 * seen.sizes().maxCoeff();
  seen = Box2(seen.min() - Vec2(pad, pad), seen.max() + Vec2(pad, pad));
  const Panels panels(count, seen.sizes().x() / seen.sizes().y());
  for (std::size_t i = 0; i < count; ++i) draw_panel(canvas, panels.at(i), inspection, operations[i], seen);
  canvas.save(file);
}

}  // namespace detail

std::string works_in_words(const Settled& settled, const Telling& telling) {
  std::int64_t pieces = 0;
  for (const Polyline2& loop : settled.works_in.loops) pieces += signed_area(loop) > 0;
  const bool without = settled.values.limits.keep_out.given();
  return fmt::format("{}{}, limit {}: {}{}", settled.area.area,
                     without ? " without what it keeps out of" : "", name_of(settled.bounds().rule.by),
                     telling.area_words(settled.works_in.area_mm2()),
                     pieces > 1 ? fmt::format(" in {} pieces", pieces) : "");
}

}  // namespace yardpass
