#include "yardpass/verify/edge_size.h"

#include <algorithm>
#include <atomic>
#include <cmath>
#include <limits>
#include <unordered_map>

#include "geom/parallel_for.h"
#include "geom/plan_cells.h"
#include "verify/part_proof.h"
#include "yardpass/tool/segment_touch.h"

namespace yardpass {

namespace {

constexpr double kArcs = 1e-5;    // mm: of chords
constexpr double kLower = 0.002;  // mm: material lower than the cut by less is no matter

/// A straight cutting move, or a chord of one.
struct Stroke {
  Vec3 from, to;
  const Profile* cutter;
};

/// A place of an edge with all that comes near it.
struct Spot {
  const EdgeStretch* stretch;
  std::size_t edge;
  double reach_mm;  ///< how far into the faces is looked
  std::vector<std::uint32_t> strokes = {};
};

/// The break at a spot.
struct Cut {
  enum class State : std::uint8_t { measured, passed_by, missing } state = State::passed_by;
  double size_mm = 0, ridge_mm = 0;
  std::vector<Vec3> across = {};  ///< places of the cut material from face to face
};

/// Spots by place in plan.
class SpotsNear {
 public:
  SpotsNear(const std::vector<Spot>& spots, double farthest_mm)
      : spots_(spots), farthest_(farthest_mm), grid_(farthest_mm) {
    for (std::size_t k = 0; k < spots.size(); ++k) {
      const Vec3& at = spots[k].stretch->middle.at;
      cells_[grid_.of(plan(at))].push_back(k);
      top_ = std::max(top_, at.z() + spots[k].reach_mm);
    }
  }
  /// Visits the spots that the stroke can cut at, some of them maybe twice.
  template <typename Visit>
  void each(const Stroke& stroke, const Visit& visit) const {
    if (std::min(stroke.from.z(), stroke.to.z()) > top_) return;
    grid_.along(plan(stroke.from), plan(stroke.to), farthest_, [&](std::int64_t cell) {
      const auto found = cells_.find(cell);
      if (found == cells_.end()) return;
      for (const std::size_t spot : found->second)
        if (near(spots_[spot], stroke)) visit(spot);
    });
  }

 private:
  static bool near(const Spot& spot, const Stroke& stroke) {
    const Vec3& at = spot.stretch->middle.at;
    if (std::min(stroke.from.z(), stroke.to.z()) > at.z() + spot.reach_mm) return false;
    const auto level = [](const Vec3& p) { return with_z(plan(p), 0); };
    const Vec3 nearest = nearest_on_segment(level(at), level(stroke.from), level(stroke.to));
    return (nearest - level(at)).norm() < stroke.cutter->radius() + spot.reach_mm;
  }

  const std::vector<Spot>& spots_;
  double farthest_;
  detail::PlanCells grid_;
  double top_ = -std::numeric_limits<double>::infinity();
  std::unordered_map<std::int64_t, std::vector<std::size_t>> cells_;
};

/// What the strokes of the operation leave at one spot.
class Section {
 public:
  Section(const Spot& spot, const std::vector<Stroke>& strokes, const ContactPart& part,
          const EdgesAsked& asked)
      : at_(spot.stretch->middle), part_(part), asked_(asked), reach_(spot.reach_mm) {
    for (const std::uint32_t k : spot.strokes) strokes_.push_back(&strokes[k]);
  }

  [[nodiscard]] Cut cut() const {
    Cut result;
    if (!passed()) return result;
    result.state = Cut::State::measured;
    const double one = leg(at_.one, at_.into_one()), other = leg(at_.other, at_.into_other());
    const Vec3 from = on_face(at_.one, at_.into_one(), one), to = on_face(at_.other, at_.into_other(), other);
    constexpr int kPlaces = 32;
    for (int k = 0; k <= kPlaces; ++k) {
      const Vec2 place = plan(from) + (0.1 + 0.8 * k / kPlaces) * (plan(to) - plan(from));
      if (const double z = height(place); std::isfinite(z))
        result.across.emplace_back(place.x(), place.y(), z);
    }
    if (asked_.measure == BreakMeasure::radius)
      take_radius(result);
    else if (asked_.measure == BreakMeasure::width)
      result.size_mm = (to - from).norm();
    else
      result.size_mm = at_.one_is_steeper() ? one : other;
    return result;
  }

