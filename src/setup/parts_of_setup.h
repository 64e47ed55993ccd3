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
void find_curves(JobSetup& setup, const Mesh& mesh, const Joints& joints);
/// Curves by the name of their table, which must be there.
const std::vector<Curve>& curves_named(const JobSetup& setup, const std::string& name);

/// Finds the boundaries of the job (after regions and the part are there).
void find_boundaries(JobSetup& setup);

/// Makes the lids, run_outs and keep_away of the job.
void make_guides(JobSetup& setup, const Mesh& mesh, const Joints& joints);

/// Throws Error, without a place, if it cannot be measured on this part.
Measured measure_on(const JobSetup& setup, const Measure& measure);

}  // namespace yardpass::detail
