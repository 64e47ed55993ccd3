// What a job says by names and places of the part, found once the part is there.
#pragma once

#include "yardpass/job/run.h"

namespace yardpass::detail {

/// Splits the part, finds the named regions, and gives operations that name one its outline.
void find_regions(JobWorld& world, const Mesh& mesh, const Joints& joints, const Progress& progress);

/// The rectangle of stock that is told around a part.
Box3 block_around(const Box3& part, const StockJob& stock);
/// Makes the stock of the job (after the part).
void make_stock(JobWorld& world);

/// The sharp edges of a part as curves, with the numbers that the pictures show.
EdgePieces edge_pieces_of(const Mesh& mesh, const Joints& joints);

/// Makes the curves of the job (after its regions).
void find_curves(JobWorld& world, const Mesh& mesh, const Joints& joints);
/// Curves by the name of their table, which must be there.
const std::vector<Curve>& curves_named(const JobWorld& world, const std::string& name);

/// Finds the boundaries of the job, and gives operations the ones they name (after regions and the part are
/// there).
void find_boundaries(JobWorld& world);

/// Makes the lids, extensions and guards of the job.
void make_guides(JobWorld& world, const Mesh& mesh, const Joints& joints);

/// The part as an operation plans on it: with its lids, extensions and guards. Groups: 0 for the part and
/// what guides, then one for each guard; `group_extra_mm` is filled with what guards want beyond the
/// allowance.
std::shared_ptr<const ContactPart> guided_part(const JobWorld& world, const OperationJob& operation,
                                               double allowance_mm, std::vector<double>& group_extra_mm,
                                               const Progress& progress);

/// A value and how it was measured.
struct Measured {
  double value;
  std::string words;
};
/// Throws Error, without a place, if it cannot be measured on this part.
Measured measure_on(const JobWorld& world, const Measure& measure);

/// Measures what is to be measured.
void fill_in_measured(JobWorld& world);

}  // namespace yardpass::detail
