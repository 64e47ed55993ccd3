#include "yardpass/curve/read_curves.h"

#include <fstream>
#include <sstream>

#include "curve/parse_curves.h"

namespace yardpass {

namespace detail {

void tidy(CurveFile& file, const MeshSource& source) {
  std::int64_t without_length = 0;
  std::vector<Curve> kept;
  for (Curve& curve : file.curves) {
    Polyline3 points;
    for (const Vec3& p : curve.points) {
      if (!(p.cwiseAbs().maxCoeff() <= 1e6))
        source.fail("curve " + std::to_string(&curve - file.curves.data() + 1) +
                    " has a point that is not finite or beyond 1e6 mm");
      if (points.empty() || (points.back() - p).norm() > 1e-9) points.push_back(p);
    }
    if (points.size() > 2 && (points.front() - points.back()).norm() <= 1e-6) {
      points.pop_back();
      curve.closed = true;
    }
    if (points.size() < 2) {
      ++without_length;
      continue;
    }
    if (points.size() < 3) curve.closed = false;
    curve.points = std::move(points);
    kept.push_back(std::move(curve));
  }
  file.curves = std::move(kept);
  note_passed_over(file, without_length, "curve(s) without length");
  if (file.curves.empty()) {
    std::string what = "holds no curve";
    for (const std::string& note : file.notes) what += "; " + note;
    source.fail(what);
  }
}

void note_passed_over(CurveFile& file, std::int64_t count, const std::string& what) {
  if (count > 0) file.notes.push_back(std::to_string(count) + " " + what + " passed over");
}

std::string bytes_of(const std::filesystem::path& file) {
  std::ifstream in(file, std::ios::binary);
  if (!in) throw Error(file.string() + ": cannot be opened");
  std::ostringstream text;
  text << in.rdbuf();
  if (!in) throw Error(file.string() + ": cannot be read");
  return std::move(text).str();
}

}  // namespace detail

CurveFile read_curve_bytes(std::string_view bytes, const std::string& name, const CurveReadOptions& options) {
  const detail::MeshSource source{bytes, name};
  const std::string ending = std::filesystem::path(name).extension().string();
  CurveFile file;
  if (detail::same_word(ending, ".svg"))
    file = detail::parse_svg_curves(source, options);
  else if (detail::same_word(ending, ".obj"))
    file = detail::parse_obj_curves(source, options);
  else
    source.fail("curves are read from .dxf, .svg and .obj files");
  detail::tidy(file, source);
  return file;
}

CurveFile read_curves(const std::filesystem::path& file, const CurveReadOptions& options) {
  return read_curve_bytes(detail::bytes_of(file), file.string(), options);
}

}  // namespace yardpass
