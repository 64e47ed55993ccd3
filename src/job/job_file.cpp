#include "yardpass/job/job_file.h"

#include <algorithm>
#include <map>

#include <fmt/format.h>

#include "job/job_keys.h"
#include "job/naming_rules.h"
#include "job/old_words.h"
#include "job/parse_toml.h"
#include "job/rack_tools.h"
#include "job/read_controller.h"
#include "job/read_operation.h"

namespace yardpass {

namespace {

using detail::KeyContext;
using detail::Mistakes;
using detail::TableKeys;
using detail::TableReader;

/// Reads the tables of a job file one after the other.
class JobReader {
 public:
  JobReader(const GivenTable& root, Job& job, Mistakes& mistakes)
      : root_(root), job_(job), mistakes_(mistakes), top_(root, "job", mistakes) {
    context_.folder = job.file.parent_path();
    for (const auto& [kind, key] : kNamed) context_.names[kind] = names_in(key);
    context_.names[Named::tools] = names_in("tools");
  }

  void read() {
    {
      TableKeys keys(top_, context_);
      detail::keys_of(job_, keys);
    }
    context_.units = job_.units;
    if (!root_.contains("part")) top_.missing("part", "it names the mesh: [part] mesh = \"file.stl\"");
    one("part", job_.part);
    one("splitting", job_.splitting);
    named("regions", job_.regions);
    named("curves", job_.curves);
    named("boundaries", job_.boundaries, true);
    named("lids", job_.lids);
    named("run_outs", job_.run_outs);
    named("carriers", job_.carriers);
    named("keep_away", job_.keep_away);
    detail::check_naming(job_, mistakes_);
    tell("stock", one("stock", job_.stock));
    machine();
    tell("left", one("left", job_.left));
    tools();
    operations();
    accepted();
    top_.finish(detail::new_key);
    together();
    cleared_before();
    unused();
  }

 private:
  static constexpr std::pair<Named, const char*> kNamed[] = {
      {Named::regions, "regions"},    {Named::curves, "curves"},     {Named::boundaries, "boundaries"},
      {Named::lids, "lids"},          {Named::run_outs, "run_outs"}, {Named::carriers, "carriers"},
      {Named::keep_away, "keep_away"}};

  /// By name, so that messages list them in an order that does not depend on the file.
  [[nodiscard]] std::vector<std::string> names_in(const char* key) const {
    std::vector<std::string> names;
    if (const Given* given = root_.get(key); given && given->table())
      for (const auto& [name, node] : *given->table()) names.push_back(name);
    std::sort(names.begin(), names.end());
    return names;
  }

  const GivenTable* table(const char* key) {
    const Given* node = top_.any(key);
    if (!node) return nullptr;
    if (!node->table())
      top_.wrong(*node, key,
                 node->list() ? fmt::format("must be one table, [{}], not a list of tables, [[{}]]", key, key)
                              : fmt::format("must be a table, [{}]", key));
    return node->table();
  }
  const GivenList* list(const char* key) {
    const Given* node = top_.any(key);
    if (!node) return nullptr;
    if (!node->list()) top_.wrong(*node, key, fmt::format("must be a list of tables, [[{}]]", key));
    return node->list();
  }

  template <typename Thing>
  std::vector<SettledValue> visit(const GivenTable& table, const std::string& where, Thing& thing,
                                  bool measurable = false) {
    TableReader reader(table, where, mistakes_);
    context_.measurable = measurable;
    TableKeys keys(reader, context_);
    keys_of_(thing, keys);
    context_.measurable = false;
    reader.finish(detail::new_key);
    return keys.take_values();
  }
  template <typename Thing>
  static void keys_of_(Thing& thing, Keys& keys) {
    using detail::keys_of;
    keys_of(thing, keys);
  }

  template <typename Thing>
  std::vector<SettledValue> one(const char* key, Thing& thing) {
    const GivenTable* given = table(key);
    const GivenTable empty;
    if (!given && key == std::string("part")) return {};
    return visit(given ? *given : empty, key, thing);
  }
  void tell(const char* name, std::vector<SettledValue> values) {
    job_.told.push_back({name, std::move(values)});
  }

