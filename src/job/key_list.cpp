#include "yardpass/job/key_list.h"

#include "job/job_keys.h"
#include "job/measure_keys.h"
#include "job/rack_tools.h"
#include "yardpass/job/operation.h"

namespace yardpass {

const char* name_of(KeyForm form) {
  switch (form) {
    case KeyForm::number:
      return "number";
    case KeyForm::whole:
      return "whole number";
    case KeyForm::flag:
      return "true or false";
    case KeyForm::text:
      return "text";
    case KeyForm::file:
      return "file";
    case KeyForm::word:
      return "word";
    case KeyForm::word_or_number:
      return "word or number";
    case KeyForm::words:
      return "words";
    case KeyForm::name:
      return "name";
    case KeyForm::names:
      return "names";
    case KeyForm::area:
      return "name or points";
    case KeyForm::loops:
      return "points";
    case KeyForm::corners:
      return "two corners";
    case KeyForm::numbers:
      return "numbers";
    case KeyForm::counts:
      return "whole numbers";
    case KeyForm::places:
      return "places";
    case KeyForm::points:
      return "points";
    case KeyForm::tables:
      return "list of tables";
    case KeyForm::table:
      return "table";
  }
  return "";
}

Tool detail::some_tool() {
  Tool tool;
  tool.name = "tool";
  tool.number = 1;
  tool.diameter_mm = 10;
  tool.spindle_rpm = tool.feed_mm_min = 1000;
  return completed(tool);
}

namespace {

using detail::keys_of;

/// Writes down what it is told.
class Collector : public Keys {
 public:
  explicit Collector(bool measurable) : measurable_(measurable) {}

  void number(const char* key, double& value, const Derived& usual, const About& about) override {
    value = usual.value;
    add(key, KeyForm::number, about).measurable = measurable_;
  }
  void number(const char* key, std::optional<double>&, const About& about) override {
    add(key, KeyForm::number, about).measurable = measurable_;
  }
  void whole(const char* key, int& value, int usual, const About& about) override {
    value = usual;
    add(key, KeyForm::whole, about);
  }
  void flag(const char* key, bool& value, bool usual, const About& about) override {
    value = usual;
    add(key, KeyForm::flag, about);
  }
  void text(const char* key, std::string&, const About& about) override { add(key, KeyForm::text, about); }
  void file(const char* key, std::filesystem::path&, const About& about) override {
    add(key, KeyForm::file, about);
  }
  void word(const char* key, std::size_t& value, std::span<const char* const> words, std::size_t usual,
            const std::string&, const About& about) override {
    value = usual;
    add(key, KeyForm::word, about).words.assign(words.begin(), words.end());
  }
  void word(const char* key, std::optional<std::size_t>&, std::span<const char* const> words,
            const About& about) override {
    add(key, KeyForm::word, about).words.assign(words.begin(), words.end());
  }
  void word_or_number(const char* key, std::optional<std::size_t>&, double&,
                      std::span<const char* const> words, const About& about) override {
    add(key, KeyForm::word_or_number, about).words.assign(words.begin(), words.end());
  }
  void words(const char* key, std::vector<std::size_t>&, std::span<const char* const> words,
             const About& about) override {
    add(key, KeyForm::words, about).words.assign(words.begin(), words.end());
  }
  void name(const char* key, std::string&, Named kind, const About& about) override {
    add(key, KeyForm::name, about).kind = kind;
  }
  void names(const char* key, std::vector<std::string>&, Named kind, const About& about) override {
    add(key, KeyForm::names, about).kind = kind;
  }
  void area(const char* key, GivenArea&, const About& about) override {
    add(key, KeyForm::area, about).kind = Named::areas;
  }
  void curves(const char* key, GivenCurves&, const About& about) override {
    add(key, KeyForm::names, about).kind = Named::curves;
  }
  void tool(const char* key, GivenTool&, const About& about) override {
    add(key, KeyForm::name, about).kind = Named::tools;
  }
  void loops(const char* key, std::optional<Region>&, const About& about) override {
    add(key, KeyForm::loops, about);
  }
  void corners(const char* key, std::optional<Corners>&, const About& about) override {
    add(key, KeyForm::corners, about);
  }
  void numbers(const char* key, std::vector<double>&, std::initializer_list<std::size_t> counts, const char*,
               const About& about) override {
    add(key, KeyForm::numbers, about).counts.assign(counts.begin(), counts.end());
  }
  void counts(const char* key, std::vector<std::int64_t>&, const About& about) override {
    add(key, KeyForm::counts, about);
  }
  void places(const char* key, std::vector<std::vector<double>>&, std::size_t count,
              const About& about) override {
    KeyInfo& info = add(key, KeyForm::places, about);
    if (count > 0) info.counts = {count};
  }
  void points(const char* key, std::vector<std::vector<double>>&, std::size_t least, const char*,
              const About& about) override {
    add(key, KeyForm::points, about).counts = {least};
  }
  void each(const char* key, const std::function<void(Keys& one)>& visit, const About& about) override {
    inside(key, KeyForm::tables, visit, about);
  }
  void table(const char* key, const std::function<void(Keys& keys)>& visit, const About& about) override {
    inside(key, KeyForm::table, visit, about);
  }
  [[nodiscard]] int line() const override { return 0; }
  [[nodiscard]] bool says(const char*) const override { return false; }
  void one_of(std::initializer_list<const char*> keys, bool) override {
    one_of_.emplace_back(keys.begin(), keys.end());
  }
  void refuse_if(bool, std::initializer_list<const char*>, const std::string&) override {}
  void idle_if(bool, const char*, const std::string&) override {}

