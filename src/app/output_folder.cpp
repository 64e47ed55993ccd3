#include "app/output_folder.h"

#include <fcntl.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>

#include <algorithm>
#include <cstdio>
#include <fstream>

#include <fmt/format.h>

#include "yardpass/geom/error.h"
#include "yardpass/geom/text.h"
#include "yardpass/report/outputs.h"

namespace yardpass::app {

namespace fs = std::filesystem;

namespace {

constexpr const char* kMark = ".yardpass-draft-";

bool is_draft(const fs::path& path) {
  const std::string name = path.filename().string();
  return name.starts_with('.') && name.find(kMark) != std::string::npos;
}

/// A lock on a folder; -1 if another process holds it.
int lock_folder(const fs::path& folder) {
  const int file = ::open(folder.c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC);
  if (file >= 0 && ::flock(file, LOCK_EX | LOCK_NB) != 0) {
    ::close(file);
    return -1;
  }
  return file;
}

/// Held by one process at a time; waits for it. Without a place that can be opened it is none.
class LockOnPlace {
 public:
  explicit LockOnPlace(const fs::path& place)
      : file_(::open(place.c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC)) {
    if (file_ >= 0) ::flock(file_, LOCK_EX);
  }
  ~LockOnPlace() {
    if (file_ >= 0) ::close(file_);
  }
  LockOnPlace(const LockOnPlace&) = delete;
  LockOnPlace& operator=(const LockOnPlace&) = delete;

