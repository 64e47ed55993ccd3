#include "yardpass/link/link.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <set>

#include "yardpass/contact/lift.h"
#include "yardpass/stock/between_cells.h"

namespace yardpass {

namespace {

constexpr double kDegree = std::numbers::pi / 180;

class Linker {
 public:
  Linker(const ToolSurface& surface, Stock before, const LinkOptions& options)
      : surface_(surface),
        tool_(surface.tool()),
        stock_(std::move(before)),
        options_(options),
        cutter_{surface.cutter()} {
    path_.tool = tool_;
    path_.rounding_reserve_mm = surface.rounding_reserve_mm();
    // Between cell centres material may stand nearer by up to half a cell's diagonal.
    const Resized wide = *resized(surface.cutter(), 0.75 * stock_.cell_mm());
    wide_cutter_ = wide.profile;
    wide_tip_ = wide.tip_z_mm;
    core_ = Profile::flat(2 * std::max(0.1 * surface.cutter().radius(), 0.75 * stock_.cell_mm()) +
                          2 * stock_.cell_mm());
    constexpr double kTouching = 0.001;
    if (tool_.flute_length_mm > 0)
      above_flutes_.push_back(
          {0, Profile::flat(2 * surface.cutter().radius()), tool_.flute_length_mm + kTouching, false});
    if (surface.allowance_mm() < 0) uncut_.emplace(surface.shared_part(), surface.cutter());
  }

  LinkedCuts run(const CutPlan& plan, const Progress& progress) {
    const auto count = static_cast<double>(plan.cut_count());
    std::size_t done = 0;
    for (std::size_t g = 0; g < plan.groups.size(); ++g)
      for (const Cut& cut : plan.groups[g].cuts) {
        if (done % 16 == 0) report(progress, static_cast<double>(done) / count);
        ++done;
        if (cut.points.size() < 2) continue;
        path_.cuts.push_back({static_cast<std::int32_t>(g), cut.pass});
        const Polyline3 line = oriented(cut);
        if (cut.entry == Entry::ramp)
          by_ramp(line, cut.closed);
        else
          straight_in(line, cut.closed);
      }
    if (!path_.moves.empty()) retract();
    carve_pending();
    note_hidden();
    LinkedCuts result{std::move(path_), std::move(stock_)};
    if (!deep_cuts_.empty())
      result.notes.push_back(
          {"flutes",
           "{} of {} passes cut deeper than the flutes, {}",
           {count_of(static_cast<std::int64_t>(deep_cuts_.size())),
            count_of(static_cast<std::int64_t>(result.path.cuts.size())), length_of(tool_.flute_length_mm)}});
    return result;
  }

 private:
  /// A closed cut as a line that begins and ends at its point nearest to where the tool is.
  [[nodiscard]] Polyline3 oriented(const Cut& cut) const {
    Polyline3 line = cut.points;
    if (!cut.closed) return line;
    if (started_) {
      const auto nearer = [&](const Vec3& a, const Vec3& b) {
        return (a - at_).squaredNorm() < (b - at_).squaredNorm();
      };
      std::rotate(line.begin(), std::min_element(line.begin(), line.end(), nearer), line.end());
    }
    line.push_back(line.front());
    return line;
  }

  void straight_in(const Polyline3& line, bool closed) {
    const Vec3& start = line.front();
    if (!link_to(start)) {
      if (too_much_under(start)) return by_ramp(line, closed);
      approach(plan(start), start.z());
      go(start, MoveKind::plunge);
    }
    cut_along(line);
  }

  /// Nothing stands higher under all of the tool, but for what it may touch at its rim.
  [[nodiscard]] bool is_cleared(const Vec3& tip) const {
    constexpr double kTouching = 0.01;
    const double radius = surface_.cutter().radius() - 0.5 * stock_.cell_mm();
    return radius > 0 && stock_.free_height(Profile::flat(2 * radius), plan(tip)) <= tip.z() + kTouching;
  }

