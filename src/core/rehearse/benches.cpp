#include "core/rehearse/benches.h"

#include "core/evaluate/job_input.h"
#include "core/kinds/joined/units.h"
#include "core/values/figures.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace offshoot {

namespace {

constexpr double unlimited = std::numeric_limits<double>::infinity();

/// A further unit as a job of its own: nothing is changed in it, and of the load it gives its part.
Job jobOf(const Job& job, const Figures& figures, std::size_t unit)
{
    Job own = job;
    own.log.clear();
    own.found = unitSupply(job, unit);
    own.others.clear();
    own.plan = {};
    own.need.others.clear();
    own.need.load = {};
    constexpr double spread = 0.05;
    const auto set_v = unitSet(job, figures, unit);
    own.need.target.reset();
    if (set_v)
        own.need.target = Target{*set_v, *set_v * (1 - spread), *set_v * (1 + spread)};
    if (job.plan.join && job.plan.join->kind == Joining::SideBySide && own.need.current_a)
        *own.need.current_a /= static_cast<double>(unitCount(job));
    return own;
}

double outputVolts(const Bench& bench)
{
    if (bench.runs())
        return bench.running().rails_v.front();
    return bench.storeVolts(bench.found().rails.front().name).value_or(0);
}

} // namespace

Benches::Benches(const Job& job, std::uint64_t seed, const UnitFault& fault)
    : Benches(job, evaluateWhole({withoutLog(job), 0}), seed, fault)
{}

Benches::Benches(const Job& job, const Evaluation& evaluation, std::uint64_t seed, const UnitFault& fault)
    : m_fault(fault)
    , m_lead_a(unitCount(job), 0)
{
    const Draw draw = suitedDraw(withoutLog(job), evaluation, Draw(seed));
    const bool lead = fault.kind == UnitFaultKind::PoorLead;
    for (std::size_t unit = 1; unit <= unitCount(job); ++unit) {
        const bool has = lead ? fault.part == "#" + std::to_string(unit) : unit == 1;
        const UnitFault own = has ? fault : UnitFault{};
        if (unit == 1) {
            m_units.emplace_back(job, evaluation, draw, draw, own);
            continue;
        }
        const Job other = jobOf(job, evaluation, unit);
        Evaluation of_other = evaluateWhole({other, 0});
        of_other.lamp_w = evaluation.lamp_w; // one lamp for all of them
        m_units.emplace_back(other, of_other, draw.within("#" + std::to_string(unit)), draw, own);
    }
    if (!evaluation.joined)
        return;
    m_bus = evaluation.joined->bus.input;
    m_stack = evaluation.joined->stack.input;
    const auto& target = job.need.target;
    if (target && job.need.current_a)
        m_full_load_s = *job.need.current_a / target->v;
}

bool Benches::live() const { return std::ranges::any_of(m_units, &Bench::live); }

std::optional<double> Benches::leadAmps(std::size_t number) const
{
    return m_joined && m_bus ? std::optional(m_lead_a.at(number - 1)) : std::nullopt;
}

std::map<std::string, double> Benches::truth() const
{
    std::map<std::string, double> all;
    for (std::size_t unit = 1; unit <= count(); ++unit)
        for (const auto& [name, value] : m_units[unit - 1].unit().truth())
            if (unit == 1 || (name != "mains_v" && name != "room_k"))
                all[(unit > 1 ? "#" + std::to_string(unit) + " " : std::string()) + name] = value;
    return all;
}

BenchAnswer Benches::play(const BenchMove& move, const std::string& path)
{
    if (move.unit > count())
        throw DocumentError(ErrorCode::OutOfRange, path,
                            count() == 1 ? "this job has one unit"
                                         : "this job has " + std::to_string(count()) + " units");
    if (move.kind == MoveKind::Join && !m_bus && !m_stack)
        throw DocumentError(ErrorCode::OutOfRange, path, "the plan joins no outputs");
    BenchAnswer answer{.move = move, .t_s = timeS(), .seen = {}};
    if (move.kind == MoveKind::Join) {
        answer.wrong = joinWrong();
        answer.done = !answer.wrong;
        if (answer.done) {
            m_joined = true;
            at(1).serveTogether(m_full_load_s);
        }
        answer.seen =
            answer.done ? "The outputs are joined as planned." : "Not done here: it is named instead.";
    } else if (move.kind != MoveKind::Probe || !probeJoin(move, answer)) {
        // What hangs on the join hangs on the first unit's bench.
        const bool shared =
            m_joined && (move.kind == MoveKind::Load || move.kind == MoveKind::ConnectLoad ||
                         move.kind == MoveKind::DisconnectLoad || move.kind == MoveKind::FuseIn);
        const std::size_t number = shared ? 1 : move.unit;
        const bool hands = move.kind == MoveKind::ConnectLoad || move.kind == MoveKind::OpenBond ||
                           move.kind == MoveKind::Fit;
        const auto other = std::ranges::find_if(m_units, &Bench::live);
        if (m_joined && hands && other != m_units.end()) {
            answer.wrong = other->powered(WrongMove::FittedLive, "on what is joined to it.");
            answer.done = false;
            answer.seen = "Not done here: it is named instead.";
        } else {
            const double own_s = at(number).timeS();
            answer = at(number).play(move, path);
            const double passed_s = at(number).timeS() - own_s;
            for (std::size_t unit = 1; unit <= count(); ++unit)
                if (unit != number)
                    at(unit).letPass(passed_s);
            answer.t_s = timeS();
        }
    }
    settle();
    if (m_joined && answer.done && !answer.reading && !answer.wrong && move.kind != MoveKind::Join &&
        !answer.seen.empty())
        answer.seen = at(move.unit).look(); // as it is with the others
    if (m_joined && answer.reading && answer.reading->load_a)
        answer.reading->load_a = std::accumulate(m_lead_a.begin(), m_lead_a.end(), 0.0) /
                                 (m_stack ? static_cast<double>(count()) : 1);
    if (answer.wrong)
        answer.wrong->first = m_wrongs[answer.wrong->what]++ == 0;
    return answer;
}

