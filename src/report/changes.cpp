#include "yardpass/report/changes.h"

#include <algorithm>
#include <cmath>
#include <optional>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include "yardpass/geom/text.h"
#include "yardpass/report/figures.h"

namespace yardpass {

namespace {

using Json = nlohmann::json;

constexpr const char* kTold[] = {"seconds",
                                 "feed_length",
                                 "retracts",
                                 "air_feed_share",
                                 "left_after.percentile_95",
                                 "left_after.greatest"};

/// A number of a report, dots leading into objects; nothing if it is not there or not known.
std::optional<double> number_in(const Json& object, std::string key) {
  const Json* at = &object;
  for (std::size_t dot = 0; dot != std::string::npos;) {
    dot = key.find('.');
    const auto found = at->is_object() ? at->find(key.substr(0, dot)) : at->end();
    if (!at->is_object() || found == at->end()) return std::nullopt;
    at = &*found;
    if (dot != std::string::npos) key = key.substr(dot + 1);
  }
  return at->is_number() ? std::optional(at->get<double>()) : std::nullopt;
}

std::string text_in(const Json& object, const char* key) {
  const auto found = object.find(key);
  return found != object.end() && found->is_string() ? found->get<std::string>() : std::string();
}

/// `value`: in the units of the report.
std::string in_words(const Figure& figure, double value, const Telling& telling) {
  const double mm = value * millimetres(telling.units());
  switch (figure.form) {
    case Figure::Form::duration:
      return clock(value);
    case Figure::Form::way:
      return telling.long_way(mm);
    case Figure::Form::length:
    case Figure::Form::room:
      return telling.column(mm);
    case Figure::Form::percent:
      return percent_words(value);
    case Figure::Form::area:
      return telling.area_words(mm * millimetres(telling.units()));
    case Figure::Form::count:
    case Figure::Form::degrees:
      break;
  }
  return fmt::format("{:.0f}", value);
}

std::string by_how_much(double before, double now) {
  if (!(before > 0)) return "";
  const double share = 100 * (now - before) / before;
  return std::abs(share) < 0.5 ? "" : fmt::format(" ({:+.0f} %)", share);
}

/// "time 3:20, was 4:10 (-20 %)"; nothing where both say the same words.
std::optional<std::string> change_of(const Figure& figure, const Json& before, const Json& now,
                                     const Telling& telling) {
  const auto was = number_in(before, figure.key), is = number_in(now, figure.key);
  if (!was || !is) return std::nullopt;
  const std::string old_words = in_words(figure, *was, telling), new_words = in_words(figure, *is, telling);
  if (old_words == new_words) return std::nullopt;
  return fmt::format("{} {}, was {}{}", figure.heading, new_words, old_words,
                     figure.form == Figure::Form::percent ? "" : by_how_much(*was, *is));
}

std::string changes_of(const Json& before, const Json& now, const Telling& telling) {
  std::vector<std::string> words;
  for (const char* key : figures_of_changes())
    for (const Figure& figure : all_figures())
      if (std::string_view(figure.key) == key)
        if (auto change = change_of(figure, before, now, telling)) words.push_back(std::move(*change));
  if (text_in(before, "strategy") != text_in(now, "strategy"))
    words.push_back(
        fmt::format("strategy {}, was {}", text_in(now, "strategy"), text_in(before, "strategy")));
  return fmt::format("{}", fmt::join(words, "; "));
}

std::string name_of(const Json& operation) {
  return fmt::format("operation {:.0f} \"{}\"", number_in(operation, "number").value_or(0),
                     one_line(text_in(operation, "name")));
}

/// The one of the same name; of several the next that is not taken yet.
const Json* partner(const Json& operation, const Json& others, std::vector<std::uint8_t>& taken) {
  for (std::size_t k = 0; k < others.size(); ++k)
    if (!taken[k] && text_in(others[k], "name") == text_in(operation, "name")) {
      taken[k] = 1;
      return &others[k];
    }
  return nullptr;
}

bool is_report(const Json& json) {
  return json.is_object() && json.contains("yardpass") && json.contains("operations") &&
         json["operations"].is_array() && json.contains("findings") && json["findings"].is_array();
}

void compare_whole(const Json& before, const Json& now, const Telling& telling,
                   std::vector<std::string>& lines) {
  const auto missed = [&](const Json& json) { return number_in(json, "left.missed_area"); };
  const auto area = [&](double value) {
    const double mm = millimetres(telling.units());
    return telling.area_words(value * mm * mm);
  };
  if (const auto was = missed(before), is = missed(now); was && is && area(*was) != area(*is))
    lines.push_back(fmt::format("missed {}, was {}", area(*is), area(*was)));
  const auto seconds = [](const Json& json) { return number_in(json, "seconds").value_or(0); };
  if (clock(seconds(before)) != clock(seconds(now)))
    lines.push_back(fmt::format("whole program {}, was {}{}", clock(seconds(now)), clock(seconds(before)),
                                by_how_much(seconds(before), seconds(now))));
  if (before["findings"].size() != now["findings"].size())
    lines.push_back(fmt::format("findings: {}, were {}", now["findings"].size(), before["findings"].size()));
  else if (before["findings"] != now["findings"])
    lines.push_back(fmt::format("findings: as many, {}, but other ones", now["findings"].size()));
  if (text_in(before, "verdict") != text_in(now, "verdict"))
    lines.push_back(fmt::format("verdict: {}, was {}", text_in(now, "verdict"), text_in(before, "verdict")));
}

}  // namespace

std::span<const char* const> figures_of_changes() { return kTold; }

RunChanges changes_between(const std::string& earlier, const std::string& now_text) {
  const Json before = Json::parse(earlier, nullptr, false), now = Json::parse(now_text, nullptr, false);
  RunChanges changes;
  if (!is_report(before) || !is_report(now) || text_in(before, "title") != text_in(now, "title") ||
      text_in(before, "units") != text_in(now, "units"))
    return changes;
  changes.comparable = true;
  const Telling telling(text_in(now, "units") == name_of(Units::inch) ? Units::inch : Units::mm);
  std::vector<std::uint8_t> taken(before["operations"].size(), 0);
  for (const Json& operation : now["operations"]) {
    const Json* const old = partner(operation, before["operations"], taken);
    const std::string words = old ? changes_of(*old, operation, telling) : "new";
    if (!words.empty()) changes.lines.push_back(name_of(operation) + ": " + words);
  }
  for (std::size_t k = 0; k < taken.size(); ++k)
    if (!taken[k]) changes.lines.push_back(name_of(before["operations"][k]) + ": gone");
  compare_whole(before, now, telling, changes.lines);
  return changes;
}

}  // namespace yardpass
