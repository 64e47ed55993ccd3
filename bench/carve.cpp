// Carving against the scalar full footprint, on one core and on two.
#include <tbb/global_control.h>

#include <cmath>
#include <optional>
#include <vector>

#include "bench.h"
#include "yardpass/stock/stock.h"
#include "yardpass/tool/segment_touch.h"

using namespace yardpass;
using namespace yardpass::bench;

namespace {

constexpr double kSide = 40, kCell = 0.05;

/// The reference: every cell of the footprint's rectangle, early out where the material lies lower already.
void carve_by_footprint(Stock& stock, const Profile& cutter, const SweptMove& move) {
  const double radius = cutter.radius(), low_z = std::min(move.from.z(), move.to.z());
  const auto range = stock.cells_between(plan(move.from).cwiseMin(plan(move.to)).array() - radius,
                                         plan(move.from).cwiseMax(plan(move.to)).array() + radius);
  for (int row = range.first_row; row < range.last_row; ++row)
    for (int column = range.first_column; column < range.last_column; ++column) {
      const double before = stock.height(column, row);
      if (before <= low_z) continue;
      const double swept = swept_height(cutter, stock.centre(column, row), move.from, move.to);
      if (swept < before) stock.set_height(column, row, std::max(swept, stock.bottom_z()));
    }
}

double ground(double x, double y) {
  return -6 + 1.5 * std::sin(x / 7) * std::cos(y / 9) + 0.3 * std::sin(x / 2.1);
}

/// About where the tip of a cutter touches the ground.
double tip_at(const Profile& cutter, double x, double y) {
  double highest = ground(x, y);
  for (int ring = 1; ring <= 10; ++ring)
    for (int k = 0; k < 24; ++k) {
      const double r = cutter.radius() * ring / 10, angle = k * 0.2617993877991494;
      highest =
          std::max(highest, ground(x + r * std::cos(angle), y + r * std::sin(angle)) - cutter.height(r));
    }
  return highest;
}

/// Passes along X over waves, in moves of 0.25 mm.
std::vector<SweptMove> passes(const Profile& cutter, double stepover) {
  std::vector<SweptMove> moves;
  int pass = 0;
  for (double y = 1; y < kSide - 1; y += stepover, ++pass) {
    const int count = static_cast<int>((kSide - 2) / 0.25);
    for (int i = 0; i < count; ++i) {
      const auto at = [&](int k) {
        const double x = pass % 2 == 0 ? 1 + 0.25 * k : kSide - 1 - 0.25 * k;
        return Vec3(x, y, tip_at(cutter, x, y));
      };
      moves.push_back({at(i), at(i + 1), 0, true});
    }
  }
  return moves;
}

Stock block(bool raw) {
  Stock stock(Box3(Vec3(0, 0, -20), Vec3(kSide, kSide, 0)), kCell);
  if (!raw)
    for (int row = 0; row < stock.rows(); ++row)
      for (int column = 0; column < stock.columns(); ++column) {
        const Vec2 p = stock.centre(column, row);
        stock.set_height(column, row, ground(p.x(), p.y()) + 0.3);
      }
  return stock;
}

struct Rates {
  double ours, reference;
};

Rates rates(const Profile& cutter, const std::vector<SweptMove>& moves, bool raw) {
  Stock by_carve = block(raw), by_footprint = block(raw);
  const std::size_t part = moves.size() / 6;  // the reference is slow: a part of the moves, in their order
  double start = now_s();
  for (std::size_t i = 0; i < part; ++i) carve_by_footprint(by_footprint, cutter, moves[i]);
  Rates result{};
  result.reference = static_cast<double>(part) / (now_s() - start);
  carve(by_carve, std::span<const Profile>(&cutter, 1), std::span(moves).first(part));
  for (std::size_t i = 0; i < by_carve.heights().size(); ++i)
    require(std::abs(by_carve.heights()[i] - by_footprint.heights()[i]) < 1e-9, "carving");
  Stock whole = block(raw);
  start = now_s();
  carve(whole, std::span<const Profile>(&cutter, 1), moves);
  result.ours = static_cast<double>(moves.size()) / (now_s() - start);
  return result;
}

}  // namespace

int main() {
  std::optional<tbb::global_control> one(std::in_place, tbb::global_control::max_allowed_parallelism, 1);
  const Profile ball = Profile::ball(6);
  const auto moves = passes(ball, 0.3);
  const Rates left = rates(ball, moves, false), raw = rates(ball, moves, true);
  row("carving, ball R = 3, 0.25 mm, 0.05 mm cells, 0.3 left: ratio", left.ours / left.reference, "times", 10,
      30, true);
  row("  the same, moves a second (thousands)", left.ours / 1000, "k/s", 50, 150, true);
  row("  the same from the raw block: ratio", raw.ours / raw.reference, "times", 6, 15, true);
  const struct {
    const char* what;
    Profile profile;
  } others[] = {{"  flat, sloped moves (no floor set)", Profile::flat(6)},
                {"  bull nose", Profile::bull(6, 1)},
                {"  tapered ball", Profile::taper(4, 8, 2, 12)},
                {"  tapered bull nose", Profile::taper(4, 8, 0.5, 12)},
                {"  chamfer", Profile::chamfer(6, 45, 0.5)}};
  for (const auto& other : others) {
    const Rates both_ways = rates(other.profile, passes(other.profile, 0.3), false);
    std::printf("%-62s %9.2f times, %.0f k moves/s\n", other.what, both_ways.ours / both_ways.reference,
                both_ways.ours / 1000);
  }
  Stock once = block(false);
  const double start = now_s();
  carve(once, std::span<const Profile>(&ball, 1), moves);
  const double single = now_s() - start;
  Stock twice = block(false);
  double both = 0;
  {
    one.reset();
    tbb::global_control two(tbb::global_control::max_allowed_parallelism, 2);
    const double begin = now_s();
    carve(twice, std::span<const Profile>(&ball, 1), moves);
    both = now_s() - begin;
  }
  for (std::size_t i = 0; i < once.heights().size(); ++i)
    require(once.heights()[i] == twice.heights()[i], "threads");
  row("  two threads against one", single / both, "times", 1.7, 1.9, true);
}
