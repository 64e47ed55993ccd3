/// What a strategy hands on: where to cut, in which order, without any moves through the air.
#pragma once

#include <cstdint>
#include <limits>
#include <optional>
#include <string>
#include <vector>

#include "yardpass/geom/depth_lines.h"
#include "yardpass/geom/edge_section.h"
#include "yardpass/geom/mesh.h"
#include "yardpass/geom/polyline.h"
#include "yardpass/geom/region.h"
#include "yardpass/keys/quantity.h"

namespace yardpass {

/// How the cutter gets down to the start of a cut.
enum class Entry {
  straight,  ///< feed straight down: finishing, where little material is left
  ramp,      ///< down along the cut itself at a shallow angle: never straight into solid material
  helix,     ///< down around a helix beside the start of the cut, see Cut::helix
};

/// A way down round an upright axis. Its circle is proven free at the height of the cut's start, and so above
/// it; where it begins follows from the material as it then is.
struct Helix {
  Vec2 centre{0, 0};
  double radius_mm = 0;
  bool clockwise = false;  ///< seen from above
};

/// Where the part lies, seen along the cut: leads bend away from it.
enum class Side : std::uint8_t { below, left, right };

/// One unbroken piece of cutting. Every point of the line is proven free of the part with its allowance.
struct Cut {
  Polyline3 points;     ///< tip positions [mm]; of a closed cut the first point is not repeated
  bool closed = false;  ///< runs back to its first point; may be entered at any of its points
  Entry entry = Entry::straight;
  Side part = Side::below;
  /// Row, ring or level of its strategy, from 1; pieces of one pass share it. 0: the strategy counts none.
  std::int32_t pass = 0;
  /// Run at rapid: whoever links it proves that no material is in its way, or refuses.
  bool rapid = false;
  /// Begins where the cut before it ends and runs through ground that is cleared: a link. Whoever links may
  /// take another way.
  bool link = false;
  Helix helix = {};  ///< for an entry by helix; the cut's first point lies on its circle
};

/// Cuts that are done before the next group begins: an area, a level of an area, a corner.
struct CutGroup {
  std::vector<Cut> cuts;
  /// Else whoever links them may reorder or turn them round to save air.
  bool keep_order = true, keep_direction = true;
  std::vector<std::int32_t> after =
      {};  ///< groups, by index, that must be cut first; all of them earlier ones
  double level_z = std::numeric_limits<double>::quiet_NaN();  ///< of a group that lies at one height [mm]
};

struct CutPlan {
  std::vector<CutGroup> groups;
  bool keep_group_order = true;  ///< else only what `after` of each group says
  /// How far below their lines the cuts of each pass are run, straight down (Cut::pass counts from 1); a pass
  /// beyond the list runs on its line. Whoever links them goes from cut to cut on the lines themselves.
  std::vector<DepthLine> sunk = {};
  /// The part of the area that the strategy chose to work in: its border is a seam with what others finished.
  std::optional<Region> seam = {};
  std::vector<SettledValue> facts = {};    ///< what the strategy decided by itself
  std::vector<Note> notes = {};            ///< what the user should know
  std::vector<Polyline3> left_alone = {};  ///< what it was to follow and does not, for pictures

  [[nodiscard]] bool empty() const;  ///< no cuts
  [[nodiscard]] std::size_t cut_count() const;
};

/// Where and how deep cuts go into the part on purpose, straight down below the surface with its allowance;
/// told before they are planned, for whoever judges them.
struct IntendedCuts {
  std::vector<DepthLine> along = {};  ///< on these lines, and nowhere else
  Region within = {};                 ///< or anywhere in this area, up to:
  double depth_mm = 0;
  bool keeps_rim = false;  ///< nothing of the tool enters the ground beside that area
  Mesh keeps_off = {};     ///< nor this: the part without what is meant to be cut
  EdgesAsked edges = {};   ///< that it breaks, to be measured afterwards
  [[nodiscard]] bool none() const { return along.empty() && within.empty(); }
  [[nodiscard]] double greatest_mm() const;
};

/// Cuts as one group, in their order.
[[nodiscard]] CutPlan plan_of(std::vector<Cut> cuts);

}  // namespace yardpass
