#include "post/program_state.h"

#include <algorithm>
#include <cmath>

#include "yardpass/geom/error.h"

namespace yardpass::detail {

namespace {

constexpr const char* kKnownG =
    "G0 G1 G2 G3 G4 G17 G18 G19 G20 G21 G28 G40 G43 G49 G53 G54-G59 G61 G64 G73 G80 G81 G82 G83 G85 G86 "
    "G89 G90 G91 G91.1 G93 G94 G95 G98 G99";

/// Groups of words of which a block may hold one (RS-274, modal groups).
int group_of(double code) {
  struct Group {
    int number;
    std::vector<double> codes;
  };
  static const std::vector<Group> groups = {{1, {0, 1, 2, 3, 73, 81, 82, 83, 85, 86, 89}},
                                            {2, {17, 18, 19}},
                                            {3, {90, 91}},
                                            {4, {91.1}},
                                            {5, {93, 94, 95}},
                                            {6, {20, 21}},
                                            {7, {40}},
                                            {8, {43, 49}},
                                            {9, {80}},
                                            {10, {98, 99}},
                                            {12, {54, 55, 56, 57, 58, 59}},
                                            {13, {61, 64}},
                                            {14, {4, 28, 53}}};
  for (const Group& group : groups)
    if (std::find(group.codes.begin(), group.codes.end(), code) != group.codes.end()) return group.number;
  return -1;
}

bool is_known_m(double code) {
  for (const double one : {0, 1, 2, 3, 5, 6, 7, 8, 9, 30, 98, 99})
    if (code == one) return true;
  return false;
}

std::string why_not(double code) {
  if (code == 41 || code == 42) return ": cutter compensation is worked out by the control";
  if (code == 90.1) return ": the axis of an arc in absolute coordinates";
  if (code == 92 || code == 52 || code == 10) return ": it shifts the zero, so where moves go is not known";
  if (code == 68 || code == 69 || code == 51 || code == 50) return ": it turns or scales what follows";
  if (code == 74 || code == 84) return ": tapping";
  if (code == 76 || code == 87 || code == 88) return ": a cycle with moves of its own";
  if (code == 30) return ": where its reference point lies is not known";
  if (code == 65 || code == 66) return ": a macro call";
  return "";
}

int whole(double value, char letter) {
  if (value < 0 || value != std::floor(value) || value > 1e6)
    throw Error(std::string(1, letter) + " must be a whole number");
  return static_cast<int>(value);
}

}  // namespace

std::vector<std::string> ProgramState::unknown_words(const Block& block) {
  std::vector<std::string> result;
  for (const double code : block.g)
    if (group_of(code) < 0)
      result.push_back("G" + code_text(code) + " is not understood" + why_not(code) + "; valid are " +
                       kKnownG);
  for (const double code : block.m)
    if (!is_known_m(code))
      result.push_back("M" + code_text(code) +
                       " is not understood; valid are M0 M1 M2 M3 M5 M6 M7 M8 M9 M30 M98 M99");
  for (char letter = 'A'; letter <= 'Z'; ++letter)
    if (block.word(letter) && std::string_view("FHIJKLNOPQRSTXYZ").find(letter) == std::string_view::npos)
      result.push_back(std::string("the word ") + letter +
                       " is not understood; valid are F G H I J K L M N O P Q R S T X Y Z");
  return result;
}

void ProgramState::name_operation(const ProgramOperation& operation) {
  program_.operations.push_back(operation);
  named_ = named_by_comment_ = true;
}

void ProgramState::remark(std::int32_t line, const std::string& says) {
  program_.remarks.push_back({line, says});
}

void ProgramState::run_known(const Block& block) {
  std::array<int, 15> seen{};
  for (const double code : block.g)
    if (const int group = group_of(code); group >= 0 && seen[static_cast<std::size_t>(group)]++)
      throw Error("two G words of one kind in a block");
  modes(block);
  feed_said_ = false;
  if (const auto f = block.word('F')) {
    if (!(*f > 0)) throw Error("the feed F must be above 0");
    // Moves a minute have no unit.
    feed_ = feed_mode_ == FeedMode::inverse ? *f : *f * scale_;
    feed_said_ = true;
  }
  if (const auto s = block.word('S')) {
    if (!(*s >= 0)) throw Error("the spindle speed S must not be negative");
    speed_ = *s;
  }
  if (const auto t = block.word('T')) selected_ = whole(*t, 'T');
  machine_words(block);
  offset_and_length(block);
  motion_code(block);
  if (block.has(4)) {
    // P or X: seconds here, whichever way the control counts them.
    program_.dwell_s += block.word('P').value_or(block.word('X').value_or(0));
  } else {
    go(block);
  }
  if (block.has_m(2) || block.has_m(30)) {
    if (spindle_on_) throw Error("the program ends with the spindle running (M5)");
    ended_ = true;
  }
}

/// Units, planes, distances, feeds.
void ProgramState::modes(const Block& block) {
  for (const double code : block.g) {
    if (code == 20 || code == 21) {
      const double scale = code == 20 ? 25.4 : 1.0;
      if (has_moved() && scale != scale_) throw Error("the unit changes in mid-program");
      scale_ = scale, units_ = true;
    }
    if (code >= 17 && code <= 19) plane_ = static_cast<ArcPlane>(static_cast<int>(code) - 17);
    if (code == 90 || code == 91) relative_ = code == 91, distances_ = true;
    const FeedMode before = feed_mode_;
    if (code == 93) feed_mode_ = FeedMode::inverse;
    if (code == 94) feed_mode_ = FeedMode::a_minute;
    if (code == 95) feed_mode_ = FeedMode::a_turn;
    if (feed_mode_ != before) feed_ = 0;
    if (code == 98 || code == 99) cycle_.back_to_r = code == 99;
  }
}

void ProgramState::motion_code(const Block& block) {
  if (block.has(80)) motion_ = -1, cycle_.code = 0;
  for (const double code : block.g) {
    if (code >= 0 && code <= 3) motion_ = static_cast<int>(code), cycle_.code = 0;
    if (!is_cycle(code)) continue;
    if (plane_ != ArcPlane::xy) throw Error("a drilling cycle is read in the plane XY (G17) alone");
    if (!at_[2]) throw Error("a drilling cycle before the height of the tool is known");
    if (cycle_.code == 0) cycle_.first_z = *at_[2], cycle_.r = {}, cycle_.z = {};
    cycle_.code = static_cast<int>(code), cycle_.relative = relative_;
    motion_ = -1;
  }
}

void ProgramState::offset_and_length(const Block& block) {
  for (const double code : block.g) {
    if (code >= 54 && code <= 59) {
      const int offset = static_cast<int>(code);
      if (has_moved() && offset != program_.work_offset)
        throw Error("the work offset changes in mid-program (G" + std::to_string(program_.work_offset) +
                    " to G" + std::to_string(offset) + "): where the part then is is not known");
      program_.work_offset = offset;
    }
    if (code == 49) compensation_ = -1;
    if (code != 43) continue;
    const auto h = block.word('H');
    if (!h) throw Error("G43 without H");
    compensation_ = whole(*h, 'H');
    if (compensation_ != tool_)
      throw Error("G43 H" + std::to_string(compensation_) + " is the length of another tool than T" +
                  std::to_string(tool_));
  }
  if (block.word('H') && !block.has(43) && !block.has(49)) throw Error("H without G43");
}

void ProgramState::machine_words(const Block& block) {
  for (const double code : block.m) {
    if (code == 7 || code == 8) coolant_ = true;
    if (code == 9) coolant_ = false;
    if (code == 5) spindle_on_ = false;
    if (code == 6) change_tool();
  }
  if (!block.has_m(3)) return;
  if (!(speed_ > 0)) throw Error("M3 without a spindle speed S");
  spindle_on_ = true;
}

void ProgramState::change_tool() {
  if (selected_ < 0) throw Error("M6 without a tool T");
  tool_ = selected_;
  program_.tools.push_back(tool_);
  program_.tool_lines.push_back(line_);
  at_ = {};
  compensation_ = -1;
  cycle_.code = 0;
  spindle_on_ = false;
  if (!named_by_comment_) named_ = false;
}

std::optional<double> ProgramState::target(const Block& block, int axis) const {
  const auto said = block.word("XYZ"[axis]);
  if (!said) return std::nullopt;
  if (!relative_) return *said * scale_;
  const auto& at = at_[static_cast<std::size_t>(axis)];
  if (!at) throw Error("a move by a distance (G91) from a place that is not known");
  return *at + *said * scale_;
}

void ProgramState::go(const Block& block) {
  if (block.has(28) || block.has(53)) return home(block);
  const bool places = block.word('X') || block.word('Y') || block.word('Z');
  if (cycle_.code > 0) {
    if (places || block.word('R')) drill(block);
    return;
  }
  for (const char letter : {'L', 'Q'})
    if (block.word(letter) && !block.has_m(98) && !block.has(64))
      throw Error(std::string("the word ") + letter + " without a drilling cycle");
  if (block.word('P') && !block.has_m(98) && !block.has(64)) throw Error("the word P without G4, G64 or M98");
  straight_or_round(block);
}

void ProgramState::require_ready(bool z_moves) const {
  const bool cuts = motion_ > 0 || cycle_.code > 0;
  if (!units_) throw Error("a move before the unit is said (G21 or G20)");
  if (!distances_) throw Error("a move before absolute coordinates are said (G90)");
  if (tool_ < 0) throw Error("a move before a tool is in the spindle (T M6)");
  if (options_.length_compensation && compensation_ < 0) {
    if (z_moves) throw Error("a move in Z without length compensation (G43 H)");
    if (at_[2])
      throw Error(
          "a move after the length compensation was taken off (G49): where the tip then is is not known");
  }
  if (cuts && spindle_on_ && !(speed_ > 0)) throw Error("a cutting move at spindle speed S0");
  if (cuts && !spindle_on_) throw Error("a cutting move while the spindle stands still (M3)");
  if (cuts && !(feed_ > 0)) throw Error("a cutting move without a feed F");
  if (cuts && feed_mode_ == FeedMode::inverse && !feed_said_)
    throw Error("a cutting move without its own F while feeds are moves a minute (G93)");
}

/// Straight up to where nobody knows; from there the tool comes down as after a change.
void ProgramState::home(const Block& block) {
  const bool machine = block.has(53);
  const std::string word = machine ? "G53" : "G28";
  const bool x = block.word('X').has_value(), y = block.word('Y').has_value(),
             z = block.word('Z').has_value();
  if (!x && !y && !z) {
    if (machine) throw Error("G53 without X, Y or Z");
    throw Error(word + " without X, Y or Z: all axes at once, by a way that is not known");
  }
  if (machine && motion_ != 0) throw Error("G53 is read with G0 alone");
  // Any other height might lie below the tool.
  if (machine && z && *block.word('Z') != 0) throw Error("G53 in Z is read to the machine's zero alone (Z0)");
  if (tool_ < 0) return;  // where the spindle is does not matter yet
  if (z && (x || y))
    throw Error(word + " in Z and X or Y at once: its way is not known; read is Z alone, then X and Y");
  if (z) {
    // By the place it says, if that is not where the tool is.
    if (!machine && at_[2]) {
      const auto between = target(block, 2);
      if (*between != *at_[2]) {
        if (*between < *at_[2]) throw Error(word + " goes down first");
        add({*at_[0], *at_[1], *at_[2]}, {*at_[0], *at_[1], *between}, true);
      }
    }
    at_[2].reset();
    return;
  }
  if (at_[2]) throw Error(word + " in X or Y while the tool is not up there too (Z first)");
  if (x) at_[0].reset();
  if (y) at_[1].reset();
}

void ProgramState::drill(const Block& block) {
  if (const auto l = block.word('L'); l && *l != 1) {
    if (!relative_ || !(*l >= 0) || *l > 10000) throw Error("L of a drilling cycle is read with G91 alone");
  }
  if (const auto r = block.word('R')) cycle_.r = *r * scale_;
  if (const auto z = block.word('Z')) cycle_.z = *z * scale_;
  cycle_.relative = relative_;
  if (!at_[0] || !at_[1] || !at_[2]) throw Error("a drilling cycle from a place that is not known");
  require_ready(true);
  const auto times = static_cast<int>(block.word('L').value_or(1));
  for (int k = 0; k < times; ++k) {
    const Vec2 place(target(block, 0).value_or(*at_[0]), target(block, 1).value_or(*at_[1]));
    Vec3 from(*at_[0], *at_[1], *at_[2]);
    for (const CycleMove& move : hole(cycle_, from, place)) {
      if (move.to != from) add(from, move.to, move.rapid);
      from = move.to;
    }
    at_ = {from.x(), from.y(), from.z()};
  }
}

void ProgramState::straight_or_round(const Block& block) {
  ArcWords arc;
  for (std::size_t k = 0; k < 3; ++k)
    if (const auto offset = block.word("IJK"[k])) arc.offset[k] = *offset * scale_;
  if (const auto radius = block.word('R')) arc.radius = *radius * scale_;
  const bool arc_words = arc.offset[0] || arc.offset[1] || arc.offset[2] || arc.radius;
  if (arc_words && motion_ != 2 && motion_ != 3) throw Error("I, J, K and R belong to arcs (G2, G3)");
  if (!arc_words && !block.word('X') && !block.word('Y') && !block.word('Z')) return;
  move_to({target(block, 0), target(block, 1), target(block, 2)}, arc);
}

void ProgramState::move_to(const std::array<std::optional<double>, 3>& given, const ArcWords& words) {
  if (motion_ < 0) throw Error("coordinates without G0, G1, G2 or G3");
  const bool z = given[2].has_value();
  require_ready(z);
  std::array<std::optional<double>, 3> to = at_;
  for (std::size_t k = 0; k < 3; ++k)
    if (given[k]) to[k] = *given[k];
  if (!at_[2]) {
    if (z && (given[0] || given[1]))
      throw Error(
          "the first move in Z after a tool change must not go in X or Y too: where it starts is not known");
    if (motion_ > 0)
      throw Error("the first moves after a tool change must be rapids: where they start is not known");
    if (z && (!to[0] || !to[1]))
      throw Error("the first move in Z after a tool change needs X and Y before it");
    if (z) {
      add({*to[0], *to[1], *to[2]}, {*to[0], *to[1], *to[2]}, true);
      program_.moves.back().after_change = true;
    }
  } else {
    const Vec3 start(*at_[0], *at_[1], *at_[2]), end(*to[0], *to[1], *to[2]);
    add(start, end, motion_ == 0);
    if (motion_ > 1) bend(program_.moves.back(), words);
    if (motion_ > 0) program_.moves.back().feed_mm_min = feed_of(program_.length_of(program_.moves.back()));
  }
  at_ = to;
}

double ProgramState::feed_of(double length_mm) const {
  if (feed_mode_ == FeedMode::a_turn) return feed_ * speed_;
  return feed_mode_ == FeedMode::inverse ? std::max(feed_ * length_mm, 1e-9) : feed_;
}

void ProgramState::add(const Vec3& from, const Vec3& to, bool rapid) {
  if (!named_) {
    // Tools are kept apart where nothing else is told.
    program_.operations.push_back({0, program_.tools.empty() ? std::string() : "T" + std::to_string(tool_)});
    named_ = true;
  }
  const auto operation = static_cast<std::int32_t>(program_.operations.size()) - 1;
  if (!rapid && (program_.spindle.empty() || program_.spindle.back().tool != tool_ ||
                 program_.spindle.back().rpm != speed_ || program_.spindle.back().coolant != coolant_))
    program_.spindle.push_back({line_, tool_, speed_, coolant_, program_.moves.size()});
  program_.moves.push_back({from, to, rapid ? 0.0 : feed_of((to - from).norm()), line_, tool_, operation});
}

void ProgramState::bend(ProgramMove& move, const ArcWords& words) {
  program_.arcs.push_back(arc_of(move.from, move.to, plane_, motion_ == 2, words));
  move.arc = static_cast<std::int32_t>(program_.arcs.size()) - 1;
}

}  // namespace yardpass::detail
