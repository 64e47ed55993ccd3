/// Toolpaths to G-code.
#pragma once

#include <span>
#include <vector>

#include "yardpass/link/toolpath.h"
#include "yardpass/post/controller.h"
#include "yardpass/tool/tool.h"

namespace yardpass {

struct OperationPath {
  std::string name;
  std::string strategy;
  const Tool* tool = nullptr;
  const Toolpath* path = nullptr;
};

struct PostedProgram {
  std::string text;
  /// What each line moves for, one entry a line of the text (the first at index 0); `rapid` for lines without
  /// motion.
  std::vector<MoveKind> kinds;
};

/// RS-274 (ISO 6983) in millimetres, absolute, modal: a word is written only when its value changes. Header,
/// then for each operation a comment with its name, a tool change if the tool is another one, spindle, length
/// compensation, coolant, moves; at the end coolant and spindle off and M30. Only letters, digits and plain
/// signs of the title and names reach the comments. Operations without moves are left out. REQUIRES: tools
/// with number, spindle speed and feeds above 0. Throws Error naming the tool otherwise.
[[nodiscard]] PostedProgram write_program(const std::string& title, std::span<const OperationPath> operations,
                                          const Controller& controller = {});

}  // namespace yardpass
