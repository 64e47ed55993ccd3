// The files that are written into every page.
#pragma once

#include <string_view>
#include <vector>

namespace yardpass::detail {

/// The licence of the view's library, as a comment of the page.
[[nodiscard]] std::string_view three_licence();
/// The view's library.
[[nodiscard]] std::string_view three_script();
[[nodiscard]] std::string_view page_style();
/// The markup of the view.
[[nodiscard]] std::string_view view_markup();
/// Our own scripts, in the order in which they need each other.
[[nodiscard]] std::vector<std::string_view> view_scripts();

}  // namespace yardpass::detail
