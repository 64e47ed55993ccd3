#include <algorithm>

#include <fmt/format.h>

#include "setup/parts_of_setup.h"
#include "yardpass/part/measure.h"
#include "yardpass/part/outlines.h"

namespace yardpass::detail {

namespace {

class Measuring {
 public:
  explicit Measuring(const JobSetup& setup) : setup_(setup), mm_(millimetres(setup.job.units)) {}

  [[nodiscard]] Measured operator()(const Measure& measure) const {
    const std::vector<Vec3> at = places(measure);
    switch (measure.what) {
      case Measure::What::z_at:
        return {at[0].z(), "Z of the part at " + words(at[0])};
      case Measure::What::top_of:
        return {region(measure).box.max().z(), fmt::format("top of \"{}\"", measure.named)};
      case Measure::What::bottom_of:
        return {region(measure).box.min().z(), fmt::format("bottom of \"{}\"", measure.named)};
      case Measure::What::angle_between:
        if (!(span_between(at[0], at[1]).plan_distance_mm > 1e-6))
          throw Error("the two places lie above each other; there is no angle in plan");
        return {span_between(at[0], at[1]).angle_deg,
                "angle in plan from " + words(at[0]) + " to " + words(at[1])};
      case Measure::What::angle_along: {
        const Curve& curve = curve_named(measure.named);
        const Vec3 &from = curve.points.front(), &to = curve.points.back();
        if (curve.closed || !(span_between(from, to).plan_distance_mm > 1e-6))
          throw Error(
              fmt::format("the curve \"{}\" comes back to where it began; it has no angle", measure.named));
        return {span_between(from, to).angle_deg, fmt::format("angle in plan along \"{}\"", measure.named)};
      }
      case Measure::What::distance_between:
        return {span_between(at[0], at[1]).distance_mm,
                "distance from " + words(at[0]) + " to " + words(at[1])};
      case Measure::What::radius_through:
        break;
    }
    const auto circle = circle_through(at[0], at[1], at[2]);
    if (!circle) throw Error("the three places lie in one line; there is no circle through them");
    return {circle->radius_mm,
            fmt::format("radius through {}, {}, {}", words(at[0]), words(at[1]), words(at[2]))};
  }

 private:
  [[nodiscard]] std::vector<Vec3> places(const Measure& measure) const {
    const Mesh& mesh = setup_.part->mesh();
    std::vector<Vec3> at;
    for (const auto& place : measure.places) {
      if (place.size() == 3) {
        at.push_back(nearest_to(mesh, Vec3(place.data())).at);
        continue;
      }
      const auto found = highest_at(mesh, Vec2(place.data()));
      if (!found)
        throw Error(fmt::format("there is no part at [{:g}, {:g}]", place[0] / mm_, place[1] / mm_));
      at.push_back(found->at);
    }
    return at;
  }
  [[nodiscard]] const NamedRegion& region(const Measure& measure) const {
    const auto found = std::find_if(setup_.regions.begin(), setup_.regions.end(),
                                    [&](const NamedRegion& r) { return r.name == measure.named; });
    if (found == setup_.regions.end())
      throw Error(fmt::format("names the region \"{}\", which is not defined", measure.named));
    return *found;
  }
  [[nodiscard]] const Curve& curve_named(const std::string& name) const {
    for (const NamedCurves& named : setup_.curves)
      if (named.name == name && named.curves.size() == 1 && !named.curves.front().points.empty())
        return named.curves.front();
    throw Error(fmt::format("the curve \"{}\" must be one piece to have an angle", name));
  }
  [[nodiscard]] std::string words(const Vec3& p) const {
    const int decimals = setup_.job.units == Units::mm ? 3 : 4;
    return fmt::format("[{:.{}f}, {:.{}f}, {:.{}f}]", p.x() / mm_, decimals, p.y() / mm_, decimals,
                       p.z() / mm_, decimals);
  }

