// Keys of curves that are made from numbers, letters or other curves.
#pragma once

#include "yardpass/job/job_file.h"
#include "yardpass/keys/keys.h"

namespace yardpass::detail {

/// Patterns of curves by numbers.
void made_keys(CurveJob& curve, Keys& keys);
/// Text, which becomes strokes when the job is set up.
void text_keys(CurveJob& curve, Keys& keys);
/// Steps that make more curves of those there are.
void copy_keys(CurveEdit& edit, Keys& keys);

}  // namespace yardpass::detail
