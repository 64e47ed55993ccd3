/// Where a tool can stand at a given height: the areas that roughing clears, level by level.
#pragma once

#include <optional>
#include <vector>

#include "yardpass/contact/tip_surface.h"
#include "yardpass/geom/region.h"

namespace yardpass {

struct LevelAreaOptions {
  /// The area keeps so far from what is blocked, and its outline lies nowhere farther inside than about twice
  /// this [mm]; REQUIRES: above 0
  double tolerance_mm = 0.01;
  /// Necks with less play than this, from side to side beyond the tool's own width, may be closed [mm]; none
  /// with more is. REQUIRES: above 0
  double least_play_mm = 0.02;
  /// Between the nodes [mm]; nothing: as the tolerance lets chords bulge over the rounds of the tool.
  std::optional<double> spacing_mm = {};
};

struct LevelArea {
  Region area;
  std::vector<Vec2> closed_necks;  ///< where two outlines come so near that they were kept apart
  std::int64_t unproven = 0;       ///< chords that could not be proved free; lift them before they are cut
};

/// Draws, for any number of heights, the places within a box where the tip surface is at or below that
/// height. The heights of a grid of nodes are found once. On the grid's edges the outline is exact: what is
/// free of an edge is found by leaps (free_pieces), however narrow. A cell that more than one outline passes
/// is split in four until each quarter holds one, or is as small as the least play: then necks close, and
/// never open. Corners are the meeting of the tangents at both sides. Each chord is proved free by
/// `clearance`, and its middle pushed out where it is not. What lies between two free nodes of an edge, or
/// within a cell without outline, is found only as far as it is flatter than the tolerance; islands smaller
/// than a cell that meet no edge are met by the proofs of chords, or by whoever lifts what is drawn inside.
///
/// Source of the walk from cell to cell: W. E. Lorensen and H. E. Cline, "Marching cubes", 1987, in two
/// dimensions. Immutable after construction; construction and at() run on all cores, and what they give does
/// not depend on their number. Throws Error if an option breaks what it asks for.
class LevelAreas {
 public:
  LevelAreas(const TipSurface& surface, const Box2& box, const LevelAreaOptions& options = {},
             const Progress& progress = {});

  [[nodiscard]] LevelArea at(double z) const;
  /// Lowest touch on the grid inside the area, of a tool thicker by the tolerance; kNothingBelow if there is
  /// none.
  [[nodiscard]] double lowest(const Region& area) const;
  /// Somewhere on the grid, inside the area, the tool touches the part at exactly this height.
  [[nodiscard]] bool rests_at(double z, const Region& area) const;
  [[nodiscard]] double spacing_mm() const { return spacing_; }

 private:
  friend class LevelDrawing;
  [[nodiscard]] Vec2 node(int i, int j) const { return origin_ + spacing_ * Vec2(i, j); }
  [[nodiscard]] const HeightAt& at_node(int i, int j) const {
    return nodes_[static_cast<std::size_t>(j) * static_cast<std::size_t>(columns_) +
                  static_cast<std::size_t>(i)];
  }

  TipSurface surface_, thicker_;
  LevelAreaOptions options_;
  Box2 box_;
  double spacing_;
  Vec2 origin_;
  int columns_, rows_;
  std::vector<HeightAt> nodes_;  // of the thicker tool
};

}  // namespace yardpass
