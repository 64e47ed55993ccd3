#include "yardpass/keys/quantity.h"

namespace yardpass {

const char* name_of(Units units) { return units == Units::inch ? "inch" : "mm"; }

double millimetres(Units units) { return units == Units::inch ? 25.4 : 1; }

double scale_of(Unit unit, Units units) {
  const double mm = millimetres(units);
  switch (unit) {
    case Unit::mm:
    case Unit::mm_min:
    case Unit::mm_s2:
      return mm;
    case Unit::mm2:
      return mm * mm;
    case Unit::mm3:
      return mm * mm * mm;
    default:
      return 1;
  }
}

const char* name_of(Unit unit) {
  switch (unit) {
    case Unit::mm:
      return "mm";
    case Unit::degrees:
      return "degrees";
    case Unit::mm_min:
      return "mm/min";
    case Unit::turns_min:
      return "turns a minute";
    case Unit::seconds:
      return "seconds";
    case Unit::mm_s2:
      return "mm/s2";
    case Unit::mm2:
      return "mm2";
    case Unit::mm3:
      return "mm3";
    case Unit::none:
    case Unit::share:
      break;
  }
  return "";
}

std::string name_of(Unit unit, Units units) {
  std::string name = name_of(unit);
  if (units == Units::inch && name.rfind("mm", 0) == 0) name.replace(0, 2, "inch");
  return name;
}

Quantity number_of(double value, Unit unit) { return {Quantity::Kind::number, unit, {value}, {}}; }
Quantity length_of(double mm) { return number_of(mm, Unit::mm); }
Quantity count_of(std::int64_t count) {
  return {Quantity::Kind::count, Unit::none, {static_cast<double>(count)}, {}};
}
Quantity place_at(double x, double y, double z) { return {Quantity::Kind::place, Unit::mm, {x, y, z}, {}}; }
Quantity words_of(std::string words) { return {Quantity::Kind::words, Unit::none, {}, std::move(words)}; }

}  // namespace yardpass
