#include "verify/finding_list.h"

#include <algorithm>
#include <tuple>

namespace yardpass::detail {

void FindingList::add(const Trouble& trouble) {
  const ProgramMove& m = program_.moves[trouble.move];
  const auto [known, first] =
      last_.try_emplace({trouble.kind, m.operation, trouble.keep_away}, Last{findings_.size(), trouble.move});
  Last& last = known->second;
  if (first) {
    findings_.push_back(
        {trouble.kind, m.operation, m.line, m.line, 1, trouble.at, trouble.depth_mm, trouble.keep_away});
    return;
  }
  Finding& finding = findings_[last.finding];
  finding.moves += last.move != trouble.move;
  last.move = trouble.move;
  if (trouble.depth_mm > finding.depth_mm)
    finding.depth_mm = trouble.depth_mm, finding.at = trouble.at, finding.worst_line = m.line;
}

std::vector<Finding> FindingList::take(const std::vector<AcceptedFinding>& accepted) {
  std::stable_sort(findings_.begin(), findings_.end(), [](const Finding& a, const Finding& b) {
    return std::tie(a.kind, a.line) < std::tie(b.kind, b.line);
  });
  for (Finding& finding : findings_)
    for (const AcceptedFinding& known : accepted)
      if (can_be_accepted(known.kind) && known.kind == finding.kind && finding.depth_mm <= known.up_to_mm &&
          known.operation == program_.operations[static_cast<std::size_t>(finding.operation)].number)
        finding.accepted_because = known.reason;
  return std::move(findings_);
}

}  // namespace yardpass::detail
