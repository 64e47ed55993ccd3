#include "verify/stock_proof.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace yardpass::detail {

namespace {

/// A profile thinner all round by the limit, and how much higher its tip then stands.
Resized thinner(const Profile& profile, double limit) {
  if (auto result = resized(profile, -limit)) return *result;
  return {profile, 0};
}

/// How a move uses its tool.
enum class Use : std::uint8_t { cut, rapid, plunge };

/// Every tool as a cutter for each use, and what of it must not meet material.
class Bodies {
 public:
  Bodies(const std::vector<Tool>& tools, double limit, double cell) : limit_(limit), count_(tools.size()) {
    cutters_.resize(3 * count_, Profile::needle());
    for (std::size_t k = 0; k < count_; ++k) {
      const Profile profile = profile_of(tools[k]);
      const Resized rapid = thinner(profile, limit);
      cutters_[index(k, Use::cut)] = cutters_[index(k, Use::plunge)] = profile;
      cutters_[index(k, Use::rapid)] = rapid.profile;
      rapid_lift_.push_back(rapid.tip_z_mm);
    }
    for (std::size_t k = 0; k < count_; ++k) add_bodies(tools[k], k, cell);
  }
  [[nodiscard]] std::size_t index(std::size_t tool, Use use) const {
    return tool + static_cast<std::size_t>(use) * count_;
  }
  [[nodiscard]] const std::vector<Profile>& cutters() const { return cutters_; }
  [[nodiscard]] const std::vector<TestedBody>& tested() const { return tested_; }
  /// What it is when this body meets material, so deep.
  struct Meaning {
    FindingKind kind;
    double above_mm;  ///< the body stands higher than what is meant by this much
  };
  [[nodiscard]] const Meaning& meaning(std::int32_t body) const {
    return meaning_[static_cast<std::size_t>(body)];
  }
  [[nodiscard]] double rapid_lift(std::size_t tool) const { return rapid_lift_[tool]; }

 private:
  void add_bodies(const Tool& tool, std::size_t k, double cell) {
    const double radius = cutters_[k].radius();
    if (tool.flute_length_mm > 0)
      add(k, Profile::flat(2 * radius), tool.flute_length_mm, {Use::cut, Use::plunge},
          FindingKind::deeper_than_flutes);
    for (const ToolSection& section : sections_above(tool)) {
      // What stands in the cutter's shadow meets nothing that the flutes do not.
      if (section.profile.radius() <= radius + limit_) continue;
      add(k, section.profile, section.above_tip_mm, {Use::cut, Use::plunge, Use::rapid},
          section.part == ToolPart::holder ? FindingKind::holder_into_stock : FindingKind::shank_into_stock);
    }
    // The middle of the tool, where a cutter that must not plunge has no teeth: wide enough for a cell.
    const double core = std::max(0.1 * radius, 0.75 * cell), above = std::max(0.05, 0.1 * radius);
    tested_.push_back(
        {static_cast<std::int32_t>(index(k, Use::plunge)), Profile::flat(2 * core), above, true});
    meaning_.push_back({FindingKind::plunge_too_steep, above});
  }
  void add(std::size_t tool, const Profile& profile, double above_tip, std::initializer_list<Use> uses,
           FindingKind kind) {
    const Resized thin = thinner(profile, limit_);
    for (const Use use : uses) {
      const double lift = above_tip + thin.tip_z_mm - (use == Use::rapid ? rapid_lift_[tool] : 0);
      tested_.push_back({static_cast<std::int32_t>(index(tool, use)), thin.profile, lift, true});
      meaning_.push_back({kind, limit_});
    }
  }

