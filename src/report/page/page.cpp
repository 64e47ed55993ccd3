#include "report/page/page.h"

#include "report/page/files.h"
#include "report/page/packed.h"
#include "yardpass/geom/text.h"

namespace yardpass::detail {

std::string escaped(const std::string& text) {
  std::string result;
  for (const char c : one_line(text)) {
    switch (c) {
      case '&':
        result += "&amp;";
        break;
      case '<':
        result += "&lt;";
        break;
      case '>':
        result += "&gt;";
        break;
      case '"':
        result += "&quot;";
        break;
      default:
        result += c;
    }
  }
  return result;
}

std::string figures_html(const std::vector<Picture>& pictures) {
  std::string html;
  for (const Picture& picture : pictures) {
    const std::string caption = escaped(picture.caption);
    // A browser shows no PDF as a picture.
    html += picture.file.ends_with(".pdf")
                ? "<p><a href='" + picture.file + "'>" + caption + "</a></p>"
                : "<figure><img src='" + picture.file + "' alt='" + caption + "' loading=lazy><figcaption>" +
                      caption + "</figcaption></figure>";
  }
  return html;
}

namespace {

/// JSON inside a script: nothing in it may end the script.
std::string inside_script(const Json& json) {
  std::string text = json.dump(-1, ' ', false, Json::error_handler_t::replace);
  for (std::size_t at = text.find('<'); at != std::string::npos; at = text.find('<', at))
    text.replace(at, 1, "\\u003c");
  return text;
}

}  // namespace

std::string page(const PageWords& words, const Scene& scene) {
  std::string html =
      "<!doctype html>\n<html lang=en><head><meta charset=utf-8>\n"
      "<meta name=viewport content=\"width=device-width, initial-scale=1\">\n<title>";
  html.append(escaped(words.title)).append("</title>\n<style>").append(page_style());
  html.append("</style></head>\n<body>\n").append(words.head).append(view_markup()).append(words.body);
  html.append("\n<script id=about type=application/json>").append(inside_script(scene.about));
  html.append("</script>\n");
  for (const auto& [name, bytes] : scene.data)
    html.append("<script type=text/plain id=\"data-")
        .append(name)
        .append("\">")
        .append(base64(bytes))
        .append("</script>\n");
  html.append(three_licence());
  html.append("<script>").append(three_script()).append("</script>\n");
  for (const std::string_view script : view_scripts())
    html.append("<script>").append(script).append("</script>\n");
  return html.append("</body></html>\n");
}

}  // namespace yardpass::detail
