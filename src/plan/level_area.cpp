#include "yardpass/plan/level_area.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <numbers>

#include "geom/parallel_for.h"
#include "yardpass/contact/along_line.h"

namespace yardpass {

namespace {

/// A piece of an edge or of a cell's rim, in mm along it.
struct Span {
  double from, to;
};
using Spans = std::vector<Span>;

constexpr double kTiny = 1e-7;  // mm

/// The part of an edge up to its middle, or from there on, as an edge of half the length.
Spans lower_half(const Spans& spans, double middle) {
  Spans result;
  for (const Span& s : spans)
    if (s.from < middle) result.push_back({s.from, std::min(s.to, middle)});
  return result;
}
Spans upper_half(const Spans& spans, double middle) {
  Spans result;
  for (const Span& s : spans)
    if (s.to > middle) result.push_back({std::max(s.from, middle) - middle, s.to - middle});
  return result;
}

/// A square with what is free of its four edges: below, right, above, left, each from low to high.
struct Cell {
  Vec2 corner;
  double side;
  std::array<const Spans*, 4> edges;
  bool beyond = false;  ///< outside the box: it only closes outlines
};

/// The place that lies so far round the rim, counter-clockwise from the corner.
Vec2 on_rim(const Cell& cell, double d) {
  const double s = cell.side;
  if (d < 0) d += 4 * s;
  if (d >= 4 * s) d -= 4 * s;
  if (d < s) return cell.corner + Vec2(d, 0);
  if (d < 2 * s) return cell.corner + Vec2(s, d - s);
  if (d < 3 * s) return cell.corner + Vec2(3 * s - d, s);
  return cell.corner + Vec2(0, 4 * s - d);
}

/// Free arcs of the rim; one that goes all round has no end.
Spans free_arcs(const Cell& cell) {
  const double s = cell.side;
  Spans rim;
  for (const Span& f : *cell.edges[0]) rim.push_back(f);
  for (const Span& f : *cell.edges[1]) rim.push_back({s + f.from, s + f.to});
  for (std::size_t k = cell.edges[2]->size(); k-- > 0;)
    rim.push_back({3 * s - (*cell.edges[2])[k].to, 3 * s - (*cell.edges[2])[k].from});
  for (std::size_t k = cell.edges[3]->size(); k-- > 0;)
    rim.push_back({4 * s - (*cell.edges[3])[k].to, 4 * s - (*cell.edges[3])[k].from});
  Spans arcs;
  for (const Span& f : rim)
    if (!arcs.empty() && f.from - arcs.back().to < kTiny)
      arcs.back().to = f.to;
    else
      arcs.push_back(f);
  if (arcs.size() > 1 && arcs.front().from < kTiny && arcs.back().to > 4 * s - kTiny) {
    arcs.front().from = arcs.back().from - 4 * s;
    arcs.pop_back();
  }
  return arcs;
}

/// Crossed more than once, so that more may pass through the cell than its corners tell.
bool crossed_twice(const Spans& edge, double side) {
  return edge.size() > 1 || (edge.size() == 1 && edge[0].from > kTiny && edge[0].to < side - kTiny);
}

}  // namespace

/// The outline of one level.
class LevelDrawing {
 public:
  LevelDrawing(const LevelAreas& areas, double z)
      : areas_(areas),
        // The thicker tool stands higher by as much; and what it just rests on is free, to rounding.
        z_(z + areas.options_.tolerance_mm + 10 * kTouchError),
        true_z_(z),
        tolerance_(areas.options_.tolerance_mm) {}

  LevelArea draw() {
    const auto rows = static_cast<std::size_t>(areas_.rows_),
               columns = static_cast<std::size_t>(areas_.columns_);
    along_x_.resize(rows * columns), along_y_.resize(rows * columns);
    detail::parallel_for(rows, [&](std::size_t row) {
      const int j = static_cast<int>(row);
      for (int i = 0; i < areas_.columns_; ++i) {
        if (i + 1 < areas_.columns_) along_x_[index(i, j)] = edge(i, j, i + 1, j);
        if (j + 1 < areas_.rows_) along_y_[index(i, j)] = edge(i, j, i, j + 1);
      }
    });
    std::vector<Found> found(rows - 1);
    detail::parallel_for(rows - 1, [&](std::size_t row) {
      const int j = static_cast<int>(row);
      for (int i = 0; i + 1 < areas_.columns_; ++i)
        cell({areas_.node(i, j),
              areas_.spacing_,
              {&along_x_[index(i, j)], &along_y_[index(i + 1, j)], &along_x_[index(i, j + 1)],
               &along_y_[index(i, j)]},
              outermost(i, j) || outermost(i + 1, j + 1)},
             found[row]);
    });
    LevelArea result;
    std::vector<Polyline2> chains;
    for (Found& of_row : found) {
      for (Polyline2& chain : of_row.chains) chains.push_back(std::move(chain));
      result.closed_necks.insert(result.closed_necks.end(), of_row.necks.begin(), of_row.necks.end());
      result.unproven += of_row.unproven;
    }
    result.area = intersect(loops_of(chains), rectangle(areas_.box_));
    return result;
  }

