// What if: variants start from the same stock, and their figures are those of full runs.
#include "yardpass/run/variants.h"

#include <gtest/gtest.h>

#include <nlohmann/json.hpp>

#include "support/plate.h"
#include "support/scratch.h"
#include "yardpass/part/write_stl.h"
#include "yardpass/report/comparison.h"
#include "yardpass/run/run.h"

namespace yardpass {
namespace {

class Variants : public testing::ScratchFolder {
 protected:
  void SetUp() override {
    write_stl(folder() / "plate.stl", testing::plate(), "plate");
    job_ = job("");
  }
  Job job(const std::string& keys_of_second) {
    store(folder() / "job.toml",
          std::string(testing::kPlateJob) +
              "[[operation]]\nname = \"first\"\nstrategy = \"parallel\"\ntool = \"ball4\"\n"
              "stepover = 2\nallowance = 0.4\n"
              "[[operation]]\nname = \"second\"\nstrategy = \"by-slope\"\ntool = \"ball4\"\n" +
              keys_of_second +
              "[[operation]]\nname = \"third\"\nstrategy = \"parallel\"\ntool = \"ball4\"\n"
              "scallop_height = 0.2\nangle = 90\n");
    return read_job(folder() / "job.toml");
  }
  template <typename Make>
  std::string message(const Make& make) {
    try {
      (void)make();
      return "accepted";
    } catch (const Error& error) {
      return error.what();
    }
  }
  Job job_;
};

TEST_F(Variants, EndWithTheOperationAndChangeOneValue) {
  const auto all = variants(job_, 3, "stepover", {Given(0.5), Given("20 %")});
  ASSERT_EQ(all.size(), 2u);
  EXPECT_EQ(all[0].words, "stepover = 0.5");
  EXPECT_EQ(all[1].words, "stepover = 20 %");
  EXPECT_EQ(all[0].job.operations.size(), 3u);
  EXPECT_FALSE(all[0].job.operations[2].says.contains("scallop_height")) << "it says the same in other words";
  EXPECT_TRUE(all[0].job.operations[2].says.contains("angle"));
  const auto inner = variants(job_, 2, "shallow.angle", {Given(30)});
  EXPECT_EQ(inner[0].job.operations.size(), 2u);
  EXPECT_EQ(inner[0].job.operations[1].says.get("shallow")->table()->get("angle")->number(), 30);
}

TEST_F(Variants, SayWhatIsWrong) {
  EXPECT_NE(
      message([&] { return variants(job_, 3, "stepver", {Given(1)}); }).find("did you mean \"stepover\""),
      std::string::npos);
  EXPECT_NE(message([&] { return variants(job_, 9, "stepover", {Given(1)}); }).find("3 \"third\""),
            std::string::npos);
  EXPECT_NE(message([&] { return variants(job_, 3, "angle.x", {Given(1)}); }).find("no key \"angle\""),
            std::string::npos);
  EXPECT_NE(message([&] { return side_by_side(job_, 2, 2); }).find("with itself"), std::string::npos);
  EXPECT_NE(message([&] {
              return run_job(variants(job_, 3, "stepover", {Given("wide")})[0].job);
            }).find("operation \"third\": \"stepover\""),
            std::string::npos);
}

TEST_F(Variants, AnglesAndPairs) {
  EXPECT_EQ(twelve_angles(job_, 3).size(), 12u);
  EXPECT_EQ(twelve_angles(job_, 2)[1].words, "shallow.angle = 15");
  const auto pair = side_by_side(job_, 3, 2);
  ASSERT_EQ(pair.size(), 2u);
  EXPECT_EQ(pair[0].job.operations.size(), 2u);
  EXPECT_EQ(pair[0].job.operations[1].name, "third");
  EXPECT_EQ(pair[1].job.operations[1].name, "second");
}

TEST_F(Variants, FiguresAreThoseOfFullRuns) {
  KeptPaths kept;
  std::vector<RunResult> runs;
  for (const Variant& variant : variants(job_, 2, "shallow.stepover", {Given(0.6), Given(1.2)})) {
    runs.push_back(run_job(variant.job, {.kept = &kept}));
    for (const PlannedOperation& planned : runs.back().planned) kept.add(planned);
  }
  EXPECT_TRUE(runs[1].planned[0].taken_over) << "the stock before is the same";
  std::vector<Report> reports;
  for (const RunResult& run : runs) reports.push_back(make_report(run));
  const std::vector<ComparedRun> compared{{"a", 2, &reports[0]}, {"b", 2, &reports[1]}};
  const auto json = nlohmann::json::parse(comparison_json(compared));
  EXPECT_EQ(quickest(compared), 1u);
  EXPECT_NE(comparison_table(compared).find("missed"), std::string::npos);
  for (std::size_t k = 0; k < 2; ++k) {
    const RunResult full =
        run_job(job(k == 0 ? "shallow = { stepover = 0.6 }\n" : "shallow = { stepover = 1.2 }\n"));
    const auto whole = nlohmann::json::parse(report_json(make_report(full)))["operations"][1];
    const auto& one = json["variants"][k];
    // What comes behind changes how its last way up ends.
    EXPECT_NEAR(one["seconds"].get<double>(), whole["seconds"].get<double>(), 0.01);
    for (const char* key : {"feed_length", "retracts", "air_feed_share", "points"})
      EXPECT_EQ(one[key], whole[key]) << key;
    for (const char* key : {"median", "percentile_95", "greatest"})
      EXPECT_EQ(one["left_after"][key], whole["left_after"][key]) << key;
  }
  draw_comparison(compared, folder() / "compare.png");
  EXPECT_GT(std::filesystem::file_size(folder() / "compare.png"), 10000u);
}

}  // namespace
}  // namespace yardpass
