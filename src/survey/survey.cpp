#include "yardpass/survey/survey.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "geom/parallel_for.h"
#include "yardpass/survey/ball_reach.h"

namespace yardpass {

namespace {

constexpr double kDegrees = 180 / std::numbers::pi;
constexpr double kUpright = 0.1 / kDegrees;  // as a sine: that far from the spindle's direction
constexpr std::size_t kChunk = 2048;

/// Places spread evenly over a triangle. Source: M. Roberts, "The Unreasonable Effectiveness of Quasirandom
/// Sequences", 2018 (the R2 sequence).
Vec3 spread_point(const Mesh& mesh, std::size_t t, std::int64_t i, std::int64_t count) {
  const Vec3 &a = mesh.corner(t, 0), &b = mesh.corner(t, 1), &c = mesh.corner(t, 2);
  if (count == 1) return (a + b + c) / 3;
  constexpr double g = 1.32471795724474602596;
  const auto share = [&](double step) {
    const double x = 0.5 + step * static_cast<double>(i + 1);
    return x - std::floor(x);
  };
  double u = share(1 / g), v = share(1 / (g * g));
  if (u + v > 1) u = 1 - u, v = 1 - v;
  return a + u * (b - a) + v * (c - a);
}

/// Settles how a sample lies under the spindle.
class SightJudge {
 public:
  explicit SightJudge(const std::shared_ptr<const ContactPart>& part)
      : needle_(part, Profile::needle()),
        slack_(1e-7 * part->box().diagonal().norm()),
        beside_(1e-5 * part->box().diagonal().norm()),
        lowest_(part->box().min().z()) {}

  void judge(SurfaceSample& sample) const {
    const double up = std::abs(sample.normal.z());
    if (up > kUpright) {
      const bool seen = top_at(plan(sample.at), sample.triangle) <= sample.at.z() + slack_ / up;
      if (seen && sample.normal.z() < 0) sample.normal = -sample.normal;
      const bool level = up > 1 - 1e-9;
      sample.sight = seen                                         ? SurfaceSample::Sight::seen
                     : level && sample.at.z() <= lowest_ + slack_ ? SurfaceSample::Sight::underside
                                                                  : SurfaceSample::Sight::undercut;
      return;
    }
    sample.sight = SurfaceSample::Sight::undercut;
    for (const double side : {1.0, -1.0}) {
      const Vec2 place = plan(sample.at) + side * beside_ * plan(sample.normal).normalized();
      if (top_at(place, sample.triangle) > sample.at.z() + slack_) continue;
      sample.sight = SurfaceSample::Sight::upright;
      sample.normal *= side;
      return;
    }
  }

