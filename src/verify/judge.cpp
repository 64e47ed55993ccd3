#include "yardpass/verify/judge.h"

#include <algorithm>

#include "geom/parallel_for.h"
#include "yardpass/contact/assembly.h"
#include "yardpass/verify/time.h"

namespace yardpass {

namespace {

// Findings that are no more than so many moves apart are taken together.
constexpr std::size_t kSameTrouble = 50;
constexpr std::size_t kChunk = 256;

struct Cutters {
  std::vector<Profile> profiles;
  std::map<std::int32_t, std::int32_t> index_of_number;
};

Cutters cutters_of(const Program& program, const std::vector<Tool>& tools) {
  Cutters result;
  for (const Tool& tool : tools) {
    result.index_of_number.emplace(tool.number, static_cast<std::int32_t>(result.profiles.size()));
    result.profiles.push_back(profile_of(tool));
  }
  for (const std::int32_t number : program.tools) {
    if (result.index_of_number.contains(number)) continue;
    std::string known;
    for (const Tool& tool : tools) known += (known.empty() ? "T" : ", T") + std::to_string(tool.number);
    throw Error("the program calls T" + std::to_string(number) +
                ", which is not in the tool table; there are " + known);
  }
  return result;
}

/// What the proof against the part found of one move.
struct PartProof {
  double gouge_mm = 0;
  Vec3 at = Vec3::Zero();
  double shank_mm = 0, holder_mm = 0;  // how deep in the part
  Vec3 above_at = Vec3::Zero();        // tip position of either
};

/// The least room of a stretch of moves of one operation.
struct LeastRoom {
  double room_mm;
  std::int32_t line = 0;
};

class PartProver {
 public:
  PartProver(const Program& program, const std::shared_ptr<const ContactPart>& part,
             const std::vector<Tool>& tools, const Cutters& cutters, const JudgeOptions& options)
      : program_(program), options_(options), proofs(program.moves.size()) {
    for (const Tool& tool : tools) assemblies_.emplace_back(part, tool);
    for (const ProgramMove& move : program.moves)
      cutter_of_.push_back(static_cast<std::size_t>(cutters.index_of_number.at(move.tool)));
  }

  void run(const Progress& progress) {
    const std::size_t chunks = (program_.moves.size() + kChunk - 1) / kChunk;
    std::vector<std::vector<LeastRoom>> least(
        chunks, std::vector<LeastRoom>(program_.operations.size(), {options_.room_up_to_mm}));
    detail::parallel_for(chunks, progress, [&](std::size_t chunk) {
      for (std::size_t i = chunk * kChunk; i < std::min((chunk + 1) * kChunk, program_.moves.size()); ++i)
        prove(i, least[chunk][static_cast<std::size_t>(program_.moves[i].operation)]);
    });
    least_of_operation.assign(program_.operations.size(), {options_.room_up_to_mm});
    for (const auto& chunk : least)
      for (std::size_t k = 0; k < chunk.size(); ++k)
        if (chunk[k].room_mm < least_of_operation[k].room_mm) least_of_operation[k] = chunk[k];
  }

 private:
  void prove(std::size_t i, LeastRoom& least) {
    const ProgramMove& move = program_.moves[i];
    const AssemblySurface& assembly = assemblies_[cutter_of_[i]];
    prove_above(assembly, move, proofs[i]);
    const TipSurface& surface = assembly.bodies().front().surface;
    // Most moves keep clear even with a thicker cutter; only those that do not are measured. Rapids need only
    // be free.
    const double asked = move.rapid() ? -options_.limit_mm : std::max(least.room_mm, -options_.limit_mm);
    const double room = room_around(surface, move.from, move.to, asked);
    if (room >= asked) return;
    if (!move.rapid() && room < least.room_mm) least = {room, move.line};
    if (room < -options_.limit_mm) {
      proofs[i].gouge_mm = -room;
      proofs[i].at = surface.clearance(move.from, move.to).tip;
    }
  }

  void prove_above(const AssemblySurface& assembly, const ProgramMove& move, PartProof& proof) const {
    for (std::size_t k = 1; k < assembly.bodies().size(); ++k) {
      const AssemblySurface::Body& body = assembly.bodies()[k];
      const Vec3 up(0, 0, body.above_tip_mm);
      const double depth = -room_around(body.surface, move.from + up, move.to + up, -options_.limit_mm);
      if (depth <= options_.limit_mm) continue;
      double& deepest = body.part == ToolPart::holder ? proof.holder_mm : proof.shank_mm;
      deepest = std::max(deepest, depth);
      proof.above_at = move.to;
    }
  }

  const Program& program_;
  const JudgeOptions& options_;
  std::vector<AssemblySurface> assemblies_;
  std::vector<std::size_t> cutter_of_;

 public:
  std::vector<PartProof> proofs;
  std::vector<LeastRoom> least_of_operation;
};

class FindingList {
 public:
  explicit FindingList(const Program& program) : program_(program) {}

