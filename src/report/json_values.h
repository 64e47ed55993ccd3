// Values of JSON files.
#pragma once

#include <cmath>

#include <nlohmann/json.hpp>

#include "yardpass/report/report.h"

namespace yardpass::detail {

using Json = nlohmann::ordered_json;

/// Six decimals are finer than any promise; more would only be noise.
inline double rounded(double value) { return std::round(value * 1e6) / 1e6; }
inline Json triple(const Vec3& p) { return Json::array({rounded(p.x()), rounded(p.y()), rounded(p.z())}); }

/// Numbers in the units of the job.
class InUnits {
 public:
  explicit InUnits(Units units) : mm_(millimetres(units)) {}
  [[nodiscard]] double length(double mm) const { return rounded(mm / mm_); }
  [[nodiscard]] double area(double mm2) const { return rounded(mm2 / (mm_ * mm_)); }
  [[nodiscard]] double volume(double mm3) const { return rounded(mm3 / (mm_ * mm_ * mm_)); }
  [[nodiscard]] Json place(const Vec3& p) const { return triple(p / mm_); }
  [[nodiscard]] Json box(const Box3& b) const { return {{"min", place(b.min())}, {"max", place(b.max())}}; }

 private:
  double mm_;
};

/// As text of a file. Names may hold bytes that are no UTF-8: they become U+FFFD.
inline std::string dumped(const Json& json) {
  return json.dump(2, ' ', false, Json::error_handler_t::replace) + "\n";
}

/// What report.json says.
Json whole_json(const Report& report);
/// All figures of an operation, by their keys.
void add_figures(Json& json, const OperationReport& operation, Units units);
/// Where the part comes from, and what was done to it.
Json part_file_json(const JobSetup& setup);
/// The regions that the job names.
Json named_regions_json(const JobSetup& setup);

}  // namespace yardpass::detail
