// Places as the command line says them.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "yardpass/report/report.h"

namespace yardpass::app {

/// "X,Y" or "X,Y,Z". Throws Error if it is neither.
std::vector<double> place_of(const std::string& text);

/// "X,Y,X,Y" in the units of the job, in millimetres; nothing of an empty text. Throws Error if it is no
/// line, or if there is no folder to draw it into.
std::optional<SectionLine> section_of(const std::string& text, Units units, const std::string& out);

}  // namespace yardpass::app
