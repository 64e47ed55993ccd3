// Every key wrong in each way that its kind of value can be, every verb and option, files of every kind: one
// message with its place, exit code 2, nothing written. The keys come from what the code tells of them, so a
// new key is tried without anything to be added here.
#include <gtest/gtest.h>

#include <algorithm>

#include "parts.h"
#include "support/command.h"
#include "yardpass/job/key_list.h"
#include "yardpass/part/write_stl.h"

namespace yardpass {
namespace {

struct Line {
  std::string key, value;
};
/// A table of a job file: its heading, and lines that are good.
struct Block {
  std::string table;  ///< name of its KeyTable
  std::string heading;
  std::vector<Line> lines;
};

const std::vector<Block>& good_job() {
  static const std::vector<Block> blocks{
      {"job", "", {{"title", "\"bowl\""}}},
      {"part", "[part]", {{"mesh", "\"bowl.stl\""}}},
      {"stock", "[stock]", {{"above", "1"}}},
      {"machine", "[machine]", {}},
      {"left", "[left]", {}},
      {"splitting", "[splitting]", {}},
      {"regions", "[regions.floor]", {{"at", "[0, 0]"}}},
      {"curves", "[curves.rim]", {{"points", "[[0, 0], [9, 0], [9, 9]]"}, {"closed", "true"}}},
      {"curves", "[curves.hub]", {{"circle", "[7, 3, 1]"}}},
      {"boundaries", "[boundaries.field]", {{"points", "[[0, 0], [9, 0], [9, 9]]"}}},
      {"lids", "[lids.cover]", {{"holes_of", "\"floor\""}}},
      {"run_outs", "[run_outs.out]", {{"edge_of", "\"floor\""}, {"length", "2"}}},
      {"carriers", "[carriers.roof]", {{"copy_of", "\"floor\""}, {"offset", "1"}}},
      {"keep_away", "[keep_away.face]", {{"region", "\"floor\""}, {"clearance", "1"}}},
      {"tools",
       "[tools.ball6]",
       {{"number", "1"}, {"shape", "\"ball\""}, {"diameter", "6"}, {"spindle", "9000"}, {"feed", "900"}}},
      {"tools",
       "[tools.flat6]",
       {{"number", "2"}, {"shape", "\"flat\""}, {"diameter", "6"}, {"spindle", "9000"}, {"feed", "900"}}},
      {"roughing",
       "[[operation]]",
       {{"name", "\"rough\""}, {"strategy", "\"roughing\""}, {"tool", "\"ball6\""}}},
      {"points",
       "[[operation]]",
       {{"name", "\"points\""},
        {"strategy", "\"points\""},
        {"tool", "\"flat6\""},
        {"points", "[[-40, 0, 30], [40, 0, 30]]"}}},
      {"flats", "[[operation]]", {{"name", "\"flats\""}, {"strategy", "\"flats\""}, {"tool", "\"flat6\""}}},
      {"scallop",
       "[[operation]]",
       {{"name", "\"domes\""}, {"strategy", "\"scallop\""}, {"tool", "\"ball6\""}}},
      {"morph",
       "[[operation]]",
       {{"name", "\"blend\""},
        {"strategy", "\"morph\""},
        {"tool", "\"ball6\""},
        {"first", "\"rim\""},
        {"last", "\"hub\""}}},
      {"flowline",
       "[[operation]]",
       {{"name", "\"flow\""},
        {"strategy", "\"flowline\""},
        {"tool", "\"ball6\""},
        {"first", "\"rim\""},
        {"last", "\"hub\""}}},
      {"square-to-curve",
       "[[operation]]",
       {{"name", "\"across\""},
        {"strategy", "\"square-to-curve\""},
        {"tool", "\"ball6\""},
        {"curves", "\"hub\""}}},
      {"pencil",
       "[[operation]]",
       {{"name", "\"corners\""}, {"strategy", "\"pencil\""}, {"tool", "\"ball6\""}}},
      {"rest-finishing",
       "[[operation]]",
       {{"name", "\"rest\""}, {"strategy", "\"rest-finishing\""}, {"tool", "\"ball6\""}}},
      {"edge-break",
       "[[operation]]",
       {{"name", "\"edges\""}, {"strategy", "\"edge-break\""}, {"tool", "\"ball6\""}}},
      {"projected",
       "[[operation]]",
       {{"name", "\"drawn\""}, {"strategy", "\"projected\""}, {"tool", "\"ball6\""}, {"curves", "\"rim\""}}},
      {"engraving",
       "[[operation]]",
       {{"name", "\"strokes\""},
        {"strategy", "\"engraving\""},
        {"tool", "\"ball6\""},
        {"curves", "\"rim\""}}},
      {"waterline",
       "[[operation]]",
       {{"name", "\"walls\""}, {"strategy", "\"waterline\""}, {"tool", "\"ball6\""}}},
      {"by-slope",
       "[[operation]]",
       {{"name", "\"both\""}, {"strategy", "\"by-slope\""}, {"tool", "\"ball6\""}}},
      {"operation",
       "[[operation]]",
       {{"name", "\"finish\""}, {"strategy", "\"parallel\""}, {"tool", "\"ball6\""}}},
      {"accepted",
       "[[accepted]]",
       {{"finding", "\"gouge\""}, {"operation", "\"finish\""}, {"up_to", "0.1"}, {"reason", "\"because\""}}}};
  return blocks;
}

std::string number_words(double value) {
  char text[64];
  std::snprintf(text, sizeof text, "%.6f", value);
  return text;
}

std::vector<std::string> wrong_numbers(const About& about) {
  std::vector<std::string> wrong{"nan", "inf", "true", "\"nosuch\"", "[[1]]"};
  wrong.push_back(number_words(about.above_low ? about.low : about.low - 1));
  wrong.push_back(number_words(about.high + 1));
  return wrong;
}

/// In each way that the kind of value can be wrong.
std::vector<std::string> wrong_values(const KeyInfo& key) {
  std::vector<std::string> wrong{"1979-05-27"};
  const auto add = [&](std::initializer_list<const char*> more) {
    wrong.insert(wrong.end(), more.begin(), more.end());
  };
  switch (key.form) {
    case KeyForm::number:
      for (const std::string& value : wrong_numbers(key.about)) wrong.push_back(value);
      if (key.about.of_tool) add({"\"8 percent\"", "\"% 8\"", "\"1e9 %\""});
      if (key.measurable)
        add({"{}", "{ top_of = \"nosuch\" }", "{ z_at = 3 }", "{ z_at = [0, 0], top_of = \"floor\" }"});
      break;
    case KeyForm::whole:
      add({"1.5", "\"1\"", "true", "[]"});
      wrong.push_back(std::to_string(static_cast<int>(key.about.low) - 1));
      wrong.push_back(std::to_string(static_cast<int>(key.about.high) + 1));
      break;
    case KeyForm::flag:
      add({"1", "\"true\"", "[]"});
      break;
    case KeyForm::text:
      add({"3", "\"\"", "[]", "true"});
      break;
    case KeyForm::file:
      add({"3", "\"\"", "\"none.stl\"", "\".\""});
      break;
    case KeyForm::word:
    case KeyForm::words:
      add({"3", "\"nosuch\"", "[\"nosuch\"]", "true"});
      break;
    case KeyForm::word_or_number:
      add({"\"nosuch\"", "true", "[1]"});
      break;
    case KeyForm::name:
      add({"3", "\"\"", "\"nosuch\"", "[\"nosuch\"]"});
      break;
    case KeyForm::names:
      add({"3", "\"\"", "[3]", "[]"});
      if (key.kind != Named::anything) add({"\"nosuch\"", "[\"nosuch\"]"});
      break;
    case KeyForm::area:
    case KeyForm::loops:
      add({"3", "true", "[]", "[[1, 1], [2, 2]]", "[[0, 0], [1, 1], [2, 2]]", "[[0, 0], [1], [2, 2]]",
           "[[0, 0], [1e7, 1], [2, 2]]"});
      if (key.form == KeyForm::area) add({"\"nosuch\""});
      break;
    case KeyForm::corners:
      add({"3", "[[0, 0, 0]]", "[[0, 0, 0], [1, 1]]", "[[0, 0, 0], [1, 1, nan]]"});
      break;
    case KeyForm::numbers:
      add({"\"x\"", "[]", "[\"x\", \"y\"]", "[true, true, true]"});
      wrong.push_back("[1");  // one more than there may be
      for (std::size_t k = 0; k < *std::max_element(key.counts.begin(), key.counts.end()); ++k)
        wrong.back() += ", 2";
      wrong.back() += "]";
      break;
    case KeyForm::counts:
      add({"0", "\"x\"", "[1.5]", "[0]"});
      break;
    case KeyForm::places:
      add({"3", "[1]", "[[1]]", "[\"x\", \"y\"]", "[[1, 2, 3, 4]]"});
      break;
    case KeyForm::points:
      add({"3", "[]", "[3]", "[[1], [2], [3]]"});
      break;
    case KeyForm::tables:
      add({"3", "[3]", "[{ nosuch = 1 }]", "{ nosuch = 1 }"});
      break;
    case KeyForm::table:
      add({"3", "[3]", "{ nosuch = 1 }"});
      break;
  }
  return wrong;
}

struct Spoiled {
  std::string text;
  std::string file = "job.toml";  ///< the one that is wrong
  int line = 0;
  std::string what;
};

/// The good job with one line of one table replaced, or added.
Spoiled spoiled(const std::string& table, const Line& wrong) {
  Spoiled result;
  result.what = table + ": " + wrong.key + " = " + wrong.value;
  int line = 0;
  const auto write = [&](const std::string& text) { result.text += text + "\n", ++line; };
  for (const Block& block : good_job()) {
    if (!block.heading.empty()) write(block.heading);
    bool done = block.table != table;
    for (const Line& good : block.lines) {
      const bool here = block.table == table && good.key == wrong.key;
      write(good.key + " = " + (here ? wrong.value : good.value));
      if (here) result.line = line, done = true;
    }
    if (done) continue;
    write(wrong.key + " = " + wrong.value);
    result.line = line;
  }
  return result;
}

class WrongInputs : public testing::CommandFolder {
 protected:
  void SetUp() override { write_stl(folder() / "bowl.stl", demo::bowl(40, 20, 60, 0.05), "bowl"); }