 private:
  [[nodiscard]] double height(const Vec2& place) const {
    double lowest = std::numeric_limits<double>::infinity();
    for (const Stroke* stroke : strokes_)
      lowest = std::min(lowest, swept_height(*stroke->cutter, place, stroke->from, stroke->to));
    return lowest;
  }
  /// A cutter that stands square beside the edge takes it away.
  [[nodiscard]] bool passed() const {
    return std::any_of(strokes_.begin(), strokes_.end(),
                       [&](const Stroke* stroke) { return passed(*stroke); });
  }
  [[nodiscard]] bool passed(const Stroke& stroke) const {
    // It touches the section from where its surface's normal meets its axis: there the axis must stand in it.
    const Vec3 way = stroke.to - stroke.from;
    const double along = way.dot(at_.along);
    if (along == 0) return false;
    double up = 0;
    for (int k = 0; k < 4; ++k) {
      const double share = (at_.at - stroke.from - Vec3(0, 0, up)).dot(at_.along) / along;
      const Vec3 tip = stroke.from + share * way;
      const double off = (plan(tip) - plan(at_.at)).norm();
      if (off >= stroke.cutter->radius()) return false;
      if (k == 3)
        return share > -1e-9 && share < 1 + 1e-9 && tip.z() + stroke.cutter->height(off) < at_.at.z();
      up = stroke.cutter->height(off) + off / std::max(stroke.cutter->slope(off), 1e-6);
    }
    return false;
  }
  /// In the section, so far from the edge on the face; where that bends away, on the part.
  [[nodiscard]] Vec3 on_face(const Vec3& normal, const Vec3& into, double way) const {
    double off = 0;
    for (int k = 0; k < 3; ++k) {
      const Vec3 place = at_.at + way * into + off * normal;
      const auto nearest = part_.nearest(place, way + 1);
      if (!nearest) return at_.at + way * into;
      off = (nearest->point - at_.at).dot(normal);
    }
    // Another face.
    if (std::abs(off) > 0.25 * way) off = 0;
    return at_.at + way * into + off * normal;
  }
  [[nodiscard]] bool taken(const Vec3& place) const { return height(plan(place)) < place.z(); }
  /// How far the face is taken away from the edge on.
  [[nodiscard]] double leg(const Vec3& normal, const Vec3& into) const {
    const double step = 0.05 * asked_.size_mm;
    double low = 1e-4;
    if (!taken(on_face(normal, into, low))) return 0;
    double high = low + step;
    while (high < reach_ && taken(on_face(normal, into, high))) low = high, high += step;
    if (high >= reach_) return reach_;
    while (high - low > 1e-6) {
      const double middle = 0.5 * (low + high);
      (taken(on_face(normal, into, middle)) ? low : high) = middle;
    }
    return low;
  }
  /// The circle of radius r that touches both faces lies about e - r k, with k = (n1 + n2) / (1 + n1 n2).
  void take_radius(Cut& result) const {
    const Vec3 k = (at_.one + at_.other) / (1 + at_.one.dot(at_.other));
    const double rest = k.squaredNorm() - 1;
    std::vector<Vec3> places;
    for (const Vec3& place : result.across) {
      const Vec3 off = place - at_.at;
      places.emplace_back(off - off.dot(at_.along) * at_.along);
    }
    // Near the faces a micrometre is many of the radius, so the middle half of the way across tells it.
    for (std::size_t i = places.size() / 4; i < places.size() - places.size() / 4; ++i) {
      const double half = places[i].dot(k), under = half * half - places[i].squaredNorm() * rest;
      if (under >= 0) result.size_mm = std::max(result.size_mm, (std::sqrt(under) - half) / rest);
    }
    for (const Vec3& place : places)
      result.ridge_mm = std::max(result.ridge_mm, (place + result.size_mm * k).norm() - result.size_mm);
  }

