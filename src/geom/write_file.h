// Writing whole files, with the system's reason where that fails.
#pragma once

#include <filesystem>
#include <initializer_list>
#include <string_view>

namespace yardpass::detail {

/// Writes the pieces one behind the other as all that a file holds. Throws Error with the file and the reason
/// (no space left, no permission, ...).
void write_file(const std::filesystem::path& file, std::initializer_list<std::string_view> pieces);

/// Throws Error with the file and what the system says to an error number.
[[noreturn]] void cannot_write(const std::filesystem::path& file, int error_number);

}  // namespace yardpass::detail
