#include "job/table_keys.h"

#include <algorithm>

#include <fmt/format.h>

namespace yardpass::detail {

namespace {

std::vector<std::string> defined(const Job& job, Named kind) {
  switch (kind) {
    case Named::lids:
      return names_of(job.lids);
    case Named::extensions:
      return names_of(job.extensions);
    case Named::guide_surfaces:
      return names_of(job.guide_surfaces);
    case Named::guards:
      return names_of(job.guards);
    case Named::boundaries_and_regions:
      break;
  }
  std::vector<std::string> names = names_of(job.boundaries);
  for (const RegionJob& region : job.regions) names.push_back(region.name);
  return names;
}

}  // namespace

std::string TableKeys::source(const char* key, const std::string& otherwise) const {
  if (!says(key)) return otherwise.empty() ? "default" : "default: " + otherwise;
  const int line = reader_.line_of(key);
  return line > 0 ? fmt::format("line {}", line) : "given";
}

void TableKeys::mistake(const char* key, const std::string& what) {
  if (const Given* node = reader_.any(key))
    reader_.wrong(*node, key, what);
  else
    reader_.mistakes().add(reader_.line(), fmt::format("{}: \"{}\" {}", reader_.where(), key, what));
}

std::optional<double> TableKeys::said_number(const char* key, const About& about) {
  measured_words_.clear();
  if (*about.instead_of != '\0' && says(key) && says(about.instead_of))
    mistake(key, fmt::format("and \"{}\" each give the other; keep one of them", about.instead_of));
  const Range range{about.low, about.high, about.above_low, name_of(about.unit)};
  std::vector<MeasuredValue> measured;
  const auto value = number_or_measure(reader_, key, range, measured);
  if (measured.empty()) return value;
  const MeasuredValue& asked = measured.front();
  if (!part_) {
    to_be_measured_.insert(key);
    if (!asked.measure.region.empty()) check_region_name(reader_, job_, key, asked.measure.region);
    return std::nullopt;
  }
  try {
    const Measured found = part_->measure(asked.measure);
    const double number = found.value + asked.measure.plus;
    if (!(number <= range.high && (range.low_open ? number > range.low : number >= range.low)))
      throw Error(fmt::format("measures {:.6g}, but must be {} {:g} and at most {:g}", number,
                              range.low_open ? "above" : "at least", range.low, range.high));
    const std::string plus = asked.measure.plus == 0  ? ""
                             : asked.measure.plus > 0 ? fmt::format(" plus {:g}", asked.measure.plus)
                                                      : fmt::format(" less {:g}", -asked.measure.plus);
    measured_words_ = fmt::format(", measured: {}{}", found.words, plus);
    return number;
  } catch (const Error& error) {
    reader_.mistakes().add(asked.line, fmt::format("{}: \"{}\": {}", reader_.where(), key, error.what()));
    return std::nullopt;
  }
}

void TableKeys::number(const char* key, double& value, const Derived& usual, const About& about) {
  value = said_number(key, about).value_or(usual.value);
  values_.push_back({key, number_of(value, about.unit), source(key, usual.rule) + measured_words_});
}

void TableKeys::number(const char* key, std::optional<double>& value, const About& about) {
  value = said_number(key, about);
  if (value)
    values_.push_back({key, number_of(*value, about.unit), source(key, "") + measured_words_});
  else
    values_.push_back({key, words_of("none"), source(key, "no limit")});
}

void TableKeys::flag(const char* key, bool& value, bool usual, const About&) {
  value = reader_.flag(key).value_or(usual);
  values_.push_back({key, words_of(value ? "yes" : "no"), source(key, "")});
}

void TableKeys::word(const char* key, std::size_t& value, std::span<const char* const> words,
                     std::size_t usual, const std::string& rule, const About&) {
  const std::vector<std::string> valid(words.begin(), words.end());
  value = usual;
  if (const auto chosen = reader_.choice(key, valid))
    value = static_cast<std::size_t>(std::find(valid.begin(), valid.end(), *chosen) - valid.begin());
  values_.push_back({key, words_of(valid[value]), source(key, rule)});
}

void TableKeys::names(const char* key, std::vector<std::string>& value, Named kind, const About&) {
  value = read_names(reader_, key);
  const std::vector<std::string> known = defined(job_, kind);
  for (const std::string& name : value)
    if (std::find(known.begin(), known.end(), name) == known.end())
      mistake(key, "names " + not_defined(name, known));
  if (!value.empty()) values_.push_back({key, words_of(listed(value)), source(key, "")});
}

void TableKeys::area(const char* key, GivenArea& value, const About&) {
  value = {};
  const Given* node = reader_.any(key);
  if (!node) return;
  std::string from = source(key, "");
  if (const auto name = node->text()) {
    value.name = *name;
    from = fmt::format("\"{}\", {}", *name, from);
    const std::vector<std::string> known = defined(job_, Named::boundaries_and_regions);
    if (std::find(known.begin(), known.end(), *name) == known.end())
      return mistake(key, fmt::format("names the boundary or region {}; or give points [[x, y], ...]",
                                      not_defined(*name, known)));
    const auto regions = names_of(job_.regions);
    value.from = std::find(regions.begin(), regions.end(), *name) == regions.end() ? GivenArea::From::boundary
                                                                                   : GivenArea::From::region;
    if (!part_) return;
    try {
      part_->find(value);
    } catch (const Error& error) {
      return mistake(key, error.what());
    }
  } else if (const auto loops = read_loops(reader_, *node, key)) {
    value.from = GivenArea::From::points;
    value.area = *loops;
  }
  values_.push_back(
      {key,
       words_of(fmt::format("{} {}, {:.0f} mm2", value.area.loops.size(),
                            value.area.loops.size() == 1 ? "loop" : "loops", value.area.area_mm2())),
       from});
}

void TableKeys::each(const char* key, const std::function<void(Keys& one)>& visit, const About&) {
  const GivenList* list = reader_.array(key);
  if (!list) return;
  for (const Given& node : *list) {
    if (!node.table()) {
      reader_.wrong(node, key, "must be a list of tables { key = value, ... }");
      continue;
    }
    TableReader inner(*node.table(), fmt::format("{}, {}", reader_.where(), key), reader_.mistakes());
    TableKeys one(inner, job_, part_);
    visit(one);
    inner.finish();
  }
  values_.push_back({key, count_of(static_cast<std::int64_t>(list->size())), source(key, "")});
}

void TableKeys::refuse_if(bool wrong, std::initializer_list<const char*> keys, const std::string& why) {
  if (!wrong) return;
  const char* told = *keys.begin();
  for (const char* key : keys)
    if (to_be_measured_.contains(key)) return;
  for (const char* key : keys)
    if (says(key)) {
      told = key;
      break;
    }
  mistake(told, why);
}

void TableKeys::idle_if(bool idle, const char* key, const std::string& why) {
  if (!idle) return;
  std::erase_if(values_, [&](const ValueInForce& value) { return value.key == key; });
  if (says(key))
    notes_.push_back({"idle", fmt::format("\"{}\" ({}) changes nothing: {}", key, source(key, ""), why)});
}

}  // namespace yardpass::detail
