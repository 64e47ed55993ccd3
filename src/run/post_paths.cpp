#include "run/post_paths.h"

#include <algorithm>
#include <cmath>
#include <ctime>

namespace yardpass::detail {

namespace {

std::string today() {
  const std::time_t now = std::time(nullptr);
  std::tm here{};
  localtime_r(&now, &here);
  char text[16];
  return {text, std::strftime(text, sizeof text, "%Y-%m-%d", &here)};
}

/// What is proven of the whole program holds for each file: they make the same moves at feed.
void require_same_moves(const Program& whole, const std::vector<ProgramFile>& files,
                        const ProgramReading& options) {
  if (files.empty()) return;
  std::vector<ProgramMove> all;
  const auto at_feed = [](const Program& program, std::vector<ProgramMove>& moves) {
    for (const ProgramMove& move : program.moves)
      if (!move.rapid()) moves.push_back(move);
  };
  std::vector<ProgramMove> wanted;
  at_feed(whole, wanted);
  for (const ProgramFile& file : files) at_feed(read_program(file.text, file.name, options), all);
  const bool same = std::equal(
      all.begin(), all.end(), wanted.begin(), wanted.end(), [](const ProgramMove& a, const ProgramMove& b) {
        return a.from == b.from && a.to == b.to && a.tool == b.tool && (a.arc < 0) == (b.arc < 0) &&
               std::abs(a.feed_mm_min - b.feed_mm_min) <= 1e-6 * b.feed_mm_min;
      });
  if (!same) throw Error("the files for the machine do not make the moves of the whole program");
}

/// How long a file may be, with the seconds of each move as they are judged.
FileLimits limits_of(const Job& job, const PostedPaths& posted, std::span<const OperationPath> paths) {
  FileLimits limits{60 * job.machine.file_minutes, job.machine.file_length_mm, {}};
  const std::vector<double> seconds = seconds_of_moves(posted.program, job.machine.motion);
  for (const OperationPath& path : paths) limits.seconds.emplace_back(path.path->moves.size(), 0.0);
  for (std::size_t i = 0; i < seconds.size(); ++i) {
    const LineOrigin origin = posted.whole.origin[static_cast<std::size_t>(posted.program.moves[i].line) - 1];
    if (origin.operation >= 0 && origin.move >= 0)
      limits.seconds[static_cast<std::size_t>(origin.operation)][static_cast<std::size_t>(origin.move)] +=
          seconds[i];
  }
  return limits;
}

}  // namespace

PostedPaths post(const Job& job, std::span<const OperationPath> paths) {
  Controller controller = job.machine.controller;
  if (job.machine.dated) controller.date = today();
  const ProgramReading reading = read_options(job);
  PostedPaths posted{write_program(job.title, paths, controller), {}, {}};
  posted.program = read_program(posted.whole.text, "program.nc", reading);
  posted.files = program_files(job.title, paths, controller, limits_of(job, posted, paths));
  require_same_moves(posted.program, posted.files, reading);
  return posted;
}

PostedPaths post(const Job& job, const std::vector<Settled>& operations,
                 const std::vector<PlannedOperation>& planned) {
  std::vector<OperationPath> paths;
  for (std::size_t i = 0; i < planned.size(); ++i)
    paths.push_back({operations[i].number, operations[i].name, &planned[i].path,
                     operations[i].values.smooth ? operations[i].values.smooth_within_mm
                                                 : operations[i].values.tolerance_mm});
  return post(job, paths);
}

}  // namespace yardpass::detail
