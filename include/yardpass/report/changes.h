/// What a run changed against the one before it.
#pragma once

#include <span>
#include <string>
#include <vector>

namespace yardpass {

/// Both as written in report.json. Operation by operation, by their names: times, lengths, retracts, what
/// they leave; those that are new or gone; what is missed; findings; the verdict. A line each, without what
/// stayed as it was; empty: nothing changed. Nothing can be said of a text that is no report, or one of
/// another job (by its title): then `comparable` is false.
struct RunChanges {
  bool comparable = false;
  std::vector<std::string> lines = {};
};
[[nodiscard]] RunChanges changes_between(const std::string& earlier, const std::string& now);
/// The figures of operations that it tells, by their keys in report.json, in this order.
[[nodiscard]] std::span<const char* const> figures_of_changes();

}  // namespace yardpass
