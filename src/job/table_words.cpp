// Words, names, files and counts of a table.
#include <algorithm>

#include <fmt/format.h>

#include "job/old_words.h"
#include "job/table_keys.h"

namespace yardpass::detail {

namespace {

std::string kind_words(Named kind) {
  switch (kind) {
    case Named::regions:
      return "the region ";
    case Named::curves:
      return "the curve ";
    case Named::areas:
      return "the boundary or region ";
    default:
      return "";
  }
}

/// The values of a list, or of one value, that `take` takes; what is wrong it tells itself.
template <typename Value, typename Take>
std::vector<Value> one_or_list(const Given& node, const Take& take) {
  std::vector<Value> values;
  if (const GivenList* list = node.list()) {
    for (const Given& one : *list)
      if (auto value = take(one)) values.push_back(std::move(*value));
  } else if (auto value = take(node)) {
    values.push_back(std::move(*value));
  }
  return values;
}

}  // namespace

void TableKeys::counts(const char* key, std::vector<std::int64_t>& value, const About& about) {
  value.clear();
  const Given* node = asked(key, about);
  if (!node) return;
  value = one_or_list<std::int64_t>(*node, [&](const Given& one) -> std::optional<std::int64_t> {
    const auto number = one.whole();
    if (number && *number >= 1 && *number <= 1'000'000'000) return number;
    reader_.wrong(one, key, "must hold whole numbers from 1");
    return std::nullopt;
  });
  tell(key, words_of(fmt::format("{}", fmt::join(value, ", "))), "");
}

void TableKeys::flag(const char* key, bool& value, bool usual, const About& about) {
  value = usual;
  if (const Given* node = asked(key, about)) {
    if (const auto said = node->flag())
      value = *said;
    else
      reader_.wrong(*node, key, "must be true or false");
  }
  tell(key, words_of(value ? "yes" : "no"), "");
}

void TableKeys::text(const char* key, std::string& value, const About& about) {
  value.clear();
  if (const Given* node = asked(key, about)) {
    value = node->text().value_or("");
    if (value.empty()) reader_.wrong(*node, key, "must be a text in quotes, not empty");
  }
  if (!value.empty()) tell(key, words_of(value), "");
}

void TableKeys::file(const char* key, std::filesystem::path& value, const About& about) {
  value.clear();
  std::string name;
  text(key, name, about);
  if (name.empty()) return;
  value = context_.folder / name;
  std::error_code code;
  if (!std::filesystem::exists(value, code))
    mistake(key, fmt::format("names {}, which does not exist", value.string()));
  else if (!std::filesystem::is_regular_file(value, code))
    mistake(key, fmt::format("names {}, which is no file", value.string()));
}

void TableKeys::word(const char* key, std::optional<std::size_t>& value, std::span<const char* const> words,
                     const About& about) {
  value.reset();
  const std::vector<std::string> valid(words.begin(), words.end());
  if (about.required && !says(key)) {
    mistake(key, fmt::format("is missing; {}; valid: {}", about.says, listed(valid)));
    return;
  }
  const Given* node = asked(key, about);
  if (!node) return;
  const auto said = node->text();
  if (!said)
    return reader_.wrong(*node, key, fmt::format("must be a word in quotes; valid: {}", listed(valid)));
  const auto at = std::find(valid.begin(), valid.end(), *said);
  if (at == valid.end()) {
    const std::string now = new_word(key, *said);
    reader_.wrong(
        *node, key,
        fmt::format("is \"{}\", which is not known{}; valid: {}", *said,
                    now.empty() ? did_you_mean(*said, valid) : " any more (" + now + ")", listed(valid)));
    return;
  }
  value = static_cast<std::size_t>(at - valid.begin());
  tell(key, words_of(*at), "");
}

void TableKeys::word(const char* key, std::size_t& value, std::span<const char* const> words,
                     std::size_t usual, const std::string& rule, const About& about) {
  std::optional<std::size_t> said;
  word(key, said, words, about);
  value = said.value_or(usual);
  if (!said) tell(key, words_of(words[value]), rule);
}

void TableKeys::words(const char* key, std::vector<std::size_t>& value, std::span<const char* const> words,
                      const About& about) {
  value.clear();
  const Given* node = asked(key, about);
  if (!node) return;
  const std::vector<std::string> valid(words.begin(), words.end());
  value = one_or_list<std::size_t>(*node, [&](const Given& one) -> std::optional<std::size_t> {
    const auto said = one.text();
    const auto at = said ? std::find(valid.begin(), valid.end(), *said) : valid.end();
    if (at != valid.end()) return static_cast<std::size_t>(at - valid.begin());
    reader_.wrong(one, key,
                  said ? fmt::format("holds \"{}\", which is not known{}; valid: {}", *said,
                                     did_you_mean(*said, valid), listed(valid))
                       : fmt::format("must be a list of words; valid: {}", listed(valid)));
    return std::nullopt;
  });
  std::vector<std::string> said;
  for (const std::size_t i : value) said.push_back(valid[i]);
  tell(key, words_of(listed(said)), "");
}

void TableKeys::word_or_number(const char* key, std::optional<std::size_t>& word, double& number,
                               std::span<const char* const> words, const About& about) {
  word.reset();
  const std::vector<std::string> valid(words.begin(), words.end());
  if (!says(key)) {
    if (about.required) mistake(key, fmt::format("is missing; valid: {}, or a coordinate", listed(valid)));
    return;
  }
  const Given& node = *reader_.any(key);
  if (node.is_number()) {
    number = plain_number(node, key, about).value_or(number);
    return;
  }
  const auto said = node.text();
  const auto at = said ? std::find(valid.begin(), valid.end(), *said) : valid.end();
  if (at == valid.end())
    reader_.wrong(node, key,
                  fmt::format("must be one of {}, or a coordinate{}", listed(valid),
                              said ? did_you_mean(*said, valid) : ""));
  else
    word = static_cast<std::size_t>(at - valid.begin());
}

std::string TableKeys::known_name(const Given& node, const char* key, Named kind) {
  const auto name = node.text();
  if (!name || name->empty()) {
    reader_.wrong(node, key, "must be a name in quotes, or a list of names");
    return "";
  }
  if (kind == Named::anything) return *name;
  const std::vector<std::string>& known = context_.names[kind];
  context_.used.insert(use_of(kind, *name));
  if (std::find(known.begin(), known.end(), *name) == known.end())
    reader_.wrong(node, key, "names " + kind_words(kind) + not_defined(*name, known));
  return *name;
}

void TableKeys::name(const char* key, std::string& value, Named kind, const About& about) {
  value.clear();
  if (about.required && !says(key)) {
    const std::vector<std::string>& known = context_.names[kind];
    mistake(key,
            fmt::format("is missing; {}; there are: {}", about.says, known.empty() ? "none" : listed(known)));
    return;
  }
  const Given* node = asked(key, about);
  if (!node) return;
  if (node->list()) return reader_.wrong(*node, key, "must be one name in quotes, not a list");
  value = known_name(*node, key, kind);
  tell(key, words_of(value), "");
}

void TableKeys::names(const char* key, std::vector<std::string>& value, Named kind, const About& about) {
  value.clear();
  if (const Given* node = asked(key, about)) {
    value = one_or_list<std::string>(*node, [&](const Given& one) -> std::optional<std::string> {
      std::string name = known_name(one, key, kind);
      return name.empty() ? std::nullopt : std::optional(std::move(name));
    });
    if (node->list() && node->list()->empty())
      reader_.wrong(*node, key, "is an empty list; leave it out, or name something");
  }
  tell(key, words_of(value.empty() ? "none" : listed(value)), "");
}

}  // namespace yardpass::detail
