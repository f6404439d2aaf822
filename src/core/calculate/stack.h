// `sources.series`: supplies stacked for more voltage. What is each terminal's potential to earth, what is
// earthed twice and so shorted, does each unit's insulation bear its place, and what may its reverse diode
// have to carry?
//
// Node 0 is the negative of the bottom unit, node k the top of unit k. What a second earth calls for is that
// an output's bond is opened, never that a protective earth is lifted.
#pragma once

#include "core/supply/output_parts.h"
#include "core/values/verdict.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

struct StackUnit
{
    std::string name;
    double v_v;
    double i_limit_a;
    Bond bonded;
    std::optional<double> isolation_v = {}; ///< working voltage output to case, not the test voltage
    std::optional<ReverseDiode> reverse_diode = {};
};
void fields(Fields& f, StackUnit& value);

struct StackInput
{
    std::vector<StackUnit> units;                  ///< bottom to top
    std::optional<std::int64_t> earthed_node = {}; ///< where load or wiring earths the stack
};
void fields(Fields& f, StackInput& in);

struct StackedUnit
{
    std::string name;
    std::optional<double> low_v; ///< to earth; nothing while the stack floats
    std::optional<double> high_v;
    double to_earth_max_v; ///< floating: with either end of the stack earthed by a fault
    std::optional<double> isolation_use;
    Verdict isolation_verdict;
    std::optional<double> diode_use;
    std::optional<Verdict> diode_verdict; ///< nothing for a single unit
    bool shorted;

    /// Of its isolation and its diode; a unit that is shorted breaks.
    Verdict verdict() const;
};
void fields(Fields& f, StackedUnit& out);

/// Two earthed nodes short every unit between them.
struct EarthConflict
{
    std::int64_t from_node;
    std::int64_t to_node;
    std::vector<std::string> shorted;
};
void fields(Fields& f, EarthConflict& out);

struct StackResult
{
    double total_v;
    double current_limit_a;
    std::string limited_by;
    bool floating;                              ///< nothing known earths it
    std::optional<std::vector<double>> nodes_v; ///< to earth
    std::vector<StackedUnit> units;
    std::vector<EarthConflict> conflicts;
    std::vector<std::string> open_bonds; ///< units whose output bond is to be opened
    bool hazard;                         ///< above 60 V somewhere
    Verdict verdict;
};
void fields(Fields& f, StackResult& out);

/// Potentials in volts from node 0, each unit's worst to earth with what is bonded; an unknown bond,
/// insulation or diode leaves its verdict unknown. Throws nothing.
StackResult sourcesSeries(const StackInput& in);

} // namespace offshoot
