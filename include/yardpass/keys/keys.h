/// How whoever has keys tells them: one function that visits them in their order. Reading a table, listing
/// the values in force, writing help, documentation or a schema are visitors of that function, so a key is
/// told in one place.
///
///     void keys_of(ParallelOptions& options, const Tool& tool, Keys& keys) {
///       keys.number("angle", options.angle_deg, {0, "along X"},
///                   {.says = "of the passes, from X", .usual = "0", .unit = Unit::degrees, .low = -360,
///                   .high = 360});
///     }
#pragma once

#include <array>
#include <cstddef>
#include <functional>
#include <initializer_list>
#include <optional>
#include <span>
#include <string>
#include <utility>
#include <vector>

#include "yardpass/keys/quantity.h"

namespace yardpass {

struct GivenArea;

/// What is said of a key once for all: nothing here depends on the tool or the job at hand, so documentation
/// can be made of it.
struct About {
  const char* says;        ///< what it means, half a line
  const char* usual = "";  ///< its default, in general words; empty: none, it need not be said
  Unit unit = Unit::mm;    ///< of numbers
  double low = -1e5, high = 1e5;
  bool above_low = false;       ///< the low end itself is not allowed
  const char* instead_of = "";  ///< each gives the other: only one of the two may be said
};

/// The kinds of things of a job that operations call by name.
enum class Named : std::uint8_t { boundaries_and_regions, lids, extensions, guide_surfaces, guards };

/// A visitor. Fields arrive with any value and leave with the one in force: what is said, else the usual one.
class Keys {
 public:
  virtual ~Keys() = default;

  /// Usual values that are worked out may use what was visited before.
  virtual void number(const char* key, double& value, const Derived& usual, const About& about) = 0;
  /// A number that has no value unless it is said.
  virtual void number(const char* key, std::optional<double>& value, const About& about) = 0;
  virtual void flag(const char* key, bool& value, bool usual, const About& about) = 0;
  /// One of some words: their index.
  virtual void word(const char* key, std::size_t& value, std::span<const char* const> words,
                    std::size_t usual, const std::string& rule, const About& about) = 0;
  /// A name of something defined elsewhere in the job, or a list of names.
  virtual void names(const char* key, std::vector<std::string>& value, Named kind, const About& about) = 0;
  /// A name, or points [[x, y], ...], or a list of such loops.
  virtual void area(const char* key, GivenArea& value, const About& about) = 0;
  /// A list of tables, visited one after the other: `one` takes the keys of one.
  virtual void each(const char* key, const std::function<void(Keys& one)>& visit, const About& about) = 0;

  /// Whether the table says this key itself.
  [[nodiscard]] virtual bool says(const char* key) const = 0;
  /// A mistake that the values of these keys make together; told at the first of them that is said. Not asked
  /// while one of them is still to be measured.
  virtual void refuse_if(bool wrong, std::initializer_list<const char*> keys, const std::string& why) = 0;
  /// A key that has been visited and, as others stand, changes nothing: the user is told if it is said.
  virtual void idle_if(bool idle, const char* key, const std::string& why) = 0;

  template <typename Enum, std::size_t Count>
  void choice(const char* key, Enum& value, const std::pair<Enum, const char*> (&words)[Count], Enum usual,
              const std::string& rule, const About& about) {
    std::array<const char*, Count> list{};
    std::size_t index = 0;
    for (std::size_t i = 0; i < Count; ++i) {
      list[i] = words[i].second;
      if (words[i].first == usual) index = i;
    }
    std::size_t chosen = index;
    word(key, chosen, list, index, rule, about);
    value = words[chosen].first;
  }
};

}  // namespace yardpass
