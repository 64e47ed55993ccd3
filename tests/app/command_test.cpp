// The command line as its users meet it: exit codes, messages, folders.
#include <gtest/gtest.h>

#include <sstream>

#include <nlohmann/json.hpp>

#include "app/bowl_folder.h"
#include "parts.h"
#include "support/nasty.h"
#include "yardpass/part/read_mesh.h"
#include "yardpass/part/write_stl.h"
#include "yardpass/verify/finding.h"
#include "yardpass/version.h"

namespace yardpass {
namespace {

using testing::kJob;

class Command : public testing::BowlFolder {};

#define EXPECT_HAS(text, part) EXPECT_NE((text).find(part), std::string::npos) << (text)

TEST_F(Command, PicturesInAnotherFormGiveWayToThoseOfTheNextRun) {
  EXPECT_EQ(run("run job.toml --out result --pictures svg --section=-20,0,20,0 --quiet").code, 0);
  for (const char* file : {"path-1.svg", "view-1.svg", "left.svg", "section.svg", "summary.svg"})
    EXPECT_TRUE(std::filesystem::exists(folder() / "result" / file)) << file;
  EXPECT_EQ(run("run job.toml --out other --pictures svg --section=-20,0,20,0 --quiet --threads 1").code, 0);
  EXPECT_TRUE(contents(folder() / "result/view-1.svg") == contents(folder() / "other/view-1.svg"));
  EXPECT_EQ(run("run job.toml --out result --quiet").code, 0);
  EXPECT_TRUE(std::filesystem::exists(folder() / "result/path-1.png"));
  for (const char* stale : {"path-1.svg", "section.svg", "section.png"})
    EXPECT_FALSE(std::filesystem::exists(folder() / "result" / stale)) << stale;
  EXPECT_HAS(run("run job.toml --out result --section 1,2,3").error, "must be X,Y,X,Y");
  EXPECT_HAS(run("run job.toml --out result --section 1,2,1,2").error, "must be X,Y,X,Y");
  EXPECT_EQ(run("run job.toml --out result --pictures bmp").code, 2);
  EXPECT_HAS(run("check result/program.nc --job job.toml --section 0,0,1,0").error,
             "say with --out where to");
  EXPECT_HAS(run("check result/program.nc --job job.toml --section 500,0,600,0 --out far").out,
             "the line passes beside the part");
}

TEST_F(Command, RunWritesAWholeFolderAndCheckAgrees) {
  const Result result = run("run job.toml --out result");
  EXPECT_EQ(result.code, 0) << result.error;
  // When piped no progress but a line a minute.
  std::istringstream lines(result.error);
  for (std::string line; std::getline(lines, line);) EXPECT_EQ(line.rfind("yardpass: stage ", 0), 0u) << line;
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
    const bool look = line.rfind("    yardpass run", 0) == 0 && line.find("--quick") != std::string::npos;
    EXPECT_EQ(result.code, look ? 3 : 0) << line << result.error;
  }
  EXPECT_EQ(commands, 6);
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
  for (const char* verb :
       {"yardpass run ", "yardpass check ", "yardpass resume ", "yardpass inspect ", "yardpass demo"})
    EXPECT_HAS(help.out, verb);
  for (const char* verb : {"run", "check", "resume", "inspect", "demo"}) {
    const Result one = run(std::string(verb) + " --help");
    EXPECT_EQ(one.code, 0);
    EXPECT_HAS(one.out, std::string("yardpass ") + verb + " ");
  }
}

TEST_F(Command, EachVerbHasItsPageWithAllItsOptions) {
  const std::filesystem::path docs = std::filesystem::path(YARDPASS_SOURCE_FOLDER) / "docs";
  for (const char* verb : {"run", "check", "resume", "inspect", "demo", "keys"}) {
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

TEST_F(Command, TheRestOfAProgramIsWrittenFromALineOn) {
  ASSERT_EQ(run("run job.toml --out result --quiet").code, 0);
  const Result rest = run("resume result/program.nc --job job.toml --at-line 400 --out rest");
  EXPECT_EQ(rest.code, 0) << rest.error;
  EXPECT_HAS(rest.out, "goes on at line 400 of result/program.nc, at X ");
  EXPECT_HAS(rest.out, "verdict: clean, from line 400 of result/program.nc on");
  EXPECT_TRUE(std::filesystem::exists(folder() / "rest" / "program.nc"));
  EXPECT_TRUE(std::filesystem::exists(folder() / "rest" / "report.html"));
  EXPECT_LT(contents(folder() / "rest" / "program.nc").size(),
            contents(folder() / "result" / "program.nc").size());
  const auto json = nlohmann::json::parse(contents(folder() / "rest" / "report.json"));
  EXPECT_EQ(json["resumed"]["line"], 400);
  for (const auto& [line, words] :
       {std::pair("0", "is no line; valid"), std::pair("12x", "is no line; valid"),
        std::pair("999999", "the last cutting move is in line"),
        std::pair("N10", "no line begins with N10")}) {
    const Result wrong =
        run(std::string("resume result/program.nc --job job.toml --out wrong --at-line ") + line);
    EXPECT_EQ(wrong.code, 2);
    EXPECT_HAS(wrong.error, words);
    expect_no_folder("wrong");
  }
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

}  // namespace
}  // namespace yardpass
