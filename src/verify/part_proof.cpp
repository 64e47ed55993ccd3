#include "verify/part_proof.h"

#include <algorithm>
#include <array>
#include <map>
#include <optional>
#include <span>

#include "geom/parallel_for.h"

namespace yardpass::detail {

namespace {

constexpr std::size_t kChunk = 256;
constexpr double kSagitta = 1e-4;  // of the chords an arc is proven by

/// The way of a tip as straight pieces; the true way lies nowhere farther than `beside` from them. Room in
/// space changes no faster than the place does, so that much less of it is certain.
class Way {
 public:
  Way(const Program& program, const ProgramMove& move) : ends_{move.from, move.to} {
    if (const Arc* arc = program.arc_of(move)) chords_ = chord_points(*arc, kSagitta), beside_ = kSagitta;
  }
  [[nodiscard]] std::span<const Vec3> points() const {
    return chords_.empty() ? std::span<const Vec3>(ends_) : std::span<const Vec3>(chords_);
  }
  /// The least room of a body whose tip runs `above` the tool's, at most `up_to`.
  [[nodiscard]] double room(const TipSurface& surface, double above, double up_to) const {
    const Vec3 up(0, 0, above);
    double least = up_to;
    for (std::size_t k = 0; k + 1 < points().size(); ++k)
      least = std::min(
          least, room_around(surface, points()[k] + up, points()[k + 1] + up, least + beside_) - beside_);
    return least;
  }
  /// The tip where the clearance in Z of a body `above` it is least.
  [[nodiscard]] Vec3 worst_place(const TipSurface& surface, double above) const {
    const Vec3 up(0, 0, above);
    Clearance worst = surface.clearance(points()[0] + up, points()[1] + up);
    for (std::size_t k = 1; k + 1 < points().size(); ++k) {
      const Clearance here = surface.clearance(points()[k] + up, points()[k + 1] + up);
      if (here.room < worst.room) worst = here;
    }
    return worst.triangle < 0 ? points().back() : Vec3(worst.tip - up);
  }

 private:
  std::array<Vec3, 2> ends_;
  std::vector<Vec3> chords_;
  double beside_ = 0;
};

/// Which body of a tool comes too far.
struct Deepest {
  double depth_mm = 0;
  const AssemblySurface::Body* body = nullptr;