  /// One table for each name: [KEY.NAME], in the order of their names.
  template <typename ReadOne>
  void each_named(const char* key, const ReadOne& read_one) {
    const GivenTable* given = table(key);
    if (!given) return;
    std::map<std::string, const Given*> by_name;
    for (const auto& [name, node] : *given) by_name.emplace(name, &node);
    for (const auto& [name, node] : by_name) {
      if (node->table())
        read_one(name, *node->table());
      else
        mistakes_.add(*node, fmt::format("{}: \"{}\" must be a table, [{}.{}]: each of them has a name", key,
                                         name, key, name));
    }
  }
  template <typename Thing>
  void named(const char* key, std::vector<Thing>& things, bool measurable = false) {
    each_named(key, [&](const std::string& name, const GivenTable& table) {
      Thing thing;
      thing.name = name;
      thing.line = table.line();
      thing.says = table;
      visit(table, fmt::format("{} \"{}\"", detail::name_of(kind_of(key)), name), thing, measurable);
      things.push_back(std::move(thing));
    });
  }
  static Named kind_of(const std::string& key) {
    for (const auto& [kind, name] : kNamed)
      if (key == name) return kind;
    return Named::anything;
  }

  /// [machine], and the file it may name: what the job says itself counts.
  void machine() {
    const GivenTable* given = table("machine");
    const GivenTable empty;
    GivenTable own = given ? *given : empty;
    if (const Given* file = own.get("file")) {
      described_machine(*file);
      own.erase("file");
    }
    // The two are one table: a key of the file stands where the job does not say it.
    std::vector<SettledValue> values;
    if (machine_file_) {
      TableReader reader(*machine_file_, "machine", *machine_mistakes_);
      KeyContext context = context_;
      context.units = machine_units_;
      TableKeys keys(reader, context);
      detail::keys_of(job_.machine, keys);
      reader.finish([](const std::string& key) { return key == "units" ? "" : detail::new_key(key); });
      values = keys.take_values();
      for (SettledValue& value : values)
        if (machine_file_->contains(value.key))
          value.source = fmt::format("{}, {}", job_.machine.file.filename().string(), value.source);
      mistakes_.take(*machine_mistakes_);
    }
    TableReader reader(own, "machine", mistakes_);
    MachineJob said = job_.machine;
    {
      KeyContext context = context_;
      TableKeys keys(reader, context);
      detail::keys_of(said, keys);
      const std::vector<SettledValue> own_values = keys.take_values();
      if (!machine_file_) values = own_values;
      for (const SettledValue& value : own_values)
        if (own.contains(value.key))
          for (SettledValue& other : values)
            if (other.key == value.key) other = value;
    }
    reader.any("file");
    reader.finish(detail::new_key);
    merge_machine(said, own);
    tell("machine", std::move(values));
    controller(own);
  }

