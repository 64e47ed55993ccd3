// Draws layers.png for docs/how-it-works.md: the layers as cmake/layers.cmake has them, and how a job becomes
// a program. draw_layers ROOT FOLDER
#include <algorithm>
#include <fstream>
#include <iostream>
#include <map>
#include <sstream>

#include "report/plot.h"
#include "yardpass/geom/error.h"

using namespace yardpass;
using detail::Canvas;
using detail::Colour;
using detail::hex;
using detail::kFaint;
using detail::kInk;

namespace {

using Table = std::map<std::string, std::vector<std::string>>;

/// The rows `set(NAME_uses ...)`.
Table layers_of(const std::string& root) {
  Table table;
  std::ifstream in(root + "/cmake/layers.cmake");
  for (std::string line; std::getline(in, line);) {
    const std::size_t end = line.find("_uses");
    if (line.rfind("set(", 0) != 0 || end == std::string::npos) continue;
    std::istringstream words(line.substr(end + 5, line.find(')') - end - 5));
    std::vector<std::string>& uses = table[line.substr(4, end - 4)];
    for (std::string word; words >> word;) uses.push_back(word);
  }
  return table;
}

int height_of(const Table& table, const std::string& layer) {
  int height = 0;
  for (const std::string& used : table.at(layer)) height = std::max(height, 1 + height_of(table, used));
  return height;
}

/// Whether a layer may use another, directly or not.
bool reaches(const Table& table, const std::string& from, const std::string& to) {
  for (const std::string& used : table.at(from))
    if (used == to || reaches(table, used, to)) return true;
  return false;
}

struct Step {
  const char* layer;
  const char* makes;
};
constexpr Step kSteps[] = {{"job", "Job: what the file says, every mistake of it told"},
                           {"setup", "JobSetup: the part placed, its stock, regions, curves, lids"},
                           {"run", "Settled: each operation with every value in force"},
                           {"strategy", "CutPlan: what to cut, in groups, no air moves"},
                           {"link", "Toolpath: the whole way, air moves included"},
                           {"post", "PostedProgram: G-code, and what each line is for"},
                           {"post", "Program: the same text, read back"},
                           {"verify", "Judgement: findings, times, what is left"},
                           {"report", "Report: screen, page, pictures, report.json"}};

class Drawing {
 public:
  explicit Drawing(Table table) : table_(std::move(table)) {}

  void draw(const std::string& file) {
    detail::draw_title(
        canvas_, "How a job becomes a program",
        "Each layer may use what lies below it along the lines; on the right what is made, in order");
    std::map<int, std::vector<std::string>> rows;
    for (const auto& [layer, uses] : table_) rows[height_of(table_, layer)].push_back(layer);
    const double step = 690.0 / static_cast<double>(rows.size());
    for (const auto& [height, layers] : rows) {
      const double y = 740 - height * step;
      double x = 395 - 0.5 * kWide * static_cast<double>(layers.size());
      for (const std::string& layer : layers) place_[layer] = {x + 0.5 * kWide, y}, x += kWide;
    }
    for (const auto& [layer, uses] : table_)
      for (const std::string& used : uses)
        if (std::none_of(uses.begin(), uses.end(), [&, &used = used](const std::string& other) {
              return reaches(table_, other, used);
            }))
          line(layer, used);
    for (const auto& [layer, uses] : table_) box(layer);
    steps();
    canvas_.save(file);
  }

 private:
  static constexpr double kWide = 128, kBox = 104, kTall = 34;
  [[nodiscard]] bool is_core(const std::string& layer) const {
    for (const char* above : {"job", "setup", "run", "report", "app"})
      if (layer == above) return false;
    return true;
  }
  void line(const std::string& from, const std::string& to) {
    canvas_.move_to(place_.at(from) + Vec2(0, kTall / 2));
    canvas_.line_to(place_.at(to) - Vec2(0, kTall / 2));
    canvas_.stroke(hex(0x9aa5b1), 1);
  }
  void box(const std::string& layer) {
    const Vec2 at = place_.at(layer);
    const detail::Frame frame{at.x() - kBox / 2, at.y() - kTall / 2, kBox, kTall};
    canvas_.fill(frame, is_core(layer) ? hex(0xdcefe8) : hex(0xf6e7cf));
    canvas_.outline(frame, kFaint, 1);
    canvas_.text(at + Vec2(0, 5), layer, 15, kInk, Canvas::Align::middle, true);
  }
  void steps() {
    double y = 120;
    int number = 1;
    for (const Step& one : kSteps) {
      canvas_.circle({810, y - 5}, 12, kInk, 1.3);
      canvas_.text({810, y}, std::to_string(number++), 13, kInk, Canvas::Align::middle, true);
      canvas_.text({832, y - 6}, one.layer, 14, kInk, Canvas::Align::left, true);
      canvas_.text({832, y + 11}, one.makes, 13, kFaint);
      if (number <= static_cast<int>(std::size(kSteps))) {
        canvas_.move_to({810, y + 8});
        canvas_.line_to({810, y + 38});
        canvas_.stroke(kFaint, 1.2);
      }
      y += 60;
    }
    canvas_.fill({800, 690, 20, 16}, hex(0xdcefe8));
    canvas_.text({830, 703}, "the core: prints nothing, reads no job file, draws nothing", 13, kInk);
    canvas_.fill({800, 716, 20, 16}, hex(0xf6e7cf));
    canvas_.text({830, 729}, "job files, pictures, the command line", 13, kInk);
  }

  Table table_;
  Canvas canvas_{1280, 800};
  std::map<std::string, Vec2> place_;
};

}  // namespace

int main(int count, char** arguments) {
  if (count != 3) {
    std::cerr << "usage: draw_layers ROOT FOLDER\n";
    return 2;
  }
  try {
    Drawing(layers_of(arguments[1])).draw(std::string(arguments[2]) + "/layers.png");
  } catch (const Error& error) {
    std::cerr << error.what() << "\n";
    return 2;
  }
}
