#include <algorithm>

#include <fmt/format.h>

#include "setup/in_naming_order.h"
#include "setup/parts_of_setup.h"
#include "yardpass/curve/edit_curves.h"
#include "yardpass/curve/made_curves.h"
#include "yardpass/curve/read_curves.h"
#include "yardpass/part/measure.h"
#include "yardpass/part/outlines.h"
#ifdef YARDPASS_WITH_DXF
#include "yardpass/dxf/dxf_curves.h"
#endif
#ifdef YARDPASS_WITH_LETTERING
#include "yardpass/lettering/lettering.h"
#endif

namespace yardpass::detail {

namespace {

CurveFile read_curve_file(const std::filesystem::path& file, const CurveReadOptions& options) {
  std::string ending = file.extension().string();
  for (char& c : ending) c = static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
  if (ending == ".dxf") {
#ifdef YARDPASS_WITH_DXF
    return read_dxf_curves(file, options);
#else
    throw Error(file.string() + ": this copy of the program was built without DXF; SVG and OBJ can be read");
#endif
  }
  return read_curves(file, options);
}

std::vector<Curve> loops_at(const Region& region, double z) {
  std::vector<Curve> curves;
  for (const Polyline2& loop : region.loops) {
    Curve curve{{}, true};
    for (const Vec2& p : loop) curve.points.emplace_back(p.x(), p.y(), z);
    curves.push_back(std::move(curve));
  }
  return curves;
}

/// Makes curves in the order in which they name each other, and collects what is wrong with them.
class CurveFinder {
 public:
  CurveFinder(JobSetup& setup, const Mesh& mesh, const Joints& joints)
      : setup_(setup),
        mesh_(mesh),
        joints_(joints),
        mistakes_(setup.job.file.string()),
        order_(setup.job.curves, [this](std::size_t i) { find(i); }) {
    setup.curves.resize(setup.job.curves.size());
  }

  void run(bool late) {
    const std::vector<bool> from = from_boundaries(setup_.job.curves);
    for (std::size_t i = 0; i < from.size(); ++i)
      if (from[i] == late) order_.named(setup_.job.curves[i].name);
    mistakes_.raise();
  }

 private:
  void find(std::size_t i) {
    NamedCurves& found = setup_.curves[i];
    const CurveJob& said = setup_.job.curves[i];
    found.name = said.name;
    int line = said.line;
    try {
      found.curves = nearest_only(said, source(said, found));
      for (const CurveEdit& edit : said.edits) {
        line = edit.line;
        found.curves = edited(edit, std::move(found.curves));
        if (found.curves.empty()) throw Error("this step leaves nothing");
      }
      line = said.line;
      if (found.curves.empty()) throw Error("there is no such curve on this part");
    } catch (const Error& error) {
      mistakes_.add(line, fmt::format("curve \"{}\": {}", said.name, error.what()));
    }
  }

  std::vector<Curve> source(const CurveJob& said, NamedCurves& found) {
    if (!said.file.empty()) return from_file(said, found);
    if (!said.points.empty()) return said.points;
    if (!said.text.says.empty()) return letters(said.text, found);
    if (!said.border_of.empty()) return borders_of(rims(said.border_of), false);
    if (!said.holes_of.empty()) return borders_of(rims(said.holes_of), true);
    if (said.silhouette) return loops_at(silhouette(mesh_), mesh_.box().max().z());
    if (said.slice_z) return loops_at(slice_at(mesh_, *said.slice_z), *said.slice_z);
    if (!said.boundary.empty()) return loops_at(boundary(said.boundary), 0);
    std::vector<Curve> curves;
    for (const std::int64_t number : said.edges)
      curves.push_back(edges().through(static_cast<int>(number), said.extent));
    for (const auto& place : said.edges_at)
      curves.push_back(edges().through(edges().nearest(point(place)), said.extent));
    if (!said.edges_between.empty())
      curves.push_back(edges().between(point(said.edges_between[0]), point(said.edges_between[1])));
    for (const std::string& name : said.curves) {
      const std::vector<Curve>& more = setup_.curves[order_.named(name)].curves;
      curves.insert(curves.end(), more.begin(), more.end());
    }
    return curves;
  }

  [[nodiscard]] const Region& boundary(const std::string& name) const {
    return std::find_if(setup_.boundaries.begin(), setup_.boundaries.end(),
                        [&](const NamedBoundary& one) { return one.name == name; })
        ->area;
  }

  std::vector<Curve> letters(const TextJob& text, NamedCurves& found) {
#ifdef YARDPASS_WITH_LETTERING
    LetteringOptions options;
    options.style = text.style, options.align = text.align;
    options.height_mm = text.height_mm, options.spacing_mm = text.spacing_mm;
    options.angle_deg = text.angle_deg;
    Lettering written;
    if (text.along.empty()) {
      written = lettering(text.says, Vec2(text.at[0], text.at[1]), options);
    } else {
      const std::vector<Curve>& along = setup_.curves[order_.named(text.along)].curves;
      if (along.size() != 1)
        throw Error(
            fmt::format("\"text_along\" needs one curve, but \"{}\" has {}", text.along, along.size()));
      written = lettering_along(text.says, along.front(), options);
    }
    for (const LetterNote& note : written.notes)
      found.notes.push_back(fmt::format("{} {}", note.count, note.says));
    return std::move(written.strokes);
#else
    (void)text, (void)found;
    throw Error("this copy of the program was built without letters");
#endif
  }

