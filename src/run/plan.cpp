#include "yardpass/run/plan.h"

#include <algorithm>

#include <fmt/format.h>

#include "run/breaks.h"
#include "run/carve_path.h"
#include "run/plan_operation.h"
#include "run/rest_stock.h"
#include "setup/stage.h"
#include "yardpass/survey/touchable.h"

namespace yardpass {

namespace {

/// Of the region that an operation follows, how much its tool can touch. Throws Error, before any is planned,
/// where that is next to nothing. Those that are known were asked when they were planned.
std::vector<std::optional<double>> touchable(const JobSetup& setup, const std::vector<Settled>& operations,
                                             const std::vector<const PlannedOperation*>& known) {
  constexpr double kTooLittle = 0.1;
  std::vector<std::optional<double>> shares;
  std::string mistakes;
  for (const Settled& settled : operations) {
    shares.emplace_back();
    if (known[shares.size() - 1]) continue;
    const GivenArea& area = settled.values.limits.keep_inside;
    if (area.from != GivenArea::From::region || settled.usual.at_levels) continue;
    const auto region = std::find_if(setup.regions.begin(), setup.regions.end(),
                                     [&](const NamedRegion& one) { return one.name == area.name; });
    if (region == setup.regions.end()) continue;
    shares.back() = touchable_share(ToolSurface(setup.part, settled.tool, {}, std::nullopt), region->set);
    if (*shares.back() < kTooLittle)
      mistakes += fmt::format(
          "{}{}: operation \"{}\": its tool can touch {:.1f} % of the region \"{}\"; nothing is planned "
          "below "
          "{:.0f} % (a smaller or longer tool, or another region?)",
          mistakes.empty() ? "" : "\n", setup.job.file.string(), settled.name, 100 * *shares.back(),
          area.name, 100 * kTooLittle);
  }
  if (!mistakes.empty()) throw Error(mistakes);
  return shares;
}

}  // namespace

void PlannedOperation::measure() {
  lengths = yardpass::measure(path);
  points = std::count_if(path.moves.begin(), path.moves.end(),
                         [](const Move& move) { return move.kind != MoveKind::rapid; });
}

std::vector<PlannedOperation> plan_operations(const JobSetup& setup, const std::vector<Settled>& operations,
                                              const KeptPaths* kept, const StageProgress& progress) {
  const std::vector<Fingerprint> fingerprints = fingerprints_of(setup, operations);
  const std::vector<const PlannedOperation*> known =
      kept ? kept->find(fingerprints) : std::vector<const PlannedOperation*>(operations.size(), nullptr);
  std::vector<Guides> guides;
  for (std::size_t i = 0; i < operations.size(); ++i)
    if (!known[i]) guides.push_back(operations[i].values.guides);
  const std::vector<std::optional<double>> shares = touchable(setup, operations, known);
  detail::GuidedParts parts(setup, std::move(guides));
  Stock stock = setup.new_stock();
  std::size_t carved = 0;  // so many of the planned
  std::vector<PlannedOperation> planned;
  for (std::size_t i = 0; i < operations.size(); ++i) {
    const Settled& settled = operations[i];
    if (known[i]) {
      planned.push_back(*known[i]);
      planned.back().taken_over = true;
      continue;
    }
    // From their paths, not as linking left it: so it is the same to the last bit for what is taken over.
    for (; carved < i; ++carved) detail::carve_path(stock, planned[carved].path);
    const detail::GuidedPart guided =
        parts.next(detail::stage(progress, "index what guides " + settled.name));
    std::optional<Stock> seen;
    if (settled.usual.at_levels) seen = detail::stock_for(settled.tool, *setup.stock, stock, planned);
    planned.push_back(detail::plan_operation(settled, guided, setup.job.machine.controller, setup.drilled,
                                             stock, seen ? &*seen : nullptr, progress));
    detail::add_breaks(planned.back(), settled, setup.job.machine);
    planned.back().fingerprint = fingerprints[i];
    if (seen)
      planned.back().facts.push_back({"seen in cells", length_of(seen->cell_mm()),
                                      "what stands: of a 45th of the tool's radius, if not too many"});
    if (shares[i])
      planned.back().facts.push_back({"touched", number_of(*shares[i], Unit::share),
                                      "of its region, at most, by the tool's shape and length"});
  }
  return planned;
}

}  // namespace yardpass
