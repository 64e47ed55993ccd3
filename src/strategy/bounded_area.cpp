#include "strategy/bounded_area.h"

#include <algorithm>
#include <cmath>

namespace yardpass::detail {

namespace {

constexpr double kCellsOfRadius = 45;

/// Turns what the walk gives into cuts.
class Emission {
 public:
  Emission(const Site& site, const LevelRoom& room, double z, bool plunges, AreaCuts& result)
      : site_(site), room_(room), z_(z), plunges_(plunges), result_(result) {}

  void add(const WalkPiece& piece) {
    switch (piece.kind) {
      case WalkPiece::Kind::helix:
        end_helix();
        helix_ = piece.helix, helix_from_ = piece.points.front();
        ++result_.counts.of(WayKind::helix);
        break;
      case WalkPiece::Kind::ramp:
        end_helix();
        ++result_.counts.of(plunges_ ? WayKind::plunge : WayKind::ramp);
        emit(piece.points, plunges_ ? Entry::straight : Entry::ramp);
        break;
      case WalkPiece::Kind::link:
        add_link(simplify(piece.points, tolerance()));
        break;
      case WalkPiece::Kind::cut:
        // What is as short as the tolerance would be dropped as a scrap, and the way would break off there.
        if (length(std::span<const Vec2>(piece.points)) > 2 * site_.tolerance_mm)
          add_cut(simplify(piece.points, tolerance()));
        else if (!helix_)
          add_link(piece.points);
        break;
    }
  }
  /// A helix that nothing follows: the circle alone.
  void end_helix() {
    if (helix_) add_cut({helix_from_, helix_->centre});
  }

 private:
  [[nodiscard]] double tolerance() const { return 0.2 * site_.tolerance_mm; }
  [[nodiscard]] bool goes_on(const Vec2& from) const { return at_ && (*at_ - from).norm() < 1e-9; }

  void add_link(Polyline2 points) {
    if (!room_.is_free(points)) return;
    if (helix_) return add_cut(std::move(points));
    if (!goes_on(points.front())) return;
    Cut cut;
    cut.link = true;
    for (const Vec2& p : points) cut.points.push_back(with_z(p, z_));
    at_ = points.back();
    result_.group.cuts.push_back(std::move(cut));
  }

  void add_cut(Polyline2 points) {
    bool in_helix = false;
    if (helix_) {
      in_helix = (points.front() - helix_from_).norm() < 1e-9 || room_.is_free(helix_from_, points.front());
      if (!in_helix) {  // the helix alone, then from the air into what it has cleared
        emit({helix_from_, helix_->centre}, Entry::helix);
      } else if ((points.front() - helix_from_).norm() >= 1e-9) {
        points.insert(points.begin(), helix_from_);
      }
    } else if (!goes_on(points.front())) {
      ++result_.counts.of(WayKind::from_air);
    }
    emit(points, in_helix ? Entry::helix : Entry::ramp);
  }

  void emit(const Polyline2& points, Entry entry) {
    std::vector<Polyline3> lines = room_.at_level(points);
    // Where the first place had to be lifted the helix has no way on at its own height: it is cut alone, for
    // what follows counts on the ground that it clears.
    if (entry == Entry::helix && (lines.empty() || lines.front().front().z() != z_)) {
      Cut cut;
      cut.entry = Entry::helix, cut.helix = *helix_;
      cut.points = {with_z(helix_from_, z_), with_z(helix_->centre, z_)};
      result_.group.cuts.push_back(std::move(cut));
      entry = Entry::ramp;
    }
    for (Polyline3& line : lines) {
      if (line.size() < 2) continue;
      Cut cut;
      cut.entry = entry;
      if (cut.entry == Entry::helix) cut.helix = *helix_;
      entry = Entry::ramp;
      at_ = plan(line.back());
      cut.points = std::move(line);
      result_.group.cuts.push_back(std::move(cut));
    }
    helix_.reset();
  }

