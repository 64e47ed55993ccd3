#include <ostream>
#include <sstream>

#include "yardpass/verify/judge.h"

namespace yardpass {

std::ostream& operator<<(std::ostream& out, const Judgement& judgement) {
  const auto open = std::count_if(judgement.findings.begin(), judgement.findings.end(),
                                  [](const Finding& finding) { return finding.accepted_because.empty(); });
  out << (judgement.clean() ? "clean" : "findings") << ": " << open << (open == 1 ? " finding" : " findings");
  if (const auto accepted = static_cast<std::ptrdiff_t>(judgement.findings.size()) - open; accepted > 0)
    out << ", " << accepted << " more accepted beforehand";
  out << "; " << judgement.seconds / 60 << " min\n";
  for (const OperationJudgement& operation : judgement.operations)
    out << "operation " << operation.number << ", T" << operation.tool << ": " << operation.moves
        << " moves, " << operation.feed_mm << " mm at feed, " << operation.rapid_mm
        << " mm rapid, least clearance " << operation.least_clearance_mm << " mm\n";
  for (const Finding& finding : judgement.findings) {
    out << "line " << finding.line << ": " << name_of(finding.kind);
    if (!finding.keep_away.empty()) out << " \"" << finding.keep_away << '"';
    out << ", " << finding.depth_mm << " mm at X " << finding.at.x() << " Y " << finding.at.y() << " Z "
        << finding.at.z();
    if (finding.moves > 1) out << " (" << finding.moves << " moves)";
    if (!finding.accepted_because.empty()) out << ", accepted: " << finding.accepted_because;
    out << '\n';
  }
  return out;
}

std::string in_words(const Judgement& judgement) {
  std::ostringstream out;
  out << judgement;
  return out.str();
}

}  // namespace yardpass
