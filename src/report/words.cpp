#include "yardpass/report/words.h"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "yardpass/geom/text.h"

namespace yardpass {

namespace {

std::string number_words(double value) { return fmt::format("{:.4g}", value); }

}  // namespace

std::string in_words(const Quantity& quantity) {
  switch (quantity.kind) {
    case Quantity::Kind::number: {
      const std::string unit = name_of(quantity.unit);
      return number_words(quantity.value[0]) + (unit.empty() ? "" : " " + unit);
    }
    case Quantity::Kind::count:
      return fmt::format("{:.0f}", quantity.value[0]);
    case Quantity::Kind::place:
      return fmt::format("X {:.3f} Y {:.3f} Z {:.3f}", quantity.value[0], quantity.value[1],
                         quantity.value[2]);
    case Quantity::Kind::words:
      break;
  }
  return quantity.words;
}

std::string in_words(const Note& note) {
  std::string text;
  std::size_t at = 0;
  for (const Quantity& value : note.values) {
    const std::size_t hole = note.says.find("{}", at);
    if (hole == std::string::npos) break;
    text += note.says.substr(at, hole - at) + in_words(value);
    at = hole + 2;
  }
  return text + note.says.substr(at);
}

std::string clock(double seconds) {
  const auto total = static_cast<long>(std::lround(seconds));
  if (total < 3600) return fmt::format("{}:{:02}", total / 60, total % 60);
  return fmt::format("{}:{:02}:{:02}", total / 3600, total / 60 % 60, total % 60);
}

std::string percent_words(double share) {
  if (share > 0 && share < 0.0005) return "below 0.1 %";
  if (share < 1 && share > 0.9995) return "above 99.9 %";
  return fmt::format("{:.1f} %", 100 * share);
}

std::string in_words(const Finding& finding) {
  if (finding.kind == FindingKind::undercut_cutter)
    return fmt::format("{}: below an overhang nothing is seen yet", name_of(finding.kind));
  std::string text = fmt::format("{} {:.3f} mm deep at X {:.3f} Y {:.3f} Z {:.3f}", name_of(finding.kind),
                                 finding.depth_mm, finding.at.x(), finding.at.y(), finding.at.z());
  if (finding.moves > 1)
    text += fmt::format(" ({} moves, deepest in line {})", finding.moves, finding.worst_line);
  if (!finding.keep_away.empty()) text += fmt::format(", keep_away \"{}\"", one_line(finding.keep_away));
  if (!finding.accepted_because.empty())
    text += fmt::format(", accepted: {}", one_line(finding.accepted_because));
  return text;
}

std::vector<const Finding*> worst_findings(const std::vector<Finding>& findings, std::size_t most) {
  std::vector<const Finding*> list;
  for (const Finding& finding : findings) list.push_back(&finding);
  const Finding* first = list.empty() ? nullptr : list.front();
  std::stable_sort(list.begin(), list.end(), [&](const Finding* a, const Finding* b) {
    if ((a == first) != (b == first)) return a == first;
    const bool open_a = a->accepted_because.empty(), open_b = b->accepted_because.empty();
    return open_a != open_b ? open_a : a->depth_mm > b->depth_mm;
  });
  list.resize(std::min(list.size(), most));
  std::sort(list.begin(), list.end());  // as they stand in the program
  return list;
}

}  // namespace yardpass