  const Site& site_;
  const LevelRoom& room_;
  double z_;
  bool plunges_;
  AreaCuts& result_;
  std::optional<Helix> helix_;
  Vec2 helix_from_{0, 0};
  std::optional<Vec2> at_;
};

LevelMaterial material_of(const Site& site, const BoundedLevel& level) {
  LevelMaterial material;
  if (!site.before) {
    material.block = {Vec2::Constant(-1e9), Vec2::Constant(1e9)};
    material.all_stands = true;
    material.stands = material.wanted = [](const Vec2&) { return true; };
    return material;
  }
  const Stock& stock = *site.before;
  material.block = {plan(stock.block().min()), plan(stock.block().max())};
  const double above = level.z + site.tolerance_mm;
  material.all_stands = level.all_stands;
  material.stands = [&stock, above](const Vec2& p) {
    const auto cell = stock.cell_at(p);
    return cell && stock.heights()[*cell] > above;
  };
  const std::span<const std::uint8_t> to_cut = level.to_cut;
  material.wanted = [&stock, to_cut](const Vec2& p) {
    const auto cell = stock.cell_at(p);
    return to_cut.empty() || (cell && to_cut[*cell]);
  };
  return material;
}

MaterialHand hand_of(LoopDirection direction) {
  switch (direction) {
    case LoopDirection::climb:
      return MaterialHand::right;
    case LoopDirection::conventional:
      return MaterialHand::left;
    case LoopDirection::zigzag:
      return MaterialHand::either;
  }
  return MaterialHand::right;
}

WaysDown ways_down(const RoughingOptions& options, const LevelRoom& room) {
  WaysDown down;
  down.only_ramps = options.entry != LevelEntry::helix;
  down.helix = [&](const Vec2& at, double most, double least) -> std::optional<Helix> {
    const double smallest = std::max(least, options.least_helix_mm);
    if (most < smallest) return std::nullopt;
    // What blocks is known to within the raster's cells: a little smaller where it does not fit.
    for (double radius = std::min(most, options.helix_radius_mm);;
         radius = std::max(0.9 * radius, smallest)) {
      if (const auto centre = room.helix_fits(at, radius))
        return Helix{*centre, radius, options.direction == LoopDirection::conventional};
      if (radius <= smallest) return std::nullopt;
    }
  };
  down.ramp = [&](const Vec2& from, const Vec2& to) {
    const bool spans = (to - from).cwiseAbs().maxCoeff() >= options.least_ramp_mm;
    return (spans || options.entry == LevelEntry::plunge) && room.is_free(from, to);
  };
  return down;
}

}  // namespace

bool all_stands(const Site& site, double z) {
  if (!site.before) return true;
  const auto heights = site.before->heights();
  return std::all_of(heights.begin(), heights.end(),
                     [&](double height) { return height > z + site.tolerance_mm; });
}

AreaCuts cut_bounded(const Site& site, const RoughingOptions& options, Region piece,
                     const BoundedLevel& level) {
  AreaCuts result;
  result.group.level_z = level.z;
  const LevelRoom room(site, level.z);
  const double height = std::isfinite(level.upper_z) ? level.upper_z - level.z : options.stepdown_mm,
               // As wide as the cutter is at the step's top.
      radius = site.surface.cutter().radius_at_height(std::max(height, 0.01)), cell = radius / kCellsOfRadius,
               margin = 0.3 * site.tolerance_mm + cell * cell / radius;
  const Box2 box = piece.box();
  const BoundedWalkOptions walk_options{radius, options.engagement_deg, hand_of(options.direction),
                                        box.min()};
  const BoundedWalk walk = walk_bounded(level_raster(piece, material_of(site, level), radius, cell, margin),
                                        walk_options, ways_down(options, room));
  Emission emission(site, room, level.z, options.entry == LevelEntry::plunge, result);
  for (const WalkPiece& one : walk.pieces) emission.add(one);
  emission.end_helix();
  result.area = std::move(piece);
  if (result.group.cuts.empty()) {
    if (!walk.remains.empty()) result.refused.push_back({with_z(walk.remains.front().at, level.z)});
    return result;
  }
  for (const WalkRemains& remains : walk.remains) {
    const Vec3 at = with_z(remains.at, level.z);
    if (remains.area_mm2 > 0.1 * radius * radius)
      result.refused.push_back({at, remains.area_mm2, remains.area_mm2 * height});
    else
      result.left_in_corners_mm3 += remains.area_mm2 * height;
  }
  return result;
}

}  // namespace yardpass::detail
