// The fields of types that fingerprints and kept toolpaths are made of.
#pragma once

#include "run/bytes.h"
#include "yardpass/plan/given_curves.h"
#include "yardpass/plan/limits.h"
#include "yardpass/run/plan.h"

// Found by argument-dependent lookup beside the types.
namespace yardpass {

template <typename Io>
void fields(Io& io, Fingerprint& f) {
  io(f.high), io(f.low);
}

template <typename Io>
void fields(Io& io, Corners& corners) {
  io(corners.low), io(corners.high);
}

template <typename Io>
void fields(Io& io, Region& region) {
  io(region.loops);
}

/// What it is called changes nothing.
template <typename Io>
void fields(Io& io, GivenArea& area) {
  io(area.from), io(area.area);
}

template <typename Io>
void fields(Io& io, Curve& curve) {
  io(curve.points), io(curve.closed), io(curve.name), io(curve.layer), io(curve.colour);
}

template <typename Io>
void fields(Io& io, GivenCurves& curves) {
  io(curves.names), io(curves.curves), io(curves.notes);
}

template <typename Io>
void fields(Io& io, HolderSection& section) {
  io(section.length_mm), io(section.lower_diameter_mm), io(section.upper_diameter_mm);
}

template <typename Io>
void fields(Io& io, Profile::OutlinePoint& point) {
  io(point.r_mm), io(point.z_mm), io(point.arc_mm);
}

template <typename Io>
void fields(Io& io, Tool& tool) {
  io(tool.name), io(tool.number), io(tool.shape), io(tool.diameter_mm), io(tool.corner_radius_mm);
  io(tool.taper_angle_deg), io(tool.tip_diameter_mm), io(tool.outline), io(tool.flute_length_mm);
  io(tool.neck_diameter_mm), io(tool.neck_length_mm), io(tool.shank_diameter_mm), io(tool.stickout_mm);
  io(tool.holder), io(tool.neck_clearance_mm), io(tool.shank_clearance_mm), io(tool.holder_clearance_mm);
  io(tool.spindle_rpm), io(tool.feed_mm_min), io(tool.plunge_feed_mm_min), io(tool.ramp_feed_mm_min);
  io(tool.link_feed_mm_min), io(tool.coolant), io(tool.steepest_entry_deg), io(tool.plunge_through_mm);
  io(tool.steepest_within_cuts), io(tool.thickest_cut_mm), io(tool.widest_engagement_deg);
  io(tool.plunge_limit_mm_min);
}

template <typename Io>
void fields(Io& io, GivenTool& tool) {
  io(tool.name), io(tool.tool);
}

template <typename Io>
void fields(Io& io, Quantity& quantity) {
  io(quantity.kind), io(quantity.unit), io(quantity.value), io(quantity.words);
}

template <typename Io>
void fields(Io& io, SettledValue& value) {
  io(value.key), io(value.value), io(value.source);
}

template <typename Io>
void fields(Io& io, Note& note) {
  io(note.about), io(note.says), io(note.values);
}

template <typename Io>
void fields(Io& io, Move& move) {
  io(move.to), io(move.kind), io(move.feed_mm_min), io(move.cut), io(move.arc);
}

template <typename Io>
void fields(Io& io, CutOrigin& origin) {
  io(origin.group), io(origin.pass);
}

template <typename Io>
void fields(Io& io, Arc& arc) {
  io(arc.start), io(arc.end), io(arc.centre), io(arc.turn_rad), io(arc.plane);
}

template <typename Io>
void fields(Io& io, Toolpath& path) {
  io(path.tool), io(path.start), io(path.moves), io(path.cuts), io(path.arcs), io(path.rounding_reserve_mm);
}

template <typename Io>
void fields(Io& io, PathLengths& lengths) {
  io(lengths.cut_mm), io(lengths.ramp_mm), io(lengths.plunge_mm), io(lengths.link_mm), io(lengths.lead_mm);
  io(lengths.rapid_mm), io(lengths.retracts);
}

template <typename Io>
void fields(Io& io, LinkCounts& counts) {
  io(counts.stay_down), io(counts.hops), io(counts.lifts), io(counts.planes), io(counts.leads_wanted);
  io(counts.leads), io(counts.between_s), io(counts.plain_between_s);
}

template <typename Io>
void fields(Io& io, SpacingAt& place) {
  io(place.tip), io(place.mm);
}

template <typename Io>
void fields(Io& io, TrueSpacing& spacing) {
  io(spacing.asked_mm), io(spacing.half_mm), io(spacing.most_mm), io(spacing.greatest_mm), io(spacing.at);
  io(spacing.share_above), io(spacing.places);
}

template <typename Io>
void fields(Io& io, Engagement& engagement) {
  io(engagement.length_mm), io(engagement.mm_by_degree), io(engagement.takes_nothing_mm);
  io(engagement.greatest_deg), io(engagement.greatest_line), io(engagement.greatest_at);
  io(engagement.above_limit_mm), io(engagement.cell_mm);
}

template <typename Io>
void fields(Io& io, LeftStatistics::Within& within) {
  io(within.limit_mm), io(within.share);
}

template <typename Io>
void fields(Io& io, LeftStatistics& left) {
  io(left.area_mm2), io(left.least_mm), io(left.mean_mm), io(left.median_mm), io(left.p95_mm);
  io(left.p99_mm), io(left.greatest_mm), io(left.greatest_at), io(left.within);
}

template <typename Io>
void fields(Io& io, PlannedOperation& planned) {
  io(planned.area), io(planned.path), io(planned.lengths), io(planned.points), io(planned.facts);
  io(planned.notes), io(planned.links), io(planned.spacing), io(planned.fingerprint), io(planned.engagement);
  io(planned.left_after), io(planned.left_alone);
}

}  // namespace yardpass
