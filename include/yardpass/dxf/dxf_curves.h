/// DXF in and out. A target of its own (yardpass::dxf), since the DXF library that does the work is under the
/// GPL: a program that links this target comes under it too, all other targets do not.
#pragma once

#include "yardpass/curve/read_curves.h"

namespace yardpass {

/// Reads an ASCII DXF file: lines, polylines (with arcs), arcs, circles, ellipses, splines by control points,
/// and blocks where they are inserted. Layer and colour (of the entity, else of its layer) are kept; the name
/// is that of the inserted block. All else (dimensions, hatches, ...) is passed over with a note. Unit:
/// that of $INSUNITS, else mm. TEXT and MTEXT become strokes (see yardpass/lettering), as large and turned as
/// they are drawn; accents and letters that are missing are told. Formats within an MTEXT are left out.
/// Throws Error with file and line as read_curves() does.
[[nodiscard]] CurveFile read_dxf_curves(const std::filesystem::path& file,
                                        const CurveReadOptions& options = {});

/// The same from memory; `name` appears in messages.
[[nodiscard]] CurveFile read_dxf_bytes(std::string_view bytes, const std::string& name,
                                       const CurveReadOptions& options = {});

/// 3D polylines in mm, by layer. Names and colours outside DXF's 255 are lost. Throws Error if the file
/// cannot be written.
void write_dxf_curves(const std::filesystem::path& file, const std::vector<Curve>& curves);

}  // namespace yardpass
