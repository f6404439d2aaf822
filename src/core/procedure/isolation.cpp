#include "core/procedure/isolation.h"

#include "core/calculate/discharge.h"
#include "core/job/readings.h"

#include <algorithm>
#include <cmath>

namespace offshoot {

namespace {

constexpr double least_energy_j = 1e-3;

std::string keyOf(const std::string& point, const std::optional<std::string>& unit)
{
    return unit ? point + " #" + *unit : point;
}

Reservoir makeReservoir(std::string point, double v0_v, std::optional<double> c_f, CapacitorKind kind,
                        std::optional<double> bleeder_ohm)
{
    constexpr double stand_in_f = 1e-3; // only times scale with it; a missing capacitance leaves them absent
    const auto plan = dischargePlan({.v0_v = v0_v,
                                     .capacitors = {{.c_f = c_f.value_or(stand_in_f), .kind = kind}},
                                     .bleeder_ohm = bleeder_ohm});
    Reservoir reservoir{.point = std::move(point),
                        .unit = std::nullopt,
                        .v0_v = v0_v,
                        .c_f = c_f,
                        .kind = kind,
                        .bleeder_ohm = bleeder_ohm,
                        .wait_s = plan.wait_s,
                        .needs_second = atLeast(plan.recovery_v, dead_v),
                        .discharge_s = std::nullopt,
                        .tool_ohm = plan.tool_max_ohm.value_or(0)};
    if (plan.bleeder && c_f)
        reservoir.discharge_s = plan.bleeder->t10_s;
    return reservoir;
}

/// The reservoir behind a rail, unless it is known to hold too little to matter. Of a sealed unit the output
/// is all that can be proven, whatever it holds.
void addRailReservoir(EnergyModel& model, const Supply& supply, const Rail& rail, double highest_v)
{
    const auto& c_f = rail.capacitor.c_f;
    const bool little = highest_v <= dead_v || (c_f && 0.5 * *c_f * highest_v * highest_v <= least_energy_j);
    if (little && !supply.sealed())
        return;
    const auto bleeder_ohm = rail.minimum_load.fitted == false ? std::nullopt : rail.minimum_load.r_ohm;
    model.reservoirs.push_back(
        makeReservoir(rail.name, std::max(highest_v, 1.0), c_f, CapacitorKind::Aluminium, bleeder_ohm));
}

/// The capacitor in front of the converter: at the crest of the mains, or where DC or a mains transformer
/// feeds the supply at that voltage.
void addBulk(EnergyModel& model, const Supply& supply, const Mains& mains)
{
    if (supply.sealed())
        return;
    const bool behind_mains = isMainsSwitcher(supply.topology) || supply.topology == Topology::SealedModule;
    const auto v0_v =
        behind_mains ? std::optional(inputCrest(supply.input, mains.highest())) : supply.direct.max_v;
    if (!v0_v)
        model.missing =
            "enter the highest voltage in front of the regulator first: without it nothing can be "
            "proven dead";
    else if (supply.bulk.c_f)
        model.reservoirs.push_back(
            makeReservoir("bulk", *v0_v, supply.bulk.c_f, supply.bulk.kind, supply.bulk.bleeder_ohm));
    else if (!supply.dcFed() || *v0_v > dead_v)
        model.missing = "enter the bulk capacitor's capacitance first: without it nothing can be proven dead";
}

/// Capacitors inside a smoothing chain, with a choke or resistor on either side: neither the reservoir in
/// front of them nor the rail behind says what they hold.
void addSmoothing(EnergyModel& model, const RectifierChain& chain)
{
    const auto series = [](const SmoothingSection& s) { return s.kind != SmoothingKind::C; };
    const auto& filter = chain.filter;
    const auto first = std::ranges::find_if(filter, series);
    const auto last = std::find_if(filter.rbegin(), filter.rend(), series).base();
    for (auto at = first; at < last; ++at) {
        if (series(*at) || chain.noLoadVolts() <= dead_v)
            continue;
        Reservoir made = makeReservoir(chainPartName(chain, std::to_string(at - filter.begin())),
                                       chain.noLoadVolts(), at->c_f, CapacitorKind::Aluminium, std::nullopt);
        const auto known = std::ranges::find(model.reservoirs, made.point, &Reservoir::point);
        if (known == model.reservoirs.end())
            model.reservoirs.push_back(std::move(made));
        else if (made.v0_v > known->v0_v)
            *known = std::move(made);
    }
}

/// Every other unit of the job is a source, and holds its own charge.
void addUnit(EnergyModel& model, const Job& job, std::size_t unit)
{
    const Supply& supply = job.others.at(unit - 2);
    EnergyModel own;
    addBulk(own, supply, job.need.mains);
    for (const Rail& rail : supply.rails)
        addRailReservoir(own, supply, rail, std::max(rail.v_v.value_or(0), supply.joint.v_set_v.value_or(0)));
    model.sources.push_back(unitName(job, unit));
    for (Reservoir& reservoir : own.reservoirs) {
        reservoir.unit = unitTag(unit);
        model.reservoirs.push_back(std::move(reservoir));
    }
    if (model.missing.empty() && !own.missing.empty())
        model.missing = "of " + unitName(job, unit) + " " + own.missing;
}

} // namespace

std::string Reservoir::key() const { return keyOf(point, unit); }

double Reservoir::leftAfter(double seconds) const
{
    return bleeder_ohm && c_f ? v0_v * std::exp(-seconds / (*bleeder_ohm * *c_f)) : v0_v;
}

bool poweredSinceChange(const Job& job)
{
    // A change that was only begun leaves the reservoirs as they were found: what counts is the step that
    // alters them.
    const char* altered = job.plan.replace ? "change.out"
                          : job.plan.chain ? "change.chain"
                                           : "change.second_look";
    const auto struck = struckIds(job.log);
    bool changed = false;
    for (const LogEntry& entry : job.log) {
        changed =
            changed || (entry.kind == LogKind::Tick && entry.step == altered && !struck.contains(entry.id));
        if (entry.kind == LogKind::Live && changed)
            return true;
    }
    return false;
}

EnergyModel energyModel(const Job& job, const Supply& supply, const RectifierChain* chain)
{
    EnergyModel model;
    model.sources.emplace_back(supply.dcFed() ? "input" : "mains");
    if (job.need.load.kind == LoadKind::Battery)
        model.sources.emplace_back("battery");
    addBulk(model, supply, job.need.mains);
    for (const Rail& rail : supply.rails) {
        double highest_v = rail.v_v.value_or(0);
        if (const auto window = windowOf(job, rail))
            highest_v = std::max(highest_v, window->max_v);
        // Nothing regulates it: without load it stands at the crest of the highest mains.
        if (supply.topology == Topology::Unregulated && chain != nullptr && &rail == &supply.rails.front())
            highest_v = std::max(highest_v, chain->noLoadVolts());
        addRailReservoir(model, supply, rail, highest_v);
    }
    if (chain != nullptr)
        addSmoothing(model, *chain);
    for (std::size_t unit = 2; unit <= job.others.size() + 1; ++unit)
        addUnit(model, job, unit);
    return model;
}

namespace {

using Names = std::set<std::string>;

bool includes(const Names& all, const Names& some)
{
    return std::includes(all.begin(), all.end(), some.begin(), some.end());
}

class IsolationMachine
{
public:
    explicit IsolationMachine(const EnergyModel& model)
        : m_model(model)
    {
        require({}, {});
    }

