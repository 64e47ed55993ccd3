#include "yardpass/strategy/roughing.h"

#include <algorithm>
#include <cmath>

#include "geom/parallel_for.h"
#include "strategy/area_cutter.h"
#include "yardpass/plan/cut_area.h"
#include "yardpass/plan/level_area.h"

namespace yardpass {

namespace {

struct RoughingLevel {
  double z;
  bool only_flats = false;  ///< there only for flats: what has none there waits for the next level
};

/// A stepdown apart from the top, one at the bottom, and one on each flat that the tool can stand on within
/// the area.
std::vector<RoughingLevel> levels_between(const Site& site, const LevelAreas& areas, double top,
                                          double stepdown, double lowest) {
  constexpr double kSame = 1e-3;  // mm
  const TipSurface& surface = site.surface;
  const double radius = surface.cutter().radius();
  std::vector<RoughingLevel> levels;
  for (int k = 1; top - k * stepdown > lowest + 1e-6; ++k) levels.push_back({top - k * stepdown});
  if (site.bottom_z > lowest - 1e-6 && site.bottom_z < top - 1e-6) levels.push_back({site.bottom_z});
  const std::size_t regular = levels.size();
  for (const Flat& flat : flats(surface.part().mesh(), radius * radius))
    for (const double allowance : surface.floor_allowances_mm()) {
      const double z = flat.z_mm + allowance;
      if (!(z < top - 1e-6 && z > lowest - 1e-6 && areas.rests_at(z, site.area))) continue;
      // A flat counts exactly, a level that is nearly there is moved onto it.
      const auto near = [&](const RoughingLevel& level) { return std::abs(level.z - z) < kSame; };
      const auto known = std::find_if(levels.begin(), levels.end(), near);
      if (known == levels.end())
        levels.push_back({z, true});
      else if (static_cast<std::size_t>(known - levels.begin()) < regular)
        known->z = std::max(known->z, z);
    }
  std::erase_if(levels, [&](const RoughingLevel& level) { return level.z < site.bottom_z; });
  std::sort(levels.begin(), levels.end(),
            [](const RoughingLevel& one, const RoughingLevel& other) { return one.z > other.z; });
  levels.erase(std::unique(levels.begin(), levels.end(),
                           [&](const RoughingLevel& one, const RoughingLevel& other) {
                             return one.z - other.z < kSame;
                           }),
               levels.end());
  return levels;
}

/// What one level gives.
struct LevelCuts {
  std::vector<detail::AreaCuts> areas;
  std::vector<Vec3> necks;
  double left_thin_mm3 = 0;
};

/// One neck may close more than one cell.
void add_neck(const Vec3& neck, std::vector<Vec3>& necks) {
  constexpr double kOne = 0.5;  // mm
  const auto same = [&](const Vec3& other) { return (neck - other).norm() < kOne; };
  if (std::none_of(necks.begin(), necks.end(), same)) necks.push_back(neck);
}

LevelCuts cut_level(const LevelAreas& areas, const Site& site, const RoughingOptions& options,
                    double thinnest, const RoughingLevel& at, double upper_z) {
  const double z = at.z;
  LevelCuts result;
  const LevelArea level = areas.at(z);
  for (const Vec2& neck : level.closed_necks) add_neck(with_z(neck, z), result.necks);
  const Region free = intersect(level.area, site.area);
  Region axis = free;
  if (site.before) {
    const Profile& cutter = site.surface.cutter();
    const double ridge = cutter.height(detail::passed_within(cutter, options.stepover_mm, site.tolerance_mm));
    const CutAreaOptions what{cutter, ridge, thinnest, site.tolerance_mm, upper_z};
    CutArea to_cut = cut_area(*site.before, z, free, what);
    axis = std::move(to_cut.axis);
    result.left_thin_mm3 = to_cut.left_out_mm3;
  }
  for (Region& piece : pieces(axis)) {
    if (at.only_flats && !areas.rests_at(z, piece)) continue;
    result.areas.push_back(detail::AreaCutter(site, options, free, std::move(piece), z, upper_z).cut());
  }
  return result;
}

/// The areas of all levels as groups in their order.
class Assembly {
 public:
  Assembly(std::vector<LevelCuts> levels, const Site& site, double top, double thinnest)
      : site_(site), top_(top), thinnest_(thinnest), radius_(site.surface.cutter().radius()) {
    for (LevelCuts& level : levels) {
      left_thin_mm3_ += level.left_thin_mm3;
      necks_.insert(necks_.end(), level.necks.begin(), level.necks.end());
      for (detail::AreaCuts& area : level.areas) areas_.push_back(std::move(area));
    }
  }

