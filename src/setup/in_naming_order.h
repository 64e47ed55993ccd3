// Things of a job that name each other, found one after the other so that each comes after those it names.
#pragma once

#include <algorithm>
#include <vector>

#include "job/table_reader.h"

namespace yardpass::detail {

/// Calls find(i) once for every thing; find may ask for others by `ask` before it is done. The file's check
/// of names has seen to it that none leads back to itself.
template <typename Said>
class InNamingOrder {
 public:
  InNamingOrder(const std::vector<Said>& said, std::function<void(std::size_t)> find)
      : said_(said), find_(std::move(find)), done_(said.size(), 0) {}

  void all() {
    for (std::size_t i = 0; i < said_.size(); ++i) one(i);
  }
  /// The index of the one of this name, which must be there, found by now.
  std::size_t named(const std::string& name) {
    const auto at = std::find_if(said_.begin(), said_.end(), [&](const Said& s) { return s.name == name; });
    const auto i = static_cast<std::size_t>(at - said_.begin());
    one(i);
    return i;
  }

 private:
  void one(std::size_t i) {
    if (done_[i]) return;
    done_[i] = 1;
    find_(i);
  }
  const std::vector<Said>& said_;
  std::function<void(std::size_t)> find_;
  std::vector<std::uint8_t> done_;
};

}  // namespace yardpass::detail
