#include "post/own_lines.h"

#include <algorithm>

#include "yardpass/geom/error.h"

namespace yardpass::detail {

std::string filled_in(const std::string& line, const Known& known) {
  std::string result;
  for (std::size_t i = 0; i < line.size();) {
    if (line[i] != '{') {
      result += line[i++];
      continue;
    }
    const std::size_t close = line.find('}', i);
    const std::string name = close == std::string::npos ? "" : line.substr(i + 1, close - i - 1);
    const auto found =
        std::find_if(known.begin(), known.end(), [&](const auto& one) { return one.first == name; });
    if (found == known.end()) {
      std::string valid;
      for (const auto& one : known) valid += (valid.empty() ? "{" : ", {") + one.first + "}";
      throw Error("the line \"" + line + "\" has a placeholder that is not known there; valid are " + valid);
    }
    result += found->second;
    i = close + 1;
  }
  return result;
}

}  // namespace yardpass::detail
