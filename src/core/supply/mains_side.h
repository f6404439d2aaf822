// The mains side of a supply as far as somebody read it: what label and parts say, the transformer's
// windings, what the switch-on surge meets, the rectifier with its smoothing, and a filter behind it.
#pragma once

#include "core/supply/mains_parts.h"
#include "core/supply/rectifier_chain.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

struct MainsTransformer
{
    std::vector<Primary> primaries = {};
    std::optional<double> f_rated_hz = {};
    std::optional<double> va = {};
    std::optional<double> regulation = {};
    std::vector<Secondary> secondaries = {};
    std::string selector = {}; ///< where it stands
    Json unknown = {};
    bool operator==(const MainsTransformer&) const = default;
};
void fields(Fields& f, MainsTransformer& value);

/// What the surge meets on its way into the reservoir, and what it must leave alone.
struct SwitchOn
{
    LimiterKind kind = LimiterKind::Bridge;
    double ratio = 1; ///< mains volts over secondary volts; 1 without a transformer
    std::optional<double> c_f = {};
    std::optional<double> source_ohm = {}; ///< mains and leads, seen from the mains
    std::optional<double> esr_ohm = {};
    std::optional<Ntc> ntc = {};
    std::optional<double> i_surge_max_a = {}; ///< of the rectifier
    std::optional<double> breaker_trip_a = {};
    std::optional<double> fuse_i2t_a2s = {};
    std::optional<double> load_w = {};
    Json unknown = {};
    bool operator==(const SwitchOn&) const = default;
};
void fields(Fields& f, SwitchOn& value);

/// A surge as it was captured, by current probe or shunt.
struct CapturedSurge
{
    std::vector<double> t_s = {};
    std::vector<double> i_a = {};
    std::string from = {};
    Json unknown = {};
    bool operator==(const CapturedSurge&) const = default;
};
void fields(Fields& f, CapturedSurge& value);

struct MainsSide
{
    std::vector<Clue> clues = {};
    MainsTransformer transformer = {};
    SwitchOn surge = {};
    std::optional<CapturedSurge> captured = {};
    std::optional<RectifierChain> chain = {};
    RectifierRatings ratings = {};
    std::optional<double> idle_years = {}; ///< lain without voltage
    std::vector<NoiseSection> noise = {};
    std::optional<double> noise_hz = {}; ///< where it switches
    std::optional<double> noise_pp_v = {};
    Json unknown = {};
    bool operator==(const MainsSide&) const = default;
};
void fields(Fields& f, MainsSide& value);

} // namespace offshoot
