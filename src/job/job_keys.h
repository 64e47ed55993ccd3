// The keys of the tables of a job file, told by visiting.
#pragma once

#include "yardpass/job/job_file.h"
#include "yardpass/keys/keys.h"

namespace yardpass::detail {

/// What a job says before its tables: title, units.
void keys_of(Job& job, Keys& keys);
void keys_of(PartJob& part, Keys& keys);
void keys_of(RegionOptions& splitting, Keys& keys);
void keys_of(RegionJob& region, Keys& keys);
void keys_of(CurveJob& curve, Keys& keys);
void keys_of(BoundaryJob& boundary, Keys& keys);
void keys_of(LidJob& lid, Keys& keys);
void keys_of(RunOutJob& run_out, Keys& keys);
void keys_of(CarrierJob& carrier, Keys& keys);
void keys_of(KeepAwayJob& keep_away, Keys& keys);
void keys_of(StockJob& stock, Keys& keys);
void keys_of(MachineJob& machine, Keys& keys);
void keys_of(Controller& controller, Keys& keys);
/// What a machine may say of its control too: work offset and decimals.
void number_keys(Controller& controller, Keys& keys);
void keys_of(LeftJob& left, Keys& keys);

/// An accepted finding with its operation by name.
struct AcceptedJob {
  AcceptedFinding finding;
  std::string operation;
};
void keys_of(AcceptedJob& accepted, Keys& keys);

/// What every operation says besides the keys of its strategy and those of all operations.
struct OperationHead {
  std::string name, tool, copy_of;
  std::optional<std::size_t> strategy;  ///< index into all_strategies()
  bool active = true;
};
void keys_of(OperationHead& head, Keys& keys);

/// A sound tool, where keys are to be told without one.
[[nodiscard]] Tool some_tool();

inline constexpr std::pair<LengthUnit, const char*> kUnitWords[] = {
    {LengthUnit::micrometre, "um"}, {LengthUnit::millimetre, "mm"}, {LengthUnit::centimetre, "cm"},
    {LengthUnit::metre, "m"},       {LengthUnit::inch, "inch"},     {LengthUnit::foot, "foot"}};

}  // namespace yardpass::detail
