/// The job: one readable text file that says what to machine, from what, with what, and how. Reference:
/// docs/job-file.md.
#pragma once

#include <filesystem>
#include <optional>
#include <string>
#include <vector>

#include "yardpass/curve/letter_style.h"
#include "yardpass/curve/part_curves.h"
#include "yardpass/geom/error.h"
#include "yardpass/geom/region.h"
#include "yardpass/keys/given.h"
#include "yardpass/keys/quantity.h"
#include "yardpass/part/placement.h"
#include "yardpass/part/read_mesh.h"
#include "yardpass/part/regions.h"
#include "yardpass/part/repair.h"
#include "yardpass/plan/in_the_way.h"
#include "yardpass/post/controller.h"
#include "yardpass/tool/tool.h"
#include "yardpass/verify/finding.h"
#include "yardpass/verify/time.h"

namespace yardpass {

/// A value that is measured on the placed part instead of given as a number.
struct Measure {
  enum class What {
    z_at,              ///< height of the surface at a place
    top_of,            ///< greatest Z of a named region
    bottom_of,         ///< least Z of a named region
    angle_between,     ///< in plan, from the first place to the second, from X
    angle_along,       ///< in plan, from the first to the last point of a named curve, from X
    distance_between,  ///< in space
    radius_through     ///< of the circle through three places
  } what = What::z_at;
  /// [x, y]: the highest point of the part there; [x, y, z]: the point of the part that is nearest.
  std::vector<std::vector<double>> places = {};
  std::string named = {};  ///< the region or curve
  double plus = 0;         ///< added to what is measured
};

/// Something of a job that has a name: its table as given, for a second visit once the part is there.
struct NamedTable {
  std::string name;
  int line = 0;                    ///< in the job file
  GivenTable says = GivenTable();  ///< all its keys
};

/// A named piece of the part's surface; see Pick for how its parts work together.
struct RegionJob : NamedTable {
  std::vector<std::int64_t> numbers = {};
  std::vector<std::vector<double>> at = {};  ///< places as in Measure
  std::vector<std::string> groups = {}, union_of = {}, neighbours_of = {}, without = {};
  std::optional<std::array<double, 2>> slope_deg = {};
  std::optional<Box3> box = {};
  std::optional<Region> inside = {};
};

/// One step of editing the curves of a table, done in the order of the file.
struct CurveEdit {
  enum class What {
    flatten,           ///< to a height
    shift,             ///< by [x, y, z]
    project,           ///< straight down on the part
    offset,            ///< to a line beside, left positive
    join,              ///< ends within a gap
    cut_at_crossings,  ///< with each other, seen from above
    split_at,          ///< at the point nearest to a place in plan
    split_at_corners,  ///< that turn by more than an angle
    keep,              ///< only some, by number from 1
    reverse,
    simplify,  ///< to a tolerance
    offsets,   ///< of their area, a step and a count
    row,       ///< copies
    grid,
    ring
  } what = What::flatten;
  double value = 0;
  Vec3 by{0, 0, 0};
  std::vector<std::int64_t> numbers = {};
  int line = 0;
};

/// Text that becomes strokes.
struct TextJob {
  std::string says = {};  ///< empty: none
  double height_mm = 5, spacing_mm = 0, angle_deg = 0;
  LetterStyle style = LetterStyle::plain;
  LetterAlign align = LetterAlign::start;
  std::vector<double> at = {};  ///< [x, y]
  std::string along = {};       ///< a named curve
};

/// Named curves: where they come from, then what is done to them.
struct CurveJob : NamedTable {
  std::filesystem::path file = {};  ///< as found beside the job file
  std::optional<LengthUnit> unit = {};
  bool with_part = false;               ///< the file is drawn like the mesh file and is placed as the part is
  std::string layer = {}, colour = {};  ///< of the file: only these
  std::vector<std::string> named = {};
  bool texts = true;               ///< of the file: as strokes
  std::vector<Curve> points = {};  ///< given by points, or made from numbers
  TextJob text = {};
  /// Pieces of sharp edges of the part: by number, as the nearest to places, or from one place to another.
  std::vector<std::int64_t> edges = {};
  std::vector<std::vector<double>> edges_at = {};
  std::vector<std::vector<double>> edges_between = {};
  EdgeExtent extent = EdgeExtent::piece;
  std::string border_of = {}, holes_of = {};  ///< regions
  bool silhouette = false;
  std::optional<double> slice_z = {};
  std::vector<std::string> curves = {};      ///< other named curves
  std::string boundary = {};                 ///< the border of a named boundary
  std::vector<std::vector<double>> at = {};  ///< of all these only the nearest to each place
  std::vector<CurveEdit> edits = {};
};

/// Other curves that a curve is made from, by name.
[[nodiscard]] std::vector<std::string> names_used(const CurveJob& curve);
/// Which curves come from boundaries, directly or not: by index. They are found once boundaries are.
[[nodiscard]] std::vector<bool> from_boundaries(const std::vector<CurveJob>& curves);

/// A carrier: a surface of the user's own that operations work on as on the part.
struct CarrierJob : NamedTable {
  std::vector<std::string> between = {};  ///< two curves: a ruled face
  std::string section = {}, along = {};   ///< curves: a section swept along another
  std::optional<Region> patch = {};       ///< a flat patch at z
  double z = 0;
  std::string copy_of = {};  ///< a region, moved off by
  double offset_mm = 0;
};

/// A named area in plan: where it comes from, then what is done to it, in this order.
struct BoundaryJob : NamedTable {
  std::optional<Region> points;
  std::string region;                  ///< its outline from above
  bool silhouette = false;             ///< of the part
  std::optional<double> slice_z;       ///< where the part is solid at a height
  std::vector<std::string> curves;     ///< closed curves by name; odd depth is inside
  std::vector<std::string> loop_from;  ///< curves by name, closed to one loop
  double gap_mm = 0;                   ///< the most that may be added or cut off where they meet
  std::vector<std::string> union_of, common_to, without;  ///< other boundaries
  bool fill_holes = false;
  double offset_mm = 0;  ///< outward positive
  double simplify_mm = 0;
};

/// A lid over openings: of the holes of a region, or over an area in plan.
struct LidJob : NamedTable {
  std::string holes_of = {};                 ///< the region whose holes are covered
  std::optional<double> widest_mm = {};      ///< only those up to this size in plan
  std::vector<std::vector<double>> at = {};  ///< only the nearest of them to each place; none: all
  std::optional<Region> over = {};           ///< instead: an area in plan
  std::string continues = {};                ///< the region that a smooth lid continues
  bool smooth = false;
  std::optional<double> spacing_mm = {};
};

/// A region's outer edge, run on.
struct RunOutJob : NamedTable {
  std::string edge_of = {};
  std::vector<std::vector<double>> between = {};  ///< none, or two places of the edge
  std::string along = {};                         ///< a curve; empty: the whole edge
  double length_mm = 0;
  bool curved = false;  ///< goes on as curved as the surface is at its edge, else straight
};

/// What the tool keeps away from: a region of the part, or another mesh in program coordinates.
struct KeepAwayJob : NamedTable {
  std::string region = {};
  std::filesystem::path mesh = {};
  double clearance_mm = 0;
  InTheWay in_the_way = InTheWay::refuse;
};

/// The part: which mesh, how it is read, repaired and placed.
struct PartJob {
  std::filesystem::path mesh;  ///< as found beside the job file
  ReadOptions read = {};
  std::vector<Repair> repairs = {};
  Placement placement = {};
  std::optional<Origin> origin = {};
};

/// An operation as the file says it: see OperationValues for what its keys mean.
struct OperationJob {
  std::int32_t number =
      0;             ///< in the file, from 1, also among those that are not active; in program and findings
  std::string name;  ///< any text
  std::string strategy;  ///< one of all_strategies()
  std::string tool;      ///< name in the tool table
  bool active = true;
  int line = 0;     ///< in the job file; 0: from no file
  GivenTable says;  ///< all its keys, with those of the operation that it is a copy of
  std::string copy_of = {};
  std::vector<std::string> copied = {};   ///< keys that come from there
  std::vector<std::string> dropped = {};  ///< keys from there that its own strategy does not know
  /// Of a key that it says, else its own.
  [[nodiscard]] int line_of(const std::string& key) const;
};

/// Holes that the material has before the first cut.
struct DrilledHoles {
  std::string name;
  std::vector<Vec2> at;
  double diameter_mm = 0;
  std::optional<double> bottom_z;  ///< else through
};

/// The material before the first cut.
struct StockJob {
  enum class Shape {
    block,        ///< around the part, with margins
    around_part,  ///< the part as placed, grown evenly
    corners,      ///< a block by two corners
    upright_bar,  ///< a round bar around the middle of the part, standing
    bar_along_x,  ///< lying
    bar_along_y,
    mesh,  ///< in program coordinates, or drawn like the part
    file   ///< the stock that another run left
  } shape = Shape::block;
  Vec2 margin_mm{5, 5};  ///< around the part in X and Y; of lying bars only along them
  double above_mm = 2;   ///< extra on top
  double around_part_mm = 0;
  Box3 corners = {};
  double diameter_mm = 0;
  std::filesystem::path path = {};  ///< of the mesh or the file
  bool with_part = false;           ///< the mesh is drawn like the part's mesh and is placed as the part is
  std::optional<double> cell_mm;    ///< of the simulation; else from the size
  std::vector<DrilledHoles> drilled;
  std::string material = {};    ///< what it is of, for the cutting data of tools
  std::string cleared_by = {};  ///< a tool that has cleared all it reaches before the first operation
  std::optional<double> cleared_leaving_mm = {}, cleared_stepdown_mm = {};
};

/// The machine: how it moves, and how its control wants programs.
struct MachineJob {
  std::filesystem::path file;  ///< if it is described in a file of its own
  std::string name;
  std::filesystem::path controller_file = {};  ///< if its control is described in a file of its own
  Controller controller;                       ///< without a date
  bool dated = false;                          ///< the program says the day it was made
  MachineMotion motion;                        ///< for times, and for rapids that are no straight lines
  double rapid_plane_mm = 5;                   ///< of the plane for rapids, above stock and part
  std::optional<Box3> travel;                  ///< of the tip, in program coordinates
  /// Where the tip comes down from after a tool change, in program coordinates; else the plane for rapids.
  std::optional<double> change_z;
  double file_minutes = 0, file_length_mm = 0;  ///< of one file of a program; 0: any, see FileLimits
};

/// Where material that is left is explained.
struct LeftJob {
  double thicker_than_mm = 0.05;
  bool explained = true;
};

/// The settled values of a table that is no operation: what it says, and what is usual where it does not.
struct TableValues {
  std::string table;  ///< "stock", "machine", "tool ball6"
  std::vector<SettledValue> values;
};

/// A look at what a job will be like, with coarser steps: so many times what is settled otherwise. No program
/// is released from it.
struct Coarser {
  double spacing = 1;  ///< of passes, but no wider than half the tool, unless they are anyway
  double tolerance = 1;
  double cells = 1;  ///< of the simulation
  [[nodiscard]] bool any() const { return spacing > 1 || tolerance > 1 || cells > 1; }
};
/// Enough to see where passes run, in a fraction of the time.
[[nodiscard]] constexpr Coarser quick_look() { return {.spacing = 6, .tolerance = 6, .cells = 6}; }

struct Job {
  std::filesystem::path file;
  std::string title;
  Units units = Units::mm;  ///< of the file and of all that is told; programs and meshes are written in mm
  std::filesystem::path rack_file = {};  ///< tools that jobs share
  PartJob part;
  RegionOptions splitting;
  std::vector<RegionJob> regions;
  std::vector<CurveJob> curves;
  std::vector<BoundaryJob> boundaries;
  std::vector<LidJob> lids;
  std::vector<RunOutJob> run_outs;
  std::vector<CarrierJob> carriers;
  std::vector<KeepAwayJob> keep_away;
  StockJob stock;
  MachineJob machine;
  LeftJob left;
  std::vector<AcceptedFinding> accepted;
  std::vector<Tool> tools;  ///< completed
  std::vector<OperationJob> operations;
  std::vector<TableValues> told;  ///< of stock, machine, what is left and tools
  std::vector<Note> notes;        ///< what the user should know of the file: things that nothing uses
  Coarser coarser = {};           ///< not of the file: whoever carries it out may ask for a quick look
  /// Throws Error if there is no such tool.
  [[nodiscard]] const Tool& tool_named(const std::string& name) const;
  /// Nothing if no operation has this number.
  [[nodiscard]] const OperationJob* operation_numbered(std::int32_t number) const;
};

/// Throws Error with every mistake that the file alone decides, one a line: file, line, table or operation,
/// key, what is wrong and what would be valid.
[[nodiscard]] Job read_job(const std::filesystem::path& file);

/// All files that the job reads, itself included.
[[nodiscard]] std::vector<std::filesystem::path> files_of(const Job& job);

}  // namespace yardpass
