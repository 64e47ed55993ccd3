#include "report/region_picture.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <deque>
#include <numbers>
#include <set>

#include <fmt/format.h>

#include "report/labelling.h"
#include "report/part_view.h"
#include "report/plot.h"

namespace yardpass::detail {

namespace {

constexpr double kTextSize = 12;
constexpr std::size_t kMostLabels = 150;

// Okabe and Ito, "Color Universal Design", 2008, made lighter so that numbers on them can be read.
constexpr std::array<unsigned, 8> kPalette{0xf5c163, 0x9fd3f3, 0x6cc7a9, 0xf6ee8f,
                                           0x7fb2dc, 0xe9a06b, 0xe3b4d0, 0xd0d4da};

/// Region numbers of the pixels of a view, and where in each region there is most room.
class RegionPixels {
 public:
  RegionPixels(const PartView& view, const RegionMap& map) : view_(view), number_(pixels(), 0) {
    for (int j = 0; j < view.height(); ++j)
      for (int i = 0; i < view.width(); ++i)
        if (view.triangle(i, j) >= 0)
          number_[view.index(i, j)] = map.of_triangle[static_cast<std::size_t>(view.triangle(i, j))];
  }
  [[nodiscard]] bool is_border(int i, int j) const {
    const auto here = number_[view_.index(i, j)];
    return here != 0 && (differs(i + 1, j, here) || differs(i, j + 1, here));
  }
  [[nodiscard]] std::vector<Anchor> anchors(std::size_t regions) const {
    const std::vector<float> room = room_to_border();
    std::vector<Anchor> result(regions);
    for (int j = 0; j < view_.height(); ++j)
      for (int i = 0; i < view_.width(); ++i) {
        const std::int32_t number = number_[view_.index(i, j)];
        if (number == 0) continue;
        Anchor& best = result[static_cast<std::size_t>(number - 1)];
        const double here = static_cast<double>(room[view_.index(i, j)]);
        if (here > best.room) best = {Vec2(view_.frame().left + i + 0.5, view_.frame().top + j + 0.5), here};
      }
    return result;
  }

