#include "report/page/files.h"

// The assembler copies the files into the program as they are: no copy of them in our sources.
#define YARDPASS_FILE(name, path)                                        \
  asm(".section .rodata\n" #name "_begin:\n.incbin \"" path "\"\n" #name \
      "_end:\n.byte 0\n"                                                 \
      ".global " #name "_begin\n.global " #name "_end\n.previous\n");    \
  extern "C" const char name##_begin[], name##_end[]

YARDPASS_FILE(yardpass_three, YARDPASS_THREE_FILE);
YARDPASS_FILE(yardpass_licence, YARDPASS_PAGE_FOLDER "/three-licence.html");
YARDPASS_FILE(yardpass_style, YARDPASS_PAGE_FOLDER "/page.css");
YARDPASS_FILE(yardpass_markup, YARDPASS_PAGE_FOLDER "/view.html");
YARDPASS_FILE(yardpass_data, YARDPASS_PAGE_FOLDER "/data.js");
YARDPASS_FILE(yardpass_camera, YARDPASS_PAGE_FOLDER "/camera.js");
YARDPASS_FILE(yardpass_solids, YARDPASS_PAGE_FOLDER "/solids.js");
YARDPASS_FILE(yardpass_stock, YARDPASS_PAGE_FOLDER "/stock.js");
YARDPASS_FILE(yardpass_way, YARDPASS_PAGE_FOLDER "/way.js");
YARDPASS_FILE(yardpass_pick, YARDPASS_PAGE_FOLDER "/pick.js");
YARDPASS_FILE(yardpass_player, YARDPASS_PAGE_FOLDER "/player.js");
YARDPASS_FILE(yardpass_picked, YARDPASS_PAGE_FOLDER "/picked.js");
YARDPASS_FILE(yardpass_earlier, YARDPASS_PAGE_FOLDER "/earlier.js");
YARDPASS_FILE(yardpass_view, YARDPASS_PAGE_FOLDER "/view.js");

namespace yardpass::detail {

namespace {

std::string_view between(const char* begin, const char* end) {
  return {begin, static_cast<std::size_t>(end - begin)};
}

}  // namespace

std::string_view three_script() { return between(yardpass_three_begin, yardpass_three_end); }
std::string_view three_licence() { return between(yardpass_licence_begin, yardpass_licence_end); }
std::string_view page_style() { return between(yardpass_style_begin, yardpass_style_end); }
std::string_view view_markup() { return between(yardpass_markup_begin, yardpass_markup_end); }

std::vector<std::string_view> view_scripts() {
  return {between(yardpass_data_begin, yardpass_data_end),
          between(yardpass_camera_begin, yardpass_camera_end),
          between(yardpass_solids_begin, yardpass_solids_end),
          between(yardpass_stock_begin, yardpass_stock_end),
          between(yardpass_way_begin, yardpass_way_end),
          between(yardpass_pick_begin, yardpass_pick_end),
          between(yardpass_player_begin, yardpass_player_end),
          between(yardpass_picked_begin, yardpass_picked_end),
          between(yardpass_earlier_begin, yardpass_earlier_end),
          between(yardpass_view_begin, yardpass_view_end)};
}

}  // namespace yardpass::detail
