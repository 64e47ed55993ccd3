#include "yardpass/dxf/dxf_curves.h"

#include <dxflib/dl_creationadapter.h>
#include <dxflib/dl_dxf.h>

#include <cmath>
#include <fstream>
#include <map>
#include <sstream>

#include "curve/chords.h"
#include "curve/parse_curves.h"
#include "dxf/dxf_pairs.h"
#include "dxf/dxf_spline.h"
#ifdef YARDPASS_WITH_LETTERING
#include "dxf/dxf_texts.h"
#endif

namespace yardpass {

namespace {

using detail::MeshSource;

/// The plane that flat entities are drawn in, from its normal (the "arbitrary axis algorithm" of the format).
Eigen::Matrix3d drawing_plane(const Vec3& normal) {
  const Vec3 z = normal.norm() > 1e-12 ? Vec3(normal.normalized()) : Vec3(0, 0, 1);
  const bool near_z = std::abs(z.x()) < 1.0 / 64 && std::abs(z.y()) < 1.0 / 64;
  const Vec3 x = (near_z ? Vec3(0, 1, 0) : Vec3(0, 0, 1)).cross(z).normalized();
  Eigen::Matrix3d plane;
  plane << x, z.cross(x), z;
  return plane;
}

struct Insertion {
  DL_InsertData data;
  Eigen::Matrix3d plane;
  std::string layer, colour;
};

/// A curve, or a block put in; in the order of the file.
struct Item {
  Curve curve;
  std::optional<Insertion> insertion = {};
};

struct Block {
  Vec3 base{0, 0, 0};
  std::vector<Item> items;
};

class DxfTaker : public DL_CreationAdapter {
 public:
  explicit DxfTaker(double tolerance_units) : tolerance_(tolerance_units) {}
  int unit_code = 0;
  std::int64_t without_control_points = 0;

  void setVariableInt(const std::string& key, int value, int) override {
    if (key == "$INSUNITS") unit_code = value;
  }
  void addLayer(const DL_LayerData& data) override {
    layer_colour_[data.name] = colour_words(attributes.getColor(), attributes.getColor24());
  }
  void addBlock(const DL_BlockData& data) override {
    finish();
    block_ = data.name;
    blocks_[block_].base = Vec3(data.bpx, data.bpy, data.bpz);
  }
  void endBlock() override {
    finish();
    block_.clear();
  }
  void addLine(const DL_LineData& d) override {
    add({Vec3(d.x1, d.y1, d.z1), Vec3(d.x2, d.y2, d.z2)}, false);
  }
  void addArc(const DL_ArcData& d) override {
    const double from = radians(d.angle1);
    double to = radians(d.angle2);
    if (to <= from) to += 2 * std::numbers::pi;
    arc(Vec3(d.cx, d.cy, d.cz), d.radius, from, to, false);
  }
  void addCircle(const DL_CircleData& d) override {
    arc(Vec3(d.cx, d.cy, d.cz), d.radius, 0, 2 * std::numbers::pi, true);
  }
  void addEllipse(const DL_EllipseData& d) override {
    const Vec3 centre(d.cx, d.cy, d.cz), u(d.mx, d.my, d.mz);
    const Vec3 v = direction().normalized().cross(u) * d.ratio;
    double to = d.angle2;
    if (to <= d.angle1) to += 2 * std::numbers::pi;
    const bool whole = to - d.angle1 > 2 * std::numbers::pi - 1e-9;
    Polyline3 points{centre + std::cos(d.angle1) * u + std::sin(d.angle1) * v};
    detail::add_ellipse_arc(points, centre, u, v, d.angle1, std::min(to, d.angle1 + 2 * std::numbers::pi),
                            tolerance_);
    if (whole) points.pop_back();
    add(std::move(points), whole);
  }
  void addPolyline(const DL_PolylineData& d) override {
    finish();
    is_polyline_ = true;
    is_mesh_ = (d.flags & (16 | 64)) != 0;  // surfaces of points are no curves
    closed_ = (d.flags & 1) != 0;
    in_space_ = (d.flags & 8) != 0;
    elevation_ = d.elevation;
    pending_ = start_item();
    plane_ = drawing_plane(direction());
  }
  void addVertex(const DL_VertexData& d) override {
    if (is_polyline_) vertices_.push_back(d);
  }
  void addSpline(const DL_SplineData& d) override {
    finish();
    is_spline_ = true;
    spline_ = {};
    spline_.degree = static_cast<int>(d.degree);
    closed_ = (d.flags & 1) != 0;
    pending_ = start_item();
  }
  void addControlPoint(const DL_ControlPointData& d) override {
    spline_.points.emplace_back(d.x, d.y, d.z);
    spline_.weights.push_back(d.w);
  }
  void addKnot(const DL_KnotData& d) override { spline_.knots.push_back(d.k); }
  void addInsert(const DL_InsertData& d) override {
    finish();
    Item item = start_item();
    item.insertion = Insertion{d, drawing_plane(direction()), item.curve.layer, item.curve.colour};
    items().push_back(std::move(item));
  }
#ifdef YARDPASS_WITH_LETTERING
  void addText(const DL_TextData& d) override { add_strokes(d); }
  void addMTextChunk(const std::string& text) override { text_ += text; }
  void addMText(const DL_MTextData& d) override {
    DL_MTextData whole = d;
    whole.text = text_ + d.text;
    text_.clear();
    add_strokes(whole);
  }
  detail::TextNotes text_notes;
#endif
  void endSequence() override { finish(); }

