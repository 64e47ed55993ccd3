#include "job/table_keys.h"

#include <algorithm>
#include <charconv>
#include <cmath>

#include <fmt/format.h>

#include "job/measure_keys.h"
#include "job/old_words.h"
#include "yardpass/geom/text.h"

namespace yardpass::detail {

namespace {

constexpr double kFarthest = 1e5;  // mm, of coordinates

std::string kind_words(Named kind) {
  switch (kind) {
    case Named::regions:
      return "the region ";
    case Named::curves:
      return "the curve ";
    case Named::areas:
      return "the boundary or region ";
    default:
      return "";
  }
}

/// `wanted` of a list of values of a type; what is wrong goes to `wrong`.
template <typename Value, typename Take>
std::vector<Value> one_or_list(const Given& node, const Take& take) {
  std::vector<Value> values;
  if (const GivenList* list = node.list()) {
    for (const Given& one : *list)
      if (auto value = take(one)) values.push_back(std::move(*value));
  } else if (auto value = take(node)) {
    values.push_back(std::move(*value));
  }
  return values;
}

}  // namespace

std::string use_of(Named kind, const std::string& name) {
  return fmt::format("{} \"{}\"", name_of(kind), name);
}

const char* name_of(Named kind) {
  switch (kind) {
    case Named::regions:
      return "region";
    case Named::curves:
      return "curve";
    case Named::boundaries:
      return "boundary";
    case Named::areas:
      return "area";
    case Named::lids:
      return "lid";
    case Named::run_outs:
      return "run-out";
    case Named::carriers:
      return "carrier";
    case Named::keep_away:
      return "keep-away";
    case Named::operations:
      return "operation";
    case Named::tools:
      return "tool";
    case Named::anything:
      break;
  }
  return "";
}

// ---- what every kind of key shares

const Given* TableKeys::asked(const char* key, const About& about) {
  const Given* node = reader_.any(key);
  if (!node) {
    if (about.required)
      mistake(key, fmt::format("is missing; {}{}", about.says,
                               about.low > -kFarthest ? ", " + range_words(about) : ""));
    return nullptr;
  }
  if (*about.instead_of != '\0' && says(about.instead_of))
    mistake(key, fmt::format("and \"{}\" each give the other; keep one of them", about.instead_of));
  if (*about.belongs_to != '\0' && !says(about.belongs_to))
    mistake(key, fmt::format("belongs to \"{}\"", about.belongs_to));
  return node;
}

std::string TableKeys::source(const char* key, const std::string& otherwise) const {
  if (!says(key)) {
    std::string rule = otherwise;
    std::erase(rule, '`');
    return rule.empty() ? "default" : "default: " + rule;
  }
  const int line = reader_.line_of(key);
  std::string words = line > 0 ? fmt::format("line {}", line) : "given";
  if (std::find(context_.copied.begin(), context_.copied.end(), key) != context_.copied.end())
    words += fmt::format(", copied from \"{}\"", context_.copy_of);
  return words;
}

void TableKeys::tell(const char* key, Quantity value, const std::string& otherwise) {
  values_.push_back({key, std::move(value), source(key, otherwise) + how_});
  how_.clear();
}

void TableKeys::mistake(const char* key, const std::string& what) {
  if (const Given* node = reader_.any(key))
    reader_.wrong(*node, key, what);
  else
    reader_.mistakes().add(reader_.line(), fmt::format("{}: \"{}\" {}", reader_.where(), key, what));
}

void TableKeys::wrong_type(const Given& node, const char* key, const std::string& what) {
  reader_.wrong(node, key, what);
}

void TableKeys::one_of(std::initializer_list<const char*> keys, bool needed) {
  std::vector<std::string> said, all;
  for (const char* key : keys) {
    all.emplace_back(key);
    if (says(key)) said.emplace_back(key);
  }
  if (said.size() > 1)
    mistake(said[1].c_str(),
            fmt::format("and \"{}\" exclude each other: keep one of {}", said[0], listed(all)));
  if (said.empty() && needed) reader_.wrong(fmt::format("needs one of: {}", listed(all)));
}

void TableKeys::refuse_if(bool wrong, std::initializer_list<const char*> keys, const std::string& why) {
  if (!wrong) return;
  for (const char* key : keys)
    if (to_be_measured_.contains(key)) return;
  for (const char* key : keys)
    if (says(key)) return mistake(key, why);
  if (keys.size() == 0)
    reader_.wrong(why);
  else if (why.rfind("is missing", 0) == 0)
    mistake(*keys.begin(), why);
}

void TableKeys::idle_if(bool idle, const char* key, const std::string& why) {
  if (!idle) return;
  std::erase_if(values_, [&](const SettledValue& value) { return value.key == key; });
  if (says(key))
    notes_.push_back({"idle", fmt::format("\"{}\" ({}) changes nothing: {}", key, source(key, ""), why)});
}

// ---- numbers

std::string TableKeys::said_words(double value, Unit unit) const { return short_number(value / scale(unit)); }

std::string TableKeys::range_words(const About& about) const {
  const std::string unit = name_of(about.unit, context_.units);
  std::string words =
      fmt::format("{} {}", about.above_low ? "above" : "at least", said_words(about.low, about.unit));
  if (about.high < 1e9) words += fmt::format(" and at most {}", said_words(about.high, about.unit));
  return words + (unit.empty() ? "" : " " + unit);
}

std::optional<double> TableKeys::plain_number(const Given& node, const char* key, const About& about) {
  const auto number = node.number();
  if (!number) {
    wrong_type(
        node, key,
        fmt::format("must be a number, {}{}", range_words(about),
                    about.of_tool ? ", or a share of the tool: \"8 %\" of its diameter, \"1 radius\"" : ""));
    return std::nullopt;
  }
  const double value = *number * scale(about.unit);
  const bool good = (about.above_low ? value > about.low : value >= about.low) && value <= about.high;
  if (!good) {
    reader_.wrong(node, key, fmt::format("is {}, but must be {}", short_number(*number), range_words(about)));
    return std::nullopt;
  }
  return value;
}

std::optional<double> TableKeys::share_of_tool(const Given& node, const char* key, const About& about) {
  const std::string text = *node.text();
  double number = 0;
  const char* begin = text.data() + (text.rfind('+', 0) == 0 ? 1 : 0);
  const auto [end, code] = std::from_chars(begin, text.data() + text.size(), number);
  std::string unit(end, text.data() + text.size());
  unit.erase(0, unit.find_first_not_of(' '));
  const double radius = context_.tool_diameter_mm / 2;
  const double of = unit == "%" ? 2 * radius / 100 : unit == "radius" || unit == "radii" ? radius : 0;
  if (code != std::errc() || !(of > 0) || !std::isfinite(number)) {
    reader_.wrong(
        node, key,
        fmt::format("is \"{}\"; a share of the tool is \"8 %\" of its diameter, or \"1 radius\"", text));
    return std::nullopt;
  }
  const double value = number * of;
  const bool good = (about.above_low ? value > about.low : value >= about.low) && value <= about.high;
  if (!good) {
    reader_.wrong(node, key,
                  fmt::format("is \"{}\" of the tool, {}, but must be {}", text,
                              said_words(value, about.unit), range_words(about)));
    return std::nullopt;
  }
  how_ = unit == "%"
             ? fmt::format(", {} % of the diameter", short_number(number))
             : fmt::format(", {} {} of the tool", short_number(number), number == 1 ? "radius" : "radii");
  return value;
}

std::optional<double> TableKeys::measured(const Given& node, const char* key, const About& about) {
  const auto asked = read_measure(node, key, reader_, context_);
  if (!asked) return std::nullopt;
  if (!context_.part) {
    to_be_measured_.insert(key);
    return std::nullopt;
  }
  try {
    const Measured found = context_.part->measure(*asked);
    const double number = found.value + asked->plus;
    if (!(number <= about.high && (about.above_low ? number > about.low : number >= about.low)))
      throw Error(
          fmt::format("measures {}, but must be {}", said_words(number, about.unit), range_words(about)));
    const std::string plus = asked->plus == 0  ? ""
                             : asked->plus > 0 ? " plus " + said_words(asked->plus, about.unit)
                                               : " less " + said_words(-asked->plus, about.unit);
    how_ = fmt::format(", measured: {}{}", found.words, plus);
    return number;
  } catch (const Error& error) {
    reader_.mistakes().add(node.line(), fmt::format("{}: \"{}\": {}", reader_.where(), key, error.what()));
    return std::nullopt;
  }
}

std::optional<double> TableKeys::said_number(const char* key, const About& about) {
  how_.clear();
  const Given* node = asked(key, about);
  if (!node) return std::nullopt;
  if (node->table() && context_.measurable) return measured(*node, key, about);
  if (node->text() && about.of_tool) return share_of_tool(*node, key, about);
  return plain_number(*node, key, about);
}

void TableKeys::number(const char* key, double& value, const Derived& usual, const About& about) {
  value = said_number(key, about).value_or(usual.value);
  tell(key, number_of(value, about.unit), usual.rule);
}

void TableKeys::number(const char* key, std::optional<double>& value, const About& about) {
  value = said_number(key, about);
  tell(key, value ? number_of(*value, about.unit) : words_of("none"), about.usual);
}

void TableKeys::whole(const char* key, int& value, int usual, const About& about) {
  value = usual;
  if (const Given* node = asked(key, about)) {
    const auto number = node->whole();
    if (!number || static_cast<double>(*number) < about.low || static_cast<double>(*number) > about.high)
      reader_.wrong(*node, key, fmt::format("must be a whole number from {} to {}", about.low, about.high));
    else
      value = static_cast<int>(*number);
  }
  tell(key, count_of(value), "");
}

void TableKeys::numbers(const char* key, std::vector<double>& value,
                        std::initializer_list<std::size_t> counts, const char* form, const About& about) {
  const auto fits = [&](std::size_t count) {
    return std::find(counts.begin(), counts.end(), count) != counts.end();
  };
  if (const Given* node = asked(key, about)) {
    std::vector<double> said;
    bool good = true;
    const auto take = [&](const Given& n) {
      const auto number = n.number();
      const double x = number ? *number * scale(about.unit) : 0;
      good &= number.has_value() && (about.above_low ? x > about.low : x >= about.low) && x <= about.high;
      said.push_back(x);
    };
    if (const GivenList* list = node->list()) {
      for (const Given& n : *list) take(n);
      good &= said.size() > 1;
    } else {
      take(*node);
    }
    if (good && fits(said.size()))
      value = std::move(said);
    else
      reader_.wrong(*node, key, fmt::format("must be {}, each {}", form, range_words(about)));
  }
  std::string words;
  for (const double x : value) words += (words.empty() ? "" : ", ") + said_words(x, about.unit);
  const std::string unit = name_of(about.unit, context_.units);
  if (!value.empty()) tell(key, words_of(words + (unit.empty() ? "" : " " + unit)), about.usual);
}

void TableKeys::counts(const char* key, std::vector<std::int64_t>& value, const About& about) {
  value.clear();
  const Given* node = asked(key, about);
  if (!node) return;
  value = one_or_list<std::int64_t>(*node, [&](const Given& one) -> std::optional<std::int64_t> {
    const auto number = one.whole();
    if (number && *number >= 1 && *number <= 1'000'000'000) return number;
    reader_.wrong(one, key, "must hold whole numbers from 1");
    return std::nullopt;
  });
  tell(key, words_of(fmt::format("{}", fmt::join(value, ", "))), "");
}

// ---- words and names

void TableKeys::flag(const char* key, bool& value, bool usual, const About& about) {
  value = usual;
  if (const Given* node = asked(key, about)) {
    if (const auto said = node->flag())
      value = *said;
    else
      reader_.wrong(*node, key, "must be true or false");
  }
  tell(key, words_of(value ? "yes" : "no"), "");
}

void TableKeys::text(const char* key, std::string& value, const About& about) {
  value.clear();
  if (const Given* node = asked(key, about)) {
    value = node->text().value_or("");
    if (value.empty()) reader_.wrong(*node, key, "must be a text in quotes, not empty");
  }
  if (!value.empty()) tell(key, words_of(value), "");
}

void TableKeys::file(const char* key, std::filesystem::path& value, const About& about) {
  value.clear();
  std::string name;
  text(key, name, about);
  if (name.empty()) return;
  value = context_.folder / name;
  std::error_code code;
  if (!std::filesystem::exists(value, code))
    mistake(key, fmt::format("names {}, which does not exist", value.string()));
  else if (!std::filesystem::is_regular_file(value, code))
    mistake(key, fmt::format("names {}, which is no file", value.string()));
}

void TableKeys::word(const char* key, std::optional<std::size_t>& value, std::span<const char* const> words,
                     const About& about) {
  value.reset();
  const std::vector<std::string> valid(words.begin(), words.end());
  About asked_about = about;
  std::string required;
  if (about.required && !says(key)) {
    mistake(key, fmt::format("is missing; {}; valid: {}", about.says, listed(valid)));
    return;
  }
  const Given* node = asked(key, asked_about);
  if (!node) return;
  const auto said = node->text();
  if (!said)
    return reader_.wrong(*node, key, fmt::format("must be a word in quotes; valid: {}", listed(valid)));
  const auto at = std::find(valid.begin(), valid.end(), *said);
  if (at == valid.end()) {
    const std::string now = new_word(key, *said);
    reader_.wrong(
        *node, key,
        fmt::format("is \"{}\", which is not known{}; valid: {}", *said,
                    now.empty() ? did_you_mean(*said, valid) : " any more (" + now + ")", listed(valid)));
    return;
  }
  value = static_cast<std::size_t>(at - valid.begin());
  tell(key, words_of(*at), "");
}

void TableKeys::word(const char* key, std::size_t& value, std::span<const char* const> words,
                     std::size_t usual, const std::string& rule, const About& about) {
  std::optional<std::size_t> said;
  word(key, said, words, about);
  value = said.value_or(usual);
  if (!said) tell(key, words_of(words[value]), rule);
}

void TableKeys::words(const char* key, std::vector<std::size_t>& value, std::span<const char* const> words,
                      const About& about) {
  value.clear();
  const Given* node = asked(key, about);
  if (!node) return;
  const std::vector<std::string> valid(words.begin(), words.end());
  value = one_or_list<std::size_t>(*node, [&](const Given& one) -> std::optional<std::size_t> {
    const auto said = one.text();
    const auto at = said ? std::find(valid.begin(), valid.end(), *said) : valid.end();
    if (at != valid.end()) return static_cast<std::size_t>(at - valid.begin());
    reader_.wrong(one, key,
                  said ? fmt::format("holds \"{}\", which is not known{}; valid: {}", *said,
                                     did_you_mean(*said, valid), listed(valid))
                       : fmt::format("must be a list of words; valid: {}", listed(valid)));
    return std::nullopt;
  });
  std::vector<std::string> said;
  for (const std::size_t i : value) said.push_back(valid[i]);
  tell(key, words_of(listed(said)), "");
}

void TableKeys::word_or_number(const char* key, std::optional<std::size_t>& word, double& number,
                               std::span<const char* const> words, const About& about) {
  word.reset();
  const std::vector<std::string> valid(words.begin(), words.end());
  if (!says(key)) {
    if (about.required) mistake(key, fmt::format("is missing; valid: {}, or a coordinate", listed(valid)));
    return;
  }
  const Given& node = *reader_.any(key);
  if (node.is_number()) {
    number = plain_number(node, key, about).value_or(number);
    return;
  }
  const auto said = node.text();
  const auto at = said ? std::find(valid.begin(), valid.end(), *said) : valid.end();
  if (at == valid.end())
    reader_.wrong(node, key,
                  fmt::format("must be one of {}, or a coordinate{}", listed(valid),
                              said ? did_you_mean(*said, valid) : ""));
  else
    word = static_cast<std::size_t>(at - valid.begin());
}

std::string TableKeys::known_name(const Given& node, const char* key, Named kind) {
  const auto name = node.text();
  if (!name || name->empty()) {
    reader_.wrong(node, key, "must be a name in quotes, or a list of names");
    return "";
  }
  if (kind == Named::anything) return *name;
  const std::vector<std::string>& known = context_.names[kind];
  context_.used.insert(use_of(kind, *name));
  if (std::find(known.begin(), known.end(), *name) == known.end())
    reader_.wrong(node, key, "names " + kind_words(kind) + not_defined(*name, known));
  return *name;
}

void TableKeys::name(const char* key, std::string& value, Named kind, const About& about) {
  value.clear();
  if (about.required && !says(key)) {
    const std::vector<std::string>& known = context_.names[kind];
    mistake(key,
            fmt::format("is missing; {}; there are: {}", about.says, known.empty() ? "none" : listed(known)));
    return;
  }
  const Given* node = asked(key, about);
  if (!node) return;
  if (node->list()) return reader_.wrong(*node, key, "must be one name in quotes, not a list");
  value = known_name(*node, key, kind);
  tell(key, words_of(value), "");
}

void TableKeys::names(const char* key, std::vector<std::string>& value, Named kind, const About& about) {
  value.clear();
  if (const Given* node = asked(key, about)) {
    value = one_or_list<std::string>(*node, [&](const Given& one) -> std::optional<std::string> {
      std::string name = known_name(one, key, kind);
      return name.empty() ? std::nullopt : std::optional(std::move(name));
    });
    if (node->list() && node->list()->empty())
      reader_.wrong(*node, key, "is an empty list; leave it out, or name something");
  }
  tell(key, words_of(value.empty() ? "none" : listed(value)), "");
}

// ---- places and areas

std::optional<std::vector<double>> TableKeys::coordinates(const Given& node, const char* key,
                                                          std::size_t least, std::size_t most,
                                                          const std::string& form, Unit unit) {
  const GivenList* list = node.list();
  std::vector<double> numbers;
  if (list)
    for (const Given& n : *list) {
      const auto value = n.number();
      if (!value || !(std::abs(*value * scale(unit)) <= kFarthest)) break;
      numbers.push_back(*value * scale(unit));
    }
  if (!list || numbers.size() != list->size() || numbers.size() < least || numbers.size() > most) {
    reader_.wrong(node, key,
                  fmt::format("must be {}, each at most {} in size", form, said_words(kFarthest, unit)));
    return std::nullopt;
  }
  return numbers;
}

std::optional<Region> TableKeys::read_loops(const Given& node, const char* key) {
  const GivenList* list = node.list();
  const auto is_point = [](const Given& n) {
    const GivenList* p = n.list();
    return p && p->size() == 2 && p->at(0).is_number() && p->at(1).is_number();
  };
  const char* form = "must be points [[x, y], ...], at least three, or a list of such loops";
  if (!list || list->empty()) {
    reader_.wrong(node, key, form);
    return std::nullopt;
  }
  std::vector<const Given*> loops;
  if (is_point(list->front()))
    loops.push_back(&node);
  else
    for (const Given& loop : *list) loops.push_back(&loop);
  Region region;
  for (const Given* given : loops) {
    const GivenList* loop = given->list();
    if (!loop || loop->size() < 3) {
      reader_.wrong(*given, key, form);
      return std::nullopt;
    }
    Polyline2 points;
    for (const Given& point : *loop) {
      if (!is_point(point)) {
        reader_.wrong(point, key, "holds something that is no point [x, y]");
        return std::nullopt;
      }
      const double mm = scale(Unit::mm);
      points.emplace_back(*point.list()->at(0).number() * mm, *point.list()->at(1).number() * mm);
      if (!(points.back().cwiseAbs().maxCoeff() <= kFarthest)) {
        reader_.wrong(point, key,
                      fmt::format("holds a point beyond {} {}", said_words(kFarthest, Unit::mm),
                                  name_of(context_.units)));
        return std::nullopt;
      }
    }
    region.loops.push_back(std::move(points));
  }
  region = unite(region, {});
  if (region.area_mm2() < 1e-3) {
    reader_.wrong(node, key, "encloses no area");
    return std::nullopt;
  }
  return region;
}

void TableKeys::area(const char* key, GivenArea& value, const About& about) {
  value = {};
  const Given* node = asked(key, about);
  if (!node) return;
  if (const auto name = node->text()) {
    value.name = *name;
    how_ = fmt::format(": \"{}\"", *name);
    const auto is = [&](Named kind) {
      const auto& known = context_.names[kind];
      return std::find(known.begin(), known.end(), *name) != known.end();
    };
    value.from = is(Named::boundaries) ? GivenArea::From::boundary
                 : is(Named::regions)  ? GivenArea::From::region
                 : *name == "part"     ? GivenArea::From::part
                 : *name == "stock"    ? GivenArea::From::stock
                                       : GivenArea::From::nothing;
    context_.used.insert(use_of(Named::boundaries, *name));
    context_.used.insert(use_of(Named::regions, *name));
    if (!value.given()) {
      std::vector<std::string> known = context_.names[Named::boundaries];
      const auto& regions = context_.names[Named::regions];
      known.insert(known.end(), regions.begin(), regions.end());
      how_.clear();
      return mistake(
          key,
          fmt::format("names the boundary or region {}; or give \"part\", \"stock\" or points [[x, y], ...]",
                      not_defined(*name, known)));
    }
    if (!context_.part) return;
    try {
      context_.part->find(value);
    } catch (const Error& error) {
      return mistake(key, error.what());
    }
  } else if (const auto loops = read_loops(*node, key)) {
    value.from = GivenArea::From::points;
    value.area = *loops;
  }
  tell(key,
       words_of(
           fmt::format("{} {}", value.area.loops.size(), value.area.loops.size() == 1 ? "loop" : "loops")),
       "");
}

void TableKeys::loops(const char* key, std::optional<Region>& value, const About& about) {
  value.reset();
  if (const Given* node = asked(key, about)) value = read_loops(*node, key);
  if (value)
    tell(key,
         words_of(fmt::format("{} {}", value->loops.size(), value->loops.size() == 1 ? "loop" : "loops")),
         "");
}

void TableKeys::corners(const char* key, std::optional<Corners>& value, const About& about) {
  value.reset();
  const Given* node = asked(key, about);
  if (!node) return;
  const char* form = "two opposite corners [[x, y, z], [x, y, z]]";
  const GivenList* list = node->list();
  if (!list || list->size() != 2) return reader_.wrong(*node, key, fmt::format("must be {}", form));
  const auto a = coordinates(list->at(0), key, 3, 3, form, Unit::mm),
             b = coordinates(list->at(1), key, 3, 3, form, Unit::mm);
  if (!a || !b) return;
  Corners box;
  for (std::size_t k = 0; k < 3; ++k)
    box.low[k] = std::min((*a)[k], (*b)[k]), box.high[k] = std::max((*a)[k], (*b)[k]);
  value = box;
  tell(key,
       words_of(fmt::format("X {} to {}, Y {} to {}, Z {} to {}", said_words(box.low[0], Unit::mm),
                            said_words(box.high[0], Unit::mm), said_words(box.low[1], Unit::mm),
                            said_words(box.high[1], Unit::mm), said_words(box.low[2], Unit::mm),
                            said_words(box.high[2], Unit::mm))),
       "");
}

void TableKeys::places(const char* key, std::vector<std::vector<double>>& value, std::size_t count,
                       const About& about) {
  value.clear();
  const Given* node = asked(key, about);
  if (!node) return;
  const char* form = "a place [x, y] (from above) or [x, y, z] (nearest), or a list of places";
  const GivenList* list = node->list();
  const bool several = list && !list->empty() && list->front().list();
  const auto add = [&](const Given& place) {
    if (auto numbers = coordinates(place, key, 2, 3, form, Unit::mm)) value.push_back(*numbers);
  };
  if (several)
    for (const Given& place : *list) add(place);
  else
    add(*node);
  if (count > 0 && value.size() != count && (!several || value.size() == list->size()))
    reader_.wrong(*node, key, fmt::format("must be {} places", count));
}

void TableKeys::points(const char* key, std::vector<std::vector<double>>& value, std::size_t least,
                       const char* form, const About& about) {
  const Given* node = asked(key, about);
  if (!node) return;
  value.clear();
  const GivenList* list = node->list();
  if (!list || list->size() < least)
    return reader_.wrong(*node, key, fmt::format("must be a list of at least {} {}", least, form));
  for (const Given& point : *list)
    if (const auto p = coordinates(point, key, 2, 3, form, about.unit)) value.push_back(*p);
  tell(key, words_of(fmt::format("{} points", value.size())), "");
}

// ---- tables in tables

void TableKeys::each(const char* key, const std::function<void(Keys& one)>& visit, const About& about) {
  const Given* node = asked(key, about);
  if (!node) return;
  const GivenList* list = node->list();
  if (!list) return reader_.wrong(*node, key, "must be a list of tables [{ key = value, ... }, ...]");
  for (const Given& one : *list) {
    if (!one.table()) {
      reader_.wrong(one, key, "must be a list of tables [{ key = value, ... }, ...]");
      continue;
    }
    TableReader inner(*one.table(), fmt::format("{}, {}", reader_.where(), key), reader_.mistakes());
    TableKeys keys(inner, context_);
    visit(keys);
    inner.finish();
  }
  tell(key, count_of(static_cast<std::int64_t>(list->size())), "");
}

void TableKeys::table(const char* key, const std::function<void(Keys& keys)>& visit, const About& about) {
  const Given* node = asked(key, about);
  if (!node) return;
  if (!node->table()) return reader_.wrong(*node, key, "must be a table { key = value, ... }");
  TableReader inner(*node->table(), fmt::format("{}, {}", reader_.where(), key), reader_.mistakes());
  TableKeys keys(inner, context_);
  visit(keys);
  inner.finish();
}

}  // namespace yardpass::detail
