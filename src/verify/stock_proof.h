// The moves carried out on the stock, with all of the tool above the cutter tested against it.
#pragma once

#include "verify/part_proof.h"
#include "yardpass/verify/engagement.h"

namespace yardpass::detail {

struct StockProof {
  std::vector<Trouble> troubles;       ///< in the order of the moves
  std::vector<std::uint8_t> removed;   ///< 1 for each move that took material away
  std::vector<std::int32_t> last_cut;  ///< as CarveLog
  /// Stick-out with which the holder is free of the material, by operation; 0 where it would meet none
  /// however short.
  std::vector<double> least_stickout_mm;
  std::vector<Engagement> engagement;  ///< by operation of the program
  std::int64_t hidden_squares = 0;     ///< in which material may have stood between the centres
  std::vector<Vec3> peaks;             ///< see Judgement::peaks
  double seen_mm = 0;                  ///< material of this width was seen there
};

/// Carves `stock`. What passes no deeper than the limit, measured in space, is no trouble.
StockProof prove_against_stock(const Program& program, const std::vector<Tool>& tools, Stock& stock,
                               const JudgeOptions& options, const Progress& progress);

/// The same of a program that goes on where another one left off, of which nothing is judged; but what that
/// one may have left between the cells counts.
StockProof prove_after(const Program& done, const Program& program, const std::vector<Tool>& tools,
                       Stock& stock, const JudgeOptions& options, const Progress& progress);

}  // namespace yardpass::detail
