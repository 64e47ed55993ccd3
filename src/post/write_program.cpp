#include "yardpass/post/write_program.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdio>
#include <map>
#include <optional>

#include "post/operation_comment.h"
#include "yardpass/geom/error.h"
#include "yardpass/geom/rounding.h"
#include "yardpass/geom/text.h"
#include "yardpass/version.h"

namespace yardpass {

PostedForm posted_form(const Controller& controller) {
  return {std::pow(10.0, -controller.decimals), controller.arcs_by_radius};
}

double rounding_reserve(const Controller& controller) { return rounding_reserve(controller.decimals); }

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

class Writer {
 public:
  explicit Writer(const Controller& controller) : controller_(controller) {}

  void line(const std::string& text) {
    program_.text += text + '\n';
    program_.origin.push_back(origin_);
  }

  void comment(const std::string& text) { line("(" + detail::comment_text(text) + ")"); }

  /// What the lines to come are for.
  void begin(LineOrigin origin) { origin_ = origin; }

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

  void go(const Vec3& to, const Move& move, const Arc* arc) {
    if (arc) return go_round(*arc, move.feed_mm_min);
    go(to, move.kind, move.feed_mm_min);
  }

  void go(const Vec3& to, MoveKind kind, double feed) {
    std::string axes = word(0, to.x()) + word(1, to.y()) + word(2, to.z());
    if (axes.empty()) return;  // shorter than the last decimal
    const int motion = kind == MoveKind::rapid ? 0 : 1;
    std::string text;
    if (motion != motion_) text = "G" + std::to_string(motion);
    motion_ = motion;
    text += text.empty() ? axes.substr(1) : axes;
    if (motion == 1) text += feed_word(feed);
    line(text);
  }

