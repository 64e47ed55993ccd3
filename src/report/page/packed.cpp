#include "report/page/packed.h"

namespace yardpass::detail {

void PackedRuns::add(std::int64_t value) {
  if (count_ > 0 && value != value_) close();
  value_ = value, ++count_;
}

void PackedRuns::close() {
  if (count_ > 0) packed_.add(value_), packed_.add(count_);
  count_ = 0;
}

const std::string& PackedRuns::bytes() {
  close();
  return packed_.bytes();
}

std::string base64(std::string_view bytes) {
  constexpr std::string_view kLetters = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";
  std::string text;
  text.reserve((bytes.size() + 2) / 3 * 4);
  for (std::size_t i = 0; i < bytes.size(); i += 3) {
    unsigned group = 0;
    for (std::size_t k = 0; k < 3; ++k)
      group = group << 8 | (i + k < bytes.size() ? static_cast<unsigned char>(bytes[i + k]) : 0u);
    for (std::size_t k = 0; k < 4; ++k)
      text += i + k > bytes.size() ? '=' : kLetters[group >> (18 - 6 * k) & 63];
  }
  return text;
}

}  // namespace yardpass::detail
