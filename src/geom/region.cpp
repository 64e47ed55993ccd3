#include "yardpass/geom/region.h"

#include <algorithm>
#include <cmath>
#include <polyclipping/clipper.hpp>

namespace yardpass {

namespace {

constexpr double kScale = 1.0 / kRegionStep;

ClipperLib::Path to_path(const Polyline2& line) {
  ClipperLib::Path path;
  path.reserve(line.size());
  for (const Vec2& p : line) path.emplace_back(std::llround(p.x() * kScale), std::llround(p.y() * kScale));
  return path;
}

ClipperLib::Paths to_paths(const std::vector<Polyline2>& lines) {
  ClipperLib::Paths paths;
  paths.reserve(lines.size());
  for (const Polyline2& line : lines) paths.push_back(to_path(line));
  return paths;
}

Polyline2 from_path(const ClipperLib::Path& path) {
  Polyline2 line;
  line.reserve(path.size());
  for (const auto& p : path)
    line.emplace_back(static_cast<double>(p.X) * kRegionStep, static_cast<double>(p.Y) * kRegionStep);
  return line;
}

Region from_paths(const ClipperLib::Paths& paths) {
  Region region;
  for (const auto& path : paths)
    if (path.size() >= 3) region.loops.push_back(from_path(path));
  return region;
}

/// `simple`: see wound_around(); what is used at once does not need it.
Region combine(const Region& a, const Region& b, ClipperLib::ClipType type, bool simple = true) {
  ClipperLib::Clipper clipper;
  clipper.StrictlySimple(simple);
  clipper.AddPaths(to_paths(a.loops), ClipperLib::ptSubject, true);
  clipper.AddPaths(to_paths(b.loops), ClipperLib::ptClip, true);
  ClipperLib::Paths result;
  clipper.Execute(type, result, ClipperLib::pftEvenOdd, ClipperLib::pftEvenOdd);
  return from_paths(result);
}

Region run_offset(const ClipperLib::Paths& paths, ClipperLib::EndType end, double distance_mm,
                  double arc_tolerance_mm) {
  ClipperLib::ClipperOffset worker(2.0, arc_tolerance_mm * kScale);
  worker.AddPaths(paths, ClipperLib::jtRound, end);
  ClipperLib::Paths result;
  worker.Execute(result, distance_mm * kScale);
  return from_paths(result);
}

void add_pieces(const ClipperLib::PolyNode& node, std::vector<Region>& result) {
  for (const auto* outer : node.Childs) {
    Region piece;
    piece.loops.push_back(from_path(outer->Contour));
    for (const auto* hole : outer->Childs) {
      piece.loops.push_back(from_path(hole->Contour));
      add_pieces(*hole, result);
    }
    result.push_back(std::move(piece));
  }
}

}  // namespace

Box2 Region::box() const {
  Box2 box;
  for (const auto& loop : loops)
    for (const Vec2& p : loop) box.extend(p);
  return box;
}

double signed_area(const Polyline2& loop) {
  double twice = 0;
  for (std::size_t i = 0; i < loop.size(); ++i) twice += cross2(loop[i], loop[(i + 1) % loop.size()]);
  return 0.5 * twice;
}

double Region::area_mm2() const {
  double sum = 0;
  for (const auto& loop : loops) sum += signed_area(loop);
  return sum;
}

bool Region::contains(const Vec2& p) const {
  bool odd = false;
  for (const auto& loop : loops) {
    for (std::size_t i = 0, j = loop.size() - 1; i < loop.size(); j = i++) {
      const Vec2 &a = loop[i], &b = loop[j];
      if ((a.y() > p.y()) == (b.y() > p.y())) continue;
      if (p.x() < a.x() + (p.y() - a.y()) / (b.y() - a.y()) * (b.x() - a.x())) odd = !odd;
    }
  }
  return odd;
}

Region rectangle(const Box2& box) {
  return {{{box.min(), {box.max().x(), box.min().y()}, box.max(), {box.min().x(), box.max().y()}}}};
}

Region unite(const Region& a, const Region& b) { return combine(a, b, ClipperLib::ctUnion); }
Region intersect(const Region& a, const Region& b) { return combine(a, b, ClipperLib::ctIntersection); }
Region subtract(const Region& a, const Region& b) { return combine(a, b, ClipperLib::ctDifference); }

Region wound_around(const std::vector<Polyline2>& loops, bool simple) {
  ClipperLib::Clipper clipper;
  clipper.StrictlySimple(simple);
  clipper.AddPaths(to_paths(loops), ClipperLib::ptSubject, true);
  ClipperLib::Paths result;
  clipper.Execute(ClipperLib::ctUnion, result, ClipperLib::pftPositive, ClipperLib::pftPositive);
  Region region = from_paths(result);
  std::erase_if(region.loops, [](const Polyline2& loop) { return std::abs(signed_area(loop)) < 1e-6; });
  return region;
}

Region offset(const Region& region, double distance_mm, double arc_tolerance_mm) {
  if (distance_mm == 0) return unite(region, {});
  // The offset wants loops that run the right way.
  const Region clean = combine(region, {}, ClipperLib::ctUnion, false);
  if (clean.empty()) return clean;
  return run_offset(to_paths(clean.loops), ClipperLib::etClosedPolygon, distance_mm, arc_tolerance_mm);
}

Region around(const std::vector<Polyline2>& lines, bool closed, double distance_mm, double arc_tolerance_mm) {
  return run_offset(to_paths(lines), closed ? ClipperLib::etClosedLine : ClipperLib::etOpenRound, distance_mm,
                    arc_tolerance_mm);
}

std::vector<Interval> inside(const Region& region, const Vec2& a, const Vec2& b) {
  const Vec2 along = b - a;
  std::vector<double> cuts{0.0, 1.0};
  for (const auto& loop : region.loops) {
    for (std::size_t i = 0, j = loop.size() - 1; i < loop.size(); j = i++) {
      // Sides by sign, the zero counted to one side, so that a corner on the line is met once or twice, not
      // "about once".
      const double si = cross2(along, loop[i] - a), sj = cross2(along, loop[j] - a);
      if ((si > 0) == (sj > 0)) continue;
      const Vec2 p = loop[j] + (loop[i] - loop[j]) * (sj / (sj - si));
      const double t = (p - a).dot(along) / along.squaredNorm();
      if (t > 0 && t < 1) cuts.push_back(t);
    }
  }
  std::sort(cuts.begin(), cuts.end());
  std::vector<Interval> result;
  for (std::size_t i = 1; i < cuts.size(); ++i) {
    if (!region.contains(a + along * (0.5 * (cuts[i - 1] + cuts[i])))) continue;
    if (!result.empty() && result.back().to == cuts[i - 1])
      result.back().to = cuts[i];
    else
      result.push_back({cuts[i - 1], cuts[i]});
  }
  return result;
}

std::vector<Region> pieces(const Region& region) {
  ClipperLib::Clipper clipper;
  clipper.AddPaths(to_paths(region.loops), ClipperLib::ptSubject, true);
  ClipperLib::PolyTree tree;
  clipper.Execute(ClipperLib::ctUnion, tree, ClipperLib::pftEvenOdd, ClipperLib::pftEvenOdd);
  std::vector<Region> result;
  add_pieces(tree, result);
  return result;
}

}  // namespace yardpass
