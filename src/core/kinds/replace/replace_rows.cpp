// What the new units and everything that stays have to bear.
#include "core/job/readings.h"
#include "core/judge/row_maker.h"
#include "core/kinds/replace/fit_view.h"
#include "core/kinds/replace/reach.h"
#include "core/kinds/replace/replace_view.h"
#include "core/kinds/replace/wanted.h"
#include "core/kinds/replace/wiring_view.h"
#include "core/values/figures.h"

#include <algorithm>

namespace offshoot {

namespace {

using rows::Judged;
using rows::planRow;

std::string share(const std::optional<double>& use) { return use ? formatPercent(*use) : "nothing left"; }

/// The rows of the planned units, collected.
class ReplaceRows
{
public:
    ReplaceRows(const Job& job, const Figures& figures)
        : m_job(job)
        , m_figures(figures)
        , m_plan(*job.plan.replace)
        , m_wiring(wiringView(job))
    {}

    std::vector<ConsequenceRow> run()
    {
        if (const auto wanted = wantedOf(m_job).unit)
            if (const auto match = plannedMatch(m_job))
                for (std::size_t u = 0; u < match->units.size(); ++u)
                    unit(*wanted, match->units[u], m_plan.units[u], unitLabel(m_plan, u));
        servedRails();
        inrush();
        entry();
        for (std::size_t u = 0; u < m_plan.units.size(); ++u)
            fit(u);
        wires();
        connectors();
        return std::move(m_rows);
    }

private:
    ConsequenceRow& add(ConsequenceRow row, const std::string& rail = {})
    {
        row.rail = rail;
        m_rows.push_back(std::move(row));
        return m_rows.back();
    }

    void unit(const WantedUnit& wanted, const MatchedUnit& matched, const ReplacingUnit& own,
              const std::string& name)
    {
        for (const MatchedRail& rail : matched.rails) {
            const auto need = std::ranges::find(wanted.rails, rail.name, &WantedRail::name);
            const auto output = std::ranges::find(own.entry.unit.outputs, rail.output, &UnitOutput::name);
            outputRows(*need, rail, *output, own, name);
        }
        if (matched.total_verdict)
            add(planRow(RowId::NewPower,
                        {.value = own.entry.unit.total_w && matched.total_use
                                      ? std::optional(*matched.total_use * *own.entry.unit.total_w)
                                      : std::nullopt,
                         .limit = own.entry.unit.total_w,
                         .use = matched.total_use,
                         .verdict = *matched.total_verdict},
                        "the sum of V·I over its outputs, against its power at this temperature",
                        share(matched.total_use) + " of what it gives", name));
        Judged input{.verdict = matched.input_verdict, .fits_to = 1};
        if (wanted.mains)
            input.value = wanted.mains->v;
        add(planRow(RowId::NewInput, input, "the lowest and the highest input inside one range of its plate",
                    inputWords(matched, own), name));
        if (matched.earth_verdict)
            add(planRow(RowId::NewEarth, {.verdict = *matched.earth_verdict, .fits_to = 1},
                        "a unit of class I needs the protective earth",
                        matched.earth_verdict == Verdict::Unknown
                            ? "the old unit had none: whether there is an earth is not known"
                            : "its class has what it needs",
                        name));
        if (own.entry.standby_w)
            add(planRow(
                RowId::NewStandby, {.value = own.entry.standby_w, .verdict = Verdict::Fits, .fits_to = 1},
                "in its papers; nothing here limits it", watts(*own.entry.standby_w) + ", all day", name));
        if (const auto reach = reachOf(m_job.found, own.entry))
            headroom(*reach, own, name);
        for (const IdleOutput& idle : matched.idle)
            add(planRow(
                RowId::NewLeast,
                {.value = idle.dummy_a, .limit = idle.dummy_a, .use = 1, .verdict = matched.idle_verdict},
                "an output that serves nobody and still wants a load",
                "a dummy load of " + amps(idle.dummy_a), name + ", " + idle.output));
        if (matched.floating_verdict)
            bond(*matched.floating_verdict, own, name);
    }

