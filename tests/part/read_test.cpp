// Reading STL: both kinds, and every way a file can be wrong.
#include <gtest/gtest.h>

#include <cstring>
#include <fstream>

#include "parts.h"
#include "support/demo_files.h"
#include "support/nasty.h"
#include "support/scratch.h"
#include "yardpass/part/read_mesh.h"
#include "yardpass/part/summary.h"
#include "yardpass/part/write_stl.h"

namespace yardpass {
namespace {

class Stl : public testing::ScratchFolder {
 protected:
  std::filesystem::path file(const std::string& bytes) {
    const auto path = folder() / "part.stl";
    std::ofstream(path, std::ios::binary) << bytes;
    return path;
  }
  std::string message(const std::string& bytes) {
    const auto path = file(bytes);
    try {
      (void)read_mesh(path).mesh;
      return "accepted";
    } catch (const Error& error) {
      const std::string what = error.what();
      EXPECT_EQ(what.rfind(path.string() + ": ", 0), 0u) << what;
      return what;
    }
  }
  std::string binary_box() {
    write_stl(folder() / "box.stl", testing::box_mesh(Box3(Vec3(0, 0, 0), Vec3(1, 2, 3))), "box");
    std::ifstream in(folder() / "box.stl", std::ios::binary);
    return {std::istreambuf_iterator<char>(in), {}};
  }
};

const char* const kFacet =
    "facet normal 0 0 1\n outer loop\n vertex 0 0 0\n vertex 1 0 0\n vertex 0 1 0\n endloop\nendfacet\n";

#define EXPECT_HAS(text, part) EXPECT_NE((text).find(part), std::string::npos) << (text)

TEST_F(Stl, BinaryRoundTripIsWeldedAndClosed) {
  const Mesh mesh = read_mesh(file(binary_box())).mesh;
  EXPECT_EQ(mesh.points.size(), 8u);
  EXPECT_EQ(mesh.triangles.size(), 12u);
  EXPECT_TRUE(summarize(mesh).edges.closed());
  EXPECT_NEAR(summarize(mesh).volume_mm3, 6, 1e-9);
}

TEST_F(Stl, BinaryWithSolidInItsHeader) {
  std::string bytes = binary_box();
  std::memcpy(bytes.data(), "solid of sorts", 14);
  EXPECT_EQ(read_mesh(file(bytes)).mesh.triangles.size(), 12u);
}

TEST_F(Stl, AsciiWithOddWhiteSpaceAndSeveralSolids) {
  std::string text = std::string("  SOLID two words\r\n") + kFacet + "endsolid two words\r\n\r\nsolid\n" +
                     kFacet + "\tendsolid";
  for (char& c : text)
    if (c == ' ' && &c > text.data() + 30) c = '\t';
  EXPECT_EQ(read_mesh(file(text)).mesh.triangles.size(), 2u);
  EXPECT_EQ(read_mesh(file("solid x\nfacet normal 0 0 0 outer loop vertex +1e0 0 0 vertex 1.5 0 0 vertex 0 1 "
                           "0 endloop endfacet endsolid"))
                .mesh.triangles.size(),
            1u);
}

TEST_F(Stl, LineEndsMarksAndWhatFollowsTheEnd) {
  const std::string text = std::string("solid a b\n") + kFacet + "endsolid a b\n";
  const auto with_ends = [](std::string lines, const std::string& end) {
    for (std::size_t at = 0; (at = lines.find('\n', at)) != std::string::npos; at += end.size())
      lines.replace(at, 1, end);
    return lines;
  };
  const std::string two = text + "solid c\n" + kFacet + kFacet + "endsolid c\n";
  for (const std::string end : {"\n", "\r\n", "\r", " "})
    for (const std::string mark : {"", "\xef\xbb\xbf"}) {
      EXPECT_EQ(read_mesh(file(mark + with_ends(text, end))).mesh.triangles.size(), 1u) << end.size();
      const MeshFile both = read_mesh(file(mark + with_ends(two, end)));
      EXPECT_EQ(both.mesh.triangles.size(), 3u);
      EXPECT_EQ(both.groups, (std::vector<std::string>{"a b", "c"})) << int(end[0]);
      EXPECT_TRUE(both.notes.empty());
    }
  EXPECT_HAS(message(with_ends("solid x\nfacet normal 0 0 1\nouter loop\nvertex 0,5 0 0\n", "\r")),
             "line 4: ");
  EXPECT_HAS(message("\xff\xfes\0o\0l\0i\0d\0"), "UTF-16");
  // What follows the end is passed over and told, padding is not worth telling.
  for (const std::string& padding : {std::string(512, '\0'), std::string("\x1a"), std::string("\r\n \n")})
    EXPECT_TRUE(read_mesh(file(text + padding)).notes.empty());
  for (const auto& [bytes, note] :
       {std::pair(text + "made on a Tuesday", "17 bytes behind the last \"endsolid\""),
        std::pair(binary_box() + "x", "1 byte behind the last triangle"),
        std::pair(binary_box() + std::string(49, '\0'), "49 bytes behind the last triangle")}) {
    const MeshFile read = read_mesh(file(bytes));
    ASSERT_EQ(read.notes.size(), 1u);
    EXPECT_HAS(read.notes.front(), note);
  }
}

TEST_F(Stl, RefusesBrokenBinary) {
  const std::string good = binary_box();
  EXPECT_HAS(message(good.substr(0, good.size() - 7)), "promises 12 triangles");
  EXPECT_HAS(message(good + std::string(100, 'x')), "enough for 14 triangles: its count or its end");
  std::string lying = good;
  const std::uint32_t count = 4000000000u;
  std::memcpy(lying.data() + 80, &count, 4);
  EXPECT_HAS(message(lying), "promises 4000000000 triangles");
  std::string none = good.substr(0, 84);
  std::memset(none.data() + 80, 0, 4);
  EXPECT_HAS(message(none), "no triangle");
  for (const float bad : {std::numeric_limits<float>::quiet_NaN(), std::numeric_limits<float>::infinity()}) {
    std::string broken = good;
    std::memcpy(broken.data() + 84 + 50 * 3 + 12 + 16, &bad, 4);
    EXPECT_HAS(message(broken), "triangle 4: a coordinate is not finite");
  }
  std::string far = good;
  const float huge = 1e30f;
  std::memcpy(far.data() + 84 + 12, &huge, 4);
  EXPECT_HAS(message(far), "triangle 1: a coordinate is beyond");
}

TEST_F(Stl, RefusesBrokenText) {
  const std::string head = "solid x\n";
  EXPECT_HAS(message(""), "is empty");
  EXPECT_HAS(message("hello"), "neither ASCII STL");
  EXPECT_HAS(message(head + "endsolid\n"), "no triangle");
  EXPECT_HAS(message(head + kFacet), "line 9: the file ends before \"endsolid\"");
  EXPECT_HAS(message(head + "facet normal 0 0 1\nouter loop\nvertex 0,5 0 0\n"),
             "line 4: expected a number, found \"0,5\" (decimals need a point");
  EXPECT_HAS(message(head + "facet normal 0 0 1\nouter loop\nvertex nan 0 0\nvertex 1 0 0\nvertex 0 1 "
                            "0\nendloop\nendfacet\nendsolid"),
             "not finite");
  EXPECT_HAS(message(head + "facet normal 0 0 1\nouter loop\nvertex 1e30 0 0\nvertex 1 0 0\nvertex 0 1 "
                            "0\nendloop\nendfacet\nendsolid"),
             "beyond");
  EXPECT_HAS(message(head + "facet normal 0 0 1\nloop\n"), "line 3: expected \"outer\", found \"loop\"");
  EXPECT_HAS(message(head + kFacet + "fasset\n"), "expected \"facet\" or \"endsolid\"");
}

TEST_F(Stl, RefusesWhatIsNoFile) {
  EXPECT_THROW((void)read_mesh(folder() / "missing.stl").mesh, Error);
  EXPECT_THROW((void)read_mesh(folder()).mesh, Error);
}

TEST_F(Stl, GarbageGivesAnErrorAndNothingElse) {
  const std::string good = binary_box(), text = std::string("solid a\n") + kFacet + "endsolid a\n";
  for (int seed = 1; seed <= testing::rounds(400); ++seed) {
    testing::Rng rng(static_cast<std::uint64_t>(seed));
    std::string bytes = seed % 2 ? good : text;
    for (int i = rng.pick(6); i >= 0; --i)
      bytes[static_cast<std::size_t>(rng.pick(static_cast<int>(bytes.size())))] =
          static_cast<char>(rng.pick(256));
    if (rng.pick(4) == 0) bytes.resize(static_cast<std::size_t>(rng.pick(static_cast<int>(bytes.size()))));
    try {
      const Mesh mesh = read_mesh(file(bytes)).mesh;
      ASSERT_FALSE(mesh.triangles.empty());
      for (const Vec3& p : mesh.points) ASSERT_TRUE(p.allFinite());
    } catch (const Error&) {
    }
  }
}

TEST(DemoPart, PaddleBladeIsClosedFineAndInTheTree) {
  const Mesh mesh = demo::paddle_blade_mold();
  const PartSummary summary = summarize(weld(mesh));
  EXPECT_TRUE(summary.edges.closed());
  EXPECT_EQ(summary.edges.flipped, 0);
  EXPECT_NEAR(summary.box.sizes().x(), 180, 1e-6);
  EXPECT_NEAR(summary.box.sizes().y(), 120, 1e-6);
  EXPECT_NEAR(summary.box.sizes().z(), 40, 1e-6);
  EXPECT_GT(summary.volume_mm3, 0);
  // Chord error inside the cavity, where the formula is close to the distance.
  int checked = 0;
  for (std::size_t i = 0; i < mesh.triangles.size(); ++i) {
    const Vec3 &a = mesh.corner(i, 0), &b = mesh.corner(i, 1), &c = mesh.corner(i, 2);
    const Vec3 middle = (a + b + c) / 3;
    const Vec2 rim = demo::paddle_blade_rim(std::atan2(middle.y(), middle.x()));
    if (middle.z() > -0.2 || middle.z() < -20 || plan(middle).norm() > rim.norm()) continue;
    ++checked;
    for (const Vec3& p : {middle, Vec3((a + b) / 2), Vec3((b + c) / 2), Vec3((c + a) / 2)})
      ASSERT_LE(std::abs(demo::paddle_blade_cavity(p)), 0.01) << p.transpose();
  }
  EXPECT_GT(checked, 40000);
}

TEST(DemoPart, MeshesInTheTreeAreWhatTheGeneratorMakes) {
  const std::pair<const char*, Mesh> parts[] = {{"paddle-blade", demo::paddle_blade_mold()},
                                                {"fairlead-punch", demo::fairlead_punch()},
                                                {"hull-plug", demo::hull_plug()},
                                                {"cleat-base", demo::cleat_base()},
                                                {"name-board", demo::name_board()},
                                                {"porthole-ring", demo::porthole_ring()}};
  for (const auto& [name, mesh] : parts) {
    const Mesh stored = testing::demo_mesh(name);
    ASSERT_EQ(stored.triangles.size(), mesh.triangles.size()) << name;
    EXPECT_NEAR(summarize(stored).volume_mm3, summarize(mesh).volume_mm3, 1);
    // Where a flat has several equal ways to be cut into triangles, rounding may choose another.
    const auto level = [](const Mesh& of, std::size_t i) {
      return std::abs(of.corner(i, 0).z() - of.corner(i, 1).z()) +
                 std::abs(of.corner(i, 0).z() - of.corner(i, 2).z()) <
             1e-6;
    };
    for (std::size_t i = 0; i < mesh.triangles.size(); ++i) {
      if (level(stored, i) && level(mesh, i) &&
          std::abs(stored.corner(i, 0).z() - mesh.corner(i, 0).z()) < 2e-5)
        continue;
      for (int k = 0; k < 3; ++k)
        ASSERT_LT((stored.corner(i, k) - mesh.corner(i, k)).norm(), 2e-5) << name << " " << i;
    }
  }
}

}  // namespace
}  // namespace yardpass