 private:
  struct Found {
    std::vector<Polyline2> chains;  // the free side on the left
    std::vector<Vec2> necks;
    std::int64_t unproven = 0;
  };
  [[nodiscard]] std::size_t index(int i, int j) const {
    return static_cast<std::size_t>(j) * static_cast<std::size_t>(areas_.columns_) +
           static_cast<std::size_t>(i);
  }
  [[nodiscard]] bool outermost(int i, int j) const {
    return i <= 0 || j <= 0 || i >= areas_.columns_ - 1 || j >= areas_.rows_ - 1;
  }

  [[nodiscard]] Spans leaps(const Vec2& from, const Vec2& to, std::int32_t near = -1) const {
    const double length = (to - from).norm();
    Spans spans;
    for (const LinePiece& piece : free_pieces(areas_.thicker_, with_z(from, z_), with_z(to, z_), near))
      spans.push_back({piece.from * length, piece.to * length});
    return spans;
  }

  /// What is free of an edge of the grid.
  [[nodiscard]] Spans edge(int i, int j, int i2, int j2) const {
    const bool out = outermost(i, j), out2 = outermost(i2, j2);
    const HeightAt &a = areas_.at_node(i, j), &b = areas_.at_node(i2, j2);
    const bool free = a.z <= z_ && !out, free2 = b.z <= z_ && !out2;
    const double s = areas_.spacing_;
    if (out || out2) {  // the outermost nodes close all outlines, outside the box
      if (free) return {{0, 0.5 * s}};
      if (free2) return {{0.5 * s, s}};
      return {};
    }
    if (free && free2) return {{0, s}};
    const Vec2 from = areas_.node(i, j), to = areas_.node(i2, j2);
    if (!free && !free2)
      for (const HeightAt* touched : {&a, &b}) {
        if (touched->triangle < 0) continue;
        // Over one triangle the surface is concave: what it blocks at both ends it blocks between.
        const auto over = [&](const Vec2& p) {
          return areas_.thicker_.height_over(touched->triangle, p, touched->body);
        };
        if (std::min(over(from), over(to)) > z_) return {};
      }
    return leaps(from, to, free ? b.triangle : a.triangle);
  }

  void cell(const Cell& cell, Found& found) const {
    const Spans arcs = free_arcs(cell);
    const double s = cell.side;
    if (arcs.empty() || (arcs.size() == 1 && arcs[0].to - arcs[0].from > 4 * s - kTiny)) return;
    const bool more =
        arcs.size() > 1 || std::any_of(cell.edges.begin(), cell.edges.end(),
                                       [&](const Spans* edge) { return crossed_twice(*edge, s); });
    if (more && !cell.beyond && s > areas_.options_.least_play_mm) return split(cell, found);
    if (arcs.size() > 1 && !cell.beyond) found.necks.emplace_back(cell.corner.array() + 0.5 * s);
    for (const Span& arc : arcs) {
      Polyline2 chain{on_rim(cell, arc.to)};
      if (cell.beyond)
        chain.push_back(on_rim(cell, arc.from));
      else
        join(chain, on_rim(cell, arc.from), 0, found);
      found.chains.push_back(std::move(chain));
    }
  }

  void split(const Cell& cell, Found& found) const {
    const double m = 0.5 * cell.side, s = cell.side;
    const Vec2 p = cell.corner;
    const Spans across = leaps(p + Vec2(0, m), p + Vec2(s, m)), up = leaps(p + Vec2(m, 0), p + Vec2(m, s));
    const auto& [below, right, above, left] = cell.edges;
    const Spans halves[] = {lower_half(*below, m), upper_half(*below, m), lower_half(*right, m),
                            upper_half(*right, m), lower_half(*above, m), upper_half(*above, m),
                            lower_half(*left, m),  upper_half(*left, m),  lower_half(across, m),
                            upper_half(across, m), lower_half(up, m),     upper_half(up, m)};
    this->cell({p, m, {&halves[0], &halves[10], &halves[8], &halves[6]}}, found);
    this->cell({p + Vec2(m, 0), m, {&halves[1], &halves[2], &halves[9], &halves[10]}}, found);
    this->cell({p + Vec2(0, m), m, {&halves[8], &halves[11], &halves[4], &halves[7]}}, found);
    this->cell({p + Vec2(m, m), m, {&halves[9], &halves[3], &halves[5], &halves[11]}}, found);
  }

