#include "app/output_folder.h"

#include <unistd.h>

#include <fstream>

#include <fmt/format.h>

#include "yardpass/geom/error.h"

namespace yardpass::app {

namespace fs = std::filesystem;

OutputFolder::OutputFolder(const fs::path& wanted) : wanted_(fs::absolute(wanted).lexically_normal()) {
  if (!wanted_.has_filename()) wanted_ = wanted_.parent_path();
  std::error_code code;
  if (fs::exists(wanted_, code) && !fs::is_directory(wanted_, code))
    throw Error(wanted.string() + ": is a file; --out must name a folder");
  fs::create_directories(wanted_.parent_path(), code);
  draft_ = wanted_.parent_path() / fmt::format(".{}.draft-{}", wanted_.filename().string(), ::getpid());
  fs::remove_all(draft_, code);
  if (!fs::create_directory(draft_, code))
    throw Error(wanted.string() + ": cannot be written: " + code.message());
}

OutputFolder::~OutputFolder() {
  std::error_code code;
  fs::remove_all(draft_, code);
}

void OutputFolder::write(const std::string& name, const std::string& text) const {
  std::ofstream out(draft_ / name, std::ios::binary);
  out << text;
  out.close();
  if (!out) throw Error((wanted_ / name).string() + ": cannot be written");
}

void OutputFolder::publish() {
  std::error_code code;
  if (!fs::exists(wanted_)) {
    fs::rename(draft_, wanted_, code);
    if (code) throw Error(wanted_.string() + ": cannot be written: " + code.message());
    return;
  }
  for (const auto& old : fs::directory_iterator(wanted_)) {
    const std::string name = old.path().filename().string();
    const bool ours = name.rfind("path-", 0) == 0 && old.path().extension() == ".png";
    if (ours && !fs::exists(draft_ / name)) fs::remove(old.path(), code);
  }
  for (const auto& file : fs::directory_iterator(draft_)) {
    fs::rename(file.path(), wanted_ / file.path().filename(), code);
    if (code)
      throw Error((wanted_ / file.path().filename()).string() + ": cannot be written: " + code.message());
  }
}

}  // namespace yardpass::app