  const EdgeSection& at_;
  const ContactPart& part_;
  const EdgesAsked& asked_;
  double reach_;
  std::vector<const Stroke*> strokes_;
};

class Measuring {
 public:
  Measuring(const EdgesAsked& asked, const std::vector<Tool>& tools) : asked_(asked) {
    for (const Tool& tool : tools) {
      tools_.push_back(completed(tool));
      cutters_.push_back(profile_of(tools_.back()));
      widest_ = std::max(widest_, cutters_.back().radius());
    }
    for (std::size_t edge = 0; edge < asked.edges.size(); ++edge)
      for (const EdgeStretch& stretch : asked.edges[edge].stretches) {
        // Legs of a break, four times as long.
        const double narrow = 2 * std::sin(0.5 * std::max(stretch.middle.material_rad(), 0.2));
        const double leg = asked.measure == BreakMeasure::radius
                               ? asked.size_mm / std::tan(0.5 * std::max(stretch.middle.material_rad(), 0.2))
                               : std::max(asked.size_mm, asked.size_mm / narrow);
        spots_.push_back({&stretch, edge, 4 * leg + 0.1});
        farthest_ = std::max(farthest_, spots_.back().reach_mm);
      }
    cuts_.resize(spots_.size());
  }

  /// The strokes that the sizes come from.
  void cut(const Program& program, std::int32_t operation, const ContactPart& part,
           const Progress& progress) {
    const SpotsNear near(spots_, widest_ + farthest_);
    const std::vector<std::size_t> tool_of = detail::tool_of_moves(program, tools_);
    for (std::size_t i = 0; i < program.moves.size(); ++i)
      if (program.number_of(program.moves[i]) == operation) add_strokes(program, i, tool_of[i], strokes_);
    for (std::size_t k = 0; k < strokes_.size(); ++k)
      near.each(strokes_[k], [&](std::size_t spot) {
        std::vector<std::uint32_t>& list = spots_[spot].strokes;
        if (list.empty() || list.back() != k) list.push_back(static_cast<std::uint32_t>(k));
      });
    detail::parallel_for(spots_.size(), progress,
                         [&](std::size_t k) { cuts_[k] = Section(spots_[k], strokes_, part, asked_).cut(); });
  }

  /// Where the block was too low already, nothing can be said.
  void held_against(const Stock& stock) {
    for (std::size_t k = 0; k < spots_.size(); ++k)
      for (const Vec3& place : cuts_[k].across)
        if (highest_about(stock, plan(place)) < place.z() - kLower) cuts_[k].state = Cut::State::missing;
  }
  /// And where moves before the first one of the operation, or before the program's end, cut deeper.
  void held_against(const Program& program, std::optional<std::int32_t> before_operation) {
    const SpotsNear near(spots_, widest_ + farthest_);
    const std::vector<std::size_t> tool_of = detail::tool_of_moves(program, tools_);
    std::size_t end = program.moves.size();
    if (before_operation)
      for (end = 0; end < program.moves.size(); ++end)
        if (program.number_of(program.moves[end]) == *before_operation) break;
    std::vector<std::atomic<bool>> lower(spots_.size());
    detail::parallel_for(end, [&](std::size_t i) {
      std::vector<Stroke> strokes;
      add_strokes(program, i, tool_of[i], strokes);
      for (const Stroke& stroke : strokes)
        near.each(stroke, [&](std::size_t spot) {
          if (lower[spot].load(std::memory_order_relaxed)) return;
          for (const Vec3& place : cuts_[spot].across)
            if (swept_height(*stroke.cutter, plan(place), stroke.from, stroke.to) < place.z() - kLower) {
              lower[spot].store(true, std::memory_order_relaxed);
              return;
            }
        });
    });
    for (std::size_t k = 0; k < spots_.size(); ++k)
      if (lower[k]) cuts_[k].state = Cut::State::missing;
  }

