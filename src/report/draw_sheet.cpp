// The setup sheet on A4.
#include <algorithm>

#include <fmt/format.h>

#include "report/part_view.h"
#include "report/plot.h"
#include "report/setup_sheet.h"
#include "report/strokes.h"
#include "yardpass/geom/text.h"

namespace yardpass::detail {

namespace {

constexpr int kA4Width = 595, kA4Height = 842;  // points
constexpr double kLeft = 40, kRight = kA4Width - 40.0, kTop = 44, kBottom = kA4Height - 50.0;
constexpr double kMmOfPaper = 72 / 25.4;
constexpr double kFine = 4;  // pixels of a picture in a point of paper

class SheetPages {
 public:
  SheetPages(const SetupSheet& sheet, Telling told) : sheet_(sheet), canvas_(kA4Width, kA4Height, told) {
    canvas_.stamp(sheet.mark);
    head();
  }
  [[nodiscard]] Canvas& canvas() { return canvas_; }

  void part(const Mesh& mesh) {
    const auto frame = [&](double left) { return Frame{kFine * left, kFine * y_, kFine * 250, kFine * 150}; };
    const PartView above(mesh, frame(kLeft), 0, 90), corner(mesh, frame(kLeft + 265), 30, 35);
    canvas_.scale(1 / kFine);
    for (const PartView* view : {&above, &corner})
      view->paint(canvas_, [&](int i, int j) {
        const double light = 0.25 + 0.72 * view->light(view->triangle(i, j));
        return Colour{light, light, std::min(1.0, 1.02 * light)};
      });
    canvas_.unscale();
    y_ += 165;
  }

  void facts() {
    for (const auto& [what, words] : sheet_.facts) {
      canvas_.text({kLeft, y_}, what, 9, kFaint);
      for (const std::string& line : canvas_.wrapped(words, 9, kRight - kLeft - 70)) {
        canvas_.text({kLeft + 70, y_}, line, 9, kInk);
        y_ += 13;
      }
    }
  }

  void operations() {
    constexpr double kColumns[] = {0, 16, 150, 218, 285, 350, 420, 468, 515};
    heading("Operations");
    const auto row = [&](const std::vector<std::string>& words, const Colour& colour) {
      room(14);
      for (std::size_t k = 0; k < words.size(); ++k) {
        const bool left = k < 4;
        const double wide = k == 1 ? 130 : 66;
        canvas_.text({kLeft + kColumns[k], y_}, canvas_.fitting(words[k], 8, wide), 8, colour,
                     left ? Canvas::Align::left : Canvas::Align::right);
      }
      y_ += 4;
      canvas_.move_to({kLeft, y_}), canvas_.line_to({kRight, y_}), canvas_.stroke(hex(0xd4d9df), 0.5);
      y_ += 10;
    };
    row(sheet_.heads, kFaint);
    for (const auto& words : sheet_.operations) row(words, kInk);
  }

  /// A small picture of each operation's cuts, four side by side.
  void paths(const Report& report) {
    constexpr double kWide = 122, kHigh = 76, kStep = 131;
    constexpr int kInRow = 4;
    heading("Toolpaths", kHigh + 24);
    int column = 0;
    for (const OperationReport& operation : report.operations) {
      if (!operation.has_moves()) continue;
      if (column == kInRow) column = 0, y_ += kHigh + 24;
      if (column == 0) room(kHigh + 20);
      const double left = kLeft + kStep * column++;
      draw_path(report, operation, {kFine * left, kFine * (y_ - 4), kFine * kWide, kFine * kHigh});
      const std::string name = fmt::format("{} {}", operation.number, operation.name);
      canvas_.text({left, y_ + kHigh + 8}, canvas_.fitting(name, 8, kWide), 8, kInk);
    }
    y_ += kHigh + 24;
  }

