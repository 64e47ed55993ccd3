// Curves and carriers of a job: all sources, all edits, and what is said when they cannot be made.
#include <gtest/gtest.h>

#include "support/nasty.h"
#include "support/scratch.h"
#include "yardpass/part/write_stl.h"
#include "yardpass/run/inspect.h"
#include "yardpass/run/run.h"

namespace yardpass {
namespace {

const char* const kHead = R"(title = "block"
[part]
mesh = "block.stl"
[regions.top]
at = [0, 0]
[stock]
cell = 0.4
[tools.ball4]
number = 1
shape = "ball"
diameter = 4
flute_length = 60
stickout = 80
spindle = 9000
feed = 1000
)";
const char* const kOperation =
    "[[operation]]\nname = \"finish\"\nstrategy = \"parallel\"\ntool = \"ball4\"\nstepover = 1.5\n";

/// A block of 60 x 40 whose top falls by 0.4 a millimetre towards X, with sharp rims.
Mesh sloped_block() {
  Mesh block = testing::box_mesh(Box3(Vec3(-30, -20, -40), Vec3(30, 20, 0)));
  for (Vec3& p : block.points)
    if (p.z() > -1) p.z() = -0.4 * p.x();
  return block;
}

class CurvesJob : public testing::ScratchFolder {
 protected:
  void SetUp() override { write_stl(folder() / "block.stl", sloped_block(), "block"); }
  Job job(const std::string& tables, const std::string& operation = "") {
    store(folder() / "job.toml", kHead + tables + kOperation + operation);
    return read_job(folder() / "job.toml");
  }
  JobSetup setup_of(const std::string& tables) { return load_setup(job(tables)); }
  std::string message(const std::string& tables) {
    try {
      (void)setup_of(tables);
      return "accepted";
    } catch (const Error& error) {
      return error.what();
    }
  }
};

#define EXPECT_HAS(text, part) EXPECT_NE((text).find(part), std::string::npos) << (text)

TEST_F(CurvesJob, EverySource) {
  store(folder() / "lines.obj", "g port\no rail\nv -10 0 0\nv 10 0 0\nl 1 2\ng starboard\nv 0 9 0\nl 1 3\n");
  const JobSetup w = setup_of(
      "[curves.file]\nfile = \"lines.obj\"\nlayer = \"port\"\n"
      "[curves.border]\nborder_of = \"top\"\n"
      "[curves.edge]\nedges_at = [0, -20, 1]\n"
      "[curves.loop]\nedges_at = [30, 0]\nextent = \"loop\"\n"
      "[curves.way]\nedges_between = [[-30, -20], [30, 20]]\n"
      "[curves.first]\nedges = 1\n"
      "[curves.slice]\nslice = -20\n"
      "[curves.shadow]\nsilhouette = true\n"
      "[curves.drawn]\npoints = [[0, 0, 5], [10, 0, 5], [10, 10, 5]]\nclosed = true\n"
      "[curves.both]\ncurves = [\"drawn\", \"file\"]\nat = [10, 10]\n");
  const auto total = [&](const std::string& name) {
    double all = 0;
    for (const NamedCurves& c : w.curves)
      if (c.name == name)
        for (const Curve& piece : c.curves) all += length(piece);
    return all;
  };
  const double slope = 60 * std::sqrt(1 + 0.16);
  EXPECT_NEAR(total("file"), 20, 1e-9);
  EXPECT_NEAR(total("border"), 2 * slope + 80, 1e-3);
  EXPECT_NEAR(total("edge"), slope, 1e-3);
  EXPECT_NEAR(total("loop"), 2 * slope + 80, 1e-3);
  EXPECT_NEAR(total("way"), slope + 40, 1e-3);
  EXPECT_NEAR(total("first"), slope, 1e-3) << "longest first";
  EXPECT_NEAR(total("slice"), 200, 1e-3);
  EXPECT_NEAR(total("shadow"), 200, 1e-3);
  EXPECT_NEAR(total("both"), total("drawn"), 1e-9) << "only the nearest to the place";
}

TEST_F(CurvesJob, AFileDrawnLikeTheMeshIsPlacedWithIt) {
  store(folder() / "lines.obj", "v -30 -20 0\nv 30 -20 0\nl 1 2\n");
  store(folder() / "job.toml",
        std::string("title = \"t\"\n[part]\nmesh = \"block.stl\"\nshrink_factor = 1.01\nmove = [5, 6, 7]\n"
                    "[curves.a]\nfile = \"lines.obj\"\nwith_part = true\n[curves.b]\nfile = \"lines.obj\"\n"
                    "[stock]\ncell = 0.4\n[tools.ball4]\nnumber = 1\nshape = \"ball\"\ndiameter = "
                    "4\nflute_length = 60\nstickout = 80\nspindle "
                    "= 9000\nfeed = 1000\n") +
            kOperation);
  const JobSetup w = load_setup(read_job(folder() / "job.toml"));
  EXPECT_LT((w.curves[0].curves[0].points[0] - Vec3(-30 * 1.01 + 5, -20 * 1.01 + 6, 7)).norm(), 1e-9);
  EXPECT_LT((w.curves[1].curves[0].points[0] - Vec3(-30, -20, 0)).norm(), 1e-9);
}

TEST_F(CurvesJob, EditsRunInTheOrderOfTheFile) {
  const JobSetup w = setup_of(
      "[curves.a]\npoints = [[-10, 0], [10, 0], [10, 10]]\n"
      "edits = [{ split_at_corners = 30 }, { keep = 1 }, { offset = 3 }, { project = true }, { shift = [0, "
      "0, 1] }]\n"
      "[curves.b]\npoints = [[-10, 3], [10, 3]]\nedits = [{ project = true }, { shift = [0, 0, 1] }, { "
      "reverse = true }]\n"
      "[curves.c]\npoints = [[0, -5, 2], [0, 5, 2]]\n"
      "[curves.d]\ncurves = [\"b\", \"c\"]\nedits = [{ cut_at_crossings = true }, { flatten = 7 }, { join = "
      "0.1 }]\n"
      "[curves.e]\ncurves = \"b\"\nedits = [{ simplify = 0.01 }, { split_at = [4, 0] }]\n");
  const auto pieces = [&](std::size_t i) -> const std::vector<Curve>& { return w.curves[i].curves; };
  ASSERT_EQ(pieces(0).size(), 1u);
  EXPECT_LT((pieces(0)[0].points.front() - Vec3(-10, 3, 5)).norm(), 1e-3) << "on the slope, 1 above";
  EXPECT_LT((pieces(1)[0].points.front() - Vec3(10, 3, -3)).norm(), 1e-6);
  for (const Curve& c : pieces(3))
    for (const Vec3& p : c.points) EXPECT_EQ(p.z(), 7);
  EXPECT_EQ(pieces(4).size(), 2u);
}

TEST_F(CurvesJob, ALoopFromScatteredEdgesBoundsAnOperation) {
  const std::string sides =
      "[curves.west]\npoints = [[-20, -8], [-20, 9, 4]]\n[curves.north]\npoints = [[-18, 10], [22, 10]]\n"
      "[curves.east]\npoints = [[20, 13, 9], [20, -9, 9]]\n[curves.south]\npoints = [[-19, -10], [17, "
      "-10]]\n";
  const std::string loop =
      sides + "[boundaries.field]\nloop_from = [\"west\", \"north\", \"east\", \"south\"]\ngap = 5\n";
  const RunResult run = run_job(job(loop, "keep_inside = \"field\"\n"));
  EXPECT_NEAR(run.setup.boundaries[0].area.area_mm2(), 800, 1e-3);
  EXPECT_EQ(run.setup.boundaries[0].junctions.size(), 4u);
  EXPECT_TRUE(run.judged.judgement.clean());
  const std::string open =
      message(sides + "[boundaries.field]\nloop_from = [\"west\", \"north\", \"east\"]\ngap = 5\n");
  EXPECT_HAS(open, "boundary \"field\": the pieces do not close to a loop; the start of \"west\"");
  EXPECT_THROW((void)setup_of(sides + "[boundaries.field]\ncurves = \"west\"\n"), LoopError)
      << "carries the places for a picture";
}

TEST_F(CurvesJob, MistakesAreNamed) {
  const auto said = [&](const std::string& tables) { return message(tables); };
  EXPECT_HAS(said("[curves.a]\npoints = [[0, 0], [1, 1]]\nslice = 3\n"),
             "curve \"a\": \"slice\" and \"points\" exclude each other: keep one of file, points");
  EXPECT_HAS(said("[curves.a]\nfile = \"none.svg\"\n"), "which does not exist");
  EXPECT_HAS(said("[curves.a]\npoints = [[0, 0]]\n"), "at least 2 points");
  EXPECT_HAS(said("[curves.a]\nborder_of = \"tip\"\n"), "did you mean \"top\"?");
  EXPECT_HAS(said("[curves.a]\ncurves = \"a\"\n"), "leads back to itself");
  EXPECT_HAS(said("[curves.a]\npoints = [[0, 0], [1, 1]]\nedits = [{ flaten = 3 }]\n"),
             "needs one of: flatten, shift");
  EXPECT_HAS(said("[curves.a]\npoints = [[0, 0], [1, 1]]\nedits = [{ keep = 4 }]\n"),
             "keeps number 4, but there are 1 curves");
  EXPECT_HAS(said("[curves.a]\npoints = [[90, 0], [91, 1]]\nedits = [{ project = true }]\n"),
             "this step leaves nothing");
  EXPECT_HAS(said("[curves.a]\nedges = 99\n"), "there is no sharp edge 99; the part has 12");
  EXPECT_HAS(said("[curves.a]\npoints = [[0, 0], [1, 1]]\nlayer = \"x\"\n"), "belongs to \"file\"");
  EXPECT_HAS(said("[curves.a]\nedges_between = [[0, 0], [200, 0]]\n"), "there is no part at [200, 0]");
  EXPECT_HAS(said("[boundaries.b]\nloop_from = [\"x\"]\ngap = 1\n"),
             "names the curve \"x\", which is not defined");
  EXPECT_HAS(said("[boundaries.b]\nloop_from = [\"x\"]\n"), "\"loop_from\" and \"gap\" need each other");
  EXPECT_HAS(said("[carriers.g]\nz = 3\n"), "needs one of: between");
  EXPECT_HAS(said("[carriers.g]\nbetween = [\"p\", \"q\"]\n"), "names the curve \"p\"");
  store(folder() / "lines.obj", "g port\nv -10 0 0\nv 10 0 0\nl 1 2\n");
  EXPECT_HAS(said("[curves.a]\nfile = \"lines.obj\"\nlayer = \"x\"\n"), "its layers are: port");
  EXPECT_HAS(said("[curves.a]\npoints = [[0, 0], [1, 1]]\n[curves.b]\npoints = [[5, 5], [1, "
                  "1]]\n[curves.c]\ncurves = [\"a\", \"b\"]\n"
                  "[carriers.g]\nbetween = [\"c\", \"a\"]\n"),
             "has 2 pieces; a carrier needs one");
}

TEST_F(CurvesJob, ACarrierHoldsTheToolUp) {
  const std::string roof =
      "[curves.a]\npoints = [[-10, -8, 6], [10, -8, 6]]\n[curves.b]\npoints = [[-10, 8, 6], [10, 8, 6]]\n"
      "[carriers.roof]\nbetween = [\"a\", \"b\"]\n"
      "[carriers.plate]\npatch = [[-10, -8], [10, -8], [10, 8], [-10, 8]]\nz = 6\n"
      "[carriers.rail]\nsection = \"a\"\nalong = \"c\"\n[curves.c]\npoints = [[-10, -8, 6], [-10, 8, "
      "6]]\n"
      "[carriers.skin]\ncopy_of = \"top\"\noffset = 6\n";
  const std::string inside = "keep_inside = [[-9, -7], [9, -7], [9, 7], [-9, 7]]\n";
  const auto lowest = [&](const std::string& guides) {
    const RunResult run = run_job(job(roof, inside + guides));
    EXPECT_TRUE(run.judged.judgement.clean());
    double low = 1e9;
    for (const Move& move : run.planned[0].path.moves)
      if (move.kind == MoveKind::cut) low = std::min(low, move.to.z());
    return low;
  };
  EXPECT_LT(lowest(""), -3);
  EXPECT_NEAR(lowest("carriers = \"roof\"\n"), 6, 0.02);
  EXPECT_NEAR(lowest("carriers = \"plate\"\n"), 6, 0.02);
  EXPECT_NEAR(lowest("carriers = \"rail\"\n"), 6, 0.02) << "a level section swept along a level line";
  // 6 off the slope: at x = 9 the surface is 6 sqrt(1.16) higher, and the ball's tip above it as on the part.
  EXPECT_NEAR(lowest("carriers = \"skin\"\n") - lowest(""), 6 * std::sqrt(1.16), 0.02);
}

TEST_F(CurvesJob, ARunOutLeavesTheRimAsCleanAsTheRest) {
  // The lower rim of the slope, with passes along it: a ball of 12 mm touches 2.2 mm uphill of its centre.
  const std::string ball =
      "[tools.ball12]\nnumber = 2\nshape = \"ball\"\ndiameter = 12\nflute_length = 60\nstickout = "
      "80\nspindle = 9000\nfeed = 1000\n";
  const std::string inside = "angle = 90\nkeep_inside = \"top\"\n";
  struct Seen {
    double excess, lowest;  // of the tip: above the slope as it goes on
  };
  const auto seen = [&](const std::string& tables, const std::string& operation) {
    Job said = job(ball + tables, inside + operation);
    said.operations[0].tool = "ball12";
    const RunResult run = run_job(said);
    EXPECT_TRUE(run.judged.judgement.clean());
    Seen result{0, 1e9};
    const Stock& stock = run.judged.judgement.stock;
    for (int j = 0; j < stock.rows(); ++j)
      for (int i = 0; i < stock.columns(); ++i) {
        const Vec2 p = stock.centre(i, j);
        if (p.x() > 29 && p.x() < 29.9 && std::abs(p.y()) < 15)
          result.excess = std::max(result.excess, stock.height(i, j) + 0.4 * p.x());
      }
    for (const Move& move : run.planned[0].path.moves)
      if (move.kind == MoveKind::cut)
        result.lowest = std::min(result.lowest, move.to.z() + 0.4 * move.to.x());
    return result;
  };
  const Seen short_of = seen("", "limit = \"axis\"\n");
  const Seen rolled = seen("", "limit = \"axis\"\nmargin = \"1 radius\"\n");
  const Seen straight = seen("[run_outs.out]\nedge_of = \"top\"\nlength = 8\n", "run_outs = \"out\"\n");
  const double scallop = 1.5 * 1.5 / 8 / 6 * std::sqrt(1.16) * 1.2;  // in Z, a fifth more for the cells
  EXPECT_GT(short_of.excess, 4 * scallop) << "the last pass stops short of the rim";
  EXPECT_LT(rolled.lowest, straight.lowest - 0.3) << "rolls over the rim";
  EXPECT_NEAR(straight.lowest, 6 * (std::sqrt(1.16) - 1), 0.01) << "in line with the slope";
  EXPECT_LT(straight.excess, scallop);
  RecordProperty("excess_at_the_rim_short", std::to_string(short_of.excess));
  RecordProperty("excess_at_the_rim_extended", std::to_string(straight.excess));
}

TEST_F(CurvesJob, InspectionNumbersEdgesAndWritesCurves) {
  const Inspection inspection =
      inspect_part(job("[curves.a]\nedges = [1, 2]\n[boundaries.b]\nsilhouette = true\n"));
  ASSERT_EQ(inspection.edges.size(), 12u);
  const auto all = curves_of(inspection);
  EXPECT_EQ(all.size(), 2u + 1u + 12u);
  const auto files = write_curve_files(folder(), all);
  for (const std::string& file : files) EXPECT_GT(std::filesystem::file_size(folder() / file), 500u);
  // What is written can be used again, by the layer it was written in.
  const JobSetup again = setup_of("[curves.back]\nfile = \"curves.obj\"\nlayer = \"curve a\"\n");
  EXPECT_EQ(again.curves[0].curves.size(), 2u);
}

}  // namespace
}  // namespace yardpass
