// Work on all cores with progress and stopping; for the sources of any layer that links oneTBB. Nothing else
// calls oneTBB.
#pragma once

#include <tbb/parallel_for.h>
#include <tbb/parallel_invoke.h>
#include <tbb/task_arena.h>

#include <atomic>
#include <mutex>

#include "yardpass/geom/error.h"

#ifdef __SANITIZE_THREAD__
#include <exception>
#include <thread>
#include <vector>
#endif

namespace yardpass::detail {

#ifdef __SANITIZE_THREAD__
// oneTBB is built without the thread sanitizer, which then takes its handing over for races. Plain threads do
// the same work, and are watched from end to end.
template <typename Index, typename Work>
void parallel_for(Index count, const Work& work) {
  std::atomic<Index> next{0};
  std::exception_ptr thrown;
  std::mutex thrown_lock;
  const auto take = [&] {
    try {
      for (Index i; (i = next.fetch_add(1, std::memory_order_relaxed)) < count;) work(i);
    } catch (...) {
      const std::scoped_lock lock(thrown_lock);
      thrown = std::current_exception();
    }
  };
  std::vector<std::thread> others;
  for (int k = 0; k < 3; ++k) others.emplace_back(take);
  take();
  for (std::thread& other : others) other.join();
  if (thrown) std::rethrow_exception(thrown);
}

template <typename One, typename Other>
void both_at_once(const One& one, const Other& other) {
  parallel_for(2, [&](int which) { which == 0 ? one() : other(); });
}
#else
/// Calls work(i) for 0 <= i < count in any order, from any thread; each call must write to places of its own
/// only.
template <typename Index, typename Work>
void parallel_for(Index count, const Work& work) {
  // Isolated: who waits here takes no other piece of work around it, which would need memory of its own.
  tbb::this_task_arena::isolate([&] { tbb::parallel_for(Index{0}, count, work); });
}

/// Two pieces of work at once; each must write to places of its own only.
template <typename One, typename Other>
void both_at_once(const One& one, const Other& other) {
  tbb::parallel_invoke(one, other);
}
#endif

/// The same, and `progress` is called after each, never by two threads at once. Throws Stopped once all
/// started calls have ended, if it asked for that.
template <typename Index, typename Work>
void parallel_for(Index count, const Progress& progress, const Work& work) {
  std::mutex report_lock;
  double done = 0;
  std::atomic<bool> stop = false;
  parallel_for(count, [&](Index i) {
    if (stop) return;
    work(i);
    if (!progress) return;
    const std::scoped_lock lock(report_lock);
    if (!stop && !progress(++done / static_cast<double>(count))) stop = true;
  });
  if (stop) throw Stopped();
}

}  // namespace yardpass::detail
