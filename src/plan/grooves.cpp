#include "yardpass/plan/grooves.h"

#include <algorithm>
#include <boost/polygon/polygon.hpp>
#include <boost/polygon/voronoi.hpp>
#include <cmath>
#include <map>

#include "geom/bands.h"
#include "geom/more_points.h"
#include "yardpass/geom/error.h"

namespace yardpass {

namespace {

constexpr double kScale = 1e5;  // steps a millimetre
using Point = boost::polygon::point_data<int>;
using Segment = boost::polygon::segment_data<int>;
using Diagram = boost::polygon::voronoi_diagram<double>;

struct Side {
  Vec2 a, b;
};

/// What a cell of the diagram is about: a side, or one of its ends.
struct Source {
  Side side;
  bool is_end = false;
  Vec2 end{0, 0};

  [[nodiscard]] Vec2 nearest(const Vec2& p) const {
    if (is_end) return end;
    const Vec2 way = side.b - side.a;
    return side.a + std::clamp((p - side.a).dot(way) / way.squaredNorm(), 0.0, 1.0) * way;
  }
};

class MiddleFinder {
 public:
  MiddleFinder(const Region& area, const MiddleOptions& options) : options_(options), inside_(area) {
    std::vector<Segment> segments;
    for (const Polyline2& loop : area.loops) {
      std::vector<Point> points;
      for (const Vec2& p : loop) {
        const Point point(static_cast<std::int32_t>(std::lround(p.x() * kScale)),
                          static_cast<std::int32_t>(std::lround(p.y() * kScale)));
        if (points.empty() || points.back() != point) points.push_back(point);
      }
      while (points.size() > 1 && points.front() == points.back()) points.pop_back();
      for (std::size_t i = 0; points.size() > 2 && i < points.size(); ++i) {
        segments.emplace_back(points[i], points[(i + 1) % points.size()]);
        sides_.push_back({as_place(points[i]), as_place(points[(i + 1) % points.size()])});
      }
    }
    boost::polygon::construct_voronoi(segments.begin(), segments.end(), &diagram_);
  }

  std::vector<std::vector<MiddlePlace>> run() {
    for (const Diagram::edge_type& edge : diagram_.edges()) {
      if (&edge > edge.twin() || !edge.is_primary() || !edge.is_finite()) continue;
      add(edge);
    }
    return chains();
  }

 private:
  struct Branch {
    std::size_t from, to;  // vertices
    std::vector<MiddlePlace> places;
  };
  static Vec2 as_place(const Point& p) { return {p.x() / kScale, p.y() / kScale}; }
  static Vec2 as_place(const Diagram::vertex_type& v) { return {v.x() / kScale, v.y() / kScale}; }

  [[nodiscard]] Source source_of(const Diagram::cell_type& cell) const {
    Source source{sides_[cell.source_index()]};
    source.is_end = cell.contains_point();
    if (source.is_end)
      source.end = cell.source_category() == boost::polygon::SOURCE_CATEGORY_SEGMENT_START_POINT
                       ? source.side.a
                       : source.side.b;
    return source;
  }

  void add(const Diagram::edge_type& edge) {
    const Source one = source_of(*edge.cell()), other = source_of(*edge.twin()->cell());
    const Vec2 from = as_place(*edge.vertex0()), to = as_place(*edge.vertex1());
    if (!inside_.contains(0.5 * (from + to)) && !inside_.contains(from + 0.37 * (to - from))) return;
    Branch branch{number_of(edge.vertex0()), number_of(edge.vertex1()), {}};
    for (const Vec2& p : along(edge, one, other, from, to)) {
      MiddlePlace place{p, 0, one.nearest(p), other.nearest(p)};
      place.off_mm = 0.5 * ((p - place.one).norm() + (p - place.other).norm());
      branch.places.push_back(place);
    }
    if (counts(branch)) branches_.push_back(std::move(branch));
  }

