/// The strategies by name, and an operation of any of them.
#pragma once

#include <memory>
#include <span>
#include <vector>

#include "yardpass/keys/keys.h"
#include "yardpass/plan/cuts.h"
#include "yardpass/plan/given_curves.h"
#include "yardpass/plan/site.h"

namespace yardpass {

/// A strategy with its options, whichever it is. C++ programs that know which one they want call its
/// `cuts_of` straight.
class Pattern {
 public:
  virtual ~Pattern() = default;
  /// Visits its keys: options become what is said, else the usual.
  virtual void keys(const Tool& tool, Keys& keys) = 0;
  [[nodiscard]] virtual Usual usual(const Tool& tool) const = 0;
  /// Of curves that are told to it; by the area for the tool, where that gives them. Throws as `cuts` does if
  /// they do not go together.
  [[nodiscard]] virtual std::vector<CurveRole> roles(const Region& /*area*/) const { return {}; }
  /// Where and how deep it cuts into the part on purpose. Before there is a part: how deep at most.
  [[nodiscard]] virtual IntendedCuts intended(const Tool& /*tool*/,
                                              const std::shared_ptr<const ContactPart>& /*part*/) const {
    return {};
  }
  [[nodiscard]] virtual CutPlan cuts(const Site& site, const Progress& progress) const = 0;
};

/// A pattern of options that have `keys_of`, `usual_of` and `cuts_of`; `roles_of` if curves have roles, and
/// `intended_of` if they cut into the part.
template <typename Options>
class PatternOf : public Pattern {
 public:
  explicit PatternOf(Options options = {}) : options_(std::move(options)) {}
  void keys(const Tool& tool, Keys& keys) override { keys_of(options_, tool, keys); }
  [[nodiscard]] Usual usual(const Tool& tool) const override { return usual_of(options_, tool); }
  [[nodiscard]] std::vector<CurveRole> roles(const Region& area) const override {
    if constexpr (requires { roles_of(options_, area); })
      return roles_of(options_, area);
    else
      return {};
  }
  [[nodiscard]] IntendedCuts intended(const Tool& tool,
                                      const std::shared_ptr<const ContactPart>& part) const override {
    if constexpr (requires { intended_of(options_, tool, part); })
      return intended_of(options_, tool, part);
    else if constexpr (requires { intended_of(options_); })
      return intended_of(options_);
    else
      return {};
  }
  [[nodiscard]] CutPlan cuts(const Site& site, const Progress& progress) const override {
    return cuts_of(options_, site, progress);
  }
  [[nodiscard]] const Options& options() const { return options_; }

 private:
  Options options_;
};

/// What a strategy is for.
enum class Work : std::uint8_t { clear, floors_and_slopes, steep, along_a_form, corners, edges, drawn };
/// "clear", "floors and slopes", ...
[[nodiscard]] const char* name_of(Work work);

struct Strategy {
  const char* name;  ///< in job files
  Work work;
  const char* says;  ///< half a line
  std::unique_ptr<Pattern> (*pattern)();
};
/// By the work they do.
[[nodiscard]] std::span<const Strategy> all_strategies();
/// Nothing if there is none of this name.
[[nodiscard]] const Strategy* strategy_named(const std::string& name);

}  // namespace yardpass