    void apply(const LogEntry& entry, bool struck)
    {
        advance(entry.time_s);
        switch (entry.kind) {
        case LogKind::Opened:
            goLive(true);
            break;
        case LogKind::Live:
            goLive(false);
            break;
        case LogKind::Model:
            changeModel(entry);
            break;
        case LogKind::SourceOff:
            if (!struck && entry.text)
                sourceOff(*entry.text, entry.time_s);
            break;
        case LogKind::MeterProven:
            if (!struck)
                meterProven(entry.time_s);
            break;
        case LogKind::Reading:
            reading(entry, struck);
            break;
        case LogKind::Tick:
        case LogKind::Note:
        case LogKind::Photo:
        case LogKind::Lamp:
        case LogKind::Hunting:
        case LogKind::Strike:
        case LogKind::SignedOff:
            break;
        }
    }

    /// A second reading that did not come in time takes the proof away.
    void advance(double now_s)
    {
        for (const Reservoir& reservoir : m_model.reservoirs) {
            const auto proof = m_proofs.find(reservoir.key());
            if (!reservoir.needs_second || proof == m_proofs.end() || proof->second.second_taken)
                continue;
            if (now_s > proof->second.time_s + 2 * reservoir.wait_s) {
                m_proofs.erase(proof);
                fallBack();
            }
        }
    }

