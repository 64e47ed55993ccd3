// Lines that a controller has of its own, with placeholders.
#pragma once

#include <string>
#include <utility>
#include <vector>

namespace yardpass::detail {

using Known = std::vector<std::pair<std::string, std::string>>;  ///< placeholder without braces, its text

/// Throws Error at a placeholder that is not known.
std::string filled_in(const std::string& line, const Known& known);

}  // namespace yardpass::detail
