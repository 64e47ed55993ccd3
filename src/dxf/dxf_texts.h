// Texts of a DXF file as strokes.
#pragma once

#include <map>
#include <string>
#include <vector>

#include <dxflib/dl_entities.h>

#include "yardpass/curve/curve.h"

namespace yardpass::detail {

/// What was written otherwise or left out, and how often.
using TextNotes = std::map<std::string, std::int64_t>;

/// Strokes in the drawing's units; `plane`: of the entity, see drawing_plane(). Names and layers stay empty.
[[nodiscard]] std::vector<Curve> strokes_of(const DL_TextData& text, const Eigen::Matrix3d& plane,
                                            TextNotes& notes);
[[nodiscard]] std::vector<Curve> strokes_of(const DL_MTextData& text, const Eigen::Matrix3d& plane,
                                            TextNotes& notes);

/// Text as it reads: without formats, with the signs that codes stand for.
[[nodiscard]] std::string plain_text(const std::string& written);

}  // namespace yardpass::detail
