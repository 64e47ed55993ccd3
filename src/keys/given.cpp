#include "yardpass/keys/given.h"

#include <algorithm>

namespace yardpass {

GivenTable::GivenTable(int line) : line_(line) {}
GivenTable::GivenTable(const GivenTable&) = default;
GivenTable::GivenTable(GivenTable&&) noexcept = default;
GivenTable& GivenTable::operator=(const GivenTable&) = default;
GivenTable& GivenTable::operator=(GivenTable&&) noexcept = default;
GivenTable::~GivenTable() = default;

const Given* GivenTable::get(std::string_view key) const {
  for (const auto& [known, value] : entries_)
    if (known == key) return &value;
  return nullptr;
}

void GivenTable::set(const std::string& key, Given value) {
  for (auto& [known, old] : entries_)
    if (known == key) {
      old = std::move(value);
      return;
    }
  entries_.emplace_back(key, std::move(value));
}

void GivenTable::erase(std::string_view key) {
  std::erase_if(entries_, [&](const auto& entry) { return entry.first == key; });
}

bool GivenTable::empty() const { return entries_.empty(); }
std::size_t GivenTable::size() const { return entries_.size(); }
GivenTable::Entries::const_iterator GivenTable::begin() const { return entries_.begin(); }
GivenTable::Entries::const_iterator GivenTable::end() const { return entries_.end(); }

Given::Given(Other value, int line) : value_(std::move(value)), line_(line) {}
Given::Given(bool value, int line) : value_(value), line_(line) {}
Given::Given(int value, int line) : value_(static_cast<std::int64_t>(value)), line_(line) {}
Given::Given(std::int64_t value, int line) : value_(value), line_(line) {}
Given::Given(double value, int line) : value_(value), line_(line) {}
Given::Given(const char* value, int line) : value_(std::string(value)), line_(line) {}
Given::Given(std::string value, int line) : value_(std::move(value)), line_(line) {}
Given::Given(GivenList value, int line) : value_(std::move(value)), line_(line) {}
Given::Given(GivenTable value, int line) : value_(std::move(value)), line_(line) {}

std::optional<double> Given::number() const {
  if (const auto* value = std::get_if<double>(&value_)) return *value;
  if (const auto* value = std::get_if<std::int64_t>(&value_)) return static_cast<double>(*value);
  return std::nullopt;
}

std::optional<std::int64_t> Given::whole() const {
  const auto* value = std::get_if<std::int64_t>(&value_);
  return value ? std::optional(*value) : std::nullopt;
}

std::optional<bool> Given::flag() const {
  const auto* value = std::get_if<bool>(&value_);
  return value ? std::optional(*value) : std::nullopt;
}

std::optional<std::string> Given::text() const {
  const auto* value = std::get_if<std::string>(&value_);
  return value ? std::optional(*value) : std::nullopt;
}

const GivenList* Given::list() const { return std::get_if<GivenList>(&value_); }
const GivenTable* Given::table() const { return std::get_if<GivenTable>(&value_); }

}  // namespace yardpass
