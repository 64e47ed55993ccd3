#include "link/tour.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace yardpass::detail {

namespace {

constexpr double kNever = std::numeric_limits<double>::infinity();

/// Places in plan, by squares; those near a place are found first.
class Squares {
 public:
  struct Entry {
    Vec3 at;
    std::size_t stop, place;
  };

  explicit Squares(std::vector<Entry> entries) {
    for (const Entry& entry : entries) box_.extend(plan(entry.at));
    if (entries.empty()) box_ = Box2(Vec2(0, 0), Vec2(0, 0));
    const Vec2 size = box_.sizes();
    const double count = std::max(1.0, static_cast<double>(entries.size()) / 2);
    side_ = std::max({std::sqrt(size.x() * size.y() / count), size.maxCoeff() / 1000, 1e-6});
    columns_ = static_cast<int>(size.x() / side_) + 1;
    rows_ = static_cast<int>(size.y() / side_) + 1;
    squares_.resize(static_cast<std::size_t>(columns_) * static_cast<std::size_t>(rows_));
    for (Entry& entry : entries) square(column(entry.at.x()), row(entry.at.y())).push_back(entry);
  }

  /// Visits entries in rings of squares about a place until `more` says no to the least distance of a ring.
  template <typename Take, typename More>
  void around(const Vec3& place, const More& more, const Take& take) const {
    const int c = column(place.x()), r = row(place.y());
    const int last = std::max({c, columns_ - 1 - c, r, rows_ - 1 - r});
    for (int ring = 0; ring <= last; ++ring) {
      if (ring > 0 && !more((ring - 1) * side_)) return;
      for (int j = std::max(0, r - ring); j <= std::min(rows_ - 1, r + ring); ++j) {
        const bool whole = std::abs(j - r) == ring;
        const int step = whole ? 1 : std::max(1, 2 * ring);
        for (int i = c - ring; i <= c + ring; i += step)
          if (i >= 0 && i < columns_)
            for (const Entry& entry : squares_[index(i, j)]) take(entry);
      }
    }
  }
  void remove(const Entry& entry) {
    auto& all = square(column(entry.at.x()), row(entry.at.y()));
    std::erase_if(all, [&](const Entry& one) { return one.stop == entry.stop && one.place == entry.place; });
  }

 private:
  [[nodiscard]] int column(double x) const {
    return std::clamp(static_cast<int>((x - box_.min().x()) / side_), 0, columns_ - 1);
  }
  [[nodiscard]] int row(double y) const {
    return std::clamp(static_cast<int>((y - box_.min().y()) / side_), 0, rows_ - 1);
  }
  [[nodiscard]] std::size_t index(int column, int row) const {
    return static_cast<std::size_t>(row) * static_cast<std::size_t>(columns_) +
           static_cast<std::size_t>(column);
  }
  std::vector<Entry>& square(int column, int row) { return squares_[index(column, row)]; }

  Box2 box_;
  double side_ = 1;
  int columns_ = 1, rows_ = 1;
  std::vector<std::vector<Entry>> squares_;
};

std::vector<Squares::Entry> entries_of(const std::vector<Stop>& stops) {
  std::vector<Squares::Entry> entries;
  for (std::size_t s = 0; s < stops.size(); ++s)
    for (std::size_t k = 0; k < stops[s].places.size(); ++k) entries.push_back({stops[s].places[k], s, k});
  return entries;
}

/// Moves runs of visits while that saves time.
class Improver {
 public:
  Improver(const Tour& tour, const std::vector<Stop>& stops, bool may_turn, const LinkCosts& costs,
           std::vector<Visit>& visits)
      : tour_(tour), may_turn_(may_turn), costs_(costs), visits_(visits), where_(visits.size()) {
    find_neighbours(stops);
    for (std::size_t i = 0; i < visits_.size(); ++i) where_[visits_[i].stop] = i;
  }

  void run() {
    constexpr int kRounds = 12;
    for (int round = 0; round < kRounds; ++round) {
      bool better = false;
      for (std::size_t stop = 0; stop < where_.size(); ++stop) {
        for (std::size_t size = 1; size <= 3; ++size) better |= move_run(stop, size);
        if (may_turn_) better |= turn_run(stop);
      }
      if (!better) return;
    }
  }

 private:
  static constexpr double kWorth = 1e-9;  // s

