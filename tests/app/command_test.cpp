// The command line as its users meet it: exit codes, messages, folders.
#include <gtest/gtest.h>

#include <nlohmann/json.hpp>

#include "parts.h"
#include "support/command.h"
#include "support/nasty.h"
#include "yardpass/part/read_mesh.h"
#include "yardpass/part/write_stl.h"
#include "yardpass/verify/finding.h"
#include "yardpass/version.h"

namespace yardpass {
namespace {

const char* const kJob = R"(title = "bowl"
[part]
mesh = "bowl.stl"
[stock]
above = 1
[tools.flat8]
number = 1
shape = "flat"
diameter = 8
spindle = 8000
feed = 2000
[tools.ball6]
number = 2
shape = "ball"
diameter = 6
spindle = 12000
feed = 1800
[[operation]]
name = "rough"
strategy = "roughing"
tool = "flat8"
[[operation]]
name = "finish"
strategy = "parallel"
tool = "ball6"
stepover = 0.8
keep_inside = [[-15, -15], [15, -15], [15, 15], [-15, 15]]
)";

class Command : public testing::CommandFolder {
 protected:
  void SetUp() override {
    write_stl(folder() / "bowl.stl", demo::bowl(40, 20, 60, 0.02), "bowl");
    store(folder() / "job.toml", kJob);
  }
  /// No result folder and no draft of one.
  void expect_no_folder(const std::string& name) {
    EXPECT_FALSE(std::filesystem::exists(folder() / name));
    for (const auto& entry : std::filesystem::directory_iterator(folder()))
      EXPECT_EQ(entry.path().filename().string().find("draft"), std::string::npos);
  }
  std::string spoiled_job(const std::string& old, const std::string& now) {
    std::string text = kJob;
    text.replace(text.find(old), old.size(), now);
    store(folder() / "spoiled.toml", text);
    return "spoiled.toml";
  }
};

#define EXPECT_HAS(text, part) EXPECT_NE((text).find(part), std::string::npos) << (text)

TEST_F(Command, RunWritesAWholeFolderAndCheckAgrees) {
  const Result result = run("run job.toml --out result");
  EXPECT_EQ(result.code, 0) << result.error;
  EXPECT_EQ(result.error, "");  // no progress when piped
  EXPECT_HAS(result.out, "verdict: clean");
  EXPECT_HAS(result.out, "settled values, operation 2: finish");
  EXPECT_HAS(result.out, "written to result");
  for (const char* file : {"program.nc", "part.stl", "stock.stl", "report.json", "report.html", "path-1.png",
                           "path-2.png", "left.png", "why-left.png", "toolpaths.obj"})
    EXPECT_TRUE(std::filesystem::file_size(folder() / "result" / file) > 100) << file;
  const auto json = nlohmann::json::parse(contents(folder() / "result" / "report.json"));
  EXPECT_EQ(json["verdict"], "clean");
  EXPECT_EQ(json["units"], "mm");
  EXPECT_EQ(json["stock"]["max"][2], 1.0);
  EXPECT_EQ(json["tools"][0]["shape"], "ball");
  for (const char* key : {"number", "shape", "diameter", "corner_radius", "taper_angle", "flute_length",
                          "shank_diameter", "stickout", "holder"})
    EXPECT_TRUE(json["tools"][0].contains(key)) << key;
  ASSERT_EQ(json["operations"].size(), 2u);
  for (const char* key : {"name", "strategy", "tool", "seconds", "cut_length", "link_length", "rapid_length",
                          "retracts", "points", "least_clearance", "intended_depth"})
    EXPECT_TRUE(json["operations"][1].contains(key)) << key;
  EXPECT_GE(json["operations"][1]["least_clearance"], -1e-6);
  EXPECT_GT(json["operations"][0]["least_clearance"], 0.23);
  EXPECT_TRUE(json["findings"].empty());

  const Result check = run("check result/program.nc --job job.toml");
  EXPECT_EQ(check.code, 0);
  EXPECT_HAS(check.out, "verdict: clean");
  // The stock is saved when asked for, and the next job starts from it.
  EXPECT_EQ(run("check result/program.nc --job job.toml --out judged --save-stock").code, 0);
  EXPECT_TRUE(std::filesystem::exists(folder() / "judged" / "stock.frame"));
  std::string second = contents(folder() / "job.toml");
  const std::size_t at = second.find("[stock]"), end = second.find("\n[", at + 1);
  second.replace(at, end - at, "[stock]\nfile = \"judged/stock.npy\"\n");
  store(folder() / "second.toml", second);
  const Result again = run("check result/program.nc --job second.toml");
  EXPECT_EQ(again.code, 0) << again.out << again.error;
  EXPECT_HAS(again.out, "of the stock file");
  // Up to a line: less is cut.
  EXPECT_HAS(run("check result/program.nc --job job.toml --up-to-line 12").out,
             "verdict: clean, but only up to line 12 of ");
  const Result times = run("check result/program.nc --job job.toml --only-times");
  EXPECT_EQ(times.code, 0);
  EXPECT_HAS(times.out, "length over feed alone would be");
  EXPECT_HAS(times.out, "nothing is judged");
  EXPECT_EQ(times.out.find("verdict"), std::string::npos);
  EXPECT_EQ(run("check result/program.nc --job job.toml --only-times --out x").code, 2);
  // Where the feed time goes, and what each operation left.
  for (const auto& operation : json["operations"]) {
    const auto& time = operation["time"];
    EXPECT_NEAR(time["cut"].get<double>() + time["entry"].get<double>() + time["link"].get<double>(),
                time["feed"].get<double>(), 0.01);
  }
  EXPECT_GT(json["operations"][0]["left_after"]["median"], 0.2) << "roughing leaves its allowance";
  EXPECT_LT(json["operations"][0]["left"]["mean"], json["operations"][0]["left_after"]["mean"])
      << "finishing takes it in the end";
  EXPECT_HAS(run("check result/program.nc --job job.toml --up-to-operation rough").out,
             "verdict: clean, but only up to");
  const Result unknown = run("check result/program.nc --job job.toml --up-to-operation ruff");
  EXPECT_EQ(unknown.code, 2);
  EXPECT_HAS(unknown.error, "there are: 1 \"rough\", 2 \"finish\"");
  // A second run into the same folder replaces it.
  EXPECT_EQ(run("run job.toml --out result --quiet").code, 0);
}

TEST_F(Command, AcceptedFindingsStayInVerdictAndReport) {
  ASSERT_EQ(run("run job.toml --out result --quiet").code, 0);
  const std::string spoiled = spoiled_job("diameter = 6", "diameter = 8");
  store(folder() / "accepted.toml", contents(folder() / spoiled) +
                                        "[[accepted]]\nfinding = \"gouge\"\noperation = \"finish\"\nup_to = "
                                        "9\nreason = \"a trial in board\"\n"
                                        "[[accepted]]\nfinding = \"gouge\"\noperation = \"rough\"\nup_to = "
                                        "9\nreason = \"a trial in board\"\n");
  const Result check = run("check result/program.nc --job accepted.toml --out judged");
  EXPECT_HAS(check.out, "accepted: a trial in board");
  const auto json = nlohmann::json::parse(contents(folder() / "judged" / "report.json"));
  for (const auto& finding : json["findings"])
    if (finding["kind"] == "gouge") EXPECT_EQ(finding["accepted_because"], "a trial in board");
  EXPECT_TRUE(json["left"].contains("missed_area"));
  EXPECT_TRUE(json["operations"][0]["time"].contains("without_acceleration"));
  EXPECT_HAS(contents(folder() / "judged" / "report.html"), "(accepted: a trial in board)");
}

TEST_F(Command, ThreadsDoNotChangeABit) {
  ASSERT_EQ(run("run job.toml --out one --threads 1").code, 0);
  ASSERT_EQ(run("run job.toml --out two --threads 2").code, 0);
  for (const char* file : {"program.nc", "report.json", "stock.stl", "left.png"})
    EXPECT_EQ(contents(folder() / "one" / file), contents(folder() / "two" / file)) << file;
}

TEST_F(Command, CheckFindsAToolThatIsNotTheOneOfTheProgram) {
  ASSERT_EQ(run("run job.toml --out result --quiet").code, 0);
  const Result check =
      run("check result/program.nc --job " + spoiled_job("diameter = 6", "diameter = 8") + " --out judged");
  EXPECT_EQ(check.code, 1);
  EXPECT_HAS(check.out, "finding: line ");
  EXPECT_HAS(check.out, ": gouge ");
  EXPECT_HAS(check.out, "operation 2 \"finish\"");
  const auto json = nlohmann::json::parse(contents(folder() / "judged" / "report.json"));
  EXPECT_EQ(json["verdict"], "findings");
  EXPECT_EQ(json["findings"][0]["kind"], "gouge");
  EXPECT_GT(json["findings"][0]["depth"], 0.01);
}

TEST_F(Command, CheckFindsAMoveEditedATenthDeeper) {
  ASSERT_EQ(run("run job.toml --out result --quiet").code, 0);
  std::istringstream in(contents(folder() / "result" / "program.nc"));
  std::string text, row;
  int line = 0, edited = 0;
  bool finishing = false;
  for (int moves = 0; std::getline(in, row); text += row + "\n") {
    ++line;
    finishing |= row.find("operation 2: finish") != std::string::npos;
    const std::size_t z = row.find(" Z");
    if (!finishing || edited || row[0] != 'X' || z == std::string::npos || ++moves < 300) continue;
    char word[40];
    std::snprintf(word, sizeof word, " Z%.3f", std::stod(row.substr(z + 2)) - 0.1);
    row.replace(z, row.find(' ', z + 1) == std::string::npos ? std::string::npos : row.find(' ', z + 1) - z,
                word);
    edited = line;
  }
  ASSERT_GT(edited, 0);
  store(folder() / "edited.nc", text);
  const Result check = run("check edited.nc --job job.toml --quiet");
  EXPECT_EQ(check.code, 1);
  EXPECT_HAS(check.out, "finding: line " + std::to_string(edited) + ": gouge 0.09");
  EXPECT_HAS(check.out, " deep at X ");
}

TEST_F(Command, WrongInputsGiveOneMessageAndNoFolder) {
  store(folder() / "short.stl", contents(folder() / "bowl.stl").substr(0, 1000));
  std::string nan = contents(folder() / "bowl.stl");
  const float bad = std::numeric_limits<float>::quiet_NaN();
  std::memcpy(nan.data() + 84 + 12, &bad, 4);
  store(folder() / "nan.stl", nan);
  struct Case {
    const char *old, *now, *says;
  };
  const Case all[] = {{"bowl.stl", "none.stl", "none.stl, which does not exist"},
                      {"bowl.stl", "short.stl", "truncated"},
                      {"bowl.stl", "nan.stl", "not finite"},
                      {"stepover = 0.8", "stepovr = 0.8", "did you mean \"stepover\""},
                      {"stepover = 0.8", "stepover = -0.8", "must be above 0"},
                      {"tool = \"ball6\"", "tool = \"ball7\"", "names \"ball7\", which is not defined"},
                      {"[[-15, -15], [15, -15], [15, 15], [-15, 15]]", "[[90, 90], [95, 90], [95, 95]]",
                       "meets neither part nor stock"}};
  for (const Case& c : all) {
    const Result result = run("run " + spoiled_job(c.old, c.now) + " --out result");
    EXPECT_EQ(result.code, 2) << c.now;
    EXPECT_EQ(result.out, "") << c.now;
    EXPECT_HAS(result.error, c.says);
    EXPECT_EQ(result.error.rfind("yardpass: ", 0), 0u) << result.error;
    EXPECT_EQ(std::count(result.error.begin(), result.error.end(), '\n'), 1) << result.error;
    expect_no_folder("result");
  }
  EXPECT_EQ(run("run nothing.toml --out result").code, 2);
  EXPECT_EQ(run("check nothing.nc --job job.toml").code, 2);
  EXPECT_EQ(run("run job.toml --out bowl.stl").code, 2);  // a file
  EXPECT_EQ(run("demo blade-runner --out result").code, 2);
  EXPECT_EQ(run("frobnicate").code, 2);
  EXPECT_EQ(run("run job.toml").code, 2);
  EXPECT_EQ(run("").code, 2);
  expect_no_folder("result");
}

TEST_F(Command, TheFirstJobOfTheReadmeEndsCleanAsItStands) {
  const std::string readme = contents(std::filesystem::path(YARDPASS_SOURCE_FOLDER) / "README.md");
  const std::size_t first = readme.find("```toml\n") + 8, last = readme.find("```", first);
  const std::string job = readme.substr(first, last - first);
  const std::filesystem::path demo = std::filesystem::path(YARDPASS_SOURCE_FOLDER) / "demo";
  EXPECT_EQ(job, contents(demo / "first-job.toml")) << "it ships as it is told";
  EXPECT_LE(std::count(job.begin(), job.end(), '\n'), 15);
  for (const char* file : {"first-job.toml", "hull-plug.stl"})
    std::filesystem::copy_file(demo / file, folder() / file);
  // The commands below it, as they stand, but for the demo, which other tests run.
  std::istringstream lines(readme.substr(last));
  int commands = 0;
  for (std::string line; std::getline(lines, line) && line.rfind("## ", 0) != 0;) {
    const std::size_t at = line.find("    yardpass ");
    if (at != 0 || line.find("demo") != std::string::npos) continue;
    ++commands;
    const Result result = run(line.substr(13, line.find('#') - 13));
    EXPECT_EQ(result.code, 0) << line << result.error;
  }
  EXPECT_EQ(commands, 3);
}

TEST_F(Command, AnOldFolderSurvivesABadRun) {
  ASSERT_EQ(run("run job.toml --out result --quiet").code, 0);
  const std::string before = contents(folder() / "result" / "program.nc");
  EXPECT_EQ(run("run " + spoiled_job("stepover = 0.8", "stepover = 0") + " --out result").code, 2);
  EXPECT_EQ(contents(folder() / "result" / "program.nc"), before);
}

TEST_F(Command, HelpHasAnExampleForEachVerb) {
  EXPECT_HAS(run("--version").out, "yardpass " YARDPASS_VERSION);
  const Result help = run("--help");
  EXPECT_EQ(help.code, 0);
  for (const char* verb : {"yardpass run ", "yardpass check ", "yardpass inspect ", "yardpass demo"})
    EXPECT_HAS(help.out, verb);
  for (const char* verb : {"run", "check", "inspect", "demo"}) {
    const Result one = run(std::string(verb) + " --help");
    EXPECT_EQ(one.code, 0);
    EXPECT_HAS(one.out, std::string("yardpass ") + verb + " ");
  }
}

TEST_F(Command, EachVerbHasItsPageWithAllItsOptions) {
  const std::filesystem::path docs = std::filesystem::path(YARDPASS_SOURCE_FOLDER) / "docs";
  for (const char* verb : {"run", "check", "inspect", "demo", "keys"}) {
    const std::string page = contents(docs / "verbs" / (std::string(verb) + ".md"));
    const std::string help = run(std::string(verb) + " --help").out;
    for (std::size_t at = 0; (at = help.find("\n  --", at)) != std::string::npos;) {
      at += 3;
      const std::string option = help.substr(at, help.find_first_of(" ,\n", at) - at);
      EXPECT_HAS(page, "`" + option) << verb;
    }
  }
  const std::string messages = contents(docs / "messages.md");
  for (const FindingKind kind : all_finding_kinds())
    EXPECT_HAS(messages, "`" + std::string(id_of(kind)) + "`");
}

TEST_F(Command, InspectSaysWhatTheMeshIs) {
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

TEST_F(Command, OddOrLargeWorkWaitsForAYes) {
  Mesh metres = demo::bowl(40, 20, 60, 0.02);  // as if its numbers were metres
  for (Vec3& p : metres.points) p *= 0.001;
  write_stl(folder() / "metres.stl", metres, "metres");
  std::string text = kJob;
  text.replace(text.find("bowl.stl"), 8, "metres.stl");
  text.resize(text.find("[[operation]]"));
  store(folder() / "metres.toml",
        text +
            "[[operation]]\nname = \"finish\"\nstrategy = \"parallel\"\ntool = \"ball6\"\nstepover = 0.01\n");
  const Result asked = run("run metres.toml --out result");
  EXPECT_EQ(asked.code, 2);
  EXPECT_HAS(asked.error, "the part is only 0.06 mm large");
  EXPECT_HAS(asked.error, "Go on? Say --yes to do so");
  EXPECT_HAS(asked.out, "estimate: operation 1 \"finish\"");
  expect_no_folder("result");
  EXPECT_LT(run("run metres.toml --out result --quiet --yes").code, 2);
  EXPECT_TRUE(std::filesystem::exists(folder() / "result" / "program.nc"));
}

TEST_F(Command, InspectAdvisesTheWeldThatClosesAMesh) {
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

TEST_F(Command, InspectionDoesNotDependOnThreads) {
  const Result one = run("inspect bowl.stl --json --threads 1"),
               two = run("inspect bowl.stl --json --threads 4");
  EXPECT_EQ(one.code, 0);
  EXPECT_EQ(one.out, two.out);
}

TEST_F(Command, InspectTakesAJobAndShowsItsRegions) {
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

TEST_F(Command, ARunTellsPlacementAndRegions) {
  store(folder() / "placed.toml",
        std::string(kJob).replace(std::string(kJob).find("[stock]"), 0,
                                  "turn = [{ axis = \"z\", angle = 90 }]\n[regions.dish]\nat = "
                                  "[0, 0]\n"));
  const Result words = run("run placed.toml --out result");
  EXPECT_EQ(words.code, 0) << words.error;
  EXPECT_HAS(words.out, "part placed: turned by 90 degrees about Z");
  EXPECT_HAS(words.out, "region \"dish\"");
  const auto json = nlohmann::json::parse(contents(folder() / "result" / "report.json"));
  EXPECT_EQ(json["part"]["file"]["placement"]["turn"][0]["angle"], 90.0);
  EXPECT_EQ(json["regions"][0]["name"], "dish");
  EXPECT_HAS(contents(folder() / "result" / "report.html"), "Part placed: turned by 90 degrees about Z.");
}

TEST_F(Command, InspectReadsOtherFormatsAndRepairs) {
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

TEST_F(Command, InspectRefusesWhatItCannotMean) {
  EXPECT_HAS(run("inspect bowl.stl --place 1").error, "must be X,Y");
  EXPECT_HAS(run("inspect bowl.stl --place 1,2,3,4").error, "must be X,Y");
  EXPECT_HAS(run("inspect bowl.stl --place 900,0").error, "there is no part at 900,0");
  EXPECT_HAS(run("inspect bowl.stl --balls 6,4").error, "ascending");
  EXPECT_EQ(run("inspect bowl.stl --unit league").code, 2);
  EXPECT_EQ(run("inspect bowl.stl --repair everything").code, 2);
}

}  // namespace
}  // namespace yardpass
