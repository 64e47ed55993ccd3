#include <algorithm>

#include <fmt/format.h>

#include "job/job_tables.h"
#include "job/parse_toml.h"

namespace yardpass::detail {

namespace {

/// One speed for all axes, or [x, y, z].
std::optional<Vec3> read_rapids(TableReader& reader, const char* key) {
  const Given* node = reader.any(key);
  if (!node || !node->list()) {
    const auto speed = reader.number(key, kFeed);
    return speed ? std::optional<Vec3>(Vec3(*speed, *speed, *speed)) : std::nullopt;
  }
  const auto speeds = read_numbers(reader, *node, key, 3, 3, "a speed, or [x, y, z], in mm/min");
  if (!speeds) return std::nullopt;
  const Vec3 result((*speeds)[0], (*speeds)[1], (*speeds)[2]);
  if (!(result.minCoeff() > 0)) {
    reader.wrong(*node, key, "must be above 0 mm/min for each axis");
    return std::nullopt;
  }
  return result;
}

void read_values(TableReader& reader, Job& job) {
  job.controller.decimals =
      static_cast<int>(reader.whole("decimals", 2, 6).value_or(job.controller.decimals));
  job.controller.work_offset = reader.choice("work_offset", {"G54", "G55", "G56", "G57", "G58", "G59"})
                                   .value_or(job.controller.work_offset);
  job.machine.rapid_mm_min = read_rapids(reader, "rapid_feed").value_or(job.machine.rapid_mm_min);
  job.machine.acceleration_mm_s2 =
      reader.number("acceleration", {0, 1e6, true, "mm/s2"}).value_or(job.machine.acceleration_mm_s2);
  job.machine.corner_jump_mm_min =
      reader.number("corner_jump", kFeed).value_or(job.machine.corner_jump_mm_min);
  if (const auto rapids = reader.choice("rapids", {"straight", "dog-leg"}))
    job.controller.dog_leg_rapids = *rapids == "dog-leg";
  job.machine.tool_change_s =
      reader.number("tool_change_time", {0, 3600, false, "seconds"}).value_or(job.machine.tool_change_s);
  job.clearance_mm = reader.number("clearance", {0.1, 1000}).value_or(job.clearance_mm);
  if (const auto travel = read_corners(reader, "travel")) job.travel = travel;
  job.machine_name = reader.text("name").value_or(job.machine_name);
}

}  // namespace

void read_machine(TableReader& reader, Job& job) {
  if (const auto name = reader.text("file")) {
    const std::filesystem::path file = job.file.parent_path() / *name;
    job.machine_file = file;
    Mistakes mistakes(file.string());
    try {
      if (const auto table = parse_toml_file(file, mistakes)) {
        TableReader described(*table, "machine", mistakes);
        read_values(described, job);
        described.finish();
      }
    } catch (const Error& error) {
      reader.wrong(*reader.any("file"), "file", error.what());
    }
    reader.mistakes().take(mistakes);
  }
  read_values(reader, job);  // what the job says itself counts
  reader.finish();
}

void read_leftover(TableReader& reader, Job& job) {
  job.thicker_than_mm = reader.number("thicker_than", {0.001, 100}).value_or(job.thicker_than_mm);
  reader.finish();
}

void read_accepted(const GivenList& list, Job& job, Mistakes& mistakes) {
  std::vector<std::string> kinds;
  std::vector<FindingKind> acceptable;
  for (const FindingKind kind : all_finding_kinds())
    if (can_be_accepted(kind)) acceptable.push_back(kind), kinds.emplace_back(id_of(kind));
  const std::vector<std::string> operations = names_of(job.operations);
  for (const Given& node : list) {
    if (!node.table()) {
      mistakes.add(node, "accepted: must be a table, [[accepted]]");
      continue;
    }
    const GivenTable& table = *node.table();
    TableReader reader(table, "accepted", mistakes);
    AcceptedFinding accepted;
    if (const auto kind = reader.choice("finding", kinds))
      accepted.kind =
          acceptable[static_cast<std::size_t>(std::find(kinds.begin(), kinds.end(), *kind) - kinds.begin())];
    const std::string operation = reader.text("operation").value_or("");
    for (const OperationJob& known : job.operations)
      if (known.name == operation) accepted.operation = known.number;
    accepted.up_to_mm = reader.number("up_to", kLength).value_or(0);
    accepted.reason = reader.text("reason").value_or("");
    if (!table.contains("finding")) reader.missing("finding", "valid: " + listed(kinds));
    if (!table.contains("up_to")) reader.missing("up_to", "the depth that is still accepted, in mm");
    if (accepted.reason.empty()) reader.missing("reason", "why this may stay");
    if (accepted.operation == 0)
      mistakes.add(node, "accepted: \"operation\" names " + not_defined(operation, operations));
    reader.finish();
    job.accepted.push_back(std::move(accepted));
  }
}

}  // namespace yardpass::detail
