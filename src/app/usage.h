// Mistakes of the command line, told with the nearest word that there is.
#pragma once

#include <optional>
#include <string>
#include <vector>

namespace CLI {
class App;
}

namespace yardpass::app {

/// What is wrong with the verb or an option, if something is.
std::optional<std::string> usage_mistake(CLI::App& program, const std::vector<std::string>& arguments);

}  // namespace yardpass::app
