#include <fstream>
#include <sstream>

#include "geom/write_file.h"
#include "run/fields.h"
#include "run/fingerprint.h"

namespace yardpass {

namespace {

constexpr std::string_view kMark = "yardpass toolpaths, kept 1\n";

}  // namespace

KeptPaths::KeptPaths(const std::filesystem::path& file) {
  std::ifstream in(file, std::ios::binary);
  if (!in) return;
  std::ostringstream text;
  text << in.rdbuf();
  const std::string bytes = std::move(text).str();
  why_empty_ = "they are damaged";
  if (bytes.compare(0, kMark.size(), kMark) != 0) return;
  detail::BytesIn head(std::string_view(bytes).substr(kMark.size()));
  Fingerprint program, content;
  head(program), head(content);
  if (!head.good()) return;
  if (program != detail::of_this_program()) {
    why_empty_ = "another build of the program made them";
    return;
  }
  const std::string_view payload = std::string_view(bytes).substr(kMark.size() + 2 * sizeof(Fingerprint));
  if (detail::hash_of(payload) != content) return;
  detail::BytesIn body(payload);
  std::vector<PlannedOperation> all;
  body(all);
  if (!body.good() || !body.at_end()) return;
  for (const PlannedOperation& planned : all) add(planned);
  why_empty_.clear();
}

const PlannedOperation* KeptPaths::find(const Fingerprint& fingerprint) const {
  const auto found = paths_.find(fingerprint);
  return found == paths_.end() ? nullptr : &found->second;
}

std::vector<const PlannedOperation*> KeptPaths::find(const std::vector<Fingerprint>& fingerprints) const {
  std::vector<const PlannedOperation*> found;
  for (const Fingerprint& fingerprint : fingerprints) found.push_back(find(fingerprint));
  return found;
}

void KeptPaths::add(const PlannedOperation& planned) {
  paths_.insert_or_assign(planned.fingerprint, planned);
}

void write_kept_paths(const std::filesystem::path& file, const std::vector<PlannedOperation>& planned) {
  detail::BytesOut body, head;
  body(planned);
  head(detail::of_this_program()), head(detail::hash_of(body.bytes()));
  detail::write_file(file, {kMark, head.bytes(), body.bytes()});
}

}  // namespace yardpass
