#include "core/kinds/trim/trim_view.h"

#include "core/job/readings.h"
#include "core/supply/rail_use.h"
#include "core/values/figures.h"

#include <algorithm>
#include <cmath>

namespace offshoot {

namespace {

std::string percent(double share)
{
    return (share >= 0 ? "+" : "−") + significant(std::abs(share) * 100, 2) + " %";
}

/// The last reading under each load since the trimmer was last turned: all at one setting.
void addTrimReadings(TrimInput& in, const Job& job, const Rail& rail, const VoltageWindow& window)
{
    double turned_s = 0;
    for (const LogEntry& entry : job.log)
        if (entry.kind == LogKind::Tick && entry.step == "bringup.trim")
            turned_s = entry.time_s;
    for (const LogEntry* entry : liveVolts(job, rail.name)) {
        if (entry->time_s < turned_s || *entry->value == 0)
            continue;
        const std::string load = loadText(*entry);
        std::erase_if(in.rails, [&](const TrimRail& r) { return r.name == rail.name && r.load == load; });
        const bool negative = rail.negative;
        in.rails.push_back({.name = rail.name,
                            .load = load,
                            .v = *entry->value,
                            .min_v = negative ? -window.max_v : window.min_v,
                            .max_v = negative ? -window.min_v : window.max_v});
    }
}

std::string nameOf(const RailId& id) { return id.load.empty() ? id.name : id.name + " " + id.load; }

void explainTrim(TrimView& view)
{
    const TrimResult& r = *view.result;
    if (r.feasible && r.now_in_windows && r.turn == Turn::None) {
        view.sentence = "Every rail is in its window, and this is the best setting.";
    } else if (r.feasible) {
        view.sentence = "Turn " + phrase(r.turn) + ", " + percent(*r.change) +
                        ": every rail is in its window between " + percent(r.interval->min_scale - 1) +
                        " and " + percent(r.interval->max_scale - 1) + ".";
    } else if (r.blocked_by == TrimBlock::Travel) {
        view.sentence = "The trimmer's end stops it: it would have to go further " +
                        std::string(r.travel_end == TravelEnd::Max ? "up" : "down") + ".";
        view.next = "Measure the divider's legs, dead: a drifted resistor puts the range in the wrong place.";
    } else {
        const TrimConflict& c = *r.conflict;
        switch (c.cause) {
        case ConflictCause::Load:
            view.sentence = c.up.name + " alone cannot be cured by turning: " + nameOf(c.up) + " wants up, " +
                            nameOf(c.down) + " wants down. That is wiring drop or regulation.";
            view.next = "Read it at the supply's terminals and at the load, under the same load.";
            break;
        case ConflictCause::Sign:
            view.sentence =
                nameOf(c.up) + " has the wrong polarity for its window: no setting turns it round.";
            view.next = "Check the probes' polarity and which wire is which.";
            break;
        case ConflictCause::Cross:
            view.sentence = nameOf(c.up) + " wants up, " + nameOf(c.down) +
                            " wants down: no setting puts both in their windows. A missing load on " +
                            c.down.name + ", a tired part, or never meant to be this close.";
            view.next = "Read both again with a dummy load on " + c.down.name +
                        ": if it falls into its window, the load was missing; if not, look for a tired part.";
            break;
        }
    }
}

} // namespace

TrimView trimView(const Job& job, std::size_t at)
{
    TrimView view;
    if (job.found.topology == Topology::Unregulated) {
        view.sentence = "Nothing regulates here, so there is nothing to trim.";
        return view;
    }
    const Trimmer trimmer = at < job.found.trimmers.size() ? job.found.trimmers[at] : Trimmer{};
    view.trimmer = trimmer.name;
    std::string unread;
    for (const Rail& rail : job.found.rails) {
        if (!turns(job.found, trimmer, rail))
            continue;
        const auto window = windowOf(job, rail);
        const std::size_t before = view.input.rails.size();
        if (window)
            addTrimReadings(view.input, job, rail, *window);
        if (view.input.rails.size() == before)
            unread += (unread.empty() ? "" : ", ") + rail.name + (window ? "" : " (no window in Need)");
    }
    if (trimmer.min_scale && trimmer.max_scale)
        view.input.travel = ScaleRange{*trimmer.min_scale, *trimmer.max_scale};
    if (view.input.rails.empty()) {
        view.sentence =
            "Log a reading of each rail and give it a window in Need: the trimmer's line goes through it.";
        view.next = unread.empty() ? "" : "Still to read: " + unread + ".";
        return view;
    }
    view.result = railsTrim(view.input);
    explainTrim(view);
    if (!unread.empty() && view.next.empty())
        view.next = "Not read yet: " + unread + ".";
    if (job.found.trimmers.empty())
        view.next += (view.next.empty() ? "" : " ") +
                     std::string("No trimmer is entered in Found: one without ends is taken.");
    return view;
}

} // namespace offshoot
