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

/// What of the ground the passes of a strategy are spread over: what is foretold of them goes by it.
enum class Spread : std::uint8_t {
  in_plan,       ///< rows `spacing_mm` apart seen from above
  on_surface,    ///< rows or rings that far apart on the surface
  on_walls,      ///< level contours that far apart, on what is steeper than `least_slope_deg`
  by_slope,      ///< contours where it is steeper than `split_deg`, rows in plan elsewhere
  at_levels,     ///< loops or lines that far apart, levels `stepdown_mm` apart
  on_flats,      ///< the same on level faces alone
  beside_lines,  ///< pieces of `beside_mm` across curves, that far apart along them
  along_lines,   ///< along curves
  in_corners,    ///< along hollow places
};

/// What a strategy wants from the settings that all operations share, for a tool and its own options.
struct Usual {
  Derived allowance_mm, tolerance_mm;
  double spacing_mm = 0;  ///< between neighbouring passes
  Spread spread = Spread::on_surface;
  double stepdown_mm = 0;      ///< for levels
  double least_slope_deg = 0;  ///< for walls
  double beside_mm = 0;        ///< for pieces across curves
  double wall_spacing_mm = 0;  ///< of contours, where rows are spaced otherwise; 0: `spacing_mm`
  double rows_angle_deg = 0;   ///< of straight rows by slope
  double corner_left_mm = 0;   ///< in corners: what a round end must leave there
  double rows_a_corner = 1;    ///< passes along each
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
