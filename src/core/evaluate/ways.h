// Every way that could take this supply to this need, each worked out on the job's own numbers as if it were
// planned.
#pragma once

#include "core/evaluate/evaluation.h"
#include "core/evaluate/unread.h"
#include "core/supply/shelf.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

enum class Way {
    AsFound,
    Trim,
    Divider,
    TemporaryTrimmer,
    Rewind,
    DummyLoad,
    CurrentLimit,
    Wire,
    Sense,
    SideBySide,
    Stacked,
    Windings,
    ExternalTransformer,
    Rectifier,
    Limiter,
    Swap,
    Module,
};
template <>
struct Words<Way>
{
    static constexpr std::array<std::string_view, 17> list{"as_found",
                                                           "trim",
                                                           "divider",
                                                           "temporary_trimmer",
                                                           "rewind",
                                                           "dummy_load",
                                                           "current_limit",
                                                           "wire",
                                                           "sense",
                                                           "side_by_side",
                                                           "stacked",
                                                           "windings",
                                                           "external_transformer",
                                                           "rectifier",
                                                           "limiter",
                                                           "swap",
                                                           "module"};
};
/// "Retune the divider".
std::string_view wayWords(Way way);

struct WorkedWay
{
    Way way;
    bool concerned = false;                   ///< the need asks for what it changes
    std::string how = {};                     ///< "15k across the bottom leg"
    std::optional<VoltageRange> reaches = {}; ///< at the unit; nothing where it is not about the voltage
    Verdict verdict = Verdict::Unknown;
    std::string stopped_by = {}; ///< the row or the figure; empty where nothing stops it
    std::optional<ConsequenceRow> worst = {};
    bool opens_mains_side = false;
    int joints = 0; ///< and wire ends
    int parts = 0;
    int to_get = 0;
    double minutes = 0; ///< a guide: of the steps that are still open
    bool reversible = true;
    std::vector<Unread> needs = {}; ///< unread ratings that decide it
    std::optional<Plan> plan = {};  ///< what would be planned; nothing where it cannot be
};

/// Its words, and what else it needs: "Retune the divider, and rewind".
std::string wayName(const WorkedWay& way);

/// Each of the job without its plan. Those that are concerned first; of these by verdict, by whether the
/// mains side stays closed, by minutes. Of an empty shelf nothing can be put in the old one's place.
std::vector<WorkedWay> waysOf(const Job& job, const std::vector<ShelfEntry>& shelf);

/// The steps of an evaluation that are still open, in minutes: 2 a look, 1 an isolate, 3 a prove, 6 a joint
/// or wire end, 3 another touch, 2 a power with its checks, 2 a probe or adjust, and the waits as computed.
double minutesOf(const Evaluation& evaluation, int joints);

/// "Two ways from 24.05 V to 27.6 V would do." And what decides between the first two, where a reading does.
struct WaysSentence
{
    std::string answer;
    std::string decides; ///< empty where nothing unread does
};
WaysSentence waysSentence(const Job& job, const std::vector<WorkedWay>& ways);

/// Two ways on which good people disagree, where the need asks for both; by this job's figures.
struct WaySchool
{
    Way pick;
    Way other;
    std::string why; ///< the first thing that tells them apart, in the order of the ways
};
/// Of ways in their order.
std::vector<WaySchool> waySchools(const std::vector<WorkedWay>& ways);
/// "Retune the divider or Rewind? Retune the divider: about 90 min less."
std::string schoolWords(const WaySchool& school);

} // namespace offshoot
