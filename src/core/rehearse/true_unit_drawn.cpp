// How a simulated unit is drawn: each of its values within what was entered of it.
#include "core/calculate/rectifier_spread.h"
#include "core/evaluate/safe_view.h"
#include "core/kinds/chain/chain_view.h"
#include "core/kinds/surge_limiter/inrush_view.h"
#include "core/rehearse/true_unit.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <numbers>

namespace offshoot {

namespace {

/// Of a rail whose parts nobody entered: as its maker set it.
constexpr double usual_set_spread = 0.005;
/// Of a regulated output at full load; its windows allow more than twice that.
constexpr double usual_droop = 0.02;

} // namespace

void TrueUnit::drawSource(const Draw& draw, const Draw& shared)
{
    const Mains& mains = m_job.need.mains;
    m_mains_v = keep("mains_v", shared.around("mains_v", mains.v_v, mains.spread));
    const auto target = unitTarget(m_job);
    m_efficiency =
        std::min(0.99, draw.around("efficiency", efficiencyOf(m_job.found, target ? target->v : 0), 0.05));
    m_idle_w = keep("idle_w", draw.between("idle_w", 0.3, 1) * m_lamp.idle_w);
    m_earth_ohm = keep("earth_ohm", draw.between("earth_ohm", 0.03, 0.25));
    m_insulation_ohm = keep("insulation_ohm", std::pow(10, draw.between("insulation", 7.5, 9.3)));
    m_stop_share = draw.between("stops_at", 0.35, 0.55);
    m_rise_k = draw.between("rise_k", 15, 40);
    m_room_k = keep("room_k", shared.between("room_k", 291, 299));
    m_pins_share = draw.share("pins");
    m_pins_tau_s = draw.between("pins drain", 0.1, 1);
    m_across_ohm = draw.between("across_output_ohm", 0, 1000);
    const Topology topology = m_planned.topology;
    const auto& entered_hz = m_job.found.mains_side.noise_hz;
    if (topology != Topology::Linear && topology != Topology::SeriesPass && topology != Topology::Unregulated)
        m_switching_hz = keep("switching_hz", entered_hz ? draw.around("switching_hz", *entered_hz, 0.03)
                                                         : draw.between("switching_hz", 45e3, 130e3));
    if (m_fault.kind == UnitFaultKind::LeakyCapacitor)
        m_leak_w = keep("leak_w", draw.between("leak_w", 10, 25)); // less is told by warmth alone
    m_reservoir_share = draw.around("reservoir c", 1, usual_tolerance);
    if (m_fault.kind == UnitFaultKind::PoorLead)
        m_joint_ohm = keep("lead_joint_ohm", draw.between("lead joint", 0.4, 1.5));
    if (const auto planned = plannedLimiter(m_job); planned && m_job.plan.limiter) {
        const double wanted_s = m_job.plan.limiter->bypass_s.value_or(planned->result.bypass_min_s);
        m_bypass_s =
            keep("bypass_s", draw.around("bypass", std::max(wanted_s, planned->result.bypass_min_s), 0.1));
    }
    m_bond_ohm = draw.between("bond", 0.02, 0.2);
    constexpr double least_f = 1e-9;
    constexpr double most_f = 4.7e-9;
    constexpr double over_ohm = 1000;
    m_leakage_v = m_mains_v / 2 * 2 * std::numbers::pi * mains.f_hz *
                  draw.between("leakage c", least_f, most_f) * over_ohm;
}

void TrueUnit::drawLegs(const Draw& draw)
{
    const auto divider = m_job.found.rails.front().feedback.divider();
    if (!divider)
        return;
    m_v_ref_v = m_fault.kind == UnitFaultKind::Reference
                    ? *m_fault.v_v
                    : draw.around("v_ref_v", divider->reference.v_ref_v, divider->reference.tolerance);
    keep("reference_v", m_v_ref_v);
    m_i_ref_a = draw.between("i_ref_a", divider->reference.iMin(), divider->reference.iMax());
    const auto found = [&](const Network& network, const std::string& prefix) {
        for (std::size_t i = 0; i < network.parts().size(); ++i) {
            const std::string name = prefix + (network.parts().size() > 1 ? std::to_string(i + 1) : "");
            m_parts_ohm[name] =
                keep(name + "_ohm", draw.around(name, network.parts()[i], divider->found_tolerance));
        }
    };
    found(divider->top, "top");
    found(divider->bottom, "bottom");
    m_planned_legs = diagnosisInput(m_job, 0, 0, Observed::Steady);
    if (!m_planned_legs)
        return;
    for (const DiagnosedLeg* leg : {&m_planned_legs->top, &m_planned_legs->bottom})
        for (const auto& [name, part] : leg->parts)
            if (part.is_new)
                m_parts_ohm[name] = keep(name + "_ohm", draw.around(name, part.ohm, part.tolerance));
}

TrueUnit::TrueRail TrueUnit::drawnRail(std::size_t at, const Evaluation& evaluation, const Draw& draw)
{
    const Rail& rail = m_job.found.rails[at];
    const std::string& name = rail.name;
    TrueRail real;
    const double found_v = evaluation.rails_found_v[at].value_or(rail.v_v.value_or(0));
    const double planned_v = evaluation.rails_planned_v[at].value_or(found_v);
    real.found_v = draw.around(name + " set", found_v, usual_set_spread);
    real.planned_v = planned_v * (found_v > 0 ? real.found_v / found_v : 1);
    // Another unit in its place is set by its own maker; what a trimmer will set stands as found until then.
    if (m_job.plan.trim || m_job.plan.join)
        real.planned_v = real.found_v;
    else if (m_job.plan.replace || m_job.plan.module)
        real.planned_v = draw.around(name + " planned", planned_v, usual_set_spread);
    constexpr double least_a = 1e-3;
    const double rated_a = rail.i_rated_a.value_or(1);
    real.full_a = std::max(at == 0 ? evaluation.own_current_a.value_or(rated_a) : rated_a, least_a);
    real.droop_share = draw.between(name + " droop", 0, usual_droop);
    real.follows = at > 0 && movesWith(rail, m_job.found.rails.front());
    // What a ripple is allowed to be where the need does not say.
    constexpr double ripple_share = 0.01;
    double allowed_v = ripple_share * std::max(real.found_v, real.planned_v);
    bool dried = false;
    if (at == 0) {
        const Joint& joint = m_job.found.joint;
        if (joint.r_out_ohm) {
            real.r_out_ohm = draw.around(name + " r_out", *joint.r_out_ohm, 0.1);
            real.droop_share = 0;
        }
        if (joint.i_limit_a)
            real.limit_a = draw.around(name + " limit", *joint.i_limit_a, 0.05);
        allowed_v = m_job.need.ripple_max_v.value_or(allowed_v);
        dried = m_fault.kind == UnitFaultKind::DriedCapacitor;
    }
    real.ripple_v = keep(name + "_ripple_v", (dried ? draw.between(name + " dried", 3, 8)
                                                    : draw.between(name + " ripple", 0.15, 0.6)) *
                                                 allowed_v);
    return real;
}

void TrueUnit::drawRails(const Evaluation& evaluation, const Draw& draw)
{
    for (std::size_t at = 0; at < m_job.found.rails.size(); ++at)
        m_rails.push_back(drawnRail(at, evaluation, draw));
    if (m_job.found.topology != Topology::Unregulated)
        return;
    const auto drawn = [&](std::optional<RectifierInput> input) {
        if (!input)
            return input;
        input->points.reset();
        input->ratings = {};
        for (std::size_t i = 0; i < input->chain.filter.size(); ++i) {
            SmoothingSection& section = input->chain.filter[i];
            const double tolerance = section.tolerance.value_or(usual_tolerance);
            const std::string name = "section" + std::to_string(i);
            section.c_f = draw.around(name, section.c_f, tolerance);
            section.l_h = draw.around(name, section.l_h, tolerance);
        }
        return input;
    };
    m_chain_planned = drawn(chainInput(m_job));
    Job as_found = m_job;
    as_found.plan = {};
    m_chain_found = drawn(chainInput(as_found));
    const auto valves = [](const std::optional<RectifierInput>& in) {
        return in && in->chain.rectifier.diode.model == DiodeModel::Valve;
    };
    if (valves(m_chain_planned) || valves(m_chain_found))
        m_warms_in_s = keep("valves warm in_s", draw.between("warms", 12, 28));
}

std::vector<TrueReservoir> TrueUnit::reservoirsOf(const Draw& draw, Condition condition) const
{
    std::vector<TrueReservoir> made;
    const Supply& unit = supply(condition == Condition::Planned);
    const double highest_v =
        unit.dcFed() ? unit.direct.max_v.value_or(feedVolts(unit)) : m_job.need.mains.highest();
    for (const Reservoir& reservoir : energyModel(m_job, condition).reservoirs) {
        if (reservoir.unit)
            continue; // of another unit of the job
        constexpr double usual_f = 1e-4;
        const double bleeder_ohm = reservoir.bleeder_ohm.value_or(std::numeric_limits<double>::infinity());
        const bool open = m_fault.kind == UnitFaultKind::OpenBleeder;
        TrueReservoir real{
            .point = reservoir.point,
            .c_f = draw.around(reservoir.point + " c", reservoir.c_f.value_or(usual_f), usual_tolerance),
            .recovered_share = recoveryShare(reservoir.kind),
            .bleeder_s = (open ? 0 : 1 / draw.around(reservoir.point + " bleeder", bleeder_ohm, 0.05)) +
                         (reservoir.point == "bulk" ? m_leak_w / (reservoir.v0_v * reservoir.v0_v) : 0),
            .v_per_unit_v = highest_v > 0 ? reservoir.v0_v / highest_v : 0};
        for (std::size_t i = 0; i < m_job.found.rails.size(); ++i)
            if (m_job.found.rails[i].name == reservoir.point)
                real.rail = i;
        made.push_back(real);
    }
    return made;
}

void TrueUnit::drawReservoirs(const Draw& draw)
{
    m_reservoirs_found = reservoirsOf(draw, Condition::Found);
    m_reservoirs_planned = reservoirsOf(draw, Condition::Planned);
    for (const TrueReservoir& real : m_reservoirs_found) {
        keep(real.point + "_f", real.c_f);
        if (real.bleeder_s > 0)
            keep(real.point + " bleeder_ohm", 1 / real.bleeder_s);
    }
}

} // namespace offshoot
