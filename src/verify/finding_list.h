// Single troubles taken together.
#pragma once

#include <map>

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

/// Makes findings of troubles that come in the order of the moves: those of one kind and operation that are
/// at most 50 moves apart are one.
class FindingList {
 public:
  explicit FindingList(const Program& program) : program_(program) {}
  void add(const Trouble& trouble);
  /// In the order of their lines; those that are accepted beforehand carry the reason.
  std::vector<Finding> take(const std::vector<AcceptedFinding>& accepted);

 private:
  struct Last {
    std::ptrdiff_t finding = -1;
    std::size_t move = 0;
  };
  const Program& program_;
  std::vector<Finding> findings_;
  std::map<std::pair<FindingKind, std::string>, Last> last_;
};

}  // namespace yardpass::detail
