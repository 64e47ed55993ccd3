// One table of a file: which keys exist, and what is wrong with them. All mistakes are found in one go.
#pragma once

#include <functional>
#include <optional>
#include <set>
#include <string>
#include <vector>

#include "yardpass/keys/given.h"

namespace yardpass::detail {

/// Collects messages; each names file and line.
class Mistakes {
 public:
  explicit Mistakes(std::string file) : file_(std::move(file)) {}
  void add(const Given& node, const std::string& what) { add(node.line(), what); }
  void add(int line, const std::string& what);
  /// Those of a file that this one names.
  void take(const Mistakes& other);
  [[nodiscard]] bool none() const { return list_.empty(); }
  [[nodiscard]] std::size_t count() const { return list_.size(); }
  /// Throws Error with all of them, in the order of the file, if there are any.
  void raise();

 private:
  struct Entry {
    std::string file;
    int line;
    std::string what;
  };
  std::string file_;
  std::vector<Entry> list_;
};

/// Remembers which keys somebody has asked for; the others are told by finish().
class TableReader {
 public:
  /// `where`: how messages call this table, for example `operation "rough out"`.
  TableReader(const GivenTable& table, std::string where, Mistakes& mistakes)
      : table_(table), where_(std::move(where)), mistakes_(mistakes) {}

  const Given* any(const char* key);
  [[nodiscard]] bool has(const char* key) const { return table_.contains(key); }
  void missing(const char* key, const std::string& what);
  void wrong(const Given& node, const std::string& key, const std::string& what);
  /// A mistake of the table as a whole.
  void wrong(const std::string& what);
  /// Reports the keys that nobody asked for, with the nearest valid one. `belongs`: what is known of a key
  /// elsewhere, for example "it belongs to roughing"; empty if nothing is.
  void finish(const std::function<std::string(const std::string& key)>& belongs = {});
  /// Keys that another reader of this table has asked for are valid too.
  void also_knows(const TableReader& other) { known_.insert(other.known_.begin(), other.known_.end()); }
  [[nodiscard]] const std::set<std::string>& known() const { return known_; }
  [[nodiscard]] int line() const { return table_.line(); }
  [[nodiscard]] int line_of(const char* key) const;
  [[nodiscard]] const std::string& where() const { return where_; }
  [[nodiscard]] Mistakes& mistakes() const { return mistakes_; }
  [[nodiscard]] const GivenTable& table() const { return table_; }

 private:
  const GivenTable& table_;
  std::string where_;
  Mistakes& mistakes_;
  std::set<std::string> known_;
};

/// The word of the list that is nearest in spelling, if any is near.
std::optional<std::string> nearest_word(const std::string& word, const std::vector<std::string>& list);
/// "a, b, c"
std::string listed(const std::vector<std::string>& words);
/// A message for a name that is not among those defined.
std::string not_defined(const std::string& name, const std::vector<std::string>& defined);
/// " (did you mean "x"?)", or nothing if no word is near.
std::string did_you_mean(const std::string& word, const std::vector<std::string>& list);
/// The names of a list of things.
template <typename Thing>
std::vector<std::string> names_of(const std::vector<Thing>& list) {
  std::vector<std::string> names;
  for (const Thing& thing : list) names.push_back(thing.name);
  return names;
}

}  // namespace yardpass::detail
