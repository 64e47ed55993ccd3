#include <algorithm>

#include <fmt/format.h>

#include "job/table_keys.h"
#include "yardpass/job/operation.h"

namespace yardpass::detail {

namespace {

std::vector<std::string> strategy_names() {
  std::vector<std::string> names;
  for (const Strategy& strategy : all_strategies()) names.emplace_back(strategy.name);
  return names;
}

/// Whether values can be worked out for it; what is wrong with a tool is told at its own place.
bool sound(const Tool& tool) {
  try {
    return tool.number > 0 && lacks(tool).empty() && profile_of(tool).radius() > 0;
  } catch (const Error&) {
    return false;
  }
}

/// The first visit: types, ranges, names and what the values say together.
void check_keys(TableReader& reader, const Job& job, const OperationJob& operation) {
  const auto tool = std::find_if(job.tools.begin(), job.tools.end(),
                                 [&](const Tool& known) { return known.name == operation.tool; });
  const Strategy* strategy = strategy_named(operation.strategy);
  if (strategy && tool != job.tools.end() && sound(*tool)) {
    TableKeys keys(reader, job);
    OperationValues values;
    values.pattern = strategy->pattern();
    keys_of(values, *tool, keys);
    return;
  }
  // A strategy or tool that is not known, or not sound, is told at its own place. What only follows from that
  // is not; here any key of any strategy passes.
  Mistakes dropped("");
  TableReader any(operation.says, reader.where(), dropped);
  for (const Strategy& one : all_strategies()) {
    TableKeys keys(any, job);
    OperationValues values;
    values.pattern = one.pattern();
    keys_of(values, completed({.diameter_mm = 10, .feed_mm_min = 1}), keys);
  }
  reader.also_knows(any);
}

OperationJob read_operation(const GivenTable& table, std::int32_t number, const Job& job,
                            Mistakes& mistakes) {
  OperationJob operation;
  operation.number = number;
  operation.line = table.line();
  operation.says = table;
  const Given* name = table.get("name");
  operation.name = name ? name->text().value_or("") : "";
  TableReader reader(table,
                     operation.name.empty() ? fmt::format("operation {}", number)
                                            : fmt::format("operation \"{}\"", operation.name),
                     mistakes);
  const std::vector<std::string> tools = names_of(job.tools), strategies = strategy_names();
  reader.text("name");
  operation.strategy = reader.choice("strategy", strategies).value_or("");
  operation.tool = reader.text("tool").value_or("");
  operation.active = reader.flag("active").value_or(true);
  if (!reader.has("name")) reader.missing("name", "any text");
  if (!reader.has("strategy")) reader.missing("strategy", "valid: " + listed(strategies));
  if (!reader.has("tool")) reader.missing("tool", "valid: " + listed(tools));
  if (!operation.tool.empty() && std::find(tools.begin(), tools.end(), operation.tool) == tools.end()) {
    const auto near = nearest_word(operation.tool, tools);
    reader.wrong(*table.get("tool"), "tool",
                 fmt::format("is \"{}\", which is not in the tool table{}; there are: {}", operation.tool,
                             near ? fmt::format(" (did you mean \"{}\"?)", *near) : "",
                             tools.empty() ? "none" : listed(tools)));
  }
  check_keys(reader, job, operation);
  reader.finish();
  return operation;
}

}  // namespace

void read_operations(const GivenList& list, Job& job, Mistakes& mistakes) {
  for (const Given& node : list) {
    if (!node.table()) {
      mistakes.add(node, "operation: must be a table, [[operation]]");
      continue;
    }
    const auto number = static_cast<std::int32_t>(&node - list.data()) + 1;
    OperationJob operation = read_operation(*node.table(), number, job, mistakes);
    for (const OperationJob& known : job.operations)
      if (known.name == operation.name && !known.name.empty())
        mistakes.add(node, fmt::format("operation \"{}\": another operation has this name", known.name));
    job.operations.push_back(std::move(operation));
  }
  const bool none_active = std::none_of(job.operations.begin(), job.operations.end(),
                                        [](const OperationJob& operation) { return operation.active; });
  if (none_active) mistakes.add(list.empty() ? 1 : list.front().line(), "no operation is active");
}

}  // namespace yardpass::detail
