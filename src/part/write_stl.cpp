#include "yardpass/part/write_stl.h"

#include <cstring>

#include "geom/write_file.h"

namespace yardpass {

void write_stl(const std::filesystem::path& file, const Mesh& mesh, const std::string& title) {
  std::string bytes(84 + 50 * mesh.triangles.size(), '\0');
  // "solid" at the start would make careless readers take the file for text.
  const std::string header = "binary STL, mm: " + title;
  std::memcpy(bytes.data(), header.data(), std::min<std::size_t>(header.size(), 80));
  const auto count = static_cast<std::uint32_t>(mesh.triangles.size());
  std::memcpy(bytes.data() + 80, &count, sizeof count);
  for (std::size_t i = 0; i < mesh.triangles.size(); ++i) {
    const Vec3 &a = mesh.corner(i, 0), &b = mesh.corner(i, 1), &c = mesh.corner(i, 2);
    const Vec3 normal = (b - a).cross(c - a).normalized();
    float values[12];
    const Vec3* rows[] = {&normal, &a, &b, &c};
    for (std::size_t k = 0; k < 12; ++k)
      values[k] = static_cast<float>((*rows[k / 3])[static_cast<Eigen::Index>(k % 3)]);
    std::memcpy(bytes.data() + 84 + 50 * i, values, sizeof values);
  }
  detail::write_file(file, {{bytes.data(), bytes.size()}});
}

Mesh rounded_to_single(Mesh mesh) {
  for (Vec3& p : mesh.points) p = p.cast<float>().cast<double>();
  return mesh;
}

}  // namespace yardpass
