#include "link/material.h"

#include <algorithm>
#include <limits>

#include "yardpass/contact/assembly.h"
#include "yardpass/geom/polyline.h"
#include "yardpass/stock/between_cells.h"

namespace yardpass::detail {

namespace {
constexpr double kTouching = 0.01;  // mm
}

Material::Material(const ToolSurface& surface, Stock before)
    : stock_(std::move(before)), before_(stock_), cutter_{surface.cutter()} {
  // Between cell centres material may stand nearer by up to half a cell's diagonal.
  const double nearer = 0.75 * stock_.cell_mm();
  const Resized wide = *resized(cutter_, nearer);
  wide_ = wide.profile;
  wide_tip_ = wide.tip_z_mm;
  core_ = Profile::flat(2 * std::max(0.1 * cutter_.radius(), 0.75 * stock_.cell_mm()) + 2 * stock_.cell_mm());
  constexpr double kAtFlutes = 0.001;
  const double flutes = surface.tool().flute_length_mm;
  if (flutes > 0)
    above_flutes_.push_back({0, Profile::flat(2 * cutter_.radius()), flutes + kAtFlutes, false});
  const Tool& tool = surface.tool();
  for (const ToolSection& section : sections_above(tool))
    if (const auto body = resized(section.profile, nearer + clearance_of(tool, section.part)))
      above_wide_.push_back({0, body->profile, section.above_tip_mm + body->tip_z_mm - wide_tip_});
}

void Material::moved(const Vec3& from, const Vec3& to, std::int32_t cut) {
  pending_.push_back({from, to, 0, true});
  pending_cuts_.push_back(cut);
}

void Material::catch_up() {
  if (pending_.empty() && !log_.last_cut.empty()) return;
  log_.first_move = static_cast<std::int32_t>(carved_.size());
  carve(stock_, std::span<const Profile>(&cutter_, 1), pending_, &log_, {}, above_flutes_);
  for (const CarveLog::Meeting& meeting : log_.meetings)
    deep_cuts_.insert(pending_cuts_[static_cast<std::size_t>(meeting.move - log_.first_move)]);
  pending_cuts_.clear();
  carved_.insert(carved_.end(), pending_.begin(), pending_.end());
  pending_.clear();
}

double Material::free_height(const Vec2& place) const { return stock_.free_height(wide_, place) - wide_tip_; }

double Material::over_own_ribs(const Vec2& from, const Vec2& to) const {
  double highest = -std::numeric_limits<double>::infinity();
  if (log_.last_cut.empty()) return highest;
  const double radius = cutter_.radius();
  // In pieces, so that the boxes around them are no wider than need be.
  const int pieces = static_cast<int>((to - from).norm() / (4 * radius)) + 1;
  for (int k = 0; k < pieces; ++k) {
    const Vec2 a = from + (to - from) * (1.0 * k / pieces), b = from + (to - from) * ((k + 1.0) / pieces);
    const Box2 under(a.cwiseMin(b).array() - radius, a.cwiseMax(b).array() + radius);
    for (const HiddenSquare& square :
         hidden_between(stock_, std::span<const Profile>(&cutter_, 1), carved_, log_.last_cut, 0, under)) {
      const Box2 box = stock_.box_of(square);
      const double near =
          from == to
              ? box.exteriorDistance(from)
              : std::max(0.0, distance_to_segment(Vec2(box.center()), a, b) - 0.5 * box.sizes().norm());
      if (near <= radius && cut_everywhere(square))
        highest = std::max(highest, square.top_z - cutter_.height(near));
    }
  }
  return highest;
}

double Material::free_height(const Vec2& from, const Vec2& to, double least) {
  double tip = least;
  const auto raise_over = [&](Stock& stock) {
    const SweptMove way{with_z(from, tip + wide_tip_), with_z(to, tip + wide_tip_), 0, false};
    CarveLog met;
    carve(stock, std::span<const Profile>(&wide_, 1), std::span<const SweptMove>(&way, 1), &met, {},
          above_wide_);
    double more = met.entered.front();
    for (const CarveLog::Meeting& meeting : met.meetings) more = std::max(more, meeting.depth_mm);
    return tip + more;
  };
  // What it was before the operation stands no lower, ribs of the operation's own included; where that is not
  // much higher it will do.
  constexpr double kCheap = 2;  // mm
  const double over_before = raise_over(before_);
  tip = over_before <= tip + kCheap ? over_before : raise_over(stock_);
  for (const HiddenSquare& square : stock_.hidden()) {
    const Box2 box = stock_.box_of(square);
    const double near =
        std::max(0.0, distance_to_segment(Vec2(box.center()), from, to) - 0.5 * box.sizes().norm());
    if (near <= cutter_.radius()) tip = std::max(tip, square.top_z - cutter_.height(near));
  }
  if (over_before <= tip) return tip;
  return std::max(tip, over_own_ribs(from, to));
}

double Material::under_axis(const Vec3& tip) const { return stock_.free_height(core_, plan(tip)) - tip.z(); }

double Material::cleared_height(const Vec2& place) const {
  double height = stock_.free_height(cutter_, place);
  if (const double radius = cutter_.radius() - 0.5 * stock_.cell_mm(); radius > 0)
    height = std::min(height, stock_.free_height(Profile::flat(2 * radius), place));
  return height;
}

bool Material::is_cleared(const Vec3& tip) const { return cleared_height(plan(tip)) <= tip.z() + kTouching; }

bool Material::is_cleared(const Vec3& from, const Vec3& to) {
  catch_up();
  CarveLog met;
  const SweptMove way{from, to, 0, false};
  carve(stock_, std::span<const Profile>(&cutter_, 1), std::span<const SweptMove>(&way, 1), &met);
  return met.entered.front() <= kTouching;
}

bool Material::cut_everywhere(const HiddenSquare& square) const {
  const Stock::CellRange centres = stock_.centres_of(square);
  for (int row = centres.first_row; row < centres.last_row; ++row)
    for (int column = centres.first_column; column < centres.last_column; ++column)
      if (log_.last_cut[stock_.index(column, row)] < 0) return false;
  return true;
}

/// What this operation may have left between the cell centres, for the approaches of those that follow.
/// Beside ground that it did not cut nobody knows which move cut that, so nothing is noted there: the judge,
/// who knows all moves, looks there too.
void Material::note_hidden() {
  if (log_.last_cut.empty()) return;
  const std::span<const Profile> cutter(&cutter_, 1);
  std::vector<HiddenSquare> hidden = stock_.hidden();
  for (const HiddenSquare& square : hidden_between(stock_, cutter, carved_, log_.last_cut))
    if (cut_everywhere(square)) hidden.push_back(square);
  // Also where another move than those that cut its corners last clears a square all alone.
  hidden = still_hidden(hidden, stock_, cutter, carved_);
  stock_.set_hidden(std::move(hidden));
}

Stock Material::take() {
  catch_up();
  note_hidden();
  return std::move(stock_);
}

}  // namespace yardpass::detail
