#include "yardpass/plan/obstacles.h"

#include <algorithm>
#include <cmath>

#include "geom/parallel_for.h"
#include "plan/touch_walk.h"
#include "yardpass/contact/assembly.h"
#include "yardpass/geom/text.h"
#include "yardpass/keys/keys.h"
#include "yardpass/plan/trim.h"

namespace yardpass {

namespace {

struct Thing {
  std::string name;
  InTheWay rule = InTheWay::over;
};

/// What of the tool or the part carries it at a place, by number in a list; -1: nothing that is in the way.
class Carriers {
 public:
  Carriers(const Obstacles& obstacles, const ToolSurface& surface, double tolerance)
      : surface_(surface), thicker_(surface.with_more_allowance(tolerance)), tolerance_(tolerance) {
    for (const Obstacles::Guard& guard : obstacles.guards) {
      groups_.push_back(guard.group);
      all_.push_back({"\"" + guard.name + "\"", guard.rule});
    }
    shank_ = static_cast<int>(all_.size());
    all_.push_back({"the shank", obstacles.shank});
    all_.push_back({"the holder", obstacles.holder});
    const std::vector<ToolSection> sections = sections_above(surface.tool());
    for (std::int32_t body = 1; body < surface.bodies(); ++body) {
      const double above = surface.body_above_tip(body);
      const auto nearer = [&](const ToolSection& a, const ToolSection& b) {
        return std::abs(a.above_tip_mm - above) < std::abs(b.above_tip_mm - above);
      };
      const auto of = std::min_element(sections.begin(), sections.end(), nearer);
      is_holder_.push_back(of != sections.end() && of->part == ToolPart::holder);
    }
  }

  [[nodiscard]] const std::vector<Thing>& all() const { return all_; }
  [[nodiscard]] int at(const Vec3& tip, detail::TouchWalk& walk) const {
    std::optional<Touch> touch = walk.touch(tip);
    if (!touch || tip.z() > touch->height + tolerance_) {
      // Beside something upright, straight up or down along it: what a thicker tool would meet there.
      touch = thicker_.touch(plan(tip));
      if (!touch || tip.z() > touch->height) return -1;
    }
    if (touch->body > 0) return shank_ + (is_holder_[static_cast<std::size_t>(touch->body) - 1] ? 1 : 0);
    const auto group = std::find(groups_.begin(), groups_.end(), surface_.part().group(touch->triangle));
    return group == groups_.end() ? -1 : static_cast<int>(group - groups_.begin());
  }

 private:
  const ToolSurface& surface_;
  TipSurface thicker_;
  double tolerance_;
  std::vector<Thing> all_;
  std::vector<std::size_t> groups_;
  std::vector<bool> is_holder_;  // of each body above the cutter
  int shank_ = 0;
};

/// Of one line: what is kept, and how much each thing leaves out.
struct Heeded {
  std::vector<Polyline3> pieces;
  std::vector<double> left_out_mm;
  std::vector<std::optional<Vec3>> first;  // place of each
};

class Heeder {
 public:
  Heeder(const ToolSurface& surface, const Carriers& carriers, double step)
      : carriers_(carriers), walk_(surface), step_(step) {
    result_.left_out_mm.resize(carriers.all().size(), 0);
    result_.first.resize(carriers.all().size());
  }

  Heeded run(const Polyline3& line) {
    if (line.size() < 2) return std::move(result_);
    int before = carriers_.at(line.front(), walk_);
    note(before, line.front(), 0);
    if (free(before)) piece_.push_back(line.front());
    for (std::size_t i = 0; i + 1 < line.size(); ++i) {
      const int steps = std::max(1, static_cast<int>(std::ceil((line[i + 1] - line[i]).norm() / step_)));
      for (int k = 1; k <= steps; ++k) {
        const Vec3 from = line[i] + (line[i + 1] - line[i]) * (static_cast<double>(k - 1) / steps);
        const Vec3 to = k == steps ? line[i + 1] : line[i] + (line[i + 1] - line[i]) * (1.0 * k / steps);
        before = step(from, before, to, k == steps);
      }
    }
    finish();
    return std::move(result_);
  }

 private:
  [[nodiscard]] bool free(int carrier) const {
    return carrier < 0 || carriers_.all()[static_cast<std::size_t>(carrier)].rule == InTheWay::over;
  }
  void note(int carrier, const Vec3& place, double length) {
    if (carrier < 0) return;
    const auto k = static_cast<std::size_t>(carrier);
    if (!result_.first[k]) result_.first[k] = place;
    result_.left_out_mm[k] += length;
  }
  int step(const Vec3& from, int before, const Vec3& to, bool is_corner) {
    const int here = carriers_.at(to, walk_);
    if (free(before) && free(here)) {
      if (is_corner) piece_.push_back(to);
      note(here, to, (to - from).norm());
      return here;
    }
    if (free(before) != free(here)) {
      const Vec3 border = free(before) ? last_free(from, to) : last_free(to, from);
      if (free(before)) {
        if (piece_.empty() || piece_.back() != border) piece_.push_back(border);
        finish();
        note(here, to, (to - border).norm());
      } else {
        note(before, from, (border - from).norm());
        piece_.push_back(border);
        if (is_corner && border != to) piece_.push_back(to);
      }
      return here;
    }
    note(here, to, (to - from).norm());
    return here;
  }
  [[nodiscard]] Vec3 last_free(Vec3 in, Vec3 out) {
    constexpr double kPrecision = 1e-4;
    while ((in - out).norm() > kPrecision) {
      const Vec3 middle = 0.5 * (in + out);
      (free(carriers_.at(middle, walk_)) ? in : out) = middle;
    }
    return in;
  }
  void finish() {
    if (piece_.size() > 1) result_.pieces.push_back(std::move(piece_));
    piece_.clear();
  }

