// Level faces finished at their exact height, through the job.
#include <gtest/gtest.h>

#include "support/nasty.h"
#include "support/scratch.h"
#include "yardpass/part/write_stl.h"
#include "yardpass/report/words.h"
#include "yardpass/run/run.h"

namespace yardpass {
namespace {

// Heights that are no whole steps of the program: a pocket, a step in it beside the wall, and the top.
constexpr double kTop = 0.00037, kStep = -4.00262, kFloor = -9.99949;

double height(double x, double y) {
  if (std::abs(x) > 25.2 || std::abs(y) > 20.2) return kTop;
  if (x > 18.2) return kStep;  // 7 mm wide
  return kFloor;
}

/// Walls upright but for half a thousandth.
Mesh steps() {
  Mesh mesh = testing::sheet(Box2(Vec2(-40, -30), Vec2(40, 30)), 160, 120, height);
  for (Vec3& p : mesh.points)
    for (const auto& [k, wall] : {std::pair(0, 25.0), std::pair(0, -25.0), std::pair(0, 18.0),
                                  std::pair(1, 20.0), std::pair(1, -20.0)})
      if (std::abs(p[k] - wall - std::copysign(0.5, wall)) < 0.01) p[k] = wall + std::copysign(0.0005, wall);
  return mesh;
}

class FlatsJob : public testing::ScratchFolder {
 protected:
  void SetUp() override { write_stl(folder() / "steps.stl", steps(), "steps"); }
  RunResult run(const std::string& tool, const std::string& more) {
    store(folder() / "job.toml", R"(title = "steps"
[part]
mesh = "steps.stl"
[stock]
cell = 0.4
above = 1
[tools.rough]
number = 1
shape = "flat"
diameter = 8
flute_length = 30
stickout = 60
spindle = 9000
feed = 1000
[tools.finish]
number = 2
flute_length = 30
stickout = 60
spindle = 9000
feed = 1000
)" + tool + R"(
[[operation]]
name = "rough"
strategy = "roughing"
tool = "rough"
allowance = 0.4
stepdown = 3
[[operation]]
name = "flats"
strategy = "flats"
tool = "finish"
)" + more);
    return run_job(read_job(folder() / "job.toml"));
  }
};

TEST_F(FlatsJob, LieAtTheirHeightAreCoveredAndWallsKeepTheirAllowance) {
  struct Case {
    const char *tool, *more;
    double radius, corner, wall, floor;
  };
  const Case cases[] = {
      {"shape = \"flat\"\ndiameter = 8", "", 4, 0, 0, 0},
      {"shape = \"flat\"\ndiameter = 6", "pattern = \"lines\"\nangle = 30\nwall_allowance = 0.3", 3, 0, 0.3,
       0},
      {"shape = \"bull\"\ndiameter = 10\ncorner_radius = 1", "wall_allowance = 0.25\nstepover = 7", 5, 1,
       0.25, 0},
      {"shape = \"bull\"\ndiameter = 8\ncorner_radius = 1.5", "allowance = 0.1", 4, 1.5, 0.1, 0.1}};
  for (const Case& one : cases) {
    SCOPED_TRACE(std::string(one.tool) + " " + one.more);
    const RunResult result = run(one.tool, one.more);
    EXPECT_TRUE(result.judged.clean());
    const Stock& stock = result.judged.judgement.stock;
    std::int64_t flat = 0, done = 0;
    double lowest = 1e9, highest = -1e9;
    for (int row = 0; row < stock.rows(); ++row)
      for (int column = 0; column < stock.columns(); ++column) {
        const Vec2 at = stock.centre(column, row);
        // In inner corners of the outline no round tool gets into the last of it.
        const double x = std::abs(at.x()), y = std::abs(at.y()), keeps = one.wall + one.corner + 0.15;
        if (x > 39.5 || y > 29.5) continue;
        const bool top = x > 25.2 || y > 20.2;
        const double wall_x = at.x() < 18 ? 18 : 25;
        const double from_x = at.x() < 18 ? std::min(at.x() + 25, wall_x - at.x()) : 25 - at.x(),
                     from_y = 20 - y, r = one.radius - one.corner;
        const bool open_step = at.x() > 18.2 && at.x() < 25 - keeps && y < 20 - keeps &&
                               !(from_x < keeps + r && from_y < keeps + r);
        const bool floor = at.x() < 18 - keeps && at.x() > -25 + keeps && y < 20 - keeps &&
                           !(from_x < keeps + r && from_y < keeps + r);
        if (!top && !open_step && !floor) continue;
        ++flat;
        const double off = stock.height(column, row) - (top ? kTop : floor ? kFloor : kStep) - one.floor;
        done += off < 0.001;
        lowest = std::min(lowest, off);
        highest = std::max(highest, off);
      }
    EXPECT_GE(static_cast<double>(done), 0.999 * static_cast<double>(flat)) << highest;
    EXPECT_GE(lowest, -1e-6);
    // The walls: no move below the top comes nearer than the allowance.
    for (const Move& move : result.planned[1].path.moves) {
      if (move.kind == MoveKind::rapid || move.to.z() > kTop - 0.1) continue;
      const Vec2 at = plan(move.to);
      EXPECT_LE(std::abs(at.x()), 25 - one.radius - one.wall + 1e-6);
      EXPECT_LE(std::abs(at.y()), 20 - one.radius - one.wall + 1e-6);
      if (move.to.z() < kStep - 0.1) EXPECT_LE(at.x(), 18 - one.radius - one.wall + 1e-6);
    }
    EXPECT_EQ(result.planned[1].facts[0].value.value[0], 3) << "three flats";
  }
}

TEST_F(FlatsJob, WhatIsNoFlatOrNotReachedIsTold) {
  try {
    (void)run("shape = \"ball\"\ndiameter = 6", "");
    FAIL();
  } catch (const Error& error) {
    EXPECT_NE(std::string(error.what()).find("has no flat end"), std::string::npos) << error.what();
  }
  const auto notes = [](const RunResult& result) {
    std::string all;
    for (const Note& note : result.planned[1].notes) all += Telling().words(note) + "\n";
    return all;
  };
  const RunResult inside =
      run("shape = \"flat\"\ndiameter = 8",
          "keep_inside = [[-24.95, -19.95], [-24, -19.95], [-24, -19], [-24.95, -19]]\ntop = -1\n");
  EXPECT_NE(notes(inside).find("nothing to cut: the tool can stand on none of the flats"), std::string::npos)
      << notes(inside);
  const RunResult high = run("shape = \"flat\"\ndiameter = 8", "bottom = 0.1\n");
  EXPECT_NE(notes(high).find("there is no flat inside the boundary"), std::string::npos) << notes(high);
}

}  // namespace
}  // namespace yardpass