  /// More material under the tool's axis than it takes on a way that is steeper than it says.
  [[nodiscard]] bool too_much_under(const Vec3& start) {
    if (tool_.steepest_entry_deg >= 90) return false;
    carve_pending();
    return stock_.free_height(core_, plan(start)) - start.z() > 0.9 * tool_.plunge_through_mm;
  }
  [[nodiscard]] bool too_steep(const Vec3& from, const Vec3& to) const {
    return from.z() - to.z() > std::tan(tool_.steepest_entry_deg * kDegree) * (plan(to) - plan(from)).norm();
  }

  /// Down along the cut until its own height is reached, and then all of it.
  void by_ramp(const Polyline3& line, bool closed) {
    const Vec3& start = line.front();
    const bool near = started_ && (plan(start) - plan(at_)).norm() <= options_.link_distance_mm;
    if (near && std::abs(at_.z() - start.z()) < 1e-6 && is_free(at_, start)) {
      go(start, MoveKind::link);
      cut_along(line);
      return;
    }
    carve_pending();
    // Air below the tool where the ramp begins; where all under it is cleared, the cut itself.
    const double above = is_cleared(start) ? start.z() : free_height(plan(start)) + 0.1;
    const Vec3 over(start.x(), start.y(), at_.z());
    double top;
    if (near && at_.z() >= std::max(above, start.z()) && at_.z() < above + options_.feed_height_mm &&
        is_free(at_, over)) {
      go(over, MoveKind::link);
      top = at_.z();
    } else {
      approach(plan(start), start.z());
      top = std::max(start.z(), above);
      go(with_z(plan(start), top), MoveKind::plunge);
    }
    ramp_down(line, closed, top);
  }

  void ramp_down(const Polyline3& line, bool closed, double top) {
    const double fall = std::tan(std::min(options_.ramp_angle_deg, tool_.steepest_entry_deg) * kDegree);
    const std::size_t last = line.size() - 1;
    double z = top;
    std::size_t i = 0;
    bool forward = true;
    while (z > line[i].z() + 1e-9) {
      if (!closed && (forward ? i == last : i == 0)) forward = !forward;
      std::size_t next = forward ? i + 1 : i - 1;
      const double step = (plan(line[next]) - plan(line[i])).norm();
      double lower = z - step * fall;
      // Where the cut's own height is reached within a piece, the ramp ends there and not at the piece's end.
      if (lower < line[next].z()) {
        const double own_fall = line[i].z() - line[next].z();
        const double share = std::clamp((z - line[i].z()) / (step * fall - own_fall), 0.0, 1.0);
        if (share > 0 && share < 1) go(line[i] + share * (line[next] - line[i]), MoveKind::ramp);
        lower = line[next].z();
      }
      z = lower;
      go(with_z(plan(line[next]), z), MoveKind::ramp);
      i = closed && next == last ? 0 : next;
    }
    if (closed) {
      Polyline3 rest(line.begin(), line.end() - 1);
      std::rotate(rest.begin(), rest.begin() + static_cast<std::ptrdiff_t>(i), rest.end());
      rest.push_back(rest.front());
      return cut_along(rest);
    }
    while (i > 0) go(line[--i], MoveKind::cut);
    cut_along(line);
  }

  void cut_along(const Polyline3& line) {
    const double steep = std::tan(options_.plunge_slope_deg * kDegree);
    for (std::size_t i = 1; i < line.size(); ++i) {
      const Vec3 step = line[i] - line[i - 1];
      go(line[i], -step.z() > steep * plan(step).norm() ? MoveKind::plunge : MoveKind::cut);
    }
  }

  /// To the start of the next cut without a retract, if that is near and proven free.
  bool link_to(const Vec3& start) {
    if (!started_ || (plan(start) - plan(at_)).norm() > options_.link_distance_mm) return false;
    if (is_free(at_, start)) {
      if (too_steep(at_, start) && too_much_under(start)) return false;
      go(start, MoveKind::link);
      return true;
    }
    if (crosses_keep_out(at_, start)) return false;
    const Vec2 ends[] = {plan(at_), plan(start)};
    const auto lines = lift(surface_, ends, {.tolerance_mm = options_.tolerance_mm});
    if (lines.size() != 1) return false;
    const Polyline3& line = lines.front();
    const double highest = std::max_element(line.begin(), line.end(), [](const Vec3& a, const Vec3& b) {
                             return a.z() < b.z();
                           })->z();
    const double lowest = std::min_element(line.begin(), line.end(), [](const Vec3& a, const Vec3& b) {
                            return a.z() < b.z();
                          })->z();
    if (lowest < options_.bottom_z) return false;
    const bool same_ends = plan(line.front()) == ends[0] && plan(line.back()) == ends[1];
    if (!same_ends || highest > std::max(at_.z(), start.z()) + surface_.cutter().radius()) return false;
    // The cut's ends may stand higher than the line's, as links and cuts are raised apart; then go straight
    // up or down.
    for (const Vec3& p : line) go(p, MoveKind::link);
    go(start, MoveKind::link);
    return true;
  }

