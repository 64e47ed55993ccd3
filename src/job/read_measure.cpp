#include <algorithm>

#include <fmt/format.h>

#include "job/job_tables.h"

namespace yardpass::detail {

namespace {

struct MeasureKind {
  const char* key;
  Measure::What what;
  std::size_t places;  // 0: names a region
};
constexpr MeasureKind kKinds[] = {{"z_at", Measure::What::z_at, 1},
                                  {"top_of", Measure::What::top_of, 0},
                                  {"bottom_of", Measure::What::bottom_of, 0},
                                  {"angle_between", Measure::What::angle_between, 2},
                                  {"distance_between", Measure::What::distance_between, 2},
                                  {"radius_through", Measure::What::radius_through, 3}};

void read_measure_places(TableReader& reader, const MeasureKind& kind, Measure& measure) {
  const Given* node = reader.any(kind.key);
  if (kind.places == 0) {
    measure.region = reader.text(kind.key).value_or("");
    return;
  }
  const std::string form = "a place [x, y] (from above) or [x, y, z] (nearest)";
  if (kind.places == 1) {
    if (const auto place = read_numbers(reader, *node, kind.key, 2, 3, form))
      measure.places.push_back(*place);
    return;
  }
  const GivenList* list = node->list();
  if (!list || list->size() != kind.places) {
    reader.wrong(*node, kind.key, fmt::format("must be a list of {} places", kind.places));
    return;
  }
  for (const Given& n : *list)
    if (const auto place = read_numbers(reader, n, kind.key, 2, 3, form)) measure.places.push_back(*place);
}

}  // namespace

std::optional<double> number_or_measure(TableReader& reader, const char* key, const Range& range,
                                        std::vector<MeasuredValue>& measured) {
  const Given* node = reader.any(key);
  if (!node || !node->table()) return reader.number(key, range);
  TableReader inner(*node->table(), fmt::format("{}, \"{}\"", reader.where(), key), reader.mistakes());
  std::vector<std::string> valid;
  const MeasureKind* chosen = nullptr;
  std::size_t given = 0;
  for (const MeasureKind& kind : kKinds) {
    valid.emplace_back(kind.key);
    if (inner.any(kind.key)) chosen = &kind, ++given;
  }
  MeasuredValue value{key, {}, range.low, range.high, range.low_open, node->line()};
  value.measure.plus = inner.number("plus", kPlace).value_or(0);
  if (given != 1) {
    reader.wrong(*node, key, fmt::format("must be a number or a table with one of: {}", listed(valid)));
    return std::nullopt;
  }
  value.measure.what = chosen->what;
  read_measure_places(inner, *chosen, value.measure);
  inner.finish();
  measured.push_back(value);
  return std::nullopt;
}

}  // namespace yardpass::detail
