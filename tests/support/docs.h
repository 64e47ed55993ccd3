// Pages of the documentation, for tests that hold them to the code.
#pragma once

#include <filesystem>
#include <fstream>
#include <sstream>
#include <string>

namespace yardpass::testing {

inline std::string docs_page(const std::string& name) {
  std::ifstream in(std::filesystem::path(YARDPASS_SOURCE_FOLDER) / "docs" / name);
  std::ostringstream text;
  text << in.rdbuf();
  return text.str();
}

}  // namespace yardpass::testing
