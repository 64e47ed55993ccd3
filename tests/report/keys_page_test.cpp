// Keys told once: each has its row in the docs, and the schema says what the reader says.
#include "yardpass/report/keys_page.h"

#include <gtest/gtest.h>

#include <set>

#include <nlohmann/json.hpp>

#include "support/docs.h"
#include "support/scratch.h"
#include "yardpass/plan/limits.h"

namespace yardpass {
namespace {

namespace fs = std::filesystem;

TEST(Keys, EachHasItsRowInTheDocs) {
  for (const KeyTable& table : all_key_tables()) {
    const std::string name = table.strategy ? "strategy/" + table.name + ".md" : table.page;
    const std::string docs = testing::docs_page(name);
    for (const std::string& row : markdown_rows(table))
      EXPECT_NE(docs.find(row + "\n"), std::string::npos) << "docs/" << name << " lacks:\n" << row;
  }
}

TEST(Keys, AreNamedOnceInTheirTable) {
  for (const KeyTable& table : all_key_tables()) {
    std::set<std::string> names;
    for (const KeyInfo& key : table.keys) {
      EXPECT_TRUE(names.insert(key.key).second) << table.name << " " << key.key;
      EXPECT_GT(std::string(key.about.says).size(), 1u) << table.name << " " << key.key;
    }
  }
}

TEST(Keys, PagesOfOneTableAndOfAll) {
  const auto one = keys_page("parallel", false), all = keys_page("", true);
  ASSERT_TRUE(one && all);
  EXPECT_NE(one->find("stepover"), std::string::npos);
  EXPECT_EQ(one->find("stepdown"), std::string::npos);
  EXPECT_NE(all->find("| `stepdown` |"), std::string::npos);
  EXPECT_FALSE(keys_page("nosuch", false));
  for (const std::string& name : key_table_names()) EXPECT_TRUE(keys_page(name, false)) << name;
}

TEST(Areas, TheTableIsWholeAndInTheDocs) {
  using From = GivenArea::From;
  const std::string docs = testing::docs_page("limits.md");
  for (const From from : {From::nothing, From::points, From::boundary, From::region, From::part, From::stock})
    for (const bool at_levels : {true, false}) {
      const AreaRow& row = area_row(from, at_levels);
      EXPECT_EQ(row.given, from);
      EXPECT_EQ(row.at_levels, at_levels);
      EXPECT_NE(docs.find(std::string(row.area) + ", by " + name_of(row.limit)), std::string::npos)
          << row.area;
      if (at_levels) EXPECT_NE(row.limit, LimitBy::contact);
    }
}

class JobSchema : public testing::ScratchFolder {
 protected:
  void SetUp() override {
    store(folder() / "schema.json", job_schema());
    store(folder() / "hold.py",
          "import json, sys, tomllib, warnings\n"
          "warnings.simplefilter('ignore')\n"
          "import jsonschema\n"
          "schema = json.load(open(sys.argv[1]))\n"
          "jsonschema.Draft7Validator.check_schema(schema)\n"
          "errors = list(jsonschema.Draft7Validator(schema).iter_errors(tomllib.load(open(sys.argv[2], "
          "'rb'))))\n"
          "print('\\n'.join(e.message[:200] for e in errors))\n"
          "sys.exit(1 if errors else 0)\n");
  }
  /// What an independent validator says of a job: nothing if it holds.
  std::string held(const fs::path& job) {
    const fs::path out = folder() / "out.txt";
    const int status = std::system(("/usr/bin/python3 '" + (folder() / "hold.py").string() + "' '" +
                                    (folder() / "schema.json").string() + "' '" + job.string() + "' >'" +
                                    out.string() + "' 2>&1")
                                       .c_str());
    const std::string said = contents(out);
    EXPECT_EQ(status == 0, said == "\n") << said;
    return said == "\n" ? "" : said;
  }
};

TEST_F(JobSchema, HoldsTheDemoJobs) {
  int jobs = 0;
  for (const auto& entry : fs::directory_iterator(fs::path(YARDPASS_SOURCE_FOLDER) / "demo")) {
    if (entry.path().extension() != ".toml") continue;
    ++jobs;
    EXPECT_EQ(held(entry.path()), "") << entry.path();
  }
  EXPECT_GE(jobs, 4);
}

TEST_F(JobSchema, RefusesSpoiledOnes) {
  const std::string good = contents(fs::path(YARDPASS_SOURCE_FOLDER) / "demo" / "paddle-blade.toml");
  const std::pair<const char*, const char*> spoiled[] = {
      {"strategy = \"by-slope\"", "strategy = \"by-slop\""},
      {"stepdown = 2.0", "stepdwn = 2.0"},
      {"stepdown = 2.0", "stepdown = 0"},
      {"stepdown = 2.0", "stepdown = \"2 mm\""},
      {"angle = 45", "stepdown = 1"},
      {"angle = 45", "angle = 400"},
      {"angle = 45", "scallop_height = 0.01, stepover = 0.3"},
      {"margin = [4, 4]", "margin = [4]"},
      {"margin = [4, 4]", "margin = 4"},
      {"units = \"mm\"", "units = \"cm\""},
      {"title = ", "name = "},
      {"shape = \"flat\"", "shape = \"square\""},
      {"number = 3", "number = 3.5"},
      {"[stock]", "[[stock]]"},
      {"[machine]", "[machines]"},
      {"widest = 15", "widest = -15"},
      {"keep_inside = \"cavity\"", "keep_inside = 3"},
      {"tool = \"flat10\"\n", ""},
      {"silhouette = true", "silhouette = 1"},
      {"silhouette = true", "silhouette = true\nslice = 1"}};
  for (const auto& [old, now] : spoiled) {
    std::string text = good;
    const std::size_t at = text.find(old);
    ASSERT_NE(at, std::string::npos) << old;
    store(folder() / "job.toml", text.replace(at, std::string(old).size(), now));
    EXPECT_NE(held(folder() / "job.toml"), "") << now;
  }
  std::string text = good +
                     "[[operation]]\nname = \"again\"\ncopy_of = \"finish the blade\"\nshallow = { angle = { "
                     "angle_between = [[0, 0], [1, 1]] } }\nsplit_overlap = \"8 %\"\n";
  store(folder() / "job.toml", text);
  EXPECT_EQ(held(folder() / "job.toml"), "") << "copies, measured numbers and shares of the tool hold";
}

}  // namespace
}  // namespace yardpass
