// Repeatable chance: a case is fully given by its seed.
#pragma once

#include <cstdint>
#include <cstdlib>

namespace yardpass::testing {

/// splitmix64 (S. Vigna): the same numbers on every machine, which std distributions do not promise.
class Rng {
 public:
  explicit Rng(std::uint64_t seed) : state_(seed * 0x9e3779b97f4a7c15ull + 0x1234567) { bits(); }
  std::uint64_t bits() {
    std::uint64_t z = (state_ += 0x9e3779b97f4a7c15ull);
    z = (z ^ (z >> 30)) * 0xbf58476d1ce4e5b9ull;
    z = (z ^ (z >> 27)) * 0x94d049bb133111ebull;
    return z ^ (z >> 31);
  }
  double uniform(double low, double high) {
    return low + (high - low) * (static_cast<double>(bits() >> 11) * 0x1p-53);
  }
  /// 0 ... count - 1
  int pick(int count) { return static_cast<int>(bits() % static_cast<std::uint64_t>(count)); }

 private:
  std::uint64_t state_;
};

/// How many seeds a property test runs: `usual`, times YARDPASS_TEST_ROUNDS where that is set.
inline int rounds(int usual) {
  const char* factor = std::getenv("YARDPASS_TEST_ROUNDS");
  return factor ? usual * std::max(1, std::atoi(factor)) : usual;
}

}  // namespace yardpass::testing
