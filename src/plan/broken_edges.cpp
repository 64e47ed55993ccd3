#include "yardpass/plan/broken_edges.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <unordered_map>

#include "yardpass/curve/part_curves.h"
#include "yardpass/geom/error.h"

namespace yardpass {

namespace {

constexpr double kRadian = std::numbers::pi / 180;
constexpr double kUnseen = -0.02;

struct PointHash {
  std::size_t operator()(const Vec3& p) const {
    std::size_t hash = 0;
    for (int k = 0; k < 3; ++k) hash = hash * 1000003 ^ std::hash<double>()(p[k]);
    return hash;
  }
};

/// The faces beside each edge of a mesh.
class Faces {
 public:
  explicit Faces(const Mesh& mesh) : mesh_(mesh), joints_(mesh), turned_(turned_over(mesh, joints_)) {
    for (std::size_t k = 0; k < mesh.points.size(); ++k)
      corner_of_.try_emplace(mesh.points[k], static_cast<std::int32_t>(k));
    for (std::int32_t side = 0; side < static_cast<std::int32_t>(joints_.sides()); ++side)
      if (joints_.across(side) >= 0) side_of_[key(side_from(mesh, side), side_to(mesh, side))] = side;
  }
  [[nodiscard]] EdgePieces pieces(double least_turn_deg) const {
    std::vector<SharpEdge> edges = sharp_edges(mesh_, joints_, turned_, least_turn_deg);
    return {mesh_, edges};
  }
  /// Halfway from a to b; nothing unless these are the ends of an outer edge of the mesh.
  [[nodiscard]] std::optional<EdgeSection> section(const Vec3& a, const Vec3& b) const {
    const auto one = corner_of_.find(a), other = corner_of_.find(b);
    if (one == corner_of_.end() || other == corner_of_.end()) return std::nullopt;
    auto side = side_of_.find(key(one->second, other->second));
    if (side == side_of_.end()) side = side_of_.find(key(other->second, one->second));
    if (side == side_of_.end()) return std::nullopt;
    EdgeSection section{0.5 * (a + b), (b - a).normalized(), normal(side->second),
                        normal(joints_.across(side->second))};
    // The first face is the one to the left, seen from outside.
    if (section.along.cross(section.one).dot(section.other) < 0) std::swap(section.one, section.other);
    if (section.one.cross(section.other).norm() < 1e-6) return std::nullopt;
    return section;
  }
  [[nodiscard]] bool outer(const EdgeSection& section, const Vec3& a, const Vec3& b) const {
    // The far corner of the one face lies below the other.
    const auto side = side_of_.find(key(corner_of_.at(a), corner_of_.at(b)));
    const auto back = side_of_.find(key(corner_of_.at(b), corner_of_.at(a)));
    const std::int32_t here = side != side_of_.end() ? side->second : back->second;
    const std::int32_t triangle = Joints::triangle_of(here);
    const Vec3 far = mesh_.corner(static_cast<std::size_t>(triangle), (here % 3 + 2) % 3) - a;
    const Vec3 own = normal(here);
    const Vec3& beyond = own.dot(section.one) > own.dot(section.other) ? section.other : section.one;
    return far.dot(beyond) < 0;
  }

 private:
  static std::int64_t key(std::int32_t a, std::int32_t b) {
    return (static_cast<std::int64_t>(a) << 32) | static_cast<std::int64_t>(b);
  }
  [[nodiscard]] Vec3 normal(std::int32_t side) const {
    const auto triangle = static_cast<std::size_t>(Joints::triangle_of(side));
    return unit_normal(mesh_, triangle, turned_[triangle] != 0);
  }
  const Mesh& mesh_;
  Joints joints_;
  std::vector<std::uint8_t> turned_;
  std::unordered_map<Vec3, std::int32_t, PointHash> corner_of_;
  std::unordered_map<std::int64_t, std::int32_t> side_of_;
};

/// Between two pieces of an edge.
EdgeSection mean_of(const EdgeSection& a, const EdgeSection& b, const Vec3& at) {
  EdgeSection mean{at, (a.along + b.along).normalized(), Vec3::Zero(), Vec3::Zero()};
  const auto square = [&](const Vec3& normal) -> Vec3 {
    return (normal - normal.dot(mean.along) * mean.along).normalized();
  };
  mean.one = square(a.one + b.one), mean.other = square(a.other + b.other);
  return mean;
}

class Breaker {
 public:
  Breaker(const Mesh& mesh, const EdgeBreak& wanted, const Tool& tool)
      : mesh_(mesh), wanted_(wanted), tool_(completed(tool)), faces_(mesh) {}

