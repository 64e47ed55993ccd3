#include "run/carve_path.h"

namespace yardpass::detail {

void carve_path(Stock& stock, const Toolpath& path) {
  std::vector<SweptMove> moves;
  Vec3 at = path.start;
  for (const Move& move : path.moves) {
    if (move.kind != MoveKind::rapid) moves.push_back({at, move.to, 0, true, path.arc_of(move)});
    at = move.to;
  }
  if (moves.empty()) return;
  const Profile cutter = profile_of(path.tool);
  carve(stock, std::span<const Profile>(&cutter, 1), moves);
}

}  // namespace yardpass::detail
