// Views, labels and colours of pictures, and what the JSON of an inspection holds.
#include <gtest/gtest.h>

#include <nlohmann/json.hpp>

#include "parts.h"
#include "report/labelling.h"
#include "report/part_view.h"
#include "support/demo_files.h"
#include "support/nasty.h"
#include "support/scratch.h"
#include "yardpass/part/measure.h"
#include "yardpass/part/write_stl.h"
#include "yardpass/report/report.h"

namespace yardpass {
namespace {

using detail::Anchor;
using detail::Frame;
using detail::LabelPlaces;
using detail::PartView;

TEST(PartView, FromAboveShowsTheHighestPlace) {
  const Mesh bowl = weld(demo::bowl(30, 25, 80, 0.02));
  const PartView view(bowl, {10, 10, 300, 300}, 0, 90);
  int seen = 0;
  for (int j = 3; j < view.height(); j += 17)
    for (int i = 3; i < view.width(); i += 17) {
      const auto highest = [&](const Vec2& at) { return highest_at(bowl, at); };
      if (view.triangle(i, j) < 0) continue;
      const Vec3 place = view.place(i, j);
      const auto top = highest(plan(place));
      ASSERT_TRUE(top);
      EXPECT_NEAR(place.z(), top->at.z(), 1e-4);
      ++seen;
    }
  EXPECT_GT(seen, 200);
}

TEST(PartView, FromACornerHidesWhatLiesBehind) {
  Mesh mesh = testing::box_mesh(Box3(Vec3(-10, -10, 0), Vec3(10, 10, 10)));
  const PartView view(mesh, {0, 0, 200, 200}, 0, 30);
  for (int j = 0; j < view.height(); ++j)
    for (int i = 0; i < view.width(); ++i)
      if (view.triangle(i, j) >= 0) {
        const Vec3 p = view.place(i, j);
        EXPECT_TRUE(p.y() < -9.99 || p.z() > 9.99) << "front or top only: " << p.transpose();
      }
  std::vector<std::uint8_t> marks;
  view.mark_line({-10, 10, 0}, {10, 10, 0}, marks);
  EXPECT_LE(std::count(marks.begin(), marks.end(), 1), 2) << "the far lower edge is hidden but for its ends";
  view.mark_line({-10, -10, 10}, {10, -10, 10}, marks);
  EXPECT_GT(std::count(marks.begin(), marks.end(), 1), 50);
}

bool overlap(const Frame& a, const Frame& b) {
  return a.left < b.left + b.width && b.left < a.left + a.width && a.top < b.top + b.height &&
         b.top < a.top + a.height;
}

TEST(Labels, NeverLieOnEachOther) {
  for (int seed = 1; seed <= testing::rounds(30); ++seed) {
    testing::Rng rng(static_cast<std::uint64_t>(seed));
    LabelPlaces places;
    int left_out = 0;
    for (int i = 0; i < 120; ++i) {
      const Anchor anchor{Vec2(rng.uniform(50, 450), rng.uniform(50, 450)), rng.uniform(0, 20)};
      const double width = rng.uniform(12, 30);
      if (!places.inside(anchor, width) && !places.beside(anchor, width, {0, 0, 500, 500})) ++left_out;
    }
    const auto& taken = places.taken();
    EXPECT_EQ(static_cast<int>(taken.size()) + left_out, 120);
    for (std::size_t i = 0; i < taken.size(); ++i)
      for (std::size_t k = 0; k < i; ++k) ASSERT_FALSE(overlap(taken[i], taken[k])) << seed;
    EXPECT_LT(left_out, 40) << "most find room";
  }
}

TEST(Labels, InsideOnlyWhereTheyFit) {
  LabelPlaces places;
  EXPECT_FALSE(places.inside({Vec2(50, 50), 5}, 20));
  EXPECT_TRUE(places.inside({Vec2(50, 50), 14}, 20));
  EXPECT_FALSE(places.inside({Vec2(55, 52), 14}, 20)) << "taken";
  const auto beside = places.beside({Vec2(55, 52), 2}, 20, {0, 0, 500, 500});
  ASSERT_TRUE(beside);
  EXPECT_FALSE(overlap(*beside, places.taken()[0]));
  EXPECT_FALSE(places.beside({Vec2(5, 5), 2}, 20, {0, 0, 20, 20})) << "no room in the frame";
}

TEST(Colours, OfNeighboursDiffer) {
  for (const char* name : {"paddle-blade", "fairlead-punch", "hull-plug", "porthole-ring"}) {
    const Mesh mesh = testing::demo_mesh(name);
    const RegionMap map = split_into_regions(mesh, Joints(mesh));
    const auto colours = detail::neighbour_colours(map, 8);
    for (std::size_t i = 0; i < map.regions.size(); ++i)
      for (const auto other : map.regions[i].neighbours)
        EXPECT_NE(colours[i], colours[static_cast<std::size_t>(other - 1)])
            << name << " " << i + 1 << " and " << other;
  }
}

class InspectionFile : public testing::ScratchFolder {
 protected:
  Inspection inspect(const Mesh& mesh) {
    write_stl(folder() / "part.stl", mesh, "part");
    Job job;
    job.title = "part";
    job.file = job.part.mesh = folder() / "part.stl";
    return inspect_part(job, {{0, 0}, {5, 0}, {0, 5}});
  }
};

TEST_F(InspectionFile, JsonHoldsWhatWasFound) {
  const Inspection inspection = inspect(demo::bowl(30, 25, 80, 0.02));
  const auto json = nlohmann::json::parse(inspection_json(inspection));
  EXPECT_EQ(json["regions"].size(), inspection.setup.region_map.regions.size());
  EXPECT_EQ(json["regions"][0]["number"], 1);
  EXPECT_NEAR(json["survey"]["depth"].get<double>(), inspection.survey.depth_mm(), 1e-5);
  EXPECT_EQ(json["mesh"]["closed"], true);
  EXPECT_EQ(json["mesh"]["crossing_pairs"]["count"], 0);
  EXPECT_EQ(json["places"].size(), 3u);
  EXPECT_EQ(json["spans"].size(), 2u);
  EXPECT_GT(json["circle"]["radius"].get<double>(), 3.5);
  EXPECT_EQ(json["file"]["placement"]["matrix"][0][0], 1.0);
  double share = 0;
  for (const auto& slope : json["survey"]["slopes"]) share += slope["area"].get<double>();
  share += json["survey"]["undercut_area"].get<double>() + json["survey"]["underside_area"].get<double>();
  EXPECT_NEAR(share, json["survey"]["area"].get<double>(), 1e-3) << "every piece of surface is in one class";
}

TEST_F(InspectionFile, PicturesOfTroublesomePartsAreDrawn) {
  for (int kind = 0; kind < testing::kNastyKinds; ++kind) {
    testing::Rng rng(static_cast<std::uint64_t>(kind) + 1);
    const Mesh mesh = testing::nasty_part(rng, kind);
    write_stl(folder() / "part.stl", mesh, "part");
    Job job;
    job.title = testing::nasty_name(kind);
    job.file = job.part.mesh = folder() / "part.stl";
    const Inspection inspection = inspect_part(job);
    EXPECT_EQ(draw_inspection(inspection, folder()).size(), inspection.edges.empty() ? 4u : 5u) << job.title;
    for (const char* file : {"part.png", "slopes.png", "reach.png", "regions.png"})
      EXPECT_GT(std::filesystem::file_size(folder() / file), 2000u) << job.title;
  }
}

TEST_F(InspectionFile, WhatAJobNamesIsDrawn) {
  const Mesh bowl = demo::bowl(30, 25, 80, 0.05);
  write_stl(folder() / "part.stl", bowl, "part");
  Job job;
  job.title = "part";
  job.file = job.part.mesh = folder() / "part.stl";
  const auto named = [](auto& list, const char* name) -> auto& {
    list.emplace_back();
    list.back().name = name;
    return list.back();
  };
  named(job.regions, "bowl").at = {{0, 0}};
  named(job.regions, "face").at = {{38, 38}};
  named(job.lids, "over the bowl").holes_of = "face";
  named(job.curves, "rim").holes_of = "face";
  named(job.boundaries, "rim").region = "bowl";
  RunOutJob& out = named(job.run_outs, "out");
  out.edge_of = "face", out.length_mm = 5;
  CarrierJob& roof = named(job.carriers, "roof");
  roof.copy_of = "bowl", roof.offset_mm = 2;
  const Inspection inspection = inspect_part(job);
  EXPECT_EQ(draw_inspection(inspection, folder()).back().file, "named.png");
  EXPECT_GT(std::filesystem::file_size(folder() / "named.png"), 5000u);
  ASSERT_EQ(inspection.setup.lids.size(), 1u);
  EXPECT_FALSE(inspection.setup.lids[0].mesh.triangles.empty());
  const auto json = nlohmann::json::parse(inspection_json(inspection));
  EXPECT_EQ(json["boundaries"][0]["name"], "rim");
  EXPECT_NEAR(json["boundaries"][0]["area"].get<double>(), M_PI * 625, 10);
}

TEST(Words, SharesAreNeverRoundedToAllOrNothing) {
  EXPECT_EQ(percent_words(0), "0.0 %");
  EXPECT_EQ(percent_words(1), "100.0 %");
  EXPECT_EQ(percent_words(0.0001), "below 0.1 %");
  EXPECT_EQ(percent_words(0.99999), "above 99.9 %");
  EXPECT_EQ(percent_words(0.12345), "12.3 %");
}

TEST(Words, SlopesAndHollows) {
  Survey survey;
  survey.slopes = {{0, 0.1}, {0.1, 45}, {45, 90}};
  EXPECT_EQ(slope_words(survey, 0), "level");
  EXPECT_EQ(slope_words(survey, 1), "0.1 to 45");
  EXPECT_EQ(slope_words(survey, 2), "upright");
  EXPECT_EQ(smallest_hollow_words(survey, Telling()), "none");
  survey.reach = {{2, 1}, {8, 0.5}};
  survey.smallest_hollow_mm = 0;
  EXPECT_EQ(smallest_hollow_words(survey, Telling()), "below 1 mm");
  survey.smallest_hollow_mm = 3.25;
  EXPECT_EQ(smallest_hollow_words(survey, Telling()), "3.25 mm");
  survey.smallest_hollow_mm = 8;
  EXPECT_EQ(smallest_hollow_words(survey, Telling()), "above 4 mm");
}

TEST_F(InspectionFile, PlacementInWords) {
  JobSetup setup;
  setup.record.matrix.setZero();
  EXPECT_EQ(placement_words(setup), "");
  setup.job.part.placement = {.shrink_factor = {1.006, 1.006, 1.006},
                              .mirror = Axis::y,
                              .turns = {{Axis::x, 180}},
                              .move = {1, 2, 3}};
  EXPECT_EQ(placement_words(setup),
            "sizes times 1.006, mirrored in Y, turned by 180 degrees about X, moved by 1, 2, 3");
}

}  // namespace
}  // namespace yardpass
