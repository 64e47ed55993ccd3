#include <algorithm>
#include <cmath>
#include <cstdio>

#include "yardpass/part/diagnosis.h"

namespace yardpass {

namespace {

std::string counted(std::int64_t count, const char* one, const char* many) {
  return std::to_string(count) + " " + (count == 1 ? one : many);
}

std::string length_text(double value) {
  char text[32];
  std::snprintf(text, sizeof text, value >= 0.1 ? "%.2f mm" : "%.2g mm", value);
  return text;
}

std::vector<Vec3> places_of(const std::vector<const OpenLoop*>& loops) {
  std::vector<Vec3> places;
  for (const OpenLoop* loop : loops)
    if (places.size() < Trouble::kPlaces) places.push_back(loop->at);
  return places;
}

/// Up to the next step of its second digit, for what is promised not to be more.
double rounded_up(double value) {
  if (!(value > 0)) return 0;
  const double step = std::pow(10.0, std::floor(std::log10(value)) - 1);
  return std::ceil(value / step - 1e-9) * step;
}

/// First, so that nothing is taken away that a weld would join.
void add_weld(const Diagnosis& d, std::vector<Remark>& result) {
  const WeldAdvice& advice = *d.weld;
  char weld[32];
  std::snprintf(weld, sizeof weld, "%g", advice.weld_mm);
  Remark remark;
  remark.what = counted(advice.open_before, "open edge", "open edges") +
                ", corners that lie a little apart: welding at " + weld + " mm " +
                (advice.closes ? "closes the mesh"
                               : "joins all but " + counted(advice.open_after, "of them", "of them"));
  remark.why = std::string("`weld = ") + weld + "` in [part], or --weld " + weld + ", moves " +
               counted(advice.moved, "corner", "corners") + " by at most " +
               length_text(rounded_up(advice.farthest_mm));
  if (advice.vanishing > 0)
    remark.why += "; " + counted(advice.vanishing, "triangle loses its area", "triangles lose their area");
  remark.why += "; until then regions and sharp edges end there";
  remark.matters = true;
  for (const OpenLoop& loop : d.open_loops)
    if (remark.places.size() < Trouble::kPlaces) remark.places.push_back(loop.at);
  result.push_back(remark);
}

/// What the open edges of a mesh are, by how they look.
struct OpenEdges {
  std::vector<const OpenLoop*> borders, holes, slits, cracks;
};

OpenEdges sorted_loops(const Diagnosis& d) {
  OpenEdges sorted;
  std::vector<const OpenLoop*> borders;
  for (const OpenLoop& loop : d.open_loops) {
    if (loop.gap_mm)
      (*loop.gap_mm <= 1e-6 ? sorted.slits : sorted.cracks).push_back(&loop);
    else
      (loop.outer && loop.closed ? borders : sorted.holes).push_back(&loop);
  }
  // A shell has one border, and that is its lowest: a tube's upper rim is a hole.
  for (const OpenLoop* loop : borders) {
    const bool lowest = std::none_of(borders.begin(), borders.end(), [&](const OpenLoop* other) {
      return other->shell == loop->shell && other != loop &&
             std::pair(other->box.min().z(), other) < std::pair(loop->box.min().z(), loop);
    });
    (lowest ? sorted.borders : sorted.holes).push_back(loop);
  }
  return sorted;
}

void add_open_loops(const Diagnosis& d, std::vector<Remark>& result) {
  const auto [borders, holes, slits, cracks] = sorted_loops(d);
  const auto number = [](const std::vector<const OpenLoop*>& loops) {
    return static_cast<std::int64_t>(loops.size());
  };
  if (borders.size() == 1)
    result.push_back({"an open sheet, its border " + length_text(borders.front()->length_mm) + " long",
                      false,
                      "a normal part; nothing is there beyond the border",
                      {}});
  else if (!borders.empty())
    result.push_back({counted(number(borders), "open sheet", "open sheets") +
                          " that do not hang together, the longest border " +
                          length_text(borders.front()->length_mm),
                      true, "a tool narrower than a gap between them dips into it", places_of(borders)});
  if (!holes.empty())
    result.push_back({counted(number(holes), "hole", "holes") +
                          " in the mesh (open edges), the longest rim " +
                          length_text(holes.front()->length_mm),
                      true, "a tool narrower than the hole dips into it", places_of(holes)});
  if (!cracks.empty()) {
    double widest = 0;
    for (const OpenLoop* loop : cracks) widest = std::max(widest, *loop->gap_mm);
    result.push_back({counted(number(cracks), "crack", "cracks") + " up to " + length_text(widest) + " wide",
                      true,
                      "no weld closes them, for corners do not face corners; tools bridge them, regions and "
                      "sharp edges end there",
                      places_of(cracks)});
  }
  if (!slits.empty()) {
    std::int64_t joints = 0;
    for (const OpenLoop* loop : slits) joints += loop->t_joints;
    result.push_back({counted(number(slits), "slit", "slits") + " of zero width, with " +
                          counted(joints, "T-joint", "T-joints") + " (corners within an edge of a neighbour)",
                      false, "nothing dips into them; regions and sharp edges end there", places_of(slits)});
  }
}

}  // namespace

std::vector<Remark> remarks(const Diagnosis& d) {
  std::vector<Remark> result;
  if (d.weld)
    add_weld(d, result);
  else
    add_open_loops(d, result);
  const auto add = [&](const Trouble& trouble, const char* one, const char* many, bool matters,
                       const char* why) {
    if (trouble.count > 0)
      result.push_back({counted(trouble.count, one, many), matters, why, trouble.places});
  };
  // Scraps that a weld would join are no scraps.
  if (!d.weld)
    add(d.tiny_shells, "tiny shell", "tiny shells", true,
        "loose scraps; the tool keeps off them as off any surface (repair \"tiny-shells\")");
  add(d.crossing, "pair of triangles that cross", "pairs of triangles that cross", false,
      "the highest surface counts; regions may look odd there");
  add(d.crowded, "edge with three or more triangles", "edges with three or more triangles", false,
      "contact takes all of them; regions end there");
  add(d.flipped, "edge between triangles that face opposite ways",
      "edges between triangles that face opposite ways", false, "contact ignores facing (repair \"facing\")");
  if (d.inside_out)
    result.push_back({"the mesh is inside out", false, "contact ignores facing (repair \"facing\")", {}});
  add(d.zero_area, "triangle without area", "triangles without area", false,
      "it adds nothing (repair \"zero-area\")");
  add(d.repeated, "repeated triangle", "repeated triangles", false, "it adds nothing (repair \"repeated\")");
  return result;
}

}  // namespace yardpass
