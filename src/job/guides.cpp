#include "yardpass/part/guides.h"

#include <algorithm>

#include <fmt/format.h>

#include "job/toml_reader.h"
#include "job/world_regions.h"
#include "yardpass/curve/guide_surfaces.h"

namespace yardpass::detail {

namespace {

const NamedRegion& region_named(const JobWorld& world, const std::string& name) {
  return *std::find_if(world.regions.begin(), world.regions.end(),
                       [&](const NamedRegion& region) { return region.name == name; });
}

Polyline2 in_plan(const Rim& rim) {
  Polyline2 loop;
  for (const Vec3& p : rim.points) loop.push_back(plan(p));
  return loop;
}

GuideSurface make_lid(const JobWorld& world, const LidJob& said, const Mesh& mesh, const Joints& joints) {
  GuideSurface lid{said.name, {}, {}, 0};
  const auto smooth = [&](const std::string& region, const Region& area) {
    // Fine enough to follow the surface around, coarse enough to be quick: a fortieth of the opening.
    const double spacing = said.spacing_mm.value_or(std::max(0.05, area.box().diagonal().norm() / 40));
    append(lid.mesh, smooth_lid(mesh, region_named(world, region).set, area, spacing));
  };
  if (said.over) {
    smooth(said.continues, *said.over);
    return lid;
  }
  for (const Rim& rim : rims_of(mesh, joints, region_named(world, said.holes_of).set)) {
    if (!rim.is_hole || (said.widest_mm && rim.widest_mm() > *said.widest_mm)) continue;
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

const Curve& only_curve(const JobWorld& world, const std::string& name) {
  const std::vector<Curve>& curves = curves_named(world, name);
  if (curves.size() != 1)
    throw Error(
        fmt::format("the curve \"{}\" has {} pieces; a guide surface needs one (see \"keep\" and \"join\" "
                    "among its edits)",
                    name, curves.size()));
  return curves.front();
}

GuideSurface make_guide_surface(const JobWorld& world, const GuideSurfaceJob& said, const Mesh& mesh,
                                const Joints& joints) {
  GuideSurface surface{said.name, {}, {}, 0};
  if (!said.between.empty())
    surface.mesh = ruled_face(only_curve(world, said.between[0]), only_curve(world, said.between[1]));
  else if (!said.section.empty())
    surface.mesh = swept_section(only_curve(world, said.section), only_curve(world, said.along));
  else if (said.patch)
    surface.mesh = flat_patch(*said.patch, said.z);
  else
    surface.mesh = offset_copy(mesh, joints, region_named(world, said.copy_of).set, said.offset_mm);
  return surface;
}

GuideSurface make_guard(const JobWorld& world, const GuardJob& said) {
  GuideSurface guard{said.name, {}, {}, said.clearance_mm};
  if (said.region.empty())
    guard.mesh = read_mesh(said.mesh).mesh;
  else
    guard.triangles = region_named(world, said.region).set;
  return guard;
}

}  // namespace

void make_guides(JobWorld& world, const Mesh& mesh, const Joints& joints) {
  Mistakes mistakes(world.job.file.string());
  const auto make = [&](const char* kind, const auto& said, std::vector<GuideSurface>& list,
                        const auto& maker) {
    try {
      list.push_back(maker());
    } catch (const Error& error) {
      mistakes.add(said.line, fmt::format("{} \"{}\": {}", kind, said.name, error.what()));
    }
  };
  for (const LidJob& said : world.job.lids)
    make("lid", said, world.lids, [&] { return make_lid(world, said, mesh, joints); });
  for (const ExtensionJob& said : world.job.extensions)
    make("extension", said, world.extensions, [&] {
      Mesh strip =
          extension_of(mesh, joints, region_named(world, said.edge_of).set, said.length_mm, said.curved);
      if (strip.triangles.empty())
        throw Error(fmt::format("the region \"{}\" has no outer edge", said.edge_of));
      return GuideSurface{said.name, std::move(strip), {}, 0};
    });
  for (const GuideSurfaceJob& said : world.job.guide_surfaces)
    make("guide surface", said, world.guide_surfaces,
         [&] { return make_guide_surface(world, said, mesh, joints); });
  for (const GuardJob& said : world.job.guards)
    make("guard", said, world.guards, [&] { return make_guard(world, said); });
  mistakes.raise();
}

std::shared_ptr<const ContactPart> guided_part(const JobWorld& world, const OperationJob& operation,
                                               double allowance_mm, std::vector<double>& group_extra_mm,
                                               const Progress& progress) {
  if (operation.lids.empty() && operation.extensions.empty() && operation.guide_surfaces.empty() &&
      operation.guards.empty())
    return world.part;
  const auto named = [](const std::vector<GuideSurface>& list,
                        const std::string& name) -> const GuideSurface& {
    return *std::find_if(list.begin(), list.end(), [&](const GuideSurface& g) { return g.name == name; });
  };
  Mesh mesh = world.part->mesh();
  std::vector<std::uint8_t> groups(mesh.triangles.size(), 0);
  for (const std::string& name : operation.lids) append(mesh, named(world.lids, name).mesh);
  for (const std::string& name : operation.extensions) append(mesh, named(world.extensions, name).mesh);
  for (const std::string& name : operation.guide_surfaces)
    append(mesh, named(world.guide_surfaces, name).mesh);
  groups.resize(mesh.triangles.size(), 0);
  group_extra_mm.assign(1, 0.0);
  for (const std::string& name : operation.guards) {
    const GuideSurface& guard = named(world.guards, name);
    const auto group = static_cast<std::uint8_t>(group_extra_mm.size());
    if (group == 255) throw Error("an operation can have at most 254 guards");
    group_extra_mm.push_back(std::max(0.0, guard.clearance_mm - allowance_mm));
    for (std::size_t t = 0; t < guard.triangles.size(); ++t)
      if (guard.triangles[t]) groups[t] = group;
    append(mesh, guard.mesh);
    groups.resize(mesh.triangles.size(), group);
  }
  group_extra_mm.push_back(0.0);
  return make_contact_part(std::move(mesh), progress, std::move(groups));
}

}  // namespace yardpass::detail
