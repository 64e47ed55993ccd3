// Folders of results: whole or as they were, nothing stale, nothing of others touched.
#include <gtest/gtest.h>

#include <cstdlib>
#include <set>

#include "parts.h"
#include "support/scratch.h"
#include "yardpass/part/write_stl.h"

namespace yardpass {
namespace {

namespace fs = std::filesystem;

const char* const kHead = R"(title = "bowl"
[part]
mesh = "bowl.stl"
[stock]
above = 1
cell = 0.5
[tools.ball6]
number = 3
shape = "ball"
diameter = 6
spindle = 12000
feed = 1800
)";

class OutputFolders : public testing::ScratchFolder {
 protected:
  void SetUp() override {
    write_stl(folder() / "bowl.stl", demo::bowl(40, 20, 60, 0.1), "bowl");
    store(folder() / "job.toml", job(1, "2"));
    store(folder() / "larger.toml", job(3, "2"));
    store(folder() / "slow.toml", job(1, "0.004"));
  }
  static std::string job(int operations, const std::string& stepover) {
    std::string text = kHead;
    for (int i = 1; i <= operations; ++i)
      text += "[[operation]]\nname = \"finish " + std::to_string(i) +
              "\"\nstrategy = \"parallel\"\ntool = \"ball6\"\nstepover = " + stepover + "\n";
    return text;
  }
  [[nodiscard]] int shell(const std::string& line) const {
    const int status =
        std::system(("cd '" + folder().string() + "' && { " + line + "; } >out.txt 2>error.txt").c_str());
    return WEXITSTATUS(status);
  }
  [[nodiscard]] int run(const std::string& words) const { return shell("'" YARDPASS_PROGRAM "' " + words); }
  [[nodiscard]] std::string error() const { return contents(folder() / "error.txt"); }
  /// Everything in a folder, hidden files too.
  [[nodiscard]] std::set<std::string> names_in(const std::string& name) const {
    std::set<std::string> names;
    for (const auto& entry : fs::directory_iterator(folder() / name))
      names.insert(entry.path().filename().string());
    return names;
  }
  void expect_no_draft() const {
    for (const std::string& name : names_in(".")) EXPECT_EQ(name.find("draft"), std::string::npos) << name;
  }
};

const std::set<std::string> kOne{"program.nc",   "part.stl",      "stock.stl",     "report.json",
                                 "report.html",  "path-1.png",    "spacing-1.png", "left.png",
                                 "view-1.png",   "stock.png",     "summary.png",   "setup-sheet.pdf",
                                 "why-left.png", "toolpaths.obj", "toolpaths.cl",  "toolpaths.kept"};

TEST_F(OutputFolders, NothingOfAnEarlierAndLargerRunStays) {
  ASSERT_EQ(run("run larger.toml --out result --save-stock --quiet"), 0) << error();
  EXPECT_TRUE(names_in("result").contains("path-3.png"));
  EXPECT_TRUE(names_in("result").contains("stock.npy"));
  ASSERT_EQ(run("inspect bowl.stl --out result --quiet"), 0) << error();
  EXPECT_TRUE(names_in("result").contains("regions.png"));
  EXPECT_FALSE(names_in("result").contains("program.nc")) << "of another thing than what now stands there";
  ASSERT_EQ(run("run job.toml --out result --quiet"), 0) << error();
  EXPECT_EQ(names_in("result"), kOne);
  ASSERT_EQ(run("check result/program.nc --job job.toml --out result --quiet"), 0) << error();
  std::set<std::string> checked = kOne;
  checked.erase("spacing-1.png");  // which only planning knows
  checked.erase("toolpaths.kept");
  EXPECT_EQ(names_in("result"), checked) << "a check writes the same files, the program among them";
  expect_no_draft();
}

TEST_F(OutputFolders, FilesOfOthersStay) {
  fs::create_directories(folder() / "result" / "notes");
  store(folder() / "result" / "notes" / "a.txt", "by hand");
  store(folder() / "result" / "my program.nc", "M30");
  store(folder() / "result" / "path-9.png", "of an earlier run");
  ASSERT_EQ(run("run job.toml --out result --quiet --among-others"), 0) << error();
  std::set<std::string> expected = kOne;
  expected.insert({"notes", "my program.nc"});
  EXPECT_EQ(names_in("result"), expected);
  EXPECT_EQ(contents(folder() / "result" / "notes" / "a.txt"), "by hand");
  // Into the folder where one stands, with the job and its mesh.
  ASSERT_EQ(run("run job.toml --out . --quiet --among-others"), 0) << error();
  for (const std::string& name : kOne) EXPECT_TRUE(names_in(".").contains(name)) << name;
  EXPECT_TRUE(names_in(".").contains("job.toml"));
  expect_no_draft();
}

TEST_F(OutputFolders, ThatHoldOtherThingsAreRefusedUnlessTold) {
  fs::create_directories(folder() / "mine" / "notes");
  store(folder() / "mine" / "notes" / "a.txt", "by hand");
  fs::create_directories(folder() / "parts");
  store(folder() / "parts" / "part.stl", "somebody's, by the name of a result");
  fs::create_directories(folder() / "empty");
  (void)shell("true");  // makes the files that its words go to
  for (const char* verb : {"run job.toml", "inspect bowl.stl", "demo"})
    for (const char* out : {"mine", ".", "mine/notes", "mine/..", "/", "$HOME", "parts"}) {
      const auto before = names_in(".");
      EXPECT_EQ(
          shell("HOME=" + folder().string() + "; '" YARDPASS_PROGRAM "' " + verb + " --quiet --out " + out),
          2)
          << verb << " " << out;
      EXPECT_NE(error().find("no earlier run has left there"), std::string::npos) << out << error();
      EXPECT_NE(error().find("--among-others"), std::string::npos) << error();
      EXPECT_EQ(names_in("."), before) << verb << " " << out;
    }
  EXPECT_EQ(contents(folder() / "parts" / "part.stl"), "somebody's, by the name of a result");
  EXPECT_EQ(run("inspect bowl.stl --quiet --out empty"), 0) << error();
  EXPECT_EQ(run("inspect bowl.stl --quiet --out empty"), 0) << "what an earlier run left: " << error();
}

TEST_F(OutputFolders, WhatCannotBeWrittenIsToldWithItsReason) {
  // A limit on the size of files stands for a full disk.
  const std::string program = "'" YARDPASS_PROGRAM "' ";
  EXPECT_EQ(shell("ulimit -f 4; " + program + "run job.toml --out result --quiet"), 2);
  EXPECT_NE(error().find("/result/program.nc: cannot be written: File too large"), std::string::npos)
      << error();
  EXPECT_FALSE(fs::exists(folder() / "result"));
  EXPECT_EQ(shell("ulimit -f 4; " + program + "inspect bowl.stl --out survey --quiet"), 2);
  EXPECT_NE(error().find("/survey/"), std::string::npos) << error();
  EXPECT_NE(error().find("File too large"), std::string::npos) << error();
  expect_no_draft();
  for (const char* words : {"keys", "keys --schema", "--help", "--version", "inspect bowl.stl --quiet"}) {
    EXPECT_EQ(shell(program + words + " > /dev/full"), 2) << words;
    EXPECT_NE(error().find("No space left on device"), std::string::npos) << words << error();
  }
  EXPECT_THROW(write_stl("/dev/full", demo::bowl(40, 20, 60, 0.1), "x"), Error);
}

TEST_F(OutputFolders, TheDemoNeedsNoOption) {
  // Its results go where one stands, by its name; seen by what happens if something else is there.
  fs::create_directories(folder() / "paddle-blade-demo" / "somebody's");
  EXPECT_EQ(run("demo"), 2);
  EXPECT_EQ(error().find("paddle-blade-demo: holds") == std::string::npos, false) << error();
}

TEST_F(OutputFolders, NamesMayHoldAnyBytes) {
  for (const std::string& name :
       {std::string("\xff\xfe odd"), std::string("gr\xc3\xbc\xc3\x9f"), std::string("a\nb")}) {
    fs::create_directories(folder() / name);
    fs::copy_file(folder() / "bowl.stl", folder() / name / "bowl.stl");
    fs::copy_file(folder() / "bowl.stl", folder() / name / (name + ".stl"));
    fs::copy_file(folder() / "job.toml", folder() / name / (name + ".toml"));
    const std::string at = "'" + name + "/" + name;
    ASSERT_EQ(run("run " + at + ".toml' --quiet --out " + at + " result'"), 0) << error();
    EXPECT_EQ(names_in(name + "/" + name + " result"), kOne);
    ASSERT_EQ(run("check " + at + " result/program.nc' --quiet --job " + at + ".toml'"), 0) << error();
    ASSERT_EQ(run("inspect " + at + ".stl' --quiet --out " + at + " survey'"), 0) << error();
    ASSERT_EQ(run("inspect " + at + ".stl' --quiet --json"), 0) << error();
    EXPECT_EQ(run("inspect " + at + "-missing.stl' --quiet"), 2);
  }
}

TEST_F(OutputFolders, WhereItCannotBeWrittenTheFolderStaysAsItWas) {
  ASSERT_EQ(run("run job.toml --out result --quiet"), 0) << error();
  fs::remove(folder() / "result" / "report.json");
  fs::create_directories(folder() / "result" / "report.json" / "deep");  // somebody's folder of that name
  store(folder() / "result" / "program.nc", "as it was");
  EXPECT_EQ(run("run job.toml --out result --quiet"), 2);
  EXPECT_NE(error().find("report.json"), std::string::npos) << error();
  EXPECT_EQ(contents(folder() / "result" / "program.nc"), "as it was");
  EXPECT_TRUE(fs::exists(folder() / "result" / "report.json" / "deep"));
  expect_no_draft();
}

TEST_F(OutputFolders, FoldersOnTheWayAreMadeOnlyForAResult) {
  EXPECT_EQ(run("run job.toml --out a/b/c --quiet"), 0) << error();
  EXPECT_EQ(names_in("a/b/c"), kOne);
  store(folder() / "part.toml", job(1, "2") + "keep_inside = [[900, 0], [901, 0], [901, 1]]\n");
  EXPECT_EQ(run("run part.toml --out x/y/z --quiet"), 2);
  EXPECT_FALSE(fs::exists(folder() / "x"));
}

TEST_F(OutputFolders, AnInputIsNeverWrittenOver) {
  fs::rename(folder() / "bowl.stl", folder() / "part.stl");
  std::string text = job(1, "2");
  text.replace(text.find("bowl.stl"), 8, "part.stl");
  store(folder() / "job.toml", text);
  const std::string mesh = contents(folder() / "part.stl");
  for (const char* out : {".", "sub/.."}) {
    EXPECT_EQ(run(std::string("run job.toml --quiet --out ") + out), 2) << out;
    EXPECT_NE(error().find("part.stl: the job reads this file"), std::string::npos) << error();
  }
  EXPECT_EQ(contents(folder() / "part.stl"), mesh);
  // A stock that an earlier run left would be swept from under the job.
  ASSERT_EQ(run("run job.toml --out first --save-stock --quiet"), 0) << error();
  text.replace(text.find("above = 1\ncell = 0.5"), 20, "file = \"first/stock.npy\"");
  store(folder() / "second.toml", text);
  EXPECT_EQ(run("run second.toml --out first --quiet"), 2);
  EXPECT_NE(error().find("stock.npy: the job reads this file"), std::string::npos) << error();
  EXPECT_TRUE(fs::exists(folder() / "first" / "stock.npy"));
  EXPECT_EQ(run("run second.toml --out second --quiet"), 0) << error();
}

TEST_F(OutputFolders, EndedRunsLeaveNoDrafts) {
  // Asked to stop, a run takes its draft away and says so by its exit code; killed, the next one does.
  // (SIGINT goes the same way, but a shell starts what runs in its background with that one ignored.)
  for (const auto& [name, code] : {std::pair("TERM", 143), std::pair("HUP", 129)}) {
    const std::string line =
        "'" YARDPASS_PROGRAM
        "' run slow.toml --out result --quiet & pid=$!; "
        "for i in $(seq 200); do ls -a | grep -q draft && break; sleep 0.05; done; sleep 0.3; "
        "kill -" +
        std::string(name) + " $pid; wait $pid";
    EXPECT_EQ(shell(line), code) << name << error();
    EXPECT_NE(error().find("stopped; nothing written"), std::string::npos) << name << error();
    EXPECT_FALSE(fs::exists(folder() / "result"));
    expect_no_draft();
  }
  (void)shell("'" YARDPASS_PROGRAM
              "' run slow.toml --out killed --quiet & pid=$!; "
              "for i in $(seq 200); do ls -a | grep -q draft && break; sleep 0.05; done; sleep 0.2; kill "
              "-KILL $pid; wait $pid");
  bool left = false;
  for (const std::string& name : names_in(".")) left |= name.find("draft") != std::string::npos;
  EXPECT_TRUE(left) << "a killed process sweeps nothing";
  ASSERT_EQ(run("run job.toml --out other --quiet"), 0) << error();
  expect_no_draft();
}

TEST_F(OutputFolders, ManyRunsSideBySideTakeNoDraftForOneLeftBehind) {
  EXPECT_EQ(shell("for n in 1 2 3 4; do (for i in 1 2 3 4 5 6; do '" YARDPASS_PROGRAM
                  "' inspect bowl.stl --balls 4 --quiet --out s$n-$i >/dev/null || exit 1; done) & "
                  "pids=\"$pids $!\"; done; "
                  "for pid in $pids; do wait $pid || exit 1; done"),
            0)
      << error();
  expect_no_draft();
}

TEST_F(OutputFolders, ARunBesideAnotherLeavesItsDraftAlone) {
  // Two runs into folders side by side, the shorter one ending while the longer one writes its draft.
  EXPECT_EQ(shell("'" YARDPASS_PROGRAM "' run larger.toml --out slow --quiet & pid=$!; "
                  "'" YARDPASS_PROGRAM "' run job.toml --out quick --quiet && wait $pid"),
            0)
      << error();
  EXPECT_TRUE(fs::exists(folder() / "slow" / "path-3.png"));
  EXPECT_EQ(names_in("quick"), kOne);
  expect_no_draft();
}

}  // namespace
}  // namespace yardpass
