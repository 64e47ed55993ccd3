// A folder of results that appears whole or not at all.
#pragma once

#include <filesystem>
#include <string>

namespace yardpass::app {

/// Files are written to a folder beside the wanted one; publish() puts them in place. Without it nothing
/// stays.
class OutputFolder {
 public:
  /// Throws Error if the place cannot be a folder or cannot be written.
  explicit OutputFolder(const std::filesystem::path& wanted);
  ~OutputFolder();
  OutputFolder(const OutputFolder&) = delete;
  OutputFolder& operator=(const OutputFolder&) = delete;

  [[nodiscard]] const std::filesystem::path& draft() const { return draft_; }
  void write(const std::string& name, const std::string& text) const;
  /// A new folder is renamed into place at once; into an existing one the files are moved one by one, each
  /// whole, and pictures of an earlier run that this one does not have are removed.
  void publish();

 private:
  std::filesystem::path wanted_, draft_;
};

}  // namespace yardpass::app
