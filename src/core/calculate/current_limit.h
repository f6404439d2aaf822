// `limit.shunt`: a current limit is a threshold across a shunt. Where does it trip, how far may that lie off,
// will the load trip it in normal use, does it protect the supply, how hot does the shunt get, and which
// parts from the drawer make another limit?
//
// I = V_th/(R_shunt + R_lead), corners in full (every part at its own end). On a primary-side shunt the limit
// is the peak of the switch current, not the output current.
#pragma once

#include "core/calculate/part_search.h"
#include "core/supply/output_parts.h"

#include <optional>
#include <vector>

namespace offshoot {

struct ShuntSearch
{
    double min_a;
    double a;
    double max_a;
    std::vector<StockItem> stock;
    std::int64_t max_parts = 2;
    std::int64_t limit = 5;
};
void fields(Fields& f, ShuntSearch& value);

struct LimitInput
{
    LimitThreshold threshold;
    std::optional<Network> shunt = {};
    double shunt_tolerance = 0;
    std::optional<double> part_power_w = {};
    double lead_ohm = 0; ///< solder and track inside the sensed path
    std::optional<double> load_a = {};
    std::optional<double> rated_a = {};
    double hiccup_duty = 1;
    std::optional<double> rail_v = {};
    bool in_loop = false; ///< the shunt stands ahead of the voltage sensing point
    std::optional<ShuntSearch> search = {};
};
void fields(Fields& f, LimitInput& in);

struct ShuntPart
{
    double ohm;
    double power_w;
    std::optional<double> use;
    Verdict verdict;
};
void fields(Fields& f, ShuntPart& out);

struct ShuntOption
{
    Shape shape;
    Network network;
    std::vector<StockItem> stock; ///< the parts, in the order of the network
    double ohm;
    double i_limit_a;
    double error_a;
    bool in_window;
    double worst_min_a;
    double worst_max_a;
    bool worst_in_window;
    PartsPower power;

    /// Worse of its heat and its limit: tight where only the corners of the tolerances leave the window.
    Verdict verdict() const;
};
void fields(Fields& f, ShuntOption& out);

struct LimitResult
{
    double v_threshold_v;
    double v_threshold_min_v;
    double v_threshold_max_v;
    // With a shunt, else nothing:
    std::optional<double> r_sense_ohm;
    std::optional<double> i_limit_a;
    std::optional<double> i_limit_min_a;
    std::optional<double> i_limit_max_a;
    std::optional<double> power_w;
    std::optional<double> power_worst_w;
    std::optional<double> power_hiccup_w;
    std::optional<std::vector<ShuntPart>> parts;
    std::optional<double> load_use;
    std::optional<Verdict> load_verdict;
    std::optional<double> protect_use;
    std::optional<Verdict> protect_verdict;
    std::optional<double> drop_v;
    std::optional<double> rail_at_load_v;
    // With a search, else nothing:
    std::optional<double> exact_ohm;
    std::optional<std::vector<ShuntOption>> options;

    /// Of the shunt's parts; fits without a shunt.
    Verdict heatVerdict() const;
    /// Worse of the two, each unknown where it is not judged: whether the load starts, and what the supply
    /// bears.
    Verdict limitVerdict() const;
};
void fields(Fields& f, LimitResult& out);

/// I = V_th/(R_shunt + R_lead), in amperes, at nominal and at every corner of the tolerances; of the drawer
/// the shunts nearest to the wanted limit. Throws nothing.
LimitResult limitShunt(const LimitInput& in);

} // namespace offshoot