  void tools() {
    constexpr double kMost = 62;  // mm of paper
    double tallest = 0;
    for (const SheetTool& tool : sheet_.tools) tallest = std::max(tallest, tool.length_mm);
    // All to one scale, so that they can be told apart at a glance.
    double paper_mm = 1;
    for (const double scale : {1.0, 0.5, 0.2, 0.1, 0.05})
      if (tallest * (paper_mm = scale) <= kMost) break;
    const double scale = paper_mm * kMmOfPaper, high = tallest * scale + 10;
    heading("Tools", high + 30);
    canvas_.text({kLeft, y_}, fmt::format("drawn 1:{:g}", 1 / paper_mm), 8, kFaint);
    y_ += 10;
    double x = kLeft;
    for (const SheetTool& tool : sheet_.tools) {
      const double wide = tool.diameter_mm * scale;
      double words_wide = canvas_.text_width(tool.name, 9, true);
      for (const std::string& line : tool.words)
        words_wide = std::max(words_wide, canvas_.text_width(line, 8));
      const double all = wide + 10 + words_wide + 18;
      if (x > kLeft && x + all > kRight) x = kLeft, y_ += std::max(high, 75.0) + 8;
      if (x == kLeft) room(std::max(high, 75.0));
      draw_tool(tool, {x + 0.5 * wide, y_ + high - 6}, scale);
      double line_y = y_ + 12;
      canvas_.text({x + wide + 10, line_y}, tool.name, 9, kInk, Canvas::Align::left, true);
      for (const std::string& line : tool.words) canvas_.text({x + wide + 10, line_y += 12}, line, 8, kInk);
      x += all;
    }
    y_ += std::max(high, 75.0) + 8;
  }

  void accepted() {
    if (sheet_.accepted.empty()) return;
    heading("Accepted findings");
    for (const std::string& words : sheet_.accepted)
      for (const std::string& line : canvas_.wrapped(words, 9, kRight - kLeft)) {
        room(13);
        canvas_.text({kLeft, y_}, line, 9, kInk);
        y_ += 13;
      }
  }

 private:
  void head() {
    ++page_;
    y_ = kTop;
    canvas_.text({kLeft, y_}, canvas_.fitting(sheet_.title, 15, 330, true), 15, kInk, Canvas::Align::left,
                 true);
    canvas_.text({kRight, y_}, canvas_.fitting(sheet_.verdict, 10, 180, true), 10,
                 sheet_.clean ? hex(0x00543d) : hex(0xa03a00), Canvas::Align::right, true);
    canvas_.text({kRight, kA4Height - 32.0}, fmt::format("page {}", page_), 8, kFaint, Canvas::Align::right);
    y_ += 20;
  }
  void room(double wanted) {
    if (y_ + wanted <= kBottom) return;
    canvas_.next_page();
    head();
  }
  /// `below`: what may not be parted from it.
  void heading(const char* words, double below = 44) {
    y_ += 12;
    room(16 + below);
    canvas_.text({kLeft, y_}, words, 11, kInk, Canvas::Align::left, true);
    y_ += 16;
  }
  /// `frame` in pixels.
  void draw_path(const Report& report, const OperationReport& operation, const Frame& frame) {
    const PartView view(report.setup.part->mesh(), frame, 30, 35, report.setup.block);
    std::vector<std::uint8_t> marks(static_cast<std::size_t>(view.width()) *
                                    static_cast<std::size_t>(view.height()));
    for (const Stroke& stroke : strokes_of(report, operation.in_program))
      if (stroke.kind == MoveKind::cut) view.mark_line(stroke.from, stroke.to, marks);
    canvas_.scale(1 / kFine);
    const Frame& seen = view.frame();
    canvas_.paint(seen, [&](const Vec2& p) {
      const int i = static_cast<int>(p.x() - seen.left), j = static_cast<int>(p.y() - seen.top);
      const double light = view.triangle(i, j) < 0 ? 1 : 0.5 + 0.46 * view.light(view.triangle(i, j));
      return marks[view.index(i, j)] ? hex(0x1f4e8c) : Colour{light, light, light};
    });
    canvas_.unscale();
  }
  void draw_tool(const SheetTool& tool, const Vec2& tip, double scale) {
    for (const ToolPart& part : tool.parts) {
      std::vector<Vec2> outline;
      for (const Vec2& p : part.outline)
        outline.emplace_back(tip.x() + scale * p.x(), tip.y() - scale * p.y());
      for (std::size_t k = part.outline.size(); k-- > 0;)
        outline.emplace_back(tip.x() - scale * part.outline[k].x(), tip.y() - scale * part.outline[k].y());
      const bool cutter = std::string_view(part.name) == "cutter";
      canvas_.polygon(outline, cutter ? hex(0xf0d9a0) : hex(0xe3e6ea), kInk, 0.7);
    }
  }

  const SetupSheet& sheet_;
  Canvas canvas_;
  double y_ = kTop;
  int page_ = 0;
};

}  // namespace

void draw_sheet(const Report& report, const std::filesystem::path& file) {
  const SetupSheet sheet = setup_sheet(report);
  SheetPages pages(sheet, report.telling);
  pages.part(report.setup.part->mesh());
  pages.facts();
  pages.operations();
  pages.paths(report);
  pages.tools();
  pages.accepted();
  pages.canvas().save(file);
}

}  // namespace yardpass::detail