/// The leads are where hands are; and what is joined unread, or earthed twice, shows it under load.
std::optional<WrongAnswer> Benches::joinWrong()
{
    const auto on = std::ranges::find_if(m_units, &Bench::live);
    if (on != m_units.end())
        return on->powered(WrongMove::FittedLive, "on the leads while they are being joined.");
    for (Bench& bench : m_units)
        if (auto wrong = bench.charged(WrongMove::FittedCharged, "on the leads while they are being joined."))
            return wrong;
    if (m_stack) {
        const StackResult made = sourcesSeries(stackNow());
        if (!made.conflicts.empty())
            return WrongAnswer{
                .what = WrongMove::JoinedShorted,
                .would = "Two points of the stack stand on earth: " + listed(made.conflicts.front().shorted) +
                         " would be shorted through it, and give " + amps(made.current_limit_a) + " or more.",
                .v_v = {},
                .i_a = made.current_limit_a};
    }
    for (std::size_t unit = 1; unit <= count(); ++unit)
        if (!m_units[unit - 1].readAtFull())
            return WrongAnswer{.what = WrongMove::JoinedUnread,
                               .would = "Unit " + std::to_string(unit) +
                                        " was not read by itself at full power: whichever is set highest "
                                        "carries the load alone, up to its limit."};
    return std::nullopt;
}

/// As it stands: bonds as found but for those opened, volts as they are.
StackInput Benches::stackNow() const
{
    StackInput in = *m_stack;
    for (std::size_t i = 0; i < in.units.size() && i < count(); ++i) {
        in.units[i].bonded = m_units[i].bondOpened() ? Bond::None : m_units[i].found().joint.bonded;
        in.units[i].v_v = std::max(outputVolts(m_units[i]), 1e-6);
    }
    return in;
}

bool Benches::probeJoin(const BenchMove& move, BenchAnswer& answer)
{
    const Bench& bench = unit(move.unit);
    if (move.point == "lead" && leadAmps(move.unit)) {
        answer.reading = bench.reading("lead", Quantity::Current, *leadAmps(move.unit));
        answer.reading->load_a = 0;
        return true;
    }
    if (move.point == "difference" && move.unit > 1) {
        answer.reading =
            bench.reading("difference", Quantity::Voltage, outputVolts(bench) - outputVolts(m_units.front()));
        return true;
    }
    if (move.point == "node" && m_stack && m_joined) {
        const StackResult made = sourcesSeries(stackNow());
        const double v = made.nodes_v ? made.nodes_v->at(move.unit) : 0;
        answer.reading = bench.reading("node", Quantity::Voltage, std::abs(v) < dead_v / 100 ? 0 : v);
        if (!made.nodes_v)
            answer.seen = "It floats: the meter itself draws it to the case.";
        return true;
    }
    return false;
}

/// Who runs at all, before anything is drawn from it.
void Benches::unload()
{
    for (Bench& bench : m_units)
        bench.join(JoinedOutput{.load_s = 0});
}

OutputSource Benches::sourceOf(std::size_t number) const
{
    const Bench& bench = unit(number);
    return bench.unit().output(bench.connected(), bench.running().unit_v);
}

void Benches::settle()
{
    if (!m_joined)
        return;
    if (m_bus)
        settleBus();
    else
        settleStack();
}

