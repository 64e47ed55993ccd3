#include "yardpass/part/read_mesh.h"

#include <algorithm>
#include <cctype>
#include <cstring>
#include <fstream>

#include "part/mesh_source.h"

namespace yardpass {

using detail::MeshSource;
using detail::ParsedMesh;

double millimetres(LengthUnit unit) {
  switch (unit) {
    case LengthUnit::micrometre:
      return 0.001;
    case LengthUnit::millimetre:
      return 1;
    case LengthUnit::centimetre:
      return 10;
    case LengthUnit::metre:
      return 1000;
    case LengthUnit::inch:
      return 25.4;
    case LengthUnit::foot:
      return 304.8;
  }
  return 1;
}

const char* name_of(LengthUnit unit) {
  switch (unit) {
    case LengthUnit::micrometre:
      return "um";
    case LengthUnit::millimetre:
      return "mm";
    case LengthUnit::centimetre:
      return "cm";
    case LengthUnit::metre:
      return "m";
    case LengthUnit::inch:
      return "inch";
    case LengthUnit::foot:
      return "foot";
  }
  return "mm";
}

namespace {

constexpr double kFarthest = 1e6;

std::string read_whole(const std::filesystem::path& file) {
  const auto fail = [&](const std::string& what) { throw Error(file.string() + ": " + what); };
  std::error_code code;
  if (!std::filesystem::exists(file, code)) fail("no such file");
  if (!std::filesystem::is_regular_file(file, code)) fail("is not a file");
  std::ifstream in(file, std::ios::binary);
  if (!in) fail("cannot be opened for reading");
  std::string bytes(static_cast<std::size_t>(std::filesystem::file_size(file)), '\0');
  in.read(bytes.data(), static_cast<std::streamsize>(bytes.size()));
  if (!in) fail("cannot be read to its end");
  return bytes;
}

using Parser = ParsedMesh (*)(const MeshSource&, const Progress&);

Parser parser_for(const MeshSource& source) {
  std::string ending = std::filesystem::path(source.name).extension().string();
  for (char& c : ending) c = static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
  if (ending == ".stl") return detail::parse_stl;
  if (ending == ".obj") return detail::parse_obj;
  if (ending == ".ply") return detail::parse_ply;
  if (ending == ".3mf") return detail::parse_3mf;
  if (source.bytes.starts_with("ply")) return detail::parse_ply;
  if (source.bytes.starts_with("PK\3\4")) return detail::parse_3mf;
  std::uint32_t count = 0;
  if (source.bytes.size() >= 84) std::memcpy(&count, source.bytes.data() + 80, sizeof count);
  if (detail::without_byte_order_mark(source).starts_with("solid") ||
      source.bytes.size() == 84 + 50 * std::size_t{count})
    return detail::parse_stl;
  source.fail("is no mesh that can be read; valid: STL, OBJ, PLY, 3MF, told by the ending of the name");
}

/// Leaves out triangles with impossible corners if asked to, else fails at the first.
std::int64_t drop_impossible(const MeshSource& source, ParsedMesh& parsed) {
  Mesh& mesh = parsed.mesh;
  const auto is_bad = [&](const std::array<std::int32_t, 3>& t) {
    return std::any_of(t.begin(), t.end(), [&](std::int32_t i) {
      const Vec3& p = mesh.points[static_cast<std::size_t>(i)];
      return !p.allFinite() || p.cwiseAbs().maxCoeff() > kFarthest;
    });
  };
  std::vector<std::size_t> bad;
  for (std::size_t i = 0; i < mesh.triangles.size(); ++i)
    if (is_bad(mesh.triangles[i])) bad.push_back(i);
  if (bad.empty()) return 0;
  if (!source.drop_not_finite) {
    const auto& first = mesh.triangles[bad.front()];
    const bool finite = std::all_of(first.begin(), first.end(), [&](std::int32_t i) {
      return mesh.points[static_cast<std::size_t>(i)].allFinite();
    });
    source.fail("triangle " + std::to_string(bad.front() + 1) + ": a coordinate is " +
                (finite ? "beyond 1e6 mm; is the file damaged or in another unit?" : "not finite") + " (" +
                std::to_string(bad.size()) +
                " such triangles in all; the repair \"not-finite\" leaves them out)");
  }
  std::size_t kept = 0, next_bad = 0;
  for (std::size_t i = 0; i < mesh.triangles.size(); ++i) {
    if (next_bad < bad.size() && bad[next_bad] == i) {
      ++next_bad;
      continue;
    }
    mesh.triangles[kept] = mesh.triangles[i];
    if (!parsed.group_of_triangle.empty()) parsed.group_of_triangle[kept] = parsed.group_of_triangle[i];
    ++kept;
  }
  mesh.triangles.resize(kept);
  if (!parsed.group_of_triangle.empty()) parsed.group_of_triangle.resize(kept);
  return static_cast<std::int64_t>(bad.size());
}

/// Corners that no triangle uses go; they would spoil boxes and counts. (The impossible ones among them.)
void drop_unused_corners(Mesh& mesh) {
  std::vector<std::int32_t> number(mesh.points.size(), -1);
  for (const auto& t : mesh.triangles)
    for (const auto i : t) number[static_cast<std::size_t>(i)] = 0;
  std::int32_t kept = 0;
  for (std::size_t i = 0; i < number.size(); ++i) {
    if (number[i] < 0) continue;
    mesh.points[static_cast<std::size_t>(kept)] = mesh.points[i];
    number[i] = kept++;
  }
  if (static_cast<std::size_t>(kept) == mesh.points.size()) return;
  mesh.points.resize(static_cast<std::size_t>(kept));
  for (auto& t : mesh.triangles)
    for (auto& i : t) i = number[static_cast<std::size_t>(i)];
}

MeshFile finished(const MeshSource& source, ParsedMesh parsed, const ReadOptions& options,
                  const Progress& progress) {
  MeshFile result;
  result.format = parsed.format;
  result.unit = options.unit.value_or(parsed.unit.value_or(LengthUnit::millimetre));
  result.unit_source = options.unit  ? "as asked for"
                       : parsed.unit ? "the file"
                                     : "default: the file names no unit";
  const double scale = millimetres(result.unit);
  if (scale != 1)
    for (Vec3& p : parsed.mesh.points) p *= scale;
  result.dropped = drop_impossible(source, parsed);
  if (parsed.mesh.triangles.empty()) source.fail("holds no triangle");
  drop_unused_corners(parsed.mesh);
  report(progress, 0.6);
  result.mesh = weld(parsed.mesh);
  report(progress, 0.8);
  if (options.weld_mm > 0) {
    const std::size_t before = result.mesh.points.size();
    result.mesh = weld(result.mesh, options.weld_mm);
    result.welded = static_cast<std::int64_t>(before - result.mesh.points.size());
  }
  result.groups = std::move(parsed.groups);
  result.group_of_triangle = std::move(parsed.group_of_triangle);
  result.notes = std::move(parsed.notes);
  report(progress, 1);
  return result;
}

MeshFile read_source(const MeshSource& source, const ReadOptions& options, const Progress& progress) {
  if (source.bytes.empty()) source.fail("is empty");
  const Parser parse = parser_for(source);
  return finished(source, parse(source, part_of(progress, 0, 0.5)), options, progress);
}

}  // namespace

MeshFile read_mesh_bytes(std::string_view bytes, const std::string& name, const ReadOptions& options,
                         const Progress& progress) {
  return read_source({bytes, name, options.drop_not_finite}, options, progress);
}

MeshFile read_mesh(const std::filesystem::path& file, const ReadOptions& options, const Progress& progress) {
  const std::string bytes = read_whole(file);
  return read_source({bytes, file.string(), options.drop_not_finite}, options, progress);
}

}  // namespace yardpass