  CutPlan plan(LevelOrder order) {
    std::vector<LevelPiece> pieces;
    for (const detail::AreaCuts& area : areas_) {
      LevelPiece piece{area.area, area.group.level_z};
      if (!area.group.cuts.empty())
        piece.begin = yardpass::plan(area.group.cuts.front().points.front()),
        piece.end = yardpass::plan(area.group.cuts.back().points.back());
      pieces.push_back(std::move(piece));
    }
    const auto before = pieces_before(pieces, radius_);
    refuse_below(before);
    measure_refused();
    CutPlan result;
    std::vector<std::int32_t> place(areas_.size(), -1);
    const std::vector<std::int32_t> numbers = pass_numbers();
    for (const std::int32_t k : order_of(pieces, before, order)) {
      const auto i = static_cast<std::size_t>(k);
      detail::AreaCuts& area = areas_[i];
      counts_ += area.counts;
      refused_.insert(refused_.end(), area.refused.begin(), area.refused.end());
      if (area.group.cuts.empty()) continue;
      place[i] = static_cast<std::int32_t>(result.groups.size());
      for (Cut& cut : area.group.cuts) cut.pass = numbers[i];
      for (const std::int32_t b : before[i])
        if (place[static_cast<std::size_t>(b)] >= 0)
          area.group.after.push_back(place[static_cast<std::size_t>(b)]);
      result.groups.push_back(std::move(area.group));
    }
    return result;
  }

  [[nodiscard]] const detail::AreaCounts& counts() const { return counts_; }
  [[nodiscard]] const std::vector<detail::RefusedArea>& refused() const { return refused_; }
  [[nodiscard]] const std::vector<Vec3>& necks() const { return necks_; }
  [[nodiscard]] double left_thin_mm3() const { return left_thin_mm3_; }

 private:
  /// Below what is refused nothing is cut: it would be deeper than the level says.
  void refuse_below(const std::vector<std::vector<std::int32_t>>& before) {
    for (std::size_t i = 0; i < areas_.size(); ++i)
      for (const std::int32_t b : before[i]) {
        const detail::AreaCuts& above = areas_[static_cast<std::size_t>(b)];
        detail::AreaCuts& area = areas_[i];
        if (!above.wholly_refused() || area.group.cuts.empty()) continue;
        if (subtract(area.area, above.area).area_mm2() > 0.01 * area.area.area_mm2()) continue;
        area.counts = {}, area.group.cuts.clear();
        area.refused = {{with_z(area.area.loops.front().front(), area.group.level_z)}};
      }
  }

  /// What lies under a refused area and under no other one of its level; nothing, if that is too thin anyhow.
  void measure_refused() {
    double upper_z = top_, z = std::numeric_limits<double>::quiet_NaN();
    for (std::size_t i = 0; i < areas_.size(); ++i) {
      detail::AreaCuts& area = areas_[i];
      if (area.group.level_z != z) upper_z = i == 0 ? top_ : z, z = area.group.level_z;
      if (!area.wholly_refused()) continue;
      Region swept = offset(area.area, radius_, kArc);
      for (const detail::AreaCuts& other : areas_)
        if (other.group.level_z == z && !other.group.cuts.empty() &&
            !other.area.box().intersection(grown(area.area.box(), 2 * radius_)).isEmpty())
          swept = subtract(swept, offset(other.area, radius_, kArc));
      swept = offset(offset(swept, -0.5 * thinnest_, kArc), 0.5 * thinnest_, kArc);
      area.refused = {detail::refused_area(site_, swept, z, upper_z)};
      if (!(area.refused.front().area_mm2 > 0)) area.refused.clear();
    }
  }
  static Box2 grown(const Box2& box, double by) {
    return {Vec2(box.min().array() - by), Vec2(box.max().array() + by)};
  }

  /// Levels with cuts, from 1.
  [[nodiscard]] std::vector<std::int32_t> pass_numbers() const {
    std::vector<std::int32_t> numbers(areas_.size(), 0);
    std::int32_t number = 0;
    double z = std::numeric_limits<double>::infinity();
    for (std::size_t i = 0; i < areas_.size(); ++i) {
      if (areas_[i].group.cuts.empty()) continue;
      if (areas_[i].group.level_z != z) ++number, z = areas_[i].group.level_z;
      numbers[i] = number;
    }
    return numbers;
  }

