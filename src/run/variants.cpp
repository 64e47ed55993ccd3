#include "yardpass/run/variants.h"

#include <algorithm>
#include <charconv>

#include <fmt/format.h>

#include "job/table_reader.h"
#include "yardpass/geom/error.h"
#include "yardpass/geom/text.h"
#include "yardpass/job/key_list.h"

namespace yardpass {

namespace {

std::size_t index_of(const Job& job, std::int32_t operation) {
  for (std::size_t i = 0; i < job.operations.size(); ++i)
    if (job.operations[i].number == operation && job.operations[i].active) return i;
  std::vector<std::string> there;
  for (const OperationJob& one : job.operations)
    if (one.active) there.push_back(fmt::format("{} \"{}\"", one.number, one_line(one.name)));
  throw Error(fmt::format("{}: there is no active operation {}; there are: {}", job.file.string(), operation,
                          fmt::join(there, ", ")));
}

/// All that comes behind it is left out.
Job up_to(const Job& job, std::size_t index) {
  Job result = job;
  result.operations.resize(index + 1);
  return result;
}

/// Keys that operations of a strategy take: its own, and those of all.
std::vector<KeyInfo> keys_for(const OperationJob& operation) {
  std::vector<KeyInfo> keys;
  const Strategy* const strategy = strategy_named(operation.strategy);
  if (strategy) keys = keys_of_strategy(*strategy);
  for (const KeyTable& table : all_key_tables())
    if (table.name == "operation") keys.insert(keys.end(), table.keys.begin(), table.keys.end());
  return keys;
}

const KeyInfo* named(const std::vector<KeyInfo>& keys, const std::string& key) {
  const auto found =
      std::find_if(keys.begin(), keys.end(), [&](const KeyInfo& one) { return one.key == key; });
  return found == keys.end() ? nullptr : &*found;
}

[[noreturn]] void refuse(const OperationJob& operation, const std::string& key,
                         const std::vector<KeyInfo>& keys) {
  std::vector<std::string> names;
  for (const KeyInfo& one : keys) names.push_back(one.key);
  throw Error(fmt::format("operation {} \"{}\": there is no key \"{}\" in {}{}; there are: {}",
                          operation.number, one_line(operation.name), key, operation.strategy,
                          detail::did_you_mean(key, names), detail::listed(names)));
}

/// Sets the value, and takes away what says the same in other words.
void set(const OperationJob& operation, GivenTable& table, const std::string& key,
         const std::vector<KeyInfo>& keys, const Given& value) {
  const std::size_t dot = key.find('.');
  const std::string here = key.substr(0, dot);
  const KeyInfo* const info = named(keys, here);
  if (!info || (dot != std::string::npos && info->inner.empty())) refuse(operation, here, keys);
  if (dot != std::string::npos) {
    const Given* const said = table.get(here);
    GivenTable inner = said && said->table() ? *said->table() : GivenTable();
    set(operation, inner, key.substr(dot + 1), info->inner, value);
    table.set(here, Given(std::move(inner)));
    return;
  }
  for (const KeyInfo& other : keys)
    if (other.about.instead_of == key || info->about.instead_of == other.key) table.erase(other.key);
  table.set(here, value);
}

std::string words_of(const Given& value) {
  if (const auto flag = value.flag()) return *flag ? "true" : "false";
  if (const auto number = value.number()) return short_number(*number);
  return value.text().value_or("");
}

}  // namespace

std::vector<Variant> variants(const Job& job, std::int32_t operation, const std::string& key,
                              const std::vector<Given>& values) {
  const std::size_t index = index_of(job, operation);
  std::vector<Variant> result;
  for (const Given& value : values) {
    Variant variant{fmt::format("{} = {}", key, words_of(value)), up_to(job, index), operation};
    OperationJob& changed = variant.job.operations.back();
    set(changed, changed.says, key, keys_for(changed), value);
    result.push_back(std::move(variant));
  }
  return result;
}

std::vector<Variant> twelve_angles(const Job& job, std::int32_t operation) {
  const OperationJob& one = job.operations[index_of(job, operation)];
  const std::vector<KeyInfo> keys = keys_for(one);
  const KeyInfo* const shallow = named(keys, "shallow");
  const bool inner = shallow && named(shallow->inner, "angle") && !one.says.contains("scallop");
  if (!named(keys, "angle") && !inner)
    throw Error(fmt::format("operation {} \"{}\": passes of {} have no angle", one.number, one_line(one.name),
                            one.strategy));
  std::vector<Given> angles;
  for (int k = 0; k < 12; ++k) angles.emplace_back(15 * k);
  return variants(job, operation, named(keys, "angle") ? "angle" : "shallow.angle", angles);
}

std::vector<Variant> side_by_side(const Job& job, std::int32_t first, std::int32_t second) {
  const std::size_t a = index_of(job, first), b = index_of(job, second);
  if (a == b)
    throw Error(fmt::format("operation {} \"{}\" cannot be compared with itself", first,
                            one_line(job.operations[a].name)));
  std::vector<Variant> result;
  for (const std::size_t index : {a, b}) {
    const OperationJob& own = job.operations[index];
    Variant variant{fmt::format("{} {}", own.number, one_line(own.name)), job, own.number};
    variant.job.operations.assign(job.operations.begin(),
                                  job.operations.begin() + static_cast<std::ptrdiff_t>(std::min(a, b)));
    variant.job.operations.push_back(own);
    result.push_back(std::move(variant));
  }
  return result;
}

Given given_of(const std::string& words) {
  if (words == "true" || words == "false") return {words == "true"};
  std::int64_t whole = 0;
  const char *const begin = words.data(), *const end = begin + words.size();
  if (const auto [at, code] = std::from_chars(begin, end, whole); code == std::errc() && at == end)
    return {whole};
  double number = 0;
  if (const auto [at, code] = std::from_chars(begin, end, number); code == std::errc() && at == end)
    return {number};
  return {words};
}

}  // namespace yardpass
