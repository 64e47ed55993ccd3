// What the program says on the terminal, and how it is told to stop.
#pragma once

#include <chrono>
#include <string>

#include "yardpass/report/report.h"

namespace yardpass::app {

/// From now on Ctrl-C, SIGTERM and SIGHUP ask the work to stop; a second one ends the process.
void listen_for_stop();
/// The signal that asked; 0: none did.
int stop_signal();
/// Throws Stopped if somebody asked.
void stop_if_asked();

/// A line on standard error that is written over, with what is to go of all the work; when piped a line a
/// minute; none if quiet. Also where a wish to stop is noticed.
class ProgressLine {
 public:
  explicit ProgressLine(bool quiet);
  ~ProgressLine();
  ProgressLine(const ProgressLine&) = delete;
  ProgressLine& operator=(const ProgressLine&) = delete;
  [[nodiscard]] StageProgress callback();
  /// Where in all the work the next call of the callback is.
  void whole(const WholeProgress& now);
  /// Takes the line away, for other words.
  void clear();

 private:
  [[nodiscard]] std::string words(const std::string& stage, int percent) const;

  bool shown_, piped_, dirty_ = false;
  std::string stage_;
  int percent_ = -1;
  WholeProgress whole_ = {};
  using Clock = std::chrono::steady_clock;
  Clock::time_point began_ = {}, told_ = {};  ///< all of it; the last line of a pipe
};

void print_report(const Report& report, bool quiet);
void print_inspection(const Inspection& inspection);

}  // namespace yardpass::app
