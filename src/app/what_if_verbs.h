// yardpass new, compare.
#pragma once

#include <string>
#include <vector>

namespace yardpass::app {

struct NewWords {
  std::string mesh, out, rack, unit;
  bool quiet = false;
};
/// Writes a job to start from.
int new_job(const NewWords& words);

struct CompareWords {
  std::string job, operation, with, tries, out, pictures = "png";
  bool angles = false, quick = false, only_plan = false, quiet = false, yes = false, among_others = false;
};
int compare(const CompareWords& words);

}  // namespace yardpass::app
