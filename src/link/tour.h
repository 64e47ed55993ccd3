// A short way past many stops, each with a way in and a way out.
#pragma once

#include <functional>
#include <optional>
#include <vector>

#include "yardpass/link/order.h"

namespace yardpass::detail {

/// A cut as whoever orders it sees it. An open one begins at its first place and ends at its second; a closed
/// one begins and ends at any of its places.
struct Stop {
  std::vector<Vec3> places;
  bool closed = false;
};

struct Visit {
  std::size_t stop = 0;
  bool turned = false;    // an open one, run from its second place to its first
  std::size_t place = 0;  // of a closed one, where it begins and ends
};

class Tour {
 public:
  Tour(std::vector<Stop> stops, bool may_turn, const LinkCosts& costs);

  /// Every stop once, as they come.
  [[nodiscard]] std::vector<Visit> as_given() const;
  /// Always on to the nearest one: from a place, or from the first stop.
  [[nodiscard]] std::vector<Visit> nearest_next(const std::optional<Vec3>& from) const;
  /// Runs moved elsewhere and turned round while that saves time; the first visit stays.
  void improve(std::vector<Visit>& visits) const;
  /// Guessed time of the links between the visits.
  [[nodiscard]] double seconds(const std::vector<Visit>& visits) const;

  [[nodiscard]] const Vec3& in(const Visit& visit) const;
  [[nodiscard]] const Vec3& out(const Visit& visit) const;

 private:
  std::vector<Stop> stops_;
  bool may_turn_;
  LinkCosts costs_;
};

}  // namespace yardpass::detail
