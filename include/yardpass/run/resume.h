/// Going on with a program that was stopped: after a broken cutter, a power cut, the end of a shift.
#pragma once

#include "yardpass/run/run.h"

namespace yardpass {

struct ResumedProgram {
  PostedProgram posted;            ///< as the job's controller wants it
  std::vector<ProgramFile> files;  ///< for its machine, as of a run
  /// The same read back. Its first operation is the one that was stopped, if it goes on in its midst.
  Program program;
  ResumedAt at;
};

/// The rest of a program from a line of it (from 1) on: the tool of that line is called, comes down at rapid
/// over the place where the first cutting move of that line or a later one begins, to the operation's feed
/// height above it, goes straight down to it at plunge feed (what the program has cut there it has cut
/// already), and makes that move and all after it. Moves, feeds, speeds and coolant are those of the program;
/// subprograms and drilling cycles are taken apart, dwells and stops left out. Whoever wrote it: it is
/// written as the job's controller wants it; an arc that this cannot say becomes lines within 0.0005 mm.
/// Throws Error, with `name`, if nothing is cut from that line on, if the program runs that line more than
/// once, if it works by another offset than the job, or if its tools are not all in the job.
[[nodiscard]] ResumedProgram resume_at(const Program& program, const JobSetup& setup,
                                       const std::vector<Settled>& operations, std::int32_t line,
                                       const std::string& name);

/// Judges it, every way of the tool, in the stock as the moves before leave it.
[[nodiscard]] JudgedProgram judge_resumed(const ResumedProgram& resumed, const JobSetup& setup,
                                          const std::vector<Settled>& operations,
                                          const StageProgress& progress = {});

/// The line (from 1) of the block with an N word such as "N2340". Throws Error, with `name`, if there is none
/// or more than one.
[[nodiscard]] std::int32_t line_of_block(std::string_view text, std::string_view block,
                                         const std::string& name);

}  // namespace yardpass
