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

/// A line on standard error that is written over: only on a terminal, never when piped or quiet; of a stage
/// that takes longer than some seconds it tells what is to go. Also where a wish to stop is noticed.
class ProgressLine {
 public:
  explicit ProgressLine(bool quiet);
  ~ProgressLine();
  ProgressLine(const ProgressLine&) = delete;
  ProgressLine& operator=(const ProgressLine&) = delete;
  [[nodiscard]] StageProgress callback();
  /// Takes the line away, for other words.
  void clear();

 private:
  bool shown_, dirty_ = false;
  std::string stage_;
  int percent_ = -1;
  std::chrono::steady_clock::time_point since_ = {};  ///< of the stage
};

void print_report(const Report& report, bool quiet);
void print_inspection(const Inspection& inspection);

}  // namespace yardpass::app
