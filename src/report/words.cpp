#include "yardpass/report/words.h"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "yardpass/geom/text.h"

namespace yardpass {

std::string Telling::number(double value, Unit unit) const {
  const bool length = unit == Unit::mm;
  const int decimals = length && units_ == Units::inch ? 4 : 3;
  std::string text = fmt::format("{:.{}f}", scaled(value, unit), decimals);
  text.erase(text.find_last_not_of('0') + 1);
  if (text.back() == '.') text.pop_back();
  return text == "-0" ? "0" : text;
}

std::string Telling::with_unit(double value, Unit unit) const {
  const std::string name = name_of(unit, units_);
  return number(value, unit) + (name.empty() ? "" : " " + name);
}

std::string Telling::column(double mm) const {
  std::string text = fmt::format("{:.{}f}", length(mm), units_ == Units::inch ? 4 : 3);
  if (text.find_first_not_of("-0.") == std::string::npos && text[0] == '-') text.erase(0, 1);
  return text;
}

std::string Telling::area_words(double mm2) const {
  return fmt::format("{:.{}f} {}", area(mm2), units_ == Units::inch ? 3 : 1, name_of(Unit::mm2, units_));
}

std::string Telling::volume_words(double mm3) const {
  return units_ == Units::inch ? fmt::format("{:.2f} inch3", mm3 / (25.4 * 25.4 * 25.4))
                               : fmt::format("{:.1f} cm3", mm3 / 1000);
}

std::string Telling::long_way(double mm) const {
  return units_ == Units::inch ? fmt::format("{:.1f} ft", mm / 304.8) : fmt::format("{:.2f} m", mm / 1000);
}

std::string Telling::place(const Vec3& p) const {
  return fmt::format("X {} Y {} Z {}", column(p.x()), column(p.y()), column(p.z()));
}

std::string Telling::place(const Vec2& p) const {
  return fmt::format("X {} Y {}", column(p.x()), column(p.y()));
}

std::string Telling::box(const Box3& box) const {
  return fmt::format("X {} to {}, Y {} to {}, Z {} to {} {}", number(box.min().x()), number(box.max().x()),
                     number(box.min().y()), number(box.max().y()), number(box.min().z()),
                     number(box.max().z()), unit());
}

std::string Telling::words(const Quantity& quantity) const {
  switch (quantity.kind) {
    case Quantity::Kind::number:
      return quantity.unit == Unit::share ? percent_words(quantity.value[0])
                                          : with_unit(quantity.value[0], quantity.unit);
    case Quantity::Kind::count:
      return fmt::format("{:.0f}", quantity.value[0]);
    case Quantity::Kind::place:
      return place(Vec3(quantity.value[0], quantity.value[1], quantity.value[2]));
    case Quantity::Kind::words:
      break;
  }
  return quantity.words;
}

std::string Telling::words(const Note& note) const {
  std::string text;
  std::size_t at = 0;
  for (const Quantity& value : note.values) {
    const std::size_t hole = note.says.find("{}", at);
    if (hole == std::string::npos) break;
    text += note.says.substr(at, hole - at) + words(value);
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

std::string Telling::depth(const Finding& finding) const {
  if (is_an_angle(finding.kind)) return fmt::format("{:.0f} degrees", finding.depth_mm);
  return fmt::format("{} {} {}", column(finding.depth_mm), unit(),
                     finding.kind == FindingKind::too_thick ? "thick" : "deep");
}

std::string Telling::words(const Finding& finding) const {
  if (finding.kind == FindingKind::undercut_cutter)
    return fmt::format("{}: below an overhang nothing is seen yet", name_of(finding.kind));
  const bool thick = finding.kind == FindingKind::too_thick, angle = is_an_angle(finding.kind);
  std::string text = fmt::format("{}{} {} at {}", name_of(finding.kind), thick || angle ? ":" : "",
                                 depth(finding), place(finding.at));
  if (finding.moves > 1)
    text += fmt::format(" ({} moves, {} in line {})", finding.moves, angle ? "most" : "deepest",
                        finding.worst_line);
  if (!finding.keep_away.empty()) text += fmt::format(", keep-away \"{}\"", one_line(finding.keep_away));
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
