#include "yardpass/post/read_program.h"

#include <cmath>
#include <fstream>
#include <map>
#include <sstream>

#include "post/operation_comment.h"
#include "post/problems.h"
#include "post/program_state.h"

namespace yardpass {

namespace {

using detail::Block;

/// Runs the blocks of a file, subprograms where they are called.
class Reader {
 public:
  Reader(std::string_view text, const std::string& name, const ProgramReading& options)
      : options_(options), problems_(name), state_(options) {
    std::size_t at = 0;
    while (at < text.size()) {
      std::size_t end = text.find('\n', at);
      if (end == std::string_view::npos) end = text.size();
      lines_.push_back(text.substr(at, end - at));
      at = end + 1;
    }
  }

  Program run() {
    find_subprograms();
    for (std::size_t i = 0; i < lines_.size(); ++i) {
      line_ = static_cast<std::int32_t>(i) + 1;
      const auto block = parsed(i);
      if (!block) continue;
      try {
        main_block(*block);
      } catch (const Error& error) {
        problems_.add(line_, error.what());
      }
    }
    if (!state_.ended()) problems_.add(std::max(line_, 1), "the program has no end (M30 or M2)");
    problems_.refuse();
    if (marked_ > 0)
      state_.remark(first_marked_, std::to_string(marked_) +
                                       " blocks are marked to be skipped (/); they are " +
                                       (options_.skip_marked ? "skipped here" : "run here"));
    Program program = state_.take();
    program.lines = static_cast<std::int32_t>(lines_.size());
    return program;
  }

 private:
  std::optional<Block> parsed(std::size_t index) {
    try {
      return detail::parse_block(lines_[index]);
    } catch (const Error& error) {
      problems_.add(static_cast<std::int32_t>(index) + 1, error.what());
      return std::nullopt;
    }
  }

  /// Where each O word stands.
  void find_subprograms() {
    for (std::size_t i = 0; i < lines_.size(); ++i) {
      if (lines_[i].find_first_of("Oo:") == std::string_view::npos) continue;
      try {
        const Block block = detail::parse_block(lines_[i]);
        if (const auto number = block.word('O')) subprograms_.emplace(std::llround(*number), i);
      } catch (const Error&) {
        // Told when its turn comes.
      }
    }
  }

  void main_block(const Block& block) {
    if (block.percent && begun_ && !state_.ended())
      throw Error("an end mark (%) in mid-program: controls stop reading there");
    if (state_.ended()) {
      // Subprograms stand behind the end.
      in_subprogram_ = in_subprogram_ || block.word('O').has_value();
      if (block.has_m(99)) {
        in_subprogram_ = false;
        return;
      }
      if (!in_subprogram_ && !block.empty()) throw Error("words after the end of the program");
      return;
    }
    if (block.empty() && block.comments.empty()) return;
    if (block.has_m(99)) throw Error("M99 in the main program: it would never end");
    run(block, line_);
    begun_ = begun_ || !block.empty();
  }

  void run(const Block& block, std::int32_t line) {
    if (block.marked) {
      if (marked_++ == 0) first_marked_ = line;
      if (options_.skip_marked) return;
    }
    for (const std::string& comment : block.comments)
      if (const auto operation = detail::operation_of(comment)) state_.name_operation(*operation);
    if (block.empty()) return;
    if (++blocks_run_ > kMostBlocks) throw Error("more than 20 million blocks are run");
    const auto told = [&](const std::string& what) { problems_.add(line, what); };
    state_.run(block, line, told);
    if (block.has_m(98)) call(block, line);
  }

  void call(const Block& block, std::int32_t line) {
    constexpr int kDeepest = 8;
    const auto p = block.word('P');
    if (!p) throw Error("M98 without P, the number of a subprogram");
    const auto found = subprograms_.find(std::llround(*p));
    if (found == subprograms_.end())
      throw Error("M98 P" + std::to_string(std::llround(*p)) + ": the file has no such subprogram (O" +
                  std::to_string(std::llround(*p)) + ")");
    const double times = block.word('L').value_or(1);
    if (!(times >= 0 && times <= 1e6 && times == std::floor(times))) throw Error("L must be a whole number");
    if (depth_ == kDeepest) throw Error("subprograms call each other more than 8 deep");
    ++depth_;
    for (int k = 0; k < static_cast<int>(times); ++k) subprogram(found->second, line);
    --depth_;
  }

  void subprogram(std::size_t from, std::int32_t called_at) {
    for (std::size_t i = from; i < lines_.size(); ++i) {
      const auto line = static_cast<std::int32_t>(i) + 1;
      const auto block = parsed(i);
      if (!block) continue;
      if (block->has_m(99)) return;
      try {
        if (block->has_m(2) || block->has_m(30)) throw Error("the program ends within a subprogram");
        run(*block, line);
      } catch (const Error& error) {
        problems_.add(line, error.what());
        if (blocks_run_ > kMostBlocks) return;
      }
    }
    problems_.add(called_at, "the subprogram that is called here has no end (M99)");
  }

  static constexpr std::int64_t kMostBlocks = 20'000'000;
  const ProgramReading& options_;
  std::vector<std::string_view> lines_;
  std::map<long long, std::size_t> subprograms_;
  detail::Problems problems_;
  detail::ProgramState state_;
  std::int32_t line_ = 0, first_marked_ = 0;
  std::int64_t blocks_run_ = 0, marked_ = 0;
  int depth_ = 0;
  bool begun_ = false, in_subprogram_ = false;
};

}  // namespace

Program read_program(std::string_view text, const std::string& name, const ProgramReading& options) {
  Program program = Reader(text, name, options).run();
  program.come_down_from(kChangeHeight);
  return program;
}

Program read_program_file(const std::filesystem::path& file, const ProgramReading& options) {
  std::ifstream in(file, std::ios::binary);
  if (!in || std::filesystem::is_directory(file))
    throw Error(file.string() + ": cannot be opened for reading");
  std::ostringstream text;
  text << in.rdbuf();
  return read_program(text.str(), file.string(), options);
}

}  // namespace yardpass
