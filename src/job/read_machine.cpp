#include <algorithm>

#include <fmt/format.h>

#include "job/job_tables.h"

namespace yardpass::detail {

void read_machine(TableReader& reader, Job& job) {
  job.controller.decimals =
      static_cast<int>(reader.whole("decimals", 2, 6).value_or(job.controller.decimals));
  job.controller.work_offset = reader.choice("work_offset", {"G54", "G55", "G56", "G57", "G58", "G59"})
                                   .value_or(job.controller.work_offset);
  job.machine.rapid_mm_min = reader.number("rapid_feed", kFeed).value_or(job.machine.rapid_mm_min);
  job.machine.acceleration_mm_s2 =
      reader.number("acceleration", {0, 1e6, true, "mm/s2"}).value_or(job.machine.acceleration_mm_s2);
  job.machine.corner_jump_mm_min =
      reader.number("corner_jump", kFeed).value_or(job.machine.corner_jump_mm_min);
  job.controller.dog_leg_rapids =
      reader.choice("rapids", {"straight", "dog-leg"}).value_or("straight") == "dog-leg";
  job.machine.tool_change_s =
      reader.number("tool_change_time", {0, 3600, false, "seconds"}).value_or(job.machine.tool_change_s);
  job.clearance_mm = reader.number("clearance", {0.1, 1000}).value_or(job.clearance_mm);
  job.travel = read_corners(reader, "travel");
  reader.finish();
}

void read_accepted(const toml::array& list, Job& job, Mistakes& mistakes) {
  std::vector<std::string> kinds;
  for (const FindingKind kind : all_finding_kinds()) kinds.emplace_back(id_of(kind));
  const std::vector<std::string> operations = names_of(job.operations);
  for (const toml::node& node : list) {
    if (!node.is_table()) {
      mistakes.add(node, "accepted: must be a table, [[accepted]]");
      continue;
    }
    const toml::table& table = *node.as_table();
    TableReader reader(table, "accepted", mistakes);
    AcceptedFinding accepted;
    if (const auto kind = reader.choice("finding", kinds))
      accepted.kind = all_finding_kinds()[static_cast<std::size_t>(
          std::find(kinds.begin(), kinds.end(), *kind) - kinds.begin())];
    accepted.operation = reader.text("operation").value_or("");
    accepted.up_to_mm = reader.number("up_to", kLength).value_or(0);
    accepted.reason = reader.text("reason").value_or("");
    if (!table.contains("finding")) reader.missing("finding", "valid: " + listed(kinds));
    if (!table.contains("up_to")) reader.missing("up_to", "the depth that is still accepted, in mm");
    if (accepted.reason.empty()) reader.missing("reason", "why this may stay");
    if (std::find(operations.begin(), operations.end(), accepted.operation) == operations.end())
      mistakes.add(node, "accepted: \"operation\" names " + not_defined(accepted.operation, operations));
    reader.finish();
    job.accepted.push_back(std::move(accepted));
  }
}

}  // namespace yardpass::detail
