#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "setup/parts_of_setup.h"
#include "setup/stage.h"
#include "yardpass/part/write_stl.h"

namespace yardpass {

namespace {

Mesh placed_part(const Job& job, JobSetup& setup, const StageProgress& progress) {
  MeshFile file = read_mesh(job.part.mesh, job.part.read, detail::stage(progress, "read the part"));
  PartRecord& record = setup.record;
  try {
    record.repairs = repair(file, job.part.repairs);
  } catch (const Error& error) {
    throw Error(job.part.mesh.string() + ": " + error.what());
  }
  record.format = file.format;
  record.unit = file.unit;
  record.unit_source = file.unit_source;
  record.groups = file.groups;
  record.group_of_triangle = std::move(file.group_of_triangle);
  record.welded = file.welded;
  record.notes = file.notes;
  record.matrix = matrix_of(job.part.placement);
  return placed(std::move(file.mesh), job.part.placement);
}

}  // namespace

JobSetup load_setup(const Job& job, const StageProgress& progress) {
  JobSetup setup;
  setup.job = job;
  Mesh mesh = placed_part(job, setup, progress);
  if (job.part.origin) {
    const Vec3 origin = point_of(*job.part.origin, mesh.box(), detail::block_around(mesh.box(), job.stock));
    for (Vec3& p : mesh.points) p -= origin;
    setup.record.matrix.col(3) -= origin;
  }
  mesh = rounded_to_single(std::move(mesh));  // as part.stl will hold it
  setup.summary = summarize(mesh);
  const Joints joints(mesh);
  setup.diagnosis = diagnose(mesh, joints, {.crossings = false}, detail::stage(progress, "look at the part"));
  if (!job.regions.empty())
    detail::find_regions(setup, mesh, joints, detail::stage(progress, "find the regions"));
  detail::find_curves(setup, mesh, joints, false);
  detail::make_guides(setup, mesh, joints);
  setup.part = make_contact_part(std::move(mesh), detail::stage(progress, "index the part"));
  detail::make_stock(setup);
  detail::find_boundaries(setup);
  const std::vector<bool> late = from_boundaries(job.curves);
  if (std::find(late.begin(), late.end(), true) != late.end())
    detail::find_curves(setup, setup.part->mesh(), Joints(setup.part->mesh()), true);
  double highest = std::max(setup.block.max().z(), setup.part->box().max().z());
  for (const auto* list : {&setup.lids, &setup.run_outs, &setup.carriers, &setup.keep_away})
    for (const GuideMesh& guide : *list)
      if (!guide.mesh.triangles.empty()) highest = std::max(highest, guide.mesh.box().max().z());
  setup.plane_z = highest + job.machine.rapid_plane_mm;
  return setup;
}

}  // namespace yardpass
