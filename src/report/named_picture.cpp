#include "report/named_picture.h"

#include <algorithm>
#include <array>

#include <fmt/format.h>

#include "report/part_view.h"
#include "report/plot.h"
#include "yardpass/part/guides.h"

namespace yardpass::detail {

namespace {

// Okabe and Ito, "Color Universal Design", 2008.
constexpr std::array<unsigned, 7> kColours{0xe69f00, 0x56b4e9, 0x009e73, 0xf0e442,
                                           0x0072b2, 0xd55e00, 0xcc79a7};

struct Entry {
  std::string words;
  Colour colour;
  bool is_line = false;
};

/// The part with its lids and run_outs, and the entry of the legend that each triangle belongs to.
class NamedSurfaces {
 public:
  explicit NamedSurfaces(const JobSetup& setup)
      : mesh_(setup.part->mesh()), owner_(mesh_.triangles.size(), -1) {
    const Telling telling(setup.job.units);
    // The smallest region last, so that it is seen where regions overlap.
    std::vector<const NamedRegion*> regions;
    for (const NamedRegion& region : setup.regions) regions.push_back(&region);
    std::stable_sort(regions.begin(), regions.end(),
                     [](const NamedRegion* a, const NamedRegion* b) { return a->area_mm2 > b->area_mm2; });
    for (const NamedRegion* region : regions) {
      const int number =
          add(fmt::format("region \"{}\", {}", region->name, telling.area_words(region->area_mm2)));
      for (std::size_t t = 0; t < region->set.size(); ++t)
        if (region->set[t]) owner_[t] = number;
    }
    for (const GuideMesh& guide : setup.lids) add_surface("lid", guide);
    for (const GuideMesh& guide : setup.run_outs) add_surface("run-out", guide);
    for (const GuideMesh& guide : setup.carriers) add_surface("carrier", guide);
    for (const GuideMesh& guide : setup.keep_away)
      if (!guide.mesh.triangles.empty()) add_surface("keep-away", guide);
    for (const NamedCurves& curves : setup.curves) {
      double all = 0;
      for (const Curve& curve : curves.curves) all += length(curve);
      add(fmt::format("curve \"{}\", {}", curves.name, telling.with_unit(all)));
      entries_.back().is_line = true;
    }
    for (const NamedBoundary& boundary : setup.boundaries) {
      add(fmt::format("boundary \"{}\", {}", boundary.name, telling.area_words(boundary.area.area_mm2())));
      entries_.back().is_line = true;
    }
  }
  [[nodiscard]] const Mesh& mesh() const { return mesh_; }
  [[nodiscard]] const std::vector<Entry>& entries() const { return entries_; }
  [[nodiscard]] Colour colour_of(std::int32_t triangle) const {
    const int owner = owner_[static_cast<std::size_t>(triangle)];
    return owner < 0 ? hex(0xe4e7eb) : entries_[static_cast<std::size_t>(owner)].colour;
  }

 private:
  int add(std::string words) {
    entries_.push_back({std::move(words), hex(kColours[entries_.size() % kColours.size()])});
    return static_cast<int>(entries_.size()) - 1;
  }
  void add_surface(const char* kind, const GuideMesh& guide) {
    append(mesh_, guide.mesh);
    owner_.resize(mesh_.triangles.size(), add(fmt::format("{} \"{}\"", kind, guide.name)));
  }
  Mesh mesh_;
  std::vector<int> owner_;
  std::vector<Entry> entries_;
};

/// Curves over the part in both views, also where it hides them.
void draw_curves(Canvas& canvas, const PartView& above, const PartView& corner, const JobSetup& setup,
                 const std::vector<Entry>& entries, std::size_t first) {
  for (const PartView* view : {&above, &corner}) {
    canvas.clip(view->frame());
    for (std::size_t k = 0; k < setup.curves.size(); ++k)
      for (const Curve& curve : setup.curves[k].curves) {
        canvas.move_to(view->to_page(curve.points.front()));
        for (const Vec3& p : curve.points) canvas.line_to(view->to_page(p));
        if (curve.closed) canvas.line_to(view->to_page(curve.points.front()));
        canvas.stroke(entries[first + k].colour, 2.5);
      }
    canvas.unclip();
  }
}

}  // namespace

bool has_named(const JobSetup& setup) {
  return !setup.regions.empty() || !setup.boundaries.empty() || !setup.lids.empty() ||
         !setup.run_outs.empty() || !setup.keep_away.empty() || !setup.carriers.empty() ||
         !setup.curves.empty();
}

void draw_named(const Inspection& inspection, const std::filesystem::path& file) {
  const JobSetup& setup = inspection.setup;
  const NamedSurfaces surfaces(setup);
  Canvas canvas(kWidth, kHeight, Telling(inspection.setup.job.units));
  draw_title(canvas, inspection.title + ": what the job names",
             "regions by colour, smaller ones over larger ones; lids, run-outs and carriers as such; "
             "curves and boundaries as lines");
  const PartView above(surfaces.mesh(), kFromAbove, 0, 90), corner(surfaces.mesh(), kFromCorner, 30, 35);
  for (const PartView* view : {&above, &corner})
    view->paint(canvas, [&](int i, int j) {
      const std::int32_t t = view->triangle(i, j);
      const Colour c = surfaces.colour_of(t);
      const double light = 0.3 + 0.7 * view->light(t);
      return Colour{c.r * light, c.g * light, c.b * light};
    });
  std::size_t first = 0;
  while (first < surfaces.entries().size() && !surfaces.entries()[first].is_line) ++first;
  draw_curves(canvas, above, corner, setup, surfaces.entries(), first);
  canvas.clip(above.frame());
  first += setup.curves.size();
  for (std::size_t k = 0; k < setup.boundaries.size(); ++k)
    for (const Polyline2& loop : setup.boundaries[k].area.loops) {
      canvas.move_to(above.plan().to_page(loop.back()));
      for (const Vec2& p : loop) canvas.line_to(above.plan().to_page(p));
      // Where two boundaries share an edge, every second one is dashed so that both are seen.
      canvas.stroke(surfaces.entries()[first + k].colour, 3,
                    k % 2 == 1 ? Canvas::Line::dashed : Canvas::Line::solid);
    }
  canvas.unclip();
  draw_axes(canvas, above.plan());
  double y = 96;
  constexpr std::size_t most = 26;
  for (std::size_t i = 0; i < std::min(most, surfaces.entries().size()); ++i)
    y = draw_swatch(canvas, kWidePanel, y, surfaces.entries()[i].colour, surfaces.entries()[i].words);
  if (surfaces.entries().size() > most)
    canvas.text({kWidePanel, y + 12}, fmt::format("and {} more", surfaces.entries().size() - most), 12,
                kFaint);
  canvas.save(file);
}

}  // namespace yardpass::detail
