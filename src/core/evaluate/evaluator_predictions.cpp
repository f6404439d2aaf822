// What the steps are told of the job: where its rails, units and lamp will stand.
#include "core/evaluate/evaluator.h"
#include "core/evaluate/safe_view.h"
#include "core/kinds/joined/bus_view.h"
#include "core/kinds/joined/stack_view.h"
#include "core/values/figures.h"

#include <algorithm>

namespace offshoot {

namespace {

/// Of a regulated rail whose divider nobody entered.
constexpr double usual_spread = 0.05;
/// Of the charging voltage, where nobody said what a flat battery gives.
constexpr double battery_flat_share = 0.7;
constexpr double battery_step_share = 0.1;

} // namespace

/// Rails beside the first: held in the window the need gives them; one that follows the loop moves with it.
void Evaluator::predictRails(Predictions& predictions) const
{
    for (std::size_t i = 1; i < m_job.found.rails.size(); ++i) {
        const Rail& rail = m_job.found.rails[i];
        const auto& found_v = m_e.rails_found_v[i];
        if (!found_v || !m_e.rails_planned_v[i])
            continue;
        const auto around = [&rail](double v) {
            return signedWindow(rail, v * (1 - usual_spread), v * (1 + usual_spread));
        };
        const bool moves = m_e.rails_planned_v[i] != found_v;
        Predictions::Other other{rail.name, std::nullopt, around(*m_e.rails_planned_v[i]),
                                 moves ? "moves with the plan, ± 5 % assumed"
                                       : std::string("as found, ± 5 % assumed")};
        if (const auto window = windowOf(m_job, rail)) {
            other.planned = signedWindow(rail, window->min_v, window->max_v);
            other.because = "the need's window";
        }
        other.v_v = m_e.rails_planned_v[i];
        other.load_a = typicalCurrent(rail);
        predictions.others.push_back(std::move(other));
    }
}

/// A plan that leaves the set point where the plate or the join puts it, measured by nobody, has no spread of
/// its own: then the reading is held against the need.
void Evaluator::predictPlanned(Predictions& predictions) const
{
    predictions.planned = m_e.planned_range;
    if (m_run != nullptr && m_job.found.topology == Topology::Unregulated && predictions.planned) {
        predictions.planned = m_run->sound;
        return;
    }
    const auto& range = m_e.planned_range;
    if (!range || range->max_v > range->min_v)
        return;
    const auto target = unitTarget(m_job);
    if (target && within(range->min_v, target->min_v, target->max_v)) {
        predictions.planned = VoltageRange{target->min_v, target->max_v};
        predictions.planned_because = "the need's window";
    } else {
        predictions.planned =
            VoltageRange{range->min_v * (1 - usual_spread), range->max_v * (1 + usual_spread)};
        predictions.planned_because = "as planned, ± 5 % assumed";
    }
}

/// What the limiter leaves of the volts: a regulated converter keeps its output, what hangs on iron does not.
/// Heaters and iron losses that nobody knows widen it.
void Evaluator::predictLamp(Predictions& predictions) const
{
    if (!bearsLowMains(m_job.found.topology) || !m_e.lamp || !m_e.lamp_w || m_job.found.dcFed())
        return;
    const double mains_v = m_job.need.mains.v_v;
    LampLimitInput in = lampInput(m_job, m_e);
    in.lamps_w = {*m_e.lamp_w};
    const auto share = [&](double idle_w) {
        in.idle_w = idle_w;
        return lampLimit(in).loaded.v_unit_v.value_or(0.3 * mains_v) / mains_v;
    };
    constexpr double unknown_room = 2;     // iron and heaters by usual figures may be twice that
    const double usual_idle_w = in.idle_w; // share() writes over it
    const double high = share(0);
    const double low = share(unknown_room * usual_idle_w);
    const bool regulated = m_job.found.topology != Topology::Unregulated;
    predictions.lamp_share_min = low;
    predictions.lamp_share_max = regulated ? 1 : high;
    // A regulator holds its output until what is left of its input no longer reaches.
    const auto& direct = m_job.found.direct;
    if (regulated && direct.min_v && m_e.found_v) {
        const double planned_v = m_e.planned_v.value_or(*m_e.found_v);
        const double reach_v = *direct.min_v * low - m_job.found.regulator.drop_v.value_or(2);
        predictions.lamp_share_min = std::clamp(reach_v / planned_v, 0.1, 1.0);
    }
}

/// Across a battery's open fuse holder, the right way round.
void Evaluator::predictPolarity(Predictions& predictions) const
{
    if (m_job.need.load.kind != LoadKind::Battery || !predictions.planned)
        return;
    const double flat_v =
        m_job.need.load.battery.v_flat_v.value_or(battery_flat_share * predictions.planned->min_v);
    const double most_v = predictions.planned->max_v - flat_v;
    predictions.polarity_v =
        ReadingWindow{std::nullopt, std::max(most_v, battery_step_share * predictions.planned->max_v)};
}

/// Where the units stand when they are joined as planned.
void Evaluator::predictUnits(Predictions& predictions) const
{
    if (!m_e.joined)
        return;
    const auto& [bus, shared, stack, stacked] = *m_e.joined;
    if (shared)
        predictions.match_v = matchFor(m_job, *bus.input);
    for (std::size_t unit = 1; unit <= unitCount(m_job); ++unit) {
        Predictions::Unit out{.name = unitName(m_job, unit),
                              .tag = unitTag(unit),
                              .set_v = unitSet(m_job, m_e, unit).value_or(0),
                              .lead_a = std::nullopt,
                              .top_v = std::nullopt};
        if (shared)
            out.lead_a = shared->units[unit - 1].current_a;
        if (stacked)
            out.top_v = stacked->units[unit - 1].high_v;
        predictions.units.push_back(std::move(out));
    }
}

} // namespace offshoot
