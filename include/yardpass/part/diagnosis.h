/// What is wrong with a mesh, where, and whether it matters for milling. Nothing is changed here; see
/// repair.h.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "yardpass/geom/error.h"
#include "yardpass/geom/joints.h"
#include "yardpass/part/weld_advice.h"

namespace yardpass {

/// Something found: how often, and the first few places.
struct Trouble {
  static constexpr std::size_t kPlaces = 8;
  std::int64_t count = 0;
  std::vector<Vec3> places;  ///< at most kPlaces, in the order of the file
};

/// Open edges that hang together: the rim of a hole or of a sheet.
struct OpenLoop {
  double length_mm = 0;
  std::int64_t edges = 0;
  bool closed = false;  ///< false: it ends, or branches
  bool outer = false;   ///< it goes round its whole piece: the border of a sheet rather than a hole in it
  /// A crack: no corner of it is farther from another open edge than this, a quarter of the mesh's median
  /// edge at most. Up to a millionth of a millimetre: a slit of zero width.
  std::optional<double> gap_mm = {};
  std::int64_t t_joints = 0;  ///< corners of it that lie within another open edge: no weld joins them
  std::int32_t shell = 0;     ///< that it belongs to, in the order of their first triangles
  Vec3 at{0, 0, 0};           ///< a point on it
  Box3 box;
};

/// How far flat facets are from the curved surface they stand for, estimated: two neighbours that turn by t
/// over a facet width L (the narrower one's) are chords of a circle, with a sagitta of L/2 tan(t/4). Over
/// smooth joints only, by area.
struct ChordError {
  double median_mm = 0, p95_mm = 0, greatest_mm = 0;
  Vec3 worst{0, 0, 0};  ///< middle of the edge with the greatest one
};

struct DiagnosisOptions {
  double crease_deg = 25;    ///< joints that turn by more are edges of the part and tell nothing about chords
  double tiny_share = 0.01;  ///< shells with a smaller box diagonal than this share of the part's are tiny
  bool crossings = true;     ///< look for triangles that cross each other (the longest part of the work)
};

struct Diagnosis {
  EdgeReport edges;
  std::vector<OpenLoop> open_loops;  ///< longest first
  Trouble crowded;                   ///< edges with three or more triangles (fins, touching solids)
  Trouble flipped;                   ///< edges whose triangles face opposite ways
  Trouble zero_area;    ///< triangles without area: two equal corners, or all in one line within 1e-9 mm
  Trouble repeated;     ///< triangles with the same corners as an earlier one
  Trouble crossing;     ///< pairs of triangles that cross each other by more than 1e-7 of the part's size
  Trouble tiny_shells;  ///< a corner of each
  std::int32_t shells = 0;
  bool inside_out = false;  ///< closed, but its triangles face inwards
  double shortest_edge_mm = 0, median_edge_mm = 0, longest_edge_mm = 0;
  ChordError chord_error;
  std::optional<WeldAdvice> weld = {};  ///< what closes its cracks
};
[[nodiscard]] Diagnosis diagnose(const Mesh& mesh, const Joints& joints, const DiagnosisOptions& options = {},
                                 const Progress& progress = {});

/// A finding in words, and what it means for milling.
struct Remark {
  std::string what;
  bool matters = false;  ///< for toolpaths on this part
  std::string why;
  std::vector<Vec3> places;
};
[[nodiscard]] std::vector<Remark> remarks(const Diagnosis& diagnosis);

/// Pairs of triangles that cross: each counted at its earlier triangle. Coplanar overlaps and neighbours do
/// not count. Method: boxes of a bounding volume hierarchy, then edges against triangles.
[[nodiscard]] Trouble crossing_triangles(const Mesh& mesh, const Progress& progress = {});

}  // namespace yardpass
