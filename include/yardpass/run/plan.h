/// Planning and linking the operations of a job, and taking over toolpaths that an earlier run has planned.
#pragma once

#include <filesystem>
#include <map>
#include <memory>

#include "yardpass/path/toolpath.h"
#include "yardpass/plan/true_spacing.h"
#include "yardpass/run/settle.h"
#include "yardpass/verify/engagement.h"
#include "yardpass/verify/left.h"

namespace yardpass {

/// What planning made of an operation.
struct PlannedOperation {
  Region area;  ///< where the tool's axis may be
  Toolpath path;
  PathLengths lengths;
  std::int64_t points = 0;                 ///< moves at feed
  std::vector<SettledValue> facts;         ///< what the strategy decided by itself
  std::vector<Note> notes;                 ///< what the user should know, besides those of Settled
  std::vector<Polyline3> left_alone = {};  ///< what it was to follow and does not, for pictures
  LinkCounts links = {};                   ///< of all its layers
  TrueSpacing spacing;  ///< of its passes, the last layer's; without places where it has none
  Fingerprint fingerprint;
  bool taken_over = false;  ///< from an earlier run
  /// How much of its cutter meets material, of a tool without a limit for that: a figure, on which no finding
  /// depends. Its line is the index of a move of `path`; -1: none. Known once it was measured.
  std::optional<Engagement> engagement = {};
  /// What it leaves where it works, before the next one cuts. Known once it was measured.
  std::optional<LeftStatistics> left_after = {};

  void measure();  ///< lengths and points, by the path
};

/// Toolpaths of earlier runs, by their fingerprints. Not safe for use by two threads.
class KeptPaths {
 public:
  KeptPaths() = default;
  /// Of a file that `write` made. Nothing of one that is not there, damaged, or from another program; then
  /// `why_empty` says why, in words, unless there is no file.
  explicit KeptPaths(const std::filesystem::path& file);

  [[nodiscard]] const PlannedOperation* find(const Fingerprint& fingerprint) const;
  /// The same of each; nothing for those that are not kept.
  [[nodiscard]] std::vector<const PlannedOperation*> find(const std::vector<Fingerprint>& fingerprints) const;
  void add(const PlannedOperation& planned);
  [[nodiscard]] std::size_t size() const { return paths_.size(); }
  [[nodiscard]] const std::string& why_empty() const { return why_empty_; }

 private:
  std::map<Fingerprint, PlannedOperation> paths_;
  std::string why_empty_;
};

/// Writes the toolpaths for KeptPaths. Throws Error if the file cannot be written.
void write_kept_paths(const std::filesystem::path& file, const std::vector<PlannedOperation>& planned);

/// What each operation's toolpath depends on, known before any is planned: its settled values, tool and
/// curves, the placed part with its guides, the stock, the controller's decimals, all operations before it,
/// and the program with the libraries that it runs on. What the operation is called is no part of it, nor
/// what the judge alone reads.
[[nodiscard]] std::vector<Fingerprint> fingerprints_of(const JobSetup& setup,
                                                       const std::vector<Settled>& operations);

/// Plans and links the operations one after the other, each in the stock that those before it leave. What
/// `kept` has is taken over, and only carved. Throws Error that names the operation.
[[nodiscard]] std::vector<PlannedOperation> plan_operations(const JobSetup& setup,
                                                            const std::vector<Settled>& operations,
                                                            const KeptPaths* kept = nullptr,
                                                            const StageProgress& progress = {});

}  // namespace yardpass
