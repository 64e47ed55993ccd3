#include "geom/write_file.h"

#include <cerrno>
#include <cstdio>
#include <memory>
#include <system_error>

#include "yardpass/geom/error.h"

namespace yardpass::detail {

void cannot_write(const std::filesystem::path& file, int error_number) {
  throw Error(file.string() + ": cannot be written: " + std::generic_category().message(error_number));
}

void write_file(const std::filesystem::path& file, std::initializer_list<std::string_view> pieces) {
  const auto close = [](std::FILE* one) { return std::fclose(one); };
  std::unique_ptr<std::FILE, decltype(close)> out(std::fopen(file.c_str(), "wb"), close);
  if (!out) cannot_write(file, errno);
  for (const std::string_view piece : pieces)
    if (std::fwrite(piece.data(), 1, piece.size(), out.get()) != piece.size()) cannot_write(file, errno);
  // What is left in the buffer is written now, and may fail then.
  if (std::fclose(out.release()) != 0) cannot_write(file, errno);
}

}  // namespace yardpass::detail
