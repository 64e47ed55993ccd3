#include "yardpass/lettering/lettering.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <memory>
#include <numbers>

extern "C" {
#include <hersheyfont.h>
}

#include "geom/along_line.h"
#include "yardpass/geom/error.h"

namespace yardpass {

namespace {

constexpr double kCapital = 21;  // units of the letters: height of a capital

struct FontOf {
  LetterStyle style;
  const char* file;
};
constexpr FontOf kFonts[] = {{LetterStyle::plain, "futural"},
                             {LetterStyle::script, "scripts"},
                             {LetterStyle::twin, "futuram"},
                             {LetterStyle::book, "timesr"},
                             {LetterStyle::slanted, "timesi"}};

using Font = std::unique_ptr<hershey_font, decltype(&hershey_font_free)>;

Font font_of(LetterStyle style) {
  const char* file = "";
  for (const FontOf& one : kFonts)
    if (one.style == style) file = one.file;
  Font font(hershey_font_load(file), &hershey_font_free);
  if (!font)
    throw Error(std::string("the letters are not installed: \"") + file +
                "\" of the Debian package hershey-fonts-data");
  return font;
}

/// A sign of UTF-8 text; what is no UTF-8 is taken as Latin-1.
struct Sign {
  char32_t code;
  std::string as_written;
};
std::vector<Sign> signs_of(const std::string& text) {
  std::vector<Sign> signs;
  for (std::size_t i = 0; i < text.size();) {
    const auto byte = [&](std::size_t k) { return static_cast<unsigned char>(text[k]); };
    const unsigned char first = byte(i);
    const std::size_t more = first < 0x80 ? 0 : first >= 0xf0 ? 3 : first >= 0xe0 ? 2 : first >= 0xc0 ? 1 : 9;
    bool valid = more < 9 && i + more < text.size();
    char32_t code = more == 0 ? first : more < 9 ? first & (0x3f >> more) : first;
    for (std::size_t k = 1; valid && k <= more; ++k) {
      valid = (byte(i + k) & 0xc0) == 0x80;
      code = (code << 6) | (byte(i + k) & 0x3f);
    }
    if (!valid) {
      const char low[] = {static_cast<char>(0xc0 | (first >> 6)), static_cast<char>(0x80 | (first & 0x3f))};
      signs.push_back({first, std::string(low, 2)});
      ++i;
      continue;
    }
    signs.push_back({code, text.substr(i, more + 1)});
    i += more + 1;
  }
  return signs;
}

/// Letters with accents, and signs that are written by others.
const std::map<char32_t, const char*>& plain_forms() {
  static const std::map<char32_t, const char*> forms = [] {
    std::map<char32_t, const char*> result{
        {U'ß', "ss"}, {U'Æ', "AE"},  {U'æ', "ae"},     {U'Œ', "OE"}, {U'œ', "oe"}, {U'–', "-"},
        {U'—', "-"},  {U'‘', "'"},   {U'’', "'"},      {U'“', "\""}, {U'”', "\""}, {U'„', "\""},
        {U'×', "x"},  {U'…', "..."}, {U'\u00a0', " "}, {U'Þ', "Th"}, {U'þ', "th"}, {U'ð', "d"}};
    const std::pair<const char*, std::u32string> of_base[] = {
        {"A", U"ÀÁÂÃÄÅĀĂĄ"}, {"a", U"àáâãäåāăą"}, {"C", U"ÇĆČ"},      {"c", U"çćč"},      {"D", U"ĎĐÐ"},
        {"d", U"ďđ"},        {"E", U"ÈÉÊËĒĖĘĚ"},  {"e", U"èéêëēėęě"}, {"G", U"ĞĢ"},       {"g", U"ğģ"},
        {"I", U"ÌÍÎÏĪĮİ"},   {"i", U"ìíîïīįı"},   {"K", U"Ķ"},        {"k", U"ķ"},        {"L", U"ŁĽĻ"},
        {"l", U"łľļ"},       {"N", U"ÑŃŇŅ"},      {"n", U"ñńňņ"},     {"O", U"ÒÓÔÕÖØŌŐ"}, {"o", U"òóôõöøōő"},
        {"R", U"ŘŔ"},        {"r", U"řŕ"},        {"S", U"ŚŠŞȘ"},     {"s", U"śšşș"},     {"T", U"ŤŢȚ"},
        {"t", U"ťţț"},       {"U", U"ÙÚÛÜŪŮŰŲ"},  {"u", U"ùúûüūůűų"}, {"Y", U"ÝŸ"},       {"y", U"ýÿ"},
        {"Z", U"ŹŻŽ"},       {"z", U"źżž"}};
    for (const auto& [base, letters] : of_base)
      for (const char32_t letter : letters) result.emplace(letter, base);
    return result;
  }();
  return forms;
}

/// A letter as it is written: its strokes, in units, from its left edge on the base.
struct Letter {
  std::string name;
  double width = 0;
  std::vector<Polyline2> strokes;
};

class Writer {
 public:
  explicit Writer(LetterStyle style) : font_(font_of(style)) {}

