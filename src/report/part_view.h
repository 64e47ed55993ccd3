// A part seen from a direction, pixel by pixel.
#pragma once

#include "report/canvas.h"
#include "yardpass/geom/mesh.h"

namespace yardpass::detail {

class PartView {
 public:
  /// Parallel projection into a frame of the page. `elevation_deg` 90: from above with X to the right and Y
  /// up; less: from that height over the horizon, after walking round the part by `azimuth_deg` (0: from -Y,
  /// counter-clockwise seen from above).
  /// `also`: what is to be in sight besides the mesh.
  PartView(const Mesh& mesh, const Frame& frame, double azimuth_deg, double elevation_deg,
           const Box3& also = Box3());
  /// From above, of just this box in plan; what lies beside it is cut off.
  PartView(const Mesh& mesh, const Frame& frame, const Box2& seen);

  [[nodiscard]] int width() const { return width_; }
  [[nodiscard]] int height() const { return height_; }
  [[nodiscard]] const Frame& frame() const { return frame_; }
  /// Of the pixel in column i from the left and row j from the top; -1 where there is no part.
  [[nodiscard]] std::int32_t triangle(int i, int j) const { return triangle_[index(i, j)]; }
  /// The place of the part in the middle of the pixel.
  [[nodiscard]] Vec3 place(int i, int j) const;
  /// How bright a triangle is under a lamp at the viewer's upper left, 0.35 to 1.
  [[nodiscard]] double light(std::int32_t triangle) const;
  [[nodiscard]] Vec2 to_page(const Vec3& p) const { return plan_.to_page(flat(p)); }
  /// Maps the two directions across the view, in mm; from above these are X and Y.
  [[nodiscard]] const PlanView& plan() const { return plan_; }

  /// Whether a place is in sight: nothing of the part is nearer by more than two pixels.
  [[nodiscard]] bool sees(const Vec3& p) const;
  /// Adds the visible pieces of a line to the canvas' way.
  void trace(Canvas& canvas, const Vec3& a, const Vec3& b) const;
  /// Marks the pixels of a line that is not hidden.
  void mark_line(const Vec3& a, const Vec3& b, std::vector<std::uint8_t>& marks) const;

  /// Paints `colour_of(i, j)` on every pixel that shows the part.
  template <typename ColourOf>
  void paint(Canvas& canvas, const ColourOf& colour_of) const {
    canvas.paint(frame_, [&](const Vec2& p) {
      const int i = static_cast<int>(p.x() - frame_.left), j = static_cast<int>(p.y() - frame_.top);
      return triangle(i, j) < 0 ? Colour{1, 1, 1} : colour_of(i, j);
    });
  }
  [[nodiscard]] std::size_t index(int i, int j) const {
    return static_cast<std::size_t>(j) * static_cast<std::size_t>(width_) + static_cast<std::size_t>(i);
  }

 private:
  [[nodiscard]] Vec2 flat(const Vec3& p) const { return {p.dot(right_), p.dot(up_)}; }
  void draw();
  void draw(std::int32_t triangle);

  const Mesh& mesh_;
  Vec3 right_, up_, towards_;  // towards: from the part to the viewer
  PlanView plan_;
  Frame frame_;
  int width_, height_;
  std::vector<std::int32_t> triangle_;
  std::vector<float> depth_;
};

}  // namespace yardpass::detail
