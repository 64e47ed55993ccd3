// A reader of RS-274 that knows the standard alone: words, modal groups, arcs; written for tests, from the
// standard's own rules, without any of the library's code.
#pragma once

#include <cmath>
#include <map>
#include <set>
#include <sstream>
#include <stdexcept>
#include <string>
#include <vector>

namespace yardpass::testing {

struct StrictMove {
  double x, y, z;
  int motion;
};

class StrictReader {
 public:
  std::vector<StrictMove> run(const std::string& text) {
    std::istringstream in(text);
    std::string line;
    while (std::getline(in, line)) {
      ++line_;
      if (line.size() > 256) fail("longer than 256 letters");
      block(line);
    }
    if (!ended_) fail("no end");
    return moves_;
  }

 private:
  [[noreturn]] void fail(const std::string& what) const {
    throw std::runtime_error("line " + std::to_string(line_) + ": " + what);
  }

  static int group(double code) {
    static const std::map<double, int> groups = {
        {0, 1},   {1, 1},   {2, 1},   {3, 1},   {80, 1},  {17, 2}, {18, 2}, {19, 2},  {90, 3},  {91, 3},
        {93, 5},  {94, 5},  {20, 6},  {21, 6},  {40, 7},  {43, 8}, {49, 8}, {54, 12}, {55, 12}, {56, 12},
        {57, 12}, {58, 12}, {59, 12}, {61, 13}, {64, 13}, {53, 0}, {28, 0}, {4, 0}};
    const auto found = groups.find(code);
    return found == groups.end() ? -1 : found->second;
  }

  void block(const std::string& line) {
    if (line == "%") return;
    std::vector<std::pair<char, double>> words;
    for (std::size_t i = 0; i < line.size();) {
      const char c = line[i];
      if (c == ' ') {
        ++i;
      } else if (c == ';') {
        break;
      } else if (c == '(') {
        i = line.find(')', i);
        if (i == std::string::npos) fail("open comment");
        ++i;
      } else {
        if (std::string("FGHIJKMNOPRSTXYZ").find(c) == std::string::npos) fail(std::string("letter ") + c);
        std::size_t end = i + 1;
        while (end < line.size() && std::string("+-.0123456789").find(line[end]) != std::string::npos) ++end;
        if (end == i + 1) fail("no number");
        words.emplace_back(c, std::stod(line.substr(i + 1, end - i - 1)));
        i = end;
      }
    }
    if (words.empty()) return;
    if (ended_) fail("behind the end");
    std::map<char, double> one;
    std::set<int> groups;
    for (const auto& [letter, value] : words) {
      if (letter == 'M') {
        m(value);
      } else if (letter != 'G') {
        if (!one.emplace(letter, value).second) fail("twice in a block");
      } else {
        const int of = group(value);
        if (of < 0) fail("unknown G");
        if (!groups.insert(of).second) fail("two of a group");
        if (of == 1) motion_ = static_cast<int>(value);
        if (of == 2) plane_ = static_cast<int>(value);
        if (value == 93) inverse_ = true;
        if (value == 94) inverse_ = false;
        if (value == 20) arc_off_ = 0.0002;
        machine_ = value == 53;
      }
    }
    if (one.contains('F')) feed_ = one['F'];
    go(one);
    machine_ = false;
  }

  void m(double code) {
    if (code == 2 || code == 30) ended_ = true;
    static const std::set<double> known = {0, 1, 2, 3, 5, 6, 7, 8, 9, 30};
    if (!known.contains(code)) fail("unknown M");
  }

  void go(std::map<char, double>& one) {
    const bool places = one.contains('X') || one.contains('Y') || one.contains('Z');
    if (machine_) return;
    if (!places) return;
    if (motion_ == 80) fail("no motion");
    if (motion_ > 0 && !(feed_ > 0)) fail("no feed");
    if (motion_ > 0 && inverse_ && !one.contains('F')) fail("no F of its own");
    double to[3] = {at_[0], at_[1], at_[2]};
    for (int k = 0; k < 3; ++k)
      if (one.contains("XYZ"[k])) to[k] = one["XYZ"[k]];
    if (motion_ == 2 || motion_ == 3) arc(one, to);
    for (int k = 0; k < 3; ++k) at_[k] = to[k];
    moves_.push_back({to[0], to[1], to[2], motion_});
  }

  void arc(std::map<char, double>& one, const double* to) {
    const int first = plane_ == 17   ? 0
                      : plane_ == 18 ? 2
                                     : 1,
              second = plane_ == 17   ? 1
                       : plane_ == 18 ? 0
                                      : 2;
    if (!one.contains("XYZ"[first]) && !one.contains("XYZ"[second])) fail("an arc without its plane's words");
    const double a = to[first] - at_[first], b = to[second] - at_[second], chord = std::hypot(a, b);
    if (one.contains('R')) {
      if (one.contains('I') || one.contains('J') || one.contains('K')) fail("R and I, J, K");
      if (!(chord > 0) || 2 * std::abs(one['R']) < chord) fail("radius too small");
      return;
    }
    const double i = one["IJK"[first]], j = one["IJK"[second]];
    if (std::abs(std::hypot(i, j) - std::hypot(a - i, b - j)) > arc_off_) fail("radii differ");
  }

  std::vector<StrictMove> moves_;
  double at_[3] = {0, 0, 0}, feed_ = 0, arc_off_ = 0.002;
  int line_ = 0, motion_ = 80, plane_ = 17;
  bool ended_ = false, inverse_ = false, machine_ = false;
};

}  // namespace yardpass::testing