    /// What the feed leaves above a module's output, against what it needs.
    void headroom(const Reach& reach, const ReplacingUnit& own, const std::string& name)
    {
        const double set_v = own.rails.front().set_v;
        Judged judged{.verdict = within(set_v, reach.min_v, reach.max_v) ? Verdict::Fits : Verdict::Breaks,
                      .fits_to = 1};
        if (own.entry.converts == ModuleKind::Linear || own.entry.converts == ModuleKind::Buck) {
            judged.value = *m_job.found.direct.min_v - set_v;
            judged.limit = own.entry.headroom_v;
        }
        add(planRow(
            RowId::ModuleHeadroom, judged, "the lowest feed less the output, against the headroom it needs",
            "it reaches " + volts(reach.min_v) + " to " + volts(reach.max_v) + ": " + reach.because, name));
    }

    /// A bond inside a case that does not open stays.
    void bond(Verdict verdict, const ReplacingUnit& own, const std::string& name)
    {
        const bool stays = verdict == Verdict::Tight && own.entry.mounting == Mounting::Adapter;
        add(planRow(RowId::NewBond, {.verdict = stays ? Verdict::Breaks : verdict, .fits_to = 1},
                    "an output tied to its case would earth the rail",
                    stays ? "it is inside a case that does not open"
                    : verdict == Verdict::Tight
                        ? "the output's bond is to be opened, never the protective earth"
                        : "from its output to its case",
                    name));
    }

    static std::string inputWords(const MatchedUnit& matched, const ReplacingUnit& own)
    {
        std::string text;
        for (const InputRange& range : own.entry.unit.input.ranges)
            text += (text.empty() ? "" : " or ") + significant(range.min_v, 4) + " to " +
                    significant(range.max_v, 4) + " V" + (range.selector ? " at " + *range.selector : "");
        return text + (matched.selector ? "; selector at " + *matched.selector : "");
    }

    void outputRows(const WantedRail& need, const MatchedRail& rail, const UnitOutput& output,
                    const ReplacingUnit& own, const std::string& name)
    {
        const double high_v = rail.set_v * (1 + output.regulation);
        const double low_v = rail.set_v * (1 - output.regulation);
        add(planRow(RowId::NewVoltage, {.value = rail.set_v, .verdict = rail.voltage_verdict, .fits_to = 1},
                    "set voltage and its regulation, inside the window",
                    volts(low_v) + " to " + volts(high_v) + " in " + volts(need.min_v) + " to " +
                        volts(need.max_v),
                    name),
            rail.name);
        const double peak_a = need.peak_a.value_or(need.current_a) + rail.dummy_a;
        add(planRow(RowId::NewPeak,
                    {.value = peak_a,
                     .limit = output.peak_a.value_or(output.rated_a),
                     .use = rail.peak_use,
                     .verdict = rail.peak_verdict},
                    "the load's peak against the unit's",
                    amps(peak_a) + " of " + amps(output.peak_a.value_or(output.rated_a)), name),
            rail.name);
        if (rail.ripple_verdict) {
            ConsequenceRow& row = add(planRow(RowId::NewRipple,
                                              {.value = output.ripple_v,
                                               .limit = need.ripple_max_v,
                                               .use = rail.ripple_use,
                                               .verdict = *rail.ripple_verdict},
                                              "peak to peak, by its papers, against the need",
                                              output.ripple_v ? volts(*output.ripple_v) : "not known", name),
                                      rail.name);
            if (const LogEntry* read =
                    newestReading(m_job, "ripple", Quantity::Voltage, {}, ReadingStage::Found))
                row.found = read->value;
        }
        if (output.least_a > 0)
            add(planRow(RowId::NewLeast,
                        {.value = need.least_a + rail.dummy_a,
                         .limit = output.least_a,
                         .use = useOf(output.least_a, std::optional(need.least_a + rail.dummy_a)),
                         .verdict = rail.least_verdict,
                         .fits_to = 1},
                        "the least that the load draws, with a dummy load where that is too little",
                        rail.dummy_a > 0 ? "a dummy load of " + amps(rail.dummy_a) : "the load alone", name),
                rail.name);
        if (const Rail* found = railNamed(m_job.found, rail.name);
            found != nullptr && found->sense.load_capacitor_f) {
            const auto use = useOf(found->sense.load_capacitor_f, own.entry.load_max_f);
            add(planRow(RowId::NewStart,
                        {.value = found->sense.load_capacitor_f,
                         .limit = own.entry.load_max_f,
                         .use = use,
                         .verdict = judgeUse(use)},
                        "the capacitance at the load against the largest that it starts into",
                        formatValue(*found->sense.load_capacitor_f, Quantity::Capacitance) + " at the load",
                        name),
                rail.name);
        }
    }

