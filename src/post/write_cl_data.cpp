#include <cstdio>

#include "post/operation_comment.h"
#include "yardpass/post/cl_data.h"

namespace yardpass {

namespace {

std::string place_text(const Vec3& p) {
  char text[96];
  std::snprintf(text, sizeof text, "%.6f,%.6f,%.6f", p.x() + 0.0, p.y() + 0.0, p.z() + 0.0);
  return text;
}

std::string number_text(double value) {
  char text[48];
  std::snprintf(text, sizeof text, "%.4f", value);
  return text;
}

}  // namespace

std::string write_cl_data(const std::string& title, const Program& program, double sagitta_mm) {
  require(sagitta_mm > 0, "sagitta_mm", "must be above 0");
  const Controller plain;
  std::string text = "PARTNO/" + detail::comment_text(title, plain) + "\nUNITS/MM\n";
  const auto record = [&](const std::string& line) { text += line + "\n"; };
  std::int32_t operation = -1, tool = -1;
  std::string feed, spindle;
  const std::vector<const SpindleUse*> uses = program.spindle_by_move();
  for (const ProgramMove& move : program.moves) {
    if (move.operation != operation) {
      operation = move.operation;
      const ProgramOperation& named = program.operations[static_cast<std::size_t>(operation)];
      if (named.number > 0) record("PPRINT/" + detail::operation_comment(named.number, named.words, plain));
    }
    if (move.tool != tool) {
      tool = move.tool;
      record("LOADTL/" + std::to_string(tool));
      feed.clear(), spindle.clear();
    }
    if (const SpindleUse* use = uses[static_cast<std::size_t>(&move - program.moves.data())]) {
      const std::string said =
          "SPINDL/" + number_text(use->rpm) + ",CLW\nCOOLNT/" + (use->coolant ? "ON" : "OFF");
      if (said != spindle) record(said);
      spindle = said;
    }
    if (move.rapid()) {
      record("RAPID");
    } else {
      const std::string said = "FEDRAT/" + number_text(move.feed_mm_min) + ",MMPM";
      if (said != feed) record(said);
      feed = said;
    }
    const std::vector<Vec3> points = program.points_of(move, sagitta_mm);
    for (std::size_t i = 1; i < points.size(); ++i) record("GOTO/" + place_text(points[i]));
  }
  record("SPINDL/OFF");
  record("FINI");
  return text;
}

}  // namespace yardpass
