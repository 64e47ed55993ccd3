// Operations of a job file, copies among them.
#pragma once

#include "job/table_keys.h"

namespace yardpass::detail {

/// [[operation]]: all of them; `context` has the names of everything else.
void read_operations(const GivenList& list, Job& job, KeyContext& context, Mistakes& mistakes);

/// Which strategy a key belongs to, in words: "belongs to roughing"; empty if none has it.
std::string strategy_of_key(const std::string& key);

}  // namespace yardpass::detail