  /// All curves, blocks put in where they are inserted.
  std::vector<Curve> all(const MeshSource& source) {
    finish();
    std::vector<Curve> result;
    expand(items_, Eigen::Affine3d::Identity(), nullptr, 0, source, result);
    return result;
  }

 private:
  static double radians(double degrees) { return degrees * std::numbers::pi / 180; }
  [[nodiscard]] Vec3 direction() const {
    double d[3] = {0, 0, 1};
    if (const DL_Extrusion* e = const_cast<DxfTaker*>(this)->getExtrusion()) e->getDirection(d);
    const Vec3 v(d[0], d[1], d[2]);
    return v.norm() > 1e-12 ? v : Vec3(0, 0, 1);
  }
  static std::string colour_words(int number, int full) {
    char text[8] = "";
    if (full >= 0 && full <= 0xffffff) {
      std::snprintf(text, sizeof text, "#%06x", static_cast<unsigned>(full));
    } else if (number >= 1 && number <= 255) {
      const auto byte = [&](int k) { return static_cast<unsigned>(std::lround(dxfColors[number][k] * 255)); };
      std::snprintf(text, sizeof text, "#%02x%02x%02x", byte(0), byte(1), byte(2));
    }
    return text;
  }
  Item start_item() const {
    Item item;
    item.curve.layer = attributes.getLayer();
    const int number = attributes.getColor();
    item.curve.colour = colour_words(number == 256 ? -1 : number, attributes.getColor24());
    const auto of_layer = layer_colour_.find(item.curve.layer);
    if (item.curve.colour.empty() && number == 256 && of_layer != layer_colour_.end())
      item.curve.colour = of_layer->second;
    return item;
  }
  std::vector<Item>& items() { return block_.empty() ? items_ : blocks_[block_].items; }
  void add(Polyline3 points, bool closed) {
    finish();
    Item item = start_item();
    item.curve.points = std::move(points);
    item.curve.closed = closed;
    items().push_back(std::move(item));
  }
#ifdef YARDPASS_WITH_LETTERING
  void add_strokes(const auto& text) {
    for (Curve& stroke : detail::strokes_of(text, drawing_plane(direction()), text_notes)) {
      add(std::move(stroke.points), stroke.closed);
    }
  }
  std::string text_;
#endif
  void arc(const Vec3& centre, double radius, double from, double to, bool whole) {
    const Eigen::Matrix3d plane = drawing_plane(direction());
    const Vec3 c = plane * centre, u = plane.col(0) * radius, v = plane.col(1) * radius;
    Polyline3 points{c + std::cos(from) * u + std::sin(from) * v};
    detail::add_ellipse_arc(points, c, u, v, from, to, tolerance_);
    if (whole) points.pop_back();
    add(std::move(points), whole);
  }

  /// Ends the polyline or spline whose points were coming in.
  void finish() {
    if (is_polyline_ && !is_mesh_ && !vertices_.empty()) {
      pending_.curve.points = polyline_points();
      pending_.curve.closed = closed_;
      items().push_back(std::move(pending_));
    }
    if (is_spline_) {
      pending_.curve.points = spline_.chords(tolerance_);
      pending_.curve.closed = closed_;
      without_control_points += pending_.curve.points.empty();
      if (!pending_.curve.points.empty()) items().push_back(std::move(pending_));
    }
    is_polyline_ = is_spline_ = false;
    vertices_.clear();
    pending_ = {};
  }
  Polyline3 polyline_points() const {
    Polyline3 points;
    const auto at = [&](const DL_VertexData& v) {
      const double z = in_space_ ? v.z : (v.z != 0 ? v.z : elevation_);
      return in_space_ ? Vec3(v.x, v.y, z) : Vec3(plane_ * Vec3(v.x, v.y, z));
    };
    points.push_back(at(vertices_.front()));
    for (std::size_t i = 0; i + 1 < vertices_.size() + (closed_ ? 1 : 0); ++i) {
      const Vec3 a = at(vertices_[i]), b = at(vertices_[(i + 1) % vertices_.size()]);
      const double bulge = vertices_[i].bulge;
      if (bulge == 0 || in_space_ || (b - a).norm() < 1e-12) {
        points.push_back(b);
        continue;
      }
      // The bulge is the tangent of a quarter of the angle that the arc goes round.
      const double angle = 4 * std::atan(bulge);
      const Vec3 half = (b - a) / 2, side = Vec3(plane_.col(2)).cross(half);
      const Vec3 centre = a + half + side / std::tan(angle / 2), u = a - centre;
      detail::add_ellipse_arc(points, centre, u, Vec3(plane_.col(2)).cross(u), 0, angle, tolerance_);
      points.back() = b;
    }
    return points;
  }

