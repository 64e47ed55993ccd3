// Operations of a job as users name them.
#pragma once

#include <string>

#include "yardpass/job/job_file.h"

namespace yardpass::app {

/// An operation of the job by its name or number; 0: there is none.
std::int32_t operation_number(const Job& job, const std::string& words);
/// `1 "rough", 2 "finish"`
std::string operations_of(const Job& job);

}  // namespace yardpass::app