    /// A rail with users that no output serves.
    void servedRails()
    {
        for (const Rail& rail : m_job.found.rails) {
            const bool served = std::ranges::any_of(m_plan.units, [&](const ReplacingUnit& unit) {
                return std::ranges::any_of(unit.rails,
                                           [&](const ServedRail& s) { return s.rail == rail.name; });
            });
            const bool wanted = !rail.users.empty() || windowOf(m_job, rail);
            if (!served && wanted)
                add(planRow(RowId::NewVoltage, {.verdict = Verdict::Breaks, .fits_to = 1},
                            "every rail that is used has an output", "no output serves it", "New unit"),
                    rail.name);
        }
    }

    /// What the new units draw from the mains at its lowest, against what stands before them. Without a power
    /// factor stage the current of a capacitor input is about 1.7 times that of a resistor.
    void entry()
    {
        const auto wanted = wantedOf(m_job).unit;
        const bool outside = m_job.found.outsideOnly() && m_figures.unit.supply.outsideOnly();
        if (m_job.found.dcFed() || outside || !wanted)
            return;
        double input_w = 0;
        bool rated = true;
        for (const ReplacingUnit& unit : m_plan.units) {
            rated = rated && unit.entry.unit.efficiency;
            for (const ServedRail& served : unit.rails)
                if (const auto rail = std::ranges::find(wanted->rails, served.rail, &WantedRail::name);
                    rail != wanted->rails.end())
                    input_w += served.set_v * (rail->current_a + served.dummy_a) /
                               unit.entry.unit.efficiency.value_or(usual_efficiency);
        }
        const double current_a = input_w / (rows::usual::power_factor * m_job.need.mains.lowest());
        const MainsEntry& entry = m_job.found.entry;
        for (const auto& [name, limit] :
             {std::pair("Inlet", entry.inlet_a), {"Switch", entry.switch_a}, {"Cord", entry.cord_a}}) {
            const auto use = useOf(current_a, limit);
            ConsequenceRow row = planRow(
                RowId::NewEntry, {.value = current_a, .limit = limit, .use = use, .verdict = judgeUse(use)},
                "P/(η·λ·V) at the lowest mains, against its rating", watts(input_w) + " drawn", name);
            row.assumed.push_back("a power factor of " + significant(rows::usual::power_factor, 2));
            if (!rated)
                row.assumed.push_back("an efficiency of " + formatPercent(usual_efficiency));
            add(std::move(row));
        }
    }

    /// Contacts that stay, each by what its wire carries.
    void connectors()
    {
        for (const PlannedWire& wire : m_wiring.wires) {
            if (!wire.terminal || !wire.wire.connector_a)
                continue;
            const auto use = useOf(wire.wire.current_a, wire.wire.connector_a);
            add(planRow(RowId::NewConnector,
                        {.value = wire.wire.current_a,
                         .limit = wire.wire.connector_a,
                         .use = use,
                         .verdict = judgeUse(use)},
                        "what the wire carries, against the rating of the contact at its other end",
                        wire.words, withColour(wire.wire)));
        }
    }

