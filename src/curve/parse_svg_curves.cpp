// SVG: libxml2 reads the document, svgpp the shapes, their paths and transforms.
#include <libxml/parser.h>

#include <svgpp/policy/xml/libxml2.hpp>
#include <svgpp/svgpp.hpp>

#include <array>
#include <map>
#include <memory>

#include "curve/chords.h"
#include "curve/parse_curves.h"

namespace yardpass::detail {

namespace {

using Affine = std::array<double, 6>;  // x' = a x + c y + e, y' = b x + d y + f

Affine times(const Affine& m, const Affine& n) {
  return {m[0] * n[0] + m[2] * n[1], m[1] * n[0] + m[3] * n[1],        m[0] * n[2] + m[2] * n[3],
          m[1] * n[2] + m[3] * n[3], m[0] * n[4] + m[2] * n[5] + m[4], m[1] * n[4] + m[3] * n[5] + m[5]};
}

struct DocumentCloser {
  void operator()(xmlDoc* document) const { xmlFreeDoc(document); }
};

std::string attribute(const xmlNode* node, const char* name) {
  for (const xmlAttr* a = node->properties; a; a = a->next)
    if (std::string_view(reinterpret_cast<const char*>(a->name)) == name && a->children &&
        a->children->content)
      return reinterpret_cast<const char*>(a->children->content);
  return "";
}

/// A property by its attribute or within `style`; empty if neither says it.
std::string property(const xmlNode* node, const std::string& name) {
  const std::string style = attribute(node, "style");
  for (std::size_t at = 0; at < style.size();) {
    const std::size_t end = std::min(style.find(';', at), style.size());
    const std::string_view one = std::string_view(style).substr(at, end - at);
    const std::size_t colon = one.find(':');
    const auto trimmed = [](std::string_view t) {
      while (!t.empty() && t.front() == ' ') t.remove_prefix(1);
      while (!t.empty() && t.back() == ' ') t.remove_suffix(1);
      return t;
    };
    if (colon != std::string_view::npos && trimmed(one.substr(0, colon)) == name)
      return std::string(trimmed(one.substr(colon + 1)));
    at = end + 1;
  }
  return attribute(node, name.c_str());
}

/// "#rrggbb" of "#rgb", "#rrggbb" and the sixteen colour words; anything else is no colour.
std::string colour_of(const xmlNode* node) {
  static const std::map<std::string, std::string> words{
      {"black", "#000000"},  {"silver", "#c0c0c0"}, {"gray", "#808080"},   {"white", "#ffffff"},
      {"maroon", "#800000"}, {"red", "#ff0000"},    {"purple", "#800080"}, {"fuchsia", "#ff00ff"},
      {"green", "#008000"},  {"lime", "#00ff00"},   {"olive", "#808000"},  {"yellow", "#ffff00"},
      {"navy", "#000080"},   {"blue", "#0000ff"},   {"teal", "#008080"},   {"aqua", "#00ffff"}};
  for (; node && node->type == XML_ELEMENT_NODE; node = node->parent) {  // strokes are handed down
    std::string text = property(node, "stroke");
    if (text.empty()) continue;
    for (char& c : text) c = static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
    const auto word = words.find(text);
    if (word != words.end()) return word->second;
    if (text.front() == '#' && text.find_first_not_of("0123456789abcdef", 1) == std::string::npos) {
      if (text.size() == 7) return text;
      if (text.size() == 4) return {'#', text[1], text[1], text[2], text[2], text[3], text[3]};
    }
    return "";
  }
  return "";
}

std::string layer_of(const xmlNode* node) {
  std::string layer;
  for (node = node->parent; node && node->type == XML_ELEMENT_NODE; node = node->parent)
    if (std::string_view(reinterpret_cast<const char*>(node->name)) == "g" && !attribute(node, "id").empty())
      layer = attribute(node, "id");
  return layer;
}

/// The shapes and groups that are read, in the order in which svgpp meets them; what else there is, counted.
struct Elements {
  std::vector<const xmlNode*> met;
  std::map<std::string, std::int64_t> passed_over;
  std::int64_t hidden = 0;