  std::vector<KeyInfo> infos;
  std::vector<std::vector<std::string>> one_of_;

 private:
  KeyInfo& add(const char* key, KeyForm form, const About& about) {
    infos.push_back({key, form, about});
    return infos.back();
  }
  void inside(const char* key, KeyForm form, const std::function<void(Keys& keys)>& visit,
              const About& about) {
    Collector inner(false);
    visit(inner);
    add(key, form, about).inner = std::move(inner.infos);
  }
  bool measurable_;
};

template <typename Thing>
KeyTable table_of(const char* name, const char* heading, const char* says, const char* page, Thing thing = {},
                  bool measurable = false) {
  Collector keys(measurable);
  keys_of(thing, keys);
  return {name, heading, says, page, std::move(keys.infos), std::move(keys.one_of_)};
}

KeyTable operation_table() {
  Collector keys(true);
  detail::OperationHead head;
  detail::keys_of(head, keys);
  for (KeyInfo& info : keys.infos) info.measurable = false;
  OperationValues values;
  values.pattern = all_strategies().front().pattern();
  Collector all(true), own(true);
  keys_of(values, detail::some_tool(), all);
  values.pattern->keys(detail::some_tool(), own);
  for (KeyInfo& info : all.infos) {
    bool of_strategy = false;
    for (const KeyInfo& one : own.infos) of_strategy |= one.key == info.key;
    if (!of_strategy) keys.infos.push_back(std::move(info));
  }
  return {"operation", "[[operation]]", "one table an operation, in their order", "job-file.md",
          std::move(keys.infos)};
}

}  // namespace

std::vector<KeyInfo> keys_of_strategy(const Strategy& strategy) {
  Collector keys(true);
  strategy.pattern()->keys(detail::some_tool(), keys);
  return std::move(keys.infos);
}

std::vector<MeasuredKey> measured_keys() {
  std::vector<MeasuredKey> keys;
  for (const detail::MeasureKind& kind : detail::measure_kinds())
    keys.push_back({kind.key, kind.places, kind.says});
  return keys;
}

std::vector<KeyTable> all_key_tables() {
  using namespace detail;
  std::vector<KeyTable> tables;
  tables.push_back(table_of<Job>("job", "", "what stands before all tables", "job-file.md"));
  tables.push_back(table_of<PartJob>("part", "[part]", "the mesh, and how it lies", "job-file.md"));
  tables.push_back(
      table_of<StockJob>("stock", "[stock]", "the material before the first cut", "job-file.md"));
  tables.push_back(table_of<MachineJob>("machine", "[machine]",
                                        "how it moves, and how its control wants programs", "job-file.md"));
  tables.back().keys.push_back(
      {"file",
       KeyForm::file,
       {.says = "a machine described in a file of its own, beside the job: the keys of this table, "
                "without `[machine]` above them, and `units`. What the job says itself counts",
        .usual = "none"}});
  tables.push_back(table_of<Controller>("controller", "controller = \"FILE\"",
                                        "how a control wants its programs", "controllers.md"));
  tables.push_back(table_of<LeftJob>("left", "[left]", "material that is left", "job-file.md"));
  tables.push_back(table_of<Tool>("tools", "[tools.NAME]", "one table a tool", "job-file.md"));
  tables.back().keys.push_back(
      {"materials",
       KeyForm::tables,
       {.says = "cutting data by material, tables `[[tools.NAME.materials]]`", .usual = "none"},
       {},
       {},
       Named::anything,
       table_of<CuttingData>("", "", "", "").keys});
  tables.push_back(
      table_of<AcceptedJob>("accepted", "[[accepted]]", "findings accepted beforehand", "job-file.md"));
  tables.push_back(table_of<RegionOptions>("splitting", "[splitting]",
                                           "how the part's surface falls into regions", "survey.md"));
  tables.push_back(
      table_of<RegionJob>("regions", "[regions.NAME]", "pieces of the part's surface", "survey.md"));
  tables.push_back(
      table_of<CurveJob>("curves", "[curves.NAME]", "curves off the part and from drawings", "curves.md"));
  tables.push_back(
      table_of<BoundaryJob>("boundaries", "[boundaries.NAME]", "areas in plan", "limits.md", {}, true));
  tables.push_back(
      table_of<LidJob>("lids", "[lids.NAME]", "openings that are run straight over", "limits.md"));
  tables.push_back(table_of<RunOutJob>("run_outs", "[run_outs.NAME]", "edges that run on", "limits.md"));
  tables.push_back(
      table_of<CarrierJob>("carriers", "[carriers.NAME]", "surfaces of one's own to work on", "curves.md"));
  tables.push_back(
      table_of<KeepAwayJob>("keep_away", "[keep_away.NAME]", "what tools keep away from", "limits.md"));
  tables.push_back(operation_table());
  for (const Strategy& strategy : all_strategies()) {
    KeyTable table{strategy.name, "[[operation]]", strategy.says, "", keys_of_strategy(strategy)};
    table.strategy = true;
    tables.push_back(std::move(table));
  }
  return tables;
}

}  // namespace yardpass
