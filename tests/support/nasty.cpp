#include "support/nasty.h"

#include <cmath>
#include <cstdio>

namespace yardpass::testing {

namespace {

void add(Mesh& mesh, const Vec3& a, const Vec3& b, const Vec3& c) {
  const auto first = static_cast<std::int32_t>(mesh.points.size());
  mesh.points.insert(mesh.points.end(), {a, b, c});
  mesh.triangles.push_back({first, first + 1, first + 2});
}

Vec3 point(Rng& rng, double size) {
  return {rng.uniform(-size, size), rng.uniform(-size, size), rng.uniform(-size, size)};
}

void add_soup(Mesh& mesh, Rng& rng, int count, double size) {
  for (int i = 0; i < count; ++i) add(mesh, point(rng, size), point(rng, size), point(rng, size));
}

}  // namespace

const char* nasty_name(int kind) {
  const char* names[kNastyKinds] = {"soup",
                                    "terrain",
                                    "needles",
                                    "no area, repeated, reversed",
                                    "walls",
                                    "one ulp apart",
                                    "far off",
                                    "smaller than the tool",
                                    "flat and coplanar"};
  return names[kind];
}

Mesh box_mesh(const Box3& box) {
  Mesh mesh;
  for (int k = 0; k < 8; ++k)
    mesh.points.emplace_back(k & 1 ? box.max().x() : box.min().x(), k & 2 ? box.max().y() : box.min().y(),
                             k & 4 ? box.max().z() : box.min().z());
  mesh.triangles = {{0, 2, 3}, {0, 3, 1}, {4, 5, 7}, {4, 7, 6}, {0, 1, 5}, {0, 5, 4},
                    {2, 6, 7}, {2, 7, 3}, {0, 4, 6}, {0, 6, 2}, {1, 3, 7}, {1, 7, 5}};
  return mesh;
}

Mesh nasty_part(Rng& rng, int kind) {
  Mesh mesh;
  switch (kind) {
    case 0:
      add_soup(mesh, rng, 10, 6);
      break;
    case 1: {
      const double a = rng.uniform(0.2, 1.5), b = rng.uniform(0.2, 1.5), c = rng.uniform(0, 3);
      mesh = sheet(Box2(Vec2(-6, -6), Vec2(6, 6)), 5, 5,
                   [&](double x, double y) { return 2 * std::sin(a * x + c) * std::cos(b * y) + 0.2 * x; });
      break;
    }
    case 2:
      for (int i = 0; i < 8; ++i) {
        const Vec3 a = point(rng, 6), b = point(rng, 6);
        add(mesh, a, b, 0.5 * (a + b) + 1e-3 * point(rng, 1));
      }
      break;
    case 3: {
      add_soup(mesh, rng, 4, 5);
      const Vec3 a = mesh.points[0], b = mesh.points[1], c = mesh.points[2];
      add(mesh, a, c, b);              // reversed
      add(mesh, a, b, c);              // repeated
      add(mesh, a, a, b);              // two equal corners
      add(mesh, a, 0.5 * (a + b), b);  // in a line
      add(mesh, c, c, c);              // a point
      break;
    }
    case 4: {
      const Vec3 low = point(rng, 3);
      mesh = box_mesh(
          Box3(low, Vec3(low + Vec3(rng.uniform(0.5, 4), rng.uniform(0.5, 4), rng.uniform(0.5, 4)))));
      add(mesh, {-4, 1, -2}, {-4, 1, 3}, {2, 1, 1});  // a fin along X
      break;
    }
    case 5: {
      mesh =
          sheet(Box2(Vec2(-4, -4), Vec2(4, 4)), 3, 3, [](double x, double) { return std::floor(0.5 * x); });
      for (Vec3& p : mesh.points) {
        const int axis = rng.pick(3);
        p[axis] = std::nextafter(p[axis], 1e9);
      }
      break;
    }
    case 6:
      add_soup(mesh, rng, 6, 5);
      for (Vec3& p : mesh.points) p += Vec3(9876.5, -8765.25, 1234.125);
      break;
    case 7:
      add_soup(mesh, rng, 3, 0.3);
      break;
    default: {
      const double z = rng.uniform(-1, 1);
      mesh = sheet(Box2(Vec2(-5, -5), Vec2(5, 5)), 3, 2, [&](double, double) { return z; });
      add(mesh, {-2, -2, z}, {3, 0, z}, {0, 3, z});
      break;
    }
  }
  return mesh;
}

Vec2 aim(Rng& rng, const Mesh& part, double radius) {
  const auto t = static_cast<std::size_t>(rng.pick(static_cast<int>(part.triangles.size())));
  const Vec2 a = plan(part.corner(t, rng.pick(3))), b = plan(part.corner(t, rng.pick(3)));
  const double angle = rng.uniform(0, 6.2831853);
  const Vec2 way(std::cos(angle), std::sin(angle));
  const Vec2 on_edge = a + rng.uniform(0, 1) * (b - a);
  switch (rng.pick(6)) {
    case 0:
      return a;
    case 1:
      return on_edge;
    case 2:
      return a + radius * way;
    case 3:
      return a + Vec2(radius, 0);
    case 4:
      return on_edge + rng.uniform(0, 1.1) * radius * way;
    default:
      return a + rng.uniform(0, 1) * radius * way;
  }
}

std::string to_text(const Mesh& mesh) {
  std::string text;
  for (std::size_t i = 0; i < mesh.triangles.size() && i < 40; ++i) {
    char line[400];
    const Vec3 &a = mesh.corner(i, 0), &b = mesh.corner(i, 1), &c = mesh.corner(i, 2);
    std::snprintf(line, sizeof line, "%zu: (%.17g %.17g %.17g) (%.17g %.17g %.17g) (%.17g %.17g %.17g)\n", i,
                  a.x(), a.y(), a.z(), b.x(), b.y(), b.z(), c.x(), c.y(), c.z());
    text += line;
  }
  return text;
}

}  // namespace yardpass::testing
