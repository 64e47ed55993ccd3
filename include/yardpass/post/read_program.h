/// G-code back to moves.
#pragma once

#include <cstdint>
#include <filesystem>
#include <string>
#include <string_view>
#include <vector>

#include "yardpass/geom/arc.h"
#include "yardpass/geom/error.h"
#include "yardpass/geom/vec.h"

namespace yardpass {

/// A move of the tip as the control would make it, in millimetres, program coordinates: straight, or along an
/// arc.
struct ProgramMove {
  Vec3 from, to;
  double feed_mm_min = 0;       ///< 0 for a rapid
  std::int32_t line = 0;        ///< in the file, from 1
  std::int32_t tool = 0;        ///< T number in the spindle
  std::int32_t operation = -1;  ///< index into Program::operations
  std::int32_t arc = -1;        ///< index into Program::arcs; -1: straight
  bool after_change = false;    ///< the way down after a tool change, see come_down_from
  [[nodiscard]] bool rapid() const { return feed_mm_min == 0; }
};

/// A stretch of a program, from a comment "(operation N: words)" to the next.
struct ProgramOperation {
  std::int32_t number = 0;  ///< of the operation in its job, from 1; 0: moves before any such comment
  std::string words = {};   ///< what the comment says behind the number, for people only
};

/// From this line on the tool cuts at this speed, with coolant (M7, M8) or without.
struct SpindleUse {
  std::int32_t line = 0, tool = 0;
  double rpm = 0;
  bool coolant = false;
  std::size_t first_move = 0;  ///< index into Program::moves of the first one that it cuts
  bool operator==(const SpindleUse&) const = default;
};

/// Something that is read, but not as every control would run it.
struct ProgramRemark {
  std::int32_t line = 0;  ///< the first one that it is about
  std::string says = {};
};

struct Program {
  std::vector<ProgramMove> moves;
  std::vector<Arc> arcs = {};
  std::vector<ProgramOperation> operations;   ///< in the order of the program; a number may come again
  std::vector<std::int32_t> tools;            ///< in order of their changes
  std::vector<std::int32_t> tool_lines = {};  ///< of their changes
  std::int32_t lines = 0;
  int work_offset = 54;                     ///< 54 to 59; 54 too where the program says nothing
  std::vector<SpindleUse> spindle = {};     ///< one for each change between cutting moves
  double dwell_s = 0;                       ///< all dwells (G4) together
  std::vector<ProgramRemark> remarks = {};  ///< in the order of their lines

  /// Nothing for a straight move.
  [[nodiscard]] const Arc* arc_of(const ProgramMove& move) const {
    return move.arc < 0 ? nullptr : &arcs[static_cast<std::size_t>(move.arc)];
  }
  [[nodiscard]] double length_of(const ProgramMove& move) const;
  /// Both ends, and of an arc as many places between as the sagitta asks for.
  [[nodiscard]] std::vector<Vec3> points_of(const ProgramMove& move, double sagitta_mm) const;
  /// Of each move what the spindle does: of one that cuts nothing, what the next cut wants, if that is of its
  /// tool. Nothing where a tool cuts nothing.
  [[nodiscard]] std::vector<const SpindleUse*> spindle_by_move() const;
  /// The number of the operation that a move belongs to.
  [[nodiscard]] std::int32_t number_of(const ProgramMove& move) const {
    return operations[static_cast<std::size_t>(move.operation)].number;
  }
  /// After a tool change the tip comes down to the first height that the program names, over the first place
  /// that it names: from here, or from there if that is higher.
  void come_down_from(double change_z);
};

/// Where a tool is taken to come down from when nobody knows better [mm].
inline constexpr double kChangeHeight = 1000;

struct ProgramReading {
  /// The length of a tool is said by G43 H; else the control sees to it, and moves in Z need no word for it.
  bool length_compensation = true;
  bool skip_marked = false;  ///< blocks that begin with "/" are skipped; else they are run
};

/// Reads RS-274 (ISO 6983) as controls run it, and as other posts write it:
///  - G0 G1 G2 G3 in G17 G18 G19, G20 G21, G90 G91, G93 G94 G95, G40, G43 H, G49, G54 to G59, G80; arcs have
///    their axis by I, J, K from the start (G91.1), or their radius by R; their ends may be 0.005 mm off the
///    circle;
///  - M2 M3 M5 M6 M7 M8 M9 M30; M0, M1, G4 (dwell), G61, G64 change no move;
///  - drilling cycles G73 G81 G82 G83 G85 G86 G89 with G98 and G99, taken apart into moves: what a peck takes
///    out again is left out;
///  - G28, and G53 to Z0, in Z alone: straight up to a height that is not known, from which it comes down as
///    after a tool change;
///  - subprograms of the same file: M98 P L, O, M99;
///  - O, N, comments in brackets and after a semicolon, "/" (see ProgramReading; a remark tells of it).
/// Where no comment names an operation ("(operation N: words)"), each tool change begins another of number 0.
/// Everything else is refused, for a word that was not understood may hide a move. So are a cutting move
/// without spindle or feed, a move in Z without the length compensation of its tool or a cutting move after
/// it was taken off (G49), a spindle at S0, a work offset that changes after the first move, an end mark (%)
/// in mid-program, two words of one kind in a block, a missing end. Throws Error with all that is wrong, one
/// a line, "NAME:LINE: what is wrong"; of mistakes of one kind the first three. `name` is only for that text.
[[nodiscard]] Program read_program(std::string_view text, const std::string& name,
                                   const ProgramReading& options = {});
[[nodiscard]] Program read_program_file(const std::filesystem::path& file,
                                        const ProgramReading& options = {});

}  // namespace yardpass