  static constexpr double kArc = 0.01;  // mm, of planar operations that only measure
  const Site& site_;
  double top_, thinnest_, radius_, left_thin_mm3_ = 0;
  std::vector<detail::AreaCuts> areas_;  // highest level first
  std::vector<Vec3> necks_;
  detail::AreaCounts counts_;
  std::vector<detail::RefusedArea> refused_;
};

double top_of(const Site& site) {
  if (std::isfinite(site.top_z)) return site.top_z;
  if (!site.before)
    throw Error("roughing needs the top of what is to be cut: a site with top_z or with material");
  return site.before->block().max().z();
}

void tell_levels(CutPlan& plan) {
  std::vector<double> levels;
  for (const CutGroup& group : plan.groups) levels.push_back(group.level_z);
  if (levels.empty()) return;
  std::sort(levels.rbegin(), levels.rend());
  levels.erase(std::unique(levels.begin(), levels.end()), levels.end());
  plan.facts.push_back({"levels", count_of(static_cast<std::int64_t>(levels.size())),
                        "from the top of the stock, and one on each flat"});
  plan.facts.push_back({"highest level", length_of(levels.front()), "in Z"});
  plan.facts.push_back({"lowest level", length_of(levels.back()), "in Z"});
}

/// "at X1 Y2 Z3, X4 ...": the first few of many.
void list_places(Note& note, const std::vector<Vec3>& places) {
  constexpr std::size_t kListed = 8;
  for (std::size_t k = 0; k < std::min(kListed, places.size()); ++k) {
    note.says += k == 0 ? " {}" : ", {}";
    note.values.push_back(place_at(places[k].x(), places[k].y(), places[k].z()));
  }
  if (places.size() > kListed) note.says += ", ...";
}

void tell_ways(CutPlan& plan, detail::AreaCounts counts) {
  using detail::WayKind;
  struct Words {
    WayKind kind;
    const char *one, *many;
  };
  constexpr Words words[] = {{WayKind::from_air, "from air", "from air"},
                             {WayKind::drilled, "drilled place", "drilled places"},
                             {WayKind::helix, "helix", "helices"},
                             {WayKind::ramp, "ramp along a cut", "ramps along a cut"},
                             {WayKind::plunge, "straight down", "straight down"}};
  std::string told;
  for (const auto& [kind, one, many] : words)
    if (const std::int64_t count = counts.of(kind); count > 0)
      told += (told.empty() ? "" : ", ") + std::to_string(count) + " " + (count == 1 ? one : many);
  if (!told.empty()) plan.facts.push_back({"ways in", words_of(told), "by what is open at each area"});
}

void tell_refused(CutPlan& plan, std::vector<detail::RefusedArea> refused, const RoughingOptions& options) {
  if (refused.empty()) return;
  std::stable_sort(refused.begin(), refused.end(),
                   [](const auto& a, const auto& b) { return a.volume_mm3 > b.volume_mm3; });
  double area = 0, volume = 0;
  for (const detail::RefusedArea& one : refused) area += one.area_mm2, volume += one.volume_mm3;
  const std::string needs = options.entry == LevelEntry::helix  ? "no helix of {} and no ramp of {} fits"
                            : options.entry == LevelEntry::ramp ? "no ramp of {} fits"
                                                                : "nothing leads there";
  Note note{"refused",
            (refused.size() == 1 ? "{} area is not cut, {} and {}, as "
                                 : "{} areas are not cut, {} and {} in all, as ") +
                needs,
            {count_of(static_cast<std::int64_t>(refused.size())), number_of(area, Unit::mm2),
             number_of(volume, Unit::mm3)}};
  if (options.entry == LevelEntry::helix) note.values.push_back(length_of(options.least_helix_mm));
  if (options.entry != LevelEntry::plunge) note.values.push_back(length_of(options.least_ramp_mm));
  constexpr std::size_t kListed = 8;
  for (std::size_t k = 0; k < std::min(kListed, refused.size()); ++k) {
    note.says += k == 0 ? ": {} and {} at {}" : "; {} and {} at {}";
    note.values.push_back(number_of(refused[k].area_mm2, Unit::mm2));
    note.values.push_back(number_of(refused[k].volume_mm3, Unit::mm3));
    note.values.push_back(place_at(refused[k].at.x(), refused[k].at.y(), refused[k].at.z()));
  }
  if (refused.size() > kListed) note.says += "; ...";
  plan.notes.push_back(std::move(note));
}

void note_what_matters(CutPlan& plan, const Site& site, double top, double stepdown, std::int64_t pegs) {
  if (site.before && top < site.before->block().max().z())
    plan.notes.push_back({"top",
                          "the levels start {} below the top of the stock",
                          {length_of(site.before->block().max().z() - top)}});
  if (pegs > 0)
    plan.notes.push_back({"pegs",
                          pegs == 1 ? "{} peg between loops was cut on its own"
                                    : "{} pegs between loops were cut on their own",
                          {count_of(pegs)}});
  const double flutes = site.surface.tool().flute_length_mm;
  if (flutes < stepdown)
    plan.notes.push_back({"flutes", "the stepdown is deeper than the flutes, {}", {length_of(flutes)}});
}

void check(const RoughingOptions& options, const Site& site) {
  const double diameter = 2 * site.surface.cutter().radius();
  require(options.stepdown_mm > 0, "stepdown_mm", "must be above 0");
  require(options.stepover_mm > 0 && options.stepover_mm < diameter, "stepover_mm",
          "must be above 0 and below the tool's diameter");
  require(site.tolerance_mm > 0, "tolerance_mm", "must be above 0");
  require(options.thinnest_mm >= 0, "thinnest_mm", "must be at least 0");
  require(options.corner_radius_mm >= 0, "corner_radius_mm", "must be at least 0");
  require(options.least_helix_mm > 0, "least_helix_mm", "must be above 0");
  require(options.helix_radius_mm >= options.least_helix_mm, "helix_radius_mm",
          "must be at least least_helix_mm");
}

}  // namespace

CutPlan cuts_of(const RoughingOptions& options, const Site& site, const Progress& progress) {
  check(options, site);
  const double tolerance = site.tolerance_mm, top = top_of(site);
  if (site.area.empty()) return {};
  const LevelAreas areas(site.surface, site.area.box(), {.tolerance_mm = tolerance},
                         part_of(progress, 0, 0.3));
  const double foot = site.surface.part().box().min().z();
  double lowest = areas.lowest(site.area);
  if (lowest == kNothingBelow) lowest = foot;
  lowest = std::max({lowest, foot, site.bottom_z});
  const auto levels = levels_between(site, areas, top, options.stepdown_mm, lowest - tolerance);
  // Nothing thinner than some cells is sure to be there.
  const double thinnest =
      site.before ? std::max(options.thinnest_mm, 2.5 * site.before->cell_mm()) : options.thinnest_mm;
  // No level waits for another: what is cut above one is what stands higher than it before the operation.
  std::vector<LevelCuts> cut(levels.size());
  detail::parallel_for(levels.size(), part_of(progress, 0.3, 1), [&](std::size_t i) {
    cut[i] = cut_level(areas, site, options, thinnest, levels[i], i == 0 ? top : levels[i - 1].z);
  });
  Assembly assembly(std::move(cut), site, top, thinnest);
  CutPlan plan = assembly.plan(options.order);
  tell_levels(plan);
  tell_ways(plan, assembly.counts());
  if (site.before && plan.empty() && assembly.refused().empty())
    plan.notes.push_back({"nothing",
                          "nothing to cut: on none of its levels the tool reaches material thicker than {}",
                          {length_of(thinnest)}});
  if (assembly.left_thin_mm3() > 0)
    plan.facts.push_back({"left thin", number_of(assembly.left_thin_mm3(), Unit::mm3),
                          "material thinner than asked for, sideways"});
  if (const auto& necks = assembly.necks(); !necks.empty()) {
    Note note{
        "necks",
        necks.size() == 1 ? "{} neck with less play than {} is closed: the tool does not pass at"
                          : "{} necks with less play than {} are closed: the tool does not pass at",
        {count_of(static_cast<std::int64_t>(necks.size())), length_of(LevelAreaOptions{}.least_play_mm)}};
    list_places(note, necks);
    plan.notes.push_back(std::move(note));
  }
  tell_refused(plan, assembly.refused(), options);
  note_what_matters(plan, site, top, options.stepdown_mm, assembly.counts().pegs);
  return plan;
}

}  // namespace yardpass
