#include "verify/stock_proof.h"

#include <algorithm>
#include <cmath>
#include <iterator>
#include <map>
#include <numbers>
#include <optional>

#include "geom/parallel_for.h"
#include "verify/engagement.h"
#include "verify/tool_bodies.h"
#include "yardpass/stock/between_cells.h"
#include "yardpass/stock/finer.h"

namespace yardpass::detail {

namespace {

/// Degrees below level of a feed move; for arcs, of the helix.
double descent_deg(const Program& program, const ProgramMove& move) {
  const double down = move.from.z() - move.to.z(), length = program.length_of(move);
  if (move.rapid() || !(down > 0)) return 0;
  return std::asin(std::min(1.0, down / length)) * 180 / std::numbers::pi;
}

bool too_steep(double descent, const Tool& tool) { return descent > tool.steepest_entry_deg + 0.01; }

constexpr double kStraightDown = 80;  // degrees, and steeper

bool too_fast(double descent, const ProgramMove& move, const Tool& tool) {
  return descent > kStraightDown && tool.plunge_limit_mm_min > 0 &&
         move.feed_mm_min > 1.001 * tool.plunge_limit_mm_min;
}

/// `enters`: nothing but straight ways down lie between it and the rapid before it.
Use use_of(const Program& program, const ProgramMove& move, const Tool& tool, bool enters) {
  if (move.rapid()) return Use::rapid;
  const double descent = descent_deg(program, move);
  const bool steep = too_steep(descent, tool) && (enters || tool.steepest_within_cuts);
  return steep || too_fast(descent, move, tool) ? Use::plunge : Use::cut;
}

/// What the moves met, and how far the tool must stand out in each operation.
struct Met {
  std::vector<Trouble> troubles;
  std::vector<double> least_stickout_mm;  // by operation of the program; 0: no holder met anything
};

/// How deep in the cutter the top of the material at a place comes to lie along a move.
double thickness(const Program& program, const ProgramMove& move, const Tool& tool, const Vec3& place) {
  constexpr int kPlaces = 32;
  const Profile profile = profile_of(tool);
  const std::vector<Vec3> points = program.points_of(move, 0.01);
  double deepest = 0;
  for (std::size_t k = 0; k + 1 < points.size(); ++k)
    for (int m = 0; m <= kPlaces; ++m) {
      const Vec3 tip = points[k] + (points[k + 1] - points[k]) * (static_cast<double>(m) / kPlaces);
      deepest =
          std::max(deepest, depth_inside(profile, (plan(place) - plan(tip)).norm(), place.z() - tip.z()));
    }
  return deepest;
}

/// What the moves of a log met; `number_of` tells which move of the program each of them is.
template <typename NumberOf>
void add_troubles(const Program& program, const std::vector<Tool>& tools,
                  const std::vector<std::size_t>& tool_of, const Bodies& bodies, const CarveLog& log,
                  double limit, const NumberOf& number_of, Met& met) {
  auto meeting = log.meetings.begin();
  for (std::size_t k = 0; k < log.removed.size(); ++k) {
    const std::size_t i = number_of(k);
    for (; meeting != log.meetings.end() && static_cast<std::size_t>(meeting->move - log.first_move) == k;
         ++meeting) {
      auto [kind, above, lowest_holder] = bodies.meaning(meeting->body);
      if (lowest_holder) {
        double& least = met.least_stickout_mm[static_cast<std::size_t>(program.moves[i].operation)];
        least = std::max(least, *lowest_holder + meeting->depth_mm);
        continue;
      }
      if (kind == FindingKind::plunge_too_steep &&
          !too_steep(descent_deg(program, program.moves[i]), tools[tool_of[i]]))
        kind = FindingKind::plunge_too_fast;
      const double depth = kind == FindingKind::too_thick
                               ? thickness(program, program.moves[i], tools[tool_of[i]],
                                           meeting->at + Vec3(0, 0, meeting->depth_mm))
                               : meeting->depth_mm + above;
      met.troubles.push_back({kind, i, depth, meeting->at});
    }
    if (log.entered[k] > 0)
      met.troubles.push_back(
          {FindingKind::rapid_through_stock, i, log.entered[k] + limit, log.entered_at[k]});
  }
}

/// The moves of a program on the stock, for cells of one width.
class StockProver {
 public:
  StockProver(const Program& program, const std::vector<Tool>& tools, const JudgeOptions& options,
              double cell)
      : program_(program),
        tools_(tools),
        options_(options),
        bodies_(tools, options.limit_mm, cell),
        tool_of_(tool_of_moves(program, tools)),
        done_moves_(options.done ? options.done->moves.size() : 0),
        done_operations_(options.done ? options.done->operations.size() : 0) {
    swept_.reserve(program.moves.size());
    bool enters = true;
    for (std::size_t i = 0; i < program.moves.size(); ++i) {
      const ProgramMove& move = program.moves[i];
      const Use use = use_of(program, move, tools[tool_of_[i]], enters);
      enters = move.rapid() || (enters && descent_deg(program, move) > kStraightDown);
      const Vec3 up(0, 0, use == Use::rapid ? bodies_.rapid_lift(tool_of_[i]) : 0);
      swept_.push_back({move.from + up, move.to + up,
                        static_cast<std::int32_t>(bodies_.index(tool_of_[i], use)), use != Use::rapid,
                        program.arc_of(move)});
    }
  }
  [[nodiscard]] const Bodies& bodies() const { return bodies_; }
  [[nodiscard]] std::span<const SweptMove> swept() const { return swept_; }

