// The part of a job: reading, placing, naming regions, measuring values; and what is said when that fails.
#include <gtest/gtest.h>

#include "parts.h"
#include "support/scratch.h"
#include "yardpass/part/write_stl.h"
#include "yardpass/run/inspect.h"
#include "yardpass/run/run.h"
#include "yardpass/run/settle.h"
#include "yardpass/strategy/parallel.h"

namespace yardpass {
namespace {

/// A bowl of 40 mm radius with a rim of 20 mm in a plate of 60 x 60, top at Z 0, 5.359 deep.
const char* const kTools = R"([tools.ball6]
number = 3
shape = "ball"
diameter = 6.0
spindle = 12000
feed = 1800
)";

class PartJobFile : public testing::ScratchFolder {
 protected:
  void SetUp() override { write_stl(folder() / "bowl.stl", demo::bowl(40, 20, 60, 0.05), "bowl"); }
  Job job_with(const std::string& part, const std::string& tables = "", const std::string& operation = "") {
    store(folder() / "job.toml", "title = \"bowl\"\n[part]\nmesh = \"bowl.stl\"\n" + part + tables +
                                     "[stock]\ncell = 0.5\n" + kTools +
                                     "[[operation]]\nname = \"finish\"\nstrategy = \"parallel\"\ntool = "
                                     "\"ball6\"\nstepover = 3.0\n" +
                                     operation);
    return read_job(folder() / "job.toml");
  }
  std::string message(const std::string& part, const std::string& tables = "",
                      const std::string& operation = "") {
    try {
      (void)settle(load_setup(job_with(part, tables, operation)));
      return "accepted";
    } catch (const Error& error) {
      return error.what();
    }
  }
};

#define EXPECT_HAS(text, part) EXPECT_NE((text).find(part), std::string::npos) << (text)

TEST_F(PartJobFile, OriginIsWhereItIsSaidToBe) {
  JobSetup setup =
      load_setup(job_with("origin = { of = \"part\", x = \"left\", y = \"front\", z = \"bottom\" }\n"));
  EXPECT_NEAR((setup.part->box().min() - Vec3(0, 0, 0)).norm(), 0, 1e-5);
  EXPECT_NEAR(setup.block.min().x(), -5, 1e-5);
  setup = load_setup(job_with("origin = { of = \"stock\", x = \"right\", y = 10, z = \"top\" }\n"));
  EXPECT_NEAR(setup.block.max().x(), 0, 1e-5);
  EXPECT_NEAR(setup.block.max().z(), 0, 1e-5);
  EXPECT_NEAR(setup.part->box().max().y(), 20, 1e-5) << "Y 10 of the part becomes 0";
}

TEST_F(PartJobFile, TurnedMirroredShrunkAndMoved) {
  const JobSetup setup =
      load_setup(job_with("unit = \"cm\"\nshrink_factor = [1.0, 1.0, 1.1]\nmirror = \"x\"\nturn = [{ axis = "
                          "\"x\", angle = 180 }]\nmove = [1, 2, 3]\n"));
  const Box3& box = setup.part->box();
  EXPECT_NEAR(box.sizes().x(), 600, 1e-3);
  EXPECT_NEAR(box.sizes().z(), 153.59 * 1.1, 0.01);
  EXPECT_NEAR(box.center().x(), 1, 1e-3);
  EXPECT_NEAR(box.min().z(), 3, 1e-3) << "the top face looks down now";
  EXPECT_EQ(setup.record.unit, LengthUnit::centimetre);
  EXPECT_GT(setup.summary.volume_mm3, 0) << "mirrored, and still the outside is out";
  // What the record says is what was done.
  const auto& m = setup.record.matrix;
  const Vec3 bottom = m.leftCols<3>() * Vec3(0, 0, -53.59) + m.col(3);
  EXPECT_NEAR(nearest_to(setup.part->mesh(), bottom).at.z(), bottom.z(), 0.1);
}

TEST_F(PartJobFile, WhatIsCutOnATurnedPartIsThePlacedPart) {
  const RunResult result =
      run_job(job_with("turn = [{ axis = \"z\", angle = 90 }]\norigin = { of = \"part\", x = \"left\", y = "
                       "\"front\", z = \"top\" }\n"));
  EXPECT_TRUE(result.judged.judgement.clean());
  EXPECT_NEAR(result.setup.part->box().min().x(), 0, 1e-5);
}

TEST_F(PartJobFile, AStockThatIsDrawnLikeThePartIsPlacedLikeIt) {
  write_stl(folder() / "casting.stl", demo::bowl(41, 20.5, 62, 0.05), "casting");
  const std::string placing =
      "unit = \"cm\"\nshrink_factor = 1.01\nturn = [{ axis = \"z\", angle = 30 }]\nmove = [100, 0, -5]\n"
      "origin = { of = \"part\", x = \"left\", y = \"front\", z = \"top\" }\n";
  const auto stock = [&](const std::string& says) {
    (void)job_with(placing);
    std::string text = contents(folder() / "job.toml");
    text.replace(text.find("cell = 0.5"), 10, "cell = 5\nmesh = \"casting.stl\"\n" + says);
    store(folder() / "job.toml", text);
    return load_setup(read_job(folder() / "job.toml"));
  };
  const JobSetup placed = stock("with_part = true");
  const Box3 &block = placed.block, &part = placed.part->box();
  EXPECT_NEAR((plan(block).center() - plan(part).center()).norm(), 0, 0.01);
  EXPECT_NEAR(block.sizes().x() / part.sizes().x(), 62.0 / 60, 1e-3);
  EXPECT_GT(block.sizes().x(), 600) << "in the part's unit";
  EXPECT_LT(stock("").block.sizes().x(), 63) << "as it lies in its file, mm";
  EXPECT_HAS(message("", "[curves.a]\npoints = [[0, 0], [1, 1]]\n"), "");
}

TEST_F(PartJobFile, ABoundaryThatCrossesItselfIsToldWithThePlace) {
  EXPECT_HAS(message("", "", "keep_inside = [[0, 0], [20, 20], [20, 0], [0, 20]]\n"),
             "crosses itself at X 10 Y 10");
  EXPECT_HAS(message("",
                     "[curves.bow]\npoints = [[0, 0], [20, 20], [20, 0], [0, 20]]\nclosed = true\n"
                     "[boundaries.area]\ncurves = \"bow\"\n",
                     "keep_inside = \"area\"\n"),
             "crosses itself at X 10.000 Y 10.000");
}

TEST_F(PartJobFile, RepairsAreCarriedOutAndCounted) {
  const JobSetup setup = load_setup(job_with("weld = 0.001\nrepair = [\"zero-area\", \"repeated\"]\n"));
  ASSERT_EQ(setup.record.repairs.size(), 2u);
  EXPECT_EQ(setup.record.repairs[0].triangles, 0);
}

TEST_F(PartJobFile, RegionsByAllMeansAndAsBoundary) {
  const JobSetup setup = load_setup(job_with("", R"([regions.bowl]
at = [0, 0]
[regions.face]
at = [[25, 25], [25, 25, 0]]
[regions.around]
neighbours_of = "bowl"
[regions.top]
union_of = ["bowl", "face"]
[regions.shallow]
at = [0, 0]
slope = [0, 15]
[regions.corner]
box = [[0, 0, -20], [40, 40, 1]]
inside = [[0, 0], [40, 0], [40, 40], [0, 40]]
[regions."all but the bowl"]
without = "bowl"
[regions.first]
numbers = [1]
)",
                                             "keep_inside = \"bowl\"\n"));
  const auto area = [&](const std::string& name) {
    for (const NamedRegion& region : setup.regions)
      if (region.name == name) return region.area_mm2;
    return -1.0;
  };
  const double cap = 2 * M_PI * 40 * 5.359;
  EXPECT_NEAR(area("bowl"), cap, 0.01 * cap);
  EXPECT_NEAR(area("face"), 3600 - M_PI * 400, 5);
  EXPECT_NEAR(area("around"), area("face"), 1e-9);
  EXPECT_NEAR(area("top"), area("bowl") + area("face"), 1e-9);
  const double shallow = 2 * M_PI * 1600 * (1 - std::cos(15 * M_PI / 180));
  EXPECT_NEAR(area("shallow"), shallow, 0.25 * shallow) << "by whole facets, here 5 degrees each";
  EXPECT_GT(area("all but the bowl"), area("face"));
  EXPECT_EQ(area("first"), setup.region_map[1].area_mm2);
  EXPECT_NEAR(area_of(setup, settle(setup), 1).area_mm2(), M_PI * 400, 6);
}

