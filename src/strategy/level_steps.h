// How far apart the levels of a waterline lie.
#pragma once

#include <optional>
#include <vector>

#include "yardpass/plan/site.h"
#include "yardpass/strategy/waterline.h"

namespace yardpass::detail {

/// The step that a scallop height allows at places of the surface.
class WantedStep {
 public:
  WantedStep(const WaterlineOptions& options, const ToolSurface& surface);

  /// At this place, and how steep the surface is there; nothing where it is less steep than the options say,
  /// or not there.
  struct At {
    double z, step_mm, rise;  // rise over run
    Vec2 downhill;
  };
  [[nodiscard]] std::optional<At> at(const Vec2& place, std::int32_t near = -1) const;
  [[nodiscard]] double height(const Vec2& place) const { return surface_.height(place); }
  /// On upright walls that are straight from top to bottom.
  [[nodiscard]] double widest() const { return widest_; }
  /// Of passes on the surface.
  [[nodiscard]] double spacing() const { return spacing_; }

 private:
  [[nodiscard]] double bend_ratio(const Vec2& place, const Touch& touch, const Vec2& downhill,
                                  double rise) const;
  [[nodiscard]] double extent(std::int32_t triangle, const Vec2& downhill, double rise) const;
  const ToolSurface& surface_;
  double scallop_, least_rise_, radius_, spacing_, widest_;
};

/// What steps the surface in an area asks for, by height.
class StepTable {
 public:
  StepTable(const WantedStep& wanted, const Site& site, double low, double high, const Progress& progress);

  /// From a level, the next one below.
  [[nodiscard]] double below(double z) const;
  /// How many steps between two heights the surface asks for where it asks for most.
  [[nodiscard]] double passes_wanted(double low, double high) const;

 private:
  struct Sample {
    double step, weight;  // weight: length of the contour times height
  };
  struct Place {
    bool wanted = false;
    Vec2 place{0, 0};
    double z = kNothingBelow;
    std::optional<WantedStep::At> at = {};
  };
  struct Steep {
    double low, high, step;
  };
  static void look(const WantedStep& wanted, Place& place);
  void between(const WantedStep& wanted, const Place& a, const Place& b, int depth,
               std::vector<Steep>& found) const;
  void fill(const WantedStep& wanted, const Site& site, const Progress& progress);
  void choose();
  [[nodiscard]] std::size_t bin_of(double z) const;
  double low_, high_, widest_, bin_;
  std::vector<std::vector<Sample>> samples_;
  std::vector<double> steps_;  // chosen, by bin
};

struct LevelHeights {
  std::vector<double> z;         // highest first
  std::int64_t above_flats = 0;  // of them, just above level faces
};
/// All levels between two heights; the upper one is one of them if `with_top`.
[[nodiscard]] LevelHeights level_heights(const WaterlineOptions& options, const Site& site,
                                         const StepTable* table, double top, bool with_top, double bottom);

}  // namespace yardpass::detail
