/// How a machine's control wants its programs.
#pragma once

#include <array>
#include <limits>
#include <string>
#include <vector>

#include "yardpass/geom/posted.h"

namespace yardpass {

/// In the lines of one's own `{title}`, `{date}`, `{program}` (its number), `{tool}` (T number), `{spindle}`,
/// `{operation}` (number) and `{tolerance}` stand for what they name, as far as it is known there.
struct Controller {
  bool inches = false;              ///< G20 and inches; else G21 and millimetres
  int decimals = 3;                 ///< of X, Y, Z
  std::string work_offset = "G54";  ///< G54 to G59
  bool modal = true;                ///< words are written only when their value changes
  int line_numbers = 0;             ///< N words in steps of this; 0: none
  bool inverse_time = false;        ///< feeds as moves a minute (G93)
  /// Arcs that it takes in the planes XY, ZX, YZ (G17, G18, G19). None is ever longer than half a turn.
  std::array<bool, 3> arc_planes = {true, true, true};
  bool arcs_by_radius = false;      ///< R; else I, J, K from the start to the axis
  bool length_compensation = true;  ///< G43 with the number of the tool; else the control sees to it itself
  std::string coolant_on = "M8", coolant_off = "M9";
  double least_rpm = 0, most_rpm = std::numeric_limits<double>::infinity();

  std::vector<std::string> first_lines = {};              ///< after its own first lines
  std::vector<std::string> last_lines = {};               ///< before the end (M30)
  std::vector<std::string> tool_change = {"T{tool} M6"};  ///< before each tool
  std::string path_tolerance = {};  ///< at the start of each operation: "G64 P{tolerance}"
  enum class Stops : std::uint8_t { never, before_tools, before_operations };
  Stops optional_stops = Stops::never;  ///< M1

  enum class Comments : std::uint8_t { brackets, semicolon, none };
  Comments comments = Comments::brackets;
  bool capitals = false;                       ///< comments in capital letters
  std::string comment_signs = " .,:;-+/=_*#";  ///< besides letters and digits; others become "_"
  int comment_length = 100;
  int program_number = 0;  ///< O word; 0: none

  enum class Files : std::uint8_t { one, each_tool, each_operation };
  Files files = Files::one;
  int most_blocks = 0;  ///< of one file, if it can be divided on the clearance plane; 0: any number

  bool dog_leg_rapids = false;  ///< each axis runs on its own in rapids; else they run straight
  bool title = false;           ///< the program's head says the job's title
  std::string date = {};        ///< said there too, unless it is empty
};

/// How it writes coordinates and arcs.
[[nodiscard]] PostedForm posted_form(const Controller& controller);

/// How far rounding to the posted decimals can move a point in space [mm]. Plan with the tool thicker by
/// this, and the posted moves are as free as the planned ones.
[[nodiscard]] double rounding_reserve(const Controller& controller);

/// Writes and reads back a small program of every kind of word. Throws Error, with what is wrong, if a line
/// of the controller's own is not read, or if placeholders are not known.
void try_out(const Controller& controller);

}  // namespace yardpass
