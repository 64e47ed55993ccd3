#include <algorithm>

#include "verify/stock_proof.h"

namespace yardpass::detail {

namespace {

/// One program behind another.
Program joined(const Program& done, const Program& program) {
  Program result = done;
  const auto arcs = static_cast<std::int32_t>(done.arcs.size()),
             operations = static_cast<std::int32_t>(done.operations.size());
  result.arcs.insert(result.arcs.end(), program.arcs.begin(), program.arcs.end());
  result.operations.insert(result.operations.end(), program.operations.begin(), program.operations.end());
  result.moves.reserve(done.moves.size() + program.moves.size());
  for (ProgramMove move : program.moves) {
    move.operation += operations;
    if (move.arc >= 0) move.arc += arcs;
    result.moves.push_back(move);
  }
  return result;
}

template <typename Value>
void drop_first(std::vector<Value>& values, std::size_t count) {
  values.erase(values.begin(), values.begin() + static_cast<std::ptrdiff_t>(std::min(count, values.size())));
}

}  // namespace

StockProof prove_after(const Program& done, const Program& program, const std::vector<Tool>& tools,
                       Stock& stock, const JudgeOptions& options, const Progress& progress) {
  StockProof proof = prove_against_stock(joined(done, program), tools, stock, options, progress);
  const std::size_t moves = done.moves.size();
  std::erase_if(proof.troubles, [&](const Trouble& trouble) { return trouble.move < moves; });
  for (Trouble& trouble : proof.troubles) trouble.move -= moves;
  for (std::int32_t& move : proof.last_cut)
    move = std::max<std::int32_t>(-1, move - static_cast<std::int32_t>(moves));
  drop_first(proof.removed, moves);
  drop_first(proof.least_stickout_mm, done.operations.size());
  drop_first(proof.engagement, done.operations.size());
  return proof;
}

}  // namespace yardpass::detail
