/// The material: a height map that moves of cutters carve.
#pragma once

#include <cstdint>
#include <optional>
#include <span>
#include <utility>
#include <vector>

#include "yardpass/geom/arc.h"
#include "yardpass/geom/error.h"
#include "yardpass/geom/mesh.h"
#include "yardpass/tool/profile.h"

namespace yardpass {

/// The square between four neighbouring centres, of which (column, row) is the one at low X and low Y; -1 and
/// the last ones: the strips between the outermost centres and the edge of the block.
struct HiddenSquare {
  int column, row;
  double top_z;  ///< nothing in it stands higher
  bool operator==(const HiddenSquare&) const = default;
};

/// Square cells over a rectangle; each holds the height of the material at its centre. Material reaches from
/// there down to bottom_z, so what lies below an overhang is not seen. (A stock that sees it, with material
/// measured along X and Y too, would be a class beside this one with a carve() of its own for the same
/// SweptMove, TestedBody and CarveLog, which say nothing of cells.) Reading from many threads is safe;
/// carving is not.
class Stock {
 public:
  /// A block, with a cell wherever the centre lies in it. Throws Error if it has no size, if the cell is not
  /// above 0, or if it needs more than 2e9 cells.
  Stock(const Box3& block, double cell_mm);

  [[nodiscard]] int columns() const { return columns_; }  ///< along X
  [[nodiscard]] int rows() const { return rows_; }        ///< along Y
  [[nodiscard]] double cell_mm() const { return cell_; }
  [[nodiscard]] const Box3& block() const { return block_; }
  [[nodiscard]] double bottom_z() const { return block_.min().z(); }
  [[nodiscard]] Vec2 centre(int column, int row) const {
    return {block_.min().x() + (column + 0.5) * cell_, block_.min().y() + (row + 0.5) * cell_};
  }
  [[nodiscard]] double height(int column, int row) const { return heights_[index(column, row)]; }
  void set_height(int column, int row, double z) { heights_[index(column, row)] = z; }
  [[nodiscard]] std::size_t index(int column, int row) const {
    return static_cast<std::size_t>(row) * static_cast<std::size_t>(columns_) +
           static_cast<std::size_t>(column);
  }
  /// All heights, row by row from low Y, as index() numbers them.
  [[nodiscard]] std::span<double> heights() { return heights_; }
  [[nodiscard]] std::span<const double> heights() const { return heights_; }
  [[nodiscard]] double volume_mm3() const;
  [[nodiscard]] std::size_t memory_bytes() const { return heights_.size() * sizeof(double); }

  /// Where material may stand between the centres, as far as somebody has looked (hidden_between); a note
  /// kept beside the heights, which carving does not change.
  [[nodiscard]] const std::vector<HiddenSquare>& hidden() const { return hidden_; }
  void set_hidden(std::vector<HiddenSquare> hidden) { hidden_ = std::move(hidden); }
  /// In plan, within the block.
  [[nodiscard]] Box2 box_of(const HiddenSquare& square) const;

  /// The least tip Z at which the cutter, standing at `place`, is free of the material at all cell centres
  /// and of all that may be hidden between them; minus infinity where there is none. Elsewhere material
  /// between the centres may reach higher by what its slope gains over half a cell.
  [[nodiscard]] double free_height(const Profile& cutter, const Vec2& place) const;

  /// How thick the material is that the cutter meets, standing with its tip at a place: the farthest that a
  /// cell centre's material reaches into it, in space (see depth_inside).
  [[nodiscard]] double thickness_met(const Profile& cutter, const Vec3& tip) const;

  /// Columns and rows whose centres lie within [low, high]; the ranges are [first, last), clipped to the
  /// block.
  struct CellRange {
    int first_column, last_column, first_row, last_row;
    [[nodiscard]] bool empty() const { return first_column >= last_column || first_row >= last_row; }
  };
  [[nodiscard]] CellRange cells_between(const Vec2& low, const Vec2& high) const;
  /// Index of the cell that a place lies in; nothing beside the cells.
  [[nodiscard]] std::optional<std::size_t> cell_at(const Vec2& place) const;
  /// The corners of a square that are centres: one to four.
  [[nodiscard]] CellRange centres_of(const HiddenSquare& square) const;

 private:
  Box3 block_;
  double cell_;
  int columns_, rows_;
  std::vector<double> heights_;
  std::vector<HiddenSquare> hidden_;
};

/// A move of a tip, straight or along an arc.
struct SweptMove {
  Vec3 from, to;
  std::int32_t cutter = 0;   ///< index into the list of profiles
  bool cuts = true;          ///< false: the move must not meet material; it is tested, and carves nothing
  const Arc* arc = nullptr;  ///< from `from` to `to`; must outlive the call
};

/// A body of a tool that must not meet material: its shank, its holder, the end of its flutes. Tested against
/// the material as it is just before each move of its cutter.
struct TestedBody {
  std::int32_t cutter = 0;  ///< index into the list of profiles: of which moves
  Profile profile = Profile::needle();
  double above_tip_mm = 0;  ///< its lower end
  bool on_rapids = true;    ///< also on moves that do not cut
};

/// What carving saw, one entry a move of the call.
struct CarveLog {
  /// Number of the call's first move in `meetings` and `last_cut`, for moves that are carried out in several
  /// calls.
  std::int32_t first_move = 0;
  std::vector<std::uint8_t> removed;  ///< 1 if the move took material away at any cell
  /// For moves that must not meet material: how deep below its top they pass it, measured in Z at cell
  /// centres, 0 if they keep clear; and where.
  std::vector<double> entered;
  std::vector<Vec3> entered_at;
  /// Tested bodies that met material, by move and body; depth in Z at cell centres.
  struct Meeting {
    std::int32_t move, body;
    double depth_mm;
    Vec3 at;
  };
  std::vector<Meeting> meetings;
  std::vector<std::int32_t> last_cut;  ///< one a cell: the last move that lowered it, -1 if none
};

/// Carries out the moves in their order: after it, each cell that a cutting move passes holds the lowest
/// point of the swept cutter at its centre, exact but for cells within 1e-9 mm of the rim. Level arcs too;
/// other arcs (helices, arcs in upright planes) are followed by chords no farther than 1e-4 mm from them. Of
/// a level arc whose ends are not equally far from its axis, each quarter is the circle through its ends.
/// Runs on all cores; the result does not depend on their number. If stopped by `progress`, the stock is left
/// partly carved: use a copy.
void carve(Stock& stock, std::span<const Profile> cutters, std::span<const SweptMove> moves,
           CarveLog* log = nullptr, const Progress& progress = {}, std::span<const TestedBody> tested = {});

/// The material as a closed mesh with few triangles where it is smooth: at no cell centre is the mesh farther
/// than the tolerance from the material's height (the outermost cells are drawn out to the sides of the
/// block).
[[nodiscard]] Mesh decimated_mesh(const Stock& stock, double tolerance_mm);

/// The material as a closed mesh with at most about `most_triangles`; cells are taken together in squares as
/// needed, the highest of them giving the height, so the mesh never shows less material than there is at cell
/// centres.
[[nodiscard]] Mesh mesh_of(const Stock& stock, std::size_t most_triangles = 400000);

}  // namespace yardpass
