#include "app/usage.h"

#include <fmt/format.h>
#include <CLI/App.hpp>

#include "job/table_reader.h"

namespace yardpass::app {

namespace {

std::string unknown(const char* kind, const std::string& word, const std::vector<std::string>& valid) {
  return fmt::format("there is no {} \"{}\"{}; there are: {}", kind, word, detail::did_you_mean(word, valid),
                     detail::listed(valid));
}

std::vector<std::string> options_of(CLI::App& app) {
  std::vector<std::string> names;
  for (const CLI::Option* option : app.get_options())
    for (const std::string& name : option->get_lnames()) names.push_back("--" + name);
  return names;
}

}  // namespace

std::optional<std::string> usage_mistake(CLI::App& program, const std::vector<std::string>& arguments) {
  if (arguments.empty()) return std::nullopt;
  std::vector<std::string> verbs;
  for (const CLI::App* verb : program.get_subcommands({})) verbs.push_back(verb->get_name());
  CLI::App* at = &program;
  std::size_t first = 0;
  if (arguments[0].rfind('-', 0) != 0) {
    if (std::find(verbs.begin(), verbs.end(), arguments[0]) == verbs.end())
      return unknown("verb", arguments[0], verbs);
    at = program.get_subcommand(arguments[0]);
    first = 1;
  }
  const std::vector<std::string> options = options_of(*at);
  for (std::size_t i = first; i < arguments.size(); ++i) {
    const std::string word = arguments[i].substr(0, arguments[i].find('='));
    if (word == "--") break;
    if (word.rfind("--", 0) == 0 && std::find(options.begin(), options.end(), word) == options.end())
      return unknown("option", word, options);
  }
  return std::nullopt;
}

}  // namespace yardpass::app
