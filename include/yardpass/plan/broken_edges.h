/// The sharp outer edges of a part, and the tip's ways along them that break them to one size.
#pragma once

#include "yardpass/contact/contact_part.h"
#include "yardpass/geom/polyline.h"
#include "yardpass/plan/edge_break.h"

namespace yardpass {

struct EdgeBreak {
  double size_mm = 0.5;    ///< REQUIRES: above 0
  bool down_wall = false;  ///< the size is the leg on the steeper face; else the width of the flat
  /// Passes of a ball that round the edge with the size as radius; 0: one pass, a flat.
  int rounding_passes = 0;
  double margin_mm = 0.2;           ///< of a chamfer cutter's flank below the cut
  double least_turn_deg = 25;       ///< edges that turn by less are left alone
  double least_length_mm = 1;       ///< and shorter ones
  double steepest_deg = 60;         ///< and pieces that climb more steeply
  std::vector<std::int64_t> only;   ///< edges by number, as EdgePieces counts them; empty: all
  std::vector<std::int64_t> leave;  ///< but not these
  /// Edges, or pieces of them, that run along one of these lines in space, within 0.05 mm, are meant too; of
  /// a closed line the first point comes again at its end.
  std::vector<Polyline3> along;
  std::vector<Polyline3> not_along;  ///< but none along these
  bool round_corners =
      true;  ///< where two edges meet the cutter goes on round the corner; else each ends there
  bool conventional = false;  ///< else climb milling, by a spindle that turns clockwise
};

/// Why an edge, or a piece of it, is not broken.
enum class EdgeLeft : std::uint8_t {
  upright,   ///< it climbs more steeply than wanted
  no_place,  ///< the cutter would have to cut above its middle, or its flank does not lean as the edge wants
  blocked    ///< the tool would meet the part beside or above the edge
};
[[nodiscard]] const char* words_of(EdgeLeft why);

struct LeftEdge {
  std::int64_t number = 0;
  EdgeLeft why = EdgeLeft::blocked;
  double length_mm = 0;
  Vec3 at = Vec3::Zero();             ///< its middle
  std::vector<Polyline3> lines = {};  ///< of the edge, or of the tip where it is blocked
};

/// Edges that are broken in one go.
struct BrokenEdge {
  double length_mm = 0;
  bool closed = false;
  std::vector<Polyline3> ways;  ///< of the tip, a pass each; of a closed edge the first point is not repeated
  /// Where the size of each is to be measured: about every millimetre, not beside its ends and corners, where
  /// others meet it.
  std::vector<MeasuredEdge> measured = {};
  /// The one of them that is nearest to a place.
  [[nodiscard]] std::int64_t number_at(const Vec3& place) const;
};

struct BrokenEdges {
  std::vector<BrokenEdge> edges;
  std::vector<LeftEdge> left;
  std::vector<std::int64_t> unknown;  ///< numbers that the part has no outer edge of
  /// The part without what a break may touch. A tool that is free of it cuts nothing else.
  Mesh rest;
};

/// Sections are taken at the corners of the mesh, between the mean normals of its faces there. The ways are
/// where the cutter would have to be, whatever else stands there: hold them against `rest`. Throws Error if
/// an option breaks what it asks for, or if the tool is no ball, chamfer or lollipop.
[[nodiscard]] BrokenEdges broken_edges(const Mesh& mesh, const EdgeBreak& wanted, const Tool& tool);

}  // namespace yardpass
