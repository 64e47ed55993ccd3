// Damaged programs: a line of head, tool, spindle, feed or operation that is lost, doubled, misplaced or
// misspelt is refused, found, or changes nothing.
#include <gtest/gtest.h>

#include "support/nasty.h"
#include "support/rng.h"
#include "support/scratch.h"
#include "yardpass/part/write_stl.h"
#include "yardpass/run/run.h"

namespace yardpass {
namespace {

using testing::Rng;

std::vector<std::string> lines_of(const std::string& text) {
  std::vector<std::string> lines;
  std::istringstream in(text);
  for (std::string line; std::getline(in, line);) lines.push_back(line);
  return lines;
}
std::string text_of(const std::vector<std::string>& lines) {
  std::string text;
  for (const std::string& line : lines) text += line + "\n";
  return text;
}

bool is_move(const std::string& line) {
  return line.find_first_of("XYZ") != std::string::npos && line.find('(') == std::string::npos;
}

/// Feeds that the job gives the tool, or the same within what posting rounds.
bool same_feed(double before, double now, const std::vector<double>& of_tool) {
  if (std::abs(now - before) <= 0.002 * before) return true;
  return std::find(of_tool.begin(), of_tool.end(), now) != of_tool.end();
}

/// What a control does with it: the way of each tool, its speeds, by operation; and feeds, but that one of
/// the tool's feeds may stand for another: a plunge through solid that is too fast is found, all else runs as
/// fast as the job lets that tool run somewhere.
bool same_effect(const Program& a, const Program& b) {
  if (a.moves.size() != b.moves.size() || a.work_offset != b.work_offset ||
      a.spindle.size() != b.spindle.size())
    return false;
  for (std::size_t i = 0; i < a.spindle.size(); ++i)
    if (a.spindle[i].tool != b.spindle[i].tool ||
        std::abs(a.spindle[i].rpm - b.spindle[i].rpm) > 0.002 * b.spindle[i].rpm ||
        a.spindle[i].coolant != b.spindle[i].coolant)
      return false;
  for (std::size_t i = 0; i < a.moves.size(); ++i) {
    const ProgramMove &one = a.moves[i], &other = b.moves[i];
    static const std::vector<double> rough{900, 250, 450}, finish{1300, 300, 650};
    // The first height after a tool change may be a higher one.
    const bool higher = one.after_change && one.to.z() > other.to.z() && plan(one.to) == plan(other.to),
               after_it = i > 0 && a.moves[i - 1].after_change && plan(one.from) == plan(other.from);
    if (higher) continue;
    if ((one.from != other.from && !after_it) || one.to != other.to || one.rapid() != other.rapid() ||
        !same_feed(other.feed_mm_min, one.feed_mm_min, one.tool == 1 ? rough : finish) ||
        one.tool != other.tool || a.number_of(one) != b.number_of(other))
      return false;
  }
  return true;
}

class Damage : public testing::ScratchFolder {
 protected:
  void SetUp() override {
    write_stl(folder() / "part.stl",
              testing::sheet(Box2(Vec2(-12, -9), Vec2(12, 9)), 24, 18,
                             [](double x, double) { return -x * x / 60; }),
              "part");
    store(folder() / "job.toml", R"(title = "t"
[part]
mesh = "part.stl"
[stock]
cell = 0.4
above = 1
[tools.flat6]
number = 1
shape = "flat"
diameter = 6
spindle = 8000
feed = 900
plunge_feed = 250
[tools.ball4]
number = 2
shape = "ball"
diameter = 4
spindle = 9500
feed = 1300
plunge_feed = 300
coolant = false
[[operation]]
name = "rough"
strategy = "roughing"
tool = "flat6"
[[operation]]
name = "finish"
strategy = "parallel"
tool = "ball4"
stepover = 1.5
[[operation]]
name = "finish across"
strategy = "parallel"
tool = "ball4"
stepover = 2.5
angle = 90
)");
    run_.emplace(run_job(read_job(folder() / "job.toml")));
    lines_ = lines_of(run_->posted.text);
    for (std::size_t i = 0; i < lines_.size(); ++i)
      if (!is_move(lines_[i]) || lines_[i].find("G43") != std::string::npos)
        heads_.push_back(i);
      else if (lines_[i].find('F') != std::string::npos)
        feeds_.push_back(i);
  }