  /// In plan, from what blocks a place of the outline to the place.
  [[nodiscard]] Vec2 normal(const Vec2& p) const {
    const auto touch = areas_.thicker_.touch(p);
    if (!touch) return {0, 0};
    const Vec2 away = p - plan(touch->point);
    return away.norm() > 1e-9 ? Vec2(away.normalized()) : Vec2(0, 0);
  }
  [[nodiscard]] bool is_free(const Vec2& p) const { return areas_.thicker_.height(p) <= z_; }
  [[nodiscard]] bool proved(const Vec2& a, const Vec2& b) const {
    // On gentle ground a thicker tool that stands higher keeps no room in plan.
    const double lifted = true_z_ + 0.1 * tolerance_;
    return areas_.surface_.clearance(with_z(a, lifted), with_z(b, lifted), 0.0).room >= 0;
  }

  /// Where the tangents at both ends meet, if that is a corner that the chord cuts off.
  [[nodiscard]] std::optional<Vec2> corner(const Vec2& p, const Vec2& q, const Vec2& to_free) const {
    const Vec2 a = normal(p), b = normal(q);
    constexpr double kRound = 15 * std::numbers::pi / 180;
    if (a.norm() < 0.5 || b.norm() < 0.5 || a.dot(b) > std::cos(kRound)) return std::nullopt;
    Eigen::Matrix2d tangents;
    tangents << a.x(), a.y(), b.x(), b.y();
    if (std::abs(tangents.determinant()) < 1e-3) return std::nullopt;
    const Vec2 meeting = tangents.inverse() * Vec2(a.dot(p), b.dot(q)), middle = 0.5 * (p + q);
    if ((meeting - middle).norm() > 1.5 * areas_.spacing_ ||
        to_free.dot(meeting - middle) > -0.5 * tolerance_)
      return std::nullopt;
    const Vec2 back = meeting + (a + b).normalized() * 1e-6;  // a hair, so that it is free
    return is_free(back) ? std::optional(back) : std::nullopt;
  }

  /// The chain's end on to `q`: straight, by a corner, or by way of a middle that is moved onto the outline
  /// where the chord is farther from it than the tolerance, or not free.
  void join(Polyline2& chain, const Vec2& q, int depth, Found& found) const {
    constexpr int kDeepest = 6;
    constexpr double kShort = 1e-4;  // mm
    const Vec2 p = chain.back(), way = q - p;
    const double length = way.norm();
    if (length > 2 * tolerance_ && depth < kDeepest) {
      const Vec2 middle = 0.5 * (p + q), to_free(-way.y() / length, way.x() / length);
      if (depth == 0)
        if (const auto meeting = corner(p, q, to_free)) {
          join(chain, *meeting, 3, found);
          return join(chain, q, 3, found);
        }
      if (const auto moved = onto_outline(middle, to_free, length)) {
        join(chain, *moved, depth + 1, found);
        return join(chain, q, depth + 1, found);
      }
    }
    constexpr int kLastResort = 11;
    if (length > kShort && !proved(p, q)) {
      if (depth >= kLastResort) {
        ++found.unproven;
      } else {
        const Vec2 middle = 0.5 * (p + q), to_free(-way.y() / length, way.x() / length);
        const Spans free = leaps(middle, middle + length * to_free);
        const Vec2 via = free.empty() ? middle : Vec2(middle + free[0].from * to_free);
        join(chain, via, std::max(depth, kDeepest) + 1, found);
        return join(chain, q, std::max(depth, kDeepest) + 1, found);
      }
    }
    chain.push_back(q);
  }

  [[nodiscard]] std::optional<Vec2> onto_outline(const Vec2& middle, const Vec2& to_free,
                                                 double reach) const {
    if (!is_free(middle)) {
      const Spans free = leaps(middle, middle + reach * to_free);
      if (!free.empty() && free[0].from > tolerance_) return middle + free[0].from * to_free;
    } else if (is_free(middle - tolerance_ * to_free)) {
      const Spans free = leaps(middle, middle - reach * to_free);
      if (!free.empty() && free[0].from < 1e-6 && free[0].to > tolerance_ && free[0].to < reach)
        return middle - free[0].to * to_free;
    }
    return std::nullopt;
  }

