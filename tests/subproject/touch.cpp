#include "yardpass/contact/tool_surface.h"

int main() {
  yardpass::Mesh plate;
  plate.points = {{-50, -50, 1}, {50, -50, 1}, {0, 70, 1}};
  plate.triangles = {{0, 1, 2}};
  const yardpass::ToolSurface surface(yardpass::make_contact_part(plate), {.diameter_mm = 6}, {},
                                      std::nullopt);
  return surface.height({0, 0}) == 1 ? 0 : 1;
}
