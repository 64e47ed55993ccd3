// The page of a part alone, or of a job before it is planned.
#include <algorithm>

#include <fmt/format.h>

#include "report/page/page.h"
#include "yardpass/report/report.h"
#include "yardpass/version.h"

namespace yardpass {

namespace {

using detail::escaped;

/// The longest lists are told whole in part.json.
constexpr std::size_t kMostRows = 200;

std::string more(std::size_t count) {
  return count > kMostRows ? fmt::format("<p class=faint>And {} more in part.json.</p>", count - kMostRows)
                           : "";
}

std::string regions_table(const Inspection& inspection, const Telling& t) {
  const auto& regions = inspection.setup.region_map.regions;
  std::string html = fmt::format(
      "<h2>Regions</h2><table><tr><th>number</th><th class=left>kind</th><th>area, {0}2</th><th>slope, "
      "degrees</th><th>radius, {0}</th><th>Z from</th><th>to</th></tr>",
      t.unit());
  for (std::size_t i = 0; i < std::min(kMostRows, regions.size()); ++i) {
    const SurfaceRegion& region = regions[i];
    html += fmt::format(
        "<tr><td>{}</td><td class=left>{}</td><td>{:.1f}</td><td>{:.0f} to "
        "{:.0f}</td><td>{}</td><td>{}</td><td>{}</td></tr>",
        i + 1, name_of(region.kind), t.area(region.area_mm2), region.least_slope_deg,
        region.greatest_slope_deg, region.bend_radius_mm > 0 ? t.column(region.bend_radius_mm) : "",
        t.column(region.box.min().z()), t.column(region.box.max().z()));
  }
  return html + "</table>" + more(regions.size());
}

std::string edges_table(const Inspection& inspection, const Telling& t) {
  if (inspection.edges.empty()) return "";
  std::string html = fmt::format(
      "<h2>Sharp edges</h2><table><tr><th>number</th><th>length, {}</th><th class=left>from</th><th "
      "class=left>to</th></tr>",
      t.unit());
  for (std::size_t i = 0; i < std::min(kMostRows, inspection.edges.size()); ++i) {
    const Curve& edge = inspection.edges[i];
    html += fmt::format("<tr><td>{}</td><td>{}</td><td class=left>{}</td><td class=left>{}</td></tr>", i + 1,
                        t.column(length(edge)), t.place(edge.points.front()),
                        edge.closed ? "closed" : t.place(edge.points.back()));
  }
  return html + "</table>" + more(inspection.edges.size());
}

std::string survey_words(const Inspection& inspection, const Telling& t) {
  const Survey& survey = inspection.survey;
  std::string html = fmt::format(
      "<p>From {}; depth {}. Smallest hollow radius: {}.</p><h2>Slopes</h2><table><tr><th>from level, "
      "degrees</th><th>share</th></tr>",
      t.box(inspection.setup.summary.box), t.with_unit(survey.depth_mm()),
      escaped(smallest_hollow_words(survey, t)));
  const double whole = std::max(survey.area_mm2, 1e-300);
  for (std::size_t k = 0; k < survey.slopes.size(); ++k)
    html += fmt::format("<tr><td>{}</td><td>{}</td></tr>", slope_words(survey, k),
                        percent_words(survey.slopes[k].area_mm2 / whole));
  html += fmt::format(
      "</table><h2>Which ball reaches what</h2><table><tr><th>diameter, {}</th><th>share</th></tr>",
      t.unit());
  for (const BallReach& reach : survey.reach)
    html += fmt::format("<tr><td>{}</td><td>{}</td></tr>", t.number(reach.diameter_mm),
                        percent_words(reach.share));
  return html + "</table>";
}

std::string areas_table(const Inspection& inspection, const Telling& t) {
  if (inspection.operations.empty()) return "";
  std::string html =
      "<h2>Where operations work</h2><table><tr><th>operation</th><th class=left>area</th></tr>";
  for (const Settled& settled : inspection.operations)
    html += fmt::format("<tr><td>{} {}</td><td class=left>{}</td></tr>", settled.number,
                        escaped(settled.name), escaped(works_in_words(settled, t)));
  return html + "</table>";
}

}  // namespace

std::string part_html(const Inspection& inspection, const std::vector<Picture>& pictures) {
  const Telling t(inspection.setup.job.units);
  detail::PageWords words;
  words.title = inspection.title;
  words.head = fmt::format("<h1>{}</h1><p class=faint>{} triangles, {}; nothing is planned.</p>",
                           escaped(inspection.title), inspection.setup.summary.triangles,
                           inspection.setup.summary.edges.closed() ? "closed" : "not closed");
  std::string& html = words.body;
  for (const Remark& remark : remarks(inspection.setup.diagnosis))
    html += fmt::format("<p{}>{}: {}.</p>", remark.matters ? "" : " class=faint", escaped(remark.what),
                        escaped(remark.why));
  html += survey_words(inspection, t) + areas_table(inspection, t) + regions_table(inspection, t) +
          edges_table(inspection, t);
  html += "<h2>Pictures</h2>";
  html += detail::figures_html(pictures);
  html += "<p class=faint>Yard Pass " YARDPASS_VERSION "</p>";
  return detail::page(words, detail::scene_of(inspection));
}

}  // namespace yardpass
