// 3MF by lib3mf: every object of the build, placed, components followed. lib3mf holds numbers in single
// precision.
#include <memory>

#include <Model/COM/NMR_DLLInterfaces.h>

#include "part/mesh_source.h"

namespace yardpass::detail {

namespace {

using namespace NMR;

constexpr int kDeepestNesting = 64;

struct Release {
  template <typename Thing>
  void operator()(Thing* thing) const {
    lib3mf_release(thing);
  }
};
template <typename Thing>
using Held = std::unique_ptr<Thing, Release>;

class Reader3mf {
 public:
  explicit Reader3mf(const MeshSource& source) : source_(source) { parsed_.format = "3MF"; }

  ParsedMesh run() {
    model_ = made<PLib3MFModel>([](auto** p) { return lib3mf_createmodel(p); }, nullptr);
    const auto reader = made<PLib3MFModelReader>(
        [&](auto** p) { return lib3mf_model_queryreader(model_.get(), "3mf", p); }, model_.get());
    std::string copy(source_.bytes);  // the library asks for bytes it may write to
    check(lib3mf_reader_readfrombuffer(reader.get(), reinterpret_cast<BYTE*>(copy.data()), copy.size()),
          reader.get());
    DWORD warnings = 0;
    lib3mf_reader_getwarningcount(reader.get(), &warnings);
    if (warnings > 0) parsed_.notes.push_back(std::to_string(warnings) + " warnings of the 3MF reader");
    DWORD unit = 0;
    check(lib3mf_model_getunit(model_.get(), &unit), model_.get());
    constexpr LengthUnit units[] = {LengthUnit::micrometre, LengthUnit::millimetre, LengthUnit::centimetre,
                                    LengthUnit::inch,       LengthUnit::foot,       LengthUnit::metre};
    if (unit < std::size(units)) parsed_.unit = units[unit];
    const auto items = made<PLib3MFModelBuildItemIterator>(
        [&](auto** p) { return lib3mf_model_getbuilditems(model_.get(), p); }, model_.get());
    for (;;) {
      BOOL more = 0;
      check(lib3mf_builditemiterator_movenext(items.get(), &more), items.get());
      if (!more) break;
      add_item(items.get());
    }
    if (groups_.names.size() > 1)
      parsed_.groups = groups_.names;
    else
      parsed_.group_of_triangle.clear();
    return std::move(parsed_);
  }

 private:
  using Transform = Eigen::Matrix<double, 3, 4>;

  void check(LIB3MFRESULT result, PLib3MFBase* instance) const {
    if (result == 0) return;
    DWORD code = 0;
    LPCSTR text = nullptr;
    if (instance) lib3mf_getlasterror(instance, &code, &text);
    source_.fail("cannot be read as 3MF: " +
                 (text && *text ? std::string(text) : "error " + std::to_string(code)));
  }

  template <typename Thing, typename Make>
  Held<Thing> made(const Make& make, PLib3MFBase* instance) const {
    Thing* thing = nullptr;
    check(make(&thing), instance);
    return Held<Thing>(thing);
  }

  static Transform transform_of(const MODELTRANSFORM& given) {
    Transform result;
    for (int row = 0; row < 3; ++row)
      for (int column = 0; column < 4; ++column)
        result(row, column) = static_cast<double>(given.m_fFields[row][column]);
    return result;
  }

  static Transform combined(const Transform& outer, const Transform& inner) {
    Transform result;
    result.leftCols<3>() = outer.leftCols<3>() * inner.leftCols<3>();
    result.col(3) = outer.leftCols<3>() * inner.col(3) + outer.col(3);
    return result;
  }

  void add_item(PLib3MFModelBuildItemIterator* items) {
    const auto item = made<PLib3MFModelBuildItem>(
        [&](auto** p) { return lib3mf_builditemiterator_getcurrent(items, p); }, items);
    const auto object = made<PLib3MFModelObjectResource>(
        [&](auto** p) { return lib3mf_builditem_getobjectresource(item.get(), p); }, item.get());
    Transform placed = Transform::Identity();
    BOOL moved = 0;
    check(lib3mf_builditem_hasobjecttransform(item.get(), &moved), item.get());
    if (moved) {
      MODELTRANSFORM given;
      check(lib3mf_builditem_getobjecttransform(item.get(), &given), item.get());
      placed = transform_of(given);
    }
    add_object(object.get(), placed, 0);
  }