TEST_F(PartJobFile, PassesRunAlongOrAcrossACurve) {
  for (const double plus : {0.0, 90.0}) {
    const JobSetup setup =
        load_setup(job_with("", "[curves.line]\npoints = [[0, 0], [3, 9], [10, 10]]\n",
                            "angle = { angle_along = \"line\", plus = " + std::to_string(plus) + " }\n"));
    const OperationValues values = settle(setup)[0].values;
    EXPECT_NEAR(dynamic_cast<const PatternOf<ParallelOptions>&>(*values.pattern).options().angle_deg,
                45 + plus, 1e-9);
  }
}

TEST_F(PartJobFile, MeasuredValuesAreFilledInAndTold) {
  const RunResult result = run_job(job_with("", "[regions.bowl]\nat = [0, 0]\n",
                                            R"(angle = { angle_between = [[0, 0], [10, 10]] }
top = { top_of = "bowl" }
bottom = { z_at = [0, 0], plus = 2 }
link_distance = { distance_between = [[-3, 0], [0, 4, 40]] }
)"));
  const OperationValues& values = result.operations[0].values;
  EXPECT_NEAR(dynamic_cast<const PatternOf<ParallelOptions>&>(*values.pattern).options().angle_deg, 45, 1e-9);
  EXPECT_NEAR(*values.limits.top_z, 0, 1e-6);
  EXPECT_NEAR(*values.limits.bottom_z, -3.359, 0.06);
  EXPECT_GT(values.links.steps.ladder.stay_down_mm, 4);
  bool told = false;
  for (const SettledValue& value : result.operations[0].told)
    told =
        told || (value.key == "angle" && value.source.find("measured: angle in plan") != std::string::npos);
  EXPECT_TRUE(told);
  // The limits hold for every feed move of the plan that cuts.
  for (const Move& move : result.planned[0].path.moves)
    if (move.kind == MoveKind::cut) EXPECT_GE(move.to.z(), *values.limits.bottom_z - 1e-3);
}

TEST_F(PartJobFile, RadiusThroughThreePlaces) {
  const JobSetup setup =
      load_setup(job_with("", "", "link_distance = { radius_through = [[10, 0], [0, 0], [-10, 0]] }\n"));
  EXPECT_NEAR(settle(setup)[0].values.links.steps.ladder.stay_down_mm, 40, 0.5);
}

TEST_F(PartJobFile, AToleranceFinerThanTheMeshIsNoted) {
  const RunResult result = run_job(job_with("", "", "tolerance = 0.001\n"));
  ASSERT_FALSE(result.operations[0].notes.empty());
  EXPECT_EQ(result.operations[0].notes[0].about, "mesh");
  const RunResult coarse = run_job(job_with("", "", "tolerance = 0.2\n"));
  EXPECT_TRUE(coarse.operations[0].notes.empty());
}

TEST_F(PartJobFile, MistakesNameLineAndWhatIsValid) {
  const std::string bowl = "[regions.bowl]\nat = [0, 0]\n";
  EXPECT_HAS(message("unit = \"yard\"\n"), "job.toml:4: part: \"unit\" is \"yard\", which is not known");
  EXPECT_HAS(message("mirror = \"u\"\n"), "valid: x, y, z");
  EXPECT_HAS(message("shrink_factor = 0\n"), "at least 0.5 and at most 2");
  EXPECT_HAS(message("shrink_factor = [1, 2]\n"), "three of them");
  EXPECT_HAS(message("turn = [{ axis = \"x\" }]\n"), "\"angle\" is missing");
  EXPECT_HAS(message("repair = [\"holes\"]\n"),
             "valid: not-finite, zero-area, repeated, tiny-shells, facing");
  EXPECT_HAS(message("origin = { of = \"part\", x = \"left\", y = \"frnt\", z = 0 }\n"),
             "did you mean \"front\"?");
  EXPECT_HAS(message("origin = { of = \"part\", x = \"left\", z = 0 }\n"), "\"y\" is missing");
  EXPECT_HAS(message("", "[regions.x]\n"), "region \"x\": says nothing");
  EXPECT_HAS(message("", "[regions.x]\nunion_of = \"y\"\n[regions.y]\nwithout = \"x\"\n"),
             "leads back to itself");
  EXPECT_HAS(message("", bowl + "[regions.x]\nunion_of = \"bow\"\n"), "did you mean \"bowl\"?");
  EXPECT_HAS(message("", "[regions.x]\nnumbers = [99]\n"),
             "job.toml:4: region \"x\": region 99 does not exist; there are regions 1 to 7");
  EXPECT_HAS(message("", "[regions.x]\nat = [500, 0]\n"), "region \"x\": there is no part at [500, 0]");
  EXPECT_HAS(message("", "[regions.x]\ngroup = \"core\"\n"), "which the file does not have; it has: none");
  EXPECT_HAS(message("", "[regions.x]\nslope = [80, 20]\n"), "[least, greatest] in degrees");
  EXPECT_HAS(message("", "[regions.x]\nslope = [91, 100]\n"), "region \"x\": is empty on this part");
  EXPECT_HAS(message("", bowl, "keep_inside = \"bwl\"\n"), "did you mean \"bowl\"?");
  EXPECT_HAS(message("", "[regions.sides]\nslope = [89, 91]\n", "keep_inside = \"sides\"\n"),
             "has no outline seen from above");
  EXPECT_HAS(message("", "[splitting]\ncrease_angle = 0\n"), "above 0");
  EXPECT_HAS(message("", "", "angle = { z_at = [0, 0], top_of = \"x\" }\n"),
             "a table with one of: z_at, top_of");
  EXPECT_HAS(message("", "", "angle = { z_of = [0, 0] }\n"), "with one of: z_at");
  EXPECT_HAS(message("", "", "angle = { angle_between = [[0, 0]] }\n"), "must be 2 places");
  EXPECT_HAS(message("", "", "bottom = { top_of = \"rim\" }\n"),
             "names the region \"rim\", which is not defined");
  EXPECT_HAS(message("", "", "angle = { angle_between = [[0, 0], [0, 0]] }\n"), "no angle in plan");
  EXPECT_HAS(message("", "", "angle = { angle_along = \"rim\" }\n"), "names the curve \"rim\"");
  EXPECT_HAS(message("", "[curves.turn]\npoints = [[0, 0], [9, 0], [9, 9]]\nclosed = true\n",
                     "angle = { angle_along = \"turn\" }\n"),
             "comes back to where it began");
  EXPECT_HAS(message("", "", "feed_height = { z_at = [0, 0] }\n"), "\"feed_height\": measures -5.3");
  EXPECT_HAS(message("", "", "link_distance = { z_at = [0, 0] }\n"), "measures -5.3");
  EXPECT_HAS(message("", "", "bottom = { z_at = [90, 0] }\n"), "there is no part at [90, 0]");
  EXPECT_HAS(message("", "", "top = 1\nbottom = 2\n"), "must be above \"bottom\"");
}

TEST_F(PartJobFile, InspectionOfAJobShowsItsRegionsAndPlaces) {
  const Inspection inspection = inspect_part(
      job_with("move = [100, 0, 0]\n", "[regions.bowl]\nat = [100, 0]\n"), {{100, 0}, {120, 20, 0}});
  EXPECT_EQ(inspection.setup.region_map.regions.size(), 7u);
  ASSERT_EQ(inspection.setup.regions.size(), 1u);
  ASSERT_EQ(inspection.places.size(), 2u);
  EXPECT_NEAR(inspection.places[0].found.at.z(), -5.359, 0.06);
  EXPECT_NEAR(inspection.survey.depth_mm(), 5.359, 0.06);
  EXPECT_THROW((void)inspect_part(job_with(""), {{500, 0}}), Error);
}

}  // namespace
}  // namespace yardpass