 private:
  [[nodiscard]] std::size_t pixels() const {
    return static_cast<std::size_t>(view_.width()) * static_cast<std::size_t>(view_.height());
  }
  [[nodiscard]] bool differs(int i, int j, std::int32_t here) const {
    return i < 0 || j < 0 || i >= view_.width() || j >= view_.height() || number_[view_.index(i, j)] != here;
  }
  /// Two sweeps. Source: G. Borgefors, "Distance transformations in digital images", 1986.
  [[nodiscard]] std::vector<float> room_to_border() const {
    std::vector<float> room(pixels(), 1e9f);
    const int w = view_.width(), h = view_.height();
    const auto take = [&](int i, int j, int di, int dj, float step) {
      const bool border = differs(i + di, j + dj, number_[view_.index(i, j)]);
      const float other = border ? 0.5f : room[view_.index(i + di, j + dj)] + step;
      room[view_.index(i, j)] = std::min(room[view_.index(i, j)], other);
    };
    for (int j = 0; j < h; ++j)
      for (int i = 0; i < w; ++i)
        take(i, j, -1, 0, 1), take(i, j, 0, -1, 1), take(i, j, -1, -1, 1.41f), take(i, j, 1, -1, 1.41f);
    for (int j = h; j-- > 0;)
      for (int i = w; i-- > 0;)
        take(i, j, 1, 0, 1), take(i, j, 0, 1, 1), take(i, j, 1, 1, 1.41f), take(i, j, -1, 1, 1.41f);
    return room;
  }
  const PartView& view_;
  std::vector<std::int32_t> number_;
};

void write(Canvas& canvas, const Vec2& at, const std::string& words) {
  canvas.text(at + Vec2(0, 4.5), words, kTextSize, kInk, Canvas::Align::middle);
}

std::string row_words(const Telling& telling, const RegionMap& map, std::size_t i) {
  const SurfaceRegion& region = map.regions[i];
  std::string words = fmt::format("{}  {}", i + 1, name_of(region.kind));
  if (region.kind == RegionKind::level)
    words += " Z " + telling.number(region.at.z());
  else if (region.bend_radius_mm > 0)
    words += " R " + telling.number(region.bend_radius_mm);
  else
    words += std::lround(region.least_slope_deg) == std::lround(region.greatest_slope_deg)
                 ? fmt::format(" {:.0f}\u00b0", region.mean_slope_deg)
                 : fmt::format(" {:.0f} to {:.0f}\u00b0", region.least_slope_deg, region.greatest_slope_deg);
  return words + ", " + telling.area_words(region.area_mm2);
}

void draw_table(Canvas& canvas, const RegionMap& map, const std::vector<std::size_t>& colour) {
  double y = 96;
  canvas.text({kWidePanel, y}, "regions, largest first", 13, kInk, Canvas::Align::left, true);
  y += 14;
  constexpr std::size_t most = 25;
  for (std::size_t i = 0; i < std::min(most, map.regions.size()); ++i)
    y = draw_swatch(canvas, kWidePanel, y, hex(kPalette[colour[i]]), row_words(canvas.telling(), map, i));
  if (map.regions.size() > most)
    canvas.text({kWidePanel, y + 12}, fmt::format("and {} more in part.json", map.regions.size() - most), 12,
                kFaint);
}

}  // namespace

void draw_regions(const Inspection& inspection, const std::filesystem::path& file) {
  const RegionMap& map = inspection.setup.region_map;
  const Mesh& mesh = inspection.setup.part->mesh();
  Canvas canvas(kWidth, kHeight, Telling(inspection.setup.job.units));
  draw_title(canvas, inspection.title + ": regions",
             fmt::format("{} regions; creases of more than {:g}\u00b0{}", map.regions.size(),
                         inspection.setup.job.splitting.crease_deg,
                         map.bend_radius_mm > 0
                             ? "; bends tighter than " + canvas.telling().with_unit(map.bend_radius_mm) +
                                   " apart from the rest"
                             : ""));
  const std::vector<std::size_t> colour = neighbour_colours(map, kPalette.size());
  const PartView above(mesh, kFromAbove, 0, 90), corner(mesh, kFromCorner, 30, 35);
  std::vector<std::uint8_t> labelled(map.regions.size(), 0), seen(map.regions.size(), 0);
  LabelPlaces labels;
  const auto width_of = [&](std::size_t i) {
    return canvas.text_width(std::to_string(i + 1), kTextSize) + 6;
  };
  std::vector<std::vector<Anchor>> anchors;
  for (const PartView* view : {&above, &corner}) {
    const RegionPixels pixels(*view, map);
    view->paint(canvas, [&](int i, int j) {
      if (pixels.is_border(i, j)) return kInk;
      const std::int32_t t = view->triangle(i, j);
      const Colour c =
          hex(kPalette[colour[static_cast<std::size_t>(map.of_triangle[static_cast<std::size_t>(t)] - 1)]]);
      const double light = 0.35 + 0.65 * view->light(t);
      return Colour{c.r * light, c.g * light, c.b * light};
    });
    anchors.push_back(pixels.anchors(map.regions.size()));
  }
  labels.keep_free(draw_axes(canvas, above.plan()));
  // Numbers inside their regions first, in both views; then lines to those that have none yet.
  for (const auto& view : anchors)
    for (std::size_t i = 0; i < map.regions.size(); ++i) {
      seen[i] |= view[i].room >= 0;
      if (view[i].room < 0 || !labels.inside(view[i], width_of(i))) continue;
      labelled[i] = 1;
      write(canvas, view[i].at, std::to_string(i + 1));
    }
  std::size_t drawn = 0, left_out = 0;
  const std::array<Frame, 2> room{{{60, 60, 560, 670}, {630, 60, 355, 670}}};
  for (std::size_t i = 0; i < map.regions.size(); ++i) {
    if (labelled[i] || !seen[i]) continue;
    const std::size_t v = anchors[0][i].room >= anchors[1][i].room ? 0 : 1;
    const auto place =
        ++drawn > kMostLabels ? std::nullopt : labels.beside(anchors[v][i], width_of(i), room[v]);
    if (place)
      draw_callout(canvas, anchors[v][i].at, *place, std::to_string(i + 1));
    else
      ++left_out;
  }
  std::string hidden;
  for (std::size_t i = 0; i < map.regions.size() && hidden.size() < 60; ++i)
    if (!seen[i]) hidden += (hidden.empty() ? "" : ", ") + std::to_string(i + 1);
  if (!hidden.empty())
    canvas.text({kFromAbove.left, 775}, "not to be seen in these views: " + hidden, 12, kFaint);
  if (left_out > 0)
    canvas.text({kFromCorner.left, 775}, fmt::format("{} numbers left out for want of room", left_out), 12,
                kFaint);
  draw_table(canvas, map, colour);
  canvas.save(file);
}

}  // namespace yardpass::detail
