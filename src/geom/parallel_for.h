// Work on all cores with progress and stopping; for the sources of any layer that links oneTBB.
#pragma once

#include <tbb/parallel_for.h>

#include <atomic>
#include <mutex>

#include "yardpass/geom/error.h"

namespace yardpass::detail {

/// Calls work(i) for 0 <= i < count in any order, from any thread; each call must write to places of its own
/// only. `progress` is called after each, never by two threads at once. Throws Stopped once all started calls
/// have ended, if it asked for that.
template <typename Index, typename Work>
void parallel_for(Index count, const Progress& progress, const Work& work) {
  std::mutex report_lock;
  double done = 0;
  std::atomic<bool> stop = false;
  tbb::parallel_for(Index{0}, count, [&](Index i) {
    if (stop) return;
    work(i);
    if (!progress) return;
    const std::scoped_lock lock(report_lock);
    if (!stop && !progress(++done / static_cast<double>(count))) stop = true;
  });
  if (stop) throw Stopped();
}

}  // namespace yardpass::detail
