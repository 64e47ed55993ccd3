// The material as the linker meets it: carved by the moves so far, asked before the next.
#pragma once

#include <set>
#include <vector>

#include "yardpass/contact/tool_surface.h"
#include "yardpass/stock/stock.h"

namespace yardpass::detail {

class Material {
 public:
  Material(const ToolSurface& surface, Stock before);

  /// A move at feed of a cut, carried out when the material is next asked for.
  void moved(const Vec3& from, const Vec3& to, std::int32_t cut);
  void catch_up();

  // As of the last catch_up():

  /// Lowest tip from which nothing can stand under the tool, between cell centres neither.
  [[nodiscard]] double free_height(const Vec2& place) const;
  /// Lowest tip under which all is cleared: is_cleared() holds from there up.
  [[nodiscard]] double cleared_height(const Vec2& place) const;
  /// How thick the material is that the cutter meets at a place, at cell centres.
  [[nodiscard]] double thickness_met(const Vec3& tip) const { return stock_.thickness_met(cutter_, tip); }
  /// What this operation has left so far between the cell centres under the tool: as free_height().
  [[nodiscard]] double over_own_ribs(const Vec2& place) const { return over_own_ribs(place, place); }
  /// Lowest tip, at least `least`, with which the tool (its neck, shank and holder too) runs straight and
  /// level over all that stands between two places.
  [[nodiscard]] double free_height(const Vec2& from, const Vec2& to, double least);
  /// How high it stands above a tip under the middle of the tool.
  [[nodiscard]] double under_axis(const Vec3& tip) const;
  /// Nothing stands higher under all of the tool, but for what it may touch at its rim.
  [[nodiscard]] bool is_cleared(const Vec3& tip) const;
  /// The same all along a straight way.
  [[nodiscard]] bool is_cleared(const Vec3& from, const Vec3& to);

  /// Cuts that went deeper than the flutes.
  [[nodiscard]] const std::set<std::int32_t>& deep_cuts() const { return deep_cuts_; }
  /// What is left, with notes on what may be hidden between cells.
  [[nodiscard]] Stock take();

 private:
  [[nodiscard]] double over_own_ribs(const Vec2& from, const Vec2& to) const;
  [[nodiscard]] bool cut_everywhere(const HiddenSquare& square) const;
  void note_hidden();

  Stock stock_;
  Stock before_;  // the operation: what it leaves stands no higher
  Profile cutter_;
  Profile wide_ = Profile::needle();  // material between centres may stand nearer
  double wide_tip_ = 0;
  Profile core_ = Profile::needle();  // the middle of the tool, and what may stand beside it between centres
  std::vector<TestedBody> above_flutes_;
  std::vector<TestedBody> above_wide_;  // what is above the cutter, beside the wide one
  std::vector<SweptMove> pending_, carved_;
  std::vector<std::int32_t> pending_cuts_;  // which cut each pending move belongs to
  CarveLog log_;
  std::set<std::int32_t> deep_cuts_;
};

}  // namespace yardpass::detail
