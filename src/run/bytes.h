// Values as bytes and back, for fingerprints and for kept toolpaths: one list of fields for each type, which
// both directions follow. Bytes are those of this machine; they are not meant for others.
#pragma once

#include <bit>
#include <cstring>
#include <optional>
#include <string>
#include <string_view>
#include <type_traits>
#include <vector>

#include <Eigen/Core>

namespace yardpass::detail {

template <typename T>
concept Plain = std::is_arithmetic_v<T> || std::is_enum_v<T>;

class BytesOut {
 public:
  template <Plain T>
  void operator()(const T& value) {
    append(&value, sizeof value);
  }
  template <typename Number, int Count>
  void operator()(const Eigen::Matrix<Number, Count, 1>& vector) {
    append(vector.data(), sizeof(Number) * Count);
  }
  void operator()(const std::string& text) {
    (*this)(text.size());
    append(text.data(), text.size());
  }
  template <typename T>
  void operator()(const std::optional<T>& value) {
    (*this)(value.has_value());
    if (value) (*this)(*value);
  }
  template <typename T>
  void operator()(const std::vector<T>& list) {
    (*this)(list.size());
    for (const T& one : list) (*this)(one);
  }
  template <typename T, std::size_t Count>
  void operator()(const std::array<T, Count>& list) {
    for (const T& one : list) (*this)(one);
  }
  /// What has a list of fields; `fields` does not change what it writes.
  template <typename T>
  requires requires(BytesOut& io, T& value) { fields(io, value); }
  void operator()(const T& value) { fields(*this, const_cast<T&>(value)); }
  [[nodiscard]] std::string_view bytes() const { return bytes_; }

 private:
  void append(const void* data, std::size_t size) { bytes_.append(static_cast<const char*>(data), size); }
  std::string bytes_;
};

/// Reads what BytesOut wrote; where bytes are missing values stay as they were, and good() says so.
class BytesIn {
 public:
  explicit BytesIn(std::string_view bytes) : left_(bytes) {}

  template <Plain T>
  void operator()(T& value) {
    take(&value, sizeof value);
  }
  template <typename Number, int Count>
  void operator()(Eigen::Matrix<Number, Count, 1>& vector) {
    take(vector.data(), sizeof(Number) * Count);
  }
  void operator()(std::string& text) {
    const std::size_t size = count();
    text.assign(left_.substr(0, size));
    left_.remove_prefix(size);
  }
  template <typename T>
  void operator()(std::optional<T>& value) {
    bool there = false;
    (*this)(there);
    if (there)
      (*this)(value.emplace());
    else
      value.reset();
  }
  template <typename T>
  void operator()(std::vector<T>& list) {
    list.clear();
    const std::size_t size = count();
    for (std::size_t i = 0; i < size && good_; ++i) (*this)(list.emplace_back());
  }
  template <typename T, std::size_t Count>
  void operator()(std::array<T, Count>& list) {
    for (T& one : list) (*this)(one);
  }
  template <typename T>
  requires requires(BytesIn& io, T& value) { fields(io, value); }
  void operator()(T& value) { fields(*this, value); }
  [[nodiscard]] bool good() const { return good_; }
  [[nodiscard]] bool at_end() const { return left_.empty(); }

 private:
  void take(void* data, std::size_t size) {
    if (left_.size() < size) {
      good_ = false;
      left_ = {};
      return;
    }
    std::memcpy(data, left_.data(), size);
    left_.remove_prefix(size);
  }
  /// No list has more entries than there are bytes left for it.
  std::size_t count() {
    std::size_t size = 0;
    take(&size, sizeof size);
    if (size <= left_.size()) return size;
    good_ = false;
    left_ = {};
    return 0;
  }
  std::string_view left_;
  bool good_ = true;
};

}  // namespace yardpass::detail