/// What feeds the bus as things stand, with the load that hangs on it.
ParallelInput Benches::busNow(const std::vector<std::size_t>& running) const
{
    constexpr double unloaded_ohm = 1e9;
    const double load_s = m_units.front().loadSiemens();
    ParallelInput in{.units = {}, .load = {.ohm = load_s > 0 ? 1 / load_s : unloaded_ohm}};
    for (const std::size_t unit : running) {
        const OutputSource from = sourceOf(unit);
        ParallelUnit source = m_bus->units.at(unit - 1);
        source.v_set_v = from.v_v;
        source.r_out_ohm = from.ohm;
        source.r_lead_ohm += this->unit(unit).unit().leadJointOhm();
        source.i_limit_a = from.limit_a < unlimited ? std::optional(from.limit_a) : std::nullopt;
        in.units.push_back(source);
    }
    return in;
}

/// The bus is worked out with those that run; whoever does not bear its share drops out, and the rest again.
void Benches::settleBus()
{
    unload();
    const double load_s = m_units.front().loadSiemens();
    std::vector<std::size_t> running;
    for (std::size_t unit = 1; unit <= count(); ++unit)
        if (at(unit).runs())
            running.push_back(unit);
    m_lead_a.assign(count(), 0);
    while (!running.empty()) {
        const ParallelInput in = busNow(running);
        const BusState bus = busState(in);
        bool all_bear = true;
        for (std::size_t unit = 1; unit <= count(); ++unit) {
            const bool diode = m_bus->units.at(unit - 1).diode.has_value();
            JoinedOutput joined{.load_s = 0, .at_v = bus.v_bus_v, .load_v = bus.v_bus_v};
            const auto place = std::ranges::find(running, unit);
            if (place != running.end()) {
                const auto i = static_cast<std::size_t>(place - running.begin());
                const double a = bus.units[i].current_a;
                m_lead_a[unit - 1] = a;
                const bool limits = bus.units[i].state == UnitState::Limiting;
                const double own_v = in.units[i].v_set_v - in.units[i].r_out_ohm * a;
                const bool tripped =
                    bus.units[i].state == UnitState::Tripped; // what stands there is the others'
                const double held_v = diode ? 0 : bus.v_bus_v;
                joined.at_v = limits    ? bus.v_bus_v + in.units[i].r_lead_ohm * a
                              : tripped ? held_v
                                        : std::max(own_v, held_v);
                joined.load_s = *joined.at_v > 0 ? a / *joined.at_v : 0;
            } else if (diode) {
                joined.at_v.reset();
            }
            at(unit).join(joined);
        }
        std::erase_if(running, [&](std::size_t unit) {
            const bool drops = !at(unit).runs();
            all_bear = all_bear && !drops;
            return drops;
        });
        if (all_bear)
            return;
        m_lead_a.assign(count(), 0);
    }
    const double battery_v = m_units.front().batteryVolts();
    for (std::size_t unit = 1; unit <= count(); ++unit) {
        const bool diode = m_bus->units.at(unit - 1).diode.has_value();
        at(unit).join(JoinedOutput{.load_s = load_s / static_cast<double>(count()),
                                   .at_v = battery_v > 0 && !diode ? std::optional(battery_v) : std::nullopt,
                                   .load_v = battery_v});
    }
}

/// One current through all of them, as the lowest limit allows; one that is off is passed by.
void Benches::settleStack()
{
    unload();
    const double load_s = m_units.front().loadSiemens();
    double sum_v = 0;
    double sum_ohm = load_s > 0 ? 1 / load_s : unlimited;
    double limit_a = unlimited;
    std::size_t lowest = 0;
    std::vector<std::optional<OutputSource>> from(count());
    for (std::size_t i = 0; i < count(); ++i) {
        if (!m_units[i].runs())
            continue;
        from[i] = sourceOf(i + 1);
        sum_v += from[i]->v_v;
        sum_ohm += from[i]->ohm;
        if (from[i]->limit_a < limit_a) {
            limit_a = from[i]->limit_a;
            lowest = i;
        }
    }
    const bool limits = sum_v / sum_ohm > limit_a;
    const double a = limits ? limit_a : sum_v / sum_ohm;
    m_lead_a.assign(count(), a);
    const double load_v = load_s > 0 ? a / load_s : sum_v;
    double others_v = 0;
    for (std::size_t i = 0; i < count(); ++i)
        if (from[i] && !(limits && i == lowest))
            others_v += from[i]->v_v - from[i]->ohm * a;
    for (std::size_t i = 0; i < count(); ++i) {
        if (!from[i]) {
            m_units[i].join(JoinedOutput{.load_s = 0, .at_v = {}, .load_v = load_v});
            continue;
        }
        const double v =
            limits && i == lowest ? std::max(load_v - others_v, 0.0) : from[i]->v_v - from[i]->ohm * a;
        m_units[i].join(JoinedOutput{.load_s = v > 0 ? a / v : 0, .at_v = v, .load_v = load_v});
    }
}

} // namespace offshoot
