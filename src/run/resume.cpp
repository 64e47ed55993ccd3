#include "yardpass/run/resume.h"

#include <algorithm>
#include <charconv>

#include <fmt/format.h>

#include "run/judge_rest.h"
#include "run/post_paths.h"

namespace yardpass {

namespace {

constexpr double kUsualFeedHeight = 1;    // mm, of moves of no operation of the job
constexpr double kChordSagitta = 0.0005;  // mm, of arcs that the controller cannot say

/// The first cutting move of this line or, if it has none, of the next one that has.
std::size_t first_move(const Program& program, std::int32_t line, const std::string& name) {
  const ProgramMove* first = nullptr;
  std::int32_t last_line = 0;
  for (const ProgramMove& move : program.moves) {
    if (move.rapid()) continue;
    last_line = std::max(last_line, move.line);
    if (move.line >= line && (!first || move.line < first->line)) first = &move;
  }
  if (!first)
    throw Error(last_line == 0
                    ? fmt::format("{}: the program cuts nothing, so nothing can be gone on with", name)
                    : fmt::format("{}: nothing is cut from line {} on; the last cutting move is in "
                                  "line {}",
                                  name, line, last_line));
  // Of a line that is run again, after others, nobody knows which time is meant.
  bool left = false;
  for (const ProgramMove* move = first; move < program.moves.data() + program.moves.size(); ++move) {
    if (move->line != first->line) left = true;
    if (left && move->line == first->line)
      throw Error(
          fmt::format("{}:{}: this line is run more than once (a subprogram), so that it does not say "
                      "where to go on; say a line of the main program",
                      name, first->line));
  }
  return static_cast<std::size_t>(first - program.moves.data());
}

/// Moves of a program as toolpaths, a piece for each operation, tool and speed.
class Pieces {
 public:
  Pieces(const Program& program, const JobSetup& setup, const std::vector<Settled>& operations)
      : program_(program),
        setup_(setup),
        operations_(operations),
        form_(posted_form(setup.job.machine.controller)),
        uses_(program.spindle_by_move()) {}

  void make(std::size_t first) {
    come_down(program_.moves[first]);
    for (std::size_t i = first; i < program_.moves.size(); ++i) {
      const ProgramMove& move = program_.moves[i];
      if (move.after_change) {
        come_over(move);
        continue;
      }
      if (is_other(move)) begin(move, at_);
      add(move);
    }
    rise();
  }

  [[nodiscard]] std::vector<OperationPath> paths() const {
    std::vector<OperationPath> result;
    for (std::size_t i = 0; i < made_.size(); ++i)
      result.push_back({made_[i].number, made_[i].name, &made_[i].path, made_[i].tolerance_mm});
    return result;
  }

 private:
  struct Piece {
    std::int32_t number, operation;  ///< in the job; index into the program's
    std::string name;
    const SpindleUse* use = nullptr;
    double tolerance_mm = 0;
    Toolpath path = {};
  };

  [[nodiscard]] const SpindleUse* use_of(const ProgramMove& move) const {
    return uses_[static_cast<std::size_t>(&move - program_.moves.data())];
  }
  [[nodiscard]] Tool tool_of(const ProgramMove& move) const {
    const auto known = std::find_if(setup_.job.tools.begin(), setup_.job.tools.end(),
                                    [&](const Tool& tool) { return tool.number == move.tool; });
    Tool tool = completed(*known);  // see require_known_tools
    if (const SpindleUse* const use = use_of(move)) tool.spindle_rpm = use->rpm, tool.coolant = use->coolant;
    return tool;
  }
  [[nodiscard]] bool is_other(const ProgramMove& move) const {
    const Piece& piece = made_.back();
    return piece.operation != move.operation || piece.path.tool.number != move.tool ||
           piece.use != use_of(move);
  }

  void begin(const ProgramMove& move, const Vec3& start) {
    const ProgramOperation& operation = program_.operations[static_cast<std::size_t>(move.operation)];
    Piece piece{operation.number, move.operation, operation.words, use_of(move)};
    if (const Settled* settled = settled_of(operations_, operation.number)) {
      piece.name = settled->name;
      piece.tolerance_mm =
          settled->values.smooth ? settled->values.smooth_within_mm : settled->values.tolerance_mm;
    }
    piece.path.tool = tool_of(move);
    piece.path.start = start;
    made_.push_back(std::move(piece));
    at_ = start;
  }

  /// To where the move begins, which the tool has cut free before.
  void come_down(const ProgramMove& move) {
    const Vec3 from = posted(move.from, form_.step_mm);
    begin(move, with_z(plan(from), std::max(from.z(), plane())));
    const Settled* settled = settled_of(operations_, program_.number_of(move));
    const double height = settled ? settled->values.links.feed_height_mm : kUsualFeedHeight;
    const Vec3 near = posted(from + Vec3(0, 0, height), form_.step_mm);
    if (near.z() < at_.z()) go(near, MoveKind::rapid, 0);
    if (from.z() < at_.z()) go(from, MoveKind::plunge, made_.back().path.tool.plunge_feed_mm_min);
  }

