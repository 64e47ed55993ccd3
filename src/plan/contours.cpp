#include "yardpass/plan/contours.h"

#include <algorithm>
#include <cmath>

#include "geom/bands.h"
#include "geom/parallel_for.h"
#include "plan/contour/gaps.h"
#include "plan/contour/helix_down.h"
#include "plan/contour/level_trace.h"

namespace yardpass {

namespace {

constexpr double kMostNodes = 1e6;

double spacing_for(const TipSurface& surface, const Box2& box, const ContourOptions& options) {
  require(!options.spacing_mm || *options.spacing_mm > 0, "spacing_mm", "must be above 0");
  if (options.spacing_mm) return *options.spacing_mm;
  const double coarsest = std::max(0.01, 0.6 * surface.cutter().radius());
  return std::max(coarsest, std::sqrt(box.sizes().x() * box.sizes().y() / kMostNodes));
}

}  // namespace

struct Contours::Grid {
  detail::Tube tube;
  double spacing;
  Vec2 origin;
  int columns = 0, rows = 0;         // of nodes
  std::vector<std::uint8_t> wanted;  // of cells, by their lowest node
  std::vector<HeightAt> nodes = {};
  std::vector<double> along_x = {}, along_y = {};  // greatest height on the edge from a node
  std::vector<double> blocked = {};                // a cell is blocked all over up to here

  Grid(const TipSurface& surface, const Region& area, const ContourOptions& options)
      : tube((require(options.tolerance_mm > 0, "tolerance_mm", "must be above 0"), surface),
             options.tolerance_mm),
        spacing(spacing_for(surface, area.box(), options)) {
    const Box2 box = area.box();
    // A little off round numbers: walls often run along them.
    origin = box.min() - Vec2(3.37, 3.41) * spacing;
    columns = static_cast<int>(std::ceil(box.sizes().x() / spacing)) + 8;
    rows = static_cast<int>(std::ceil(box.sizes().y() / spacing)) + 8;
    wanted = cells_near(area);
  }

  [[nodiscard]] std::size_t index(int i, int j) const {
    return static_cast<std::size_t>(j) * static_cast<std::size_t>(columns) + static_cast<std::size_t>(i);
  }
  [[nodiscard]] Vec2 node(int i, int j) const { return origin + spacing * Vec2(i, j); }
  [[nodiscard]] bool is_cell(int i, int j) const {
    return i >= 0 && j >= 0 && i + 1 < columns && j + 1 < rows;
  }
  /// Cells within two of an area.
  [[nodiscard]] std::vector<std::uint8_t> cells_near(const Region& area) const {
    const detail::Bands near(offset(area, 2 * spacing, 0.1 * spacing));
    std::vector<std::uint8_t> marks(static_cast<std::size_t>(columns) * static_cast<std::size_t>(rows), 0);
    detail::parallel_for(rows - 1, [&](int j) {
      for (int i = 0; i + 1 < columns; ++i)
        marks[index(i, j)] = near.contains(node(i, j) + Vec2(0.5, 0.5) * spacing);
    });
    return marks;
  }
  [[nodiscard]] bool marked(const std::vector<std::uint8_t>& marks, int i, int j) const {
    return is_cell(i, j) && marks[index(i, j)];
  }
  [[nodiscard]] bool marked(const std::vector<std::uint8_t>& marks, const Vec2& p) const {
    const Vec2 at = (p - origin) / spacing;
    return marked(marks, static_cast<int>(std::floor(at.x())), static_cast<int>(std::floor(at.y())));
  }
  [[nodiscard]] detail::Corners4 cell(int i, int j) const {
    const auto corner = [&](int x, int y) { return detail::Corner{node(x, y), nodes[index(x, y)]}; };
    return {corner(i, j), corner(i + 1, j), corner(i + 1, j + 1), corner(i, j + 1)};
  }

