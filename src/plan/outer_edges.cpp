#include "plan/outer_edges.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>
#include <unordered_map>

#include "yardpass/curve/part_curves.h"

namespace yardpass::detail {

namespace {

constexpr double kRadian = std::numbers::pi / 180;
constexpr double kUnseen = -0.02;
constexpr double kOnCurve = 0.05;  // mm
constexpr double kShortest = 0.2;  // mm: shorter pieces of an edge are no break

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
    for (std::size_t t = 0; t < mesh.triangles.size(); ++t)
      for (const std::int32_t corner : mesh.triangles[t])
        at_corner_.emplace_back(corner_of_.at(mesh.points[static_cast<std::size_t>(corner)]),
                                static_cast<std::int32_t>(t));
    std::sort(at_corner_.begin(), at_corner_.end());
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

  /// Normals of the faces that an edge ends at.
  [[nodiscard]] std::vector<Vec3> beyond(const Vec3& end, const EdgeSection& section, double sense) const {
    std::vector<Vec3> normals;
    const auto corner = corner_of_.find(end);
    if (corner == corner_of_.end()) return normals;
    const auto about = std::equal_range(at_corner_.begin(), at_corner_.end(), std::pair(corner->second, 0),
                                        [](const auto& a, const auto& b) { return a.first < b.first; });
    for (auto one = about.first; one != about.second; ++one) {
      const auto triangle = static_cast<std::size_t>(one->second);
      const Vec3 normal = unit_normal(mesh_, triangle, turned_[triangle] != 0);
      if (sense * normal.dot(section.along) < 0.3) continue;
      const auto alike = [&](const Vec3& other) { return other.dot(normal) > 0.999; };
      if (std::none_of(normals.begin(), normals.end(), alike)) normals.push_back(normal);
    }
    return normals;
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
  std::vector<std::pair<std::int32_t, std::int32_t>> at_corner_;  // triangles about each corner, sorted
};

EdgeSection turned(const EdgeSection& section) {
  return {section.at, -section.along, section.other, section.one};
}

void reverse(EdgeRun& run) {
  std::reverse(run.points.begin(), run.points.end());
  std::reverse(run.sections.begin(), run.sections.end());
  std::reverse(run.numbers.begin(), run.numbers.end());
  std::swap(run.first_caps, run.last_caps);
  for (EdgeSection& section : run.sections) section = turned(section);
}

/// Lines that edges may run along.
class Near {
 public:
  explicit Near(const std::vector<Polyline3>& curves) : curves_(curves) {
    for (const Polyline3& curve : curves) {
      boxes_.emplace_back();
      for (const Vec3& p : curve) boxes_.back().extend(p);
      boxes_.back().min().array() -= kOnCurve, boxes_.back().max().array() += kOnCurve;
    }
  }
  [[nodiscard]] bool runs_along(const Vec3& a, const Vec3& b) const {
    return on(a) && on(b) && on(0.5 * (a + b));
  }

 private:
  [[nodiscard]] bool on(const Vec3& p) const {
    for (std::size_t k = 0; k < curves_.size(); ++k) {
      if (!boxes_[k].contains(p)) continue;
      const Polyline3& curve = curves_[k];
      for (std::size_t i = 0; i + 1 < curve.size(); ++i)
        if ((nearest_on_segment(p, curve[i], curve[i + 1]) - p).norm() <= kOnCurve) return true;
    }
    return false;
  }
  const std::vector<Polyline3>& curves_;
  std::vector<Box3> boxes_;
};

class Finder {
 public:
  Finder(const Mesh& mesh, const EdgeBreak& wanted, const std::function<bool(const EdgeSection&)>& has_place)
      : wanted_(wanted),
        has_place_(has_place),
        faces_(mesh),
        along_(wanted.along),
        not_along_(wanted.not_along) {}

