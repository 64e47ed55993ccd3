#include "yardpass/plan/broken_edges.h"

#include <algorithm>
#include <cmath>
#include <limits>

#include "plan/outer_edges.h"
#include "yardpass/geom/error.h"

namespace yardpass {

namespace {

/// Where an edge goes on in another direction, or ends.
struct Corner {
  Vec3 at;
  EdgeSection before, after;
  [[nodiscard]] EdgeSection between(double share) const {
    EdgeSection section{at, ((1 - share) * before.along + share * after.along).normalized(), Vec3::Zero(),
                        Vec3::Zero()};
    const auto square = [&](const Vec3& normal) -> Vec3 {
      return (normal - normal.dot(section.along) * section.along).normalized();
    };
    section.one = square((1 - share) * before.one + share * after.one);
    section.other = square((1 - share) * before.other + share * after.other);
    return section;
  }
};

/// Halfway between the nearest places of two lines; nothing unless they all but meet.
std::optional<Vec3> meeting(const Vec3& a, const Vec3& along_a, const Vec3& b, const Vec3& along_b) {
  const Vec3 off = b - a;
  const double cosine = along_a.dot(along_b), sine2 = 1 - cosine * cosine;
  if (sine2 < 1e-9) return Vec3(0.5 * (a + b));
  const double on_a = (off.dot(along_a) - cosine * off.dot(along_b)) / sine2,
               on_b = (cosine * off.dot(along_a) - off.dot(along_b)) / sine2;
  const Vec3 one = a + on_a * along_a, other = b + on_b * along_b;
  if (std::max({(one - other).norm(), std::abs(on_a), std::abs(on_b)}) > off.norm()) return std::nullopt;
  return Vec3(0.5 * (one + other));
}

class Breaker {
 public:
  Breaker(const Mesh& mesh, const EdgeBreak& wanted, const Tool& tool)
      : mesh_(mesh), wanted_(wanted), tool_(completed(tool)) {}

  BrokenEdges made() {
    detail::OuterEdges found = detail::outer_edges(
        mesh_, wanted_, [&](const EdgeSection& section) { return tips_of(section).has_value(); });
    for (const detail::EdgeRun& run : found.runs) add(run);
    result_.left = std::move(found.left);
    result_.unknown = std::move(found.unknown);
    result_.rest = without_strips(mesh_, strips_);
    return std::move(result_);
  }

 private:
  void add(const detail::EdgeRun& run) {
    const std::size_t count = run.points.size(), segments = run.sections.size();
    std::vector<Corner> corners;
    for (std::size_t i = 0; i < count; ++i) {
      const bool first = i == 0 && !run.closed, last = i + 1 == count && !run.closed;
      corners.push_back({run.points[i], run.sections[first ? 0 : (i + segments - 1) % segments],
                         run.sections[last ? segments - 1 : i]});
    }
    BrokenEdge edge;
    edge.closed = run.closed;
    for (std::size_t i = 0; i < segments; ++i) edge.length_mm += (run.end_of(i) - run.points[i]).norm();
    add_stretches(run, corners, edge);
    for (const Corner& corner : corners) turn(corner, edge.ways);
    add_strips(run, corners);
    if (runs_conventional(run.sections) != wanted_.conventional)
      for (Polyline3& way : edge.ways) std::reverse(way.begin(), way.end());
    result_.edges.push_back(std::move(edge));
  }

  /// The ways round a corner. Along each segment the tip runs beside the very faces there are, so at a corner
  /// its lines meet or end apart; there it turns about the corner.
  void turn(const Corner& corner, std::vector<Polyline3>& ways) const {
    const Tips in = *tips_of(corner.before), out = *tips_of(corner.after);
    ways.resize(in.tips.size());
    const auto middle = tips_of(corner.between(0.5));
    for (std::size_t pass = 0; pass < ways.size(); ++pass) {
      const Vec3 from = in.at(pass, corner.before, corner.at), to = out.at(pass, corner.after, corner.at);
      const Vec3 between = middle ? middle->tips[pass] : Vec3(0.5 * (from + to));
      if ((to - from).dot(corner.between(0.5).along) < 0) {
        ways[pass].push_back(meeting(from, corner.before.along, to, corner.after.along).value_or(between));
        continue;
      }
      const double reach = (from - corner.at).norm(),
                   angle = 2 * std::asin(std::min(1.0, 0.5 * (to - from).norm() / std::max(reach, 1e-12)));
      constexpr double kOff = 0.001;  // mm: that the way may come nearer to the corner
      const double most = 2 * std::acos(std::max(0.0, 1 - kOff / std::max(reach, 2 * kOff)));
      const int steps = static_cast<int>(std::ceil(angle / most));
      if (steps < 1 || angle < 1e-9) {
        ways[pass].push_back(between);
        continue;
      }
      ways[pass].push_back(from);
      for (int k = 1; k < steps; ++k)
        if (const auto tips = tips_of(corner.between(1.0 * k / steps)))
          ways[pass].push_back(tips->tips[pass]);
      ways[pass].push_back(to);
    }
  }

