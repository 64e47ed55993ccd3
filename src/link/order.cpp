#include "yardpass/link/order.h"

#include <algorithm>
#include <limits>

#include "link/tour.h"

namespace yardpass {

namespace {

using detail::Stop;
using detail::Tour;
using detail::Visit;

constexpr std::size_t kMostPlaces = 64;  // where a closed cut may begin

/// Indices of the points at which a closed cut may begin.
std::vector<std::size_t> starts_of(const Cut& cut) {
  const std::size_t count = std::min(kMostPlaces, cut.points.size());
  std::vector<std::size_t> starts(count);
  for (std::size_t k = 0; k < count; ++k) starts[k] = k * cut.points.size() / count;
  return starts;
}

/// Whether it may begin elsewhere: a helix ends at the first point.
bool may_begin_anywhere(const Cut& cut) { return cut.closed && cut.entry != Entry::helix; }

Stop stop_of(const Cut& cut) {
  if (!cut.closed) return {{cut.points.front(), cut.points.back()}, false};
  if (!may_begin_anywhere(cut)) return {{cut.points.front()}, true};
  Stop stop{{}, true};
  for (const std::size_t k : starts_of(cut)) stop.places.push_back(cut.points[k]);
  return stop;
}

Cut as_visited(Cut cut, const Visit& visit) {
  if (visit.turned) {
    std::reverse(cut.points.begin(), cut.points.end());
    if (cut.part != Side::below) cut.part = cut.part == Side::left ? Side::right : Side::left;
  }
  if (may_begin_anywhere(cut))
    std::rotate(cut.points.begin(),
                cut.points.begin() + static_cast<std::ptrdiff_t>(starts_of(cut)[visit.place]),
                cut.points.end());
  return cut;
}

Vec3 end_of(const Cut& cut) { return cut.closed ? cut.points.front() : cut.points.back(); }

/// The cuts of a group from where the tool is.
class OrderedGroup {
 public:
  OrderedGroup(const CutGroup& group, const LinkCosts& costs) : group_(group), costs_(costs) {
    std::vector<Stop> stops;
    for (const Cut& cut : group.cuts) stops.push_back(stop_of(cut));
    tour_.emplace(std::move(stops), !group.keep_direction && turnable(), costs);
  }

  [[nodiscard]] std::vector<Visit> best(const std::optional<Vec3>& from) const {
    std::vector<Visit> best = tour_->as_given();
    if (group_.keep_order || group_.cuts.size() < 2) return best;
    std::vector<Visit> nearest = tour_->nearest_next(from);
    std::vector<Visit> improved_plan = best;
    if (!from) tour_->improve(improved_plan);
    tour_->improve(nearest);
    for (std::vector<Visit>* other : {&improved_plan, &nearest})
      if (seconds(*other, from) < seconds(best, from)) best = *other;
    return best;
  }
  [[nodiscard]] double seconds(const std::vector<Visit>& visits, const std::optional<Vec3>& from) const {
    return tour_->seconds(visits) +
           (from && !visits.empty() ? costs_.seconds(*from, tour_->in(visits.front())) : 0);
  }
  [[nodiscard]] std::vector<Visit> as_given() const { return tour_->as_given(); }
  [[nodiscard]] std::vector<Cut> cuts(const std::vector<Visit>& visits) const {
    std::vector<Cut> result;
    for (const Visit& visit : visits) result.push_back(as_visited(group_.cuts[visit.stop], visit));
    return result;
  }

 private:
  /// What ramps or winds down along itself begins where it says.
  [[nodiscard]] bool turnable() const {
    return std::all_of(group_.cuts.begin(), group_.cuts.end(),
                       [](const Cut& cut) { return cut.entry == Entry::straight; });
  }
  const CutGroup& group_;
  LinkCosts costs_;
  std::optional<Tour> tour_;
};

/// Group after group; where their order is free, the nearest of those that may be next.
class GroupOrder {
 public:
  GroupOrder(const CutPlan& plan, const LinkCosts& costs)
      : plan_(plan), costs_(costs), place_(plan.groups.size(), -1) {}

