#include "yardpass/report/figures.h"

#include <algorithm>

#include <fmt/format.h>

#include "yardpass/geom/text.h"

namespace yardpass {

namespace {

using Operation = const OperationReport&;
using Value = std::optional<double>;
using Form = Figure::Form;

/// What only the judge knows.
Value if_judged(Operation operation, double value) {
  return operation.has_moves() && operation.is_judged ? Value(value) : std::nullopt;
}
Value if_engaged(Operation operation, double value) {
  return operation.judged.engagement.length_mm > 0 ? Value(value) : std::nullopt;
}
Value if_planned(Operation operation, double value) {
  return operation.planned ? Value(value) : std::nullopt;
}

/// Of edges that are measured.
Value if_broken(Operation operation, double EdgeSize::*figure) {
  return operation.edges && operation.edges->all.measured_mm > 0 ? Value(operation.edges->all.*figure)
                                                                 : std::nullopt;
}

constexpr Figure kFigures[] = {
    {"seconds", "time", "with acceleration, tool change included", Form::duration,
     kOnScreen | kOnPage | kOnPicture | kInTimes | kTimesAlone | kPlanned | kCompared,
     [](Operation o) -> Value { return o.judged.time.all_s(); }},
    {"time.feed", "at feed", "seconds at feed", Form::duration, kInTimes | kTimesAlone,
     [](Operation o) -> Value { return o.judged.time.feed_s; }},
    {"time.cut", "of it cuts", "seconds of feed that cut; `null` from `check`, which cannot tell",
     Form::duration, 0, [](Operation o) { return if_planned(o, o.cut_s); }},
    {"time.entry", "of it entries", "seconds of plunges, ramps and leads; `null` from `check`",
     Form::duration, kInTimes, [](Operation o) { return if_planned(o, o.entry_s); }},
    {"time.link", "of it links", "seconds of links at feed; `null` from `check`", Form::duration, kInTimes,
     [](Operation o) { return if_planned(o, o.link_s); }},
    {"time.rapid", "rapids", "seconds of rapids that do not rise", Form::duration, kInTimes | kTimesAlone,
     [](Operation o) -> Value { return o.judged.time.rapid_s; }},
    {"time.retract", "retracts", "seconds of rapids that rise", Form::duration, kInTimes | kTimesAlone,
     [](Operation o) -> Value { return o.judged.time.retract_s; }},
    {"time.tool_change", "tool changes", "seconds of tool changes", Form::duration, kInTimes | kTimesAlone,
     [](Operation o) -> Value { return o.judged.time.tool_change_s; }},
    {"time.without_acceleration", "length over feed", "seconds if every move ran at its feed from its start",
     Form::duration, kInTimes | kTimesAlone, [](Operation o) -> Value { return o.judged.time.plain_s; }},
    {"feed_length", "at feed", "length of all moves at feed", Form::way,
     kOnScreen | kOnPage | kOnPicture | kTimesAlone | kPlanned | kCompared,
     [](Operation o) -> Value { return o.judged.feed_mm; }},
    {"cut_length", "cut", "length of cuts, with ramps, plunges and leads; from `check` all feed", Form::way,
     0,
     [](Operation o) -> Value {
       if (!o.planned) return o.judged.feed_mm;
       const PathLengths& of = o.planned->lengths;
       return of.cut_mm + of.ramp_mm + of.plunge_mm + of.lead_mm;
     }},
    {"link_length", "link", "length of links at feed; `null` from `check`, which cannot tell links from cuts",
     Form::way, 0, [](Operation o) { return o.planned ? Value(o.planned->lengths.link_mm) : std::nullopt; }},
    {"rapid_length", "rapid", "length of rapids, without the way down from the tool change", Form::way,
     kOnScreen | kOnPage | kOnPicture | kPlanned, [](Operation o) -> Value { return o.judged.rapid_mm; }},
    {"retracts", "retracts", "rapids that rise", Form::count, kOnPage | kOnPicture | kPlanned | kCompared,
     [](Operation o) -> Value { return static_cast<double>(o.judged.retracts); }},
    {"time.between", "between cuts", "seconds of rapids and links between cuts, about; `null` from `check`",
     Form::duration, kInTimes | kPlanned,
     [](Operation o) { return o.planned ? Value(o.planned->links.between_s) : std::nullopt; }},
    {"time.between_by_plane", "by the plane",
     "what they would be in the strategy's own order, by the clearance plane every time, about; `null` from "
     "`check`",
     Form::duration, kInTimes,
     [](Operation o) { return o.planned ? Value(o.planned->links.plain_between_s) : std::nullopt; }},
    {"links.stay_down", "links staying down",
     "from cut to cut at feed, straight or along the surface; `null` from `check`", Form::count, 0,
     [](Operation o) {
       return o.planned ? Value(static_cast<double>(o.planned->links.stay_down)) : std::nullopt;
     }},
    {"links.hops", "hops", "from cut to cut at feed, smoothly over what is in between; `null` from `check`",
     Form::count, 0,
     [](Operation o) {
       return o.planned ? Value(static_cast<double>(o.planned->links.hops)) : std::nullopt;
     }},
    {"links.lifts", "lifts",
     "from cut to cut at rapid, just high enough over what is in between; `null` from `check`", Form::count,
     0,
     [](Operation o) {
       return o.planned ? Value(static_cast<double>(o.planned->links.lifts)) : std::nullopt;
     }},
    {"links.planes", "retracts to the plane",
     "from cut to cut by way of the clearance plane; `null` from `check`", Form::count, kPlanned,
     [](Operation o) {
       return o.planned ? Value(static_cast<double>(o.planned->links.planes)) : std::nullopt;
     }},
    {"points", "moves", "moves, rapids included", Form::count, kOnScreen | kOnPage | kOnPicture | kPlanned,
     [](Operation o) -> Value { return static_cast<double>(o.judged.moves); }},
    {"least_clearance", "least room, mm",
     "least room of moves at feed to the true part, in space; negative: gouge depth; at most 2", Form::room,
     kOnScreen | kOnPage | kOnPicture, [](Operation o) { return if_judged(o, o.judged.least_clearance_mm); }},
    {"least_clearance_line", "in line", "the line of the least room", Form::count, 0,
     [](Operation o) { return if_judged(o, o.judged.least_clearance_line); }},
    {"least_stickout", "least stick-out, mm",
     "with which the holder, with its clearance, would just be free of the part and of the material as it "
     "then is; at least the flute length; `null` without a holder",
     Form::length, 0,
     [](Operation o) {
       return o.judged.least_stickout_mm > 0 ? Value(o.judged.least_stickout_mm) : std::nullopt;
     }},
    {"intended_depth", "intended depth, mm", "how deep it states to cut into the part", Form::length, 0,
     [](Operation o) -> Value { return o.settled ? o.settled->values.intended_depth_mm : 0; }},
    {"air_feed_length", "feed in air", "length of moves at feed that take nothing away", Form::way, 0,
     [](Operation o) -> Value { return o.judged.air_feed_mm; }},
    {"air_feed_share", "feed that takes nothing", "share of the feed length that takes nothing away",
     Form::percent, kInTimes | kPlanned | kCompared,
     [](Operation o) {
       return o.judged.feed_mm > 0 ? Value(o.judged.air_feed_mm / o.judged.feed_mm) : std::nullopt;
     }},
    {"engagement.half", "on half of the length, degrees",
     "angle of the cutter's leading half that meets material, on half of the length that takes some; entries "
     "apart",
     Form::degrees, kOfEngagement,
     [](Operation o) { return if_engaged(o, o.judged.engagement.angle_on(0.5)); }},
    {"engagement.most", "on 99 %", "on 99 % of that length", Form::degrees, kOfEngagement,
     [](Operation o) { return if_engaged(o, o.judged.engagement.angle_on(0.99)); }},
    {"engagement.greatest", "greatest", "anywhere", Form::degrees, kOfEngagement,
     [](Operation o) { return if_engaged(o, o.judged.engagement.greatest_deg); }},
    {"engagement.greatest_line", "in line", "the line of the greatest engagement", Form::count, kOfEngagement,
     [](Operation o) { return if_engaged(o, o.judged.engagement.greatest_line); }},
    {"engagement.takes_nothing", "over what is cleared",
     "share of the length over what is cleared, entries apart", Form::percent, kOfEngagement,
     [](Operation o) {
       const Engagement& engagement = o.judged.engagement;
       return if_engaged(o, engagement.takes_nothing_mm / engagement.length_mm);
     }},
    {"left_after.median", "left after it: half",
     "half of its area has no more left, before the next operation", Form::length,
     kOnScreen | kOnPage | kCompared, [](Operation o) { return if_judged(o, o.left_after.median_mm); }},
    {"left_after.percentile_95", "95 %", "95 % of its area has no more left", Form::length,
     kOnScreen | kOnPage | kCompared, [](Operation o) { return if_judged(o, o.left_after.p95_mm); }},
    {"left_after.greatest", "all", "none of its area has more left", Form::length,
     kOnScreen | kOnPage | kCompared, [](Operation o) { return if_judged(o, o.left_after.greatest_mm); }},
    {"left.percentile_95", "at the end: 95 %", "95 % of its area has no more left at the end of the program",
     Form::length, kOnPage, [](Operation o) { return o.is_judged ? Value(o.left.p95_mm) : std::nullopt; }},
    {"missed_area", "missed, mm2",
     "of its area, in plan, that a tool could have taken more from at the end of the program; `null` where "
     "nobody asked",
     Form::area, kCompared,
     [](Operation o) { return o.is_judged && o.has_moves() ? o.missed_mm2 : std::nullopt; }},
    {"scallop.asked", "ridges by the stepover, mm",
     "height of ridges on flat ground by its stepover; `null` where that says nothing", Form::length,
     kCompared,
     [](Operation o) { return o.settled && o.planned ? o.settled->usual.scallop_mm : std::nullopt; }},
    {"scallop.measured", "ridges measured, mm", "what 99 % of its area stays within, allowance taken off",
     Form::length, kCompared,
     [](Operation o) {
       return o.settled && o.planned && o.settled->usual.scallop_mm && o.has_moves() && o.is_judged
                  ? Value(o.measured_scallop_mm)
                  : std::nullopt;
     }},
    {"edges.asked", "edges, mm", "size that edges were to get; `null` where none are broken", Form::length, 0,
     [](Operation o) { return o.edges ? Value(o.edges->asked_mm) : std::nullopt; }},
    {"edges.median", "edges measured, mm: half", "half of what is measured of them has no more", Form::length,
     0, [](Operation o) { return if_broken(o, &EdgeSize::median_mm); }},
    {"edges.least", "least", "none has less", Form::length, 0,
     [](Operation o) { return if_broken(o, &EdgeSize::least_mm); }},
    {"edges.greatest", "greatest", "none has more", Form::length, 0,
     [](Operation o) { return if_broken(o, &EdgeSize::greatest_mm); }},
    {"edges.held_share", "as asked", "share of what is measured, within 0.02 mm of the size asked",
     Form::percent, 0, [](Operation o) { return if_broken(o, &EdgeSize::held_share); }},
    {"edges.ridge", "ridges, mm", "of roundings: the highest that stands between passes", Form::length, 0,
     [](Operation o) {
       return o.edges && o.edges->measure == BreakMeasure::radius ? if_broken(o, &EdgeSize::ridge_mm)
                                                                  : std::nullopt;
     }},
    {"edges.measured_length", "edges measured", "length that the sizes stand for", Form::way, 0,
     [](Operation o) { return o.edges ? Value(o.edges->all.measured_mm) : std::nullopt; }},
    {"edges.not_cut_length", "edges not cut", "length that no cut takes the edge away from", Form::way, 0,
     [](Operation o) { return o.edges ? Value(o.edges->all.passed_by_mm) : std::nullopt; }},
    {"edges.missing_before_length", "edges without material",
     "length of which nothing can be said: material was missing before the operation", Form::way, 0,
     [](Operation o) { return o.edges ? Value(o.edges->all.missing_mm) : std::nullopt; }},
};

std::string padded(const std::string& text, std::size_t width, bool left) {
  const std::string blanks(width - std::min(width, character_count(text)), ' ');
  return left ? text + blanks : blanks + text;
}

}  // namespace

std::span<const Figure> all_figures() { return kFigures; }

std::string in_words(const Figure& figure, const OperationReport& operation, const Telling& telling) {
  const auto value = figure.value(operation);
  if (!value) return "-";
  switch (figure.form) {
    case Form::duration:
      return clock(*value);
    case Form::way:
      return telling.long_way(*value);
    case Form::count:
      return fmt::format("{:.0f}", *value);
    case Form::area:
      return fmt::format("{:.1f}", telling.area(*value));
    case Form::degrees:
      return fmt::format("{:.0f}", *value);
    case Form::length:
      return telling.column(*value);
    case Form::room: {
      const double most = JudgeOptions{}.room_up_to_mm;
      return *value < most ? telling.column(*value) : "over " + telling.column(most);
    }
    case Form::percent:
      return percent_words(*value);
  }
  return "";
}

std::string heading_words(const Figure& figure, const Telling& telling) {
  std::string heading = figure.heading;
  for (const std::string mm : {", mm", ", mm2"})
    if (heading.ends_with(mm)) heading.replace(heading.size() - mm.size() + 2, 2, telling.unit());
  return heading;
}

std::string figures_table(std::span<const OperationReport> operations, FigurePlace place,
                          const Telling& telling) {
  std::vector<std::vector<std::string>> columns(2);
  columns[0].push_back("operation");
  columns[1].push_back("tool");
  for (const OperationReport& operation : operations) {
    const std::string name = one_line(operation.name);
    columns[0].push_back(
        shortened(operation.number > 0 ? fmt::format("{} {}", operation.number, name) : name, 40) +
        (operation.has_moves()  ? ""
         : operation.cut_before ? ": was cut before"
                                : ": cuts nothing"));
    columns[1].push_back(operation.tool ? fmt::format("T{} {}", operation.tool->number,
                                                      shortened(one_line(operation.tool->name), 16))
                                        : "-");
  }
  for (const Figure& figure : kFigures) {
    if (!(figure.places & place)) continue;
    columns.push_back({heading_words(figure, telling)});
    for (const OperationReport& operation : operations)
      columns.back().push_back(in_words(figure, operation, telling));
  }
  std::string text;
  for (std::size_t row = 0; row <= operations.size(); ++row) {
    std::string line;
    for (std::size_t c = 0; c < columns.size(); ++c) {
      std::size_t width = 0;
      for (const std::string& cell : columns[c]) width = std::max(width, character_count(cell));
      line += (c == 0 ? "" : "  ") + padded(columns[c][row], width, c < 2);
    }
    text += line.substr(0, line.find_last_not_of(' ') + 1) + "\n";
  }
  return text;
}

}  // namespace yardpass