  /// By the plane to where the tool comes down after a change, or after it was up at the machine's zero.
  void come_over(const ProgramMove& move) {
    rise();
    const Vec3 to = posted(move.to, form_.step_mm), above = with_z(plan(to), std::max(to.z(), plane()));
    if (is_other(move)) begin(move, made_.back().path.tool.number != move.tool ? above : at_);
    if (at_ != above) {
      if (above.z() > at_.z()) go(with_z(plan(at_), above.z()), MoveKind::rapid, 0);
      go(above, MoveKind::rapid, 0);
    }
    if (to.z() < above.z()) go(to, MoveKind::rapid, 0);
  }

  void rise() {
    if (at_.z() < plane()) go(with_z(plan(at_), plane()), MoveKind::rapid, 0);
  }

  void add(const ProgramMove& move) {
    const Vec3 to = posted(move.to, form_.step_mm);
    const MoveKind kind = move.rapid() ? MoveKind::rapid : MoveKind::cut;
    const Arc* const given = program_.arc_of(move);
    if (!given) return go(to, kind, move.feed_mm_min);
    Arc arc = *given;
    arc.start = at_, arc.end = to;
    const auto said = setup_.job.machine.controller.arc_planes[static_cast<std::size_t>(arc.plane)]
                          ? posted(arc, form_)
                          : std::nullopt;
    if (!said) {
      const std::vector<Vec3> chords = program_.points_of(move, kChordSagitta);
      for (std::size_t k = 1; k < chords.size(); ++k)
        go(posted(chords[k], form_.step_mm), kind, move.feed_mm_min);
      return;
    }
    Toolpath& path = made_.back().path;
    path.moves.push_back(
        {said->end, kind, move.feed_mm_min, -1, static_cast<std::int32_t>(path.arcs.size())});
    path.arcs.push_back(*said);
    at_ = said->end;
  }

  void go(const Vec3& to, MoveKind kind, double feed) {
    if (to == at_) return;
    made_.back().path.moves.push_back({to, kind, feed});
    at_ = to;
  }

  [[nodiscard]] double plane() const { return setup_.plane_z; }

  const Program& program_;
  const JobSetup& setup_;
  const std::vector<Settled>& operations_;
  PostedForm form_;
  std::vector<const SpindleUse*> uses_;
  std::vector<Piece> made_;
  Vec3 at_ = Vec3::Zero();
};

std::int32_t came_down_line(const Program& program, std::size_t first) {
  while (first > 0 && !program.moves[first - 1].rapid()) --first;
  return program.moves[first].line;
}

}  // namespace

ResumedProgram resume_at(const Program& program, const JobSetup& setup,
                         const std::vector<Settled>& operations, std::int32_t line, const std::string& name) {
  require_known_tools(program, setup.job, name);
  const std::string offset = fmt::format("G{}", program.work_offset);
  if (offset != setup.job.machine.controller.work_offset)
    throw Error(fmt::format("{}: the program works by {}, the job by {} ([machine] work_offset)", name,
                            offset, setup.job.machine.controller.work_offset));
  const std::size_t first = first_move(program, line, name);
  Pieces pieces(program, setup, operations);
  pieces.make(first);
  auto [posted, read_back, files] = detail::post(setup.job, pieces.paths());
  auto done = std::make_shared<Program>(program);
  done->moves.resize(first);
  done->come_down_from(setup.job.machine.change_z.value_or(setup.plane_z));
  const ProgramMove& move = program.moves[first];
  std::vector<std::int32_t> cut_before;
  for (const ProgramMove& before : done->moves)
    if (cut_before.empty() || cut_before.back() != program.number_of(before))
      cut_before.push_back(program.number_of(before));
  return {
      std::move(posted),
      std::move(files),
      std::move(read_back),
      {name, move.line, move.from, came_down_line(program, first), std::move(cut_before), std::move(done)}};
}

JudgedProgram judge_resumed(const ResumedProgram& resumed, const JobSetup& setup,
                            const std::vector<Settled>& operations, const StageProgress& progress) {
  JudgedProgram judged = detail::judge_rest(resumed.program, resumed.at.done, setup, operations, progress);
  judged.resumed = resumed.at;
  return judged;
}

std::int32_t line_of_block(std::string_view text, std::string_view block, const std::string& name) {
  const auto number_of = [](std::string_view words) -> long {
    while (!words.empty() && (words.front() == ' ' || words.front() == '\t' || words.front() == '/'))
      words.remove_prefix(1);
    if (words.empty() || (words.front() != 'N' && words.front() != 'n')) return -1;
    words.remove_prefix(1);
    long number = -1;
    const auto [end, code] = std::from_chars(words.data(), words.data() + words.size(), number);
    return code == std::errc() ? number : -1;
  };
  const long wanted = number_of(block);
  if (wanted < 0 || block.find_first_not_of("0123456789", 1) != std::string_view::npos)
    throw Error(fmt::format("\"{}\" is no block number; valid: N and a number", block));
  std::int32_t found = 0, line = 0;
  while (!text.empty()) {
    ++line;
    const std::size_t end = std::min(text.find('\n'), text.size());
    if (number_of(text.substr(0, end)) == wanted) {
      if (found > 0)
        throw Error(fmt::format("{}: both line {} and line {} are block N{}; say the line of the file", name,
                                found, line, wanted));
      found = line;
    }
    text.remove_prefix(std::min(end + 1, text.size()));
  }
  if (found == 0) throw Error(fmt::format("{}: no line begins with N{}", name, wanted));
  return found;
}

}  // namespace yardpass
