#include "yardpass/post/write_program.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdio>
#include <optional>

#include "yardpass/geom/error.h"
#include "yardpass/version.h"

namespace yardpass {

double rounding_reserve(const Controller& controller) {
  return 0.5 * std::sqrt(3.0) * std::pow(10.0, -controller.decimals) * 1.001;
}

namespace {

std::string number(double value, int decimals) {
  char text[64];
  std::snprintf(text, sizeof text, "%.*f", decimals, value);
  std::string result = text;
  if (result.find('.') != std::string::npos) {
    while (result.back() == '0') result.pop_back();
  } else {
    result += '.';
  }
  if (result == "-0.") result = "0.";
  return result;
}

std::string plain(const std::string& text) {
  std::string result;
  for (const char c : text) {
    const bool fine = (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9') ||
                      (c != '\0' && std::string(" .,:;-+/=_*#").find(c) != std::string::npos);
    result += fine ? c : '_';
  }
  return result.substr(0, 100);
}

class Writer {
 public:
  explicit Writer(const Controller& controller) : controller_(controller) {}

  void line(const std::string& text, MoveKind kind = MoveKind::rapid) {
    program_.text += text + '\n';
    program_.kinds.push_back(kind);
  }

  void comment(const std::string& text) { line("(" + plain(text) + ")"); }

  void begin_tool(const Tool& tool, const Vec3& start) {
    if (tool_ == tool.number) return;
    if (tool_ != 0) line("M9"), line("M5");
    tool_ = tool.number;
    line("T" + std::to_string(tool.number) + " M6");
    line("S" + std::to_string(std::lround(tool.spindle_rpm)) + " M3");
    last_.fill({});
    const std::string x = word(0, start.x()), y = word(1, start.y());
    line("G0" + x + y);
    motion_ = 0;
    line("G43" + word(2, start.z()) + " H" + std::to_string(tool.number));
    if (tool.coolant) line("M8");
    feed_.clear();
  }

  void go(const Vec3& to, MoveKind kind, double feed) {
    std::string axes = word(0, to.x()) + word(1, to.y()) + word(2, to.z());
    if (axes.empty()) return;  // shorter than the last decimal
    const int motion = kind == MoveKind::rapid ? 0 : 1;
    std::string text;
    if (motion != motion_) text = "G" + std::to_string(motion);
    motion_ = motion;
    text += text.empty() ? axes.substr(1) : axes;
    if (motion == 1) {
      const std::string word = number(feed, 1);
      if (word != feed_) text += " F" + word;
      feed_ = word;
    }
    line(text, kind);
  }

  PostedProgram take() { return std::move(program_); }

 private:
  /// " X1.5", or nothing if the axis already is there.
  std::string word(int axis, double value) {
    const std::string text = number(value, controller_.decimals);
    auto& last = last_[static_cast<std::size_t>(axis)];
    if (last == text) return {};
    last = text;
    return std::string(" ") + "XYZ"[axis] + text;
  }

  const Controller& controller_;
  PostedProgram program_;
  std::array<std::optional<std::string>, 3> last_;
  std::string feed_;
  int motion_ = -1, tool_ = 0;
};

void check(const Tool& tool) {
  const auto need = [&](bool good, const char* what) {
    if (!good) throw Error("tool \"" + tool.name + "\": " + what);
  };
  need(tool.number > 0, "number must be above 0");
  need(std::lround(tool.spindle_rpm) > 0, "spindle must be above 0");
  need(tool.feed_mm_min > 0 && tool.plunge_feed_mm_min > 0 && tool.ramp_feed_mm_min > 0 &&
           tool.link_feed_mm_min > 0,
       "feed must be above 0");
}

}  // namespace

PostedProgram write_program(const std::string& title, std::span<const OperationPath> operations,
                            const Controller& controller) {
  Writer writer(controller);
  writer.line("%");
  writer.comment(title);
  writer.comment("Yard Pass " YARDPASS_VERSION);
  std::vector<int> listed;
  for (const OperationPath& operation : operations) {
    const Tool& tool = *operation.tool;
    check(tool);
    if (std::find(listed.begin(), listed.end(), tool.number) != listed.end()) continue;
    listed.push_back(tool.number);
    writer.comment("T" + std::to_string(tool.number) + ": " + tool.name + ", " + name_of(tool.shape) +
                   ", diameter " + number(tool.diameter_mm, 3) + " stick-out " + number(tool.stickout_mm, 1));
  }
  writer.line("G21 G17 G40 G49 G80 G90 G94 " + controller.work_offset);
  for (const OperationPath& operation : operations) {
    const Toolpath& path = *operation.path;
    if (path.moves.empty()) continue;
    writer.comment("operation: " + operation.name);
    writer.comment("strategy: " + operation.strategy);
    writer.begin_tool(*operation.tool, path.start);
    writer.go(path.start, MoveKind::rapid, 0);
    for (const Move& move : path.moves) writer.go(move.to, move.kind, move.feed_mm_min);
  }
  writer.line("M9");
  writer.line("M5");
  writer.line("M30");
  writer.line("%");
  return writer.take();
}

}  // namespace yardpass
