// A folder of a test's own, removed afterwards.
#pragma once

#include <gtest/gtest.h>
#include <unistd.h>

#include <filesystem>
#include <fstream>
#include <sstream>

namespace yardpass::testing {

class ScratchFolder : public ::testing::Test {
 protected:
  ScratchFolder() {
    const auto* info = ::testing::UnitTest::GetInstance()->current_test_info();
    folder_ =
        std::filesystem::temp_directory_path() / ("yardpass-" + std::string(info->test_suite_name()) + "-" +
                                                  info->name() + "-" + std::to_string(::getpid()));
    std::filesystem::create_directories(folder_);
  }
  ~ScratchFolder() override {
    std::error_code code;
    std::filesystem::remove_all(folder_, code);
  }
  [[nodiscard]] const std::filesystem::path& folder() const { return folder_; }

  static std::string contents(const std::filesystem::path& file) {
    std::ifstream in(file, std::ios::binary);
    std::ostringstream text;
    text << in.rdbuf();
    return text.str();
  }
  static void store(const std::filesystem::path& file, const std::string& text) {
    std::ofstream(file, std::ios::binary) << text;
  }

 private:
  std::filesystem::path folder_;
};

}  // namespace yardpass::testing
