// A curve reader against any bytes: an answer or an Error, and an answer holds what the header promises.
#include <cmath>
#include <cstdint>
#include <cstdlib>

#include "yardpass/curve/read_curves.h"
#include "yardpass/dxf/dxf_curves.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  const std::string_view bytes(reinterpret_cast<const char*>(data), size);
  const std::string name = "input" YARDPASS_ENDING;
  try {
    const yardpass::CurveFile file = name.ends_with(".dxf") ? yardpass::read_dxf_bytes(bytes, name)
                                                            : yardpass::read_curve_bytes(bytes, name);
    if (file.curves.empty()) std::abort();
    for (const yardpass::Curve& curve : file.curves) {
      if (curve.points.size() < (curve.closed ? 3U : 2U)) std::abort();
      for (const yardpass::Vec3& p : curve.points)
        if (!(p.cwiseAbs().maxCoeff() <= 1e6)) std::abort();
    }
  } catch (const yardpass::Error&) {
  }
  return 0;
}
