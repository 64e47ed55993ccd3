#include "job/read_controller.h"

#include <fmt/format.h>

#include "job/job_keys.h"
#include "job/old_words.h"
#include "job/parse_toml.h"

namespace yardpass::detail {

std::vector<SettledValue> read_controller(MachineJob& machine, const KeyContext& context,
                                          const std::function<bool(const char* key)>& said,
                                          Mistakes& mistakes) {
  const std::optional<GivenTable> table = parse_toml_file(machine.controller_file, mistakes);
  if (!table) return {};
  Controller described;
  described.dog_leg_rapids = machine.controller.dog_leg_rapids;
  described.title = machine.controller.title;
  TableReader reader(*table, "controller", mistakes);
  std::vector<SettledValue> values;
  {
    KeyContext own = context;
    TableKeys keys(reader, own);
    keys_of(described, keys);
    values = keys.take_values();
  }
  for (SettledValue& value : values)
    if (table->contains(value.key))
      value.source = fmt::format("{}, {}", machine.controller_file.filename().string(), value.source);
  reader.finish(new_key);
  if (said("decimals")) described.decimals = machine.controller.decimals;
  if (said("work_offset")) described.work_offset = machine.controller.work_offset;
  machine.controller = described;
  if (!mistakes.none()) return values;
  try {
    try_out(described);
  } catch (const Error& error) {
    mistakes.add(1,
                 fmt::format("controller: a program tried out with it is not read back: {}", error.what()));
  }
  return values;
}

}  // namespace yardpass::detail