  [[nodiscard]] EdgeSizes sizes() const {
    EdgeSizes result{asked_.measure, asked_.size_mm, {}, {}};
    std::vector<std::size_t> all(spots_.size());
    std::vector<std::vector<std::size_t>> of_edge(asked_.edges.size());
    for (std::size_t k = 0; k < spots_.size(); ++k) all[k] = k, of_edge[spots_[k].edge].push_back(k);
    result.all = size_of(all);
    for (std::size_t edge = 0; edge < of_edge.size(); ++edge) {
      result.edges.push_back(size_of(of_edge[edge]));
      result.edges.back().edge = asked_.edges[edge].number;
    }
    return result;
  }

 private:
  void add_strokes(const Program& program, std::size_t i, std::size_t tool,
                   std::vector<Stroke>& strokes) const {
    const ProgramMove& move = program.moves[i];
    if (move.rapid()) return;
    const std::vector<Vec3> points = program.points_of(move, kArcs);
    for (std::size_t k = 0; k + 1 < points.size(); ++k)
      strokes.push_back({points[k], points[k + 1], &cutters_[tool]});
  }
  static double highest_about(const Stock& stock, const Vec2& place) {
    const double cell = stock.cell_mm();
    const Stock::CellRange range = stock.cells_between(place.array() - cell, place.array() + cell);
    double highest = -std::numeric_limits<double>::infinity();
    for (int row = range.first_row; row < range.last_row; ++row)
      for (int column = range.first_column; column < range.last_column; ++column)
        highest = std::max(highest, stock.height(column, row));
    return highest;
  }
  [[nodiscard]] EdgeSize size_of(const std::vector<std::size_t>& spots) const {
    EdgeSize result;
    std::vector<std::pair<double, double>> sizes;  // with the length each stands for
    for (const std::size_t k : spots) {
      const Spot& spot = spots_[k];
      const Cut& cut = cuts_[k];
      const double length = spot.stretch->length_mm, size = cut.size_mm;
      if (cut.state == Cut::State::passed_by) result.passed_by_mm += length;
      if (cut.state == Cut::State::missing) result.missing_mm += length;
      if (cut.state != Cut::State::measured) continue;
      const bool first = sizes.empty();
      if (first || size < result.least_mm)
        result.least_mm = size, result.least_at = spot.stretch->middle.at,
        result.least_edge = asked_.edges[spot.edge].number;
      if (first || size > result.greatest_mm)
        result.greatest_mm = size, result.greatest_at = spot.stretch->middle.at,
        result.greatest_edge = asked_.edges[spot.edge].number;
      result.measured_mm += length;
      if (std::abs(size - asked_.size_mm) <= kSizeHeld) result.held_share += length;
      result.ridge_mm = std::max(result.ridge_mm, cut.ridge_mm);
      sizes.emplace_back(size, length);
    }
    if (sizes.empty()) return result;
    result.held_share /= result.measured_mm;
    std::sort(sizes.begin(), sizes.end());
    double sum = 0;
    for (const auto& [size, length] : sizes) {
      result.median_mm = size;
      if ((sum += length) >= 0.5 * result.measured_mm) break;
    }
    return result;
  }

  const EdgesAsked& asked_;
  std::vector<Tool> tools_;
  std::vector<Profile> cutters_;
  double widest_ = 0, farthest_ = 0;
  std::vector<Spot> spots_;
  std::vector<Cut> cuts_;
  std::vector<Stroke> strokes_;
};

}  // namespace

EdgeSizes measure_edges(const EdgesAsked& asked, const Program& program, std::int32_t operation,
                        const std::vector<Tool>& tools, const ContactPart& part, const Stock& stock,
                        const Program* done, const Progress& progress) {
  require(asked.size_mm > 0, "size_mm", "must be above 0");
  Measuring measuring(asked, tools);
  measuring.cut(program, operation, part, progress);
  measuring.held_against(stock);
  if (done) measuring.held_against(*done, std::nullopt);
  measuring.held_against(program, operation);
  return measuring.sizes();
}

}  // namespace yardpass
