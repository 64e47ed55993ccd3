// Figures and files of results: told once, shown everywhere, documented word for word.
#include "yardpass/report/figures.h"

#include <gtest/gtest.h>

#include <set>

#include <nlohmann/json.hpp>

#include "support/docs.h"
#include "support/plate.h"
#include "yardpass/part/write_stl.h"
#include "yardpass/report/outputs.h"

namespace yardpass {
namespace {

namespace fs = std::filesystem;

TEST(Figures, EachHasItsRowInTheDocs) {
  const std::string docs = testing::docs_page("report.md");
  std::set<std::string> keys;
  for (const Figure& figure : all_figures()) {
    EXPECT_TRUE(keys.insert(figure.key).second) << figure.key;
    const std::string row = std::string("| `") + figure.key + "` | " + figure.says + " |\n";
    EXPECT_NE(docs.find(row), std::string::npos) << "docs/report.md lacks:\n" << row;
  }
}

TEST(Outputs, EachHasItsRowInTheDocs) {
  const std::string docs = testing::docs_page("report.md");
  for (const Output& output : all_outputs()) {
    const std::string row = std::string("| `") + output.name + "` | " + output.says + " |\n";
    EXPECT_NE(docs.find(row), std::string::npos) << "docs/report.md lacks:\n" << row;
  }
}

TEST(Outputs, AreKnownByTheirNamesAndNothingElseIs) {
  for (const char* ours :
       {"program.nc", "path-1.png", "path-12.png", "path-3-2.png", "curves.dxf", "stock.frame", "named.png"})
    EXPECT_TRUE(is_output(ours)) << ours;
  for (const char* others :
       {"job.toml", "part.obj", "path.png", "my-path-1.png", "path-1.png.txt", "curves", "program.nc~", ""})
    EXPECT_FALSE(is_output(others)) << others;
}

class FiguresOfARun : public testing::ScratchFolder {
 protected:
  void SetUp() override {
    write_stl(folder() / "plate.stl", testing::plate(), "plate");
    store(folder() / "job.toml",
          std::string(testing::kPlateJob) +
              "[[operation]]\nname = \"finish\"\nstrategy = \"parallel\"\ntool = \"ball4\"\nstepover = 1\n"
              "[[operation]]\nname = \"" +
              std::string(60, 'y') +
              "\"\nstrategy = \"parallel\"\ntool = \"ball4\"\nkeep_inside = [[5, 5], [6, 5], [6, 6], [5, "
              "6]]\nlimit = \"cutter\"\n");
  }
};

TEST_F(FiguresOfARun, AreInJsonOnThePageAndOnTheScreen) {
  const RunResult run = run_job(read_job(folder() / "job.toml"));
  const Report report = make_report(run);
  const auto json = nlohmann::json::parse(report_json(report));
  const std::string html = report_html(report, {}),
                    screen = figures_table(report.operations, kOnScreen, report.telling);
  for (const Figure& figure : all_figures()) {
    const std::string key = figure.key;
    const std::size_t dot = key.find('.');
    const auto& first = json["operations"][0];
    const auto& value =
        dot == std::string::npos ? first[key] : first[key.substr(0, dot)][key.substr(dot + 1)];
    const auto expected = figure.value(report.operations[0]);
    ASSERT_EQ(value.is_null(), !expected.has_value()) << key;
    if (expected) EXPECT_NEAR(value.get<double>(), *expected, 1e-6) << key;
    if (figure.places & (kOnPage | kInTimes)) EXPECT_NE(html.find(figure.heading), std::string::npos) << key;
    if (figure.places & kOnScreen) {
      EXPECT_NE(screen.find(figure.heading), std::string::npos) << key;
      EXPECT_NE(screen.find(in_words(figure, report.operations[0], report.telling)), std::string::npos)
          << key;
    }
  }
  // Lines of one width in columns, whatever the names.
  std::istringstream lines(screen);
  std::string head, first, second;
  std::getline(lines, head), std::getline(lines, first), std::getline(lines, second);
  const std::size_t at = head.find("time");
  EXPECT_NE(at, std::string::npos);
  EXPECT_NE(first.substr(at - 4, 8).find(':'), std::string::npos) << screen;
  EXPECT_NE(second.find("\u2026"), std::string::npos) << "a long name is shortened";
  EXPECT_NE(second.find(" -"), std::string::npos) << "what is not known";
}

TEST_F(FiguresOfARun, AreWrittenWithAllFilesOfTheList) {
  const RunResult run = run_job(read_job(folder() / "job.toml"));
  const Report report = make_report(run);
  fs::create_directory(folder() / "out");
  const std::vector<std::string> told =
      write_outputs(report, run.posted.text, folder() / "out", {.save_stock = true});
  EXPECT_EQ(told.size(), 1u);
  std::set<std::string> written;
  for (const auto& entry : fs::directory_iterator(folder() / "out")) {
    written.insert(entry.path().filename().string());
    EXPECT_TRUE(is_output(entry.path().filename().string())) << entry.path();
    EXPECT_GT(entry.file_size(), 50u) << entry.path();
  }
  EXPECT_EQ(written,
            (std::set<std::string>{"program.nc", "part.stl", "stock.stl", "toolpaths.obj", "toolpaths.cl",
                                   "report.json", "path-1.png", "spacing-1.png", "left.png", "view-1.png",
                                   "stock.png", "summary.png", "why-left.png", "setup-sheet.pdf", "stock.npy",
                                   "stock.frame", "report.html", "toolpaths.kept"}))
      << "no picture of a path that is empty";
  EXPECT_EQ(contents(folder() / "out" / "program.nc"), run.posted.text);
}

}  // namespace
}  // namespace yardpass
