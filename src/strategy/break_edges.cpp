#include "yardpass/strategy/break_edges.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "geom/parallel_for.h"
#include "yardpass/contact/along_line.h"
#include "yardpass/geom/text.h"

namespace yardpass {

namespace {

constexpr double kShortest = 0.2;  // mm: shorter pieces are no break
constexpr double kAbove = 0.05;    // mm: of the lines that cuts are sunk from, above the part

/// Passes of a rounding whose ridge is no higher, for edges of a right angle.
int passes_for(const EdgeBreakOptions& options, const Tool& tool) {
  const EdgeSection square{Vec3::Zero(), Vec3(0, 1, 0), Vec3(0, 0, 1), Vec3(1, 0, 0)};
  int passes = 2;
  while (passes < 99 &&
         rounded_ridge_mm(square, options.edges.size_mm, 0.5 * tool.diameter_mm, passes) > options.ridge_mm)
    ++passes;
  return passes;
}

void add_lines(const GivenCurves& given, std::vector<Polyline3>& lines) {
  for (const Curve& curve : given.curves) {
    lines.push_back(curve.points);
    if (curve.closed && !curve.points.empty()) lines.back().push_back(curve.points.front());
  }
  // Names without a curve mean no edge, not all of them.
  if (given.given() && lines.empty()) lines.emplace_back();
}

EdgeBreak wanted_of(const EdgeBreakOptions& options, const Tool& tool) {
  EdgeBreak wanted = options.edges;
  add_lines(options.along, wanted.along), add_lines(options.leave_out_along, wanted.not_along);
  if (!options.rounded)
    wanted.rounding_passes = 0;
  else if (wanted.rounding_passes == 0)
    wanted.rounding_passes = passes_for(options, tool);
  return wanted;
}

/// A piece of a way that is free of all that a break must not touch.
struct Piece {
  Polyline3 points;
  bool whole = false;  ///< all of its way
};

/// What is left of a way.
struct Blocked {
  double length_mm = 0;
  double longest_mm = 0;
  Vec3 at = Vec3::Zero();  ///< in the middle of the longest stretch within one of its segments
  std::vector<Polyline3> lines = {};
  void see(const Vec3& a, const Vec3& b) {
    const double own = (b - a).norm();
    length_mm += own;
    if (!lines.empty() && lines.back().back() == a)
      lines.back().push_back(b);
    else
      lines.push_back({a, b});
    if (own > longest_mm) longest_mm = own, at = 0.5 * (a + b);
  }
};

/// Faces that bend are met a little by a ball that runs into them: it stays off them.
void lift_off(const TipSurface& rest, Polyline3& way) {
  constexpr double kMost = 0.03, kOff = 0.0005;  // mm
  for (Vec3& p : way) {
    const double z = rest.height(plan(p)) + kOff;
    if (z > p.z() && z < p.z() + kMost) p.z() = z;
  }
}

/// The free pieces of a way; of a closed one the last may go on over its start.
std::vector<Piece> free_of(const TipSurface& rest, const Polyline3& way, bool closed, Blocked& blocked) {
  const std::size_t segments = closed ? way.size() : way.size() - 1;
  std::vector<Piece> pieces;
  bool open = false;  // the last piece goes on
  for (std::size_t i = 0; i < segments; ++i) {
    const Vec3 &a = way[i], &b = way[(i + 1) % way.size()];
    bool goes_on = false;
    double before = 0;
    for (const LinePiece& free : free_pieces(rest, a, b)) {
      const Vec3 from = a + free.from * (b - a), to = a + free.to * (b - a);
      if (free.from > before) blocked.see(a + before * (b - a), from);
      before = free.to;
      if (open && free.from <= 0)
        pieces.back().points.push_back(to);
      else
        pieces.push_back({{from, to}});
      goes_on = free.to >= 1;
      open = false;
    }
    if (before < 1) blocked.see(a + before * (b - a), b);
    open = goes_on;
  }
  if (pieces.size() == 1 && blocked.length_mm < 1e-9) pieces.front().whole = true;
  // Of a closed way the last piece may go on in the first.
  if (closed && pieces.size() > 1 && open && pieces.front().points.front() == way.front()) {
    Polyline3& last = pieces.back().points;
    last.insert(last.end(), pieces.front().points.begin() + 1, pieces.front().points.end());
    pieces.erase(pieces.begin());
  }
  return pieces;
}

/// On over the start by so much.
void overlap(Polyline3& line, double way_mm) {
  for (std::size_t i = 1; i < line.size() && way_mm > 0; ++i) {
    const Vec3 step = line[i] - line[i - 1];
    const double long_mm = step.norm();
    line.push_back(long_mm > way_mm ? Vec3(line[i - 1] + way_mm / long_mm * step) : line[i]);
    way_mm -= long_mm;
  }
}

bool is_free(const TipSurface& surface, const Polyline3& line, double higher) {
  for (std::size_t i = 0; i + 1 < line.size(); ++i)
    if (surface.clearance(line[i] + Vec3(0, 0, higher), line[i + 1] + Vec3(0, 0, higher)).room < 0)
      return false;
  return true;
}

/// How much higher a way must run to be free of the part.
double free_above(const TipSurface& surface, const Polyline3& line) {
  double higher = 0;
  for (const Vec3& p : line) higher = std::max(higher, surface.height(plan(p)) - p.z());
  higher += kAbove;
  for (int k = 0; k < 60 && !is_free(surface, line, higher); ++k) higher += kAbove;
  return higher;
}

void tell_left(const std::vector<LeftEdge>& left, std::vector<Note>& notes) {
  std::map<EdgeLeft, std::vector<const LeftEdge*>> by_reason;
  for (const LeftEdge& one : left) by_reason[one.why].push_back(&one);
  for (const auto& [why, edges] : by_reason) {
    double length = 0;
    const LeftEdge* longest = edges.front();
    for (const LeftEdge* one : edges) {
      length += one->length_mm;
      if (one->length_mm > longest->length_mm) longest = one;
    }
    notes.push_back({"left out",
                     "{} of edges are left out, in " + std::to_string(edges.size()) +
                         (edges.size() == 1 ? " piece: " : " pieces: ") + words_of(why) +
                         "; the longest, of edge " + std::to_string(longest->number) + ", at {}",
                     {length_of(length), place_at(longest->at.x(), longest->at.y(), longest->at.z())}});
  }
}

struct EdgeCuts {
  std::vector<Cut> cuts;
  std::vector<double> higher;
  std::vector<LeftEdge> left;
};

/// All passes of an edge, as far as nothing is in their way.
EdgeCuts cuts_along(const BrokenEdge& edge, const EdgeBreakOptions& options, const TipSurface& surface,
                    const TipSurface& rest) {
  EdgeCuts made;
  for (Polyline3 way : edge.ways) {
    if (options.rounded) lift_off(rest, way);
    Blocked blocked;
    std::vector<Piece> pieces = free_of(rest, way, edge.closed, blocked);
    if (blocked.length_mm > kShortest)
      made.left.push_back(
          {edge.number_at(blocked.at), EdgeLeft::blocked, blocked.length_mm, blocked.at, blocked.lines});
    for (Piece& piece : pieces) {
      if (length(std::span<const Vec3>(piece.points)) < kShortest) continue;
      if (piece.whole && edge.closed) overlap(piece.points, 2 * options.edges.size_mm);
      const double higher = free_above(surface, piece.points);
      for (Vec3& p : piece.points) p.z() += higher;
      made.cuts.push_back({std::move(piece.points)});
      made.higher.push_back(higher);
    }
  }
  return made;
}

void which_edges(EdgeBreakOptions& options, Keys& keys) {
  EdgeBreak& edges = options.edges;
  keys.number("edge_angle", edges.least_turn_deg, {25, "as edges are counted"},
              {.says = "edges at which the faces turn by less are none; with another angle edges have other "
                       "numbers",
               .usual = "25",
               .unit = Unit::degrees,
               .low = 5,
               .high = 170});
  keys.number("least_edge", edges.least_length_mm, {1, "1 mm"},
              {.says = "shorter edges are left alone", .usual = "1", .low = 0, .high = 1e5});
  keys.number("steepest", edges.steepest_deg, {60, "upright edges are left alone"},
              {.says = "pieces that climb more steeply are left alone, and counted",
               .usual = "60",
               .unit = Unit::degrees,
               .low = 0,
               .high = 85});
  keys.counts("edges", edges.only,
              {.says = "only these, by their numbers in `inspect`", .usual = "all outer edges"});
  keys.counts("leave_out", edges.leave, {.says = "not these", .usual = "none"});
  keys.curves("along", options.along,
              {.says = "only these, and those of `edges`: what runs along curves in space, within 0.05 mm",
               .usual = "all outer edges"});
  keys.curves("leave_out_along", options.leave_out_along,
              {.says = "not what runs along these", .usual = "none"});
  constexpr std::pair<bool, const char*> corners[] = {{true, "round"}, {false, "end"}};
  keys.choice("corners", edges.round_corners, corners, true, "in one go",
              {.says = "where two edges meet: the cutter goes on round the corner, or each edge ends there",
               .usual = "`\"round\"`"});
  keys.number("flank_margin", edges.margin_mm, {0.2, "0.2 mm"},
              {.says = "of a chamfer cutter: how far the cut stays above the lower end of its flank",
               .usual = "0.2",
               .low = 0,
               .high = 50});
}

}  // namespace

void keys_of(EdgeBreakOptions& options, const Tool& tool, Keys& keys) {
  EdgeBreak& edges = options.edges;
  keys.number("size", edges.size_mm, {0.5, "0.5 mm"},
              {.says = "of the break: its width, its leg, or the radius of rounded ones",
               .usual = "0.5",
               .low = 0.02,
               .high = 50});
  constexpr std::pair<bool, const char*> measured[] = {{false, "across"}, {true, "down-wall"}};
  keys.choice("measured", edges.down_wall, measured, false, "from face to face",
              {.says = "across the flat, or down the steeper of the two faces", .usual = "`\"across\"`"});
  constexpr std::pair<bool, const char*> forms[] = {{false, "flat"}, {true, "rounded"}};
  keys.choice("form", options.rounded, forms, false, "in one pass",
              {.says = "one pass, or a rounding in several", .usual = "`\"flat\"`"});
  keys.whole("passes", edges.rounding_passes, 0,
             {.says = "of a rounding; 0: as many as `ridge` asks for on edges of a right angle",
              .usual = "0",
              .unit = Unit::none,
              .low = 0,
              .high = 99,
              .belongs_to = "form"});
  keys.number("ridge", options.ridge_mm, {0.01, "0.01 mm"},
              {.says = "that the passes of a rounding may leave above it",
               .usual = "0.01",
               .low = 0,
               .high = 1,
               .above_low = true,
               .belongs_to = "form"});
  constexpr std::pair<bool, const char*> ways[] = {{false, "climb"}, {true, "conventional"}};
  keys.choice("direction", edges.conventional, ways, false, "finishing",
              {.says = "with which side the cutter meets the edge", .usual = "`\"climb\"`"});
  which_edges(options, keys);
  const bool ball = tool.shape == Shape::ball || tool.shape == Shape::lollipop;
  keys.refuse_if(!ball && tool.shape != Shape::chamfer, {},
                 "\"edge-break\" needs a cutter of the shape ball, chamfer or lollipop; this one is a " +
                     std::string(name_of(tool.shape)));
  keys.refuse_if(options.rounded && !ball, {"form"}, "\"rounded\" needs a ball or a lollipop");
  keys.refuse_if(edges.rounding_passes == 1, {"passes"}, "must be 0 or at least 2: from face to face");
  keys.idle_if(!options.rounded, "passes", "a flat takes one");
  keys.idle_if(!options.rounded, "ridge", "a flat leaves none");
  keys.idle_if(options.rounded, "measured", "a rounding is measured by its radius");
  keys.idle_if(ball, "flank_margin", "a ball has no flank");
}

Usual usual_of(const EdgeBreakOptions&, const Tool&) {
  Usual usual{{0, "finish to size"}, {0.002, "0.002 mm"}};
  usual.tells_spacing = false;
  usual.sinks = true;
  usual.along_walls = true;
  usual.repeats = false;
  usual.spread = Spread::along_lines;
  return usual;
}

IntendedCuts intended_of(const EdgeBreakOptions& options, const Tool& tool,
                         const std::shared_ptr<const ContactPart>& part) {
  IntendedCuts intended;
  intended.depth_mm = 4 * options.edges.size_mm;
  if (!part) return intended;
  constexpr double kStep = 0.05, kRounding = 0.002;  // mm
  BrokenEdges broken = broken_edges(part->mesh(), wanted_of(options, tool), tool);
  const TipSurface surface(part, profile_of(completed(tool)));
  intended.edges.size_mm = options.edges.size_mm;
  intended.edges.measure = options.rounded           ? BreakMeasure::radius
                           : options.edges.down_wall ? BreakMeasure::steeper_leg
                                                     : BreakMeasure::width;
  std::vector<const Polyline3*> ways;
  std::vector<std::uint8_t> closed;
  for (const BrokenEdge& edge : broken.edges) {
    intended.edges.edges.insert(intended.edges.edges.end(), edge.measured.begin(), edge.measured.end());
    for (const Polyline3& way : edge.ways) ways.push_back(&way), closed.push_back(edge.closed);
  }
  intended.along.resize(ways.size());
  detail::parallel_for(ways.size(), [&](std::size_t k) {
    DepthLine& line = intended.along[k];
    line.closed = closed[k] != 0;
    const Polyline3& way = *ways[k];
    for (std::size_t i = 0; i < way.size(); ++i) {
      const bool last = i + 1 == way.size() && !line.closed;
      const Vec3 step = last ? Vec3(Vec3::Zero()) : Vec3(way[(i + 1) % way.size()] - way[i]);
      const int steps = last ? 1 : std::max(1, static_cast<int>(std::ceil(step.norm() / kStep)));
      for (int n = 0; n < steps; ++n) {
        const Vec3 p = way[i] + static_cast<double>(n) / steps * step;
        line.points.push_back(plan(p));
        // Beside steep faces a little to the side is much straight down.
        const Vec2 across = kRounding * Vec2(-step.y(), step.x()) / std::max(plan(step).norm(), 1e-12);
        double touch = surface.height(plan(p));
        for (const Vec2& beside : {Vec2(plan(p) + across), Vec2(plan(p) - across)})
          touch = std::max(touch, surface.height(beside));
        line.depth_mm.push_back(std::max(0.0, touch - p.z()) + kRounding);
      }
    }
    // Between two places it may be a little more than at both.
    const std::vector<double> at = line.depth_mm;
    for (std::size_t i = 0; i < at.size(); ++i) {
      const bool first = i == 0 && !line.closed, last = i + 1 == at.size() && !line.closed;
      line.depth_mm[i] = std::max(
          {at[i], first ? 0.0 : at[(i + at.size() - 1) % at.size()], last ? 0.0 : at[(i + 1) % at.size()]});
    }
  });
  intended.keeps_off = std::move(broken.rest);
  return intended;
}

CutPlan cuts_of(const EdgeBreakOptions& options, const Site& site, const Progress& progress) {
  const Tool& tool = site.surface.tool();
  BrokenEdges broken = broken_edges(site.surface.part().mesh(), wanted_of(options, tool), tool);
  std::vector<EdgeCuts> made(broken.edges.size());
  if (!broken.edges.empty()) {
    const ToolSurface rest(make_contact_part(broken.rest), tool, {}, std::nullopt);
    detail::parallel_for(broken.edges.size(), progress, [&](std::size_t k) {
      made[k] = cuts_along(broken.edges[k], options, site.surface, rest);
    });
  }
  CutPlan plan;
  plan.keep_group_order = false;
  double broken_mm = 0;
  std::int64_t edges = 0;
  for (std::size_t k = 0; k < made.size(); ++k) {
    EdgeCuts& one = made[k];
    broken.left.insert(broken.left.end(), one.left.begin(), one.left.end());
    if (one.cuts.empty()) continue;
    edges += std::ssize(broken.edges[k].measured);
    plan.groups.emplace_back();
    for (std::size_t i = 0; i < one.cuts.size(); ++i) {
      Cut& cut = one.cuts[i];
      DepthLine depths;
      for (const Vec3& p : cut.points)
        depths.points.push_back(yardpass::plan(p)), depths.depth_mm.push_back(one.higher[i]);
      plan.sunk.push_back(std::move(depths));
      cut.pass = static_cast<std::int32_t>(plan.sunk.size());
      broken_mm += length(std::span<const Vec3>(cut.points));
      plan.groups.back().cuts.push_back(std::move(cut));
    }
  }
  plan.facts.push_back({"edges", count_of(edges), "outer ones that are broken, or pieces of them"});
  plan.facts.push_back({"in one go", count_of(std::ssize(plan.groups)), "rows of them, round their corners"});
  if (options.rounded)
    plan.facts.push_back(
        {"passes of each", count_of(wanted_of(options, tool).rounding_passes), "round an edge"});
  plan.facts.push_back({"edge passes", length_of(broken_mm), "along them, in all"});
  tell_left(broken.left, plan.notes);
  if (options.along.given() && plan.empty() && broken.left.empty())
    plan.notes.push_back(
        {"along", "no outer edge of the part runs along the curves of \"along\", within 0.05 mm"});
  for (const LeftEdge& left : broken.left)
    plan.left_alone.insert(plan.left_alone.end(), left.lines.begin(), left.lines.end());
  for (const std::int64_t number : broken.unknown)
    plan.notes.push_back(
        {"edges", "the part has no outer edge {} (`inspect` numbers them)", {count_of(number)}});
  if (plan.empty()) plan.notes.push_back({"nothing", "nothing to cut: no outer edge can be broken"});
  return plan;
}

}  // namespace yardpass
