// A JSON schema of job files, for editors.
#include <algorithm>

#include "report/json_values.h"
#include "yardpass/job/key_list.h"
#include "yardpass/report/keys_page.h"

namespace yardpass {

namespace {

using detail::Json;

/// Limits hold for lengths in either unit: the wider of the two.
Json number_schema(const About& about) {
  const bool length = scale_of(about.unit, Units::inch) != 1;
  const double low = length && about.low > 0 ? about.low / scale_of(about.unit, Units::inch) : about.low;
  return {
      {"type", "number"}, {about.above_low ? "exclusiveMinimum" : "minimum", low}, {"maximum", about.high}};
}

Json text_schema() { return {{"type", "string"}, {"minLength", 1}}; }
Json list_of(Json items, std::size_t least = 0, std::size_t most = 0) {
  Json schema{{"type", "array"}, {"items", std::move(items)}};
  if (least > 0) schema["minItems"] = least;
  if (most > 0) schema["maxItems"] = most;
  return schema;
}
Json any_of(std::initializer_list<Json> schemas) { return {{"anyOf", Json(schemas)}}; }
Json reference(const char* name) { return {{"$ref", std::string("#/definitions/") + name}}; }
Json plain_number() { return {{"type", "number"}}; }

Json place_schema() { return list_of(plain_number(), 2, 3); }
Json loop_schema() { return list_of(list_of(plain_number(), 2, 2), 3); }

Json table_schema(const std::vector<KeyInfo>& keys);

Json form_schema(const KeyInfo& key) {
  switch (key.form) {
    case KeyForm::number: {
      Json schema = number_schema(key.about);
      if (key.about.of_tool) schema = any_of({schema, reference("share")});
      return key.measurable ? any_of({schema, reference("measured")}) : schema;
    }
    case KeyForm::whole:
      return {{"type", "integer"}, {"minimum", key.about.low}, {"maximum", key.about.high}};
    case KeyForm::flag:
      return {{"type", "boolean"}};
    case KeyForm::word:
      return {{"enum", key.words}};
    case KeyForm::word_or_number:
      return any_of({Json{{"enum", key.words}}, plain_number()});
    case KeyForm::words:
      return any_of({Json{{"enum", key.words}}, list_of(Json{{"enum", key.words}})});
    case KeyForm::names:
      return any_of({text_schema(), list_of(text_schema(), 1)});
    case KeyForm::area:
      return any_of({text_schema(), loop_schema(), list_of(loop_schema(), 1)});
    case KeyForm::loops:
      return any_of({loop_schema(), list_of(loop_schema(), 1)});
    case KeyForm::corners:
      return list_of(list_of(plain_number(), 3, 3), 2, 2);
    case KeyForm::numbers: {
      const Json one = number_schema(key.about);
      const auto [least, most] = std::minmax_element(key.counts.begin(), key.counts.end());
      const Json list = list_of(one, std::max<std::size_t>(2, *least), *most);
      return *least == 1 ? any_of({one, list}) : list;
    }
    case KeyForm::counts: {
      const Json one{{"type", "integer"}, {"minimum", 1}};
      return any_of({one, list_of(one)});
    }
    case KeyForm::places:
      return key.counts.empty() ? any_of({place_schema(), list_of(place_schema(), 1)})
                                : list_of(place_schema(), key.counts[0], key.counts[0]);
    case KeyForm::points:
      return list_of(place_schema(), 1);
    case KeyForm::tables:
      return list_of(table_schema(key.inner));
    case KeyForm::table:
      return table_schema(key.inner);
    case KeyForm::text:
    case KeyForm::file:
    case KeyForm::name:
      break;
  }
  return text_schema();
}

Json key_schema(const KeyInfo& key) {
  Json schema = form_schema(key);
  std::string says = key.about.says;
  if (*key.about.usual != '\0') says += std::string("; default: ") + key.about.usual;
  std::erase(says, '`');
  schema["description"] = says;
  return schema;
}

Json properties_of(const std::vector<KeyInfo>& keys) {
  Json properties = Json::object();
  for (const KeyInfo& key : keys) properties[key.key] = key_schema(key);
  return properties;
}
Json required_of(const std::vector<KeyInfo>& keys) {
  Json required = Json::array();
  for (const KeyInfo& key : keys)
    if (key.about.required) required.push_back(key.key);
  return required;
}

Json table_schema(const std::vector<KeyInfo>& keys) {
  Json schema{{"type", "object"}, {"additionalProperties", false}, {"properties", properties_of(keys)}};
  if (Json required = required_of(keys); !required.empty()) schema["required"] = std::move(required);
  for (const KeyInfo& key : keys) {
    if (*key.about.belongs_to != '\0') schema["dependencies"][key.key] = Json::array({key.about.belongs_to});
    if (*key.about.instead_of != '\0')
      schema["allOf"].push_back({{"not", {{"required", Json::array({key.key, key.about.instead_of})}}}});
  }
  return schema;
}

/// Only one of some keys: no two of them together.
void exclude_each_other(Json& schema, const std::vector<std::vector<std::string>>& lists) {
  for (const auto& keys : lists)
    for (std::size_t i = 0; i < keys.size(); ++i)
      for (std::size_t k = i + 1; k < keys.size(); ++k)
        schema["allOf"].push_back({{"not", {{"required", Json::array({keys[i], keys[k]})}}}});
}

/// The keys of all operations, and for each strategy its own and no other's.
Json operation_schema(const std::vector<KeyTable>& tables) {
  const auto common =
      std::find_if(tables.begin(), tables.end(), [](const KeyTable& t) { return t.name == "operation"; });
  Json schema = table_schema(common->keys);
  const Json required = schema["required"];
  schema["required"] = Json::array({"name"});
  schema["if"] = {{"required", Json::array({"copy_of"})}};
  schema["else"] = {{"required", required}};
  for (const KeyTable& strategy : tables) {
    if (!strategy.strategy) continue;
    Json names = Json::array();
    for (const KeyInfo& key : common->keys) names.push_back(key.key);
    for (const KeyInfo& key : strategy.keys) {
      names.push_back(key.key);
      schema["properties"][key.key] = true;
    }
    Json own{{"propertyNames", {{"enum", names}}}, {"properties", properties_of(strategy.keys)}};
    for (const KeyInfo& key : strategy.keys)
      if (*key.about.instead_of != '\0')
        own["allOf"].push_back({{"not", {{"required", Json::array({key.key, key.about.instead_of})}}}});
    schema["allOf"].push_back({{"if",
                                {{"properties", {{"strategy", {{"const", strategy.name}}}}},
                                 {"required", Json::array({"strategy"})}}},
                               {"then", own}});
  }
  return schema;
}

Json definitions() {
  Json measured{
      {"type", "object"}, {"additionalProperties", false}, {"properties", {{"plus", plain_number()}}}};
  Json one_of = Json::array();
  for (const MeasuredKey& key : measured_keys()) {
    Json& schema = measured["properties"][key.key];
    schema = key.places == 0   ? text_schema()
             : key.places == 1 ? any_of({place_schema(), list_of(place_schema(), 1, 1)})
                               : list_of(place_schema(), key.places, key.places);
    schema["description"] = key.says;
    one_of.push_back({{"required", Json::array({key.key})}});
  }
  measured["oneOf"] = one_of;
  return {{"share", {{"type", "string"}, {"pattern", "^[+-]?[0-9]*\\.?[0-9]+ *(%|radius|radii)$"}}},
          {"measured", measured}};
}

}  // namespace

std::string job_schema() {
  const std::vector<KeyTable> tables = all_key_tables();
  Json schema{{"$schema", "http://json-schema.org/draft-07/schema#"},
              {"title", "Yard Pass job"},
              {"type", "object"},
              {"additionalProperties", false},
              {"required", Json::array({"title", "part", "tools", "operation"})},
              {"properties", Json::object()}};
  Json& properties = schema["properties"];
  for (const KeyTable& table : tables) {
    if (table.strategy || table.name == "operation") continue;
    if (table.name == "job") {
      properties.update(properties_of(table.keys));
      continue;
    }
    Json of_table = table_schema(table.keys);
    exclude_each_other(of_table, table.one_of);
    of_table["description"] = table.says;
    if (table.heading.rfind("[[", 0) == 0)
      properties[table.name] = list_of(of_table);
    else if (table.heading.find(".NAME") != std::string::npos)
      properties[table.name] = {
          {"type", "object"}, {"additionalProperties", of_table}, {"description", table.says}};
    else
      properties[table.name] = of_table;
  }
  properties["operation"] = list_of(operation_schema(tables), 1);
  schema["definitions"] = definitions();
  return detail::dumped(schema);
}

}  // namespace yardpass
