/// Where an operation works and what it meets there: the same for every strategy.
#pragma once

#include <limits>
#include <span>

#include "yardpass/contact/tool_surface.h"
#include "yardpass/geom/region.h"
#include "yardpass/keys/quantity.h"
#include "yardpass/stock/stock.h"

namespace yardpass {

/// Holds references: what they name must outlive it.
struct Site {
  const ToolSurface& surface;     ///< the cutter over the guided part; carries allowance and rounding reserve
  const Region& area;             ///< for the tool's axis
  const Stock* before = nullptr;  ///< what earlier operations leave; nothing: material everywhere
  double tolerance_mm = 0.01;     ///< how far the path may lie above the ideal one
  /// What lies higher or lower is left out. The common tail (`cuts_within`) sees to it too; a strategy that
  /// works at levels needs it itself.
  double top_z = std::numeric_limits<double>::infinity();
  double bottom_z = -std::numeric_limits<double>::infinity();
  std::span<const Vec2> drilled = {};  ///< places of holes that the material before has for ways down
  /// Where the limit is by contact: the area in which the part is touched by what will be kept of the cuts.
  const Region* touched = nullptr;
};

/// Which ways in height the tool may go at feed, but for ways into the material: any, or only up, or only
/// down, within the tolerance.
enum class HeightWays : std::uint8_t { any, up, down };

/// What a strategy wants from the settings that all operations share, for a tool and its own options.
struct Usual {
  Derived allowance_mm, tolerance_mm;
  double spacing_mm = 0;  ///< between neighbouring passes
  /// It clears level by level from the top of the material down and only keeps above the surface; else its
  /// passes follow the surface.
  bool at_levels = false;
  /// It can be repeated in layers of falling allowance.
  bool repeats = true;
  /// Its passes run level on steps of the program's decimals, so what is kept for rounding is kept from walls
  /// only.
  bool exact_floors = false;
  double ramp_angle_deg = 3;             ///< of the ways down that follow a cut
  HeightWays ways = HeightWays::any;     ///< of links between its cuts, as of the cuts themselves
  std::optional<double> angle_deg = {};  ///< its passes are straight, at this angle from X
  /// How far apart neighbouring passes are, in space, is held against `spacing_mm`.
  bool tells_spacing = true;
  /// Its passes run along walls: what is touched on the very edge of its area counts.
  bool along_walls = false;
  /// Its cuts run below the surface: straight down into it and up again.
  bool sinks = false;
  /// Its cuts touch the part on two sides at once: it sees itself to what is touched.
  bool touches_twice = false;
  std::optional<double> split_deg = {};  ///< it cuts steep and shallow parts apart, at this angle from level
  /// Ridges that its spacing leaves on flat ground; nothing where that says nothing.
  std::optional<double> scallop_mm = {};
};

}  // namespace yardpass
