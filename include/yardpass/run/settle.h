/// An operation with every value settled: the only answer to which allowance, where, which tolerance, which
/// limits, which links. Planner, linker, judge and report all read it.
#pragma once

#include "yardpass/job/operation.h"
#include "yardpass/plan/trim.h"
#include "yardpass/setup/setup.h"

namespace yardpass {

/// What a toolpath depends on, in 128 bits.
struct Fingerprint {
  std::uint64_t high = 0, low = 0;
  auto operator<=>(const Fingerprint&) const = default;
};

struct Settled {
  std::int32_t number = 0;  ///< of the operation in the job file; also in the program, findings and report
  std::string name, strategy;
  Tool tool;
  OperationValues values;  ///< measured values and names found; links with their clearance plane
  Usual usual;             ///< what its strategy wants from shared settings
  /// Where it works: the area that it keeps inside, without the one that it keeps out of.
  Region works_in;
  AreaRow area = {};   ///< the row of the table of areas that this comes from
  bool drawn = false;  ///< it says where
  /// What lies lower is left alone: as said, or the lowest that is seen of the part from above, but nothing
  /// below the stock.
  double bottom_z = 0;
  std::vector<SettledValue> told;
  std::vector<Note> notes;  ///< of values that change nothing
  Fingerprint fingerprint;  ///< of its values alone; see fingerprints_of for what its toolpath depends on

  /// The same for planning; material on the part is left by `values.allowance`.
  [[nodiscard]] Bounds bounds() const;
  /// Where the tip may be: for what is stated of this operation. Empty: anywhere.
  [[nodiscard]] Region place() const;
  /// Where the tool's axis must not be at feed: what it keeps out of, and the holes of what it keeps inside,
  /// by its rule at the boundary.
  [[nodiscard]] Region kept_out() const;
};

/// The active operations of the job, in its order. Throws Error with every mistake of all of them at once:
/// values that cannot be measured on this part, areas that it does not have or that meet neither part nor
/// stock.
[[nodiscard]] std::vector<Settled> settle(const JobSetup& setup);

}  // namespace yardpass
