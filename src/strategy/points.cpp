#include "yardpass/strategy/points.h"

#include <cmath>

#include "yardpass/contact/assembly.h"
#include "yardpass/geom/text.h"

namespace yardpass {

void keys_of(PointsOptions& options, const Tool&, Keys& keys) {
  std::vector<std::vector<double>> points;
  keys.points(
      "points", points, 2, "places [[x, y, z], ...]",
      {.says = "where the tip goes, straight from one to the next, `[[x, y, z], ...]`", .required = true});
  options.points.clear();
  bool all = true, moves = false;
  for (const std::vector<double>& p : points) {
    all = all && p.size() == 3;
    options.points.emplace_back(p[0], p[1], p.size() == 3 ? p[2] : 0);
    moves = moves || options.points.back() != options.points.front();
  }
  keys.refuse_if(!all, {"points"}, "its places must have three numbers, [x, y, z]");
  keys.refuse_if(all && !points.empty() && !moves, {"points"}, "all its places are one");
  constexpr std::pair<bool, const char*> speeds[] = {{false, "feed"}, {true, "rapid"}};
  keys.choice(
      "at", options.rapid, speeds, false, "it may cut",
      {.says = "the feed of the tool, or rapid: then nothing may be in its way", .usual = "`\"feed\"`"});
}

Usual usual_of(const PointsOptions&, const Tool&) {
  Usual usual{{0, "as given"}, {0.01, "0.01 mm"}};
  // As given: no common tail takes anything away.
  usual.at_levels = true;
  usual.repeats = false;
  usual.spread = Spread::along_lines;
  return usual;
}

CutPlan cuts_of(const PointsOptions& options, const Site& site, const Progress& progress) {
  Cut cut;
  for (const Vec3& p : options.points)
    if (cut.points.empty() || cut.points.back() != p) cut.points.push_back(p);
  require(cut.points.size() > 1, "points", "must be at least two that differ");
  for (std::size_t i = 0; i + 1 < cut.points.size(); ++i) {
    report(progress, static_cast<double>(i) / static_cast<double>(cut.points.size()));
    const Vec3 &from = cut.points[i], &to = cut.points[i + 1];
    const Clearance clearance = site.surface.clearance(from, to, 0);
    if (clearance.room < -kTouchError)
      throw Error("points: the way from " + place_words(from) + " to " + place_words(to) +
                  " is not free of the part: at " + place_words(clearance.tip) +
                  " the tool would have to stand " + short_number(std::ceil(-clearance.room * 1000) / 1000) +
                  " mm higher");
  }
  cut.pass = 1;
  cut.rapid = options.rapid;
  return plan_of({std::move(cut)});
}

}  // namespace yardpass
