// Jobs drawn at random: each runs or is refused with words, says the same when its program is checked, and a
// judge written from the definition, on cells a fifth as wide, sees the same.
#include <gtest/gtest.h>

#include <cstdlib>
#include <sstream>

#include "support/nasty.h"
#include "support/plain_judge.h"
#include "support/rng.h"
#include "support/scratch.h"
#include "yardpass/part/write_stl.h"
#include "yardpass/report/report.h"
#include "yardpass/run/run.h"

namespace yardpass {
namespace {

using testing::Rng;

/// Ground of about 36 x 26 between -7 and 5.
Mesh random_part(Rng& rng) {
  const int kind = rng.pick(5);
  const double a = rng.uniform(0.1, 0.6), b = rng.uniform(0.1, 0.6), deep = rng.uniform(1, 6),
               wide = rng.uniform(3, 9), x0 = rng.uniform(-8, 8), y0 = rng.uniform(-6, 6);
  Rng noise(rng.bits());
  const auto top = [&](double x, double y) -> double {
    const double far = std::hypot(x - x0, y - y0);
    switch (kind) {
      case 0:  // hills
        return 2 * std::sin(a * x) * std::cos(b * y);
      case 1:  // a bowl with a rim
        return far < wide ? -deep * (1 - far * far / (wide * wide)) : 0;
      case 2:  // a boss with drafted sides
        return std::clamp((wide - far) * 4, -deep, 0.0);
      case 3:  // a pocket with upright sides, and a step
        return std::max(std::abs(x - x0), std::abs(y - y0)) < wide ? -deep : x > 12 ? 2.0 : 0.0;
      default:  // rough
        return noise.uniform(0, 0.8) + 1.5 * std::sin(a * x);
    }
  };
  return testing::sheet(Box2(Vec2(-18, -13), Vec2(18, 13)), 72, 52, top);
}

class RandomJob {
 public:
  explicit RandomJob(std::uint64_t seed) : rng_(seed) {}

  std::string text() {
    out_ << "title = \"random\"\n[part]\nmesh = \"part.stl\"\n";
    if (rng_.pick(4) == 0) out_ << "turn = [{ axis = \"z\", angle = " << number(0, 360) << " }]\n";
    stock();
    machine();
    const int tools = 1 + rng_.pick(3);
    for (int k = 1; k <= tools; ++k) tool(k);
    if (rng_.pick(4) == 0)
      out_ << "[keep_away.clamp]\nmesh = \"clamp.stl\"\nclearance = " << number(0, 2) << "\nin_the_way = \""
           << (rng_.pick(2) ? "skip" : "over") << "\"\n",
          clamp_ = true;
    const int operations = 1 + rng_.pick(3);
    for (int k = 1; k <= operations; ++k) operation(k, 1 + rng_.pick(tools));
    return out_.str();
  }