  const Carriers& carriers_;
  detail::TouchWalk walk_;
  double step_;
  Polyline3 piece_;
  Heeded result_;
};

void keep_only_longest(std::vector<Cut>& pieces) {
  if (pieces.size() < 2) return;
  const auto size = [](const Cut& cut) { return length(std::span<const Vec3>(cut.points)); };
  const auto longest = std::max_element(pieces.begin(), pieces.end(),
                                        [&](const Cut& a, const Cut& b) { return size(a) < size(b); });
  Cut kept = std::move(*longest);
  pieces.clear();
  pieces.push_back(std::move(kept));
}

/// What was met along all cuts together.
struct Total {
  double all_mm = 0;
  std::vector<double> left_out_mm;
  std::vector<std::optional<Vec3>> first;
};

void tell(const Total& total, const std::vector<Thing>& all, std::vector<Note>& notes) {
  for (std::size_t k = 0; k < all.size(); ++k) {
    if (!total.first[k] || all[k].rule != InTheWay::skip) continue;
    const Vec3& at = *total.first[k];
    notes.push_back({"in the way",
                     all[k].name + " is in the way on {} of the length of the passes, first at {}: left out",
                     {number_of(total.left_out_mm[k] / std::max(total.all_mm, 1e-9), Unit::share),
                      place_at(at.x(), at.y(), at.z())}});
  }
}

}  // namespace

bool Obstacles::all_over() const {
  return shank == InTheWay::over && holder == InTheWay::over &&
         std::all_of(guards.begin(), guards.end(),
                     [](const Guard& guard) { return guard.rule == InTheWay::over; });
}

void keys_of(Obstacles& obstacles, Keys& keys) {
  keys.choice("shank_in_the_way", obstacles.shank, kInTheWayWords, InTheWay::over, "nothing is touched",
              {.says = "where the shank or neck keeps the cutter off the part: it rides over, that bit of "
                       "the pass is left out, or the operation is refused",
               .usual = "`\"over\"`"});
  keys.choice("holder_in_the_way", obstacles.holder, kInTheWayWords, InTheWay::over, "nothing is touched",
              {.says = "the same for the holder", .usual = "`\"over\"`"});
  constexpr std::pair<bool, const char*> pieces[] = {{false, "all"}, {true, "longest"}};
  keys.choice("rejoin", obstacles.only_longest, pieces, false, "nothing more is lost",
              {.says = "of a pass from which bits are left out: all its pieces, or only the longest",
               .usual = "`\"all\"`"});
}

void heed(const Obstacles& obstacles, const ToolSurface& surface, double tolerance_mm, CutPlan& plan) {
  if (obstacles.all_over()) return;
  const Carriers carriers(obstacles, surface, tolerance_mm);
  const std::vector<Thing>& all = carriers.all();
  Total total{0, std::vector<double>(all.size(), 0), std::vector<std::optional<Vec3>>(all.size())};
  const double step = std::min(0.25, 0.1 * surface.tool().diameter_mm);
  for (CutGroup& group : plan.groups) {
    std::vector<std::vector<Cut>> kept(group.cuts.size());
    std::vector<Heeded> seen(group.cuts.size());
    detail::parallel_for(group.cuts.size(), {}, [&](std::size_t i) {
      kept[i] = pieces_of(group.cuts[i], [&](const Polyline3& line) {
        seen[i] = Heeder(surface, carriers, step).run(line);
        return seen[i].pieces;
      });
      if (obstacles.only_longest) keep_only_longest(kept[i]);
    });
    for (std::size_t i = 0; i < group.cuts.size(); ++i) {
      total.all_mm += length(std::span<const Vec3>(group.cuts[i].points));
      for (std::size_t k = 0; k < all.size(); ++k) {
        if (k >= seen[i].first.size() || !seen[i].first[k]) continue;
        if (all[k].rule == InTheWay::refuse)
          throw Error(all[k].name + " is in the way at " + place_words(*seen[i].first[k]) +
                      (group.cuts[i].pass > 0 ? ", pass " + std::to_string(group.cuts[i].pass) : "") +
                      "; \"skip\" would leave that bit out, \"over\" rides over it");
        if (!total.first[k]) total.first[k] = seen[i].first[k];
        total.left_out_mm[k] += seen[i].left_out_mm[k];
      }
    }
    group.cuts.clear();
    for (std::vector<Cut>& pieces : kept)
      for (Cut& cut : pieces) group.cuts.push_back(std::move(cut));
  }
  tell(total, all, plan.notes);
}

}  // namespace yardpass