  void see(double depth, const AssemblySurface::Body& of) {
    if (depth > depth_mm) depth_mm = depth, body = &of;
  }
  [[nodiscard]] Trouble trouble(FindingKind kind, std::size_t move, const Way& way, double keeps_mm,
                                const std::string& keep_away = {}) const {
    // Thicker by what it keeps away, it enters there.
    return {kind, move, depth_mm,
            way.worst_place(body->surface.with_more_allowance(keeps_mm - body->surface.allowance_mm()),
                            body->above_tip_mm),
            keep_away};
  }
};

/// A keep_away as each tool meets it.
struct KeepAwayProof {
  const JudgedKeepAway* keep_away;
  std::vector<AssemblySurface> assemblies;
};

/// The pieces of the part that an operation cuts into by different depths, for its tools.
struct SurfaceByDepth {
  double depth_mm = 0;
  std::shared_ptr<const ContactPart> part;
  std::vector<std::optional<TipSurface>> cutters;  // by tool; those that the operation uses
};

std::vector<SurfaceByDepth> by_depth(const IntendedCut& cut, const ContactPart& part) {
  const std::size_t count = part.mesh().triangles.size();
  std::vector<std::uint8_t> piece_of(count, 0);
  for (std::size_t k = 0; k < cut.where.size(); ++k) {
    require(cut.where[k].triangles.size() == count, "where", "must mark each triangle of the part");
    for (std::size_t t = 0; t < count; ++t)
      if (cut.where[k].triangles[t]) piece_of[t] = static_cast<std::uint8_t>(k + 1);
  }
  std::vector<SurfaceByDepth> result;
  for (std::size_t k = 0; k <= cut.where.size(); ++k) {
    Mesh mesh;
    mesh.points = part.mesh().points;
    for (std::size_t t = 0; t < count; ++t)
      if (piece_of[t] == k) mesh.triangles.push_back(part.mesh().triangles[t]);
    if (!mesh.triangles.empty())
      result.push_back(
          {k == 0 ? cut.depth_mm : cut.where[k - 1].depth_mm, make_contact_part(std::move(mesh)), {}});
  }
  return result;
}

class PartProver {
 public:
  PartProver(const Program& program, const std::shared_ptr<const ContactPart>& part,
             const std::vector<Tool>& tools, const JudgeOptions& options)
      : program_(program), options_(options), tool_of_(tool_of_moves(program, tools)) {
    for (const Tool& tool : tools) assemblies_.emplace_back(part, tool, clearance_of(tool));
    for (const JudgedKeepAway& keep_away : options.keep_away) {
      keep_away_.push_back({&keep_away, {}});
      for (const Tool& tool : tools) keep_away_.back().assemblies.emplace_back(keep_away.part, tool);
    }
    for (const ProgramOperation& operation : program.operations) {
      keep_out_.emplace_back();
      for (const JudgedKeepOut& keep_out : options.keep_out)
        if (keep_out.operation == operation.number && !keep_out.axis_area.empty())
          keep_out_.back().push_back({&keep_out.axis_area, keep_out.axis_area.box()});
      const IntendedCut* found = nullptr;
      for (const IntendedCut& cut : options.intended)
        if (cut.operation == operation.number) found = &cut;
      intended_.push_back(found);
      by_depth_.emplace_back();
      if (found && !found->where.empty()) by_depth_.back() = by_depth(*found, *part);
      for (SurfaceByDepth& piece : by_depth_.back()) piece.cutters.resize(tools.size());
    }
    for (std::size_t i = 0; i < program.moves.size(); ++i)
      for (SurfaceByDepth& piece : by_depth_[static_cast<std::size_t>(program.moves[i].operation)])
        if (std::optional<TipSurface>& cutter = piece.cutters[tool_of_[i]]; !cutter)
          cutter.emplace(piece.part, profile_of(tools[tool_of_[i]]));
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
    const Way way(program_, move);
    const AssemblySurface& assembly = assemblies_[tool_of_[i]];
    prove_cutter(i, way, assembly.bodies().front().surface, proof);
    Deepest shank, holder;
    for (std::size_t k = 1; k < assembly.bodies().size(); ++k) {
      const AssemblySurface::Body& body = assembly.bodies()[k];
      // What is missing to the clearance that the tool asks for.
      const double wanted = body.surface.allowance_mm();
      const double depth = wanted - way.room(body.surface, body.above_tip_mm, wanted - options_.limit_mm);
      if (depth > options_.limit_mm) (body.part == ToolPart::holder ? holder : shank).see(depth, body);
    }
    if (shank.body)
      proof.troubles.push_back(
          shank.trouble(FindingKind::shank_into_part, i, way, shank.body->surface.allowance_mm()));
    if (holder.body)
      proof.troubles.push_back(
          holder.trouble(FindingKind::holder_into_part, i, way, holder.body->surface.allowance_mm()));
    for (const KeepAwayProof& keep_away : keep_away_) prove_keep_away(i, way, keep_away, proof);
    prove_travel(i, way, proof);
    if (!move.rapid()) prove_keep_out(i, way, proof);
  }