  void expand(const std::vector<Item>& list, const Eigen::Affine3d& to_world, const Insertion* by, int depth,
              const MeshSource& source, std::vector<Curve>& result) {
    if (depth > 16) source.fail("blocks are inserted in each other more than 16 deep, or in themselves");
    for (const Item& item : list) {
      if (!item.insertion) {
        Curve curve = item.curve;
        for (Vec3& p : curve.points) p = to_world * p;
        if (by) {
          curve.name = by->data.name;
          if (curve.layer == "0") curve.layer = by->layer;
          if (curve.colour.empty()) curve.colour = by->colour;
        }
        result.push_back(std::move(curve));
        if (result.size() > 1'000'000) source.fail("more than a million curves");
        continue;
      }
      const DL_InsertData& d = item.insertion->data;
      const auto block = blocks_.find(d.name);
      if (block == blocks_.end())
        source.fail("block " + detail::quoted(d.name) + " is inserted but not defined");
      const int columns = std::max(1, d.cols), rows = std::max(1, d.rows);
      if (static_cast<std::int64_t>(columns) * rows > 10000)
        source.fail("block " + detail::quoted(d.name) + " is inserted more than 10000 times at once");
      for (int row = 0; row < rows; ++row)
        for (int column = 0; column < columns; ++column) {
          Eigen::Affine3d here = Eigen::Affine3d::Identity();
          here.translate(item.insertion->plane * Vec3(d.ipx, d.ipy, d.ipz));
          here.rotate(item.insertion->plane);
          here.rotate(Eigen::AngleAxisd(radians(d.angle), Vec3(0, 0, 1)));
          here.translate(Vec3(column * d.colSp, row * d.rowSp, 0));
          here.scale(Vec3(d.sx, d.sy, d.sz));
          here.translate(-block->second.base);
          expand(block->second.items, to_world * here, &*item.insertion, depth + 1, source, result);
        }
    }
  }

  double tolerance_;
  std::vector<Item> items_;
  std::map<std::string, Block> blocks_;
  std::map<std::string, std::string> layer_colour_;
  std::string block_;
  bool is_polyline_ = false, is_spline_ = false, is_mesh_ = false, closed_ = false, in_space_ = false;
  double elevation_ = 0;
  Eigen::Matrix3d plane_ = Eigen::Matrix3d::Identity();
  std::vector<DL_VertexData> vertices_;
  detail::DxfSpline spline_;
  Item pending_;
};

/// mm of the units that $INSUNITS names; 0 for none and for those that no drawing of a part uses.
double insertion_unit_mm(int code) {
  switch (code) {
    case 1:
      return 25.4;
    case 2:
      return 304.8;
    case 4:
      return 1;
    case 5:
      return 10;
    case 6:
      return 1000;
    case 8:
      return 25.4e-6;
    case 9:
      return 0.0254;
    case 13:
      return 0.001;
    case 14:
      return 100;
    default:
      return 0;
  }
}

}  // namespace

CurveFile read_dxf_bytes(std::string_view bytes, const std::string& name, const CurveReadOptions& options) {
  const MeshSource source{bytes, name};
#ifdef YARDPASS_WITH_LETTERING
  const detail::DxfPairs pairs(source, options.texts);
#else
  const detail::DxfPairs pairs(source, false);
#endif
  CurveFile file;
  file.format = "DXF";
  // Two passes: the chords need the unit, which the first pass tells.
  double unit = 1;
  for (const bool asking : {true, false}) {
    DxfTaker taker(options.tolerance_mm / unit);
    std::istringstream stream(pairs.kept);
    DL_Dxf().in(stream, &taker);
    if (asking) {
      const double said = insertion_unit_mm(taker.unit_code);
      unit = options.unit ? millimetres(*options.unit) : said > 0 ? said : 1;
      if (options.unit)
        file.unit_words = std::string(name_of(*options.unit)) + " (as asked for)";
      else if (said > 0)
        file.unit_words = std::to_string(said) + " mm ($INSUNITS of the file)";
      else
        file.unit_words = "mm (default: the file names no unit)";
      continue;
    }
    file.curves = taker.all(source);
    detail::note_passed_over(file, taker.without_control_points, "SPLINE without control points");
#ifdef YARDPASS_WITH_LETTERING
    for (const auto& [says, count] : taker.text_notes)
      file.notes.push_back(std::to_string(count) + " " + says);
#endif
  }
  for (Curve& curve : file.curves)
    for (Vec3& p : curve.points) p *= unit;
  for (const auto& [word, count] : pairs.passed_over) detail::note_passed_over(file, count, word);
  detail::note_passed_over(file, pairs.on_paper, "in paper space");
  detail::tidy(file, source);
  return file;
}

CurveFile read_dxf_curves(const std::filesystem::path& file, const CurveReadOptions& options) {
  return read_dxf_bytes(detail::bytes_of(file), file.string(), options);
}

}  // namespace yardpass
