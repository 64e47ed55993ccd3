#include "post/operation_comment.h"

#include <algorithm>
#include <charconv>

namespace yardpass::detail {

std::string comment_text(const std::string& text, const Controller& controller) {
  std::string result;
  for (const char c : text) {
    const bool fine = (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9') ||
                      (c != '\0' && controller.comment_signs.find(c) != std::string::npos);
    const bool small = c >= 'a' && c <= 'z';
    result += !fine ? '_' : small && controller.capitals ? static_cast<char>(c - 'a' + 'A') : c;
  }
  return result.substr(0, static_cast<std::size_t>(controller.comment_length));
}

std::string operation_comment(std::int32_t number, const std::string& name, const Controller& controller) {
  const std::string words = comment_text("operation", controller) + " " + std::to_string(number);
  if (controller.comment_signs.find(':') == std::string::npos) return words;  // no name without its colon
  const std::string text = words + ": " + comment_text(name, controller);
  return text.substr(0, std::max(static_cast<std::size_t>(controller.comment_length), words.size()));
}

std::optional<ProgramOperation> operation_of(std::string_view comment) {
  const auto skip_blanks = [&] {
    while (!comment.empty() && (comment.front() == ' ' || comment.front() == '\t')) comment.remove_prefix(1);
  };
  skip_blanks();
  constexpr std::string_view word = "operation";
  if (comment.size() < word.size()) return std::nullopt;
  for (std::size_t i = 0; i < word.size(); ++i) {
    const char c = comment[i];
    if ((c >= 'A' && c <= 'Z' ? static_cast<char>(c - 'A' + 'a') : c) != word[i]) return std::nullopt;
  }
  comment.remove_prefix(word.size());
  skip_blanks();
  ProgramOperation operation;
  const auto [end, code] = std::from_chars(comment.data(), comment.data() + comment.size(), operation.number);
  if (code != std::errc() || operation.number <= 0) return std::nullopt;
  comment.remove_prefix(static_cast<std::size_t>(end - comment.data()));
  skip_blanks();
  if (comment.empty()) return operation;
  if (comment.front() != ':') return std::nullopt;
  comment.remove_prefix(1);
  skip_blanks();
  while (!comment.empty() && (comment.back() == ' ' || comment.back() == '\r')) comment.remove_suffix(1);
  operation.words = comment;
  return operation;
}

}  // namespace yardpass::detail