  OuterEdges found() {
    const EdgePieces pieces = faces_.pieces(wanted_.least_turn_deg);
    std::vector<std::uint8_t> outer(pieces.pieces().size() + 1, 0);
    for (std::size_t k = 0; k < pieces.pieces().size(); ++k)
      outer[k + 1] = add(pieces.pieces()[k], static_cast<std::int64_t>(k) + 1);
    for (const auto* list : {&wanted_.only, &wanted_.leave})
      for (const std::int64_t number : *list)
        if (number < 1 || number > std::ssize(pieces.pieces()) || !outer[static_cast<std::size_t>(number)])
          result_.unknown.push_back(number);
    if (wanted_.round_corners) join();
    return std::move(result_);
  }

 private:
  enum class State : std::uint8_t { broken, hollow, unseen, not_wanted, upright, no_place };
  struct Segment {
    State state = State::hollow;
    EdgeSection section;
  };

  [[nodiscard]] bool chosen(std::int64_t number, const Vec3& a, const Vec3& b) const {
    const auto in = [&](const std::vector<std::int64_t>& list) {
      return std::find(list.begin(), list.end(), number) != list.end();
    };
    const bool all = wanted_.only.empty() && wanted_.along.empty();
    return (all || in(wanted_.only) || along_.runs_along(a, b)) && !in(wanted_.leave) &&
           !not_along_.runs_along(a, b);
  }

  [[nodiscard]] Segment segment(const Vec3& a, const Vec3& b, std::int64_t number) const {
    const auto section = faces_.section(a, b);
    if (!section || !faces_.outer(*section, a, b)) return {};
    Segment result{State::broken, *section};
    // Seen from above neither face turns away.
    if (std::min(section->one.z(), section->other.z()) < kUnseen)
      result.state = State::unseen;
    else if (!chosen(number, a, b))
      result.state = State::not_wanted;
    else if (std::abs(section->along.z()) > std::sin(wanted_.steepest_deg * kRadian) + 1e-9)
      result.state = State::upright;
    else if (!has_place_(*section))
      result.state = State::no_place;
    return result;
  }

  /// False if nothing of it is an outer edge.
  bool add(const Curve& piece, std::int64_t number) {
    Polyline3 points = piece.points;
    if (piece.closed && points.size() > 1 && points.front() == points.back()) points.pop_back();
    const std::size_t count = points.size(), segments = piece.closed ? count : count - 1;
    std::vector<Segment> all;
    double length = 0;
    for (std::size_t i = 0; i < segments; ++i) {
      all.push_back(segment(points[i], points[(i + 1) % count], number));
      length += (points[(i + 1) % count] - points[i]).norm();
    }
    const bool outer =
        std::any_of(all.begin(), all.end(), [](const Segment& s) { return s.state != State::hollow; });
    if (length < wanted_.least_length_mm || segments == 0) return outer;
    const auto changes = [&](std::size_t i) {
      return all[i].state != all[(i + segments - 1) % segments].state || (i == 0 && !piece.closed);
    };
    // Of a closed one begin where its state changes, if it does.
    std::size_t first = 0;
    if (piece.closed)
      while (first < segments && !changes(first)) ++first;
    if (first == segments) {
      take(all, points, 0, segments, number, true);
      return outer;
    }
    for (std::size_t done = 0; done < segments;) {
      std::size_t run = 1;
      while (done + run < segments && !changes((first + done + run) % segments)) ++run;
      take(all, points, (first + done) % segments, run, number, false);
      done += run;
    }
    return outer;
  }

  /// A run of segments of one state.
  void take(const std::vector<Segment>& all, const Polyline3& points, std::size_t first, std::size_t count,
            std::int64_t number, bool closed) {
    EdgeRun run;
    run.closed = closed;
    for (std::size_t k = 0; k < count; ++k) {
      run.points.push_back(points[(first + k) % points.size()]);
      run.sections.push_back(all[(first + k) % all.size()].section);
      run.numbers.push_back(number);
    }
    if (!closed) run.points.push_back(points[(first + count) % points.size()]);
    const State state = all[first % all.size()].state;
    const double length = yardpass::length(std::span<const Vec3>(run.points)) +
                          (closed ? (run.points.front() - run.points.back()).norm() : 0.0);
    if (state == State::broken) {
      if (length < std::min(wanted_.least_length_mm, kShortest)) return;
      if (!closed) {
        run.first_caps = faces_.beyond(run.points.front(), run.sections.front(), -1);
        run.last_caps = faces_.beyond(run.points.back(), run.sections.back(), 1);
      }
      result_.runs.push_back(std::move(run));
    } else if (state == State::upright || state == State::no_place) {
      if (closed) run.points.push_back(run.points.front());
      result_.left.push_back({number,
                              state == State::upright ? EdgeLeft::upright : EdgeLeft::no_place,
                              length,
                              run.sections[run.sections.size() / 2].at,
                              {std::move(run.points)}});
    }
  }

