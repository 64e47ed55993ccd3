// What a job says by names and places of the part, found once the part is there.
#pragma once

#include "job/table_keys.h"
#include "yardpass/setup/setup.h"

namespace yardpass::detail {

/// Splits the part and finds the named regions.
void find_regions(JobSetup& setup, const Mesh& mesh, const Joints& joints, const Progress& progress);

/// The rectangle of stock that is told around a part.
Box3 block_around(const Box3& part, const StockJob& stock);
/// Makes the stock of the job (after the part).
void make_stock(JobSetup& setup);

/// The sharp edges of a part as curves, with the numbers that the pictures show.
EdgePieces edge_pieces_of(const Mesh& mesh, const Joints& joints);

/// Makes the curves of the job (after its regions).
/// Those that do not come from boundaries; and, once boundaries are found, those that do.
void find_curves(JobSetup& setup, const Mesh& mesh, const Joints& joints, bool from_boundaries);
/// Curves by the name of their table, which must be there.
const std::vector<Curve>& curves_named(const JobSetup& setup, const std::string& name);

/// Finds the boundaries of the job (after regions and the part are there).
void find_boundaries(JobSetup& setup);

/// Makes the lids, run-outs, carriers and keep-away of the job.
void make_guides(JobSetup& setup, const Mesh& mesh, const Joints& joints);

/// What tables of this job are read with.
KeyContext context_of(const Job& job);

/// The area that a stock covers from above: a block exactly, other shapes cell by cell.
Region outline_of(const Stock& stock);

/// Names and measures of a job on its part. Outlines of part and stock are made when they are first asked
/// for.
class OnThisPart : public OnThePart {
 public:
  explicit OnThisPart(const JobSetup& setup) : setup_(setup) {}
  [[nodiscard]] Measured measure(const Measure& measure) const override;
  void find(GivenArea& area) const override;
  void find(GivenCurves& curves) const override;
  void find(GivenTool& tool) const override;
  [[nodiscard]] const Region& part_outline() const;
  [[nodiscard]] const Region& stock_outline() const;

 private:
  const JobSetup& setup_;
  mutable std::optional<Region> part_outline_, stock_outline_;
};

}  // namespace yardpass::detail
