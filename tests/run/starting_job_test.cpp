// A job written from a look at a part makes sense, whatever the part is.
#include "yardpass/run/starting_job.h"

#include <gtest/gtest.h>

#include "parts.h"
#include "support/nasty.h"
#include "support/plate.h"
#include "support/scratch.h"
#include "yardpass/part/write_stl.h"
#include "yardpass/run/run.h"

namespace yardpass {
namespace {

namespace fs = std::filesystem;

class StartingJobs : public testing::ScratchFolder {
 protected:
  Job started(const Mesh& mesh, const std::string& name, StartingJob wanted = {}) {
    wanted.mesh = folder() / (name + ".stl");
    wanted.in_job = name + ".stl";
    write_stl(wanted.mesh, mesh, "part");
    text_ = starting_job(wanted);
    store(folder() / "job.toml", text_);
    return read_job(folder() / "job.toml");
  }
  [[nodiscard]] bool has(const std::string& words) const { return text_.find(words) != std::string::npos; }
  std::string text_;
};

Mesh scaled(Mesh mesh, double by) {
  for (Vec3& p : mesh.points) p *= by;
  return mesh;
}

TEST_F(StartingJobs, OfTenPartsHaveNoMistakes) {
  const std::vector<std::pair<std::string, Mesh>> parts{
      {"bowl", demo::bowl(40, 20, 60, 0.02)},
      {"plate", testing::plate()},
      {"box", testing::box_mesh(Box3(Vec3(-20, -10, -5), Vec3(20, 10, 8)))},
      {"tiny", scaled(demo::bowl(40, 20, 60, 0.02), 0.05)},
      {"huge", scaled(demo::bowl(40, 20, 60, 0.02), 20)},
      {"long", testing::box_mesh(Box3(Vec3(0, 0, 0), Vec3(300, 6, 6)))},
      {"sheet", testing::sheet(Box2(Vec2(-20, -15), Vec2(20, 15)), 30, 24,
                               [](double x, double y) { return 2 * std::sin(0.2 * x) * std::cos(0.2 * y); })},
      {"odd name \"#\\ \xc3\xa9", demo::bowl(40, 20, 40, 0.05)},
      {"deep", testing::box_mesh(Box3(Vec3(0, 0, -180), Vec3(60, 60, 0)))},
      {"flat bit", testing::box_mesh(Box3(Vec3(0, 0, 0), Vec3(30, 20, 0.4)))}};
  for (const auto& [name, mesh] : parts) {
    SCOPED_TRACE(name);
    const Job job = started(mesh, name);
    EXPECT_FALSE(job.operations.empty());
    const JobSetup setup = load_setup(job);
    EXPECT_EQ(settle(setup).size(), job.operations.size());
    EXPECT_TRUE(job.notes.empty());
    EXPECT_TRUE(has("strategy = \"by-slope\""));
  }
}

TEST_F(StartingJobs, SayWhatSuitsThePart) {
  (void)started(testing::plate(), "plate");
  EXPECT_TRUE(has("strategy = \"roughing\"")) << text_;
  EXPECT_TRUE(has("strategy = \"flats\"")) << text_;
  EXPECT_TRUE(has("slope = [1, 90]")) << text_;
  (void)started(demo::bowl(40, 20, 60, 0.02), "bowl");
  EXPECT_TRUE(has(" deep from above.")) << text_;
}

TEST_F(StartingJobs, TakeTheRackThatIsGiven) {
  store(
      folder() / "rack.toml",
      "units = \"inch\"\n[tools.\"one inch\"]\nnumber = 7\nshape = \"flat\"\ndiameter = 0.25\nspindle = "
      "4000\nfeed = 40\n[tools.nose]\nnumber = 8\nshape = \"ball\"\ndiameter = 0.125\nspindle = 9000\nfeed = "
      "30\n");
  const Job job = started(demo::bowl(40, 20, 60, 0.02), "bowl", {.rack = read_rack(folder() / "rack.toml")});
  EXPECT_EQ(job.units, Units::inch);
  ASSERT_EQ(job.tools.size(), 2u);
  EXPECT_NEAR(job.tool_named("one inch").diameter_mm, 6.35, 1e-9);
  EXPECT_EQ(settle(load_setup(job)).size(), job.operations.size());
}

TEST_F(StartingJobs, ARackThatIsNoneIsRefused) {
  const auto message = [&](const std::string& text) -> std::string {
    store(folder() / "rack.toml", text);
    try {
      (void)started(testing::plate(), "plate", {.rack = read_rack(folder() / "rack.toml")});
      return "accepted";
    } catch (const Error& error) {
      return error.what();
    }
  };
  EXPECT_NE(message("title = 1\n").find("at least one [tools.NAME]"), std::string::npos);
  EXPECT_NE(message("[tools]\nball = 3\n").find("must be a table, [tools.ball]"), std::string::npos);
  EXPECT_NE(
      message("[tools.a]\nnumber = 1\nshape = \"ball\"\ndiamter = 3\n").find("did you mean \"diameter\""),
      std::string::npos);
  EXPECT_NE(message("[tools.a]\nnumber = 1\nshape = \"flat\"\ndiameter = 3\nspindle = 1\nfeed = 9\n")
                .find("no ball end"),
            std::string::npos);
  EXPECT_NE(message("units = \"ell\"\n[tools.a]\nshape = \"ball\"\n").find("\"mm\" or \"inch\""),
            std::string::npos);
}

TEST_F(StartingJobs, RunCleanOnDemoParts) {
  const int most = testing::rounds(10) > 10 ? 5 : 1;  // of these
  const char* const names[] = {"hull-plug", "fairlead-punch", "paddle-blade", "porthole-ring", "name-board"};
  for (int k = 0; k < most; ++k) {
    SCOPED_TRACE(names[k]);
    StartingJob wanted;
    wanted.mesh = fs::path(YARDPASS_SOURCE_FOLDER) / "demo" / (std::string(names[k]) + ".stl");
    store(folder() / "job.toml", starting_job(wanted));
    Job job = read_job(folder() / "job.toml");
    job.coarser = {.spacing = 2, .tolerance = 2, .cells = 3};
    const RunResult run = run_job(job);
    EXPECT_TRUE(run.judged.clean());
    for (const Finding& finding : run.judged.judgement.findings) ADD_FAILURE() << name_of(finding.kind);
    for (const Note& note : run.judged.disagreements) ADD_FAILURE() << note.says;
  }
}

TEST(Toml, IsReadAsItWasWritten) {
  EXPECT_EQ(toml_key("a_b-1"), "a_b-1");
  EXPECT_EQ(toml_key("a b"), "\"a b\"");
  EXPECT_EQ(toml_string("a\"\\\n"), "\"a\\\"\\\\\\u000A\"");
  GivenTable table;
  table.set("x", 0.1), table.set("n", 3), table.set("on", true);
  table.set("list", Given(GivenList{Given(1), Given(2.5)}));
  EXPECT_EQ(toml_of(table), "x = 0.1\nn = 3\non = true\nlist = [1, 2.5]\n");
}

}  // namespace
}  // namespace yardpass
