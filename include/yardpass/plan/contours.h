/// Contours: the lines at one height along which the tool rests against the part.
#pragma once

#include <memory>
#include <optional>
#include <span>
#include <vector>

#include "yardpass/contact/tip_surface.h"
#include "yardpass/geom/region.h"

namespace yardpass {

struct ContourOptions {
  /// The lines keep free of the part and leave no more than this on it, normal to it [mm]; REQUIRES: above 0
  double tolerance_mm = 0.01;
  /// Between the nodes from which contours are found [mm]; nothing: 0.6 of the tool's radius, but no more
  /// than a million nodes. It changes how long the work takes, not which contours there are.
  std::optional<double> spacing_mm = {};
};

struct Contour {
  Polyline2 points;     ///< the material lies on the right; of a closed one the first point is not repeated
  bool closed = false;  ///< else it ends where the wanted area does, or where it could not be followed
};

struct LevelContours {
  double z = 0;
  std::vector<Contour> lines = {};
  /// Where a gap could not be ruled out through which the tool goes with less play than the tolerance.
  std::vector<Vec2> unproven_gaps = {};
  std::vector<Vec2> broken_off = {};  ///< where a contour could not be followed
};

/// Finds, for any number of heights, the contours of the tip surface in an area of the tool's axis. Each is
/// followed by touches along the surface of a tool thicker by half the tolerance, and each of its pieces is
/// proven for all its points on both sides: free of the part, and met everywhere by a tool thicker by the
/// tolerance. So walls may be as steep as they like, upright ones too, and inner corners are exact: the
/// meeting of the two walls.
///
/// Found are: all that pass an edge of a grid of nodes, and islands under such an edge; all holes and slots
/// through which the tool goes with more play than about the tolerance, since of every cell of the grid whose
/// corners are blocked it is proven that one triangle blocks it whole, or it is quartered (what stays
/// unproven is listed). An island so low that its contour lies within a cell is not found.
///
/// At a height between a level face of the part and the tolerance above it there is no sound contour: ask for
/// heights clear of flats.
///
/// Source of the proof by concave pieces: see contact/tip_surface.h. Immutable after construction, so any
/// number of threads may ask; construction runs on all cores and its result does not depend on their number.
/// Throws Error if an option breaks what it asks for.
class Contours {
 public:
  Contours(const TipSurface& surface, const Region& area, const ContourOptions& options = {},
           const Progress& progress = {});
  ~Contours();
  Contours(Contours&&) noexcept;
  Contours& operator=(Contours&&) noexcept;

  /// The contours at this height. They go on a little beyond the area; see `within`.
  [[nodiscard]] LevelContours at(double z) const;
  /// Only where the contour runs within an area, and a little beyond.
  [[nodiscard]] LevelContours at(double z, const Region& only) const;
  /// The greatest height of the tip surface at the nodes; kNothingBelow if there is no part below the area.
  [[nodiscard]] double highest() const;

  /// Down a wall that is closed over a range of heights, in one unbroken line: along `laps`, closed contours
  /// one below the other, it falls from each to the next in about one lap, and ends with a level lap on the
  /// last. It begins at the first point of the first; the material lies on the right, or on the left. Proven
  /// like contours. Nothing if it cannot be followed. REQUIRES: at least two laps, highest first
  struct Lap {
    const Contour& contour;
    double z;
  };
  [[nodiscard]] std::optional<Polyline3> helix(std::span<const Lap> laps, bool material_left = false) const;

 private:
  struct Grid;
  std::unique_ptr<const Grid> grid_;
};

/// The pieces of a contour inside an area; whole if all of it is.
[[nodiscard]] std::vector<Contour> within(const Contour& contour, const Region& area);

}  // namespace yardpass
