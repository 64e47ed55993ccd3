#include "yardpass/strategy/roughing.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <optional>

#include "geom/parallel_for.h"
#include "stock/cells_inside.h"
#include "strategy/bounded_area.h"
#include "strategy/roughing_assembly.h"
#include "strategy/roughing_levels.h"
#include "yardpass/plan/cut_area.h"

namespace yardpass {

namespace {

/// Where the axis may be: what comes from beside the stock, and goes on there, may leave the area.
Region axis_area(const Site& site, const RoughingOptions& options) {
  if (options.pattern != LevelPattern::bounded || !options.may_leave || !site.before) return site.area;
  constexpr double kArc = 0.01, kAtSide = 0.01;  // mm
  const Box3& block = site.before->block();
  const Box2 inside_block(plan(block.min()).array() + kAtSide, plan(block.max()).array() - kAtSide);
  const double beside = 1.5 * site.surface.cutter().radius() + 1;
  return unite(site.area, subtract(offset(site.area, beside, kArc), rectangle(inside_block)));
}

/// Of the cells that a level lowers, those under the pieces that are cut.
void keep_cells_under(const std::vector<Region>& pieces, const Stock& stock, double radius,
                      std::vector<std::uint8_t>& cells) {
  std::vector<std::uint8_t> kept(cells.size(), 0);
  for (const Region& piece : pieces)
    detail::for_cells_inside(stock, offset(piece, radius, 0.01), [&](int column, int row) {
      kept[stock.index(column, row)] = cells[stock.index(column, row)];
    });
  cells = std::move(kept);
}

/// What there is to cut on a level of the material before it.
struct ToCut {
  Region free;  ///< where the tool can stand
  std::vector<Region> pieces;
  detail::LevelCuts level;  ///< still without cuts
};

ToCut what_to_cut(const detail::RoughingLevel& level, const Region& barred, const LevelAreas& areas,
                  const Site& site, const RoughingOptions& options, double thinnest) {
  const double z = level.z;
  ToCut result;
  for (const Vec2& neck : level.drawn.closed_necks) result.level.necks.push_back(with_z(neck, z));
  result.free = barred.empty() ? level.drawn.area : subtract(level.drawn.area, barred);
  Region axis = result.free;
  if (site.before) {
    const Profile& cutter = site.surface.cutter();
    const double ridge = cutter.height(detail::passed_within(cutter, options.stepover_mm, site.tolerance_mm));
    CutAreaOptions what{cutter, ridge, thinnest, site.tolerance_mm};
    what.upper_z = level.upper_z;
    // Room to come from what is cleared.
    if (options.pattern == LevelPattern::bounded) what.around_mm = 0.5 * cutter.radius();
    CutArea to_cut = cut_area(*site.before, z, result.free, what);
    axis = std::move(to_cut.axis);
    result.level.cells = std::move(to_cut.cells);
    result.level.left_thin_mm3 = level.between ? 0 : to_cut.left_out_mm3;
  }
  result.pieces = pieces(axis);
  if (!level.only_flats) return result;
  std::erase_if(result.pieces, [&](const Region& piece) { return !areas.rests_at(z, piece); });
  if (!result.level.cells.empty())
    keep_cells_under(result.pieces, *site.before, site.surface.cutter().radius(), result.level.cells);
  return result;
}

detail::LevelCuts cut_level(ToCut what, const detail::RoughingLevel& level, const Site& site,
                            const RoughingOptions& options, std::int32_t stage) {
  const bool bounded = options.pattern == LevelPattern::bounded;
  const detail::BoundedLevel here{level.z, level.upper_z, what.level.cells,
                                  bounded && detail::all_stands(site, level.z)};
  for (Region& piece : what.pieces) {
    detail::AreaCuts cuts =
        bounded
            ? detail::cut_bounded(site, options, std::move(piece), here)
            : detail::AreaCutter(site, options, what.free, std::move(piece), level.z, level.upper_z).cut();
    cuts.stage = stage, cuts.upper_z = level.upper_z;
    what.level.areas.push_back(std::move(cuts));
  }
  return std::move(what.level);
}

/// What the cuts of a level really take: not what they leave in corners, nor what nothing leads into.
void carve_cuts(Stock& stock, const Profile& cutter, const detail::LevelCuts& level) {
  constexpr int kChords = 72;
  std::vector<SweptMove> moves;
  for (const detail::AreaCuts& area : level.areas)
    for (const Cut& cut : area.group.cuts) {
      for (std::size_t i = 1; i < cut.points.size(); ++i) moves.push_back({cut.points[i - 1], cut.points[i]});
      if (cut.closed) moves.push_back({cut.points.back(), cut.points.front()});
      const auto on_circle = [&](int k) {
        const double angle = 2 * std::numbers::pi * k / kChords;
        return with_z(Vec2(cut.helix.centre + cut.helix.radius_mm * Vec2(std::cos(angle), std::sin(angle))),
                      cut.points.front().z());
      };
      for (int k = 0; cut.entry == Entry::helix && k < kChords; ++k)
        moves.push_back({on_circle(k), on_circle(k + 1)});
    }
  if (!moves.empty()) carve(stock, std::span<const Profile>(&cutter, 1), moves);
}

/// All levels. What is cut above a level is what stands higher than it before the operation, so none waits
/// for those above, unless something of the tool above its cutter must keep off what they leave.
class LevelCutter {
 public:
  LevelCutter(const std::vector<detail::RoughingLevel>& levels, const LevelAreas& areas, const Site& site,
              const RoughingOptions& options, double thinnest)
      : levels_(levels),
        areas_(areas),
        site_(site),
        options_(options),
        thinnest_(thinnest),
        cut_(levels.size()) {
    if (!site.before || levels.empty()) return;
    double lowest = levels.front().z;
    for (const detail::RoughingLevel& level : levels) lowest = std::min(lowest, level.z);
    standing_.emplace(site);
    if (!standing_->matters(lowest)) standing_.reset();
  }