  BrokenEdges made() {
    const EdgePieces pieces = faces_.pieces(wanted_.least_turn_deg);
    std::vector<std::uint8_t> seen(pieces.pieces().size() + 1, 0);
    for (std::size_t k = 0; k < pieces.pieces().size(); ++k) {
      const auto number = static_cast<std::int64_t>(k) + 1;
      if (!chosen(number)) continue;
      seen[k + 1] = add(pieces.pieces()[k], number);
    }
    for (const auto* list : {&wanted_.only, &wanted_.leave})
      for (const std::int64_t number : *list)
        if (number < 1 || number > std::ssize(pieces.pieces()) ||
            (list == &wanted_.only && !seen[static_cast<std::size_t>(number)]))
          result_.unknown.push_back(number);
    result_.rest = without_strips(mesh_, strips_);
    return std::move(result_);
  }

 private:
  [[nodiscard]] bool chosen(std::int64_t number) const {
    const auto in = [&](const std::vector<std::int64_t>& list) {
      return std::find(list.begin(), list.end(), number) != list.end();
    };
    return (wanted_.only.empty() || in(wanted_.only)) && !in(wanted_.leave);
  }

  /// False for hollow edges.
  bool add(const Curve& piece, std::int64_t number) {
    Polyline3 points = piece.points;
    if (piece.closed && points.size() > 1 && points.front() == points.back()) points.pop_back();
    const std::size_t count = points.size(), segments = piece.closed ? count : count - 1;
    std::vector<EdgeSection> sections;
    double length = 0, steepest = 0;
    for (std::size_t i = 0; i < segments; ++i) {
      const Vec3 &a = points[i], &b = points[(i + 1) % count];
      const auto section = faces_.section(a, b);
      if (!section || !faces_.outer(*section, a, b)) return false;
      sections.push_back(*section);
      length += (b - a).norm();
      steepest = std::max(steepest, std::abs(section->along.z()));
      // Seen from above neither face turns away.
      if (std::min(section->one.z(), section->other.z()) < kUnseen) return true;
    }
    if (length < wanted_.least_length_mm) return true;
    const auto leave = [&](EdgeLeft why) {
      result_.left.push_back({number, why, length, sections[sections.size() / 2].at});
      return true;
    };
    if (steepest > std::sin(wanted_.steepest_deg * kRadian) + 1e-9) return leave(EdgeLeft::upright);
    std::vector<EdgeSection> at_corners;
    for (std::size_t i = 0; i < count; ++i) {
      const bool first = i == 0 && !piece.closed, last = i + 1 == count && !piece.closed;
      EdgeSection one = sections[first ? 0 : (i + segments - 1) % segments],
                  other = sections[last ? segments - 1 : i];
      at_corners.push_back(mean_of(one, other, points[i]));
    }
    BrokenEdge edge{number, length, piece.closed, {}};
    std::vector<EdgeFlat> flats;
    for (const EdgeSection& section : at_corners)
      if (!add_tips(section, edge.ways, flats)) return leave(EdgeLeft::no_place);
    add_strips(points, sections, at_corners, flats);
    if (runs_conventional(at_corners, edge) != wanted_.conventional)
      for (Polyline3& way : edge.ways) std::reverse(way.begin(), way.end());
    result_.edges.push_back(std::move(edge));
    return true;
  }

