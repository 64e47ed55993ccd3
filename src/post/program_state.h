// A control's state while a program runs, and the moves it makes.
#pragma once

#include "post/arc_words.h"
#include "post/cycle.h"
#include "post/parse_block.h"
#include "yardpass/post/read_program.h"

namespace yardpass::detail {

class ProgramState {
 public:
  explicit ProgramState(const ProgramReading& options) : options_(options) {}

  /// Runs a block. Throws Error, without the line, at what cannot be run; what came before in the block
  /// counts. Words that no control knows are told to `unknown` and left out.
  template <typename Tell>
  void run(const Block& block, std::int32_t line, const Tell& unknown) {
    line_ = line;
    for (const std::string& what : unknown_words(block)) unknown(what);
    run_known(block);
  }
  void name_operation(const ProgramOperation& operation);
  void remark(std::int32_t line, const std::string& says);

  [[nodiscard]] bool ended() const { return ended_; }
  [[nodiscard]] bool has_moved() const { return !program_.moves.empty(); }
  [[nodiscard]] Program take() { return std::move(program_); }

  /// What nobody here knows of a block's words, in words.
  [[nodiscard]] static std::vector<std::string> unknown_words(const Block& block);

 private:
  void run_known(const Block& block);
  void modes(const Block& block);
  void motion_code(const Block& block);
  void offset_and_length(const Block& block);
  void machine_words(const Block& block);
  void change_tool();
  void go(const Block& block);
  void home(const Block& block);
  void drill(const Block& block);
  void straight_or_round(const Block& block);
  void move_to(const std::array<std::optional<double>, 3>& to, const ArcWords& words);
  void require_ready(bool z_moves) const;
  void add(const Vec3& from, const Vec3& to, bool rapid);
  void bend(ProgramMove& move, const ArcWords& words);
  [[nodiscard]] std::optional<double> target(const Block& block, int axis) const;
  [[nodiscard]] double feed_of(double length_mm) const;

  const ProgramReading& options_;
  Program program_;
  std::int32_t line_ = 0;
  std::array<std::optional<double>, 3> at_;
  double feed_ = 0, speed_ = 0, scale_ = 1;
  bool feed_said_ = false;  // in this block
  enum class FeedMode { a_minute, inverse, a_turn } feed_mode_ = FeedMode::a_minute;
  ArcPlane plane_ = ArcPlane::xy;
  int motion_ = -1, tool_ = -1, selected_ = -1, compensation_ = -1;
  Cycle cycle_;
  bool spindle_on_ = false, coolant_ = false, units_ = false, distances_ = false, relative_ = false,
       ended_ = false, named_ = false, named_by_comment_ = false;
};

}  // namespace yardpass::detail
