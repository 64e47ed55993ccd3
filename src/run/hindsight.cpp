#include "run/hindsight.h"

#include <algorithm>
#include <cmath>

#include "yardpass/geom/joints.h"
#include "yardpass/part/guides.h"

namespace yardpass::detail {

namespace {

constexpr double kWorthTelling = 0.1;  // of a length, or of a time

/// Of the operations before it that finish to size, the one whose area it shares most with.
const Settled* finished_before(const RunResult& run, std::size_t index, double& shared_mm2) {
  const Settled* best = nullptr;
  for (std::size_t j = 0; j < index; ++j) {
    const Settled& earlier = run.operations[j];
    if (earlier.usual.at_levels || earlier.usual.sinks || run.planned[j].path.moves.empty()) continue;
    const double here = intersect(run.operations[index].works_in, earlier.works_in).area_mm2();
    if (here > shared_mm2) shared_mm2 = here, best = &earlier;
  }
  return best;
}

void over_what_is_done(const RunResult& run, std::size_t index, std::vector<Note>& notes) {
  const Settled& settled = run.operations[index];
  if (settled.usual.at_levels || settled.usual.sinks || settled.values.limits.only_where_left_mm) return;
  const std::vector<SettledValue>& facts = run.planned[index].facts;
  const auto fact = std::find_if(facts.begin(), facts.end(),
                                 [](const SettledValue& value) { return value.key == "at size"; });
  if (fact == facts.end() || fact->value.value[0] <= kWorthTelling) return;
  double shared_mm2 = 0;
  const Settled* const earlier = finished_before(run, index, shared_mm2);
  Note note{"over what is done",
            "{} of its length runs over what was finished within the tolerance before",
            {fact->value}};
  if (earlier) {
    note.says += ", by operation {} \"{}\" where both work: {}";
    note.values.insert(note.values.end(), {count_of(earlier->number), words_of(earlier->name),
                                           number_of(shared_mm2, Unit::mm2)});
  }
  const GivenArea* const area = earlier ? &earlier->values.limits.keep_inside : nullptr;
  if (area && !area->name.empty()) {
    note.says += "; keep_out = \"{}\" would leave that out, or only_where_left = {}";
    note.values.push_back(words_of(area->name));
  } else {
    note.says += "; only_where_left = {} would leave it out";
  }
  note.values.push_back(length_of(2 * settled.values.tolerance_mm));
  notes.push_back(std::move(note));
}

/// A way through the air between two cuts: how far apart they are.
std::vector<double> air_ways(const Toolpath& path) {
  std::vector<double> ways;
  Vec3 at = path.start, left = path.start;
  bool in_air = true, cut_before = false;
  for (const Move& move : path.moves) {
    const bool rapid = move.kind == MoveKind::rapid;
    if (rapid && !in_air) left = at, in_air = true;
    if (!rapid && in_air) {
      if (cut_before) ways.push_back((at - left).norm());
      in_air = false, cut_before = true;
    }
    at = move.to;
  }
  std::sort(ways.begin(), ways.end());
  return ways;
}

void through_the_air(const RunResult& run, std::size_t index, const OperationTime& time,
                     std::vector<Note>& notes) {
  const PlannedOperation& planned = run.planned[index];
  const Settled& settled = run.operations[index];
  if (!(time.retract_s > kWorthTelling * time.all_s())) return;
  const std::vector<double> ways = air_ways(planned.path);
  if (ways.empty()) return;
  Note note{"retracts",
            "retracts take {} of its time, {} with the rapids between: {} ways {}",
            {number_of(time.retract_s / time.all_s(), Unit::share),
             number_of(std::round(time.retract_s + time.rapid_s), Unit::seconds),
             count_of(planned.links.planes + planned.links.lifts),
             words_of(planned.links.planes > planned.links.lifts ? "by the clearance plane"
                                                                 : "just high enough over what is between")}};
  // Staying down saves the air and costs the distance at feed; worth it up to some distance.
  const double air_s = (time.retract_s + time.rapid_s) / static_cast<double>(ways.size());
  const double feed_mm_s = std::max(1.0, settled.tool.link_feed_mm_min / 60);
  double saved_s = 0, reach_mm = 0;
  for (const double way : ways)
    if (way / feed_mm_s < air_s) saved_s += air_s - way / feed_mm_s, reach_mm = way;
  const double now_mm = settled.values.links.steps.ladder.stay_down_mm;
  if (saved_s > 0.02 * time.all_s() && reach_mm > now_mm) {
    note.says += "; link_distance = {} (now {}) would save up to {}, where the way along the surface is free";
    note.values.insert(note.values.end(), {length_of(std::ceil(reach_mm)), length_of(now_mm),
                                           number_of(std::round(saved_s), Unit::seconds)});
  } else if (planned.links.planes > planned.links.lifts) {
    note.says += "; lift_distance and hop_distance say how far it may go otherwise";
  }
  notes.push_back(std::move(note));
}

/// Passes that fall into an opening, or end at its border.
std::int64_t passes_at(const Toolpath& path, const Region& opening, double near_mm) {
  const Region around = offset(opening, near_mm);
  const Box2 box = around.box();
  std::vector<std::int32_t> met;
  Vec3 at = path.start;
  for (const Move& move : path.moves) {
    if (move.kind == MoveKind::cut && move.cut >= 0) {
      const Box2 way(plan(at).cwiseMin(plan(move.to)), plan(at).cwiseMax(plan(move.to)));
      if (way.intersects(box) && !inside(around, plan(at), plan(move.to)).empty()) met.push_back(move.cut);
    }
    at = move.to;
  }
  std::sort(met.begin(), met.end());
  return std::unique(met.begin(), met.end()) - met.begin();
}

void over_openings(const RunResult& run, std::size_t index, const Joints& joints, std::vector<Note>& notes) {
  const Settled& settled = run.operations[index];
  const GivenArea& area = settled.values.limits.keep_inside;
  if (area.from != GivenArea::From::region || settled.usual.at_levels || settled.usual.sinks ||
      !settled.values.guides.lids.empty())
    return;
  const auto region = std::find_if(run.setup.regions.begin(), run.setup.regions.end(),
                                   [&](const NamedRegion& one) { return one.name == area.name; });
  if (region == run.setup.regions.end()) return;
  std::int64_t openings = 0, passes = 0;
  double widest = 0;
  for (const Rim& rim : rims_of(run.setup.part->mesh(), joints, region->set)) {
    // What is as wide as half the region is what passes are meant to run round.
    if (!rim.is_hole || rim.widest_mm() > 0.5 * (region->box.max() - region->box.min()).norm()) continue;
    Polyline2 loop;
    for (const Vec3& p : rim.points) loop.push_back(plan(p));
    if (signed_area(loop) < 0) std::reverse(loop.begin(), loop.end());
    const std::int64_t here =
        passes_at(run.planned[index].path, Region{{loop}}, 0.1 * settled.tool.diameter_mm);
    if (here == 0) continue;
    ++openings, passes += here;
    widest = std::max(widest, rim.widest_mm());
  }
  if (openings == 0) return;
  notes.push_back(
      {"openings",
       "{} openings in the region \"{}\", up to {} wide, break or bend its passes, {} times; a lid with "
       "holes_of = \"{}\" and widest = {}, named in \"lids\", lets them run straight over",
       {count_of(openings), words_of(area.name), length_of(widest), count_of(passes), words_of(area.name),
        length_of(std::ceil(widest))}});
}

}  // namespace

std::vector<std::vector<Note>> hindsight(const RunResult& run) {
  std::vector<std::vector<Note>> notes(run.operations.size());
  const Joints joints(run.setup.part->mesh());
  const Program& program = run.judged.program;
  for (std::size_t i = 0; i < run.operations.size(); ++i) {
    over_what_is_done(run, i, notes[i]);
    for (std::size_t k = 0; k < program.operations.size(); ++k)
      if (program.operations[k].number == run.operations[i].number)
        through_the_air(run, i, run.judged.judgement.operations[k].time, notes[i]);
    over_openings(run, i, joints, notes[i]);
  }
  return notes;
}

}  // namespace yardpass::detail
