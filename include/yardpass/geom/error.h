/// Errors and progress, shared by all layers.
#pragma once

#include <functional>
#include <stdexcept>
#include <string>

namespace yardpass {

/// Input that cannot be used: a broken file, an impossible value or option. The text names what and where,
/// and what would be valid. A broken precondition of the code's own inner parts is no Error but an assertion.
class Error : public std::runtime_error {
 public:
  using std::runtime_error::runtime_error;
};

/// For options that break what their comments ask for: throws Error "NAME must be above 0", in every build.
inline void require(bool good, const char* name, const char* what) {
  if (!good) throw Error(std::string(name) + " " + what);
}

/// Thrown out of long work when the progress callback asked it to stop. Nothing is left half changed.
class Stopped : public std::runtime_error {
 public:
  Stopped() : std::runtime_error("stopped") {}
};

/// Called now and then with the share of the work that is done (0 to 1), never from two threads at once.
/// Return false to stop the work; it then throws Stopped. An empty function: no reports, no stopping.
using Progress = std::function<bool(double share)>;

inline void report(const Progress& progress, double share) {
  if (progress && !progress(share)) throw Stopped();
}

/// The part of `progress` from share `from` to share `to`, as a progress of its own.
inline Progress part_of(const Progress& progress, double from, double to) {
  if (!progress) return {};
  return [progress, from, to](double share) { return progress(from + share * (to - from)); };
}

}  // namespace yardpass
