/// What a run or a check found, for people and for programs. Nothing here changes the result.
#pragma once

#include <filesystem>
#include <span>
#include <string>
#include <vector>

#include "yardpass/report/words.h"
#include "yardpass/run/inspect.h"
#include "yardpass/run/run.h"

namespace yardpass {

/// One operation as reports tell it: every active one of the job, and what else the program has.
struct OperationReport {
  std::int32_t number = 0;  ///< in the job; 0: moves of a program that name no operation
  std::string name;         ///< of the job; else what the program says
  std::string strategy;
  const Tool* tool = nullptr;
  std::int32_t in_program = -1;  ///< index into Program::operations; -1: the program has no moves of it
  OperationJudgement judged;
  bool is_judged = true;      ///< else only carried out: see JudgedProgram
  bool cut_before = false;    ///< by the program that this one goes on with
  LeftStatistics left;        ///< at the end of the program, where it works
  LeftStatistics left_after;  ///< as it leaves it, before the next operation
  /// Where its feed time goes; only of programs that we planned ourselves, else all in cut_s.
  double cut_s = 0, entry_s = 0, link_s = 0;  ///< entries: plunges and ramps
  const Settled* settled = nullptr;           ///< nothing if the job does not have it
  const PlannedOperation* planned = nullptr;  ///< nothing when a program is only checked
  const std::vector<Note>* hindsight = nullptr;
  std::shared_ptr<PlannedOperation> own = {};  ///< keeps the planned one of a sum
  /// What is left at the end where it worked, its allowance taken off: no more than this on 99 % of the area,
  /// without what is left on purpose or out of reach.
  double measured_scallop_mm = 0;
  std::optional<double> missed_mm2 = {};  ///< where it works, at the end; nothing: nobody asked
  const EdgeSizes* edges = nullptr;       ///< of an operation that was to break some, measured
  [[nodiscard]] bool has_moves() const { return in_program >= 0; }
};

/// Refers to what it was made of, which must outlive it.
struct Report {
  const JobSetup& setup;
  const std::vector<Settled>& settled;
  const JudgedProgram& judged;
  const RunResult* run = nullptr;  ///< nothing when a program is only checked
  std::vector<OperationReport> operations;
  double undercut_mm2 = 0;                  ///< of the part: the stock, a height map, sees nothing below it
  std::vector<std::string> not_judged;      ///< what the judge cannot see, in words
  Telling telling = Telling();              ///< in the units of the job
  std::span<const ProgramFile> files = {};  ///< for the machine, beside the whole program
  [[nodiscard]] const Job& job() const { return setup.job; }
  [[nodiscard]] bool clean() const { return judged.clean(); }
  /// A quick look, or not judged: whatever it says, nothing of it may be cut.
  [[nodiscard]] bool only_a_look() const { return job().coarser.any() || !judged.judged; }
  /// Number and name of one of Program::operations: `operation 3 "finish the blade"`.
  [[nodiscard]] std::string operation_words(std::int32_t in_program) const;
  [[nodiscard]] const OperationReport& operation_of(std::int32_t in_program) const;
  /// The pass that a line of the program cuts or leads to, from 1; 0 if that is not known.
  [[nodiscard]] std::int32_t pass_of_line(std::int32_t line) const;
};
[[nodiscard]] Report make_report(const RunResult& run);
[[nodiscard]] Report make_report(const JobSetup& setup, const std::vector<Settled>& settled,
                                 const JudgedProgram& judged, std::span<const ProgramFile> files = {});

/// Of all its operations together: times, lengths, moves, retracts, links. Its name is "whole program".
[[nodiscard]] OperationReport total_of(const Report& report);

/// Times of a program for people, one line an operation; nothing is judged for it. Names are those of the
/// job.
[[nodiscard]] std::string times_table(const Program& program, const Job& job);

/// Time of the whole program, and why it is more than length over feed.
[[nodiscard]] std::string total_time_words(const Program& program, const MachineMotion& machine);

/// report.json, see docs/report.md for its keys.
[[nodiscard]] std::string report_json(const Report& report);

/// What pictures are written as. Lines and letters of the last two can be made larger without steps.
enum class PictureForm { png, svg, pdf };
/// "png", "svg", "pdf": also the ending of their files.
[[nodiscard]] const char* name_of(PictureForm form);

/// Where a section is cut, in plan.
struct SectionLine {
  Vec2 from, to;
};
/// Part, and the stock of a job, cut upright along a line, at true scale. Throws Error if the line has no
/// length or if the file cannot be written.
void draw_section(const Inspection& inspection, const SectionLine& line, const std::filesystem::path& file);

/// A page that opens from disk, one file with a view in three dimensions and tables, and the pictures of the
/// folder by their file names and captions.
struct Picture {
  std::string file;
  std::string caption;
};
[[nodiscard]] std::string report_html(const Report& report, const std::vector<Picture>& pictures);
/// The same of a part before anything is planned, with regions and sharp edges to pick.
[[nodiscard]] std::string part_html(const Inspection& inspection, const std::vector<Picture>& pictures);

/// Draws all pictures of a report into the folder as PNG. Throws Error if a file cannot be written.
std::vector<Picture> draw_pictures(const Report& report, const std::filesystem::path& folder);

/// Draws what is to be seen of a part into the folder: part.png (heights, flats, sharp edges), slopes.png,
/// reach.png (which ball reaches what), regions.png and sharp-edges.png (numbered); of a job also named.png
/// (regions, curves, boundaries, lids, run_outs, carriers, keep_away), areas.png (where each operation
/// works), slope-seam-N.png and roles-N.png; each with the ending of its form. Throws Error if a file cannot
/// be written.
std::vector<Picture> draw_inspection(const Inspection& inspection, const std::filesystem::path& folder,
                                     const Progress& progress = {}, PictureForm form = PictureForm::png);

/// Draws the pieces of a loop that could not be closed, and where. Throws Error if it cannot be written.
void draw_loop_trouble(const LoopError& error, const std::filesystem::path& file);

/// "4.02 mm", "below 0.25 mm", "above 16 mm".
[[nodiscard]] std::string smallest_hollow_words(const Survey& survey, const Telling& telling);
/// A radius of a survey: "below ..." and "above ..." at the ends of what was asked.
[[nodiscard]] std::string radius_words(const Survey& survey, double radius_mm, const Telling& telling);

/// Where an operation works, before anything is planned: "outline of the part, limit contact: 1200 mm2 in
/// 3 pieces".
[[nodiscard]] std::string works_in_words(const Settled& settled, const Telling& telling);

/// "level", "15 to 30", "upright": one of the survey's slopes.
[[nodiscard]] std::string slope_words(const Survey& survey, std::size_t index);

/// part.json, and what `yardpass inspect --json` prints; see docs/survey.md for its keys.
[[nodiscard]] std::string inspection_json(const Inspection& inspection);

/// What was done to bring the file into the program's coordinates, in words; empty if nothing was.
[[nodiscard]] std::string placement_words(const JobSetup& setup);

/// "line 812: gouge 0.100 mm deep at X 12.1 Y 7 Z -3.2 (3 moves), pass 41 of operation 3 "finish the blade"".
[[nodiscard]] std::string finding_words(const Report& report, const Finding& finding);
/// Why nothing of it may be cut: "QUICK LOOK, NOT FOR CUTTING"; empty if something may.
[[nodiscard]] std::string not_for_cutting(const Report& report);
/// "clean", "clean but for 2 accepted findings", "3 findings".
[[nodiscard]] std::string verdict_words(const Report& report);
/// How much of its cutter meets material: on half of the length, on 99 %, and at most.
[[nodiscard]] std::string engagement_words(const OperationReport& operation);
/// The size that edges were to get, and the one they have.
[[nodiscard]] std::string edge_size_words(const EdgeSizes& sizes, const Telling& telling);
/// The stick-out of the operation's tool and the least that works, rounded up.
[[nodiscard]] std::string stickout_words(const OperationReport& operation, const Telling& telling);
/// How much is left thicker than the limit, and why.
[[nodiscard]] std::string left_words(const Report& report);
/// Notes of the job in words: what the user should know of the file.
[[nodiscard]] std::vector<std::string> job_notes(const Report& report);
/// Notes of an operation in words: of its values, and of its planning.
[[nodiscard]] std::vector<std::string> notes_of(const OperationReport& operation, const Telling& telling);

}  // namespace yardpass
