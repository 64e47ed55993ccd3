#include "yardpass/geom/depth_lines.h"

#include <algorithm>
#include <cmath>

#include "geom/plan_cells.h"
#include "yardpass/geom/error.h"

namespace yardpass {

namespace {

/// Where on the piece a-b a place is nearest to it.
double nearest_share(const Vec2& place, const Vec2& a, const Vec2& b) {
  const Vec2 way = b - a;
  const double size2 = way.squaredNorm();
  return size2 > 0 ? std::clamp((place - a).dot(way) / size2, 0.0, 1.0) : 0.0;
}

struct Ends {
  std::size_t a, b;
};
Ends ends_of(const DepthLine& line, std::size_t piece) { return {piece, (piece + 1) % line.points.size()}; }
double depth_on(const DepthLine& line, std::size_t piece, double share) {
  const auto [a, b] = ends_of(line, piece);
  return line.depth_mm[a] + share * (line.depth_mm[b] - line.depth_mm[a]);
}

}  // namespace

std::size_t DepthLine::pieces() const { return points.size() < 2 ? 0 : points.size() - (closed ? 0 : 1); }

double DepthLine::greatest_mm() const {
  return depth_mm.empty() ? 0 : *std::max_element(depth_mm.begin(), depth_mm.end());
}

DepthLines::DepthLines(std::vector<DepthLine> lines, double within_mm)
    : lines_(std::move(lines)), within_(within_mm), side_(std::max(1.0, 4 * within_mm)) {
  require(within_mm > 0, "within_mm", "must be above 0");
  const detail::PlanCells cells(side_);
  std::optional<double> depth;
  for (std::size_t i = 0; i < lines_.size(); ++i) {
    const DepthLine& line = lines_[i];
    require(line.depth_mm.size() == line.points.size(), "depth_mm", "must have one depth a point");
    for (const double here : line.depth_mm) {
      if (!depth) depth = here;
      even_ = even_ && here == *depth;
    }
    for (std::size_t piece = 0; piece < line.pieces(); ++piece) {
      const auto [a, b] = ends_of(line, piece);
      cells.along(line.points[a], line.points[b], within_, [&](std::int64_t cell) {
        std::vector<Piece>& here = cells_[cell];
        const Piece one{static_cast<std::uint32_t>(i), static_cast<std::uint32_t>(piece)};
        if (here.empty() || here.back().line != one.line || here.back().piece != one.piece)
          here.push_back(one);
      });
    }
  }
}

template <typename See>
void DepthLines::each_near(const Vec2& place, const See& see) const {
  const auto found = cells_.find(detail::PlanCells(side_).of(place));
  if (found == cells_.end()) return;
  for (const auto& [index, piece] : found->second) {
    const DepthLine& line = lines_[index];
    const auto [a, b] = ends_of(line, piece);
    const double share = nearest_share(place, line.points[a], line.points[b]);
    const double off = (line.points[a] + share * (line.points[b] - line.points[a]) - place).norm();
    if (off <= within_) see(off, depth_on(line, piece, share));
  }
}

std::optional<double> DepthLines::greatest(const Vec2& place) const {
  std::optional<double> greatest;
  each_near(place, [&](double, double depth) { greatest = greatest ? std::max(*greatest, depth) : depth; });
  return greatest;
}

std::optional<double> DepthLines::nearest_mm(const Vec2& place) const {
  std::optional<double> nearest;
  each_near(place, [&](double off, double) { nearest = nearest ? std::min(*nearest, off) : off; });
  return nearest;
}

}  // namespace yardpass
