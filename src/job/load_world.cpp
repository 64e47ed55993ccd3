#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "job/stage.h"
#include "job/world_regions.h"
#include "yardpass/part/write_stl.h"

namespace yardpass {

namespace {

/// Cells so that the stock has about two and a half million of them, in round steps.
double default_cell(const Box3& block) {
  const double wanted = std::sqrt(block.sizes().x() * block.sizes().y() / 2.5e6);
  for (const double step : {0.02, 0.025, 0.05, 0.1, 0.2, 0.25, 0.5, 1.0})
    if (step >= wanted) return step;
  return std::ceil(wanted);
}

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

Box3 block_around(const Box3& part, const StockJob& stock) {
  Box3 block = part;
  const Vec3 margin(stock.margin_mm.x(), stock.margin_mm.y(), 0);
  block.extend(Vec3(part.min() - margin));
  block.extend(Vec3(part.max() + margin + Vec3(0, 0, stock.above_mm)));
  return block;
}

}  // namespace

JobWorld load_world(const Job& job, const StageProgress& progress) {
  JobWorld world;
  world.job = job;
  Mesh mesh = placed_part(job, world, progress);
  if (job.part.origin) {
    const Vec3 origin = point_of(*job.part.origin, mesh.box(), block_around(mesh.box(), job.stock));
    for (Vec3& p : mesh.points) p -= origin;
    world.record.matrix.col(3) -= origin;
  }
  mesh = rounded_to_single(std::move(mesh));  // as part.stl will hold it
  world.summary = summarize(mesh);
  world.block = block_around(mesh.box(), job.stock);
  if (!(world.block.sizes().minCoeff() > 0))
    throw Error(job.file.string() +
                ": the part is flat; the stock needs \"above\" and \"margin\" to have a size");
  const Joints joints(mesh);
  world.diagnosis = diagnose(mesh, joints, {.crossings = false}, detail::stage(progress, "look at the part"));
  if (!job.regions.empty())
    detail::find_regions(world, mesh, joints, detail::stage(progress, "find the regions"));
  detail::find_curves(world, mesh, joints);
  detail::make_guides(world, mesh, joints);
  world.part = make_contact_part(std::move(mesh), detail::stage(progress, "index the part"));
  detail::find_boundaries(world);
  detail::fill_in_measured(world);
  world.cell_mm = job.stock.cell_mm.value_or(default_cell(world.block));
  world.cell_source = job.stock.cell_mm ? "given" : "from the size of the stock";
  double highest = world.block.max().z();
  for (const auto* list : {&world.lids, &world.extensions, &world.guide_surfaces, &world.guards})
    for (const GuideSurface& guide : *list)
      if (!guide.mesh.triangles.empty()) highest = std::max(highest, guide.mesh.box().max().z());
  world.clearance_z = highest + job.clearance_mm;
  check_boundaries(world);
  return world;
}

}  // namespace yardpass
