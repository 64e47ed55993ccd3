#include "yardpass/post/read_program.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <fstream>
#include <optional>
#include <sstream>

#include "post/arc_words.h"
#include "post/operation_comment.h"

namespace yardpass {

namespace {

struct Word {
  char letter;
  double value;
};

/// One line taken apart: words and comment.
struct Block {
  std::vector<Word> words;
  std::vector<std::string> comments;
  bool percent = false;
};

/// Groups of words of which a block may hold one (RS-274, modal groups).
int group_of(int code) {
  switch (code) {
    case 0:
    case 1:
    case 2:
    case 3:
    case 80:
      return 1;
    case 17:
    case 18:
    case 19:
      return 2;
    case 90:
      return 3;
    case 94:
      return 5;
    case 20:
    case 21:
      return 6;
    case 40:
      return 7;
    case 43:
    case 49:
      return 8;
    default:
      return code >= 54 && code <= 59 ? 12 : -1;
  }
}

class Reader {
 public:
  Reader(std::string_view text, const std::string& name) : text_(text), name_(name) {}

  Program run() {
    std::size_t at = 0;
    while (at < text_.size()) {
      std::size_t end = text_.find('\n', at);
      if (end == std::string_view::npos) end = text_.size();
      ++line_;
      block(parse(text_.substr(at, end - at)));
      at = end + 1;
    }
    if (!ended_) fail("the program has no end (M30 or M2)");
    program_.lines = line_;
    return std::move(program_);
  }

 private:
  [[noreturn]] void fail(const std::string& what) const {
    throw Error(name_ + ":" + std::to_string(line_) + ": " + what);
  }

  Block parse(std::string_view line) const {
    Block block;
    std::size_t i = 0;
    while (i < line.size()) {
      const char c = line[i];
      if (c == ' ' || c == '\t' || c == '\r') {
        ++i;
      } else if (c == ';') {
        block.comments.emplace_back(line.substr(i + 1));
        break;
      } else if (c == '(') {
        const std::size_t close = line.find(')', i);
        if (close == std::string_view::npos) fail("a comment is not closed");
        block.comments.emplace_back(line.substr(i + 1, close - i - 1));
        if (block.comments.back().find('(') != std::string::npos) fail("a comment within a comment");
        i = close + 1;
      } else if (c == '%') {
        block.percent = true;
        ++i;
      } else if (c == '/') {
        fail("block delete (/) leaves open which moves are made");
      } else {
        const char letter = static_cast<char>(c >= 'a' && c <= 'z' ? c - 'a' + 'A' : c);
        if (letter < 'A' || letter > 'Z') fail(std::string("\"") + c + "\" is not understood");
        std::size_t from = i + 1;
        while (from < line.size() && (line[from] == ' ' || line[from] == '\t')) ++from;
        if (from < line.size() && line[from] == '+') ++from;
        if (from > i + 1 && line[from - 1] == '+' && from < line.size() && line[from] == '-')
          fail(std::string("the word ") + letter + " has two signs");
        double value = 0;
        const auto [end, code] =
            std::from_chars(line.data() + from, line.data() + line.size(), value, std::chars_format::fixed);
        if (code != std::errc() || !std::isfinite(value))
          fail(std::string("the word ") + letter + " has no number");
        block.words.push_back({letter, value});
        i = static_cast<std::size_t>(end - line.data());
      }
    }
    return block;
  }

