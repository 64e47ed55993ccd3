#include "report/edge_picture.h"

#include <algorithm>
#include <array>

#include <fmt/format.h>

#include "report/labelling.h"
#include "report/part_view.h"
#include "report/plot.h"
#include "yardpass/report/report.h"

namespace yardpass {

namespace {

using namespace detail;

// Okabe and Ito, "Color Universal Design", 2008; without the yellow, which is not seen on grey.
constexpr std::array<unsigned, 6> kColours{0xd55e00, 0x0072b2, 0x009e73, 0xcc79a7, 0xe69f00, 0x56b4e9};

/// The point half-way along a curve.
Vec3 middle_of(const Curve& curve) {
  double left = length(curve) / 2;
  for (std::size_t i = 0; i + 1 < curve.points.size(); ++i) {
    const double piece = (curve.points[i + 1] - curve.points[i]).norm();
    if (piece >= left && piece > 0)
      return curve.points[i] + (curve.points[i + 1] - curve.points[i]) * (left / piece);
    left -= piece;
  }
  return curve.points.back();
}

/// The pixels of a curve that are seen in a view.
std::vector<std::uint8_t> seen_pixels(const PartView& view, const Curve& curve) {
  std::vector<std::uint8_t> marks(
      static_cast<std::size_t>(view.width()) * static_cast<std::size_t>(view.height()), 0);
  const std::size_t n = curve.points.size();
  for (std::size_t i = 0; i + 1 < n + (curve.closed ? 1 : 0); ++i)
    view.mark_line(curve.points[i], curve.points[(i + 1) % n], marks);
  return marks;
}

/// The seen pixel that is nearest to a point of the page; nothing if none is seen.
std::optional<Vec2> nearest_seen(const PartView& view, const std::vector<std::uint8_t>& marks,
                                 const Vec2& wanted) {
  std::optional<Vec2> best;
  for (int j = 0; j < view.height(); ++j)
    for (int i = 0; i < view.width(); ++i) {
      if (!marks[view.index(i, j)]) continue;
      const Vec2 at(view.frame().left + i + 0.5, view.frame().top + j + 0.5);
      if (!best || (at - wanted).norm() < (*best - wanted).norm()) best = at;
    }
  return best;
}

void draw_table(Canvas& canvas, const std::vector<Curve>& edges, std::size_t not_labelled) {
  double y = 96;
  canvas.text({kWidePanel, y}, "pieces, longest first", 13, kInk, Canvas::Align::left, true);
  y += 14;
  constexpr std::size_t most = 25;
  for (std::size_t i = 0; i < std::min(most, edges.size()); ++i)
    y = draw_swatch(canvas, kWidePanel, y, hex(kColours[i % kColours.size()]),
                    fmt::format("{}  {}{}", i + 1, canvas.telling().with_unit(length(edges[i])),
                                edges[i].closed ? ", closed" : ""));
  if (edges.size() > most)
    canvas.text({kWidePanel, y + 12}, fmt::format("and {} more in part.json", edges.size() - most), 12,
                kFaint);
  if (not_labelled > 0)
    canvas.text({kFromAbove.left, 775},
                fmt::format("{} of them hidden in both views, or without room for a number", not_labelled),
                12, kFaint);
}

}  // namespace

void detail::draw_sharp_edges(const Inspection& inspection, const std::filesystem::path& file) {
  const std::vector<Curve>& edges = inspection.edges;
  const Mesh& mesh = inspection.setup.part->mesh();
  Canvas canvas(kWidth, kHeight, Telling(inspection.setup.job.units));
  draw_title(canvas, inspection.title + ": sharp edges",
             fmt::format("{} pieces, cut at branches and at corners of more than 30\u00b0", edges.size()));
  const std::array<PartView, 2> views{PartView(mesh, kFromAbove, 0, 90), PartView(mesh, kFromCorner, 30, 35)};
  constexpr std::size_t most_labels = 60;
  LabelPlaces labels;
  labels.keep_free(draw_axes(canvas, views[0].plan()));
  const std::array<Frame, 2> room{{{60, 60, 560, 670}, {630, 60, 355, 670}}};
  std::vector<std::uint8_t> labelled(edges.size(), 0);
  for (std::size_t v = 0; v < 2; ++v) {
    const PartView& view = views[v];
    std::vector<std::int32_t> owner(
        static_cast<std::size_t>(view.width()) * static_cast<std::size_t>(view.height()), -1);
    std::vector<Anchor> anchors(edges.size());
    for (std::size_t e = edges.size(); e-- > 0;) {  // the longest on top
      const std::vector<std::uint8_t> marks = seen_pixels(view, edges[e]);
      for (std::size_t k = 0; k < marks.size(); ++k)
        if (marks[k]) owner[k] = static_cast<std::int32_t>(e);
      if (e >= most_labels) continue;
      if (const auto at = nearest_seen(view, marks, view.to_page(middle_of(edges[e])))) anchors[e] = {*at, 0};
    }
    view.paint(canvas, [&](int i, int j) {
      for (const auto& [di, dj] : {std::pair(0, 0), std::pair(1, 0), std::pair(0, 1)})
        if (i + di < view.width() && j + dj < view.height()) {
          const std::int32_t e = owner[view.index(i + di, j + dj)];
          if (e >= 0) return hex(kColours[static_cast<std::size_t>(e) % kColours.size()]);
        }
      const double light = 0.55 + 0.4 * view.light(view.triangle(i, j));
      return Colour{light, light, light};
    });
    for (std::size_t e = 0; e < std::min(edges.size(), most_labels); ++e) {
      if (labelled[e] || anchors[e].room < 0) continue;
      const std::string words = std::to_string(e + 1);
      const auto place = labels.beside(anchors[e], canvas.text_width(words, 12) + 6, room[v]);
      if (!place) continue;
      labelled[e] = 1;
      draw_callout(canvas, anchors[e].at, *place, words, hex(kColours[e % kColours.size()]));
    }
  }
  draw_table(canvas, edges, static_cast<std::size_t>(std::count(labelled.begin(), labelled.end(), 0)));
  canvas.save(file);
}

void draw_loop_trouble(const LoopError& error, const std::filesystem::path& file) {
  Canvas canvas(kWidth, kHeight);
  Box2 box;
  for (const Curve& piece : error.pieces)
    for (const Vec3& p : piece.points) box.extend(plan(p));
  const double margin = 0.05 * box.diagonal().norm() + 1;
  box = Box2(box.min().array() - margin, box.max().array() + margin);
  draw_title(canvas, "Curves that do not go together",
             "seen from above; each curve with its start as a dot; circles: what is wrong");
  const PlanView view(box, kPlot);
  draw_axes(canvas, view);
  double y = 96;
  for (std::size_t i = 0; i < error.pieces.size(); ++i) {
    const Curve& piece = error.pieces[i];
    const Colour colour = hex(kColours[i % kColours.size()]);
    canvas.move_to(view.to_page(plan(piece.points.front())));
    for (const Vec3& p : piece.points) canvas.line_to(view.to_page(plan(p)));
    if (piece.closed) canvas.line_to(view.to_page(plan(piece.points.front())));
    canvas.stroke(colour, 2.5);
    canvas.circle(view.to_page(plan(piece.points.front())), 3, colour, 5);
    const std::string name = piece.name.empty() ? fmt::format("piece {}", i + 1) : piece.name;
    canvas.text(view.to_page(plan(middle_of(piece))) + Vec2(8, -8), name, 13, kInk);
    y = draw_swatch(canvas, kPanel, y, colour,
                    fmt::format("{}, {}", name, canvas.telling().with_unit(length(piece))));
  }
  y += 12;
  for (std::size_t i = 0; i < error.places.size(); ++i) {
    const Vec3& p = error.places[i];
    canvas.circle(view.to_page(plan(p)), 11, kInk, 2);
    canvas.text(view.to_page(plan(p)) + Vec2(14, 14), fmt::format("{}", i + 1), 13, kInk, Canvas::Align::left,
                true);
    canvas.text({kPanel, y += 20}, fmt::format("{}: X {:.3f} Y {:.3f} Z {:.3f}", i + 1, p.x(), p.y(), p.z()),
                12, kInk);
  }
  canvas.save(file);
}

}  // namespace yardpass
