#include "yardpass/report/keys_page.h"

#include <algorithm>

#include <fmt/format.h>

#include "yardpass/geom/text.h"

namespace yardpass {

namespace {

constexpr double kAnySize = 1e5;  // About's own range

std::string things_of(Named kind) {
  switch (kind) {
    case Named::regions:
      return "a region";
    case Named::curves:
      return "a curve";
    case Named::boundaries:
      return "a boundary";
    case Named::areas:
      return "a boundary or region";
    case Named::lids:
      return "a lid";
    case Named::run_outs:
      return "a run-out";
    case Named::carriers:
      return "a carrier";
    case Named::keep_away:
      return "a keep-away";
    case Named::operations:
      return "an operation";
    case Named::tools:
      return "a tool";
    case Named::anything:
      break;
  }
  return "";
}

std::string quoted_words(const std::vector<std::string>& words, const char* last = " or ") {
  std::string text;
  for (std::size_t i = 0; i < words.size(); ++i) {
    if (i > 0) text += i + 1 == words.size() ? last : ", ";
    text += fmt::format("`\"{}\"`", words[i]);
  }
  return text;
}

std::string range_words(const About& about) {
  const bool low = about.low > -kAnySize, high = about.high < kAnySize && about.high != 1e4;
  if (low && high)
    return about.above_low ? fmt::format("above {} to {}", short_number(about.low), short_number(about.high))
                           : fmt::format("{} to {}", short_number(about.low), short_number(about.high));
  if (low) return fmt::format("{} {}", about.above_low ? "above" : "at least", short_number(about.low));
  return high ? "at most " + short_number(about.high) : "";
}

std::string joined(std::initializer_list<std::string> parts) {
  std::string text;
  for (const std::string& part : parts)
    if (!part.empty()) text += (text.empty() ? "" : ", ") + part;
  return text;
}

std::string counted(const KeyInfo& key, const char* thing) {
  std::string text;
  const bool row = key.counts.size() > 3 && key.counts.back() - key.counts.front() + 1 == key.counts.size();
  if (row) return fmt::format("{} to {} {}s", key.counts.front(), key.counts.back(), thing);
  for (const std::size_t count : key.counts) text += (text.empty() ? "" : " or ") + std::to_string(count);
  return text + (text == "1" ? fmt::format(" {}", thing) : fmt::format(" {}s", thing));
}

std::string number_words(const KeyInfo& key) {
  std::string unit = name_of(key.about.unit);
  if (unit.empty()) unit = "number";
  return joined({unit, range_words(key.about), key.about.of_tool ? "or a share of the tool" : ""});
}

}  // namespace

std::string takes_words(const KeyInfo& key) {
  switch (key.form) {
    case KeyForm::number:
      return number_words(key);
    case KeyForm::whole:
      return joined({"whole number", range_words(key.about)});
    case KeyForm::flag:
      return "`true` or `false`";
    case KeyForm::word:
      return quoted_words(key.words);
    case KeyForm::word_or_number:
      return quoted_words(key.words) + ", or a coordinate";
    case KeyForm::words:
      return "list of some of " + quoted_words(key.words, " and ");
    case KeyForm::name:
      return key.kind == Named::anything ? "a name" : "name of " + things_of(key.kind);
    case KeyForm::names:
      return key.kind == Named::anything ? "text, or a list of texts"
                                         : fmt::format("name of {}, or a list", things_of(key.kind));
    case KeyForm::area:
      return "a name, or points";
    case KeyForm::numbers:
      return joined({counted(key, "number"), name_of(key.about.unit), range_words(key.about)});
    case KeyForm::places:
      return key.counts.empty() ? "a place, or a list of places" : counted(key, "place");
    case KeyForm::points:
      return "list of points";
    default:
      return name_of(key.form);
  }
}

namespace {

std::string meaning_of(const KeyInfo& key) {
  std::string text = key.about.says;
  if (*key.about.belongs_to != '\0') text += fmt::format(" (beside `{}`)", key.about.belongs_to);
  return text;
}
std::string default_of(const KeyInfo& key) { return key.about.required ? "required" : key.about.usual; }

void add_rows(const std::vector<KeyInfo>& keys, const std::string& inside, std::vector<std::string>& rows) {
  for (const KeyInfo& key : keys) {
    const std::string name = inside + "`" + key.key + "`";
    rows.push_back(
        fmt::format("| {} | {} | {} | {} |", name, takes_words(key), meaning_of(key), default_of(key)));
    add_rows(key.inner, name + " ", rows);
  }
}

std::string without_ticks(std::string text) {
  std::erase(text, '`');
  return text;
}

/// Lines of at most so many characters, broken at blanks.
std::string wrapped(const std::string& text, std::size_t indent, std::size_t width) {
  std::string result, line;
  const auto finish = [&] {
    if (!line.empty()) result += std::string(indent, ' ') + line + "\n";
    line.clear();
  };
  for (std::size_t at = 0; at < text.size();) {
    const std::size_t end = std::min(text.find(' ', at), text.size());
    const std::string word = text.substr(at, end - at);
    if (indent + line.size() + 1 + word.size() > width) finish();
    line += (line.empty() ? "" : " ") + word;
    at = end + 1;
  }
  finish();
  return result;
}

void add_text(const std::vector<KeyInfo>& keys, std::size_t indent, std::string& text) {
  for (const KeyInfo& key : keys) {
    const std::string head = std::string(indent, ' ') + key.key;
    text += head + std::string(head.size() < 20 ? 20 - head.size() : 2, ' ') +
            without_ticks(takes_words(key)) + "\n";
    text += wrapped(without_ticks(meaning_of(key)), 20, 110);
    const std::string usual = without_ticks(default_of(key));
    if (!usual.empty()) text += wrapped(key.about.required ? usual : "default: " + usual, 20, 110);
    add_text(key.inner, indent + 2, text);
  }
}

std::string one_of_words(const std::vector<std::string>& keys, bool markdown) {
  std::string text;
  for (const std::string& key : keys) text += (text.empty() ? "" : ", ") + (markdown ? "`" + key + "`" : key);
  return "one of: " + text;
}

std::string page_of(const KeyTable& table, bool markdown) {
  std::string text;
  if (markdown) {
    text = fmt::format("### {}\n\n{}\n\n| key | takes | meaning | default |\n|---|---|---|---|\n",
                       table.strategy || table.heading.empty() ? table.name : "`" + table.heading + "`",
                       table.says);
    for (const std::string& row : markdown_rows(table)) text += row + "\n";
    for (const auto& keys : table.one_of) text += "\n" + one_of_words(keys, true) + "\n";
    return text;
  }
  text = fmt::format("{}{}: {}\n\n", table.name,
                     table.strategy          ? ""
                     : table.heading.empty() ? ""
                                             : ", " + table.heading,
                     table.says);
  add_text(table.keys, 2, text);
  for (const auto& keys : table.one_of) text += "\n" + wrapped(one_of_words(keys, false), 2, 110);
  return text;
}

}  // namespace

std::vector<std::string> markdown_rows(const KeyTable& table) {
  std::vector<std::string> rows;
  add_rows(table.keys, "", rows);
  return rows;
}

std::vector<std::string> key_table_names() {
  std::vector<std::string> names;
  for (const KeyTable& table : all_key_tables()) names.push_back(table.name);
  return names;
}

std::optional<std::string> keys_page(const std::string& name, bool markdown) {
  std::string text;
  for (const KeyTable& table : all_key_tables())
    if (name.empty() || table.name == name) text += (text.empty() ? "" : "\n") + page_of(table, markdown);
  return text.empty() ? std::nullopt : std::optional(text);
}

}  // namespace yardpass