    IsolationView view() const
    {
        IsolationView view;
        view.state = m_state;
        view.assumed = m_assumed;
        view.missing = m_model.missing;
        for (const std::string& source : m_model.sources)
            (m_off.contains(source) ? view.sources_off : view.sources_on).push_back(source);
        view.meter_proven = m_meter_before;
        view.meter_pending = !m_pending.empty();
        if (m_state != Isolation::Live)
            view.off_since_s = m_off_at_s;
        double discharge_s = 0;
        bool every_bleeder = true;
        for (const Reservoir& reservoir : m_model.reservoirs) {
            const auto proof = m_proofs.find(reservoir.key());
            const bool proven = proof != m_proofs.end();
            (proven ? view.proven : view.to_prove).push_back(reservoir.key());
            every_bleeder = every_bleeder && reservoir.discharge_s;
            discharge_s = std::max(discharge_s, reservoir.discharge_s.value_or(0));
            if (proven && reservoir.needs_second && !proof->second.second_taken)
                noteSecond(view, reservoir, proof->second.time_s);
        }
        if (m_state == Isolation::Unproven && every_bleeder)
            view.discharged_at_s = m_off_at_s + discharge_s;
        return view;
    }

    /// An edit that has not reached the log yet counts like one that has.
    void closeWith(double now_s)
    {
        advance(now_s);
        if (m_known && (!includes(m_known_sources, m_sources) || !includes(m_known_reservoirs, m_reservoirs)))
            fallBack();
        if (!allSourcesOff() || !everythingProven())
            fallBack();
    }

private:
    struct Proof
    {
        double time_s;
        bool second_taken;
    };

    static void noteSecond(IsolationView& view, const Reservoir& reservoir, double proven_at_s)
    {
        const double from_s = proven_at_s + reservoir.wait_s;
        if (view.second_from_s && *view.second_from_s <= from_s)
            return;
        view.second_from_s = from_s;
        view.second_until_s = proven_at_s + 2 * reservoir.wait_s;
        view.second_point = reservoir.key();
    }

    void goLive(bool assumed)
    {
        m_state = Isolation::Live;
        m_assumed = assumed;
        m_off.clear();
        m_proofs.clear();
        m_pending.clear();
        m_meter_before = false;
    }

    void fallBack()
    {
        if (m_state == Isolation::ProvenDead)
            m_state = Isolation::Unproven;
    }

    void changeModel(const LogEntry& entry)
    {
        const Names sources(entry.sources.begin(), entry.sources.end());
        const Names reservoirs(entry.reservoirs.begin(), entry.reservoirs.end());
        if (m_known && (!includes(m_known_sources, sources) || !includes(m_known_reservoirs, reservoirs)))
            fallBack();
        m_known = true;
        m_known_sources = sources;
        m_known_reservoirs = reservoirs;
        require(sources, reservoirs);
    }

    /// What has to be off and dead: the model as it is now and as it was when the log was written, so that
    /// taking a source out of the model later never raises an earlier state.
    void require(const Names& sources, const Names& reservoirs)
    {
        m_sources = sources;
        m_reservoirs = reservoirs;
        m_sources.insert(m_model.sources.begin(), m_model.sources.end());
        for (const Reservoir& reservoir : m_model.reservoirs)
            m_reservoirs.insert(reservoir.key());
    }

    bool allSourcesOff() const { return !m_sources.empty() && includes(m_off, m_sources); }

    void sourceOff(const std::string& source, double time_s)
    {
        if (!m_sources.contains(source))
            return;
        m_off.insert(source);
        if (m_state != Isolation::Live || !allSourcesOff())
            return;
        m_state = Isolation::Unproven;
        m_assumed = false;
        m_off_at_s = time_s;
    }

