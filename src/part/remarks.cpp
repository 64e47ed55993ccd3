#include <algorithm>
#include <cstdio>

#include "yardpass/part/diagnosis.h"

namespace yardpass {

namespace {

std::string counted(std::int64_t count, const char* one, const char* many) {
  return std::to_string(count) + " " + (count == 1 ? one : many);
}

std::string length_text(double value) {
  char text[32];
  std::snprintf(text, sizeof text, "%.2f mm", value);
  return text;
}

void add_open_loops(const Diagnosis& d, std::vector<Remark>& result) {
  std::vector<const OpenLoop*> borders, holes;
  for (const OpenLoop& loop : d.open_loops) (loop.outer ? borders : holes).push_back(&loop);
  if (!borders.empty()) {
    Remark remark{
        "an open sheet: " + counted(static_cast<std::int64_t>(borders.size()), "border", "borders") +
            ", the longest " + length_text(borders.front()->length_mm),
        false,
        "a normal part; nothing is there beyond the border",
        {}};
    result.push_back(remark);
  }
  if (!holes.empty()) {
    Remark remark{counted(static_cast<std::int64_t>(holes.size()), "hole", "holes") +
                      " in the mesh (open edges), the longest rim " + length_text(holes.front()->length_mm),
                  true,
                  "a tool narrower than the hole dips into it",
                  {}};
    for (const OpenLoop* loop : holes)
      if (remark.places.size() < Trouble::kPlaces) remark.places.push_back(loop->at);
    result.push_back(remark);
  }
}

}  // namespace

std::vector<Remark> remarks(const Diagnosis& d) {
  std::vector<Remark> result;
  add_open_loops(d, result);
  const auto add = [&](const Trouble& trouble, const char* one, const char* many, bool matters,
                       const char* why) {
    if (trouble.count > 0)
      result.push_back({counted(trouble.count, one, many), matters, why, trouble.places});
  };
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