  std::vector<std::vector<Letter>> lines(const std::string& text) {
    std::vector<std::vector<Letter>> all(1);
    for (const Sign& sign : signs_of(text)) {
      if (sign.code == U'\n') {
        all.emplace_back();
      } else if (sign.code < 0x80) {
        if (sign.code >= 0x20) all.back().push_back(letter(static_cast<unsigned char>(sign.code)));
      } else if (const auto form = plain_forms().find(sign.code); form != plain_forms().end()) {
        ++as_[sign.as_written + " written as " + form->second];
        for (const char* c = form->second; *c; ++c)
          all.back().push_back(letter(static_cast<unsigned char>(*c)));
      } else {
        ++missing_[sign.as_written];
      }
    }
    return all;
  }
  [[nodiscard]] std::vector<LetterNote> notes() const {
    std::vector<LetterNote> notes;
    for (const auto& [what, count] : as_) notes.push_back({what, count});
    for (const auto& [sign, count] : missing_) notes.push_back({"left out: there is no " + sign, count});
    return notes;
  }

 private:
  Letter letter(unsigned char sign) {
    const hershey_glyph* glyph = hershey_font_glyph(font_.get(), sign);
    Letter letter{std::string(1, static_cast<char>(sign)), static_cast<double>(glyph->width), {}};
    for (const hershey_path* path = glyph->paths; path; path = path->next) {
      Polyline2 stroke;
      for (int i = 0; i < path->nverts; ++i) {
        const Vec2 p(path->verts[i].x, path->verts[i].y);
        if (stroke.empty() || p != stroke.back()) stroke.push_back(p);
      }
      if (stroke.size() > 1) letter.strokes.push_back(std::move(stroke));
    }
    if (letter.strokes.empty() && sign != ' ') ++missing_[letter.name];
    return letter;
  }
  Font font_;
  std::map<std::string, int> as_, missing_;
};

/// Where letters begin along a line, and how long that is.
struct Row {
  std::vector<double> starts;
  double length = 0;
};
Row row_of(const std::vector<Letter>& letters, double scale_x, double spacing) {
  Row row;
  for (std::size_t i = 0; i < letters.size(); ++i) {
    row.starts.push_back(row.length);
    row.length += letters[i].width * scale_x + (i + 1 < letters.size() ? spacing : 0);
  }
  return row;
}

double before(LetterAlign align, double room) {
  return align == LetterAlign::start ? 0 : align == LetterAlign::middle ? 0.5 * room : room;
}

void check(const LetteringOptions& options) {
  require(options.height_mm > 0, "height_mm", "must be above 0");
  require(options.width > 0, "width", "must be above 0");
}

/// Strokes of a letter with its left lower corner at a place; x runs along `along`.
void write(const Letter& letter, const Vec2& place, const Vec2& along, double scale_x, double scale_y,
           std::vector<Curve>& strokes) {
  const Vec2 up(-along.y(), along.x());
  for (const Polyline2& stroke : letter.strokes) {
    Curve curve;
    curve.name = letter.name;
    for (const Vec2& p : stroke)
      curve.points.push_back(with_z(Vec2(place + p.x() * scale_x * along + p.y() * scale_y * up), 0));
    curve.closed = curve.points.size() > 3 && curve.points.front() == curve.points.back();
    if (curve.closed) curve.points.pop_back();
    strokes.push_back(std::move(curve));
  }
}

}  // namespace

Lettering lettering(const std::string& text, const Vec2& place, const LetteringOptions& options) {
  check(options);
  Writer writer(options.style);
  const std::vector<std::vector<Letter>> lines = writer.lines(text);
  const double scale = options.height_mm / kCapital;
  double scale_x = scale * options.width;
  if (options.fit_mm && !lines.front().empty()) {
    const double letters = row_of(lines.front(), 1, 0).length;
    const double gaps = options.spacing_mm * static_cast<double>(lines.front().size() - 1);
    require(letters > 0 && *options.fit_mm > gaps, "fit_mm", "is too short for the spacing");
    scale_x = (*options.fit_mm - gaps) / letters;
  }
  const double angle = options.angle_deg * std::numbers::pi / 180;
  const Vec2 along(std::cos(angle), std::sin(angle)), up(-along.y(), along.x());
  Lettering result;
  for (std::size_t n = 0; n < lines.size(); ++n) {
    const Row row = row_of(lines[n], scale_x, options.spacing_mm);
    result.length_mm = std::max(result.length_mm, row.length);
    const Vec2 start = place - before(options.align, row.length) * along -
                       static_cast<double>(n) * options.line_share * options.height_mm * up;
    for (std::size_t i = 0; i < lines[n].size(); ++i)
      write(lines[n][i], start + row.starts[i] * along, along, scale_x, scale, result.strokes);
  }
  result.notes = writer.notes();
  return result;
}

Lettering lettering_along(const std::string& text, const Curve& curve, const LetteringOptions& options) {
  check(options);
  require(curve.points.size() > 1, "curve", "must have at least two points");
  Writer writer(options.style);
  std::vector<Letter> letters;
  for (std::vector<Letter>& line : writer.lines(text))
    letters.insert(letters.end(), std::make_move_iterator(line.begin()), std::make_move_iterator(line.end()));
  const double scale = options.height_mm / kCapital, scale_x = scale * options.width;
  const Row row = row_of(letters, scale_x, options.spacing_mm);
  const detail::AlongLine line(in_plan(curve), curve.closed);
  const double start = before(options.align, line.length() - row.length);
  Lettering result;
  result.length_mm = row.length;
  int beyond = 0;
  for (std::size_t i = 0; i < letters.size(); ++i) {
    const double width = letters[i].width * scale_x;
    double middle = start + row.starts[i] + 0.5 * width;
    if (curve.closed) middle = std::fmod(middle + 1e3 * line.length(), line.length());
    if (middle < 0 || middle > line.length()) {
      beyond += !letters[i].strokes.empty();
      continue;
    }
    // The direction of the curve under the whole letter, not of one of its chords.
    const Vec2 from = line.at(std::max(0.0, middle - 0.5 * width)),
               to = line.at(std::min(line.length(), middle + 0.5 * width));
    const Vec2 along = (to - from).norm() > 1e-9 ? Vec2((to - from).normalized()) : Vec2(1, 0);
    write(letters[i], line.at(middle) - 0.5 * width * along, along, scale_x, scale, result.strokes);
  }
  result.notes = writer.notes();
  if (beyond > 0) result.notes.push_back({"left out: the curve is too short", beyond});
  return result;
}

}  // namespace yardpass
