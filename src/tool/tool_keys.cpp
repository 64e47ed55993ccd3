#include <algorithm>
#include <cmath>

#include "yardpass/geom/error.h"
#include "yardpass/geom/text.h"
#include "yardpass/keys/keys.h"
#include "yardpass/tool/tool.h"

namespace yardpass {

namespace {

constexpr std::pair<Shape, const char*> kShapes[] = {
    {Shape::ball, "ball"},         {Shape::flat, "flat"},       {Shape::bull, "bull"},
    {Shape::taper, "taper"},       {Shape::chamfer, "chamfer"}, {Shape::profile, "profile"},
    {Shape::lollipop, "lollipop"}, {Shape::tslot, "tslot"}};

constexpr double kLongest = 1e4, kFastest = 1e6;

void shape_keys(Tool& tool, Keys& keys) {
  keys.choice("shape", tool.shape, kShapes, Shape::ball, "", {.says = "of the cutter", .required = true});
  const std::string shape = name_of(tool.shape);
  const auto belongs = [&](const char* key, bool allowed) {
    keys.refuse_if(keys.says(key) && !allowed, {key}, "does not belong to a " + shape + " tool");
    keys.idle_if(!keys.says(key) && !allowed, key, "of other shapes");
  };
  const auto needs = [&](const char* key, bool needed, bool there, const std::string& what) {
    keys.refuse_if(needed && !there, {key},
                   (keys.says(key) ? "says nothing, but must: " : "is missing; ") + what);
  };
  keys.number("diameter", tool.diameter_mm, {0, ""},
              {.says = "of the cutter; of a taper at its tip",
               .low = 0,
               .high = kLongest,
               .above_low = true,
               .required = true});
  keys.number("corner_radius", tool.corner_radius_mm, {0, "sharp"},
              {.says = "bull (required), taper and T-slot; half the diameter makes a tapered ball",
               .usual = "0",
               .low = 0,
               .high = kLongest});
  belongs("corner_radius",
          tool.shape == Shape::bull || tool.shape == Shape::taper || tool.shape == Shape::tslot);
  needs("corner_radius", tool.shape == Shape::bull, tool.corner_radius_mm > 0, "a bull nose needs it");
  const bool cone = tool.shape == Shape::taper || tool.shape == Shape::chamfer;
  keys.number("taper_angle", tool.taper_angle_deg, {0, "none"},
              {.says = "taper and chamfer (required): from the tool's axis",
               .unit = Unit::degrees,
               .low = 0,
               .high = 89.9,
               .above_low = true});
  belongs("taper_angle", cone);
  needs("taper_angle", cone, tool.taper_angle_deg > 0, "degrees from the axis");
  keys.number("tip_diameter", tool.tip_diameter_mm, {0, "pointed"},
              {.says = "chamfer: width of the flat tip", .usual = "0", .low = 0, .high = kLongest});
  belongs("tip_diameter", tool.shape == Shape::chamfer);
  std::vector<std::vector<double>> outline;
  for (const auto& p : tool.outline) outline.push_back({p.r_mm, p.z_mm, p.arc_mm});
  keys.points("outline", outline, 1, "points [r, z] or [r, z, arc radius] from the tip outwards",
              {.says = "profile (required): points `[r, z]` from the tip outwards, or `[r, z, arc]` where an "
                       "arc of that radius "
                       "leads to the point; convex, ending at half the diameter",
               .low = -1e4,
               .high = 1e4});
  tool.outline.clear();
  for (const auto& p : outline) tool.outline.push_back({p[0], p[1], p.size() == 3 ? p[2] : 0.0});
  belongs("outline", tool.shape == Shape::profile);
  needs("outline", tool.shape == Shape::profile, !tool.outline.empty(),
        "points [r, z] or [r, z, arc radius] from the tip outwards");
  const double end = tool.outline.empty() ? 0 : 2 * tool.outline.back().r_mm;
  keys.refuse_if(tool.shape == Shape::profile && !tool.outline.empty() && tool.diameter_mm > 0 &&
                     std::abs(end - tool.diameter_mm) > 1e-6,
                 {"outline"},
                 "ends at a diameter of " + short_number(end) + ", but \"diameter\" is " +
                     short_number(tool.diameter_mm));
}

/// Half the width of an undercut cutter's neck, never wider than its ball.
double neck_radius(const Tool& tool) { return std::min(tool.neck_diameter_mm, tool.diameter_mm) / 2; }

void length_keys(Tool& tool, Keys& keys) {
  const double d = tool.diameter_mm, radius = d / 2;
  const bool undercuts = tool.undercuts();
  const About length{.says = "", .low = 0, .high = kLongest, .above_low = true};
  const auto about = [&](const char* says, const char* usual) {
    About result = length;
    result.says = says, result.usual = usual;
    return result;
  };
  const auto stickout_key = [&](double usual) {
    keys.number("stickout", tool.stickout_mm, {usual, "four diameters"},
                about("tip to holder", "four diameters"));
  };
  // Each of stick-out and flutes gives way to the other where that is said.
  const bool stickout_said = keys.says("stickout");
  if (stickout_said) stickout_key(0);
  keys.number("neck_diameter", tool.neck_diameter_mm,
              undercuts ? Derived{radius, "half the diameter"} : Derived{0, "no neck"},
              about("of the neck between flutes and shank",
                    "no neck; of lollipop and T-slot cutters half the diameter"));
  const double neck = neck_radius(tool);
  Derived flutes{stickout_said ? std::min(2 * d, tool.stickout_mm) : 2 * d, "two diameters"};
  if (tool.shape == Shape::lollipop)
    flutes = {radius + std::sqrt(radius * radius - neck * neck), "up to the neck"};
  if (tool.shape == Shape::tslot) flutes = {d / 4, "a quarter of the diameter"};
  if (tool.shape == Shape::taper) flutes = {0, ""};
  keys.number(
      "flute_length", tool.flute_length_mm, flutes,
      about("length that cuts; a taper's cone ends there (required); the height of a T-slot cutter's disc",
            "two diameters; of a lollipop up to the neck; of a T-slot cutter a quarter of the diameter"));
  keys.refuse_if(tool.shape == Shape::taper && !(tool.flute_length_mm > 0), {"flute_length"},
                 "is missing; it gives the length of the cone");
  if (!stickout_said) stickout_key(std::max(4 * d, tool.flute_length_mm));
  keys.number("neck_length", tool.neck_length_mm,
              undercuts ? Derived{std::max(0.0, tool.stickout_mm - tool.flute_length_mm), "up to the holder"}
                        : Derived{0, "no neck"},
              about("of the neck", "of lollipop and T-slot cutters up to the holder"));
  const bool plain = !undercuts && !keys.says("neck_diameter") && !keys.says("neck_length");
  for (const char* key : {"neck_diameter", "neck_length"}) keys.idle_if(plain, key, "it has no neck");
  keys.number("shank_diameter", tool.shank_diameter_mm, {d, "the diameter"},
              about("of the shank", "the diameter"));
  keys.refuse_if(undercuts && tool.neck_diameter_mm >= d && d > 0, {"neck_diameter"},
                 "must be below the diameter, " + short_number(d) + ", of a " + name_of(tool.shape));
  keys.refuse_if(tool.shape == Shape::tslot && tool.corner_radius_mm > tool.flute_length_mm,
                 {"corner_radius"},
                 "is more than the height of the disc (flute_length), " + short_number(tool.flute_length_mm));
  keys.refuse_if(tool.flute_length_mm > tool.stickout_mm && tool.stickout_mm > 0,
                 {"flute_length", "stickout"},
                 "is " + short_number(tool.flute_length_mm) + ", longer than the stick-out, " +
                     short_number(tool.stickout_mm));
}

void holder_keys(Tool& tool, Keys& keys) {
  std::vector<HolderSection> sections;
  keys.each("holder",
            [&](Keys& one) {
              HolderSection section{0, 0, 0};
              const About size{
                  .says = "of the section", .low = 0, .high = kLongest, .above_low = true, .required = true};
              one.number("length", section.length_mm, {0, ""}, size);
              one.number("lower_diameter", section.lower_diameter_mm, {0, ""}, size);
              one.number("upper_diameter", section.upper_diameter_mm, {0, ""}, size);
              sections.push_back(section);
            },
            {.says = "`[{ length, lower_diameter, upper_diameter }, ...]` from the stick-out upwards",
             .usual = "none"});
  if (keys.says("holder")) tool.holder = std::move(sections);
}

void clearance_keys(Tool& tool, Keys& keys) {
  const auto clearance = [&](const char* key, double& value, const char* says) {
    keys.number(key, value, {0, "free of the part is enough"},
                {.says = says, .usual = "0", .low = 0, .high = 1000});
  };
  clearance("neck_clearance", tool.neck_clearance_mm,
            "how far the neck keeps from the part, for planning and for the judge");
  clearance("shank_clearance", tool.shank_clearance_mm, "the same of the shank");
  clearance("holder_clearance", tool.holder_clearance_mm, "the same of the holder");
  keys.idle_if(tool.neck_diameter_mm <= 0, "neck_clearance", "it has no neck");
  keys.idle_if(tool.holder.empty(), "holder_clearance", "no holder is said");
}

void feed_keys(Tool& tool, Keys& keys) {
  keys.number("spindle", tool.spindle_rpm, {0, ""},
              {.says = "speed", .unit = Unit::turns_min, .low = 1, .high = 2e5, .required = true});
  // Below this a program, which says feeds to a tenth, would say F0.
  const About feed{.says = "", .unit = Unit::mm_min, .low = 0.1, .high = kFastest};
  const auto about = [&](const char* says, const char* usual, bool required = false) {
    About result = feed;
    result.says = says, result.usual = usual, result.required = required;
    return result;
  };
  keys.number("feed", tool.feed_mm_min, {0, ""}, about("cutting feed", "", true));
  keys.number("plunge_feed", tool.plunge_feed_mm_min, {tool.feed_mm_min / 3, "a third of the feed"},
              about("straight down; if it is said, going down into material faster is a finding",
                    "a third of `feed`"));
  keys.number("ramp_feed", tool.ramp_feed_mm_min, {tool.feed_mm_min / 2, "half the feed"},
              about("down a slope while cutting", "half of `feed`"));
  keys.number("link_feed", tool.link_feed_mm_min, {tool.feed_mm_min, "the feed"},
              about("between passes", "`feed`"));
  const bool said = keys.says("steepest_entry") || tool.steepest_entry_deg > 0,
             round_tip = tool.shape == Shape::ball || tool.shape == Shape::lollipop ||
                         (tool.shape == Shape::taper && 2 * tool.corner_radius_mm >= tool.diameter_mm);
  keys.number(
      "steepest_entry", tool.steepest_entry_deg,
      round_tip ? Derived{80, "round at its tip, but no drill"}
                : Derived{45, "its middle may be without teeth"},
      {.says = "the steepest way down into material, from level; steeper is a finding where more than a "
               "tenth of the radius stands under its axis (if this is not said: straight down at the "
               "start of a cut, and half a radius). 90: it drills",
       .usual = "80 for cutters round at their tip, else 45",
       .unit = Unit::degrees,
       .low = 0.1,
       .high = 90});
  if (!(tool.plunge_through_mm > 0)) {
    tool.plunge_through_mm = std::max(0.05, (said ? 0.05 : 0.25) * tool.diameter_mm);
    tool.steepest_within_cuts = said;
  }
  keys.number(
      "thickest_cut", tool.thickest_cut_mm, {0, "no limit"},
      {.says = "more material in its way, measured square to the cutter's surface, is a finding; 0: no "
               "limit",
       .usual = "0",
       .low = 0,
       .high = 1000});
  keys.number(
      "widest_engagement", tool.widest_engagement_deg, {0, "no limit"},
      {.says = "more of the leading half of the cutter in material is a finding, entries apart; 0: no "
               "limit",
       .usual = "0",
       .unit = Unit::degrees,
       .low = 0,
       .high = 180});
  keys.flag("coolant", tool.coolant, true, {.says = "on while it cuts", .usual = "`true`"});
}

/// Takes what is there for said, and gives the rest its usual value.
class FillIn : public Keys {
 public:
  void number(const char*, double& value, const Derived& usual, const About&) override {
    if (!(value > 0)) value = usual.value;
  }
  void number(const char*, std::optional<double>&, const About&) override {}
  void whole(const char*, int&, int, const About&) override {}
  void flag(const char*, bool&, bool, const About&) override {}
  void text(const char*, std::string&, const About&) override {}
  void file(const char*, std::filesystem::path&, const About&) override {}
  void word(const char*, std::size_t& value, std::span<const char* const>, std::size_t, const std::string&,
            const About&) override {
    value = shape_;
  }
  void word(const char*, std::optional<std::size_t>&, std::span<const char* const>, const About&) override {}
  void word_or_number(const char*, std::optional<std::size_t>&, double&, std::span<const char* const>,
                      const About&) override {}
  void words(const char*, std::vector<std::size_t>&, std::span<const char* const>, const About&) override {}
  void name(const char*, std::string&, Named, const About&) override {}
  void names(const char*, std::vector<std::string>&, Named, const About&) override {}
  void area(const char*, GivenArea&, const About&) override {}
  void curves(const char*, GivenCurves&, const About&) override {}
  void tool(const char*, GivenTool&, const About&) override {}
  void loops(const char*, std::optional<Region>&, const About&) override {}
  void corners(const char*, std::optional<Corners>&, const About&) override {}
  void numbers(const char*, std::vector<double>&, std::initializer_list<std::size_t>, const char*,
               const About&) override {}
  void counts(const char*, std::vector<std::int64_t>&, const About&) override {}
  void places(const char*, std::vector<std::vector<double>>&, std::size_t, const About&) override {}
  void points(const char*, std::vector<std::vector<double>>&, std::size_t, const char*,
              const About&) override {}
  void each(const char*, const std::function<void(Keys& one)>&, const About&) override {}
  void table(const char*, const std::function<void(Keys& keys)>&, const About&) override {}
  [[nodiscard]] int line() const override { return 0; }
  [[nodiscard]] bool says(const char* key) const override {
    return std::string_view(key) == "stickout" && stickout_said_;
  }
  void one_of(std::initializer_list<const char*>, bool) override {}
  void refuse_if(bool, std::initializer_list<const char*>, const std::string&) override {}
  void idle_if(bool, const char*, const std::string&) override {}

  explicit FillIn(const Tool& tool) : stickout_said_(tool.stickout_mm > 0) {
    for (std::size_t i = 0; i < std::size(kShapes); ++i)
      if (kShapes[i].first == tool.shape) shape_ = i;
  }

 private:
  std::size_t shape_ = 0;
  bool stickout_said_;
};

}  // namespace

const char* name_of(Shape shape) {
  for (const auto& [known, word] : kShapes)
    if (known == shape) return word;
  return "";
}

void keys_of(Tool& tool, Keys& keys) {
  keys.whole("number", tool.number, 0,
             {.says = "T word of the tool change, and H word",
              .unit = Unit::none,
              .low = 1,
              .high = 9999,
              .required = true});
  shape_keys(tool, keys);
  length_keys(tool, keys);
  holder_keys(tool, keys);
  clearance_keys(tool, keys);
  feed_keys(tool, keys);
}

Tool completed(Tool tool) {
  if (const std::vector<ToolLack> missing = lacks(tool); !missing.empty()) {
    const ToolLack& first = missing.front();
    throw Error("tool \"" + tool.name + "\": \"" + first.key + "\" is missing; " + first.what);
  }
  FillIn keys(tool);
  keys_of(tool, keys);
  return tool;
}

}  // namespace yardpass
