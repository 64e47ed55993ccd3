#include "report/part_view.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "yardpass/geom/joints.h"

namespace yardpass::detail {

namespace {

struct Axes {
  Vec3 right, up, towards;
};

Axes axes_of(double azimuth_deg, double elevation_deg) {
  const double a = azimuth_deg * std::numbers::pi / 180, e = elevation_deg * std::numbers::pi / 180;
  if (elevation_deg == 90) return {{1, 0, 0}, {0, 1, 0}, {0, 0, 1}};
  const Vec3 right(std::cos(a), std::sin(a), 0), towards_plan(std::sin(a), -std::cos(a), 0);
  const Vec3 towards = std::cos(e) * towards_plan + std::sin(e) * Vec3(0, 0, 1);
  return {right, towards.cross(right), towards};
}

Box2 flat_box(const Mesh& mesh, const Axes& axes, const Box3& also) {
  Box3 box = mesh.box();
  if (!also.isEmpty()) box.extend(also);
  Box2 result;
  for (int k = 0; k < 8; ++k) {
    const Vec3 corner = box.corner(static_cast<Box3::CornerType>(k));
    result.extend(Vec2(corner.dot(axes.right), corner.dot(axes.up)));
  }
  const double pad = 0.02 * std::max(1e-3, result.sizes().maxCoeff());
  return {Vec2(result.min().array() - pad), Vec2(result.max().array() + pad)};
}

}  // namespace

PartView::PartView(const Mesh& mesh, const Frame& frame, double azimuth_deg, double elevation_deg,
                   const Box3& also)
    : mesh_(mesh),
      right_(axes_of(azimuth_deg, elevation_deg).right),
      up_(axes_of(azimuth_deg, elevation_deg).up),
      towards_(axes_of(azimuth_deg, elevation_deg).towards),
      plan_(flat_box(mesh, {right_, up_, towards_}, also), frame),
      frame_(plan_.frame()),
      width_(static_cast<int>(frame_.width)),
      height_(static_cast<int>(frame_.height)) {
  draw();
}

PartView::PartView(const Mesh& mesh, const Frame& frame, const Box2& seen)
    : mesh_(mesh),
      right_(1, 0, 0),
      up_(0, 1, 0),
      towards_(0, 0, 1),
      plan_(seen, frame),
      frame_(plan_.frame()),
      width_(static_cast<int>(frame_.width)),
      height_(static_cast<int>(frame_.height)) {
  draw();
}

void PartView::draw() {
  const auto pixels = static_cast<std::size_t>(width_) * static_cast<std::size_t>(height_);
  triangle_.assign(pixels, -1);
  depth_.assign(pixels, -INFINITY);
  for (std::size_t t = 0; t < mesh_.triangles.size(); ++t) draw(static_cast<std::int32_t>(t));
}

void PartView::draw(std::int32_t triangle) {
  const auto t = static_cast<std::size_t>(triangle);
  Vec2 p[3];
  double d[3];
  for (int k = 0; k < 3; ++k) {
    const Vec3& corner = mesh_.corner(t, k);
    p[k] = to_page(corner) - Vec2(frame_.left, frame_.top);
    d[k] = corner.dot(towards_);
  }
  const double area = cross2(p[1] - p[0], p[2] - p[0]);
  if (area == 0) return;
  const auto first = [](double v) { return static_cast<int>(std::ceil(v - 0.5)); };
  const auto last = [](double v) { return static_cast<int>(std::floor(v - 0.5)); };
  const int left = std::max(0, first(std::min({p[0].x(), p[1].x(), p[2].x()}))),
            right = std::min(width_ - 1, last(std::max({p[0].x(), p[1].x(), p[2].x()}))),
            top = std::max(0, first(std::min({p[0].y(), p[1].y(), p[2].y()}))),
            bottom = std::min(height_ - 1, last(std::max({p[0].y(), p[1].y(), p[2].y()})));
  for (int j = top; j <= bottom; ++j)
    for (int i = left; i <= right; ++i) {
      const Vec2 q(i + 0.5, j + 0.5);
      const double a = cross2(p[1] - q, p[2] - q) / area, b = cross2(p[2] - q, p[0] - q) / area,
                   c = 1 - a - b;
      if (a < 0 || b < 0 || c < 0) continue;
      const auto depth = static_cast<float>(a * d[0] + b * d[1] + c * d[2]);
      if (depth <= depth_[index(i, j)]) continue;
      depth_[index(i, j)] = depth;
      triangle_[index(i, j)] = triangle;
    }
}

Vec3 PartView::place(int i, int j) const {
  const Vec2 across = plan_.to_part({frame_.left + i + 0.5, frame_.top + j + 0.5});
  return across.x() * right_ + across.y() * up_ + static_cast<double>(depth_[index(i, j)]) * towards_;
}

double PartView::light(std::int32_t triangle) const {
  Vec3 normal = unit_normal(mesh_, static_cast<std::size_t>(triangle));
  if (normal.dot(towards_) < 0) normal = -normal;
  const Vec3 lamp = (0.55 * up_ - 0.45 * right_ + 0.70 * towards_).normalized();
  return std::clamp(0.45 + 0.6 * normal.dot(lamp), 0.35, 1.0);
}

bool PartView::sees(const Vec3& p) const {
  const Vec2 at = to_page(p);
  const int i = static_cast<int>(at.x() - frame_.left), j = static_cast<int>(at.y() - frame_.top);
  if (i < 0 || j < 0 || i >= width_ || j >= height_) return true;  // beside the part nothing hides it
  return p.dot(towards_) >= static_cast<double>(depth_[index(i, j)]) - 2 / plan_.scale();
}

void PartView::trace(Canvas& canvas, const Vec3& a, const Vec3& b) const {
  const int steps = 1 + static_cast<int>((to_page(b) - to_page(a)).norm() / 3);
  bool drawing = false;
  for (int k = 0; k <= steps; ++k) {
    const Vec3 p = a + (b - a) * (static_cast<double>(k) / steps);
    if (!sees(p)) {
      drawing = false;
    } else {
      drawing ? canvas.line_to(to_page(p)) : canvas.move_to(to_page(p));
      drawing = true;
    }
  }
}

void PartView::mark_line(const Vec3& a, const Vec3& b, std::vector<std::uint8_t>& marks) const {
  marks.resize(triangle_.size(), 0);
  const Vec2 from = to_page(a), to = to_page(b);
  const int steps = 1 + static_cast<int>(2 * (to - from).norm());
  const double slack = 1.5 / plan_.scale();
  for (int s = 0; s <= steps; ++s) {
    const double share = static_cast<double>(s) / steps;
    const Vec2 at = from + share * (to - from);
    const int i = static_cast<int>(at.x() - frame_.left), j = static_cast<int>(at.y() - frame_.top);
    if (i < 0 || j < 0 || i >= width_ || j >= height_) continue;
    const double depth = (a + share * (b - a)).dot(towards_);
    if (depth >= static_cast<double>(depth_[index(i, j)]) - slack) marks[index(i, j)] = 1;
  }
}

}  // namespace yardpass::detail