 private:
  std::string number(double low, double high) {
    char text[32];
    std::snprintf(text, sizeof text, "%.3f", rng_.uniform(low, high));
    return text;
  }
  void stock() {
    out_ << "[stock]\ncell = 0.5\n";
    switch (rng_.pick(4)) {
      case 0:
        out_ << "around_part = " << number(0.2, 2) << "\n";
        break;
      case 1:
        out_ << "corners = [[-17.2, -14.1, -8], [19.3, 13.3, " << number(2, 7) << "]]\n";
        break;
      default:
        out_ << "margin = [" << number(0, 4) << ", " << number(0, 4) << "]\nabove = " << number(0.1, 3)
             << "\n";
    }
  }
  void machine() {
    if (rng_.pick(2) == 0) return;
    out_ << "[machine]\n";
    if (rng_.pick(2)) out_ << "rapids = \"dog-leg\"\n";
    if (rng_.pick(3) == 0) out_ << "decimals = 2\n";
    if (rng_.pick(3) == 0) out_ << "rapid_feed = [9000, 7000, 4000]\n";
  }
  void tool(int number_of) {
    const double d = 0.5 * (3 + rng_.pick(14));
    out_ << "[tools.t" << number_of << "]\nnumber = " << number_of << "\ndiameter = " << d
         << "\nspindle = 9000\nfeed = " << number(300, 3000) << "\n";
    switch (rng_.pick(5)) {
      case 0:
        out_ << "shape = \"flat\"\n";
        break;
      case 1:
        out_ << "shape = \"bull\"\ncorner_radius = " << d * rng_.uniform(0.05, 0.45) << "\n";
        break;
      case 2:
        out_ << "shape = \"taper\"\ntaper_angle = " << number(2, 20) << "\nflute_length = " << 2 * d
             << "\ncorner_radius = " << d / 2 << "\n";
        break;
      default:
        out_ << "shape = \"ball\"\n";
    }
    if (rng_.pick(2)) {
      const double length = rng_.uniform(2.1, 6) * d;
      out_ << "stickout = " << length << "\nholder = [{ length = 8, lower_diameter = " << d + 4
           << ", upper_diameter = " << d + 8 << " }, { length = 30, lower_diameter = " << d + 9
           << ", upper_diameter = " << d + 9 << " }]\n";
    }
    if (rng_.pick(4) == 0) out_ << "shank_diameter = " << d * rng_.uniform(0.7, 1.6) << "\n";
    if (rng_.pick(4) == 0) out_ << "steepest_entry = " << number(3, 90) << "\n";
  }
  void operation(int number_of, int tool) {
    out_ << "[[operation]]\nname = \"operation " << number_of << "\"\ntool = \"t" << tool << "\"\n";
    const bool rough = rng_.pick(3) == 0;
    if (rough) {
      out_ << "strategy = \"roughing\"\nstepdown = " << number(0.8, 3) << "\n";
    } else {
      out_ << "strategy = \"parallel\"\nstepover = \"" << number(10, 60) << " %\"\nangle = " << number(0, 180)
           << "\ntolerance = " << number(0.005, 0.05) << "\n";
    }
    const int limit = rng_.pick(4);
    if (limit < 2)
      out_ << "keep_inside = [[-12, -9], [" << number(2, 14) << ", -9], [11, 9], [" << number(-14, 2)
           << ", 9]]\n";
    if (limit == 0) out_ << "keep_out = [[-3, -3], [3, -4], [2, 4], [-4, 2]]\n";
    if (limit == 1 || limit == 3)
      out_ << "limit = \"" << (rng_.pick(2) || rough ? "axis" : "cutter") << "\"\nmargin = " << number(-1, 2)
           << "\n";
    if (rng_.pick(3) == 0)
      out_ << (rough ? "allowance = " + number(0.1, 0.6) : "allowance = " + number(-0.2, 0.5)) << "\n";
    if (clamp_ && rng_.pick(3)) out_ << "keep_away = \"clamp\"\n";
    if (rng_.pick(4) == 0) out_ << "top = " << number(-1, 1) << "\n";
    if (rng_.pick(4) == 0) out_ << "bottom = " << number(-4, -1) << "\n";
    if (!rough && rng_.pick(4) == 0) out_ << "link_distance = " << number(0, 20) << "\n";
  }
  Rng rng_;
  std::ostringstream out_;
  bool clamp_ = false;
};

double deepest(const Judgement& judgement, FindingKind kind) {
  double depth = 0;
  for (const Finding& finding : judgement.findings)
    if (finding.kind == kind) depth = std::max(depth, finding.depth_mm);
  return depth;
}

class RandomJobs : public testing::ScratchFolder {
 protected:
  void agree(const RunResult& run, const std::string& job) {
    if (run.setup.job.machine.controller.dog_leg_rapids) return;  // the plain judge moves straight
    bool overcut = false;
    for (const Settled& settled : run.operations) overcut |= settled.values.intended_depth_mm > 0;
    const double step = 0.1;
    const testing::PlainVerdict plain = testing::judge_plainly(
        run.judged.program, run.setup.part, run.setup.job.tools, run.setup.new_stock(), 5, step);
    const Judgement& judgement = run.judged.judgement;
    for (const FindingKind kind :
         {FindingKind::gouge, FindingKind::rapid_into_part, FindingKind::rapid_through_stock,
          FindingKind::shank_into_part, FindingKind::holder_into_part, FindingKind::shank_into_stock,
          FindingKind::holder_into_stock}) {
      if (overcut && (kind == FindingKind::gouge || kind == FindingKind::rapid_into_part)) continue;
      const auto at = plain.harm.find(kind);
      const testing::PlainHarm harm = at == plain.harm.end() ? testing::PlainHarm{} : at->second;
      const double found = deepest(judgement, kind);
      if (harm.at_least > 0.005)
        EXPECT_GT(found, 0) << name_of(kind) << " missed, " << harm.at_least << " deep in line " << harm.line
                            << "\n"
                            << job;
      if (found > 0.02)
        EXPECT_GT(harm.at_most, 0) << name_of(kind) << " of " << found << " is none\n"
                                   << job << in_words(judgement);
    }
    double sum = 0;
    std::size_t count = 0;
    const std::vector<double> tops = part_heights(judgement.stock, run.setup.part);
    for (std::size_t i = 0; i < tops.size(); ++i)
      if (tops[i] != kNothingBelow && tops[i] >= judgement.stock.bottom_z())
        sum += judgement.stock.heights()[i] - tops[i], ++count;
    EXPECT_NEAR(sum / static_cast<double>(count), plain.mean_left_mm,
                0.02 * std::abs(plain.mean_left_mm) + 0.04)
        << job;
  }
};

TEST_F(RandomJobs, RunAgreeWithTheirCheckAndWithAPlainJudge) {
  const char* only = std::getenv("YARDPASS_RANDOM_JOB");
  const int first = only ? std::atoi(only) : 1, last = only ? first : std::min(testing::rounds(30), 500);
  int ran = 0, dirty = 0;
  write_stl(folder() / "clamp.stl", testing::box_mesh(Box3(Vec3(-20, -15, -8), Vec3(-13, -8, 6))), "clamp");
  for (int seed = first; seed <= last; ++seed) {
    Rng rng(static_cast<std::uint64_t>(seed));
    write_stl(folder() / "part.stl", random_part(rng), "part");
    const std::string text = RandomJob(rng.bits()).text();
    store(folder() / "job.toml", text);
    const std::string job = "seed " + std::to_string(seed) + "\n" + text;
    std::optional<RunResult> run;
    try {
      run.emplace(run_job(read_job(folder() / "job.toml")));
    } catch (const Error& error) {
      EXPECT_GT(std::string(error.what()).size(), 20u) << job;
      if (only) std::printf("%s\n%s\n", error.what(), job.c_str());
      continue;
    }
    ++ran;
    dirty += !run->judged.clean();
    const JudgedProgram again =
        judge_program(read_program(run->posted.text, "program.nc"), run->setup, run->operations);
    EXPECT_EQ(in_words(again.judgement), in_words(run->judged.judgement)) << job;
    agree(*run, job);
    if (HasFailure()) break;
  }
  std::printf("%d of %d jobs ran, %d with findings\n", ran, last - first + 1, dirty);
  EXPECT_GT(ran, (last - first) / 2) << "most jobs make sense";
}

}  // namespace
}  // namespace yardpass
