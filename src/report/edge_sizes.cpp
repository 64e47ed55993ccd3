#include "report/edge_sizes.h"

#include <algorithm>

#include <fmt/format.h>

#include "report/page/page.h"
#include "yardpass/geom/text.h"

namespace yardpass {

namespace {

const char* name_of(BreakMeasure measure) {
  switch (measure) {
    case BreakMeasure::width:
      return "width";
    case BreakMeasure::steeper_leg:
      return "leg down the steeper face";
    case BreakMeasure::radius:
      return "radius";
  }
  return "";
}

/// What was not measured.
std::string not_measured(const EdgeSize& size, const Telling& telling) {
  std::string words;
  if (size.passed_by_mm > 0) words += fmt::format("; {} not cut", telling.with_unit(size.passed_by_mm));
  if (size.missing_mm > 0)
    words += fmt::format("; of {} material was missing before", telling.with_unit(size.missing_mm));
  return words;
}

/// How far the worst of it is from what was asked.
double off(const EdgeSize& size, double asked) {
  if (!(size.measured_mm > 0)) return 0;
  return std::max(std::abs(size.least_mm - asked), std::abs(size.greatest_mm - asked));
}

std::string rows(const EdgeSizes& sizes, const Telling& telling) {
  std::vector<const EdgeSize*> edges;
  for (const EdgeSize& edge : sizes.edges) edges.push_back(&edge);
  std::stable_sort(edges.begin(), edges.end(), [&](const EdgeSize* a, const EdgeSize* b) {
    return off(*a, sizes.asked_mm) > off(*b, sizes.asked_mm);
  });
  constexpr std::size_t kMost = 20;
  std::string html;
  for (std::size_t k = 0; k < std::min(kMost, edges.size()); ++k) {
    const EdgeSize& edge = *edges[k];
    const bool measured = edge.measured_mm > 0;
    const auto size = [&](double mm) { return measured ? telling.column(mm) : std::string("-"); };
    const auto place = [&](const Vec3& at) { return measured ? telling.place(at) : std::string("-"); };
    html += fmt::format(
        "<tr><td>{}</td><td>{}</td><td>{}</td><td>{}</td><td>{}</td><td class=left>{}</td><td>{}</td><td "
        "class=left>{}</td></tr>",
        edge.edge, telling.number(edge.measured_mm), telling.number(edge.passed_by_mm + edge.missing_mm),
        size(edge.median_mm), size(edge.least_mm), place(edge.least_at), size(edge.greatest_mm),
        place(edge.greatest_at));
  }
  if (edges.size() > kMost)
    html += fmt::format(
        "<tr><td colspan=8 class=faint>{} more, all nearer to the size: see report.json</td></tr>",
        edges.size() - kMost);
  return html;
}

}  // namespace

std::string edge_size_words(const EdgeSizes& sizes, const Telling& telling) {
  const EdgeSize& all = sizes.all;
  const std::string asked =
      fmt::format("{} of {} asked", name_of(sizes.measure), telling.with_unit(sizes.asked_mm));
  if (!(all.measured_mm > 0)) return asked + "; nothing to measure" + not_measured(all, telling);
  std::string words = fmt::format(
      "{}; measured on {} of edges: median {}, least {} at {} (edge {}), greatest {} at {} (edge {}); "
      "{} of it within {}",
      asked, telling.with_unit(all.measured_mm), telling.column(all.median_mm), telling.column(all.least_mm),
      telling.place(all.least_at), all.least_edge, telling.column(all.greatest_mm),
      telling.place(all.greatest_at), all.greatest_edge, percent_words(all.held_share),
      telling.with_unit(kSizeHeld));
  if (sizes.measure == BreakMeasure::radius)
    words += fmt::format("; ridges up to {}", telling.with_unit(all.ridge_mm));
  return words + not_measured(all, telling);
}

void detail::add_edges(Json& json, const EdgeSizes& sizes, Units units) {
  const InUnits in(units);
  json["measured_as"] = name_of(sizes.measure);
  json["each"] = Json::array();
  for (const EdgeSize& edge : sizes.edges) {
    const bool measured = edge.measured_mm > 0;
    const auto size = [&](double mm) { return measured ? Json(in.length(mm)) : Json(nullptr); };
    const auto place = [&](const Vec3& at) { return measured ? in.place(at) : Json(nullptr); };
    json["each"].push_back({{"edge", edge.edge},
                            {"measured_length", in.length(edge.measured_mm)},
                            {"not_cut_length", in.length(edge.passed_by_mm)},
                            {"missing_before_length", in.length(edge.missing_mm)},
                            {"median", size(edge.median_mm)},
                            {"least", size(edge.least_mm)},
                            {"least_at", place(edge.least_at)},
                            {"greatest", size(edge.greatest_mm)},
                            {"greatest_at", place(edge.greatest_at)},
                            {"held_share", measured ? Json(rounded(edge.held_share)) : Json(nullptr)}});
  }
}

std::string detail::edges_html(const Report& report) {
  const Telling& telling = report.telling;
  std::string html;
  for (const OperationReport& operation : report.operations) {
    if (!operation.edges) continue;
    html += fmt::format(
        "<p>Operation {} {}: {}.</p><table><tr><th>edge</th><th>measured, {}</th><th>not measured</th>"
        "<th>{}, median</th><th>least</th><th class=left>at</th><th>greatest</th><th "
        "class=left>at</th></tr>{}</table>",
        operation.number, escaped(operation.name), escaped(edge_size_words(*operation.edges, telling)),
        telling.unit(), name_of(operation.edges->measure), rows(*operation.edges, telling));
  }
  return html;
}

}  // namespace yardpass
