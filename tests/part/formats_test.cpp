// Reading OBJ, PLY and 3MF from memory: geometry, groups, units, and what is refused with which place.
#include <gtest/gtest.h>

#include <bit>
#include <cstring>

#include <Model/COM/NMR_DLLInterfaces.h>

#include "support/nasty.h"
#include "yardpass/part/read_mesh.h"

namespace yardpass {
namespace {

std::string message(const std::string& bytes, const std::string& name, const ReadOptions& options = {}) {
  try {
    (void)read_mesh_bytes(bytes, name, options);
    return "accepted";
  } catch (const Error& error) {
    return error.what();
  }
}

#define EXPECT_HAS(text, part) EXPECT_NE((text).find(part), std::string::npos) << (text)

const std::string kObj =
    "# a bollard\nmtllib none.mtl\no cap\nv 0 0 0\nv 10 0 0\nv 10 10 0\nv 0 10 0\nv 500000.123456 0 1 1\nvn "
    "0 0 1\n"
    "f 1//1 2//1 3//1 4//1\ng skirt\nusemtl steel\nf -5 -4 \\\n -1\nl 1 2\n";

TEST(Obj, PolygonsGroupsAndRelativeIndices) {
  const MeshFile file = read_mesh_bytes(kObj, "bollard.obj");
  ASSERT_EQ(file.mesh.triangles.size(), 3u);
  EXPECT_EQ(file.groups, (std::vector<std::string>{"cap", "skirt"}));
  EXPECT_EQ(file.group_of_triangle, (std::vector<std::int32_t>{0, 0, 1}));
  EXPECT_EQ(file.mesh.corner(2, 2).x(), 500000.123456) << "double precision is kept";
  EXPECT_EQ(file.notes.size(), 2u);
  EXPECT_EQ(file.format, "OBJ");
}

TEST(Obj, UnitsScaleAndAreTold) {
  const MeshFile file = read_mesh_bytes(kObj, "bollard.obj", {.unit = LengthUnit::micrometre});
  EXPECT_DOUBLE_EQ(file.mesh.corner(0, 2).x(), 0.01);
  EXPECT_EQ(file.unit_source, "as asked for");
  EXPECT_EQ(read_mesh_bytes(kObj, "bollard.obj").unit_source, "default: the file names no unit");
}

TEST(Obj, ConcavePolygonKeepsItsArea) {
  // An arrow head: a fan from its first corner would lie outside.
  const MeshFile file = read_mesh_bytes("v 0 0 5\nv 10 -10 5\nv 3 0 5\nv 10 10 5\nf 1 2 3 4\n", "arrow.obj");
  double area = 0;
  for (std::size_t t = 0; t < file.mesh.triangles.size(); ++t) {
    const Vec3 a = file.mesh.corner(t, 0), b = file.mesh.corner(t, 1), c = file.mesh.corner(t, 2);
    EXPECT_GT((b - a).cross(c - a).z(), 0);
    area += 0.5 * (b - a).cross(c - a).z();
  }
  EXPECT_NEAR(area, 30, 1e-9);
}

TEST(Obj, MistakesNameTheLine) {
  const std::string three = "v 0 0 0\nv 1 0 0\nv 0 1 0\n";
  EXPECT_HAS(message("v 1,5 0 0\n", "a.obj"), "a.obj: line 1: expected a number, found \"1,5\"");
  EXPECT_HAS(message("v 1,5 0 0\n", "a.obj"), "not a comma");
  EXPECT_HAS(message("v 1 2\nv 3 4 5\n", "a.obj"), "line 1: a corner needs three numbers");
  EXPECT_HAS(message(three + "f 1 2 9\n", "a.obj"), "line 4: corner 9 does not exist; so far there are 3");
  EXPECT_HAS(message(three + "f 1 2 0\n", "a.obj"), "line 4");
  EXPECT_HAS(message(three + "f 1 2 -4\n", "a.obj"), "line 4");
  EXPECT_HAS(message(three + "f 1 2\n", "a.obj"), "line 4: a face needs three corners");
  EXPECT_HAS(message(three + "f 1 2 x\n", "a.obj"), "expected a whole number, found \"x\"");
  EXPECT_HAS(message(three, "a.obj"), "holds no triangle");
  EXPECT_HAS(message("G90 X1\n", "a.obj"), "line 1: unknown statement \"G90\"");
  EXPECT_HAS(message("v 0 0 nan\nv 1 0 0\nv 0 1 0\nf 1 2 3\n", "a.obj"), "triangle 1: a coordinate is not");
  EXPECT_HAS(message("v 0 0 1e400\nv 1 0 0\nv 0 1 0\nf 1 2 3\n", "a.obj"), "triangle 1: a coordinate is not");
  EXPECT_HAS(message("v 0 0 1e30\nv 1 0 0\nv 0 1 0\nf 1 2 3\n", "a.obj"), "beyond 1e6 mm");
  EXPECT_HAS(message("", "a.obj"), "is empty");
}

TEST(Obj, NotFiniteTrianglesAreLeftOutWhenAskedFor) {
  const std::string text = "v 0 0 nan\nv 1 0 0\nv 0 1 0\nv 1 1 0\nf 1 2 3\nf 2 3 4\n";
  EXPECT_HAS(message(text, "a.obj"), "not-finite");
  const MeshFile file = read_mesh_bytes(text, "a.obj", {.drop_not_finite = true});
  EXPECT_EQ(file.dropped, 1);
  EXPECT_EQ(file.mesh.triangles.size(), 1u);
  EXPECT_TRUE(file.mesh.points[0].allFinite()) << "unused corners go as well";
}

std::string ply_header(const std::string& format, int corners, int faces) {
  return "ply\nformat " + format + " 1.0\ncomment Tern Cove\nelement vertex " + std::to_string(corners) +
         "\nproperty uchar red\nproperty double x\nproperty float y\nproperty float z\nelement face " +
         std::to_string(faces) + "\nproperty list uchar int vertex_indices\nend_header\n";
}

template <typename Number>
void put(std::string& bytes, Number value, bool big) {
  char raw[sizeof value];
  std::memcpy(raw, &value, sizeof value);
  if (big == (std::endian::native == std::endian::little)) std::reverse(raw, raw + sizeof value);
  bytes.append(raw, sizeof value);
}

std::string binary_ply(bool big) {
  std::string bytes = ply_header(big ? "binary_big_endian" : "binary_little_endian", 4, 1);
  const double corners[4][3] = {{0, 0, 0}, {2.0000000001, 0, 0}, {2, 2, 0}, {0, 2, 0}};
  for (const auto& p : corners) {
    put(bytes, static_cast<std::uint8_t>(7), big);
    put(bytes, p[0], big);
    put(bytes, static_cast<float>(p[1]), big);
    put(bytes, static_cast<float>(p[2]), big);
  }
  put(bytes, static_cast<std::uint8_t>(4), big);
  for (std::int32_t i = 0; i < 4; ++i) put(bytes, i, big);
  return bytes;
}

TEST(Ply, TextAndBothByteOrdersGiveTheSameMesh) {
  const std::string text =
      ply_header("ascii", 4, 1) + "7 0 0 0\n7 2.0000000001 0 0\n7 2 2 0\n7 0 2 0\n4 0 1 2 3\n";
  const Mesh expected = read_mesh_bytes(text, "quad.ply").mesh;
  EXPECT_EQ(expected.triangles.size(), 2u);
  for (const bool big : {false, true}) {
    const MeshFile file = read_mesh_bytes(binary_ply(big), "quad.ply");
    EXPECT_EQ(file.mesh.triangles, expected.triangles);
    EXPECT_EQ(file.mesh.points, expected.points);
    EXPECT_EQ(file.mesh.points[1].x(), 2.0000000001);
  }
}

TEST(Ply, TruncationAndLiesAreRefusedWithTheirPlace) {
  for (const bool big : {false, true}) {
    const std::string whole = binary_ply(big);
    const std::size_t header = ply_header(big ? "binary_big_endian" : "binary_little_endian", 4, 1).size();
    for (std::size_t length = 0; length < whole.size(); ++length) {
      const std::string what = message(whole.substr(0, length), "cut.ply");
      EXPECT_NE(what, "accepted") << length;
      if (length > header) EXPECT_HAS(what, "truncated");
    }
  }
  EXPECT_HAS(message(ply_header("ascii", 4, 1) + "7 0 0 0\n7 1 0 0\n", "a.ply"), "the file ends before");
  EXPECT_HAS(message(ply_header("ascii", 2000000000, 1) + "7 0 0 0\n", "a.ply"), "too short for them");
  EXPECT_HAS(message(ply_header("ascii", 3, 2) + "7 0 0 0\n7 1 0 0\n7 0 1 0\n3 0 1 2\n3 0 1 7\n", "a.ply"),
             "line 16: face 2 names corner 7");
  EXPECT_HAS(message(ply_header("ascii", 3, 1) + "7 0 zz 0\n", "a.ply"), "line 12: expected a number");
  EXPECT_HAS(message(ply_header("utf8", 3, 1), "a.ply"), "line 2: unknown format \"utf8\"");
  EXPECT_HAS(message("ply\nformat ascii 1.0\nelement vertex 1\nproperty half x\nend_header\n", "a.ply"),
             "line 4: unknown type \"half\"");
  EXPECT_HAS(message("plenty\n", "a.ply"), "expected \"ply\"");
  EXPECT_HAS(message("ply\nformat ascii 1.0\n", "a.ply"), "no \"end_header\"");
}

/// A box of 1 x 2 x 3 in inches, twice: as it is, and moved by 10 in X as a component of another object.
std::string boxes_3mf() {
  using namespace NMR;
  const Mesh box = testing::box_mesh(Box3(Vec3(0, 0, 0), Vec3(1, 2, 3)));
  PLib3MFModel* model = nullptr;
  lib3mf_createmodel(&model);
  lib3mf_model_setunit(model, MODELUNIT_INCH);
  PLib3MFModelMeshObject* object = nullptr;
  lib3mf_model_addmeshobject(model, &object);
  lib3mf_object_setnameutf8(object, "box");
  for (const Vec3& p : box.points) {
    MODELMESHVERTEX corner{{static_cast<float>(p.x()), static_cast<float>(p.y()), static_cast<float>(p.z())}};
    lib3mf_meshobject_addvertex(object, &corner, nullptr);
  }
  for (const auto& t : box.triangles) {
    MODELMESHTRIANGLE triangle{
        {static_cast<DWORD>(t[0]), static_cast<DWORD>(t[1]), static_cast<DWORD>(t[2])}};
    lib3mf_meshobject_addtriangle(object, &triangle, nullptr);
  }
  PLib3MFModelComponentsObject* pair = nullptr;
  lib3mf_model_addcomponentsobject(model, &pair);
  MODELTRANSFORM moved{{{1, 0, 0, 10}, {0, 1, 0, 0}, {0, 0, 1, 0}}};
  PLib3MFModelComponent* component = nullptr;
  lib3mf_componentsobject_addcomponent(pair, object, &moved, &component);
  PLib3MFModelBuildItem* item = nullptr;
  lib3mf_model_addbuilditem(model, object, nullptr, &item);
  lib3mf_model_addbuilditem(model, pair, nullptr, &item);
  PLib3MFModelWriter* writer = nullptr;
  lib3mf_model_querywriter(model, "3mf", &writer);
  ULONG64 size = 0;
  lib3mf_writer_getstreamsize(writer, &size);
  std::string bytes(size, '\0');
  lib3mf_writer_writetobuffer(writer, reinterpret_cast<BYTE*>(bytes.data()), size);
  lib3mf_release(writer);
  lib3mf_release(model);
  return bytes;
}

TEST(Package3mf, UnitsComponentsAndPlacement) {
  const MeshFile file = read_mesh_bytes(boxes_3mf(), "boxes.3mf");
  EXPECT_EQ(file.mesh.triangles.size(), 24u);
  EXPECT_EQ(file.unit, LengthUnit::inch);
  EXPECT_EQ(file.unit_source, "the file");
  const Box3 box = file.mesh.box();
  EXPECT_NEAR(box.max().x(), 11 * 25.4, 1e-4);
  EXPECT_NEAR(box.max().z(), 3 * 25.4, 1e-4);
  EXPECT_TRUE(edge_report(file.mesh).closed());
}

TEST(Package3mf, DamagedPackagesAreRefused) {
  const std::string whole = boxes_3mf();
  EXPECT_HAS(message("PK\3\4 and no more", "a.3mf"), "a.3mf: cannot be read as 3MF");
  EXPECT_HAS(message(whole.substr(0, whole.size() / 2), "a.3mf"), "cannot be read as 3MF");
  EXPECT_HAS(message("plain words", "a.3mf"), "cannot be read as 3MF");
}

TEST(Formats, AnUnknownEndingIsReadByItsFirstBytes) {
  EXPECT_EQ(read_mesh_bytes(binary_ply(false), "quad.mesh").format, "binary PLY");
  EXPECT_EQ(read_mesh_bytes(boxes_3mf(), "boxes").format, "3MF");
  EXPECT_HAS(message("hello", "note.txt"), "valid: STL, OBJ, PLY, 3MF");
}

TEST(Formats, WeldToleranceJoinsAndCounts) {
  const std::string text =
      "v 0 0 0\nv 1 0 0\nv 0 1 0\nv 1.0004 0 0\nv 0 1.0004 0\nv 1 1 0\nf 1 2 3\nf 4 6 5\n";
  EXPECT_EQ(read_mesh_bytes(text, "a.obj").mesh.points.size(), 6u);
  const MeshFile file = read_mesh_bytes(text, "a.obj", {.weld_mm = 0.001});
  EXPECT_EQ(file.mesh.points.size(), 4u);
  EXPECT_EQ(file.welded, 2);
  EXPECT_EQ(edge_report(file.mesh).open, 4);
}

}  // namespace
}  // namespace yardpass