    /// The surge decays within about a millisecond: ½·Î²·τ against the least that melts the fuse, by the
    /// pre-arcing limits at ten times its value (IEC 60127-2: T 20 ms, F 1 ms).
    void inrush()
    {
        if (m_job.found.dcFed())
            return;
        constexpr double decay_s = 1e-3;
        double crest_a = 0;
        bool known = true;
        for (const ReplacingUnit& unit : m_plan.units) {
            crest_a += unit.entry.inrush_a.value_or(0);
            known = known && unit.entry.inrush_a;
        }
        const Fuse& fuse = m_figures.unit.supply.fuse;
        const auto least = fuseMelts(fuse);
        const double surge = crest_a * crest_a * decay_s / 2;
        const auto use = known ? useOf(std::optional(surge), least) : std::nullopt;
        Judged judged{.use = use, .verdict = judgeUse(use)};
        if (known)
            judged.value = surge;
        judged.limit = least;
        ConsequenceRow row =
            planRow(RowId::NewInrush, judged, "½·Î²·τ against the least melting I²t of the fuse",
                    known ? amps(crest_a) + " crest, " + formatValue(surge, Quantity::SquaredCurrentTime)
                          : "the surge is not in its papers");
        row.assumed.emplace_back("the surge decays within 1 ms");
        add(std::move(row));
    }

    static std::optional<double> fuseMelts(const Fuse& fuse)
    {
        constexpr double over = 10;
        constexpr double slow_s = 20e-3;
        constexpr double fast_s = 1e-3;
        if (!fuse.value_a || !fuse.type)
            return std::nullopt;
        const double current_a = over * *fuse.value_a;
        return current_a * current_a * (fuse.type->starts_with('T') ? slow_s : fast_s);
    }

    void fit(std::size_t unit)
    {
        const ReplacingUnit& own = m_plan.units[unit];
        if (!m_job.found.space)
            return;
        const std::string name = unitLabel(m_plan, unit);
        if (!own.place) {
            add(planRow(RowId::NewFit, {.verdict = Verdict::Unknown}, "a place in the case",
                        "no place is planned yet: see Fit", name));
            return;
        }
        const FitView view = fitView(m_job, unit);
        if (!view.now)
            return;
        const double clear_m = m_job.found.space->clear_m;
        Judged judged{
            .value = view.now->slack_m, .limit = clear_m, .verdict = view.now->verdict, .fits_to = 1};
        if (view.now->slack_m > 0)
            judged.use = clear_m / view.now->slack_m;
        add(planRow(RowId::NewFit, judged, "the least gap to walls, lid and what stays", view.sentence,
                    name));
        Judged near{.verdict = Verdict::Unknown, .fits_to = 1};
        std::string working = "where its mains terminals are is not known";
        if (!view.near.empty()) {
            const NearThing& nearest = view.near.front();
            near = {.value = nearest.distance_m,
                    .limit = nearest.wanted_m,
                    .use = nearest.distance_m > 0 ? std::optional(nearest.wanted_m / nearest.distance_m)
                                                  : std::nullopt,
                    .verdict = nearVerdict(nearest),
                    .fits_to = 1};
            working = nearest.terminal + " to " + nearest.what;
        }
        if (!m_job.found.dcFed()) {
            ConsequenceRow row =
                planRow(RowId::NewClearance, near, "guide: the local standard rules", working, name);
            row.assumed.emplace_back("6 mm to earthed metal, 8 mm to what can be touched: a guide");
            add(std::move(row));
        }
    }

    void wires()
    {
        add(planRow(RowId::NewWires,
                    {.verdict = m_wiring.wires.empty() ? Verdict::Unknown : m_wiring.verdict, .fits_to = 1},
                    "every wire measured, on a terminal of its function, long, thick and insulated enough",
                    m_wiring.sentence));
    }

    const Job& m_job;
    const Figures& m_figures;
    const ReplacePlan& m_plan;
    WiringView m_wiring;
    std::vector<ConsequenceRow> m_rows;
};

} // namespace

std::vector<ConsequenceRow> replaceRows(const Job& job, const Figures& figures)
{
    return job.plan.replace ? ReplaceRows(job, figures).run() : std::vector<ConsequenceRow>{};
}

} // namespace offshoot
