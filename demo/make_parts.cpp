// Writes the demo parts as binary STL into the folder given.
#include <cstdio>
#include <filesystem>

#include "parts.h"
#include "yardpass/curve/write_curves.h"
#include "yardpass/part/write_stl.h"

int main(int count, char** words) {
  if (count != 2) {
    std::fprintf(stderr, "usage: make_demo_parts FOLDER\n");
    return 2;
  }
  try {
    const std::filesystem::path folder = words[1];
    yardpass::write_stl(folder / "paddle-blade.stl", yardpass::demo::paddle_blade_mold(),
                        "paddle blade, lower mold half");
    yardpass::write_stl(folder / "fairlead-punch.stl", yardpass::demo::fairlead_punch(), "fairlead punch");
    yardpass::write_stl(folder / "hull-plug.stl", yardpass::demo::hull_plug(), "hull plug");
    yardpass::write_stl(folder / "porthole-ring.stl", yardpass::demo::porthole_ring(), "porthole ring");
    yardpass::write_stl(folder / "name-board.stl", yardpass::demo::name_board(), "name board");
    yardpass::write_stl(folder / "cleat-base.stl", yardpass::demo::cleat_base(), "cleat base");
    yardpass::write_obj_curves(folder / "name-board-lines.obj", yardpass::demo::name_board_drawing());
    yardpass::write_obj_curves(folder / "porthole-ring-lines.obj", yardpass::demo::porthole_ring_drawing());
  } catch (const std::exception& error) {
    std::fprintf(stderr, "make_demo_parts: %s\n", error.what());
    return 2;
  }
}
