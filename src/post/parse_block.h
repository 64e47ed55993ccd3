// One line of a program taken apart, before anybody knows what its words mean.
#pragma once

#include <array>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace yardpass::detail {

struct Block {
  std::vector<double> g, m;                       ///< codes in their order; 91.1 is a code of its own
  std::array<std::optional<double>, 26> words{};  ///< all other letters
  std::vector<std::string> comments;
  bool percent = false;
  bool marked = false;  ///< begins with "/"

  [[nodiscard]] std::optional<double> word(char letter) const {
    return words[static_cast<std::size_t>(letter - 'A')];
  }
  [[nodiscard]] bool has(double code) const;    ///< among G
  [[nodiscard]] bool has_m(double code) const;  ///< among M
  [[nodiscard]] bool empty() const;             ///< no words
};

/// Throws Error, without the line, at what is no word.
Block parse_block(std::string_view line);

/// "1.5", not "1.500000".
std::string code_text(double code);

}  // namespace yardpass::detail
