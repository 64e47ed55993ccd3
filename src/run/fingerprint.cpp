#include "run/fingerprint.h"

#include <elf.h>
#include <link.h>
#include <unistd.h>

#include <algorithm>
#include <chrono>

#define XXH_INLINE_ALL
#include <xxhash.h>

#include "run/fields.h"

namespace yardpass {

namespace detail {

Fingerprint hash_of(std::string_view bytes) {
  const XXH128_hash_t hash = XXH3_128bits(bytes.data(), bytes.size());
  return {hash.high64, hash.low64};
}

namespace {

/// The build mark among the notes of a loaded object; empty: it has none.
std::string build_mark(const dl_phdr_info& object) {
  for (int k = 0; k < object.dlpi_phnum; ++k) {
    const ElfW(Phdr)& segment = object.dlpi_phdr[k];
    if (segment.p_type != PT_NOTE) continue;
    const auto padded = [](std::size_t size) { return (size + 3) & ~std::size_t{3}; };
    const char* at = reinterpret_cast<const char*>(object.dlpi_addr + segment.p_vaddr);
    const char* const end = at + segment.p_memsz;
    while (at + sizeof(ElfW(Nhdr)) <= end) {
      ElfW(Nhdr) note;
      std::memcpy(&note, at, sizeof note);
      const char* const name = at + sizeof note;
      const char* const mark = name + padded(note.n_namesz);
      if (note.n_type == NT_GNU_BUILD_ID && note.n_namesz == 4 && std::memcmp(name, "GNU", 4) == 0)
        return {mark, note.n_descsz};
      at = mark + padded(note.n_descsz);
    }
  }
  return {};
}

struct Loaded {
  std::string name;  ///< without folders
  std::string mark;
  std::vector<std::string> needs;  ///< names of what it is linked with
  bool here = false;               ///< this code is part of it
};

std::vector<std::string> needed_by(const dl_phdr_info& object) {
  std::vector<std::string> names;
  for (int k = 0; k < object.dlpi_phnum; ++k) {
    if (object.dlpi_phdr[k].p_type != PT_DYNAMIC) continue;
    const auto* const entries =
        reinterpret_cast<const ElfW(Dyn)*>(object.dlpi_addr + object.dlpi_phdr[k].p_vaddr);
    const char* strings = nullptr;
    for (const auto* entry = entries; entry->d_tag != DT_NULL; ++entry)
      if (entry->d_tag == DT_STRTAB) strings = reinterpret_cast<const char*>(entry->d_un.d_ptr);
    for (const auto* entry = entries; strings && entry->d_tag != DT_NULL; ++entry)
      if (entry->d_tag == DT_NEEDED) names.emplace_back(strings + entry->d_un.d_val);
  }
  return names;
}

bool holds(const dl_phdr_info& object, std::uintptr_t address) {
  for (int k = 0; k < object.dlpi_phnum; ++k) {
    const ElfW(Phdr)& segment = object.dlpi_phdr[k];
    const std::uintptr_t first = object.dlpi_addr + segment.p_vaddr;
    if (segment.p_type == PT_LOAD && address >= first && address < first + segment.p_memsz) return true;
  }
  return false;
}

int add_loaded(dl_phdr_info* object, std::size_t, void* data) {
  const std::string path = object->dlpi_name;
  Loaded loaded{path.substr(path.rfind('/') + 1), build_mark(*object), {}};
  loaded.here = holds(*object, reinterpret_cast<std::uintptr_t>(&add_loaded));
  if (loaded.here) loaded.needs = needed_by(*object);
  static_cast<std::vector<Loaded>*>(data)->push_back(std::move(loaded));
  return 0;
}

}  // namespace

Fingerprint of_this_program() {
  static const Fingerprint program = [] {
    std::vector<Loaded> all;
    ::dl_iterate_phdr(add_loaded, &all);
    // Only what this code is linked with: libraries may load more while they run.
    std::vector<std::string> marks, needs;
    for (const Loaded& one : all)
      if (one.here) marks.push_back(one.mark), needs = one.needs;
    for (const std::string& name : needs)
      for (const Loaded& one : all)
        if (one.name == name) marks.push_back(one.mark);
    BytesOut bytes;
    bytes(marks);
    // Of what has no mark nobody can tell whether it is the same.
    const bool without = marks.empty() || std::any_of(marks.begin(), marks.end(),
                                                      [](const auto& mark) { return mark.empty(); });
    if (without)
      bytes(static_cast<std::int64_t>(std::chrono::system_clock::now().time_since_epoch().count()));
    return hash_of(bytes.bytes());
  }();
  return program;
}

namespace {

/// A list as it lies in memory.
template <typename T>
void add_whole(BytesOut& bytes, const std::vector<T>& list) {
  bytes(list.size());
  bytes(hash_of({reinterpret_cast<const char*>(list.data()), list.size() * sizeof(T)}));
}

void add(BytesOut& bytes, const Mesh& mesh) {
  add_whole(bytes, mesh.points);
  add_whole(bytes, mesh.triangles);
}

void add(BytesOut& bytes, const Stock& stock) {
  bytes(Vec3(stock.block().min())), bytes(Vec3(stock.block().max())), bytes(stock.cell_mm());
  const std::span<const double> heights = stock.heights();
  bytes(hash_of({reinterpret_cast<const char*>(heights.data()), heights.size_bytes()}));
  for (const HiddenSquare& square : stock.hidden())
    bytes(square.column), bytes(square.row), bytes(square.top_z);
}

/// What it names of these, in the order in which it names them.
void add(BytesOut& bytes, const std::vector<std::string>& names, const std::vector<GuideMesh>& all) {
  for (const std::string& name : names)
    for (const GuideMesh& guide : all)
      if (guide.name == name) {
        bytes(guide.name), bytes(guide.clearance_mm), bytes(guide.in_the_way);
        add(bytes, guide.mesh);
        add_whole(bytes, guide.triangles);
      }
}

void add_region(BytesOut& bytes, const std::string& name, const std::vector<NamedRegion>& all) {
  for (const NamedRegion& region : all)
    if (region.name == name) add_whole(bytes, region.set);
}

void add(BytesOut& bytes, const JobSetup& setup, const Settled& settled) {
  bytes(settled.fingerprint), bytes(settled.strategy);
  bytes(settled.tool);
  bytes(settled.works_in), bytes(settled.drawn), bytes(settled.bottom_z);
  const LinkOptions& links = settled.values.links;
  bytes(links.plane_z), bytes(links.dog_leg_rapids), bytes(links.rapid_mm_min);
  bytes(links.acceleration_mm_s2);
  const Guides& guides = settled.values.guides;
  bytes('l'), add(bytes, guides.lids, setup.lids);
  bytes('r'), add(bytes, guides.run_outs, setup.run_outs);
  bytes('c'), add(bytes, guides.carriers, setup.carriers);
  bytes('k'), add(bytes, guides.keep_away, setup.keep_away);
  for (const std::string& name : guides.own_allowance) add_region(bytes, name, setup.regions);
  const GivenArea& area = settled.values.limits.keep_inside;
  if (area.from == GivenArea::From::region) bytes(area.name), add_region(bytes, area.name, setup.regions);
}

}  // namespace

}  // namespace detail

std::vector<Fingerprint> fingerprints_of(const JobSetup& setup, const std::vector<Settled>& operations) {
  detail::BytesOut first;
  first(detail::of_this_program());
  detail::add(first, setup.part->mesh());
  detail::add(first, *setup.stock);
  const PostedForm form = posted_form(setup.job.machine.controller);
  first(setup.drilled), first(form.step_mm), first(form.arcs_by_radius);
  first(setup.job.machine.controller.arc_planes);
  const MachineJob& machine = setup.job.machine;
  first(machine.file_minutes), first(machine.file_length_mm);
  if (machine.file_minutes > 0)
    first(machine.motion.acceleration_mm_s2), first(machine.motion.corner_jump_mm_min);
  Fingerprint before = detail::hash_of(first.bytes());
  std::vector<Fingerprint> result;
  for (const Settled& settled : operations) {
    detail::BytesOut bytes;
    bytes(before);
    detail::add(bytes, setup, settled);
    before = detail::hash_of(bytes.bytes());
    result.push_back(before);
  }
  return result;
}

}  // namespace yardpass
