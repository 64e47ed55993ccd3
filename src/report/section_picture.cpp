#include "report/section_picture.h"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "report/plot.h"
#include "report/run_pictures.h"
#include "report/tool_outline.h"
#include "yardpass/contact/tip_surface.h"
#include "yardpass/geom/error.h"

namespace yardpass::detail {

namespace {

const Colour kPartInside = hex(0xb8c4d0), kStockInside = hex(0xe9c79b);

/// The upright plane through a line of the plan; places in it are [along the line, Z].
class UprightPlane {
 public:
  explicit UprightPlane(const SectionLine& line) : from_(line.from), length_((line.to - line.from).norm()) {
    if (!(length_ > 1e-9)) throw Error("--section: the line has no length");
    along_ = (line.to - line.from) / length_;
  }
  [[nodiscard]] double length() const { return length_; }
  [[nodiscard]] Vec2 at(double s) const { return from_ + s * along_; }
  [[nodiscard]] double beside(const Vec3& p) const { return cross2(along_, plan(p) - from_); }
  [[nodiscard]] Vec2 in_plane(const Vec3& p) const { return {along_.dot(plan(p) - from_), p.z()}; }

 private:
  Vec2 from_, along_;
  double length_;
};

using Piece = std::pair<Vec2, Vec2>;

/// Where the plane cuts the mesh, along the line and not beyond it.
std::vector<Piece> cut(const Mesh& mesh, const UprightPlane& plane) {
  std::vector<Piece> pieces;
  for (std::size_t t = 0; t < mesh.triangles.size(); ++t) {
    Vec2 ends[2]{Vec2::Zero(), Vec2::Zero()};
    int count = 0;
    for (int k = 0; k < 3 && count < 2; ++k) {
      const Vec3 &a = mesh.corner(t, k), &b = mesh.corner(t, (k + 1) % 3);
      const double da = plane.beside(a), db = plane.beside(b);
      // A corner in the plane counts as on its left: each crossing is met once.
      if ((da >= 0) == (db >= 0)) continue;
      ends[count++] = plane.in_plane(a + (b - a) * (da / (da - db)));
    }
    Vec2 &low = ends[0], &high = ends[1];
    if (low.x() > high.x()) std::swap(low, high);
    if (count < 2 || high.x() < 0 || low.x() > plane.length()) continue;
    const Vec2 slope = (high - low) / std::max(high.x() - low.x(), 1e-300);
    if (low.x() < 0) low -= low.x() * slope;
    if (high.x() > plane.length()) high -= (high.x() - plane.length()) * slope;
    pieces.emplace_back(low, high);
  }
  return pieces;
}

/// Part and stock along the line, with as much of the tool as leaves them as large as without it.
Box2 box_of(const Mesh& part, const Stock* stock, const std::optional<SectionTool>& tool, double length) {
  Box2 box(Vec2(0, part.box().min().z()), Vec2(length, part.box().max().z()));
  if (stock) box.extend(Vec2(0, stock->bottom_z())), box.extend(Vec2(0, stock->block().max().z()));
  const double pad = 0.03 * box.sizes().maxCoeff();
  box = Box2(box.min() - Vec2(pad, pad), box.max() + Vec2(pad, pad));
  if (!tool) return box;
  const double room = kPlot.height / kPlot.width * box.sizes().x() - box.sizes().y();
  double top = tool->tip.z();
  for (const ToolPart& piece : tool_outline(tool->tool))
    for (const Vec2& p : piece.outline) top = std::max(top, tool->tip.z() + p.y() + pad);
  const double least = tool->tip.z() + 2 * tool->tool.diameter_mm;
  const double seen = std::min(top, std::max(least, box.max().y() + std::max(0.0, room)));
  box.extend(Vec2(0, seen));
  return box;
}

double height_at(const Stock& stock, const Vec2& p) {
  const std::optional<std::size_t> cell = stock.cell_at(p);
  return cell ? stock.heights()[*cell] : stock.bottom_z();
}

/// What lies inside the pieces, column by column of the page, between an odd crossing and the next one.
void fill(Canvas& canvas, const PlanView& view, const std::vector<Piece>& pieces) {
  const Frame frame = view.frame();
  const int columns = static_cast<int>(frame.width);
  std::vector<std::vector<double>> crossings(static_cast<std::size_t>(std::max(0, columns)));
  for (const auto& [a, b] : pieces) {
    const Vec2 p = view.to_page(a), q = view.to_page(b);
    const Vec2 &low = p.x() < q.x() ? p : q, &high = p.x() < q.x() ? q : p;
    const int first = std::max(0, static_cast<int>(std::ceil(low.x() - frame.left - 0.5)));
    for (int i = first; i < columns && frame.left + i + 0.5 < high.x(); ++i)
      crossings[static_cast<std::size_t>(i)].push_back(
          low.y() + (high.y() - low.y()) * (frame.left + i + 0.5 - low.x()) / (high.x() - low.x()));
  }
  for (int i = 0; i < columns; ++i) {
    std::vector<double>& rows = crossings[static_cast<std::size_t>(i)];
    std::sort(rows.begin(), rows.end());
    for (std::size_t k = 0; k + 1 < rows.size(); k += 2)
      canvas.fill({frame.left + i, rows[k], 1, rows[k + 1] - rows[k]}, kPartInside);
  }
}

void draw_stock(Canvas& canvas, const PlanView& view, const Stock& stock, const UprightPlane& plane) {
  const double step = std::max(0.5 * stock.cell_mm(), plane.length() / 4000);
  std::vector<Vec2> outline{view.to_page({0, stock.bottom_z()})};
  for (double s = 0; s < plane.length(); s += step) {
    const double z = view.to_page({0, height_at(stock, plane.at(s))}).y();
    outline.emplace_back(view.to_page({s, 0}).x(), z);
    outline.emplace_back(view.to_page({std::min(s + step, plane.length()), 0}).x(), z);
  }
  outline.push_back(view.to_page({plane.length(), stock.bottom_z()}));
  canvas.polygon(outline, kStockInside, hex(0xa8743a), 1);
}

void draw_tool(Canvas& canvas, const PlanView& view, const SectionTool& tool, const Vec2& tip) {
  for (const ToolPart& part : tool_outline(tool.tool)) {
    std::vector<Vec2> outline;
    for (const Vec2& p : part.outline) outline.push_back(view.to_page(tip + p));
    for (std::size_t k = part.outline.size(); k-- > 0;)
      outline.push_back(view.to_page(tip + Vec2(-part.outline[k].x(), part.outline[k].y())));
    const bool cutter = std::string_view(part.name) == "cutter";
    canvas.polygon(outline, cutter ? hex(0xe0b13c, 0.75) : hex(0xa9adb3, 0.75), kInk, 1);
  }
}

}  // namespace

void draw_section(const std::string& title, const Mesh& part, const Stock* stock,
                  const std::optional<SectionTool>& tool, const SectionLine& line, const Telling& telling,
                  const std::string& mark, const std::filesystem::path& file) {
  const UprightPlane plane(line);
  const std::vector<Piece> pieces = cut(part, plane);
  Canvas canvas(kWidth, kHeight, telling);
  canvas.stamp(mark);
  draw_title(canvas, title + ": section",
             fmt::format("upright from {} to {}, at true scale{}", telling.place(line.from),
                         telling.place(line.to), pieces.empty() ? "; the line passes beside the part" : ""));
  const PlanView view(box_of(part, stock, tool, plane.length()), kPlot);
  canvas.clip(view.frame());
  if (stock) draw_stock(canvas, view, *stock, plane);
  fill(canvas, view, pieces);
  for (const auto& [a, b] : pieces) canvas.move_to(view.to_page(a)), canvas.line_to(view.to_page(b));
  canvas.stroke(kInk, 1.3);
  if (tool) draw_tool(canvas, view, *tool, plane.in_plane(tool->tip));
  canvas.unclip();
  draw_axes(canvas, view, "along the line", "Z");
  double y = draw_swatch(canvas, kPanel, 96, kPartInside, "part");
  if (stock) y = draw_swatch(canvas, kPanel, y, kStockInside, "stock");
  if (tool)
    draw_swatch(canvas, kPanel, y, hex(0xe0b13c), fmt::format("T{} {}", tool->tool.number, tool->tool.name));
  canvas.save(file);
}

void draw_section(OutputSource& source) {
  if (!source.section) return;
  const Report& report = source.report;
  const SectionLine& line = *source.section;
  std::optional<SectionTool> tool;
  for (const OperationReport& operation : report.operations) {
    if (!operation.has_moves() || !operation.tool) continue;
    // Of the last operation, in the middle of the line, where its cutter touches the part.
    const Tool whole = completed(*operation.tool);
    const Vec2 middle = 0.5 * (line.from + line.to);
    const double z = TipSurface(report.setup.part, profile_of(whole)).height(middle);
    if (z != kNothingBelow) tool = SectionTool{whole, with_z(middle, z)};
  }
  if (cut(report.setup.part->mesh(), UprightPlane(line)).empty())
    source.told.emplace_back("section: the line passes beside the part");
  draw_section(report.job().title, report.setup.part->mesh(), &report.judged.judgement.stock, tool, line,
               report.telling, not_for_cutting(report),
               source.picture("section", "Part, remaining stock and tool, cut along a line"));
}

}  // namespace yardpass::detail

namespace yardpass {

void draw_section(const Inspection& inspection, const SectionLine& line, const std::filesystem::path& file) {
  const JobSetup& setup = inspection.setup;
  detail::draw_section(inspection.title, setup.part->mesh(),
                       setup.job.operations.empty() ? nullptr : setup.stock.get(), std::nullopt, line,
                       Telling(setup.job.units), "", file);
}

}  // namespace yardpass
