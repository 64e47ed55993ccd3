#include "yardpass/lettering/lettering.h"

#include <gtest/gtest.h>

#include <numbers>

#include "yardpass/curve/made_curves.h"
#include "yardpass/dxf/dxf_curves.h"
#include "yardpass/geom/error.h"

namespace yardpass {
namespace {

Box2 box_of(const std::vector<Curve>& strokes) {
  Box2 box;
  for (const Curve& stroke : strokes)
    for (const Vec3& p : stroke.points) box.extend(plan(p));
  return box;
}
std::string notes_of(const Lettering& written) {
  std::string all;
  for (const LetterNote& note : written.notes) all += std::to_string(note.count) + " " + note.says + "; ";
  return all;
}

TEST(Lettering, HasTheHeightPlaceAngleAndSpacingAskedFor) {
  const Lettering plain = lettering("HIT", {3, 4}, {.height_mm = 7});
  const Box2 box = box_of(plain.strokes);
  EXPECT_NEAR(box.min().y(), 4, 1e-9);
  EXPECT_NEAR(box.max().y(), 11, 1e-9);
  EXPECT_GE(box.min().x(), 3);
  EXPECT_LE(box.max().x(), 3 + plain.length_mm);
  // Turned about its place, whole.
  const Lettering turned = lettering("HIT", {3, 4}, {.height_mm = 7, .angle_deg = 30});
  ASSERT_EQ(turned.strokes.size(), plain.strokes.size());
  const Eigen::Rotation2Dd turn(std::numbers::pi / 6);
  for (std::size_t i = 0; i < plain.strokes.size(); ++i)
    for (std::size_t k = 0; k < plain.strokes[i].points.size(); ++k)
      EXPECT_LT((plan(turned.strokes[i].points[k]) -
                 (Vec2(3, 4) + turn * (plan(plain.strokes[i].points[k]) - Vec2(3, 4))))
                    .norm(),
                1e-9);
  EXPECT_NEAR(lettering("HIT", {0, 0}, {.height_mm = 7, .spacing_mm = 2}).length_mm, plain.length_mm + 4,
              1e-9);
  const Lettering middle = lettering("HIT", {0, 0}, {.height_mm = 7, .align = LetterAlign::middle});
  const Lettering end = lettering("HIT", {0, 0}, {.height_mm = 7, .align = LetterAlign::end});
  EXPECT_NEAR(box_of(middle.strokes).min().x(), box.min().x() - 3 - 0.5 * plain.length_mm, 1e-9);
  EXPECT_NEAR(box_of(end.strokes).min().x(), box.min().x() - 3 - plain.length_mm, 1e-9);
  EXPECT_NEAR(lettering("HIT", {0, 0}, {.height_mm = 7, .fit_mm = 40}).length_mm, 40, 1e-9);
  // A second line below the first.
  EXPECT_NEAR(box_of(lettering("H\nH", {0, 0}, {.height_mm = 5}).strokes).min().y(), -8, 1e-9);
  EXPECT_THROW((void)lettering("H", {0, 0}, {.height_mm = 0}), Error);
}

TEST(Lettering, EveryStyleHasEveryLetterOfTheKeyboard) {
  for (const LetterStyle style : {LetterStyle::plain, LetterStyle::script, LetterStyle::twin,
                                  LetterStyle::book, LetterStyle::slanted}) {
    for (char c = '!'; c <= '~'; ++c) {
      const Lettering one = lettering(std::string(1, c), {0, 0}, {.style = style});
      EXPECT_FALSE(one.strokes.empty()) << c;
      EXPECT_TRUE(one.notes.empty()) << c << notes_of(one);
    }
    EXPECT_TRUE(lettering("a b", {0, 0}, {.style = style}).notes.empty()) << "a space is no missing letter";
  }
}

TEST(Lettering, TellsAccentsAndMissingLetters) {
  const Lettering plain = lettering("Grosse", {0, 0}), accents = lettering("Größe ☃☃", {0, 0});
  EXPECT_EQ(accents.strokes.size(), plain.strokes.size());
  EXPECT_EQ(notes_of(accents), "1 ß written as ss; 1 ö written as o; 2 left out: there is no ☃; ");
  EXPECT_EQ(notes_of(lettering("caf\xe9", {0, 0})), "1 é written as e; ") << "Latin-1 is read too";
  EXPECT_TRUE(lettering("", {0, 0}).strokes.empty());
}

TEST(Lettering, AlongACurveEachLetterStandsSquareToIt) {
  const Curve circle = circle_curve({0, 0}, 20);
  const Lettering round = lettering_along("IIIIIIII", circle, {.height_mm = 4});
  ASSERT_EQ(round.strokes.size(), 8u);
  for (const Curve& stroke : round.strokes) {
    // Counter-clockwise its left is inside: letters stand towards the middle.
    const Vec2 a = plan(stroke.points.front()), b = plan(stroke.points.back());
    const Vec2 foot = a.norm() > b.norm() ? a : b, top = a.norm() > b.norm() ? b : a;
    EXPECT_NEAR(foot.norm(), 20, 0.02);
    EXPECT_NEAR(top.norm(), 16, 0.02);
    EXPECT_NEAR(std::abs(cross2(Vec2(foot.normalized()), Vec2(top.normalized()))), 0, 0.01);
  }
  const Lettering cut =
      lettering_along("IIIIIIIIIIIIIIIIIIIIIIIII", Curve{{{0, 0, 0}, {10, 0, 0}}}, {.height_mm = 4});
  EXPECT_LT(cut.strokes.size(), 25u);
  EXPECT_NE(notes_of(cut).find("left out: the curve is too short"), std::string::npos) << notes_of(cut);
}

std::string dxf(const std::string& entities) {
  return "0\nSECTION\n2\nENTITIES\n" + entities + "0\nENDSEC\n0\nEOF\n";
}

TEST(Lettering, TextsOfADxfKeepSizeAngleLayerAndPlace) {
  const CurveFile file = read_dxf_bytes(
      dxf("0\nTEXT\n8\nname\n10\n5\n20\n6\n30\n0\n40\n7\n50\n90\n1\nH\n"
          "0\nLINE\n8\nkeel\n10\n1\n20\n2\n30\n3\n11\n4\n21\n6\n31\n3\n"
          "0\nTEXT\n8\nname\n10\n0\n20\n0\n30\n2\n40\n5\n1\nr\\U+00E9f\n72\n2\n11\n50\n21\n40\n31\n2\n"
          "0\nMTEXT\n8\nnote\n10\n0\n20\n0\n30\n0\n40\n3\n71\n1\n1\n{\\fArial|b0;I\\PI}\n"),
      "a.dxf");
  const auto of_layer = [&](const std::string& layer) {
    std::vector<Curve> found;
    for (const Curve& curve : file.curves)
      if (curve.layer == layer) found.push_back(curve);
    return found;
  };
  const std::vector<Curve> name = of_layer("name");
  ASSERT_GT(name.size(), 3u);
  // An H of height 7 that runs up: as wide in X as it is high.
  const Box2 letter = box_of({name[0], name[1], name[2]});
  EXPECT_NEAR(letter.max().x(), 5, 1e-9);
  EXPECT_NEAR(letter.min().x(), -2, 1e-9);
  EXPECT_GT(letter.min().y(), 6);
  const Box2 right = box_of({name.begin() + 3, name.end()});
  EXPECT_LE(right.max().x(), 50);
  EXPECT_GT(right.min().x(), 35);
  EXPECT_GE(right.min().y(), 40 - 1e-9);
  EXPECT_EQ(name.back().points.front().z(), 2);
  const Box2 note = box_of(of_layer("note"));
  EXPECT_NEAR(note.max().y(), 0, 1e-9) << "attached at its top";
  EXPECT_NEAR(note.min().y(), -3 - 1.6 * 3, 1e-9) << "two lines";
  EXPECT_EQ(file.curves[3].layer, "keel") << "in the order of the file";
  EXPECT_NE(std::find(file.notes.begin(), file.notes.end(), "1 é written as e"), file.notes.end());
  EXPECT_EQ(read_dxf_bytes(
                dxf("0\nTEXT\n8\n0\n40\n7\n1\nH\n0\nLINE\n8\n0\n10\n1\n20\n2\n30\n0\n11\n4\n21\n6\n31\n0\n"),
                "a.dxf", {.texts = false})
                .curves.size(),
            1u);
}

}  // namespace
}  // namespace yardpass
