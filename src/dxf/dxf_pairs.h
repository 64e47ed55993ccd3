// The pairs of lines that a DXF file consists of: checked, and thinned out to what is read.
#pragma once

#include <map>
#include <string>

#include "part/mesh_source.h"

namespace yardpass::detail {

/// Checks every pair of a DXF text (group code and value) and keeps those of sections, layers, blocks and the
/// kinds of curves that are read. Throws Error with the line of the first pair that is damaged.
struct DxfPairs {
  DxfPairs(const MeshSource& source, bool with_texts);
  std::string kept;                                 ///< DXF text
  std::map<std::string, std::int64_t> passed_over;  ///< entities by kind
  std::int64_t on_paper = 0;                        ///< entities in paper space
};

}  // namespace yardpass::detail
