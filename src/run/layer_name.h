// What a layer of an operation is called while it is worked on.
#pragma once

#include <fmt/format.h>

#include "yardpass/run/settle.h"

namespace yardpass::detail {

/// `layer`: counted down to 1, the last one.
inline std::string layer_name(const Settled& settled, int layer) {
  const int layers = settled.values.layers;
  return layers == 1 ? settled.name
                     : fmt::format("{}, layer {} of {}", settled.name, layers + 1 - layer, layers);
}

}  // namespace yardpass::detail
