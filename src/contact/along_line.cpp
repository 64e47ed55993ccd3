#include "yardpass/contact/along_line.h"

#include <algorithm>
#include <cmath>

#include "contact/ball_ends.h"

namespace yardpass {

namespace {

constexpr double kNarrow = 1e-9;  // [mm]
constexpr double kFlat = 1e-10;   // [mm] less than that above the tip is a mere touch

Vec3 between(const Vec3& a, const Vec3& b, double share) { return a + share * (b - a); }

/// Room of the tip at a share of the move over one triangle.
struct Room {
  const TipSurface& surface;
  std::int32_t triangle, body;
  const Vec3 &a, &b;
  double operator()(double share) const {
    const Vec3 tip = between(a, b, share);
    return tip.z() - surface.height_over(triangle, plan(tip), body);
  }
};

/// Between a place where the triangle stands above the tip and one where it does not: the last one where it
/// does.
double last_met(const Room& room_at, double inside, double outside, double low, double high, double length) {
  // False position with halved weights (Illinois); where nothing is met the room is infinite, so halve there.
  while (std::abs(outside - inside) * length > 0.5 * kNarrow) {
    double share = std::isfinite(high) && high > 0 ? low / (low - high) : 0.5;
    share = std::clamp(share, 0.02, 0.98);
    const double next = inside + share * (outside - inside);
    if (next == inside || next == outside) break;
    const double room = room_at(next);
    if (room < 0) {
      inside = next;
      if (std::isfinite(high)) high *= 0.5;
      low = room;
    } else {
      outside = next;
      low *= 0.5;
      high = room;
    }
  }
  return inside;
}

std::optional<LinePiece> ball_piece(const TipSurface& surface, std::int32_t triangle, std::int32_t body,
                                    const Vec3& a, const Vec3& b, double length, const Room& room_at) {
  const auto t = static_cast<std::size_t>(triangle);
  const Mesh& mesh = surface.part().mesh();
  detail::BallEnds ends(surface.contact_profile(triangle, body).radius(), plan(a),
                        (plan(b) - plan(a)) / length, length, a.z() - surface.contact_lift(triangle, body));
  ends.over(mesh.corner(t, 0), mesh.corner(t, 1), mesh.corner(t, 2));
  if (room_at(0) < 0) ends.take(0);
  if (room_at(1) < 0) ends.take(length);
  if (!(ends.high_ - ends.low_ >= kNarrow)) return std::nullopt;
  const LinePiece piece{ends.low_ / length, ends.high_ / length};
  // On needles rounding can lose an end or bring one too many: then a little outside of it the tip is not
  // free, or a little inside it is.
  const double step = 2 * kNarrow / length;
  const auto is_end = [&](double at, double outwards) {
    const double outside = at + outwards, inside = at - outwards;
    if (outside >= 0 && outside <= 1 && room_at(outside) < -kFlat) return false;
    return inside < piece.from || inside > piece.to || room_at(inside) < kFlat;
  };
  if (!is_end(piece.from, -step) || !is_end(piece.to, step)) return std::nullopt;
  return piece;
}

/// A move that goes straight up or down is free above the one touch that it stands over.
std::vector<LinePiece> upright_pieces(const TipSurface& surface, const Vec3& a, const Vec3& b) {
  const double z = surface.height(plan(a)), rise = b.z() - a.z();
  const bool first = a.z() >= z, last = b.z() >= z;
  if (first && last) return {{0, 1}};
  if (!first && !last) return {};
  const double share = std::clamp((z - a.z()) / rise, 0.0, 1.0);
  return {first ? LinePiece{0, share} : LinePiece{share, 1}};
}

/// What is met: a triangle, by a body of the tool.
struct Met {
  std::int32_t triangle, body;
};

/// Leaps along one move.
class Leaper {
 public:
  Leaper(const TipSurface& surface, const Vec3& a, const Vec3& b)
      : surface_(surface), a_(a), b_(b), length_((plan(b) - plan(a)).norm()), least_(kNarrow / length_) {}

  /// From a place on: the first free one, 1 or more if there is none; the triangles in the way one after the
  /// other.
  [[nodiscard]] double out_of(double share, std::int32_t& near) const {
    while (share < 1) {
      const Vec3 tip = between(a_, b_, share);
      const auto touch = surface_.touch(plan(tip), near);
      if (!touch || touch->height <= tip.z() + kFlat) return share;
      near = touch->triangle;
      share = end_of({touch->triangle, touch->body}, share);
    }
    return share;
  }

  /// From a free place to the first that is not, within [share, last]; `last` if it is free all the way.
  [[nodiscard]] Encounter free_to(double share, double last) const {
    Encounter meeting{last, -1, 0};
    while (meeting.share - share > least_) {
      const Vec3 from = between(a_, b_, share), to = between(a_, b_, meeting.share);
      const Clearance room = surface_.clearance(from, to, 0.0);
      if (room.triangle < 0 || !(room.room < -kFlat)) break;
      const double deepest = share + room.share * (meeting.share - share);
      const double begins = start_of({room.triangle, room.body}, deepest, share);
      meeting.triangle = room.triangle;
      meeting.body = room.body;
      // What meets just at the end of the stretch would be found for ever.
      meeting.share = std::max(share, std::min(begins, meeting.share - 0.5 * least_));
    }
    return meeting;
  }

  /// The far end of a triangle's piece from a place within it, at least a little on.
  [[nodiscard]] double end_of(const Met& met, double share) const {
    return std::max(share + least_, edge(met, share, 1));
  }
  [[nodiscard]] double least() const { return least_; }

