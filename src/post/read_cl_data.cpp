#include <algorithm>
#include <charconv>
#include <cmath>
#include <iterator>
#include <optional>
#include <utility>

#include "post/operation_comment.h"
#include "post/problems.h"
#include "yardpass/geom/error.h"
#include "yardpass/post/cl_data.h"

namespace yardpass {

namespace {

/// A record taken apart: "GOTO/1,2,3".
struct Record {
  std::string word;
  std::string rest;                 // as it stands, for texts
  std::vector<std::string> values;  // in capitals, without blanks
};

std::string capitals(std::string_view text) {
  std::string result;
  for (const char c : text)
    if (c != ' ' && c != '\t' && c != '\r')
      result += static_cast<char>(c >= 'a' && c <= 'z' ? c - 'a' + 'A' : c);
  return result;
}

Record record_of(const std::string& line) {
  Record record;
  const std::size_t slash = line.find('/');
  std::size_t end = slash;
  const std::string head = capitals(line.substr(0, slash));
  // Some write texts behind a blank.
  for (const char* word : {"PARTNO", "PPRINT", "REMARK", "INSERT"})
    if (head.starts_with(word)) {
      record.word = word;
      end = capitals(line).find(word) == 0 ? line.find_first_of("/ ") : slash;
    }
  if (record.word.empty()) record.word = head;
  if (end != std::string::npos) record.rest = line.substr(end + 1);
  std::size_t at = 0;
  while (slash != std::string::npos && at <= record.rest.size()) {
    const std::size_t comma = std::min(record.rest.find(',', at), record.rest.size());
    record.values.push_back(capitals(std::string_view(record.rest).substr(at, comma - at)));
    at = comma + 1;
  }
  return record;
}

double number_of(const std::string& text) {
  double value = 0;
  const char* const from = text.data() + (text.starts_with('+') ? 1 : 0);
  const auto [end, code] = std::from_chars(from, text.data() + text.size(), value);
  if (code != std::errc() || end != text.data() + text.size() || !std::isfinite(value))
    throw Error("\"" + text + "\" is no number");
  return value;
}

class Reader {
 public:
  explicit Reader(const std::string& name) : problems_(name) {}

  Program run(std::string_view text) {
    std::string joined;
    std::int32_t first = 0;
    for (std::size_t at = 0; at < text.size();) {
      std::size_t end = std::min(text.find('\n', at), text.size());
      std::string line(text.substr(at, end - at));
      at = end + 1;
      ++program_.lines;
      if (const std::size_t remark = line.find("$$"); remark != std::string::npos) line.resize(remark);
      while (!line.empty() && (line.back() == '\r' || line.back() == ' ')) line.pop_back();
      if (joined.empty()) first = program_.lines;
      const bool goes_on = !line.empty() && line.back() == '$';
      if (goes_on) line.pop_back();
      joined += line;
      if (goes_on) continue;
      line_ = first;
      take(std::exchange(joined, {}));
    }
    if (!ended_) problems_.add(std::max(program_.lines, 1), "the records have no end (FINI)");
    problems_.refuse();
    return std::move(program_);
  }

 private:
  void take(const std::string& line) {
    if (capitals(line).empty()) return;
    if (ended_) return problems_.add(line_, "a record behind FINI");
    try {
      carry_out(record_of(line));
    } catch (const Error& error) {
      problems_.add(line_, error.what());
    }
  }

  void carry_out(const Record& record) {
    const std::string& word = record.word;
    const auto is = [&](std::initializer_list<const char*> words) {
      return std::any_of(words.begin(), words.end(), [&](const char* one) { return word == one; });
    };
    if (is({"PARTNO", "REMARK", "INSERT", "MACHIN", "CUTTER", "STOP", "OPSTOP", "END", "CLEARP"})) return;
    if (word == "PPRINT") return name(record.rest);
    if (word == "FINI") return void(ended_ = true);
    if (word == "UNITS") return units(record);
    if (word == "TLAXIS") return upright(record, 0);
    if (word == "MULTAX") return require_off(record);
    if (is({"LOADTL", "LOAD"})) return change_tool(record);
    if (word == "SPINDL") return spindle(record);
    if (word == "COOLNT") return coolant(record);
    if (word == "FEDRAT") return feed(record);
    if (word == "RAPID") return void(rapid_ = true);
    if (word == "DELAY") return void(program_.dwell_s += number_of(value(record, 0)));
    if (is({"FROM", "GOTO", "GODLTA"})) return go(record);
    throw Error(word +
                " is not understood; valid are PARTNO PPRINT REMARK INSERT UNITS MACHIN CUTTER TLAXIS MULTAX "
                "LOADTL LOAD SPINDL COOLNT FEDRAT RAPID FROM GOTO GODLTA DELAY STOP OPSTOP END CLEARP FINI");
  }

  static const std::string& value(const Record& record, std::size_t k) {
    if (k >= record.values.size()) throw Error(record.word + " lacks a value");
    return record.values[k];
  }

  void name(const std::string& text) {
    if (const auto operation = detail::operation_of(text)) {
      program_.operations.push_back(*operation);
      named_ = named_by_comment_ = true;
    }
  }

  void units(const Record& record) {
    const bool inches =
        value(record, 0) == "INCHES" || value(record, 0) == "INCH" || value(record, 0) == "IN";
    if (!inches && value(record, 0) != "MM") throw Error("UNITS must be MM or INCHES");
    const double scale = inches ? 25.4 : 1;
    if (!program_.moves.empty() && scale != scale_) throw Error("the unit changes between moves");
    scale_ = scale;
  }

