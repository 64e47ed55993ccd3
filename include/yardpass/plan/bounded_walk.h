/// Passes over an area of a level that never meet more material than a given angle of the cutter.
#pragma once

#include <functional>
#include <optional>
#include <vector>

#include "yardpass/geom/region.h"
#include "yardpass/plan/cuts.h"

namespace yardpass {

/// An area of a level on square cells; value (column, row) stands for the place
/// origin + cell * (column, row). Distances are right near the edges and clamped a few cells away from them.
struct LevelRaster {
  Vec2 origin{0, 0};
  double cell_mm = 0;
  int columns = 0, rows = 0;
  std::vector<float> material;  ///< to the edge of what the cutter can meet [mm]; positive within it
  std::vector<float> blocked;   ///< to the edge of where the axis may be [mm]; positive where it must not
  std::vector<std::uint8_t> wanted;  ///< material that is to be cut; other material is only in the way

  [[nodiscard]] std::size_t index(int column, int row) const {
    return static_cast<std::size_t>(row) * static_cast<std::size_t>(columns) +
           static_cast<std::size_t>(column);
  }
  [[nodiscard]] Vec2 place(int column, int row) const { return origin + cell_mm * Vec2(column, row); }
};

/// What stands at a level.
struct LevelMaterial {
  std::function<bool(const Vec2&)> stands;  ///< material higher than the level; false beside the block
  std::function<bool(const Vec2&)> wanted;  ///< of what stands: it is to be cut
  Box2 block;                               ///< its edges are exact
  bool all_stands = false;                  ///< everywhere in the block
};

/// The raster of an area for a cutter of a radius, `margin_mm` inside the axis' area, so that chords between
/// its places stay in it. Cells are made coarser where there would be more than `most_cells`.
[[nodiscard]] LevelRaster level_raster(const Region& axis_area, const LevelMaterial& material,
                                       double radius_mm, double cell_mm, double margin_mm,
                                       std::size_t most_cells = 30000000);

/// On which side of the way the material lies.
enum class MaterialHand : std::uint8_t { right, left, either };

struct BoundedWalkOptions {
  double radius_mm = 0;  ///< of the cutter where it is widest in the step; REQUIRES: above 0
  double engagement_deg =
      60;  ///< at most so much of the cutter's leading half meets material; REQUIRES: 10 to 180
  MaterialHand hand = MaterialHand::right;  ///< either: passes of both hands in turn
  Vec2 start{0, 0};                         ///< begins near here
};

/// How the tool gets down where nothing is cleared. Called from one thread at a time.
struct WaysDown {
  /// A circle about a place with so much room to what is blocked, of no less than a radius; nothing if none
  /// is proven free.
  std::function<std::optional<Helix>(const Vec2& at, double room_mm, double least_mm)> helix;
  /// The line may be ramped down along.
  std::function<bool(const Vec2& from, const Vec2& to)> ramp;
  bool only_ramps = false;
};

struct WalkPiece {
  enum class Kind : std::uint8_t {
    cut,
    link,   ///< through cleared ground
    helix,  ///< around `helix`, from and to its only point
    ramp    ///< down along its line
  };
  Kind kind = Kind::cut;
  Polyline2 points = {};
  Helix helix = {};
};

/// Ground that nothing led into, or that no loop fits into.
struct WalkRemains {
  Vec2 at{0, 0};
  double area_mm2 = 0;
};

struct BoundedWalk {
  std::vector<WalkPiece> pieces;  ///< the tool is lifted where one does not begin where the last one ends
  std::vector<WalkRemains> remains;
  std::int64_t steps = 0;
};

/// A walk with the material on one hand: at each step the tool turns as far towards it as walls and the angle
/// let it, so that spirals out of a helix, arcs over corners, loops in slots and ways round islands come from
/// one rule. What it has passed is kept as a distance field on the raster. From the end of a pass the nearest
/// uncleared ground that cleared ground leads to is found over a grid of nodes; where there is none the tool
/// comes down at the place with most room. What is too narrow for its turns is walked again with smaller
/// ones, three rounds in all. Stretches of more than a radius that meet nothing are links. Ends in bounded
/// steps: every node is tried at most three times. A plain function of its input: same bits on any machine
/// that rounds alike. Throws Error if an option breaks what it asks for.
[[nodiscard]] BoundedWalk walk_bounded(LevelRaster raster, const BoundedWalkOptions& options,
                                       const WaysDown& down);

}  // namespace yardpass