  void collect(const xmlNode* parent) {
    for (const xmlNode* node = parent->children; node; node = node->next) {
      if (node->type != XML_ELEMENT_NODE) continue;
      const std::string word = reinterpret_cast<const char*>(node->name);
      if (word == "g" || is_shape(word)) {
        met.push_back(node);
        if (word == "g") collect(node);
      } else if (word == "text" || word == "use" || word == "image" || word == "svg" || word == "a" ||
                 word == "switch" || word == "foreignObject") {
        ++passed_over[word];
      }
    }
  }
  static bool is_shape(const std::string& word) {
    return word == "path" || word == "line" || word == "polyline" || word == "polygon" || word == "rect" ||
           word == "circle" || word == "ellipse";
  }
};

/// Takes what svgpp tells, in the coordinates of each element, and makes curves of it.
class ShapeTaker {
 public:
  ShapeTaker(const Elements& elements, const Affine& page, double tolerance, CurveFile& file)
      : elements_(elements), tolerance_(tolerance), file_(file) {
    frames_.push_back({page, false});
  }
  [[nodiscard]] long line() const {
    return next_ == 0 ? 1 : xmlGetLineNo(const_cast<xmlNode*>(elements_.met[next_ - 1]));
  }
  [[nodiscard]] std::int64_t hidden() const { return hidden_; }

  template <typename Element>
  void on_enter_element(Element) {
    const xmlNode* node = next_ < elements_.met.size() ? elements_.met[next_] : nullptr;
    ++next_;
    const bool not_shown =
        node && (property(node, "display") == "none" || property(node, "visibility") == "hidden");
    frames_.push_back({frames_.back().to_page, frames_.back().hidden || not_shown, node});
    drawn_.clear();
  }
  void on_exit_element() {
    if (frames_.back().hidden && !drawn_.empty()) {
      ++hidden_;
      drawn_.clear();
    }
    for (const Drawn& drawn : drawn_) take(drawn, frames_.back());
    drawn_.clear();
    frames_.pop_back();
  }
  void transform_matrix(const boost::array<double, 6>& m) {
    frames_.back().to_page = times(frames_.back().to_page, {m[0], m[1], m[2], m[3], m[4], m[5]});
  }
  void path_move_to(double x, double y, svgpp::tag::coordinate::absolute) { drawn_.push_back({{x, y}}); }
  void path_line_to(double x, double y, svgpp::tag::coordinate::absolute) { add({Kind::line, {{x, y}}}); }
  void path_cubic_bezier_to(double x1, double y1, double x2, double y2, double x, double y,
                            svgpp::tag::coordinate::absolute) {
    add({Kind::cubic, {{x1, y1}, {x2, y2}, {x, y}}});
  }
  void path_quadratic_bezier_to(double x1, double y1, double x, double y, svgpp::tag::coordinate::absolute) {
    add({Kind::quadratic, {{x1, y1}, {x, y}}});
  }
  void path_elliptical_arc_to(double rx, double ry, double turn, bool large, bool sweep, double x, double y,
                              svgpp::tag::coordinate::absolute) {
    Step step{Kind::arc, {{x, y}}};
    step.rx = rx, step.ry = ry, step.turn_deg = turn, step.large = large, step.sweep = sweep;
    add(step);
  }
  void path_close_subpath() {
    if (drawn_.empty()) return;
    drawn_.back().closed = true;
  }
  void path_exit() {}
  void disable_rendering() {}

 private:
  enum class Kind { line, quadratic, cubic, arc };
  struct Step {
    Kind kind;
    Polyline2 to;
    double rx = 0, ry = 0, turn_deg = 0;
    bool large = false, sweep = false;
  };
  struct Drawn {
    Vec2 start;
    std::vector<Step> steps = {};
    bool closed = false;
  };
  struct Frame {
    Affine to_page;
    bool hidden = false;
    const xmlNode* node = nullptr;
  };

