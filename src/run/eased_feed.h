// Slower feed where more of the cutter is in material than its limit.
#pragma once

#include "yardpass/path/toolpath.h"
#include "yardpass/stock/stock.h"

namespace yardpass::detail {

/// Cuts that meet more than the tool's widest engagement run slower, so that they take no more in a minute
/// than a cut at the limit would, but at least at a fifth of their feed. Long moves are parted where it
/// changes. Returns the length that runs slower [mm]. Nothing where the tool has no limit.
double ease_feed(Toolpath& path, Stock before);

}  // namespace yardpass::detail
