#include <algorithm>

#include <fmt/format.h>

#include "job/job_keys.h"
#include "setup/in_naming_order.h"
#include "setup/parts_of_setup.h"
#include "yardpass/part/outlines.h"

namespace yardpass::detail {

namespace {

/// Finds boundaries in the order in which they name each other, and collects what is wrong with them.
class BoundaryFinder {
 public:
  explicit BoundaryFinder(JobSetup& setup)
      : setup_(setup),
        mistakes_(setup.job.file.string()),
        order_(setup.job.boundaries, [this](std::size_t i) { find(i); }) {
    setup.boundaries.resize(setup.job.boundaries.size());
  }

  void run() {
    order_.all();
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
  struct AlreadyTold {};
  void find(std::size_t i) {
    NamedBoundary& boundary = setup_.boundaries[i];
    const BoundaryJob& said = setup_.job.boundaries[i];
    boundary.name = said.name;
    try {
      boundary.area = edited(said, source(said, boundary));
      if (boundary.area.empty()) throw Error("encloses no area on this part");
    } catch (const LoopError& error) {
      if (!trouble_) trouble_ = error;
      mistake(said.line, fmt::format("boundary \"{}\": {}", said.name, error.what()));
    } catch (const AlreadyTold&) {
    } catch (const Error& error) {
      mistake(said.line, fmt::format("boundary \"{}\": {}", said.name, error.what()));
    }
  }

  std::vector<Curve> all_curves(const std::vector<std::string>& names) const {
    std::vector<Curve> all;
    for (const std::string& name : names)
      for (Curve curve : curves_named(setup_, name)) {
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
        if (const auto crossing = self_crossing(area.loops.back()))
          throw LoopError(
              fmt::format("the curve \"{}\" crosses itself at X {:.3f} Y {:.3f}; what is inside of it is "
                          "not clear",
                          curve.name, crossing->x(), crossing->y()),
              {curve}, {with_z(*crossing, curve.points.front().z())});
      }
      return unite(area, {});
    }
    if (said.points) return *said.points;
    if (!said.region.empty())
      return std::find_if(setup_.regions.begin(), setup_.regions.end(),
                          [&](const NamedRegion& region) { return region.name == said.region; })
          ->outline;
    if (said.silhouette) return silhouette(setup_.part->mesh());
    if (said.says.contains("slice")) return slice_at(setup_.part->mesh(), *measured_on_part(said).slice_z);
    Region area;
    for (const std::string& name : said.union_of) area = unite(area, named(name));
    for (std::size_t k = 0; k < said.common_to.size(); ++k)
      area = k == 0 ? named(said.common_to[k]) : intersect(area, named(said.common_to[k]));
    return area;
  }

  /// The keys once more, now with the part: numbers may be measured on it.
  [[nodiscard]] BoundaryJob measured_on_part(const BoundaryJob& said) {
    Mistakes mistakes(setup_.job.file.string());
    TableReader reader(said.says, fmt::format("boundary \"{}\"", said.name), mistakes);
    KeyContext context = context_of(setup_.job);
    const OnThisPart part(setup_);
    context.part = &part;
    context.measurable = true;
    TableKeys keys(reader, context);
    BoundaryJob measured;
    keys_of(measured, keys);
    if (mistakes.none()) return measured;
    mistakes_.take(mistakes);
    throw AlreadyTold();
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

  const Region& named(const std::string& name) { return setup_.boundaries[order_.named(name)].area; }

  void mistake(int line, const std::string& what) { mistakes_.add(line, what); }

  JobSetup& setup_;
  Mistakes mistakes_;
  InNamingOrder<BoundaryJob> order_;
  std::optional<LoopError> trouble_;
};

}  // namespace

void find_boundaries(JobSetup& setup) { BoundaryFinder(setup).run(); }

}  // namespace yardpass::detail
