#include "report/roles_picture.h"

#include <algorithm>

#include <fmt/format.h>

#include "report/part_view.h"
#include "report/plot.h"

namespace yardpass::detail {

namespace {

struct Look {
  const char* role;
  Colour colour;
};
const Look kLooks[] = {{"first pass", hex(0xb03a5b)},
                       {"between", hex(0x8a6fc2)},
                       {"last pass", hex(0x2f6db5)},
                       {"start", hex(0x3f8f5f)},
                       {"end", hex(0xb8862d)}};

const Colour& colour_of(const std::string& role) {
  for (const Look& look : kLooks)
    if (role == look.role) return look.colour;
  return kInk;
}

/// The place and direction at a share of a line.
std::pair<Vec2, Vec2> along(const Polyline2& line, double share) {
  double left = share * length(std::span<const Vec2>(line));
  for (std::size_t i = 1; i < line.size(); ++i) {
    const Vec2 way = line[i] - line[i - 1];
    if (left <= way.norm() || i + 1 == line.size()) return {line[i - 1] + way.normalized() * left, way};
    left -= way.norm();
  }
  return {line.front(), Vec2(1, 0)};
}

constexpr std::size_t kMany = 24, kListed = 9;

/// In the order of cutting, each where its curve begins; where they are crowded only every so often.
void draw_numbers(Canvas& canvas, const std::vector<CurveRole>& roles, const PlanView& view) {
  constexpr double kApart = 15;
  std::vector<Vec2> written;
  for (const CurveRole& role : roles) {
    if (role.number == 0) continue;
    const Vec2 at = view.to_page(role.line.front()) + Vec2(5, -5);
    const bool crowded = std::any_of(written.begin(), written.end(),
                                     [&](const Vec2& other) { return (other - at).norm() < kApart; });
    if (crowded) continue;
    written.push_back(at);
    canvas.circle(view.to_page(role.line.front()), 2.5, kInk, 1);
    canvas.text(at, std::to_string(role.number), 11, kInk);
  }
}

}  // namespace

void draw_roles(const Inspection& inspection, const OperationCurves& curves,
                const std::filesystem::path& file) {
  const Telling telling(inspection.setup.job.units);
  Canvas canvas(kWidth, kHeight, telling);
  draw_title(canvas, fmt::format("{}. {}", curves.operation, curves.name),
             "the curves that it runs along, seen from above; arrows: the way of the passes; ring: where the "
             "first begins");
  const PartView above(inspection.setup.part->mesh(), kPlot, 0, 90);
  above.paint(canvas, [&](int i, int j) {
    const double light = 0.55 + 0.4 * above.light(above.triangle(i, j));
    return Colour{light, light, light};
  });
  const PlanView& view = above.plan();
  canvas.clip(view.frame());
  const bool many = curves.roles.size() > kMany;
  for (const CurveRole& role : curves.roles) {
    Polyline2 line = role.line;
    if (role.closed) line.push_back(line.front());
    canvas.move_to(view.to_page(line.front()));
    for (const Vec2& p : line) canvas.line_to(view.to_page(p));
    canvas.stroke(colour_of(role.role),
                  many        ? 1.5
                  : role.runs ? 4
                              : 2.5,
                  role.runs ? Canvas::Line::solid : Canvas::Line::dashed);
    if (!role.runs) continue;
    for (const double share : many ? std::vector{0.5} : std::vector{0.3, 0.7}) {
      const auto [at, way] = along(line, share);
      canvas.arrow(view.to_page(at), Vec2(way.x(), -way.y()), many ? 7 : 16, colour_of(role.role));
    }
  }
  draw_numbers(canvas, curves.roles, view);
  const CurveRole& first = curves.roles.front();
  canvas.circle(view.to_page(first.line.front()), 9, kInk, 2.5);
  canvas.unclip();
  draw_axes(canvas, view);
  double y = 90;
  for (std::size_t i = 0; i < curves.roles.size(); ++i) {
    const CurveRole& role = curves.roles[i];
    if (i == kListed && curves.roles.size() > kListed + 1) {
      canvas.text({kPanel, y + 12}, fmt::format("and {} more", curves.roles.size() - kListed), 13, kFaint);
      break;
    }
    const std::string number = role.number > 0 ? fmt::format("{}: ", role.number) : "";
    y = draw_swatch(canvas, kPanel, y, colour_of(role.role),
                    fmt::format("{}{}, {}", number, role.role, telling.with_unit(length(role))));
    y += 10;
    canvas.text({kPanel + 34, y}, "from " + telling.place(role.line.front()), 12, kFaint);
    canvas.text({kPanel + 34, y + 17}, role.closed ? "closed" : "to " + telling.place(role.line.back()), 12,
                kFaint);
    y += 36;
  }
  canvas.save(file);
}

}  // namespace yardpass::detail
