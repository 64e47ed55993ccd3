#include "job/rack_tools.h"

#include <algorithm>

#include <fmt/format.h>

#include "job/job_keys.h"
#include "job/old_words.h"
#include "job/parse_toml.h"

namespace yardpass::detail {

namespace {

/// All texts in a value.
void texts_of(const Given& value, std::set<std::string>& texts) {
  if (const auto text = value.text()) texts.insert(*text);
  if (const GivenList* list = value.list())
    for (const Given& one : *list) texts_of(one, texts);
  if (const GivenTable* table = value.table())
    for (const auto& [key, one] : *table) texts_of(one, texts);
}

constexpr const char* kOfMaterial[] = {"spindle", "feed", "plunge_feed", "ramp_feed", "link_feed"};

bool within(double value, const std::vector<double>& range) {
  return range.size() != 2 || (value >= range[0] && value <= range[1]);
}

}  // namespace

void keys_of(CuttingData& data, Keys& keys) {
  keys.text("material", data.material, {.says = "as `[stock] material` calls it", .required = true});
  keys.number("spindle", data.spindle_rpm,
              {.says = "speed", .usual = "the tool's", .unit = Unit::turns_min, .low = 1, .high = 2e5});
  const auto feed = [&](const char* key, std::optional<double>& value, const char* says) {
    keys.number(key, value,
                {.says = says, .usual = "the tool's", .unit = Unit::mm_min, .low = 0.1, .high = 1e6});
  };
  feed("feed", data.feed_mm_min, "cutting feed");
  feed("plunge_feed", data.plunge_feed_mm_min, "straight down");
  feed("ramp_feed", data.ramp_feed_mm_min, "down a slope while cutting");
  feed("link_feed", data.link_feed_mm_min, "between passes");
  keys.numbers(
      "spindle_range", data.spindle_range, {2}, "[least, most]",
      {.says = "a speed outside is told", .usual = "any", .unit = Unit::turns_min, .low = 0, .high = 2e5});
  keys.numbers("feed_range", data.feed_range, {2}, "[least, most]",
               {.says = "a cutting feed outside is told",
                .usual = "any",
                .unit = Unit::mm_min,
                .low = 0,
                .high = 1e6});
  for (const auto& [key, range] :
       {std::pair("spindle_range", &data.spindle_range), {"feed_range", &data.feed_range}})
    keys.refuse_if(range->size() == 2 && (*range)[0] > (*range)[1], {key}, "must be [least, most]");
}

ToolTables::ToolTables(const GivenTable& root, const Job& job, const KeyContext& context,
                       Mistakes& mistakes) {
  if (!job.rack_file.empty()) read_rack(root, job, context, mistakes);
  add_own(root, mistakes);
  Mistakes of_rack(job.rack_file.string());
  for (ToolTable& table : tables_)
    choose_material(table, job.stock.material, context,
                    table.elsewhere.contains("materials") ? of_rack : mistakes);
  mistakes.take(of_rack);
  std::sort(tables_.begin(), tables_.end(),
            [](const ToolTable& a, const ToolTable& b) { return a.name < b.name; });
}

void ToolTables::read_rack(const GivenTable& root, const Job& job, const KeyContext& context,
                           Mistakes& mistakes) {
  // Whether it is there was asked with its key.
  std::error_code code;
  if (!std::filesystem::is_regular_file(job.rack_file, code)) return;
  Mistakes of_rack(job.rack_file.string());
  std::optional<GivenTable> table;
  try {
    table = parse_toml_file(job.rack_file, of_rack);
  } catch (const Error& error) {
    mistakes.add(*root.get("rack"),
                 fmt::format("job: \"rack\": {}; must be a file that can be read", error.what()));
  }
  if (!table) return mistakes.take(of_rack);
  const Given* const units = table->get("units");
  const bool inch = units && units->text() == "inch";
  if (units && !inch && units->text() != "mm") of_rack.add(*units, R"("units" must be "mm" or "inch")");
  if (inch != (context.units == Units::inch))
    of_rack.add(units ? units->line() : 1,
                fmt::format("rack: its numbers are in {}, those of the job in {}; must be "
                            "the same (\"units\")",
                            inch ? "inch" : "mm", inch ? "mm" : "inch"));
  const Given* const tools = table->get("tools");
  if (!tools || !tools->table() || tools->table()->empty()) {
    of_rack.add(1, "rack: needs at least one [tools.NAME]");
    return mistakes.take(of_rack);
  }
  std::set<std::string> named;
  for (const auto& [key, value] : root)
    if (key != "tools") texts_of(value, named);
  for (const auto& [name, value] : *tools->table()) {
    if (!value.table()) {
      of_rack.add(value, fmt::format("tools: \"{}\" must be a table, [tools.{}]", name, name));
      continue;
    }
    const Given* const own = root.get("tools");
    const bool both = own && own->table() && own->table()->contains(name);
    if (!named.contains(name) && !both) continue;
    ToolTable one{name, *value.table(), {}, job.rack_file.filename().string(), true};
    for (const auto& [key, unused] : one.says) one.elsewhere.insert(key);
    tables_.push_back(std::move(one));
  }
  // Whole, before it is mixed with what the job says: then lines are those of the rack.
  for (const ToolTable& one : tables_) {
    GivenTable alone = one.says;
    alone.erase("materials");
    TableReader reader(alone, fmt::format("tool \"{}\"", one.name), of_rack);
    KeyContext own = context;
    TableKeys keys(reader, own);
    Tool tool;
    tool.name = one.name;
    yardpass::keys_of(tool, keys);
    reader.finish(new_key);
  }
  for (ToolTable& one : tables_) one.unsound = !of_rack.none();
  mistakes.take(of_rack);
}

void ToolTables::add_own(const GivenTable& root, Mistakes& mistakes) {
  const Given* const own = root.get("tools");
  if (!own || !own->table()) return;
  for (const auto& [name, value] : *own->table()) {
    if (!value.table()) {
      mistakes.add(value, fmt::format("tools: \"{}\" must be a table, [tools.{}]: each of them has a name",
                                      name, name));
      continue;
    }
    const auto known = std::find_if(tables_.begin(), tables_.end(),
                                    [&, &n = name](const ToolTable& one) { return one.name == n; });
    if (known == tables_.end()) {
      tables_.push_back({name, *value.table(), {}, {}, false});
      continue;
    }
    for (const auto& [key, one] : *value.table()) {
      known->says.set(key, one);
      known->elsewhere.erase(key);
    }
    known->from_rack = false;
  }
}

void ToolTables::choose_material(ToolTable& table, const std::string& material, const KeyContext& context,
                                 Mistakes& mistakes) {
  const Given* const given = table.says.get("materials");
  if (!given) return;
  const GivenList* const list = given->list();
  if (!list) {
    mistakes.add(*given, fmt::format("tool \"{}\": \"materials\" must be a list of tables", table.name));
    return table.says.erase("materials");
  }
  table.has_materials = true;
  const GivenList entries = *list;
  table.says.erase("materials");
  for (const Given& entry : entries) {
    if (!entry.table()) {
      mistakes.add(entry, fmt::format("tool \"{}\": \"materials\" must be a list of tables", table.name));
      continue;
    }
    CuttingData data;
    TableReader reader(*entry.table(), fmt::format("tool \"{}\", materials", table.name), mistakes);
    KeyContext own = context;
    TableKeys keys(reader, own);
    keys_of(data, keys);
    reader.finish(new_key);
    if (material.empty() || data.material != material) continue;
    table.cuts = data;
    for (const char* const key : kOfMaterial) {
      const Given* const value = entry.table()->get(key);
      const bool job_says = table.says.contains(key) && !table.elsewhere.contains(key);
      if (!value || job_says) continue;
      table.says.set(key, *value);
      table.elsewhere.insert(key);
    }
  }
}

void note_cutting_data(const ToolTable& table, const Tool& tool, const std::string& material,
                       std::vector<Note>& notes) {
  if (material.empty()) return;
  if (table.has_materials && !table.cuts)
    notes.push_back(
        {"cutting data", fmt::format("tool \"{}\" has no cutting data for {}; its own speed and feeds count",
                                     table.name, material)});
  if (!table.cuts) return;
  if (!within(tool.spindle_rpm, table.cuts->spindle_range))
    notes.push_back({"cutting data",
                     fmt::format("tool \"{}\" turns at {:g} a minute; for {} it is to turn at {:g} to {:g}",
                                 table.name, tool.spindle_rpm, material, table.cuts->spindle_range[0],
                                 table.cuts->spindle_range[1])});
  if (!within(tool.feed_mm_min, table.cuts->feed_range))
    notes.push_back(
        {"cutting data",
         fmt::format("tool \"{}\" is fed at {{}} a minute; for {} at {{}} to {{}}", table.name, material),
         {length_of(tool.feed_mm_min), length_of(table.cuts->feed_range[0]),
          length_of(table.cuts->feed_range[1])}});
}

}  // namespace yardpass::detail
