// Numbers as text of a page: small ones take little room.
#pragma once

#include <cstdint>
#include <string>
#include <string_view>

namespace yardpass::detail {

/// Whole numbers one behind the other, seven bits a byte, the sign in the lowest bit. Numbers that change
/// little from one to the next are given as differences.
class Packed {
 public:
  void add(std::int64_t value) {
    auto rest = (static_cast<std::uint64_t>(value) << 1) ^ static_cast<std::uint64_t>(value >> 63);
    for (; rest >= 128; rest >>= 7) bytes_.push_back(static_cast<char>(rest | 128));
    bytes_.push_back(static_cast<char>(rest));
  }
  [[nodiscard]] const std::string& bytes() const { return bytes_; }

 private:
  std::string bytes_;
};

/// A column of numbers as differences.
class PackedSteps {
 public:
  void add(std::int64_t value) { packed_.add(value - last_), last_ = value; }
  [[nodiscard]] const std::string& bytes() const { return packed_.bytes(); }

 private:
  Packed packed_;
  std::int64_t last_ = 0;
};

/// A column with long runs of one number: each number with how often it comes.
class PackedRuns {
 public:
  void add(std::int64_t value);
  /// Closes the last run; nothing can be added behind it.
  [[nodiscard]] const std::string& bytes();

 private:
  void close();
  Packed packed_;
  std::int64_t value_ = 0, count_ = 0;
};

/// RFC 4648.
[[nodiscard]] std::string base64(std::string_view bytes);

}  // namespace yardpass::detail
