/// Toolpaths to G-code.
#pragma once

#include <span>
#include <string>
#include <vector>

#include "yardpass/path/toolpath.h"
#include "yardpass/post/controller.h"

namespace yardpass {

struct OperationPath {
  /// By which the operation is known in program, findings and report; 0: the program says none. REQUIRES:
  /// at least 0
  std::int32_t number = 1;
  std::string name;  ///< any bytes, any length: for people
  const Toolpath* path = nullptr;
  double tolerance_mm = 0;  ///< for a controller that says it; 0: not said
};

/// What a line of a program is for.
struct LineOrigin {
  std::int32_t operation = -1;  ///< index into the operations posted; -1: none
  std::int32_t move = -1;       ///< index into Toolpath::moves; -1: none
};

struct PostedProgram {
  std::string text;
  std::vector<LineOrigin> origin;  ///< one entry a line of the text, the first at index 0
};

/// RS-274 (ISO 6983), absolute, as the controller wants it. Header, then for each operation a comment with
/// its number and name, a tool change if the tool is another one, spindle, length compensation, coolant,
/// moves; at the end coolant and spindle off and M30. Only letters, digits and plain signs of the title and
/// names reach the comments. Operations without moves are left out. All in one file, with comments, whatever
/// the controller says of files: see `program_files`.
/// Throws Error if a tool lacks number, spindle speed or feeds, if its speed is beyond the control's, if two
/// tools share a number, if an operation's number is below 0, if a path was planned for more decimals than
/// the controller writes, or if an arc is not as it will be read back.
[[nodiscard]] PostedProgram write_program(const std::string& title, std::span<const OperationPath> operations,
                                          const Controller& controller = {});

struct ProgramFile {
  std::string name;  ///< "program-2.nc"
  std::string text;
  double seconds = 0;  ///< without tool changes; 0 if nobody said how long moves take
  double feed_mm = 0;  ///< way at feed
};

/// How much one file may do; 0: any amount.
struct FileLimits {
  double most_s = 0, most_feed_mm = 0;
  /// Of each move of each operation.
  std::vector<std::vector<double>> seconds = {};
  [[nodiscard]] bool any() const { return most_s > 0 || most_feed_mm > 0; }
};

/// The same moves in several files, or without comments, if the controller or the limits ask for that; empty
/// if the program is to be one file as `write_program` makes it. Files end and begin on the clearance plane,
/// each with a tool change; one that holds nothing between two places where it could be divided may be beyond
/// the limits. Throws Error like `write_program`, and if one has more blocks than the controller takes
/// between two such places.
[[nodiscard]] std::vector<ProgramFile> program_files(const std::string& title,
                                                     std::span<const OperationPath> operations,
                                                     const Controller& controller,
                                                     const FileLimits& limits = {});

}  // namespace yardpass
