#include <algorithm>

#include <fmt/format.h>

#include "job/job_tables.h"

namespace yardpass::detail {

std::string not_defined(const std::string& name, const std::vector<std::string>& defined) {
  const auto near = nearest_word(name, defined);
  return fmt::format("\"{}\", which is not defined{}; there are: {}", name,
                     near ? fmt::format(" (did you mean \"{}\"?)", *near) : "",
                     defined.empty() ? "none" : listed(defined));
}

LidJob read_lid(const std::string& name, const GivenTable& table, Mistakes& mistakes) {
  TableReader reader(table, fmt::format("lid \"{}\"", name), mistakes);
  LidJob lid;
  lid.name = name;
  lid.line = reader.line();
  lid.holes_of = reader.text("holes_of").value_or("");
  lid.widest_mm = reader.number("widest", kLength);
  if (const Given* node = reader.any("over")) lid.over = read_loops(reader, *node, "over");
  lid.continues = reader.text("continues").value_or("");
  lid.smooth = reader.choice("shape", {"flat", "smooth"}).value_or("flat") == "smooth";
  lid.spacing_mm = reader.number("spacing", {0.01, 100});
  reader.finish();
  const bool has_over = table.contains("over");
  if (lid.holes_of.empty() == !has_over)
    mistakes.add(lid.line,
                 fmt::format("lid \"{}\": needs either \"holes_of\" (a region) or \"over\" (points)", name));
  if (has_over && (!lid.smooth || lid.continues.empty()))
    mistakes.add(lid.line,
                 fmt::format("lid \"{}\": \"over\" needs shape = \"smooth\" and \"continues\", the region "
                             "whose surface it continues",
                             name));
  if (!has_over && !lid.continues.empty())
    reader.wrong(*table.get("continues"), "continues",
                 "belongs to \"over\"; a lid over holes continues \"holes_of\"");
  if (has_over && lid.widest_mm) reader.wrong(*table.get("widest"), "widest", "belongs to \"holes_of\"");
  return lid;
}

ExtensionJob read_extension(const std::string& name, const GivenTable& table, Mistakes& mistakes) {
  TableReader reader(table, fmt::format("extension \"{}\"", name), mistakes);
  ExtensionJob extension;
  extension.name = name;
  extension.line = reader.line();
  extension.edge_of = reader.text("edge_of").value_or("");
  extension.length_mm = reader.number("length", kLength).value_or(0);
  extension.curved = reader.choice("shape", {"straight", "curved"}).value_or("straight") == "curved";
  if (!table.contains("edge_of")) reader.missing("edge_of", "the region whose outer edge runs on");
  if (!table.contains("length")) reader.missing("length", "in mm");
  reader.finish();
  return extension;
}

GuideSurfaceJob read_guide_surface(const std::string& name, const GivenTable& table, Mistakes& mistakes) {
  TableReader reader(table, fmt::format("guide surface \"{}\"", name), mistakes);
  GuideSurfaceJob surface;
  surface.name = name;
  surface.line = reader.line();
  surface.between = read_names(reader, "between");
  surface.section = reader.text("section").value_or("");
  surface.along = reader.text("along").value_or("");
  if (const Given* node = reader.any("patch")) surface.patch = read_loops(reader, *node, "patch");
  surface.z = reader.number("z", kPlace).value_or(0);
  surface.copy_of = reader.text("copy_of").value_or("");
  surface.offset_mm = reader.number("offset", {-1000, 1000}).value_or(0);
  reader.finish();
  const bool ruled = table.contains("between"), swept = table.contains("section") || table.contains("along"),
             flat = table.contains("patch"), copy = table.contains("copy_of");
  const auto mistake = [&](const char* what) {
    mistakes.add(surface.line, fmt::format("guide surface \"{}\": {}", name, what));
  };
  if (ruled + swept + flat + copy != 1)
    mistake(
        "needs one of: between (two curves), section and along (curves), patch (points) and z, copy_of (a "
        "region) and offset");
  else if (ruled && surface.between.size() != 2)
    mistake("\"between\" needs two curves");
  else if (swept && (surface.section.empty() || surface.along.empty()))
    mistake("\"section\" and \"along\" need each other");
  if (table.contains("z") != flat) mistake("\"patch\" and \"z\" need each other");
  if (table.contains("offset") != copy) mistake("\"copy_of\" and \"offset\" need each other");
  return surface;
}

GuardJob read_guard(const std::string& name, const GivenTable& table, const std::filesystem::path& folder,
                    Mistakes& mistakes) {
  TableReader reader(table, fmt::format("guard \"{}\"", name), mistakes);
  GuardJob guard;
  guard.name = name;
  guard.line = reader.line();
  guard.region = reader.text("region").value_or("");
  if (const auto mesh = reader.text("mesh")) {
    guard.mesh = folder / *mesh;
    std::error_code code;
    if (!std::filesystem::exists(guard.mesh, code))
      reader.wrong(*table.get("mesh"), "mesh",
                   fmt::format("names {}, which does not exist", guard.mesh.string()));
  }
  guard.clearance_mm = reader.number("clearance", kLengthOrZero).value_or(0);
  if (!table.contains("clearance")) reader.missing("clearance", "how far the tool keeps away, in mm");
  if (table.contains("region") == table.contains("mesh"))
    mistakes.add(guard.line, fmt::format("guard \"{}\": needs either \"region\" or \"mesh\"", name));
  reader.finish();
  return guard;
}

void check_region_name(TableReader& reader, const Job& job, const char* key, const std::string& name) {
  const std::vector<std::string> regions = names_of(job.regions);
  if (std::find(regions.begin(), regions.end(), name) != regions.end()) return;
  if (const Given* node = reader.any(key))
    reader.wrong(*node, key, "names the region " + not_defined(name, regions));
}

void check_guide_names(const Job& job, Mistakes& mistakes) {
  const std::vector<std::string> regions = names_of(job.regions);
  const auto check = [&](const std::string& name, int line, const std::string& who, const char* key) {
    if (!name.empty() && std::find(regions.begin(), regions.end(), name) == regions.end())
      mistakes.add(line, fmt::format("{}: \"{}\" names the region {}", who, key, not_defined(name, regions)));
  };
  for (const LidJob& lid : job.lids) {
    check(lid.holes_of, lid.line, fmt::format("lid \"{}\"", lid.name), "holes_of");
    check(lid.continues, lid.line, fmt::format("lid \"{}\"", lid.name), "continues");
  }
  for (const ExtensionJob& extension : job.extensions)
    check(extension.edge_of, extension.line, fmt::format("extension \"{}\"", extension.name), "edge_of");
  const std::vector<std::string> curves = names_of(job.curves);
  for (const GuideSurfaceJob& surface : job.guide_surfaces) {
    const std::string who = fmt::format("guide surface \"{}\"", surface.name);
    check(surface.copy_of, surface.line, who, "copy_of");
    std::vector<std::string> used = surface.between;
    for (const std::string& name : {surface.section, surface.along})
      if (!name.empty()) used.push_back(name);
    for (const std::string& name : used)
      if (std::find(curves.begin(), curves.end(), name) == curves.end())
        mistakes.add(surface.line, fmt::format("{}: names the curve {}", who, not_defined(name, curves)));
  }
  for (const GuardJob& guard : job.guards)
    check(guard.region, guard.line, fmt::format("guard \"{}\"", guard.name), "region");
}

}  // namespace yardpass::detail
