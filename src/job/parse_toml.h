// Text files to tables of given values.
#pragma once

#include <filesystem>

#include "job/table_reader.h"

namespace yardpass::detail {

/// A TOML file, keys in its order. Throws Error if it cannot be opened; what is no TOML goes to `mistakes`,
/// and nothing is returned.
std::optional<GivenTable> parse_toml_file(const std::filesystem::path& file, Mistakes& mistakes);

}  // namespace yardpass::detail
