#include <dxflib/dl_writer_ascii.h>

#include <cmath>
#include <set>

#include "yardpass/dxf/dxf_curves.h"

namespace yardpass {

namespace {

/// DXF's colour number of a colour, if it is one of the 255; else 7, which is seen on any ground.
int colour_number(const std::string& colour) {
  if (colour.size() != 7) return 7;
  const auto byte = [&](std::size_t at) { return std::stoi(colour.substr(at, 2), nullptr, 16); };
  for (int number = 1; number <= 255; ++number)
    if (std::lround(dxfColors[number][0] * 255) == byte(1) &&
        std::lround(dxfColors[number][1] * 255) == byte(3) &&
        std::lround(dxfColors[number][2] * 255) == byte(5))
      return number;
  return 7;
}

}  // namespace

void write_dxf_curves(const std::filesystem::path& file, const std::vector<Curve>& curves) {
  {
    DL_WriterA out(file.string().c_str(), DL_Codes::AC1009);
    if (out.openFailed()) throw Error(file.string() + ": cannot be written");
    const auto point = [&](const Vec3& p) {
      out.dxfReal(10, p.x());
      out.dxfReal(20, p.y());
      out.dxfReal(30, p.z());
    };
    const auto layer = [](const Curve& curve) {
      return curve.layer.empty() ? std::string("0") : curve.layer;
    };
    out.dxfString(0, "SECTION");
    out.dxfString(2, "HEADER");
    out.dxfString(9, "$INSUNITS");
    out.dxfInt(70, 4);
    out.dxfString(0, "ENDSEC");
    out.dxfString(0, "SECTION");
    out.dxfString(2, "ENTITIES");
    for (const Curve& curve : curves) {
      out.dxfString(0, "POLYLINE");
      out.dxfString(8, layer(curve));
      out.dxfInt(62, colour_number(curve.colour));
      out.dxfInt(66, 1);
      point({0, 0, 0});
      out.dxfInt(70, 8 + (curve.closed ? 1 : 0));
      for (const Vec3& p : curve.points) {
        out.dxfString(0, "VERTEX");
        out.dxfString(8, layer(curve));
        point(p);
        out.dxfInt(70, 32);
      }
      out.dxfString(0, "SEQEND");
      out.dxfString(8, layer(curve));
    }
    out.dxfString(0, "ENDSEC");
    out.dxfString(0, "EOF");
    out.close();
  }
  std::error_code code;
  if (std::filesystem::file_size(file, code) == 0 || code) throw Error(file.string() + ": cannot be written");
}

}  // namespace yardpass
