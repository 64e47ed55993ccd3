#include "app/operation_words.h"

#include <charconv>
#include <vector>

#include <fmt/format.h>

#include "yardpass/geom/text.h"

namespace yardpass::app {

std::int32_t operation_number(const Job& job, const std::string& words) {
  for (const OperationJob& operation : job.operations)
    if (operation.name == words) return operation.number;
  std::int32_t number = 0;
  const auto [end, code] = std::from_chars(words.data(), words.data() + words.size(), number);
  const bool whole = code == std::errc() && end == words.data() + words.size();
  return whole && job.operation_numbered(number) ? number : 0;
}

std::string operations_of(const Job& job) {
  std::vector<std::string> there;
  for (const OperationJob& one : job.operations)
    there.push_back(fmt::format("{} \"{}\"", one.number, one_line(one.name)));
  return fmt::format("{}", fmt::join(there, ", "));
}

}  // namespace yardpass::app
