#include "yardpass/plan/seams.h"

#include <algorithm>
#include <cmath>

#include "geom/bands.h"
#include "geom/more_points.h"
#include "geom/parallel_for.h"
#include "yardpass/geom/depth_lines.h"
#include "yardpass/plan/trim.h"

namespace yardpass {

void keys_of(Feather& feather, const Usual& usual, Keys& keys) {
  keys.number(
      "feather", feather.height_mm, {0, "passes keep to the surface"},
      {.says = "how much passes rise towards a seam with what others finished, so that they fade into it",
       .usual = "0",
       .low = 0,
       .high = 10});
  const double over = usual.spacing_mm > 0 ? 4 * usual.spacing_mm : 1;
  keys.number("feather_over", feather.over_mm, {over, usual.spacing_mm > 0 ? "four stepovers" : "1 mm"},
              {.says = "how far from the seam they begin to rise",
               .usual = "four stepovers",
               .low = 0,
               .high = 1000,
               .above_low = true,
               .of_tool = true});
  keys.idle_if(feather.height_mm == 0, "feather_over", "passes do not rise");
  keys.idle_if(usual.at_levels, "feather", "what clears levels has no seam");
}

std::vector<Polyline2> seam_lines(const Region& area, const Region& part, double margin_mm) {
  const detail::Bands inside(offset(part, -margin_mm));
  std::vector<Polyline2> lines;
  for (const Polyline2& loop : area.loops)
    for (Polyline2& piece : inside.inside_loop(loop)) lines.push_back(std::move(piece));
  return lines;
}

void feather(CutPlan& plan, const std::vector<Polyline2>& seam, const Feather& feather) {
  if (feather.height_mm == 0 || seam.empty()) return;
  require(feather.over_mm > 0, "over_mm", "must be above 0");
  std::vector<DepthLine> lines;
  for (const Polyline2& line : seam) lines.push_back({line, std::vector<double>(line.size(), 0), false});
  const DepthLines near(std::move(lines), feather.over_mm);
  const double step = 0.125 * feather.over_mm;
  const auto raised = [&](const Vec3& p) {
    const std::optional<double> off = near.nearest_mm(yardpass::plan(p));
    return Vec3(p.x(), p.y(), p.z() + (off ? feather.height_mm * (1 - *off / feather.over_mm) : 0));
  };
  replace_cuts(plan, [&](const Cut& cut) {
    Cut result = cut;
    Polyline3 line = cut.points;
    if (cut.closed) line.push_back(line.front());
    result.points.clear();
    for (std::size_t i = 0; i < line.size(); ++i) {
      if (i > 0) {
        const Vec3 way = line[i] - line[i - 1];
        const int parts = std::max(1, static_cast<int>(std::ceil(yardpass::plan(way).norm() / step)));
        for (int k = 1; k < parts; ++k)
          result.points.push_back(raised(line[i - 1] + way * (1.0 * k / parts)));
      }
      result.points.push_back(raised(line[i]));
    }
    // Where nothing rose the line is as it was. No point may sink the line, so only what is exactly straight
    // goes.
    result.points = simplify(std::span<const Vec3>(result.points), 1e-9);
    if (cut.closed) result.points.pop_back();
    return std::vector<Cut>{std::move(result)};
  });
}

namespace {

/// What stands above a part where a cutter touches it.
class Standing {
 public:
  Standing(const TipSurface& surface, const Stock& material, double leaves_mm)
      : surface_(surface),
        material_(material),
        part_(surface.shared_part(), Profile::needle()),
        leaves_(leaves_mm) {}

  struct Here {
    double mm = 0;
    Vec3 at{0, 0, 0};
  };
  [[nodiscard]] std::optional<Here> at(const Vec2& tip) const {
    const std::optional<Touch> touch = surface_.touch(tip);
    if (!touch) return std::nullopt;
    const std::optional<std::size_t> cell = material_.cell_at(plan(touch->point));
    if (!cell) return std::nullopt;
    const auto columns = static_cast<std::size_t>(material_.columns());
    const Vec2 centre =
        material_.centre(static_cast<int>(*cell % columns), static_cast<int>(*cell / columns));
    const double ground = part_.height(centre);
    if (!(ground > kNothingBelow)) return std::nullopt;
    return Here{(material_.heights()[*cell] - ground) * touch->normal.z() - leaves_, touch->point};
  }
  /// Beyond a place of the seam the cutter still takes off what stands higher than its round: the step is
  /// what stays of both.
  [[nodiscard]] std::optional<Here> step(const Vec2& place, const Vec2& out, double radius) const {
    const std::optional<Here> here = at(place);
    if (!here) return std::nullopt;
    Here step{0, here->at};
    if (here->mm <= 0) return step;
    const double reach = std::sqrt(2 * radius * here->mm);
    constexpr int kPlaces = 8;
    for (int k = 1; k <= kPlaces; ++k) {
      const std::optional<Here> beyond = at(place + reach * k / kPlaces * out);
      if (!beyond) break;
      const double away = (beyond->at - here->at).norm();
      const double stays = std::min(beyond->mm, away * away / (2 * radius));
      if (stays > step.mm) step = {stays, beyond->at};
    }
    return step;
  }

 private:
  const TipSurface& surface_;
  const Stock& material_;
  TipSurface part_;
  double leaves_;
};

}  // namespace

SeamStep seam_step(const std::vector<Polyline2>& seam, const TipSurface& surface, const Stock& before,
                   double leaves_mm) {
  constexpr double kApart = 0.25;  // mm
  struct Place {
    Vec2 at, out;
  };
  std::vector<Place> places;
  for (const Polyline2& line : seam) {
    const Polyline2 fine = detail::with_more_points(line, false, kApart);
    for (std::size_t i = 0; i + 1 < fine.size(); ++i) {
      const Vec2 along = fine[i + 1] - fine[i];
      if (along.norm() > 1e-9) places.push_back({fine[i], Vec2(along.y(), -along.x()).normalized()});
    }
  }
  const Standing standing(surface, before, leaves_mm);
  struct Here {
    double step = -1;
    Vec3 at{0, 0, 0};
  };
  std::vector<Here> found(places.size());
  const double radius = surface.cutter().radius();
  detail::parallel_for(places.size(), [&](std::size_t i) {
    if (const auto step = standing.step(places[i].at, places[i].out, radius)) found[i] = {step->mm, step->at};
  });
  SeamStep step;
  std::vector<double> all;
  for (const Here& here : found) {
    if (here.step < 0) continue;
    all.push_back(here.step);
    if (here.step > step.greatest_mm || all.size() == 1) step.greatest_mm = here.step, step.at = here.at;
  }
  if (all.empty()) return step;
  std::sort(all.begin(), all.end());
  step.places = std::ssize(all);
  step.half_mm = all[all.size() / 2];
  step.most_mm = all[std::min(all.size() - 1, all.size() * 95 / 100)];
  return step;
}

}  // namespace yardpass
