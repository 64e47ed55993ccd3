// Reading the tables of a job file, one function for each kind.
#pragma once

#include <functional>

#include "job/table_reader.h"
#include "yardpass/job/job_file.h"

namespace yardpass::detail {

inline constexpr Range kLength{0, 1e4, true};
inline constexpr Range kLengthOrZero{0, 1e4};
inline constexpr Range kFeed{0, 1e6, true, "mm/min"};
inline constexpr Range kPlace{-1e5, 1e5};

Tool read_tool(const std::string& name, const GivenTable& table, Mistakes& mistakes);
/// [stock]
void read_stock_table(TableReader& reader, const GivenTable& table, Job& job);
/// [machine], and the file it may name.
void read_machine(TableReader& reader, Job& job);
/// [leftover]
void read_leftover(TableReader& reader, Job& job);
/// [[accepted]]
void read_accepted(const GivenList& list, Job& job, Mistakes& mistakes);
/// [part]: mesh, unit, repairs, placement, origin.
void read_part(TableReader& reader, Job& job);
/// [splitting]
void read_splitting(TableReader& reader, RegionOptions& options);
/// [regions.NAME]
RegionJob read_region(const std::string& name, const GivenTable& table, Mistakes& mistakes);
/// Regions name each other: every name must exist, and none may lead back to itself.
void check_region_names(const std::vector<RegionJob>& regions, Mistakes& mistakes);

/// [curves.NAME]
CurveJob read_curve_table(const std::string& name, const GivenTable& table,
                          const std::filesystem::path& folder, Mistakes& mistakes);
/// Curves name regions and each other.
void check_curve_names(const Job& job, Mistakes& mistakes);

/// [boundaries.NAME]
BoundaryJob read_boundary(const std::string& name, const GivenTable& table, Mistakes& mistakes);
void check_boundary_names(const Job& job, Mistakes& mistakes);
/// [lids.NAME], [extensions.NAME], [guards.NAME]
LidJob read_lid(const std::string& name, const GivenTable& table, Mistakes& mistakes);
ExtensionJob read_extension(const std::string& name, const GivenTable& table, Mistakes& mistakes);
GuideSurfaceJob read_guide_surface(const std::string& name, const GivenTable& table, Mistakes& mistakes);
GuardJob read_guard(const std::string& name, const GivenTable& table, const std::filesystem::path& folder,
                    Mistakes& mistakes);
/// [[operation]]
void read_operations(const GivenList& list, Job& job, Mistakes& mistakes);
/// A message at a key that names a region which is not defined.
void check_region_name(TableReader& reader, const Job& job, const char* key, const std::string& name);
/// Every region that a lid, an extension or a guard names must be defined.
void check_guide_names(const Job& job, Mistakes& mistakes);
/// The names of a list of tables.
template <typename Named>
std::vector<std::string> names_of(const std::vector<Named>& list) {
  std::vector<std::string> names;
  for (const Named& item : list) names.push_back(item.name);
  return names;
}
/// `key = "a unit's name"`
std::optional<LengthUnit> read_length_unit(TableReader& reader);
/// A message for a name that is not among those defined.
std::string not_defined(const std::string& name, const std::vector<std::string>& defined);

/// Things that name each other: those found to lead back to themselves, one for each circle. `uses`: the
/// names that a thing uses; names that do not exist are passed over.
std::vector<std::size_t> leading_back(const std::vector<std::string>& names,
                                      const std::function<std::vector<std::string>(std::size_t)>& uses);

/// A name or a list of names.
std::vector<std::string> read_names(TableReader& reader, const char* key);

/// [x, y] or [x, y, z]; nothing, with a message, if it is neither.
std::optional<std::vector<double>> read_numbers(TableReader& reader, const Given& node,
                                                const std::string& key, std::size_t least, std::size_t most,
                                                const std::string& form);
/// One place [x, y] or [x, y, z], or a list of them.
std::vector<std::vector<double>> read_places(TableReader& reader, const Given& node, const std::string& key);
/// A whole number from 1, or a list of them; `what` says what they number.
std::vector<std::int64_t> read_counts(TableReader& reader, const char* key, const std::string& what);
/// [[x, y], ...], or a list of such loops.
std::optional<Region> read_loops(TableReader& reader, const Given& node, const std::string& key);

/// Two opposite corners [[x, y, z], [x, y, z]].
std::optional<Box3> read_corners(TableReader& reader, const char* key);

/// A number, or a table that tells by which places of the part it is measured; the latter goes to `measured`.
std::optional<double> number_or_measure(TableReader& reader, const char* key, const Range& range,
                                        std::vector<MeasuredValue>& measured);

}  // namespace yardpass::detail
