#include "yardpass/part/guides.h"

#include <algorithm>

#include <fmt/format.h>

#include "job/table_reader.h"
#include "setup/guided_parts.h"
#include "setup/parts_of_setup.h"
#include "yardpass/curve/guide_surfaces.h"

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

GuideSurface make_lid(const JobSetup& setup, const LidJob& said, const Mesh& mesh, const Joints& joints) {
  GuideSurface lid{said.name, {}, {}, 0};
  const auto smooth = [&](const std::string& region, const Region& area) {
    // Fine enough to follow the surface around, coarse enough to be quick: a fortieth of the opening.
    const double spacing = said.spacing_mm.value_or(std::max(0.05, area.box().diagonal().norm() / 40));
    append(lid.mesh, smooth_lid(mesh, region_named(setup, region).set, area, spacing));
  };
  if (said.over) {
    smooth(said.continues, *said.over);
    return lid;
  }
  for (const Rim& rim : rims_of(mesh, joints, region_named(setup, said.holes_of).set)) {
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

const Curve& only_curve(const JobSetup& setup, const std::string& name) {
  const std::vector<Curve>& curves = curves_named(setup, name);
  if (curves.size() != 1)
    throw Error(
        fmt::format("the curve \"{}\" has {} pieces; a guide surface needs one (see \"keep\" and \"join\" "
                    "among its edits)",
                    name, curves.size()));
  return curves.front();
}

GuideSurface make_guide_surface(const JobSetup& setup, const GuideSurfaceJob& said, const Mesh& mesh,
                                const Joints& joints) {
  GuideSurface surface{said.name, {}, {}, 0};
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

GuideSurface make_guard(const JobSetup& setup, const GuardJob& said) {
  GuideSurface guard{said.name, {}, {}, said.clearance_mm};
  if (said.region.empty())
    guard.mesh = read_mesh(said.mesh).mesh;
  else
    guard.triangles = region_named(setup, said.region).set;
  return guard;
}

}  // namespace

void make_guides(JobSetup& setup, const Mesh& mesh, const Joints& joints) {
  Mistakes mistakes(setup.job.file.string());
  const auto make = [&](const char* kind, const auto& said, std::vector<GuideSurface>& list,
                        const auto& maker) {
    try {
      list.push_back(maker());
    } catch (const Error& error) {
      mistakes.add(said.line, fmt::format("{} \"{}\": {}", kind, said.name, error.what()));
    }
  };
  for (const LidJob& said : setup.job.lids)
    make("lid", said, setup.lids, [&] { return make_lid(setup, said, mesh, joints); });
  for (const ExtensionJob& said : setup.job.extensions)
    make("extension", said, setup.extensions, [&] {
      Mesh strip =
          extension_of(mesh, joints, region_named(setup, said.edge_of).set, said.length_mm, said.curved);
      if (strip.triangles.empty())
        throw Error(fmt::format("the region \"{}\" has no outer edge", said.edge_of));
      return GuideSurface{said.name, std::move(strip), {}, 0};
    });
  for (const GuideSurfaceJob& said : setup.job.guide_surfaces)
    make("guide surface", said, setup.guide_surfaces,
         [&] { return make_guide_surface(setup, said, mesh, joints); });
  for (const GuardJob& said : setup.job.guards)
    make("guard", said, setup.guards, [&] { return make_guard(setup, said); });
  mistakes.raise();
}

namespace {

GuidedPart guided_part(const JobSetup& setup, const Guides& guides, const Progress& progress) {
  if (guides.none()) return {setup.part, {}};
  const auto named = [](const std::vector<GuideSurface>& list,
                        const std::string& name) -> const GuideSurface& {
    return *std::find_if(list.begin(), list.end(), [&](const GuideSurface& g) { return g.name == name; });
  };
  Mesh mesh = setup.part->mesh();
  std::vector<std::uint8_t> groups(mesh.triangles.size(), 0);
  for (const std::string& name : guides.lids) append(mesh, named(setup.lids, name).mesh);
  for (const std::string& name : guides.extensions) append(mesh, named(setup.extensions, name).mesh);
  for (const std::string& name : guides.guide_surfaces) append(mesh, named(setup.guide_surfaces, name).mesh);
  groups.resize(mesh.triangles.size(), 0);
  GuidedPart result;
  for (const std::string& name : guides.guards) {
    const GuideSurface& guard = named(setup.guards, name);
    result.clearances_mm.push_back(guard.clearance_mm);
    const std::size_t group = result.clearances_mm.size();
    if (group == 255) throw Error("an operation can have at most 254 guards");
    for (std::size_t t = 0; t < guard.triangles.size(); ++t)
      if (guard.triangles[t]) groups[t] = static_cast<std::uint8_t>(group);
    append(mesh, guard.mesh);
    groups.resize(mesh.triangles.size(), static_cast<std::uint8_t>(group));
  }
  result.part = make_contact_part(std::move(mesh), progress, std::move(groups));
  return result;
}

}  // namespace

void GuidedPart::keep_away(TipSurfaceOptions& options) const {
  if (clearances_mm.empty()) return;
  options.group_extra_mm.assign(1, 0.0);
  for (const double clearance : clearances_mm)
    options.group_extra_mm.push_back(std::max(0.0, clearance - options.allowance_mm));
  options.group_extra_mm.push_back(0.0);
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
