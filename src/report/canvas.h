// Drawing on a page with Cairo.
#pragma once

#include <filesystem>
#include <memory>
#include <string>
#include <vector>

#include "yardpass/geom/vec.h"
#include "yardpass/report/words.h"

typedef struct _cairo cairo_t;
typedef struct _cairo_surface cairo_surface_t;

namespace yardpass::detail {

struct Colour {
  double r, g, b;
  double alpha = 1;
};
[[nodiscard]] Colour hex(unsigned rgb, double alpha = 1);

/// A rectangle of the page in pixels, Y down.
struct Frame {
  double left, top, width, height;
};

/// Maps part coordinates (Y up) into a frame, the whole box visible, same scale both ways.
class PlanView {
 public:
  PlanView(const Box2& box, const Frame& frame);
  [[nodiscard]] Vec2 to_page(const Vec2& p) const {
    return {left_ + (p.x() - box_.min().x()) * scale_, bottom_ - (p.y() - box_.min().y()) * scale_};
  }
  [[nodiscard]] Vec2 to_part(const Vec2& p) const {
    return {box_.min().x() + (p.x() - left_) / scale_, box_.min().y() + (bottom_ - p.y()) / scale_};
  }
  [[nodiscard]] double scale() const { return scale_; }  ///< pixels per millimetre
  [[nodiscard]] Frame frame() const;                     ///< what the box covers
  [[nodiscard]] const Box2& box() const { return box_; }

 private:
  Box2 box_;
  double scale_, left_, bottom_;
};

class Canvas {
 public:
  Canvas(int width, int height, Telling told = Telling());
  ~Canvas();
  Canvas(const Canvas&) = delete;
  Canvas& operator=(const Canvas&) = delete;

  void fill(const Frame& frame, const Colour& colour);
  void outline(const Frame& frame, const Colour& colour, double width = 1);
  /// Lines from move_to to line_to ... are collected and drawn by stroke.
  void move_to(const Vec2& p);
  void line_to(const Vec2& p);
  enum class Line { solid, dashed, dotted };
  void stroke(const Colour& colour, double width, Line line = Line::solid);
  /// Draws what was collected, and keeps it for another stroke on top.
  void stroke_again(const Colour& colour, double width);
  void circle(const Vec2& centre, double radius, const Colour& colour, double width);
  void disc(const Vec2& centre, double radius, const Colour& colour);
  void polygon(const std::vector<Vec2>& outline, const Colour& inside, const Colour& rim, double width);
  /// A filled head that points along a direction of the page.
  void arrow(const Vec2& at, const Vec2& direction, double size, const Colour& colour);
  enum class Align { left, middle, right };
  void text(const Vec2& at, const std::string& words, double size, const Colour& colour,
            Align align = Align::left, bool bold = false);
  [[nodiscard]] double text_width(const std::string& words, double size, bool bold = false);
  /// The words, or as many of their letters as fit.
  [[nodiscard]] std::string fitting(std::string words, double size, double width, bool bold = false);
  /// The size, or a smaller one in which they fit.
  [[nodiscard]] double fitting_size(const std::string& words, double size, double width, bool bold = false);
  /// In lines that fit, broken between words.
  [[nodiscard]] std::vector<std::string> wrapped(const std::string& words, double size, double width,
                                                 bool bold = false);
  void clip(const Frame& frame);
  void unclip();
  /// What follows is drawn so many times as large, until `unscale`.
  void scale(double times);
  void unscale() { unclip(); }
  /// Colours each pixel of the frame by its middle.
  template <typename ColourAt>
  void paint(const Frame& frame, const ColourAt& colour_at) {
    const int width = static_cast<int>(frame.width), height = static_cast<int>(frame.height);
    std::vector<std::uint32_t> pixels(static_cast<std::size_t>(width) * static_cast<std::size_t>(height));
    for (int j = 0; j < height; ++j)
      for (int i = 0; i < width; ++i)
        pixels[static_cast<std::size_t>(j) * static_cast<std::size_t>(width) + static_cast<std::size_t>(i)] =
            packed(colour_at(Vec2(frame.left + i + 0.5, frame.top + j + 0.5)));
    blit(frame.left, frame.top, width, height, pixels);
  }
  /// Begins another page, of the same size; what was drawn so far stays on those before it.
  void next_page();
  /// How numbers are told on this page.
  [[nodiscard]] const Telling& telling() const { return telling_; }
  /// Words that go over each page; to be said before any is finished. Empty: none.
  void stamp(std::string words) { stamp_ = std::move(words); }
  /// As the name ends: .png, .svg (lines and letters stay such), .pdf (all pages). Of the first two only the
  /// last page. Throws Error if it cannot be written.
  void save(const std::filesystem::path& file);

 private:
  Telling telling_;
  static std::uint32_t packed(const Colour& colour);
  void blit(double left, double top, int width, int height, std::vector<std::uint32_t>& pixels);
  void use(const Colour& colour);
  void begin_page();
  void draw_stamp();
  std::string stamp_;
  int width_, height_;
  std::vector<cairo_surface_t*> pages_;  ///< what was drawn, to be drawn again on whatever is wanted
  cairo_t* cairo_ = nullptr;
};

}  // namespace yardpass::detail