  void find_neighbours(const std::vector<Stop>& stops) {
    constexpr std::size_t kMost = 8;
    const Squares squares(entries_of(stops));
    neighbours_.resize(stops.size());
    for (std::size_t s = 0; s < stops.size(); ++s) {
      std::vector<std::pair<double, std::size_t>> near;
      for (const Vec3& place : stops[s].places) {
        std::vector<std::pair<double, std::size_t>> here;
        squares.around(
            place, [&](double least) { return here.size() < kMost || least < here[kMost - 1].first; },
            [&](const Squares::Entry& entry) {
              if (entry.stop == s) return;
              here.emplace_back((entry.at - place).norm(), entry.stop);
              std::sort(here.begin(), here.end());
              if (here.size() > kMost) here.pop_back();
            });
        near.insert(near.end(), here.begin(), here.end());
      }
      std::sort(near.begin(), near.end());
      for (const auto& [distance, stop] : near)
        if (std::find(neighbours_[s].begin(), neighbours_[s].end(), stop) == neighbours_[s].end() &&
            neighbours_[s].size() < 2 * kMost)
          neighbours_[s].push_back(stop);
    }
  }

  /// The link from one visit to another, by index; nothing leads to what is behind the last.
  [[nodiscard]] double link(std::size_t from, std::size_t to) const {
    return to >= visits_.size() ? 0 : costs_.seconds(tour_.out(visits_[from]), tour_.in(visits_[to]));
  }
  [[nodiscard]] static Visit turned(Visit visit) {
    visit.turned = !visit.turned;
    return visit;
  }

  /// The run that begins at a stop, put behind or before a neighbour of its first or last stop.
  bool move_run(std::size_t stop, std::size_t size) {
    const std::size_t first = where_[stop], last = first + size - 1;
    if (first == 0 || last >= visits_.size()) return false;
    const double saved = link(first - 1, first) + link(last, last + 1) -
                         (last + 1 < visits_.size()
                              ? costs_.seconds(tour_.out(visits_[first - 1]), tour_.in(visits_[last + 1]))
                              : 0);
    if (saved <= kWorth) return false;
    double best = saved - kWorth;
    std::size_t behind = visits_.size();
    bool turn = false;
    const auto consider = [&](std::size_t after) {  // put behind this visit
      if (after + 1 >= first && after <= last) return;
      const Vec3 &from = tour_.out(visits_[after]), &in = tour_.in(visits_[first]),
                 &out = tour_.out(visits_[last]);
      const bool end = after + 1 == visits_.size();
      const Vec3 to = end ? from : tour_.in(visits_[after + 1]);
      const double before = link(after, after + 1);
      const auto added = [&](const Vec3& a, const Vec3& b) {
        return costs_.seconds(from, a) + (end ? 0 : costs_.seconds(b, to)) - before;
      };
      if (const double cost = added(in, out); cost < best) best = cost, behind = after, turn = false;
      if (may_turn_)
        if (const double cost = added(out, in); cost < best) best = cost, behind = after, turn = true;
    };
    for (const std::size_t of : {stop, visits_[last].stop})
      for (const std::size_t neighbour : neighbours_[of]) {
        const std::size_t at = where_[neighbour];
        consider(at);
        if (at > 0) consider(at - 1);
      }
    if (behind == visits_.size()) return false;
    put(first, last, behind, turn);
    return true;
  }

  void put(std::size_t first, std::size_t last, std::size_t behind, bool turn) {
    const auto at = [&](std::size_t i) { return visits_.begin() + static_cast<std::ptrdiff_t>(i); };
    if (turn) reverse(first, last);
    if (behind < first) {
      std::rotate(at(behind + 1), at(first), at(last + 1));
      number(behind + 1, last);
    } else {
      std::rotate(at(first), at(last + 1), at(behind + 1));
      number(first, behind);
    }
  }
  void reverse(std::size_t first, std::size_t last) {
    std::reverse(visits_.begin() + static_cast<std::ptrdiff_t>(first),
                 visits_.begin() + static_cast<std::ptrdiff_t>(last) + 1);
    for (std::size_t i = first; i <= last; ++i) visits_[i] = turned(visits_[i]);
    number(first, last);
  }
  void number(std::size_t first, std::size_t last) {
    for (std::size_t i = first; i <= last; ++i) where_[visits_[i].stop] = i;
  }

