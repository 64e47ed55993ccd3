// Single troubles taken together.
#pragma once

#include <map>
#include <tuple>

#include "yardpass/post/read_program.h"
#include "yardpass/verify/finding.h"

namespace yardpass::detail {

/// One move in trouble.
struct Trouble {
  FindingKind kind;
  std::size_t move;
  double depth_mm;
  Vec3 at;
  std::string keep_away = {};
};

/// Makes findings of troubles that come in the order of the moves: those of one kind and operation (and of
/// one thing kept away from) are one.
class FindingList {
 public:
  explicit FindingList(const Program& program) : program_(program) {}
  void add(const Trouble& trouble);
  /// The most dangerous kinds first, then in the order of their lines; those that are accepted beforehand
  /// carry the reason.
  std::vector<Finding> take(const std::vector<AcceptedFinding>& accepted);

 private:
  struct Last {
    std::size_t finding, move;
  };
  const Program& program_;
  std::vector<Finding> findings_;
  std::map<std::tuple<FindingKind, std::int32_t, std::string>, Last> last_;
};

}  // namespace yardpass::detail
