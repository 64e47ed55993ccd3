// A program just as the controller says, comments or not.
#pragma once

#include "yardpass/post/write_program.h"

namespace yardpass::detail {

PostedProgram written(const std::string& title, std::span<const OperationPath> operations,
                      const Controller& controller);

}  // namespace yardpass::detail