  /// All that lies between this stop and a neighbour of it, run the other way round.
  bool turn_run(std::size_t stop) {
    for (const std::size_t neighbour : neighbours_[stop]) {
      std::size_t first = where_[stop], last = where_[neighbour];
      if (first > last) std::swap(first, last);
      for (const std::size_t begin : {first, first + 1}) {
        // With `first` as the last visit that stays, or as the first that is turned.
        if (begin == 0 || begin > last) continue;
        const std::size_t end = begin == first ? last - 1 : last;
        if (end < begin || end >= visits_.size()) continue;
        const double before = link(begin - 1, begin) + link(end, end + 1);
        const double after =
            costs_.seconds(tour_.out(visits_[begin - 1]), tour_.out(visits_[end])) +
            (end + 1 < visits_.size() ? costs_.seconds(tour_.in(visits_[begin]), tour_.in(visits_[end + 1]))
                                      : 0);
        if (after >= before - kWorth) continue;
        reverse(begin, end);
        return true;
      }
    }
    return false;
  }

  const Tour& tour_;
  bool may_turn_;
  const LinkCosts& costs_;
  std::vector<Visit>& visits_;
  std::vector<std::size_t> where_;  // of each stop, its visit
  std::vector<std::vector<std::size_t>> neighbours_;
};

}  // namespace

Tour::Tour(std::vector<Stop> stops, bool may_turn, const LinkCosts& costs)
    : stops_(std::move(stops)), may_turn_(may_turn), costs_(costs) {}

const Vec3& Tour::in(const Visit& visit) const {
  const Stop& stop = stops_[visit.stop];
  return stop.places[stop.closed ? visit.place : visit.turned ? 1 : 0];
}
const Vec3& Tour::out(const Visit& visit) const {
  const Stop& stop = stops_[visit.stop];
  return stop.places[stop.closed ? visit.place : visit.turned ? 0 : 1];
}

std::vector<Visit> Tour::as_given() const {
  std::vector<Visit> visits(stops_.size());
  for (std::size_t i = 0; i < visits.size(); ++i) {
    visits[i].stop = i;
    if (!stops_[i].closed || i == 0) continue;
    double best = kNever;
    for (std::size_t k = 0; k < stops_[i].places.size(); ++k)
      if (const double cost = costs_.seconds(out(visits[i - 1]), stops_[i].places[k]); cost < best)
        best = cost, visits[i].place = k;
  }
  return visits;
}

std::vector<Visit> Tour::nearest_next(const std::optional<Vec3>& from) const {
  std::vector<Visit> visits;
  if (stops_.empty()) return visits;
  std::vector<Squares::Entry> entries = entries_of(stops_);
  if (!may_turn_)
    std::erase_if(
        entries, [&](const Squares::Entry& entry) { return entry.place == 1 && !stops_[entry.stop].closed; });
  Squares squares(std::move(entries));
  const auto take = [&](const Visit& visit) {
    for (std::size_t k = 0; k < stops_[visit.stop].places.size(); ++k)
      squares.remove({stops_[visit.stop].places[k], visit.stop, k});
    visits.push_back(visit);
  };
  if (!from) take({});
  while (visits.size() < stops_.size()) {
    const Vec3 place = visits.empty() ? *from : out(visits.back());
    double best = kNever;
    Squares::Entry next{};
    squares.around(
        place,
        [&](double least) {
          return best == kNever ||
                 std::min(least / costs_.feed_mm_s, costs_.lift_s + least / costs_.rapid_mm_s) < best;
        },
        [&](const Squares::Entry& entry) {
          const double cost = costs_.seconds(place, entry.at);
          if (cost < best ||
              (cost == best && std::pair(entry.stop, entry.place) < std::pair(next.stop, next.place)))
            best = cost, next = entry;
        });
    const bool closed = stops_[next.stop].closed;
    take({next.stop, !closed && next.place == 1, closed ? next.place : 0});
  }
  return visits;
}

void Tour::improve(std::vector<Visit>& visits) const {
  if (visits.size() > 2) Improver(*this, stops_, may_turn_, costs_, visits).run();
}

double Tour::seconds(const std::vector<Visit>& visits) const {
  double sum = 0;
  for (std::size_t i = 1; i < visits.size(); ++i) sum += costs_.seconds(out(visits[i - 1]), in(visits[i]));
  return sum;
}

}  // namespace yardpass::detail
