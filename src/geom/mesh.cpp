#include "yardpass/geom/mesh.h"

#include <algorithm>
#include <cmath>
#include <cstring>
#include <map>
#include <numeric>
#include <unordered_map>

namespace yardpass {

Box3 Mesh::box() const {
  Box3 box;
  for (const auto& triangle : triangles)
    for (const auto index : triangle) box.extend(points[static_cast<std::size_t>(index)]);
  return box;
}

namespace {

struct Key {
  std::array<std::int64_t, 3> cell;
  bool operator==(const Key&) const = default;
};

struct KeyHash {
  std::size_t operator()(const Key& key) const {
    std::uint64_t hash = 0x9e3779b97f4a7c15ull;
    for (const auto value : key.cell) {
      hash ^= static_cast<std::uint64_t>(value);
      hash *= 0xff51afd7ed558ccdull;
      hash ^= hash >> 32;
    }
    return static_cast<std::size_t>(hash);
  }
};

Key key_of_bits(const Vec3& p) {
  Key key{};
  for (int k = 0; k < 3; ++k) {
    const double value = p[k] + 0.0;  // -0 and +0 are one place
    std::memcpy(&key.cell[static_cast<std::size_t>(k)], &value, sizeof value);
  }
  return key;
}

Key key_of_cell(const Vec3& p, double size) {
  Key key{};
  for (int k = 0; k < 3; ++k) key.cell[static_cast<std::size_t>(k)] = std::llround(std::floor(p[k] / size));
  return key;
}

}  // namespace

Mesh weld(const Mesh& mesh, double tolerance_mm) {
  Mesh result;
  std::unordered_multimap<Key, std::int32_t, KeyHash> places;
  places.reserve(mesh.points.size());
  std::vector<std::int32_t> new_index(mesh.points.size());
  const auto find = [&](const Vec3& p) -> std::int32_t {
    if (tolerance_mm <= 0) {
      const auto found = places.find(key_of_bits(p));
      return found == places.end() ? -1 : found->second;
    }
    const Key home = key_of_cell(p, tolerance_mm);
    std::int32_t best = -1;
    for (int step = 0; step < 27; ++step) {
      const Key near{
          {home.cell[0] + step % 3 - 1, home.cell[1] + step / 3 % 3 - 1, home.cell[2] + step / 9 - 1}};
      const auto [first, last] = places.equal_range(near);
      for (auto it = first; it != last; ++it) {
        const bool close = (result.points[static_cast<std::size_t>(it->second)] - p).norm() <= tolerance_mm;
        if (close && (best < 0 || it->second < best)) best = it->second;
      }
    }
    return best;
  };
  for (std::size_t i = 0; i < mesh.points.size(); ++i) {
    const Vec3& p = mesh.points[i];
    std::int32_t index = find(p);
    if (index < 0) {
      index = static_cast<std::int32_t>(result.points.size());
      result.points.push_back(p);
      places.emplace(tolerance_mm > 0 ? key_of_cell(p, tolerance_mm) : key_of_bits(p), index);
    }
    new_index[i] = index;
  }
  result.triangles.reserve(mesh.triangles.size());
  for (const auto& t : mesh.triangles)
    result.triangles.push_back({new_index[static_cast<std::size_t>(t[0])],
                                new_index[static_cast<std::size_t>(t[1])],
                                new_index[static_cast<std::size_t>(t[2])]});
  return result;
}

EdgeReport edge_report(const Mesh& mesh) {
  struct Use {
    std::int32_t low, high;
    bool forward;
  };
  EdgeReport report;
  std::vector<Use> uses;
  uses.reserve(mesh.triangles.size() * 3);
  for (const auto& t : mesh.triangles) {
    if (t[0] == t[1] || t[1] == t[2] || t[2] == t[0]) {
      ++report.zero_area;
      continue;
    }
    for (std::size_t k = 0; k < 3; ++k) {
      const auto a = t[k], b = t[(k + 1) % 3];
      uses.push_back({std::min(a, b), std::max(a, b), a < b});
    }
  }
  std::sort(uses.begin(), uses.end(),
            [](const Use& x, const Use& y) { return x.low != y.low ? x.low < y.low : x.high < y.high; });
  for (std::size_t i = 0; i < uses.size();) {
    std::size_t j = i, forward = 0;
    for (; j < uses.size() && uses[j].low == uses[i].low && uses[j].high == uses[i].high; ++j)
      forward += uses[j].forward;
    ++report.edges;
    const std::size_t count = j - i;
    report.open += count == 1;
    report.crowded += count > 2;
    report.flipped += count == 2 && forward != 1;
    i = j;
  }
  return report;
}

std::vector<Flat> flats(const Mesh& mesh, double least_area_mm2) {
  std::vector<Flat> pieces;
  for (std::size_t i = 0; i < mesh.triangles.size(); ++i) {
    const Vec3 &a = mesh.corner(i, 0), &b = mesh.corner(i, 1), &c = mesh.corner(i, 2);
    const double area = 0.5 * cross2(plan(b) - plan(a), plan(c) - plan(a));
    const bool level = std::max({a.z(), b.z(), c.z()}) - std::min({a.z(), b.z(), c.z()}) <= 1e-9;
    if (level && area > 0) pieces.push_back({a.z(), area});
  }
  std::sort(pieces.begin(), pieces.end(), [](const Flat& x, const Flat& y) { return x.z_mm > y.z_mm; });
  std::vector<Flat> result;
  for (const Flat& piece : pieces) {
    if (!result.empty() && result.back().z_mm - piece.z_mm < 1e-6)
      result.back().area_mm2 += piece.area_mm2;
    else
      result.push_back(piece);
  }
  std::erase_if(result, [&](const Flat& flat) { return flat.area_mm2 < least_area_mm2; });
  return result;
}

}  // namespace yardpass