    void meterProven(double time_s)
    {
        if (m_state == Isolation::Live)
            return;
        for (const auto& [point, read_at_s] : m_pending)
            m_proofs[point] = {read_at_s, false};
        m_pending.clear();
        m_meter_before = true;
        // The proof is as old as its reading: what came due since then is due now.
        advance(time_s);
        if (everythingProven())
            m_state = Isolation::ProvenDead;
    }

    bool everythingProven() const
    {
        if (!m_model.missing.empty() || m_reservoirs.empty() || !allSourcesOff())
            return false;
        return std::all_of(m_reservoirs.begin(), m_reservoirs.end(),
                           [this](const std::string& point) { return m_proofs.contains(point); });
    }

    void reading(const LogEntry& entry, bool struck)
    {
        if (m_state == Isolation::Live || entry.quantity != Quantity::Voltage || !entry.point || !entry.value)
            return;
        std::string key = keyOf(*entry.point, entry.unit);
        // Of a batch only the unit on the bench has reservoirs here: a low reading of another proves nothing,
        // a high one counts all the same.
        const bool elsewhere = !m_reservoirs.contains(key);
        if (elsewhere)
            key = *entry.point;
        if (!m_reservoirs.contains(key))
            return;
        // The meter's own doubt counts against the person, never for them.
        const bool low = std::abs(*entry.value) + entry.uncertainty.value_or(0) < dead_v;
        if (!low) {
            m_pending.erase(key);
            m_proofs.erase(key);
            fallBack();
            return;
        }
        if (struck || entry.imported.value_or(false) || elsewhere)
            return;
        if (const auto proof = m_proofs.find(key); proof != m_proofs.end())
            proof->second.second_taken =
                proof->second.second_taken || entry.time_s >= dueFrom(key, proof->second);
        else if (m_meter_before)
            m_pending[key] = entry.time_s;
    }

    double dueFrom(const std::string& point, const Proof& proof) const
    {
        for (const Reservoir& reservoir : m_model.reservoirs)
            if (reservoir.key() == point)
                return proof.time_s + reservoir.wait_s;
        return proof.time_s;
    }

    const EnergyModel& m_model;
    Names m_sources;
    Names m_reservoirs;
    Names m_known_sources;
    Names m_known_reservoirs;
    bool m_known = false;
    Isolation m_state = Isolation::Live;
    bool m_assumed = true;
    Names m_off;
    double m_off_at_s = 0;
    bool m_meter_before = false;
    std::map<std::string, double> m_pending;
    std::map<std::string, Proof> m_proofs;
};

} // namespace

IsolationView isolationAt(const std::vector<LogEntry>& log, const EnergyModel& model, double now_s)
{
    const std::set<std::string> struck = struckIds(log);
    IsolationMachine machine(model);
    for (const LogEntry& entry : log)
        machine.apply(entry, struck.contains(entry.id));
    machine.closeWith(now_s);
    return machine.view();
}

bool allowedIn(StepKind kind, Isolation state)
{
    switch (kind) {
    case StepKind::Look:
    case StepKind::Isolate:
    case StepKind::Power:
    case StepKind::Wait:
        return true;
    case StepKind::Prove:
        return state != Isolation::Live;
    case StepKind::Touch:
        return state == Isolation::ProvenDead;
    case StepKind::Probe:
    case StepKind::Adjust:
        return state == Isolation::Live;
    }
    return false;
}

std::string refusal(StepKind kind, const IsolationView& isolation)
{
    if (allowedIn(kind, isolation.state))
        return {};
    switch (kind) {
    case StepKind::Prove:
        return "The job is live. Declare every source off first, then measure.";
    case StepKind::Touch:
        if (isolation.state == Isolation::Live)
            return "The job is live. Hands off: declare every source off, then prove every reservoir dead.";
        return "The charge is not proven gone. Measure every reservoir below 10 V, with the meter proven "
               "before "
               "and after.";
    case StepKind::Probe:
    case StepKind::Adjust:
        return "This needs power, and the job is not live. Go through the power step first.";
    default:
        return {};
    }
}

} // namespace offshoot
