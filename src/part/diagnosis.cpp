#include "yardpass/part/diagnosis.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "part/facets.h"
#include "part/open_loops.h"

namespace yardpass {

namespace {

void note(Trouble& trouble, const Vec3& place) {
  ++trouble.count;
  if (trouble.places.size() < Trouble::kPlaces) trouble.places.push_back(place);
}

using detail::end_of;
using detail::middle_of;
using detail::start_of;

/// Shares of a quantity over a range of sizes, kept in bins 3 % wide: percentiles without sorting.
class LogHistogram {
 public:
  void add(double value, double weight) {
    const double bin = value > kLeast ? std::log(value / kLeast) / kStep : 0;
    bins_[static_cast<std::size_t>(std::clamp(bin, 0.0, kBins - 1.0))] += weight;
    total_ += weight;
  }
  [[nodiscard]] double share_below(double share) const {
    double sum = 0;
    for (std::size_t i = 0; i < bins_.size(); ++i)
      if ((sum += bins_[i]) >= share * total_)
        return i == 0 ? 0 : kLeast * std::exp((static_cast<double>(i) + 0.5) * kStep);
    return 0;
  }

 private:
  static constexpr double kLeast = 1e-7, kStep = 0.03, kBins = 900;
  std::vector<double> bins_ = std::vector<double>(static_cast<std::size_t>(kBins), 0.0);
  double total_ = 0;
};

ChordError chord_error(const Mesh& mesh, const Joints& joints, double crease_deg) {
  const double crease = crease_deg * std::numbers::pi / 180;
  ChordError result;
  LogHistogram shares;
  for (std::size_t i = 0; i < joints.sides(); ++i) {
    const auto side = static_cast<std::int32_t>(i);
    const std::int32_t other = joints.across(side);
    if (other < side) continue;
    const double turn = std::abs(detail::turn_across(mesh, side, other));
    if (!(turn < crease)) continue;
    const double length = (end_of(mesh, side) - start_of(mesh, side)).norm();
    if (!(length > 0)) continue;
    const double area = detail::area_of(mesh, static_cast<std::size_t>(side / 3)),
                 area_other = detail::area_of(mesh, static_cast<std::size_t>(other / 3));
    // The narrower one: beside a bend a plane's facet is wide without being a chord of anything.
    const double width = 2 * std::min(area, area_other) / length;
    const double error = 0.5 * width * std::tan(turn / 4);
    shares.add(error, area + area_other);
    if (error > result.greatest_mm) result.greatest_mm = error, result.worst = middle_of(mesh, side);
  }
  result.median_mm = std::min(result.greatest_mm, shares.share_below(0.5));
  result.p95_mm = std::min(result.greatest_mm, shares.share_below(0.95));
  return result;
}

void measure_edges(const Mesh& mesh, Diagnosis& diagnosis) {
  LogHistogram lengths;
  double shortest = 1e300;
  for (std::size_t t = 0; t < mesh.triangles.size(); ++t)
    for (int k = 0; k < 3; ++k) {
      const double length = (mesh.corner(t, (k + 1) % 3) - mesh.corner(t, k)).norm();
      if (!(length > 0)) continue;
      lengths.add(length, 1);
      shortest = std::min(shortest, length);
      diagnosis.longest_edge_mm = std::max(diagnosis.longest_edge_mm, length);
    }
  diagnosis.shortest_edge_mm = shortest < 1e300 ? shortest : 0;
  diagnosis.median_edge_mm =
      std::clamp(lengths.share_below(0.5), diagnosis.shortest_edge_mm, diagnosis.longest_edge_mm);
}

}  // namespace

Diagnosis diagnose(const Mesh& mesh, const Joints& joints, const DiagnosisOptions& options,
                   const Progress& progress) {
  Diagnosis result;
  result.edges = edge_report(mesh, joints);
  const Shells shells = shells_of(mesh);
  result.shells = shells.count;
  std::vector<Box3> shell_box(static_cast<std::size_t>(shells.count));
  std::vector<double> volume(static_cast<std::size_t>(shells.count), 0);
  const Vec3 middle = mesh.box().center();
  for (std::size_t t = 0; t < mesh.triangles.size(); ++t) {
    const auto shell = static_cast<std::size_t>(shells.of_triangle[t]);
    for (int k = 0; k < 3; ++k) shell_box[shell].extend(mesh.corner(t, k));
    volume[shell] +=
        (mesh.corner(t, 0) - middle).dot((mesh.corner(t, 1) - middle).cross(mesh.corner(t, 2) - middle));
    if (detail::has_no_area(mesh, t)) note(result.zero_area, mesh.corner(t, 0));
  }
  report(progress, 0.1);
  const double whole = mesh.box().diagonal().norm();
  double enclosed = 0;
  for (std::size_t i = 0; i < shell_box.size(); ++i) {
    enclosed += volume[i];
    if (shells.count > 1 && shell_box[i].diagonal().norm() < options.tiny_share * whole)
      note(result.tiny_shells, shell_box[i].min());
  }
  result.inside_out = result.edges.closed() && enclosed < 0;
  measure_edges(mesh, result);
  result.weld = weld_advice(mesh, joints, part_of(progress, 0.1, 0.2));
  // What a weld closes is looked at when it is closed.
  result.open_loops =
      detail::open_loops(mesh, joints, shells, shell_box, result.weld ? 0 : 0.25 * result.median_edge_mm);
  for (const std::int32_t side : joints.crowded_edges()) note(result.crowded, middle_of(mesh, side));
  for (std::size_t i = 0; i < joints.sides(); ++i) {
    const auto side = static_cast<std::int32_t>(i);
    const std::int32_t other = joints.across(side);
    if (other > side && is_flipped(mesh, side, other)) note(result.flipped, middle_of(mesh, side));
  }
  for (const std::int32_t t : detail::repeated_triangles(mesh, joints))
    note(result.repeated, mesh.corner(static_cast<std::size_t>(t), 0));
  report(progress, 0.2);
  result.chord_error = chord_error(mesh, joints, options.crease_deg);
  report(progress, 0.3);
  if (options.crossings) result.crossing = crossing_triangles(mesh, part_of(progress, 0.3, 1));
  report(progress, 1);
  return result;
}

}  // namespace yardpass
