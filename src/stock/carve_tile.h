// One tile of the stock and the moves that reach it.
#pragma once

#include <span>
#include <vector>

#include "yardpass/stock/stock.h"

namespace yardpass::detail {

inline constexpr int kTileSide = 64;  ///< cells
inline constexpr int kBlockSide = 8;  ///< cells; bounds are kept for each block
inline constexpr int kBlocks = kTileSide / kBlockSide;
inline constexpr double kTouching = 1e-6;  ///< a move that only touches may pass this deep

/// A cutter, or another body of the tool, as the carving loop wants it.
struct CarveBody {
  const Profile* profile = nullptr;
  double radius = 0;
  double disc = 0, corner = 0;  ///< flat middle and round corner
  enum class Kind : std::uint8_t {
    round,   ///< nothing but disc and corner
    pieced,  ///< straight and round pieces for which there are quick formulas
    other
  } kind = Kind::other;
};

/// A part of a move along an arc: a chord, or, if it has a radius, a level arc of at most half a turn.
struct ArcPiece {
  Vec3 from, to;
  Vec2 centre{0, 0};
  double radius = 0;
  bool counter_clockwise = true;
  /// How far it lies beside its chord at most; 0 for a chord.
  [[nodiscard]] double bulge() const;
  /// How far a place in plan is from it, if it is an arc.
  [[nodiscard]] double distance(const Vec2& place) const;
};

/// One thing to do in a tile: a move of a body.
struct TileStep {
  std::int32_t move = 0;
  std::int32_t body = 0;    ///< index into the list of bodies
  std::int32_t piece = -1;  ///< of a move along an arc: index into the list of pieces
  bool cuts = true;         ///< else it is only tested
};

/// What a body met that must not meet material: how deep below its top, in Z, and where.
struct TileMeeting {
  std::int32_t move, body;
  double depth;
  Vec3 at;
};

struct TileTask {
  Vec2 first{0, 0};  ///< centre of the tile's first cell
  double cell = 1, bottom = 0;
  int columns = 0, rows = 0;         ///< that belong to the stock
  double* heights = nullptr;         ///< of the first cell, rows `stride` apart
  std::int32_t* last_cut = nullptr;  ///< likewise; may be null
  std::size_t stride = 0;
  std::span<const SweptMove> moves;
  std::int32_t first_move = 0;  ///< the number of the first of them
  std::span<const ArcPiece> pieces;
  std::span<const CarveBody> bodies;
  std::span<const double> lift;  ///< of each body above the tip
  std::span<const TileStep> steps;
  std::vector<std::int32_t> removers;
  std::vector<TileMeeting> meetings;
};

/// Does all steps of a tile in their order. The result has the same bits with any instruction set.
void carve_tile(TileTask& task);

}  // namespace yardpass::detail