  /// Straight between two sides or two ends; between a side and an end a parabola.
  [[nodiscard]] Polyline2 along(const Diagram::edge_type& edge, const Source& one, const Source& other,
                                const Vec2& from, const Vec2& to) const {
    if (!edge.is_curved()) return {from, to};
    const Source& end = one.is_end ? one : other;
    const Source& side = one.is_end ? other : one;
    const Vec2 way = (side.side.b - side.side.a).normalized(), up(-way.y(), way.x());
    const double x_end = (end.end - side.side.a).dot(way), high = (end.end - side.side.a).dot(up);
    if (std::abs(high) < 1e-9) return {from, to};
    const auto at = [&](double x) {
      const double y = ((x - x_end) * (x - x_end) + high * high) / (2 * high);
      return Vec2(side.side.a + x * way + y * up);
    };
    const double x0 = (from - side.side.a).dot(way), x1 = (to - side.side.a).dot(way);
    const double step = std::sqrt(8 * options_.tolerance_mm * std::abs(high));
    const int parts = std::clamp(static_cast<int>(std::ceil(std::abs(x1 - x0) / step)), 1, 1000);
    Polyline2 line{from};
    for (int k = 1; k < parts; ++k) line.push_back(at(x0 + (x1 - x0) * k / parts));
    line.push_back(to);
    return line;
  }

  /// Whether a circle that stays off it would leave more than a corner may.
  [[nodiscard]] bool counts(const Branch& branch) const {
    const MiddlePlace& wide = branch.places.front().off_mm > branch.places.back().off_mm
                                  ? branch.places.front()
                                  : branch.places.back();
    if (!(wide.off_mm > 1e-6)) return false;
    const Vec2 a = (wide.one - wide.at) / wide.off_mm, b = (wide.other - wide.at) / wide.off_mm;
    const double half = 0.5 * std::acos(std::clamp(a.dot(b), -1.0, 1.0));
    return wide.off_mm * (1 / std::max(std::cos(half), 1e-6) - 1) > options_.corner_mm;
  }

  std::size_t number_of(const Diagram::vertex_type* vertex) {
    return numbers_.try_emplace(vertex - diagram_.vertices().data(), numbers_.size()).first->second;
  }

  /// Branches in one go from where several meet to where several meet, or to an end.
  [[nodiscard]] std::vector<std::vector<MiddlePlace>> chains() {
    std::vector<std::vector<std::size_t>> at(numbers_.size());
    for (std::size_t i = 0; i < branches_.size(); ++i) {
      at[branches_[i].from].push_back(i);
      at[branches_[i].to].push_back(i);
    }
    std::vector<bool> used(branches_.size(), false);
    std::vector<std::vector<MiddlePlace>> lines;
    const auto walk = [&](std::size_t first, std::size_t from) {
      std::vector<MiddlePlace> line;
      std::size_t branch = first, vertex = from;
      for (;;) {
        used[branch] = true;
        std::vector<MiddlePlace> places = branches_[branch].places;
        const bool forward = branches_[branch].from == vertex;
        if (!forward) std::reverse(places.begin(), places.end());
        line.insert(line.end(), places.begin() + (line.empty() ? 0 : 1), places.end());
        vertex = forward ? branches_[branch].to : branches_[branch].from;
        if (at[vertex].size() != 2) break;
        const std::size_t next = at[vertex][0] == branch ? at[vertex][1] : at[vertex][0];
        if (used[next]) break;
        branch = next;
      }
      cut_where_too_wide(line, lines);
    };
    for (std::size_t i = 0; i < branches_.size(); ++i) {
      if (used[i]) continue;
      if (at[branches_[i].from].size() != 2)
        walk(i, branches_[i].from);
      else if (at[branches_[i].to].size() != 2)
        walk(i, branches_[i].to);
    }
    for (std::size_t i = 0; i < branches_.size(); ++i)
      if (!used[i]) walk(i, branches_[i].from);
    return without_dust(std::move(lines));
  }