  /// Operation by operation; returns the squares that hid something at the end of any of them, or when a
  /// rapid came down into what its operation had cut.
  std::vector<HiddenSquare> whole(Stock& stock, StockProof& proof, Met& met, const Progress& progress) const {
    std::vector<HiddenSquare> hidden;
    CarveLog log;
    const Stock initial = stock;
    const double all = work_of(0, swept_.size());
    double done = 0;
    for (std::size_t first = 0, last = 0; first < swept_.size(); first = last) {
      const std::int32_t operation = program_.moves[first].operation;
      while (last < swept_.size() && program_.moves[last].operation == operation) ++last;
      const double work = work_of(first, last);
      const Progress share = part_of(progress, done / all, (done + work) / all);
      done += work;
      if (first < done_moves_) {
        carve_operation(stock, first, last, log, proof, met, hidden, share);
        continue;
      }
      Engagement& engagement = proof.engagement[static_cast<std::size_t>(operation)];
      if (const Engagement* known = known_engagement(first)) {
        engagement = *known;
        carve_operation(stock, first, last, log, proof, met, hidden, share);
      } else {
        Stock before = stock_for_engagement(initial, stock, first, last);
        std::vector<Trouble> engaged;
        // Carving is the quicker of the two.
        both_at_once([&] { carve_operation(stock, first, last, log, proof, met, hidden, {}); },
                     [&] {
                       engagement = engagement_of(program_, first, last, tools_[tool_of_[first]],
                                                  std::move(before), engaged, share);
                     });
        met.troubles.insert(met.troubles.end(), engaged.begin(), engaged.end());
      }
      if (options_.after_operation)
        options_.after_operation(operation - static_cast<std::int32_t>(done_operations_), stock);
    }
    proof.last_cut = std::move(log.last_cut);
    if (proof.last_cut.empty()) proof.last_cut.assign(stock.heights().size(), -1);
    return hidden;
  }

  /// Of these moves in proportion, whole operations: mostly of following the cutter through the cells, of
  /// which few are new under a flat end.
  [[nodiscard]] double work_of(std::size_t first, std::size_t last) const {
    double work = 0;
    for (std::size_t i = first; i < last; ++i) {
      const Profile& cutter = bodies_.cutters()[tool_of_[i]];
      const bool known = options_.engagements.contains(program_.number_of(program_.moves[i]));
      const double round = cutter.radius() - 0.75 * cutter.radius_at_height(1e-6);
      work += 0.2 + (known || program_.moves[i].rapid() ? 0 : program_.length_of(program_.moves[i]) * round);
    }
    return work;
  }

  /// Of the operation that begins with a move; nothing where it is to be measured.
  [[nodiscard]] const Engagement* known_engagement(std::size_t first) const {
    if (tools_[tool_of_[first]].widest_engagement_deg > 0) return nullptr;
    const auto known = options_.engagements.find(program_.number_of(program_.moves[first]));
    return known == options_.engagements.end() ? nullptr : &known->second;
  }

