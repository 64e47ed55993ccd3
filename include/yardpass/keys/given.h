/// What a file or a program gives, before anybody knows what it means: values with the line they stand in.
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <variant>
#include <vector>

namespace yardpass {

class Given;
using GivenList = std::vector<Given>;

/// Keys with values, in the order in which they were given. A copy is its own.
class GivenTable {
 public:
  explicit GivenTable(int line = 0);
  GivenTable(const GivenTable&);
  GivenTable(GivenTable&&) noexcept;
  GivenTable& operator=(const GivenTable&);
  GivenTable& operator=(GivenTable&&) noexcept;
  ~GivenTable();

  /// Nothing if the key is not there; valid until the table changes.
  [[nodiscard]] const Given* get(std::string_view key) const;
  [[nodiscard]] bool contains(std::string_view key) const { return get(key) != nullptr; }
  /// In the place of an earlier value, else behind all others.
  void set(const std::string& key, Given value);
  void erase(std::string_view key);
  [[nodiscard]] bool empty() const;
  [[nodiscard]] std::size_t size() const;
  [[nodiscard]] int line() const { return line_; }  ///< in the file, from 1; 0: from no file

  using Entries = std::vector<std::pair<std::string, Given>>;
  [[nodiscard]] Entries::const_iterator begin() const;
  [[nodiscard]] Entries::const_iterator end() const;

 private:
  int line_ = 0;
  Entries entries_;
};

/// One value: a truth, a number, a text, a list, a table, or something else that no key takes (a date).
class Given {
 public:
  struct Other {
    std::string what;  ///< "a date"
  };
  // A number or a text is a value, so these convert; lists and tables have lines of their own, so those do
  // not.
  Given(Other value, int line = 0);
  Given(bool value, int line = 0);
  Given(int value, int line = 0);
  Given(std::int64_t value, int line = 0);
  Given(double value, int line = 0);
  Given(const char* value, int line = 0);
  Given(std::string value, int line = 0);
  explicit Given(GivenList value, int line = 0);
  explicit Given(GivenTable value, int line = 0);

  /// Each gives nothing if the value is of another kind; a whole number is a number too.
  [[nodiscard]] std::optional<double> number() const;
  [[nodiscard]] std::optional<std::int64_t> whole() const;
  [[nodiscard]] std::optional<bool> flag() const;
  [[nodiscard]] std::optional<std::string> text() const;
  [[nodiscard]] const GivenList* list() const;
  [[nodiscard]] const GivenTable* table() const;
  [[nodiscard]] bool is_number() const { return number().has_value(); }

  [[nodiscard]] int line() const { return line_; }  ///< in the file, from 1; 0: from no file

 private:
  std::variant<Other, bool, std::int64_t, double, std::string, GivenList, GivenTable> value_;
  int line_ = 0;
};

}  // namespace yardpass