  /// Runs that meet at a corner, two and no more, become one.
  void join() {
    std::vector<EdgeRun> runs = std::move(result_.runs);
    result_.runs.clear();
    const auto less = [](const Vec3& a, const Vec3& b) {
      return std::lexicographical_compare(a.data(), a.data() + 3, b.data(), b.data() + 3);
    };
    std::map<Vec3, std::vector<std::size_t>, decltype(less)> ends(less);  // runs that end at a place
    for (std::size_t k = 0; k < runs.size(); ++k)
      if (!runs[k].closed)
        ends[runs[k].points.front()].push_back(k), ends[runs[k].points.back()].push_back(k);
    std::vector<std::uint8_t> taken(runs.size(), 0);
    // The run that goes on at a place; nothing at a branch, an end, or where it would turn back.
    const auto onward = [&](const EdgeRun& run) -> std::optional<std::size_t> {
      const std::vector<std::size_t>& meet = ends.at(run.points.back());
      if (meet.size() != 2) return std::nullopt;
      for (const std::size_t k : meet) {
        if (taken[k]) continue;
        if (runs[k].points.front() != run.points.back()) reverse(runs[k]);
        return goes_on(run.sections.back(), runs[k].sections.front()) ? std::optional(k) : std::nullopt;
      }
      return std::nullopt;
    };
    const auto closes = [&](const EdgeRun& run) {
      return run.points.front() == run.points.back() && ends.at(run.points.front()).size() == 2 &&
             goes_on(run.sections.back(), run.sections.front());
    };
    for (std::size_t k = 0; k < runs.size(); ++k) {
      if (taken[k]) continue;
      taken[k] = 1;
      EdgeRun run = std::move(runs[k]);
      for (int way = 0; way < 2 && !run.closed; ++way) {
        while (!run.closed) {
          if (closes(run)) {
            run.points.pop_back();
            run.closed = true;
            run.first_caps.clear(), run.last_caps.clear();
            break;
          }
          const auto next = onward(run);
          if (!next) break;
          taken[*next] = 1;
          append(run, runs[*next]);
        }
        if (!run.closed) reverse(run);
      }
      result_.runs.push_back(std::move(run));
    }
  }
  static bool goes_on(const EdgeSection& from, const EdgeSection& to) {
    constexpr double kBack = -0.7;  // cosine of 134 degrees
    return from.along.dot(to.along) > kBack && from.one.dot(to.one) > kBack &&
           from.other.dot(to.other) > kBack;
  }
  static void append(EdgeRun& run, EdgeRun& more) {
    run.points.insert(run.points.end(), more.points.begin() + 1, more.points.end());
    run.sections.insert(run.sections.end(), more.sections.begin(), more.sections.end());
    run.numbers.insert(run.numbers.end(), more.numbers.begin(), more.numbers.end());
    run.last_caps = std::move(more.last_caps);
  }

  const EdgeBreak& wanted_;
  const std::function<bool(const EdgeSection&)>& has_place_;
  Faces faces_;
  Near along_, not_along_;
  OuterEdges result_;
};

}  // namespace

OuterEdges outer_edges(const Mesh& mesh, const EdgeBreak& wanted,
                       const std::function<bool(const EdgeSection&)>& has_place) {
  return Finder(mesh, wanted, has_place).found();
}

}  // namespace yardpass::detail