  static void upright(const Record& record, std::size_t from) {
    if (record.values.size() <= from) return;
    const Vec3 axis(number_of(value(record, from)), number_of(value(record, from + 1)),
                    number_of(value(record, from + 2)));
    if ((axis - Vec3(0, 0, 1)).norm() > 1e-6)
      throw Error("the tool's axis is not upright: three axes are read");
  }
  static void require_off(const Record& record) {
    if (!record.values.empty() && record.values[0] != "OFF") throw Error("MULTAX: three axes are read");
  }

  void change_tool(const Record& record) {
    const std::size_t at = record.word == "LOAD" ? 1 : 0;
    if (at == 1 && value(record, 0) != "TOOL") throw Error("LOAD must be LOAD/TOOL");
    const double number = number_of(value(record, at));
    if (!(number >= 0) || number != std::floor(number) || number > 1e6)
      throw Error("the tool must be a whole number");
    tool_ = static_cast<std::int32_t>(number);
    program_.tools.push_back(tool_);
    program_.tool_lines.push_back(line_);
    at_.reset();
    spindle_on_ = false;
    if (!named_by_comment_) named_ = false;
  }

  void spindle(const Record& record) {
    for (const std::string& one : record.values) {
      if (one == "OFF") {
        spindle_on_ = false;
      } else if (one == "ON" || one == "CLW") {
        spindle_on_ = true;
      } else if (one == "CCLW") {
        throw Error("the spindle turns counter-clockwise (CCLW)");
      } else if (one != "RPM") {
        rpm_ = number_of(one);
        spindle_on_ = rpm_ > 0;
      }
    }
  }

  void coolant(const Record& record) { coolant_ = value(record, 0) != "OFF"; }

  void feed(const Record& record) {
    double number = 0, scale = scale_;
    bool a_turn = false;
    for (const std::string& one : record.values) {
      if (one == "MMPM" || one == "PERMIN" || one == "IPM" || one == "MMPR" || one == "IPR" ||
          one == "PERREV") {
        a_turn = one == "MMPR" || one == "IPR" || one == "PERREV";
        if (one.starts_with("MM")) scale = 1;
        if (one.starts_with("IP")) scale = 25.4;
      } else {
        number = number_of(one);
      }
    }
    if (!(number > 0)) throw Error("the feed must be above 0");
    feed_ = number * scale * (a_turn ? rpm_ : 1);
  }

  void go(const Record& record) {
    const Vec3 given =
        scale_ * Vec3(number_of(value(record, 0)), number_of(value(record, 1)), number_of(value(record, 2)));
    if (record.values.size() > 3 && record.word != "GODLTA") upright(record, 3);
    const bool rapid = std::exchange(rapid_, false);
    if (record.word == "FROM") return void(at_ = given);
    if (tool_ < 0) throw Error("a move before a tool is loaded (LOADTL)");
    if (record.word == "GODLTA" && !at_) throw Error("GODLTA from a place that is not known");
    const Vec3 to = record.word == "GODLTA" ? Vec3(*at_ + given) : given;
    if (!rapid && !(feed_ > 0)) throw Error("a move without a feed (FEDRAT)");
    if (!rapid && !spindle_on_) throw Error("a move at feed while the spindle stands still (SPINDL)");
    if (!at_ && !rapid) throw Error("the first move of a tool must be a rapid: where it starts is not known");
    add(at_.value_or(to), to, rapid, !at_);
    at_ = to;
  }

  void add(const Vec3& from, const Vec3& to, bool rapid, bool after_change) {
    if (!named_) {
      program_.operations.push_back({0, "T" + std::to_string(tool_)});
      named_ = true;
    }
    std::vector<SpindleUse>& uses = program_.spindle;
    if (!rapid && (uses.empty() || uses.back().tool != tool_ || uses.back().rpm != rpm_ ||
                   uses.back().coolant != coolant_))
      uses.push_back({line_, tool_, rpm_, coolant_, program_.moves.size()});
    const auto operation = static_cast<std::int32_t>(program_.operations.size()) - 1;
    program_.moves.push_back({from, to, rapid ? 0.0 : feed_, line_, tool_, operation});
    program_.moves.back().after_change = after_change;
  }

  detail::Problems problems_;
  Program program_;
  std::int32_t line_ = 0, tool_ = -1;
  std::optional<Vec3> at_;
  double feed_ = 0, rpm_ = 0, scale_ = 1;
  bool rapid_ = false, spindle_on_ = false, coolant_ = false, named_ = false, named_by_comment_ = false,
       ended_ = false;
};

}  // namespace

bool is_cl_data(std::string_view text) {
  constexpr const char* kFirstWords[] = {"PARTNO", "UNITS/", "PPRINT", "REMARK", "MACHIN",
                                         "LOADTL", "MULTAX", "CUTTER", "TLAXIS"};
  for (std::size_t at = 0; at < text.size();) {
    const std::size_t end = std::min(text.find('\n', at), text.size());
    const std::string line = capitals(text.substr(at, end - at));
    at = end + 1;
    if (line.empty() || line.starts_with("$$")) continue;
    return std::any_of(std::begin(kFirstWords), std::end(kFirstWords),
                       [&](const char* word) { return line.starts_with(word); });
  }
  return false;
}

Program read_cl_data(std::string_view text, const std::string& name) {
  Program program = Reader(name).run(text);
  program.come_down_from(kChangeHeight);
  return program;
}

}  // namespace yardpass