  void go_round(const Arc& arc, double feed) {
    const auto plane = static_cast<int>(arc.plane);
    std::string text;
    if (plane != plane_) text = "G" + std::to_string(17 + plane) + " ";
    plane_ = plane;
    const int motion = arc.turn_rad < 0 ? 2 : 3;
    if (motion != motion_) text += "G" + std::to_string(motion);
    motion_ = motion;
    const PlaneAxes axes = axes_of(arc.plane);
    // Both coordinates of its plane are said, for people and for strict controls.
    last_[static_cast<std::size_t>(axes.first)].reset(), last_[static_cast<std::size_t>(axes.second)].reset();
    for (int axis = 0; axis < 3; ++axis) text += word(axis, arc.end[axis]);
    if (controller_.arcs_by_radius) {
      text += " R" + number(arc.start_radius(), controller_.decimals);
    } else {
      for (const int axis : {std::min(axes.first, axes.second), std::max(axes.first, axes.second)})
        text +=
            std::string(" ") + "IJK"[axis] + number(arc.centre[axis] - arc.start[axis], controller_.decimals);
    }
    text += feed_word(feed);
    line(text.front() == ' ' ? text.substr(1) : text);
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

  std::string feed_word(double feed) {
    const std::string word = number(feed, 1);
    if (word == feed_) return {};
    feed_ = word;
    return " F" + word;
  }

  const Controller& controller_;
  PostedProgram program_;
  LineOrigin origin_;
  std::array<std::optional<std::string>, 3> last_;
  std::string feed_;
  int motion_ = -1, tool_ = 0, plane_ = 0;
};

/// What is proven of an arc holds only for the very arc that is read back.
void check(const Arc& arc, const Vec3& from, const Vec3& to, const std::string& operation,
           const Controller& controller) {
  if (!controller.arc_planes[static_cast<std::size_t>(arc.plane)])
    throw Error("operation \"" + operation + "\": an arc in a plane in which the control takes none, G" +
                std::to_string(17 + static_cast<int>(arc.plane)));
  const auto said = posted(arc, posted_form(controller));
  const double step = posted_form(controller).step_mm;
  if ((posted(from, step) - arc.start).norm() > 1e-6 || (posted(to, step) - arc.end).norm() > 1e-6)
    throw Error("operation \"" + operation + "\": an arc does not begin or end where its move does");
  if (!said || (said->centre - arc.centre).norm() > 1e-6 || (said->end - arc.end).norm() > 1e-6)
    throw Error("operation \"" + operation +
                "\": an arc that is not in whole steps of the program's decimals; see posted()");
}

void check(std::span<const OperationPath> operations, const Controller& controller) {
  require(controller.decimals >= 0 && controller.decimals <= 9, "decimals", "must be 0 to 9");
  std::map<int, const Tool*> by_number;
  for (const OperationPath& operation : operations) {
    const Toolpath& path = *operation.path;
    require(operation.number > 0, "number", "of an operation must be above 0");
    require_feeds(path.tool);
    require_number_and_spindle(path.tool);
    const auto [known, fresh] = by_number.emplace(path.tool.number, &path.tool);
    if (!fresh && known->second->name != path.tool.name)
      throw Error("the tools \"" + known->second->name + "\" and \"" + path.tool.name + "\" are both T" +
                  std::to_string(path.tool.number));
    for (const Move& move : path.moves)
      if (move.kind != MoveKind::rapid && !(move.feed_mm_min >= 0.05))
        throw Error("operation \"" + operation.name + "\": a feed of " + short_number(move.feed_mm_min) +
                    " mm/min would be written as F0; valid: at least 0.05");
    Vec3 at = path.start;
    for (const Move& move : path.moves) {
      if (const Arc* const arc = path.arc_of(move)) check(*arc, at, move.to, operation.name, controller);
      at = move.to;
    }
    const double moved = rounding_reserve(controller);
    if (path.rounding_reserve_mm && *path.rounding_reserve_mm < moved * (1 - 1e-12))
      throw Error("operation \"" + operation.name + "\": writing " + std::to_string(controller.decimals) +
                  " decimals moves its points by up to " + short_number(moved) +
                  " mm, but its path was planned to stay free only within " +
                  short_number(*path.rounding_reserve_mm));
  }
}

/// What whoever sets the tools up needs: "T3 ball D6 L40", with radius, tip and angle where it has them.
std::string setter_words(const Tool& tool) {
  std::string words =
      "T" + std::to_string(tool.number) + " " + name_of(tool.shape) + " D" + short_number(tool.diameter_mm);
  if (tool.corner_radius_mm > 0) words += " R" + short_number(tool.corner_radius_mm);
  if (tool.tip_diameter_mm > 0) words += " tip D" + short_number(tool.tip_diameter_mm);
  if (tool.taper_angle_deg > 0) words += " A" + short_number(tool.taper_angle_deg);
  return words + " L" + short_number(tool.stickout_mm);
}

/// A title must not read as an operation.
std::string title_text(const std::string& title) {
  return detail::operation_of(detail::comment_text(title)) ? "title: " + title : title;
}

}  // namespace

PostedProgram write_program(const std::string& title, std::span<const OperationPath> operations,
                            const Controller& controller) {
  check(operations, controller);
  Writer writer(controller);
  writer.line("%");
  if (controller.title) writer.comment(title_text(title));
  if (!controller.date.empty()) writer.comment(controller.date);
  writer.comment("Yard Pass " YARDPASS_VERSION);
  std::vector<int> listed;
  for (const OperationPath& operation : operations) {
    const Tool& tool = operation.path->tool;
    if (std::find(listed.begin(), listed.end(), tool.number) != listed.end()) continue;
    listed.push_back(tool.number);
    writer.comment(setter_words(tool));
  }
  for (const char* words : {"G21", "G17", "G40 G49 G80", "G90 G94"}) writer.line(words);
  writer.line(controller.work_offset);
  for (const OperationPath& operation : operations) {
    const Toolpath& path = *operation.path;
    if (path.moves.empty()) continue;
    const auto index = static_cast<std::int32_t>(&operation - operations.data());
    writer.begin({index, -1});
    writer.line("(" + detail::operation_comment(operation.number, operation.name) + ")");
    writer.begin_tool(path.tool, path.start);
    writer.go(path.start, MoveKind::rapid, 0);
    for (std::size_t i = 0; i < path.moves.size(); ++i) {
      writer.begin({index, static_cast<std::int32_t>(i)});
      const Move& move = path.moves[i];
      writer.go(move.to, move, path.arc_of(move));
    }
  }
  writer.begin({});
  writer.line("M9");
  writer.line("M5");
  writer.line("M30");
  writer.line("%");
  return writer.take();
}

}  // namespace yardpass