  void add_object(PLib3MFModelObjectResource* object, const Transform& placed, int depth) {
    if (depth > kDeepestNesting) source_.fail("objects are nested more than 64 deep");
    BOOL is_mesh = 0, is_components = 0;
    check(lib3mf_object_ismeshobject(object, &is_mesh), object);
    check(lib3mf_object_iscomponentsobject(object, &is_components), object);
    if (is_mesh) add_mesh(static_cast<PLib3MFModelMeshObject*>(object), placed);
    if (!is_components) return;
    auto* list = static_cast<PLib3MFModelComponentsObject*>(object);
    DWORD count = 0;
    check(lib3mf_componentsobject_getcomponentcount(list, &count), list);
    for (DWORD i = 0; i < count; ++i) {
      const auto component = made<PLib3MFModelComponent>(
          [&](auto** p) { return lib3mf_componentsobject_getcomponent(list, i, p); }, list);
      const auto inner = made<PLib3MFModelObjectResource>(
          [&](auto** p) { return lib3mf_component_getobjectresource(component.get(), p); }, component.get());
      MODELTRANSFORM given;
      check(lib3mf_component_gettransform(component.get(), &given), component.get());
      add_object(inner.get(), combined(placed, transform_of(given)), depth + 1);
    }
  }

  void add_mesh(PLib3MFModelMeshObject* object, const Transform& placed) {
    char name[256] = "";
    ULONG needed = 0;
    if (lib3mf_object_getnameutf8(object, name, sizeof name, &needed) != 0) name[0] = '\0';
    const std::int32_t group = groups_.number(*name ? name : "object " + std::to_string(++unnamed_));
    DWORD corners = 0, triangles = 0;
    check(lib3mf_meshobject_getvertexcount(object, &corners), object);
    check(lib3mf_meshobject_gettrianglecount(object, &triangles), object);
    Mesh& mesh = parsed_.mesh;
    const std::size_t first = mesh.points.size();
    if (first + corners > 700'000'000) source_.fail("has more than 700 million corners");
    std::vector<MODELMESHVERTEX> vertices(corners + 1);
    std::vector<MODELMESHTRIANGLE> faces(triangles + 1);
    check(lib3mf_meshobject_getvertices(object, vertices.data(), corners, nullptr), object);
    check(lib3mf_meshobject_gettriangleindices(object, faces.data(), triangles, nullptr), object);
    for (DWORD i = 0; i < corners; ++i) {
      const float* p = vertices[i].m_fPosition;
      mesh.points.push_back(placed.leftCols<3>() * Vec3(p[0], p[1], p[2]) + placed.col(3));
    }
    const bool mirrored = placed.leftCols<3>().determinant() < 0;
    for (DWORD i = 0; i < triangles; ++i) {
      std::array<std::int32_t, 3> triangle{};
      for (std::size_t k = 0; k < 3; ++k) {
        if (faces[i].m_nIndices[k] >= corners)
          source_.fail("triangle " + std::to_string(i + 1) + " names a corner that does not exist");
        triangle[k] = static_cast<std::int32_t>(first + faces[i].m_nIndices[k]);
      }
      if (mirrored) std::swap(triangle[1], triangle[2]);
      mesh.triangles.push_back(triangle);
      parsed_.group_of_triangle.push_back(group);
    }
  }

  const MeshSource& source_;
  Held<PLib3MFModel> model_;
  ParsedMesh parsed_;
  GroupNames groups_;
  int unnamed_ = 0;
};

}  // namespace

ParsedMesh parse_3mf(const MeshSource& source, const Progress&) { return Reader3mf(source).run(); }

}  // namespace yardpass::detail
