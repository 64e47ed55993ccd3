#include <algorithm>

#include <fmt/format.h>

#include "job/table_reader.h"
#include "yardpass/job/job_file.h"

namespace yardpass {

int OperationJob::line_of(const std::string& key) const {
  const Given* given = says.get(key);
  return given ? given->line() : line;
}

const Tool& Job::tool_named(const std::string& name) const {
  for (const Tool& tool : tools)
    if (tool.name == name) return tool;
  throw Error(fmt::format("the tool {}", detail::not_defined(name, detail::names_of(tools))));
}

const OperationJob* Job::operation_numbered(std::int32_t number) const {
  for (const OperationJob& operation : operations)
    if (operation.number == number) return &operation;
  return nullptr;
}

std::vector<std::filesystem::path> files_of(const Job& job) {
  std::vector<std::filesystem::path> files{
      job.file, job.part.mesh, job.rack_file, job.machine.file, job.machine.controller_file, job.stock.path};
  if (job.stock.shape == StockJob::Shape::file)
    files.push_back(std::filesystem::path(job.stock.path).replace_extension(".frame"));
  for (const CurveJob& curve : job.curves) files.push_back(curve.file);
  for (const KeepAwayJob& keep_away : job.keep_away) files.push_back(keep_away.mesh);
  std::erase_if(files, [](const std::filesystem::path& name) { return name.empty(); });
  return files;
}

std::vector<std::string> names_used(const CurveJob& curve) {
  std::vector<std::string> names = curve.curves;
  if (!curve.text.along.empty()) names.push_back(curve.text.along);
  return names;
}

std::vector<bool> from_boundaries(const std::vector<CurveJob>& curves) {
  std::vector<bool> found(curves.size());
  for (bool more = true; more;) {
    more = false;
    for (std::size_t i = 0; i < curves.size(); ++i) {
      if (found[i]) continue;
      bool now = !curves[i].boundary.empty();
      for (const std::string& name : names_used(curves[i]))
        for (std::size_t k = 0; k < curves.size(); ++k) now = now || (curves[k].name == name && found[k]);
      found[i] = now;
      more = more || now;
    }
  }
  return found;
}

}  // namespace yardpass
