/// All keys of a job file as a list, made by visiting them: for help, documentation, schemas and tests.
#pragma once

#include <string>
#include <vector>

#include "yardpass/keys/keys.h"
#include "yardpass/strategy/all.h"

namespace yardpass {

/// What kind of value a key takes.
enum class KeyForm : std::uint8_t {
  number,
  whole,
  flag,
  text,
  file,
  word,
  word_or_number,
  words,
  name,
  names,
  area,
  loops,
  corners,
  numbers,
  counts,
  places,
  points,
  tables,
  table
};
/// "number", "true or false", "one of some words", ...
[[nodiscard]] const char* name_of(KeyForm form);

struct KeyInfo {
  std::string key;
  KeyForm form = KeyForm::number;
  About about{.says = ""};
  std::vector<std::string> words = {};   ///< of words
  std::vector<std::size_t> counts = {};  ///< of numbers and places: how many there may be; empty: any
  Named kind = Named::anything;          ///< of names
  std::vector<KeyInfo> inner = {};       ///< of tables
  bool measurable = false;               ///< may be measured on the part instead
};

/// A table of the job file.
struct KeyTable {
  std::string name;     ///< "stock", "tools.NAME", "operation", "parallel"
  std::string heading;  ///< as it stands in the file: "[stock]", "[tools.NAME]", "[[operation]]"
  const char* says;     ///< half a line
  const char* page;     ///< of docs/, where its rows stand
  std::vector<KeyInfo> keys;
  std::vector<std::vector<std::string>> one_of = {};  ///< keys of which only one may be said
  bool strategy = false;                              ///< keys of operations of one strategy alone
};
/// Strategies last, by their work. Made anew at each call.
[[nodiscard]] std::vector<KeyTable> all_key_tables();

/// A key of the table that says where a number is measured: { top_of = "plate", plus = 1 }.
struct MeasuredKey {
  const char* key;
  std::size_t places;  ///< how many it takes; 0: the name of a region or curve
  const char* says;
};
[[nodiscard]] std::vector<MeasuredKey> measured_keys();

/// The keys that operations of this strategy alone have.
[[nodiscard]] std::vector<KeyInfo> keys_of_strategy(const Strategy& strategy);

}  // namespace yardpass
