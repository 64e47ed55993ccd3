// Single faults put into a clean program at random: each that does harm, by a judge written from the
// definition, is found, with the line that is the first to do harm; what does none raises nothing.
#include <gtest/gtest.h>

#include <cmath>

#include "parts.h"
#include "support/definition.h"
#include "support/planning.h"
#include "support/rng.h"
#include "yardpass/link/link.h"
#include "yardpass/post/write_program.h"
#include "yardpass/verify/judge.h"

namespace yardpass {
namespace {

using testing::Rng;

constexpr double kHarm = 0.01, kNone = 0.001;

/// A finished bowl, cut by a ball of 6 with a holder 10 mm above its tip.
struct Clean {
  Clean() {
    const ToolSurface surface(part, tool);
    const Region area = rectangle(Box2(Vec2(-17, -17), Vec2(17, 17)));
    const CutPlan plan = cuts_of(ParallelOptions{.stepover_mm = 2.5}, {surface, area, nullptr, 0.03});
    path = link_cuts(plan, surface, block, {.plane_z = 8, .steps = {.ladder = {.stay_down_mm = 4}}}).path;
    const OperationPath operation{1, "finish the bowl", &path};
    program = read_program(write_program("bowl", {&operation, 1}).text, "bowl.nc");
  }
  Mesh mesh = demo::bowl(40, 20, 60, 0.05);
  std::shared_ptr<const ContactPart> part = make_contact_part(mesh);
  Tool tool = completed({.name = "ball6",
                         .number = 2,
                         .diameter_mm = 6,
                         .flute_length_mm = 9.9,
                         .stickout_mm = 10,
                         .holder = {{30, 40, 40}},
                         .spindle_rpm = 9000,
                         .feed_mm_min = 1800});
  Stock block{Box3(Vec3(-30, -30, -16), Vec3(30, 30, 0.5)), 0.5};
  Toolpath path;
  Program program;
};

/// Depth of a ball's move in the part: its radius less the distance of its middle's way from the mesh.
double ball_depth(const Clean& clean, const ProgramMove& move, double radius) {
  const Vec3 up(0, 0, radius);
  return radius - testing::segment_to_mesh(move.from + up, move.to + up, clean.mesh);
}

/// How deep corners of the part stand in a cylinder that a move sweeps: the least of sideways and upwards.
double cylinder_depth(const Clean& clean, const ProgramMove& move, double radius, double above_tip) {
  double deepest = 0;
  for (const Vec3& p : clean.mesh.points) {
    for (int i = 0; i <= 20; ++i) {
      const Vec3 c = move.from + (move.to - move.from) * i / 20;
      const double sideways = radius - (plan(p) - plan(c)).norm(), upwards = p.z() - c.z() - above_tip;
      deepest = std::max(deepest, std::min(sideways, upwards));
    }
  }
  return deepest;
}

/// The stock by plain search: lowest point of the swept ball over every cell, move by move.
class PlainStock {
 public:
  explicit PlainStock(const Clean& clean) : clean_(clean) {}
  /// How deep below the material's top the move passes, in Z, and sideways as a part of the ball that is
  /// thinner by `less`.
  double meets(const ProgramMove& move, double less) const {
    double deepest = 0;
    each(move, 3 - less, less,
         [&](double height, double swept, std::size_t) { deepest = std::max(deepest, height - swept); });
    return deepest;
  }
  void cut(const ProgramMove& move) {
    each(move, 3, 0,
         [&](double, double swept, std::size_t cell) { heights_[cell] = std::min(heights_[cell], swept); });
  }