  /// The tips beside a section, one a pass.
  struct Tips {
    std::vector<Vec3> tips;
    EdgeFlat flat;
    /// Of the same section elsewhere on its edge.
    [[nodiscard]] Vec3 at(std::size_t pass, const EdgeSection& section, const Vec3& place) const {
      return tips[pass] - section.at + place;
    }
  };

  /// Pieces of edges of about a millimetre, in the middle of their segments where those are shorter.
  void add_stretches(const detail::EdgeRun& run, const std::vector<Corner>& corners, BrokenEdge& edge) const {
    constexpr double kCorner = 0.94;  // cosine of 20 degrees
    Polyline3 apart;                  // ends and corners
    if (!run.closed) apart = {run.points.front(), run.points.back()};
    for (const Corner& corner : corners)
      if (corner.before.along.dot(corner.after.along) < kCorner) apart.push_back(corner.at);
    const auto off = [&](const Vec3& place) {
      double nearest = std::numeric_limits<double>::infinity();
      for (const Vec3& one : apart) nearest = std::min(nearest, (one - place).norm());
      return nearest;
    };
    for (std::size_t first = 0; first < run.sections.size();) {
      std::size_t end = first + 1;
      while (end < run.sections.size() && run.numbers[end] == run.numbers[first]) ++end;
      MeasuredEdge measured{run.numbers[first], {}};
      EdgeStretch farthest;
      double own = 0, since = 0, most = -1;
      for (std::size_t i = first; i < end; ++i) own += (run.end_of(i) - run.points[i]).norm();
      const double step = std::clamp(0.01 * own, 0.25, 1.0);
      for (std::size_t i = first; i < end; ++i) {
        const Vec3 way = run.end_of(i) - run.points[i];
        since += way.norm();
        if (since < 0.75 * step && i + 1 < end) continue;
        const EdgeFlat flat = tips_of(run.sections[i])->flat;
        const double spoilt = 1.5 * std::max(flat.leg_one_mm, flat.leg_other_mm);
        const int parts = std::max(1, static_cast<int>(std::lround(way.norm() / step)));
        for (int k = 0; k < parts; ++k) {
          EdgeStretch stretch{run.sections[i], since / parts};
          stretch.middle.at = run.points[i] + (k + 0.5) / parts * way;
          const double from_ends = off(stretch.middle.at);
          if (from_ends > spoilt) measured.stretches.push_back(stretch);
          if (from_ends > most) most = from_ends, farthest = stretch;
        }
        since = 0;
      }
      if (measured.stretches.empty()) measured.stretches.push_back(farthest);
      edge.measured.push_back(std::move(measured));
      first = end;
    }
  }

  [[nodiscard]] BreakSize size_of(const EdgeSection& section) const {
    if (!wanted_.down_wall) return BreakSize::across;
    return section.one_is_steeper() ? BreakSize::down_one : BreakSize::down_other;
  }

  [[nodiscard]] std::optional<Tips> tips_of(const EdgeSection& section) const {
    if (tool_.shape == Shape::chamfer) {
      const auto cut = chamfer_break(section, tool_, wanted_.size_mm, size_of(section), wanted_.margin_mm);
      if (!cut) return std::nullopt;
      return Tips{{cut->tip}, cut->flat};
    }
    const double radius = 0.5 * tool_.diameter_mm;
    if (wanted_.rounding_passes > 0) {
      auto tips = rounded_tips(section, wanted_.size_mm, radius, wanted_.rounding_passes);
      if (!tips) return std::nullopt;
      EdgeFlat flat;
      flat.normal = (section.one + section.other).normalized();
      flat.leg_one_mm = flat.leg_other_mm = rounded_leg_mm(section, wanted_.size_mm);
      return Tips{std::move(*tips), flat};
    }
    const EdgeFlat flat = even_flat(section, wanted_.size_mm, size_of(section));
    const auto tip = ball_tip(section, flat, radius);
    if (!tip) return std::nullopt;
    return Tips{{*tip}, flat};
  }

