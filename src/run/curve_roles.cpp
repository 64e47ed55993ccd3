#include "yardpass/run/curve_roles.h"

#include <fmt/format.h>

#include "yardpass/curve/close_loop.h"

namespace yardpass {

std::vector<OperationCurves> curve_roles(const JobSetup& setup, const std::vector<Settled>& operations) {
  std::vector<OperationCurves> all;
  for (const Settled& settled : operations) {
    const auto words = [&](const Error& error) {
      return fmt::format("{}: operation \"{}\": {}", setup.job.file.string(), settled.name, error.what());
    };
    try {
      const Bounds bounds = settled.bounds();
      std::vector<CurveRole> roles = settled.values.pattern->roles(
          centre_area(bounds.boundary, 0.5 * settled.tool.diameter_mm, bounds.rule, bounds.exceptions));
      if (!roles.empty()) all.push_back({settled.number, settled.name, std::move(roles)});
    } catch (const LoopError& error) {
      throw LoopError(words(error), error.pieces, error.places);
    } catch (const Error& error) {
      throw Error(words(error));
    }
  }
  return all;
}

}  // namespace yardpass
