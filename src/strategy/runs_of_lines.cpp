#include <algorithm>
#include <cmath>
#include <memory>

#include "strategy/area_cutter.h"
#include "strategy/frame.h"

namespace yardpass::detail {

namespace {

constexpr double kShortest = 1e-3;  // mm

/// Along the lines and across them.
Region in_frame(Region region, const Frame& frame) {
  for (Polyline2& loop : region.loops)
    for (Vec2& p : loop) p = Vec2(p.dot(frame.along), p.dot(frame.across));
  return region;
}

struct Stretch {
  double from, to;
};

std::vector<Stretch> stretches_at(const Region& region, const Box2& box, double y) {
  const double low = box.min().x() - 1, high = box.max().x() + 1;
  std::vector<Stretch> result;
  for (const Interval& part : inside(region, {low, y}, {high, y})) {
    const Stretch one{low + part.from * (high - low), low + part.to * (high - low)};
    if (one.to - one.from > kShortest) result.push_back(one);
  }
  return result;
}

bool beside(const Stretch& a, const Stretch& b) { return a.from < b.to && b.from < a.to; }

/// Lines side by side that follow each other without a fork.
struct Run {
  std::vector<Polyline2> lines;
  Stretch last{0, 0};
};

/// The run that goes on with `here`: the only one beside it, and it has no other to go on with.
Run* that_goes_on(std::vector<Run*>& ends, const std::vector<Stretch>& all, const Stretch& here) {
  Run* found = nullptr;
  for (Run* run : ends) {
    if (!beside(run->last, here)) continue;
    if (found) return nullptr;
    found = run;
  }
  if (!found) return nullptr;
  const auto with =
      std::count_if(all.begin(), all.end(), [&](const Stretch& s) { return beside(found->last, s); });
  return with == 1 ? found : nullptr;
}

}  // namespace

std::vector<std::vector<Polyline2>> runs_of_lines(const Region& piece, double angle_deg, double stepover,
                                                  double inset, bool to_and_fro) {
  const Frame frame = frame_of(angle_deg);
  const Region region = in_frame(offset(piece, -inset), frame);
  const auto place = [&](double x, double y) { return Vec2(x * frame.along + y * frame.across); };
  std::vector<std::vector<Polyline2>> result;
  if (region.empty()) return result;
  const Box2 box = region.box();
  const double low = box.min().y() + kShortest, high = std::max(low, box.max().y() - kShortest);
  const int steps = static_cast<int>(std::ceil((high - low) / stepover));
  std::vector<std::unique_ptr<Run>> runs;
  std::vector<Run*> ends;
  for (int i = 0; i <= steps; ++i) {
    const double y = steps == 0 ? 0.5 * (low + high) : low + i * (high - low) / steps;
    const std::vector<Stretch> here = stretches_at(region, box, y);
    std::vector<Run*> next;
    for (const Stretch& stretch : here) {
      Run* run = that_goes_on(ends, here, stretch);
      if (!run) run = runs.emplace_back(std::make_unique<Run>()).get();
      Polyline2 line{place(stretch.from, y), place(stretch.to, y)};
      if (to_and_fro && run->lines.size() % 2 == 1) std::reverse(line.begin(), line.end());
      run->lines.push_back(std::move(line));
      next.push_back(run);
    }
    for (std::size_t k = 0; k < here.size(); ++k) next[k]->last = here[k];
    ends = std::move(next);
  }
  // From where one ends on to the one that begins nearest.
  while (!runs.empty()) {
    auto best = runs.begin();
    if (!result.empty()) {
      const Vec2 at = result.back().back().back();
      const auto far = [&](const auto& run) { return (run->lines.front().front() - at).squaredNorm(); };
      best = std::min_element(runs.begin(), runs.end(),
                              [&](const auto& a, const auto& b) { return far(a) < far(b); });
    }
    result.push_back(std::move((*best)->lines));
    runs.erase(best);
  }
  return result;
}

}  // namespace yardpass::detail
