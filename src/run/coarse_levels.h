// What clearing operations have before them, level by level, on a coarse grid: for what is foretold of them.
#pragma once

#include <optional>
#include <vector>

#include "yardpass/contact/tool_surface.h"
#include "yardpass/geom/region.h"
#include "yardpass/stock/stock.h"

namespace yardpass::detail {

class CoarseLevels {
 public:
  explicit CoarseLevels(const Stock& stock);

  struct Cleared {
    double levels = 0, area_mm2 = 0, outline_mm = 0;  ///< of all levels together
  };
  /// Takes away what a tool clears in an area, levels `stepdown_mm` apart below the top, and tells how much.
  /// Of very many levels only some are looked at.
  Cleared clear(const ToolSurface& surface, const Region& area, double stepdown_mm,
                std::optional<double> top_z, double bottom_z);
  /// The same only where the tip surface is level; tells no levels.
  Cleared clear_flats(const ToolSurface& surface, const Region& area, double bottom_z);

 private:
  /// Where the tip may be, and how low; beside the area nowhere.
  [[nodiscard]] std::vector<double> tips(const TipSurface& surface, const Region& area, double bottom_z,
                                         bool over_part_only) const;
  template <typename Good>
  [[nodiscard]] int neighbours(int column, int row, bool outside, const Good& good) const;
  void measure(const std::vector<std::uint8_t>& there, double times, Cleared& cleared) const;
  void lower(const std::vector<double>& reached, double radius_mm);
  [[nodiscard]] std::vector<double> over_disc(const std::vector<double>& values, double radius_mm,
                                              bool highest) const;
  [[nodiscard]] std::size_t index(int column, int row) const {
    return static_cast<std::size_t>(row) * static_cast<std::size_t>(columns_) +
           static_cast<std::size_t>(column);
  }
  [[nodiscard]] Vec2 at(int column, int row) const { return low_ + cell_ * Vec2(column + 0.5, row + 0.5); }
  double cell_ = 1;
  int columns_ = 1, rows_ = 1;
  Vec2 low_{0, 0};
  std::vector<double> left_;  ///< height of the material
};

}  // namespace yardpass::detail