 private:
  int file_;
};

/// Drafts whose process has ended: nobody holds their lock.
void sweep(const fs::path& place) {
  std::error_code code;
  std::vector<fs::path> drafts;
  for (auto at = fs::directory_iterator(place, code); !code && at != fs::directory_iterator();
       at.increment(code))
    if (is_draft(at->path()) && at->is_directory(code)) drafts.push_back(at->path());
  for (const fs::path& draft : drafts) {
    const int lock = lock_folder(draft);
    if (lock < 0) continue;
    fs::remove_all(draft, code);
    ::close(lock);
  }
}

dev_t device_of(const fs::path& path) {
  struct stat info {};
  return ::stat(path.c_str(), &info) == 0 ? info.st_dev : 0;
}

bool same_file(const fs::path& a, const fs::path& b) {
  std::error_code code;
  return fs::equivalent(a, b, code) && !code;
}

/// A file that the job reads, where results would be put.
void refuse_inputs(const fs::path& wanted, const std::vector<fs::path>& inputs) {
  for (const fs::path& input : inputs)
    if (is_output(input.filename().string()) && same_file(wanted / input.filename(), input))
      throw Error(
          fmt::format("{}: the job reads this file, and results would be written over it or in its place; "
                      "choose another --out",
                      input.string()));
}

/// A folder of somebody's with the name of one of our files.
void refuse_folders_in_the_way(const fs::path& wanted) {
  std::error_code code;
  for (auto at = fs::directory_iterator(wanted, code); !code && at != fs::directory_iterator();
       at.increment(code))
    if (at->is_directory(code) && is_output(at->path().filename().string()))
      throw Error(at->path().string() + ": is a folder, where a file of results would be put");
}

/// Whether results that lie there are ours: each run leaves a report or a survey that says so, or the drawing
/// of a loop and nothing else.
bool bears_our_mark(const fs::path& folder, const std::vector<std::string>& names) {
  for (const char* name : {"report.json", "part.json", "compare.json"}) {
    std::ifstream in(folder / name, std::ios::binary);
    std::string start(64, '\0');
    in.read(start.data(), static_cast<std::streamsize>(start.size()));
    start.resize(static_cast<std::size_t>(in.gcount()));
    if (start.find("\"yardpass\"") != std::string::npos) return true;
  }
  return names == std::vector<std::string>{"loop.png"};
}

/// A folder that holds other things than what an earlier run left there.
void refuse_other_things(const fs::path& wanted) {
  std::error_code code;
  std::vector<std::string> names, others;
  for (auto at = fs::directory_iterator(wanted, code); !code && at != fs::directory_iterator();
       at.increment(code)) {
    if (is_draft(at->path())) continue;
    names.push_back(at->path().filename().string());
    if (!at->is_regular_file(code) || at->is_symlink(code) || !is_output(names.back()))
      others.push_back(names.back());
  }
  if (names.empty()) return;
  if (others.empty() && !bears_our_mark(wanted, names)) others = names;
  if (others.empty()) return;
  std::sort(others.begin(), others.end());
  constexpr std::size_t kTold = 3;
  std::string told;
  for (std::size_t i = 0; i < std::min(kTold, others.size()); ++i)
    told += fmt::format("{}\"{}\"", i == 0 ? "" : ", ", one_line(others[i]));
  if (others.size() > kTold) told += fmt::format(" and {} more", others.size() - kTold);
  throw Error(
      fmt::format("{}: holds what no earlier run has left there ({}); name another folder with --out, or say "
                  "--among-others to put the results beside it (files with the names of results give way)",
                  wanted.string(), told));
}

[[noreturn]] void cannot_write(const fs::path& path, const std::error_code& code) {
  throw Error(path.string() + ": cannot be written: " + code.message());
}

}  // namespace

OutputFolder::OutputFolder(const fs::path& wanted, const std::vector<fs::path>& inputs, bool among_others)
    : wanted_(fs::absolute(wanted).lexically_normal()) {
  if (!wanted_.has_filename()) wanted_ = wanted_.parent_path();
  std::error_code code;
  if (fs::exists(wanted_, code)) wanted_ = fs::canonical(wanted_, code);
  if (fs::exists(wanted_, code) && !fs::is_directory(wanted_, code))
    throw Error(wanted.string() + ": is a file; --out must name a folder");
  refuse_inputs(wanted_, inputs);
  refuse_folders_in_the_way(wanted_);
  if (!among_others) refuse_other_things(wanted_);
  make_parents();
  const fs::path parent = wanted_.parent_path();
  // A folder that is a file system of its own, or whose neighbours cannot be written, takes the draft itself.
  const bool inside = fs::exists(wanted_, code) &&
                      (device_of(wanted_) != device_of(parent) || ::access(parent.c_str(), W_OK) != 0);
  make_draft(inside ? wanted_ : parent);
}

std::string OutputFolder::as_wanted(std::string message) const {
  const std::string draft = draft_.string();
  for (std::size_t at = 0; (at = message.find(draft, at)) != std::string::npos; at += wanted_.string().size())
    message.replace(at, draft.size(), wanted_.string());
  return message;
}

void OutputFolder::make_parents() {
  std::error_code code;
  std::vector<fs::path> missing;
  for (fs::path folder = wanted_.parent_path(); !fs::exists(folder, code); folder = folder.parent_path())
    missing.push_back(folder);
  for (auto folder = missing.rbegin(); folder != missing.rend(); ++folder) {
    if (!fs::create_directory(*folder, code) && code) cannot_write(wanted_, code);
    made_.push_back(*folder);
  }
}

void OutputFolder::make_draft(const fs::path& place) {
  // Between making a draft and locking it another run must not take it for one that was left behind.
  const LockOnPlace guard(place);
  sweep(place);
  draft_ = place / fmt::format(".{}{}{}", wanted_.filename().string(), kMark, ::getpid());
  std::error_code code;
  if (!fs::create_directory(draft_, code)) {
    draft_.clear();
    cannot_write(wanted_, code);
  }
  lock_ = lock_folder(draft_);
}

OutputFolder::~OutputFolder() {
  std::error_code code;
  if (!draft_.empty()) fs::remove_all(draft_, code);
  if (lock_ >= 0) ::close(lock_);
  if (!published_)
    for (auto folder = made_.rbegin(); folder != made_.rend(); ++folder) fs::remove(*folder, code);
}

bool OutputFolder::exchange() const {
  std::error_code code;
  if (same_file(wanted_, fs::current_path(code))) return false;  // whoever stands in it would be left outside
  if (draft_.parent_path() != wanted_.parent_path()) return false;
  for (const auto& entry : fs::directory_iterator(wanted_))
    if (!entry.is_regular_file(code) || entry.is_symlink(code) ||
        !is_output(entry.path().filename().string()))
      return false;
  fs::permissions(draft_, fs::status(wanted_, code).permissions(), code);
  return ::renameat2(AT_FDCWD, draft_.c_str(), AT_FDCWD, wanted_.c_str(), RENAME_EXCHANGE) == 0;
}

void OutputFolder::move_in() {
  std::vector<fs::path> fresh, old;
  for (const auto& entry : fs::directory_iterator(draft_)) fresh.push_back(entry.path().filename());
  for (const auto& entry : fs::directory_iterator(wanted_))
    if (is_output(entry.path().filename().string())) old.push_back(entry.path().filename());
  const fs::path aside = draft_ / kMark;
  std::error_code code;
  fs::create_directory(aside, code);
  std::vector<fs::path> out, in;
  const auto move = [&](const fs::path& from, const fs::path& to, std::vector<fs::path>& done) {
    if (!code) fs::rename(from, to, code);
    if (!code) done.push_back(to.filename());
  };
  for (const fs::path& name : old) move(wanted_ / name, aside / name, out);
  for (const fs::path& name : fresh) move(draft_ / name, wanted_ / name, in);
  if (!code) return;
  std::error_code ignored;
  for (const fs::path& name : in) fs::rename(wanted_ / name, draft_ / name, ignored);
  for (const fs::path& name : out) fs::rename(aside / name, wanted_ / name, ignored);
  cannot_write(wanted_, code);
}

void OutputFolder::publish() {
  std::error_code code;
  if (!fs::exists(wanted_, code)) {
    fs::rename(draft_, wanted_, code);
    if (code) cannot_write(wanted_, code);
    draft_.clear();
  } else if (!exchange()) {
    move_in();
  }
  published_ = true;
}

PictureForm form_named(const std::string& name) {
  for (const PictureForm form : {PictureForm::svg, PictureForm::pdf})
    if (name == name_of(form)) return form;
  return PictureForm::png;
}

std::vector<std::string> picture_forms() {
  std::vector<std::string> names;
  for (const PictureForm form : {PictureForm::png, PictureForm::svg, PictureForm::pdf})
    names.emplace_back(name_of(form));
  return names;
}

}  // namespace yardpass::app
