/// Values for people, before they are words: units and decimals belong to whoever shows them.
#pragma once

#include <array>
#include <cstdint>
#include <string>
#include <vector>

namespace yardpass {

enum class Unit : std::uint8_t { none, mm, degrees, mm_min, turns_min, seconds, mm_s2, mm2, mm3, share };
/// "mm", "degrees", "mm/min", ...; empty for numbers without a unit and for shares.
[[nodiscard]] const char* name_of(Unit unit);

/// What lengths are told in. (Feeds and areas go with them.)
enum class Units : std::uint8_t { mm, inch };
[[nodiscard]] const char* name_of(Units units);
/// How many mm a number of these units is.
[[nodiscard]] double millimetres(Units units);
/// How much a number of a unit grows if lengths do: 1 for angles, 25.4 for lengths in inches.
[[nodiscard]] double scale_of(Unit unit, Units units);
/// "inch/min" for feeds in inches, and so on.
[[nodiscard]] std::string name_of(Unit unit, Units units);

/// A number with its unit, a count, a place, or words.
struct Quantity {
  enum class Kind : std::uint8_t { number, count, place, words };
  Kind kind = Kind::words;
  Unit unit = Unit::none;            ///< of a number; places are mm
  std::array<double, 3> value = {};  ///< of a number or a count the first
  std::string words = {};
};
[[nodiscard]] Quantity number_of(double value, Unit unit);
[[nodiscard]] Quantity length_of(double mm);
[[nodiscard]] Quantity count_of(std::int64_t count);
[[nodiscard]] Quantity place_at(double x, double y, double z);
[[nodiscard]] Quantity words_of(std::string words);

/// A value that is worked out, and the rule it comes from, in words for the user.
struct Derived {
  double value = 0;
  std::string rule;
};

/// A value that an operation runs with, and where it comes from: "line 31" of the job file, or the rule it
/// was derived by.
struct SettledValue {
  std::string key;
  Quantity value;
  std::string source;
};

/// Something that the user should know.
struct Note {
  std::string about;  ///< one word for programs: "rides", "scraps", "levels", ...
  std::string says;   ///< for people; each {} stands for one of the values, in order
  std::vector<Quantity> values = {};
};

}  // namespace yardpass
