#include "report/region_picture.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <deque>
#include <numbers>
#include <set>

#include <fmt/format.h>

#include "report/part_view.h"
#include "report/plot.h"

namespace yardpass::detail {

namespace {

constexpr double kTextSize = 12;
constexpr std::size_t kMostLabels = 150;

// Okabe and Ito, "Color Universal Design", 2008, made lighter so that numbers on them can be read.
constexpr std::array<unsigned, 8> kPalette{0xf5c163, 0x9fd3f3, 0x6cc7a9, 0xf6ee8f,
                                           0x7fb2dc, 0xe9a06b, 0xe3b4d0, 0xd0d4da};

/// A palette entry for each region, greedily from the one with the most neighbours: the least used colour
/// that no neighbour has.
std::vector<std::size_t> colours_of(const RegionMap& map) {
  const std::size_t count = map.regions.size();
  std::vector<std::size_t> order(count), colour(count, kPalette.size());
  for (std::size_t i = 0; i < count; ++i) order[i] = i;
  std::stable_sort(order.begin(), order.end(), [&](std::size_t a, std::size_t b) {
    return map.regions[a].neighbours.size() > map.regions[b].neighbours.size();
  });
  std::array<double, kPalette.size()> used{};  // area
  for (const std::size_t i : order) {
    std::array<int, kPalette.size()> around{};
    const auto count_at = [&](std::int32_t number, int weight) {
      if (const std::size_t c = colour[static_cast<std::size_t>(number - 1)]; c < kPalette.size())
        around[c] += weight;
    };
    for (const auto other : map.regions[i].neighbours) {
      count_at(other, 1000);
      if (map[other].neighbours.size() < 40)
        for (const auto next : map[other].neighbours) count_at(next, 1);
    }
    std::size_t best = 0;
    for (std::size_t c = 1; c < kPalette.size(); ++c)
      if (std::pair(around[c], used[c]) < std::pair(around[best], used[best])) best = c;
    colour[i] = best;
    used[best] += map.regions[i].area_mm2;
  }
  return colour;
}

struct Anchor {
  Vec2 at{0, 0};     // on the page
  double room = -1;  // pixels to the region's border
};

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

/// Places numbers so that none lies on another.
class Labels {
 public:
  explicit Labels(Canvas& canvas) : canvas_(canvas) {}

  /// Inside the region if it fits there.
  bool inside(const Anchor& anchor, const std::string& words) {
    const Frame frame = frame_at(anchor.at, words);
    if (anchor.room < 0.5 * std::hypot(frame.width, frame.height) - 1 || !is_free(frame)) return false;
    taken_.push_back(frame);
    write(anchor.at, words);
    return true;
  }

  /// Beside it, at the end of a line; false if there is no room near it.
  bool beside(const Anchor& anchor, const std::string& words, const Frame& within) {
    for (double distance = 34; distance < 180; distance += 12)
      for (int k = 0; k < 16; ++k) {
        const double angle = std::numbers::pi / 8 * k + 0.3;
        const Vec2 at = anchor.at + distance * Vec2(std::cos(angle), std::sin(angle));
        const Frame frame = frame_at(at, words);
        const bool fits = frame.left > within.left && frame.top > within.top &&
                          frame.left + frame.width < within.left + within.width &&
                          frame.top + frame.height < within.top + within.height;
        if (!fits || !is_free(frame) || crosses_a_line(anchor.at, at)) continue;
        taken_.push_back(frame);
        lines_.emplace_back(anchor.at, at);
        canvas_.move_to(anchor.at), canvas_.line_to(at), canvas_.stroke(kInk, 1);
        canvas_.circle(anchor.at, 1.5, kInk, 3);
        canvas_.fill(frame, hex(0xffffff));
        canvas_.outline(frame, kInk, 0.8);
        write(at, words);
        return true;
      }
    return false;
  }

