// Tools of a job: its own tables, those of a rack that it names, and cutting data by material.
#pragma once

#include <functional>
#include <set>

#include "job/table_keys.h"

namespace yardpass::detail {

/// How a tool cuts one material; values that are not said are those of the tool.
struct CuttingData {
  std::string material;
  std::optional<double> spindle_rpm, feed_mm_min, plunge_feed_mm_min, ramp_feed_mm_min, link_feed_mm_min;
  std::vector<double> spindle_range, feed_range;  ///< least and most; empty: any
};
void keys_of(CuttingData& data, Keys& keys);

/// One tool with all that is said of it.
struct ToolTable {
  std::string name;
  GivenTable says;                  ///< to be visited as a tool; without its materials
  std::set<std::string> elsewhere;  ///< keys that the rack or the material says, and where
  std::string source;               ///< of those keys: "slipway-rack.toml"
  bool from_rack = false;
  bool unsound = false;                  ///< the rack's table has mistakes, which are told
  std::optional<CuttingData> cuts = {};  ///< in the job's material
  bool has_materials = false;
};

/// Tables by name: the job's own, and of the rack those that the job's own tables name. What a job's table
/// says counts before the rack's table of the same name, that before the material.
class ToolTables {
 public:
  ToolTables(const GivenTable& root, const Job& job, const KeyContext& context, Mistakes& mistakes);
  [[nodiscard]] const std::vector<ToolTable>& all() const { return tables_; }

 private:
  void read_rack(const GivenTable& root, const Job& job, const KeyContext& context, Mistakes& mistakes);
  void add_own(const GivenTable& root, Mistakes& mistakes);
  void choose_material(ToolTable& table, const std::string& material, const KeyContext& context,
                       Mistakes& mistakes);

  std::vector<ToolTable> tables_;
};

/// What the user should know of a tool's speeds and feeds in the job's material.
void note_cutting_data(const ToolTable& table, const Tool& tool, const std::string& material,
                       std::vector<Note>& notes);

}  // namespace yardpass::detail