 private:
  /// The near end of the piece of a triangle from a place within it, down to a place that is free.
  [[nodiscard]] double start_of(const Met& met, double inside, double least) const {
    return std::min(inside, edge(met, inside, least));
  }
  /// Where a triangle's piece ends on the way from a place within it to another.
  [[nodiscard]] double edge(const Met& met, double inside, double towards) const {
    if (a_.z() == b_.z() && surface_.contact_profile(met.triangle, met.body).is_ball()) {
      const auto piece = piece_over(surface_, met.triangle, a_, b_, met.body);
      if (piece && piece->from <= inside && piece->to >= inside)
        return towards > inside ? piece->to : piece->from;
    }
    const Room room_at{surface_, met.triangle, met.body, a_, b_};
    const double low = room_at(inside), high = room_at(towards);
    if (!(low < 0)) return inside;
    return high < 0 ? towards : last_met(room_at, inside, towards, low, high, length_);
  }

  const TipSurface& surface_;
  const Vec3 &a_, &b_;
  double length_, least_;
};

bool is_upright(const Vec3& a, const Vec3& b) { return plan(a) == plan(b); }

}  // namespace

std::optional<LinePiece> piece_over(const TipSurface& surface, std::int32_t triangle, const Vec3& a,
                                    const Vec3& b, std::int32_t body) {
  const double length = (plan(b) - plan(a)).norm();
  if (!(length > 0)) return std::nullopt;
  // The lowest room of the move over this triangle, and where: from there the room only rises to both sides.
  const Clearance lowest = surface.clearance_over(triangle, a, b, body);
  if (!(lowest.room < -kFlat)) return std::nullopt;
  const Room room_at{surface, triangle, body, a, b};
  if (a.z() == b.z() && surface.contact_profile(triangle, body).is_ball())
    if (const auto piece = ball_piece(surface, triangle, body, a, b, length, room_at)) return piece;
  const auto end = [&](double outside) {
    const double room = room_at(outside);
    return room < 0 ? outside : last_met(room_at, lowest.share, outside, lowest.room, room, length);
  };
  const LinePiece piece{end(0), end(1)};
  if (!((piece.to - piece.from) * length >= kNarrow)) return std::nullopt;
  return piece;
}

std::vector<LinePiece> free_pieces(const TipSurface& surface, const Vec3& a, const Vec3& b,
                                   std::int32_t near_triangle) {
  if (is_upright(a, b)) return upright_pieces(surface, a, b);
  const Leaper leaper(surface, a, b);
  std::vector<LinePiece> pieces;
  double share = 0;
  while (true) {
    share = leaper.out_of(share, near_triangle);
    if (!(share < 1)) break;
    const Encounter end = leaper.free_to(share, 1);
    // Blocked stretches that are too narrow to tell do not part free ones, and free ones that narrow do not
    // count.
    if (end.share - share > 2 * leaper.least()) {
      if (!pieces.empty() && share - pieces.back().to < leaper.least())
        pieces.back().to = end.share;
      else
        pieces.push_back({share, end.share});
    }
    if (end.triangle < 0) break;
    near_triangle = end.triangle;
    share = leaper.end_of({end.triangle, end.body}, end.share);
  }
  return pieces;
}

std::optional<Encounter> first_meeting(const TipSurface& surface, const Vec3& a, const Vec3& b) {
  const auto touch = surface.touch(plan(a));
  if (touch && touch->height > a.z() + kFlat) return Encounter{0, touch->triangle, touch->body};
  if (is_upright(a, b)) {
    if (!touch || b.z() >= touch->height) return std::nullopt;
    return Encounter{(touch->height - a.z()) / (b.z() - a.z()), touch->triangle, touch->body};
  }
  const Encounter meeting = Leaper(surface, a, b).free_to(0, 1);
  return meeting.triangle < 0 ? std::nullopt : std::optional(meeting);
}

std::optional<double> walk_out(const TipSurface& surface, const Vec3& a, const Vec3& b,
                               std::int32_t near_triangle) {
  if (is_upright(a, b)) {
    const auto pieces = upright_pieces(surface, a, b);
    return pieces.empty() ? std::nullopt : std::optional(pieces.front().from);
  }
  const double share = Leaper(surface, a, b).out_of(0, near_triangle);
  if (share < 1) return share;
  return surface.height(plan(b), near_triangle) <= b.z() ? std::optional(1.0) : std::nullopt;
}

Cover covered(const TipSurface& surface, const Vec3& a, const Vec3& b, std::int32_t near_triangle) {
  // Lower by what a touch may be wrong, so that a line that lies on the surface is covered by it.
  const Vec3 from = a - Vec3(0, 0, 2 * kTouchError), to = b - Vec3(0, 0, 2 * kTouchError);
  Cover cover{true, 1, near_triangle};
  if (is_upright(a, b)) {
    const double z = surface.height(plan(a), near_triangle);
    if (std::max(from.z(), to.z()) <= z) return cover;
    const double rise = to.z() - from.z();
    return {false, from.z() > z || rise <= 0 ? 0 : std::clamp((z - from.z()) / rise, 0.0, 1.0),
            near_triangle};
  }
  const Leaper leaper(surface, from, to);
  double share = leaper.out_of(0, cover.triangle);
  if (share < 1) return {false, share, cover.triangle};
  cover.whole = !(surface.height(plan(b), cover.triangle) < to.z());
  return cover;
}

}  // namespace yardpass
