#include "report/canvas.h"

#include <algorithm>
#include <cmath>
#include <cstring>
#include <numbers>

#include <cairo/cairo-pdf.h>
#include <cairo/cairo-svg.h>
#include <cairo/cairo.h>

#include "geom/write_file.h"
#include "yardpass/geom/error.h"
#include "yardpass/geom/text.h"

namespace yardpass::detail {

Colour hex(unsigned rgb, double alpha) {
  return {((rgb >> 16) & 255) / 255.0, ((rgb >> 8) & 255) / 255.0, (rgb & 255) / 255.0, alpha};
}

PlanView::PlanView(const Box2& box, const Frame& frame) : box_(box) {
  scale_ = std::min(frame.width / box.sizes().x(), frame.height / box.sizes().y());
  left_ = std::round(frame.left + 0.5 * (frame.width - scale_ * box.sizes().x()));
  bottom_ = std::round(frame.top + 0.5 * (frame.height + scale_ * box.sizes().y()));
}

Frame PlanView::frame() const {
  const double height = std::round(scale_ * box_.sizes().y());
  return {left_, bottom_ - height, std::round(scale_ * box_.sizes().x()), height};
}

Canvas::Canvas(int width, int height, Telling told) : telling_(told), width_(width), height_(height) {
  begin_page();
}

Canvas::~Canvas() {
  cairo_destroy(cairo_);
  for (cairo_surface_t* page : pages_) cairo_surface_destroy(page);
}

void Canvas::begin_page() {
  const cairo_rectangle_t all{0, 0, static_cast<double>(width_), static_cast<double>(height_)};
  pages_.push_back(cairo_recording_surface_create(CAIRO_CONTENT_COLOR_ALPHA, &all));
  if (cairo_ != nullptr) cairo_destroy(cairo_);
  cairo_ = cairo_create(pages_.back());
  fill({0, 0, all.width, all.height}, hex(0xffffff));
  cairo_set_line_join(cairo_, CAIRO_LINE_JOIN_ROUND);
}

void Canvas::next_page() {
  draw_stamp();
  begin_page();
}

void Canvas::use(const Colour& c) { cairo_set_source_rgba(cairo_, c.r, c.g, c.b, c.alpha); }

void Canvas::fill(const Frame& frame, const Colour& colour) {
  use(colour);
  cairo_rectangle(cairo_, frame.left, frame.top, frame.width, frame.height);
  cairo_fill(cairo_);
}

void Canvas::outline(const Frame& frame, const Colour& colour, double width) {
  cairo_rectangle(cairo_, frame.left - 0.5, frame.top - 0.5, frame.width + 1, frame.height + 1);
  stroke(colour, width);
}

void Canvas::move_to(const Vec2& p) { cairo_move_to(cairo_, p.x(), p.y()); }
void Canvas::line_to(const Vec2& p) { cairo_line_to(cairo_, p.x(), p.y()); }

void Canvas::stroke(const Colour& colour, double width, Line line) {
  use(colour);
  const double dashes[] = {5, 4}, dots[] = {0, 1.7 * width};
  if (line != Line::solid) cairo_set_dash(cairo_, line == Line::dashed ? dashes : dots, 2, 0);
  if (line == Line::dotted) cairo_set_line_cap(cairo_, CAIRO_LINE_CAP_ROUND);
  cairo_set_line_width(cairo_, width);
  cairo_stroke(cairo_);
  cairo_set_dash(cairo_, nullptr, 0, 0);
  cairo_set_line_cap(cairo_, CAIRO_LINE_CAP_BUTT);
}

void Canvas::stroke_again(const Colour& colour, double width) {
  use(colour);
  cairo_set_line_width(cairo_, width);
  cairo_stroke_preserve(cairo_);
}

void Canvas::disc(const Vec2& centre, double radius, const Colour& colour) {
  use(colour);
  cairo_new_sub_path(cairo_);
  cairo_arc(cairo_, centre.x(), centre.y(), radius, 0, 2 * std::numbers::pi);
  cairo_fill(cairo_);
}

void Canvas::polygon(const std::vector<Vec2>& outline, const Colour& inside, const Colour& rim,
                     double width) {
  for (const Vec2& p : outline) line_to(p);
  cairo_close_path(cairo_);
  use(inside);
  cairo_fill_preserve(cairo_);
  stroke(rim, width);
}

void Canvas::arrow(const Vec2& at, const Vec2& direction, double size, const Colour& colour) {
  const Vec2 ahead = direction.normalized() * size, aside = 0.42 * Vec2(-ahead.y(), ahead.x());
  use(colour);
  move_to(at + 0.5 * ahead);
  line_to(at - 0.5 * ahead + aside);
  line_to(at - 0.5 * ahead - aside);
  cairo_fill(cairo_);
}

void Canvas::circle(const Vec2& centre, double radius, const Colour& colour, double width) {
  cairo_new_sub_path(cairo_);
  cairo_arc(cairo_, centre.x(), centre.y(), radius, 0, 2 * std::numbers::pi);
  stroke(colour, width);
}

double Canvas::text_width(const std::string& words, double size, bool bold) {
  cairo_select_font_face(cairo_, "sans-serif", CAIRO_FONT_SLANT_NORMAL,
                         bold ? CAIRO_FONT_WEIGHT_BOLD : CAIRO_FONT_WEIGHT_NORMAL);
  cairo_set_font_size(cairo_, size);
  cairo_text_extents_t extents;
  cairo_text_extents(cairo_, words.c_str(), &extents);
  return extents.x_advance;
}

std::string Canvas::fitting(std::string words, double size, double width, bool bold) {
  words = one_line(words);
  for (std::size_t most = character_count(words); most > 3 && text_width(words, size, bold) > width; --most)
    words = shortened(words, most);
  return words;
}

double Canvas::fitting_size(const std::string& words, double size, double width, bool bold) {
  return size * std::min(1.0, width / std::max(1.0, text_width(words, size, bold)));
}

std::vector<std::string> Canvas::wrapped(const std::string& words, double size, double width, bool bold) {
  std::vector<std::string> lines{""};
  const std::string all = one_line(words);
  for (std::size_t at = 0; at < all.size();) {
    const std::size_t end = std::min(all.find(' ', at), all.size());
    const std::string word = all.substr(at, end - at);
    std::string& line = lines.back();
    if (!line.empty() && text_width(line + " " + word, size, bold) > width)
      lines.push_back(word);
    else
      line += (line.empty() ? "" : " ") + word;
    at = end + 1;
  }
  for (std::string& line : lines) line = fitting(line, size, width, bold);
  return lines;
}

void Canvas::text(const Vec2& at, const std::string& words, double size, const Colour& colour, Align align,
                  bool bold) {
  const std::string line = one_line(words);
  const double width = text_width(line, size, bold);
  const double shift = align == Align::left ? 0 : align == Align::middle ? 0.5 * width : width;
  use(colour);
  cairo_move_to(cairo_, std::round(at.x() - shift), std::round(at.y()));
  cairo_show_text(cairo_, line.c_str());
  cairo_new_path(cairo_);
}

void Canvas::clip(const Frame& frame) {
  cairo_save(cairo_);
  cairo_rectangle(cairo_, frame.left, frame.top, frame.width, frame.height);
  cairo_clip(cairo_);
}

void Canvas::scale(double times) {
  cairo_save(cairo_);
  cairo_scale(cairo_, times, times);
}

void Canvas::unclip() { cairo_restore(cairo_); }

std::uint32_t Canvas::packed(const Colour& colour) {
  const auto byte = [](double v) {
    return static_cast<std::uint32_t>(std::lround(std::clamp(v, 0.0, 1.0) * 255));
  };
  return byte(colour.r) << 16 | byte(colour.g) << 8 | byte(colour.b);
}

void Canvas::blit(double left, double top, int width, int height, std::vector<std::uint32_t>& pixels) {
  // What is recorded must outlive the pixels of the caller.
  cairo_surface_t* image = cairo_image_surface_create(CAIRO_FORMAT_RGB24, width, height);
  const int stride = cairo_image_surface_get_stride(image);
  for (int row = 0; row < height; ++row)
    std::memcpy(cairo_image_surface_get_data(image) + static_cast<std::ptrdiff_t>(row) * stride,
                pixels.data() + static_cast<std::ptrdiff_t>(row) * width,
                static_cast<std::size_t>(width) * 4);
  cairo_surface_mark_dirty(image);
  cairo_set_source_surface(cairo_, image, left, top);
  cairo_paint(cairo_);
  cairo_surface_destroy(image);
}

/// Across the page, pale enough to see through, and once more in full where nothing hides it.
void Canvas::draw_stamp() {
  if (stamp_.empty()) return;
  const double width = width_, height = height_;
  const double size = std::min(58.0, 58.0 * 0.8 * width / text_width(stamp_, 58, true));
  cairo_save(cairo_);
  cairo_translate(cairo_, 0.42 * width, 0.55 * height);
  cairo_rotate(cairo_, -0.42);
  text({0, 0}, stamp_, size, hex(0xb3261e, 0.33), Align::middle, true);
  cairo_restore(cairo_);
  fill({0, height - 26, width, 26}, hex(0xb3261e));
  text({0.5 * width, height - 8}, stamp_, std::min(15.0, 15.0 * 0.9 * width / text_width(stamp_, 15, true)),
       hex(0xffffff), Align::middle, true);
}

namespace {

cairo_status_t append(void* to, const unsigned char* data, unsigned size) {
  static_cast<std::string*>(to)->append(reinterpret_cast<const char*>(data), size);
  return CAIRO_STATUS_SUCCESS;
}

void draw_on(cairo_surface_t* surface, cairo_surface_t* page) {
  cairo_t* cairo = cairo_create(surface);
  cairo_set_source_surface(cairo, page, 0, 0);
  cairo_paint(cairo);
  cairo_show_page(cairo);
  cairo_destroy(cairo);
}

}  // namespace

void Canvas::save(const std::filesystem::path& file) {
  draw_stamp();
  std::string bytes;
  const std::string form = file.extension().string();
  cairo_surface_t* surface =
      form == ".pdf"   ? cairo_pdf_surface_create_for_stream(append, &bytes, width_, height_)
      : form == ".svg" ? cairo_svg_surface_create_for_stream(append, &bytes, width_, height_)
                       : cairo_image_surface_create(CAIRO_FORMAT_RGB24, width_, height_);
  if (form == ".pdf") {
    // Nothing of the day it was made on: the same work gives the same file.
    cairo_pdf_surface_set_metadata(surface, CAIRO_PDF_METADATA_CREATE_DATE, "2026-01-01T00:00:00Z");
    for (cairo_surface_t* page : pages_) draw_on(surface, page);
  } else {
    draw_on(surface, pages_.back());
  }
  cairo_status_t status = cairo_surface_status(surface);
  if (status == CAIRO_STATUS_SUCCESS && form != ".pdf" && form != ".svg")
    status = cairo_surface_write_to_png_stream(surface, append, &bytes);
  cairo_surface_finish(surface);
  if (status == CAIRO_STATUS_SUCCESS) status = cairo_surface_status(surface);
  cairo_surface_destroy(surface);
  if (status != CAIRO_STATUS_SUCCESS)
    throw Error(file.string() + ": cannot be drawn: " + cairo_status_to_string(status));
  write_file(file, {bytes});
}

}  // namespace yardpass::detail
