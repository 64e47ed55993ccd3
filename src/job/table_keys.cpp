#include "job/table_keys.h"

#include <algorithm>
#include <charconv>
#include <cmath>

#include <fmt/format.h>

#include "job/measure_keys.h"
#include "yardpass/geom/text.h"

namespace yardpass::detail {

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

double TableKeys::coarsened(double value, const About& about) {
  double coarse = value;
  if (about.coarsened == Coarsened::tolerance)
    coarse = std::min(context_.coarser.tolerance * value, about.high);
  if (about.coarsened == Coarsened::spacing)
    coarse =
        std::clamp(0.5 * context_.tool_diameter_mm, value, std::max(value, context_.coarser.spacing * value));
  if (about.coarsened == Coarsened::ridges)
    coarse = std::clamp(0.1 * context_.tool_diameter_mm, value,
                        std::max(value, context_.coarser.spacing * context_.coarser.spacing * value));
  if (coarse > value)
    how_ += fmt::format(", made coarser than {} for a quick look", said_words(value, about.unit));
  return coarse;
}

void TableKeys::number(const char* key, double& value, const Derived& usual, const About& about) {
  value = coarsened(said_number(key, about).value_or(usual.value), about);
  tell(key, number_of(value, about.unit), usual.rule);
}

void TableKeys::number(const char* key, std::optional<double>& value, const About& about) {
  value = said_number(key, about);
  if (value) value = coarsened(*value, about);
  if (value) return tell(key, number_of(*value, about.unit), "");
  // What stands for it is worked out later; told in the words that the key has for that.
  std::string usual = about.usual;
  usual = usual.substr(0, usual.find(';'));
  tell(key, words_of(usual.empty() ? "none" : usual), "");
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

}  // namespace yardpass::detail
