#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "job/stage.h"
#include "job/world_regions.h"
#include "yardpass/part/write_stl.h"

namespace yardpass {

namespace {

/// Boundaries that meet neither part nor stock.
void check_boundaries(const JobWorld& world) {
  const Job& job = world.job;
  std::string text;
  const Box2 part = plan(world.part->box()), block = plan(world.block);
  for (const OperationJob& operation : job.operations) {
    if (!operation.keep_inside || !operation.active) continue;
    if (!intersect(*operation.keep_inside, rectangle(part)).empty()) continue;
    if (!intersect(*operation.keep_inside, rectangle(block)).empty()) continue;
    const Box2 box = operation.keep_inside->box();
    text += fmt::format(
        "{}{}:{}: operation \"{}\": \"keep_inside\" meets neither part nor stock: it spans X {:g} to {:g}, Y "
        "{:g} to {:g}, the "
        "stock X {:g} to {:g}, Y {:g} to {:g}",
        text.empty() ? "" : "\n", job.file.string(), operation.line_of("keep_inside"), operation.name,
        box.min().x(), box.max().x(), box.min().y(), box.max().y(), block.min().x(), block.max().x(),
        block.min().y(), block.max().y());
  }
  if (!text.empty()) throw Error(text);
}

Mesh placed_part(const Job& job, JobWorld& world, const StageProgress& progress) {
  MeshFile file = read_mesh(job.part.mesh, job.part.read, detail::stage(progress, "read the part"));
  PartRecord& record = world.record;
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

JobWorld load_world(const Job& job, const StageProgress& progress) {
  JobWorld world;
  world.job = job;
  Mesh mesh = placed_part(job, world, progress);
  if (job.part.origin) {
    using Kind = StockJob::Shape;
    const Kind kind = job.stock.shape;
    if (job.part.origin->of == Origin::Of::stock &&
        (kind == Kind::corners || kind == Kind::mesh || kind == Kind::file))
      throw Error(
          job.file.string() +
          ": part: \"origin\" of the stock needs stock around the part; corners, meshes and files lie in "
          "program coordinates already, so give the origin of the part");
    const Vec3 origin = point_of(*job.part.origin, mesh.box(), detail::block_around(mesh.box(), job.stock));
    for (Vec3& p : mesh.points) p -= origin;
    world.record.matrix.col(3) -= origin;
  }
  mesh = rounded_to_single(std::move(mesh));  // as part.stl will hold it
  world.summary = summarize(mesh);
  const Joints joints(mesh);
  world.diagnosis = diagnose(mesh, joints, {.crossings = false}, detail::stage(progress, "look at the part"));
  if (!job.regions.empty())
    detail::find_regions(world, mesh, joints, detail::stage(progress, "find the regions"));
  detail::find_curves(world, mesh, joints);
  detail::make_guides(world, mesh, joints);
  world.part = make_contact_part(std::move(mesh), detail::stage(progress, "index the part"));
  detail::make_stock(world);
  detail::find_boundaries(world);
  detail::fill_in_measured(world);
  double highest = world.block.max().z();
  for (const auto* list : {&world.lids, &world.extensions, &world.guide_surfaces, &world.guards})
    for (const GuideSurface& guide : *list)
      if (!guide.mesh.triangles.empty()) highest = std::max(highest, guide.mesh.box().max().z());
  world.clearance_z = highest + job.clearance_mm;
  check_boundaries(world);
  return world;
}

}  // namespace yardpass
