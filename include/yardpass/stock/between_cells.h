/// What may stand between the cell centres of a stock: ribs thinner than a cell, what is left at the block's
/// edges, whatever a cutter thinner than a cell goes round.
///
/// The lowest point of a swept cutter is a convex function of the place. So where one move passes the four
/// corners of a square no higher than z, nothing in the square is left above z: most squares are certain by
/// one move and four formulas, without any finer cells.
#pragma once

#include <optional>

#include "yardpass/stock/stock.h"

namespace yardpass {

/// Material that stands higher than the centres around a square show, but by no more than this, is not told:
/// the cusps between passes [mm].
[[nodiscard]] double hidden_threshold(const Stock& stock);

/// Squares in which material may stand higher than at any of their centres, and by more than the threshold,
/// after `moves` have been carried out with `cutters` (see carve()); in rising order of row and column.
/// Material that was there before the first move is taken to stand no higher than the block. `last_cut`: as
/// CarveLog::last_cut, as index into `moves`. Only squares of which a centre was cut by `from_move` or a
/// later one are looked at; the others are as they were. `within`: only squares that reach into it.
[[nodiscard]] std::vector<HiddenSquare> hidden_between(const Stock& stock, std::span<const Profile> cutters,
                                                       std::span<const SweptMove> moves,
                                                       std::span<const std::int32_t> last_cut,
                                                       std::int32_t from_move = 0,
                                                       const std::optional<Box2>& within = {});

/// The squares of `hidden` that still hide something after more moves (of `stock` as it then is), each as
/// high as one move alone leaves it. Moves along arcs are passed over.
[[nodiscard]] std::vector<HiddenSquare> still_hidden(const std::vector<HiddenSquare>& hidden,
                                                     const Stock& stock, std::span<const Profile> cutters,
                                                     std::span<const SweptMove> moves);

}  // namespace yardpass