  void add(const Step& step) {
    if (drawn_.empty()) return;
    if (drawn_.back().closed) drawn_.push_back({drawn_.back().start});  // goes on from where the last began
    drawn_.back().steps.push_back(step);
  }
  static Vec3 on_page(const Affine& m, const Vec2& p) {
    return {m[0] * p.x() + m[2] * p.y() + m[4], m[1] * p.x() + m[3] * p.y() + m[5], 0};
  }
  void take(const Drawn& drawn, const Frame& frame) {
    const Affine& m = frame.to_page;
    Curve curve;
    curve.closed = drawn.closed;
    if (frame.node) {
      curve.name = attribute(frame.node, "id");
      curve.layer = layer_of(frame.node);
      curve.colour = colour_of(frame.node);
    }
    Vec2 here = drawn.start;
    curve.points.push_back(on_page(m, here));
    for (const Step& step : drawn.steps) {
      const Vec3 a = curve.points.back(), end = on_page(m, step.to.back());
      switch (step.kind) {
        case Kind::line:
          curve.points.push_back(end);
          break;
        case Kind::quadratic: {
          const Vec3 b = on_page(m, step.to[0]);
          add_cubic(curve.points, a, a + (b - a) * (2.0 / 3), end + (b - end) * (2.0 / 3), end, tolerance_);
          break;
        }
        case Kind::cubic:
          add_cubic(curve.points, a, on_page(m, step.to[0]), on_page(m, step.to[1]), end, tolerance_);
          break;
        case Kind::arc:
          arc(curve.points, m, here, step);
          break;
      }
      here = step.to.back();
    }
    if (!drawn.steps.empty()) file_.curves.push_back(std::move(curve));
  }

  /// Centre and angles of an arc from its ends. Source: W3C, "Scalable Vector Graphics 1.1", appendix F.6.
  void arc(Polyline3& points, const Affine& m, const Vec2& from, const Step& step) const {
    const Vec2 to = step.to.back(), half = (from - to) / 2;
    double rx = std::abs(step.rx), ry = std::abs(step.ry);
    if (!(rx > 0) || !(ry > 0) || half.norm() == 0) {
      points.push_back(on_page(m, to));
      return;
    }
    const double phi = step.turn_deg * std::numbers::pi / 180, c = std::cos(phi), s = std::sin(phi);
    const Vec2 p(c * half.x() + s * half.y(), -s * half.x() + c * half.y());
    const double excess = (p.x() / rx) * (p.x() / rx) + (p.y() / ry) * (p.y() / ry);
    if (excess > 1) rx *= std::sqrt(excess), ry *= std::sqrt(excess);
    const double below = rx * rx * p.y() * p.y() + ry * ry * p.x() * p.x();
    double root = std::sqrt(std::max(0.0, (rx * rx * ry * ry - below) / below));
    if (step.large == step.sweep) root = -root;
    const Vec2 q(root * rx * p.y() / ry, -root * ry * p.x() / rx);
    const Vec2 centre = Vec2(c * q.x() - s * q.y(), s * q.x() + c * q.y()) + (from + to) / 2;
    const double start = std::atan2((p.y() - q.y()) / ry, (p.x() - q.x()) / rx);
    double sweep = std::atan2((-p.y() - q.y()) / ry, (-p.x() - q.x()) / rx) - start;
    if (step.sweep && sweep < 0) sweep += 2 * std::numbers::pi;
    if (!step.sweep && sweep > 0) sweep -= 2 * std::numbers::pi;
    const Vec3 middle = on_page(m, centre);
    add_ellipse_arc(points, middle, on_page(m, centre + rx * Vec2(c, s)) - middle,
                    on_page(m, centre + ry * Vec2(-s, c)) - middle, start, start + sweep, tolerance_);
    points.back() = on_page(m, to);
  }