  double limit_;
  std::size_t count_;
  std::vector<Profile> cutters_;
  std::vector<double> rapid_lift_;
  std::vector<TestedBody> tested_;
  std::vector<Meaning> meaning_;
};

/// Degrees below level of a feed move; for arcs, of the helix.
double descent_deg(const Program& program, const ProgramMove& move) {
  const double down = move.from.z() - move.to.z(), length = program.length_of(move);
  if (move.rapid() || !(down > 0)) return 0;
  return std::asin(std::min(1.0, down / length)) * 180 / std::numbers::pi;
}

bool too_steep(double descent, const Tool& tool) { return descent > tool.steepest_entry_deg + 0.01; }

bool too_fast(double descent, const ProgramMove& move, const Tool& tool) {
  return descent > 80 && tool.plunge_limit_mm_min > 0 && move.feed_mm_min > 1.001 * tool.plunge_limit_mm_min;
}

Use use_of(const Program& program, const ProgramMove& move, const Tool& tool) {
  if (move.rapid()) return Use::rapid;
  const double descent = descent_deg(program, move);
  return too_steep(descent, tool) || too_fast(descent, move, tool) ? Use::plunge : Use::cut;
}

/// What one stretch of moves met.
void add_troubles(const Program& program, const std::vector<Tool>& tools,
                  const std::vector<std::size_t>& tool_of, const Bodies& bodies, const CarveLog& log,
                  double limit, std::vector<Trouble>& troubles) {
  auto meeting = log.meetings.begin();
  const auto first = static_cast<std::size_t>(log.first_move);
  for (std::size_t i = first; i < first + log.removed.size(); ++i) {
    for (; meeting != log.meetings.end() && static_cast<std::size_t>(meeting->move) == i; ++meeting) {
      auto [kind, above] = bodies.meaning(meeting->body);
      if (kind == FindingKind::plunge_too_steep &&
          !too_steep(descent_deg(program, program.moves[i]), tools[tool_of[i]]))
        kind = FindingKind::plunge_too_fast;
      troubles.push_back({kind, i, meeting->depth_mm + above, meeting->at});
    }
    if (log.entered[i - first] > 0)
      troubles.push_back(
          {FindingKind::rapid_through_stock, i, log.entered[i - first] + limit, log.entered_at[i - first]});
  }
}

}  // namespace

StockProof prove_against_stock(const Program& program, const std::vector<Tool>& tools, Stock& stock,
                               const JudgeOptions& options, const Progress& progress) {
  const Bodies bodies(tools, options.limit_mm, stock.cell_mm());
  const std::vector<std::size_t> tool_of = tool_of_moves(program, tools);
  std::vector<SweptMove> swept;
  swept.reserve(program.moves.size());
  for (std::size_t i = 0; i < program.moves.size(); ++i) {
    const ProgramMove& move = program.moves[i];
    const Use use = use_of(program, move, tools[tool_of[i]]);
    const Vec3 up(0, 0, use == Use::rapid ? bodies.rapid_lift(tool_of[i]) : 0);
    swept.push_back({move.from + up, move.to + up, static_cast<std::int32_t>(bodies.index(tool_of[i], use)),
                     use != Use::rapid, program.arc_of(move)});
  }
  StockProof proof;
  CarveLog log;
  const auto count = static_cast<double>(std::max<std::size_t>(swept.size(), 1));
  for (std::size_t first = 0; first < swept.size();) {
    std::size_t last = first;
    const std::int32_t operation = program.moves[first].operation;
    while (last < swept.size() && program.moves[last].operation == operation) ++last;
    log.first_move = static_cast<std::int32_t>(first);
    carve(stock, bodies.cutters(), std::span(swept).subspan(first, last - first), &log,
          part_of(progress, static_cast<double>(first) / count, static_cast<double>(last) / count),
          bodies.tested());
    proof.removed.insert(proof.removed.end(), log.removed.begin(), log.removed.end());
    add_troubles(program, tools, tool_of, bodies, log, options.limit_mm, proof.troubles);
    if (options.after_operation) options.after_operation(operation, stock);
    first = last;
  }
  proof.last_cut = std::move(log.last_cut);
  if (proof.last_cut.empty()) proof.last_cut.assign(stock.heights().size(), -1);
  return proof;
}

}  // namespace yardpass::detail
