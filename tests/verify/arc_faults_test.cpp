// Single words of a program with lines, arcs and a helix changed at random, in its text: a pocket with
// upright walls and a flat cutter, for which the definition is plain geometry in plan.
#include <gtest/gtest.h>

#include <cmath>
#include <cstdio>
#include <sstream>

#include "support/nasty.h"
#include "support/rng.h"
#include "yardpass/verify/judge.h"

namespace yardpass {
namespace {

using testing::Rng;

constexpr double kHarm = 0.01, kNone = 0.001, kRadius = 4, kFloor = -8;

/// The pocket's outline: 40 x 24 with corners of 6, as a polygon.
std::vector<Vec2> outline() {
  std::vector<Vec2> points;
  const Vec2 middles[] = {{14, 6}, {-14, 6}, {-14, -6}, {14, -6}};
  for (int corner = 0; corner < 4; ++corner)
    for (int k = 0; k <= 24; ++k) {
      const double angle = (corner + k / 24.0) * M_PI / 2;
      points.push_back(middles[corner] + 6 * Vec2(std::cos(angle), std::sin(angle)));
    }
  return points;
}

/// A plate from X -30 to 30, Y -20 to 20 with the pocket: wall, floor and top as a fan around the outline.
Mesh pocket_mesh() {
  Mesh mesh;
  const std::vector<Vec2> ring = outline();
  const auto add = [&](const Vec3& a, const Vec3& b, const Vec3& c) {
    const auto first = static_cast<std::int32_t>(mesh.points.size());
    mesh.points.insert(mesh.points.end(), {a, b, c});
    mesh.triangles.push_back({first, first + 1, first + 2});
  };
  // Outwards from the middle to the rectangle.
  const auto to_edge = [](const Vec2& p) {
    return Vec2(p * std::min(30 / std::max(std::abs(p.x()), 1e-9), 20 / std::max(std::abs(p.y()), 1e-9)));
  };
  for (std::size_t i = 0; i < ring.size(); ++i) {
    const Vec2 a = ring[i], b = ring[(i + 1) % ring.size()];
    if (a == b) continue;
    add({0, 0, kFloor}, with_z(a, kFloor), with_z(b, kFloor));
    add(with_z(a, kFloor), with_z(b, 0), with_z(b, kFloor));
    add(with_z(a, kFloor), with_z(a, 0), with_z(b, 0));
    add(with_z(a, 0), with_z(to_edge(a), 0), with_z(to_edge(b), 0));
    add(with_z(a, 0), with_z(to_edge(b), 0), with_z(b, 0));
    // The corner of the plate between two edges.
    if (std::abs(to_edge(a).x()) != std::abs(to_edge(b).x()) &&
        std::abs(to_edge(a).y()) != std::abs(to_edge(b).y()))
      add(with_z(to_edge(a), 0), {std::copysign(30, a.x() + b.x()), std::copysign(20, a.y() + b.y()), 0},
          with_z(to_edge(b), 0));
  }
  return mesh;
}

const std::vector<std::string>& clean_lines() {
  static const std::vector<std::string> lines = [] {
    std::vector<std::string> list{
        "G90 G21 G17", "(operation 1: pocket)", "T1 M6", "S5000 M3", "G0 X-24 Y0", "G43 H1 Z10", "Z3"};
    const auto say = [&](const char* format, auto... values) {
      char text[120];
      std::snprintf(text, sizeof text, format, values...);
      list.emplace_back(text);
    };
    // The top by loops, then two rapids over it.
    say("G1 Z0.02 F500");
    for (double y = -18; y <= 18; y += 6) {
      say("G1 X24 Y%.3f F1500", y);
      say("G3 X24 Y%.3f J3", y + 6);
      y += 6;
      say("G1 X-24 Y%.3f", y);
      say("G2 X-24 Y%.3f J3", y + 6);
    }
    say("G0 Z2");
    say("G0 X0 Y0");
    say("G0 Z1");
    say("G1 X3 F800");
    for (double z = -1; z >= -7; z -= 2) say("G3 X3 Y0 Z%.3f I-3 J0 F600", z);
    say("G3 X3 Y0 Z-7.98 I-3 J0");
    say("G3 X3 Y0 I-3 J0");
    for (const double inset : {7.5, 4.02}) {  // loops inside the wall
      const double x = 20 - inset, y = 12 - inset, r = std::max(6 - inset, 0.0);
      say("G1 X%.3f Y0 F1200", x);
      const double sx[] = {1, -1, -1, 1}, sy[] = {1, 1, -1, -1};
      for (int k = 0; k < 4; ++k) {
        const bool along_y = k % 2 == 0;
        const double ax = sx[k] * (along_y ? x : x - r), ay = sy[k] * (along_y ? y - r : y);
        const double bx = sx[k] * (along_y ? x - r : x), by = sy[k] * (along_y ? y : y - r);
        say("G1 X%.3f Y%.3f", ax, ay);
        if (r > 0) say("G3 X%.3f Y%.3f I%.3f J%.3f", bx, by, sx[k] * (x - r) - ax, sy[k] * (y - r) - ay);
      }
      say("G1 X%.3f Y0", x);
    }
    say("G1 X10 Y0 Z-7");
    say("G0 Z2");
    say("G0 X-26 Y-16");
    list.insert(list.end(), {"M5", "M30"});
    return list;
  }();
  return lines;
}

std::string joined(const std::vector<std::string>& lines) {
  std::string text;
  for (const std::string& line : lines) text += line + "\n";
  return text;
}

/// How deep the cutter stands in the plate with its tip here: the least that it must shrink all round.
double depth_at(const Vec3& tip, double radius) {
  static const std::vector<Vec2> ring = outline();
  const Vec2 p = plan(tip);
  bool inside = false;
  double wall = 1e300;
  for (std::size_t i = 0, k = ring.size() - 1; i < ring.size(); k = i++) {
    const Vec2 a = ring[i], b = ring[k];
    const double t = std::clamp((p - a).dot(b - a) / std::max((b - a).squaredNorm(), 1e-300), 0.0, 1.0);
    wall = std::min(wall, (a + t * (b - a) - p).norm());
    if ((a.y() > p.y()) != (b.y() > p.y()) &&
        p.x() < (b.x() - a.x()) * (p.y() - a.y()) / (b.y() - a.y()) + a.x())
      inside = !inside;
  }
  const double off_plate =
      std::hypot(std::max(0.0, std::abs(p.x()) - 30), std::max(0.0, std::abs(p.y()) - 20));
  const double sideways = inside ? radius - wall : radius - off_plate;
  double depth = std::min(sideways, 0 - tip.z());
  if (inside) depth = std::max(depth, std::min(radius, kFloor - tip.z()));
  return depth;
}

std::vector<Vec3> tips_of(const Program& program, const ProgramMove& move) {
  std::vector<Vec3> tips;
  const Arc* arc = program.arc_of(move);
  const int steps = static_cast<int>(std::min(4000.0, program.length_of(move) / 0.01)) + 2;
  for (int i = 0; i <= steps; ++i) {
    const double share = static_cast<double>(i) / steps;
    tips.push_back(arc ? arc->at(share) : Vec3(move.from + share * (move.to - move.from)));
  }
  return tips;
}

/// The stock by plain search.
class PlainStock {
 public:
  explicit PlainStock(const Stock& block)
      : block_(block), heights_(block.heights().begin(), block.heights().end()) {}
  void cut(const std::vector<Vec3>& tips) {
    each(tips, 0, [](double& height, double z) { height = std::min(height, z); });
  }
  double meets(const std::vector<Vec3>& tips, double less) {
    double deepest = 0;
    each(tips, less, [&](double& height, double z) { deepest = std::max(deepest, height - z); });
    return deepest;
  }