  void add(FindingKind kind, std::size_t move, double depth, const Vec3& at) {
    const ProgramMove& m = program_.moves[move];
    auto& last = last_[kind];
    if (last.finding >= 0 && move - last.move <= kSameTrouble) {
      Finding& known = findings_[static_cast<std::size_t>(last.finding)];
      if (known.operation == m.operation) {
        ++known.moves;
        if (depth > known.depth_mm) known.depth_mm = depth, known.at = at, known.worst_line = m.line;
        last.move = move;
        return;
      }
    }
    last = {static_cast<std::ptrdiff_t>(findings_.size()), move};
    findings_.push_back({kind, m.operation, m.line, m.line, 1, at, depth});
  }

  std::vector<Finding> take() {
    std::stable_sort(findings_.begin(), findings_.end(),
                     [](const Finding& a, const Finding& b) { return a.line < b.line; });
    return std::move(findings_);
  }

 private:
  struct Last {
    std::ptrdiff_t finding = -1;
    std::size_t move = 0;
  };
  const Program& program_;
  std::vector<Finding> findings_;
  std::map<FindingKind, Last> last_;
};

/// The way of the tip through an operation, from one place to the next.
std::vector<Vec3> tips_of(const Program& program, std::size_t operation) {
  std::vector<Vec3> tips;
  for (const ProgramMove& move : program.moves) {
    if (static_cast<std::size_t>(move.operation) != operation) continue;
    if (tips.empty()) tips.push_back(move.from);
    tips.push_back(move.to);
  }
  return tips;
}

std::vector<OperationJudgement> totals(const Program& program, const JudgeOptions& options,
                                       const CarveLog& log) {
  std::vector<OperationJudgement> result(program.operations.size());
  for (std::size_t k = 0; k < result.size(); ++k) result[k].name = program.operations[k];
  std::int32_t tool = -1;
  for (std::size_t i = 0; i < program.moves.size(); ++i) {
    const ProgramMove& move = program.moves[i];
    OperationJudgement& operation = result[static_cast<std::size_t>(move.operation)];
    if (move.tool != tool) operation.seconds += options.tool_change_s;
    tool = operation.tool = move.tool;
    ++operation.moves;
    operation.seconds += seconds_of(move, options.rapid_mm_min);
    const double length = (move.to - move.from).norm();
    if (move.rapid()) {
      // Coming down from the tool change is no way of the operation's own.
      if (move.from.z() < kChangeHeight) operation.rapid_mm += length;
      operation.retracts += move.to.z() > move.from.z();
    } else {
      operation.feed_mm += length;
      if (!log.removed[i]) operation.air_feed_mm += length;
    }
  }
  return result;
}

}  // namespace

const char* name_of(FindingKind kind) {
  switch (kind) {
    case FindingKind::gouge:
      return "gouge";
    case FindingKind::rapid_into_part:
      return "rapid into the part";
    case FindingKind::rapid_through_stock:
      return "rapid through stock";
    case FindingKind::shank_into_part:
      return "shank into the part";
    case FindingKind::holder_into_part:
      return "holder into the part";
  }
  return "";
}

Judgement judge(const Program& program, const std::shared_ptr<const ContactPart>& part,
                const std::vector<Tool>& tools, Stock stock, const JudgeOptions& options,
                const Progress& progress) {
  const Cutters cutters = cutters_of(program, tools);
  PartProver prover(program, part, tools, cutters, options);
  prover.run(part_of(progress, 0, 0.5));

  std::vector<SweptMove> swept;
  swept.reserve(program.moves.size());
  for (const ProgramMove& move : program.moves)
    swept.push_back({move.from, move.to, cutters.index_of_number.at(move.tool), !move.rapid()});
  CarveLog log;
  carve(stock, cutters.profiles, swept, &log, part_of(progress, 0.5, 1));

  FindingList findings(program);
  for (std::size_t i = 0; i < program.moves.size(); ++i) {
    const PartProof& proof = prover.proofs[i];
    const FindingKind gouge = program.moves[i].rapid() ? FindingKind::rapid_into_part : FindingKind::gouge;
    if (proof.gouge_mm > 0) findings.add(gouge, i, proof.gouge_mm, proof.at);
    if (proof.shank_mm > 0) findings.add(FindingKind::shank_into_part, i, proof.shank_mm, proof.above_at);
    if (proof.holder_mm > 0) findings.add(FindingKind::holder_into_part, i, proof.holder_mm, proof.above_at);
    if (log.entered[i] > options.limit_mm)
      findings.add(FindingKind::rapid_through_stock, i, log.entered[i], log.entered_at[i]);
  }
  Judgement result{findings.take(), totals(program, options, log), std::move(stock), std::move(log.last_cut),
                   0};
  for (std::size_t k = 0; k < result.operations.size(); ++k) {
    result.operations[k].least_clearance_mm = prover.least_of_operation[k].room_mm;
    result.operations[k].least_clearance_line = prover.least_of_operation[k].line;
    result.seconds += result.operations[k].seconds;
    for (const Tool& tool : tools)
      if (tool.number == result.operations[k].tool && !tool.holder.empty())
        result.operations[k].least_stickout_mm = least_stickout(part, tool, tips_of(program, k));
  }
  return result;
}

}  // namespace yardpass
