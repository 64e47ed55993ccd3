// The demo jobs from file to verdict, each in a process of its own: time, and memory at its largest. The
// floor is what it was when every operation had its index rebuilt and stocks were kept twice.
#include <sys/resource.h>
#include <sys/wait.h>
#include <unistd.h>

#include <cstring>
#include <string>

#include "bench.h"
#include "yardpass/run/run.h"

using namespace yardpass;
using namespace yardpass::bench;

namespace {

struct Demo {
  const char* name;
  double before_mb;
};
constexpr Demo kDemos[] = {{"paddle-blade", 157.4}, {"fairlead-punch", 100.3}, {"porthole-ring", 93.4}};

/// Runs the job in a child; what it used. The child ends with 0 if the judge found nothing.
rusage run_alone(const std::string& name) {
  const pid_t child = ::fork();
  if (child == 0) {
    const RunResult run = run_job(read_job(std::string(YARDPASS_DEMO_FOLDER "/") + name + ".toml"));
    ::_exit(run.judged.judgement.clean() ? 0 : 1);
  }
  int status = 0;
  rusage usage{};
  ::wait4(child, &status, 0, &usage);
  require(WIFEXITED(status) && WEXITSTATUS(status) == 0, "the demo job is clean");
  return usage;
}

}  // namespace

int main() {
  for (const Demo& demo : kDemos) {
    const double start = now_s();
    const rusage usage = run_alone(demo.name);
    std::printf("%s: %.1f s\n", demo.name, now_s() - start);
    row((std::string(demo.name) + ", memory of the process at its largest").c_str(),
        static_cast<double>(usage.ru_maxrss) / 1000, "MB", demo.before_mb, 0.9 * demo.before_mb, false);
  }
}