  /// Chains end where others begin, within rounding.
  [[nodiscard]] static Region loops_of(const std::vector<Polyline2>& chains) {
    constexpr double kStep = 1e-6;
    using Key = std::pair<std::int64_t, std::int64_t>;
    const auto key = [](const Vec2& p) {
      return Key(std::llround(p.x() / kStep), std::llround(p.y() / kStep));
    };
    std::multimap<Key, std::size_t> starts;
    for (std::size_t k = 0; k < chains.size(); ++k) starts.emplace(key(chains[k].front()), k);
    std::vector<std::uint8_t> used(chains.size(), 0);
    const auto next = [&](const Vec2& end) -> std::optional<std::size_t> {
      const Key at = key(end);
      for (std::int64_t dx = -1; dx <= 1; ++dx)
        for (std::int64_t dy = -1; dy <= 1; ++dy) {
          const auto [from, to] = starts.equal_range({at.first + dx, at.second + dy});
          for (auto it = from; it != to; ++it)
            if (!used[it->second]) return it->second;
        }
      return std::nullopt;
    };
    Region region;
    for (std::size_t k = 0; k < chains.size(); ++k) {
      if (used[k]) continue;
      Polyline2 loop;
      for (std::optional<std::size_t> at = k; at; at = next(loop.back())) {
        used[*at] = 1;
        if (!loop.empty()) loop.pop_back();
        loop.insert(loop.end(), chains[*at].begin(), chains[*at].end());
      }
      if ((loop.front() - loop.back()).norm() > 3 * kStep)
        throw Error("the outline of a level does not close");  // no chain ends alone: see draw()
      loop.pop_back();
      if (loop.size() >= 3) region.loops.push_back(std::move(loop));
    }
    return region;
  }

  const LevelAreas& areas_;
  double z_, true_z_, tolerance_;
  std::vector<Spans> along_x_, along_y_;
};

LevelAreas::LevelAreas(const TipSurface& surface, const Box2& box, const LevelAreaOptions& options,
                       const Progress& progress)
    : surface_(surface),
      thicker_((require(options.tolerance_mm > 0, "tolerance_mm", "must be above 0"),
                surface.with_more_allowance(options.tolerance_mm))),
      options_(options),
      box_(box),
      spacing_(options.spacing_mm.value_or(std::sqrt(8 * surface.cutter().radius() * options.tolerance_mm))),
      // A little off the box, and off round numbers: walls often run along them.
      origin_(box.min() - Vec2(1.37, 1.41) * spacing_),
      columns_(static_cast<int>(std::ceil(box.sizes().x() / spacing_)) + 5),
      rows_(static_cast<int>(std::ceil(box.sizes().y() / spacing_)) + 5) {
  require(options.least_play_mm > 0, "least_play_mm", "must be above 0");
  require(spacing_ > 0, "spacing_mm", "must be above 0");
  std::vector<Vec2> places;
  places.reserve(static_cast<std::size_t>(columns_) * static_cast<std::size_t>(rows_));
  for (int j = 0; j < rows_; ++j)
    for (int i = 0; i < columns_; ++i) places.push_back(node(i, j));
  nodes_ = heights_with_triangles(thicker_, places, progress);
}

LevelArea LevelAreas::at(double z) const { return LevelDrawing(*this, z).draw(); }

bool LevelAreas::rests_at(double z, const Region& area) const {
  constexpr double kSame = 1e-5;  // mm
  const double thick = z + options_.tolerance_mm;
  for (int j = 0; j < rows_; ++j)
    for (int i = 0; i < columns_; ++i)
      if (std::abs(at_node(i, j).z - thick) < kSame && area.contains(node(i, j))) return true;
  return false;
}

double LevelAreas::lowest(const Region& area) const {
  double lowest = std::numeric_limits<double>::infinity();
  for (int j = 0; j < rows_; ++j)
    for (int i = 0; i < columns_; ++i) {
      const double z = at_node(i, j).z;
      if (z != kNothingBelow && z < lowest && area.contains(node(i, j))) lowest = z;
    }
  return lowest == std::numeric_limits<double>::infinity() ? kNothingBelow : lowest;
}

}  // namespace yardpass
