// Pictures as they are read: no words over each other, nothing cut off at the rim, no "-0". The words are
// found by a reader of PDF, not by what drew them.
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <regex>

#include "parts.h"
#include "support/boxes.h"
#include "support/demo_files.h"
#include "support/nasty.h"
#include "support/rng.h"
#include "support/scratch.h"
#include "support/turned_parts.h"
#include "yardpass/part/write_stl.h"
#include "yardpass/report/comparison.h"
#include "yardpass/report/outputs.h"
#include "yardpass/report/report.h"
#include "yardpass/run/run.h"

namespace yardpass {
namespace {

namespace fs = std::filesystem;

struct Word {
  std::string text;
  double left, top, right, bottom;
};
struct Page {
  double width = 0, height = 0;
  std::vector<Word> words;
};

std::string said_by(const std::string& command) {
  std::string text;
  std::FILE* pipe = ::popen(command.c_str(), "r");
  char buffer[1 << 16];
  for (std::size_t n; (n = std::fread(buffer, 1, sizeof buffer, pipe)) > 0;) text.append(buffer, n);
  EXPECT_EQ(::pclose(pipe), 0) << command;
  return text;
}

std::vector<Page> pages_of(const fs::path& pdf) {
  const std::string text = said_by("pdftotext -bbox '" + pdf.string() + "' -");
  static const std::regex tag(
      "<page width=\"([-.0-9]+)\" height=\"([-.0-9]+)\"|"
      "<word xMin=\"([-.0-9]+)\" yMin=\"([-.0-9]+)\" xMax=\"([-.0-9]+)\" yMax=\"([-.0-9]+)\">([^<]*)<");
  std::vector<Page> pages;
  for (std::sregex_iterator at(text.begin(), text.end(), tag), end; at != end; ++at) {
    const auto number = [&](std::size_t k) { return std::stod((*at)[k].str()); };
    if ((*at)[1].matched)
      pages.push_back({number(1), number(2), {}});
    else
      pages.back().words.push_back({(*at)[7].str(), number(3), number(4), number(5), number(6)});
  }
  return pages;
}

/// Of the box of a word, what its letters cover: it is as high as the tallest ones of its face.
bool on_each_other(const Word& a, const Word& b) {
  const auto inner = [](const Word& w) {
    const double h = w.bottom - w.top;
    return Box2(Vec2(w.left + 0.5, w.top + 0.25 * h), Vec2(w.right - 0.5, w.bottom - 0.22 * h));
  };
  return !inner(a).intersection(inner(b)).isEmpty();
}

class Layout : public testing::ScratchFolder {
 protected:
  void SetUp() override {
    if (std::system("pdftotext -v 2> /dev/null") != 0) GTEST_SKIP() << "needs poppler-utils";
  }

  struct Image {
    int width = 0, height = 0;
    std::string bytes;  ///< red, green, blue
    [[nodiscard]] int channel(int i, int j, int k) const {
      return static_cast<unsigned char>(bytes[static_cast<std::size_t>(3 * (j * width + i) + k)]);
    }
  };
  /// The first page.
  [[nodiscard]] Image image_of(const fs::path& pdf, int dots_an_inch) const {
    const fs::path stem = folder() / "page";
    (void)said_by("pdftoppm -r " + std::to_string(dots_an_inch) + " -f 1 -l 1 -singlefile '" + pdf.string() +
                  "' '" + stem.string() + "'");
    Image image;
    int most = 0, taken = 0;
    const std::string file = contents(stem.string() + ".ppm");
    EXPECT_EQ(std::sscanf(file.c_str(), "P6 %d %d %d%n", &image.width, &image.height, &most, &taken), 3);
    image.bytes = file.substr(static_cast<std::size_t>(taken) + 1);
    return image;
  }
  /// Pixels of the rim that are not paper.
  [[nodiscard]] int drawn_on_the_rim(const fs::path& pdf) const {
    const Image image = image_of(pdf, 36);
    int dark = 0;
    for (int j = 0; j < image.height; ++j)
      for (int i = 0; i < image.width; ++i) {
        if (i > 2 && j > 2 && i < image.width - 3 && j < image.height - 3) continue;
        dark += image.channel(i, j, 0) < 250 || image.channel(i, j, 1) < 250;
      }
    return dark;
  }

