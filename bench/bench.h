// Timing of two ways to the same result.
#pragma once

#include <chrono>
#include <cstdio>
#include <cstdlib>

namespace yardpass::bench {

inline double now_s() {
  return std::chrono::duration<double>(std::chrono::steady_clock::now().time_since_epoch()).count();
}

/// Calls work(i) for i = 0, 1, ... until `seconds` have passed or `count` calls are made; seconds a call.
template <typename Work>
double seconds_per_call(double seconds, long count, const Work& work) {
  const double start = now_s();
  long i = 0;
  double spent = 0;
  while (i < count) {
    for (int k = 0; k < 16 && i < count; ++k) work(i++);
    spent = now_s() - start;
    if (spent > seconds) break;
  }
  return spent / static_cast<double>(i);
}

/// A fast wrong answer is an error, not a result.
inline void require(bool good, const char* what) {
  if (good) return;
  std::fprintf(stderr, "bench: results differ: %s\n", what);
  std::exit(1);
}

inline void row(const char* work, double value, const char* unit, double floor, double aim,
                bool more_is_better) {
  const bool meets_floor = more_is_better ? value >= floor : value <= floor;
  const bool meets_aim = more_is_better ? value >= aim : value <= aim;
  std::printf("%-62s %9.2f %-12s floor %-8g aim %-8g %s\n", work, value, unit, floor, aim,
              meets_aim     ? "aim met"
              : meets_floor ? "floor met"
                            : "BELOW FLOOR");
  std::fflush(stdout);
}

}  // namespace yardpass::bench