  void carve_operation(Stock& stock, std::size_t first, std::size_t last, CarveLog& log, StockProof& proof,
                       Met& met, std::vector<HiddenSquare>& hidden, const Progress& progress) const {
    const auto count = static_cast<double>(last - first);
    const std::size_t begin = first;
    std::vector<std::size_t> stops = rapids_into(stock, first, last);
    stops.push_back(last);
    const auto operation_first = static_cast<std::int32_t>(first);
    for (const std::size_t stop : stops) {
      log.first_move = static_cast<std::int32_t>(first);
      carve(stock, bodies_.cutters(), swept().subspan(first, stop - first), &log,
            part_of(progress, static_cast<double>(first - begin) / count,
                    static_cast<double>(stop - begin) / count),
            bodies_.tested());
      const std::optional<Box2> under = stop < last ? std::optional(box_of(stop)) : std::nullopt;
      for (const HiddenSquare& square :
           hidden_between(stock, bodies_.cutters(), swept(), log.last_cut, operation_first, under))
        hidden.push_back(square);
      proof.removed.insert(proof.removed.end(), log.removed.begin(), log.removed.end());
      add_troubles(
          program_, tools_, tool_of_, bodies_, log, options_.limit_mm,
          [&](std::size_t k) { return first + k; }, met);
      first = stop;
    }
  }

  /// The stock before an operation; in finer cells where its tool has a limit and the cells are too coarse to
  /// measure by.
  [[nodiscard]] Stock stock_for_engagement(const Stock& initial, const Stock& before, std::size_t first,
                                           std::size_t last) const {
    constexpr double kCellsOfRadius = 30, kMostCells = 1.6e7;
    const std::size_t tool = tool_of_[first];
    const double wanted = bodies_.cutters()[tool].radius() / kCellsOfRadius;
    if (!(tools_[tool].widest_engagement_deg > 0) || before.cell_mm() <= wanted) return before;
    Box2 box;
    for (std::size_t i = first; i < last; ++i)
      if (swept_[i].cuts) box.extend(box_of(i));
    const Box2 block(plan(initial.block().min()), plan(initial.block().max()));
    box = box.intersection(block);
    if (box.isEmpty() || !(box.sizes().minCoeff() > 0)) return before;
    const double cell = std::max(wanted, std::sqrt(box.volume() / kMostCells));
    if (cell >= before.cell_mm()) return before;
    Stock piece = finer(initial, box, cell);
    std::vector<SweptMove> moves;
    for (std::size_t i = 0; i < first; ++i)
      if (swept_[i].cuts && box_of(i).intersects(box)) moves.push_back(swept_[i]);
    carve(piece, bodies_.cutters(), moves);
    return piece;
  }

  /// The moves with these numbers on a piece of the stock.
  [[nodiscard]] Met piece(Stock& stock, std::span<const std::size_t> numbers) const {
    Met met = nothing_met();
    std::vector<SweptMove> moves;
    for (const std::size_t i : numbers) moves.push_back(swept_[i]);
    CarveLog log;
    carve(stock, bodies_.cutters(), moves, &log, {}, bodies_.tested());
    add_troubles(
        program_, tools_, tool_of_, bodies_, log, options_.limit_mm,
        [&](std::size_t k) { return numbers[k]; }, met);
    return met;
  }
  [[nodiscard]] Met nothing_met() const { return {{}, std::vector<double>(program_.operations.size(), 0.0)}; }

  /// All that the tool of a move may sweep, in plan.
  [[nodiscard]] Box2 box_of(std::size_t move) const {
    const auto cutter = static_cast<std::size_t>(swept_[move].cutter);
    double reach = bodies_.cutters()[cutter].radius();
    for (const TestedBody& body : bodies_.tested())
      if (body.cutter == swept_[move].cutter) reach = std::max(reach, body.profile.radius());
    Box3 way(swept_[move].from);
    way.extend(swept_[move].to);
    if (const Arc* const arc = swept_[move].arc) way.extend(arc->box());
    return Box2(plan(way.min()).array() - reach, plan(way.max()).array() + reach);
  }

 private:
  /// Rapids of an operation that go, other than straight up, below what stood there before it.
  [[nodiscard]] std::vector<std::size_t> rapids_into(Stock& before, std::size_t first,
                                                     std::size_t last) const {
    std::vector<std::size_t> numbers, result;
    std::vector<SweptMove> rapids;
    for (std::size_t i = first + 1; i < last; ++i) {
      const SweptMove& move = swept_[i];
      if (move.cuts || (plan(move.from) == plan(move.to) && move.to.z() > move.from.z())) continue;
      numbers.push_back(i);
      rapids.push_back(move);
    }
    CarveLog log;
    carve(before, bodies_.cutters(), rapids, &log);  // none of them cuts
    for (std::size_t k = 0; k < numbers.size(); ++k)
      if (log.entered[k] > 0) result.push_back(numbers[k]);
    return result;
  }