  const Elements& elements_;
  double tolerance_;
  CurveFile& file_;
  std::size_t next_ = 0;
  std::vector<Frame> frames_;
  std::vector<Drawn> drawn_;
  std::int64_t hidden_ = 0;
};

using ReadElements =
    boost::mpl::set<svgpp::tag::element::svg, svgpp::tag::element::g, svgpp::tag::element::circle,
                    svgpp::tag::element::ellipse, svgpp::tag::element::line, svgpp::tag::element::path,
                    svgpp::tag::element::polygon, svgpp::tag::element::polyline,
                    svgpp::tag::element::rect>::type;
using ReadAttributes =
    boost::mpl::insert<svgpp::traits::shapes_attributes_by_element, svgpp::tag::attribute::transform>::type;
using Traversal = svgpp::document_traversal<svgpp::processed_elements<ReadElements>,
                                            svgpp::processed_attributes<ReadAttributes>>;

/// "12.5mm": the number and how many mm its unit is; without a unit, or in px, 1/96 inch.
std::optional<double> length_mm(const std::string& text) {
  std::size_t used = 0;
  double value = 0;
  try {
    value = std::stod(text, &used);
  } catch (const std::exception&) {
    return std::nullopt;
  }
  static const std::map<std::string, double> units{{"mm", 1},         {"cm", 10},       {"in", 25.4},
                                                   {"pt", 25.4 / 72}, {"pc", 25.4 / 6}, {"px", 25.4 / 96},
                                                   {"", 25.4 / 96}};
  const auto unit = units.find(text.substr(used));
  return unit == units.end() || !(value > 0) || !std::isfinite(value) ? std::nullopt
                                                                      : std::optional(value * unit->second);
}

/// From user units to mm with Y upwards, the lower left corner of the page at 0.
Affine page_of(const xmlNode* root, const MeshSource& source, const CurveReadOptions& options,
               CurveFile& file) {
  const auto width = length_mm(attribute(root, "width")), height = length_mm(attribute(root, "height"));
  std::array<double, 4> box{0, 0, 0, 0};
  const std::string said = attribute(root, "viewBox");
  bool has_box = false;
  if (!said.empty()) {
    std::string blanks = said;
    std::replace(blanks.begin(), blanks.end(), ',', ' ');
    Words words(source, blanks, static_cast<std::size_t>(xmlGetLineNo(const_cast<xmlNode*>(root))));
    for (double& v : box) v = words.number();
    has_box = box[2] > 0 && box[3] > 0;
    if (!has_box) words.fail("viewBox has no size");
  }
  constexpr double px = 25.4 / 96;
  double scale = px;
  file.unit_words = "1/96 inch (default: the file gives no size)";
  if (options.unit) {
    scale = millimetres(*options.unit);
    file.unit_words = std::string(name_of(*options.unit)) + " (as asked for)";
  } else if (has_box && (width || height)) {
    scale = std::min(width ? *width / box[2] : 1e300, height ? *height / box[3] : 1e300);
    file.unit_words = std::to_string(scale) + " mm (width, height and viewBox of the file)";
  } else if (width || height) {
    file.unit_words = "1/96 inch (the file gives a size, but no viewBox)";
  }
  double page_height = has_box ? box[1] + box[3] : 0;
  if (!has_box && height) page_height = *height / px;
  return {scale, 0, 0, -scale, -scale * box[0], scale * page_height};
}

}  // namespace

CurveFile parse_svg_curves(const MeshSource& source, const CurveReadOptions& options) {
  CurveFile file;
  file.format = "SVG";
  if (source.bytes.size() > 500'000'000) source.fail("larger than 500 MB");
  const std::unique_ptr<xmlParserCtxt, decltype(&xmlFreeParserCtxt)> context(xmlNewParserCtxt(),
                                                                             &xmlFreeParserCtxt);
  const std::unique_ptr<xmlDoc, DocumentCloser> document(
      xmlCtxtReadMemory(context.get(), source.bytes.data(), static_cast<int>(source.bytes.size()), nullptr,
                        nullptr, XML_PARSE_NONET | XML_PARSE_NOERROR | XML_PARSE_NOWARNING));
  if (!document) {
    const xmlError* error = xmlCtxtGetLastError(context.get());
    std::string what = error && error->message ? error->message : "no XML";
    while (!what.empty() && what.back() == '\n') what.pop_back();
    source.fail("line " + std::to_string(error ? error->line : 1) + ": " + what);
  }
  xmlNode* root = xmlDocGetRootElement(document.get());
  if (std::string_view(reinterpret_cast<const char*>(root->name)) != "svg")
    source.fail("line 1: the root element is " + quoted(reinterpret_cast<const char*>(root->name)) +
                ", not \"svg\"");
  Elements elements;
  elements.collect(root);
  const Affine page = page_of(root, source, options, file);
  ShapeTaker taker(elements, page, options.tolerance_mm, file);
  try {
    Traversal::load_document(root, taker);
  } catch (const Error&) {
    throw;
  } catch (const std::exception& error) {
    source.fail("line " + std::to_string(taker.line()) + ": " + error.what());
  }
  for (const auto& [word, count] : elements.passed_over) note_passed_over(file, count, "\"" + word + "\"");
  note_passed_over(file, taker.hidden(), "shape(s) that are not shown");
  return file;
}

}  // namespace yardpass::detail
