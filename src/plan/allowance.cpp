#include "yardpass/plan/allowance.h"

#include <cmath>

namespace yardpass {

double Allowance::least_mm() const {
  double least = elsewhere_mm();
  for (const OfRegion& one : where) least = std::min(least, one.mm);
  return least;
}

Allowance Allowance::more_by(double mm) const {
  Allowance more = *this;
  more.wall_mm += mm;
  more.floor_mm += mm;
  for (OfRegion& one : more.where) one.mm += mm;
  return more;
}

double Allowance::greatest_mm() const {
  double greatest = std::max(wall_mm, floor_mm);
  for (const OfRegion& one : where) greatest = std::max(greatest, one.mm + std::abs(wall_mm - floor_mm));
  return greatest;
}

void keys_of(Allowance& allowance, const Derived& usual, Keys& keys) {
  double both = usual.value;
  keys.number("allowance", both, usual,
              {.says = "stock left on the part, normal to it; below 0 (not roughing) an overcut, up to the "
                       "smallest corner radius of the cutter",
               .usual = "roughing: 0.03 of the diameter, at least 0.1; finishing: 0",
               .low = -100,
               .high = 1000,
               .of_tool = true});
  const Derived by_both{both, "the allowance"};
  keys.number(
      "wall_allowance", allowance.wall_mm, by_both,
      {.says = "stock left on walls", .usual = "the allowance", .low = 0, .high = 1000, .of_tool = true});
  keys.number("floor_allowance", allowance.floor_mm, by_both,
              {.says = "stock left on floors; slopes get what lies between",
               .usual = "the allowance",
               .low = 0,
               .high = 1000,
               .of_tool = true});
  keys.idle_if(keys.says("wall_allowance") && keys.says("floor_allowance"), "allowance",
               "walls and floors have allowances of their own");
  allowance.where.clear();
  keys.each("allowance_where",
            [&](Keys& one) {
              Allowance::OfRegion of;
              one.name("region", of.region, Named::regions,
                       {.says = "the region that is meant", .required = true});
              one.number("allowance", of.mm, {0, ""},
                         {.says = "left there instead; below 0 (not roughing) an overcut",
                          .low = -100,
                          .high = 1000,
                          .required = true,
                          .of_tool = true});
              allowance.where.push_back(std::move(of));
            },
            {.says = "other allowances on regions of the part: tables of `region`, `allowance`; the "
                     "difference between walls and floors stays",
             .usual = "none"});
}

TipSurfaceOptions tip_surface_options(const Allowance& allowance) {
  return {.allowance_mm = allowance.least_mm(),
          .wall_extra_mm = std::max(0.0, allowance.wall_mm - allowance.floor_mm),
          .floor_extra_mm = std::max(0.0, allowance.floor_mm - allowance.wall_mm)};
}

}  // namespace yardpass
