#include <dxflib/dl_writer_ascii.h>

#include <cerrno>
#include <cmath>
#include <fstream>
#include <set>

#include "geom/write_file.h"
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

bool ends_with_its_last_line(const std::filesystem::path& file) {
  std::ifstream in(file, std::ios::binary | std::ios::ate);
  const auto size = static_cast<std::int64_t>(in.tellg());
  if (!in || size < 4) return false;
  std::string tail(static_cast<std::size_t>(std::min<std::int64_t>(size, 8)), '\0');
  in.seekg(-static_cast<std::int64_t>(tail.size()), std::ios::end);
  in.read(tail.data(), static_cast<std::streamsize>(tail.size()));
  return tail.find("EOF") != std::string::npos;
}

}  // namespace

void write_dxf_curves(const std::filesystem::path& file, const std::vector<Curve>& curves) {
  errno = 0;
  {
    DL_WriterA out(file.string().c_str(), DL_Codes::AC1009);
    if (out.openFailed()) detail::cannot_write(file, errno);
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
  // The writer tells of no failure: whether all is there, its last line says.
  if (!ends_with_its_last_line(file)) detail::cannot_write(file, errno != 0 ? errno : EIO);
}

}  // namespace yardpass
