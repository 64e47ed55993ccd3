// Moves and tools of a scene.
#include <algorithm>

#include <fmt/format.h>

#include "report/page/packed.h"
#include "report/page/scene.h"
#include "report/tool_outline.h"
#include "yardpass/geom/text.h"
#include "yardpass/verify/time.h"

namespace yardpass::detail {

namespace {

/// One of the kinds that the page tells apart: of a program that we did not plan, rapids and feed; the way
/// down after a tool change is a kind of its own, which is not drawn.
constexpr const char* kKinds[] = {"rapid", "plunge", "ramp", "cut", "link", "lead", "feed", "tool change"};
constexpr int kFeed = 6, kChange = 7;

int kind_of(const Report& report, const ProgramMove& move) {
  if (move.after_change) return kChange;
  if (report.run)
    if (const Move* planned = move_of_line(*report.run, move.line)) return static_cast<int>(planned->kind);
  return move.rapid() ? 0 : kFeed;
}

Json turning(const std::vector<Vec2>& outline) {
  Json list = Json::array();
  for (const Vec2& p : outline) list.push_back({rounded(p.x()), rounded(p.y())});
  return list;
}

}  // namespace

std::vector<std::int64_t> add_moves(Scene& scene, const Report& report) {
  const Program& program = report.judged.program;
  const std::vector<double> seconds = seconds_of_moves(program, report.job().machine.motion);
  PackedSteps way[3], lines, passes;
  PackedRuns kinds, operations, feeds;
  Packed milliseconds;
  double told_s = 0, now_s = 0;
  std::int64_t count = 0;
  std::vector<std::int64_t> up_to;
  for (std::size_t i = 0; i < program.moves.size(); ++i) {
    const ProgramMove& move = program.moves[i];
    std::vector<Vec3> points = program.points_of(move, kSceneSagitta);
    // The first place of all is where the tip is before it moves.
    points.erase(points.begin());
    const int kind = kind_of(report, move);
    const std::int32_t pass = report.pass_of_line(move.line);
    for (std::size_t k = 0; k < points.size(); ++k) {
      for (int axis = 0; axis < 3; ++axis) way[axis].add(steps_of(points[k][axis]));
      now_s += seconds[i] / static_cast<double>(points.size());
      if (kind == kChange) now_s += report.job().machine.motion.tool_change_s;
      // Rounding does not add up: each is the difference of two rounded times.
      const auto ms = std::llround(1000 * now_s) - std::llround(1000 * told_s);
      told_s = now_s;
      milliseconds.add(ms);
      kinds.add(kind), lines.add(move.line), passes.add(pass), operations.add(move.operation);
      feeds.add(std::llround(move.feed_mm_min));
      ++count;
    }
    up_to.push_back(count);
  }
  for (int k = 0; k < 3; ++k) scene.data.emplace_back(std::string("way-") + "xyz"[k], way[k].bytes());
  scene.data.emplace_back("way-kinds", kinds.bytes());
  scene.data.emplace_back("way-lines", lines.bytes());
  scene.data.emplace_back("way-passes", passes.bytes());
  scene.data.emplace_back("way-operations", operations.bytes());
  scene.data.emplace_back("way-feeds", feeds.bytes());
  scene.data.emplace_back("way-milliseconds", milliseconds.bytes());
  scene.about["moves"] = {
      {"points", count},
      {"start", program.moves.empty() ? Json::array({0, 0, 0}) : triple(program.moves.front().from)}};
  scene.about["kinds"] = kKinds;
  Json tools = Json::array();
  for (const Tool& given : report.job().tools) {
    const Tool tool = completed(given);
    Json bodies = Json::array();
    const std::vector<ToolPart> parts = tool_outline(tool);
    for (const ToolPart& body : parts)
      bodies.push_back({{"part", body.name}, {"outline", turning(body.outline)}});
    tools.push_back({{"number", tool.number},
                     {"name", one_line(tool.name)},
                     {"diameter", rounded(tool.diameter_mm)},
                     {"stickout", rounded(tool.stickout_mm)},
                     {"bodies", bodies}});
  }
  scene.about["tools"] = tools;
  Json list = Json::array();
  for (std::size_t k = 0; k < program.operations.size(); ++k) {
    const OperationReport& operation = report.operation_of(static_cast<std::int32_t>(k));
    std::int64_t tool = -1;
    for (std::size_t t = 0; t < report.job().tools.size(); ++t)
      if (operation.tool == &report.job().tools[t]) tool = static_cast<std::int64_t>(t);
    list.push_back({{"number", operation.number},
                    {"name", one_line(operation.name)},
                    {"tool", tool},
                    {"seconds", rounded(operation.judged.time.all_s())}});
  }
  scene.about["operations"] = list;
  return up_to;
}

}  // namespace yardpass::detail
