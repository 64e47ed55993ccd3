#include "job/read_operation.h"

#include <algorithm>

#include <fmt/format.h>

#include "job/job_keys.h"
#include "job/old_words.h"
#include "yardpass/geom/text.h"
#include "yardpass/job/key_list.h"
#include "yardpass/job/operation.h"

namespace yardpass::detail {

namespace {

/// Whether values can be worked out for it; what is wrong with a tool is told at its own place.
bool sound(const Tool& tool) {
  try {
    return tool.number > 0 && lacks(tool).empty() && profile_of(tool).radius() > 0;
  } catch (const Error&) {
    return false;
  }
}

bool knows(const Strategy& strategy, const std::string& key) {
  const std::vector<KeyInfo> own = keys_of_strategy(strategy);
  return std::any_of(own.begin(), own.end(), [&](const KeyInfo& info) { return info.key == key; });
}

/// The names of all operations, and which tables they stand in.
struct Tables {
  std::vector<std::string> names;
  std::vector<const GivenTable*> tables;
  [[nodiscard]] const GivenTable* named(const std::string& name) const {
    const auto at = name.empty() ? names.end() : std::find(names.begin(), names.end(), name);
    return at == names.end() ? nullptr : tables[static_cast<std::size_t>(at - names.begin())];
  }
};

std::string text_of(const GivenTable& table, const char* key) {
  const Given* given = table.get(key);
  return given ? given->text().value_or("") : "";
}

/// An operation's table with all that it takes over from the one it is a copy of, which may be a copy itself.
/// Each key keeps the line where it was said. Throws Error if the copies lead back to where they began.
GivenTable with_copies(const GivenTable& own, const Tables& all, std::vector<std::string>& copied,
                       std::vector<const GivenTable*> on_the_way = {}) {
  const GivenTable* source = all.named(text_of(own, "copy_of"));
  if (!source) return own;
  if (source == &own || std::find(on_the_way.begin(), on_the_way.end(), source) != on_the_way.end())
    throw Error("leads back to the operation itself");
  on_the_way.push_back(&own);
  GivenTable result(own.line());
  for (const auto& [key, value] : own) result.set(key, value);
  std::vector<std::string> deeper;
  for (const auto& [key, value] : with_copies(*source, all, deeper, std::move(on_the_way)))
    if (!result.contains(key) && key != "name" && key != "active" && key != "copy_of" && key != "then_with") {
      result.set(key, value);
      copied.push_back(key);
    }
  return result;
}

/// Keys that were copied and that the operation's own strategy does not have are dropped, and told.
void drop_foreign_keys(OperationJob& operation, const Strategy* strategy) {
  if (!strategy) return;
  std::erase_if(operation.copied, [&](const std::string& key) {
    if (strategy_of_key(key).empty() || knows(*strategy, key)) return false;
    operation.says.erase(key);
    operation.dropped.push_back(key);
    return true;
  });
  // Two ways to say one thing: what is said here wins over what was copied.
  for (const KeyInfo& info : keys_of_strategy(*strategy)) {
    const std::string other = info.about.instead_of;
    const auto is_copied = [&](const std::string& key) {
      return std::find(operation.copied.begin(), operation.copied.end(), key) != operation.copied.end();
    };
    if (other.empty() || !operation.says.contains(info.key) || !operation.says.contains(other)) continue;
    const std::string loser = is_copied(info.key) ? info.key : is_copied(other) ? other : "";
    if (loser.empty() || (is_copied(info.key) && is_copied(other))) continue;
    operation.says.erase(loser);
    std::erase(operation.copied, loser);
  }
}

/// The first visit: types, ranges, names and what the values say together.
void check_keys(TableReader& reader, const Job& job, const OperationJob& operation, KeyContext& context) {
  const auto tool = std::find_if(job.tools.begin(), job.tools.end(),
                                 [&](const Tool& known) { return known.name == operation.tool; });
  const Strategy* strategy = strategy_named(operation.strategy);
  KeyContext own = context;
  own.measurable = true;
  own.copy_of = operation.copy_of;
  own.copied = operation.copied;
  if (strategy && tool != job.tools.end() && sound(*tool)) {
    own.tool_diameter_mm = tool->diameter_mm;
    TableKeys keys(reader, own);
    OperationValues values;
    values.pattern = strategy->pattern();
    keys_of(values, *tool, keys);
    context.used = own.used;
    return;
  }
  // A strategy or tool that is not known, or not sound, is told at its own place. What only follows from that
  // is not; here any key of any strategy passes.
  Mistakes dropped("");
  TableReader any(operation.says, reader.where(), dropped);
  own.tool_diameter_mm = 10;
  for (const Strategy& one : all_strategies()) {
    TableKeys keys(any, own);
    OperationValues values;
    values.pattern = one.pattern();
    keys_of(values, some_tool(), keys);
  }
  context.used = own.used;
  reader.also_knows(any);
}

OperationJob read_operation(const GivenTable& table, std::int32_t number, const Tables& all, const Job& job,
                            KeyContext& context, Mistakes& mistakes) {
  OperationJob operation;
  operation.number = number;
  operation.line = table.line();
  operation.name = text_of(table, "name");
  const std::string where = operation.name.empty() ? fmt::format("operation {}", number)
                                                   : fmt::format("operation \"{}\"", operation.name);
  try {
    operation.says = with_copies(table, all, operation.copied);
  } catch (const Error& error) {
    operation.says = table;
    mistakes.add(*table.get("copy_of"), fmt::format("{}: \"copy_of\" {}", where, error.what()));
  }
  OperationHead head;
  KeyContext own = context;
  TableReader reader(operation.says, where, mistakes);
  TableKeys keys(reader, own);
  keys_of(head, keys);
  const Strategy* strategy = head.strategy ? &all_strategies()[*head.strategy] : nullptr;
  operation.strategy = strategy ? strategy->name : "";
  operation.tool = head.tool;
  operation.active = head.active;
  operation.copy_of = head.copy_of;
  context.used = own.used;
  drop_foreign_keys(operation, strategy);
  check_keys(reader, job, operation, context);
  reader.finish([](const std::string& key) {
    const std::string now = new_key(key);
    return now.empty() ? strategy_of_key(key) : now;
  });
  return operation;
}

/// Of an operation that goes on with other tools, one for each of them: each follows the tool before.
std::vector<GivenTable> with_further_tools(const GivenTable& table) {
  std::vector<GivenTable> all;
  const Given* further = table.get("then_with");
  if (!further) return all;
  const GivenList one{*further};
  std::string before = text_of(table, "tool");
  for (const Given& tool : further->list() ? *further->list() : one) {
    GivenTable next = table;
    const std::string name = tool.text().value_or("");
    next.erase("then_with");
    next.set("name", Given(text_of(table, "name") + ", then " + name, table.line()));
    next.set("tool", Given(name, tool.line()));
    next.set("reference", Given(before, tool.line()));
    all.push_back(std::move(next));
    before = name;
  }
  return all;
}

}  // namespace

std::string strategy_of_key(const std::string& key) {
  std::vector<std::string> names;
  for (const Strategy& strategy : all_strategies())
    if (knows(strategy, key)) names.emplace_back(strategy.name);
  return names.empty() ? "" : "belongs to " + listed(names);
}

void read_operations(const GivenList& list, Job& job, KeyContext& context, Mistakes& mistakes) {
  Tables all;
  for (const Given& node : list)
    if (node.table()) {
      all.names.push_back(text_of(*node.table(), "name"));
      all.tables.push_back(node.table());
    }
  context.names[Named::operations] = all.names;
  std::erase(context.names[Named::operations], "");
  for (const Given& node : list) {
    if (!node.table()) {
      mistakes.add(node, "operation: must be a table, [[operation]]");
      continue;
    }
    const std::size_t wrong = mistakes.count();
    const auto read = [&](const GivenTable& table) {
      const auto number = static_cast<std::int32_t>(job.operations.size()) + 1;
      OperationJob operation = read_operation(table, number, all, job, context, mistakes);
      for (const OperationJob& known : job.operations)
        if (known.name == operation.name && !known.name.empty())
          mistakes.add(node, fmt::format("operation \"{}\": another operation has this name", known.name));
      job.operations.push_back(std::move(operation));
    };
    read(*node.table());
    if (mistakes.count() > wrong) continue;  // the others would only say the same again
    for (const GivenTable& further : with_further_tools(*node.table())) {
      read(further);
      context.names[Named::operations].push_back(job.operations.back().name);
    }
  }
  const bool none_active = std::none_of(job.operations.begin(), job.operations.end(),
                                        [](const OperationJob& operation) { return operation.active; });
  if (none_active) mistakes.add(list.empty() ? 1 : list.front().line(), "no operation is active");
}

}  // namespace yardpass::detail
