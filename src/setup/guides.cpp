#include "yardpass/part/guides.h"

#include <algorithm>

#include <fmt/format.h>

#include "job/table_reader.h"
#include "setup/guided_parts.h"
#include "setup/parts_of_setup.h"
#include "yardpass/curve/carriers.h"
#include "yardpass/part/measure.h"

namespace yardpass::detail {

namespace {

const NamedRegion& region_named(const JobSetup& setup, const std::string& name) {
  return *std::find_if(setup.regions.begin(), setup.regions.end(),
                       [&](const NamedRegion& region) { return region.name == name; });
}

Polyline2 in_plan(const Rim& rim) {
  Polyline2 loop;
  for (const Vec3& p : rim.points) loop.push_back(plan(p));
  return loop;
}

double distance(const Rim& rim, const std::vector<double>& place) {
  double least = 1e300;
  for (const Vec3& p : rim.points)
    least = std::min(
        least, place.size() == 2 ? (plan(p) - Vec2(place.data())).norm() : (p - Vec3(place.data())).norm());
  return least;
}

/// The holes of a region that a lid covers.
std::vector<Rim> holes_of(const JobSetup& setup, const LidJob& said, const Mesh& mesh, const Joints& joints) {
  std::vector<Rim> holes = rims_of(mesh, joints, region_named(setup, said.holes_of).set);
  std::erase_if(holes, [&](const Rim& rim) {
    return !rim.is_hole || (said.widest_mm && rim.widest_mm() > *said.widest_mm);
  });
  if (said.at.empty() || holes.empty()) return holes;
  std::vector<std::uint8_t> chosen(holes.size(), 0);
  for (const std::vector<double>& place : said.at) {
    std::size_t nearest = 0;
    for (std::size_t i = 1; i < holes.size(); ++i)
      if (distance(holes[i], place) < distance(holes[nearest], place)) nearest = i;
    chosen[nearest] = 1;
  }
  std::vector<Rim> result;
  for (std::size_t i = 0; i < holes.size(); ++i)
    if (chosen[i]) result.push_back(std::move(holes[i]));
  return result;
}

GuideMesh make_lid(const JobSetup& setup, const LidJob& said, const Mesh& mesh, const Joints& joints) {
  GuideMesh lid{said.name, {}, {}, 0};
  const auto smooth = [&](const std::string& region, const Region& area) {
    // Fine enough to follow the surface around, coarse enough to be quick: a fortieth of the opening.
    const double spacing = said.spacing_mm.value_or(std::max(0.05, area.box().diagonal().norm() / 40));
    append(lid.mesh, smooth_lid(mesh, region_named(setup, region).set, area, spacing));
  };
  if (said.over) {
    smooth(said.continues, *said.over);
    return lid;
  }
  for (const Rim& rim : holes_of(setup, said, mesh, joints)) {
    if (said.smooth)
      smooth(said.holes_of, unite({{in_plan(rim)}}, {}));
    else
      append(lid.mesh, flat_lid(rim));
  }
  if (lid.mesh.triangles.empty())
    throw Error(fmt::format("the region \"{}\" has no hole{}", said.holes_of,
                            said.widest_mm ? fmt::format(" up to {:g} mm wide", *said.widest_mm) : ""));
  return lid;
}

const Curve& only_curve(const JobSetup& setup, const std::string& name) {
  const std::vector<Curve>& curves = curves_named(setup, name);
  if (curves.size() != 1)
    throw Error(
        fmt::format("the curve \"{}\" has {} pieces; a carrier needs one (see \"keep\" and \"join\" "
                    "among its edits)",
                    name, curves.size()));
  return curves.front();
}

/// A place of the job as a point: of two numbers, on the part seen from above, or where there is none level
/// with the highest.
Vec3 point_of(const std::vector<double>& place, const Mesh& mesh) {
  if (place.size() == 3) return Vec3(place.data());
  const Vec2 at(place.data());
  const auto found = highest_at(mesh, at);
  return found ? found->at : with_z(at, mesh.box().max().z());
}

GuideMesh make_run_out(const JobSetup& setup, const RunOutJob& said, const Mesh& mesh, const Joints& joints,
                       const TipSurface& needle) {
  RunOutOptions options{.length_mm = said.length_mm, .curved = said.curved};
  if (said.between.size() == 2)
    options.between = {point_of(said.between[0], mesh), point_of(said.between[1], mesh)};
  if (!said.along.empty())
    for (const Curve& curve : curves_named(setup, said.along)) {
      options.along.push_back(curve.points);
      if (curve.closed && !curve.points.empty()) options.along.back().push_back(curve.points.front());
    }
  // What rises from the edge stands higher than the run-out.
  constexpr double kRises = 0.005;
  options.blocked = [&](const Vec3& place) { return needle.height(plan(place)) > place.z() + kRises; };
  Mesh strip = run_out_of(mesh, joints, region_named(setup, said.edge_of).set, options);
  if (strip.triangles.empty()) {
    options.blocked = {};
    const bool rises =
        !run_out_of(mesh, joints, region_named(setup, said.edge_of).set, options).triangles.empty();
    const std::string where = !said.along.empty()     ? fmt::format(" along the curve \"{}\"", said.along)
                              : !said.between.empty() ? " between the two places"
                                                      : "";
    throw Error(
        rises ? fmt::format("what lies beside the region \"{}\" rises all along its edge{}; nothing can "
                            "run on there",
                            said.edge_of, where)
              : fmt::format("the region \"{}\" has no outer edge{}", said.edge_of, where));
  }
  return GuideMesh{said.name, std::move(strip), {}, 0};
}

GuideMesh make_carrier(const JobSetup& setup, const CarrierJob& said, const Mesh& mesh,
                       const Joints& joints) {
  GuideMesh surface{said.name, {}, {}, 0};
  if (!said.between.empty())
    surface.mesh = ruled_face(only_curve(setup, said.between[0]), only_curve(setup, said.between[1]));
  else if (!said.section.empty())
    surface.mesh = swept_section(only_curve(setup, said.section), only_curve(setup, said.along));
  else if (said.patch)
    surface.mesh = flat_patch(*said.patch, said.z);
  else
    surface.mesh = offset_copy(mesh, joints, region_named(setup, said.copy_of).set, said.offset_mm);
  return surface;
}

GuideMesh make_keep_away(const JobSetup& setup, const KeepAwayJob& said) {
  GuideMesh keep_away{said.name, {}, {}, said.clearance_mm, said.in_the_way};
  if (said.region.empty())
    keep_away.mesh = read_mesh(said.mesh).mesh;
  else
    keep_away.triangles = region_named(setup, said.region).set;
  return keep_away;
}

}  // namespace

void make_guides(JobSetup& setup, const Mesh& mesh, const Joints& joints) {
  Mistakes mistakes(setup.job.file.string());
  const auto make = [&](const char* kind, const auto& said, std::vector<GuideMesh>& list, const auto& maker) {
    try {
      list.push_back(maker());
    } catch (const Error& error) {
      mistakes.add(said.line, fmt::format("{} \"{}\": {}", kind, said.name, error.what()));
    }
  };
  for (const LidJob& said : setup.job.lids)
    make("lid", said, setup.lids, [&] { return make_lid(setup, said, mesh, joints); });
  std::optional<TipSurface> needle;  // the part from above
  for (const RunOutJob& said : setup.job.run_outs)
    make("run-out", said, setup.run_outs, [&] {
      if (!needle) needle.emplace(make_contact_part(mesh), Profile::needle());
      return make_run_out(setup, said, mesh, joints, *needle);
    });
  for (const CarrierJob& said : setup.job.carriers)
    make("carrier", said, setup.carriers, [&] { return make_carrier(setup, said, mesh, joints); });
  for (const KeepAwayJob& said : setup.job.keep_away)
    make("keep_away", said, setup.keep_away, [&] { return make_keep_away(setup, said); });
  mistakes.raise();
}

namespace {

GuidedPart guided_part(const JobSetup& setup, const Guides& guides, const Progress& progress) {
  if (guides.none()) return {setup.part, {}};
  const auto named = [](const std::vector<GuideMesh>& list, const std::string& name) -> const GuideMesh& {
    return *std::find_if(list.begin(), list.end(), [&](const GuideMesh& g) { return g.name == name; });
  };
  Mesh mesh = setup.part->mesh();
  std::vector<std::uint8_t> groups(mesh.triangles.size(), 0);
  for (const std::string& name : guides.lids) append(mesh, named(setup.lids, name).mesh);
  for (const std::string& name : guides.run_outs) append(mesh, named(setup.run_outs, name).mesh);
  for (const std::string& name : guides.carriers) append(mesh, named(setup.carriers, name).mesh);
  groups.resize(mesh.triangles.size(), 0);
  GuidedPart result;
  std::size_t group = 0;
  const auto next_group = [&](const TriangleSet& triangles) {
    if (++group == 255)
      throw Error("an operation can have at most 254 keep_away and regions with an allowance of their own");
    for (std::size_t t = 0; t < triangles.size(); ++t)
      if (triangles[t]) groups[t] = static_cast<std::uint8_t>(group);
  };
  for (const std::string& name : guides.own_allowance) next_group(region_named(setup, name).set);
  for (const std::string& name : guides.keep_away) {
    const GuideMesh& keep_away = named(setup.keep_away, name);
    result.clearances_mm.push_back(keep_away.clearance_mm);
    next_group(keep_away.triangles);
    result.guards.push_back({group, name, keep_away.in_the_way});
    append(mesh, keep_away.mesh);
    groups.resize(mesh.triangles.size(), static_cast<std::uint8_t>(group));
  }
  result.part = make_contact_part(std::move(mesh), progress, std::move(groups));
  return result;
}

}  // namespace

TipSurfaceOptions GuidedPart::options(const Allowance& allowance) const {
  TipSurfaceOptions options = tip_surface_options(allowance);
  if (clearances_mm.empty() && allowance.where.empty()) return options;
  options.group_extra_mm.assign(1, allowance.elsewhere_mm() - options.allowance_mm);
  for (const Allowance::OfRegion& one : allowance.where)
    options.group_extra_mm.push_back(one.mm - options.allowance_mm);
  for (const double clearance : clearances_mm)
    options.group_extra_mm.push_back(std::max(0.0, clearance - options.allowance_mm));
  options.group_extra_mm.push_back(0.0);
  return options;
}

GuidedPart GuidedParts::next(const Progress& progress) {
  const std::size_t here = at_++;
  const Guides& guides = wanted_[here];
  const auto same = [&](const Kept& kept) { return kept.guides == guides; };
  const auto known = std::find_if(kept_.begin(), kept_.end(), same);
  GuidedPart part = known == kept_.end() ? guided_part(setup_, guides, progress) : known->part;
  const bool wanted_again =
      std::find(wanted_.begin() + static_cast<std::ptrdiff_t>(at_), wanted_.end(), guides) != wanted_.end();
  if (wanted_again && known == kept_.end()) kept_.push_back({guides, part});
  if (!wanted_again && known != kept_.end()) kept_.erase(known);
  return part;
}

}  // namespace yardpass::detail
