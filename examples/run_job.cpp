// Reads a job file, changes one value, runs it and says what came out: run_job JOB.toml
#include <iostream>

#include "yardpass/report/report.h"

using namespace yardpass;

int main(int count, char** arguments) {
  if (count != 2) {
    std::cerr << "usage: run_job JOB.toml\n";
    return 2;
  }
  try {
    Job job = read_job(arguments[1]);
    job.operations.back().says.set("tolerance", 0.02);
    const RunResult run = run_job(job);
    const Report report = make_report(run);
    for (const OperationReport& operation : report.operations) {
      std::cout << operation.number << " " << operation.name << ": " << operation.judged.moves << " moves, "
                << clock(operation.judged.time.all_s()) << "\n";
      for (const std::string& note : notes_of(operation, report.telling)) std::cout << "  " << note << "\n";
    }
    for (const Finding& finding : run.judged.judgement.findings)
      std::cout << finding_words(report, finding) << "\n";
    std::cout << "verdict: " << verdict_words(report) << "\n";
    return report.clean() ? 0 : 1;
  } catch (const Error& error) {
    std::cerr << error.what() << "\n";
    return 2;
  }
}
