// Keys told by visiting, read from a table of the job.
#pragma once

#include <map>
#include <set>

#include "job/table_reader.h"
#include "yardpass/job/job_file.h"
#include "yardpass/keys/keys.h"
#include "yardpass/plan/given_curves.h"
#include "yardpass/plan/limits.h"

namespace yardpass::detail {

inline constexpr double kFarthest = 1e5;  ///< mm, of coordinates

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
  /// The area that `area.name` names; which kind of thing that is stands in `area.from`.
  virtual void find(GivenArea& area) const = 0;
  /// The lines of curves by their names.
  virtual void find(GivenCurves& curves) const = 0;
  /// The tool by its name.
  virtual void find(GivenTool& tool) const = 0;
};

/// Names of one kind that are defined, and which of them somebody has used.
using KnownNames = std::map<Named, std::vector<std::string>>;

/// What reading a table needs to know besides the table.
struct KeyContext {
  std::filesystem::path folder = {};  ///< of the job file: files are named beside it
  Units units = Units::mm;
  KnownNames names = {};
  const OnThePart* part = nullptr;  ///< nothing while only the file is known
  bool measurable = false;          ///< numbers of this table may be measured on the part
  double tool_diameter_mm = 0;      ///< for shares of it
  Coarser coarser = {};             ///< of a quick look
  std::string copy_of = {};         ///< keys of `copied` come from the operation of this name
  std::vector<std::string> copied = {};
  std::set<std::string> used = {};  ///< names that the table has used, by kind: see `use_of`
};
/// How `KeyContext::used` names a thing.
[[nodiscard]] std::string use_of(Named kind, const std::string& name);
[[nodiscard]] const char* name_of(Named kind);

/// Visited twice: when the file is read, without a part, for all that the file alone decides; and when the
/// job is carried out, with it. Every mistake goes to the reader's list.
class TableKeys : public Keys {
 public:
  TableKeys(TableReader& reader, KeyContext& context) : reader_(reader), context_(context) {}

  void number(const char* key, double& value, const Derived& usual, const About& about) override;
  void number(const char* key, std::optional<double>& value, const About& about) override;
  void whole(const char* key, int& value, int usual, const About& about) override;
  void flag(const char* key, bool& value, bool usual, const About& about) override;
  void text(const char* key, std::string& value, const About& about) override;
  void file(const char* key, std::filesystem::path& value, const About& about) override;
  void word(const char* key, std::size_t& value, std::span<const char* const> words, std::size_t usual,
            const std::string& rule, const About& about) override;
  void word(const char* key, std::optional<std::size_t>& value, std::span<const char* const> words,
            const About& about) override;
  void word_or_number(const char* key, std::optional<std::size_t>& word, double& number,
                      std::span<const char* const> words, const About& about) override;
  void words(const char* key, std::vector<std::size_t>& value, std::span<const char* const> words,
             const About& about) override;
  void name(const char* key, std::string& value, Named kind, const About& about) override;
  void names(const char* key, std::vector<std::string>& value, Named kind, const About& about) override;
  void area(const char* key, GivenArea& value, const About& about) override;
  void curves(const char* key, GivenCurves& value, const About& about) override;
  void tool(const char* key, GivenTool& value, const About& about) override;
  void loops(const char* key, std::optional<Region>& value, const About& about) override;
  void corners(const char* key, std::optional<Corners>& value, const About& about) override;
  void numbers(const char* key, std::vector<double>& value, std::initializer_list<std::size_t> counts,
               const char* form, const About& about) override;
  void counts(const char* key, std::vector<std::int64_t>& value, const About& about) override;
  void places(const char* key, std::vector<std::vector<double>>& value, std::size_t count,
              const About& about) override;
  void points(const char* key, std::vector<std::vector<double>>& value, std::size_t least, const char* form,
              const About& about) override;
  void each(const char* key, const std::function<void(Keys& one)>& visit, const About& about) override;
  void table(const char* key, const std::function<void(Keys& keys)>& visit, const About& about) override;
  [[nodiscard]] int line() const override { return reader_.line(); }
  [[nodiscard]] bool says(const char* key) const override { return reader_.has(key); }
  void one_of(std::initializer_list<const char*> keys, bool needed) override;
  void refuse_if(bool wrong, std::initializer_list<const char*> keys, const std::string& why) override;
  void idle_if(bool idle, const char* key, const std::string& why) override;

  /// All that was visited, in that order.
  [[nodiscard]] std::vector<SettledValue> take_values() { return std::move(values_); }
  [[nodiscard]] std::vector<Note> take_notes() { return std::move(notes_); }

 private:
  /// The value of a key, if it is said; a required one that is not is a mistake.
  const Given* asked(const char* key, const About& about);
  std::optional<double> said_number(const char* key, const About& about);
  /// What a quick look makes of a settled number.
  [[nodiscard]] double coarsened(double value, const About& about);
  std::optional<double> plain_number(const Given& node, const char* key, const About& about);
  std::optional<double> share_of_tool(const Given& node, const char* key, const About& about);
  std::optional<double> measured(const Given& node, const char* key, const About& about);
  std::optional<Region> read_loops(const Given& node, const char* key);
  std::optional<std::vector<double>> coordinates(const Given& node, const char* key, std::size_t least,
                                                 std::size_t most, const std::string& form, Unit unit);
  std::string known_name(const Given& node, const char* key, Named kind);
  [[nodiscard]] std::string range_words(const About& about) const;
  [[nodiscard]] std::string said_words(double mm, Unit unit) const;
  [[nodiscard]] std::string source(const char* key, const std::string& otherwise) const;
  void tell(const char* key, Quantity value, const std::string& otherwise);
  void mistake(const char* key, const std::string& what);
  void wrong_type(const Given& node, const char* key, const std::string& what);
  [[nodiscard]] double scale(Unit unit) const { return scale_of(unit, context_.units); }

  TableReader& reader_;
  KeyContext& context_;
  std::set<std::string> to_be_measured_;
  std::string how_;  ///< the last number came about, if it was not just given
  std::vector<SettledValue> values_;
  std::vector<Note> notes_;
};

}  // namespace yardpass::detail