  [[nodiscard]] bool is_free(const Vec3& a, const Vec3& b) const {
    return !crosses_keep_out(a, b) && surface_.clearance(a, b, 0.0).room >= 0;
  }
  [[nodiscard]] bool crosses_keep_out(const Vec3& a, const Vec3& b) const {
    if (options_.keep_out.empty()) return false;
    if (plan(a) == plan(b)) return options_.keep_out.contains(plan(a));
    const auto crossed = inside(options_.keep_out, plan(a), plan(b));
    return std::any_of(crossed.begin(), crossed.end(),
                       [](const Interval& piece) { return piece.to > piece.from; });
  }

  [[nodiscard]] double free_height(const Vec2& place) const {
    return stock_.free_height(wide_cutter_, place) - wide_tip_;
  }

  void retract() { go(with_z(plan(at_), options_.plane_z), MoveKind::rapid); }

  /// By way of the clearance plane to a little above the material (and above z).
  void approach(const Vec2& place, double z) {
    const Vec3 above = with_z(place, options_.plane_z);
    if (started_) {
      retract();
      go(above, MoveKind::rapid);
      carve_pending();
    } else {
      path_.start = at_ = above;
      started_ = true;
    }
    double safe = std::max({z, free_height(place), over_own_ribs(place)}) + options_.feed_height_mm;
    // A rapid does not enter the part, even where it is to be cut into and no stock stands over it.
    if (uncut_) safe = std::max(safe, uncut_->height(place) + *path_.rounding_reserve_mm);
    if (safe < options_.plane_z) go(with_z(place, safe), MoveKind::rapid);
  }

  /// What this operation has left so far between the cell centres under the tool: as free_height().
  [[nodiscard]] double over_own_ribs(const Vec2& place) const {
    double highest = -std::numeric_limits<double>::infinity();
    if (log_.last_cut.empty()) return highest;
    const double radius = cutter_.radius();
    const Box2 under(place.array() - radius, place.array() + radius);
    for (const HiddenSquare& square :
         hidden_between(stock_, std::span<const Profile>(&cutter_, 1), carved_, log_.last_cut, 0, under)) {
      const double near = stock_.box_of(square).exteriorDistance(place);
      if (near <= radius && cut_everywhere(square))
        highest = std::max(highest, square.top_z - cutter_.height(near));
    }
    return highest;
  }

  void go(const Vec3& to, MoveKind kind) {
    if (to == at_) return;
    double feed = 0;
    switch (kind) {
      case MoveKind::rapid:
        break;
      case MoveKind::plunge:
        feed = tool_.plunge_feed_mm_min;
        break;
      case MoveKind::ramp:
        feed = tool_.ramp_feed_mm_min;
        break;
      case MoveKind::cut:
        feed = tool_.feed_mm_min;
        break;
      case MoveKind::link:
        feed = tool_.link_feed_mm_min;
        break;
    }
    path_.moves.push_back({to, kind, feed, static_cast<std::int32_t>(path_.cuts.size()) - 1});
    if (kind != MoveKind::rapid) {
      pending_.push_back({at_, to, 0, true});
      pending_cuts_.push_back(path_.moves.back().cut);
    }
    at_ = to;
  }

  void carve_pending() {
    log_.first_move = static_cast<std::int32_t>(carved_.size());
    carve(stock_, std::span<const Profile>(&cutter_, 1), pending_, &log_, {}, above_flutes_);
    for (const CarveLog::Meeting& meeting : log_.meetings)
      deep_cuts_.insert(pending_cuts_[static_cast<std::size_t>(meeting.move - log_.first_move)]);
    pending_cuts_.clear();
    carved_.insert(carved_.end(), pending_.begin(), pending_.end());
    pending_.clear();
  }

