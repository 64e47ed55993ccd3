#include "verify/finding_list.h"

#include <algorithm>

namespace yardpass::detail {

void FindingList::add(const Trouble& trouble) {
  constexpr std::size_t same_trouble = 50;
  const ProgramMove& m = program_.moves[trouble.move];
  Last& last = last_[{trouble.kind, trouble.keep_away}];
  if (last.finding >= 0 && trouble.move - last.move <= same_trouble) {
    Finding& known = findings_[static_cast<std::size_t>(last.finding)];
    if (known.operation == m.operation) {
      known.moves += last.move != trouble.move;
      if (trouble.depth_mm > known.depth_mm)
        known.depth_mm = trouble.depth_mm, known.at = trouble.at, known.worst_line = m.line;
      last.move = trouble.move;
      return;
    }
  }
  last = {static_cast<std::ptrdiff_t>(findings_.size()), trouble.move};
  findings_.push_back(
      {trouble.kind, m.operation, m.line, m.line, 1, trouble.at, trouble.depth_mm, trouble.keep_away});
}

std::vector<Finding> FindingList::take(const std::vector<AcceptedFinding>& accepted) {
  std::stable_sort(findings_.begin(), findings_.end(),
                   [](const Finding& a, const Finding& b) { return a.line < b.line; });
  for (Finding& finding : findings_)
    for (const AcceptedFinding& known : accepted)
      if (can_be_accepted(known.kind) && known.kind == finding.kind && finding.depth_mm <= known.up_to_mm &&
          known.operation == program_.operations[static_cast<std::size_t>(finding.operation)].number)
        finding.accepted_because = known.reason;
  return std::move(findings_);
}

}  // namespace yardpass::detail
