#include <algorithm>

#include <fmt/format.h>

#include "job/job_tables.h"

namespace yardpass::detail {

namespace {

constexpr LengthUnit kUnits[] = {LengthUnit::micrometre, LengthUnit::millimetre, LengthUnit::centimetre,
                                 LengthUnit::metre,      LengthUnit::inch,       LengthUnit::foot};
const std::vector<std::string> kAxes{"x", "y", "z"};

std::optional<Axis> axis(TableReader& reader, const char* key) {
  const auto name = reader.choice(key, kAxes);
  if (!name) return std::nullopt;
  return static_cast<Axis>(std::find(kAxes.begin(), kAxes.end(), *name) - kAxes.begin());
}

void read_repairs(TableReader& reader, Job& job) {
  const GivenList* list = reader.array("repair");
  if (!list) return;
  std::vector<std::string> names;
  for (const Repair repair : all_repairs()) names.emplace_back(name_of(repair));
  for (const Given& node : *list) {
    const auto word = node.text();
    const auto at = word ? std::find(names.begin(), names.end(), *word) : names.end();
    if (at == names.end())
      reader.wrong(node, "repair", fmt::format("holds what is no repair; valid: {}", listed(names)));
    else
      job.part.repairs.push_back(all_repairs()[static_cast<std::size_t>(at - names.begin())]);
  }
  job.part.read.drop_not_finite = std::find(job.part.repairs.begin(), job.part.repairs.end(),
                                            Repair::not_finite) != job.part.repairs.end();
}

void read_shrink(TableReader& reader, Placement& placement) {
  const Given* node = reader.any("shrink_factor");
  if (!node) return;
  const char* form = "a factor, 1.006 for 0.6 % of shrinking, or three of them [x, y, z]; between 0.5 and 2";
  Vec3 factor;
  if (node->is_number()) {
    factor.setConstant(*node->number());
  } else {
    const auto numbers = read_numbers(reader, *node, "shrink_factor", 3, 3, form);
    if (!numbers) return;
    factor = Vec3(numbers->data());
  }
  if (!(factor.minCoeff() >= 0.5 && factor.maxCoeff() <= 2))
    reader.wrong(*node, "shrink_factor", fmt::format("must be {}", form));
  else
    placement.shrink_factor = factor;
}

void read_turns(TableReader& reader, Placement& placement, Mistakes& mistakes) {
  const GivenList* list = reader.array("turn");
  if (!list) return;
  for (const Given& node : *list) {
    if (!node.table()) {
      reader.wrong(node, "turn", "must be a list of { axis = \"x\", angle = 90 }");
      continue;
    }
    TableReader turn(*node.table(), "part, turn", mistakes);
    const auto about = axis(turn, "axis");
    const auto angle = turn.number("angle", {-360, 360, false, "degrees"});
    for (const char* key : {"axis", "angle"})
      if (!node.table()->contains(key)) turn.missing(key, "every turn needs it");
    turn.finish();
    if (about && angle) placement.turns.push_back({*about, *angle});
  }
}

/// One coordinate of the origin: a word for a place of the box, or a number.
void read_origin_axis(TableReader& reader, const char* key, const std::vector<std::string>& words,
                      std::size_t k, Origin& origin) {
  const Given* node = reader.any(key);
  if (!node) {
    reader.missing(key, fmt::format("valid: {}, or a coordinate", listed(words)));
  } else if (node->is_number()) {
    origin.coordinate[k] = reader.number(key, kPlace).value_or(0);
  } else if (const auto word = reader.choice(key, words)) {
    origin.share[k] = 0.5 * static_cast<double>(std::find(words.begin(), words.end(), *word) - words.begin());
  }
}

void read_origin(TableReader& reader, Job& job, Mistakes& mistakes) {
  const GivenTable* table = reader.table("origin");
  if (!table) return;
  TableReader keys(*table, "part, origin", mistakes);
  Origin origin;
  if (const auto of = keys.choice("of", {"part", "stock"}))
    origin.of = *of == "part" ? Origin::Of::part : Origin::Of::stock;
  if (!table->contains("of")) keys.missing("of", "valid: part, stock");
  read_origin_axis(keys, "x", {"left", "middle", "right"}, 0, origin);
  read_origin_axis(keys, "y", {"front", "middle", "back"}, 1, origin);
  read_origin_axis(keys, "z", {"bottom", "middle", "top"}, 2, origin);
  keys.finish();
  job.part.origin = origin;
  job.part.origin_line = table->line();
}

}  // namespace

std::optional<LengthUnit> read_length_unit(TableReader& reader) {
  std::vector<std::string> names;
  for (const LengthUnit unit : kUnits) names.emplace_back(name_of(unit));
  const auto name = reader.choice("unit", names);
  if (!name) return std::nullopt;
  return kUnits[std::find(names.begin(), names.end(), *name) - names.begin()];
}

void read_part(TableReader& reader, Job& job) {
  const auto mesh = reader.text("mesh");
  if (!reader.has("mesh")) reader.missing("mesh", "the mesh file of the part: STL, OBJ, PLY or 3MF");
  job.part.read.unit = read_length_unit(reader);
  job.part.read.weld_mm = reader.number("weld", {0, 1}).value_or(0);
  read_repairs(reader, job);
  read_shrink(reader, job.part.placement);
  job.part.placement.mirror = axis(reader, "mirror");
  read_turns(reader, job.part.placement, reader.mistakes());
  if (const Given* node = reader.any("move"))
    if (const auto numbers = read_numbers(reader, *node, "move", 3, 3, "[x, y, z]"))
      job.part.placement.move = Vec3(numbers->data());
  read_origin(reader, job, reader.mistakes());
  reader.finish();
  if (!mesh) return;
  job.part.mesh = job.file.parent_path() / *mesh;
  std::error_code code;
  if (!std::filesystem::exists(job.part.mesh, code))
    reader.wrong(*reader.any("mesh"), "mesh",
                 fmt::format("names {}, which does not exist", job.part.mesh.string()));
}

}  // namespace yardpass::detail
