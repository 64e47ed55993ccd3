#include <fmt/format.h>

#include "report/edge_sizes.h"
#include "report/page/page.h"
#include "report/setup_sheet.h"
#include "yardpass/geom/text.h"
#include "yardpass/report/figures.h"
#include "yardpass/version.h"

namespace yardpass {

namespace {

using detail::escaped;

/// A column for each figure of a place.
std::string figures_of(const Report& report, FigurePlace place) {
  std::string html = "<table><tr><th>operation</th><th class=left>tool</th>";
  for (const Figure& figure : all_figures())
    if (figure.places & place)
      html += fmt::format("<th title=\"{}\">{}</th>", escaped(figure.says),
                          escaped(heading_words(figure, report.telling)));
  html += "</tr>";
  for (const OperationReport& operation : report.operations) {
    html += fmt::format("<tr><td>{} {}<br><span class=faint>{}</span></td><td class=left>{}</td>",
                        operation.number, escaped(operation.name), escaped(operation.strategy),
                        operation.tool
                            ? fmt::format("T{} {}", operation.tool->number, escaped(operation.tool->name))
                            : std::string("-"));
    for (const Figure& figure : all_figures())
      if (figure.places & place)
        html += fmt::format("<td>{}</td>", in_words(figure, operation, report.telling));
    html += "</tr>";
  }
  return html + "</table>";
}

std::string operations_table(const Report& report) {
  return figures_of(report, kOnPage) + fmt::format(
                                           "<p class=faint>Material left is measured in {} where the "
                                           "operation works, as it leaves it and at the end "
                                           "of the program. Whole program: {}.</p>",
                                           report.telling.unit(), clock(report.judged.judgement.seconds));
}

std::string kind_words(const Finding& finding) {
  std::string words = name_of(finding.kind);
  if (!finding.keep_away.empty()) words += fmt::format(" \"{}\"", finding.keep_away);
  if (!finding.accepted_because.empty()) words += fmt::format(" (accepted: {})", finding.accepted_because);
  return words;
}

std::string time_table(const Report& report) {
  return figures_of(report, kInTimes) +
         fmt::format("<p class=faint>{}{}.</p>",
                     report.job().machine.name.empty() ? "" : escaped(report.job().machine.name) + ": ",
                     escaped(total_time_words(report.judged.program, report.job().machine.motion)));
}

/// Shares of the length by ten degrees, as bars.
std::string bars(const Engagement& engagement) {
  constexpr int kWide = 14, kHigh = 48;
  std::string html =
      fmt::format("<svg width={} height={} role=img aria-label=\"share of the length by angle\">", 18 * kWide,
                  kHigh + 14);
  const std::array<double, 18> shares = engagement.shares_by_ten();
  for (std::size_t k = 0; k < shares.size(); ++k) {
    const double share = shares[k];
    const double high = share > 0 ? std::max(1.0, kHigh * share) : 0;
    html += fmt::format(
        "<rect x={} y={:.1f} width={} height={:.1f} fill=#0072b2><title>{} to {} degrees: {}</title></rect>",
        kWide * k + 1, kHigh - high, kWide - 2, high, 10 * k, 10 * k + 10, percent_words(share));
    if (k % 3 == 0)
      html +=
          fmt::format("<text x={} y={} font-size=10 fill=#5c6470>{}</text>", kWide * k, kHigh + 12, 10 * k);
  }
  return html + "</svg>";
}

std::string engagement_table(const Report& report) {
  std::string html = figures_of(report, kOfEngagement) + "<table>";
  for (const OperationReport& operation : report.operations)
    if (operation.judged.engagement.length_mm > 0)
      html += fmt::format("<tr><td class=left>{} {}</td><td class=left>{}</td></tr>", operation.number,
                          escaped(operation.name), bars(operation.judged.engagement));
  return html +
         "</table><p class=faint>The part of the cutter's leading half turn in which material stands at its "
         "rim, "
         "measured on the stock, entries apart; bars: share of the length by ten degrees.</p>";
}

std::string thickest_table(const Report& report) {
  const WhyLeft& left = report.judged.why_left;
  std::string html = fmt::format("<p>Left {}.</p>", escaped(left_words(report)));
  if (left.thickest.empty()) return html;
  html += fmt::format(
      "<table><tr><th>{}</th><th class=left>why</th><th>X</th><th>Y</th><th>Z</th><th class=left>cut last "
      "by</th><th>line</th></tr>",
      report.telling.unit());
  for (const ThickPlace& place : left.thickest) {
    std::string operation = report.judged.resumed ? "not since" : "nothing", line;
    if (place.last_cut >= 0) {
      const ProgramMove& move = report.judged.program.moves[static_cast<std::size_t>(place.last_cut)];
      operation = report.operation_words(move.operation);
      line = std::to_string(move.line);
    }
    html += fmt::format(
        "<tr><td>{}</td><td class=left>{}</td><td>{}</td><td>{}</td><td>{}</td><td "
        "class=left>{}</td><td>{}</td></tr>",
        report.telling.column(place.left_mm), name_of(place.why), report.telling.column(place.at.x()),
        report.telling.column(place.at.y()), report.telling.column(place.at.z()), escaped(operation), line);
  }
  return html + "</table>";
}

std::string findings_table(const Report& report) {
  const auto& findings = report.judged.judgement.findings;
  if (findings.empty())
    return "<p>None: no cutter, shank or holder enters the part or what it keeps away from beyond what its "
           "operation states, no "
           "rapid, "
           "shank or holder meets material, and none stands above the flutes.</p>";
  std::string html = fmt::format(
      "<table><tr><th>line</th><th class=left>what</th><th class=left>operation</th><th>pass</th><th>depth, "
      "{}</th><th>X</th><th>Y</th>"
      "<th>Z</th><th>moves</th><th>deepest in line</th></tr>",
      report.telling.unit());
  for (const Finding& finding : findings)
    html += fmt::format(
        "<tr><td>{}</td><td class=left>{}</td><td "
        "class=left>{}</td><td>{}</td><td>{}</td><td>{}</td><td>{}</td>"
        "<td>{}</td><td>{}</td><td>{}</td></tr>",
        finding.line, escaped(kind_words(finding)), escaped(report.operation_words(finding.operation)),
        report.pass_of_line(finding.worst_line) > 0 ? std::to_string(report.pass_of_line(finding.worst_line))
                                                    : "-",
        is_an_angle(finding.kind) ? fmt::format("{:.0f} degrees", finding.depth_mm)
                                  : report.telling.column(finding.depth_mm),
        report.telling.column(finding.at.x()), report.telling.column(finding.at.y()),
        report.telling.column(finding.at.z()), finding.moves, finding.worst_line);
  return html + "</table>";
}

std::string tools_table(const Report& report) {
  const Telling& t = report.telling;
  std::string html =
      "<table><tr><th>tool</th><th class=left>shape</th><th>diameter</th><th>corner "
      "radius</th><th>flutes</th><th>stick-out"
      "</th><th>spindle</th><th>feed</th><th>plunge</th><th>ramp</th></tr>";
  for (const Tool& tool : report.job().tools)
    html += fmt::format(
        "<tr><td>T{} {}</td><td "
        "class=left>{}</td><td>{}</td><td>{}</td><td>{}</td><td>{}</td><td>{}</td>"
        "<td>{}</td><td>{}</td><td>{}</td></tr>",
        tool.number, escaped(tool.name), name_of(tool.shape), t.number(tool.diameter_mm),
        t.number(tool.corner_radius_mm), t.number(tool.flute_length_mm), t.number(tool.stickout_mm),
        t.number(tool.spindle_rpm, Unit::turns_min), t.number(tool.feed_mm_min, Unit::mm_min),
        t.number(tool.plunge_feed_mm_min, Unit::mm_min), t.number(tool.ramp_feed_mm_min, Unit::mm_min));
  return html + "</table>";
}

/// A table that opens with a click.
std::string values_table(const Telling& telling, const std::string& heading,
                         std::initializer_list<const std::vector<SettledValue>*> lists) {
  std::string html = fmt::format(
      "<details><summary>{}</summary><table><tr><th>key</th><th class=left>value</th><th "
      "class=left>from</th></tr>",
      escaped(heading));
  for (const auto* values : lists)
    for (const SettledValue& value : *values)
      html += fmt::format("<tr><td>{}</td><td class=left>{}</td><td class=left>{}</td></tr>",
                          escaped(value.key), escaped(telling.words(value.value)), escaped(value.source));
  return html + "</table></details>";
}

std::string values(const Report& report) {
  std::string html;
  for (const OperationReport& operation : report.operations) {
    if (!operation.settled) continue;
    static const std::vector<SettledValue> none;
    html += values_table(report.telling, fmt::format("{} {}", operation.number, operation.name),
                         {&operation.settled->told, operation.planned ? &operation.planned->facts : &none});
  }
  for (const TableValues& table : report.job().told)
    html += values_table(report.telling, table.table, {&table.values});
  return html;
}

std::string notes(const Report& report) {
  std::string html;
  for (const std::string& note : job_notes(report)) html += fmt::format("<p>{}.</p>", escaped(note));
  for (const OperationReport& operation : report.operations)
    for (const std::string& note : notes_of(operation, report.telling))
      html += fmt::format("<p>Operation {} {}: {}.</p>", operation.number, escaped(operation.name),
                          escaped(note));
  return html;
}

/// What was done to the part, and what is wrong with it that matters.
std::string part_words(const JobSetup& setup) {
  std::string html;
  const auto line = [&](const std::string& words) {
    html += fmt::format("<p class=faint>{}</p>", escaped(words));
  };
  if (const std::string placing = placement_words(setup); !placing.empty())
    line("Part placed: " + placing + ".");
  for (const RepairCount& repair : setup.record.repairs)
    line(fmt::format("Part repaired: {}, {} triangles.", name_of(repair.repair), repair.triangles));
  for (const Remark& remark : remarks(setup.diagnosis))
    if (remark.matters) line(fmt::format("Part: {}: {}.", remark.what, remark.why));
  return html;
}

std::string stock_words(const Report& report) {
  std::string html = fmt::format(
      "<p class=faint>Stock {}; part of {} triangles, {}; simulated in cells of {}.{}</p>",
      report.telling.box(report.setup.block), report.setup.summary.triangles,
      report.setup.summary.edges.closed() ? "closed" : "not closed",
      report.telling.with_unit(report.setup.cell_mm),
      report.not_judged.empty() ? "" : fmt::format(" Not judged: {}.", fmt::join(report.not_judged, "; ")));
  for (const std::string& note : report.setup.stock_notes)
    html += fmt::format("<p>Stock: {}.</p>", escaped(note));
  return html;
}

}  // namespace

std::string report_html(const Report& report, const std::vector<Picture>& pictures) {
  detail::PageWords words;
  words.title = report.job().title;
  words.head = fmt::format("<h1>{}</h1>", escaped(report.job().title));
  if (report.only_a_look())
    words.head += fmt::format("<div class='verdict look'>{}</div><br>", not_for_cutting(report));
  words.head +=
      fmt::format("<div class='verdict {}'>Verdict: {}</div>",
                  report.clean() && !report.only_a_look() ? "clean" : "findings", verdict_words(report));
  words.body = detail::sheet_html(detail::setup_sheet(report), pictures) + "<div class=screen-only>" +
               stock_words(report) + part_words(report.setup) + "<h2>Operations</h2>" +
               operations_table(report) + notes(report) +
               "<details id=earlier-box><summary>What changed against an earlier run</summary><p><label>Its "
               "report.json: <input type=file id=earlier accept='.json'></label> <span class=faint>It is "
               "read here and goes nowhere.</span></p><ul id=earlier-told></ul></details>";
  std::string& html = words.body;
  if (report.judged.judged) html += "<h2>Findings</h2>" + findings_table(report);
  if (!report.judged.disagreements.empty()) {
    html += "<h3>The program disagrees with the job</h3><ul>";
    for (const Note& note : report.judged.disagreements)
      html += fmt::format("<li>{}</li>", escaped(report.telling.words(note)));
    html += "</ul>";
  }
  if (report.judged.judged) html += "<h2>What is left, thickest places</h2>" + thickest_table(report);
  if (const std::string edges = detail::edges_html(report); !edges.empty())
    html += "<h2>Edges, measured</h2>" + edges;
  html += "<h2>Time</h2>" + time_table(report);
  if (report.judged.judged) html += "<h2>Engagement</h2>" + engagement_table(report);
  html += "<h2>Tools</h2>" + tools_table(report);
  const std::string told = values(report);
  if (!told.empty()) html += "<h2>Settled values</h2>" + told;
  if (!pictures.empty()) html += "<h2>Pictures</h2>";
  html += detail::figures_html(pictures);
  html += "<p class=faint>Yard Pass " YARDPASS_VERSION "</p></div>";
  return detail::page(words, detail::scene_of(report));
}

}  // namespace yardpass