  std::vector<detail::LevelCuts> cut(const Progress& progress) {
    std::vector<ToCut> what(levels_.size());
    const auto look = [&](std::size_t i, const Region& barred) {
      what[i] = what_to_cut(levels_[i], barred, areas_, site_, options_, thinnest_);
    };
    if (std::optional<detail::StandingMaterial> standing = standing_) {
      for (std::size_t i = 0; i < levels_.size(); ++i) {
        if (levels_[i].between) continue;
        look(i, standing->barred(levels_[i].z));
        standing->cut(what[i].level.cells, levels_[i].z);
      }
    } else {
      detail::parallel_for(levels_.size(), part_of(progress, 0, 0.3), [&](std::size_t i) {
        if (!levels_[i].between) look(i, {});
      });
    }
    detail::parallel_for(levels_.size(), part_of(progress, 0.3, 0.8), [&](std::size_t i) {
      if (!levels_[i].between)
        cut_[i] = cut_level(std::move(what[i]), levels_[i], site_, options_, static_cast<std::int32_t>(i));
    });
    std::vector<std::size_t> deep;  // with levels in between after them
    for (std::size_t i = 0; i + 1 < levels_.size(); ++i)
      if (!levels_[i].between && levels_[i + 1].between) deep.push_back(i);
    detail::parallel_for(deep.size(), part_of(progress, 0.8, 1), [&](std::size_t k) { between(deep[k]); });
    return std::move(cut_);
  }

 private:
  /// The levels after a deep one, from below upwards: each of what those below left.
  void between(std::size_t deep) {
    Stock after = *site_.before;
    Site above = site_;
    above.before = &after;
    const auto lower = [&](std::size_t i) { carve_cuts(after, site_.surface.cutter(), cut_[i]); };
    // What was cut since the level above that the steps are counted from.
    for (std::size_t i = deep + 1; i-- > 0 && levels_[i].z < levels_[deep + 1].upper_z - 1e-9;)
      if (!levels_[i].between) lower(i);
    std::optional<detail::StandingMaterial> standing = standing_;
    for (std::size_t i = 0; standing && i <= deep; ++i)
      if (!levels_[i].between) standing->cut(cut_[i].cells, levels_[i].z);
    for (std::size_t i = deep + 1; i < levels_.size() && levels_[i].between; ++i) {
      const Region barred = standing ? standing->barred(levels_[i].z) : Region{};
      cut_[i] = cut_level(what_to_cut(levels_[i], barred, areas_, above, options_, thinnest_), levels_[i],
                          above, options_, static_cast<std::int32_t>(i));
      lower(i);
      if (standing) standing->cut(cut_[i].cells, levels_[i].z);
    }
  }

