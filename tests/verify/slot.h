// A slot in a block: a program, its tool and its stock, for tests of the judge.
#pragma once

#include <algorithm>
#include <cstdio>

#include "support/nasty.h"
#include "yardpass/verify/judge.h"

namespace yardpass::testing {

/// A slot 4 deep along X with a flat of 6, in a block without a part beside it, as G-code.
inline Program slot_program(double depth = 4) {
  char text[400];
  std::snprintf(
      text, sizeof text,
      "%%\nG90 G21 G17 G94 G40 G49 G80 G54\n(operation 1: slot)\nT1 M6\nS5000 M3\nG0 X5 Y10\nG43 H1 "
      "Z20\nG0 Z1\n"
      "G1 Z%.3f F300\nG1 X35 F800\nG0 Z20\nM5\nM30\n%%\n",
      -depth);
  return read_program(text, "slot.nc");
}
struct Slot {
  Tool flat = completed({.name = "flat6",
                         .number = 1,
                         .shape = Shape::flat,
                         .diameter_mm = 6,
                         .flute_length_mm = 10,
                         .stickout_mm = 30,
                         .spindle_rpm = 5000,
                         .feed_mm_min = 800,
                         .steepest_entry_deg = 90});
  Stock block{Box3(Vec3(0, 0, -20), Vec3(40, 20, 0)), 0.1};
  std::shared_ptr<const ContactPart> part =
      make_contact_part(box_mesh(Box3(Vec3(0, 0, -20), Vec3(40, 20, -19))));
};

inline bool has(const Judgement& judgement, FindingKind kind) {
  return std::any_of(judgement.findings.begin(), judgement.findings.end(),
                     [&](const Finding& finding) { return finding.kind == kind; });
}

}  // namespace yardpass::testing
