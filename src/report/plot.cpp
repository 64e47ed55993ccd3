#include "report/plot.h"

#include <cmath>

#include <fmt/format.h>

#include "yardpass/geom/text.h"

namespace yardpass::detail {

double round_step(double wanted) {
  const double power = std::pow(10, std::floor(std::log10(wanted)));
  for (const double factor : {1.0, 2.0, 5.0})
    if (factor * power >= wanted) return factor * power;
  return 10 * power;
}

std::vector<Frame> draw_axes(Canvas& canvas, const PlanView& view, const char* across, const char* up) {
  const Frame frame = view.frame();
  canvas.outline(frame, kFaint);
  std::vector<Frame> covered;
  const auto write = [&](const Vec2& at, const std::string& words, double most, Canvas::Align align) {
    const double size = canvas.fitting_size(words, 12, most), width = canvas.text_width(words, size);
    canvas.text(at, words, size, kFaint, align);
    covered.push_back(
        {at.x() - (align == Canvas::Align::middle ? 0.5 : 1.0) * width, at.y() - 11, width, 14});
  };
  const double mm = millimetres(canvas.telling().units()), step = mm * round_step(70 / view.scale() / mm);
  for (double x = std::ceil(view.box().min().x() / step) * step; x <= view.box().max().x(); x += step) {
    const double at = view.to_page({x, 0}).x();
    canvas.move_to({at, frame.top + frame.height}), canvas.line_to({at, frame.top + frame.height + 5});
    write({at, frame.top + frame.height + 18}, canvas.telling().number(x), 66, Canvas::Align::middle);
  }
  for (double y = std::ceil(view.box().min().y() / step) * step; y <= view.box().max().y(); y += step) {
    const double at = view.to_page({0, y}).y();
    canvas.move_to({frame.left - 5, at}), canvas.line_to({frame.left, at});
    write({frame.left - 8, at + 4}, canvas.telling().number(y), frame.left - 16, Canvas::Align::right);
  }
  canvas.stroke(kFaint, 1);
  write({frame.left + frame.width, frame.top + frame.height + 34},
        fmt::format("{}, {}", across, canvas.telling().unit()), 200, Canvas::Align::right);
  write({frame.left - 8, frame.top - 8}, fmt::format("{}, {}", up, canvas.telling().unit()), 200,
        Canvas::Align::right);
  return covered;
}

double draw_words(Canvas& canvas, double left, double top, const std::string& words, double size,
                  const Colour& colour, bool bold) {
  for (const std::string& line : canvas.wrapped(words, size, kWidth - kMargin - left, bold)) {
    canvas.text({left, top}, line, size, colour, Canvas::Align::left, bold);
    top += 1.35 * size;
  }
  return top;
}

void draw_callout(Canvas& canvas, const Vec2& from, const Frame& label, const std::string& words,
                  const Colour& rim) {
  const Vec2 at(label.left + label.width / 2, label.top + label.height / 2);
  canvas.move_to(from), canvas.line_to(at), canvas.stroke(kInk, 1);
  canvas.circle(from, 1.5, kInk, 3);
  canvas.fill(label, hex(0xffffff));
  canvas.outline(label, rim, 1);
  canvas.text(at + Vec2(0, 4.5), words, 12, kInk, Canvas::Align::middle);
}

void draw_title(Canvas& canvas, const std::string& title, const std::string& below) {
  canvas.text({24, 30}, canvas.fitting(title, 19, kWidth - 48, true), 19, kInk, Canvas::Align::left, true);
  canvas.text({24, 50}, canvas.fitting(below, 13, kWidth - 48), 13, kFaint);
}

double draw_swatch(Canvas& canvas, double left, double top, const Colour& colour, const std::string& words) {
  canvas.fill({left, top, 28, 18}, colour);
  canvas.outline({left, top, 28, 18}, kFaint, 0.6);
  canvas.text({left + 38, top + 14}, canvas.fitting(words, 13, kWidth - kMargin - left - 38), 13, kInk);
  return top + 23;
}

}  // namespace yardpass::detail
