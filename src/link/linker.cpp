#include "link/linker.h"

#include <algorithm>
#include <cmath>

#include "link/directions.h"
#include "yardpass/contact/lift.h"
#include "yardpass/geom/text.h"

namespace yardpass::detail {

namespace {

constexpr double kSizes[] = {1, 0.5, 0.25};  // of leads

struct Heights {
  double low = std::numeric_limits<double>::infinity(), high = -low;
};
Heights heights_of(const Polyline3& line) {
  Heights heights;
  for (const Vec3& p : line)
    heights.low = std::min(heights.low, p.z()), heights.high = std::max(heights.high, p.z());
  return heights;
}

double size_of(const Lead& lead) { return lead.shape == LeadShape::arc ? lead.radius_mm : lead.length_mm; }

/// Over a floor a level lead may swing to either side: the one that is free is away from the part.
std::vector<LeadPlace> sides_of(const LeadPlace& place, LeadPlane plane) {
  constexpr double kFloor = 0.05;
  if (plane != LeadPlane::level || plan(place.normal).norm() > kFloor) return {place};
  LeadPlace right = place, left = place;
  right.normal = Vec3(place.along.y(), -place.along.x(), 0);
  left.normal = -right.normal;
  return {right, left};
}

/// A closed line from a share of one of its pieces on; first and last point are equal.
Polyline3 started_at(const Polyline3& loop, std::size_t piece, double share) {
  Polyline3 line(loop.begin(), loop.end() - 1);
  std::rotate(line.begin(), line.begin() + static_cast<std::ptrdiff_t>(piece), line.end());
  if (share > 0) {
    const Vec3 start = line[0] + share * (line[1 % line.size()] - line[0]), first = line[0];
    line.front() = start;
    line.push_back(first);
  }
  line.push_back(line.front());
  return line;
}

/// So much of the beginning of a line.
Polyline3 beginning(const Polyline3& line, double length_mm) {
  Polyline3 result{line.front()};
  double left = length_mm;
  for (std::size_t i = 1; i < line.size() && left > 0; ++i) {
    const Vec3 step = line[i] - line[i - 1];
    const double size = step.norm();
    result.push_back(size <= left ? line[i] : Vec3(line[i - 1] + step * (left / size)));
    left -= size;
  }
  return result;
}

/// Links and rapids but for the first way in and the last way out.
double seconds_between(const Toolpath& path, const LinkOptions& options) {
  double sum = 0;
  Vec3 at = path.start;
  for (const Move& move : path.moves) {
    if (move.kind == MoveKind::rapid && move.cut > 0) sum += seconds_of_rapid(at, move.to, options);
    if (move.kind == MoveKind::link) sum += (move.to - at).norm() / move.feed_mm_min * 60;
    at = move.to;
  }
  if (!path.moves.empty() && path.moves.back().kind == MoveKind::rapid && path.cuts.size() > 1) {
    const Vec3 before = path.moves.size() > 1 ? path.moves[path.moves.size() - 2].to : path.start;
    sum -= seconds_of_rapid(before, path.moves.back().to, options);
  }
  return sum;
}

}  // namespace

LinkedCuts Linker::run(const CutPlan& plan, const Progress& progress) {
  const auto count = static_cast<double>(plan.cut_count());
  depths_ = &plan.sunk;
  std::size_t done = 0;
  for (std::size_t g = 0; g < plan.groups.size(); ++g)
    for (const Cut& cut : plan.groups[g].cuts) {
      if (done % 16 == 0) report(progress, static_cast<double>(done) / count);
      ++done;
      if (cut.points.size() >= 2) join(cut, {static_cast<std::int32_t>(g), cut.pass});
    }
  if (trail_.started()) go_out();
  LinkedCuts result = trail_.take();
  result.counts.between_s = seconds_between(result.path, options_);
  return result;
}

/// A link of the plan's own, if it begins where the tool is and is not slower than the way over the plane.
void Linker::run_link(const Polyline3& line) {
  if (!trail_.started() || (trail_.at() - line.front()).norm() > 1e-6) return;
  if (seconds_at_link_feed(line) > most_seconds(line.back())) return;
  ++trail_.counts().stay_down;
  trail_.go_along(line, MoveKind::link);
}

void Linker::join(const Cut& cut, const CutOrigin& origin) {
  if (cut.link) return run_link(cut.points);
  const bool of_one_pass = origin.pass > 0 && origin.group == origin_.group && origin.pass == origin_.pass;
  const Between& between = options_.between(of_one_pass);
  trail_.begin_cut(origin);
  if (!trail_.started()) come_in();
  const Polyline3 line = oriented(cut, between);
  deep_ = sunk(line, cut.pass);
  const double lift = between.ladder.lift_mm;
  rapid_ = cut.rapid;
  if (cut.entry == Entry::straight) {
    straight_in(line, cut.closed, between);
  } else {
    // What lies near is reached through what is cleared.
    if (trail_.started() && !trail_.is_near(line.front(), between.ladder.stay_down_mm))
      leave(between.leads.out);
    last_ = cut.entry == Entry::helix ? entries_.by_helix(line, cut.helix, lift)
                                      : entries_.by_ramp(line, cut.closed, lift);
  }
  deep_.clear();
  last_closed_ = cut.closed;
  origin_ = origin;
}

/// A closed cut as a line that begins and ends near to where the tool is; where it will come from the air, at
/// one of its places where the lead fits.
Polyline3 Linker::oriented(const Cut& cut, const Between& between) {
  Polyline3 line = cut.points;
  if (!cut.closed) return line;
  if (cut.entry == Entry::helix) {
    line.push_back(line.front());
    return line;
  }
  if (trail_.started()) {
    const Vec3& at = trail_.at();
    const auto nearer = [&](const Vec3& a, const Vec3& b) {
      return (a - at).squaredNorm() < (b - at).squaredNorm();
    };
    std::rotate(line.begin(), std::min_element(line.begin(), line.end(), nearer), line.end());
  }
  line.push_back(line.front());
  const Lead& lead = between.leads.in;
  if (trail_.is_near(line.front(), std::max(between.ladder.stay_down_mm, between.ladder.hop_mm)) ||
      cut.entry != Entry::straight || !is_line_of_its_own(lead))
    return line;
  // Every so far along it, in the middle of pieces too.
  constexpr int kStarts = 16;
  const double whole = length(std::span<const Vec3>(line));
  double left = 0;
  for (std::size_t i = 0; i + 1 < line.size(); ++i) {
    const double size = (line[i + 1] - line[i]).norm();
    while (left <= size) {
      const Polyline3 from_here = started_at(line, i, size > 0 ? left / size : 0);
      for (const LeadPlace& side : sides_of(lead_place(surface_, from_here), lead.plane))
        if (const auto way = lead_line(lead, side, 1, options_.tolerance_mm); way && fits(*way))
          return from_here;
      left += std::max(whole / kStarts, 1e-6);
    }
    left -= size;
  }
  return line;
}

/// Free of the part, off what is kept out of, and never steeper into more material than the tool takes.
bool Linker::fits(const Polyline3& lead) {
  if (heights_of(lead).low < options_.bottom_z || !trail_.is_free(lead)) return false;
  if (trail_.too_much_under(lead.front())) return false;
  for (std::size_t i = 1; i < lead.size(); ++i)
    if (trail_.too_steep(lead[i - 1], lead[i]) && trail_.too_much_under(lead[i])) return false;
  return true;
}

Polyline3 Linker::lead_into(const Lead& lead, const Polyline3& line) {
  // A lead into an overcut would leave the area where that is meant.
  if (!is_line_of_its_own(lead) || surface_.allowance_mm() < 0) return {};
  const LeadPlace place = lead_place(surface_, line);
  Lead upright = lead, square = lead;
  upright.plane = LeadPlane::upright;
  // At the foot of a wall nothing runs on along the cut: straight away from the wall, then.
  square.shape = LeadShape::straight, square.plane = LeadPlane::surface, square.angle_deg = 90;
  square.length_mm = size_of(lead);
  for (const Lead& one : {lead, upright, square})
    for (const double size : kSizes)
      for (const LeadPlace& side : sides_of(place, one.plane)) {
        std::optional<Polyline3> way = lead_line(one, side, size, options_.tolerance_mm);
        if (way && fits(*way)) return *way;
      }
  return {};
}

/// Down over the first place of the way in, and through the others.
void Linker::come_in() {
  if (options_.approach.empty()) return;
  const Vec3& over = options_.approach.front();
  trail_.come_over(plan(over), over.z(), 0);
  trail_.go(over, MoveKind::plunge);
  through({options_.approach.begin() + 1, options_.approach.end()}, "way in");
}

/// At feed from place to place.
void Linker::through(const Polyline3& places, const char* named) {
  for (const Vec3& p : places) {
    if (!trail_.is_free(trail_.at(), p))
      throw Error(std::string(named) + ": from " + place_words(trail_.at()) + " to " + place_words(p) +
                  " is not free of the part, or leads over what is kept out");
    trail_.go(p, MoveKind::link);
  }
}

void Linker::leave(const Lead& lead) {
  if (last_.size() < 2) return;
  Polyline3 back = last_;
  if (last_closed_ && is_line_of_its_own(lead)) {
    // On over the start, so that no mark is left where it closes.
    const Polyline3 over = beginning(last_, size_of(lead));
    entries_.cut_along(over);
    back.insert(back.end(), over.begin() + 1, over.end());
  }
  std::reverse(back.begin(), back.end());
  last_.clear();
  if (lead.shape == LeadShape::ramp) {
    const double slope = slope_of(options_.ramp_angle_deg);
    double risen = 0;
    for (std::size_t i = 1; i < back.size() && risen < options_.feed_height_mm; ++i) {
      risen += slope * (plan(back[i]) - plan(back[i - 1])).norm();
      trail_.go(back[i] + Vec3(0, 0, std::max(risen, trail_.at().z() - back[i].z())), MoveKind::lead);
    }
    return;
  }
  trail_.counts().leads_wanted += is_line_of_its_own(lead);
  Polyline3 way = lead_into(lead, back);
  if (way.empty()) return;
  ++trail_.counts().leads;
  std::reverse(way.begin(), way.end());
  trail_.go_along(way, MoveKind::lead);
}

void Linker::go_out() {
  leave(options_.steps.leads.out);
  through(options_.exit, "way out");
  trail_.retract();
}

double Linker::seconds_at_link_feed(const Polyline3& line) const {
  return length(std::span<const Vec3>(line)) / surface_.tool().link_feed_mm_min * 60;
}

/// A link at feed is not worth more time than the way over the plane.
double Linker::most_seconds(const Vec3& start) const {
  return seconds_by_plane(trail_.at(), start, options_);
}

/// At feed to the start of the next cut: straight, or along the surface.
bool Linker::stay_down(const Vec3& start, const LinkLadder& ladder) {
  const Vec3& at = trail_.at();
  if (!trail_.is_near(start, ladder.stay_down_mm)) return false;
  if (seconds_at_link_feed({at, start}) > most_seconds(start)) return false;
  if (trail_.is_free(at, start) && trail_.goes_right_way({start})) {
    if (trail_.too_steep(at, start) && trail_.too_much_under(start)) return false;
    trail_.go(start, MoveKind::link);
    return true;
  }
  if (trail_.crosses_keep_out(at, start)) return false;
  const Vec2 ends[] = {plan(at), plan(start)};
  const auto lines = lift(surface_, ends, {.tolerance_mm = options_.tolerance_mm});
  if (lines.size() != 1) return false;
  Polyline3 line = lines.front();
  const Heights heights = heights_of(line);
  if (heights.low < options_.bottom_z || !trail_.goes_right_way(line)) return false;
  const bool same_ends = plan(line.front()) == ends[0] && plan(line.back()) == ends[1];
  if (!same_ends || heights.high > std::max(at.z(), start.z()) + surface_.cutter().radius()) return false;
  // The cut's ends may stand higher than the line's, as links and cuts are raised apart; then go straight
  // up or down.
  line.push_back(start);
  if (seconds_at_link_feed(line) > most_seconds(start)) return false;
  trail_.go_along(line, MoveKind::link);
  return true;
}

/// No more material in its way than finishing meets; a hop is no cut.
bool Linker::meets_little(const Polyline3& line) {
  const double most = 0.3 * surface_.cutter().radius();
  const auto little = [&] {
    return std::all_of(line.begin(), line.end(),
                       [&](const Vec3& p) { return trail_.material().thickness_met(p) <= most; });
  };
  if (little()) return true;
  trail_.material().catch_up();
  return little();
}

/// The hop that fits; nothing if none does.
std::optional<Polyline3> Linker::hop_between(const HopEnds& ends) {
  const auto room = [&](const Vec3& a, const Vec3& b) { return trail_.room(a, b); };
  std::optional<Polyline3> line = hop_over(ends, room, surface_.cutter().radius());
  if (!line || !trail_.goes_right_way(*line) || !meets_little(*line)) return std::nullopt;
  for (std::size_t i = 1; i < line->size(); ++i)
    if (trail_.too_steep((*line)[i - 1], (*line)[i]) && trail_.too_much_under((*line)[i]))
      return std::nullopt;
  return line;
}

/// A hop from cut to cut; where that does not fit, from a lead out to a lead in.
bool Linker::hop(const Polyline3& line, const Between& between) {
  const Vec3& start = line.front();
  if (!trail_.is_near(start, between.ladder.hop_mm) || last_.size() < 2 || surface_.allowance_mm() < 0)
    return false;
  const double most = most_seconds(start);
  const auto from_to = [&](const Polyline3& out, const Polyline3& in) {
    return hop_between({out.back(), end_direction(out), in.front(), start_direction(in)});
  };
  if (const auto over = from_to(last_, line); over && seconds_at_link_feed(*over) <= most) {
    trail_.go_along(*over, MoveKind::link);
    return true;
  }
  Polyline3 out = lead_into(between.leads.out, {last_.rbegin(), last_.rend()});
  const Polyline3 in = lead_into(between.leads.in, line);
  if (out.empty() || in.empty()) return false;
  std::reverse(out.begin(), out.end());
  const auto over = from_to(out, in);
  if (!over) return false;
  if (seconds_at_link_feed(*over) + seconds_at_link_feed(out) + seconds_at_link_feed(in) > most) return false;
  trail_.go_along(out, MoveKind::lead);
  trail_.go_along(*over, MoveKind::link);
  trail_.go_along(in, MoveKind::lead);
  return true;
}

}  // namespace yardpass::detail
