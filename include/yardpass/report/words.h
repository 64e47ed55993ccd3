/// Values, notes and findings in words.
#pragma once

#include <string>
#include <vector>

#include "yardpass/geom/vec.h"
#include "yardpass/keys/quantity.h"
#include "yardpass/verify/finding.h"

namespace yardpass {

/// How numbers are told, in the units of the job: never more than three decimals of a millimetre or four of
/// an inch, and never an exponent.
class Telling {
 public:
  explicit Telling(Units units = Units::mm) : units_(units) {}
  [[nodiscard]] Units units() const { return units_; }
  [[nodiscard]] const char* unit() const { return name_of(units_); }
  /// In the units of the job.
  [[nodiscard]] double scaled(double value, Unit unit) const { return value / scale_of(unit, units_); }
  [[nodiscard]] double length(double mm) const { return scaled(mm, Unit::mm); }
  [[nodiscard]] double area(double mm2) const { return scaled(mm2, Unit::mm2); }

  /// "0.3", without zeros at its end.
  [[nodiscard]] std::string number(double value, Unit unit = Unit::mm) const;
  /// "0.3 mm", "45 degrees"
  [[nodiscard]] std::string with_unit(double value, Unit unit = Unit::mm) const;
  /// "0.300", as long as its neighbours in a column.
  [[nodiscard]] std::string column(double mm) const;
  /// "12.5 mm2", one decimal of a square millimetre.
  [[nodiscard]] std::string area_words(double mm2) const;
  /// "12.5 cm3", or cubic inches.
  [[nodiscard]] std::string volume_words(double mm3) const;
  /// "14.03 m", or feet.
  [[nodiscard]] std::string long_way(double mm) const;
  /// "X 12.100 Y 7.000 Z -3.200"
  [[nodiscard]] std::string place(const Vec3& p) const;
  [[nodiscard]] std::string place(const Vec2& p) const;
  /// "X -5 to 60, Y 0 to 40, Z -20 to 2 mm"
  [[nodiscard]] std::string box(const Box3& box) const;

  /// "0.3 mm", "45 degrees", "12", "X 12.1 Y 7 Z -3.2", or the words themselves.
  [[nodiscard]] std::string words(const Quantity& quantity) const;
  [[nodiscard]] std::string words(const Note& note) const;
  /// Short words for a finding: "gouge 0.100 mm deep at X 12.1 Y 7 Z -3.2 (3 moves)".
  /// How deep, thick or wide it is, with its unit.
  [[nodiscard]] std::string depth(const Finding& finding) const;
  [[nodiscard]] std::string words(const Finding& finding) const;

 private:
  Units units_;
};

/// "1:02:03" or "2:03" (hours only when there are any).
[[nodiscard]] std::string clock(double seconds);
/// A share of 0 to 1 in percent, rounded to a tenth, but never to all or nothing what is not.
[[nodiscard]] std::string percent_words(double share);

/// The findings to show where there is room for only so many: those not accepted first, the deepest of them;
/// told in the order of the program, the very first one always.
[[nodiscard]] std::vector<const Finding*> worst_findings(const std::vector<Finding>& findings,
                                                         std::size_t most);

}  // namespace yardpass
