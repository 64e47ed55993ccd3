#include "dxf/dxf_texts.h"

#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <numbers>

#include "yardpass/lettering/lettering.h"

namespace yardpass::detail {

namespace {

void add_utf8(std::string& text, unsigned long code) {
  if (code < 0x80) {
    text += static_cast<char>(code);
  } else if (code < 0x800) {
    text += static_cast<char>(0xc0 | (code >> 6));
    text += static_cast<char>(0x80 | (code & 0x3f));
  } else if (code < 0x10000) {
    text += static_cast<char>(0xe0 | (code >> 12));
    text += static_cast<char>(0x80 | ((code >> 6) & 0x3f));
    text += static_cast<char>(0x80 | (code & 0x3f));
  }
}

/// Where a text stands: its lines, and how they lie at their place.
struct Standing {
  std::string text;
  Vec3 place;  // in the plane of the entity
  LetteringOptions options;
  double down = 0;  // of the base of the first line below the place, in heights
};

/// What both kinds of text say.
Standing standing_of(const auto& text) {
  Standing standing{plain_text(text.text), Vec3(text.ipx, text.ipy, text.ipz), {}, 0};
  standing.options.height_mm = text.height;
  standing.options.angle_deg = text.angle * 180 / std::numbers::pi;
  return standing;
}

std::vector<Curve> strokes_of(const Standing& standing, const Eigen::Matrix3d& plane, TextNotes& notes) {
  if (!(standing.options.height_mm > 0) || standing.text.empty()) {
    ++notes["TEXT without a height or a letter passed over"];
    return {};
  }
  const double angle = standing.options.angle_deg * std::numbers::pi / 180;
  const Vec2 up(-std::sin(angle), std::cos(angle));
  const Vec2 base = yardpass::plan(standing.place) - standing.down * standing.options.height_mm * up;
  Lettering written = lettering(standing.text, base, standing.options);
  for (const LetterNote& note : written.notes) notes[note.says] += note.count;
  for (Curve& stroke : written.strokes) {
    stroke.name.clear();
    for (Vec3& p : stroke.points) p = plane * Vec3(p.x(), p.y(), standing.place.z());
  }
  return std::move(written.strokes);
}

}  // namespace

std::string plain_text(const std::string& written) {
  std::string text;
  for (std::size_t i = 0; i < written.size(); ++i) {
    const char c = written[i];
    const auto next = [&](std::size_t k) { return i + k < written.size() ? written[i + k] : '\0'; };
    if (c == '{' || c == '}') continue;
    if (c == '%' && next(1) == '%') {
      const char what = next(2);
      if (what == 'd' || what == 'D') add_utf8(text, 0xb0);
      if (what == 'p' || what == 'P') add_utf8(text, 0xb1);
      if (what == 'c' || what == 'C') add_utf8(text, 0xd8);
      if (what == '%') text += '%';
      i += 2;
      continue;
    }
    if (c != '\\') {
      text += c;
      continue;
    }
    const char what = next(1);
    if (what == 'P') {
      text += '\n';
    } else if (what == '~') {
      text += ' ';
    } else if (what == '\\' || what == '{' || what == '}') {
      text += what;
    } else if (what == 'U' && next(2) == '+') {
      add_utf8(text, std::strtoul(written.substr(i + 3, 4).c_str(), nullptr, 16));
      i += 5;
    } else if (std::string("LlOoKkXN").find(what) == std::string::npos) {
      // A format with a value, up to its semicolon.
      const std::size_t end = written.find(';', i);
      if (end == std::string::npos) break;
      i = end;
      continue;
    }
    ++i;
  }
  return text;
}

std::vector<Curve> strokes_of(const DL_TextData& text, const Eigen::Matrix3d& plane, TextNotes& notes) {
  Standing standing = standing_of(text);
  LetteringOptions& options = standing.options;
  if (text.xScaleFactor > 0) options.width = text.xScaleFactor;
  constexpr int kAligned = 3, kMiddle = 4, kFit = 5;
  const Vec3 second(text.apx, text.apy, text.apz);
  if (text.hJustification == kAligned || text.hJustification == kFit) {
    const Vec2 along = plan(second) - plan(standing.place);
    if (along.norm() > 0) {
      options.angle_deg = std::atan2(along.y(), along.x()) * 180 / std::numbers::pi;
      options.fit_mm = along.norm();
    }
  } else if (text.hJustification != 0 || text.vJustification != 0) {
    standing.place = second;
    if (text.hJustification == 1 || text.hJustification == kMiddle) options.align = LetterAlign::middle;
    if (text.hJustification == 2) options.align = LetterAlign::end;
    if (text.vJustification == 1) standing.down = -1.0 / 3;
    if (text.vJustification == 2 || text.hJustification == kMiddle) standing.down = 0.5;
    if (text.vJustification == 3) standing.down = 1;
  }
  return strokes_of(standing, plane, notes);
}

std::vector<Curve> strokes_of(const DL_MTextData& text, const Eigen::Matrix3d& plane, TextNotes& notes) {
  Standing standing = standing_of(text);
  LetteringOptions& options = standing.options;
  if (text.lineSpacingFactor > 0) options.line_share *= text.lineSpacingFactor;
  // Nine places of attachment: top, middle, bottom, each left, centre, right.
  const int at = std::clamp(text.attachmentPoint, 1, 9) - 1;
  options.align = at % 3 == 0 ? LetterAlign::start : at % 3 == 1 ? LetterAlign::middle : LetterAlign::end;
  const auto lines = static_cast<double>(std::count(standing.text.begin(), standing.text.end(), '\n'));
  const double below = lines * options.line_share;
  standing.down = at < 3 ? 1 : at < 6 ? 1 - 0.5 * (1 + below) : -below;
  return strokes_of(standing, plane, notes);
}

}  // namespace yardpass::detail