  void add_strips(const detail::EdgeRun& run, const std::vector<Corner>& corners) {
    // Between corners the tip runs straight, and the faces bend a little.
    constexpr double kMore = 0.006, kOfChord = 0.04, kMostMore = 0.08;  // mm
    // The first and the last ball of a rounding run into the faces without a corner: so much farther they lie
    // off them by a micrometre or two.
    constexpr double kTouches = 0.0015;
    const double tangent = wanted_.rounding_passes > 0 ? std::sqrt(tool_.diameter_mm * kTouches) : 0;
    const auto legs = [&](std::size_t i, double EdgeFlat::*leg) {
      const Tips before = *tips_of(corners[i].before), after = *tips_of(corners[i].after);
      return std::max(before.flat.*leg, after.flat.*leg);
    };
    for (std::size_t i = 0; i < run.sections.size(); ++i) {
      const std::size_t next = (i + 1) % run.points.size();
      const Vec3 &a = run.points[i], &b = run.points[next];
      const EdgeSection& section = run.sections[i];
      const Vec3 from = corners[i].between(0.5).along, to = corners[next].between(0.5).along;
      const bool bends = (from - to).norm() > 1e-9;
      const double more = kMore + tangent + (bends ? std::min(kMostMore, kOfChord * (b - a).norm()) : 0.0);
      const double one = std::max(legs(i, &EdgeFlat::leg_one_mm), legs(next, &EdgeFlat::leg_one_mm)) + more,
                   other =
                       std::max(legs(i, &EdgeFlat::leg_other_mm), legs(next, &EdgeFlat::leg_other_mm)) + more;
      strips_.push_back({a, b, section.one, section.into_one(), one, from, to});
      strips_.push_back({a, b, section.other, section.into_other(), other, from, to});
      if (run.closed) continue;
      // The break runs out through the faces that the edge ends at.
      if (i == 0) add_ends(a, section, one, other, run.first_caps);
      if (i + 1 == run.sections.size()) add_ends(b, section, one, other, run.last_caps);
    }
  }
  void add_ends(const Vec3& end, const EdgeSection& section, double one, double other,
                const std::vector<Vec3>& caps) {
    // In each a corner of the break's section, from both sides: between them it may be blunt.
    for (const Vec3& cap : caps) {
      const auto add = [&](const Vec3& first, double long_mm, const Vec3& second, double leg) {
        const Vec3 on_cap = first - first.dot(cap) * cap, along = on_cap.normalized(),
                   off = second - second.dot(cap) * cap, into = off - off.dot(along) * along;
        if (on_cap.norm() < 0.1 || into.norm() < 0.1) return;
        strips_.push_back({end, end + long_mm * on_cap, cap, into.normalized(), leg, along, along});
      };
      add(section.into_one(), one, section.into_other(), other);
      add(section.into_other(), other, section.into_one(), one);
    }
  }

  /// Seen from above, whether the part lies to the left of the way along the edge.
  [[nodiscard]] bool runs_conventional(const std::vector<EdgeSection>& sections) const {
    double sum = 0;
    for (const EdgeSection& section : sections) {
      const auto tips = tips_of(section);
      if (!tips) continue;
      const Vec2 along = plan(section.along), out = plan(tips->tips.front()) - plan(section.at);
      sum += along.x() * out.y() - along.y() * out.x();
    }
    return sum < 0;
  }

  const Mesh& mesh_;
  const EdgeBreak& wanted_;
  Tool tool_;
  std::vector<EdgeStrip> strips_;
  BrokenEdges result_;
};

}  // namespace

const char* words_of(EdgeLeft why) {
  switch (why) {
    case EdgeLeft::upright:
      return "they climb more steeply than \"steepest\" says";
    case EdgeLeft::no_place:
      return "they lean so, or the break is so wide, that the cutter has no place beside them";
    default:
      return "the tool would meet the part beside or above them";
  }
}

std::int64_t BrokenEdge::number_at(const Vec3& place) const {
  std::pair nearest(std::numeric_limits<double>::infinity(), std::int64_t{0});
  for (const MeasuredEdge& edge : measured)
    for (const EdgeStretch& stretch : edge.stretches)
      nearest = std::min(nearest, std::pair((stretch.middle.at - place).norm(), edge.number));
  return nearest.second;
}

BrokenEdges broken_edges(const Mesh& mesh, const EdgeBreak& wanted, const Tool& tool) {
  require(wanted.size_mm > 0, "size_mm", "must be above 0");
  require(wanted.rounding_passes == 0 || wanted.rounding_passes >= 2, "rounding_passes",
          "must be 0 or at least 2");
  const bool round = tool.shape == Shape::ball || tool.shape == Shape::lollipop;
  if (!round && tool.shape != Shape::chamfer)
    throw Error("edges are broken with a ball, a chamfer or a lollipop; this tool is a " +
                std::string(name_of(tool.shape)));
  if (!round && wanted.rounding_passes > 0) throw Error("edges are rounded with a ball or a lollipop");
  return Breaker(mesh, wanted, tool).made();
}

}  // namespace yardpass
