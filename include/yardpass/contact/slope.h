/// How the tip surface rises.
#pragma once

#include "yardpass/contact/tip_surface.h"

namespace yardpass {

/// The slope of the tip surface at a touch: how much its height changes, a millimetre along X and along Y.
/// For cutters with a sharp rim this does not follow from `Touch::normal`, which is the cutter's own: a flat
/// end that stands on a facet by its rim has a level bottom, but its tip rises as the facet does.
///   on a facet: the facet's slope; over an edge or a corner: by how the place of touch moves along it.
/// Where the surface has a kink or a step the slope is the one of the side that is touched. Undefined in size
/// where it is upright: a touch by the very side of the cutter gives the steepest slope the profile tells
/// (1e16). Exact up to rounding; REQUIRES: `touch` is of this surface and this place.
[[nodiscard]] Vec2 slope_at(const TipSurface& surface, const Vec2& place, const Touch& touch);

/// The unit normal of the tip surface there, upwards.
[[nodiscard]] Vec3 surface_normal(const Vec2& slope);

}  // namespace yardpass
