#include <algorithm>

#include <fmt/format.h>

#include "job/toml_reader.h"
#include "job/world_regions.h"
#include "yardpass/part/outlines.h"

namespace yardpass::detail {

namespace {

/// Finds boundaries in the order in which they name each other, and collects what is wrong with them.
class BoundaryFinder {
 public:
  explicit BoundaryFinder(JobWorld& world)
      : world_(world), mistakes_(world.job.file.string()), done_(world.job.boundaries.size(), 0) {
    world.boundaries.resize(done_.size());
  }

  void run() {
    for (std::size_t i = 0; i < done_.size(); ++i) find(i);
    for (OperationJob& operation : world_.job.operations) give(operation);
    if (!trouble_) {
      mistakes_.raise();
      return;
    }
    try {
      mistakes_.raise();
    } catch (const Error& all) {  // all messages, with the places of the first loop for a picture
      throw LoopError(all.what(), trouble_->pieces, trouble_->places);
    }
  }

 private:
  const Region& find(std::size_t i) {
    NamedBoundary& boundary = world_.boundaries[i];
    if (done_[i]) return boundary.area;
    done_[i] = 1;
    const BoundaryJob& said = world_.job.boundaries[i];
    boundary.name = said.name;
    try {
      boundary.area = edited(said, source(said, boundary));
      if (boundary.area.empty()) throw Error("encloses no area on this part");
    } catch (const LoopError& error) {
      if (!trouble_) trouble_ = error;
      mistake(said.line, fmt::format("boundary \"{}\": {}", said.name, error.what()));
    } catch (const Error& error) {
      mistake(said.line, fmt::format("boundary \"{}\": {}", said.name, error.what()));
    }
    return boundary.area;
  }

  std::vector<Curve> all_curves(const std::vector<std::string>& names) const {
    std::vector<Curve> all;
    for (const std::string& name : names)
      for (Curve curve : curves_named(world_, name)) {
        if (curve.name.empty()) curve.name = name;  // so that messages can call it something
        all.push_back(std::move(curve));
      }
    return all;
  }

  Region source(const BoundaryJob& said, NamedBoundary& boundary) {
    if (!said.loop_from.empty()) {
      ClosedLoop loop = close_loop(all_curves(said.loop_from), said.gap_mm);
      boundary.junctions = std::move(loop.junctions);
      return unite({{in_plan(loop.curve)}}, {});
    }
    if (!said.curves.empty()) {
      Region area;
      for (const Curve& curve : all_curves(said.curves)) {
        if (!curve.closed)
          throw LoopError(
              fmt::format("the curve \"{}\" is open; a boundary needs closed curves, or \"loop_from\" "
                          "and \"gap\" to close one",
                          curve.name),
              {curve}, {curve.points.front(), curve.points.back()});
        area.loops.push_back(in_plan(curve));
      }
      return unite(area, {});
    }
    if (said.points) return *said.points;
    if (!said.region.empty())
      return std::find_if(world_.regions.begin(), world_.regions.end(),
                          [&](const NamedRegion& region) { return region.name == said.region; })
          ->outline;
    if (said.silhouette) return silhouette(world_.part->mesh());
    if (said.slice_z) return slice_at(world_.part->mesh(), *said.slice_z);
    if (!said.measured.empty()) {
      const Measure& measure = said.measured.front().measure;
      return slice_at(world_.part->mesh(), measure_on(world_, measure).value + measure.plus);
    }
    Region area;
    for (const std::string& name : said.union_of) area = unite(area, named(name));
    for (std::size_t k = 0; k < said.common_to.size(); ++k)
      area = k == 0 ? named(said.common_to[k]) : intersect(area, named(said.common_to[k]));
    return area;
  }

  Region edited(const BoundaryJob& said, Region area) {
    for (const std::string& name : said.without) area = subtract(area, named(name));
    if (said.fill_holes)
      std::erase_if(area.loops, [](const Polyline2& loop) { return signed_area(loop) < 0; });
    if (said.fill_holes) area = unite(area, {});
    if (said.offset_mm != 0) area = offset(area, said.offset_mm);
    if (said.simplify_mm > 0) {
      for (Polyline2& loop : area.loops) loop = simplify_loop(loop, said.simplify_mm);
      area = unite(area, {});
    }
    return area;
  }

  const Region& named(const std::string& name) {
    const auto& all = world_.job.boundaries;
    return find(static_cast<std::size_t>(
        std::find_if(all.begin(), all.end(), [&](const BoundaryJob& b) { return b.name == name; }) -
        all.begin()));
  }

  void give(OperationJob& operation) {
    const std::string& name = operation.keep_inside_name;
    if (name.empty()) return;
    for (const NamedBoundary& boundary : world_.boundaries)
      if (boundary.name == name) operation.keep_inside = boundary.area;
    for (const NamedRegion& region : world_.regions) {
      if (region.name != name) continue;
      operation.keep_inside = region.outline;
      if (region.outline.empty())
        mistake(
            operation.line_of("keep_inside"),
            fmt::format(
                "operation \"{}\": \"keep_inside\" names the region \"{}\", which has no outline seen from "
                "above (only walls or undersides)",
                operation.name, name));
    }
  }

  void mistake(int line, const std::string& what) { mistakes_.add(line, what); }

  JobWorld& world_;
  Mistakes mistakes_;
  std::vector<std::uint8_t> done_;
  std::optional<LoopError> trouble_;
};

}  // namespace

void find_boundaries(JobWorld& world) { BoundaryFinder(world).run(); }

}  // namespace yardpass::detail
