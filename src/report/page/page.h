// A page that opens from disk: the view, and what is said beside it.
#pragma once

#include <string>

#include "report/page/scene.h"

namespace yardpass::detail {

struct PageWords {
  std::string title;
  std::string head;  ///< HTML above the view
  std::string body;  ///< HTML below it
};

/// One file with all it needs: no server, no network.
[[nodiscard]] std::string page(const PageWords& words, const Scene& scene);

/// Pictures beside the page, each with its caption.
[[nodiscard]] std::string figures_html(const std::vector<Picture>& pictures);

/// As text between tags or in quotes.
[[nodiscard]] std::string escaped(const std::string& text);

}  // namespace yardpass::detail
