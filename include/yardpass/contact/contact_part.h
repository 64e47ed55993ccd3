/// A part made ready for contact questions.
#pragma once

#include <memory>
#include <optional>

#include "yardpass/geom/error.h"
#include "yardpass/geom/mesh.h"

namespace yardpass {

namespace detail {
class TriangleTree;
}

/// A mesh with its index. Immutable, so any number of threads may ask it. Facing, zero-area and repeated
/// triangles do not matter. Coordinates: millimetres, at most 1e6 in size, finite.
class ContactPart {
 public:
  /// `groups`: a number for each triangle, for allowances by group; empty: all are of group 0.
  explicit ContactPart(Mesh mesh, const Progress& progress = {}, std::vector<std::uint8_t> groups = {});
  ~ContactPart();
  ContactPart(const ContactPart&) = delete;
  ContactPart& operator=(const ContactPart&) = delete;

  [[nodiscard]] const Mesh& mesh() const { return mesh_; }
  [[nodiscard]] const Box3& box() const { return box_; }
  [[nodiscard]] std::size_t group(std::int32_t triangle) const {
    return groups_.empty() ? 0 : groups_[static_cast<std::size_t>(triangle)];
  }
  /// Distance in space from p to the nearest point of the mesh, or `at_most_mm` if nothing is nearer.
  [[nodiscard]] double distance(const Vec3& p, double at_most_mm) const;
  /// The nearest point of the mesh; nothing if none is nearer than `at_most_mm`. Of equals the first
  /// triangle.
  struct Nearest {
    Vec3 point;
    double distance_mm;
    std::int32_t triangle;
  };
  [[nodiscard]] std::optional<Nearest> nearest(const Vec3& p, double at_most_mm) const;

  /// Memory held by mesh and index.
  [[nodiscard]] std::size_t bytes() const;

  [[nodiscard]] const detail::TriangleTree& tree() const { return *tree_; }  ///< for this layer only

 private:
  Mesh mesh_;
  Box3 box_;
  std::vector<std::uint8_t> groups_;
  std::unique_ptr<detail::TriangleTree> tree_;
};

[[nodiscard]] std::shared_ptr<const ContactPart> make_contact_part(Mesh mesh, const Progress& progress = {},
                                                                   std::vector<std::uint8_t> groups = {});

}  // namespace yardpass