  std::vector<Curve> from_file(const CurveJob& said, NamedCurves& found) const {
    CurveFile file = read_curve_file(said.file, {.unit = said.unit, .texts = said.texts});
    found.notes = file.notes;
    std::vector<std::string> layers, names;
    for (const Curve& c : file.curves) {
      for (auto [list, word] : {std::pair(&layers, &c.layer), std::pair(&names, &c.name)})
        if (!word->empty() && std::find(list->begin(), list->end(), *word) == list->end())
          list->push_back(*word);
    }
    std::erase_if(file.curves, [&](const Curve& c) {
      return (!said.layer.empty() && c.layer != said.layer) ||
             (!said.colour.empty() && c.colour != said.colour) ||
             (!said.named.empty() &&
              std::find(said.named.begin(), said.named.end(), c.name) == said.named.end());
    });
    if (file.curves.empty())
      throw Error(
          fmt::format("{} has no curve of this layer, colour and name; its layers are: {}; its names: {}",
                      said.file.string(), layers.empty() ? "none" : listed(layers),
                      names.empty() ? "none" : listed(names)));
    if (said.with_part)
      for (Curve& curve : file.curves)
        for (Vec3& p : curve.points) p = setup_.record.matrix * p.homogeneous();
    return std::move(file.curves);
  }

  std::vector<Curve> nearest_only(const CurveJob& said, std::vector<Curve> curves) const {
    if (said.at.empty() || curves.empty()) return curves;
    std::vector<Curve> chosen;
    for (const auto& place : said.at) {
      const auto distance = [&](const Curve& c) {
        return place.size() == 3 ? distance_to(c, Vec3(place.data()))
                                 : distance_to(flattened(c, 0), Vec3(place[0], place[1], 0));
      };
      chosen.push_back(*std::min_element(curves.begin(), curves.end(), [&](const Curve& a, const Curve& b) {
        return distance(a) < distance(b);
      }));
    }
    return chosen;
  }

  std::vector<Curve> edited(const CurveEdit& edit, std::vector<Curve> curves) const {
    using What = CurveEdit::What;
    const auto each = [&](const auto& change) {
      std::vector<Curve> result;
      for (const Curve& c : curves)
        for (Curve& piece : change(c)) result.push_back(std::move(piece));
      return result;
    };
    const auto one = [](Curve c) { return std::vector<Curve>{std::move(c)}; };
    switch (edit.what) {
      case What::flatten:
        return each([&](const Curve& c) { return one(flattened(c, edit.value)); });
      case What::shift:
        return each([&](const Curve& c) { return one(shifted(c, edit.by)); });
      case What::project:
        return each([&](const Curve& c) { return projected(c, mesh_); });
      case What::offset:
        return each([&](const Curve& c) { return beside(c, edit.value); });
      case What::join:
        return joined(std::move(curves), edit.value);
      case What::cut_at_crossings:
        return cut_at_crossings(curves);
      case What::split_at:
        return each([&](const Curve& c) { return split_at(c, plan(edit.by)); });
      case What::split_at_corners:
        return each([&](const Curve& c) { return split_at_corners(c, edit.value); });
      case What::reverse:
        return each([&](const Curve& c) { return one(reversed(c)); });
      case What::simplify:
        return each([&](const Curve& c) { return one(simplified(c, edit.value)); });
      case What::offsets:
        return offsets(curves, edit.by.x(), static_cast<int>(edit.numbers[0]));
      case What::row:
        return in_row(curves, plan(edit.by), static_cast<int>(edit.numbers[0]));
      case What::grid:
        return in_grid(curves, plan(edit.by), static_cast<int>(edit.numbers[0]),
                       static_cast<int>(edit.numbers[1]));
      case What::ring:
        return in_ring(curves, plan(edit.by), static_cast<int>(edit.numbers[0]));
      case What::keep:
        break;
    }
    std::vector<Curve> kept;
    for (const std::int64_t number : edit.numbers) {
      if (static_cast<std::size_t>(number) > curves.size())
        throw Error(fmt::format("keeps number {}, but there are {} curves here", number, curves.size()));
      kept.push_back(curves[static_cast<std::size_t>(number - 1)]);
    }
    return kept;
  }

  const EdgePieces& edges() {
    if (!edges_) edges_.emplace(edge_pieces_of(mesh_, joints_));
    return *edges_;
  }
  std::vector<Rim> rims(const std::string& region) const {
    const auto at = std::find_if(setup_.regions.begin(), setup_.regions.end(),
                                 [&](const NamedRegion& r) { return r.name == region; });
    return rims_of(mesh_, joints_, at->set);
  }
  Vec3 point(const std::vector<double>& place) const {
    if (place.size() == 3) return Vec3(place.data());
    const auto found = highest_at(mesh_, Vec2(place.data()));
    if (!found) throw Error(fmt::format("there is no part at [{:g}, {:g}]", place[0], place[1]));
    return found->at;
  }

  JobSetup& setup_;
  const Mesh& mesh_;
  const Joints& joints_;
  Mistakes mistakes_;
  InNamingOrder<CurveJob> order_;
  std::optional<EdgePieces> edges_;
};

}  // namespace

EdgePieces edge_pieces_of(const Mesh& mesh, const Joints& joints) {
  constexpr double least_turn_deg = 25;  // as the survey counts sharp edges
  return EdgePieces(mesh, sharp_edges(mesh, joints, turned_over(mesh, joints), least_turn_deg));
}

void find_curves(JobSetup& setup, const Mesh& mesh, const Joints& joints, bool from_boundaries) {
  CurveFinder(setup, mesh, joints).run(from_boundaries);
}

const std::vector<Curve>& curves_named(const JobSetup& setup, const std::string& name) {
  return std::find_if(setup.curves.begin(), setup.curves.end(),
                      [&](const NamedCurves& c) { return c.name == name; })
      ->curves;
}

}  // namespace yardpass::detail