  std::optional<std::size_t> next(const std::optional<Vec3>& from) {
    std::optional<std::size_t> best;
    double least = std::numeric_limits<double>::infinity();
    for (std::size_t g = 0; g < plan_.groups.size(); ++g) {
      if (place_[g] >= 0 || !may_be_next(g)) continue;
      const double cost = from && !plan_.keep_group_order ? cost_of(plan_.groups[g], *from) : 0;
      if (!best || cost < least) best = g, least = cost;
      if (plan_.keep_group_order) break;
    }
    if (best) place_[*best] = count_++;
    return best;
  }
  /// Where a group of the plan went.
  [[nodiscard]] std::int32_t place_of(std::int32_t group) const {
    return place_[static_cast<std::size_t>(group)];
  }

 private:
  [[nodiscard]] bool may_be_next(std::size_t g) const {
    const std::vector<std::int32_t>& after = plan_.groups[g].after;
    return std::all_of(after.begin(), after.end(), [&](std::int32_t one) {
      return one < 0 || static_cast<std::size_t>(one) >= place_.size() || place_of(one) >= 0;
    });
  }
  [[nodiscard]] double cost_of(const CutGroup& group, const Vec3& from) const {
    double least = std::numeric_limits<double>::infinity();
    for (const Cut& cut : group.cuts) {
      if (cut.points.empty()) continue;
      least = std::min(least, costs_.seconds(from, cut.points.front()));
      if (group.keep_order) break;
    }
    return least;
  }
  const CutPlan& plan_;
  LinkCosts costs_;
  std::vector<std::int32_t> place_;  // of each group of the plan; -1: not yet
  std::int32_t count_ = 0;
};

double seconds_as_planned(const CutPlan& plan, const LinkCosts& costs) {
  double sum = 0;
  std::optional<Vec3> from;
  for (const CutGroup& group : plan.groups) {
    const OrderedGroup all(group, costs);
    const std::vector<Visit> visits = all.as_given();
    sum += all.seconds(visits, from);
    if (!visits.empty()) from = end_of(all.cuts({visits.back()}).front());
  }
  return sum;
}

}  // namespace

double LinkCosts::seconds(const Vec3& from, const Vec3& to) const {
  const double across = (yardpass::plan(to) - yardpass::plan(from)).norm();
  const double lift = lift_s + across / rapid_mm_s;
  return across <= at_feed_up_to_mm ? std::min(lift, (to - from).norm() / feed_mm_s) : lift;
}

OrderedPlan ordered(CutPlan plan, const LinkCosts& costs, const std::optional<Vec2>& start_near) {
  for (CutGroup& group : plan.groups)
    std::erase_if(group.cuts, [](const Cut& cut) { return cut.points.size() < 2; });
  OrderedPlan result;
  result.before_s = seconds_as_planned(plan, costs);
  GroupOrder groups(plan, costs);
  std::vector<CutGroup> sorted;
  std::optional<Vec3> from;
  if (start_near) from = with_z(*start_near, 0);
  bool first = true;
  while (const std::optional<std::size_t> next = groups.next(from)) {
    const CutGroup& group = plan.groups[*next];
    const OrderedGroup all(group, costs);
    const std::vector<Visit> visits = all.best(from);
    result.after_s += all.seconds(visits, first ? std::nullopt : from);
    sorted.push_back(group);
    sorted.back().cuts = all.cuts(visits);
    if (sorted.back().cuts.empty()) continue;
    from = end_of(sorted.back().cuts.back());
    first = false;
  }
  // Groups that wait for one that never comes are no plan; whoever links them says so.
  const bool all_there = sorted.size() == plan.groups.size();
  const bool any = std::any_of(plan.groups.begin(), plan.groups.end(), [](const CutGroup& group) {
    return !group.keep_order && group.cuts.size() > 1;
  });
  if (!all_there || (result.after_s > result.before_s && !start_near)) {
    result.after_s = result.before_s;
    result.plan = std::move(plan);
    return result;
  }
  result.reordered = any || !plan.keep_group_order;
  for (CutGroup& group : sorted)
    for (std::int32_t& one : group.after) one = groups.place_of(one);
  result.plan = std::move(plan);
  result.plan.groups = std::move(sorted);
  return result;
}

}  // namespace yardpass
