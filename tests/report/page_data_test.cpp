// What a page holds: packed numbers, the scene, the setup sheet; pictures in other forms, and sections.
#include <gtest/gtest.h>

#include <fstream>
#include <sstream>

#include "parts.h"
#include "report/page/packed.h"
#include "report/page/page.h"
#include "report/page/scene.h"
#include "report/part_view.h"
#include "report/setup_sheet.h"
#include "report/tool_outline.h"
#include "support/nasty.h"
#include "support/plate.h"
#include "support/rng.h"
#include "support/scratch.h"
#include "yardpass/part/write_stl.h"
#include "yardpass/report/outputs.h"

namespace yardpass {
namespace {

using testing::Rng;
namespace fs = std::filesystem;

/// As the page's scripts read them.
std::vector<std::int64_t> unpacked(const std::string& bytes) {
  std::vector<std::int64_t> numbers;
  for (std::size_t i = 0; i < bytes.size();) {
    std::uint64_t value = 0;
    for (int shift = 0;; shift += 7) {
      const auto byte = static_cast<unsigned char>(bytes[i++]);
      value |= static_cast<std::uint64_t>(byte & 127) << shift;
      if (byte < 128) break;
    }
    numbers.push_back(static_cast<std::int64_t>(value >> 1) ^ -static_cast<std::int64_t>(value & 1));
  }
  return numbers;
}

TEST(Packed, NumbersStepsAndRunsComeBack) {
  Rng rng(3);
  detail::Packed plain;
  detail::PackedSteps steps;
  detail::PackedRuns runs;
  std::vector<std::int64_t> given;
  for (int k = 0; k < 2000; ++k) {
    const auto wide = static_cast<double>(1ll << rng.pick(40));
    given.push_back(rng.pick(3) == 0 && k > 0 ? given.back()
                                              : static_cast<std::int64_t>(rng.uniform(-wide, wide)));
    plain.add(given.back()), steps.add(given.back()), runs.add(given.back());
  }
  EXPECT_EQ(unpacked(plain.bytes()), given);
  std::int64_t sum = 0;
  const auto differences = unpacked(steps.bytes());
  ASSERT_EQ(differences.size(), given.size());
  for (std::size_t k = 0; k < given.size(); ++k) EXPECT_EQ(sum += differences[k], given[k]);
  std::vector<std::int64_t> spread;
  const auto pairs = unpacked(runs.bytes());
  for (std::size_t k = 0; k + 1 < pairs.size(); k += 2)
    spread.insert(spread.end(), static_cast<std::size_t>(pairs[k + 1]), pairs[k]);
  EXPECT_EQ(spread, given);
}

TEST(Packed, Base64OfTheStandard) {
  // RFC 4648, section 10.
  for (const auto& [bytes, text] :
       {std::pair("", ""), std::pair("f", "Zg=="), std::pair("fo", "Zm8="), std::pair("foo", "Zm9v"),
        std::pair("foob", "Zm9vYg=="), std::pair("fooba", "Zm9vYmE="), std::pair("foobar", "Zm9vYmFy")})
    EXPECT_EQ(detail::base64(bytes), text);
}

TEST(PartView, SeesWhatNothingHides) {
  const Mesh box = testing::box_mesh(Box3(Vec3(-10, -10, 0), Vec3(10, 10, 10)));
  const detail::PartView view(box, {0, 0, 300, 300}, 0, 30);
  EXPECT_TRUE(view.sees({0, 0, 10.01}));
  EXPECT_TRUE(view.sees({0, -10, 5}));
  EXPECT_FALSE(view.sees({0, 10, 2})) << "behind the box";
  EXPECT_FALSE(view.sees({0, 0, 5})) << "inside";
  EXPECT_TRUE(view.sees({200, 0, 0})) << "beside the page nothing hides it";
}

TEST(ToolOutline, StandsPartOnPartAndEndsWithTheHolder) {
  Tool tool;
  tool.shape = Shape::ball, tool.diameter_mm = 8, tool.flute_length_mm = 12, tool.shank_diameter_mm = 10;
  tool.neck_diameter_mm = 7, tool.neck_length_mm = 8, tool.stickout_mm = 40;
  tool.holder = {{20, 30, 40}, {10, 50, 50}};
  const auto parts = detail::tool_outline(completed(tool));
  ASSERT_EQ(parts.size(), 5u);
  double z = 0;
  for (const detail::ToolPart& part : parts) {
    EXPECT_NEAR(part.outline.front().y(), z, 1e-9) << part.name;
    EXPECT_EQ(part.outline.front().x(), 0);
    z = part.outline.back().y();
    EXPECT_EQ(part.outline.back().x(), 0);
  }
  EXPECT_NEAR(z, 70, 1e-9);
  // The cutter's round lies on the ball, within what its pieces are off.
  for (const Vec2& p : parts[0].outline)
    if (p.y() < 4 - 1e-6) EXPECT_NEAR((p - Vec2(0, 4)).norm(), 4, 1e-9);
}

class PageOfARun : public testing::ScratchFolder {
 protected:
  void SetUp() override {
    write_stl(folder() / "plate.stl", testing::plate(), "plate");
    store(folder() / "job.toml", std::string(testing::kPlateJob) +
                                     "[[operation]]\nname = \"</script><b>\"\nstrategy = \"parallel\"\n"
                                     "tool = \"ball4\"\nstepover = 2\n");
    run_.emplace(run_job(read_job(folder() / "job.toml")));
  }
  std::optional<RunResult> run_;
};

TEST_F(PageOfARun, HoldsEveryMoveAndEveryTriangle) {
  const Report report = make_report(*run_);
  const detail::Scene scene = detail::scene_of(report);
  const auto column = [&](const std::string& name) {
    for (const auto& [key, bytes] : scene.data)
      if (key == name) return unpacked(bytes);
    ADD_FAILURE() << name;
    return std::vector<std::int64_t>{};
  };
  EXPECT_EQ(column("part-corners").size(), 3 * run_->setup.part->mesh().triangles.size());
  const Program& program = run_->judged.program;
  std::int64_t z = 0;
  const auto steps = column("way-z");
  const auto lines = column("way-lines");
  ASSERT_GE(steps.size(), program.moves.size());
  std::int64_t line = 0;
  for (std::size_t k = 0; k < steps.size(); ++k) z += steps[k], line += lines[k];
  EXPECT_NEAR(static_cast<double>(z) * detail::kSceneStep, program.moves.back().to.z(), detail::kSceneStep);
  EXPECT_EQ(line, program.moves.back().line);
  double seconds = 0;
  for (const std::int64_t ms : column("way-milliseconds")) seconds += 1e-3 * static_cast<double>(ms);
  EXPECT_NEAR(seconds, report.judged.judgement.seconds, 0.01);
}

TEST_F(PageOfARun, NamesCannotBreakOut) {
  const std::string html = report_html(make_report(*run_), {});
  EXPECT_EQ(html.find("</script><b>"), std::string::npos);
  EXPECT_NE(html.find("&lt;/script&gt;&lt;b&gt;"), std::string::npos);
  // Nothing is fetched from anywhere.
  for (const char* outside : {"src=\"http", "href=\"http", "@import", "url(http"})
    EXPECT_EQ(html.find(outside), std::string::npos) << outside;
}

TEST_F(PageOfARun, TheSetupSheetSaysStockZeroToolsAndOperations) {
  const detail::SetupSheet sheet = detail::setup_sheet(make_report(*run_));
  ASSERT_EQ(sheet.operations.size(), 1u);
  EXPECT_EQ(sheet.operations[0][2], "parallel");
  ASSERT_EQ(sheet.tools.size(), 1u);
  EXPECT_EQ(sheet.tools[0].parts[0].outline.front(), Vec2(0, 0));
  std::string zero;
  for (const auto& [what, words] : sheet.facts)
    if (what == "zero") zero = words;
  const Box3& block = run_->setup.block;
  EXPECT_NE(zero.find(Telling().with_unit(-block.min().x()) + " from the left side"), std::string::npos)
      << zero;
  EXPECT_TRUE(sheet.clean);
}

std::string text_of(const fs::path& file) {
  std::ostringstream text;
  text << std::ifstream(file, std::ios::binary).rdbuf();
  return text.str();
}

TEST_F(PageOfARun, PicturesComeInEachFormAndAlike) {
  const Report report = make_report(*run_);
  for (const PictureForm form : {PictureForm::png, PictureForm::svg, PictureForm::pdf}) {
    const std::string ending = std::string(".") + name_of(form);
    for (const char* out : {"one", "two"}) {
      fs::remove_all(folder() / out);
      fs::create_directory(folder() / out);
      (void)write_outputs(report, run_->posted.text, folder() / out,
                          {.form = form, .section = SectionLine{{-20, 0}, {20, 0}}});
    }
    for (const char* stem : {"path-1", "view-1", "stock", "summary", "section", "left", "why-left"}) {
      const std::string name = stem + ending, text = text_of(folder() / "one" / name);
      EXPECT_EQ(text.substr(0, 4), form == PictureForm::png   ? "\x89PNG"
                                   : form == PictureForm::svg ? "<?xm"
                                                              : "%PDF")
          << name;
      // Cairo numbers what stands in an SVG on and on in one process.
      if (form != PictureForm::svg)
        EXPECT_TRUE(text == text_of(folder() / "two" / name)) << name << ": the same run, the same bytes";
      EXPECT_TRUE(is_output(name)) << "else a later run would leave it";
    }
    EXPECT_TRUE(text_of(folder() / "one/setup-sheet.pdf") == text_of(folder() / "two/setup-sheet.pdf"));
  }
  EXPECT_FALSE(is_output("holiday.svg"));
}

TEST_F(PageOfARun, ASectionNeedsALine) {
  const Report report = make_report(*run_);
  EXPECT_THROW(
      (void)write_outputs(report, run_->posted.text, folder(), {.section = SectionLine{{1, 1}, {1, 1}}}),
      Error);
}

}  // namespace
}  // namespace yardpass
