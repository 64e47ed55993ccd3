/// Curves that an operation runs along or starts from, as a job gives them.
#pragma once

#include <cstdint>
#include <string>
#include <vector>

#include "yardpass/curve/curve.h"

namespace yardpass {

/// By name; the curves themselves are found once the part is there, in the order of the names.
struct GivenCurves {
  std::vector<std::string> names = {};
  std::vector<Curve> curves = {};
  std::vector<std::string> notes = {};  ///< what was passed over or written otherwise in making them
  [[nodiscard]] bool given() const { return !names.empty() || !curves.empty(); }
};

/// A curve that passes follow, from above, and what it is for: told and drawn before anything is planned.
struct CurveRole {
  std::string role;  ///< "first pass", "start", ...
  Polyline2 line;    ///< as passes run, or from the first pass to the last
  bool closed = false;
  bool runs = false;        ///< passes run along it
  std::int32_t number = 0;  ///< in the order in which they are cut, from 1; 0: its role says when
};

/// Along the line, of a closed one its closing piece included.
[[nodiscard]] inline double length(const CurveRole& role) {
  const double open = length(std::span<const Vec2>(role.line));
  return role.closed && !role.line.empty() ? open + (role.line.front() - role.line.back()).norm() : open;
}

}  // namespace yardpass