  void expect_refused(const std::string& words, const std::string& why) {
    const Result result = run(words);
    EXPECT_EQ(result.code, 2) << why << "\n" << result.error;
    EXPECT_EQ(result.out, "") << why;
    EXPECT_GT(result.error.size(), 10u) << why;
    EXPECT_FALSE(std::filesystem::exists(folder() / "result")) << why;
  }
  /// The message names file, line and key, and says what would be valid.
  void expect_told(const Spoiled& job, const std::string& key) {
    ++tried_;
    store(folder() / "job.toml", job.text);
    const Result result = run("run job.toml --out result");
    EXPECT_EQ(result.code, 2) << job.what << "\n" << result.error;
    EXPECT_EQ(result.out, "") << job.what;
    EXPECT_FALSE(std::filesystem::exists(folder() / "result")) << job.what;
    EXPECT_NE(result.error.find(job.file + ":" + std::to_string(job.line) + ":"), std::string::npos)
        << job.what << "\n"
        << result.error;
    EXPECT_NE(result.error.find(key), std::string::npos) << job.what << "\n" << result.error;
    const char* words[] = {"must",        "valid: ",    "there are: ", "does not exist",   "is no file",
                           "keep one of", "belongs to", "needs",       "leave it out",     "encloses no area",
                           "no point",    "beyond",     "excludes",    "share of the tool"};
    EXPECT_TRUE(std::any_of(std::begin(words), std::end(words),
                            [&](const char* word) { return result.error.find(word) != std::string::npos; }))
        << job.what << "\n"
        << result.error;
  }
  int tried_ = 0;
};

TEST_F(WrongInputs, EachKeyInEachWay) {
  for (const KeyTable& table : all_key_tables()) {
    if (table.name == "controller") continue;  // a file of its own, see below
    const std::string block = table.name == "parallel" ? "operation" : table.name;
    ASSERT_TRUE(
        std::any_of(good_job().begin(), good_job().end(), [&](const Block& b) { return b.table == block; }))
        << table.name << " needs a table in the good job";
    for (const KeyInfo& key : table.keys)
      for (const std::string& value : wrong_values(key))
        expect_told(spoiled(block, {key.key, value}), key.key);
    const std::string near = table.keys.front().key + "x";
    expect_told(spoiled(block, {near, "1"}), near);
  }
  EXPECT_GT(tried_, 400);
}

TEST_F(WrongInputs, EachKeyOfAControllersFile) {
  Spoiled job = spoiled("machine", {"controller", "\"control.toml\""});
  job.file = "control.toml", job.line = 2;
  const std::vector<KeyTable> tables = all_key_tables();
  const auto table = std::find_if(tables.begin(), tables.end(),
                                  [](const KeyTable& one) { return one.name == "controller"; });
  ASSERT_NE(table, tables.end());
  const auto refused = [&](const std::string& key, const std::string& value) {
    store(folder() / "control.toml", "# a control\n" + key + " = " + value + "\n");
    job.what = "controller: " + key + " = " + value;
    expect_told(job, key);
  };
  for (const KeyInfo& key : table->keys)
    for (const std::string& value : wrong_values(key)) refused(key.key, value);
  refused("lines_numbers", "1");
  EXPECT_GT(tried_, 40);
  // What only shows when a program is tried out.
  for (const char* line :
       {"tool_change = \"T{number} M6\"", "first_lines = \"G41 D1\"", "last_lines = \"M30\""}) {
    store(folder() / "control.toml", std::string(line) + "\n");
    const Result result = run("run job.toml --out result");
    EXPECT_EQ(result.code, 2) << line;
    EXPECT_NE(result.error.find("control.toml:1: controller: a program tried out"), std::string::npos)
        << result.error;
  }
  std::filesystem::remove(folder() / "control.toml");
  const Result missing = run("run job.toml --out result");
  EXPECT_NE(missing.error.find("control.toml"), std::string::npos) << missing.error;
  EXPECT_NE(missing.error.find("does not exist"), std::string::npos) << missing.error;
}

TEST_F(WrongInputs, TheGoodJobIsGood) {
  std::string text = spoiled("", {"", ""}).text;
  store(folder() / "job.toml", text);
  EXPECT_EQ(run("check nothing.nc --job job.toml").error,
            "yardpass: nothing.nc: cannot be opened for reading\n");
}

TEST_F(WrongInputs, VerbsAndOptions) {
  store(folder() / "job.toml", spoiled("", {"", ""}).text);
  for (const char* words : {"",
                            "rnu",
                            "run",
                            "run job.toml",
                            "run job.toml --out",
                            "run job.toml --out result --thread 2",
                            "run job.toml --out result --threads 0",
                            "run job.toml --out result --threads two",
                            "run job.toml job.toml --out result",
                            "run job.toml --out result --only-times",
                            "check",
                            "check job.toml",
                            "check none.nc --job job.toml --out result",
                            "check job.toml --job job.toml --up-to-line 0",
                            "check job.toml --job job.toml --up-to-line x",
                            "check job.toml --job none.toml",
                            "check job.toml --job job.toml --up-to-line 3 --up-to-operation rough",
                            "inspect",
                            "inspect none.stl",
                            "inspect bowl.stl --unit furlong",
                            "inspect bowl.stl --weld -1",
                            "inspect bowl.stl --repair all",
                            "inspect bowl.stl --crease-angle 0",
                            "inspect bowl.stl --bend-radius -1",
                            "inspect bowl.stl --balls 0",
                            "inspect bowl.stl --balls 5,4",
                            "inspect bowl.stl --place 1",
                            "inspect bowl.stl --place 1,2,3,4",
                            "inspect bowl.stl --place a,b",
                            "inspect job.toml --unit mm",
                            "demo none --out result",
                            "keys nosuch",
                            "keys --schema stock",
                            "keys --schema --markdown",
                            "--verson"})
    expect_refused(words, words);
  EXPECT_NE(run("rnu").error.find("did you mean \"run\""), std::string::npos);
  EXPECT_NE(run("run job.toml --outt result").error.find("did you mean \"--out\""), std::string::npos);
  EXPECT_NE(run("keys paralel").error.find("did you mean \"parallel\""), std::string::npos);
}

TEST_F(WrongInputs, FilesOfEveryKind) {
  store(folder() / "empty", "");
  store(folder() / "nul", std::string("title = \"a\0b\"\n", 14));
  store(folder() / "binary", std::string("\x7f\x45\x4c\x46\x02\x01\x01\0\0\0", 10));
  store(folder() / "bytes", "title = \"\xff\xfe\"\n");
  store(folder() / "list.toml",
        "[[part]]\nmesh = \"bowl.stl\"\n[[tools]]\nnumber = 1\n[operation]\nname = \"a\"\n");
  std::string long_line = "title = \"" + std::string(1 << 20, 'x');
  store(folder() / "long", long_line);
  std::filesystem::create_directory(folder() / "folder");
  for (const char* file :
       {"empty", "nul", "binary", "bytes", "list.toml", "long", "folder", "bowl.stl", "none"}) {
    expect_refused(std::string("run ") + file + " --out result", file);
    expect_refused(std::string("check job.nc --job ") + file + " --out result", file);
  }
  const std::string tables = run("run list.toml --out result").error;
  EXPECT_NE(tables.find("must be one table, [part], not a list of tables, [[part]]"), std::string::npos)
      << tables;
  EXPECT_NE(tables.find("must be a list of tables, [[operation]]"), std::string::npos) << tables;
}

}  // namespace
}  // namespace yardpass
