// Programs for every kind of control: read back they make the same moves, and a reader that knows the
// standard alone accepts them.
#include <gtest/gtest.h>

#include <cmath>
#include <numbers>

#include "post/strict_reader.h"
#include "support/rng.h"
#include "yardpass/post/read_program.h"
#include "yardpass/post/write_program.h"

namespace yardpass {
namespace {

using testing::Rng;

Tool some_tool(int number) {
  return completed({.name = "t" + std::to_string(number),
                    .number = number,
                    .diameter_mm = 6,
                    .spindle_rpm = 9000,
                    .feed_mm_min = 1800});
}

/// Cuts by lines and arcs between rapids over the plane; the arcs as this controller says them.
Toolpath some_path(Rng& rng, int tool, const Controller& controller) {
  Toolpath path;
  path.tool = some_tool(tool);
  path.start = {rng.uniform(-50, 50), rng.uniform(-50, 50), 25};
  Vec3 at = path.start;
  const auto go = [&](const Vec3& to, MoveKind kind, double feed) {
    path.moves.push_back({to, kind, feed});
    at = to;
  };
  for (int cut = 0; cut < 6; ++cut) {
    go({rng.uniform(-50, 50), rng.uniform(-50, 50), 25}, MoveKind::rapid, 0);
    go(posted(with_z(plan(at), rng.uniform(-5, 5)), posted_form(controller).step_mm), MoveKind::plunge, 300);
    for (int i = rng.pick(20); i > 0; --i) {
      const auto plane = static_cast<ArcPlane>(rng.pick(3));
      const PlaneAxes axes = axes_of(plane);
      const double radius = rng.uniform(2, 40), turn = rng.uniform(0.2, 2.2) * (rng.pick(2) ? 1 : -1);
      Arc arc{at, at, at, turn, plane};
      arc.centre[axes.first] += radius;
      const double angle = std::numbers::pi + turn;
      arc.end[axes.first] = arc.centre[axes.first] + radius * std::cos(angle);
      arc.end[axes.second] = arc.centre[axes.second] + radius * std::sin(angle);
      const auto said = posted(arc, posted_form(controller));
      if (rng.pick(2) || !said || !controller.arc_planes[static_cast<std::size_t>(plane)]) {
        go(posted(at + Vec3(rng.uniform(-3, 3), rng.uniform(-3, 3), rng.uniform(-1, 1)),
                  posted_form(controller).step_mm),
           MoveKind::cut, 1800);
        continue;
      }
      path.moves.push_back({said->end, MoveKind::cut, 1800, -1, static_cast<std::int32_t>(path.arcs.size())});
      path.arcs.push_back(*said);
      at = said->end;
    }
    go(with_z(plan(at), 25), MoveKind::rapid, 0);
  }
  return path;
}

Controller some_controller(Rng& rng) {
  Controller c;
  c.inches = rng.pick(2);
  c.decimals = c.inches ? 4 + rng.pick(2) : 3 + rng.pick(2);
  c.modal = rng.pick(3) > 0;
  c.line_numbers = rng.pick(2) ? 0 : 1 + rng.pick(20);
  c.inverse_time = rng.pick(4) == 0;
  for (bool& plane : c.arc_planes) plane = rng.pick(4) > 0;
  c.arcs_by_radius = rng.pick(3) == 0;
  c.length_compensation = rng.pick(4) > 0;
  if (rng.pick(3) == 0) c.coolant_on = "M7";
  if (rng.pick(3) == 0) c.first_lines = {"G61", "G4 P1"};
  if (rng.pick(3) == 0) c.last_lines = {"G53 G0 Z0"};
  if (rng.pick(3) == 0) c.tool_change = {"G53 G0 Z0", "T{tool} M6"};
  if (rng.pick(3) == 0) c.path_tolerance = "G64 P{tolerance}";
  c.optional_stops = static_cast<Controller::Stops>(rng.pick(3));
  c.comments = static_cast<Controller::Comments>(rng.pick(3));
  c.capitals = rng.pick(2);
  if (rng.pick(3) == 0) c.comment_signs = " .-";
  if (rng.pick(3) == 0) c.comment_length = 16;
  c.program_number = rng.pick(2) ? 0 : 7;
  c.files = static_cast<Controller::Files>(rng.pick(3));
  if (rng.pick(3) == 0) c.most_blocks = 150;
  c.title = rng.pick(2);
  return c;
}

std::vector<ProgramMove> at_feed(const Program& program) {
  std::vector<ProgramMove> moves;
  for (const ProgramMove& move : program.moves)
    if (!move.rapid()) moves.push_back(move);
  return moves;
}

void expect_same_moves(const Program& program, const std::vector<const Toolpath*>& paths, double step) {
  const std::vector<ProgramMove> moves = at_feed(program);
  std::size_t i = 0;
  for (const Toolpath* path : paths) {
    Vec3 at = posted(path->start, step);
    for (const Move& move : path->moves) {
      const Vec3 to = posted(move.to, step);
      if (move.kind != MoveKind::rapid && (to - at).norm() > 1e-9) {
        ASSERT_LT(i, moves.size());
        EXPECT_LT((moves[i].from - at).norm(), 1e-8);
        EXPECT_LT((moves[i].to - to).norm(), 1e-8);
        EXPECT_EQ(moves[i].tool, path->tool.number);
        EXPECT_NEAR(moves[i].feed_mm_min, move.feed_mm_min, 0.2) << "line " << moves[i].line;
        const Arc *const said = path->arc_of(move), *const read = program.arc_of(moves[i]);
        ASSERT_EQ(said != nullptr, read != nullptr);
        if (said) {
          EXPECT_LT((said->centre - read->centre).norm(), 1e-6);
          EXPECT_LT((said->at(0.5) - read->at(0.5)).norm(), 1e-6) << "half-way";
        }
        ++i;
      }
      at = to;
    }
  }
  EXPECT_EQ(i, moves.size());
}

TEST(Dialects, ReadBackWhatWasWrittenInAnyOfThem) {
  for (int seed = 1; seed <= testing::rounds(150); ++seed) {
    SCOPED_TRACE(seed);
    Rng rng(static_cast<std::uint64_t>(seed));
    const Controller controller = some_controller(rng);
    const Toolpath a = some_path(rng, 3, controller), b = some_path(rng, 3, controller),
                   c = some_path(rng, 8, controller);
    const OperationPath operations[] = {
        {1, "first: one", &a, 0.01}, {2, "second", &b, 0.02}, {5, "third", &c, 0.01}};
    const double step = posted_form(controller).step_mm;
    const ProgramReading reading{.length_compensation = controller.length_compensation};
    EXPECT_NO_THROW(try_out(controller));
    const PostedProgram posted = write_program("round trip", operations, controller);
    const Program program = read_program(posted.text, "p.nc", reading);
    expect_same_moves(program, {&a, &b, &c}, step);
    ASSERT_EQ(program.operations.size(), 3u);
    EXPECT_EQ(program.operations[2].number, 5);
    EXPECT_EQ(static_cast<std::size_t>(program.lines), posted.origin.size());
    EXPECT_NO_THROW((void)testing::StrictReader().run(posted.text));
    // The files for the machine make the same moves, one after the other.
    const std::vector<ProgramFile> files = program_files("round trip", operations, controller);
    std::vector<ProgramMove> all;
    for (const ProgramFile& file : files) {
      const Program one = read_program(file.text, file.name, reading);
      const std::vector<ProgramMove> moves = at_feed(one);
      all.insert(all.end(), moves.begin(), moves.end());
      if (controller.comments == Controller::Comments::none)
        EXPECT_EQ(file.text.find('('), std::string::npos);
      if (controller.most_blocks > 0) EXPECT_LE(one.lines, controller.most_blocks);
      if (controller.files == Controller::Files::each_tool) EXPECT_EQ(one.tools.size(), 1u);
    }
    const std::vector<ProgramMove> wanted = at_feed(program);
    if (files.empty()) continue;
    ASSERT_EQ(all.size(), wanted.size());
    for (std::size_t i = 0; i < all.size(); ++i) EXPECT_EQ(all[i].to, wanted[i].to);
  }
}

TEST(Dialects, AnInchProgramIsTheMetricOneWithinHalfADecimal) {
  Rng rng(5);
  Controller metric, inch;
  metric.arc_planes = inch.arc_planes = {false, false, false};
  inch.inches = true, inch.decimals = 4;
  const Toolpath path = some_path(rng, 3, metric);
  const OperationPath operation{1, "a", &path};
  const Program in_mm = read_program(write_program("t", {&operation, 1}, metric).text, "mm.nc"),
                in_inch = read_program(write_program("t", {&operation, 1}, inch).text, "inch.nc");
  ASSERT_EQ(in_mm.moves.size(), in_inch.moves.size());
  for (std::size_t i = 0; i < in_mm.moves.size(); ++i)
    EXPECT_LE((in_mm.moves[i].to - in_inch.moves[i].to).cwiseAbs().maxCoeff(), 0.5 * (0.00254 + 0.001) + 1e-9)
        << "half of each decimal";
}

TEST(Dialects, RefuseWhatTheControlCannotTake) {
  Rng rng(1);
  Controller controller;
  const Toolpath path = some_path(rng, 3, controller);
  const OperationPath operation{1, "a", &path};
  const auto refused = [&](const Controller& c, const char* why) {
    try {
      (void)write_program("t", {&operation, 1}, c);
      (void)program_files("t", {&operation, 1}, c);
      ADD_FAILURE() << why;
    } catch (const Error& error) {
      EXPECT_NE(std::string(error.what()).find(why), std::string::npos) << error.what();
    }
  };
  Controller slow = controller, flat = controller, coarse = controller, small = controller;
  slow.most_rpm = 5000;
  refused(slow, "turns at 9000");
  flat.arc_planes = {false, false, false};
  ASSERT_FALSE(path.arcs.empty());
  refused(flat, "in a plane in which the control takes none");
  coarse.arcs_by_radius = true;
  refused(coarse, "whole steps");
  small.most_blocks = 35;
  refused(small, "most_blocks");
}

TEST(Dialects, LinesOfOnesOwnAreTriedOut) {
  const auto wrong = [](const std::vector<std::string>& change, const char* why) {
    Controller controller;
    controller.tool_change = change;
    try {
      try_out(controller);
      ADD_FAILURE() << why;
    } catch (const Error& error) {
      EXPECT_NE(std::string(error.what()).find(why), std::string::npos) << error.what();
    }
  };
  wrong({"T{number} M6"}, "{tool}");
  wrong({"T{tool} M6", "M123"}, "M123");
  wrong({"G0 X5"}, "before a tool");
  wrong({}, "before a tool");
  Controller good;
  good.tool_change = {"G91 G28 Z0", "G90", "T{tool} M6"};
  EXPECT_NO_THROW(try_out(good));
}

}  // namespace
}  // namespace yardpass