 private:
  template <typename Visit>
  void each(const std::vector<Vec3>& tips, double less, const Visit& visit) {
    for (std::size_t i = 0; i < tips.size(); i += 3) {  // every 0.03 mm is near enough to a cell of 0.5
      const Vec3& tip = tips[std::min(i, tips.size() - 1)];
      const double radius = kRadius - less;
      const auto range = block_.cells_between(plan(tip).array() - radius, plan(tip).array() + radius);
      for (int row = range.first_row; row < range.last_row; ++row)
        for (int column = range.first_column; column < range.last_column; ++column)
          if ((block_.centre(column, row) - plan(tip)).norm() < radius)
            visit(heights_[block_.index(column, row)], tip.z() + less);
    }
  }
  const Stock& block_;
  std::vector<double> heights_;
};

class ArcFaults : public ::testing::Test {
 protected:
  [[nodiscard]] Judgement judged(const Program& program) const {
    return judge(program, part_, {tool_}, block_);
  }
  std::shared_ptr<const ContactPart> part_ = make_contact_part(pocket_mesh());
  Tool tool_ = completed({.name = "flat8",
                          .number = 1,
                          .shape = Shape::flat,
                          .diameter_mm = 2 * kRadius,
                          .flute_length_mm = 20,
                          .stickout_mm = 60,
                          .spindle_rpm = 5000,
                          .feed_mm_min = 1200});
  Stock block_{Box3(Vec3(-30, -20, -12), Vec3(30, 20, 0.5)), 0.5};
};

TEST_F(ArcFaults, TheProgramItselfIsClean) {
  const Program program = read_program(joined(clean_lines()), "x.nc");
  EXPECT_GT(program.arcs.size(), 14u);
  const Judgement judgement = judged(program);
  for (const Finding& finding : judgement.findings)
    ADD_FAILURE() << name_of(finding.kind) << " line " << finding.line << " depth " << finding.depth_mm;
  double deepest = -1e300;
  for (const ProgramMove& move : program.moves)
    for (const Vec3& tip : tips_of(program, move)) deepest = std::max(deepest, depth_at(tip, kRadius));
  EXPECT_LT(deepest, 0) << "by the definition";
}

TEST_F(ArcFaults, OneWordChanged) {
  Rng rng(21);
  int harmful = 0, harmless = 0, refused = 0;
  for (int round = 0; round < testing::rounds(90); ++round) {
    std::vector<std::string> lines = clean_lines();
    const auto at = static_cast<std::size_t>(7 + rng.pick(static_cast<int>(lines.size()) - 9));
    std::string& line = lines[at];
    const std::string before = line;
    std::vector<std::size_t> words;
    for (std::size_t k = 0; k < line.size(); ++k)
      if (std::string("XYZIJ").find(line[k]) != std::string::npos) words.push_back(k);
    if (words.empty()) continue;
    if (round % 6 == 0) {
      line = "(dropped)";
    } else if (round % 6 == 1 && line.rfind("G1", 0) == 0) {
      line[1] = '0';
    } else if (round % 6 == 2 && (line.rfind("G3", 0) == 0 || line.rfind("G2", 0) == 0)) {
      line[1] = line[1] == '2' ? '3' : '2';  // the other way round
    } else {
      const std::size_t word = words[static_cast<std::size_t>(rng.pick(static_cast<int>(words.size())))];
      std::size_t used = 0;
      const double value = std::stod(line.substr(word + 1), &used);
      char text[40];
      std::snprintf(text, sizeof text, "%.3f", value + (rng.pick(2) ? 1 : -1) * rng.uniform(0.05, 2));
      line = line.substr(0, word + 1) + text + line.substr(word + 1 + used);
    }
    const std::string fault = "line " + std::to_string(at + 1) + ": " + before + " -> " + line;
    Program program;
    try {
      program = read_program(joined(lines), "x.nc");
    } catch (const Error&) {
      ++refused;  // an arc that does not end on its circle
      continue;
    }
    double worst = 0;
    std::int32_t first = 0;
    const auto harm = [&](double depth, std::int32_t number) {
      worst = std::max(worst, depth);
      if (depth > kHarm && (first == 0 || number < first)) first = number;
    };
    PlainStock stock(block_);
    for (const ProgramMove& move : program.moves) {
      const std::vector<Vec3> tips = tips_of(program, move);
      for (const Vec3& tip : tips) harm(depth_at(tip, kRadius), move.line);
      if (!move.rapid()) {
        stock.cut(tips);
      } else if (stock.meets(tips, kHarm) > 0) {
        harm(2 * kHarm, move.line);
      } else if (stock.meets(tips, 0) > 1e-6) {
        harm(kHarm, move.line);
      }
    }
    const Judgement judgement = judged(program);
    if (first > 0) {
      ++harmful;
      ASSERT_FALSE(judgement.clean()) << fault << ", harm " << worst;
      EXPECT_EQ(judgement.findings[0].line, first)
          << fault << ", harm " << worst << ", " << name_of(judgement.findings[0].kind);
    } else if (worst < kNone) {
      ++harmless;
      EXPECT_TRUE(judgement.clean()) << fault << ": "
                                     << (judgement.clean() ? "" : name_of(judgement.findings[0].kind));
    }
  }
  EXPECT_GT(harmful, 6) << refused << " refused, " << harmless << " harmless";
  EXPECT_GT(harmless, 20);
  EXPECT_GT(refused, 3);
}

}  // namespace
}  // namespace yardpass
