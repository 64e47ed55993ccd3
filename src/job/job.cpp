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
  std::vector<std::filesystem::path> files{job.file, job.part.mesh, job.machine.file, job.stock.path};
  if (job.stock.shape == StockJob::Shape::file)
    files.push_back(std::filesystem::path(job.stock.path).replace_extension(".frame"));
  for (const CurveJob& curve : job.curves) files.push_back(curve.file);
  for (const KeepAwayJob& keep_away : job.keep_away) files.push_back(keep_away.mesh);
  std::erase_if(files, [](const std::filesystem::path& name) { return name.empty(); });
  return files;
}

}  // namespace yardpass
