#include "strategy/merged_plans.h"

namespace yardpass::detail {

void append_plan(CutPlan& plan, CutPlan more) {
  const auto first = static_cast<std::int32_t>(plan.groups.size());
  std::int32_t last_pass = 0;
  for (const CutGroup& group : plan.groups)
    for (const Cut& cut : group.cuts) last_pass = std::max(last_pass, cut.pass);
  for (std::size_t i = 0; i < more.groups.size(); ++i) {
    CutGroup& group = more.groups[i];
    for (std::int32_t& before : group.after) before += first;
    if (more.keep_group_order && i > 0) group.after.push_back(first + static_cast<std::int32_t>(i) - 1);
    for (std::int32_t k = 0; k < first; ++k) group.after.push_back(k);
    // The number after the last is left out: passes of the two sides are no neighbours.
    for (Cut& cut : group.cuts) cut.pass += last_pass + 1;
    plan.groups.push_back(std::move(group));
  }
  plan.facts.insert(plan.facts.end(), more.facts.begin(), more.facts.end());
  plan.notes.insert(plan.notes.end(), more.notes.begin(), more.notes.end());
  plan.left_alone.insert(plan.left_alone.end(), more.left_alone.begin(), more.left_alone.end());
}

CutPlan without_nothing(CutPlan plan) {
  std::erase_if(plan.notes, [](const Note& note) { return note.about == "nothing"; });
  return plan;
}

CutPlan order_by_after(CutPlan plan) {
  if (plan.keep_group_order)
    for (std::size_t i = 1; i < plan.groups.size(); ++i)
      plan.groups[i].after.push_back(static_cast<std::int32_t>(i) - 1);
  plan.keep_group_order = false;
  return plan;
}

}  // namespace yardpass::detail