  void block(const Block& block) {
    if (block.percent && begun_ && !ended_)
      fail("an end mark (%) in mid-program: controls stop reading there");
    if (block.percent && block.words.empty()) return;
    for (const std::string& comment : block.comments)
      if (const auto operation = detail::operation_of(comment)) {
        program_.operations.push_back(*operation);
        named_ = true;
      }
    if (block.words.empty()) return;
    if (ended_) fail("words after the end of the program");
    begun_ = true;
    std::array<std::optional<double>, 26> single;
    std::vector<int> g, m;
    // G and M words first: what they mean is the better message when other words only belong to them.
    for (const Word& word : block.words) {
      if (word.letter != 'G' && word.letter != 'M') continue;
      const int code = static_cast<int>(std::lround(word.value));
      if (word.letter == 'G' && word.value == 91.1) continue;  // I, J, K count from the start: as ever
      if (word.letter == 'G' && word.value == 90.1)
        fail("the axis of an arc in absolute coordinates (G90.1) is not read");
      if (std::abs(word.value - code) > 1e-9)
        fail(std::string(1, word.letter) + short_number(word.value) + " is not understood");
      if (word.letter == 'G') require_known(code);
      (word.letter == 'G' ? g : m).push_back(code);
    }
    for (const Word& word : block.words) {
      if (word.letter == 'G' || word.letter == 'M') continue;
      if (std::string_view("FHIJKNRSTXYZ").find(word.letter) == std::string_view::npos)
        fail(std::string("the word ") + word.letter +
             " is not understood; valid are F G H I J K M N R S T X Y Z");
      auto& slot = single[static_cast<std::size_t>(word.letter - 'A')];
      if (slot) fail(std::string("the word ") + word.letter + " stands twice in one block");
      slot = word.value;
    }
    const auto value = [&](char letter) { return single[static_cast<std::size_t>(letter - 'A')]; };
    if (const auto f = value('F')) {
      if (!(*f > 0)) fail("the feed F must be above 0");
      feed_ = *f * scale_;
    }
    if (const auto s = value('S')) {
      if (!(*s >= 0)) fail("the spindle speed S must not be negative");
      speed_ = *s;
    }
    if (const auto t = value('T')) selected_ = whole(*t, 'T');
    for (const int code : m) machine_word(code);
    prepare(g, value('H'), value('F'));
    detail::ArcWords arc;
    for (std::size_t k = 0; k < 3; ++k)
      if (const auto offset = value("IJK"[k])) arc.offset[k] = *offset * scale_;
    if (const auto radius = value('R')) arc.radius = *radius * scale_;
    const bool arc_words = arc.offset[0] || arc.offset[1] || arc.offset[2] || arc.radius;
    if (arc_words && motion_ != 2 && motion_ != 3) fail("I, J, K and R belong to arcs (G2, G3)");
    if (value('X') || value('Y') || value('Z') || arc_words) move(value('X'), value('Y'), value('Z'), arc);
    for (const int code : m)
      if (code == 2 || code == 30) end();
  }

  void require_known(int code) const {
    if (group_of(code) >= 0) return;
    if (code == 91) fail("incremental coordinates (G91) are not read");
    fail("G" + std::to_string(code) +
         " is not understood; valid are G0 G1 G2 G3 G17 G18 G19 G20 G21 G40 G43 G49 G54-G59 G80 G90 G91.1 "
         "G94");
  }

  static std::string short_number(double value) {
    std::ostringstream out;
    out << value;
    return out.str();
  }

  int whole(double value, char letter) const {
    if (value < 0 || value != std::floor(value) || value > 1e6)
      fail(std::string(1, letter) + " must be a whole number");
    return static_cast<int>(value);
  }

  void machine_word(int code) {
    switch (code) {
      case 2:
      case 30:
        return;
      case 7:
      case 8:
        coolant_ = true;
        return;
      case 9:
        coolant_ = false;
        return;
      case 3:
        if (!(speed_ > 0)) fail("M3 without a spindle speed S");
        spindle_on_ = true;
        return;
      case 5:
        spindle_on_ = false;
        return;
      case 6:
        if (selected_ < 0) fail("M6 without a tool T");
        tool_ = selected_;
        program_.tools.push_back(tool_);
        at_ = {};
        compensation_ = -1;
        spindle_on_ = false;
        return;
      default:
        fail("M" + std::to_string(code) + " is not understood; valid are M2 M3 M5 M6 M7 M8 M9 M30");
    }
  }

  void prepare(const std::vector<int>& codes, std::optional<double> h, std::optional<double> f) {
    std::array<int, 16> seen{};
    for (const int code : codes) {
      const int group = group_of(code);
      if (seen[static_cast<std::size_t>(group)]++) fail("two G words of one kind in a block");
      switch (code) {
        case 0:
        case 1:
        case 2:
        case 3:
          motion_ = code;
          break;
        case 17:
          plane_ = ArcPlane::xy;
          break;
        case 18:
          plane_ = ArcPlane::zx;
          break;
        case 19:
          plane_ = ArcPlane::yz;
          break;
        case 80:
          motion_ = -1;
          break;
        case 20:
        case 21: {
          const double scale = code == 20 ? 25.4 : 1.0;
          if (!program_.moves.empty() && scale != scale_) fail("the unit changes in mid-program");
          if (f) feed_ = *f * scale;
          scale_ = scale;
          units_ = true;
          break;
        }
        case 54:
        case 55:
        case 56:
        case 57:
        case 58:
        case 59:
          if (!program_.moves.empty() && code != program_.work_offset)
            fail("the work offset changes in mid-program (G" + std::to_string(program_.work_offset) +
                 " to G" + std::to_string(code) + "): where the part then is is not known");
          program_.work_offset = code;
          break;
        case 90:
          absolute_ = true;
          break;
        case 43:
          if (!h) fail("G43 without H");
          compensation_ = whole(*h, 'H');
          if (compensation_ != tool_)
            fail("G43 H" + std::to_string(compensation_) + " is the length of another tool than T" +
                 std::to_string(tool_));
          break;
        case 49:
          compensation_ = -1;
          break;
        default:
          break;
      }
    }
    if (h && std::find(codes.begin(), codes.end(), 43) == codes.end()) fail("H without G43");
  }

