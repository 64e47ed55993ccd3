#include <algorithm>
#include <cmath>

#include "geom/along_line.h"
#include "yardpass/plan/rails.h"

namespace yardpass {

namespace {

/// Places by rail (across) and by share along it.
class Grid {
 public:
  Grid(std::size_t columns, std::size_t rows, bool closed)
      : columns_(columns), rows_(rows), closed_(closed), places_(columns * rows, Vec2(0, 0)) {}
  Vec2& at(std::size_t column, std::size_t row) { return places_[row * columns_ + column]; }
  [[nodiscard]] const Vec2& at(std::size_t column, std::size_t row) const {
    return places_[row * columns_ + column];
  }
  [[nodiscard]] std::size_t columns() const { return columns_; }
  [[nodiscard]] std::size_t rows() const { return rows_; }
  /// Bilinear between columns and rows; of closed ones the first column comes again after the last.
  [[nodiscard]] Vec2 between(double column, double row) const {
    const std::size_t last = closed_ ? columns_ - 1 : columns_ - 2;
    const auto i = std::min(static_cast<std::size_t>(column), last),
               k = std::min(static_cast<std::size_t>(row), rows_ - 2), j = (i + 1) % columns_;
    const double s = column - static_cast<double>(i), t = row - static_cast<double>(k);
    return (1 - t) * ((1 - s) * at(i, k) + s * at(j, k)) + t * ((1 - s) * at(i, k + 1) + s * at(j, k + 1));
  }

  /// Until nothing moves by more than `still`, or for so many rounds.
  void relax(double still, int rounds) {
    for (int round = 0; round < rounds; ++round) {
      double moved = 0;
      for (std::size_t k = 1; k + 1 < rows_; ++k)
        for (std::size_t i = closed_ ? 0 : 1; i < (closed_ ? columns_ : columns_ - 1); ++i)
          moved = std::max(moved, relax_at(i, k));
      if (moved < still) return;
    }
  }

 private:
  double relax_at(std::size_t i, std::size_t k) {
    const std::size_t e = (i + 1) % columns_, w = (i + columns_ - 1) % columns_;
    const Vec2 across = 0.5 * (at(e, k) - at(w, k)), along = 0.5 * (at(i, k + 1) - at(i, k - 1));
    const double a = along.squaredNorm(), b = across.dot(along), c = across.squaredNorm();
    const double sum = 2 * (a + c);
    if (!(sum > 1e-14)) return 0;
    const Vec2 askew = at(e, k + 1) - at(w, k + 1) - at(e, k - 1) + at(w, k - 1);
    const Vec2 to = (a * (at(e, k) + at(w, k)) + c * (at(i, k + 1) + at(i, k - 1)) - 0.5 * b * askew) / sum;
    const double moved = (to - at(i, k)).norm();
    at(i, k) = to;
    return moved;
  }

  std::size_t columns_, rows_;
  bool closed_;
  std::vector<Vec2> places_;
};

/// Places at equal shares of a rail's length.
Polyline2 spread(const Polyline2& rail, std::size_t rows) {
  const detail::AlongLine line(rail, false);
  Polyline2 places;
  for (std::size_t k = 0; k < rows; ++k)
    places.push_back(line.at(line.length() * static_cast<double>(k) / static_cast<double>(rows - 1)));
  places.front() = rail.front(), places.back() = rail.back();
  return places;
}

/// Some of the rails, the first and of open ones the last among them.
std::vector<std::size_t> some_of(std::size_t rails, std::size_t most, bool closed) {
  std::vector<std::size_t> chosen;
  const std::size_t count = std::min(rails, most), last = closed ? rails : rails - 1;
  for (std::size_t i = 0; i < count; ++i) chosen.push_back(i * last / (closed ? count : count - 1));
  return chosen;
}

/// The rails with so many places each; only the outer ones are as they were, all others as `inner` says.
template <typename Inner>
Grid grid_of(const std::vector<Polyline2>& rails, bool closed, std::size_t rows, const Inner& inner) {
  Grid grid(rails.size(), rows, closed);
  for (std::size_t i = 0; i < rails.size(); ++i) {
    const Polyline2 given = spread(rails[i], rows);
    for (std::size_t k = 0; k < rows; ++k) {
      const bool side = k == 0 || k + 1 == rows || (!closed && (i == 0 || i + 1 == rails.size()));
      grid.at(i, k) = side ? given[k] : inner(i, k, given[k]);
    }
  }
  return grid;
}

}  // namespace

Rails relaxed(const Rails& rails) {
  constexpr std::size_t kMostColumns = 800, kRows = 41, kCoarser = 4, kCoarseColumns = 100;
  constexpr int kRounds = 3000;
  const bool closed = rails.closed;
  const std::vector<Polyline2>& lines = rails.lines;
  const std::size_t n = lines.size();
  double size = 0;
  for (const Polyline2& line : lines) size = std::max(size, length(std::span<const Vec2>(line)));
  // Each rail is a column of its own, so that the curves are what they were: chords of them would cut through
  // the first rows where those lie close.
  const std::vector<std::size_t> chosen = some_of(n, kMostColumns, closed),
                                 few = some_of(chosen.size(), kCoarseColumns, closed);
  std::vector<Polyline2> fine_lines, coarse_lines;
  for (const std::size_t i : chosen) fine_lines.push_back(lines[i]);
  for (const std::size_t i : few) coarse_lines.push_back(fine_lines[i]);
  const auto as_given = [](std::size_t, std::size_t, const Vec2& given) { return given; };
  Grid coarse = grid_of(coarse_lines, closed, kRows / kCoarser + 1, as_given);
  coarse.relax(1e-6 * size, kRounds);
  const auto column_in = [&](const std::vector<std::size_t>& columns, std::size_t i, std::size_t all) {
    const auto above = std::upper_bound(columns.begin(), columns.end(), i);
    const std::size_t at = static_cast<std::size_t>(above - columns.begin()) - 1,
                      next = above == columns.end() ? all : *above;
    return static_cast<double>(at) + (next > columns[at] ? static_cast<double>(i - columns[at]) /
                                                               static_cast<double>(next - columns[at])
                                                         : 0);
  };
  Grid fine = grid_of(fine_lines, closed, kRows, [&](std::size_t i, std::size_t k, const Vec2&) {
    return coarse.between(column_in(few, i, chosen.size()), static_cast<double>(k) / kCoarser);
  });
  fine.relax(1e-6 * size, kRounds);
  Rails result;
  result.closed = closed;
  for (std::size_t j = 0; j < n; ++j) {
    Polyline2 line{lines[j].front()};
    const double column = column_in(chosen, j, n);
    for (std::size_t k = 1; k + 1 < kRows; ++k) line.push_back(fine.between(column, static_cast<double>(k)));
    line.push_back(lines[j].back());
    result.lines.push_back(std::move(line));
  }
  return result;
}

}  // namespace yardpass
