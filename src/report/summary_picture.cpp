// Where the time goes, and how much of the part has how much left.
#include <algorithm>
#include <array>
#include <cmath>

#include <fmt/format.h>

#include "report/left_colours.h"
#include "report/plot.h"
#include "report/run_pictures.h"
#include "yardpass/geom/text.h"

namespace yardpass::detail {

namespace {

struct Share {
  const char* words;
  unsigned colour;
  double (*seconds)(const OperationReport&);
};
constexpr std::array<Share, 6> kShares{
    {{"cuts", 0x1f4e8c, [](const OperationReport& o) { return o.cut_s; }},
     {"entries", 0xb5347a, [](const OperationReport& o) { return o.entry_s; }},
     {"links", 0x2a8f6a, [](const OperationReport& o) { return o.link_s; }},
     {"rapids", 0xc2543f, [](const OperationReport& o) { return o.judged.time.rapid_s; }},
     {"retracts", 0xe0a08f, [](const OperationReport& o) { return o.judged.time.retract_s; }},
     {"tool changes", 0x9aa3ad, [](const OperationReport& o) { return o.judged.time.tool_change_s; }}}};

constexpr double kLeft = 60, kRight = 1220;

/// A bar for each operation, the longest over all of the width. Returns where they end.
double draw_times(Canvas& canvas, const Report& report, double top) {
  constexpr std::size_t kMost = 14;
  constexpr double kBars = 330;  // left side of the bars
  std::vector<const OperationReport*> shown;
  double longest = 1e-9;
  for (const OperationReport& operation : report.operations)
    if (operation.has_moves()) {
      shown.push_back(&operation);
      longest = std::max(longest, operation.judged.time.all_s());
    }
  const std::size_t count = std::min(kMost, shown.size());
  canvas.text({kLeft, top}, "time of each operation", 14, kInk, Canvas::Align::left, true);
  canvas.text({kRight, top}, "whole program " + clock(report.judged.judgement.seconds), 14, kInk,
              Canvas::Align::right, true);
  double x = kBars;
  for (const Share& share : kShares) {
    canvas.fill({x, top + 14, 12, 12}, hex(share.colour));
    canvas.text({x + 18, top + 25}, share.words, 12, kInk);
    x += 32 + canvas.text_width(share.words, 12);
  }
  top += 40;
  const double step = std::min(30.0, 330.0 / static_cast<double>(std::max<std::size_t>(1, count)));
  for (std::size_t i = 0; i < count; ++i) {
    const OperationReport& operation = *shown[i];
    const std::string name =
        canvas.fitting(fmt::format("{} {}", operation.number, operation.name), 12, kBars - kLeft - 16);
    canvas.text({kLeft, top + 0.5 * step + 4}, name, 12, kInk);
    double at = kBars;
    for (const Share& share : kShares) {
      const double wide = (kRight - 70 - kBars) * share.seconds(operation) / longest;
      if (wide > 0.05) canvas.fill({at, top + 0.14 * step, wide, 0.72 * step}, hex(share.colour));
      at += wide;
    }
    canvas.text({at + 6, top + 0.5 * step + 4}, clock(operation.judged.time.all_s()), 12, kInk);
    top += step;
  }
  if (count < shown.size())
    canvas.text({kLeft, top + 14}, fmt::format("and {} more operations", shown.size() - count), 12, kFaint);
  return top + 20;
}

/// Shares of the part's area in plan by how much is left.
void draw_histogram(Canvas& canvas, const Report& report, double top, double bottom) {
  const Telling& t = canvas.telling();
  std::array<std::size_t, kLeftSteps.size() + 1> counts{};  // the first: below the part
  std::size_t all = 0;
  for (const float value : report.judged.left.left_mm) {
    if (std::isnan(value)) continue;
    ++all;
    std::size_t k = 0;
    if (value >= -0.001f)
      for (k = 1; k < kLeftSteps.size() && static_cast<double>(value) > kLeftSteps[k - 1].up_to_mm;) ++k;
    ++counts[k];
  }
  canvas.text({kLeft, top}, fmt::format("how much of the part has how much left, {}", t.unit()), 14, kInk,
              Canvas::Align::left, true);
  if (all == 0) return;
  const double most =
      static_cast<double>(*std::max_element(counts.begin(), counts.end())) / static_cast<double>(all);
  const double wide = (kRight - kLeft) / static_cast<double>(counts.size());
  for (std::size_t k = 0; k < counts.size(); ++k) {
    const double share = static_cast<double>(counts[k]) / static_cast<double>(all);
    const double high = (bottom - top - 70) * share / most, x = kLeft + wide * static_cast<double>(k);
    const Colour colour = hex(k == 0 ? kBelowPart : kLeftSteps[k - 1].colour);
    canvas.fill({x + 6, bottom - 24 - high, wide - 12, high}, colour);
    canvas.outline({x + 6, bottom - 24 - high, wide - 12, high}, kFaint, 0.5);
    canvas.text({x + wide / 2, bottom - 30 - high}, percent_words(share), 12, kInk, Canvas::Align::middle);
    const std::string words = k == 0                   ? "below the part"
                              : k == counts.size() - 1 ? "above " + t.number(kLeftSteps[k - 2].up_to_mm)
                                                       : "to " + t.number(kLeftSteps[k - 1].up_to_mm);
    canvas.text({x + wide / 2, bottom - 6}, words, 12, kInk, Canvas::Align::middle);
  }
}

}  // namespace

void draw_summary(OutputSource& source) {
  const Report& report = source.report;
  Canvas canvas(kWidth, kHeight, report.telling);
  canvas.stamp(not_for_cutting(report));
  draw_title(canvas, report.job().title + ": summary", "verdict: " + verdict_words(report));
  const double y = draw_times(canvas, report, 96);
  if (report.judged.judged) draw_histogram(canvas, report, y + 24, 770);
  canvas.save(source.picture("summary", "Where the time goes, and how much is left"));
}

}  // namespace yardpass::detail