  [[nodiscard]] BreakSize size_of(const EdgeSection& section) const {
    if (!wanted_.down_wall) return BreakSize::across;
    return std::abs(section.one.z()) < std::abs(section.other.z()) ? BreakSize::down_one
                                                                   : BreakSize::down_other;
  }

  bool add_tips(const EdgeSection& section, std::vector<Polyline3>& ways,
                std::vector<EdgeFlat>& flats) const {
    const auto add = [&](std::size_t pass, const Vec3& tip) {
      if (ways.size() <= pass) ways.resize(pass + 1);
      ways[pass].push_back(tip);
    };
    if (tool_.shape == Shape::chamfer) {
      const auto cut = chamfer_break(section, tool_, wanted_.size_mm, size_of(section), wanted_.margin_mm);
      if (!cut) return false;
      add(0, cut->tip), flats.push_back(cut->flat);
      return true;
    }
    const double radius = 0.5 * tool_.diameter_mm;
    if (wanted_.rounding_passes > 0) {
      const auto tips = rounded_tips(section, wanted_.size_mm, radius, wanted_.rounding_passes);
      if (!tips) return false;
      for (std::size_t k = 0; k < tips->size(); ++k) add(k, (*tips)[k]);
      EdgeFlat flat;
      flat.normal = (section.one + section.other).normalized();
      flat.leg_one_mm = flat.leg_other_mm = rounded_leg_mm(section, wanted_.size_mm);
      flats.push_back(flat);
      return true;
    }
    const EdgeFlat flat = even_flat(section, wanted_.size_mm, size_of(section));
    const auto tip = ball_tip(section, flat, radius);
    if (!tip) return false;
    add(0, *tip), flats.push_back(flat);
    return true;
  }

  void add_strips(const Polyline3& points, const std::vector<EdgeSection>& sections,
                  const std::vector<EdgeSection>& at_corners, const std::vector<EdgeFlat>& flats) {
    // Between corners the tip runs straight, and the faces bend a little.
    constexpr double kMore = 0.006, kOfChord = 0.04, kMostMore = 0.08;  // mm
    // The first and the last ball of a rounding run into the faces without a corner: so much farther they lie
    // off them by a micrometre or two.
    constexpr double kTouches = 0.0015;
    const double tangent = wanted_.rounding_passes > 0 ? std::sqrt(tool_.diameter_mm * kTouches) : 0;
    for (std::size_t i = 0; i < sections.size(); ++i) {
      const std::size_t next = (i + 1) % points.size();
      const Vec3 &a = points[i], &b = points[next];
      const EdgeSection& section = sections[i];
      const bool bends = (at_corners[i].along - at_corners[next].along).norm() > 1e-9;
      const double more = kMore + tangent + (bends ? std::min(kMostMore, kOfChord * (b - a).norm()) : 0.0);
      const Vec3 &from = at_corners[i].along, &to = at_corners[next].along;
      strips_.push_back({a, b, section.one, section.into_one(),
                         std::max(flats[i].leg_one_mm, flats[next].leg_one_mm) + more, from, to});
      strips_.push_back({a, b, section.other, section.into_other(),
                         std::max(flats[i].leg_other_mm, flats[next].leg_other_mm) + more, from, to});
    }
  }

  /// Seen from above, whether the part lies to the left of the way along the edge.
  [[nodiscard]] static bool runs_conventional(const std::vector<EdgeSection>& at_corners,
                                              const BrokenEdge& edge) {
    double sum = 0;
    for (std::size_t i = 0; i < at_corners.size(); ++i) {
      const Vec2 along = plan(at_corners[i].along), out = plan(edge.ways.front()[i]) - plan(at_corners[i].at);
      sum += along.x() * out.y() - along.y() * out.x();
    }
    return sum < 0;
  }

  const Mesh& mesh_;
  const EdgeBreak& wanted_;
  Tool tool_;
  Faces faces_;
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
