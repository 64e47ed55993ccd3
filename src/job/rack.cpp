#include "yardpass/job/rack.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>

#include <fmt/format.h>

#include "job/parse_toml.h"
#include "job/table_keys.h"
#include "yardpass/geom/error.h"

namespace yardpass {

namespace {

using detail::KeyContext;
using detail::Mistakes;
using detail::TableKeys;
using detail::TableReader;

RackTool tool_of(const std::string& name, const GivenTable& table, KeyContext& context, Mistakes& mistakes) {
  TableReader reader(table, fmt::format("tool \"{}\"", name), mistakes);
  TableKeys keys(reader, context);
  Tool tool;
  tool.name = name;
  keys_of(tool, keys);
  reader.finish();
  if (!mistakes.none()) return {tool, table};
  try {
    return {completed(tool), table};
  } catch (const Error& error) {
    mistakes.add(table.line(), fmt::format("tool \"{}\": {}", name, error.what()));
    return {tool, table};
  }
}

std::string number_words(double value) {
  std::array<char, 64> text{};
  const auto [end, code] = std::to_chars(text.data(), text.data() + text.size(), value);
  return {text.data(), end};
}

std::string toml_of(const Given& value) {
  if (const auto flag = value.flag()) return *flag ? "true" : "false";
  if (const auto whole = value.whole()) return fmt::format("{}", *whole);
  if (const auto number = value.number()) return number_words(*number);
  if (const auto text = value.text()) return toml_string(*text);
  std::vector<std::string> parts;
  if (const GivenList* list = value.list()) {
    for (const Given& one : *list) parts.push_back(toml_of(one));
    return fmt::format("[{}]", fmt::join(parts, ", "));
  }
  if (const GivenTable* table = value.table())
    for (const auto& [key, one] : *table)
      parts.push_back(fmt::format("{} = {}", toml_key(key), toml_of(one)));
  return fmt::format("{{ {} }}", fmt::join(parts, ", "));
}

/// One of the standard rack: spindle and feed as for tool steel.
RackTool standard(int number, Shape shape, double diameter, double stickout, double spindle, double feed) {
  GivenTable says;
  says.set("number", number);
  says.set("shape", name_of(shape));
  says.set("diameter", diameter);
  says.set("flute_length", std::max(2.5 * diameter, 6.0));
  says.set("stickout", stickout);
  GivenTable holder;
  holder.set("length", 40);
  holder.set("lower_diameter", std::max(16.0, std::round(1.6 * diameter)));
  holder.set("upper_diameter", 40);
  says.set("holder", Given(GivenList{Given(holder)}));
  says.set("spindle", spindle);
  says.set("feed", feed);
  Mistakes mistakes("standard rack");
  KeyContext context;
  RackTool tool = tool_of(fmt::format("{}{:g}", name_of(shape), diameter), says, context, mistakes);
  mistakes.raise();
  return tool;
}

}  // namespace

Rack read_rack(const std::filesystem::path& file) {
  Mistakes mistakes(file.string());
  const std::optional<GivenTable> root = detail::parse_toml_file(file, mistakes);
  mistakes.raise();
  Rack rack;
  KeyContext context;
  context.folder = file.parent_path();
  if (const Given* units = root->get("units"); units && units->text() == "inch")
    rack.units = context.units = Units::inch;
  else if (units && units->text() != "mm")
    mistakes.add(*units, R"("units" must be "mm" or "inch")");
  const Given* const tools = root->get("tools");
  if (!tools || !tools->table() || tools->table()->empty())
    throw Error(file.string() + ": a rack needs at least one [tools.NAME]");
  for (const auto& [name, value] : *tools->table()) {
    if (!value.table())
      mistakes.add(value, fmt::format("tools: \"{}\" must be a table, [tools.{}]", name, toml_key(name)));
    else
      rack.tools.push_back(tool_of(name, *value.table(), context, mistakes));
  }
  mistakes.raise();
  return rack;
}

Rack standard_rack() {
  return {Units::mm,
          {standard(1, Shape::flat, 20, 80, 3200, 1900), standard(2, Shape::flat, 12, 60, 5300, 2100),
           standard(3, Shape::flat, 6, 40, 9000, 1600), standard(4, Shape::flat, 3, 25, 15000, 1100),
           standard(5, Shape::ball, 12, 70, 7000, 2400), standard(6, Shape::ball, 8, 55, 9500, 2200),
           standard(7, Shape::ball, 6, 45, 12000, 2000), standard(8, Shape::ball, 4, 35, 16000, 1600),
           standard(9, Shape::ball, 2, 20, 20000, 1000)}};
}

std::string toml_of(const GivenTable& table) {
  std::string text;
  for (const auto& [key, value] : table) text += toml_key(key) + " = " + toml_of(value) + "\n";
  return text;
}

std::string toml_string(const std::string& text) {
  std::string quoted = "\"";
  for (const char c : text) {
    if (c == '"' || c == '\\')
      quoted += '\\', quoted += c;
    else if (static_cast<unsigned char>(c) < 0x20 || c == 0x7f)
      quoted += fmt::format("\\u{:04X}", static_cast<unsigned>(static_cast<unsigned char>(c)));
    else
      quoted += c;
  }
  return quoted + "\"";
}

std::string toml_key(const std::string& key) {
  const bool bare = !key.empty() && std::all_of(key.begin(), key.end(), [](char c) {
    return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9') || c == '_' || c == '-';
  });
  return bare ? key : toml_string(key);
}

}  // namespace yardpass