  /// Does something to one line; `words` says what.
  std::vector<std::string> damaged(Rng& rng, std::string& words) const {
    std::vector<std::string> lines = lines_;
    if (rng.pick(5) == 0) return with_other_feed(rng, words);
    const std::size_t at = heads_[static_cast<std::size_t>(rng.pick(static_cast<int>(heads_.size())))];
    const auto where = lines.begin() + static_cast<std::ptrdiff_t>(at);
    const std::string before = *where;
    switch (rng.pick(5)) {
      case 0:
        words = "lost: " + before;
        lines.erase(where);
        break;
      case 1: {
        const std::size_t to = heads_[static_cast<std::size_t>(rng.pick(static_cast<int>(heads_.size())))];
        words = "moved: " + before + " to line " + std::to_string(to + 1);
        lines.erase(where);
        lines.insert(lines.begin() + static_cast<std::ptrdiff_t>(std::min(to, lines.size())), before);
        break;
      }
      case 2: {  // a digit becomes another one
        std::vector<std::size_t> digits;
        for (std::size_t k = 0; k < before.size(); ++k)
          if (std::isdigit(static_cast<unsigned char>(before[k]))) digits.push_back(k);
        if (!digits.empty())
          (*where)[digits[static_cast<std::size_t>(rng.pick(static_cast<int>(digits.size())))]] =
              static_cast<char>('0' + rng.pick(10));
        words = "digit: " + before + " -> " + *where;
        break;
      }
      case 3: {  // a character is lost
        if (!where->empty())
          where->erase(static_cast<std::size_t>(rng.pick(static_cast<int>(before.size()))), 1);
        words = "character lost: " + before + " -> " + *where;
        break;
      }
      default: {
        const std::size_t other = heads_[static_cast<std::size_t>(rng.pick(static_cast<int>(heads_.size())))];
        words = "instead of " + before + ": " + lines[other];
        *where = lines[other];
      }
    }
    words = "line " + std::to_string(at + 1) + " " + words;
    return lines;
  }

  /// A digit of a feed becomes another one, or the word is lost.
  std::vector<std::string> with_other_feed(Rng& rng, std::string& words) const {
    std::vector<std::string> lines = lines_;
    std::string& line = lines[feeds_[static_cast<std::size_t>(rng.pick(static_cast<int>(feeds_.size())))]];
    words = line + " -> ";
    const std::size_t from = line.find('F');
    if (rng.pick(4) == 0)
      line.erase(from - 1);
    else
      line[from + 1 + static_cast<std::size_t>(rng.pick(static_cast<int>(line.size() - from - 2)))] =
          static_cast<char>('0' + rng.pick(10));
    words += line;
    return lines;
  }

  std::optional<RunResult> run_;
  std::vector<std::string> lines_;
  std::vector<std::size_t> heads_, feeds_;
};

TEST_F(Damage, OfHeadToolSpindleFeedAndOperationLinesIsFoundOrChangesNothing) {
  ASSERT_TRUE(run_->judged.clean()) << in_words(run_->judged.judgement);
  int refused = 0, found = 0, harmless = 0;
  for (int seed = 1; seed <= testing::rounds(200); ++seed) {
    Rng rng(static_cast<std::uint64_t>(seed));
    std::string words;
    const std::string text = text_of(damaged(rng, words));
    std::optional<Program> program;
    try {
      program.emplace(read_program(text, "damaged.nc"));
      if (same_effect(*program, read_program(run_->posted.text, "x.nc"))) {
        ++harmless;
        continue;
      }
      const JudgedProgram judged = judge_program(*program, run_->setup, run_->operations);
      EXPECT_FALSE(judged.clean()) << "seed " << seed << ", " << words;
      ++found;
    } catch (const Error&) {
      ++refused;
    }
  }
  std::printf("%d refused, %d found, %d without effect\n", refused, found, harmless);
}

}  // namespace
}  // namespace yardpass
