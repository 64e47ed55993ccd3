// Pictures of a part before anything is planned: heights, slopes, reach of balls.
#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

#include <fmt/format.h>

#include "geom/parallel_for.h"
#include "report/area_picture.h"
#include "report/edge_picture.h"
#include "report/named_picture.h"
#include "report/part_view.h"
#include "report/plot.h"
#include "report/region_picture.h"
#include "report/roles_picture.h"
#include "report/seam_picture.h"
#include "yardpass/report/report.h"
#include "yardpass/survey/ball_reach.h"

namespace yardpass {

namespace {

using detail::Canvas;
using detail::Colour;
using detail::hex;
using detail::kFaint;
using detail::kInk;
using detail::PartView;

constexpr double kPanel = detail::kWidePanel;
const Colour kEdge = hex(0xe66101);

Colour shaded(const Colour& colour, double light) {
  return {colour.r * light, colour.g * light, colour.b * light, colour.alpha};
}

Colour mixed(const Colour& a, const Colour& b, double share) {
  return {a.r + share * (b.r - a.r), a.g + share * (b.g - a.g), a.b + share * (b.b - a.b)};
}

/// From dark blue over grey to yellow: even in lightness, and told apart with any kind of colour blindness.
/// Source: J. Nunez, C. Anderton, R. Renslow, "Optimizing colormaps with consideration for color vision
/// deficiency", 2018.
Colour height_colour(double share) {
  static const std::array<Colour, 6> stops{hex(0x00224e), hex(0x35456c), hex(0x666970),
                                           hex(0x948e77), hex(0xc8b866), hex(0xfee838)};
  const double at = std::clamp(share, 0.0, 1.0) * (stops.size() - 1);
  const auto i = std::min(static_cast<std::size_t>(at), stops.size() - 2);
  return mixed(stops[i], stops[i + 1], at - static_cast<double>(i));
}

/// Two views of the part, from above with axes and from a corner, coloured alike.
class TwoViews {
 public:
  explicit TwoViews(const Mesh& mesh)
      : above_(mesh, detail::kFromAbove, 0, 90), corner_(mesh, detail::kFromCorner, 30, 35) {}

  template <typename ColourOf>
  void draw(Canvas& canvas, const std::vector<SharpEdge>& edges, const Mesh& mesh,
            const ColourOf& colour_of) {
    for (const PartView* view : {&above_, &corner_}) {
      std::vector<std::uint8_t> marks(static_cast<std::size_t>(view->width()) *
                                      static_cast<std::size_t>(view->height()));
      for (const SharpEdge& edge : edges)
        for (std::size_t k = 0; k + 1 < edge.corners.size(); ++k)
          view->mark_line(mesh.points[static_cast<std::size_t>(edge.corners[k])],
                          mesh.points[static_cast<std::size_t>(edge.corners[k + 1])], marks);
      view->paint(canvas, [&](int i, int j) {
        const Colour colour = shaded(colour_of(*view, i, j), view->light(view->triangle(i, j)));
        return marks[view->index(i, j)] ? kEdge : colour;
      });
    }
    detail::draw_axes(canvas, above_.plan());
    canvas.text(
        {corner_.frame().left + corner_.frame().width / 2, corner_.frame().top + corner_.frame().height + 18},
        "seen from the right front corner", 12, kFaint, Canvas::Align::middle);
  }
  [[nodiscard]] const PartView& above() const { return above_; }

