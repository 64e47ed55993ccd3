#include "yardpass/part/repair.h"

#include <algorithm>

#include "part/facets.h"
#include "yardpass/part/diagnosis.h"

namespace yardpass {

const char* name_of(Repair repair) {
  switch (repair) {
    case Repair::not_finite:
      return "not-finite";
    case Repair::zero_area:
      return "zero-area";
    case Repair::repeated:
      return "repeated";
    case Repair::tiny_shells:
      return "tiny-shells";
    case Repair::facing:
      return "facing";
  }
  return "";
}

const std::vector<Repair>& all_repairs() {
  static const std::vector<Repair> all{Repair::not_finite, Repair::zero_area, Repair::repeated,
                                       Repair::tiny_shells, Repair::facing};
  return all;
}

namespace {

using Marks = std::vector<std::uint8_t>;  // one a triangle

Marks marked(const Mesh& mesh, Repair repair) {
  Marks marks(mesh.triangles.size(), 0);
  if (repair == Repair::zero_area) {
    for (std::size_t t = 0; t < marks.size(); ++t) marks[t] = detail::has_no_area(mesh, t);
  } else if (repair == Repair::repeated) {
    for (const auto t : detail::repeated_triangles(mesh, Joints(mesh)))
      marks[static_cast<std::size_t>(t)] = 1;
  } else if (repair == Repair::tiny_shells) {
    const Shells shells = shells_of(mesh);
    std::vector<Box3> box(static_cast<std::size_t>(shells.count));
    for (std::size_t t = 0; t < marks.size(); ++t)
      for (int k = 0; k < 3; ++k)
        box[static_cast<std::size_t>(shells.of_triangle[t])].extend(mesh.corner(t, k));
    const double limit = DiagnosisOptions().tiny_share * mesh.box().diagonal().norm();
    for (std::size_t t = 0; t < marks.size(); ++t)
      marks[t] =
          shells.count > 1 && box[static_cast<std::size_t>(shells.of_triangle[t])].diagonal().norm() < limit;
  } else if (repair == Repair::facing) {
    return turned_over(mesh, Joints(mesh));
  }
  return marks;
}

void leave_out(MeshFile& file, const Marks& marks) {
  std::size_t kept = 0;
  for (std::size_t t = 0; t < marks.size(); ++t) {
    if (marks[t]) continue;
    file.mesh.triangles[kept] = file.mesh.triangles[t];
    if (!file.group_of_triangle.empty()) file.group_of_triangle[kept] = file.group_of_triangle[t];
    ++kept;
  }
  file.mesh.triangles.resize(kept);
  if (!file.group_of_triangle.empty()) file.group_of_triangle.resize(kept);
}

}  // namespace

std::vector<RepairCount> repair(MeshFile& file, const std::vector<Repair>& repairs) {
  MeshFile changed = file;
  std::vector<RepairCount> done;
  for (const Repair kind : all_repairs()) {
    if (std::find(repairs.begin(), repairs.end(), kind) == repairs.end()) continue;
    if (kind == Repair::not_finite) {
      done.push_back({kind, file.dropped});
      continue;
    }
    const Marks marks = marked(changed.mesh, kind);
    done.push_back({kind, std::count(marks.begin(), marks.end(), 1)});
    if (kind == Repair::facing) {
      for (std::size_t t = 0; t < marks.size(); ++t)
        if (marks[t]) std::swap(changed.mesh.triangles[t][1], changed.mesh.triangles[t][2]);
    } else {
      leave_out(changed, marks);
    }
  }
  if (changed.mesh.triangles.empty()) throw Error("the repairs asked for leave no triangle of the part");
  file = std::move(changed);
  return done;
}

}  // namespace yardpass
