/// Looking at a part before anything is planned.
#pragma once

#include "yardpass/part/measure.h"
#include "yardpass/run/curve_roles.h"
#include "yardpass/run/slope_seams.h"
#include "yardpass/setup/setup.h"
#include "yardpass/survey/survey.h"

namespace yardpass {

/// A place asked about: where it lies on the part, and in which region.
struct PlaceFound {
  std::vector<double> asked;  ///< [x, y] from above, or [x, y, z] nearest
  SurfacePlace found;
  std::int32_t region = 0;
};

/// All that `yardpass inspect` tells.
struct Inspection {
  std::string title;
  JobSetup setup;  ///< with all regions of the part, and crossing triangles looked for
  Survey survey;
  std::vector<Curve> edges;  ///< pieces of sharp edges; number i + 1 in jobs and on pictures
  std::vector<PlaceFound> places;
  std::vector<Settled> operations = {};     ///< of a job: the active ones, nothing planned
  std::vector<SlopeSeam> seams = {};        ///< of a job's operations that work by slope
  std::vector<OperationCurves> roles = {};  ///< of a job's operations that run along curves
};

/// Looks at the part of a job as the job reads, repairs and places it, with its named regions. For a mesh
/// alone make a Job with nothing but its part and title. Throws Error like load_setup, and if there is no
/// part at a place asked about.
[[nodiscard]] Inspection inspect_part(const Job& job, const std::vector<std::vector<double>>& places = {},
                                      const SurveyOptions& options = {}, const StageProgress& progress = {});

/// All curves of an inspection by layers: "curve NAME", "boundary NAME" (at Z 0), "sharp edges" (named by
/// their numbers).
[[nodiscard]] std::vector<Curve> curves_of(const Inspection& inspection);

/// Writes curves.obj, curves.svg, and curves.dxf if the program was built with DXF. Returns their names.
std::vector<std::string> write_curve_files(const std::filesystem::path& folder,
                                           const std::vector<Curve>& curves);

}  // namespace yardpass
