// Words that had another name before: refused, with the new one.
#pragma once

#include <string>

namespace yardpass::detail {

/// "is called "run_outs" now"; empty if there never was such a key.
std::string new_key(const std::string& key);

/// What to say instead of a word of a key: "say "axis""; empty if there never was such a word.
std::string new_word(const std::string& key, const std::string& word);

}  // namespace yardpass::detail
