// How the linker comes to a cut that is entered straight, and runs it.
#include <algorithm>

#include "link/linker.h"
#include "plan/sunk_line.h"
#include "yardpass/geom/text.h"

namespace yardpass::detail {

/// Down into the surface, along, and up again to the line.
void Linker::run(const Polyline3& line) {
  if (rapid_) return trail_.go_along(line, MoveKind::rapid);
  if (!sinks()) return entries_.cut_along(line);
  trail_.go(deep_.front(), MoveKind::plunge);
  entries_.cut_along(deep_);
  trail_.go(line.back(), MoveKind::lead);
}

Polyline3 Linker::sunk(const Polyline3& line, std::int32_t pass) const {
  const auto k = static_cast<std::size_t>(pass) - 1;
  if (pass < 1 || k >= depths_->size() || (*depths_)[k].points.empty()) return {};
  return sunk_line(trail_.without_dust(line), (*depths_)[k]);
}

/// What is to run at rapid must have nothing in its way.
void Linker::refuse_in_material(const Polyline3& line) {
  for (std::size_t i = 1; i < line.size(); ++i)
    if (!trail_.material().is_cleared(line[i - 1], line[i]))
      throw Error("a rapid from " + place_words(line[i - 1]) + " to " + place_words(line[i]) +
                  " would meet material; at feed it may");
}

void Linker::straight_in(const Polyline3& line, bool closed, const Between& between) {
  const Vec3& start = line.front();
  if (rapid_) refuse_in_material(line);
  const auto in = [&] {
    run(line);
    last_ = line;
  };
  if (trail_.started()) {
    if (stay_down(start, between.ladder)) {
      ++trail_.counts().stay_down;
      return in();
    }
    if (hop(line, between)) {
      ++trail_.counts().hops;
      return in();
    }
    leave(between.leads.out);
  }
  const bool too_much = trail_.too_much_under(sinks() ? deep_.front() : start);
  if (too_much || between.leads.in.shape == LeadShape::ramp) {
    last_ = entries_.by_ramp(sinks() ? deep_ : line, closed, between.ladder.lift_mm);
    if (sinks()) {
      // Up again wherever the ramp's last lap ended.
      const Vec2 place = plan(trail_.at());
      trail_.go(with_z(place, std::max(trail_.at().z(), surface_.height(place))), MoveKind::lead);
      last_.clear();
    }
    return;
  }
  const Polyline3 lead = lead_into(between.leads.in, line);
  trail_.counts().leads_wanted += is_line_of_its_own(between.leads.in);
  trail_.counts().leads += !lead.empty();
  come_straight_down(lead, start, between.ladder.lift_mm);
  in();
}

void Linker::come_straight_down(const Polyline3& lead, const Vec3& start, double lift_up_to_mm) {
  const Vec3 first = lead.empty() ? start : lead.front();
  trail_.come_over(plan(first), first.z(), lift_up_to_mm);
  // Into the surface in one go.
  if (!lead.empty() || !sinks()) trail_.go(first, MoveKind::plunge);
  trail_.go_along(lead, MoveKind::lead);
}

}  // namespace yardpass::detail
