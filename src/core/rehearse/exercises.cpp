#include "core/rehearse/exercises.h"

#include "core/calculate/discharge.h"
#include "core/rehearse/draw.h"
#include "core/values/format.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>

namespace offshoot {

namespace {

constexpr std::array table{
    Exercise{"dead-board", "beacon-float-charge", "Prove an open board dead",
             "It was switched off a moment ago. Take its charge down, and read every reservoir below 10 V.",
             Goal::ProveDead, "none,open_bleeder"},
    Exercise{"dead-case", "wind-recorder", "Prove what is in a case dead",
             "Three reservoirs, and one gives back what it soaked up. Read each of them below 10 V.",
             Goal::ProveDead, "none,open_bleeder"},
    Exercise{"dead-valves", "barograph-amplifier", "Prove a valve set dead",
             "Hundreds of volts, for minutes. Take them down through a resistor, and read them.",
             Goal::ProveDead, "none,open_bleeder"},
    Exercise{"lamp", "ferry-shed-display", "First power behind the lamp",
             "Bring it up through the lamp, look at what it does and read its output; then off again.",
             Goal::BehindLimiter, "none,shorted_input"},
    Exercise{"lamp-iron", "lamp-room-clock", "First power of a supply with iron",
             "The lamp glows as the transformer fills. Bring it up, look, read its output; then off again.",
             Goal::BehindLimiter, "none,shorted_input"},
    Exercise{"earth", "wind-recorder", "What is wrong with it?",
             "One thing is. Find out which with the meter, before anybody touches the case.", Goal::NameFault,
             "no_earth,dried_capacitor,shorted_input"},
    Exercise{"part", "beacon-float-charge", "Which part is it?",
             "Make the change and bring it up: its output is not what was planned. Which part of the "
             "divider explains it?",
             Goal::NameFault, "open added,decade_up added,wrong_leg added,short top"},
    Exercise{"retune", "beacon-float-charge", "A whole retune",
             "Every step, from the plate to the label; or name what keeps it from being done.",
             Goal::WholeJob, "none,no_earth,open added,leaky_capacitor"},
    Exercise{"replacement", "tide-house-cabinet", "A whole replacement",
             "The old supply out, the new one in, alone first. Every step; or name what keeps it from being "
             "done.",
             Goal::WholeJob, "none,no_earth,swapped_wires,open_link"},
    Exercise{"share", "hatch-heater", "One of three does not share",
             "Three units, joined at one bus. Bring them up, load the bus, read each lead: which one gives "
             "less than its part?",
             Goal::NameFault, "poor_lead #1,poor_lead #2,poor_lead #3"},
};

std::vector<std::string> split(std::string_view text)
{
    std::vector<std::string> parts(1);
    for (const char c : text)
        if (c == ',')
            parts.emplace_back();
        else
            parts.back() += c;
    return parts;
}

/// Of every unit, its first rail's own figure where nobody read it.
void setAlike(Job& job)
{
    double sum_v = 0;
    for (std::size_t unit = 1; unit <= unitCount(job); ++unit) {
        const Supply& supply = unitSupply(job, unit);
        sum_v += supply.joint.v_set_v.value_or(supply.rails.front().v_v.value_or(0));
    }
    job.plan.join->settings.clear();
    for (std::size_t unit = 1; unit <= unitCount(job); ++unit)
        job.plan.join->settings.push_back(
            {static_cast<std::int64_t>(unit), sum_v / static_cast<double>(unitCount(job))});
}

/// Reservoirs that were not read below 10 V since the unit was last on.
std::vector<std::string> notProven(const RehearsedJob& rehearsed)
{
    std::map<std::string, bool> proven;
    const Bench& bench = rehearsed.bench();
    for (const TrueReservoir& reservoir : bench.unit().reservoirs(bench.changed()))
        proven[reservoir.point] = false;
    for (const PlayedMove& move : rehearsed.played().moves) {
        const BenchAnswer& answer = move.answer;
        if (answer.done && answer.move.kind == MoveKind::PlugIn)
            for (auto& [point, read] : proven)
                read = false;
        if (answer.reading && answer.move.kind == MoveKind::Probe && proven.contains(answer.reading->point))
            proven[answer.reading->point] =
                answer.reading->value && std::abs(*answer.reading->value) < dead_v;
    }
    std::vector<std::string> left;
    for (const auto& [point, read] : proven)
        if (!read)
            left.push_back(point);
    return left;
}

bool poweredOnce(const RehearsedJob& rehearsed)
{
    return std::ranges::any_of(rehearsed.played().moves, [](const PlayedMove& move) {
        return move.answer.move.kind == MoveKind::PlugIn && move.answer.done;
    });
}

} // namespace

std::span<const Exercise> exercises() { return table; }

Job exerciseJob(const Exercise& exercise, Job job)
{
    if (exercise.faults.find("poor_lead") != std::string_view::npos && job.plan.join)
        setAlike(job);
    return job;
}

UnitFault faultOf(const Exercise& exercise, const Job& job, std::uint64_t seed)
{
    const std::vector<std::string> faults = split(exercise.faults);
    const Draw draw(seed);
    const auto at = static_cast<std::size_t>(draw.share("exercise") * static_cast<double>(faults.size()));
    return unitFaultFrom(faults[at], job, draw, {});
}

std::string missing(const Exercise& exercise, const RehearsedJob& rehearsed,
                    const std::optional<UnitFault>& guess)
{
    const Benches& bench = rehearsed.benches();
    if (!bench.wrongs().empty())
        return "Not without a wrong move.";
    switch (exercise.goal) {
    case Goal::ProveDead: {
        const std::vector<std::string> left = notProven(rehearsed);
        return bench.live()   ? "It is live."
               : left.empty() ? std::string()
                              : "Not read below 10 V: " + listed(left) + ".";
    }
    case Goal::BehindLimiter:
        return !poweredOnce(rehearsed) ? "It was not powered yet." : bench.live() ? "It is still live." : "";
    case Goal::NameFault:
        return !guess ? "The fault is not named yet." : *guess == bench.fault() ? "" : "It is another fault.";
    case Goal::WholeJob: {
        if (guess && *guess == bench.fault() && bench.fault().kind != UnitFaultKind::None)
            return {};
        if (guess)
            return "It is another fault, or none.";
        const std::size_t left = rehearsed.titlesToCome().size();
        return left > 0 ? std::to_string(left) + " steps are left."
               : bench.fault().kind == UnitFaultKind::None
                   ? ""
                   : "Something is wrong with it: which reading was outside?";
    }
    }
    return {};
}

} // namespace offshoot
