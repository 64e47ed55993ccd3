// Questions along a line, against every triangle of the part and against dense touches.
#include "yardpass/contact/along_line.h"

#include <gtest/gtest.h>

#include <cmath>
#include <numbers>

#include "support/nasty.h"
#include "support/plain_cutters.h"
#include "yardpass/contact/push.h"
#include "yardpass/contact/tube.h"

namespace yardpass {
namespace {

using testing::Rng;

/// What `push` leaves over of the line, pieces wider than both may tell.
std::vector<LinePiece> left_over(const std::vector<LinePiece>& blocked, double length) {
  std::vector<LinePiece> free;
  double at = 0;
  for (const LinePiece& piece : blocked) {
    if ((piece.from - at) * length > 3e-9) free.push_back({at, piece.from});
    at = piece.to;
  }
  if ((1 - at) * length > 3e-9) free.push_back({at, 1});
  return free;
}

void expect_same(const std::vector<LinePiece>& pieces, const std::vector<LinePiece>& wanted, double length,
                 const std::string& where) {
  ASSERT_EQ(pieces.size(), wanted.size()) << where;
  for (std::size_t i = 0; i < pieces.size(); ++i) {
    EXPECT_NEAR(pieces[i].from * length, wanted[i].from * length, 4e-9) << where << ", piece " << i;
    EXPECT_NEAR(pieces[i].to * length, wanted[i].to * length, 4e-9) << where << ", piece " << i;
  }
}

/// Whether a hair's breadth beside or above the line the answer is the same. Where the side of the cutter
/// slides along an edge, rounding alone decides what is met.
bool well_posed(const TipSurface& surface, const Vec3& a, const Vec3& b) {
  const double length = (b - a).norm();
  const Vec2 along = (plan(b) - plan(a)).normalized(), aside(-along.y(), along.x());
  const auto blocked = push(surface, plan(a), plan(b), a.z());
  for (const double side : {-1.0, 1.0}) {
    const Vec2 by = side * 2e-9 * aside;
    for (const auto& other :
         {push(surface, plan(a) + by, plan(b) + by, a.z()),
          push(surface, plan(a), plan(b), a.z() + side * 1e-9),
          push(surface, plan(a) + side * 2e-9 * along, plan(b) + side * 2e-9 * along, a.z())}) {
      if (other.size() != blocked.size()) return false;
      for (std::size_t i = 0; i < other.size(); ++i)
        if (std::abs(other[i].from - blocked[i].from) * length > 3e-9 ||
            std::abs(other[i].to - blocked[i].to) * length > 3e-9)
          return false;
    }
  }
  return true;
}

/// A case is nasty part, cutter and line by its seed alone.
struct Case {
  explicit Case(int seed_)
      : seed(seed_),
        rng(static_cast<std::uint64_t>(seed)),
        kind(seed % testing::kNastyKinds),
        mesh(testing::nasty_part(rng, kind)),
        part(make_contact_part(mesh)) {}
  int seed;
  Rng rng;
  int kind;
  Mesh mesh;
  std::shared_ptr<const ContactPart> part;
  [[nodiscard]] std::string where(const std::string& cutter) const {
    return "seed " + std::to_string(seed) + ", " + testing::nasty_name(kind) + ", " + cutter;
  }
  /// A level line that aims at features, at a height near the part's.
  std::pair<Vec3, Vec3> line(double radius) {
    Vec2 a = testing::aim(rng, mesh, radius), b = testing::aim(rng, mesh, radius);
    if ((b - a).norm() < 0.1) b += Vec2(1, 0.5);
    const Box3 box = mesh.box();
    double z = rng.uniform(box.min().z() - 1, box.max().z() + 0.5);
    if (rng.pick(3) == 0)
      z = mesh.points[static_cast<std::size_t>(rng.pick(static_cast<int>(mesh.points.size())))].z();
    return {with_z(a, z), with_z(b, z)};
  }
};

TEST(FreePieces, AreWhatPushLeavesOver) {
  int asked = 0, compared = 0;
  for (int seed = 1; seed <= testing::rounds(400); ++seed) {
    Case one(seed);
    for (const testing::PlainCutter& cutter : testing::every_cutter()) {
      const TipSurface surface(one.part, cutter.profile, {.allowance_mm = one.rng.pick(3) == 0 ? 0.2 : 0.0});
      const auto [a, b] = one.line(cutter.profile.radius());
      const double length = (b - a).norm();
      ++asked;
      if (!well_posed(surface, a, b)) continue;
      ++compared;
      const auto blocked = push(surface, plan(a), plan(b), a.z());
      expect_same(free_pieces(surface, a, b), left_over(blocked, length), length,
                  one.where("radius " + std::to_string(cutter.radius)));
      if (HasFatalFailure()) return;
    }
  }
  EXPECT_GT(compared, 0.6 * asked);
}

TEST(FreePieces, OfSlopingMovesAgreeWithTouches) {
  for (int seed = 1; seed <= testing::rounds(200); ++seed) {
    Case one(seed);
    for (const testing::PlainCutter& cutter : testing::every_cutter()) {
      const TipSurface surface(one.part, cutter.profile);
      auto [a, b] = one.line(cutter.profile.radius());
      b.z() += one.rng.uniform(-3, 3);
      if (!well_posed(surface, a, with_z(plan(b), a.z()))) continue;
      const auto pieces = free_pieces(surface, a, b);
      for (int k = 0; k < 40; ++k) {
        const double share = one.rng.uniform(0, 1);
        const Vec3 tip = a + share * (b - a);
        const double room = tip.z() - surface.height(plan(tip));
        bool told_free = false, near_end = false;
        for (const LinePiece& piece : pieces) {
          told_free |= share >= piece.from && share <= piece.to;
          near_end |=
              std::min(std::abs(share - piece.from), std::abs(share - piece.to)) * (b - a).norm() < 2e-8;
        }
        if (!near_end && std::abs(room) > 1e-7)
          EXPECT_EQ(told_free, room > 0)
              << one.where("radius " + std::to_string(cutter.radius)) << " at " << share;
      }
    }
  }
}

TEST(FirstMeeting, IsTheStartOfTheFirstBlockedPiece) {
  int met = 0;
  for (int seed = 1; seed <= testing::rounds(400); ++seed) {
    Case one(seed);
    for (const testing::PlainCutter& cutter : testing::every_cutter()) {
      const TipSurface surface(one.part, cutter.profile);
      const auto [a, b] = one.line(cutter.profile.radius());
      const double length = (b - a).norm();
      if (!well_posed(surface, a, b)) continue;
      const auto blocked = push(surface, plan(a), plan(b), a.z());
      const auto meeting = first_meeting(surface, a, b);
      const std::string where = one.where("radius " + std::to_string(cutter.radius));
      if (blocked.empty() && meeting) EXPECT_LT(meeting->share * length, 1e-9) << where << ": a mere start";
      if (blocked.empty()) continue;
      ASSERT_TRUE(meeting.has_value()) << where;
      ++met;
      // Blocked at the very start, over less than push tells.
      if (meeting->share == 0 && surface.height(plan(a)) > a.z()) continue;
      ASSERT_NEAR(meeting->share * length, blocked[0].from * length, 4e-9) << where;
      // And the way out of it.
      const Vec3 inside =
          a + std::min(1.0, blocked[0].from + 0.5 * (blocked[0].to - blocked[0].from)) * (b - a);
      const auto out = walk_out(surface, inside, b);
      if (blocked[0].to >= 1) {
        EXPECT_FALSE(out && *out * (b - inside).norm() < (b - inside).norm() - 1e-8) << where;
      } else {
        if (!out) {  // the side of the cutter slides along an edge from there: touches decide
          for (int k = 1; k <= 5; ++k) {
            const Vec3 beyond = a + (blocked[0].to + (1 - blocked[0].to) * k / 5) * (b - a);
            EXPECT_GT(surface.height(plan(beyond)), beyond.z() - 1e-9) << where;
          }
          continue;
        }
        EXPECT_NEAR(*out * (b - inside).norm(), (blocked[0].to * (b - a) - (inside - a)).norm(), 6e-9)
            << where;
      }
    }
  }
  EXPECT_GT(met, 500);
}

TEST(Covered, IsTheDefinitionAlongTheWholeMove) {
  int whole = 0;
  for (int seed = 1; seed <= testing::rounds(300); ++seed) {
    Case one(seed);
    for (const testing::PlainCutter& cutter : testing::every_cutter()) {
      const TipSurface surface(one.part, cutter.profile);
      auto [a, b] = one.line(cutter.profile.radius());
      b = a + (b - a) * one.rng.uniform(0.01, 0.6);
      b.z() += one.rng.uniform(-0.5, 0.5);
      if (one.rng.pick(2) == 0)
        a.z() = surface.height(plan(a)) - 0.01, b.z() = surface.height(plan(b)) - 0.01;
      if (!(std::isfinite(a.z()) && std::isfinite(b.z()))) continue;
      const Cover cover = covered(surface, a, b);
      whole += cover.whole;
      const std::string where = one.where("radius " + std::to_string(cutter.radius));
      for (int k = 0; k <= 50; ++k) {
        const double share = k / 50.0;
        const Vec3 tip = a + share * (b - a);
        const double over = surface.height(plan(tip)) - tip.z();
        if (share < cover.share - 1e-9 || cover.whole) EXPECT_GT(over, -1e-7) << where << " at " << share;
      }
      if (!cover.whole) {
        const Vec3 tip = a + cover.share * (b - a);
        EXPECT_LT(surface.height(plan(tip)) - tip.z(), 1e-6) << where;
      }
    }
  }
  EXPECT_GT(whole, 100);
}

/// A bore of so many flat sides from z 10 down to a floor at 0; `apothem`: from its axis to each side.
Mesh bore(int sides, double apothem, double turn) {
  Mesh mesh;
  const double corner = apothem / std::cos(std::numbers::pi / sides);
  for (int k = 0; k < sides; ++k) {
    const double angle = turn + 2 * std::numbers::pi * k / sides;
    const Vec2 out(std::cos(angle), std::sin(angle));
    for (const Vec3& p : {with_z(corner * out, 0), with_z(corner * out, 10), with_z(3 * corner * out, 10)})
      mesh.points.push_back(p);
  }
  mesh.points.emplace_back(0, 0, 0);
  const std::int32_t n = 3 * sides;
  for (std::int32_t k = 0; k < n; k += 3) {
    const std::int32_t next = (k + 3) % n;
    mesh.triangles.insert(mesh.triangles.end(), {{n, k, next},
                                                 {k, k + 1, next},
                                                 {next, k + 1, next + 1},
                                                 {k + 1, k + 2, next + 1},
                                                 {next + 1, k + 2, next + 2}});
  }
  return mesh;
}

// In a bore the axis is free in the polygon of its sides, each moved inwards by the radius: known in closed
// form, as narrow as the play, and far smaller than any grid.
TEST(FreePieces, FindEveryBoreWithPlay) {
  Rng rng(11);
  const double radius = 3;
  for (const double play : {0.005, 0.02, 0.1, 0.8})
    for (const int sides : {8, 23, 64})
      for (int round = 0; round < testing::rounds(20); ++round) {
        const double turn = rng.uniform(0, 1), inner = play / 2;
        const auto part = make_contact_part(bore(sides, radius + inner, turn));
        // Through the polygon, somewhere and at any angle.
        const double angle = rng.uniform(0, 6.3), off = rng.uniform(-0.9, 0.9) * inner;
        const Vec2 along(std::cos(angle), std::sin(angle)), aside(-along.y(), along.x());
        const Vec3 a = with_z(off * aside - 5 * along, 4), b = with_z(off * aside + 5 * along, 4);
        double from = -5, to = 5;
        for (int k = 0; k < sides; ++k) {
          const double normal = turn + 2 * std::numbers::pi * (k + 0.5) / sides;
          const Vec2 out(std::cos(normal), std::sin(normal));
          const double speed = out.dot(along), room = inner - off * out.dot(aside);
          (speed > 0 ? to : from) = speed > 0 ? std::min(to, room / speed) : std::max(from, room / speed);
        }
        for (const Profile& cutter :
             {Profile::flat(2 * radius), Profile::ball(2 * radius), Profile::bull(2 * radius, 1)}) {
          const TipSurface surface(part, cutter);
          const auto pieces = free_pieces(surface, a, b);
          const std::string where = "play " + std::to_string(play) + ", sides " + std::to_string(sides) +
                                    ", round " + std::to_string(round);
          ASSERT_EQ(pieces.size(), 1u) << where;
          EXPECT_NEAR(pieces[0].from * 10 - 5, from, 2e-8) << where;
          EXPECT_NEAR(pieces[0].to * 10 - 5, to, 2e-8) << where;
          // From inside it is met on both sides, and from the wall the way out is found.
          const Vec3 inside = with_z(plan(a) + (5 + (from + to) / 2) * along, 4);
          for (const auto& [end, at] : {std::pair(a, from), std::pair(b, to)}) {
            const auto meeting = first_meeting(surface, inside, end);
            ASSERT_TRUE(meeting.has_value()) << where;
            const Vec3 met = inside + meeting->share * (end - inside);
            EXPECT_NEAR((plan(met) - off * aside).dot(along), at, 2e-8) << where;
            const auto out = walk_out(surface, end, inside);
            ASSERT_TRUE(out.has_value()) << where;
            const Vec3 free = end + *out * (inside - end);
            EXPECT_NEAR((plan(free) - off * aside).dot(along), at, 2e-8) << where;
          }
        }
      }
}

// Slots at odd angles: strips of freedom that a grid would miss.
TEST(FreePieces, FindEverySlotWithPlay) {
  const double radius = 3;
  for (const double play : {0.005, 0.02, 0.1, 0.8}) {
    for (const double degrees : {0.0, 13.0, 37.0, 61.0}) {
      const double turn = degrees * std::numbers::pi / 180, wide = radius + play / 2;
      // A slot along a direction: two walls of height 10, and a floor at 0.
      const Vec2 along(std::cos(turn), std::sin(turn)), across(-along.y(), along.x());
      Mesh slot;
      const auto quad = [&](const Vec3& p, const Vec3& q, const Vec3& r, const Vec3& s) {
        const auto n = static_cast<std::int32_t>(slot.points.size());
        slot.points.insert(slot.points.end(), {p, q, r, s});
        slot.triangles.push_back({n, n + 1, n + 2}), slot.triangles.push_back({n, n + 2, n + 3});
      };
      const auto at = [&](double x, double y, double z) { return with_z(Vec2(x * along + y * across), z); };
      quad(at(-30, -wide, 0), at(30, -wide, 0), at(30, wide, 0), at(-30, wide, 0));
      for (const double side : {-1.0, 1.0}) {
        quad(at(-30, side * wide, 0), at(30, side * wide, 0), at(30, side * wide, 10),
             at(-30, side * wide, 10));
        quad(at(-30, side * wide, 10), at(30, side * wide, 10), at(30, side * 20, 10),
             at(-30, side * 20, 10));
      }
      const auto part = make_contact_part(slot);
      for (const Profile& cutter :
           {Profile::flat(2 * radius), Profile::ball(2 * radius), Profile::bull(2 * radius, 1)}) {
        const TipSurface surface(part, cutter);
        // Straight across the slot, and at an angle to it.
        for (const double skew : {0.0, 3.0}) {
          const Vec3 a = at(-skew, -15, 4), b = at(skew, 15, 4);
          const auto pieces = free_pieces(surface, a, b);
          ASSERT_EQ(pieces.size(), 1u) << play << " " << degrees;
          EXPECT_NEAR((pieces[0].to - pieces[0].from) * 30, play, 1e-8) << degrees;
          const auto meeting = first_meeting(
              surface, a + pieces[0].from * (b - a) + (pieces[0].to - pieces[0].from) / 2 * (b - a), b);
          ASSERT_TRUE(meeting.has_value());
        }
      }
    }
  }
}

TEST(Tube, HoldsWhatLiesWithinAndNothingElse) {
  const auto part =
      make_contact_part(testing::sheet(Box2(Vec2(-30, -30), Vec2(30, 30)), 120, 120, [](double x, double y) {
        return 4 * std::sin(x / 6 + 0.3) * std::cos(y / 7);
      }));
  Rng rng(7);
  for (const Profile& cutter : {Profile::ball(6), Profile::flat(6), Profile::bull(8, 1.5)}) {
    const TipSurface surface(part, cutter);
    const double tolerance = 0.02;
    const Tube tube(surface, tolerance);
    int held = 0;
    for (int i = 0; i < 400; ++i) {
      const Vec2 p(rng.uniform(-20, 20), rng.uniform(-20, 20)),
          q = p + Vec2(rng.uniform(-0.3, 0.3), rng.uniform(-0.3, 0.3));
      const Vec3 a = with_z(p, tube.middle().height(p)), b = with_z(q, tube.middle().height(q));
      if (tube.holds(a, b)) {
        ++held;
        for (int k = 0; k <= 20; ++k) {
          const Vec3 tip = a + k / 20.0 * (b - a);
          EXPECT_GE(tip.z() - surface.height(plan(tip)), -1e-8);
          EXPECT_LE(room_around(surface, tip, tip, 0.05), tolerance + 1e-6);
        }
      }
      EXPECT_FALSE(tube.holds(a + Vec3(0, 0, 3 * tolerance), b + Vec3(0, 0, 3 * tolerance))) << "floats";
      EXPECT_FALSE(tube.holds(a - Vec3(0, 0, 3 * tolerance), b - Vec3(0, 0, 3 * tolerance))) << "gouges";
      // An arc with the same ends, bulging by a thousandth.
      const Vec2 middle = (p + q) / 2, side(-(q - p).y(), (q - p).x());
      if (side.norm() < 0.05) continue;
      const double half = side.norm() / 2, bulge = 0.001, r = (half * half + bulge * bulge) / (2 * bulge);
      const Arc arc =
          Arc::in_plan(a, middle + (r - bulge) * side.normalized(), 2 * std::asin(half / r), b.z());
      if ((arc.end - b).norm() > 1e-6) continue;
      if (tube.holds(arc))
        for (int k = 0; k <= 20; ++k) {
          const Vec3 tip = arc.at(k / 20.0);
          EXPECT_GE(tip.z() - surface.height(plan(tip)), -1e-8);
          EXPECT_LE(room_around(surface, tip, tip, 0.05), tolerance + 1e-6);
        }
    }
    EXPECT_GT(held, 150) << "the middle of the tube holds short chords";
  }
  EXPECT_THROW(Tube(TipSurface(part, Profile::ball(6)), 1e-4, 1e-4), Error);
}

}  // namespace
}  // namespace yardpass
