// The run from the unit to the load: what drops on it, which wire would do, what remote sense does instead.
#pragma once

#include "core/calculate/cable.h"
#include "core/calculate/merge_wires.h"
#include "core/calculate/sense.h"
#include "core/kinds/job_figures.h"
#include "core/kinds/planned.h"
#include "core/kinds/school.h"
#include "core/supply/connections.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

/// A place along the run and the potentials there, both counted from the unit's negative terminal.
struct RunPoint
{
    std::string name; ///< empty within a conductor
    double at_m;
    double positive_v;
    double negative_v;
};

/// One size to choose from.
struct WireOption
{
    std::string name;
    WirePlan wire;
    CableResult result;
    Verdict verdict; ///< worse of drop and density
};

struct WireView
{
    std::optional<CableInput> input; ///< as planned
    std::optional<CableResult> result;
    double terminal_v; ///< at the unit: with sense wires what drops stands on top
    std::vector<RunPoint> run;
    std::vector<WireOption> sizes; ///< thinnest that fits first, then thicker ones, then thinner
    std::optional<SenseInput> sense_input;
    std::optional<SenseResult> sense;
    std::optional<MergeInput> merge_input;
    std::optional<MergeResult> merge;
    std::optional<std::int64_t> merge_needed; ///< conductors of the planned size that stay cool
    School school;                            ///< thicker wire or remote sense; no sides until both are known
    std::string sentence;
    std::vector<std::string> assumed;
};
/// The run as planned and with every usual size, with and without sense wires; says what is not entered yet.
WireView wireView(const Job& job, const Figures& figures);

/// What arrives at the load of the first rail as planned; nothing where the run is not known.
std::optional<double> loadVoltage(const Job& job, const Figures& figures);

/// What drops on the run of the first rail, in volts: as it was found, or as planned. With the current of the
/// need where no voltage is known yet; nothing where the load cannot run through it.
std::optional<double> runDrop(const Job& job, const Figures& figures, Condition condition);

/// The run's and the sense wires' rows for the consequences panel.
std::vector<ConsequenceRow> wireRows(const Job& job, const Figures& figures);

/// The run to the load; with remote sense its wires, in the place of the local links.
Connections runConnections(const Job& job, const Supply& planned);

} // namespace offshoot
