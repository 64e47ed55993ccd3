#include "strategy/curve_chain.h"

#include "plan/rails/line_crossings.h"
#include "strategy/rail_passes.h"
#include "yardpass/curve/close_loop.h"
#include "yardpass/geom/text.h"

namespace yardpass::detail {

namespace {

constexpr double kFiner = 0.001;  // mm: what curves may lose
constexpr double kSame = 1e-6;    // mm

void refuse_crossing(const Curve& a, const Polyline2& line_a, const Curve& b, const Polyline2& line_b) {
  const AlongLine along_a(line_a, a.closed), along_b(line_b, b.closed);
  const auto at_end = [](const AlongLine& line, double way) {
    return way < kSame || way > line.length() - kSame;
  };
  for (const CrossingWays& crossing : crossings(along_a, along_b)) {
    // Open curves may end at one place.
    if (!a.closed && at_end(along_a, crossing.on_a) && at_end(along_b, crossing.on_b)) continue;
    const Vec2 at = along_a.at(crossing.on_a);
    throw LoopError("the curves \"" + a.name + "\" and \"" + b.name + "\" cross or touch at X " +
                        short_number(at.x()) + " Y " + short_number(at.y()),
                    {a, b}, {with_z(at, 0)});
  }
}

}  // namespace

void refuse_several(Keys& keys, const char* key, const GivenCurves& given) {
  keys.refuse_if(given.curves.size() > 1, {key},
                 "needs one curve, but there are " + std::to_string(given.curves.size()) +
                     " of this name (the step \"keep\" of [curves] chooses one)");
}

void add_named(std::vector<Curve>& curves, const GivenCurves& given, const char* role) {
  for (std::size_t i = 0; i < given.curves.size(); ++i) {
    curves.push_back(given.curves[i]);
    Curve& curve = curves.back();
    const Polyline2 line = in_plan(curve);
    curve.points.clear();
    for (const Vec2& p : curve.closed ? simplify_loop(std::span<const Vec2>(line), kFiner)
                                      : simplify(std::span<const Vec2>(line), kFiner))
      curve.points.push_back(with_z(p, 0));
    std::string& name = curve.name;
    if (given.names.size() == given.curves.size()) name = given.names[i];
    if (name.empty()) name = role;
  }
}

std::vector<Rails> rails_along(const std::vector<Curve>& curves, std::span<const MatchedPlaces> matched) {
  std::vector<Polyline2> lines;
  std::vector<std::string> names;
  for (const Curve& curve : curves) {
    lines.push_back(in_plan(curve));
    names.push_back(curve.name);
  }
  for (std::size_t i = 0; i < curves.size(); ++i)
    for (std::size_t k = i + 1; k < curves.size(); ++k)
      refuse_crossing(curves[i], lines[i], curves[k], lines[k]);
  std::vector<Rails> rails;
  Polyline2 from = lines.front();
  for (std::size_t i = 1; i < lines.size(); ++i) {
    rails.push_back(straight_rails(from, lines[i], curves[i].closed, kRailsApart, matched));
    // The next ones begin where these end.
    from.clear();
    for (const Polyline2& line : rails.back().lines)
      if (from.empty() || (line.back() - from.back()).norm() > kSame) from.push_back(line.back());
  }
  unfold(rails, names);
  return rails;
}

}  // namespace yardpass::detail
