/// Regions of a part's surface. A mesh has no faces in the designer's sense, so they are found again: the
/// surface is split along creases, and where a tight bend (a fillet or a round) meets the broad surface
/// beside it.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "yardpass/geom/error.h"
#include "yardpass/geom/joints.h"

namespace yardpass {

struct RegionOptions {
  /// Joints that turn by more than this split regions.
  double crease_deg = 25;
  /// Smooth surface that bends tighter than this radius is split from broader surface. Empty: from the part
  /// itself, if its radii fall into two heaps, tight and broad, with a clear valley between them. 0: bends
  /// are not split off.
  std::optional<double> bend_radius_mm = {};
  /// A region's normals stay within this angle of the normal where it began. 0: no limit.
  double total_turn_deg = 0;
  /// Regions below this area join the neighbour they have the longest smooth border with. Empty: one
  /// ten-thousandth of the whole surface.
  std::optional<double> scrap_mm2 = {};
};

enum class RegionKind {
  level,   ///< plane, within half a degree of level
  plane,   ///< any other plane
  fillet,  ///< tight bend, hollow
  round,   ///< tight bend, bulging
  curved,  ///< all else
};
/// "level", "plane", ...
[[nodiscard]] const char* name_of(RegionKind kind);

struct SurfaceRegion {
  RegionKind kind = RegionKind::curved;
  std::int64_t triangles = 0;
  double area_mm2 = 0;
  Box3 box;
  double least_slope_deg = 0, greatest_slope_deg = 0;  ///< 0 level, 90 upright, above 90 facing down
  double mean_slope_deg = 0;                           ///< by area
  double bend_radius_mm = 0;                           ///< of fillets and rounds: the median by area
  Vec3 at{0, 0, 0};         ///< middle of the triangle that is nearest to the region's own middle
  std::int32_t group = -1;  ///< of the file, if all of it is in one
  std::vector<std::int32_t> neighbours;  ///< regions that share an edge with it, ascending
};

/// Every triangle belongs to exactly one region. Regions are numbered from 1, the largest first; number n is
/// regions[n - 1].
struct RegionMap {
  std::vector<std::int32_t> of_triangle;
  std::vector<SurfaceRegion> regions;
  double bend_radius_mm = 0;  ///< in force; 0: bends are not split off
  bool bend_from_part = false;
  double scrap_mm2 = 0;
  std::int64_t scraps = 0;  ///< regions that were joined to a neighbour for being small
  [[nodiscard]] const SurfaceRegion& operator[](std::int32_t number) const {
    return regions[static_cast<std::size_t>(number - 1)];
  }
};

/// Splits the surface. `group_of_triangle`: groups of the file, borders of which are borders of regions;
/// empty if there are none. The result does not depend on the number of threads. Source of the curvature
/// estimate: S. Rusinkiewicz, "Estimating Curvatures and Their Derivatives on Triangle Meshes", 2004.
[[nodiscard]] RegionMap split_into_regions(const Mesh& mesh, const Joints& joints,
                                           const std::vector<std::int32_t>& group_of_triangle = {},
                                           const RegionOptions& options = {}, const Progress& progress = {});

/// The greater principal curvature of each triangle [1/mm], by size, positive where the part bulges; from
/// normals that are averaged over smooth joints only.
[[nodiscard]] std::vector<float> greatest_curvature(const Mesh& mesh, const Joints& joints,
                                                    const std::vector<std::uint8_t>& turned,
                                                    double crease_deg, const Progress& progress = {});

}  // namespace yardpass