 private:
  [[nodiscard]] double top_at(const Vec2& place, std::int32_t triangle) const {
    return needle_.height(place, triangle);
  }
  TipSurface needle_;
  double slack_, beside_, lowest_;
};

/// Of the lengths of all sides of triangles.
double median_edge(const Mesh& mesh) {
  std::vector<float> lengths;
  lengths.reserve(3 * mesh.triangles.size());
  for (std::size_t t = 0; t < mesh.triangles.size(); ++t)
    for (int k = 0; k < 3; ++k)
      lengths.push_back(static_cast<float>((mesh.corner(t, (k + 1) % 3) - mesh.corner(t, k)).norm()));
  if (lengths.empty()) return 0;
  const auto middle = lengths.begin() + static_cast<std::ptrdiff_t>(lengths.size() / 2);
  std::nth_element(lengths.begin(), middle, lengths.end());
  return static_cast<double>(*middle);
}

std::vector<double> common_diameters(const Box3& box) {
  std::vector<double> result;
  for (const double d : {0.5, 1.0, 2.0, 3.0, 4.0, 6.0, 8.0, 10.0, 12.0, 16.0, 20.0, 25.0, 32.0})
    if (d <= 0.5 * std::max(box.sizes().x(), box.sizes().y())) result.push_back(d);
  if (result.empty()) result.push_back(0.25 * std::max({box.sizes().x(), box.sizes().y(), 1e-3}));
  return result;
}

bool is_open(const SurfaceSample& sample) {
  return sample.sight == SurfaceSample::Sight::seen || sample.sight == SurfaceSample::Sight::upright;
}

void measure_slopes(const std::vector<SurfaceSample>& samples, Survey& result) {
  result.slopes = {{0, 0.1}, {0.1, 15}, {15, 30}, {30, 45}, {45, 60}, {60, 75}, {75, 89.9}, {89.9, 90}};
  for (const SurfaceSample& sample : samples) {
    if (sample.sight == SurfaceSample::Sight::undercut) result.undercut_mm2 += sample.area_mm2;
    if (sample.sight == SurfaceSample::Sight::underside) result.underside_mm2 += sample.area_mm2;
    if (!is_open(sample)) continue;
    const double slope = std::acos(std::clamp(std::abs(sample.normal.z()), 0.0, 1.0)) * kDegrees;
    for (SlopeShare& share : result.slopes)
      if (slope <= share.to_deg || &share == &result.slopes.back()) {
        share.area_mm2 += sample.area_mm2;
        break;
      }
  }
}

/// The lowest corner that is seen from above, among those of triangles that are.
double lowest_seen(const std::shared_ptr<const ContactPart>& part,
                   const std::vector<SurfaceSample>& samples) {
  const Mesh& mesh = part->mesh();
  const TipSurface needle(part, Profile::needle());
  const double slack = 1e-6 * part->box().diagonal().norm();
  double lowest = part->box().max().z();
  for (const SurfaceSample& sample : samples) {
    if (sample.sight != SurfaceSample::Sight::seen) continue;
    for (int k = 0; k < 3; ++k) {
      const Vec3& corner = mesh.corner(static_cast<std::size_t>(sample.triangle), k);
      // Just inside of the triangle, so that a wall over the corner does not hide it.
      const Vec3 inner = corner + 1e-3 * (sample.at - corner);
      if (inner.z() < lowest && needle.height(plan(inner), sample.triangle) <= inner.z() + slack)
        lowest = std::min(lowest, corner.z());
    }
  }
  return lowest;
}

/// Among the samples that the fewest balls reach, the one with the smallest radius.
void find_smallest_hollow(const ReachProbe& probe, const std::vector<const SurfaceSample*>& hardest,
                          std::size_t reaching, Survey& result) {
  const std::vector<double>& diameters = probe.diameters_mm();
  result.smallest_hollow_at = hardest.front()->at;
  result.smallest_hollow_mm = reaching == 0 ? 0 : diameters[std::min(reaching, diameters.size() - 1)] / 2;
  if (reaching == diameters.size())
    result.smallest_hollow_mm = diameters.back();  // beyond all radii asked about
  if (reaching == 0 || reaching == diameters.size()) return;
  constexpr std::size_t kMost = 500;
  for (std::size_t i = 0; i < hardest.size(); i += 1 + hardest.size() / kMost) {
    const SurfaceSample& sample = *hardest[i];
    const double radius = probe.largest_radius(sample.at, sample.normal, diameters[reaching - 1] / 2,
                                               result.smallest_hollow_mm);
    if (radius < 0.98 * result.smallest_hollow_mm)
      result.smallest_hollow_mm = radius, result.smallest_hollow_at = sample.at;
  }
}

void measure_reach(const std::shared_ptr<const ContactPart>& part, const std::vector<SurfaceSample>& samples,
                   const SurveyOptions& options, Survey& result, const Progress& progress) {
  const auto diameters =
      options.ball_diameters_mm.empty() ? common_diameters(part->box()) : options.ball_diameters_mm;
  const ReachProbe probe(part, diameters, options.reach_tolerance_mm);
  result.reach_tolerance_mm = options.reach_tolerance_mm;
  // Every sample that starts a new share of the open area, so that all stand for the same area.
  double open_area = 0;
  for (const SurfaceSample& sample : samples) open_area += is_open(sample) ? sample.area_mm2 : 0;
  const double share = open_area / static_cast<double>(options.reach_samples);
  std::vector<std::size_t> chosen;
  double sum = 0.5 * share;
  for (std::size_t i = 0; i < samples.size(); ++i) {
    if (!is_open(samples[i])) continue;
    sum += samples[i].area_mm2;
    if (sum < share) continue;
    chosen.push_back(i);
    sum -= share * std::floor(sum / share);
  }
  std::vector<std::uint8_t> count(chosen.size(), 0);
  detail::parallel_for((chosen.size() + 63) / 64, progress, [&](std::size_t chunk) {
    for (std::size_t i = 64 * chunk; i < std::min(chosen.size(), 64 * (chunk + 1)); ++i) {
      const SurfaceSample& sample = samples[chosen[i]];
      count[i] = static_cast<std::uint8_t>(probe.count_reaching(sample.at, sample.normal, sample.triangle));
    }
  });
  result.reach_places = static_cast<std::int64_t>(chosen.size());
  result.reach_doubt = 1 / std::sqrt(static_cast<double>(std::max<std::size_t>(1, chosen.size())));
  double whole = 0;
  std::size_t worst = 0;
  std::vector<double> reached(diameters.size(), 0.0);
  for (std::size_t i = 0; i < chosen.size(); ++i) {
    const double area = std::max(share, samples[chosen[i]].area_mm2);
    whole += area;
    for (std::size_t k = 0; k < count[i]; ++k) reached[k] += area;
    if (count[i] < count[worst]) worst = i;
  }
  for (std::size_t k = 0; k < diameters.size(); ++k)
    result.reach.push_back({diameters[k], whole > 0 ? reached[k] / whole : 0});
  if (chosen.empty()) return;
  std::vector<const SurfaceSample*> hardest;
  for (std::size_t i = 0; i < chosen.size(); ++i)
    if (count[i] == count[worst]) hardest.push_back(&samples[chosen[i]]);
  find_smallest_hollow(probe, hardest, count[worst], result);
}

/// A sharp inner edge is a hollow of radius 0, where it is seen from above: no sample lies on it.
void heed_inner_edges(const std::shared_ptr<const ContactPart>& part,
                      const std::vector<SurfaceSample>& samples, Survey& result) {
  result.smallest_round_mm = result.smallest_hollow_mm, result.smallest_round_at = result.smallest_hollow_at;
  const Mesh& mesh = part->mesh();
  std::vector<std::pair<std::int32_t, std::int32_t>> seen;  // sides of triangles that are open from above
  for (const SurfaceSample& sample : samples) {
    if (!is_open(sample)) continue;
    const auto& t = mesh.triangles[static_cast<std::size_t>(sample.triangle)];
    for (std::size_t k = 0; k < 3; ++k) seen.push_back(std::minmax(t[k], t[(k + 1) % 3]));
  }
  std::sort(seen.begin(), seen.end());
  const auto place = [&](std::int32_t corner) { return mesh.points[static_cast<std::size_t>(corner)]; };
  for (const SharpEdge& edge : result.edges) {
    if (!edge.hollow) continue;
    for (std::size_t i = 0; i + 1 < edge.corners.size(); ++i) {
      const std::pair<std::int32_t, std::int32_t> side = std::minmax(edge.corners[i], edge.corners[i + 1]);
      if (!std::binary_search(seen.begin(), seen.end(), side)) continue;
      if (result.inner_edges_mm == 0)
        result.smallest_hollow_at = 0.5 * (place(side.first) + place(side.second));
      result.inner_edges_mm += (place(side.first) - place(side.second)).norm();
    }
  }
  if (result.inner_edges_mm == 0) return;
  result.smallest_hollow_mm = 0;
  for (BallReach& reach : result.reach) reach.share = std::min(reach.share, 1 - 1e-6);
}

/// Sharp edges without those that are the noise of a scan.
void find_edges(const Mesh& mesh, const Joints& joints, const SurveyOptions& options, Survey& result) {
  result.edges = sharp_edges(mesh, joints, turned_over(mesh, joints), options.sharp_deg);
  result.least_edge_mm =
      options.least_edge_mm ? *options.least_edge_mm : noise_length(result.edges, median_edge(mesh));
  const auto all = static_cast<std::int64_t>(result.edges.size());
  std::erase_if(result.edges, [&](const SharpEdge& edge) { return edge.length_mm < result.least_edge_mm; });
  result.edges_left_out = all - static_cast<std::int64_t>(result.edges.size());
}

}  // namespace

std::vector<SurfaceSample> sample_surface(const std::shared_ptr<const ContactPart>& part, std::int64_t wanted,
                                          const Progress& progress) {
  const Mesh& mesh = part->mesh();
  const auto area_of = [&](std::size_t t) {
    return 0.5 * (mesh.corner(t, 1) - mesh.corner(t, 0)).cross(mesh.corner(t, 2) - mesh.corner(t, 0)).norm();
  };
  double whole = 0;
  for (std::size_t t = 0; t < mesh.triangles.size(); ++t) whole += area_of(t);
  const double one = whole / static_cast<double>(std::max<std::int64_t>(1, wanted));
  std::vector<SurfaceSample> samples;
  samples.reserve(mesh.triangles.size() + static_cast<std::size_t>(wanted));
  for (std::size_t t = 0; t < mesh.triangles.size(); ++t) {
    const double area = area_of(t);
    const Vec3 normal = unit_normal(mesh, t);
    if (normal.isZero()) continue;
    const auto count = std::max<std::int64_t>(1, std::llround(area / one));
    for (std::int64_t i = 0; i < count; ++i)
      samples.push_back({spread_point(mesh, t, i, count), normal, area / static_cast<double>(count),
                         static_cast<std::int32_t>(t)});
  }
  const SightJudge judge(part);
  detail::parallel_for((samples.size() + kChunk - 1) / kChunk, progress, [&](std::size_t chunk) {
    for (std::size_t i = kChunk * chunk; i < std::min(samples.size(), kChunk * (chunk + 1)); ++i)
      judge.judge(samples[i]);
  });
  return samples;
}

Survey survey(const std::shared_ptr<const ContactPart>& part, const Joints& joints,
              const SurveyOptions& options, const Progress& progress) {
  Survey result;
  result.top_z = part->box().max().z();
  const auto samples = sample_surface(part, options.samples, part_of(progress, 0, 0.4));
  for (const SurfaceSample& sample : samples) result.area_mm2 += sample.area_mm2;
  measure_slopes(samples, result);
  result.lowest_seen_z = lowest_seen(part, samples);
  const Vec3 size = part->box().sizes();
  result.flats = flats(part->mesh(), 1e-3 * size.x() * size.y());
  measure_reach(part, samples, options, result, part_of(progress, 0.4, 0.95));
  find_edges(part->mesh(), joints, options, result);
  heed_inner_edges(part, samples, result);
  result.holes = bored_holes(part, joints);
  report(progress, 1);
  return result;
}

}  // namespace yardpass