  void prove_cutter(std::size_t i, const Way& way, const TipSurface& surface, PartProof& proof) const {
    const ProgramMove& move = program_.moves[i];
    LeastRoom& least = proof.least_of_operation[static_cast<std::size_t>(move.operation)];
    // Most moves keep clear even with a thicker cutter; only those that do not are measured. Rapids need only
    // be free.
    const double asked = move.rapid() ? -options_.limit_mm : std::max(least.room_mm, -options_.limit_mm);
    const double room = way.room(surface, 0, asked);
    if (room >= asked) return;
    if (!move.rapid() && room < least.room_mm) least = {room, move.line};
    // Out of a stated cut a rapid may rise, but no more.
    const bool rises = plan(move.from) == plan(move.to) && move.to.z() > move.from.z();
    const bool states = (!move.rapid() || rises) && is_stated(move, way);
    const auto& pieces = by_depth_[static_cast<std::size_t>(move.operation)];
    if (states && intended_[static_cast<std::size_t>(move.operation)]->straight_down)
      return prove_straight_down(i, way, surface, proof);
    if (states && !pieces.empty()) return prove_by_depth(i, way, pieces, proof);
    const double stated = states ? intended_[static_cast<std::size_t>(move.operation)]->depth_mm : 0;
    if (room < -options_.limit_mm - stated)
      proof.troubles.push_back({move.rapid() ? FindingKind::rapid_into_part : FindingKind::gouge, i, -room,
                                way.worst_place(surface, 0)});
  }

  void prove_by_depth(std::size_t i, const Way& way, const std::vector<SurfaceByDepth>& pieces,
                      PartProof& proof) const {
    double deepest = 0;
    const TipSurface* into = nullptr;
    for (const SurfaceByDepth& piece : pieces) {
      const TipSurface& cutter = *piece.cutters[tool_of_[i]];
      const double room = way.room(cutter, 0, 0);
      if (room < -options_.limit_mm - piece.depth_mm && -room > deepest) deepest = -room, into = &cutter;
    }
    if (into)
      proof.troubles.push_back({program_.moves[i].rapid() ? FindingKind::rapid_into_part : FindingKind::gouge,
                                i, deepest, way.worst_place(*into, 0)});
  }

  /// Piece by piece of the way: how deep the tip is below where the cutter would touch the part.
  void prove_straight_down(std::size_t i, const Way& way, const TipSurface& surface, PartProof& proof) const {
    constexpr double kPiece = 0.2, kUneven = 0.05;  // mm: depths that change are asked for more often
    const ProgramMove& move = program_.moves[i];
    const IntendedCut& cut = *intended_[static_cast<std::size_t>(move.operation)];
    const auto stated = [&](const Vec3& tip) -> std::optional<double> {
      if (!cut.along) return cut.depth_mm;
      const std::optional<double> depth = cut.along->greatest(plan(tip));
      return depth ? std::optional(std::min(*depth, cut.depth_mm)) : std::nullopt;
    };
    const double longest =
        !cut.along ? std::numeric_limits<double>::infinity() : (cut.along->even() ? kPiece : kUneven);
    Trouble worst{move.rapid() ? FindingKind::rapid_into_part : FindingKind::gouge, i, 0, move.to};
    double too_deep = options_.limit_mm;
    for (std::size_t k = 0; k + 1 < way.points().size(); ++k) {
      const Vec3 &a = way.points()[k], along = way.points()[k + 1] - a;
      const int parts = std::max(1, static_cast<int>(std::ceil(plan(along).norm() / longest)));
      for (int n = 0; n < parts; ++n) {
        const Vec3 from = a + along * (1.0 * n / parts), to = a + along * ((n + 1.0) / parts);
        const Clearance clearance = surface.clearance(from, to);
        if (clearance.room >= -options_.limit_mm) continue;
        const std::optional<double> at_from = stated(from), at_to = stated(to);
        // Beside its lines nothing is meant.
        const double meant = at_from && at_to ? std::max(*at_from, *at_to) : 0;
        if (-clearance.room - meant <= too_deep) continue;
        too_deep = -clearance.room - meant;
        worst.depth_mm = -clearance.room, worst.at = clearance.tip;
      }
    }
    if (worst.depth_mm > 0) proof.troubles.push_back(std::move(worst));
  }

