// Hashes for fingerprints.
#pragma once

#include <string_view>

#include "run/bytes.h"
#include "yardpass/run/plan.h"

namespace yardpass::detail {

[[nodiscard]] Fingerprint hash_of(std::string_view bytes);

/// Of this program and the libraries that are loaded with it, by the marks that the linker gave each; another
/// one every time where one of them has none.
[[nodiscard]] Fingerprint of_this_program();

}  // namespace yardpass::detail
