/// The judge: what a program really does to stock and part.
#pragma once

#include <functional>
#include <iosfwd>
#include <limits>
#include <map>
#include <memory>
#include <optional>
#include <string>

#include "yardpass/contact/contact_part.h"
#include "yardpass/geom/depth_lines.h"
#include "yardpass/geom/region.h"
#include "yardpass/post/read_program.h"
#include "yardpass/stock/stock.h"
#include "yardpass/tool/tool.h"
#include "yardpass/verify/engagement.h"
#include "yardpass/verify/finding.h"
#include "yardpass/verify/left.h"
#include "yardpass/verify/time.h"

namespace yardpass {

struct OperationJudgement {
  std::int32_t number = 0;  ///< of the operation in its job; 0: the program does not say
  std::int32_t tool = 0;
  double feed_mm = 0, rapid_mm = 0;  ///< lengths
  double air_feed_mm = 0;            ///< part of feed_mm in moves that take nothing away
  Engagement engagement;             ///< of its cutter with the stock
  OperationTime time;                ///< with acceleration
  std::int64_t moves = 0;
  std::int64_t retracts = 0;  ///< rapid rises
  /// Least room in space around the cutter to the part over all feed moves, at most
  /// JudgeOptions::room_up_to_mm; negative: gouge depth. And the line of it.
  double least_clearance_mm = 0;
  std::int32_t least_clearance_line = 0;
  /// Stick-out with which the holder, with its clearance, would just be free of the part and of the material
  /// as it then is, over all moves; at least the flute length, which then decides; 0 if the tool has no
  /// holder.
  double least_stickout_mm = 0;

  /// Lengths, times and counts of another one.
  void add(const OperationJudgement& more);
};

/// What every part of the tool must keep away from.
struct JudgedKeepAway {
  std::string name;
  std::shared_ptr<const ContactPart> part;
  double clearance_mm = 0;
  std::vector<std::int32_t> operations = {};  ///< for which it holds, by number; empty: for all
};

/// An operation that cuts into the part on purpose, by so much and only where its tip is inside the place.
struct IntendedCut {
  std::int32_t operation = 0;  ///< by number
  double depth_mm = 0;
  Region place = {};  ///< empty: anywhere
  /// Pieces of the part's surface, one mark a triangle, that it cuts into by another depth than the rest;
  /// each triangle in no more than one of them.
  struct OnSurface {
    std::vector<std::uint8_t> triangles;
    double depth_mm = 0;
  };
  std::vector<OnSurface> where = {};
  /// The depth is that of the tip straight below where the cutter would touch the part; else the least by
  /// which the cutter would have to be thinner to be free, in space. Not together with `where`.
  bool straight_down = false;
  /// It cuts along these lines only, straight down so deep as they say and no deeper than `depth_mm`.
  std::shared_ptr<const DepthLines> along = {};
};

/// Where the tool's axis must not be at feed in an operation: what it keeps out of, and the holes of what it
/// keeps inside, by its rule at the boundary. Rapids are free to pass above.
struct JudgedKeepOut {
  std::int32_t operation = 0;  ///< by number
  Region axis_area;
};

struct JudgeOptions {
  double limit_mm = 0.001;     ///< what enters part or stock by less, in space, is no finding
  double room_up_to_mm = 2;    ///< clearances are measured up to this
  MachineMotion machine = {};  ///< for times
  /// Rapids move each axis on its own, at its speed of the machine, until it is there; else straight.
  bool dog_leg_rapids = false;
  std::optional<Box3> travel = {};  ///< of the tip, in program coordinates
  std::vector<JudgedKeepAway> keep_away = {};
  std::vector<IntendedCut> intended = {};
  std::vector<JudgedKeepOut> keep_out = {};
  std::vector<AcceptedFinding> accepted = {};
  std::int32_t up_to_line = std::numeric_limits<std::int32_t>::max();  ///< moves of later lines are left out
  /// Carried out on the stock before the first move, and not judged: the program that this one goes on with.
  std::shared_ptr<const Program> done = {};
  /// Engagements that are known already, by the number of their operation. They are figures: of a tool with a
  /// limit of its own they are measured all the same, for findings depend on them.
  std::map<std::int32_t, Engagement> engagements = {};
  /// Called with the stock as each operation (index into Program::operations) leaves it, in their order.
  std::function<void(std::int32_t operation, const Stock& stock)> after_operation = {};
};

struct Judgement {
  std::vector<Finding> findings;  ///< the most dangerous kinds first, then in the order of the program
  std::vector<OperationJudgement> operations;  ///< one per Program::operations
  Stock stock;                                 ///< what is left
  /// One a cell: the move that made its final height; -1 for none, and for those of JudgeOptions::done.
  std::vector<std::int32_t> last_cut;
  double seconds = 0;
  /// Squares between cell centres in which, at the end of an operation (counted for each), material may have
  /// stood that no centre shows, and when a rapid came down there: there rapids and all bodies of the tool
  /// were proved on cells of the width `seen_mm`.
  std::int64_t hidden_squares = 0;
  double seen_mm = 0;
  /// Where material stands at the end, between the centres, higher than the cell's by more than
  /// hidden_threshold(): at most one place a cell.
  std::vector<Vec3> peaks;
  /// No finding but such as were accepted beforehand.
  [[nodiscard]] bool clean() const;
};

/// Judges every move of a program: cutter, neck, shank and holder against the true part and against keep_away
/// (proof for all points of the move, not samples); rapids, shank and holder against the material as it is
/// just before the move, and whether it stands above the flutes (at the cell centres of the stock, and on
/// finer cells where material may have been left between them at the end of an operation, see
/// hidden_between). Knows nothing of how the program was planned. Runs on all cores; the result does not
/// depend on their number. Throws Error if the program calls a tool that is not in the list, or if a tool of
/// it cannot be completed.
[[nodiscard]] Judgement judge(const Program& program, const std::shared_ptr<const ContactPart>& part,
                              const std::vector<Tool>& tools, Stock stock, const JudgeOptions& options = {},
                              const Progress& progress = {});

/// Carries a program out on the stock, and judges nothing: of each operation lengths, retracts, times and
/// what is cut in air, as `judge` gives them, and the stock that is left; no findings, no engagement, no
/// room. Runs on all cores; the result does not depend on their number. Throws Error like `judge`.
[[nodiscard]] Judgement carry_out(const Program& program, const std::vector<Tool>& tools, Stock stock,
                                  const JudgeOptions& options = {}, const Progress& progress = {});

/// The verdict, each operation in a line, each finding in a line.
[[nodiscard]] std::string in_words(const Judgement& judgement);
std::ostream& operator<<(std::ostream& out, const Judgement& judgement);

}  // namespace yardpass
