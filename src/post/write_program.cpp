#include "yardpass/post/write_program.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdio>
#include <map>
#include <optional>

#include "post/operation_comment.h"
#include "post/own_lines.h"
#include "post/written.h"
#include "yardpass/geom/error.h"
#include "yardpass/geom/rounding.h"
#include "yardpass/geom/text.h"
#include "yardpass/version.h"

namespace yardpass {

PostedForm posted_form(const Controller& controller) {
  return {(controller.inches ? 25.4 : 1) * std::pow(10.0, -controller.decimals), controller.arcs_by_radius};
}

double rounding_reserve(const Controller& controller) {
  return rounding_reserve_of(posted_form(controller).step_mm);
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

/// Six digits that count, whatever the size.
std::string digits(double value) {
  const int before = value > 0 ? static_cast<int>(std::floor(std::log10(value))) + 1 : 1;
  return number(value, std::clamp(6 - before, 0, 9));
}

class Writer {
 public:
  Writer(const Controller& controller, const std::string& title) : controller_(controller), title_(title) {}

  void line(const std::string& text) {
    if (controller_.line_numbers > 0 && text != "%" && text.front() != 'O') {
      // Five digits are what most controls take.
      next_number_ = next_number_ + controller_.line_numbers > 99999
                         ? controller_.line_numbers
                         : next_number_ + controller_.line_numbers;
      program_.text += "N" + std::to_string(next_number_) + " ";
    }
    plain_line(text);
  }

  void comment(const std::string& text) { operation_comment(detail::comment_text(text, controller_)); }
  /// Its text is fit for a comment already.
  void operation_comment(const std::string& text) {
    if (controller_.comments == Controller::Comments::none) return;
    plain_line(controller_.comments == Controller::Comments::brackets ? "(" + text + ")" : "; " + text);
  }

  /// What the lines to come are for.
  void begin(LineOrigin origin) { origin_ = origin; }

  void head(std::span<const OperationPath> operations);
  void begin_operation(const OperationPath& operation);

  void go(const Vec3& from, const Move& move, const Arc* arc) {
    if (arc) return go_round(*arc, move.feed_mm_min);
    go(from, move.to, move.kind, move.feed_mm_min);
  }

  void go(const Vec3& from, const Vec3& to, MoveKind kind, double feed) {
    std::string axes = word(0, to.x()) + word(1, to.y()) + word(2, to.z());
    if (axes.empty()) return;  // shorter than the last decimal
    if (!controller_.modal) axes = all_words(to);
    const int motion = kind == MoveKind::rapid ? 0 : 1;
    std::string text = motion_word(motion);
    text += text.empty() ? axes.substr(1) : axes;
    if (motion == 1) {
      const double step = posted_form(controller_).step_mm;
      text += feed_word(feed, (posted(to, step) - posted(from, step)).norm());
    }
    line(text);
  }

  void finish() {
    begin({});
    line(controller_.coolant_off);
    line("M5");
    own(controller_.last_lines, nullptr);
    line("M30");
    plain_line("%");
  }

  PostedProgram take() { return std::move(program_); }

 private:
  void plain_line(const std::string& text) {
    program_.text += text + '\n';
    program_.origin.push_back(origin_);
  }

  void own(const std::vector<std::string>& lines, const OperationPath* operation) {
    for (const std::string& text : lines) line(detail::filled_in(text, known(operation)));
  }
  [[nodiscard]] detail::Known known(const OperationPath* operation) const {
    detail::Known result{{"title", detail::comment_text(title_, controller_)},
                         {"date", detail::comment_text(controller_.date, controller_)},
                         {"program", std::to_string(controller_.program_number)}};
    if (!operation) return result;
    const Tool& tool = operation->path->tool;
    result.emplace_back("tool", std::to_string(tool.number));
    result.emplace_back("spindle", std::to_string(std::lround(tool.spindle_rpm)));
    result.emplace_back("operation", std::to_string(operation->number));
    result.emplace_back("tolerance", length_text(operation->tolerance_mm));
    return result;
  }

  void begin_tool(const OperationPath& operation);
  /// The same tool at another speed, or with coolant where it had none.
  void keep_turning(const Tool& tool);

  [[nodiscard]] std::string length_text(double mm) const {
    return number(controller_.inches ? mm / 25.4 : mm, controller_.decimals);
  }
  /// " X1.5", or nothing if the axis already is there.
  std::string word(int axis, double value) {
    const std::string text = length_text(value);
    auto& last = last_[static_cast<std::size_t>(axis)];
    if (last == text) return {};
    last = text;
    return std::string(" ") + "XYZ"[axis] + text;
  }
  [[nodiscard]] std::string all_words(const Vec3& to) const {
    std::string words;
    for (int axis = 0; axis < 3; ++axis) words += std::string(" ") + "XYZ"[axis] + length_text(to[axis]);
    return words;
  }
  std::string motion_word(int motion) {
    const bool said = motion == motion_ && controller_.modal;
    motion_ = motion;
    return said ? "" : "G" + std::to_string(motion);
  }

  std::string feed_word(double feed, double length_mm) {
    if (controller_.inverse_time) return " F" + digits(feed / std::max(length_mm, 1e-6));
    const std::string word = controller_.inches ? number(feed / 25.4, 3) : number(feed, 1);
    if (word == feed_ && controller_.modal) return {};
    feed_ = word;
    return " F" + word;
  }

  void go_round(const Arc& arc, double feed) {
    const auto plane = static_cast<int>(arc.plane);
    std::string text;
    if (plane != plane_ || !controller_.modal) text = "G" + std::to_string(17 + plane) + " ";
    plane_ = plane;
    text += motion_word(arc.turn_rad < 0 ? 2 : 3);
    const PlaneAxes axes = axes_of(arc.plane);
    // Both coordinates of its plane are said, for people and for strict controls.
    last_[static_cast<std::size_t>(axes.first)].reset(), last_[static_cast<std::size_t>(axes.second)].reset();
    for (int axis = 0; axis < 3; ++axis) text += word(axis, arc.end[axis]);
    if (controller_.arcs_by_radius) {
      text += " R" + length_text(arc.start_radius());
    } else {
      for (const int axis : {std::min(axes.first, axes.second), std::max(axes.first, axes.second)})
        text += std::string(" ") + "IJK"[axis] + length_text(arc.centre[axis] - arc.start[axis]);
    }
    text += feed_word(feed, arc.length());
    line(text.front() == ' ' ? text.substr(1) : text);
  }

  const Controller& controller_;
  const std::string& title_;
  PostedProgram program_;
  LineOrigin origin_;
  std::array<std::optional<std::string>, 3> last_;
  std::string feed_;
  int motion_ = -1, tool_ = 0, plane_ = 0, next_number_ = 0;
  long turns_ = 0;
  bool coolant_ = false;
};

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
std::string title_text(const std::string& title, const Controller& controller) {
  return detail::operation_of(detail::comment_text(title, controller)) ? "title: " + title : title;
}

void Writer::head(std::span<const OperationPath> operations) {
  plain_line("%");
  if (controller_.program_number > 0) plain_line("O" + std::to_string(controller_.program_number));
  if (controller_.title) comment(title_text(title_, controller_));
  if (!controller_.date.empty()) comment(controller_.date);
  comment("Yard Pass " YARDPASS_VERSION);
  std::vector<int> listed;
  for (const OperationPath& operation : operations) {
    const Tool& tool = operation.path->tool;
    if (std::find(listed.begin(), listed.end(), tool.number) != listed.end()) continue;
    listed.push_back(tool.number);
    comment(setter_words(tool));
  }
  line(controller_.inches ? "G20" : "G21");
  for (const char* words : {"G17", "G40 G49 G80"}) line(words);
  line(controller_.inverse_time ? "G90 G93" : "G90 G94");
  line(controller_.work_offset);
  own(controller_.first_lines, nullptr);
}

void Writer::begin_operation(const OperationPath& operation) {
  const bool same_tool = tool_ == operation.path->tool.number;
  using Stops = Controller::Stops;
  if (tool_ != 0 && (controller_.optional_stops == Stops::before_operations ||
                     (controller_.optional_stops == Stops::before_tools && !same_tool)))
    line("M1");
  if (operation.number > 0)
    operation_comment(detail::operation_comment(operation.number, operation.name, controller_));
  if (same_tool)
    keep_turning(operation.path->tool);
  else
    begin_tool(operation);
  if (!controller_.path_tolerance.empty() && operation.tolerance_mm > 0)
    own({controller_.path_tolerance}, &operation);
}

void Writer::begin_tool(const OperationPath& operation) {
  const Tool& tool = operation.path->tool;
  const Vec3& start = operation.path->start;
  if (tool_ != 0) line(controller_.coolant_off), line("M5");
  tool_ = tool.number;
  own(controller_.tool_change, &operation);
  line("S" + std::to_string(std::lround(tool.spindle_rpm)) + " M3");
  last_.fill({});
  const std::string x = word(0, start.x()), y = word(1, start.y());
  line("G0" + x + y);
  motion_ = 0;
  const std::string z = word(2, start.z());
  line(controller_.length_compensation ? "G43" + z + " H" + std::to_string(tool.number) : "G0" + z);
  if (tool.coolant) line(controller_.coolant_on);
  feed_.clear();
  turns_ = std::lround(tool.spindle_rpm), coolant_ = tool.coolant;
}

void Writer::keep_turning(const Tool& tool) {
  if (std::lround(tool.spindle_rpm) != turns_) {
    turns_ = std::lround(tool.spindle_rpm);
    line("S" + std::to_string(turns_) + " M3");
  }
  if (tool.coolant != coolant_) line(tool.coolant ? controller_.coolant_on : controller_.coolant_off);
  coolant_ = tool.coolant;
}

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
    require(operation.number >= 0, "number", "of an operation must be at least 0");
    require_feeds(path.tool);
    require_number_and_spindle(path.tool);
    if (path.tool.spindle_rpm < controller.least_rpm || path.tool.spindle_rpm > controller.most_rpm)
      throw Error("the tool \"" + path.tool.name + "\" turns at " + short_number(path.tool.spindle_rpm) +
                  " a minute; the control's spindle takes " + short_number(controller.least_rpm) + " to " +
                  short_number(controller.most_rpm));
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

}  // namespace

PostedProgram detail::written(const std::string& title, std::span<const OperationPath> operations,
                              const Controller& controller) {
  check(operations, controller);
  Writer writer(controller, title);
  writer.head(operations);
  for (const OperationPath& operation : operations) {
    const Toolpath& path = *operation.path;
    if (path.moves.empty()) continue;
    const auto index = static_cast<std::int32_t>(&operation - operations.data());
    writer.begin({index, -1});
    writer.begin_operation(operation);
    writer.go(path.start, path.start, MoveKind::rapid, 0);
    Vec3 at = path.start;
    for (std::size_t i = 0; i < path.moves.size(); ++i) {
      const Move& move = path.moves[i];
      writer.begin({index, static_cast<std::int32_t>(i)});
      writer.go(at, move, path.arc_of(move));
      at = move.to;
    }
  }
  writer.finish();
  return writer.take();
}

PostedProgram write_program(const std::string& title, std::span<const OperationPath> operations,
                            const Controller& controller) {
  if (controller.comments != Controller::Comments::none)
    return detail::written(title, operations, controller);
  Controller with_comments = controller;
  with_comments.comments = Controller::Comments::brackets;
  return detail::written(title, operations, with_comments);
}

}  // namespace yardpass