  [[nodiscard]] bool cut_everywhere(const HiddenSquare& square) const {
    const Stock::CellRange centres = stock_.centres_of(square);
    for (int row = centres.first_row; row < centres.last_row; ++row)
      for (int column = centres.first_column; column < centres.last_column; ++column)
        if (log_.last_cut[stock_.index(column, row)] < 0) return false;
    return true;
  }

  /// What this operation may have left between the cell centres, for the approaches of those that follow.
  /// Beside ground that it did not cut nobody knows which move cut that, so nothing is noted there: the
  /// judge, who knows all moves, looks there too.
  void note_hidden() {
    if (log_.last_cut.empty()) return;
    const std::span<const Profile> cutter(&cutter_, 1);
    std::vector<HiddenSquare> hidden = still_hidden(stock_.hidden(), stock_, cutter, carved_);
    for (const HiddenSquare& square : hidden_between(stock_, cutter, carved_, log_.last_cut))
      if (cut_everywhere(square)) hidden.push_back(square);
    stock_.set_hidden(std::move(hidden));
  }

  const ToolSurface& surface_;
  const Tool& tool_;
  Stock stock_;
  const LinkOptions& options_;
  Profile cutter_;
  Profile wide_cutter_ = Profile::needle();
  double wide_tip_ = 0;
  Profile core_ = Profile::needle();  // the middle of the tool, and what may stand beside it between centres
  std::optional<TipSurface> uncut_;   // the part itself, for overcuts
  Toolpath path_;
  Vec3 at_ = Vec3::Zero();
  bool started_ = false;
  std::vector<SweptMove> pending_, carved_;
  CarveLog log_;
  std::vector<TestedBody> above_flutes_;
  std::vector<std::int32_t> pending_cuts_;  // which cut each pending move belongs to
  std::set<std::int32_t> deep_cuts_;
};

void check(const LinkOptions& options, const ToolSurface& surface, const Stock& before) {
  require(options.feed_height_mm > 0, "feed_height_mm", "must be above 0");
  require(options.link_distance_mm >= 0, "link_distance_mm", "must be at least 0");
  require(options.ramp_angle_deg > 0 && options.ramp_angle_deg <= 45, "ramp_angle_deg",
          "must be above 0 and at most 45 degrees");
  require(options.tolerance_mm > 0, "tolerance_mm", "must be above 0");
  const double top = std::max(before.block().max().z(), surface.part().box().max().z());
  if (!(options.plane_z > top))
    throw Error("the clearance plane at Z " + std::to_string(options.plane_z) +
                " is not above stock and part, Z " + std::to_string(top));
  require_feeds(surface.tool());
}

void check(const CutPlan& plan) {
  for (std::size_t g = 0; g < plan.groups.size(); ++g)
    for (const std::int32_t before : plan.groups[g].after)
      if (before < 0 || static_cast<std::size_t>(before) >= g)
        throw Error("group " + std::to_string(g) + " of the cuts is to come after group " +
                    std::to_string(before) + ", which is not before it");
}

}  // namespace

void keys_of(LinkOptions& options, const Usual& usual, Keys& keys) {
  keys.number("feed_height", options.feed_height_mm, {1, "above the material"},
              {.says = "height above the material where rapid turns into feed",
               .usual = "1",
               .low = 0.1,
               .high = 1000,
               .of_tool = true});
  keys.number("link_distance", options.link_distance_mm, {2.5 * usual.spacing_mm, "two and a half stepovers"},
              {.says = "up to this far the next pass is reached without a retract, if proven free",
               .usual = "2.5 stepovers",
               .low = 0,
               .high = 1e4,
               .of_tool = true});
}

LinkedCuts link_cuts(const CutPlan& plan, const ToolSurface& surface, Stock before,
                     const LinkOptions& options, const Progress& progress) {
  check(options, surface, before);
  check(plan);
  return Linker(surface, std::move(before), options).run(plan, progress);
}

}  // namespace yardpass
