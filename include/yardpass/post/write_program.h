/// Toolpaths to G-code.
#pragma once

#include <span>
#include <string>
#include <vector>

#include "yardpass/path/toolpath.h"
#include "yardpass/post/controller.h"

namespace yardpass {

struct OperationPath {
  std::int32_t number =
      1;             ///< by which the operation is known in program, findings and report; REQUIRES: above 0
  std::string name;  ///< any bytes, any length: for people
  const Toolpath* path = nullptr;
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

/// RS-274 (ISO 6983) in millimetres, absolute, modal: a word is written only when its value changes. Header,
/// then for each operation a comment with its number and name, a tool change if the tool is another one,
/// spindle, length compensation, coolant, moves; at the end coolant and spindle off and M30. Only letters,
/// digits and plain signs of the title and names reach the comments. Operations without moves are left out.
/// Throws Error if a tool lacks number, spindle speed or feeds, if two tools share a number, if an operation
/// has no number, or if a path was planned for more decimals than the controller writes.
[[nodiscard]] PostedProgram write_program(const std::string& title, std::span<const OperationPath> operations,
                                          const Controller& controller = {});

}  // namespace yardpass
