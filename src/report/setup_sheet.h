// What the machine's operator needs on paper.
#pragma once

#include <string>
#include <utility>
#include <vector>

#include "report/tool_outline.h"
#include "yardpass/report/report.h"

namespace yardpass::detail {

struct SheetTool {
  std::string name;                ///< "T3 ball8"
  std::vector<std::string> words;  ///< shape, lengths, how far it sticks out
  std::vector<ToolPart> parts;
  double diameter_mm = 0, length_mm = 0;  ///< of the widest and of all that is drawn
};

struct SetupSheet {
  std::string title, verdict, mark;  ///< the mark goes over all of it, of what must not be cut
  bool clean = false;
  std::vector<std::pair<std::string, std::string>> facts;  ///< program, stock, origin, clamps
  std::vector<std::string> heads;                          ///< of the columns of the operations
  std::vector<std::vector<std::string>> operations;        ///< in the order of the program
  std::vector<SheetTool> tools;                            ///< those that it uses, in the order of their use
  std::vector<std::string> accepted;                       ///< findings that were accepted, with the reason
};
[[nodiscard]] SetupSheet setup_sheet(const Report& report);

/// For the page, seen only on paper; with two of its pictures.
[[nodiscard]] std::string sheet_html(const SetupSheet& sheet, const std::vector<Picture>& pictures);
/// On A4. Throws Error if it cannot be written.
void draw_sheet(const Report& report, const std::filesystem::path& file);

}  // namespace yardpass::detail
