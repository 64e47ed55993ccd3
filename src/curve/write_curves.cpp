#include "yardpass/curve/write_curves.h"

#include <algorithm>
#include <cstdio>

#include "geom/write_file.h"

namespace yardpass {

namespace {

std::string numbers(std::initializer_list<double> values) {
  std::string text;
  for (const double v : values) {
    char one[40];
    std::snprintf(one, sizeof one, "%.6f", v + 0.0);
    std::string word = one;
    while (word.back() == '0') word.pop_back();
    if (word.back() == '.') word.pop_back();
    if (word == "-0") word = "0";
    text += (text.empty() ? "" : " ") + word;
  }
  return text;
}

std::string escaped(const std::string& text) {
  std::string result;
  for (const char c : text) {
    if (c == '&')
      result += "&amp;";
    else if (c == '<')
      result += "&lt;";
    else if (c == '"')
      result += "&quot;";
    else
      result += c;
  }
  return result;
}

}  // namespace

void write_obj_curves(const std::filesystem::path& file, const std::vector<Curve>& curves) {
  std::string text = "# curves, mm\n";
  std::size_t count = 0;
  for (const Curve& curve : curves) {
    text += "g " + curve.layer + "\no " + curve.name + "\n";
    for (const Vec3& p : curve.points) text += "v " + numbers({p.x(), p.y(), p.z()}) + "\n";
    text += "l";
    for (std::size_t i = 0; i < curve.points.size(); ++i) text += " " + std::to_string(count + i + 1);
    if (curve.closed) text += " " + std::to_string(count + 1);
    text += "\n";
    count += curve.points.size();
  }
  detail::write_file(file, {text});
}

void write_svg_curves(const std::filesystem::path& file, const std::vector<Curve>& curves) {
  Box2 box;
  std::vector<std::string> layers;
  for (const Curve& curve : curves) {
    for (const Vec3& p : curve.points) box.extend(plan(p));
    if (std::find(layers.begin(), layers.end(), curve.layer) == layers.end()) layers.push_back(curve.layer);
  }
  if (box.isEmpty()) box = Box2(Vec2(0, 0), Vec2(1, 1));
  const Vec2 size = box.diagonal().cwiseMax(1e-3), low = box.min();
  std::string text = "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"" + numbers({size.x()}) +
                     "mm\" height=\"" + numbers({size.y()}) + "mm\" viewBox=\"0 0 " +
                     numbers({size.x(), size.y()}) + "\">\n" + "<!-- lower left corner at " +
                     numbers({low.x(), low.y()}) + " mm -->\n";
  for (const std::string& layer : layers) {
    text += layer.empty() ? "<g" : "<g id=\"" + escaped(layer) + "\"";
    text += " fill=\"none\" stroke-width=\"0.1\">\n";
    for (const Curve& curve : curves) {
      if (curve.layer != layer) continue;
      text += "<path";
      if (!curve.name.empty()) text += " id=\"" + escaped(curve.name) + "\"";
      text += " stroke=\"" + (curve.colour.empty() ? std::string("#000000") : curve.colour) + "\" d=\"";
      for (std::size_t i = 0; i < curve.points.size(); ++i)
        text += (i == 0 ? "M" : " L") +
                numbers({curve.points[i].x() - low.x(), low.y() + size.y() - curve.points[i].y()});
      text += curve.closed ? " Z\"/>\n" : "\"/>\n";
    }
    text += "</g>\n";
  }
  detail::write_file(file, {text, "</svg>\n"});
}

}  // namespace yardpass