 private:
  [[nodiscard]] Frame frame_at(const Vec2& at, const std::string& words) {
    const double width = canvas_.text_width(words, kTextSize) + 6;
    return {at.x() - width / 2, at.y() - 8, width, 16};
  }
  [[nodiscard]] bool is_free(const Frame& f) const {
    return std::none_of(taken_.begin(), taken_.end(), [&](const Frame& o) {
      return f.left < o.left + o.width + 2 && o.left < f.left + f.width + 2 && f.top < o.top + o.height + 2 &&
             o.top < f.top + f.height + 2;
    });
  }
  [[nodiscard]] bool crosses_a_line(const Vec2& a, const Vec2& b) const {
    return std::any_of(lines_.begin(), lines_.end(), [&](const auto& line) {
      const auto side = [](const Vec2& p, const Vec2& q, const Vec2& r) { return cross2(q - p, r - p) > 0; };
      return side(a, b, line.first) != side(a, b, line.second) &&
             side(line.first, line.second, a) != side(line.first, line.second, b);
    });
  }
  void write(const Vec2& at, const std::string& words) {
    canvas_.text(at + Vec2(0, 4.5), words, kTextSize, kInk, Canvas::Align::middle);
  }
  Canvas& canvas_;
  std::vector<Frame> taken_;
  std::vector<std::pair<Vec2, Vec2>> lines_;
};

std::string row_words(const RegionMap& map, std::size_t i) {
  const SurfaceRegion& region = map.regions[i];
  std::string words = fmt::format("{}  {}", i + 1, name_of(region.kind));
  if (region.kind == RegionKind::level)
    words += fmt::format(" Z {:.2f}", region.at.z());
  else if (region.bend_radius_mm > 0)
    words += fmt::format(" R {:.1f}", region.bend_radius_mm);
  else
    words += std::lround(region.least_slope_deg) == std::lround(region.greatest_slope_deg)
                 ? fmt::format(" {:.0f}\u00b0", region.mean_slope_deg)
                 : fmt::format(" {:.0f} to {:.0f}\u00b0", region.least_slope_deg, region.greatest_slope_deg);
  return words + fmt::format(", {:.{}f} mm2", region.area_mm2, region.area_mm2 < 100 ? 1 : 0);
}

void draw_table(Canvas& canvas, const RegionMap& map, const std::vector<std::size_t>& colour) {
  double y = 96;
  canvas.text({kWidePanel, y}, "regions, largest first", 13, kInk, Canvas::Align::left, true);
  y += 14;
  constexpr std::size_t most = 25;
  for (std::size_t i = 0; i < std::min(most, map.regions.size()); ++i)
    y = draw_swatch(canvas, kWidePanel, y, hex(kPalette[colour[i]]), row_words(map, i));
  if (map.regions.size() > most)
    canvas.text({kWidePanel, y + 12}, fmt::format("and {} more in part.json", map.regions.size() - most), 12,
                kFaint);
}

}  // namespace

void draw_regions(const Inspection& inspection, const std::filesystem::path& file) {
  const RegionMap& map = inspection.world.region_map;
  const Mesh& mesh = inspection.world.part->mesh();
  Canvas canvas(kWidth, kHeight);
  draw_title(
      canvas, inspection.title + ": regions",
      fmt::format("{} regions; creases of more than {:g}\u00b0{}", map.regions.size(),
                  inspection.world.job.splitting.crease_deg,
                  map.bend_radius_mm > 0
                      ? fmt::format("; bends tighter than {:.3g} mm apart from the rest", map.bend_radius_mm)
                      : ""));
  const std::vector<std::size_t> colour = colours_of(map);
  const PartView above(mesh, kFromAbove, 0, 90), corner(mesh, kFromCorner, 30, 35);
  std::vector<std::uint8_t> labelled(map.regions.size(), 0), seen(map.regions.size(), 0);
  Labels labels(canvas);
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
  draw_axes(canvas, above.plan());
  // Numbers inside their regions first, in both views; then lines to those that have none yet.
  for (const auto& view : anchors)
    for (std::size_t i = 0; i < map.regions.size(); ++i) {
      seen[i] |= view[i].room >= 0;
      if (view[i].room >= 0 && labels.inside(view[i], std::to_string(i + 1))) labelled[i] = 1;
    }
  std::size_t drawn = 0, left_out = 0;
  const std::array<Frame, 2> room{{{60, 60, 560, 670}, {630, 60, 355, 670}}};
  for (std::size_t i = 0; i < map.regions.size(); ++i) {
    if (labelled[i] || !seen[i]) continue;
    const std::size_t v = anchors[0][i].room >= anchors[1][i].room ? 0 : 1;
    if (++drawn > kMostLabels || !labels.beside(anchors[v][i], std::to_string(i + 1), room[v])) ++left_out;
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
