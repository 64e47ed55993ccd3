/// Lettering: text as strokes that a cutter follows. A target of its own (yardpass::lettering), since the
/// library that reads the letters is under the GPL: a program that links this target comes under it too.
///
/// Source of the letters: A. V. Hershey, "Calligraphy for Computers", U. S. Naval Weapons Laboratory, 1967,
/// made at the U. S. National Bureau of Standards; their file format is by J. Hurt.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "yardpass/curve/curve.h"
#include "yardpass/curve/letter_style.h"

namespace yardpass {

struct LetteringOptions {
  LetterStyle style = LetterStyle::plain;
  double height_mm = 5;     ///< of capital letters; REQUIRES: above 0
  double angle_deg = 0;     ///< of the line of text, from X
  double spacing_mm = 0;    ///< added between letters; may be negative
  double width = 1;         ///< of letters, as a share of their usual one; REQUIRES: above 0
  double line_share = 1.6;  ///< from line to line, in heights
  LetterAlign align = LetterAlign::start;
  std::optional<double> fit_mm = {};  ///< letters as wide as makes the first line so long
};

/// "é written as e", "left out: there is no ☃"; and how often.
struct LetterNote {
  std::string says;
  std::int64_t count = 0;
};

struct Lettering {
  /// In the order of writing, at Z 0; each with its letter as its name.
  std::vector<Curve> strokes;
  double length_mm = 0;           ///< of the longest line
  std::vector<LetterNote> notes;  ///< each kind once
};

/// Text in UTF-8, lines parted by "\n", with the base of its first line at a place. Letters that the style
/// lacks are written without their accents, or left out; both are told. Throws Error if an option breaks what
/// it asks for, or the letters are not installed. Safe from many threads.
[[nodiscard]] Lettering lettering(const std::string& text, const Vec2& place,
                                  const LetteringOptions& options = {});
/// One line along a curve, seen from above: each letter stands square to it, on its left. `align` says where
/// along the curve; angle and fit do not count. Letters beyond its ends are left out, with a note.
[[nodiscard]] Lettering lettering_along(const std::string& text, const Curve& curve,
                                        const LetteringOptions& options = {});

}  // namespace yardpass
