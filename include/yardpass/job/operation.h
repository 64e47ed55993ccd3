/// An operation with all that it can say, typed: one visit tells every key that operations have.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "yardpass/link/link.h"
#include "yardpass/plan/allowance.h"
#include "yardpass/plan/limits.h"
#include "yardpass/plan/obstacles.h"
#include "yardpass/plan/seams.h"
#include "yardpass/strategy/all.h"

namespace yardpass {

/// What takes part in planning besides the part, by name.
struct Guides {
  std::vector<std::string> lids, run_outs, carriers, keep_away;
  std::vector<std::string> own_allowance = {};  ///< regions that have one
  [[nodiscard]] bool none() const {
    return lids.empty() && run_outs.empty() && carriers.empty() && keep_away.empty() && own_allowance.empty();
  }
  friend bool operator==(const Guides&, const Guides&) = default;
};

struct OperationValues {
  std::shared_ptr<Pattern> pattern;  ///< of the operation's strategy
  Limits limits;
  Guides guides;
  Allowance allowance;
  int layers = 1;  ///< it is repeated so often, each time leaving `layer_mm` less, and at last the allowance
  double layer_mm = 0;
  double tolerance_mm = 0.01;
  Feather feather = {};
  Obstacles obstacles = {};     ///< without what is kept away from
  LinkOptions links;            ///< without its clearance plane
  bool ease_feed = false;       ///< where more of the cutter is in material than the tool's widest engagement
  bool smooth = false;          ///< cuts are put together to arcs and longer lines
  double smooth_within_mm = 0;  ///< how far above the ideal path these may lie
  double intended_depth_mm = 0;  ///< how deep it cuts into the part on purpose, where it works
};

/// Visits the keys of an operation: those of its pattern, which must be there, and those that all operations
/// share.
void keys_of(OperationValues& operation, const Tool& tool, Keys& keys);

}  // namespace yardpass
