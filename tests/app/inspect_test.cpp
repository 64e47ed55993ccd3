// Looking at a part through the command: numbers, advice, other formats, wrong words.
#include <gtest/gtest.h>

#include <nlohmann/json.hpp>

#include "app/bowl_folder.h"

namespace yardpass {
namespace {

using testing::kJob;

class InspectVerb : public testing::BowlFolder {};

#define EXPECT_HAS(text, part) EXPECT_NE((text).find(part), std::string::npos) << (text)

TEST_F(InspectVerb, InspectSaysWhatTheMeshIs) {
  const Result words = run("inspect bowl.stl --out survey --place 0,0 --place 10,10 --place -20,3,-1");
  EXPECT_EQ(words.code, 0) << words.error;
  EXPECT_HAS(words.out, "60.000 x 60.000 x 15.359 mm");
  EXPECT_HAS(words.out, "closed       yes");
  EXPECT_HAS(words.out, "faults       none found");
  EXPECT_HAS(words.out, "flat         Z 0.000");
  EXPECT_HAS(words.out, "depth 5.359 mm");
  EXPECT_HAS(words.out, "regions      7");
  EXPECT_HAS(words.out, "angle in plan 45.000 degrees");
  EXPECT_HAS(words.out, "circle       radius");
  for (const char* picture : {"part.png", "slopes.png", "reach.png", "regions.png"})
    EXPECT_GT(std::filesystem::file_size(folder() / "survey" / picture), 5000u) << picture;
  const auto json = nlohmann::json::parse(run("inspect bowl.stl --json --balls 4,40").out);
  EXPECT_EQ(json["mesh"]["closed"], true);
  EXPECT_EQ(json["box"]["max"][0], 30.0);
  EXPECT_EQ(json["regions"].size(), 7u);
  EXPECT_EQ(json["survey"]["ball_reach"].size(), 2u);
  EXPECT_EQ(json["survey"]["ball_reach"][0]["share"], 1.0);
  EXPECT_EQ(json["file"]["format"], "binary STL");
  EXPECT_EQ(run("inspect none.stl").code, 2);
}

TEST_F(InspectVerb, InspectAdvisesTheWeldThatClosesAMesh) {
  Mesh mesh = demo::bowl(40, 20, 60, 0.02), loose;
  for (std::size_t t = 0; t < mesh.triangles.size(); ++t)
    for (int k = 0; k < 3; ++k) {
      if (k == 0) loose.triangles.emplace_back();
      loose.triangles.back()[static_cast<std::size_t>(k)] = static_cast<std::int32_t>(loose.points.size());
      loose.points.push_back(mesh.corner(t, k) + 4e-4 * Vec3(std::sin(static_cast<double>(t)),
                                                             std::cos(3.0 * k + 2.0 * static_cast<double>(t)),
                                                             0));
    }
  write_stl(folder() / "loose.stl", loose, "loose");
  const auto told = nlohmann::json::parse(run("inspect loose.stl --json --quiet").out);
  EXPECT_FALSE(told["mesh"]["closed"]);
  const auto& advice = told["mesh"]["closed_by_weld"];
  EXPECT_TRUE(advice["closes"]);
  EXPECT_LE(advice["farthest"], advice["weld"]);
  const std::string weld = advice["weld"].dump();
  EXPECT_HAS(run("inspect loose.stl --quiet").out, "--weld " + weld + ", moves");
  EXPECT_TRUE(
      nlohmann::json::parse(run("inspect loose.stl --json --quiet --weld " + weld).out)["mesh"]["closed"]);
}

TEST_F(InspectVerb, InspectionDoesNotDependOnThreads) {
  const Result one = run("inspect bowl.stl --json --threads 1"),
               two = run("inspect bowl.stl --json --threads 4");
  EXPECT_EQ(one.code, 0);
  EXPECT_EQ(one.out, two.out);
}

TEST_F(InspectVerb, InspectTakesAJobAndShowsItsRegions) {
  store(folder() / "named.toml", std::string(kJob) + "[regions.dish]\nat = [0, 0]\n");
  const Result words = run("inspect named.toml");
  EXPECT_EQ(words.code, 0) << words.error;
  EXPECT_HAS(words.out, "named        \"dish\"");
  EXPECT_HAS(run("inspect named.toml --weld 0.01").error, "a job says them in its [part]");
  store(folder() / "named.toml", std::string(kJob) + "[regions.dish]\nat = [400, 0]\n");
  const Result wrong = run("inspect named.toml --out survey");
  EXPECT_EQ(wrong.code, 2);
  EXPECT_HAS(wrong.error, "region \"dish\": there is no part at [400, 0]");
  EXPECT_FALSE(std::filesystem::exists(folder() / "survey"));
}

TEST_F(InspectVerb, InspectShowsWhereOperationsWorkWithoutPlanningThem) {
  store(folder() / "areas.toml",
        std::string(kJob) +
            "[[operation]]\nname = \"two spots\"\nstrategy = \"parallel\"\n"
            "tool = \"ball6\"\nstepover = 1\n"
            "keep_inside = [[[0, 0], [4, 0], [4, 3], [0, 3]], [[6, 0], [8, 0], [8, 1]]]\n"
            "keep_out = [[1, 1], [2, 1], [2, 2], [1, 2]]\n");
  const Result words = run("inspect areas.toml --out survey");
  EXPECT_EQ(words.code, 0) << words.error;
  EXPECT_HAS(words.out,
             "\"two spots\" works in the loops without what it keeps out of, limit axis: 12.0 mm2 in "
             "2 pieces");
  EXPECT_TRUE(std::filesystem::exists(folder() / "survey/areas.png"));
  const auto json = nlohmann::json::parse(run("inspect areas.toml --json").out);
  EXPECT_NEAR(json["operations"].back()["area"].get<double>(), 12, 1e-9);
}

TEST_F(InspectVerb, InspectReadsOtherFormatsAndRepairs) {
  store(folder() / "sheet.obj",
        "v 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\nv 0 0 nan\ng floor\nf 1 2 3 4\ng wall\nf 1 2 2\nf 1 2 5\n");
  EXPECT_HAS(run("inspect sheet.obj").error, "the repair \"not-finite\" leaves them out");
  const Result words = run("inspect sheet.obj --unit inch --repair not-finite,zero-area");
  EXPECT_EQ(words.code, 0) << words.error;
  EXPECT_HAS(words.out, "unit inch (as asked for)");
  EXPECT_HAS(words.out, "repair       not-finite: 1 triangles");
  EXPECT_HAS(words.out, "repair       zero-area: 1 triangles");
  EXPECT_HAS(words.out, "25.400 x 25.400 x 0.000 mm");
  EXPECT_HAS(words.out, "an open sheet, its border");
}

TEST_F(InspectVerb, InspectRefusesWhatItCannotMean) {
  EXPECT_HAS(run("inspect bowl.stl --place 1").error, "must be X,Y");
  EXPECT_HAS(run("inspect bowl.stl --place 1,2,3,4").error, "must be X,Y");
  EXPECT_HAS(run("inspect bowl.stl --place 900,0").error, "there is no part at 900,0");
  EXPECT_HAS(run("inspect bowl.stl --balls 6,4").error, "ascending");
  EXPECT_EQ(run("inspect bowl.stl --unit league").code, 2);
  EXPECT_EQ(run("inspect bowl.stl --repair everything").code, 2);
}

}  // namespace
}  // namespace yardpass
