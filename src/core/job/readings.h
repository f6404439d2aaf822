// What the log says of a point: the queries that everything else asks it with.
#pragma once

#include "core/job/job.h"

#include <optional>
#include <set>
#include <string>
#include <string_view>
#include <vector>

namespace offshoot {

/// Ids of entries a later one struck.
std::set<std::string> struckIds(const std::vector<LogEntry>& log);

/// The last reading of this quantity at a point that was not struck; `unit` as logged, `stage` if it matters.
const LogEntry* newestReading(const Job& job, std::string_view point, Quantity quantity,
                              const std::optional<std::string>& unit = {},
                              std::optional<ReadingStage> stage = {});

/// The last reading of whatever quantity at a point of a unit that was not struck: in that isolation state
/// where one is given, and not as found where only what came after the change counts.
const LogEntry* newestAt(const Job& job, std::string_view point, const std::optional<std::string>& unit,
                         std::optional<Isolation> isolation, bool after_change);

/// The last tick of a step that was not struck.
const LogEntry* newestTick(const Job& job, std::string_view step);

/// The voltages read live at a point of a unit that were not struck, in the log's order; `stage` if it
/// matters.
std::vector<const LogEntry*> liveVolts(const Job& job, std::string_view point,
                                       std::optional<ReadingStage> stage = {},
                                       const std::optional<std::string>& unit = {});

/// What was read of a rail of the unit on the bench before the change.
std::vector<const LogEntry*> foundReadings(const Job& job, const Rail& rail);

} // namespace offshoot
