#include "support/plain_judge.h"

#include <algorithm>
#include <cmath>

#include "yardpass/contact/tip_surface.h"

namespace yardpass::testing {

namespace {

/// A body of a tool as a solid of revolution, and as what can meet the part.
struct Body {
  Profile profile;
  double above_tip;
  FindingKind into_part, into_stock;
  TipSurface surface, thinner;  ///< the second by 0.01 all round
  double thinner_lift;
};

constexpr double kSure = 0.01;  // mm: in the part by less is left open

class PlainTool {
 public:
  PlainTool(const Tool& tool, const std::shared_ptr<const ContactPart>& part) : cutter_(profile_of(tool)) {
    add(part, cutter_, 0, FindingKind::gouge, FindingKind::rapid_through_stock);
    for (const ToolSection& section : sections_above(tool)) {
      if (section.profile.radius() <= cutter_.radius()) continue;
      const bool holder = section.part == ToolPart::holder;
      add(part, section.profile, section.above_tip_mm,
          holder ? FindingKind::holder_into_part : FindingKind::shank_into_part,
          holder ? FindingKind::holder_into_stock : FindingKind::shank_into_stock);
    }
  }
  [[nodiscard]] const std::vector<Body>& bodies() const { return bodies_; }

 private:
  void add(const std::shared_ptr<const ContactPart>& part, const Profile& profile, double above,
           FindingKind into_part, FindingKind into_stock) {
    const auto thin = resized(profile, -kSure);
    bodies_.push_back({profile, above, into_part, into_stock, TipSurface(part, profile),
                       TipSurface(part, thin ? thin->profile : profile), thin ? thin->tip_z_mm : -1});
  }
  Profile cutter_;
  std::vector<Body> bodies_;
};

class PlainJudge {
 public:
  PlainJudge(const Stock& stock, int splits)
      : bottom_(stock.bottom_z()), cell_(stock.cell_mm() / splits), highest_(stock.block().max().z()) {
    low_ = plan(stock.block().min());
    verdict_.columns = stock.columns() * splits, verdict_.rows = stock.rows() * splits;
    for (int row = 0; row < verdict_.rows; ++row)
      for (int column = 0; column < verdict_.columns; ++column) {
        const Vec2 p = centre(column, row);
        const bool inside = p.x() <= stock.block().max().x() && p.y() <= stock.block().max().y();
        verdict_.heights.push_back(inside ? stock.height(column / splits, row / splits) : bottom_);
      }
  }

  void go(const Vec3& tip, const PlainTool& tool, bool rapid, std::int32_t line) {
    for (const Body& body : tool.bodies()) {
      const bool cutter = &body == &tool.bodies().front();
      meet_part(body, tip, rapid && cutter ? FindingKind::rapid_into_part : body.into_part, line);
      if (!cutter || rapid) meet_stock(body, tip, line);
    }
    if (!rapid) cut(tool.bodies().front(), tip);
  }
  PlainVerdict take() { return std::move(verdict_); }

 private:
  [[nodiscard]] Vec2 centre(int column, int row) const {
    return low_ + Vec2((column + 0.5) * cell_, (row + 0.5) * cell_);
  }
  template <typename Visit>
  void each_cell(const Body& body, const Vec3& tip, double wider, const Visit& visit) {
    const double radius = body.profile.radius() + wider;
    const auto first = [&](double place, double low) {
      return std::max(0, static_cast<int>(std::floor((place - radius - low) / cell_)));
    };
    const auto last = [&](double place, double low, int count) {
      return std::min(count, static_cast<int>(std::ceil((place + radius - low) / cell_)) + 1);
    };
    for (int row = first(tip.y(), low_.y()); row < last(tip.y(), low_.y(), verdict_.rows); ++row)
      for (int column = first(tip.x(), low_.x()); column < last(tip.x(), low_.x(), verdict_.columns);
           ++column) {
        const double true_far = (centre(column, row) - plan(tip)).norm(),
                     far = std::max(0.0, true_far - wider);
        if (far <= body.profile.radius())
          visit(verdict_.heights[static_cast<std::size_t>(row) * static_cast<std::size_t>(verdict_.columns) +
                                 static_cast<std::size_t>(column)],
                tip.z() + body.above_tip + body.profile.height(std::min(true_far, body.profile.radius())),
                true_far <= body.profile.radius());
      }
  }
  void add(FindingKind kind, double at_least, double at_most, std::int32_t line) {
    PlainHarm& harm = verdict_.harm[kind];
    if (at_least > harm.at_least) harm.at_least = at_least, harm.line = line;
    harm.at_most = std::max(harm.at_most, at_most);
  }
  void meet_part(const Body& body, const Vec3& tip, FindingKind kind, std::int32_t line) {
    const Vec3 foot = tip + Vec3(0, 0, body.above_tip);
    if (foot.z() >= body.surface.part().box().max().z() + kSure) return;
    const double touching = body.surface.height(plan(tip)) - foot.z();
    if (!(touching > -kSure)) return;
    const bool sure =
        body.thinner_lift >= 0 && body.thinner.height(plan(tip)) > foot.z() + body.thinner_lift + 1e-6;
    add(kind, sure ? kSure : 0, std::max(kSure, touching), line);
  }
  void meet_stock(const Body& body, const Vec3& tip, std::int32_t line) {
    // Certain where the body passes a fine cell's middle; what lies between those, or between the steps, is
    // open.
    const double open = 2 * cell_;
    if (tip.z() + body.above_tip - open >= highest_) return;
    each_cell(body, tip, open, [&](double height, double swept, bool within) {
      const double depth = height - std::max(swept, bottom_), most = height - std::max(swept - open, bottom_);
      if (most > 0) add(body.into_stock, within ? std::max(0.0, depth) : 0, most, line);
    });
  }
  void cut(const Body& body, const Vec3& tip) {
    if (tip.z() >= highest_) return;
    each_cell(body, tip, 0, [&](double& height, double swept, bool) {
      height = std::min(height, std::max(swept, bottom_));
    });
  }

  double bottom_, cell_, highest_;
  Vec2 low_;
  PlainVerdict verdict_;
};

}  // namespace

PlainVerdict judge_plainly(const Program& program, const std::shared_ptr<const ContactPart>& part,
                           const std::vector<Tool>& tools, const Stock& stock, int splits, double step_mm) {
  PlainJudge judge(stock, splits);
  std::map<std::int32_t, PlainTool> by_number;
  for (const Tool& tool : tools) by_number.emplace(tool.number, PlainTool(completed(tool), part));
  for (const ProgramMove& move : program.moves) {
    const int steps = std::max(1, static_cast<int>(std::ceil((move.to - move.from).norm() / step_mm)));
    for (int k = 0; k <= steps; ++k)
      judge.go(move.from + (move.to - move.from) * k / steps, by_number.at(move.tool), move.rapid(),
               move.line);
  }
  PlainVerdict verdict = judge.take();
  const TipSurface needle(part, Profile::needle());
  double sum = 0;
  std::size_t count = 0, at = 0;
  const double cell = stock.cell_mm() / splits;
  for (int row = 0; row < verdict.rows; ++row)
    for (int column = 0; column < verdict.columns; ++column) {
      const double z =
          needle.height(plan(stock.block().min()) + Vec2((column + 0.5) * cell, (row + 0.5) * cell));
      if (z != kNothingBelow && z >= stock.bottom_z()) sum += verdict.heights[at] - z, ++count;
      ++at;
    }
  verdict.mean_left_mm = count > 0 ? sum / static_cast<double>(count) : 0;
  return verdict;
}

}  // namespace yardpass::testing
