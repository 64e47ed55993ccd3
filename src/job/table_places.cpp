// Places, areas and inner tables of a table.
#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "job/table_keys.h"
#include "yardpass/geom/text.h"

namespace yardpass::detail {

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
    if (const auto crossing = self_crossing(points)) {
      reader_.wrong(*given, key,
                    fmt::format("crosses itself at X {} Y {}: points must go round once, without a crossing",
                                short_number(crossing->x() / scale(Unit::mm)),
                                short_number(crossing->y() / scale(Unit::mm))));
      return std::nullopt;
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

void TableKeys::curves(const char* key, GivenCurves& value, const About& about) {
  value = {};
  names(key, value.names, Named::curves, about);
  if (value.names.empty() || !context_.part) return;
  try {
    context_.part->find(value);
  } catch (const Error& error) {
    mistake(key, error.what());
  }
  for (const std::string& note : value.notes) notes_.push_back({"curves", note});
}

void TableKeys::tool(const char* key, GivenTool& value, const About& about) {
  value = {};
  name(key, value.name, Named::tools, about);
  if (!value.name.empty() && context_.part) context_.part->find(value);
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
  if (!node && !about.always) return;
  if (node && !node->table()) return reader_.wrong(*node, key, "must be a table { key = value, ... }");
  const GivenTable nothing(reader_.line());
  TableReader inner(node ? *node->table() : nothing, fmt::format("{}, {}", reader_.where(), key),
                    reader_.mistakes());
  TableKeys keys(inner, context_);
  // Its keys may bear the names of outer ones that were copied.
  const std::vector<std::string> outer = std::exchange(context_.copied, {});
  visit(keys);
  inner.finish();
  context_.copied = outer;
  for (SettledValue& value : keys.values_) {
    if (inner.has(value.key.c_str()) && std::find(outer.begin(), outer.end(), key) != outer.end())
      value.source += fmt::format(", copied from \"{}\"", context_.copy_of);
    value.key = fmt::format("{} {}", key, value.key);
    values_.push_back(std::move(value));
  }
  notes_.insert(notes_.end(), keys.notes_.begin(), keys.notes_.end());
}

}  // namespace yardpass::detail
