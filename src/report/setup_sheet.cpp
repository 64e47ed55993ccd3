#include "report/setup_sheet.h"

#include <algorithm>

#include <fmt/format.h>

#include "report/page/page.h"
#include "yardpass/geom/text.h"
#include "yardpass/report/figures.h"

namespace yardpass::detail {

namespace {

/// Where the program's zero lies, as somebody with an edge finder wants it.
std::string origin_words(const Report& report) {
  const Box3& block = report.setup.block;
  const Telling& t = report.telling;
  const auto from = [&](double zero, double low, double high, const char* low_side, const char* high_side) {
    if (zero < low) return fmt::format("{} beside the {} side", t.with_unit(low - zero), low_side);
    if (zero > high) return fmt::format("{} beside the {} side", t.with_unit(zero - high), high_side);
    return fmt::format("{} from the {} side", t.with_unit(zero - low), low_side);
  };
  const double top = block.max().z();
  const std::string height = std::abs(top) < 5e-7 ? std::string("on the top of the stock")
                             : top > 0            ? t.with_unit(top) + " below the top of the stock"
                                                  : t.with_unit(-top) + " above the top of the stock";
  return fmt::format("G{}: X 0 {}, Y 0 {}, Z 0 {}", report.judged.program.work_offset,
                     from(0, block.min().x(), block.max().x(), "left", "right"),
                     from(0, block.min().y(), block.max().y(), "front", "back"), height);
}

std::string stock_words(const Report& report) {
  const Vec3 size = report.setup.block.sizes();
  const Telling& t = report.telling;
  return fmt::format("{} x {} x {} {}; {}", t.number(size.x()), t.number(size.y()), t.number(size.z()),
                     t.unit(), t.box(report.setup.block));
}

std::string keep_away_words(const GuideMesh& guide, const Telling& t) {
  std::string words = fmt::format("\"{}\"", one_line(guide.name));
  if (!guide.mesh.triangles.empty()) words += ", " + t.box(guide.mesh.box());
  if (guide.clearance_mm > 0) words += ", clearance " + t.with_unit(guide.clearance_mm);
  return words;
}

std::string told(const Settled& settled, const char* key, const Telling& t) {
  for (const SettledValue& value : settled.told)
    if (value.key == key) return t.words(value.value);
  return "";
}

/// No finer than anybody sets it.
std::string feed_words(double mm_min, const Telling& t) {
  const double scaled = t.scaled(mm_min, Unit::mm_min);
  return fmt::format("{:.{}f}", scaled, scaled < 100 ? 1 : 0);
}

std::vector<std::string> row_of(const OperationReport& operation, const Telling& t) {
  const Tool* tool = operation.tool;
  return {operation.number > 0 ? std::to_string(operation.number) : "",
          one_line(operation.name),
          operation.strategy,
          tool ? fmt::format("T{}", tool->number) : "",
          tool ? t.number(tool->spindle_rpm, Unit::turns_min) : "",
          tool ? feed_words(tool->feed_mm_min, t) : "",
          tool ? feed_words(tool->plunge_feed_mm_min, t) : "",
          operation.settled ? told(*operation.settled, "allowance", t) : "",
          clock(operation.judged.time.all_s())};
}

SheetTool sheet_tool(const Tool& tool, const Report& report) {
  const Telling& t = report.telling;
  SheetTool sheet{fmt::format("T{} {}", tool.number, one_line(tool.name)), {}, tool_outline(tool)};
  std::string shape = fmt::format("{}, diameter {}", name_of(tool.shape), t.number(tool.diameter_mm));
  if (tool.corner_radius_mm > 0 && tool.shape != Shape::ball)
    shape += ", corner radius " + t.number(tool.corner_radius_mm);
  sheet.words.push_back(shape);
  sheet.words.push_back(fmt::format("flutes {}, sticks out {} {}", t.number(tool.flute_length_mm),
                                    t.number(tool.stickout_mm), t.unit()));
  double least = 0;
  for (const OperationReport& operation : report.operations)
    if (operation.tool && operation.tool->number == tool.number)
      least = std::max(least, operation.judged.least_stickout_mm);
  if (least > 0 && report.judged.judged)
    sheet.words.push_back(fmt::format("it needs {} of that", t.with_unit(least)));
  if (tool.holder.empty()) sheet.words.emplace_back("no holder given: not looked at");
  sheet.words.push_back(fmt::format("{} turns/min, coolant {}", t.number(tool.spindle_rpm, Unit::turns_min),
                                    tool.coolant ? "on" : "off"));
  for (const ToolPart& part : sheet.parts)
    for (const Vec2& p : part.outline) {
      sheet.diameter_mm = std::max(sheet.diameter_mm, 2 * p.x());
      sheet.length_mm = std::max(sheet.length_mm, p.y());
    }
  return sheet;
}

}  // namespace

SetupSheet setup_sheet(const Report& report) {
  const Telling& t = report.telling;
  SetupSheet sheet;
  sheet.title = one_line(report.job().title);
  sheet.verdict = verdict_words(report);
  sheet.mark = not_for_cutting(report);
  sheet.clean = report.clean() && !report.only_a_look();
  if (!report.job().machine.name.empty())
    sheet.facts.emplace_back("machine", one_line(report.job().machine.name));
  sheet.facts.emplace_back("program", fmt::format("{} lines, {}", report.judged.program.lines,
                                                  clock(report.judged.judgement.seconds)));
  sheet.facts.emplace_back("stock", stock_words(report));
  sheet.facts.emplace_back("zero", origin_words(report));
  for (const GuideMesh& guide : report.setup.keep_away)
    sheet.facts.emplace_back("keep away", keep_away_words(guide, t));
  sheet.heads = {"",
                 "operation",
                 "strategy",
                 "tool",
                 "turns/min",
                 fmt::format("feed, {}/min", t.unit()),
                 "plunge feed",
                 "allowance",
                 "time"};
  std::vector<const Tool*> used;
  for (const OperationReport& operation : report.operations) {
    if (!operation.has_moves()) continue;
    sheet.operations.push_back(row_of(operation, t));
    if (operation.tool && std::find(used.begin(), used.end(), operation.tool) == used.end())
      used.push_back(operation.tool);
  }
  for (const Tool* tool : used) sheet.tools.push_back(sheet_tool(completed(*tool), report));
  for (const Finding& finding : report.judged.judgement.findings)
    if (!finding.accepted_because.empty())
      sheet.accepted.push_back(fmt::format("{}, {}: {}", name_of(finding.kind),
                                           report.operation_words(finding.operation),
                                           one_line(finding.accepted_because)));
  return sheet;
}

namespace {

/// One unit of the drawing is a millimetre of the tool.
std::string tool_svg(const SheetTool& tool) {
  const double half = 0.5 * tool.diameter_mm + 1, high = tool.length_mm + 2;
  // At most 70 mm high on paper.
  const double scale = std::min(1.0, 70 / high);
  std::string svg =
      fmt::format("<svg width=\"{:.1f}mm\" height=\"{:.1f}mm\" viewBox=\"{:.2f} {:.2f} {:.2f} {:.2f}\">",
                  2 * half * scale, high * scale, -half, -high + 1, 2 * half, high);
  for (const ToolPart& part : tool.parts) {
    std::string points;
    for (const Vec2& p : part.outline) points += fmt::format("{:.3f},{:.3f} ", p.x(), -p.y());
    for (std::size_t k = part.outline.size(); k-- > 0;)
      points += fmt::format("{:.3f},{:.3f} ", -part.outline[k].x(), -part.outline[k].y());
    const bool cutter = std::string_view(part.name) == "cutter";
    svg += fmt::format("<polygon points=\"{}\" fill=\"{}\" stroke=\"#22272e\" stroke-width=\"{:.2f}\"/>",
                       points, cutter ? "#f0d9a0" : "#e3e6ea", 0.25 / scale);
  }
  return svg + "</svg>";
}

}  // namespace

std::string sheet_html(const SetupSheet& sheet, const std::vector<Picture>& pictures) {
  std::string html = "<section class=sheet-only id=sheet><h2>Setup</h2><table>";
  for (const auto& [what, words] : sheet.facts)
    html += fmt::format("<tr><td>{}</td><td class=left>{}</td></tr>", escaped(what), escaped(words));
  html += "</table><h2>Operations</h2><table><tr>";
  const auto side = [](std::size_t column) { return column > 0 && column < 4 ? " class=left" : ""; };
  for (std::size_t k = 0; k < sheet.heads.size(); ++k)
    html += fmt::format("<th{}>{}</th>", side(k), escaped(sheet.heads[k]));
  html += "</tr>";
  for (const auto& row : sheet.operations) {
    html += "<tr>";
    for (std::size_t k = 0; k < row.size(); ++k)
      html += fmt::format("<td{}>{}</td>", side(k), escaped(row[k]));
    html += "</tr>";
  }
  html += "</table><h2>Tools</h2><div class=tools-drawn>";
  for (const SheetTool& tool : sheet.tools) {
    html += fmt::format("<div class=tool-drawn>{}<p><b>{}</b>", tool_svg(tool), escaped(tool.name));
    for (const std::string& words : tool.words) html += "<br>" + escaped(words);
    html += "</p></div>";
  }
  html += "</div>";
  if (!sheet.accepted.empty()) {
    html += "<h2>Accepted findings</h2><ul>";
    for (const std::string& words : sheet.accepted) html += fmt::format("<li>{}</li>", escaped(words));
    html += "</ul>";
  }
  for (const Picture& picture : pictures)
    if (&picture == &pictures.front() || picture.file.starts_with("left."))
      html += fmt::format("<figure><img src='{}' alt=''><figcaption>{}</figcaption></figure>", picture.file,
                          escaped(picture.caption));
  return html + "</section>";
}

}  // namespace yardpass::detail