  const Program& program_;
  const std::vector<Tool>& tools_;
  const JudgeOptions& options_;
  Bodies bodies_;
  std::vector<std::size_t> tool_of_;
  std::size_t done_moves_, done_operations_;  // at the front of the program
  std::vector<SweptMove> swept_;
};

/// Squares that hide something, in patches of so many cells a side.
constexpr int kPatchSide = 4;
/// Cells are split into at most so many a side, and all of them into about so many finer ones.
constexpr int kMostSplits = 24;
constexpr double kMostFineCells = 2e7;

/// Of each cell in which a piece in finer cells stands higher than the cell shows, by more than the
/// threshold, its highest place.
std::vector<Vec3> peaks_of(const Stock& piece, const Stock& stock) {
  std::map<std::size_t, Vec3> highest;
  for (int row = 0; row < piece.rows(); ++row)
    for (int column = 0; column < piece.columns(); ++column) {
      const Vec3 at = with_z(piece.centre(column, row), piece.height(column, row));
      const std::optional<std::size_t> cell = stock.cell_at(plan(at));
      if (!cell || at.z() <= stock.heights()[*cell] + hidden_threshold(stock)) continue;
      const auto [known, first] = highest.try_emplace(*cell, at);
      if (!first && at.z() > known->second.z()) known->second = at;
    }
  std::vector<Vec3> peaks;
  for (const auto& [cell, at] : highest) peaks.push_back(at);
  return peaks;
}

/// What the hidden material meets: the whole program again, in finer cells, where something was hidden.
void prove_hidden(const Program& program, const std::vector<Tool>& tools, const Stock& before,
                  const Stock& after, const std::vector<HiddenSquare>& hidden, const JudgeOptions& options,
                  StockProof& proof, Met& met, const Progress& progress) {
  std::map<std::pair<int, int>, Box2> patches;
  for (const HiddenSquare& square : hidden)
    patches[{(square.row + 1) / kPatchSide, (square.column + 1) / kPatchSide}].extend(before.box_of(square));
  std::vector<Box2> list;
  double area = 0;
  for (const auto& [place, box] : patches) {
    list.push_back(box);
    area += box.volume();
  }
  const double splits =
      std::clamp(std::sqrt(kMostFineCells / area) * before.cell_mm(), 3.0, double{kMostSplits});
  const double cell = before.cell_mm() / std::floor(splits);
  const StockProver prover(program, tools, options, cell);
  std::vector<Box2> boxes(prover.swept().size());
  parallel_for(boxes.size(), [&](std::size_t i) { boxes[i] = prover.box_of(i); });
  std::vector<Met> met_in(list.size());
  std::vector<std::vector<Vec3>> peaks(list.size());
  parallel_for(list.size(), progress, [&](std::size_t k) {
    std::vector<std::size_t> moves;
    for (std::size_t i = 0; i < boxes.size(); ++i)
      if (boxes[i].intersects(list[k])) moves.push_back(i);
    Stock piece = finer(before, list[k], cell);
    met_in[k] = prover.piece(piece, moves);
    peaks[k] = peaks_of(piece, after);
  });
  for (const auto& of_piece : peaks) proof.peaks.insert(proof.peaks.end(), of_piece.begin(), of_piece.end());
  for (const Met& found : met_in) {
    met.troubles.insert(met.troubles.end(), found.troubles.begin(), found.troubles.end());
    for (std::size_t k = 0; k < met.least_stickout_mm.size(); ++k)
      met.least_stickout_mm[k] = std::max(met.least_stickout_mm[k], found.least_stickout_mm[k]);
  }
  proof.seen_mm = cell;
  proof.hidden_squares = static_cast<std::int64_t>(hidden.size());
}

}  // namespace

StockProof prove_against_stock(const Program& program, const std::vector<Tool>& tools, Stock& stock,
                               const JudgeOptions& options, const Progress& progress) {
  StockProof proof;
  proof.seen_mm = stock.cell_mm();
  proof.engagement.resize(program.operations.size());
  const Stock before = stock;
  const StockProver prover(program, tools, options, stock.cell_mm());
  Met met = prover.nothing_met();
  const std::vector<HiddenSquare> hidden = prover.whole(stock, proof, met, part_of(progress, 0, 0.9));
  if (!hidden.empty())
    prove_hidden(program, tools, before, stock, hidden, options, proof, met, part_of(progress, 0.9, 1));
  proof.troubles = std::move(met.troubles);
  proof.least_stickout_mm = std::move(met.least_stickout_mm);
  return proof;
}

}  // namespace yardpass::detail
