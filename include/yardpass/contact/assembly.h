/// The tool as a whole: cutter, neck and shank, holder.
#pragma once

#include <string>
#include <vector>

#include "yardpass/contact/tip_surface.h"
#include "yardpass/tool/tool.h"

namespace yardpass {

enum class ToolPart { cutter, neck, shank, holder };
[[nodiscard]] const char* name_of(ToolPart part);

/// A body above the cutter: the neck from the end of the flutes up, the shank above it, each section of the
/// holder. One that narrows upwards counts as a cylinder of its lower width.
struct ToolSection {
  double above_tip_mm;  ///< its lower end
  Profile profile;
  ToolPart part;
  int section;  ///< of the holder, from below
};
[[nodiscard]] std::vector<ToolSection> sections_above(const Tool& tool);

/// Distances to keep from the part, on all sides [mm]; at least 0.
struct AssemblyClearance {
  double neck_mm = 0;
  double shank_mm = 0;
  double holder_mm = 0;
};

/// As the tool asks for.
[[nodiscard]] AssemblyClearance clearance_of(const Tool& tool);
[[nodiscard]] double clearance_of(const Tool& tool, ToolPart part);

/// The cutter with what is above it. Each body (the cutter; the neck from the end of the flutes up; the shank
/// above it; each section of the holder) is taken to go on upwards without end, which changes nothing as long
/// as the part is met from above; a body that narrows upwards counts as a cylinder of its lower width. The
/// surface of the assembly is the greatest of the surfaces of its bodies. Immutable; may be asked from many
/// threads.
class AssemblySurface {
 public:
  AssemblySurface(const std::shared_ptr<const ContactPart>& part, const Tool& tool,
                  const AssemblyClearance& clearance = {}, const TipSurfaceOptions& options = {});

  struct AssemblyTouch {
    Touch touch;  ///< height is the one of the tip of the cutter
    ToolPart part = ToolPart::cutter;
    int section = 0;  ///< of the holder, counted from below
  };
  /// The highest touch of any body; of equals the lowest body.
  [[nodiscard]] std::optional<AssemblyTouch> touch(const Vec2& xy) const;

  struct AssemblyRoom {
    Clearance clearance;
    ToolPart part = ToolPart::cutter;
    int section = 0;
  };
  /// The least room of the move of the tip from a to b over all bodies, and which body it is; see
  /// TipSurface::clearance.
  [[nodiscard]] AssemblyRoom clearance(const Vec3& a, const Vec3& b,
                                       double up_to = std::numeric_limits<double>::infinity()) const;

  struct Body {
    TipSurface surface;
    double above_tip_mm;  ///< its lower end, measured from the tip of the cutter
    ToolPart part;
    int section;
  };
  [[nodiscard]] const std::vector<Body>& bodies() const { return bodies_; }

 private:
  std::vector<Body> bodies_;
};

/// The least stick-out (tip to holder) with which the holder, with its clearance, is free of the part along
/// all moves of the tip; at least the flute length. `moves`: a line of tip positions; what lies between them
/// counts.
[[nodiscard]] double least_stickout(const std::shared_ptr<const ContactPart>& part, const Tool& tool,
                                    const std::vector<Vec3>& moves, const AssemblyClearance& clearance = {});

}  // namespace yardpass
