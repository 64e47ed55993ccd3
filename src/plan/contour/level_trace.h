// The contours of one level, followed from seeds.
#pragma once

#include <cstdint>
#include <functional>
#include <unordered_map>

#include "plan/contour/wall_walk.h"
#include "yardpass/plan/contours.h"

namespace yardpass::detail {

/// A free place and a blocked one near it: a contour passes between them.
struct Seed {
  Vec2 free{0, 0}, blocked{0, 0};
};

class LevelTrace {
 public:
  /// `wanted`: contours are followed while they stay there.
  LevelTrace(const Tube& tube, double z, double longest_step, std::function<bool(const Vec2&)> wanted);

  /// Follows the contour that passes there, unless it has been.
  void follow(const Seed& seed);
  /// Whether a contour that has been followed passes so near to a place; up to twenty tolerances.
  [[nodiscard]] bool passes_near(const Vec2& place, double distance_mm) const;
  /// Pieces put together; of those that end inside what is wanted, scraps are left out.
  [[nodiscard]] LevelContours take();

 private:
  struct Trace {
    Polyline2 points;
    bool closed = false, left = false;  // left: it ends where the wanted area does
    int into = -1;  // the trace that it runs into, at this of its points, so far from its start
    std::size_t into_point = 0;
    double into_travelled = 0;
  };
  struct Chord {
    Vec2 from, to;
    int trace;
    std::size_t point;  // index of `from`
    double travelled;   // up to `from`
  };
  struct Hit {
    Chord chord;
    Vec2 beside;  // on the new chord
  };

  void trace(WallPlace at);
  [[nodiscard]] bool known(const Vec2& place) const;
  /// The first earlier point that a new chord of a trace passes.
  [[nodiscard]] std::optional<Hit> passes(const Vec2& from, const Vec2& to, int trace,
                                          double travelled) const;
  void join(int trace, const Hit& hit);
  void add_chord(const Vec2& from, const Vec2& to, int trace, double travelled);
  template <typename Visit>
  void near(const Vec2& a, const Vec2& b, const Visit& visit) const;
  [[nodiscard]] Vec3 at_level(const Vec2& p) const { return with_z(p, z_); }
  void chain();

  const Tube& tube_;
  double z_, longest_, reach_;
  std::function<bool(const Vec2&)> wanted_;
  std::vector<Trace> traces_;
  std::vector<Chord> chords_;
  std::unordered_map<std::int64_t, std::vector<std::size_t>> cells_;
  std::vector<Vec2> broken_off_;
};

}  // namespace yardpass::detail
