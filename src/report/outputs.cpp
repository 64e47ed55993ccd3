#include "yardpass/report/outputs.h"

#include <fmt/format.h>

#include "geom/write_file.h"
#include "report/run_pictures.h"
#include "report/setup_sheet.h"
#include "yardpass/curve/write_curves.h"
#include "yardpass/geom/text.h"
#include "yardpass/part/write_stl.h"
#include "yardpass/post/cl_data.h"
#include "yardpass/stock/stock_shapes.h"

namespace yardpass {

namespace {

void write_stock_mesh(OutputSource& source) {
  const Mesh& mesh = detail::mesh_of_stock(source);
  const std::string mark = not_for_cutting(source.report);
  write_stl(source.folder / "stock.stl", mesh,
            (mark.empty() ? "what is left: " : mark + ": ") + source.report.job().title);
  source.told.push_back(fmt::format("stock.stl: {} triangles, within {:g} mm of the simulation",
                                    mesh.triangles.size(), source.stock_mesh_off_mm));
}

void write_toolpaths(OutputSource& source) {
  const Report& report = source.report;
  const auto name = [&](std::int32_t in_program) {
    const OperationReport& operation = report.operation_of(in_program);
    const std::string mark = not_for_cutting(report);
    return (mark.empty() ? "" : mark + ": ") +
           (operation.number > 0 ? fmt::format("{} {}", operation.number, one_line(operation.name))
                                 : operation.name);
  };
  write_obj_curves(source.folder / "toolpaths.obj", curves_of(report.judged.program, name));
}

void write_kept(OutputSource& source) {
  if (source.report.run) write_kept_paths(source.folder / "toolpaths.kept", source.report.run->planned);
}

/// No word of any control: whoever loads it is stopped at once.
constexpr std::string_view kNoProgram =
    "QUICK LOOK, NOT FOR CUTTING: planned and judged in coarser steps than the job asks for\n";

using Source = OutputSource;

// The page comes last: it shows the pictures.
constexpr Output kOutputs[] = {
    {"program.nc", "the G-code; from `check` a copy of the one judged",
     [](Source& s) {
       if (!s.report.only_a_look() && !is_cl_data(s.program))
         detail::write_file(s.folder / "program.nc", {s.program});
     }},
    {"program-*.nc", "the same for the machine in several files, if its control is described so",
     [](Source& s) {
       if (s.report.only_a_look()) return;
       for (const ProgramFile& file : s.report.files) {
         detail::write_file(s.folder / file.name, {file.text});
         s.told.push_back(fmt::format("{}: {} without tool changes, {} at feed", file.name,
                                      clock(file.seconds), s.report.telling.long_way(file.feed_mm)));
       }
     }},
    {"quick-look.txt", "from a quick look, instead of it: G-code to look at, which no control takes",
     [](Source& s) {
       if (s.report.job().coarser.any() && s.report.judged.judged)
         detail::write_file(s.folder / "quick-look.txt", {kNoProgram, s.program});
     }},
    {"part.stl", "the true part in program coordinates",
     [](Source& s) { write_stl(s.folder / "part.stl", s.report.setup.part->mesh(), s.report.job().title); }},
    {"stock.stl",
     "what is left, within 0.01 mm of the simulation at every cell centre (more, if it would have over a "
     "million triangles; "
     "the screen tells)",
     [](Source& s) { write_stock_mesh(s); }},
    {"toolpaths.obj", "the tip's way as 3D lines: `g` the operation, `o` `feed` or `rapid`", write_toolpaths},
    {"toolpaths.cl", "the moves as cutter location data, for a post processor of your own",
     [](Source& s) {
       if (!s.report.only_a_look())
         detail::write_file(s.folder / "toolpaths.cl",
                            {write_cl_data(s.report.job().title, s.report.judged.program)});
     }},
    {"toolpaths.kept", "from `run`: the toolpaths, for its next run into this folder", write_kept},
    {"report.json", "everything below",
     [](Source& s) { detail::write_file(s.folder / "report.json", {report_json(s.report)}); }},
    {"path-*.png",
     "the toolpath of the operation of this number, from above: levels alternately paler, start, end, a "
     "piece "
     "of it larger with its points",
     detail::draw_paths},
    {"view-*.png", "the same from a corner, what the part hides left out", detail::draw_corner_paths},
    {"spacing-*.png", "how far apart the passes of the operation of this number lie on the surface",
     detail::draw_spacing},
    {"stock.png", "the stock that remains, from a corner, coloured by what is left", detail::draw_stock_view},
    {"summary.png", "where the time goes, and how much of the part has how much left", detail::draw_summary},
    {"section.png", "with `--section`: part, remaining stock and tool, cut along a line",
     detail::draw_section},
    {"left.png", "how much is left", detail::draw_how_much_is_left},
    {"why-left.png", "why it is left, with the ten thickest places", detail::draw_left},
    {"setup-sheet.pdf", "for the machine: stock, zero, clamps, tools drawn to scale, operations in order",
     [](Source& s) { detail::draw_sheet(s.report, s.folder / "setup-sheet.pdf"); }},
    {"stock.npy",
     "with `--save-stock`: the heights of the stock, a NumPy array of 64-bit numbers in mm, rows along Y "
     "from the "
     "least, columns along X",
     [](Source& s) {
       if (s.save_stock) write_stock(s.folder / "stock.npy", s.report.judged.judgement.stock);
     }},
    {"stock.frame",
     "with it: where that lies (text: `x`, `y` of the corner, `cell`, `bottom`, `top`, `x_end`, `y_end`)",
     nullptr},
    {"report.html", "the same as report.json for people, with the pictures",
     [](Source& s) { detail::write_file(s.folder / "report.html", {report_html(s.report, s.pictures)}); }},
    {"part.html", "from `inspect`: the survey as a page, with a view to pick from", nullptr},
    {"part.json", "from `inspect`: the survey", nullptr},
    {"part.png", "from `inspect`: heights, flats, sharp edges", nullptr},
    {"slopes.png", "from `inspect`: slopes", nullptr},
    {"reach.png", "from `inspect`: which ball reaches what", nullptr},
    {"regions.png", "from `inspect`: regions, numbered", nullptr},
    {"areas.png", "from `inspect` of a job: where each operation works", nullptr},
    {"slope-seam-*.png",
     "from `inspect` of a job: steep and shallow areas of the operation of this number, if it works by slope",
     nullptr},
    {"roles-*.png",
     "from `inspect` of a job: the curves that the operation of this number runs along, and what each is for",
     nullptr},
    {"sharp-edges.png", "from `inspect`: sharp edges, numbered", nullptr},
    {"named.png", "from `inspect`: what the job names on the part", nullptr},
    {"loop.png",
     "from `inspect`: curves that do not go together (a loop that could not be closed, sides that cross), "
     "and where",
     nullptr},
    {"compare.png", "from `compare`: the cuts of the first four variants", nullptr},
    {"compare.json", "from `compare`: what its table says, by the keys of report.json", nullptr},
    {"curves.*", "from `inspect`: all curves, as `.obj`, `.svg` and, if the program has DXF, `.dxf`",
     nullptr},
};

}  // namespace

const Mesh& detail::mesh_of_stock(OutputSource& source) {
  if (!source.stock_mesh) {
    const Stock& stock = source.report.judged.judgement.stock;
    double& off = source.stock_mesh_off_mm = 0.01;
    source.stock_mesh = decimated_mesh(stock, off);
    while (source.stock_mesh->triangles.size() > 1'000'000 && off < 1)
      source.stock_mesh = decimated_mesh(stock, off *= 2);
  }
  return *source.stock_mesh;
}

std::span<const Output> all_outputs() { return kOutputs; }

std::filesystem::path OutputSource::picture(const std::string& stem, std::string caption) {
  pictures.push_back({stem + "." + name_of(form), std::move(caption)});
  return folder / pictures.back().file;
}

bool is_output(const std::string& given_name) {
  std::string file_name = given_name;
  // Pictures are listed as PNG, whatever they are written as.
  for (const PictureForm form : {PictureForm::svg, PictureForm::pdf}) {
    const std::string ending = std::string(".") + name_of(form);
    if (file_name.ends_with(ending) && is_output(file_name.substr(0, file_name.size() - 4) + ".png"))
      return true;
  }
  for (const Output& output : kOutputs) {
    const std::string_view pattern = output.name;
    const std::size_t star = pattern.find('*');
    if (star == std::string_view::npos) {
      if (file_name == pattern) return true;
      continue;
    }
    const std::string_view before = pattern.substr(0, star), behind = pattern.substr(star + 1);
    if (file_name.size() >= before.size() + behind.size() && file_name.starts_with(before) &&
        file_name.ends_with(behind))
      return true;
  }
  return false;
}

std::vector<std::string> write_outputs(const Report& report, const std::string& program,
                                       const std::filesystem::path& folder, const OutputOptions& options,
                                       const Progress& progress) {
  OutputSource source{report, program, options.save_stock, options.form, folder, options.section};
  for (std::size_t i = 0; i < std::size(kOutputs); ++i) {
    yardpass::report(progress, static_cast<double>(i) / static_cast<double>(std::size(kOutputs)));
    if (kOutputs[i].write) kOutputs[i].write(source);
  }
  return std::move(source.told);
}

std::vector<Picture> draw_pictures(const Report& report, const std::filesystem::path& folder) {
  OutputSource source{report, {}, false, PictureForm::png, folder};
  for (const Output& output : kOutputs)
    if (output.write && std::string_view(output.name).ends_with(".png")) output.write(source);
  return std::move(source.pictures);
}

void write_part_page(const std::filesystem::path& file, const Inspection& inspection,
                     const std::vector<Picture>& pictures) {
  detail::write_file(file, {part_html(inspection, pictures)});
}

void write_part_json(const std::filesystem::path& file, const Inspection& inspection) {
  detail::write_file(file, {inspection_json(inspection)});
}

}  // namespace yardpass
