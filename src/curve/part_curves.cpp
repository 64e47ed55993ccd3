#include "yardpass/curve/part_curves.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <queue>

#include "yardpass/curve/edit_curves.h"
#include "yardpass/geom/error.h"

namespace yardpass {

namespace {

/// Places in a chain of corners where it turns by more than an angle.
std::vector<std::size_t> corners_of(const Mesh& mesh, const SharpEdge& edge, double corner_deg) {
  const auto at = [&](std::size_t i) -> const Vec3& {
    return mesh.points[static_cast<std::size_t>(edge.corners[i])];
  };
  const double least = std::cos(corner_deg * std::numbers::pi / 180);
  std::vector<std::size_t> found;
  const std::size_t n = edge.corners.size();
  for (std::size_t i = edge.closed ? 0 : 1; i + 1 < n; ++i) {
    const Vec3 in = at(i) - at(i == 0 ? n - 2 : i - 1), out = at(i + 1) - at(i);
    if (in.normalized().dot(out.normalized()) < least) found.push_back(i);
  }
  return found;
}

}  // namespace

EdgePieces::EdgePieces(const Mesh& mesh, const std::vector<SharpEdge>& edges, double corner_deg)
    : corner_deg_(corner_deg) {
  struct Piece {
    Curve curve;
    std::array<std::int32_t, 2> ends;
  };
  std::vector<Piece> all;
  const auto add = [&](const std::vector<std::int32_t>& corners, bool closed) {
    Piece piece;
    for (const std::int32_t c : corners)
      piece.curve.points.push_back(mesh.points[static_cast<std::size_t>(c)]);
    if (closed) piece.curve.points.pop_back();
    piece.curve.closed = closed;
    piece.ends = {corners.front(), corners.back()};
    all.push_back(std::move(piece));
  };
  for (const SharpEdge& edge : edges) {
    std::vector<std::int32_t> corners = edge.corners;
    std::vector<std::size_t> cuts = corners_of(mesh, edge, corner_deg);
    if (edge.closed && !cuts.empty()) {  // start at a corner
      corners.pop_back();
      std::rotate(corners.begin(), corners.begin() + static_cast<std::ptrdiff_t>(cuts.front()),
                  corners.end());
      corners.push_back(corners.front());
      const std::size_t shift = cuts.front();
      for (std::size_t& cut : cuts) cut -= shift;
      cuts.erase(cuts.begin());
    } else if (edge.closed) {
      add(corners, true);
      continue;
    }
    cuts.push_back(corners.size() - 1);
    std::size_t from = 0;
    for (const std::size_t cut : cuts) {
      add({corners.begin() + static_cast<std::ptrdiff_t>(from),
           corners.begin() + static_cast<std::ptrdiff_t>(cut) + 1},
          false);
      from = cut;
    }
  }
  std::stable_sort(all.begin(), all.end(),
                   [](const Piece& a, const Piece& b) { return length(a.curve) > length(b.curve); });
  for (std::size_t i = 0; i < all.size(); ++i) {
    if (!all[i].curve.closed)
      for (std::size_t e = 0; e < 2; ++e) at_corner_.emplace_back(all[i].ends[e], 2 * i + e);
    pieces_.push_back(std::move(all[i].curve));
    corners_.push_back(all[i].ends);
  }
  std::sort(at_corner_.begin(), at_corner_.end());
}

int EdgePieces::nearest(const Vec3& point) const {
  if (pieces_.empty()) throw Error("the part has no sharp edge");
  std::size_t best = 0;
  double least = std::numeric_limits<double>::infinity();
  for (std::size_t i = 0; i < pieces_.size(); ++i) {
    const double d = distance_to(pieces_[i], point);
    if (d < least) least = d, best = i;
  }
  return static_cast<int>(best) + 1;
}

std::int32_t EdgePieces::corner(const End& end) const {
  return corners_[static_cast<std::size_t>(end.piece)][end.at_end ? 1 : 0];
}

Vec3 EdgePieces::outward(const End& end) const {
  const Polyline3& p = pieces_[static_cast<std::size_t>(end.piece)].points;
  return end.at_end ? (p.back() - p[p.size() - 2]).normalized() : (p.front() - p[1]).normalized();
}

std::optional<EdgePieces::End> EdgePieces::onward(const End& end, double most_turn_deg) const {
  struct Way {
    End end;
    double turn_deg, rise;
  };
  std::vector<Way> ways;
  const std::int32_t at = corner(end);
  for (auto i = std::lower_bound(at_corner_.begin(), at_corner_.end(), std::pair(at, std::size_t{0}));
       i != at_corner_.end() && i->first == at; ++i) {
    const End other{static_cast<int>(i->second / 2), i->second % 2 == 1};
    if (other.piece == end.piece && other.at_end == end.at_end) continue;
    const double turn =
        std::acos(std::clamp(-outward(end).dot(outward(other)), -1.0, 1.0)) * 180 / std::numbers::pi;
    if (turn < most_turn_deg) ways.push_back({other, turn, std::abs(outward(other).z())});
  }
  if (ways.empty()) return std::nullopt;
  const auto least = [&](const auto& value) {
    return *std::min_element(ways.begin(), ways.end(),
                             [&](const Way& a, const Way& b) { return value(a) < value(b); });
  };
  // At the corner of a box two edges turn alike: rims are level, so the more level one goes on.
  const double alike = least([](const Way& way) { return way.turn_deg; }).turn_deg + 45;
  return least([&](const Way& way) { return way.turn_deg > alike ? 2 + way.turn_deg : way.rise; }).end;
}

Curve EdgePieces::through(int number, EdgeExtent extent) const {
  if (number < 1 || static_cast<std::size_t>(number) > pieces_.size())
    throw Error("there is no sharp edge " + std::to_string(number) + "; the part has " +
                std::to_string(pieces_.size()));
  const Curve& first = pieces_[static_cast<std::size_t>(number - 1)];
  if (first.closed || extent == EdgeExtent::piece) return first;
  const double most_turn = extent == EdgeExtent::run ? corner_deg_ : 179.0;
  Curve curve = first;
  std::vector<std::uint8_t> used(pieces_.size(), 0);
  used[static_cast<std::size_t>(number - 1)] = 1;
  const auto is_back = [&] { return (curve.points.front() - curve.points.back()).norm() == 0; };
  const auto go_on = [&](End end) {
    while (!is_back()) {
      const auto next = onward(end, most_turn);
      if (!next || used[static_cast<std::size_t>(next->piece)]) return;
      used[static_cast<std::size_t>(next->piece)] = 1;
      Polyline3 more = pieces_[static_cast<std::size_t>(next->piece)].points;
      if (next->at_end) std::reverse(more.begin(), more.end());
      curve.points.insert(curve.points.end(), more.begin() + 1, more.end());
      end = {next->piece, !next->at_end};
    }
  };
  go_on({number - 1, true});
  if (!is_back() && extent == EdgeExtent::loop)
    throw Error(
        "the loop through sharp edge " + std::to_string(number) +
        " does not come back to its start; give its pieces one by one, or take the border of a region");
  std::reverse(curve.points.begin(), curve.points.end());
  go_on({number - 1, false});
  std::reverse(curve.points.begin(), curve.points.end());
  if (is_back()) {
    curve.points.pop_back();
    curve.closed = true;
  }
  return curve;
}

Curve EdgePieces::between(const Vec3& from, const Vec3& to) const {
  // Over the points of all pieces; equal mesh corners of different pieces are one place.
  std::vector<std::vector<std::size_t>> number(pieces_.size());
  std::vector<Vec3> places;
  std::vector<std::vector<std::size_t>> next;
  std::vector<std::pair<std::int32_t, std::size_t>> shared;
  for (const auto& [mesh_corner, end] : at_corner_) {
    if (shared.empty() || shared.back().first != mesh_corner) {
      shared.emplace_back(mesh_corner, places.size());
      const Polyline3& p = pieces_[end / 2].points;
      places.push_back(end % 2 == 1 ? p.back() : p.front());
    }
  }
  const auto shared_at = [&](std::int32_t mesh_corner) {
    return std::lower_bound(shared.begin(), shared.end(), std::pair(mesh_corner, std::size_t{0}))->second;
  };
  for (std::size_t i = 0; i < pieces_.size(); ++i) {
    const Polyline3& p = pieces_[i].points;
    for (std::size_t k = 0; k < p.size(); ++k) {
      const bool is_end = !pieces_[i].closed && (k == 0 || k + 1 == p.size());
      number[i].push_back(is_end ? shared_at(corners_[i][k == 0 ? 0 : 1]) : places.size());
      if (!is_end) places.push_back(p[k]);
    }
  }
  next.resize(places.size());
  const auto link = [&](std::size_t a, std::size_t b) {
    next[a].push_back(b);
    next[b].push_back(a);
  };
  for (std::size_t i = 0; i < pieces_.size(); ++i) {
    for (std::size_t k = 0; k + 1 < number[i].size(); ++k) link(number[i][k], number[i][k + 1]);
    if (pieces_[i].closed) link(number[i].back(), number[i].front());
  }
  if (places.empty()) throw Error("the part has no sharp edge");
  const auto nearest_place = [&](const Vec3& p) {
    return static_cast<std::size_t>(std::min_element(places.begin(), places.end(),
                                                     [&](const Vec3& a, const Vec3& b) {
                                                       return (a - p).squaredNorm() < (b - p).squaredNorm();
                                                     }) -
                                    places.begin());
  };
  const std::size_t start = nearest_place(from), goal = nearest_place(to);
  // E. W. Dijkstra, "A note on two problems in connexion with graphs", 1959.
  std::vector<double> way(places.size(), std::numeric_limits<double>::infinity());
  std::vector<std::size_t> came_from(places.size(), places.size());
  std::priority_queue<std::pair<double, std::size_t>, std::vector<std::pair<double, std::size_t>>,
                      std::greater<>>
      open;
  way[start] = 0;
  open.emplace(0.0, start);
  while (!open.empty()) {
    const auto [distance, here] = open.top();
    open.pop();
    if (distance > way[here]) continue;
    for (const std::size_t there : next[here]) {
      const double longer = distance + (places[there] - places[here]).norm();
      if (longer >= way[there]) continue;
      way[there] = longer;
      came_from[there] = here;
      open.emplace(longer, there);
    }
  }
  if (start == goal) throw Error("both places are nearest to the same corner of a sharp edge");
  if (!std::isfinite(way[goal])) throw Error("no sharp edges lead from the one place to the other");
  Curve curve;
  for (std::size_t at = goal; at < places.size(); at = came_from[at]) curve.points.push_back(places[at]);
  return reversed(std::move(curve));
}

std::vector<Curve> borders_of(const std::vector<Rim>& rims, bool holes_only) {
  std::vector<Curve> curves;
  for (const Rim& rim : rims)
    if (rim.is_hole || !holes_only) curves.push_back({rim.points, true});
  return curves;
}

}  // namespace yardpass
