// The stock of a scene: on cells few enough for a page, as it is after some of the moves.
#include <algorithm>
#include <limits>

#include "report/page/packed.h"
#include "report/page/scene.h"
#include "yardpass/verify/left.h"

namespace yardpass::detail {

namespace {

constexpr double kMostCells = 90'000;
constexpr std::size_t kMostStates = 24;
constexpr std::int64_t kNoPart = std::numeric_limits<std::int32_t>::min();

/// Every `each`-th cell of a stock, an odd number: middles stay middles.
class Fewer {
 public:
  explicit Fewer(const Stock& fine) : fine_(fine) {
    while (static_cast<double>(fine.columns() / each_ + 1) * (fine.rows() / each_ + 1) > kMostCells)
      each_ += 2;
    columns_ = std::max(1, fine.columns() / each_), rows_ = std::max(1, fine.rows() / each_);
  }
  [[nodiscard]] int each() const { return each_; }
  [[nodiscard]] int columns() const { return columns_; }
  [[nodiscard]] int rows() const { return rows_; }
  [[nodiscard]] Stock made() const {
    const double cell = fine_.cell_mm() * each_;
    Box3 block = fine_.block();
    block.max().x() = block.min().x() + columns_ * cell;
    block.max().y() = block.min().y() + rows_ * cell;
    Stock result(block, cell);
    for (int row = 0; row < result.rows(); ++row)
      for (int column = 0; column < result.columns(); ++column)
        result.set_height(column, row, fine_.height(middle(column), middle(row)));
    return result;
  }
  [[nodiscard]] int middle(int coarse) const { return coarse * each_ + each_ / 2; }

 private:
  const Stock& fine_;
  int each_ = 1, columns_ = 0, rows_ = 0;
};

/// What is left at the end, the greatest of the cells that each stands for [steps].
std::string left_at_the_end(const LeftMap& left, const Stock& fine, const Fewer& fewer) {
  PackedSteps packed;
  for (int row = 0; row < fewer.rows(); ++row)
    for (int column = 0; column < fewer.columns(); ++column) {
      std::int64_t most = kNoPart;
      for (int j = row * fewer.each(); j < std::min(fine.rows(), (row + 1) * fewer.each()); ++j)
        for (int i = column * fewer.each(); i < std::min(fine.columns(), (column + 1) * fewer.each()); ++i) {
          const float value = left.left_mm[fine.index(i, j)];
          if (!std::isnan(value)) most = std::max(most, steps_of(static_cast<double>(value)));
        }
      packed.add(most);
    }
  return packed.bytes();
}

std::string part_below(const Stock& coarse, const std::shared_ptr<const ContactPart>& part) {
  PackedSteps packed;
  for (const double z : part_heights(coarse, part)) packed.add(z == kNothingBelow ? kNoPart : steps_of(z));
  return packed.bytes();
}

/// The cells that have changed: how many are passed over, and by how much the next one fell.
std::string changes(std::span<const double> now, std::vector<std::int64_t>& told) {
  Packed packed;
  std::int64_t passed = 0;
  for (std::size_t i = 0; i < now.size(); ++i) {
    const std::int64_t steps = steps_of(now[i]);
    if (steps == told[i]) {
      ++passed;
      continue;
    }
    packed.add(passed), packed.add(told[i] - steps);
    told[i] = steps, passed = 0;
  }
  return packed.bytes();
}

/// Moves after which a state is kept, so that carving from one to the next is about the same work.
std::vector<std::size_t> kept_after(const Program& program, const std::vector<double>& radius_of_move) {
  std::vector<double> work(program.moves.size());
  double all = 0;
  for (std::size_t i = 0; i < work.size(); ++i)
    work[i] = all += program.moves[i].rapid()
                         ? 0
                         : (program.length_of(program.moves[i]) + radius_of_move[i]) * radius_of_move[i];
  std::vector<std::size_t> kept;
  double next = all / kMostStates;
  for (std::size_t i = 0; i < work.size(); ++i) {
    const bool ends = i + 1 == work.size() || program.moves[i + 1].operation != program.moves[i].operation;
    if (!ends && work[i] < next) continue;
    kept.push_back(i);
    while (next <= work[i]) next += std::max(all / kMostStates, 1e-9);
  }
  return kept;
}

std::vector<SweptMove> swept_moves(const Program& program, const std::vector<Tool>& tools) {
  std::vector<SweptMove> swept;
  for (const ProgramMove& move : program.moves) {
    std::size_t tool = 0;
    while (tool + 1 < tools.size() && tools[tool].number != move.tool) ++tool;
    swept.push_back(
        {move.from, move.to, static_cast<std::int32_t>(tool), !move.rapid(), program.arc_of(move)});
  }
  return swept;
}

}  // namespace

void add_stock(Scene& scene, const Report& report, const std::vector<std::int64_t>& points) {
  const Stock& fine = *report.setup.stock;
  const Program& program = report.judged.program;
  const Fewer fewer(fine);
  Stock stock = fewer.made();
  std::vector<Profile> cutters;
  for (const Tool& tool : report.job().tools) cutters.push_back(profile_of(completed(tool)));
  const std::vector<SweptMove> swept = swept_moves(program, report.job().tools);
  std::vector<double> radius;
  for (const SweptMove& move : swept)
    radius.push_back(cutters[static_cast<std::size_t>(move.cutter)].radius());
  if (const auto& at = report.judged.resumed; at && at->done)
    carve(stock, cutters, swept_moves(*at->done, report.job().tools));
  std::vector<std::int64_t> told(stock.heights().size(), steps_of(stock.block().max().z()));
  scene.data.emplace_back("stock-first", changes(stock.heights(), told));
  Json states = Json::array();
  std::size_t done = 0;
  for (const std::size_t last : kept_after(program, radius)) {
    carve(stock, cutters, std::span(swept).subspan(done, last + 1 - done));
    done = last + 1;
    const std::string key = "stock" + std::to_string(states.size());
    scene.data.emplace_back(key, changes(stock.heights(), told));
    states.push_back({{"key", key}, {"after", points[last]}});
  }
  scene.data.emplace_back("stock-part", part_below(stock, report.setup.part));
  if (report.judged.judged && report.judged.whole())
    scene.data.emplace_back("stock-left", left_at_the_end(report.judged.left, fine, fewer));
  scene.about["stock"] = {{"columns", stock.columns()},
                          {"rows", stock.rows()},
                          {"cell", rounded(stock.cell_mm())},
                          {"simulated_in", rounded(fine.cell_mm())},
                          {"low", triple(stock.block().min())},
                          {"high", triple(stock.block().max())},
                          {"states", states}};
}

}  // namespace yardpass::detail
