#include "dxf/dxf_pairs.h"

#include <charconv>
#include <set>
#include <vector>

namespace yardpass::detail {

namespace {

struct Pair {
  int code = 0;
  std::string_view value;
  std::size_t line = 0;
};

bool is_real_code(int code) { return (code >= 10 && code <= 59) || (code >= 210 && code <= 239); }
bool is_whole_code(int code) { return (code >= 60 && code <= 79) || (code >= 90 && code <= 99); }

class PairReader {
 public:
  PairReader(const MeshSource& source) : source_(source) {}

  std::optional<Pair> next() {
    std::string_view code;
    do {
      if (at_ >= source_.bytes.size()) return std::nullopt;
      code = line();
    } while (code.empty() && at_ >= source_.bytes.size());
    Pair pair;
    pair.line = line_;
    const auto [end, error] = std::from_chars(code.data(), code.data() + code.size(), pair.code);
    if (code.empty() || error != std::errc() || end != code.data() + code.size())
      fail(line_, "expected a group code (a whole number), found " + quoted(code));
    if (at_ >= source_.bytes.size()) fail(line_, "the file ends after a group code");
    pair.value = line();
    check(pair);
    return pair;
  }
  [[noreturn]] void fail(std::size_t line, const std::string& what) const {
    source_.fail("line " + std::to_string(line) + ": " + what);
  }

 private:
  std::string_view line() {
    const std::size_t end = std::min(source_.bytes.find('\n', at_), source_.bytes.size());
    std::string_view text = source_.bytes.substr(at_, end - at_);
    at_ = end + 1;
    ++line_;
    while (!text.empty() && (text.back() == '\r' || text.back() == ' ' || text.back() == '\t'))
      text.remove_suffix(1);
    while (!text.empty() && (text.front() == ' ' || text.front() == '\t')) text.remove_prefix(1);
    return text;
  }
  void check(const Pair& pair) const {
    if (is_real_code(pair.code)) {
      double value = 0;
      std::string_view text = pair.value;
      if (!text.empty() && text.front() == '+') text.remove_prefix(1);
      const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
      if (text.empty() || error != std::errc() || end != text.data() + text.size() ||
          !(std::abs(value) < 1e15))
        fail(pair.line + 1, "expected a number, found " + quoted(pair.value));
    } else if (is_whole_code(pair.code)) {
      std::int64_t value = 0;
      const auto [end, error] =
          std::from_chars(pair.value.data(), pair.value.data() + pair.value.size(), value);
      if (pair.value.empty() || error != std::errc() || end != pair.value.data() + pair.value.size())
        fail(pair.line + 1, "expected a whole number, found " + quoted(pair.value));
    }
  }
  const MeshSource& source_;
  std::size_t at_ = 0, line_ = 0;
};

class PairFilter {
 public:
  PairFilter(const MeshSource& source, DxfPairs& result, bool with_texts)
      : source_(source), reader_(source), result_(result), with_texts_(with_texts) {}

  void run() {
    bool ended = false;
    while (const auto pair = reader_.next()) {
      if (pair->code == 999) continue;  // a comment
      if (pair->code == 0) {
        flush();
        ended = pair->value == "EOF";
        if (ended) break;
      }
      if (group_.empty() && pair->code != 0)
        reader_.fail(pair->line, "expected group code 0, which begins a section; is this a DXF file?");
      group_.push_back(*pair);
    }
    if (!ended) source_.fail("the file is cut off: it does not end with EOF");
    keep({{0, "EOF"}});
  }

 private:
  /// Decides about all pairs of one section head, table, layer, block or entity.
  void flush() {
    if (group_.empty()) return;
    const std::string_view word = group_.front().value;
    if (word == "SECTION") {
      section_ = group_.size() > 1 && group_[1].code == 2 ? group_[1].value : "";
      header();
    } else if (word == "ENDSEC") {
      if (is_read_section()) keep(group_);
    } else if (section_ == "TABLES") {
      if (word == "LAYER") keep(group_);
    } else if (section_ == "BLOCKS" || section_ == "ENTITIES") {
      entity(std::string(word));
    }
    group_.clear();
  }
  [[nodiscard]] bool is_read_section() const {
    return section_ == "HEADER" || section_ == "TABLES" || section_ == "BLOCKS" || section_ == "ENTITIES";
  }
  void header() {
    if (!is_read_section()) return;
    if (group_.size() < 2) reader_.fail(group_.front().line, "a section without a name");
    keep({group_[0], group_[1]});
    for (std::size_t i = 2; i < group_.size(); ++i)  // of all variables only the unit
      if (group_[i].code == 9 && group_[i].value == "$INSUNITS" && i + 1 < group_.size() &&
          group_[i + 1].code == 70)
        keep({group_[i], group_[i + 1]});
  }
  void entity(const std::string& word) {
    static const std::set<std::string> read{"BLOCK",  "ENDBLK", "LINE",   "LWPOLYLINE", "POLYLINE", "VERTEX",
                                            "SEQEND", "ARC",    "CIRCLE", "ELLIPSE",    "SPLINE",   "INSERT"};
    bool on_paper = false;
    std::int64_t pairs = 0, most = 0;
    for (const Pair& pair : group_) {
      on_paper = on_paper || (pair.code == 67 && pair.value == "1");
      const bool is_count = (word == "LWPOLYLINE" && pair.code == 90) ||
                            (word == "SPLINE" && pair.code >= 71 && pair.code <= 74);
      pairs += is_real_code(pair.code);
      if (is_count) most = std::max<std::int64_t>(most, std::stoll(std::string(pair.value)));
      if (is_count && pair.value.front() == '-') reader_.fail(pair.line + 1, "a count below zero");
    }
    // Room is made by these counts, so they must be true to the order of size.
    if (most > pairs + 16)
      reader_.fail(group_.front().line, word + " says it has " + std::to_string(most) +
                                            " points or knots, but holds " + std::to_string(pairs) +
                                            " numbers");
    const bool is_text = with_texts_ && (word == "TEXT" || word == "MTEXT");
    if (!is_text && !read.contains(word)) {
      ++result_.passed_over[word];
    } else if (on_paper && word != "BLOCK" && word != "ENDBLK") {
      ++result_.on_paper;
    } else {
      keep(group_);
    }
  }
  void keep(const std::vector<Pair>& pairs) {
    for (const Pair& pair : pairs) {
      result_.kept += std::to_string(pair.code);
      result_.kept += '\n';
      result_.kept += pair.value;
      result_.kept += '\n';
    }
  }

  const MeshSource& source_;
  PairReader reader_;
  DxfPairs& result_;
  bool with_texts_;
  std::string section_;
  std::vector<Pair> group_;
};

}  // namespace

DxfPairs::DxfPairs(const MeshSource& source, bool with_texts) {
  if (source.bytes.substr(0, 22).find("Binary DXF") != std::string_view::npos)
    source.fail("this is binary DXF; ASCII DXF can be read");
  PairFilter(source, *this, with_texts).run();
}

}  // namespace yardpass::detail