  [[nodiscard]] double longest_step() const { return std::min(4.0, std::max(spacing, 0.5)); }
  void measure(const Progress& progress);
  [[nodiscard]] double edge_top(int i, int j, int i2, int j2) const;
  [[nodiscard]] std::vector<detail::Seed> seeds(double z, const std::vector<std::uint8_t>& marks) const;
  [[nodiscard]] LevelContours at(double z, const std::vector<std::uint8_t>& marks) const;
};

double Contours::Grid::edge_top(int i, int j, int i2, int j2) const {
  const HeightAt &a = nodes[index(i, j)], &b = nodes[index(i2, j2)];
  double top = std::max(a.z, b.z);
  // Below everything, if there is nothing at either end.
  if (top == kNothingBelow) top = tube.middle.part().box().min().z() - 10 * spacing - 1e3;
  const Clearance room =
      tube.middle.clearance(with_z(node(i, j), top), with_z(node(i2, j2), top), 0.0, a.triangle);
  return room.room < 0 ? top - room.room : std::max(a.z, b.z);
}

void Contours::Grid::measure(const Progress& progress) {
  std::vector<Vec2> places;
  std::vector<std::size_t> numbers;
  for (int j = 0; j < rows; ++j)
    for (int i = 0; i < columns; ++i)
      if (marked(wanted, i, j) || marked(wanted, i - 1, j) || marked(wanted, i, j - 1) ||
          marked(wanted, i - 1, j - 1))
        places.push_back(node(i, j)), numbers.push_back(index(i, j));
  const std::vector<HeightAt> found = heights_with_triangles(tube.middle, places, part_of(progress, 0, 0.5));
  nodes.resize(static_cast<std::size_t>(columns) * static_cast<std::size_t>(rows));
  for (std::size_t k = 0; k < numbers.size(); ++k) nodes[numbers[k]] = found[k];
  along_x.assign(nodes.size(), kNothingBelow);
  along_y = along_x, blocked = along_x;
  detail::parallel_for(rows, part_of(progress, 0.5, 1), [&](int j) {
    for (int i = 0; i < columns; ++i) {
      if (marked(wanted, i, j) || marked(wanted, i, j - 1)) along_x[index(i, j)] = edge_top(i, j, i + 1, j);
      if (marked(wanted, i, j) || marked(wanted, i - 1, j)) along_y[index(i, j)] = edge_top(i, j, i, j + 1);
      if (marked(wanted, i, j)) blocked[index(i, j)] = detail::blocked_up_to(tube.middle, cell(i, j));
    }
  });
}

std::vector<detail::Seed> Contours::Grid::seeds(double z, const std::vector<std::uint8_t>& marks) const {
  std::vector<detail::Seed> result;
  const auto edge = [&](int i, int j, int i2, int j2, double top) {
    const bool free = detail::is_free(nodes[index(i, j)], z),
               free2 = detail::is_free(nodes[index(i2, j2)], z);
    const Vec2 a = node(i, j), b = node(i2, j2);
    if (free != free2)
      result.push_back(free ? detail::Seed{a, b} : detail::Seed{b, a});
    else if (free && !detail::is_free({top}, z))  // an island between them: it is met from both sides
      result.push_back({a, b}), result.push_back({b, a});
  };
  for (int j = 0; j < rows; ++j)
    for (int i = 0; i < columns; ++i) {
      if (marked(marks, i, j) || marked(marks, i, j - 1)) edge(i, j, i + 1, j, along_x[index(i, j)]);
      if (marked(marks, i, j) || marked(marks, i - 1, j)) edge(i, j, i, j + 1, along_y[index(i, j)]);
    }
  return result;
}

LevelContours Contours::Grid::at(double z, const std::vector<std::uint8_t>& marks) const {
  const double radius = std::max(0.5, tube.low.cutter().radius());
  detail::LevelTrace trace(tube, z, longest_step(), [&](const Vec2& p) { return marked(marks, p); });
  for (const detail::Seed& seed : seeds(z, marks)) trace.follow(seed);
  // Near a level face just above z proofs have no end.
  const auto cells = std::count(marks.begin(), marks.end(), std::uint8_t{1});
  detail::GapSearch gaps(tube.middle, z, 0.5 * tube.tolerance, std::max(0.1 * radius, 10 * tube.tolerance),
                         100'000 + 50 * cells);
  for (int j = 0; j + 1 < rows; ++j)
    for (int i = 0; i + 1 < columns; ++i)
      if (marked(marks, i, j) && detail::is_free({blocked[index(i, j)]}, z)) gaps.search(cell(i, j));
  for (const detail::Seed& seed : gaps.seeds) trace.follow(seed);
  // In the corner of two walls no triangle blocks all of a cell, however small: that is no gap, but the end
  // of the room that the contour goes round.
  std::erase_if(gaps.unproven, [&](const Vec2& p) { return trace.passes_near(p, 3 * tube.tolerance); });
  LevelContours result = trace.take();
  result.unproven_gaps = std::move(gaps.unproven);
  return result;
}

Contours::Contours(const TipSurface& surface, const Region& area, const ContourOptions& options,
                   const Progress& progress) {
  if (area.empty()) return;
  auto grid = std::make_unique<Grid>(surface, area, options);
  grid->measure(progress);
  grid_ = std::move(grid);
}
Contours::~Contours() = default;
Contours::Contours(Contours&&) noexcept = default;
Contours& Contours::operator=(Contours&&) noexcept = default;

LevelContours Contours::at(double z) const { return grid_ ? grid_->at(z, grid_->wanted) : LevelContours{z}; }

LevelContours Contours::at(double z, const Region& only) const {
  if (!grid_ || only.empty()) return LevelContours{z};
  std::vector<std::uint8_t> marks = grid_->cells_near(only);
  for (std::size_t i = 0; i < marks.size(); ++i) marks[i] = marks[i] && grid_->wanted[i];
  return grid_->at(z, marks);
}

std::optional<Polyline3> Contours::helix(std::span<const Lap> laps, bool material_left) const {
  require(laps.size() >= 2, "laps", "must be at least two");
  if (!grid_) return std::nullopt;
  return detail::helix_down(grid_->tube, grid_->longest_step(), laps, material_left);
}

double Contours::highest() const {
  double top = kNothingBelow;
  if (!grid_) return top;
  for (const HeightAt& node : grid_->nodes) top = std::max(top, node.z);
  for (const double edge : grid_->along_x) top = std::max(top, edge);
  for (const double edge : grid_->along_y) top = std::max(top, edge);
  return top;
}

std::vector<Contour> within(const Contour& contour, const Region& area) {
  const std::size_t count = contour.points.size(), segments = count - (contour.closed ? 0 : 1);
  std::vector<Contour> pieces;
  bool whole = true;
  const auto add = [&](const Vec2& a, const Vec2& b) {
    if (!pieces.empty() && pieces.back().points.back() == a)
      pieces.back().points.push_back(b);
    else
      pieces.push_back({{a, b}, false});
  };
  for (std::size_t i = 0; i < segments; ++i) {
    const Vec2 &a = contour.points[i], &b = contour.points[(i + 1) % count];
    double at = 0;
    for (const Interval& part : inside(area, a, b)) {
      whole = whole && part.from == at;
      at = part.to;
      add(part.from == 0 ? a : Vec2(a + part.from * (b - a)), part.to == 1 ? b : Vec2(a + part.to * (b - a)));
    }
    whole = whole && at == 1;
  }
  if (whole) return {contour};
  // The start of a closed contour is no place of its own.
  if (contour.closed && pieces.size() > 1 && pieces.front().points.front() == contour.points.front() &&
      pieces.back().points.back() == contour.points.front()) {
    Polyline2& last = pieces.back().points;
    last.insert(last.end(), pieces.front().points.begin() + 1, pieces.front().points.end());
    pieces.erase(pieces.begin());
  }
  return pieces;
}

}  // namespace yardpass
