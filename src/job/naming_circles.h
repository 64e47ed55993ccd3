// Things that name each other.
#pragma once

#include <cstdint>
#include <functional>
#include <string>
#include <vector>

namespace yardpass::detail {

/// Of each circle of names the thing where it was first met, by index. `uses(thing)`: the names that it uses.
template <typename Thing, typename Uses>
std::vector<std::size_t> naming_circles(const std::vector<Thing>& things, const Uses& uses) {
  enum class State : std::uint8_t { not_seen, on_the_way, done };
  std::vector<State> state(things.size(), State::not_seen);
  const std::function<bool(std::size_t)> leads_back = [&](std::size_t i) {
    if (state[i] != State::not_seen) return state[i] == State::on_the_way;
    state[i] = State::on_the_way;
    bool back = false;
    for (const std::string& name : uses(things[i]))
      for (std::size_t k = 0; k < things.size(); ++k)
        if (things[k].name == name) back = leads_back(k) || back;
    state[i] = State::done;
    return back;
  };
  std::vector<std::size_t> circles;
  for (std::size_t i = 0; i < things.size(); ++i)
    if (state[i] == State::not_seen && leads_back(i)) circles.push_back(i);
  return circles;
}

}  // namespace yardpass::detail
