#include "verify/part_proof.h"

#include <algorithm>
#include <map>

#include "geom/parallel_for.h"

namespace yardpass::detail {

namespace {

constexpr std::size_t kChunk = 256;

/// A guard as each tool meets it.
struct GuardProof {
  const JudgedGuard* guard;
  std::vector<AssemblySurface> assemblies;
};

class PartProver {
 public:
  PartProver(const Program& program, const std::shared_ptr<const ContactPart>& part,
             const std::vector<Tool>& tools, const JudgeOptions& options)
      : program_(program), options_(options), tool_of_(tool_of_moves(program, tools)) {
    for (const Tool& tool : tools) assemblies_.emplace_back(part, tool);
    for (const JudgedGuard& guard : options.guards) {
      guards_.push_back({&guard, {}});
      for (const Tool& tool : tools) guards_.back().assemblies.emplace_back(guard.part, tool);
    }
    for (const std::string& name : program.operations) {
      const IntendedCut* found = nullptr;
      for (const IntendedCut& cut : options.intended)
        if (cut.operation == name) found = &cut;
      intended_.push_back(found);
    }
  }

  PartProof run(const Progress& progress) {
    const std::size_t chunks = (program_.moves.size() + kChunk - 1) / kChunk;
    std::vector<PartProof> proofs(chunks);
    parallel_for(chunks, progress, [&](std::size_t chunk) {
      PartProof& proof = proofs[chunk];
      proof.least_of_operation.assign(program_.operations.size(), {options_.room_up_to_mm});
      for (std::size_t i = chunk * kChunk; i < std::min((chunk + 1) * kChunk, program_.moves.size()); ++i)
        prove(i, proof);
    });
    PartProof whole;
    whole.least_of_operation.assign(program_.operations.size(), {options_.room_up_to_mm});
    for (PartProof& proof : proofs) {
      for (std::size_t k = 0; k < proof.least_of_operation.size(); ++k)
        if (proof.least_of_operation[k].room_mm < whole.least_of_operation[k].room_mm)
          whole.least_of_operation[k] = proof.least_of_operation[k];
      whole.troubles.insert(whole.troubles.end(), proof.troubles.begin(), proof.troubles.end());
    }
    return whole;
  }

 private:
  void prove(std::size_t i, PartProof& proof) const {
    const ProgramMove& move = program_.moves[i];
    const AssemblySurface& assembly = assemblies_[tool_of_[i]];
    prove_cutter(i, assembly.bodies().front().surface, proof);
    double shank = 0, holder = 0;
    for (std::size_t k = 1; k < assembly.bodies().size(); ++k) {
      const AssemblySurface::Body& body = assembly.bodies()[k];
      const double depth = -room_of(body, move, -options_.limit_mm);
      if (depth > options_.limit_mm) {
        double& deepest = body.part == ToolPart::holder ? holder : shank;
        deepest = std::max(deepest, depth);
      }
    }
    if (shank > 0) proof.troubles.push_back({FindingKind::shank_into_part, i, shank, move.to});
    if (holder > 0) proof.troubles.push_back({FindingKind::holder_into_part, i, holder, move.to});
    for (const GuardProof& guard : guards_) prove_guard(i, guard, proof);
    prove_travel(i, proof);
  }

  static double room_of(const AssemblySurface::Body& body, const ProgramMove& move, double up_to) {
    const Vec3 up(0, 0, body.above_tip_mm);
    return room_around(body.surface, move.from + up, move.to + up, up_to);
  }

  void prove_cutter(std::size_t i, const TipSurface& surface, PartProof& proof) const {
    const ProgramMove& move = program_.moves[i];
    LeastRoom& least = proof.least_of_operation[static_cast<std::size_t>(move.operation)];
    // Most moves keep clear even with a thicker cutter; only those that do not are measured. Rapids need only
    // be free.
    const double asked = move.rapid() ? -options_.limit_mm : std::max(least.room_mm, -options_.limit_mm);
    const double room = room_around(surface, move.from, move.to, asked);
    if (room >= asked) return;
    if (!move.rapid() && room < least.room_mm) least = {room, move.line};
    // Out of a stated cut a rapid may rise, but no more.
    const bool rises = plan(move.from) == plan(move.to) && move.to.z() > move.from.z();
    if (room < -options_.limit_mm - (move.rapid() && !rises ? 0 : stated_depth(move)))
      proof.troubles.push_back({move.rapid() ? FindingKind::rapid_into_part : FindingKind::gouge, i, -room,
                                surface.clearance(move.from, move.to).tip});
  }

  /// How deep the move's operation says it cuts into the part here.
  [[nodiscard]] double stated_depth(const ProgramMove& move) const {
    const IntendedCut* cut = intended_[static_cast<std::size_t>(move.operation)];
    if (!cut) return 0;
    const bool inside =
        cut->place.empty() || (cut->place.contains(plan(move.from)) && cut->place.contains(plan(move.to)));
    return inside ? cut->depth_mm : 0;
  }

  void prove_guard(std::size_t i, const GuardProof& proof_of, PartProof& proof) const {
    const ProgramMove& move = program_.moves[i];
    const auto& meant = proof_of.guard->operations;
    if (!meant.empty() &&
        std::find(meant.begin(), meant.end(),
                  program_.operations[static_cast<std::size_t>(move.operation)]) == meant.end())
      return;
    const double clearance = proof_of.guard->clearance_mm;
    double missing = 0;
    for (const AssemblySurface::Body& body : proof_of.assemblies[tool_of_[i]].bodies())
      missing = std::max(missing, clearance - room_of(body, move, clearance));
    if (missing > options_.limit_mm)
      proof.troubles.push_back({FindingKind::guard_too_near, i, missing, move.to, proof_of.guard->name});
  }

  void prove_travel(std::size_t i, PartProof& proof) const {
    if (!options_.travel) return;
    const Vec3& p = program_.moves[i].to;  // where a move starts, another one ended
    const double outside = std::sqrt(options_.travel->squaredExteriorDistance(p));
    if (outside > 1e-9) proof.troubles.push_back({FindingKind::outside_travel, i, outside, p});
  }

  const Program& program_;
  const JudgeOptions& options_;
  std::vector<std::size_t> tool_of_;
  std::vector<AssemblySurface> assemblies_;
  std::vector<GuardProof> guards_;
  std::vector<const IntendedCut*> intended_;  // of each operation; null for none
};

}  // namespace

std::vector<std::size_t> tool_of_moves(const Program& program, const std::vector<Tool>& tools) {
  std::map<std::int32_t, std::size_t> index_of_number;
  for (std::size_t i = 0; i < tools.size(); ++i) index_of_number.emplace(tools[i].number, i);
  for (const std::int32_t number : program.tools) {
    if (index_of_number.contains(number)) continue;
    std::string known;
    for (const Tool& tool : tools) known += (known.empty() ? "T" : ", T") + std::to_string(tool.number);
    throw Error("the program calls T" + std::to_string(number) +
                ", which is not in the tool table; there are " + known);
  }
  std::vector<std::size_t> result;
  result.reserve(program.moves.size());
  for (const ProgramMove& move : program.moves) result.push_back(index_of_number.at(move.tool));
  return result;
}

PartProof prove_against_part(const Program& program, const std::shared_ptr<const ContactPart>& part,
                             const std::vector<Tool>& tools, const JudgeOptions& options,
                             const Progress& progress) {
  return PartProver(program, part, tools, options).run(progress);
}

}  // namespace yardpass::detail