  void expect_readable(const fs::path& pdf, const std::string& which) {
    static const std::regex minus_nothing("-0(\\.0*)?,?");
    const std::vector<Page> pages = pages_of(pdf);
    ASSERT_FALSE(pages.empty()) << which;
    for (const Page& page : pages) {
      EXPECT_FALSE(page.words.empty()) << which;
      for (std::size_t i = 0; i < page.words.size(); ++i) {
        const Word& word = page.words[i];
        EXPECT_TRUE(word.left >= 4 && word.top >= 2 && word.right <= page.width - 4 &&
                    word.bottom <= page.height - 2)
            << which << ": \"" << word.text << "\" at " << word.left << ", " << word.top << " to "
            << word.right << ", " << word.bottom;
        EXPECT_FALSE(std::regex_match(word.text, minus_nothing)) << which << ": " << word.text;
        for (std::size_t k = 0; k < i; ++k)
          EXPECT_FALSE(on_each_other(word, page.words[k]))
              << which << ": \"" << word.text << "\" on \"" << page.words[k].text << "\" at " << word.left
              << ", " << word.top;
      }
    }
    EXPECT_EQ(drawn_on_the_rim(pdf), 0) << which;
  }
  void expect_all_readable(const fs::path& drawn, const std::string& which) {
    std::size_t count = 0;
    for (const auto& entry : fs::directory_iterator(drawn))
      if (entry.path().extension() == ".pdf")
        expect_readable(entry.path(), which + ", " + entry.path().filename().string()), ++count;
    EXPECT_GT(count, 3u) << which;
  }

  /// Everything that is drawn of a part, and of a job with all that takes room on a page.
  void draw_all(const Mesh& mesh, const std::string& which, bool and_run) {
    const Vec3 size = mesh.box().sizes();
    write_stl(folder() / "part.stl", mesh, "part");
    store(folder() / "job.toml", job_for(std::min(size.x(), size.y()), size.z()));
    const Job job = read_job(folder() / "job.toml");
    for (const char* out : {"run", "part"}) {
      fs::remove_all(folder() / out);
      fs::create_directory(folder() / out);
    }
    const Inspection inspection = inspect_part(job);
    (void)draw_inspection(inspection, folder() / "part", {}, PictureForm::pdf);
    const Vec2 low = plan(mesh.box().min()), high = plan(mesh.box().max());
    draw_section(inspection, {low, high}, folder() / "part" / "section.pdf");
    expect_all_readable(folder() / "part", which + ", inspected");
    if (!and_run) return;
    const RunResult run = run_job(job);
    const Report report = make_report(run);
    (void)write_outputs(report, run.posted.text, folder() / "run",
                        {.form = PictureForm::pdf, .section = SectionLine{low, high}});
    const std::string long_name = "with \"" + report.job().operations[0].name + "\"";
    draw_comparison(
        {{"stepover = 0.2", 2, &report}, {long_name, 2, &report}, {"b", 2, &report}, {"c", 2, &report}},
        folder() / "run" / "compare.pdf");
    expect_all_readable(folder() / "run", which + ", run");
  }

