// How a program says which operation its moves belong to: "(operation 3: finish the blade)". The number
// decides, the words are for people.
#pragma once

#include <optional>
#include <string>
#include <string_view>

#include "yardpass/post/controller.h"
#include "yardpass/post/read_program.h"

namespace yardpass::detail {

/// The text of a comment, without its brackets: letters, digits and the signs that the controller takes, no
/// more than it takes.
std::string comment_text(const std::string& text, const Controller& controller);

/// Without brackets. Its number is never cut off.
std::string operation_comment(std::int32_t number, const std::string& name, const Controller& controller);

/// Nothing if the comment says something else. Small and capital letters are the same.
std::optional<ProgramOperation> operation_of(std::string_view comment);

}  // namespace yardpass::detail
