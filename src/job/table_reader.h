// Reading tables so that all mistakes are found in one go.
#pragma once

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

struct Range {
  double low, high;
  bool low_open = false;  // the low end itself is not allowed
  const char* unit = "mm";
};

/// One table: typed values by key, remembering which keys exist. Ask for every valid key, then call finish().
class TableReader {
 public:
  /// `where`: how messages call this table, for example `operation "rough out"`.
  TableReader(const GivenTable& table, std::string where, Mistakes& mistakes)
      : table_(table), where_(std::move(where)), mistakes_(mistakes) {}

  std::optional<double> number(const char* key, const Range& range);
  std::optional<std::int64_t> whole(const char* key, std::int64_t low, std::int64_t high);
  std::optional<std::string> text(const char* key);
  std::optional<std::string> choice(const char* key, const std::vector<std::string>& valid);
  std::optional<bool> flag(const char* key);
  const GivenTable* table(const char* key);
  const GivenList* array(const char* key);
  const Given* any(const char* key);
  [[nodiscard]] bool has(const char* key) const { return table_.contains(key); }

  void missing(const char* key, const std::string& what);
  void wrong(const Given& node, const std::string& key, const std::string& what);
  /// Reports the keys that nobody asked for, with the nearest valid one.
  void finish();
  /// Keys that another reader of this table has asked for are valid too.
  void also_knows(const TableReader& other) { known_.insert(other.known_.begin(), other.known_.end()); }
  [[nodiscard]] int line() const { return table_.line(); }
  [[nodiscard]] int line_of(const char* key) const;
  [[nodiscard]] const std::string& where() const { return where_; }
  [[nodiscard]] Mistakes& mistakes() const { return mistakes_; }

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

}  // namespace yardpass::detail
