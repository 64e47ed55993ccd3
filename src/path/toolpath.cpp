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
    const Arc* const arc = path.arc_of(move);
    const double length = arc ? arc->length() : (move.to - from).norm();
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

void PathLengths::add(const PathLengths& more) {
  cut_mm += more.cut_mm, ramp_mm += more.ramp_mm, plunge_mm += more.plunge_mm, link_mm += more.link_mm;
  lead_mm += more.lead_mm, rapid_mm += more.rapid_mm, retracts += more.retracts;
}

}  // namespace yardpass
