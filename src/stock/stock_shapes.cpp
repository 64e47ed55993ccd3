#include "yardpass/stock/stock_shapes.h"

#include <bit>
#include <cmath>
#include <cstdio>
#include <cstring>
#include <fstream>
#include <map>
#include <sstream>

#include "geom/write_file.h"

namespace yardpass {

namespace fs = std::filesystem;

static_assert(std::endian::native == std::endian::little, "height maps are written as they lie in memory");

namespace {

template <typename HeightAt>
void fill(Stock& stock, const HeightAt& height_at) {
  for (int row = 0; row < stock.rows(); ++row)
    for (int column = 0; column < stock.columns(); ++column)
      stock.set_height(column, row, height_at(stock.centre(column, row)));
}

fs::path frame_of(fs::path npy_file) { return npy_file.replace_extension(".frame"); }

std::string exact(double value) {
  char text[40];
  std::snprintf(text, sizeof text, "%.17g", value);
  return text;
}

[[noreturn]] void fail(const fs::path& file, const std::string& what) {
  throw Error(file.string() + ": " + what);
}

/// The header of the array; fails if it is not one of ours.
struct Shape {
  int rows = 0, columns = 0;
};

Shape read_header(std::ifstream& in, const fs::path& file) {
  char magic[10];
  if (!in.read(magic, sizeof magic) || std::memcmp(magic, "\x93NUMPY\x01\x00", 8) != 0)
    fail(file, "is no NumPy array file of format 1.0");
  const std::size_t length =
      static_cast<unsigned char>(magic[8]) + 256U * static_cast<unsigned char>(magic[9]);
  std::string header(length, ' ');
  if (!in.read(header.data(), static_cast<std::streamsize>(length))) fail(file, "is cut off in its header");
  Shape shape;
  const std::size_t at = header.find("'shape': (");
  if (header.find("'descr': '<f8'") == std::string::npos ||
      header.find("'fortran_order': False") == std::string::npos || at == std::string::npos ||
      std::sscanf(header.c_str() + at, "'shape': (%d, %d)", &shape.rows, &shape.columns) != 2)
    fail(file, "must hold 64-bit numbers ('<f8') of shape (rows, columns), row by row");
  if (shape.rows < 1 || shape.columns < 1) fail(file, "has no cells");
  return shape;
}

std::map<std::string, double> read_frame(const fs::path& file) {
  std::ifstream in(file);
  if (!in) fail(file, "cannot be opened; the frame of a stock lies beside its heights");
  std::map<std::string, double> values;
  std::string line;
  for (int number = 1; std::getline(in, line); ++number) {
    std::istringstream words(line);
    std::string key, equals;
    double value = 0;
    if (line.empty() || line[0] == '#') continue;
    if (!(words >> key >> equals >> value) || equals != "=" || !std::isfinite(value))
      fail(file, "line " + std::to_string(number) + ": must be KEY = NUMBER");
    values[key] = value;
  }
  for (const char* key : {"x", "y", "cell", "bottom", "top"})
    if (!values.contains(key)) fail(file, std::string("\"") + key + "\" is missing");
  return values;
}

}  // namespace

Stock upright_bar(const Vec2& centre, double diameter_mm, double bottom_z, double top_z, double cell_mm) {
  const double radius = diameter_mm / 2;
  Stock stock(Box3(Vec3(centre.x() - radius, centre.y() - radius, bottom_z),
                   Vec3(centre.x() + radius, centre.y() + radius, top_z)),
              cell_mm);
  fill(stock, [&](const Vec2& p) { return (p - centre).norm() <= radius ? top_z : bottom_z; });
  return stock;
}

Stock lying_bar(BarAxis axis, const Vec3& middle, double diameter_mm, double length_mm, double cell_mm) {
  const double radius = diameter_mm / 2;
  const Vec3 half =
      axis == BarAxis::x ? Vec3(length_mm / 2, radius, radius) : Vec3(radius, length_mm / 2, radius);
  Stock stock(Box3(Vec3(middle - half), Vec3(middle + half)), cell_mm);
  fill(stock, [&](const Vec2& p) {
    const double off = axis == BarAxis::x ? p.y() - middle.y() : p.x() - middle.x();
    return std::abs(off) < radius ? middle.z() + std::sqrt(radius * radius - off * off) : stock.bottom_z();
  });
  return stock;
}

void write_stock(const fs::path& npy_file, const Stock& stock) {
  std::string header = "{'descr': '<f8', 'fortran_order': False, 'shape': (" + std::to_string(stock.rows()) +
                       ", " + std::to_string(stock.columns()) + "), }";
  while ((10 + header.size() + 1) % 64 != 0) header += ' ';
  header += '\n';
  const char size[] = {static_cast<char>(header.size() % 256), static_cast<char>(header.size() / 256)};
  detail::write_file(npy_file, {{"\x93NUMPY\x01\x00", 8},
                                {size, 2},
                                header,
                                {reinterpret_cast<const char*>(stock.heights().data()),
                                 stock.heights().size() * sizeof(double)}});
  std::ostringstream frame;
  const Box3& block = stock.block();
  frame << "x = " << exact(block.min().x()) << "\ny = " << exact(block.min().y())
        << "\ncell = " << exact(stock.cell_mm()) << "\nbottom = " << exact(block.min().z())
        << "\ntop = " << exact(block.max().z()) << "\nx_end = " << exact(block.max().x())
        << "\ny_end = " << exact(block.max().y()) << "\n";
  detail::write_file(frame_of(npy_file), {frame.str()});
}

Stock read_stock(const fs::path& npy_file) {
  std::ifstream in(npy_file, std::ios::binary);
  if (!in) fail(npy_file, "cannot be opened");
  const Shape shape = read_header(in, npy_file);
  auto frame = read_frame(frame_of(npy_file));
  const double cell = frame["cell"];
  if (!(cell > 0) || !(frame["top"] > frame["bottom"]))
    fail(frame_of(npy_file), "cell must be above 0 and top above bottom");
  // The block's own far side need not lie on a cell's; without it the last cells end it.
  const double far_x = frame.contains("x_end") ? frame["x_end"] : frame["x"] + shape.columns * cell,
               far_y = frame.contains("y_end") ? frame["y_end"] : frame["y"] + shape.rows * cell;
  Stock stock(Box3(Vec3(frame["x"], frame["y"], frame["bottom"]), Vec3(far_x, far_y, frame["top"])), cell);
  if (stock.columns() != shape.columns || stock.rows() != shape.rows)
    fail(npy_file, "has " + std::to_string(shape.rows) + " x " + std::to_string(shape.columns) +
                       " cells, but its frame asks for " + std::to_string(stock.rows()) + " x " +
                       std::to_string(stock.columns()));
  const auto bytes = static_cast<std::streamsize>(stock.heights().size() * sizeof(double));
  if (!in.read(reinterpret_cast<char*>(stock.heights().data()), bytes)) fail(npy_file, "is cut off");
  if (in.peek() != std::ifstream::traits_type::eof()) fail(npy_file, "is longer than its header says");
  for (const double z : stock.heights())
    if (!(z >= frame["bottom"] && z <= frame["top"]))
      fail(npy_file, "has a height outside bottom to top of its frame");
  return stock;
}

}  // namespace yardpass
