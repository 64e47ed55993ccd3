// What the program says on the terminal.
#pragma once

#include <string>

#include "yardpass/job/run.h"
#include "yardpass/report/report.h"

namespace yardpass::app {

/// A line on standard error that is written over: only on a terminal, never when piped or quiet. Also where
/// Ctrl-C is noticed.
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
