/// The figures of an operation, told once: screen, page, pictures and report.json read this list. To add one,
/// add a row (and its row in docs/report.md, which a test asks for).
#pragma once

#include <optional>
#include <span>

#include "yardpass/report/report.h"

namespace yardpass {

/// Where a figure is shown besides report.json.
enum FigurePlace : unsigned {
  kOnScreen = 1,       ///< table of the terminal
  kOnPage = 2,         ///< table of operations
  kInTimes = 4,        ///< table of times
  kOnPicture = 8,      ///< beside the picture of its path
  kTimesAlone = 16,    ///< known from a program without judging it
  kOfEngagement = 32,  ///< table of how much of the cutter meets material
  kPlanned = 64,       ///< table of a job that was planned and not judged
  kCompared = 128      ///< table of variants beside each other
};

struct Figure {
  enum class Form { duration, way, count, length, room, percent, degrees, area };
  const char* key;      ///< in report.json; a dot leads into an object
  const char* heading;  ///< of a column
  const char* says;     ///< what it is
  Form form;            ///< length: of the order of the part; way: of a path; room: measured up to 2 mm
  unsigned places;      ///< of FigurePlace
  /// Nothing where it is not known; report.json then has null.
  std::optional<double> (*value)(const OperationReport& operation);
};
[[nodiscard]] std::span<const Figure> all_figures();

/// "1:02:03", "14.03 m", "5170", "0.301", "12 %"; "-" if it is not known.
[[nodiscard]] std::string in_words(const Figure& figure, const OperationReport& operation,
                                   const Telling& telling);
/// Its heading with the unit that its column is in.
[[nodiscard]] std::string heading_words(const Figure& figure, const Telling& telling);

/// Operations with their figures of a place as lines of text: columns as wide as needed, names shortened to
/// 40 characters.
[[nodiscard]] std::string figures_table(std::span<const OperationReport> operations, FigurePlace place,
                                        const Telling& telling);

}  // namespace yardpass