 private:
  PartView above_, corner_;
};

std::string size_words(const Inspection& inspection) {
  const Box3& box = inspection.setup.summary.box;
  return fmt::format("{}; {} triangles", Telling(inspection.setup.job.units).box(box),
                     inspection.setup.summary.triangles);
}

void draw_heights(const Inspection& inspection, TwoViews& views, const std::filesystem::path& file) {
  const Mesh& mesh = inspection.setup.part->mesh();
  const Box3& box = inspection.setup.part->box();
  const double low = inspection.survey.lowest_seen_z, high = box.max().z();
  Canvas canvas(detail::kWidth, detail::kHeight, Telling(inspection.setup.job.units));
  detail::draw_title(canvas, inspection.title + ": heights", size_words(inspection));
  views.draw(canvas, inspection.survey.edges, mesh, [&](const PartView& view, int i, int j) {
    return height_colour((view.place(i, j).z() - low) / std::max(1e-9, high - low));
  });
  constexpr double top = 100, height = 300;
  canvas.paint({kPanel, top, 28, height},
               [&](const Vec2& p) { return height_colour(1 - (p.y() - top) / height); });
  canvas.outline({kPanel, top, 28, height}, kFaint, 0.6);
  canvas.text({kPanel, top - 12}, fmt::format("Z, {}", canvas.telling().unit()), 13, kInk,
              Canvas::Align::left, true);
  for (int k = 0; k <= 6; ++k)
    canvas.text({kPanel + 38, top + height * k / 6 + 5}, canvas.telling().number(high + (low - high) * k / 6),
                13, kInk);
  double y = top + height + 40;
  const auto line = [&](const std::string& words, bool bold = false) {
    canvas.text({kPanel, y}, words, 13, kInk, Canvas::Align::left, bold);
    y += 20;
  };
  line("depth " + canvas.telling().with_unit(inspection.survey.depth_mm()), true);
  line("(top to the lowest place seen)");
  y += 10;
  line("flats", true);
  const auto& flats = inspection.survey.flats;
  for (std::size_t k = 0; k < std::min<std::size_t>(8, flats.size()); ++k)
    line(fmt::format("Z {}: {}", canvas.telling().column(flats[k].z_mm),
                     canvas.telling().area_words(flats[k].area_mm2)));
  if (flats.size() > 8) line(fmt::format("and {} more", flats.size() - 8));
  if (flats.empty()) line("none");
  y += 10;
  canvas.move_to({kPanel, y - 4}), canvas.line_to({kPanel + 28, y - 4}), canvas.stroke(kEdge, 2);
  canvas.text({kPanel + 38, y}, "sharp edge", 13, kInk);
  canvas.save(file);
}

struct SlopeColour {
  double to_deg;
  unsigned rgb;
};
// Light to dark with the slope, blue to orange: told apart with any kind of colour blindness.
constexpr std::array<SlopeColour, 8> kSlopes{{{0.1, 0xf7f7f7},
                                              {15, 0xd1e5f0},
                                              {30, 0x92c5de},
                                              {45, 0x4393c3},
                                              {60, 0x2166ac},
                                              {75, 0xfdb863},
                                              {89.9, 0xe08214},
                                              {90, 0x8c510a}}};
constexpr unsigned kUndercut = 0xc51b7d, kUnderside = 0x999999;

void draw_slopes(const Inspection& inspection, TwoViews& views, const std::filesystem::path& file) {
  const Mesh& mesh = inspection.setup.part->mesh();
  std::vector<std::uint8_t> hidden(mesh.triangles.size(), 0);
  for (const SurfaceSample& sample : sample_surface(inspection.setup.part, 40000)) {
    if (sample.sight == SurfaceSample::Sight::undercut) hidden[static_cast<std::size_t>(sample.triangle)] = 1;
    if (sample.sight == SurfaceSample::Sight::underside)
      hidden[static_cast<std::size_t>(sample.triangle)] = 2;
  }
  Canvas canvas(detail::kWidth, detail::kHeight, Telling(inspection.setup.job.units));
  detail::draw_title(canvas, inspection.title + ": slopes", size_words(inspection));
  views.draw(canvas, {}, mesh, [&](const PartView& view, int i, int j) {
    const auto t = static_cast<std::size_t>(view.triangle(i, j));
    if (hidden[t] && &view != &views.above()) return hex(hidden[t] == 1 ? kUndercut : kUnderside);
    const double up = std::clamp(std::abs(unit_normal(mesh, t).z()), 0.0, 1.0);
    const double slope = std::acos(up) * 180 / std::numbers::pi;
    for (const SlopeColour& s : kSlopes)
      if (slope <= s.to_deg) return hex(s.rgb);
    return hex(kSlopes.back().rgb);
  });
  const Survey& survey = inspection.survey;
  double y = 96;
  canvas.text({kPanel, y}, "slope, share of the surface", 13, kInk, Canvas::Align::left, true);
  y += 14;
  const double whole = std::max(survey.area_mm2, 1e-300);
  for (std::size_t k = 0; k < survey.slopes.size(); ++k) {
    const SlopeShare& s = survey.slopes[k];
    const bool named = k == 0 || k + 1 == survey.slopes.size();
    const std::string range = slope_words(survey, k) + (named ? "" : "\u00b0");
    y = detail::draw_swatch(canvas, kPanel, y, hex(kSlopes[k].rgb),
                            fmt::format("{}: {}", range, percent_words(s.area_mm2 / whole)));
  }
  y = detail::draw_swatch(canvas, kPanel, y + 12, hex(kUndercut),
                          "undercut: " + canvas.telling().area_words(survey.undercut_mm2));
  y = detail::draw_swatch(canvas, kPanel, y, hex(kUnderside),
                          "underside: " + canvas.telling().area_words(survey.underside_mm2));
  canvas.text({kPanel, y + 20}, "undercut: hidden from above", 12, kFaint);
  canvas.save(file);
}

/// Colours from the smallest ball to the largest, dark to light.
Colour reach_colour(std::size_t reaching, std::size_t count) {
  if (reaching == 0) return hex(0xd7191c);
  return height_colour(static_cast<double>(reaching - 1) /
                       static_cast<double>(std::max<std::size_t>(1, count - 1)));
}

void draw_reach(const Inspection& inspection, const std::filesystem::path& file, const Progress& progress) {
  const Mesh& mesh = inspection.setup.part->mesh();
  const Survey& survey = inspection.survey;
  std::vector<double> diameters;
  for (const BallReach& reach : survey.reach) diameters.push_back(reach.diameter_mm);
  const ReachProbe probe(inspection.setup.part, diameters, survey.reach_tolerance_mm);
  // One answer for squares of some pixels from above.
  const PartView view(mesh, {64, 84, 910, 640}, 0, 90);
  constexpr int kSquare = 3;
  const int columns = (view.width() + kSquare - 1) / kSquare, rows = (view.height() + kSquare - 1) / kSquare;
  std::vector<std::int8_t> reaching(static_cast<std::size_t>(columns) * static_cast<std::size_t>(rows), -1);
  const auto square = [&](int column, int row) -> std::int8_t& {
    return reaching[static_cast<std::size_t>(row) * static_cast<std::size_t>(columns) +
                    static_cast<std::size_t>(column)];
  };
  detail::parallel_for(rows, [&](int row) {
    for (int column = 0; column < columns; ++column) {
      const int i = std::min(view.width() - 1, kSquare * column + kSquare / 2),
                j = std::min(view.height() - 1, kSquare * row + kSquare / 2);
      const std::int32_t t = view.triangle(i, j);
      if (t < 0) continue;
      Vec3 normal = unit_normal(mesh, static_cast<std::size_t>(t));
      if (normal.z() < 0) normal = -normal;
      square(column, row) = static_cast<std::int8_t>(probe.count_reaching(view.place(i, j), normal, t));
    }
  });
  // At the part's rim the middle of a square may lie beside it; then the nearest square counts.
  const auto reaching_at = [&](int i, int j) {
    std::int8_t count = square(i / kSquare, j / kSquare);
    for (int k = 0; k < 9 && count < 0; ++k) {
      const int column = i / kSquare + k % 3 - 1, row = j / kSquare + k / 3 - 1;
      if (column >= 0 && row >= 0 && column < columns && row < rows) count = square(column, row);
    }
    return count;
  };
  report(progress, 0.9);
  Canvas canvas(detail::kWidth, detail::kHeight, Telling(inspection.setup.job.units));
  detail::draw_title(canvas, inspection.title + ": which ball reaches what",
                     fmt::format("largest ball that stands clear of the part and leaves at most {} there",
                                 canvas.telling().with_unit(survey.reach_tolerance_mm)));
  view.paint(canvas, [&](int i, int j) {
    const std::int8_t count = reaching_at(i, j);
    if (count < 0) return Colour{1, 1, 1};
    return shaded(reach_colour(static_cast<std::size_t>(count), diameters.size()),
                  view.light(view.triangle(i, j)));
  });
  detail::draw_axes(canvas, view.plan());
  double y = 96;
  canvas.text({kPanel, y}, fmt::format("ball, {}: share it reaches", canvas.telling().unit()), 13, kInk,
              Canvas::Align::left, true);
  y += 14;
  for (std::size_t k = survey.reach.size(); k-- > 0;)
    y = detail::draw_swatch(canvas, kPanel, y, reach_colour(k + 1, diameters.size()),
                            fmt::format("{}: {}", canvas.telling().number(survey.reach[k].diameter_mm),
                                        percent_words(survey.reach[k].share)));
  y = detail::draw_swatch(canvas, kPanel, y, reach_colour(0, diameters.size()), "no ball of these");
  y += 24;
  const auto line = [&](const std::string& words, bool bold = false) {
    canvas.text({kPanel, y}, words, 13, kInk, Canvas::Align::left, bold);
    y += 20;
  };
  line("smallest hollow radius", true);
  line(smallest_hollow_words(survey, canvas.telling()));
  const Vec3& at = survey.smallest_hollow_at;
  line("at " + canvas.telling().place(at));
  canvas.circle(view.to_page(at), 8, kInk, 3);
  canvas.circle(view.to_page(at), 8, hex(0xffffff), 1.2);
  canvas.circle({kPanel + 10, y + 4}, 7, kInk, 2);
  canvas.text({kPanel + 28, y + 9}, "there", 13, kInk);
  if (survey.inner_edges_mm > 0 && survey.smallest_round_mm > 0) {
    y += 44;
    line("away from sharp edges", true);
    line(radius_words(survey, survey.smallest_round_mm, canvas.telling()));
    line("at " + canvas.telling().place(survey.smallest_round_at));
  }
  canvas.save(file);
}

}  // namespace

std::string slope_words(const Survey& survey, std::size_t index) {
  if (index == 0) return "level";
  if (index + 1 == survey.slopes.size()) return "upright";
  return fmt::format("{:g} to {:g}", survey.slopes[index].from_deg, survey.slopes[index].to_deg);
}

std::string smallest_hollow_words(const Survey& survey, const Telling& telling) {
  if (survey.reach.empty()) return "none";
  if (survey.inner_edges_mm > 0) return "0, a sharp inner edge";
  return radius_words(survey, survey.smallest_hollow_mm, telling);
}

std::string radius_words(const Survey& survey, double radius_mm, const Telling& telling) {
  if (radius_mm <= 0) return "below " + telling.with_unit(survey.reach.front().diameter_mm / 2);
  if (radius_mm >= survey.reach.back().diameter_mm)
    return "above " + telling.with_unit(survey.reach.back().diameter_mm / 2);
  return telling.with_unit(radius_mm);
}

std::vector<Picture> draw_inspection(const Inspection& inspection, const std::filesystem::path& folder,
                                     const Progress& progress, PictureForm form) {
  std::vector<Picture> pictures;
  const auto picture = [&](const std::string& stem, std::string caption) {
    pictures.push_back({stem + "." + name_of(form), std::move(caption)});
    return folder / pictures.back().file;
  };
  TwoViews views(inspection.setup.part->mesh());
  report(progress, 0.1);
  draw_heights(inspection, views, picture("part", "Heights, flats and sharp edges"));
  report(progress, 0.2);
  draw_slopes(inspection, views, picture("slopes", "Slopes and undercuts"));
  report(progress, 0.3);
  draw_reach(inspection, picture("reach", "Which ball reaches what"), part_of(progress, 0.3, 0.9));
  detail::draw_regions(inspection, picture("regions", "Regions by number"));
  if (!inspection.edges.empty()) {
    detail::draw_sharp_edges(inspection, picture("sharp-edges", "Sharp edges by number"));
  }
  if (detail::has_named(inspection.setup)) {
    detail::draw_named(inspection, picture("named", "What the job names"));
  }
  if (!inspection.operations.empty()) {
    detail::draw_areas(inspection, picture("areas", "Where each operation works"));
  }
  std::int32_t last = 0;
  for (const SlopeSeam& seam : inspection.seams) {
    const std::string stem =
        fmt::format("slope-seam-{}{}", seam.operation, seam.operation == last ? "-2" : "");
    last = seam.operation;
    detail::draw_seam(inspection, seam,
                      picture(stem, fmt::format("Steep and shallow, operation {}", seam.operation)));
  }
  for (const OperationCurves& curves : inspection.roles) {
    detail::draw_roles(inspection, curves,
                       picture(fmt::format("roles-{}", curves.operation),
                               fmt::format("Curves and their roles, operation {}", curves.operation)));
  }
  report(progress, 1);
  return pictures;
}

}  // namespace yardpass
