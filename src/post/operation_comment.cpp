#include "post/operation_comment.h"

#include <charconv>

namespace yardpass::detail {

std::string comment_text(const std::string& text) {
  std::string result;
  for (const char c : text) {
    const bool fine = (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9') ||
                      (c != '\0' && std::string_view(" .,:;-+/=_*#").find(c) != std::string_view::npos);
    result += fine ? c : '_';
  }
  return result.substr(0, 100);
}

std::string operation_comment(std::int32_t number, const std::string& name) {
  return comment_text("operation " + std::to_string(number) + ": " + name);
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
