// Curve files: shapes against closed forms, what the file says about them, and what is refused with its line.
#include <gtest/gtest.h>

#include <numbers>

#include "support/rng.h"
#include "support/scratch.h"
#include "yardpass/curve/read_curves.h"
#include "yardpass/curve/write_curves.h"
#ifdef YARDPASS_WITH_DXF
#include "yardpass/dxf/dxf_curves.h"
#endif
#include "yardpass/geom/region.h"

namespace yardpass {
namespace {

#define EXPECT_HAS(text, part) EXPECT_NE((text).find(part), std::string::npos) << (text)

CurveFile read(const std::string& bytes, const std::string& name, const CurveReadOptions& options = {}) {
#ifdef YARDPASS_WITH_DXF
  if (name.ends_with(".dxf")) return read_dxf_bytes(bytes, name, options);
#endif
  return read_curve_bytes(bytes, name, options);
}

std::string message(const std::string& bytes, const std::string& name) {
  try {
    (void)read(bytes, name);
    return "accepted";
  } catch (const Error& error) {
    return error.what();
  }
}

/// All points, and the middles of all chords, are as far from the centre as they must be.
void expect_circle(const Curve& curve, const Vec3& centre, double radius, double tolerance) {
  const std::size_t n = curve.points.size();
  for (std::size_t i = 0; i + 1 < n + (curve.closed ? 1 : 0); ++i) {
    const Vec3 &a = curve.points[i], &b = curve.points[(i + 1) % n];
    EXPECT_NEAR((a - centre).norm(), radius, 1e-6);
    EXPECT_GT(((a + b) / 2 - centre).norm(), radius - tolerance - 1e-9);
  }
}

std::string svg(const std::string& inside,
                const std::string& attributes = "width=\"100mm\" height=\"50mm\" viewBox=\"0 0 200 100\"") {
  return "<svg xmlns=\"http://www.w3.org/2000/svg\" " + attributes + ">\n" + inside + "\n</svg>\n";
}

TEST(Svg, UnitsAndTheUpwardYOfThePage) {
  const CurveFile file = read(svg("<path d='M0 0 L200 100'/>"), "a.svg");
  ASSERT_EQ(file.curves.size(), 1u);
  EXPECT_LT((file.curves[0].points[0] - Vec3(0, 50, 0)).norm(), 1e-9);
  EXPECT_LT((file.curves[0].points[1] - Vec3(100, 0, 0)).norm(), 1e-9);
  EXPECT_HAS(file.unit_words, "viewBox");
  const CurveFile plain = read(svg("<path d='M0 0 L96 0'/>", ""), "a.svg");
  EXPECT_NEAR(length(plain.curves[0]), 25.4, 1e-9) << "without a size a user unit is 1/96 inch";
  const CurveFile asked = read(svg("<path d='M0 0 L96 0'/>"), "a.svg", {.unit = LengthUnit::inch});
  EXPECT_NEAR(length(asked.curves[0]), 96 * 25.4, 1e-9);
}

TEST(Svg, EveryShapeHasItsLength) {
  const double k = 0.5;  // mm of a user unit
  const auto only = [&](const std::string& shape) {
    const CurveFile file = read(svg(shape), "a.svg", {.unit = {}, .tolerance_mm = 1e-5});
    EXPECT_EQ(file.curves.size(), 1u) << shape;
    return file.curves.front();
  };
  EXPECT_NEAR(length(only("<line x1='1' y1='2' x2='4' y2='6'/>")), 5 * k, 1e-9);
  EXPECT_NEAR(length(only("<polyline points='0,0 3,4 3,10'/>")), 11 * k, 1e-9);
  EXPECT_NEAR(length(only("<polygon points='0,0 10,0 10,10 0,10'/>")), 40 * k, 1e-9);
  EXPECT_NEAR(length(only("<rect x='1' y='1' width='20' height='10'/>")), 60 * k, 1e-9);
  EXPECT_NEAR(length(only("<rect x='1' y='1' width='20' height='10' rx='2'/>")),
              (60 - 16 + 4 * std::numbers::pi) * k, 0.002);
  const Curve circle = only("<circle cx='50' cy='40' r='30'/>");
  EXPECT_TRUE(circle.closed);
  expect_circle(circle, Vec3(25, 30, 0), 15, 1e-5);
  const Curve ellipse = only("<ellipse cx='50' cy='40' rx='30' ry='10'/>");
  for (const Vec3& p : ellipse.points) EXPECT_NEAR(std::hypot((p.x() - 25) / 15, (p.y() - 30) / 5), 1, 1e-9);
}

TEST(Svg, PathsWithEveryLetter) {
  const CurveFile file = read(
      svg("<path d='m10 10 h10 v10 a5 5 0 0 1 -5 5 q1 1 2 2 t3 3 c1 0 2 1 2 2 s1 2 2 2 z l5 5'/>"), "a.svg");
  ASSERT_EQ(file.curves.size(), 2u);
  EXPECT_TRUE(file.curves[0].closed);
  EXPECT_FALSE(file.curves[1].closed);
  EXPECT_LT((file.curves[1].points[0] - Vec3(5, 45, 0)).norm(), 1e-9) << "after z it goes on from the start";
  // A quadratic with a known height: its middle lies half-way to the control point.
  const Curve arch =
      read(svg("<path d='M0 0 Q10 20 20 0'/>"), "a.svg", {.unit = LengthUnit::millimetre}).curves[0];
  double most = -1e9;
  for (const Vec3& p : arch.points) most = std::max(most, 100 - p.y());
  EXPECT_NEAR(most, 10, 0.001);
}

TEST(Svg, ArcsInAllFourWays) {
  for (const int large : {0, 1})
    for (const int sweep : {0, 1}) {
      const std::string d =
          "<path d='M40 50 A20 20 0 " + std::to_string(large) + " " + std::to_string(sweep) + " 60 50'/>";
      const Curve arc = read(svg(d), "a.svg", {.unit = LengthUnit::millimetre}).curves[0];
      // Chord 20 of radius 20: 60 degrees, or the other 300; Y of the centre by which side it bends to.
      const double up = (large == sweep) ? 1 : -1;
      expect_circle(arc, Vec3(50, 50 + up * 10 * std::sqrt(3.0), 0), 20, 0.001);
      EXPECT_NEAR(length(arc), (large ? 300 : 60) * std::numbers::pi / 180 * 20, 0.02);
      EXPECT_LT((arc.points.back() - Vec3(60, 50, 0)).norm(), 1e-9);
    }
}

TEST(Svg, TransformsLayersNamesColours) {
  const CurveFile file =
      read(svg("<g id='planking' stroke='#0a0'><g id='inner' transform='translate(20,10)'>"
               "<path id='sheer' d='M0 0 L10 0' transform='rotate(90)'/></g></g>"
               "<path style='fill:none; stroke:#Ff0080' d='M0 0 L1 1'/><text>Tern Cove</text>"
               "<path display='none' d='M0 0 L1 1'/><defs><path d='M0 0 L9 9'/></defs>"),
           "a.svg", {.unit = LengthUnit::millimetre});
  ASSERT_EQ(file.curves.size(), 2u);
  EXPECT_EQ(file.curves[0].layer, "planking");
  EXPECT_EQ(file.curves[0].name, "sheer");
  EXPECT_EQ(file.curves[0].colour, "#00aa00");
  EXPECT_LT((file.curves[0].points[0] - Vec3(20, 90, 0)).norm(), 1e-9);
  EXPECT_LT((file.curves[0].points[1] - Vec3(20, 80, 0)).norm(), 1e-9)
      << "90 degrees turns X to the page's downward Y";
  EXPECT_EQ(file.curves[1].colour, "#ff0080");
  EXPECT_EQ(file.curves[1].layer, "");
  ASSERT_EQ(file.notes.size(), 2u);
  EXPECT_HAS(file.notes[0], "1 \"text\" passed over");
  EXPECT_HAS(file.notes[1], "not shown");
}

TEST(Svg, MistakesNameTheLine) {
  EXPECT_HAS(message(svg("<circle cx='1' cy='1' r='x3'/>"), "a.svg"), "a.svg: line 2:");
  EXPECT_HAS(message(svg("\n<path d='M0 0 L5 Q'/>"), "a.svg"), "a.svg: line 3:");
  EXPECT_HAS(message("<svg>\n<g>\n</svg>", "a.svg"), "a.svg: line 3:");
  EXPECT_HAS(message("<html/>", "a.svg"), "not \"svg\"");
  EXPECT_HAS(message(svg("<path d='M0 0 L1e300 0'/>"), "a.svg"), "1e6 mm");
  EXPECT_HAS(message(svg("<text>x</text>"), "a.svg"), "holds no curve; 1 \"text\" passed over");
  EXPECT_HAS(message(svg("<path d='M0 0 L1 1'/>", "viewBox='0 0 ten 5'"), "a.svg"),
             "line 1: expected a number");
  EXPECT_HAS(message("", "a.svg"), "a.svg: line");
  EXPECT_HAS(message("x", "a.gif"), ".dxf, .svg and .obj");
}

TEST(ObjLines, LayersNamesAndClosing) {
  const CurveFile file = read(
      "g rail\no port\nv 0 0 1\nv 10 0 2\nv 10 10 3\nl 1 2 3\no starboard\nl -3 -1 -2 1\nf 1 2 3\n", "a.obj");
  ASSERT_EQ(file.curves.size(), 2u);
  EXPECT_EQ(file.curves[0].layer, "rail");
  EXPECT_EQ(file.curves[0].name, "port");
  EXPECT_EQ(file.curves[0].points, (Polyline3{{0, 0, 1}, {10, 0, 2}, {10, 10, 3}}));
  EXPECT_FALSE(file.curves[0].closed);
  EXPECT_TRUE(file.curves[1].closed);
  EXPECT_EQ(file.curves[1].points.size(), 3u);
  EXPECT_HAS(file.notes.at(0), "1 face(s)");
  EXPECT_HAS(message("v 0 0 0\nl 1 7\n", "a.obj"), "line 2: point 7 does not exist");
  EXPECT_HAS(message("v 0 0\n", "a.obj"), "line 1: a point needs three numbers");
  EXPECT_HAS(message("v 0 0 0\nv 1 0 0\nl 1\n", "a.obj"), "line 3: a line needs two points");
}

using CurveFiles = testing::ScratchFolder;

std::vector<Curve> random_curves(std::uint64_t seed) {
  testing::Rng rng(seed);
  std::vector<Curve> curves;
  for (int c = 0; c < 5; ++c) {
    Curve curve{
        {}, rng.pick(2) == 1, "curve" + std::to_string(c), rng.pick(2) ? "one & all" : "two", "#ff0000"};
    for (int i = 0; i < 3 + rng.pick(20); ++i)
      curve.points.emplace_back(rng.uniform(-500, 500), rng.uniform(-500, 500), rng.uniform(-50, 50));
    curves.push_back(curve);
  }
  return curves;
}

void expect_same(const std::vector<Curve>& a, const std::vector<Curve>& b, const Vec3& shift, bool flat,
                 bool names) {
  ASSERT_EQ(a.size(), b.size());
  for (const Curve& x : a) {
    const auto same = [&](const Curve& y) {
      if (x.points.size() != y.points.size() || x.closed != y.closed || x.layer != y.layer) return false;
      for (std::size_t i = 0; i < x.points.size(); ++i) {
        Vec3 d = x.points[i] - shift - y.points[i];
        if (flat) d.z() = 0;
        if (d.norm() > 2e-6) return false;
      }
      return !names || (x.name == y.name);
    };
    EXPECT_EQ(std::count_if(b.begin(), b.end(), same), 1) << x.name;
  }
}

TEST_F(CurveFiles, WhatIsWrittenReadsBack) {
  for (int seed = 0; seed < 20; ++seed) {
    const std::vector<Curve> curves = random_curves(static_cast<std::uint64_t>(seed));
    write_obj_curves(folder() / "a.obj", curves);
    expect_same(curves, read_curves(folder() / "a.obj").curves, Vec3(0, 0, 0), false, true);
    write_svg_curves(folder() / "a.svg", curves);
    Box3 box;
    for (const Curve& c : curves)
      for (const Vec3& p : c.points) box.extend(p);
    const CurveFile svg_file = read_curves(folder() / "a.svg");
    expect_same(curves, svg_file.curves, box.min(), true, true);
    EXPECT_EQ(svg_file.curves[0].colour, "#ff0000");
#ifdef YARDPASS_WITH_DXF
    write_dxf_curves(folder() / "a.dxf", curves);
    const CurveFile dxf_file = read_dxf_curves(folder() / "a.dxf");
    expect_same(curves, dxf_file.curves, Vec3(0, 0, 0), false, false);
    EXPECT_EQ(dxf_file.curves[0].colour, "#ff0000");
    EXPECT_HAS(dxf_file.unit_words, "$INSUNITS");
#endif
  }
  EXPECT_THROW(write_obj_curves(folder() / "none" / "a.obj", {}), Error);
  EXPECT_THROW(write_svg_curves(folder() / "none" / "a.svg", {}), Error);
  EXPECT_THROW((void)read_curves(folder() / "missing.svg"), Error);
}

#ifdef YARDPASS_WITH_DXF
std::string dxf(const std::string& entities, const std::string& before = "") {
  return before + "0\nSECTION\n2\nENTITIES\n" + entities + "0\nENDSEC\n0\nEOF\n";
}

TEST(Dxf, EveryKindOfCurve) {
  const CurveFile file = read(
      dxf("0\nLINE\n8\nkeel\n10\n1\n20\n2\n30\n3\n11\n4\n21\n6\n31\n3\n"
          "0\nARC\n8\nkeel\n10\n0\n20\n0\n30\n5\n40\n10\n50\n350\n51\n80\n"
          "0\nCIRCLE\n8\nkeel\n10\n7\n20\n8\n30\n0\n40\n3\n"
          "0\nELLIPSE\n8\n0\n10\n0\n20\n0\n30\n0\n11\n10\n21\n0\n31\n0\n40\n0.5\n41\n0\n42\n6."
          "283185307179586\n"
          "0\nLWPOLYLINE\n8\n0\n90\n3\n70\n0\n38\n4.5\n10\n0\n20\n0\n42\n1\n10\n10\n20\n0\n10\n10\n20\n5\n"
          "0\nTEXT\n8\n0\n1\nTern Cove\n"),
      "a.dxf", {.unit = {}, .tolerance_mm = 1e-4, .texts = false});
  ASSERT_EQ(file.curves.size(), 5u);
  EXPECT_NEAR(length(file.curves[0]), 5, 1e-12);
  EXPECT_EQ(file.curves[0].layer, "keel");
  expect_circle(file.curves[1], Vec3(0, 0, 5), 10, 1e-4);
  EXPECT_NEAR(length(file.curves[1]), 10 * std::numbers::pi / 2, 1e-3);
  EXPECT_TRUE(file.curves[2].closed);
  expect_circle(file.curves[2], Vec3(7, 8, 0), 3, 1e-4);
  EXPECT_TRUE(file.curves[3].closed);
  for (const Vec3& p : file.curves[3].points) EXPECT_NEAR(std::hypot(p.x() / 10, p.y() / 5), 1, 1e-9);
  const Curve& poly = file.curves[4];
  EXPECT_NEAR(length(poly), 5 * std::numbers::pi + 5, 1e-3);
  double lowest = 0;
  for (const Vec3& p : poly.points) {
    EXPECT_NEAR(p.z(), 4.5, 1e-12);
    lowest = std::min(lowest, p.y());
  }
  EXPECT_NEAR(lowest, -5, 1e-3)
      << "a positive bulge runs counter-clockwise: below the chord from left to right";
  EXPECT_HAS(file.notes.at(0), "1 TEXT passed over");
  EXPECT_HAS(file.unit_words, "names no unit");
}

TEST(Dxf, SplinesFollowTheirControlPoints) {
  // A quarter circle, exactly, as a rational spline of degree 2.
  std::string knots, points;
  for (const int k : {0, 0, 0, 1, 1, 1}) knots += "40\n" + std::to_string(k) + "\n";
  const char* weights[] = {"1", "0.7071067811865476", "1"};
  const char* xy[][2] = {{"10", "0"}, {"10", "10"}, {"0", "10"}};
  for (const char* w : weights) knots += std::string("41\n") + w + "\n";
  for (const auto& p : xy) points += std::string("10\n") + p[0] + "\n20\n" + p[1] + "\n30\n2\n";
  const CurveFile file =
      read(dxf("0\nSPLINE\n8\n0\n70\n8\n71\n2\n72\n6\n73\n3\n74\n0\n" + knots + points), "a.dxf");
  ASSERT_EQ(file.curves.size(), 1u);
  expect_circle(file.curves[0], Vec3(0, 0, 2), 10, 0.001);
  EXPECT_NEAR(length(file.curves[0]), 5 * std::numbers::pi, 0.01);
}

TEST(Dxf, BlocksUnitsAndMirroredPlanes) {
  const std::string header = "0\nSECTION\n2\nHEADER\n9\n$INSUNITS\n70\n5\n0\nENDSEC\n";
  const std::string blocks =
      "0\nSECTION\n2\nBLOCKS\n0\nBLOCK\n8\n0\n2\ncleat\n70\n0\n10\n1\n20\n0\n30\n0\n"
      "0\nLINE\n8\n0\n10\n1\n20\n0\n30\n0\n11\n2\n21\n0\n31\n0\n0\nENDBLK\n8\n0\n0\nENDSEC\n";
  const CurveFile file =
      read(dxf("0\nINSERT\n8\ndeck\n2\ncleat\n10\n5\n20\n6\n30\n0\n41\n2\n42\n2\n43\n2\n50\n90\n"
               "0\nARC\n8\n0\n10\n3\n20\n0\n30\n0\n40\n1\n50\n0\n51\n90\n210\n0\n220\n0\n230\n-1\n",
               header + blocks),
           "a.dxf");
  ASSERT_EQ(file.curves.size(), 2u);
  EXPECT_EQ(file.curves[0].name, "cleat");
  EXPECT_EQ(file.curves[0].layer, "deck");
  EXPECT_LT((file.curves[0].points[0] - Vec3(50, 60, 0)).norm(), 1e-9) << "centimetres";
  EXPECT_LT((file.curves[0].points[1] - Vec3(50, 80, 0)).norm(), 1e-9);
  EXPECT_LT((file.curves[1].points[0] - Vec3(-40, 0, 0)).norm(), 1e-9)
      << "seen from below, X runs the other way";
  EXPECT_LT((file.curves[1].points.back() - Vec3(-30, 10, 0)).norm(), 1e-6);
}

TEST(Dxf, MistakesNameTheLine) {
  EXPECT_HAS(message(dxf("0\nLINE\n8\n0\n10\n1,5\n"), "a.dxf"),
             "a.dxf: line 10: expected a number, found \"1,5\"");
  EXPECT_HAS(message("0\nSECTION\n2\nENTITIES\n0\nENDSEC\n", "a.dxf"), "cut off");
  EXPECT_HAS(message("hello\n", "a.dxf"), "line 1: expected a group code");
  EXPECT_HAS(message(dxf("0\nLWPOLYLINE\n8\n0\n90\n2000000000\n70\n0\n10\n0\n20\n0\n"), "a.dxf"),
             "2000000000 points");
  EXPECT_HAS(message(dxf("0\nINSERT\n8\n0\n2\nnone\n10\n0\n20\n0\n30\n0\n"), "a.dxf"),
             "\"none\" is inserted but not defined");
  const std::string self =
      "0\nSECTION\n2\nBLOCKS\n0\nBLOCK\n8\n0\n2\na\n70\n0\n10\n0\n20\n0\n30\n0\n0\nINSERT\n8\n0\n2\na\n10\n1"
      "\n20\n0\n30\n0\n0\nENDBLK\n8\n0\n0\nENDSEC\n";
  EXPECT_HAS(message(dxf("0\nINSERT\n8\n0\n2\na\n10\n0\n20\n0\n30\n0\n", self), "a.dxf"), "16 deep");
  EXPECT_HAS(message(dxf("0\nDIMENSION\n8\n0\n1\nx\n"), "a.dxf"), "holds no curve; 1 DIMENSION passed over");
  EXPECT_HAS(message("Tern Binary DXF\r\n", "a.dxf"), "binary DXF");
}
#endif

}  // namespace
}  // namespace yardpass