  /// About the centre of a circle of chords lie many lines of no length; one of them stays.
  [[nodiscard]] std::vector<std::vector<MiddlePlace>> without_dust(
      std::vector<std::vector<MiddlePlace>> lines) const {
    const auto size = [](const std::vector<MiddlePlace>& line) {
      double sum = 0;
      for (std::size_t i = 1; i < line.size(); ++i) sum += (line[i].at - line[i - 1].at).norm();
      return sum;
    };
    const double least = 5 * options_.tolerance_mm;
    std::vector<std::vector<MiddlePlace>> kept, dust;
    for (std::vector<MiddlePlace>& line : lines)
      (size(line) > least ? kept : dust).push_back(std::move(line));
    for (std::vector<MiddlePlace>& line : dust) {
      const bool near = std::any_of(kept.begin(), kept.end(), [&](const std::vector<MiddlePlace>& other) {
        return std::any_of(other.begin(), other.end(), [&](const MiddlePlace& place) {
          return (place.at - line.front().at).norm() <= 4 * least;
        });
      });
      if (!near) kept.push_back(std::move(line));
    }
    return kept;
  }

  /// Along a straight or gently curved piece the distance changes nearly evenly.
  void cut_where_too_wide(const std::vector<MiddlePlace>& line,
                          std::vector<std::vector<MiddlePlace>>& lines) const {
    std::vector<MiddlePlace> piece;
    const auto between = [&](const MiddlePlace& a, const MiddlePlace& b) {
      const double share = (options_.most_mm - a.off_mm) / (b.off_mm - a.off_mm);
      return MiddlePlace{a.at + share * (b.at - a.at), options_.most_mm, a.one + share * (b.one - a.one),
                         a.other + share * (b.other - a.other)};
    };
    const auto end = [&] {
      if (piece.size() > 1) lines.push_back(piece);
      piece.clear();
    };
    for (std::size_t i = 0; i < line.size(); ++i) {
      const bool in = line[i].off_mm <= options_.most_mm;
      const bool before = i > 0 && line[i - 1].off_mm <= options_.most_mm;
      if (i > 0 && in != before) piece.push_back(between(line[i - 1], line[i]));
      if (!in) end();
      if (in) piece.push_back(line[i]);
    }
    end();
  }

  const MiddleOptions& options_;
  detail::Bands inside_;
  std::vector<Side> sides_;
  Diagram diagram_;
  std::map<std::ptrdiff_t, std::size_t> numbers_;
  std::vector<Branch> branches_;
};

}  // namespace

std::vector<std::vector<MiddlePlace>> middle_lines(const Region& area, const MiddleOptions& options) {
  require(options.tolerance_mm > 0, "tolerance_mm", "must be above 0");
  require(area.empty() || area.box().min().cwiseAbs().maxCoeff() < 1e4, "area", "must lie within 10 m");
  if (area.empty()) return {};
  return MiddleFinder(area, options).run();
}

Mesh rim_walls(const std::shared_ptr<const ContactPart>& part, const Region& area, double deep_mm) {
  constexpr double kApart = 0.2;  // mm: between, the part is followed by chords
  const TipSurface needle(part, Profile::needle());
  Mesh mesh;
  for (const Polyline2& loop : area.loops) {
    const Polyline2 fine = detail::with_more_points(loop, true, kApart);
    std::vector<double> heights;
    for (const Vec2& p : fine) heights.push_back(needle.height(p));
    const auto add = [&](const Vec2& p, double z) {
      mesh.points.push_back(with_z(p, z));
      return static_cast<std::int32_t>(mesh.points.size()) - 1;
    };
    for (std::size_t i = 0; i < fine.size(); ++i) {
      const std::size_t k = (i + 1) % fine.size();
      if (!(heights[i] > kNothingBelow) || !(heights[k] > kNothingBelow)) continue;
      const std::int32_t a = add(fine[i], heights[i]), b = add(fine[k], heights[k]),
                         c = add(fine[k], heights[k] - deep_mm), d = add(fine[i], heights[i] - deep_mm);
      mesh.triangles.push_back({a, b, c});
      mesh.triangles.push_back({a, c, d});
    }
  }
  return mesh;
}

}  // namespace yardpass
