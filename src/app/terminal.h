// What the program says on the terminal, and how it is told to stop.
#pragma once

#include <string>

#include "yardpass/report/report.h"

namespace yardpass::app {

/// From now on Ctrl-C, SIGTERM and SIGHUP ask the work to stop; a second one ends the process.
void listen_for_stop();
/// The signal that asked; 0: none did.
int stop_signal();
/// Throws Stopped if somebody asked.
void stop_if_asked();

/// A line on standard error that is written over: only on a terminal, never when piped or quiet. Also where
/// a wish to stop is noticed.
class ProgressLine {
 public:
  explicit ProgressLine(bool quiet);
  ~ProgressLine();
  ProgressLine(const ProgressLine&) = delete;
  ProgressLine& operator=(const ProgressLine&) = delete;
  [[nodiscard]] StageProgress callback();

 private:
  void clear();
  bool shown_, dirty_ = false;
  std::string stage_;
  int percent_ = -1;
};

void print_report(const Report& report, bool quiet);
void print_inspection(const Inspection& inspection);

}  // namespace yardpass::app
