// yardpass run, check, resume, demo, keys.
#pragma once

#include <cstdint>
#include <limits>
#include <string>
#include <vector>

#include "yardpass/run/estimate.h"

namespace yardpass::app {

constexpr int kClean = 0, kFindings = 1, kBadInput = 2;
constexpr int kOnlyALook = 3;  ///< a quick look, or not judged: nothing is released, whatever was found

struct RunWords {
  std::string job, program, out, demo, up_to_operation, at_line;
  std::string pictures = "png", section;
  bool quiet = false, save_stock = false, only_times = false, among_others = false, yes = false;
  bool quick = false, only_plan = false, afresh = false, skip_marked = false;
  int threads = 0;
  std::int32_t up_to_line = std::numeric_limits<std::int32_t>::max();
};

int run(const RunWords& words);
int check(const RunWords& words);
int resume(const RunWords& words);
int demo(const RunWords& words);
/// The jobs that ship, by name.
std::vector<std::string> demo_names();

/// Large work begins only when somebody says yes: asks, or throws Error.
void heed_size(const Estimate& foretold, bool yes);

struct KeysWords {
  std::string name;
  bool markdown = false, schema = false;
};
int keys(const KeysWords& words);

}  // namespace yardpass::app
