/// Toolpaths as cutter location data: the text records of ISO 4343, which any post processor can take.
#pragma once

#include <filesystem>
#include <string>
#include <string_view>

#include "yardpass/post/read_program.h"

namespace yardpass {

/// One record a line, in millimetres: PARTNO, UNITS/MM, of each operation PPRINT with its comment
/// ("operation 3: words"), of each tool LOADTL, SPINDL, COOLNT, of each feed FEDRAT, RAPID before a rapid,
/// GOTO for each place, FINI. Arcs become places so near that the lines between lie within `sagitta_mm` of
/// them. Throws Error unless that is above 0.
[[nodiscard]] std::string write_cl_data(const std::string& title, const Program& program,
                                        double sagitta_mm = 1e-3);

/// Reads such records, of whoever wrote them: PARTNO, PPRINT, REMARK, INSERT, UNITS, MACHIN, CUTTER,
/// TLAXIS/0,0,1, MULTAX/OFF, LOADTL, LOAD/TOOL, SPINDL, COOLNT, FEDRAT (MMPM, IPM, MMPR, IPR), RAPID, FROM,
/// GOTO, GODLTA, DELAY, STOP, OPSTOP, END, FINI; `$` at the end of a line goes on in the next, `$$` begins a
/// remark. Lengths before UNITS are millimetres. After a tool change the tip comes down over the first place.
/// Everything else is refused, for a record that was not understood may hide a move: cycles, circles, other
/// tool axes, macros. Throws Error with all that is wrong, one a line, like `read_program`.
[[nodiscard]] Program read_cl_data(std::string_view text, const std::string& name);

/// Whether a text is cutter location data, by its first record.
[[nodiscard]] bool is_cl_data(std::string_view text);

}  // namespace yardpass