 private:
  static std::string job_for(double narrow, double deep) {
    const auto times = [&](double share) { return std::to_string(share * narrow); };
    std::string job = "title = \"" + std::string(20, 'M') +
                      " third casting for the launch of the ferry, after the drawing of the harbour master, "
                      "with the keel band moved by two planks and \\u00e4nother run of l\\u00fcgsails over "
                      "the slip of the old yard\"\n[part]\nmesh = \"part.stl\"\n[stock]\nabove = " +
                      times(0.01) + "\ncell = " + times(0.02) + "\n";
    for (const auto& [name, number, shape, diameter] :
         {std::tuple("flat with a rather long name of the workshop", 9998, "flat", 0.2),
          std::tuple("ball", 2, "ball", 0.1)})
      job += "[tools.\"" + std::string(name) + "\"]\nnumber = " + std::to_string(number) + "\nshape = \"" +
             shape + "\"\ndiameter = " + times(diameter) +
             "\nflute_length = " + std::to_string(deep + narrow) +
             "\nstickout = " + std::to_string(2 * (deep + narrow)) + "\nspindle = 9000\nfeed = 1234.5\n";
    job +=
        "[[operation]]\nname = \"rough everything down to the plate that it stands on and around it\"\n"
        "strategy = \"roughing\"\ntool = \"flat with a rather long name of the workshop\"\nstepdown = " +
        std::to_string(std::max(0.05 * narrow, 0.1 * deep)) + "\nallowance = " + times(0.01) + "\n";
    job += "[[operation]]\nname = \"along\"\nstrategy = \"parallel\"\ntool = \"ball\"\nstepover = " +
           times(0.04) + "\n";
    return job;
  }
};

Mesh scaled(Mesh mesh, double times) {
  for (Vec3& p : mesh.points) p *= times;
  return mesh;
}

/// A wavy ground as a scanner gives it, with a thousand specks that belong to nothing.
Mesh scan_with_specks() {
  Mesh mesh = testing::sheet(Box2(Vec2(-40, -25), Vec2(40, 25)), 80, 50,
                             [](double x, double y) { return 2 * std::sin(0.15 * x) * std::cos(0.2 * y); });
  testing::Rng rng(5);
  std::vector<Box3> specks;
  for (int k = 0; k < 1000; ++k) {
    const Vec3 at(rng.uniform(-39, 39), rng.uniform(-24, 24), rng.uniform(2.5, 4));
    specks.emplace_back(at, at + Vec3(0.2, 0.2, 0.1));
  }
  const Mesh cloud = testing::blocks(specks);
  const auto first = static_cast<std::int32_t>(mesh.points.size());
  mesh.points.insert(mesh.points.end(), cloud.points.begin(), cloud.points.end());
  for (auto triangle : cloud.triangles) {
    for (auto& corner : triangle) corner += first;
    mesh.triangles.push_back(triangle);
  }
  return mesh;
}

std::vector<std::pair<std::string, Mesh>> parts() {
  std::vector<std::pair<std::string, Mesh>> list;
  for (const char* name : {"paddle-blade", "fairlead-punch", "hull-plug", "porthole-ring", "name-board"})
    list.emplace_back(name, testing::demo_mesh(name));
  list.emplace_back("bowl", demo::bowl(30, 25, 80, 0.05));
  list.emplace_back("block", testing::box_mesh(Box3(Vec3(-30, -20, -10), Vec3(30, 20, 0))));
  list.emplace_back("strip", testing::box_mesh(Box3(Vec3(0, 0, -6), Vec3(400, 9, 0))));
  list.emplace_back("tower", testing::blocks({Box3(Vec3(-20, -20, -100), Vec3(20, 20, -90)),
                                              Box3(Vec3(-6, -6, -90), Vec3(6, 6, 0))}));
  std::vector<Box3> pegs{Box3(Vec3(-60, -40, -20), Vec3(60, 40, -12))};
  for (int i = 0; i < 8; ++i)
    for (int j = 0; j < 5; ++j)
      pegs.emplace_back(Vec3(-52 + 14 * i, -34 + 15 * j, -12), Vec3(-46 + 14 * i, -28 + 15 * j, -i % 3));
  list.emplace_back("pegs", testing::blocks(pegs));
  list.emplace_back("far away", testing::box_mesh(Box3(Vec3(12340, -23460, 980), Vec3(12400, -23420, 1000))));
  list.emplace_back("scan", scan_with_specks());
  return list;
}

class LayoutOfParts : public Layout, public ::testing::WithParamInterface<std::size_t> {};

TEST_P(LayoutOfParts, NoWordsOnWordsAndNothingCutOffInThreeSizes) {
  const auto [name, mesh] = parts()[GetParam()];
  for (const double times : {0.1, 1.0, 8.0})
    draw_all(scaled(mesh, times), name + " x " + std::to_string(times),
             times == 1 || mesh.triangles.size() < 2000);
}
INSTANTIATE_TEST_SUITE_P(Twelve, LayoutOfParts, ::testing::Range<std::size_t>(0, 12));

/// A cone with its top cut off: across its axis a trapezium, beside it a hyperbola.
TEST_F(Layout, ASectionHasTheAreaOfThePart) {
  const auto radius = [](double z) { return 20 - 10 * z / 15; };
  write_stl(folder() / "cone.stl", testing::turned_part({{0, 0}, {20, 0}, {10, 15}, {0, 15}}, 720), "cone");
  Job job;
  job.title = "cone";
  job.file = job.part.mesh = folder() / "cone.stl";
  const Inspection inspection = inspect_part(job);
  for (const double beside : {0.01, 5.0, 12.0, 15.0})
    for (const double turn : {0.0, 0.7}) {
      const Vec2 along(std::cos(turn), std::sin(turn)), across(-along.y(), along.x());
      draw_section(inspection, {beside * across - 25 * along, beside * across + 25 * along},
                   folder() / "section.pdf");
      const Image image = image_of(folder() / "section.pdf", 72);
      double area = 0;
      const int columns = 940;  // of the plot; what is right of it is the legend
      std::vector<int> wide(static_cast<std::size_t>(image.height), 0);
      for (int j = 0; j < image.height; ++j)
        for (int i = 0; i < columns; ++i)
          if (std::abs(image.channel(i, j, 0) - 0xb7) < 6 && std::abs(image.channel(i, j, 2) - 0xd0) < 6)
            ++area, ++wide[static_cast<std::size_t>(j)];
      double expected = 0;
      for (double z = 0.005; z < 15; z += 0.01)
        expected += 0.01 * 2 * std::sqrt(std::max(0.0, radius(z) * radius(z) - beside * beside));
      const double widest = *std::max_element(wide.begin(), wide.end());
      const double scale = widest / (2 * std::sqrt(400 - beside * beside));
      EXPECT_GT(scale, 8) << "pixels a millimetre";
      EXPECT_NEAR(area / (scale * scale), expected, 0.02 * expected) << beside << ", " << turn;
    }
}

}  // namespace
}  // namespace yardpass
