// Limits, lids, run_outs and keep_away in a job: that they do what they are for, and what is said when they
// cannot.
#include <gtest/gtest.h>

#include "support/nasty.h"
#include "support/plate.h"
#include "yardpass/part/write_stl.h"
#include "yardpass/report/words.h"
#include "yardpass/run/run.h"

namespace yardpass {
namespace {

using testing::kPlateJob;
using testing::plate;

class GuidesJob : public testing::ScratchFolder {
 protected:
  void SetUp() override { write_stl(folder() / "plate.stl", plate(), "plate"); }
  Job job(const std::string& tables, const std::string& operation) {
    store(folder() / "job.toml",
          kPlateJob + tables +
              "[[operation]]\nname = \"finish\"\nstrategy = \"parallel\"\ntool = \"ball4\"\n"
              "stepover = 0.5\n" +
              operation);
    return read_job(folder() / "job.toml");
  }
  std::string message(const std::string& tables, const std::string& operation) {
    try {
      (void)run_job(job(tables, operation));
      return "accepted";
    } catch (const Error& error) {
      return error.what();
    }
  }
  static double lowest_cut(const RunResult& run, const Box2& where) {
    double low = 1e9;
    Vec3 from = run.planned[0].path.start;
    for (const Move& move : run.planned[0].path.moves) {
      for (int k = 0; k <= 100 && move.kind == MoveKind::cut; ++k) {
        const Vec3 at = from + (move.to - from) * (k / 100.0);
        if (where.contains(plan(at))) low = std::min(low, at.z());
      }
      from = move.to;
    }
    return low;
  }
};

const Box2 kHole(Vec2(-2, -2), Vec2(2, 2));
const char* const kInside = "keep_inside = [[-18, -15], [18, -15], [18, 15], [-18, 15]]\n";

TEST_F(GuidesJob, WithoutALidPassesDiveIntoTheHoleWithItTheyRunStraightOver) {
  const RunResult without = run_job(job("", kInside));
  EXPECT_LT(lowest_cut(without, kHole), -3);
  for (const char* shape : {"flat", "smooth"}) {
    const RunResult with_lid =
        run_job(job(std::string("[lids.hole]\nholes_of = \"face\"\nwidest = 15\nshape = \"") + shape + "\"\n",
                    std::string(kInside) + "lids = \"hole\"\n"));
    EXPECT_GT(lowest_cut(with_lid, kHole), -0.1) << shape;
    EXPECT_TRUE(with_lid.judged.judgement.clean())
        << "cutting into a lid is no gouge, and the part is not cut";
  }
}

TEST_F(GuidesJob, ARunOutLeavesInLineWithTheSurface) {
  // The face ends at x = -30 with a fall of 0.15 a millimetre; beyond it the tip goes on along that line.
  const std::string inside = "keep_inside = \"face\"\nlimit = \"axis\"\nmargin = \"1 radius\"\n";
  const RunResult rolled = run_job(job("", inside));
  const RunResult straight =
      run_job(job("[run_outs.out]\nedge_of = \"face\"\nlength = 6\n", inside + "run_outs = \"out\"\n"));
  const Box2 beyond(Vec2(-32, -15), Vec2(-31, 15));
  EXPECT_LT(lowest_cut(rolled, beyond), -2.8) << "rolls over the edge";
  EXPECT_NEAR(lowest_cut(straight, beyond), -2.25 - 0.15 * 2, 0.2);
  EXPECT_TRUE(straight.judged.judgement.clean());
}

TEST_F(GuidesJob, ARunOutIsReachedOverByDefaultButNotIntoTheWallBeside) {
  const std::string out = "[run_outs.out]\nedge_of = \"face\"\nlength = 5\n";
  for (const std::string limit : {"", "limit = \"axis\"\n", "limit = \"cutter\"\n"}) {
    SCOPED_TRACE(limit);
    const std::string inside = "keep_inside = \"face\"\n" + limit;
    const RunResult without = run_job(job(out, inside));
    const RunResult with = run_job(job(out, inside + "run_outs = \"out\"\n"));
    const auto reach = [](const RunResult& run) {
      Box3 box;
      for (const Move& move : run.planned[0].path.moves)
        if (move.kind == MoveKind::cut && std::abs(move.to.y()) < 18) box.extend(move.to);
      return box;
    };
    const double in = limit == "limit = \"cutter\"\n" ? 2 : 0;
    // Where the face ends passes go on along its fall of 0.15 a millimetre, by contact with the axis a bit
    // beside.
    EXPECT_NEAR(reach(with).min().x(), -30 - 5 * std::cos(std::atan(0.15)) + in, 0.32);
    EXPECT_GE(reach(without).min().x(), -30.5 + in);
    EXPECT_NEAR(lowest_cut(with, Box2(Vec2(-32.9, -10), Vec2(-32, 10))), -2.25 - 0.15 * 2.9, 0.2);
    // Along the wall nothing runs on.
    EXPECT_LE(reach(with).max().z(), reach(without).max().z() + 0.01);
    EXPECT_LE(reach(with).max().x(), reach(without).max().x() + 0.01);
    EXPECT_TRUE(with.judged.judgement.clean());
  }
  // As drawn is as drawn, and what has no effect is told.
  const RunResult drawn = run_job(job(out, std::string(kInside) + "run_outs = \"out\"\n"));
  EXPECT_TRUE(std::any_of(drawn.operations[0].notes.begin(), drawn.operations[0].notes.end(),
                          [](const Note& note) { return note.about == "run-outs"; }));
}

TEST_F(GuidesJob, WithARunOutTheRimKeepsNoMoreThanTheRest) {
  const std::string inside = "keep_inside = \"face\"\nangle = 90\n";
  const auto left = [&](const RunResult& run, double x0, double x1) {
    return statistics(run.judged.left, run.judged.judgement.stock,
                      rectangle(Box2(Vec2(x0, -15), Vec2(x1, 15))))
        .greatest_mm;
  };
  const RunResult with =
      run_job(job("[run_outs.out]\nedge_of = \"face\"\nlength = 4\n", inside + "run_outs = \"out\"\n"));
  EXPECT_LE(left(with, -30, -28), left(with, -28, -6) + 0.003);
  const RunResult inside_only = run_job(job("", inside + "limit = \"cutter\"\n"));
  EXPECT_GT(left(inside_only, -30, -28), left(with, -30, -28) + 0.05);
}

TEST_F(GuidesJob, ARunOutOfAStretchAndALidByPlace) {
  const std::string inside = "keep_inside = \"face\"\nrun_outs = \"out\"\n";
  const RunResult run = run_job(
      job("[run_outs.out]\nedge_of = \"face\"\nlength = 5\nbetween = [[-30, -8], [-30, 8]]\n", inside));
  EXPECT_LT(lowest_cut(run, Box2(Vec2(-34.5, -7), Vec2(-33, 7))), 0);
  EXPECT_GT(lowest_cut(run, Box2(Vec2(-36, 9), Vec2(-31, 25))), 1e8);
  EXPECT_NE(message("[curves.line]\npoints = [[0, 0, 9], [1, 0, 9]]\n[run_outs.out]\nedge_of = \"face\"\n"
                    "length = 5\nalong = \"line\"\n",
                    inside)
                .find("the region \"face\" has no outer edge along the curve \"line\""),
            std::string::npos);
  const RunResult covered = run_job(
      job("[lids.hole]\nholes_of = \"face\"\nat = [1, 9]\n", std::string(kInside) + "lids = \"hole\"\n"));
  EXPECT_GT(lowest_cut(covered, kHole), -0.1);
}

TEST_F(GuidesJob, AGuardIsKeptAwayFrom) {
  const std::string wall =
      "[regions.wall]\nbox = [[21, -30, -1], [40, 30, 9]]\n[keep_away.wall]\nregion = \"wall\"\nclearance = "
      "1.5\nin_the_way = \"over\"\n";
  const std::string inside = "keep_inside = [[5, -10], [20, -10], [20, 10], [5, 10]]\n";
  const RunResult near = run_job(job(wall, inside));
  const RunResult away = run_job(job(wall, inside + "keep_away = \"wall\"\n"));
  const auto least_distance = [&](const RunResult& run) {
    double least = 1e9;
    for (const Move& move : run.planned[0].path.moves)
      if (move.kind == MoveKind::cut && move.to.z() < 2) least = std::min(least, 22.1 - move.to.x() - 2);
    return least;
  };
  EXPECT_LT(least_distance(near), 0.2);
  EXPECT_GT(least_distance(away), 1.3);
}

TEST_F(GuidesJob, AGuardFromAnotherMesh) {
  write_stl(folder() / "clamp.stl", testing::box_mesh(Box3(Vec3(-20, -20, 0), Vec3(-10, 20, 15))), "clamp");
  const RunResult run =
      run_job(job("[keep_away.clamp]\nmesh = \"clamp.stl\"\nclearance = 2\nin_the_way = \"over\"\n",
                  std::string(kInside) + "keep_away = \"clamp\"\n"));
  EXPECT_GT(lowest_cut(run, Box2(Vec2(-13, -14), Vec2(-9, 14))), 10) << "over the clamp, or not at all";
}

TEST_F(GuidesJob, WhatIsInTheWayIsRefusedOrLeftOut) {
  write_stl(folder() / "clamp.stl", testing::box_mesh(Box3(Vec3(-20, -20, 0), Vec3(-10, 20, 15))), "clamp");
  const auto run = [&](const std::string& rule) {
    return run_job(job("[keep_away.clamp]\nmesh = \"clamp.stl\"\nclearance = 2\n" + rule,
                       std::string(kInside) + "keep_away = \"clamp\"\n"));
  };
  try {
    (void)run("");
    FAIL() << "refused unless told otherwise";
  } catch (const Error& error) {
    const std::string says = error.what();
    EXPECT_EQ(says.find("operation 1 \"finish\": \"clamp\" is in the way at X "), 0u) << says;
  }
  const RunResult skipped = run("in_the_way = \"skip\"\n");
  double highest = -1e9;
  for (const Move& move : skipped.planned[0].path.moves)
    if (move.kind == MoveKind::cut) highest = std::max(highest, move.to.z());
  EXPECT_LT(highest, 14) << "nothing rides on the clamp";
  EXPECT_TRUE(skipped.judged.judgement.clean());
  std::string notes;
  for (const Note& note : skipped.planned[0].notes) notes += Telling().words(note) + "\n";
  EXPECT_NE(notes.find("\"clamp\" is in the way on "), std::string::npos) << notes;
}

// Controls that move each axis on its own: lifts go one axis at a time, and the judge finds nothing.
TEST_F(GuidesJob, DogLegRapidsOverThePartAreProven) {
  const RunResult run = run_job(job("[machine]\nrapids = \"dog-leg\"\nrapid_feed = [12000, 8000, 6000]\n",
                                    std::string(kInside) + "direction = \"one-way\"\nhop_distance = 0\n"));
  EXPECT_TRUE(run.judged.judgement.clean());
  const Toolpath& path = run.planned[0].path;
  Vec3 at = path.start;
  int low = 0;
  for (const Move& move : path.moves) {
    if (move.kind == MoveKind::rapid && plan(move.to) != plan(at) && at.z() < path.start.z()) {
      ++low;
      EXPECT_TRUE(move.to.x() == at.x() || move.to.y() == at.y());
    }
    at = move.to;
  }
  EXPECT_GT(low, 4);
}

TEST_F(GuidesJob, ClimbsAreToldAndAvoidedWhenAsked) {
  const std::string inside = "keep_inside = [[-18, -15], [21.95, -15], [21.95, 15], [-18, 15]]\n";
  const RunResult warned = run_job(job("", inside));
  std::string notes;
  for (const Note& note : warned.planned[0].notes) notes += Telling().words(note) + "\n";
  EXPECT_NE(notes.find("ride up a wall outside the boundary"), std::string::npos) << notes;
  EXPECT_NE(notes.find("a margin of -1."), std::string::npos) << notes;
  const Box2 at_wall(Vec2(20.5, -14), Vec2(22, 14));
  const RunResult avoided = run_job(job("", inside + "ride_up = \"avoid\"\n"));
  EXPECT_LT(lowest_cut(warned, at_wall), 1e8) << "passes go up there";
  EXPECT_GT(lowest_cut(avoided, at_wall), 1e8) << "no pass there";
  const RunResult fine = run_job(job("", kInside));
  for (const Note& note : fine.planned[0].notes) EXPECT_NE(note.about, "rides") << Telling().words(note);
}

TEST_F(GuidesJob, LimitsAndKeepOutReachThePath) {
  const auto reach = [&](const std::string& more) {
    const RunResult run = run_job(job("", kInside + more));
    double far = -1e9;
    for (const Move& move : run.planned[0].path.moves)
      if (move.kind == MoveKind::cut) far = std::max(far, move.to.x());
    return far;
  };
  EXPECT_NEAR(reach(""), 18, 0.01);
  EXPECT_NEAR(reach("limit = \"cutter\"\n"), 16, 0.01);
  EXPECT_NEAR(reach("limit = \"axis\"\nmargin = \"1 radius\"\n"), 20, 0.01);
  // The face falls by 2 * 18 / 400 there; a ball of 2 mm touches so much farther out: r sin(t) downhill is
  // back.
  EXPECT_NEAR(reach("limit = \"contact\"\n"), 18 + 2 * std::sin(std::atan(0.09)), 0.02);
  EXPECT_NEAR(
      reach("limit_where = [{ inside = [[17, -20], [19, -20], [19, 20], [17, 20]], limit = \"cutter\" }]\n"),
      16, 0.01);
  EXPECT_LT(reach("keep_out = [[0, -30], [40, -30], [40, 30], [0, 30]]\n"), 0.01);
}

TEST_F(GuidesJob, MistakesAreNamed) {
  const auto has = [](const std::string& text, const std::string& part) {
    EXPECT_NE(text.find(part), std::string::npos) << text;
  };
  has(message("", "limit = \"edge\"\n"), "valid: contact, axis, cutter");
  has(message("", "lids = \"hole\"\n"), "\"lids\" names \"hole\", which is not defined; there are: none");
  has(message("[lids.a]\nholes_of = \"fce\"\n", ""),
      "\"holes_of\" names the region \"fce\", which is not defined (did you mean \"face\"?)");
  has(message("[lids.a]\n", ""), "lid \"a\": needs one of: holes_of, over");
  has(message("[lids.a]\nover = [[0, 0], [1, 0], [1, 1]]\n", ""),
      "needs shape = \"smooth\" and \"continues\"");
  has(message("[lids.a]\nholes_of = \"face\"\nwidest = 1\n", ""),
      "lid \"a\": the region \"face\" has no hole up to 1 mm wide");
  has(message("[run_outs.a]\nlength = 3\n", ""), "\"edge_of\" is missing");
  has(message("[keep_away.a]\nclearance = 1\n", ""), "keep-away \"a\": needs one of: region, mesh");
  has(message("[keep_away.a]\nmesh = \"none.stl\"\nclearance = 1\n", ""), "does not exist");
  has(message("", "limit = \"contact\"\nlimit_where = [{ inside = [[0, 0], [1, 0], [1, 1]] }]\n"),
      "cannot be mixed");
  has(message("", "limit_where = [{ limit = \"axis\" }]\n"), "\"inside\" is missing");
}

TEST_F(GuidesJob, BoundariesByAllMeansAndEdits) {
  const JobSetup setup = load_setup(job(R"([boundaries.outline]
silhouette = true
[boundaries.edge]
region = "face"
[boundaries."face, no hole"]
union_of = "edge"
fill_holes = true
[boundaries.square]
points = [[-10, -10], [10, -10], [10, 10], [-10, 10]]
[boundaries.grown]
union_of = "square"
offset = 2
[boundaries.frame]
union_of = "grown"
without = "square"
[boundaries.shared]
common_to = ["square", "edge"]
)",
                                        "keep_inside = \"frame\"\n"));
  const auto area = [&](const std::string& name) {
    for (const NamedBoundary& boundary : setup.boundaries)
      if (boundary.name == name) return boundary.area.area_mm2();
    return -1.0;
  };
  EXPECT_NEAR(area("outline"), 60 * 40, 1e-3);
  EXPECT_NEAR(area("square"), 400, 1e-6);
  EXPECT_NEAR(area("grown"), 400 + 4 * 20 * 2 + M_PI * 4, 0.02);
  EXPECT_NEAR(area("frame"), area("grown") - 400, 1e-3);
  const double hole = area("face, no hole") - area("edge");
  EXPECT_NEAR(hole, 64, 8);
  EXPECT_NEAR(area("shared"), 400 - hole, 1e-3);
  EXPECT_NEAR(area_of(setup, settle(setup), 1).area_mm2(), area("frame"), 1e-9);
}

TEST_F(GuidesJob, BoundaryMistakesAreNamed) {
  const auto has = [](const std::string& text, const std::string& part) {
    EXPECT_NE(text.find(part), std::string::npos) << text;
  };
  has(message("[boundaries.a]\n", ""),
      "needs one of: points, region, silhouette, slice, curves, loop_from, union_of, common_to");
  has(message("[boundaries.a]\nunion_of = \"b\"\n[boundaries.b]\nunion_of = \"a\"\n", ""),
      "leads back to itself");
  has(message("[boundaries.a]\nregion = \"fce\"\n", ""), "did you mean \"face\"?");
  has(message("[boundaries.face]\nsilhouette = true\n", ""), "a region has this name too");
  has(message("[boundaries.a]\nslice = 99\n", ""), "boundary \"a\": encloses no area on this part");
  has(message("[boundaries.a]\nsilhouette = true\n", "keep_inside = \"b\"\n"),
      "names the boundary or region \"b\"");
  has(message("[boundaries.a]\nslice = { z_at = [500, 0] }\n", ""), "there is no part at [500, 0]");
}

TEST_F(GuidesJob, RoughingDoesNotDiveUnderALid) {
  const auto lowest = [&](const std::string& more) {
    store(folder() / "rough.toml",
          std::string(kPlateJob) +
              "[lids.hole]\nholes_of = \"face\"\nwidest = 15\n[tools.flat4]\nnumber = 2\nshape = \"flat\"\n"
              "diameter = 4\nspindle = 8000\nfeed = 900\n[[operation]]\nname = \"rough\"\nstrategy = "
              "\"roughing\"\ntool = \"flat4\"\nstepdown = 1.5\n" +
              kInside + more);
    const RunResult run = run_job(read_job(folder() / "rough.toml"));
    EXPECT_TRUE(run.judged.judgement.clean());
    return lowest_cut(run, kHole);
  };
  EXPECT_LT(lowest(""), -4);
  EXPECT_GT(lowest("lids = \"hole\"\n"), -1);
}

TEST_F(GuidesJob, SettledValuesNameWhatGuides) {
  const RunResult run = run_job(job(
      "[lids.hole]\nholes_of = \"face\"\nwidest = 15\n[run_outs.out]\nedge_of = \"face\"\nlength = 3\n",
      std::string(kInside) + "lids = [\"hole\"]\nrun_outs = \"out\"\nlimit = \"cutter\"\nmargin = 0.5\n"));
  const auto told = [&](const std::string& key) {
    for (const SettledValue& value : run.operations[0].told)
      if (value.key == key) return Telling().words(value.value);
    return std::string("not told");
  };
  EXPECT_EQ(told("lids"), "hole");
  EXPECT_EQ(told("run_outs"), "out");
  EXPECT_EQ(told("limit"), "cutter");
  EXPECT_EQ(told("margin"), "0.5 mm");
}

TEST_F(GuidesJob, TheClearancePlaneLiesAboveGuards) {
  write_stl(folder() / "clamp.stl", testing::box_mesh(Box3(Vec3(-20, -20, 0), Vec3(-10, 20, 33))), "clamp");
  const JobSetup setup = load_setup(job("[keep_away.clamp]\nmesh = \"clamp.stl\"\nclearance = 2\n", ""));
  EXPECT_NEAR(setup.plane_z, 38, 1e-6);
  EXPECT_NEAR(setup.block.max().z(), 7, 1e-6) << "the stock does not grow";
}

}  // namespace
}  // namespace yardpass
