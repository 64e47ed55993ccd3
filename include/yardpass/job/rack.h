/// A rack of tools: what a job may be made with.
#pragma once

#include <filesystem>
#include <string>
#include <vector>

#include "yardpass/keys/given.h"
#include "yardpass/keys/quantity.h"
#include "yardpass/tool/tool.h"

namespace yardpass {

/// A tool with the table that says it, to be written into a job.
struct RackTool {
  Tool tool;  ///< completed
  GivenTable says;
};
struct Rack {
  Units units = Units::mm;  ///< of the tables
  std::vector<RackTool> tools = {};
};

/// The `[tools.NAME]` tables of a TOML file, in its order: a job file, or one that holds nothing else but
/// `units`. Throws Error with every mistake of them, by file, line and key, or if there are none.
[[nodiscard]] Rack read_rack(const std::filesystem::path& file);

/// End mills and ball ends as most shops have them, in mm.
[[nodiscard]] Rack standard_rack();

/// A table as TOML, without its head: a key a line, tables and lists inside a value on the line of their key.
[[nodiscard]] std::string toml_of(const GivenTable& table);
/// A text as a TOML string, whatever bytes it holds.
[[nodiscard]] std::string toml_string(const std::string& text);
/// A key as TOML: bare where it can be, else in quotes.
[[nodiscard]] std::string toml_key(const std::string& key);

}  // namespace yardpass