  /// The control, if it has a file of its own.
  void controller(const GivenTable& own) {
    MachineJob& machine = job_.machine;
    std::error_code code;  // whether it is there was asked with its key
    if (!std::filesystem::is_regular_file(machine.controller_file, code)) return;
    Mistakes mistakes(machine.controller_file.string());
    const auto said = [&](const char* key) {
      return own.contains(key) || (machine_file_ && machine_file_->contains(key));
    };
    try {
      tell("controller", detail::read_controller(machine, context_, said, mistakes));
    } catch (const Error& error) {
      mistakes_.add(*root_.get("machine"), fmt::format("machine: \"controller\": {}", error.what()));
    }
    mistakes_.take(mistakes);
  }
  void described_machine(const Given& file) {
    TableReader reader(*table("machine"), "machine", mistakes_);
    const auto name = file.text();
    if (!name || name->empty()) return reader.wrong(file, "file", "must be a file name in quotes");
    job_.machine.file = job_.file.parent_path() / *name;
    std::error_code code;
    if (!std::filesystem::is_regular_file(job_.machine.file, code))
      return reader.wrong(
          file, "file",
          fmt::format("names {}, which {}", job_.machine.file.string(),
                      std::filesystem::exists(job_.machine.file, code) ? "is no file" : "does not exist"));
    machine_mistakes_.emplace(job_.machine.file.string());
    try {
      machine_file_ = detail::parse_toml_file(job_.machine.file, *machine_mistakes_);
      if (!machine_file_) mistakes_.take(*machine_mistakes_);
    } catch (const Error& error) {
      reader.wrong(file, "file", error.what());
    }
    if (!machine_file_) return;
    if (const Given* units = machine_file_->get("units")) {
      if (units->text() == "inch")
        machine_units_ = Units::inch;
      else if (units->text() != "mm")
        machine_mistakes_->add(*units, "machine: \"units\" must be \"mm\" or \"inch\"");
      machine_file_->erase("units");
    }
  }
  /// What the job itself says over what its machine file says.
  void merge_machine(const MachineJob& said, const GivenTable& own) {
    MachineJob& machine = job_.machine;
    if (!machine_file_) {
      machine = said;
      return;
    }
    if (own.contains("name")) machine.name = said.name;
    if (own.contains("controller")) machine.controller_file = said.controller_file;
    if (own.contains("rapid_plane")) machine.rapid_plane_mm = said.rapid_plane_mm;
    if (own.contains("rapids")) machine.controller.dog_leg_rapids = said.controller.dog_leg_rapids;
    if (own.contains("travel")) machine.travel = said.travel;
    if (own.contains("rapid_feed")) machine.motion.rapid_mm_min = said.motion.rapid_mm_min;
    if (own.contains("acceleration")) machine.motion.acceleration_mm_s2 = said.motion.acceleration_mm_s2;
    if (own.contains("corner_jump")) machine.motion.corner_jump_mm_min = said.motion.corner_jump_mm_min;
    if (own.contains("tool_change_time")) machine.motion.tool_change_s = said.motion.tool_change_s;
    if (own.contains("tool_change_height")) machine.change_z = said.change_z;
    if (own.contains("file_minutes")) machine.file_minutes = said.file_minutes;
    if (own.contains("file_length")) machine.file_length_mm = said.file_length_mm;
    if (own.contains("work_offset")) machine.controller.work_offset = said.controller.work_offset;
    if (own.contains("decimals")) machine.controller.decimals = said.controller.decimals;
    if (own.contains("header")) machine.controller.title = said.controller.title, machine.dated = said.dated;
  }

  void tools() {
    top_.any("tools");
    const detail::ToolTables tables(root_, job_, context_, mistakes_);
    if (!root_.contains("tools") && job_.rack_file.empty())
      top_.missing("tools", "at least one [tools.NAME], or a \"rack\"");
    context_.names[Named::tools].clear();
    for (const detail::ToolTable& table : tables.all()) context_.names[Named::tools].push_back(table.name);
    for (const detail::ToolTable& table : tables.all()) tool(table);
  }
  void tool(const detail::ToolTable& table) {
    Tool tool = table.unsound ? detail::some_tool() : Tool{};
    tool.name = table.name;
    if (table.unsound) return job_.tools.push_back(std::move(tool));
    std::vector<SettledValue> values = visit(table.says, fmt::format("tool \"{}\"", table.name), tool);
    for (SettledValue& value : values)
      if (table.elsewhere.contains(value.key) && !table.source.empty())
        value.source = fmt::format("{}, {}", table.source, value.source);
    tell(("tool " + table.name).c_str(), std::move(values));
    tool.plunge_limit_mm_min = table.says.contains("plunge_feed") ? tool.plunge_feed_mm_min : 0;
    const int line = table.from_rack ? root_.get("rack")->line() : table.says.line();
    try {
      if (lacks(tool).empty()) (void)profile_of(tool);
    } catch (const Error& error) {
      mistakes_.add(line, fmt::format("tool \"{}\": {}", table.name, error.what()));
    }
    for (const Tool& other : job_.tools)
      if (other.number == tool.number && tool.number > 0)
        mistakes_.add(line,
                      fmt::format("tool \"{}\": has the same number as \"{}\"", table.name, other.name));
    const Controller& control = job_.machine.controller;
    if (tool.spindle_rpm > 0 && (tool.spindle_rpm < control.least_rpm || tool.spindle_rpm > control.most_rpm))
      mistakes_.add(line,
                    fmt::format("tool \"{}\": \"spindle\" is {:g}, but must be {:g} to {:g} for the control",
                                table.name, tool.spindle_rpm, control.least_rpm, control.most_rpm));
    detail::note_cutting_data(table, tool, job_.stock.material, job_.notes);
    if (table.from_rack) context_.used.insert(detail::use_of(Named::tools, table.name));
    job_.tools.push_back(std::move(tool));
  }

