#include "yardpass/geom/joints.h"

#include <algorithm>
#include <numeric>

namespace yardpass {

namespace {

bool has_sides(const std::array<std::int32_t, 3>& t) { return t[0] != t[1] && t[1] != t[2] && t[2] != t[0]; }

}  // namespace

Joints::Joints(const Mesh& mesh) : across_(3 * mesh.triangles.size(), kNoSide) {
  // Sides are put into one bucket for each lower corner, so that only a handful have to be compared.
  std::vector<std::int32_t> start(mesh.points.size() + 1, 0);
  const auto lower = [&](std::int32_t side) { return std::min(side_from(mesh, side), side_to(mesh, side)); };
  const auto upper = [&](std::int32_t side) { return std::max(side_from(mesh, side), side_to(mesh, side)); };
  const auto for_each_side = [&](const auto& work) {
    for (std::size_t t = 0; t < mesh.triangles.size(); ++t)
      if (has_sides(mesh.triangles[t]))
        for (int k = 0; k < 3; ++k) work(static_cast<std::int32_t>(3 * t) + k);
  };
  for_each_side([&](std::int32_t side) { ++start[static_cast<std::size_t>(lower(side)) + 1]; });
  std::partial_sum(start.begin(), start.end(), start.begin());
  std::vector<std::int32_t> bucket(static_cast<std::size_t>(start.back()));
  std::vector<std::int32_t> fill(start.begin(), start.end() - 1);
  for_each_side([&](std::int32_t side) {
    bucket[static_cast<std::size_t>(fill[static_cast<std::size_t>(lower(side))]++)] = side;
  });
  for (std::size_t corner = 0; corner + 1 < start.size(); ++corner) {
    const auto first = bucket.begin() + start[corner], last = bucket.begin() + start[corner + 1];
    std::sort(first, last, [&](std::int32_t a, std::int32_t b) {
      return std::pair(upper(a), a) < std::pair(upper(b), b);
    });
    for (auto it = first; it != last;) {
      auto end = it;
      while (end != last && upper(*end) == upper(*it)) ++end;
      const auto count = end - it;
      if (count == 1) across_[static_cast<std::size_t>(*it)] = kOpen;
      if (count == 2) {
        across_[static_cast<std::size_t>(it[0])] = it[1];
        across_[static_cast<std::size_t>(it[1])] = it[0];
      }
      if (count > 2) {
        crowded_.push_back(*it);
        for (; it != end; ++it) across_[static_cast<std::size_t>(*it)] = kCrowded;
      }
      it = end;
    }
  }
}

Vec3 unit_normal(const Mesh& mesh, std::size_t triangle, bool turned) {
  const Vec3 &a = mesh.corner(triangle, 0), &b = mesh.corner(triangle, 1), &c = mesh.corner(triangle, 2);
  Vec3 normal = (b - a).cross(c - a);
  const double length = normal.norm();
  if (!(length > 0)) return Vec3::Zero();
  normal /= turned ? -length : length;
  return normal;
}

std::vector<std::uint8_t> turned_over(const Mesh& mesh, const Joints& joints) {
  const Vec3 middle = mesh.triangles.empty() ? Vec3(0, 0, 0) : mesh.box().center();
  std::vector<std::uint8_t> turned(mesh.triangles.size(), 0);
  std::vector<std::uint8_t> seen(mesh.triangles.size(), 0);
  std::vector<std::int32_t> piece;
  for (std::size_t seed = 0; seed < mesh.triangles.size(); ++seed) {
    if (seen[seed]) continue;
    piece.assign(1, static_cast<std::int32_t>(seed));
    seen[seed] = 1;
    bool closed = true;
    double volume = 0, upward = 0;
    for (std::size_t at = 0; at < piece.size(); ++at) {
      const std::int32_t t = piece[at];
      const auto index = static_cast<std::size_t>(t);
      const Vec3 a = mesh.corner(index, 0) - middle, b = mesh.corner(index, 1) - middle,
                 c = mesh.corner(index, 2) - middle;
      const double sign = turned[index] ? -1 : 1;
      volume += sign * a.dot(b.cross(c));
      upward += sign * cross2(plan(b - a), plan(c - a));
      for (int k = 0; k < 3; ++k) {
        const std::int32_t side = 3 * t + k, other = joints.across(side);
        closed = closed && other >= 0;
        if (other < 0) continue;
        const auto next = static_cast<std::size_t>(Joints::triangle_of(other));
        if (seen[next]) continue;
        seen[next] = 1;
        turned[next] = turned[index] ^ static_cast<std::uint8_t>(is_flipped(mesh, side, other));
        piece.push_back(static_cast<std::int32_t>(next));
      }
    }
    if ((closed ? volume : upward) < 0)
      for (const std::int32_t t : piece) turned[static_cast<std::size_t>(t)] ^= 1;
  }
  return turned;
}

Shells shells_of(const Mesh& mesh) {
  std::vector<std::int32_t> parent(mesh.points.size());
  std::iota(parent.begin(), parent.end(), 0);
  const auto root = [&](std::int32_t i) {
    while (parent[static_cast<std::size_t>(i)] != i) {
      auto& up = parent[static_cast<std::size_t>(i)];
      up = parent[static_cast<std::size_t>(up)];
      i = up;
    }
    return i;
  };
  for (const auto& t : mesh.triangles)
    for (std::size_t k = 1; k < 3; ++k) {
      const auto a = root(t[0]), b = root(t[k]);
      parent[static_cast<std::size_t>(std::max(a, b))] = std::min(a, b);
    }
  Shells shells;
  std::vector<std::int32_t> number(mesh.points.size(), -1);
  shells.of_triangle.reserve(mesh.triangles.size());
  for (const auto& t : mesh.triangles) {
    auto& shell = number[static_cast<std::size_t>(root(t[0]))];
    if (shell < 0) shell = shells.count++;
    shells.of_triangle.push_back(shell);
  }
  return shells;
}

}  // namespace yardpass
