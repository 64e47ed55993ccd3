/// What a run or a check found, for people and for programs. Nothing here changes the result.
#pragma once

#include <filesystem>
#include <string>
#include <vector>

#include "yardpass/job/inspect.h"
#include "yardpass/job/run.h"

namespace yardpass {

/// One operation as reports tell it.
struct OperationReport {
  std::string name, strategy;
  const Tool* tool = nullptr;
  OperationJudgement judged;
  ExcessStatistics excess;        ///< at the end of the program, inside the operation's boundary
  ExcessStatistics excess_after;  ///< as it leaves it, before the next operation
  /// Where its feed time goes; only of programs that we planned ourselves, else all in cut_s.
  double cut_s = 0, entry_s = 0, link_s = 0;  ///< entries: plunges and ramps
  const OperationResult* planned = nullptr;   ///< nothing when a program is only checked
  double intended_depth_mm = 0;
  /// What is left at the end where it worked, its allowance taken off: no more than this on 99 % of the area,
  /// without what is left on purpose or out of reach.
  double measured_scallop_mm = 0;
};

struct Report {
  const Job& job;
  const JobWorld& world;
  const JudgedProgram& judged;
  const PostedProgram* posted =
      nullptr;  ///< tells what moves are for; nothing when a program is only checked
  std::vector<OperationReport> operations;
  double undercut_mm2 = 0;              ///< of the part: the stock, a height map, sees nothing below it
  std::vector<std::string> not_judged;  ///< what the judge cannot see, in words
  [[nodiscard]] bool clean() const { return judged.judgement.clean(); }
};
[[nodiscard]] Report make_report(const RunResult& run);
[[nodiscard]] Report make_report(const JobWorld& world, const JudgedProgram& judged);

/// Times of a program for people, one line an operation; nothing is judged for it.
[[nodiscard]] std::string times_table(const Program& program, const MachineMotion& machine);

/// Time of the whole program, and why it is more than length over feed.
[[nodiscard]] std::string total_time_words(const Program& program, const MachineMotion& machine);

/// report.json, see docs/report.md for its keys.
[[nodiscard]] std::string report_json(const Report& report);

/// A page with tables and the pictures of the folder, by their file names and captions.
struct Picture {
  std::string file;
  std::string caption;
};
[[nodiscard]] std::string report_html(const Report& report, const std::vector<Picture>& pictures);

/// Draws all pictures of a report into the folder as PNG. Throws Error if a file cannot be written.
std::vector<Picture> draw_pictures(const Report& report, const std::filesystem::path& folder);

/// Draws what is to be seen of a part into the folder: part.png (heights, flats, sharp edges), slopes.png,
/// reach.png (which ball reaches what), regions.png and sharp-edges.png (numbered), and, if the job names
/// any, named.png (regions, curves, boundaries, lids, extensions, guide surfaces, guards). Throws Error if a
/// file cannot be written.
std::vector<Picture> draw_inspection(const Inspection& inspection, const std::filesystem::path& folder,
                                     const Progress& progress = {});

/// Draws the pieces of a loop that could not be closed, and where. Throws Error if it cannot be written.
void draw_loop_trouble(const LoopError& error, const std::filesystem::path& file);

/// "4.02 mm", "below 0.25 mm", "above 16 mm".
[[nodiscard]] std::string smallest_hollow_words(const Survey& survey);

/// A share of 0 to 1 in percent, rounded to a tenth, but never to all or nothing what is not.
[[nodiscard]] std::string percent_words(double share);
/// "level", "15 to 30", "upright": one of the survey's slopes.
[[nodiscard]] std::string slope_words(const Survey& survey, std::size_t index);

/// part.json, and what `yardpass inspect --json` prints; see docs/survey.md for its keys.
[[nodiscard]] std::string inspection_json(const Inspection& inspection);

/// What was done to bring the file into the program's coordinates, in words; empty if nothing was.
[[nodiscard]] std::string placement_words(const JobWorld& world);

/// "1:02:03" or "2:03" (hours only when there are any).
[[nodiscard]] std::string clock(double seconds);
/// Short words for a finding: "line 812: gouge 0.100 mm deep at X 12.1 Y 7 Z -3.2 (3 moves)".
[[nodiscard]] std::string in_words(const Finding& finding);
/// The findings to show where there is room for only so many: those not accepted first, the deepest of them;
/// told in the order of the program, the very first one always.
[[nodiscard]] std::vector<const Finding*> worst_findings(const std::vector<Finding>& findings,
                                                         std::size_t most);
/// "clean", "clean but for 2 accepted findings", "3 findings".
[[nodiscard]] std::string verdict_words(const Report& report);
/// How much is left thicker than the limit, and why.
[[nodiscard]] std::string left_words(const Report& report);

}  // namespace yardpass
