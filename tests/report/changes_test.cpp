#include "yardpass/report/changes.h"

#include <gtest/gtest.h>

#include <nlohmann/json.hpp>

namespace yardpass {
namespace {

using Json = nlohmann::json;

Json operation(int number, const char* name, double seconds, double left) {
  return {{"number", number},
          {"name", name},
          {"strategy", "parallel"},
          {"seconds", seconds},
          {"retracts", 4},
          {"feed_length", 1000.0},
          {"left_after", {{"percentile_95", left}, {"greatest", 2 * left}}}};
}

Json report() {
  return {{"yardpass", "0"},
          {"title", "part"},
          {"units", "mm"},
          {"verdict", "clean"},
          {"seconds", 300},
          {"findings", Json::array()},
          {"left", {{"missed_area", 12.5}}},
          {"operations", {operation(1, "rough", 100, 0.5), operation(2, "finish", 200, 0.02)}}};
}

std::vector<std::string> lines(const Json& before, const Json& now) {
  const RunChanges changes = changes_between(before.dump(), now.dump());
  EXPECT_TRUE(changes.comparable);
  return changes.lines;
}
using Lines = std::vector<std::string>;

TEST(RunChanges, NothingWhereNothingChanged) { EXPECT_EQ(lines(report(), report()), Lines{}); }

TEST(RunChanges, OfTheOperationThatChanged) {
  Json now = report();
  now["operations"][1] = operation(2, "finish", 150, 0.031);
  now["seconds"] = 250;
  EXPECT_EQ(lines(report(), now),
            (Lines{"operation 2 \"finish\": time 2:30, was 3:20 (-25 %); 95 % 0.031, was 0.020 (+55 %); all "
                   "0.062, was 0.040 (+55 %)",
                   "whole program 4:10, was 5:00 (-17 %)"}));
}

TEST(RunChanges, OperationsGoByTheirNames) {
  Json now = report();
  now["operations"] = {operation(1, "finish", 200, 0.02), operation(2, "pencil", 50, 0.01)};
  EXPECT_EQ(lines(report(), now), (Lines{"operation 2 \"pencil\": new", "operation 1 \"rough\": gone"}));
  // Two of one name stand in their order.
  Json twice = report();
  twice["operations"] = {operation(1, "a", 10, 1), operation(2, "a", 20, 1)};
  EXPECT_EQ(lines(twice, twice), Lines{});
}

TEST(RunChanges, FindingsVerdictAndWhatIsMissed) {
  Json now = report();
  now["findings"].push_back({{"kind", "gouge"}, {"line", 7}});
  now["verdict"] = "findings";
  now["left"]["missed_area"] = 0.0;
  EXPECT_EQ(lines(report(), now),
            (Lines{"missed 0.0 mm2, was 12.5 mm2", "findings: 1, were 0", "verdict: findings, was clean"}));
  Json other = now;
  other["findings"][0]["line"] = 8;
  EXPECT_EQ(lines(now, other), Lines{"findings: as many, 1, but other ones"});
}

TEST(RunChanges, WhatIsNotKnownIsNotTold) {
  Json planned = report();
  planned["verdict"] = "not judged";
  planned["left"] = nullptr;
  for (Json& one : planned["operations"])
    one["left_after"] = {{"percentile_95", nullptr}, {"greatest", nullptr}};
  EXPECT_EQ(lines(planned, report()), Lines{"verdict: clean, was not judged"});
}

TEST(RunChanges, OfNothingElseThanTheSameJob) {
  const std::string now = report().dump();
  Json other = report();
  other["title"] = "another part";
  Json inch = report();
  inch["units"] = "inch";
  for (const std::string& before : {std::string(), std::string("{"), std::string("[1]"), other.dump(),
                                    inch.dump(), std::string("{\"yardpass\": 1}")})
    EXPECT_FALSE(changes_between(before, now).comparable) << before;
}

}  // namespace
}  // namespace yardpass