  void move(std::optional<double> x, std::optional<double> y, std::optional<double> z,
            const detail::ArcWords& words) {
    if (motion_ < 0) fail("coordinates without G0, G1, G2 or G3");
    if (!units_) fail("a move before the unit is said (G21 or G20)");
    if (!absolute_) fail("a move before absolute coordinates are said (G90)");
    if (tool_ < 0) fail("a move before a tool is in the spindle (T M6)");
    if (z && compensation_ < 0) fail("a move in Z without length compensation (G43 H)");
    if (at_[2] && compensation_ < 0)
      fail("a move after the length compensation was taken off (G49): where the tip is then is not known");
    if (motion_ > 0 && spindle_on_ && !(speed_ > 0)) fail("a cutting move at spindle speed S0");
    if (motion_ > 0 && !spindle_on_) fail("a cutting move while the spindle stands still (M3)");
    if (motion_ > 0 && !(feed_ > 0)) fail("a cutting move without a feed F");
    const std::optional<double> given[] = {x, y, z};
    std::array<std::optional<double>, 3> to = at_;
    for (std::size_t k = 0; k < 3; ++k)
      if (given[k]) to[k] = *given[k] * scale_;
    if (!at_[2]) {
      if (z && (x || y))
        fail(
            "the first move in Z after a tool change must not go in X or Y too: where it starts is not "
            "known");
      if (motion_ > 0)
        fail("the first moves after a tool change must be rapids: where they start is not known");
      if (z && (!to[0] || !to[1])) fail("the first move in Z after a tool change needs X and Y before it");
      if (z) {
        add({*to[0], *to[1], *to[2]}, {*to[0], *to[1], *to[2]});
        program_.moves.back().after_change = true;
      }
    } else {
      const Vec3 start(*at_[0], *at_[1], *at_[2]), end(*to[0], *to[1], *to[2]);
      add(start, end);
      if (motion_ > 1) bend(program_.moves.back(), words);
    }
    at_ = to;
  }

  void add(const Vec3& from, const Vec3& to) {
    if (!named_) {
      program_.operations.emplace_back();
      named_ = true;
    }
    const auto operation = static_cast<std::int32_t>(program_.operations.size()) - 1;
    if (motion_ > 0 && (program_.spindle.empty() || program_.spindle.back().tool != tool_ ||
                        program_.spindle.back().rpm != speed_ || program_.spindle.back().coolant != coolant_))
      program_.spindle.push_back({line_, tool_, speed_, coolant_});
    program_.moves.push_back({from, to, motion_ > 0 ? feed_ : 0.0, line_, tool_, operation});
  }

  void bend(ProgramMove& move, const detail::ArcWords& words) {
    try {
      program_.arcs.push_back(detail::arc_of(move.from, move.to, plane_, motion_ == 2, words));
    } catch (const Error& error) {
      fail(error.what());
    }
    move.arc = static_cast<std::int32_t>(program_.arcs.size()) - 1;
  }

  void end() {
    if (spindle_on_) fail("the program ends with the spindle running (M5)");
    ended_ = true;
  }

  std::string_view text_;
  const std::string& name_;
  Program program_;
  std::int32_t line_ = 0;
  std::array<std::optional<double>, 3> at_;
  double feed_ = 0, speed_ = 0, scale_ = 1;
  ArcPlane plane_ = ArcPlane::xy;
  int motion_ = -1, tool_ = -1, selected_ = -1, compensation_ = -1;
  bool spindle_on_ = false, coolant_ = false, units_ = false, absolute_ = false, ended_ = false,
       named_ = false, begun_ = false;
};

}  // namespace

Program read_program(std::string_view text, const std::string& name) {
  Program program = Reader(text, name).run();
  program.come_down_from(kChangeHeight);
  return program;
}

Program read_program_file(const std::filesystem::path& file) {
  std::ifstream in(file, std::ios::binary);
  if (!in || std::filesystem::is_directory(file))
    throw Error(file.string() + ": cannot be opened for reading");
  std::ostringstream text;
  text << in.rdbuf();
  return read_program(text.str(), file.string());
}

}  // namespace yardpass
