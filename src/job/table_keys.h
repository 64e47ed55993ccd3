// Keys told by visiting, read from a table of the job.
#pragma once

#include <set>

#include "job/job_tables.h"
#include "yardpass/keys/keys.h"
#include "yardpass/plan/limits.h"

namespace yardpass::detail {

/// A value and how it was measured.
struct Measured {
  double value;
  std::string words;
};

/// What is found once the part is there. Each throws Error, without a place, if there is no such thing on
/// this part.
class OnThePart {
 public:
  virtual ~OnThePart() = default;
  [[nodiscard]] virtual Measured measure(const Measure& measure) const = 0;
  /// The area of a boundary or region by its name, and which of the two it is.
  virtual void find(GivenArea& area) const = 0;
};

/// Visited twice: when the file is read, without a part, for all that the file alone decides; and when the
/// job is carried out, with it. Every mistake goes to the reader's list.
class TableKeys : public Keys {
 public:
  TableKeys(TableReader& reader, const Job& job, const OnThePart* part = nullptr)
      : reader_(reader), job_(job), part_(part) {}

  void number(const char* key, double& value, const Derived& usual, const About& about) override;
  void number(const char* key, std::optional<double>& value, const About& about) override;
  void flag(const char* key, bool& value, bool usual, const About& about) override;
  void word(const char* key, std::size_t& value, std::span<const char* const> words, std::size_t usual,
            const std::string& rule, const About& about) override;
  void names(const char* key, std::vector<std::string>& value, Named kind, const About& about) override;
  void area(const char* key, GivenArea& value, const About& about) override;
  void each(const char* key, const std::function<void(Keys& one)>& visit, const About& about) override;
  [[nodiscard]] bool says(const char* key) const override { return reader_.has(key); }
  void refuse_if(bool wrong, std::initializer_list<const char*> keys, const std::string& why) override;
  void idle_if(bool idle, const char* key, const std::string& why) override;

  /// All that was visited, in that order.
  [[nodiscard]] std::vector<ValueInForce> take_values() { return std::move(values_); }
  [[nodiscard]] std::vector<Note> take_notes() { return std::move(notes_); }

 private:
  std::optional<double> said_number(const char* key, const About& about);
  [[nodiscard]] std::string source(const char* key, const std::string& otherwise) const;
  void mistake(const char* key, const std::string& what);

  TableReader& reader_;
  const Job& job_;
  const OnThePart* part_;
  std::set<std::string> to_be_measured_;
  std::string measured_words_;  // of the last number, if it was measured
  std::vector<ValueInForce> values_;
  std::vector<Note> notes_;
};

}  // namespace yardpass::detail
