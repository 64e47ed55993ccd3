/// The judge: what a program really does to stock and part.
#pragma once

#include <map>
#include <memory>
#include <string>

#include "yardpass/contact/contact_part.h"
#include "yardpass/post/read_program.h"
#include "yardpass/stock/stock.h"
#include "yardpass/tool/tool.h"
#include "yardpass/verify/excess.h"

namespace yardpass {

enum class FindingKind {
  gouge,  ///< a feed move cuts into the part
  rapid_into_part,
  rapid_through_stock,
  shank_into_part,
  holder_into_part,
};
/// In words a machinist would use, for reports: "gouge", "rapid into the part", "rapid through stock", "shank
/// into the part", "holder into the part".
[[nodiscard]] const char* name_of(FindingKind kind);

/// Consecutive moves of one operation with the same trouble are one finding.
struct Finding {
  FindingKind kind = FindingKind::gouge;
  std::int32_t operation = -1;  ///< index into Program::operations
  std::int32_t line = 0;        ///< the first move's line
  std::int32_t worst_line = 0;  ///< the line of the greatest depth
  std::int32_t moves = 1;       ///< how many moves are taken together
  Vec3 at =
      Vec3::Zero();  ///< place of the greatest depth: tip position for the part, place in the stock for stock
  double depth_mm = 0;  ///< into the part: in space, see `room_around`; through stock: in Z
};

struct OperationJudgement {
  std::string name;
  std::int32_t tool = 0;
  double feed_mm = 0, rapid_mm = 0;  ///< lengths
  double air_feed_mm = 0;            ///< part of feed_mm in moves that take nothing away
  double seconds = 0;                ///< length over feed, rapids over the machine's rapid rate, tool changes
  std::int64_t moves = 0;
  std::int64_t retracts = 0;  ///< rapid rises
  /// Least room in space around the cutter to the part over all feed moves, at most
  /// JudgeOptions::room_up_to_mm; negative: gouge depth. And the line of it.
  double least_clearance_mm = 0;
  std::int32_t least_clearance_line = 0;
  /// Stick-out with which the holder would just be free of the part over all moves; 0 if the tool has no
  /// holder.
  double least_stickout_mm = 0;
};

struct JudgeOptions {
  double limit_mm = 0.001;      ///< gouges and stock hits shallower than this are no findings
  double room_up_to_mm = 2;     ///< clearances are measured up to this
  double rapid_mm_min = 15000;  ///< for times
  double tool_change_s = 10;
};

struct Judgement {
  std::vector<Finding> findings;               ///< in the order of the program
  std::vector<OperationJudgement> operations;  ///< one per Program::operations
  Stock stock;                                 ///< what is left
  std::vector<std::int32_t> last_cut;  ///< one a cell: the move that made its final height, -1 for none
  double seconds = 0;
  [[nodiscard]] bool clean() const { return findings.empty(); }
};

/// Judges every move of a program: the cutter against the true part (proof for all points of the move, not
/// samples), and rapids against the material as it then is. Knows nothing of how the program was planned.
/// Shank and holder are not judged yet. Runs on all cores; the result does not depend on their number. Throws
/// Error if the program calls a tool that is not in the list.
[[nodiscard]] Judgement judge(const Program& program, const std::shared_ptr<const ContactPart>& part,
                              const std::vector<Tool>& tools, Stock stock, const JudgeOptions& options = {},
                              const Progress& progress = {});

}  // namespace yardpass
