/// What if: a job with one thing changed, or with one of two operations.
#pragma once

#include <string>
#include <vector>

#include "yardpass/job/job_file.h"

namespace yardpass {

/// A job that ends with the operation it is about, so that the operation meets the stock that those before it
/// leave, and nothing comes after it.
struct Variant {
  std::string words;  ///< "stepover = 0.2"
  Job job;
  std::int32_t operation = 0;  ///< its number
};

/// One for each value of a key of an operation; a dot leads into a table ("shallow.angle"). A key that gives
/// the same thing in other words is taken away. Throws Error if the job has no such active operation, or
/// operations of its strategy no such key; whether a value makes sense shows when the job is settled.
[[nodiscard]] std::vector<Variant> variants(const Job& job, std::int32_t operation, const std::string& key,
                                            const std::vector<Given>& values);

/// Passes at 0, 15, ... 165 degrees from X. Throws Error if the operation's passes have no angle.
[[nodiscard]] std::vector<Variant> twelve_angles(const Job& job, std::int32_t operation);

/// Each of two operations, from the stock that those before the earlier of them leave.
[[nodiscard]] std::vector<Variant> side_by_side(const Job& job, std::int32_t first, std::int32_t second);

/// A value as a job file would have it: a number, true or false, or a text.
[[nodiscard]] Given given_of(const std::string& words);

}  // namespace yardpass
