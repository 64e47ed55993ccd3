/// The keys of job files for people and for editors, from what the code tells of them.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "yardpass/job/key_list.h"

namespace yardpass {

/// What a key takes: "mm, above 0, or a share of the tool".
[[nodiscard]] std::string takes_words(const KeyInfo& key);

/// The rows of a table of docs, `| key | takes | meaning | default |`, without its head; keys of inner tables
/// follow theirs.
[[nodiscard]] std::vector<std::string> markdown_rows(const KeyTable& table);

/// The tables of this name, of a strategy or all of them, as text for a screen, or as Markdown. Nothing if
/// there is no such table.
[[nodiscard]] std::optional<std::string> keys_page(const std::string& name, bool markdown);
/// All names that `keys_page` knows: tables, then strategies.
[[nodiscard]] std::vector<std::string> key_table_names();

/// A JSON schema (draft 7) of the job file.
[[nodiscard]] std::string job_schema();

}  // namespace yardpass
