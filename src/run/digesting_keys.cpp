#include "run/digesting_keys.h"

#include "run/fields.h"

namespace yardpass::detail {

template <typename... Values>
void DigestingKeys::note(const char* key, const Values&... values) {
  bytes_(std::string(key));
  (bytes_(values), ...);
}

void DigestingKeys::number(const char* key, double& value, const Derived& usual, const About& about) {
  inner_.number(key, value, usual, about);
  note(key, value);
}

void DigestingKeys::number(const char* key, std::optional<double>& value, const About& about) {
  inner_.number(key, value, about);
  note(key, value);
}

void DigestingKeys::whole(const char* key, int& value, int usual, const About& about) {
  inner_.whole(key, value, usual, about);
  note(key, value);
}

void DigestingKeys::flag(const char* key, bool& value, bool usual, const About& about) {
  inner_.flag(key, value, usual, about);
  note(key, value);
}

void DigestingKeys::text(const char* key, std::string& value, const About& about) {
  inner_.text(key, value, about);
  note(key, value);
}

void DigestingKeys::file(const char* key, std::filesystem::path& value, const About& about) {
  inner_.file(key, value, about);
  note(key, value.string());
}

void DigestingKeys::word(const char* key, std::size_t& value, std::span<const char* const> words,
                         std::size_t usual, const std::string& rule, const About& about) {
  inner_.word(key, value, words, usual, rule, about);
  note(key, value);
}

void DigestingKeys::word(const char* key, std::optional<std::size_t>& value,
                         std::span<const char* const> words, const About& about) {
  inner_.word(key, value, words, about);
  note(key, value);
}

void DigestingKeys::word_or_number(const char* key, std::optional<std::size_t>& word, double& number,
                                   std::span<const char* const> words, const About& about) {
  inner_.word_or_number(key, word, number, words, about);
  note(key, word, number);
}

void DigestingKeys::words(const char* key, std::vector<std::size_t>& value,
                          std::span<const char* const> words, const About& about) {
  inner_.words(key, value, words, about);
  note(key, value);
}

void DigestingKeys::name(const char* key, std::string& value, Named kind, const About& about) {
  inner_.name(key, value, kind, about);
  note(key, value);
}

void DigestingKeys::names(const char* key, std::vector<std::string>& value, Named kind, const About& about) {
  inner_.names(key, value, kind, about);
  note(key, value);
}

void DigestingKeys::area(const char* key, GivenArea& value, const About& about) {
  inner_.area(key, value, about);
  note(key, value);
}

void DigestingKeys::curves(const char* key, GivenCurves& value, const About& about) {
  inner_.curves(key, value, about);
  note(key, value);
}

void DigestingKeys::tool(const char* key, GivenTool& value, const About& about) {
  inner_.tool(key, value, about);
  note(key, value);
}

void DigestingKeys::loops(const char* key, std::optional<Region>& value, const About& about) {
  inner_.loops(key, value, about);
  note(key, value);
}

void DigestingKeys::corners(const char* key, std::optional<Corners>& value, const About& about) {
  inner_.corners(key, value, about);
  note(key, value);
}

void DigestingKeys::numbers(const char* key, std::vector<double>& value,
                            std::initializer_list<std::size_t> counts, const char* form, const About& about) {
  inner_.numbers(key, value, counts, form, about);
  note(key, value);
}

void DigestingKeys::counts(const char* key, std::vector<std::int64_t>& value, const About& about) {
  inner_.counts(key, value, about);
  note(key, value);
}

void DigestingKeys::places(const char* key, std::vector<std::vector<double>>& value, std::size_t count,
                           const About& about) {
  inner_.places(key, value, count, about);
  note(key, value);
}

void DigestingKeys::points(const char* key, std::vector<std::vector<double>>& value, std::size_t least,
                           const char* form, const About& about) {
  inner_.points(key, value, least, form, about);
  note(key, value);
}

void DigestingKeys::each(const char* key, const std::function<void(Keys& one)>& visit, const About& about) {
  note(key);
  inner_.each(
      key,
      [&](Keys& one) {
        DigestingKeys inside(one, bytes_);
        visit(inside);
      },
      about);
}

void DigestingKeys::table(const char* key, const std::function<void(Keys& keys)>& visit, const About& about) {
  note(key);
  inner_.table(
      key,
      [&](Keys& keys) {
        DigestingKeys inside(keys, bytes_);
        visit(inside);
      },
      about);
}

/// Whoever asks may decide by it.
bool DigestingKeys::says(const char* key) const {
  const bool said = inner_.says(key);
  bytes_(said);
  return said;
}

}  // namespace yardpass::detail