 private:
  template <typename Visit>
  void each(const ProgramMove& move, double radius, double lift, const Visit& visit) const {
    for (int row = 0; row < clean_.block.rows(); ++row)
      for (int column = 0; column < clean_.block.columns(); ++column) {
        const Vec2 p = clean_.block.centre(column, row);
        if (testing_distance(p, plan(move.from), plan(move.to)) >= radius) continue;
        double lowest = 1e9;
        const int steps = static_cast<int>((move.to - move.from).norm() / 0.02) + 2;
        for (int i = 0; i <= steps; ++i) {
          const Vec3 c = move.from + (move.to - move.from) * i / steps;
          const double far2 = radius * radius - (p - plan(c)).squaredNorm();
          if (far2 > 0) lowest = std::min(lowest, c.z() + lift + radius - std::sqrt(far2));
        }
        const std::size_t cell = clean_.block.index(column, row);
        if (lowest < heights_[cell]) visit(heights_[cell], lowest, cell);
      }
  }
  static double testing_distance(const Vec2& p, const Vec2& a, const Vec2& b) {
    const double square = (b - a).squaredNorm();
    const double t = square > 0 ? std::clamp((p - a).dot(b - a) / square, 0.0, 1.0) : 0.0;
    return (p - a - t * (b - a)).norm();
  }
  const Clean& clean_;
  std::vector<double> heights_ =
      std::vector<double>(clean_.block.heights().begin(), clean_.block.heights().end());
};

/// What the judge by definition says of moves first to last of a program.
struct Harm {
  double worst = 0;
  std::int32_t first_line = 0;  ///< of the first move that does harm, 0 if none does
  void add(double depth, std::int32_t line) {
    worst = std::max(worst, depth);
    if (depth > kHarm && (first_line == 0 || line < first_line)) first_line = line;
  }
};

void expect_found(const Judgement& judgement, const Harm& harm, const std::string& fault) {
  if (harm.first_line > 0) {
    ASSERT_FALSE(judgement.clean()) << fault << ", harm " << harm.worst;
    EXPECT_EQ(judgement.findings[0].line, harm.first_line) << fault << ", harm " << harm.worst;
  } else if (harm.worst < kNone) {
    EXPECT_TRUE(judgement.clean()) << fault << ": "
                                   << (judgement.clean() ? "" : name_of(judgement.findings[0].kind));
  }
}

const Clean& clean() {
  static const Clean one;
  return one;
}

TEST(Faults, TheProgramItselfIsClean) {
  const Judgement judgement = judge(clean().program, clean().part, {clean().tool}, clean().block);
  EXPECT_TRUE(judgement.clean());
  EXPECT_GT(clean().program.moves.size(), 150u);
}

TEST(Faults, CoordinatesMovedAndLinesDropped) {
  Rng rng(4);
  int harmful = 0, harmless = 0;
  for (int round = 0; round < testing::rounds(140); ++round) {
    Program p = clean().program;
    const auto i = static_cast<std::size_t>(3 + rng.pick(static_cast<int>(p.moves.size()) - 5));
    const bool drop = round % 4 == 0;
    std::string fault;
    if (drop) {
      p.moves[i + 1].from = p.moves[i].from;
      p.moves.erase(p.moves.begin() + static_cast<std::ptrdiff_t>(i));
      fault = "dropped " + std::to_string(i);
    } else {
      const int axis = rng.pick(3);
      const double by = (rng.pick(2) ? 1 : -1) * rng.uniform(0.05, 2);
      p.moves[i].to[axis] += by;
      p.moves[i + 1].from[axis] += by;
      fault = "move " + std::to_string(i) + " axis " + std::to_string(axis) + " by " + std::to_string(by);
    }
    Harm harm;
    for (std::size_t k = i; k < (drop ? i + 1 : i + 2); ++k)
      harm.add(ball_depth(clean(), p.moves[k], 3), p.moves[k].line);
    // Rapids meet the stock, or what the changed cut left standing.
    PlainStock stock(clean());
    for (const ProgramMove& move : p.moves) {
      if (!move.rapid()) {
        stock.cut(move);
      } else {
        const double deep = stock.meets(move, 0), safe = stock.meets(move, kHarm);
        if (safe > 0)
          harm.add(kHarm * 1.1, move.line);
        else if (deep > 0)
          harm.add(std::min(deep, kHarm), move.line);
      }
    }
    const Judgement judgement = judge(p, clean().part, {clean().tool}, clean().block);
    expect_found(judgement, harm, fault);
    harmful += harm.first_line > 0, harmless += harm.worst < kNone;
  }
  EXPECT_GT(harmful, 40);
  EXPECT_GT(harmless, 10);
}

TEST(Faults, FeedLinesTurnedRapid) {
  Rng rng(5);
  int harmful = 0;
  for (int round = 0; round < testing::rounds(30); ++round) {
    Program p = clean().program;
    const auto i = static_cast<std::size_t>(3 + rng.pick(static_cast<int>(p.moves.size()) - 5));
    if (p.moves[i].rapid()) continue;
    p.moves[i].feed_mm_min = 0;
    PlainStock stock(clean());
    Harm harm;
    for (const ProgramMove& move : p.moves) {
      if (!move.rapid()) {
        stock.cut(move);
        continue;
      }
      if (stock.meets(move, kHarm) > 0)
        harm.add(2 * kHarm, move.line);
      else if (stock.meets(move, 0) > 0)
        harm.add(kHarm, move.line);
    }
    expect_found(judge(p, clean().part, {clean().tool}, clean().block), harm, "rapid " + std::to_string(i));
    harmful += harm.first_line > 0;
  }
  EXPECT_GT(harmful, 10);
}

TEST(Faults, ToolsSwapped) {
  Rng rng(6);
  for (int round = 0; round < testing::rounds(15); ++round) {
    Tool other = clean().tool;
    other.diameter_mm = rng.uniform(4, 9);
    other.shank_diameter_mm = other.diameter_mm;
    const Judgement judgement = judge(clean().program, clean().part, {other}, clean().block);
    if (other.diameter_mm <= 6) {
      // A thinner one leaves material, which is no finding of cutting moves; rapids may meet what it left.
      for (const Finding& finding : judgement.findings)
        EXPECT_EQ(finding.kind, FindingKind::rapid_through_stock);
      continue;
    }
    // By the definition: up to the first move that does harm (the plain search over the mesh is slow).
    std::int32_t first = 0, none_before = 0;
    for (const ProgramMove& move : clean().program.moves) {
      const double depth = ball_depth(clean(), move, other.diameter_mm / 2);
      if (depth > kNone && none_before == 0) none_before = move.line;
      if (depth > kHarm) {
        first = move.line;
        break;
      }
    }
    if (first == 0) continue;
    ASSERT_FALSE(judgement.clean()) << other.diameter_mm;
    EXPECT_LE(judgement.findings[0].line, first) << other.diameter_mm;
    EXPECT_GE(judgement.findings[0].line, none_before) << other.diameter_mm;
  }
}

TEST(Faults, StickOutsShortened) {
  Rng rng(7);
  int harmful = 0;
  for (int round = 0; round < testing::rounds(15); ++round) {
    Tool shorter = clean().tool;
    shorter.stickout_mm = rng.uniform(3.5, 7);
    shorter.flute_length_mm = shorter.stickout_mm;
    Harm harm;
    for (const ProgramMove& move : clean().program.moves)
      harm.add(cylinder_depth(clean(), move, 20, shorter.stickout_mm), move.line);
    const Judgement judgement = judge(clean().program, clean().part, {shorter}, clean().block);
    bool found = false;
    std::int32_t first = 0;
    for (const Finding& finding : judgement.findings)
      if (finding.kind == FindingKind::holder_into_part && !found) found = true, first = finding.line;
    if (harm.first_line > 0) {
      ++harmful;
      ASSERT_TRUE(found) << shorter.stickout_mm;
      // The definition asks corners of the part only: what lies between them may be met a line earlier.
      EXPECT_LE(first, harm.first_line);
    }
  }
  EXPECT_GT(harmful, 5);
}

}  // namespace
}  // namespace yardpass
