// The proof of every move against the part and against keep_away.
#pragma once

#include "verify/finding_list.h"
#include "yardpass/contact/assembly.h"
#include "yardpass/verify/judge.h"

namespace yardpass::detail {

/// The least room of a stretch of moves of one operation.
struct LeastRoom {
  double room_mm;
  std::int32_t line = 0;
};

struct PartProof {
  std::vector<Trouble> troubles;  ///< in the order of the moves
  std::vector<LeastRoom> least_of_operation;
};

/// Which of `tools` each move uses. Throws Error if the program calls one that is not there.
std::vector<std::size_t> tool_of_moves(const Program& program, const std::vector<Tool>& tools);

PartProof prove_against_part(const Program& program, const std::shared_ptr<const ContactPart>& part,
                             const std::vector<Tool>& tools, const JudgeOptions& options,
                             const Progress& progress);

}  // namespace yardpass::detail
