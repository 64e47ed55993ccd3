#include "job/measure_keys.h"

#include <fmt/format.h>

namespace yardpass::detail {

namespace {

constexpr MeasureKind kKinds[] = {
    {"z_at", Measure::What::z_at, 1, "height of the surface at a place"},
    {"top_of", Measure::What::top_of, 0, "greatest Z of a region"},
    {"bottom_of", Measure::What::bottom_of, 0, "least Z of a region"},
    {"angle_between", Measure::What::angle_between, 2, "in plan, from the first place to the second, from X"},
    {"angle_along", Measure::What::angle_along, 0,
     "in plan, from the first to the last point of a curve, from X", Named::curves},
    {"distance_between", Measure::What::distance_between, 2, "in space"},
    {"radius_through", Measure::What::radius_through, 3, "of the circle through three places"}};

}  // namespace

std::span<const MeasureKind> measure_kinds() { return kKinds; }

std::optional<Measure> read_measure(const Given& node, const char* key, TableReader& reader,
                                    KeyContext& context) {
  TableReader inner(*node.table(), fmt::format("{}, \"{}\"", reader.where(), key), reader.mistakes());
  KeyContext plain{context.folder, context.units, context.names};
  TableKeys keys(inner, plain);
  Measure measure;
  std::vector<std::string> valid;
  std::size_t said = 0;
  bool good = true;
  for (const MeasureKind& kind : kKinds) {
    valid.emplace_back(kind.key);
    if (!inner.has(kind.key)) continue;
    ++said;
    measure.what = kind.what;
    const About about{.says = kind.says};
    if (kind.places == 0) {
      keys.name(kind.key, measure.named, kind.kind, about);
      good &= !measure.named.empty();
    } else {
      keys.places(kind.key, measure.places, kind.places, about);
      good &= measure.places.size() == kind.places;
    }
  }
  for (const MeasureKind& kind : kKinds) inner.any(kind.key);
  context.used.insert(plain.used.begin(), plain.used.end());
  keys.number("plus", measure.plus, {0, ""}, {.says = "added to what is measured"});
  if (said != 1) {
    reader.wrong(node, key, fmt::format("must be a number or a table with one of: {}", listed(valid)));
    return std::nullopt;
  }
  inner.finish();
  return good ? std::optional(measure) : std::nullopt;
}

}  // namespace yardpass::detail
