// All that is wrong with a program, told at once.
#pragma once

#include <cstdint>
#include <map>
#include <string>
#include <vector>

namespace yardpass::detail {

class Problems {
 public:
  explicit Problems(std::string name) : name_(std::move(name)) {}

  /// Of one kind (the same words but for numbers) the first three are kept, the others counted.
  void add(std::int32_t line, const std::string& what);
  [[nodiscard]] bool none() const { return found_.empty(); }
  /// Throws Error if there are any, in the order of their lines.
  void refuse() const;

 private:
  struct Found {
    std::int32_t line;
    std::string what;
    std::int64_t more = 0;  // of its kind, not kept
  };
  std::string name_;
  std::vector<Found> found_;
  std::map<std::string, std::vector<std::size_t>> by_kind_;
};

}  // namespace yardpass::detail
