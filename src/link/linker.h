// Cut after cut: how the tool leaves one and gets into the next.
#pragma once

#include "link/entries.h"
#include "link/hop.h"

namespace yardpass::detail {

[[nodiscard]] inline bool is_line_of_its_own(const Lead& lead) {
  return lead.shape == LeadShape::arc || lead.shape == LeadShape::straight;
}

class Linker {
 public:
  Linker(const ToolSurface& surface, Stock before, const LinkOptions& options)
      : surface_(surface),
        options_(options),
        trail_(surface, std::move(before), options_),
        entries_(trail_, surface.tool(), options_) {}

  LinkedCuts run(const CutPlan& plan, const Progress& progress);

 private:
  void run_link(const Polyline3& line);
  void join(const Cut& cut, const CutOrigin& origin);
  [[nodiscard]] Polyline3 oriented(const Cut& cut, const Between& between);
  void run(const Polyline3& line);
  [[nodiscard]] Polyline3 sunk(const Polyline3& line, std::int32_t pass) const;
  [[nodiscard]] bool sinks() const { return !deep_.empty(); }
  void refuse_in_material(const Polyline3& line);
  void straight_in(const Polyline3& line, bool closed, const Between& between);
  void come_straight_down(const Polyline3& lead, const Vec3& start, double lift_up_to_mm);

  // The rungs of the ladder: false if they do not reach.
  bool stay_down(const Vec3& start, const LinkLadder& ladder);
  bool hop(const Polyline3& line, const Between& between);
  [[nodiscard]] bool meets_little(const Polyline3& line);
  [[nodiscard]] std::optional<Polyline3> hop_between(const HopEnds& ends);

  /// The largest lead into a line that is free, down to a quarter; a point alone: none fits.
  [[nodiscard]] Polyline3 lead_into(const Lead& lead, const Polyline3& line);
  [[nodiscard]] bool fits(const Polyline3& lead);
  /// Out of the cut before, if it is to be left through the air.
  void leave(const Lead& lead);
  void come_in();
  void through(const Polyline3& places, const char* named);
  void go_out();
  [[nodiscard]] double most_seconds(const Vec3& start) const;
  [[nodiscard]] double seconds_at_link_feed(const Polyline3& line) const;

  const ToolSurface& surface_;
  LinkOptions options_;
  Trail trail_;
  Entries entries_;
  const std::vector<DepthLine>* depths_ = nullptr;  // of the plan in hand, by pass
  Polyline3 deep_;                                  // the cut in hand as it is run, if that is below its line
  Polyline3 last_;                                  // the cut before, as it was run, or the line above it
  bool last_closed_ = false;
  CutOrigin origin_{-1, 0};  // of it
  bool rapid_ = false;       // the cut in hand is run at rapid
};

}  // namespace yardpass::detail
