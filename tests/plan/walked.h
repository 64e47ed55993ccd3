// A walk judged by definition: on cells much finer than its own, the arc of the cutter's leading half that
// lies over cells that are still there and are cut in the end.
#pragma once

#include <cmath>
#include <deque>
#include <numbers>

#include "yardpass/plan/bounded_walk.h"

namespace yardpass::test {

struct JudgedWalk {
  double cut_mm = 0, link_mm = 0;
  double over_5 = 0, over_15 = 0, idle = 0;  ///< shares of what cuts
  double greatest_deg = 0;
  Vec2 greatest_at{0, 0};
  double removed_mm2 = 0;
  double touched_by_links_mm2 = 0;
  int jumps = 0;
};

class WalkJudge {
 public:
  WalkJudge(const Region& stock, const Box2& box, double radius)
      : cell_(radius / 60), radius_(radius), origin_(box.min()) {
    columns_ = static_cast<int>(box.sizes().x() / cell_) + 1,
    rows_ = static_cast<int>(box.sizes().y() / cell_) + 1;
    cells_.assign(static_cast<std::size_t>(columns_) * static_cast<std::size_t>(rows_), 0);
    for (int row = 0; row < rows_; ++row) {
      const Vec2 from = origin_ + cell_ * Vec2(-2, row), to = origin_ + cell_ * Vec2(columns_ + 2, row);
      for (const Interval& part : inside(stock, from, to))
        for (int i = static_cast<int>(std::ceil(part.from * (columns_ + 4))) - 2;
             i <= part.to * (columns_ + 4) - 2; ++i)
          if (i >= 0 && i < columns_) cells_[at(i, row)] = 1;
    }
  }

  [[nodiscard]] JudgedWalk judge(const std::vector<WalkPiece>& pieces, double limit_deg) {
    mark_ever_cut(pieces);
    JudgedWalk result;
    const double step = 0.03 * radius_;
    for (std::size_t k = 0; k < pieces.size(); ++k) {
      const WalkPiece& piece = pieces[k];
      if (k > 0 && (piece.points.front() - pieces[k - 1].points.back()).norm() > 1e-9) ++result.jumps;
      const std::vector<Vec2> places = places_of(piece, step);
      std::deque<Vec2> late;
      for (std::size_t i = 1; i < places.size(); ++i) {
        const Vec2 way = places[i] - places[i - 1];
        if (piece.kind == WalkPiece::Kind::link) result.link_mm += way.norm();
        if (piece.kind == WalkPiece::Kind::cut) note(places[i], way, limit_deg, result);
        late.push_back(places[i]);
        while (late.size() > 4) remove(late.front(), piece, result), late.pop_front();
      }
      for (const Vec2& p : late) remove(p, piece, result);
    }
    for (double* share : {&result.over_5, &result.over_15, &result.idle})
      *share /= std::max(1e-9, result.cut_mm);
    return result;
  }

  /// Of what the tool reaches from an area, what still stands.
  [[nodiscard]] double left_mm2(const Region& axis_area, double within) const {
    const Region reach = offset(axis_area, radius_ - within);
    double count = 0;
    for (int row = 0; row < rows_; ++row) {
      const Vec2 from = origin_ + cell_ * Vec2(-2, row), to = origin_ + cell_ * Vec2(columns_ + 2, row);
      for (const Interval& part : inside(reach, from, to))
        for (int i = static_cast<int>(std::ceil(part.from * (columns_ + 4))) - 2;
             i <= part.to * (columns_ + 4) - 2; ++i)
          if (i >= 0 && i < columns_) count += cells_[at(i, row)] == 1;
    }
    return count * cell_ * cell_;
  }

 private:
  [[nodiscard]] std::size_t at(int i, int j) const {
    return static_cast<std::size_t>(j) * static_cast<std::size_t>(columns_) + static_cast<std::size_t>(i);
  }
  static std::vector<Vec2> places_of(const WalkPiece& piece, double step) {
    Polyline2 line = piece.points;
    if (piece.kind == WalkPiece::Kind::helix) {
      line.clear();
      for (int k = 0; k <= 72; ++k)
        line.push_back(piece.helix.centre +
                       piece.helix.radius_mm *
                           Vec2(std::cos(k * std::numbers::pi / 36), std::sin(k * std::numbers::pi / 36)));
    }
    std::vector<Vec2> places{line.front()};
    for (std::size_t i = 1; i < line.size(); ++i) {
      const int parts = std::max(1, static_cast<int>(std::ceil((line[i] - line[i - 1]).norm() / step)));
      for (int k = 1; k <= parts; ++k)
        places.push_back(line[i - 1] + (line[i] - line[i - 1]) * (static_cast<double>(k) / parts));
    }
    return places;
  }
  template <typename Visit>
  void for_disc(const Vec2& p, const Visit& visit) const {
    const Vec2 c = (p - origin_) / cell_;
    const double r = radius_ / cell_;
    for (int j = std::max(0, static_cast<int>(std::ceil(c.y() - r)));
         j <= std::min(rows_ - 1, static_cast<int>(c.y() + r)); ++j) {
      const double half = std::sqrt(std::max(0.0, r * r - (j - c.y()) * (j - c.y())));
      for (int i = std::max(0, static_cast<int>(std::ceil(c.x() - half)));
           i <= std::min(columns_ - 1, static_cast<int>(c.x() + half)); ++i)
        visit(at(i, j));
    }
  }
  void mark_ever_cut(const std::vector<WalkPiece>& pieces) {
    ever_.assign(cells_.size(), 0);
    for (const WalkPiece& piece : pieces)
      for (const Vec2& p : places_of(piece, 0.03 * radius_))
        for_disc(p, [&](std::size_t i) { ever_[i] = 1; });
  }
  void remove(const Vec2& p, const WalkPiece& piece, JudgedWalk& result) {
    double count = 0;
    for_disc(p, [&](std::size_t i) { count += cells_[i], cells_[i] = 0; });
    result.removed_mm2 += count * cell_ * cell_;
    if (piece.kind == WalkPiece::Kind::link) result.touched_by_links_mm2 += count * cell_ * cell_;
  }
  void note(const Vec2& p, const Vec2& way, double limit_deg, JudgedWalk& result) const {
    const double heading = std::atan2(way.y(), way.x()), length = way.norm();
    int met = 0;
    for (int s = 0; s < 360; ++s) {
      const double a = heading + (s - 179.5) * std::numbers::pi / 360;
      const Vec2 w = (p + (radius_ - 0.5 * cell_) * Vec2(std::cos(a), std::sin(a)) - origin_) / cell_;
      const int i = static_cast<int>(std::lround(w.x())), j = static_cast<int>(std::lround(w.y()));
      met += i >= 0 && j >= 0 && i < columns_ && j < rows_ && cells_[at(i, j)] == 1 && ever_[at(i, j)] == 1;
    }
    const double degrees = 0.5 * met;
    result.cut_mm += length;
    if (degrees < 3) result.idle += length;
    if (degrees > limit_deg + 5) result.over_5 += length;
    if (degrees > limit_deg + 15) result.over_15 += length;
    if (degrees > result.greatest_deg) result.greatest_deg = degrees, result.greatest_at = p;
  }

  double cell_, radius_;
  Vec2 origin_;
  int columns_, rows_;
  std::vector<std::uint8_t> cells_, ever_;
};

}  // namespace yardpass::test
