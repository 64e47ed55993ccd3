#include "post/written.h"

#include <algorithm>
#include <numbers>

#include "yardpass/geom/error.h"
#include "yardpass/post/read_program.h"
#include "yardpass/post/write_program.h"

namespace yardpass {

namespace {

/// A stretch of an operation's moves that begins and ends on its clearance plane.
struct Stretch {
  std::size_t operation;
  std::size_t first, last;  // of its moves, [first, last)
  Vec3 start;
  double seconds = 0, feed_mm = 0;
};

struct Pieces {
  std::vector<Stretch> stretches;
  double seconds = 0, feed_mm = 0;
  [[nodiscard]] bool too_much_with(const Stretch& more, const FileLimits& limits) const {
    return (limits.most_s > 0 && seconds + more.seconds > limits.most_s) ||
           (limits.most_feed_mm > 0 && feed_mm + more.feed_mm > limits.most_feed_mm);
  }
  void add(const Stretch& more) {
    stretches.push_back(more);
    seconds += more.seconds, feed_mm += more.feed_mm;
  }
};

/// How long a stretch takes, and how far it cuts.
void measure(Stretch& stretch, const Toolpath& path, const FileLimits& limits) {
  Vec3 at = stretch.start;
  for (std::size_t i = stretch.first; i < stretch.last; ++i) {
    const Move& move = path.moves[i];
    const Arc* const arc = path.arc_of(move);
    if (move.kind != MoveKind::rapid) stretch.feed_mm += arc ? arc->length() : (move.to - at).norm();
    if (!limits.seconds.empty()) stretch.seconds += limits.seconds[stretch.operation][i];
    at = move.to;
  }
}

/// Every place where an operation comes by on the plane: ways across it belong to none.
std::vector<Stretch> stretches_of(std::span<const OperationPath> operations) {
  constexpr double kOnPlane = 1e-9;
  std::vector<Stretch> result;
  for (std::size_t k = 0; k < operations.size(); ++k) {
    const Toolpath& path = *operations[k].path;
    const double plane = path.start.z() - kOnPlane;
    Vec3 at = path.start;
    Stretch now{k, 0, 0, path.start};
    for (std::size_t i = 0; i < path.moves.size(); ++i) {
      const Move& move = path.moves[i];
      const bool there = move.kind == MoveKind::rapid && move.to.z() >= plane,
                 across = there && at.z() >= plane;
      // Where it goes across next, that is the end.
      const bool goes_on_across = i + 1 < path.moves.size() && path.moves[i + 1].kind == MoveKind::rapid &&
                                  path.moves[i + 1].to.z() >= plane;
      if (there && i > now.first && !goes_on_across) {
        now.last = across ? i : i + 1;
        result.push_back(now);
        now = {k, i + 1, i + 1, move.to};
      }
      at = move.to;
    }
    now.last = path.moves.size();
    if (now.last > now.first) result.push_back(now);
  }
  return result;
}

/// The same moves as a path of their own.
Toolpath path_of(const Toolpath& whole, std::size_t first, std::size_t last, const Vec3& start) {
  Toolpath path;
  path.tool = whole.tool, path.start = start, path.cuts = whole.cuts, path.arcs = whole.arcs;
  path.rounding_reserve_mm = whole.rounding_reserve_mm;
  path.moves.assign(whole.moves.begin() + static_cast<std::ptrdiff_t>(first),
                    whole.moves.begin() + static_cast<std::ptrdiff_t>(last));
  return path;
}

/// Which stretches go into one file.
std::vector<Pieces> divided(std::span<const OperationPath> operations, const Controller& controller,
                            const FileLimits& limits) {
  using Files = Controller::Files;
  // Head, end, tool change and comments of each operation.
  const std::size_t head =
      30 + controller.first_lines.size() + controller.last_lines.size() + operations.size();
  const std::size_t of_operation = 10 + controller.tool_change.size();
  const auto most = static_cast<std::size_t>(std::max(controller.most_blocks, 0));
  std::vector<Pieces> files;
  std::size_t blocks = 0;
  for (Stretch& one : stretches_of(operations)) {
    measure(one, *operations[one.operation].path, limits);
    const std::size_t size = one.last - one.first + 1;
    const Stretch* const before = files.empty() ? nullptr : &files.back().stretches.back();
    const bool other_operation = before && before->operation != one.operation;
    const bool other_tool = other_operation && operations[before->operation].path->tool.number !=
                                                   operations[one.operation].path->tool.number;
    const bool fresh = !before || (controller.files == Files::each_operation && other_operation) ||
                       (controller.files == Files::each_tool && other_tool) ||
                       (most > 0 && blocks + size + of_operation > most) ||
                       files.back().too_much_with(one, limits);
    if (fresh) {
      files.emplace_back();
      blocks = head;
    }
    if (most > 0 && blocks + size + of_operation > most && fresh)
      throw Error(
          "operation \"" + operations[one.operation].name + "\" has " + std::to_string(size) +
          " blocks between two places where a file could end; with head and end they are more than the " +
          std::to_string(most) + " that the controller takes (most_blocks)");
    if (fresh || other_operation) blocks += of_operation;
    blocks += size;
    files.back().add(one);
  }
  return files;
}

}  // namespace

std::vector<ProgramFile> program_files(const std::string& title, std::span<const OperationPath> operations,
                                       const Controller& controller, const FileLimits& limits) {
  if (controller.files == Controller::Files::one && controller.most_blocks == 0 && !limits.any() &&
      controller.comments != Controller::Comments::none)
    return {};
  std::vector<ProgramFile> result;
  for (const Pieces& pieces : divided(operations, controller, limits)) {
    const std::vector<Stretch>& file = pieces.stretches;
    std::vector<Toolpath> paths;
    paths.reserve(file.size());
    std::vector<OperationPath> here;
    for (std::size_t k = 0; k < file.size(); ++k) {
      // Stretches that follow each other stay one, with the way between them.
      std::size_t last = k;
      while (last + 1 < file.size() && file[last + 1].operation == file[k].operation) ++last;
      const OperationPath& whole = operations[file[k].operation];
      paths.push_back(path_of(*whole.path, file[k].first, file[last].last, file[k].start));
      here.push_back({whole.number, whole.name, &paths.back(), whole.tolerance_mm});
      k = last;
    }
    Controller own = controller;
    if (own.program_number > 0) own.program_number += static_cast<int>(result.size());
    result.push_back({"program-" + std::to_string(result.size() + 1) + ".nc",
                      detail::written(title, here, own).text, pieces.seconds, pieces.feed_mm});
  }
  return result;
}

void try_out(const Controller& controller) {
  const double step = posted_form(controller).step_mm;
  std::vector<Toolpath> paths(2);
  std::vector<OperationPath> operations;
  for (int k = 0; k < 2; ++k) {
    Toolpath& path = paths[static_cast<std::size_t>(k)];
    const double rpm = std::clamp(1000.0, controller.least_rpm, controller.most_rpm);
    path.tool = completed({.name = k == 0 ? "one" : "two",
                           .number = k + 1,
                           .diameter_mm = 6,
                           .spindle_rpm = std::max(1.0, rpm),
                           .feed_mm_min = 500});
    path.start = Vec3(0, 0, 30);
    path.moves = {{Vec3(0, 0, 10), MoveKind::rapid, 0}, {Vec3(0, 0, 0), MoveKind::plunge, 100}};
    Vec3 at(0, 0, 0);
    for (std::size_t plane = 0; plane < 3; ++plane) {
      if (!controller.arc_planes[plane]) continue;
      const PlaneAxes axes = axes_of(static_cast<ArcPlane>(plane));
      Arc arc{at, at, at, 0.5 * std::numbers::pi, static_cast<ArcPlane>(plane)};
      arc.centre[axes.first] += 10, arc.end[axes.first] += 10, arc.end[axes.second] -= 10;
      if (const auto said = posted(arc, posted_form(controller))) {
        path.moves.push_back(
            {said->end, MoveKind::cut, 500, -1, static_cast<std::int32_t>(path.arcs.size())});
        path.arcs.push_back(*said);
        at = said->end;
      }
    }
    at = posted(at, step);
    path.moves.push_back({with_z(plan(at), 30), MoveKind::rapid, 0});
    operations.push_back({k + 1, "try", &path, 0.01});
  }
  const ProgramReading options{.length_compensation = controller.length_compensation};
  const Program program = read_program(write_program("try", operations, controller).text, "line", options);
  for (const ProgramFile& file : program_files("try", operations, controller))
    (void)read_program(file.text, file.name + ", line", options);
  std::size_t arcs = 0;
  for (const ProgramMove& move : program.moves) arcs += move.arc >= 0;
  if (arcs != paths[0].arcs.size() + paths[1].arcs.size() || program.tools != std::vector<std::int32_t>{1, 2})
    throw Error("its own lines change what the program does");
}

}  // namespace yardpass