  /// Whether the move's operation says that it cuts into the part here.
  [[nodiscard]] bool is_stated(const ProgramMove& move, const Way& way) const {
    const IntendedCut* cut = intended_[static_cast<std::size_t>(move.operation)];
    if (!cut) return false;
    if (cut->place.empty()) return true;
    for (std::size_t k = 0; k + 1 < way.points().size(); ++k)
      if (!stays_inside(cut->place, plan(way.points()[k]), plan(way.points()[k + 1]))) return false;
    return true;
  }
  static bool stays_inside(const Region& place, const Vec2& from, const Vec2& to) {
    if (!place.contains(from) || !place.contains(to)) return false;
    double covered = 0;
    for (const Interval& part : inside(place, from, to)) covered += part.to - part.from;
    return from == to || covered > 1 - 1e-9;
  }

  void prove_keep_away(std::size_t i, const Way& way, const KeepAwayProof& proof_of, PartProof& proof) const {
    const ProgramMove& move = program_.moves[i];
    const auto& meant = proof_of.keep_away->operations;
    if (!meant.empty() && std::find(meant.begin(), meant.end(), program_.number_of(move)) == meant.end())
      return;
    const double clearance = proof_of.keep_away->clearance_mm;
    Deepest missing;
    for (const AssemblySurface::Body& body : proof_of.assemblies[tool_of_[i]].bodies())
      missing.see(clearance - way.room(body.surface, body.above_tip_mm, clearance), body);
    if (missing.depth_mm > options_.limit_mm)
      proof.troubles.push_back(
          missing.trouble(FindingKind::too_near, i, way, clearance, proof_of.keep_away->name));
  }

  void prove_keep_out(std::size_t i, const Way& way, PartProof& proof) const {
    for (const auto& [area, box] : keep_out_[static_cast<std::size_t>(program_.moves[i].operation)])
      for (std::size_t k = 0; k + 1 < way.points().size(); ++k) {
        const Vec3 &a = way.points()[k], &b = way.points()[k + 1];
        Box2 of_move(plan(a).cwiseMin(plan(b)), plan(a).cwiseMax(plan(b)));
        if (!of_move.intersects(box)) continue;
        const auto [depth, at] = deepest_inside(*area, a, b);
        if (depth > options_.limit_mm) {
          proof.troubles.push_back({FindingKind::in_keep_out, i, depth, at});
          return;
        }
      }
  }
  /// How far from the area's rim a way inside it comes, by some places on it.
  static std::pair<double, Vec3> deepest_inside(const Region& area, const Vec3& a, const Vec3& b) {
    std::pair<double, Vec3> deepest{0, a};
    const auto look = [&](double share) {
      const Vec3 at = a + share * (b - a);
      double near = std::numeric_limits<double>::infinity();
      for (const Polyline2& loop : area.loops)
        near = std::min(near, nearest_on_loop(loop, plan(at)).distance_mm);
      if (near > deepest.first) deepest = {near, at};
    };
    if (plan(a) == plan(b)) {
      if (area.contains(plan(a))) look(0);
      return deepest;
    }
    constexpr int kPlaces = 8;
    for (const Interval& piece : inside(area, plan(a), plan(b)))
      for (int k = 0; k <= kPlaces; ++k) look(piece.from + (piece.to - piece.from) * k / kPlaces);
    return deepest;
  }

  void prove_travel(std::size_t i, const Way& way, PartProof& proof) const {
    if (!options_.travel) return;
    double farthest = 1e-9;
    Vec3 at = program_.moves[i].to;
    for (const Vec3& p : way.points().subspan(1)) {  // where a move starts, another one ended
      const double outside = std::sqrt(options_.travel->squaredExteriorDistance(p));
      if (outside > farthest) farthest = outside, at = p;
    }
    if (farthest > 1e-9) proof.troubles.push_back({FindingKind::outside_travel, i, farthest, at});
  }

  const Program& program_;
  const JudgeOptions& options_;
  std::vector<std::size_t> tool_of_;
  std::vector<AssemblySurface> assemblies_;
  std::vector<KeepAwayProof> keep_away_;
  std::vector<std::vector<std::pair<const Region*, Box2>>> keep_out_;  // of each operation
  std::vector<const IntendedCut*> intended_;                           // of each operation; null for none
  std::vector<std::vector<SurfaceByDepth>> by_depth_;                  // of each operation; empty: one depth
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
