#include "verify/stock_proof.h"

#include <algorithm>

namespace yardpass::detail {

namespace {

/// A profile thinner all round by the limit, and how much higher its tip then stands.
Resized thinner(const Profile& profile, double limit) {
  if (auto result = resized(profile, -limit)) return *result;
  return {profile, 0};
}

struct Bodies {
  std::vector<Profile> cutters;  ///< of each tool; then each again, thinner by the limit, for rapids
  std::vector<double> rapid_lift;
  std::vector<TestedBody> tested;
  std::vector<FindingKind> kind_of_tested;
};

void add_tested(Bodies& bodies, std::size_t tool, const Profile& profile, double above_tip, double limit,
                bool on_rapids, FindingKind kind) {
  const Resized thin = thinner(profile, limit);
  // Rapids are moves of the thinner cutter, which has its own number.
  for (const std::size_t cutter : {tool, tool + bodies.rapid_lift.size()}) {
    const bool rapid = cutter != tool;
    if (rapid && !on_rapids) continue;
    const double lift = above_tip + thin.tip_z_mm - (rapid ? bodies.rapid_lift[tool] : 0);
    bodies.tested.push_back({static_cast<std::int32_t>(cutter), thin.profile, lift, true});
    bodies.kind_of_tested.push_back(kind);
  }
}

Bodies bodies_of(const std::vector<Tool>& tools, double limit) {
  Bodies bodies;
  std::vector<Profile> thin;
  for (const Tool& tool : tools) {
    const Profile profile = profile_of(tool);
    const Resized rapid = thinner(profile, limit);
    bodies.cutters.push_back(profile);
    thin.push_back(rapid.profile);
    bodies.rapid_lift.push_back(rapid.tip_z_mm);
  }
  bodies.cutters.insert(bodies.cutters.end(), thin.begin(), thin.end());
  for (std::size_t k = 0; k < tools.size(); ++k) {
    const Tool& tool = tools[k];
    const double radius = bodies.cutters[k].radius();
    if (tool.flute_length_mm > 0)
      add_tested(bodies, k, Profile::flat(2 * radius), tool.flute_length_mm, limit, false,
                 FindingKind::deeper_than_flutes);
    for (const ToolSection& section : sections_above(tool)) {
      // What stands in the cutter's shadow meets nothing that the flutes do not.
      if (section.profile.radius() <= radius + limit) continue;
      add_tested(
          bodies, k, section.profile, section.above_tip_mm, limit, true,
          section.part == ToolPart::holder ? FindingKind::holder_into_stock : FindingKind::shank_into_stock);
    }
  }
  return bodies;
}

}  // namespace

StockProof prove_against_stock(const Program& program, const std::vector<Tool>& tools, Stock& stock,
                               const JudgeOptions& options, const Progress& progress) {
  const Bodies bodies = bodies_of(tools, options.limit_mm);
  const std::vector<std::size_t> tool_of = tool_of_moves(program, tools);
  std::vector<SweptMove> swept;
  swept.reserve(program.moves.size());
  for (std::size_t i = 0; i < program.moves.size(); ++i) {
    const ProgramMove& move = program.moves[i];
    const std::size_t tool = tool_of[i], cutter = tool + (move.rapid() ? tools.size() : 0);
    const Vec3 up(0, 0, move.rapid() ? bodies.rapid_lift[tool] : 0);
    swept.push_back({move.from + up, move.to + up, static_cast<std::int32_t>(cutter), !move.rapid(),
                     program.arc_of(move)});
  }
  StockProof proof;
  carve(stock, bodies.cutters, swept, &proof.log, progress, bodies.tested);
  auto meeting = proof.log.meetings.begin();
  for (std::size_t i = 0; i < program.moves.size(); ++i) {
    for (; meeting != proof.log.meetings.end() && static_cast<std::size_t>(meeting->move) == i; ++meeting)
      proof.troubles.push_back({bodies.kind_of_tested[static_cast<std::size_t>(meeting->body)], i,
                                meeting->depth_mm + options.limit_mm, meeting->at});
    if (proof.log.entered[i] > 0)
      proof.troubles.push_back({FindingKind::rapid_through_stock, i, proof.log.entered[i] + options.limit_mm,
                                proof.log.entered_at[i]});
  }
  return proof;
}

}  // namespace yardpass::detail
