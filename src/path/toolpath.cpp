#include "yardpass/path/toolpath.h"

namespace yardpass {

const char* name_of(MoveKind kind) {
  switch (kind) {
    case MoveKind::rapid:
      return "rapid";
    case MoveKind::plunge:
      return "plunge";
    case MoveKind::ramp:
      return "ramp";
    case MoveKind::cut:
      return "cut";
    case MoveKind::link:
      return "link";
    case MoveKind::lead:
      return "lead";
  }
  return "";
}

PathLengths measure(const Toolpath& path) {
  PathLengths lengths;
  Vec3 from = path.start;
  for (const Move& move : path.moves) {
    const double length = (move.to - from).norm();
    switch (move.kind) {
      case MoveKind::rapid:
        lengths.rapid_mm += length;
        lengths.retracts += move.to.z() > from.z();
        break;
      case MoveKind::plunge:
        lengths.plunge_mm += length;
        break;
      case MoveKind::ramp:
        lengths.ramp_mm += length;
        break;
      case MoveKind::cut:
        lengths.cut_mm += length;
        break;
      case MoveKind::link:
        lengths.link_mm += length;
        break;
      case MoveKind::lead:
        lengths.lead_mm += length;
        break;
    }
    from = move.to;
  }
  return lengths;
}

}  // namespace yardpass