  const JobSetup& setup_;
  double mm_;
};

}  // namespace

Measured OnThisPart::measure(const Measure& measure) const { return Measuring(setup_)(measure); }

void OnThisPart::find(GivenArea& area) const {
  using From = GivenArea::From;
  if (area.from == From::part || area.from == From::nothing) area.area = part_outline();
  if (area.from == From::stock) area.area = stock_outline();
  if (area.from == From::boundary)
    for (const NamedBoundary& boundary : setup_.boundaries)
      if (boundary.name == area.name) area.area = boundary.area;
  if (area.from != From::region) return;
  for (const NamedRegion& region : setup_.regions) {
    if (region.name != area.name) continue;
    area.area = region.outline;
    if (region.outline.empty())
      throw Error(fmt::format(
          "names the region \"{}\", which has no outline seen from above (only walls or undersides)",
          area.name));
  }
}

void OnThisPart::find(GivenCurves& curves) const {
  curves.curves.clear(), curves.notes.clear();
  for (const std::string& name : curves.names)
    for (const NamedCurves& named : setup_.curves) {
      if (named.name != name) continue;
      curves.curves.insert(curves.curves.end(), named.curves.begin(), named.curves.end());
      for (const std::string& note : named.notes)
        curves.notes.push_back(fmt::format("curve \"{}\": {}", name, note));
    }
}

void OnThisPart::find(GivenTool& tool) const { tool.tool = completed(setup_.job.tool_named(tool.name)); }

const Region& OnThisPart::part_outline() const {
  if (!part_outline_) part_outline_ = silhouette(setup_.part->mesh());
  return *part_outline_;
}

const Region& OnThisPart::stock_outline() const {
  if (!stock_outline_) stock_outline_ = outline_of(*setup_.stock);
  return *stock_outline_;
}

Region outline_of(const Stock& stock) {
  // Rows of cells with material, alike neighbours taken together.
  const Box3& block = stock.block();
  const double cell = stock.cell_mm();
  const auto edge = [](double low, double high, double at) { return std::clamp(at, low, high); };
  const auto runs = [&](int row) {
    std::vector<std::pair<int, int>> found;
    for (int column = 0; column < stock.columns(); ++column) {
      if (!(stock.height(column, row) > stock.bottom_z())) continue;
      if (found.empty() || found.back().second != column) found.emplace_back(column, column);
      found.back().second = column + 1;
    }
    return found;
  };
  Region cells;
  const auto add = [&](const std::vector<std::pair<int, int>>& of_rows, int from, int to) {
    const double low = edge(block.min().y(), block.max().y(), block.min().y() + from * cell),
                 high = to == stock.rows() ? block.max().y() : block.min().y() + to * cell;
    for (const auto& [first, last] : of_rows) {
      const double left = block.min().x() + first * cell,
                   right = last == stock.columns() ? block.max().x() : block.min().x() + last * cell;
      cells.loops.push_back({{left, low}, {right, low}, {right, high}, {left, high}});
    }
  };
  std::vector<std::pair<int, int>> before;
  int since = 0;
  for (int row = 0; row < stock.rows(); ++row) {
    std::vector<std::pair<int, int>> now = runs(row);
    if (now == before) continue;
    add(before, since, row);
    before = std::move(now);
    since = row;
  }
  add(before, since, stock.rows());
  return unite(cells, {});
}

KeyContext context_of(const Job& job) {
  KeyContext context;
  context.folder = job.file.parent_path();
  context.units = job.units;
  context.names[Named::regions] = names_of(job.regions);
  context.names[Named::curves] = names_of(job.curves);
  context.names[Named::boundaries] = names_of(job.boundaries);
  context.names[Named::lids] = names_of(job.lids);
  context.names[Named::run_outs] = names_of(job.run_outs);
  context.names[Named::carriers] = names_of(job.carriers);
  context.names[Named::keep_away] = names_of(job.keep_away);
  context.names[Named::tools] = names_of(job.tools);
  context.names[Named::operations] = names_of(job.operations);
  return context;
}

}  // namespace yardpass::detail
