#include <algorithm>

#include <fmt/format.h>

#include "job/job_tables.h"

namespace yardpass::detail {

namespace {

std::filesystem::path read_path(TableReader& reader, const GivenTable& table, const char* key,
                                const Job& job) {
  const auto name = reader.text(key);
  if (!name) return {};
  std::filesystem::path path = job.file.parent_path() / *name;
  std::error_code code;
  if (!std::filesystem::exists(path, code))
    reader.wrong(*table.get(key), key, fmt::format("names {}, which does not exist", path.string()));
  return path;
}

void read_bar(TableReader& reader, StockJob& stock) {
  const auto lies = reader.choice("bar", {"upright", "along-x", "along-y"});
  if (!lies) return;
  stock.shape = *lies == "upright"   ? StockJob::Shape::upright_bar
                : *lies == "along-x" ? StockJob::Shape::bar_along_x
                                     : StockJob::Shape::bar_along_y;
}

}  // namespace

void read_stock_table(TableReader& reader, const GivenTable& table, Job& job) {
  StockJob& stock = job.stock;
  if (const GivenList* margin = reader.array("margin")) {
    const bool two = margin->size() == 2 && margin->at(0).is_number() && margin->at(1).is_number();
    const double x = two ? *margin->at(0).number() : -1, y = two ? *margin->at(1).number() : -1;
    if (!(x >= 0 && y >= 0 && x <= 1e4 && y <= 1e4))
      reader.wrong(*reader.any("margin"), "margin", "must be [x, y], each at least 0 mm");
    else
      stock.margin_mm = {x, y};
  }
  stock.above_mm = reader.number("above", kLengthOrZero).value_or(stock.above_mm);
  stock.cell_mm = reader.number("cell", {0.001, 100});
  if (const auto corners = read_corners(reader, "corners"))
    stock.shape = StockJob::Shape::corners, stock.corners = *corners;
  read_bar(reader, stock);
  stock.diameter_mm = reader.number("diameter", kLength).value_or(0);
  if (const auto path = read_path(reader, table, "mesh", job); !path.empty())
    stock.shape = StockJob::Shape::mesh, stock.path = path;
  if (const auto path = read_path(reader, table, "file", job); !path.empty())
    stock.shape = StockJob::Shape::file, stock.path = path;
  const std::vector<std::string> kinds{"corners", "bar", "mesh", "file"};
  const auto given =
      std::count_if(kinds.begin(), kinds.end(), [&](const std::string& key) { return table.contains(key); });
  if (given > 1)
    reader.missing("corners", "and \"bar\", \"mesh\", \"file\" exclude each other: keep one of them");
  if (table.contains("bar") != table.contains("diameter"))
    reader.missing(table.contains("bar") ? "diameter" : "bar", "\"bar\" and \"diameter\" need each other");
  // What another kind of stock says by itself must not be said again.
  const auto belongs = [&](const char* key, bool allowed, const char* why) {
    if (table.contains(key) && !allowed) reader.wrong(*table.get(key), key, why);
  };
  const bool around_part = given == 0 || table.contains("bar");
  belongs("margin", around_part,
          "belongs to stock around the part, not to \"corners\", \"mesh\" or \"file\"");
  belongs("above", around_part, "belongs to stock around the part, not to \"corners\", \"mesh\" or \"file\"");
  using Kind = StockJob::Shape;
  if (around_part) {
    belongs("margin", stock.shape != Kind::upright_bar, "says nothing of an upright bar; its diameter does");
    belongs("above", stock.shape != Kind::bar_along_x && stock.shape != Kind::bar_along_y,
            "says nothing of a lying bar; its diameter does");
  }
  belongs("cell", !table.contains("file"), "comes from the file");
  reader.finish();
}

}  // namespace yardpass::detail
