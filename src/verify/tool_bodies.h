// Every tool of a program as bodies that cut, and bodies that must not meet material.
#pragma once

#include <initializer_list>
#include <optional>
#include <vector>

#include "yardpass/stock/stock.h"
#include "yardpass/tool/tool.h"
#include "yardpass/verify/finding.h"

namespace yardpass::detail {

/// How a move uses its tool.
enum class Use : std::uint8_t { cut, rapid, plunge };

/// Every tool as a cutter for each use, and what of it must not meet material.
class Bodies {
 public:
  Bodies(const std::vector<Tool>& tools, double limit, double cell);
  [[nodiscard]] std::size_t index(std::size_t tool, Use use) const {
    return tool + static_cast<std::size_t>(use) * count_;
  }
  [[nodiscard]] const std::vector<Profile>& cutters() const { return cutters_; }
  [[nodiscard]] const std::vector<TestedBody>& tested() const { return tested_; }
  /// What it is when this body meets material, so deep.
  struct Meaning {
    FindingKind kind;
    double above_mm;  ///< the body stands higher than what is meant by this much
    /// Not meant at all, but the holder as low as it can be, this far above the tip: how much higher it must
    /// stand is asked.
    std::optional<double> lowest_holder = {};
  };
  [[nodiscard]] const Meaning& meaning(std::int32_t body) const {
    return meaning_[static_cast<std::size_t>(body)];
  }
  [[nodiscard]] double rapid_lift(std::size_t tool) const { return rapid_lift_[tool]; }

 private:
  void add_bodies(const Tool& tool, std::size_t k, double cell);
  void add(std::size_t tool, const Profile& profile, double above_tip, std::initializer_list<Use> uses,
           const Meaning& meaning);

  double limit_;
  std::size_t count_;
  std::vector<Profile> cutters_;
  std::vector<double> rapid_lift_;
  std::vector<TestedBody> tested_;
  std::vector<Meaning> meaning_;
};

}  // namespace yardpass::detail
