/// Z-level roughing: level by level from the top of the stock, loops inside each area where the tool has
/// room.
#pragma once

#include "yardpass/keys/keys.h"
#include "yardpass/plan/cuts.h"
#include "yardpass/plan/level_order.h"
#include "yardpass/plan/site.h"

namespace yardpass {

enum class LevelPattern : std::uint8_t {
  loops,   ///< that follow the outlines of part and stock
  lines,   ///< straight at an angle, then once along the outline
  bounded  ///< with the material always on one hand and never more of the cutter in it than an angle
};

/// Which way loops and lines are cut. To and fro: every second loop of an area, or line, runs back.
enum class LoopDirection : std::uint8_t { climb, conventional, zigzag };

/// How solid material is entered where nothing is open: a helix, else a ramp along the cut; a ramp; straight
/// down.
enum class LevelEntry : std::uint8_t { helix, ramp, plunge };

struct RoughingOptions {
  double stepdown_mm = 2;  ///< between levels; REQUIRES: above 0
  /// Between loops or lines; up to the tool's radius no peg can stay, above it pegs are looked for. REQUIRES:
  /// above 0, below the tool's diameter
  double stepover_mm = 3;
  double ramp_angle_deg = 3;  ///< of helices and ramps, from level
  LoopDirection direction = LoopDirection::climb;
  /// Material before the operation that is thinner than this, sideways, is left; so is what is thinner than
  /// two and a half cells of it. REQUIRES: at least 0
  double thinnest_mm = 0.3;
  LevelPattern pattern = LevelPattern::loops;
  double angle_deg = 0;  ///< of lines, from X
  /// Least radius of corners of loops inside an area. Along walls only if asked for: else they go into
  /// corners as far as the tool fits. REQUIRES: at least 0
  double corner_radius_mm = 0;
  bool round_at_walls = false;
  LevelEntry entry = LevelEntry::helix;
  double helix_radius_mm = 2.5;  ///< of the tool's axis, where there is room; REQUIRES: at least the least
  double least_helix_mm = 0.75;  ///< below this no helix is made; REQUIRES: above 0
  double least_ramp_mm = 2.5;    ///< a cut that spans less in X and Y is not ramped along
  LevelOrder order = LevelOrder::by_area;
  /// Of passes with bounded engagement: so much of the cutter's leading half meets material at most, at the
  /// top of the step; to and fro: with the material on either hand in turn. REQUIRES: 20 to 150
  double engagement_deg = 60;
  /// Where slopes keep thicker steps than this between two levels, and wider ones than `thinnest_mm`, thinner
  /// levels are cut in between; 0: nowhere. REQUIRES: at least 0
  double step_on_slopes_mm = 0;
  /// Ways in may come from beside the stock, outside the area, where that reaches to the stock's side.
  bool may_leave = false;
};

/// `stepdown`, `stepover`, `ramp_angle`, `direction`, `thinnest`.
void keys_of(RoughingOptions& options, const Tool& tool, Keys& keys);
[[nodiscard]] Usual usual_of(const RoughingOptions& options, const Tool& tool);

/// Levels lie a stepdown apart from the site's top (without one, the top of the material before it) and one
/// on each flat of the part; none below the site's bottom, where one lies too, or below the lowest touch in
/// the area. Of each level only what there is to cut of the material before the operation, see `cut_area`;
/// without any, all of it. A group is an area of a level, from the inside outwards; its passes are numbered
/// by level. Loops keep up to the site's tolerance farther from walls than the allowance asks. No peg stays:
/// every place of an area is within a stepover of a loop, since a loop is drawn at every stepover from its
/// outline until nothing is left; so with a stepover up to the tool's radius everything is passed. Above it
/// what stays is computed and cut. Throws Error if an option breaks what it asks for, or if the site has
/// neither a top nor material.
[[nodiscard]] CutPlan cuts_of(const RoughingOptions& options, const Site& site,
                              const Progress& progress = {});

}  // namespace yardpass
