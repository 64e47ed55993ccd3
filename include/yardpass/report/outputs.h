/// The files of a folder of results, told once: all verbs write by this list, and what an earlier run left is
/// known by it.
#pragma once

#include <filesystem>
#include <optional>
#include <span>
#include <string>
#include <vector>

#include "yardpass/report/report.h"

namespace yardpass {

/// What is written and from what.
struct OutputSource {
  const Report& report;
  std::string_view program;  ///< text of program.nc
  bool save_stock = false;
  PictureForm form = PictureForm::png;
  std::filesystem::path folder = {};
  std::optional<SectionLine> section = {};
  std::vector<Picture> pictures = {};  ///< drawn so far, for the page
  std::vector<std::string> told = {};  ///< what the user should know, a line each
  /// What is left as a mesh, made by whoever needs it first, and how far it is off the simulation.
  std::optional<Mesh> stock_mesh = {};
  double stock_mesh_off_mm = 0;

  /// Notes a picture for the page; the path to draw it at.
  [[nodiscard]] std::filesystem::path picture(const std::string& stem, std::string caption);
};

struct Output {
  const char* name;  ///< of the file; one `*` stands for anything
  const char* says;  ///< what it is
  /// Writes it; nothing for what `inspect` writes, and for files that come with another one.
  void (*write)(OutputSource& source);
};
[[nodiscard]] std::span<const Output> all_outputs();

/// Whether some verb writes a file of this name.
[[nodiscard]] bool is_output(const std::string& file_name);

struct OutputOptions {
  bool save_stock = false;
  PictureForm form = PictureForm::png;
  std::optional<SectionLine> section = {};
};

/// Writes everything that `run` and `check` write into the folder, which must be there. Returns what the user
/// should know of it. Throws Error, with the system's reason, if a file cannot be written; Stopped between
/// two files if asked to.
std::vector<std::string> write_outputs(const Report& report, const std::string& program,
                                       const std::filesystem::path& folder, const OutputOptions& options = {},
                                       const Progress& progress = {});

/// part.json, what `inspect` writes besides pictures and curves. Throws Error if it cannot be written.
void write_part_page(const std::filesystem::path& file, const Inspection& inspection,
                     const std::vector<Picture>& pictures);
void write_part_json(const std::filesystem::path& file, const Inspection& inspection);

}  // namespace yardpass
