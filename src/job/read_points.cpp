#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "job/job_tables.h"

namespace yardpass::detail {

std::optional<std::vector<double>> read_numbers(TableReader& reader, const Given& node,
                                                const std::string& key, std::size_t least, std::size_t most,
                                                const std::string& form) {
  const GivenList* list = node.list();
  std::vector<double> numbers;
  if (list)
    for (const Given& n : *list) {
      const auto value = n.is_number() ? n.number() : std::nullopt;
      if (!value || !(std::abs(*value) <= 1e5)) break;
      numbers.push_back(*value);
    }
  if (!list || numbers.size() != list->size() || numbers.size() < least || numbers.size() > most) {
    reader.wrong(node, key, "must be " + form + ", each at most 1e5 in size");
    return std::nullopt;
  }
  return numbers;
}

std::optional<Region> read_loops(TableReader& reader, const Given& node, const std::string& key) {
  const GivenList* list = node.list();
  const auto is_point = [](const Given& n) {
    const GivenList* p = n.list();
    return p && p->size() == 2 && p->at(0).is_number() && p->at(1).is_number();
  };
  const char* form = "must be points [[x, y], ...], at least three, or a list of such loops";
  if (!list || list->empty()) {
    reader.wrong(node, key, form);
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
      reader.wrong(*given, key, form);
      return std::nullopt;
    }
    Polyline2 points;
    for (const Given& point : *loop) {
      if (!is_point(point)) {
        reader.wrong(point, key, "holds something that is no point [x, y]");
        return std::nullopt;
      }
      points.emplace_back(*point.list()->at(0).number(), *point.list()->at(1).number());
      if (!(points.back().cwiseAbs().maxCoeff() <= 1e5)) {
        reader.wrong(point, key, "holds a point beyond 1e5 mm");
        return std::nullopt;
      }
    }
    region.loops.push_back(std::move(points));
  }
  region = unite(region, {});
  if (region.area_mm2() < 1e-3) {
    reader.wrong(node, key, "encloses no area");
    return std::nullopt;
  }
  return region;
}

std::optional<Box3> read_corners(TableReader& reader, const char* key) {
  const Given* node = reader.any(key);
  if (!node) return std::nullopt;
  const char* form = "two opposite corners [[x, y, z], [x, y, z]]";
  const GivenList* list = node->list();
  if (!list || list->size() != 2) {
    reader.wrong(*node, key, fmt::format("must be {}", form));
    return std::nullopt;
  }
  Box3 box;
  for (const Given& corner : *list)
    if (const auto p = read_numbers(reader, corner, key, 3, 3, form)) box.extend(Vec3(p->data()));
  return box;
}

std::vector<std::vector<double>> read_places(TableReader& reader, const Given& node, const std::string& key) {
  const char* form = "a place [x, y] (from above) or [x, y, z] (nearest), or a list of places";
  std::vector<std::vector<double>> places;
  const GivenList* list = node.list();
  const bool several = list && !list->empty() && list->at(0).list();
  const auto add = [&](const Given& place) {
    if (auto numbers = read_numbers(reader, place, key, 2, 3, form)) places.push_back(*numbers);
  };
  if (several)
    for (const Given& place : *list) add(place);
  else
    add(node);
  return places;
}

std::vector<std::int64_t> read_counts(TableReader& reader, const char* key, const std::string& what) {
  std::vector<std::int64_t> numbers;
  const Given* node = reader.any(key);
  if (!node) return numbers;
  const auto add = [&](const Given& n) {
    const auto value = n.whole();
    if (value && *value >= 1 && *value <= 1'000'000'000)
      numbers.push_back(*value);
    else
      reader.wrong(n, key, "must hold whole numbers from 1, " + what);
  };
  if (const GivenList* list = node->list())
    for (const Given& n : *list) add(n);
  else
    add(*node);
  return numbers;
}

std::vector<std::string> read_names(TableReader& reader, const char* key) {
  std::vector<std::string> names;
  const Given* node = reader.any(key);
  if (!node) return names;
  const auto add = [&](const Given& n) {
    const auto name = n.text();
    if (name && !name->empty())
      names.push_back(*name);
    else
      reader.wrong(n, key, "must be a name in quotes, or a list of names");
  };
  if (const GivenList* list = node->list())
    for (const Given& n : *list) add(n);
  else
    add(*node);
  return names;
}

std::vector<std::size_t> leading_back(const std::vector<std::string>& names,
                                      const std::function<std::vector<std::string>(std::size_t)>& uses) {
  enum class State { not_seen, on_the_way, done };
  std::vector<State> state(names.size(), State::not_seen);
  const std::function<bool(std::size_t)> leads_back = [&](std::size_t i) {
    if (state[i] != State::not_seen) return state[i] == State::on_the_way;
    state[i] = State::on_the_way;
    bool back = false;
    for (const std::string& name : uses(i)) {
      const auto at = std::find(names.begin(), names.end(), name);
      if (at != names.end()) back = leads_back(static_cast<std::size_t>(at - names.begin())) || back;
    }
    state[i] = State::done;
    return back;
  };
  std::vector<std::size_t> found;
  for (std::size_t i = 0; i < names.size(); ++i)
    if (state[i] == State::not_seen && leads_back(i)) found.push_back(i);
  return found;
}

}  // namespace yardpass::detail
