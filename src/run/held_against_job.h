// Whether a program is the program of a job.
#pragma once

#include "yardpass/run/run.h"

namespace yardpass::detail {

/// Where program and job disagree: operations that are missing, unknown, without a move or in another order,
/// work offset, spindle speeds and feeds beyond those of the tools. A program that names no operation at all
/// was not posted from a job; of it only the rest is asked. `whole`: to its end.
std::vector<Note> held_against_job(const Program& program, const JobSetup& setup,
                                   const std::vector<Settled>& operations, bool whole);

}  // namespace yardpass::detail