  void operations() {
    if (!root_.contains("operation")) top_.missing("operation", "at least one [[operation]]");
    if (const GivenList* given = list("operation"))
      detail::read_operations(*given, job_, context_, mistakes_);
  }

  void accepted() {
    const GivenList* given = list("accepted");
    if (!given) return;
    for (const Given& node : *given) {
      if (!node.table()) {
        mistakes_.add(node, "accepted: must be a table, [[accepted]]");
        continue;
      }
      detail::AcceptedJob one;
      visit(*node.table(), "accepted", one);
      for (const OperationJob& known : job_.operations)
        if (known.name == one.operation) one.finding.operation = known.number;
      job_.accepted.push_back(one.finding);
    }
  }

  /// What is decided by several tables together.
  void together() {
    using Shape = StockJob::Shape;
    const Shape shape = job_.stock.shape;
    if (job_.part.origin && job_.part.origin->of == Origin::Of::stock &&
        (shape == Shape::corners || shape == Shape::mesh || shape == Shape::file))
      mistakes_.add(
          *root_.get("part")->table()->get("origin"),
          "part: \"origin\" of the stock needs stock around the part; corners, meshes and files lie in "
          "program coordinates already, so give the origin of the part");
  }

  /// The tool that is taken to have cleared before.
  void cleared_before() {
    const std::string& name = job_.stock.cleared_by;
    if (name.empty()) return;
    if (std::any_of(job_.tools.begin(), job_.tools.end(),
                    [&](const Tool& tool) { return tool.name == name; }))
      context_.used.insert(detail::use_of(Named::tools, name));
    else
      mistakes_.add(
          *root_.get("stock")->table()->get("cleared_by"),
          fmt::format("stock: the tool {}", detail::not_defined(name, detail::names_of(job_.tools))));
  }

  /// Things that have a name and that nothing uses.
  void unused() {
    const auto check = [&](Named kind, const std::string& name, int line) {
      if (!context_.used.contains(detail::use_of(kind, name)))
        job_.notes.push_back({"unused", fmt::format("{} \"{}\" (line {}) is defined, but nothing uses it",
                                                    detail::name_of(kind), name, line)});
    };
    for (const RegionJob& thing : job_.regions) check(Named::regions, thing.name, thing.line);
    for (const CurveJob& thing : job_.curves) check(Named::curves, thing.name, thing.line);
    for (const BoundaryJob& thing : job_.boundaries) check(Named::boundaries, thing.name, thing.line);
    for (const LidJob& thing : job_.lids) check(Named::lids, thing.name, thing.line);
    for (const RunOutJob& thing : job_.run_outs) check(Named::run_outs, thing.name, thing.line);
    for (const CarrierJob& thing : job_.carriers) check(Named::carriers, thing.name, thing.line);
    for (const KeepAwayJob& thing : job_.keep_away)  // a mesh is kept away from whether it is named or not
      if (thing.mesh.empty()) check(Named::keep_away, thing.name, thing.line);
    for (const Tool& tool : job_.tools)
      if (const Given* own = root_.get("tools"); own && own->table() && own->table()->contains(tool.name))
        check(Named::tools, tool.name, own->table()->get(tool.name)->line());
  }

  const GivenTable& root_;
  Job& job_;
  Mistakes& mistakes_;
  TableReader top_;
  KeyContext context_;
  std::optional<GivenTable> machine_file_;
  std::optional<Mistakes> machine_mistakes_;
  Units machine_units_ = Units::mm;
};

}  // namespace

Job read_job(const std::filesystem::path& file) {
  Job job;
  job.file = file;
  Mistakes mistakes(file.string());
  const auto root = detail::parse_toml_file(file, mistakes);
  if (root) JobReader(*root, job, mistakes).read();
  mistakes.raise();
  return job;
}

}  // namespace yardpass
