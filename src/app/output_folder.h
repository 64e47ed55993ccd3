// A folder of results that appears whole or not at all.
#pragma once

#include <filesystem>
#include <string>
#include <vector>

#include "yardpass/report/report.h"

namespace yardpass::app {

/// Files are written to a draft folder near the wanted one; publish() puts them in place. Without it nothing
/// stays: no draft, no folder made on the way. Drafts that ended runs left behind are swept.
class OutputFolder {
 public:
  /// `inputs`: files that must not be written over or taken away. Throws Error if one of them is in the way,
  /// if the place cannot be a folder or cannot be written, or if it holds anything else than what an earlier
  /// run left, unless `among_others`.
  OutputFolder(const std::filesystem::path& wanted, const std::vector<std::filesystem::path>& inputs,
               bool among_others);
  ~OutputFolder();
  OutputFolder(const OutputFolder&) = delete;
  OutputFolder& operator=(const OutputFolder&) = delete;

  [[nodiscard]] const std::filesystem::path& draft() const { return draft_; }
  /// A message about the draft's files, said of the files as they would be called in the end.
  [[nodiscard]] std::string as_wanted(std::string message) const;
  /// What an earlier run left (files by the names of `all_outputs`) gives way to what this one has; other
  /// files stay. A folder that holds nothing else is exchanged at once; else the files change places one by
  /// one, and if that fails the folder is put back as it was and Error thrown.
  void publish();

 private:
  void make_parents();
  void make_draft(const std::filesystem::path& place);
  [[nodiscard]] bool exchange() const;
  void move_in();

  std::filesystem::path wanted_, draft_;
  std::vector<std::filesystem::path> made_;  ///< folders above it that were not there, outermost first
  int lock_ = -1;                            ///< held on the draft while this process lives
  bool published_ = false;
};

/// One of `picture_forms`. REQUIRES: it is.
PictureForm form_named(const std::string& name);
std::vector<std::string> picture_forms();

}  // namespace yardpass::app
