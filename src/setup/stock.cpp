#include <algorithm>
#include <cmath>
#include <limits>

#include <fmt/format.h>

#include "geom/parallel_for.h"
#include "setup/parts_of_setup.h"
#include "yardpass/contact/tool_surface.h"
#include "yardpass/part/write_stl.h"
#include "yardpass/plan/cleared_levels.h"
#include "yardpass/stock/stock_shapes.h"
#include "yardpass/verify/left.h"

namespace yardpass::detail {

namespace {

/// The least diameter of the tools that the job uses.
double thinnest_tool(const Job& job) {
  double least = std::numeric_limits<double>::infinity();
  for (const OperationJob& operation : job.operations)
    if (operation.active)
      least = std::min(least, 2 * profile_of(completed(job.tool_named(operation.tool))).radius());
  return least;
}

/// Cells so that the stock has about two and a half million of them, and more, up to ten times as many, where
/// a tool is less than four of them wide; in round steps.
double default_cell(const Box3& block, double thinnest) {
  const double area = block.sizes().x() * block.sizes().y();
  const double wanted = std::clamp(thinnest / 4, std::sqrt(area / 2.5e7), std::sqrt(area / 2.5e6));
  for (const double step : {0.02, 0.025, 0.05, 0.1, 0.2, 0.25, 0.5, 1.0})
    if (step >= wanted) return step;
  return std::ceil(wanted);
}

Stock stock_of_mesh(const Mesh& mesh, double cell) {
  Stock stock(mesh.box(), cell);
  const std::vector<double> tops = part_heights(stock, make_contact_part(mesh));
  for (std::size_t i = 0; i < tops.size(); ++i)
    stock.heights()[i] = tops[i] == kNothingBelow ? stock.bottom_z() : tops[i];
  return stock;
}

/// The part grown by a distance: the middles of balls of that radius that stand on it, and as much more.
Stock stock_around(const JobSetup& setup, const Box3& block, double distance, double cell) {
  Stock stock(block, cell);
  if (distance == 0) {
    const std::vector<double> tops = part_heights(stock, setup.part);
    for (std::size_t i = 0; i < tops.size(); ++i)
      stock.heights()[i] = tops[i] == kNothingBelow ? stock.bottom_z() : tops[i];
    return stock;
  }
  const TipSurface balls(setup.part, Profile::ball(2 * distance));
  parallel_for(static_cast<std::size_t>(stock.rows()), {}, [&](std::size_t r) {
    const int row = static_cast<int>(r);
    for (int column = 0; column < stock.columns(); ++column) {
      const double tip = balls.height(stock.centre(column, row));
      stock.set_height(column, row,
                       tip == kNothingBelow ? stock.bottom_z() : std::min(tip + distance, block.max().z()));
    }
  });
  return stock;
}

/// Where the part stands out of the block.
void note_what_stands_out(JobSetup& setup) {
  const Box3 part = setup.part->box(), block = setup.block;
  const char* const sides[] = {"X", "Y", "Z"};
  for (int k = 0; k < 3; ++k) {
    const double low = block.min()[k] - part.min()[k], high = part.max()[k] - block.max()[k];
    if (std::max(low, high) > 1e-6)
      setup.stock_notes.push_back(fmt::format("the part stands out of the stock by {:.3f} mm in {}{}",
                                              std::max(low, high), low > high ? "-" : "+", sides[k]));
  }
}

/// What a tool is said to have cleared before the first operation.
void clear_before(const JobSetup& setup, Stock& stock) {
  const StockJob& said = setup.job.stock;
  if (said.cleared_by.empty()) return;
  const Tool tool = completed(setup.job.tool_named(said.cleared_by));
  const double leaving = said.cleared_leaving_mm.value_or(std::max(0.1, 0.03 * tool.diameter_mm)),
               stepdown = said.cleared_stepdown_mm.value_or(0.25 * tool.diameter_mm);
  const ToolSurface surface(setup.part, tool, {.allowance_mm = leaving}, std::nullopt);
  clear_levels(stock, surface, stepdown, std::clamp(leaving / 6, 0.01, 0.1));
}

/// Holes that are there before the first cut; where they lie beside the stock, a note says so.
void drill(JobSetup& setup, Stock& stock) {
  for (const DrilledHoles& holes : setup.job.stock.drilled) {
    const double low = holes.bottom_z.value_or(stock.bottom_z());
    if (low >= stock.block().max().z())
      setup.stock_notes.push_back(fmt::format("the holes \"{}\" end above the stock", holes.name));
    const Profile drill = Profile::flat(holes.diameter_mm);
    for (const Vec2& at : holes.at) {
      const Vec3 top = with_z(at, std::max(low, stock.block().max().z()));
      const SweptMove way{top, with_z(at, std::max(low, stock.bottom_z())), 0, true};
      CarveLog log;
      carve(stock, std::span<const Profile>(&drill, 1), std::span<const SweptMove>(&way, 1), &log);
      setup.drilled.push_back(at);
      if (!log.removed.empty() && !log.removed.front())
        setup.stock_notes.push_back(
            fmt::format("the hole \"{}\" at X {:g} Y {:g} meets no material", holes.name, at.x(), at.y()));
    }
  }
}

Box3 grown(const Box3& box, double by) {
  return {Vec3(box.min().array() - by), Vec3(box.max().array() + by)};
}

/// The mesh of the stock, placed with the part where it is drawn like it.
Mesh stock_mesh(const JobSetup& setup) {
  const StockJob& said = setup.job.stock;
  if (!said.with_part) return rounded_to_single(read_mesh(said.path).mesh);
  Mesh mesh = read_mesh(said.path, {.unit = setup.record.unit}).mesh;
  for (Vec3& p : mesh.points) p = setup.record.matrix * p.homogeneous();
  return rounded_to_single(std::move(mesh));
}

/// Cells that nobody has the memory for, or that are no picture of the stock.
void refuse_cells(const Job& job, const Box3& block, double cell) {
  const Vec2 size = plan(block).sizes();
  constexpr double kMost = 1e9, kWouldDo = 1e8, kAcross = 4;
  const double cells = size.x() / cell * size.y() / cell;
  double step = 0.001;
  while (size.x() / step * size.y() / step > kWouldDo) step *= 2;
  if (cells > kMost)
    throw Error(
        fmt::format("{}: [stock] cell of {:g} mm is too fine for a stock of {:.1f} x {:.1f} mm: {:.3g} "
                    "cells, {:.3g} GB for each "
                    "state of it; {:g} mm would do ({:.0f} million cells)",
                    job.file.string(), cell, size.x(), size.y(), cells, 8e-9 * cells, step,
                    1e-6 * size.x() / step * size.y() / step));
  const double most = size.minCoeff() / kAcross;
  if (cell > most)
    throw Error(
        fmt::format("{}: [stock] cell of {:g} mm is too coarse for a stock of {:.3f} x {:.3f} mm: at most "
                    "{:.3g} mm shows "
                    "anything of it (is the part's unit right?)",
                    job.file.string(), cell, size.x(), size.y(), most));
}

}  // namespace

Box3 block_around(const Box3& part, const StockJob& stock) {
  if (stock.shape == StockJob::Shape::around_part) return grown(part, stock.around_part_mm);
  Box3 block = part;
  const double radius = stock.diameter_mm / 2;
  Vec3 low(part.min().x() - stock.margin_mm.x(), part.min().y() - stock.margin_mm.y(), part.min().z()),
      high(part.max().x() + stock.margin_mm.x(), part.max().y() + stock.margin_mm.y(),
           part.max().z() + stock.above_mm);
  const Vec3 middle = (part.min() + part.max()) / 2;
  const bool along_x = stock.shape == StockJob::Shape::bar_along_x,
             along_y = stock.shape == StockJob::Shape::bar_along_y,
             upright = stock.shape == StockJob::Shape::upright_bar;
  if (along_y || upright) low.x() = middle.x() - radius, high.x() = middle.x() + radius;
  if (along_x || upright) low.y() = middle.y() - radius, high.y() = middle.y() + radius;
  if (along_x || along_y) low.z() = middle.z() - radius, high.z() = middle.z() + radius;
  if (upright || along_x || along_y) return Box3(low, high);
  block.extend(low);
  block.extend(high);
  return block;
}

void make_stock(JobSetup& setup) {
  const StockJob& said = setup.job.stock;
  const Box3 around = block_around(setup.part->box(), said);
  using Shape = StockJob::Shape;
  std::optional<Mesh> mesh;
  Box3 block = around;
  if (said.shape == Shape::corners) block = said.corners;
  if (said.shape == Shape::mesh) {
    mesh = stock_mesh(setup);
    block = mesh->box();
  }
  if (said.shape != Shape::file && !(block.sizes().minCoeff() > 0))
    throw Error(setup.job.file.string() +
                ": the part is flat; the stock needs \"above\" and \"margin\" to have a size");
  const double cell =
      setup.job.coarser.cells * said.cell_mm.value_or(default_cell(block, thinnest_tool(setup.job)));
  if (said.shape != Shape::file) refuse_cells(setup.job, block, cell);
  setup.cell_source = said.shape == Shape::file ? "of the stock file"
                      : said.cell_mm            ? "given"
                                                : "from stock and tools";
  if (setup.job.coarser.cells > 1 && said.shape != Shape::file)
    setup.cell_source += fmt::format(", {:g} times as wide for a quick look", setup.job.coarser.cells);
  const Vec3 middle = (block.min() + block.max()) / 2;
  const auto made = [&]() -> Stock {
    switch (said.shape) {
      case Shape::upright_bar:
        return upright_bar(plan(middle), said.diameter_mm, block.min().z(), block.max().z(), cell);
      case Shape::bar_along_x:
        return lying_bar(BarAxis::x, middle, said.diameter_mm, block.sizes().x(), cell);
      case Shape::bar_along_y:
        return lying_bar(BarAxis::y, middle, said.diameter_mm, block.sizes().y(), cell);
      case Shape::around_part:
        return stock_around(setup, block, said.around_part_mm, cell);
      case Shape::mesh:
        return stock_of_mesh(*mesh, cell);
      case Shape::file:
        return read_stock(said.path);
      case Shape::block:
      case Shape::corners:
        break;
    }
    return Stock(block, cell);
  };
  Stock stock = made();
  drill(setup, stock);
  clear_before(setup, stock);
  setup.stock = std::make_shared<const Stock>(std::move(stock));
  setup.block = setup.stock->block();
  setup.cell_mm = setup.stock->cell_mm();
  note_what_stands_out(setup);
  if (const double thinnest = thinnest_tool(setup.job); setup.cell_mm > thinnest / 2)
    setup.stock_notes.push_back(fmt::format(
        "the cell of the simulation, {} mm, is more than half as wide as the thinnest tool, {} mm; what "
        "that leaves is seen coarsely",
        setup.cell_mm, thinnest));
}

}  // namespace yardpass::detail
