/// How whoever has keys tells them: one function that visits them in their order. Reading a table, listing
/// its settled values, writing help, documentation or a schema are visitors of that function, so a key is
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
#include <filesystem>
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
struct GivenCurves;
struct GivenTool;
struct Region;
/// Least and greatest coordinates of a box.
struct Corners {
  std::array<double, 3> low = {}, high = {};
};

/// What a quick look, with coarser steps, makes of a value.
enum class Coarsened : std::uint8_t {
  no,
  spacing,
  ridges,  ///< heights that say a spacing: with its square
  tolerance
};

/// What is said of a key once for all: nothing here depends on the tool or the job at hand, so documentation
/// can be made of it.
struct About {
  const char* says;        ///< what it means, half a line
  const char* usual = "";  ///< its default, in general words; empty: none
  Unit unit = Unit::mm;    ///< of numbers
  double low = -1e5, high = 1e5;
  bool above_low = false;  ///< the low end itself is not allowed
  bool required = false;   ///< must be said
  bool of_tool = false;    ///< a length that may be a share of the tool: "8 %" of the diameter, "1 radius"
  const char* instead_of = "";          ///< each gives the other: only one of the two may be said
  const char* belongs_to = "";          ///< means something only beside this other key
  Coarsened coarsened = Coarsened::no;  ///< in a quick look
  bool always = false;  ///< a table that is visited even if it is not said, for its usual values
};

/// The kinds of things of a job that are called by name; `anything`: names that are defined elsewhere.
enum class Named : std::uint8_t {
  anything,
  regions,
  curves,
  boundaries,
  areas,  ///< boundaries, regions, "part", "stock"
  lids,
  run_outs,
  carriers,
  keep_away,
  operations,
  tools
};

/// A visitor. Fields arrive with any value and leave with the one that counts: what is said, else the usual
/// one. Fields of kinds that have no usual value stay empty if they are not said.
class Keys {
 public:
  virtual ~Keys() = default;

  /// Usual values that are worked out may use what was visited before.
  virtual void number(const char* key, double& value, const Derived& usual, const About& about) = 0;
  /// A number that has no value unless it is said.
  virtual void number(const char* key, std::optional<double>& value, const About& about) = 0;
  virtual void whole(const char* key, int& value, int usual, const About& about) = 0;
  virtual void flag(const char* key, bool& value, bool usual, const About& about) = 0;
  virtual void text(const char* key, std::string& value, const About& about) = 0;
  /// A file beside the job, which must be there.
  virtual void file(const char* key, std::filesystem::path& value, const About& about) = 0;
  /// One of some words: their index.
  virtual void word(const char* key, std::size_t& value, std::span<const char* const> words,
                    std::size_t usual, const std::string& rule, const About& about) = 0;
  /// The same without a usual one.
  virtual void word(const char* key, std::optional<std::size_t>& value, std::span<const char* const> words,
                    const About& about) = 0;
  /// One of some words, or a number: the value of the one that is not said stays.
  virtual void word_or_number(const char* key, std::optional<std::size_t>& word, double& number,
                              std::span<const char* const> words, const About& about) = 0;
  /// Some of a list of words: their indices, in the order in which they are said.
  virtual void words(const char* key, std::vector<std::size_t>& value, std::span<const char* const> words,
                     const About& about) = 0;
  /// The name of one thing.
  virtual void name(const char* key, std::string& value, Named kind, const About& about) = 0;
  /// A name, or a list of names.
  virtual void names(const char* key, std::vector<std::string>& value, Named kind, const About& about) = 0;
  /// A name, or points [[x, y], ...], or a list of such loops.
  virtual void area(const char* key, GivenArea& value, const About& about) = 0;
  /// The name of a curve, or a list of names.
  virtual void curves(const char* key, GivenCurves& value, const About& about) = 0;
  /// The name of another tool of the job.
  virtual void tool(const char* key, GivenTool& value, const About& about) = 0;
  /// Points [[x, y], ...], or a list of such loops.
  virtual void loops(const char* key, std::optional<Region>& value, const About& about) = 0;
  /// Two opposite corners [[x, y, z], [x, y, z]]: least and greatest coordinates.
  virtual void corners(const char* key, std::optional<Corners>& value, const About& about) = 0;
  /// A list of numbers; `counts`: how many there may be. With 1 among them a plain number will do.
  virtual void numbers(const char* key, std::vector<double>& value, std::initializer_list<std::size_t> counts,
                       const char* form, const About& about) = 0;
  /// A whole number from 1, or a list of them.
  virtual void counts(const char* key, std::vector<std::int64_t>& value, const About& about) = 0;
  /// A place [x, y] (from above) or [x, y, z] (nearest), or a list of them: of exactly `count` places unless
  /// that is 0.
  virtual void places(const char* key, std::vector<std::vector<double>>& value, std::size_t count,
                      const About& about) = 0;
  /// A list of at least `least` points of two or three numbers.
  virtual void points(const char* key, std::vector<std::vector<double>>& value, std::size_t least,
                      const char* form, const About& about) = 0;
  /// A list of tables, visited one after the other: `visit` takes the keys of one.
  virtual void each(const char* key, const std::function<void(Keys& one)>& visit, const About& about) = 0;
  /// A table, visited if it is said (or always).
  virtual void table(const char* key, const std::function<void(Keys& keys)>& visit, const About& about) = 0;

  /// Where the table stands in its file, from 1; 0: nowhere.
  [[nodiscard]] virtual int line() const = 0;
  /// Whether the table says this key itself.
  [[nodiscard]] virtual bool says(const char* key) const = 0;
  /// Exactly one of these keys, all of them visited, must be said (at most one, unless `needed`).
  virtual void one_of(std::initializer_list<const char*> keys, bool needed) = 0;
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
  template <typename Enum, std::size_t Count>
  void choice(const char* key, std::optional<Enum>& value, const std::pair<Enum, const char*> (&words)[Count],
              const About& about) {
    std::array<const char*, Count> list{};
    for (std::size_t i = 0; i < Count; ++i) list[i] = words[i].second;
    std::optional<std::size_t> chosen;
    word(key, chosen, list, about);
    value = chosen ? std::optional(words[*chosen].first) : std::nullopt;
  }
};

}  // namespace yardpass
