/// Variants of an operation beside each other: one table, one picture.
#pragma once

#include <filesystem>
#include <string>
#include <utility>
#include <vector>

#include "yardpass/report/report.h"

namespace yardpass {

/// A variant that was carried out. The report refers to its run, which must outlive it.
struct ComparedRun {
  std::string words;           ///< "stepover = 0.2"
  std::int32_t operation = 0;  ///< by number
  const Report* report = nullptr;
};

/// One line a variant: time, length, retracts, air; of those that are judged also ridges asked and measured,
/// what is left after it and what of it is missed where it works.
[[nodiscard]] std::string comparison_table(const std::vector<ComparedRun>& runs);

/// The one that takes the least time, of equal ones the first: an index. REQUIRES: some
[[nodiscard]] std::size_t quickest(const std::vector<ComparedRun>& runs);

/// Variants whose paths are the same, move by move: indices, each with the first that it is like.
[[nodiscard]] std::vector<std::pair<std::size_t, std::size_t>> alike(const std::vector<ComparedRun>& runs);

/// compare.json: what the table says, by the keys of report.json.
[[nodiscard]] std::string comparison_json(const std::vector<ComparedRun>& runs);

/// The cuts of the first few over the part, each in a colour and stroke of its own. Throws Error if the file
/// cannot be written.
void draw_comparison(const std::vector<ComparedRun>& runs, const std::filesystem::path& file);

}  // namespace yardpass
