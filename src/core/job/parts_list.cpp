#include "core/job/parts_list.h"

#include "core/job/chain.h"
#include "core/job/connections.h"
#include "core/job/joining.h"
#include "core/job/mains_views.h"
#include "core/values/figures.h"

#include <algorithm>

namespace offshoot {

namespace {

class Parts
{
public:
    Parts(const Job& job, const Evaluation& evaluation)
        : m_job(job)
        , m_e(evaluation)
    {}

    std::vector<PartLine> run()
    {
        divider();
        refits();
        mainsSide();
        outputSide();
        units();
        tools();
        return std::move(m_lines);
    }

private:
    void add(std::string name, std::string where, std::string replaces = {}, bool to_get = true)
    {
        m_lines.push_back({std::move(name), std::move(where), std::move(replaces), to_get, false});
    }

    static std::string resistor(double ohm, const std::optional<double>& tolerance,
                                const std::optional<double>& w)
    {
        return formatOhms(ohm) + (tolerance ? ", " + formatPercent(*tolerance) : "") +
               (w ? ", " + watts(*w) : "");
    }

    bool inDrawer(double ohm, const std::optional<double>& power_w) const
    {
        return std::ranges::any_of(m_job.drawer, [&](const StockItem& item) {
            return std::abs(item.ohm - ohm) < 1e-9 * ohm && item.quantity.value_or(1) > 0 &&
                   (!power_w || item.power_w.value_or(0) >= *power_w);
        });
    }

    void divider()
    {
        if (!m_job.plan.chosen)
            return;
        const ChosenNetwork& chosen = *m_job.plan.chosen;
        const Feedback& feedback = m_job.found.rails.front().feedback;
        const auto& old = joinsTop(chosen.method) ? feedback.top : feedback.bottom;
        const std::string out = replaces(chosen.method) && old ? old->prettyText() : "";
        for (const StockItem& part : chosen.parts)
            add(resistor(part.ohm, part.tolerance, part.power_w), std::string(whereItJoins(chosen.method)),
                out, !inDrawer(part.ohm, part.power_w));
        if (m_job.plan.route == Route::TemporaryTrimmer)
            add("trimmer " + formatOhms(m_job.plan.trimmer.pot_ohm), "in the divider for a time");
    }

    void refits()
    {
        for (const Refit& refit : m_job.plan.refits) {
            const RowInfo& info = rowInfo(refit.row);
            Supply supply = m_job.found;
            Load load = m_job.need.load;
            const auto* old = ratingOf(refit.row, supply, load, refit.rail);
            const auto figure = [&](double v) {
                return info.unit ? formatValue(v, *info.unit) : significant(v, 3);
            };
            add(std::string(info.part) + ", " + std::string(info.rating) + " " + figure(refit.rating),
                refit.rail.empty() ? "" : refit.rail,
                old != nullptr && *old ? figure(**old) : "what was there");
        }
    }

    void mainsSide()
    {
        if (followingFuse(m_job))
            add("fuse " + fuseText(plannedFuse(m_job)), "the holder", fuseText(m_job.found.fuse));
        if (m_job.plan.connection)
            add("sleeving, crimps or solder for the links", "the primaries");
        if (const auto& limiter = m_job.plan.limiter) {
            const InrushView view = inrushView(m_job);
            const auto ohm = view.limiter ? std::optional(view.limiter->r_ohm) : limiter->r_ohm;
            add("surge limiter" + (ohm ? " " + formatOhms(*ohm) : "") +
                    (limiter->power_w ? ", " + watts(*limiter->power_w) : ""),
                "in series with the live conductor");
            add("bypass relay", "across the limiter");
            if (view.delay_parts)
                for (const double part : view.delay_parts->network.parts())
                    add(resistor(part, {}, {}), "the relay's delay", "", !inDrawer(part, {}));
            if (limiter->delay_c_f)
                add("capacitor " + formatValue(*limiter->delay_c_f, Quantity::Capacitance),
                    "the relay's delay");
        }
        if (m_job.plan.chain) {
            const auto names = chainParts(*m_job.plan.chain);
            const auto old = m_job.found.mains_side.chain ? chainParts(*m_job.found.mains_side.chain)
                                                          : std::vector<std::string>{};
            for (const std::string& name : names)
                if (std::ranges::count(old, name) == 0)
                    add(name, "rectifier and smoothing", old.empty() ? "" : "what stood there");
        }
    }

    void outputSide()
    {
        const Plan& plan = m_job.plan;
        if (plan.dummy_load)
            for (const double ohm : plan.dummy_load->network.parts())
                add(resistor(ohm, {}, plan.dummy_load->part_power_w),
                    "dummy load on " + plan.dummy_load->rail, "",
                    !inDrawer(ohm, plan.dummy_load->part_power_w));
        if (plan.shunt)
            for (const double ohm : plan.shunt->network.parts())
                add(resistor(ohm, plan.shunt->tolerance, plan.shunt->part_power_w), "current shunt",
                    m_job.found.current_limit.shunt ? m_job.found.current_limit.shunt->prettyText() : "",
                    !inDrawer(ohm, plan.shunt->part_power_w));
        if (plan.rewind)
            add("wire of the same class, insulation between the windings", plan.rewind->rail);
        if (plan.wire) {
            const auto& length_m = m_job.found.rails.front().cable.length_m;
            add(wireText(*plan.wire) +
                    (length_m ? ", " + formatValue(*length_m, Quantity::Length, 2) + " one way" : ""),
                "to the load");
            add("fuse for the run", "at the unit's end");
        }
        if (plan.remote_sense)
            add("twisted pair", "sense, to the load");
    }

    void units()
    {
        const auto& join = m_job.plan.join;
        if (!join || m_job.others.empty())
            return;
        for (std::size_t unit = 1; unit <= unitCount(m_job); ++unit) {
            const std::string name = unitName(m_job, unit);
            if (join->ballast)
                add("ballast " + join->ballastText(), "lead of " + name, "",
                    join->ballast_lead || !inDrawer(join->ballast->ohm(), join->ballast_power_w));
            if (join->diode)
                add("diode, " + formatValue(join->diode->v_f_v, Quantity::Voltage, 2), "lead of " + name);
            if (join->reverse_diode)
                add("reverse diode, " + amps(join->reverse_diode->i_a) + ", " +
                        volts(join->reverse_diode->v_rrm_v),
                    "across " + name);
        }
    }

    /// What the steps ask for and nobody leaves in the unit.
    void tools()
    {
        const auto tool = [this](const std::string& name, const std::string& where) {
            if (std::ranges::none_of(m_lines, [&](const PartLine& line) { return line.name == name; }))
                m_lines.push_back({name, where, {}, true, true});
        };
        for (const StepView& view : m_e.steps)
            if (view.step.discharge)
                tool("discharge resistor " + formatOhms(view.step.discharge->ohm) + ", " +
                         watts(view.step.discharge->rated_w),
                     "discharging");
        if (m_e.lamp_w && !m_job.found.dcFed())
            tool("limiter lamp " + watts(*m_e.lamp_w), "first power");
    }

    const Job& m_job;
    const Evaluation& m_e;
    std::vector<PartLine> m_lines;
};

} // namespace

std::vector<PartLine> partsOf(const Job& job, const Evaluation& evaluation)
{
    return Parts(job, evaluation).run();
}

} // namespace offshoot
