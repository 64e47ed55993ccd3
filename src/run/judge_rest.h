// Judging a program that goes on where another one left off.
#pragma once

#include "yardpass/run/run.h"

namespace yardpass::detail {

JudgedProgram judge_rest(Program program, std::shared_ptr<const Program> done, const JobSetup& setup,
                         const std::vector<Settled>& operations, const StageProgress& progress);

}  // namespace yardpass::detail
