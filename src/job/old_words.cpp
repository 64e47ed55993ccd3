#include "job/old_words.h"

namespace yardpass::detail {

namespace {

struct Key {
  const char *old, *now;
};
constexpr Key kKeys[] = {{"extensions", "run_outs"},   {"guide_surfaces", "carriers"},
                         {"guards", "keep_away"},      {"climbs", "ride_up"},
                         {"approach", "feed_height"},  {"leftover", "left"},
                         {"crumb_area", "scrap_area"}, {"clearance", "rapid_plane"}};

struct Word {
  const char *key, *old, *now;
};
constexpr Word kWords[] = {{"limit", "centre", "say \"axis\""},
                           {"limit", "touch", "say \"contact\""},
                           {"limit", "far-rim", "say \"cutter\""},
                           {"limit", "near-rim", "say \"axis\" and margin = \"1 radius\""},
                           {"ride_up", "warn", "say \"tell\""}};

}  // namespace

std::string new_key(const std::string& key) {
  for (const Key& one : kKeys)
    if (key == one.old) return std::string("is called \"") + one.now + "\" now";
  return "";
}

std::string new_word(const std::string& key, const std::string& word) {
  for (const Word& one : kWords)
    if (key == one.key && word == one.old) return one.now;
  return "";
}

}  // namespace yardpass::detail