  const std::vector<detail::RoughingLevel>& levels_;
  const LevelAreas& areas_;
  const Site& site_;
  const RoughingOptions& options_;
  double thinnest_;
  std::vector<detail::LevelCuts> cut_;
  std::optional<detail::StandingMaterial> standing_;
};

double top_of(const Site& site) {
  if (std::isfinite(site.top_z)) return site.top_z;
  if (!site.before)
    throw Error("roughing needs the top of what is to be cut: a site with top_z or with material");
  return site.before->block().max().z();
}

/// From the highest down.
std::vector<double> distinct(std::vector<double> levels) {
  std::sort(levels.rbegin(), levels.rend());
  levels.erase(std::unique(levels.begin(), levels.end()), levels.end());
  return levels;
}

void tell_levels(CutPlan& plan, const std::vector<detail::RoughingLevel>& known) {
  std::vector<double> levels, between;
  double length_between = 0;
  for (const CutGroup& group : plan.groups) {
    const bool is_between = std::any_of(known.begin(), known.end(), [&](const detail::RoughingLevel& level) {
      return level.between && level.z == group.level_z;
    });
    (is_between ? between : levels).push_back(group.level_z);
    for (const Cut& cut : group.cuts)
      if (is_between && !cut.link) length_between += length(std::span<const Vec3>(cut.points));
  }
  const auto tell_count = [&](const char* key, std::size_t count, const char* source) {
    plan.facts.push_back({key, count_of(static_cast<std::int64_t>(count)), source});
  };
  if (levels = distinct(std::move(levels)); !levels.empty()) {
    tell_count("levels", levels.size(), "from the top of the stock, and one on each flat");
    plan.facts.push_back({"highest level", length_of(levels.front()), "in Z"});
    plan.facts.push_back({"lowest level", length_of(levels.back()), "in Z"});
  }
  if (between = distinct(std::move(between)); !between.empty()) {
    tell_count("levels between", between.size(), "for steps on slopes, from below upwards");
    plan.facts.push_back({"length between", length_of(length_between), "of their cuts"});
  }
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
  require(options.engagement_deg >= 20 && options.engagement_deg <= 150, "engagement_deg",
          "must be between 20 and 150");
  require(options.helix_radius_mm >= options.least_helix_mm, "helix_radius_mm",
          "must be at least least_helix_mm");
}

}  // namespace

CutPlan cuts_of(const RoughingOptions& given, const Site& given_site, const Progress& progress) {
  check(given, given_site);
  RoughingOptions options = given;
  if (options.pattern == LevelPattern::bounded)
    options.stepover_mm = given_site.surface.cutter().radius() *
                          (1 - std::cos(options.engagement_deg * std::numbers::pi / 180));
  const double tolerance = given_site.tolerance_mm, top = top_of(given_site);
  if (given_site.area.empty()) return {};
  const Region area = axis_area(given_site, options);
  const Site site{given_site.surface, area,
                  given_site.before,  given_site.tolerance_mm,
                  given_site.top_z,   given_site.bottom_z,
                  given_site.drilled, given_site.touched};
  const LevelAreas areas(site.surface, area.box(), {.tolerance_mm = tolerance}, part_of(progress, 0, 0.3));
  const double foot = site.surface.part().box().min().z();
  double lowest = areas.lowest(given_site.area);
  if (lowest == kNothingBelow) lowest = foot;
  lowest = std::max({lowest, foot, site.bottom_z});
  std::vector<detail::RoughingLevel> levels =
      detail::roughing_levels(site, areas, top, options, lowest - tolerance);
  detail::draw(levels, site, areas, part_of(progress, 0.3, 0.5));
  // Nothing thinner than some cells is sure to be there.
  const double thinnest =
      site.before ? std::max(options.thinnest_mm, 2.5 * site.before->cell_mm()) : options.thinnest_mm;
  detail::Assembly assembly(
      LevelCutter(levels, areas, site, options, thinnest).cut(part_of(progress, 0.5, 1)), site, thinnest);
  CutPlan plan = assembly.plan(options.order);
  tell_levels(plan, levels);
  tell_ways(plan, assembly.counts());
  if (site.before && plan.empty() && assembly.refused().empty())
    plan.notes.push_back({"nothing",
                          "nothing to cut: on none of its levels the tool reaches material thicker than {}",
                          {length_of(thinnest)}});
  if (assembly.left_thin_mm3() > 0)
    plan.facts.push_back({"left thin", number_of(assembly.left_thin_mm3(), Unit::mm3),
                          "material thinner than asked for, sideways"});
  if (assembly.left_in_corners_mm3() > 0)
    plan.facts.push_back({"left in corners", number_of(assembly.left_in_corners_mm3(), Unit::mm3),
                          "where no loop of bounded engagement fits"});
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
