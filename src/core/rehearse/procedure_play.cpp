#include "core/rehearse/procedure_play.h"

#include "core/procedure/test_loads.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace offshoot {

namespace {

/// As the energy model names it.
constexpr std::string_view battery_source = "battery";

/// What the resistor of a step is, for the amperes that its window expects at it.
std::optional<BenchMove> loadMove(const Asked& asked)
{
    if (!asked.load_a || asked.quantity != Quantity::Voltage)
        return std::nullopt;
    if (*asked.load_a == 0)
        return BenchMove{.kind = MoveKind::Load};
    const auto& window = asked.window;
    if (!window || !window->min || !window->max)
        return std::nullopt;
    const double v = std::abs(*window->min + *window->max) / 2;
    return BenchMove{.kind = MoveKind::Load, .value = testLoad(v, *asked.load_a).ohm};
}

/// The part of the work after which the unit is as planned.
bool fits(const Step& step)
{
    return step.stage == Stage::Change && (step.worksInside() || !step.parts.empty());
}

constexpr double by_hand_s = 5;
constexpr double back_share = 0.95; ///< of what counts as dead: nearer than a meter tells apart

/// What each lead of a bus carries where the share is proven: less than the need's where the units bear less.
std::optional<double> shareAsked(const std::vector<StepView>& steps)
{
    for (const StepView& view : steps)
        for (const Asked& asked : view.step.asks)
            if (asked.point == "lead" && asked.load_a)
                return asked.load_a;
    return std::nullopt;
}

/// The unit that a reading's number names.
std::size_t unitOf(const std::optional<std::string>& tag) { return tag ? std::stoul(*tag) : 1; }

} // namespace

bool PlayedMove::outside() const
{
    if (window && answer.reading && !answer.reading->value)
        return true;
    return judgement && judgement->place && *judgement->place != Place::Inside;
}

std::optional<Verdict> PlayedMove::verdict() const
{
    if (judgement)
        return judgement->verdict;
    return outside() ? std::optional(Verdict::Breaks) : std::nullopt;
}

std::optional<Verdict> PlayedMove::moveVerdict() const
{
    return answer.wrong ? std::optional(Verdict::Breaks) : verdict();
}

RehearsedJob::RehearsedJob(Job job, std::uint64_t seed, const UnitFault& fault)
    : m_job(withoutLog(std::move(job)))
    , m_run(chainRunOf(m_job))
    , m_evaluation(evaluated())
    , m_benches(m_job, m_evaluation, seed, fault)
{}

Evaluation RehearsedJob::evaluated() const { return evaluate(m_job, 0, m_run ? &*m_run : nullptr); }

/// Windows follow what was read, and so may steps: it goes on behind the one that was done.
void RehearsedJob::evaluateAnew(const std::string& after)
{
    m_evaluation = evaluated();
    const auto done =
        std::ranges::find(m_evaluation.steps, after, [](const StepView& view) { return view.step.id; });
    if (done != m_evaluation.steps.end())
        m_at = static_cast<std::size_t>(done - m_evaluation.steps.begin()) + 1;
    if (m_evaluation.diagnosis && !m_out.diagnosis) {
        m_out.diagnosis = m_evaluation.diagnosis;
        m_out.diagnosed_reading = m_evaluation.diagnosed_reading;
    }
    m_logged = false;
}

const StepView* RehearsedJob::step() const
{
    return m_at < m_evaluation.steps.size() ? &m_evaluation.steps[m_at] : nullptr;
}

void RehearsedJob::carryOut()
{
    if (step() == nullptr)
        return;
    const Step now = step()->step;
    if (now.is(Does::LoadResistive))
        lightLoads(now);
    sharedLoads(now);
    if (now.is(Does::Discharge))
        measureNow(now);
    for (const BenchMove& move : movesOf(now))
        add(now, move);
    for (const Asked& asked : now.asks)
        ask(now, asked);
    if (now.is(Does::Prove))
        readAgain(now);
    ++m_at;
    if (m_logged)
        evaluateAnew(now.id);
}

/// The countdown of the bleeders proves nothing: what they left is measured before anything is put across it.
void RehearsedJob::measureNow(const Step& step)
{
    // A capacitance 20 % high and a bleeder 5 % high make 1.26; the rest is the meter's doubt.
    constexpr double slowest = 1.3;
    const IsolationView view = isolation();
    if (view.state != Isolation::Unproven || !view.off_since_s)
        return;
    const double off_s = m_benches.timeS() - *view.off_since_s;
    for (const Reservoir& reservoir : energy().reservoirs) {
        if (!reservoir.discharge_s || off_s < *reservoir.discharge_s)
            continue;
        const auto move = moveFor({.point = reservoir.point,
                                   .quantity = Quantity::Voltage,
                                   .window = std::nullopt,
                                   .load_a = std::nullopt,
                                   .because = {},
                                   .unit = reservoir.unit});
        if (!move)
            continue;
        // What the dielectric gives back meanwhile comes on top, at most.
        const double left_v =
            reservoir.leftAfter(off_s / slowest) + recoveryShare(reservoir.kind) * reservoir.v0_v;
        hold(add(step, *move), ReadingWindow{std::nullopt, std::max(dead_v, left_v)},
             "what its bleeder leaves by now", true);
    }
}

/// What can recover is read a second time, when that may be; what did recover is drained and read anew.
void RehearsedJob::readAgain(const Step& step)
{
    constexpr int most = 50; // readings
    for (int i = 0; i < most; ++i) {
        const IsolationView view = isolation();
        if (!view.second_from_s)
            return;
        if (const double wait_s = *view.second_from_s - m_benches.timeS(); wait_s > 0)
            add(step, {.kind = MoveKind::Wait, .value = std::ceil(wait_s) + 1});
        const std::size_t number = view.second_point.rfind(" #");
        BenchMove probe{.kind = MoveKind::Probe, .point = view.second_point.substr(0, number)};
        if (number != std::string::npos)
            probe.unit = std::stoul(view.second_point.substr(number + 2));
        const auto& read = add(step, probe).answer.reading;
        if (!read || !read->value || std::abs(*read->value) < dead_v)
            continue;
        for (const BenchMove& move : drains())
            add(step, move);
        add(step, probe);
    }
}

EnergyModel RehearsedJob::energy() const
{
    // What was put in holds nothing before it was powered.
    bool fitted = false;
    bool powered = false;
    for (const PlayedMove& played : m_out.moves) {
        fitted = fitted || (played.answer.done && played.answer.move.kind == MoveKind::Fit);
        powered = powered || (fitted && played.answer.done && played.answer.move.kind == MoveKind::PlugIn);
    }
    return powered ? energyModel(m_job, m_evaluation.unit.supply, plannedChain(m_job))
                   : energyModel(m_job, Condition::Found);
}

IsolationView RehearsedJob::isolation() const
{
    const EnergyModel model = energy();
    const bool battery = std::ranges::count(model.sources, battery_source) > 0;
    std::vector<LogEntry> log;
    const auto enter = [&](LogKind kind, double t_s, const std::optional<std::string>& text = {}) {
        log.push_back({.id = std::to_string(log.size()), .time_s = t_s, .kind = kind, .text = text});
    };
    enter(LogKind::Opened, 0);
    std::set<std::size_t> plugged; // until somebody pulls them
    for (std::size_t unit = 1; unit <= m_benches.count(); ++unit)
        plugged.insert(unit);
    bool on_battery = false;
    for (const PlayedMove& played : m_out.moves) {
        const BenchAnswer& answer = played.answer;
        const MoveKind kind = answer.move.kind;
        const bool was_live = !plugged.empty() || on_battery;
        if (answer.done && kind == MoveKind::PlugIn)
            plugged.insert(answer.move.unit);
        if (answer.done && kind == MoveKind::Unplug)
            plugged.erase(answer.move.unit);
        const bool connects =
            kind == MoveKind::FuseIn || (kind == MoveKind::ConnectLoad && !answer.move.open);
        if (answer.done)
            on_battery = (battery && connects) || (on_battery && kind != MoveKind::DisconnectLoad);
        const bool live = !plugged.empty() || on_battery;
        if (answer.done && (kind == MoveKind::PlugIn || (live && !was_live)))
            enter(LogKind::Live, answer.t_s);
        if (answer.done && !live && (kind == MoveKind::Unplug || kind == MoveKind::DisconnectLoad))
            for (const std::string& source : model.sources)
                enter(LogKind::SourceOff, answer.t_s, source);
        const auto& reading = answer.reading;
        if (live || !reading || !reading->value || reading->quantity != Quantity::Voltage ||
            kind != MoveKind::Probe)
            continue;
        enter(LogKind::MeterProven, answer.t_s);
        enter(LogKind::Reading, answer.t_s);
        log.back().point = reading->point;
        log.back().unit = unitTag(answer.move.unit);
        log.back().quantity = Quantity::Voltage;
        log.back().value = reading->value;
        enter(LogKind::MeterProven, answer.t_s);
    }
    return isolationAt(log, model, m_benches.timeS());
}

std::vector<std::string> RehearsedJob::titlesToCome() const
{
    std::vector<std::string> titles;
    for (std::size_t at = m_at; at < m_evaluation.steps.size(); ++at)
        titles.push_back(m_evaluation.steps[at].step.title);
    return titles;
}

const PlayedMove& RehearsedJob::play(const BenchMove& move, const std::string& path)
{
    m_out.moves.push_back({.answer = m_benches.play(move, path)});
    return m_out.moves.back();
}

PlayedMove& RehearsedJob::add(const Step& step, const BenchMove& move)
{
    m_out.moves.push_back({.step = step.id, .answer = m_benches.play(move)});
    return m_out.moves.back();
}

/// A limiter and what is clipped on beside it belong to the unit that is powered next.
std::vector<std::size_t> RehearsedJob::unitsOf(const Step& step) const
{
    std::optional<std::size_t> one = step.unit;
    const bool before_power = step.is(Does::LampIn) || step.is(Does::LampOut) ||
                              step.is(Does::BenchSupplyIn) || step.is(Does::BenchSupplyOut) ||
                              step.is(Does::LoadResistive);
    if (!one && before_power)
        for (std::size_t next = m_at + 1; next < m_evaluation.steps.size(); ++next)
            if (const Step& power = m_evaluation.steps[next].step; power.is(Does::Power)) {
                one = power.unit;
                break;
            }
    std::vector<std::size_t> units;
    for (std::size_t unit = 1; unit <= m_benches.count(); ++unit)
        if (!one || *one == unit)
            units.push_back(unit);
    return units;
}

/// The load of the first reading to come, on before the power; none where it asks for none.
void RehearsedJob::lightLoads(const Step& step)
{
    const std::vector<std::size_t> units = unitsOf(step);
    for (const std::size_t unit : units) {
        const std::string& rail = m_benches.unit(unit).found().rails.front().name;
        const Asked* asked = nullptr;
        for (std::size_t next = m_at + 1; next < m_evaluation.steps.size() && asked == nullptr; ++next)
            for (const Asked& one : m_evaluation.steps[next].step.asks)
                if (m_evaluation.steps[next].step.kind == StepKind::Probe && one.point == rail &&
                    unitOf(one.unit) == unit)
                    asked = &one;
        BenchMove move =
            (asked != nullptr ? loadMove(*asked) : std::nullopt).value_or(BenchMove{.kind = MoveKind::Load});
        if (!move.value && units.size() > 1 && asked != nullptr && !asked->load_a)
            move.value =
                m_benches.unit(unit).lightLoadOhm() *
                (m_benches.joined() && !m_benches.sideBySide() ? static_cast<double>(units.size()) : 1);
        move.unit = unit;
        const bool on_bus = m_benches.joined() && unit > 1;
        if (asked != nullptr && !on_bus)
            add(step, move);
    }
}

/// What hangs on units that are all powered at once: nothing before they are joined, and on a stack; on a bus
/// what draws as much as the load.
void RehearsedJob::sharedLoads(const Step& step)
{
    if (m_benches.count() == 1 || !step.is(Does::Power) || step.unit || step.through != Through::Direct ||
        bench().loadConnected())
        return;
    const bool shares = m_benches.joined() && m_benches.sideBySide();
    const auto& target = m_job.need.target;
    std::optional<double> ohm;
    if (const auto share_a = shares ? shareAsked(m_evaluation.steps) : std::nullopt; share_a && target)
        ohm = testLoad(target->v, *share_a * static_cast<double>(m_benches.count())).ohm;
    for (std::size_t unit = 1; unit <= (m_benches.joined() ? 1 : m_benches.count()); ++unit)
        add(step, {.kind = MoveKind::Load, .value = ohm, .unit = unit});
}

void RehearsedJob::ask(const Step& step, const Asked& asked)
{
    const auto move = moveFor(asked);
    // A trimmer in for a time stands where it was preset: the simulated unit has the part in its place.
    if (!move || step.id == "change.trimmer.preset") {
        m_out.not_played.push_back(step.id + ": " + asked.name());
        return;
    }
    if (auto load = loadMove(asked); load && !bench().loadConnected()) {
        load->unit = move->unit;
        add(step, *load);
    }
    if (step.is(Does::Adjust) && &asked == &step.asks.front() && asked.window && asked.window->min &&
        asked.window->max)
        add(step, {.kind = MoveKind::Adjust,
                   .point = asked.point,
                   .value = std::abs(*asked.window->min + *asked.window->max) / 2,
                   .unit = move->unit});
    if (step.kind == StepKind::Prove)
        drainAgain(step, *move);
    PlayedMove& played = add(step, *move);
    hold(played, asked.window, asked.because, step.kind == StepKind::Prove);
    if (played.judgement)
        log(step, asked, *played.answer.reading);
}

/// What was read against where it was to be. Nothing was read where it would have hurt somebody; overload is
/// outside of every window.
void RehearsedJob::hold(PlayedMove& played, const std::optional<ReadingWindow>& window,
                        const std::string& because, bool either_sign)
{
    const auto& reading = played.answer.reading;
    if (!reading)
        return;
    played.window = window;
    played.because = because;
    if (reading->value)
        played.judgement = judgeReading({.value = either_sign ? std::abs(*reading->value) : *reading->value,
                                         .window = window,
                                         .uncertainty = reading->u});
}

/// What came back while others were drained shows when it is read: it is drained once more, and then counts.
void RehearsedJob::drainAgain(const Step& step, const BenchMove& probe)
{
    const auto v = m_benches.unit(probe.unit).storeVolts(probe.point);
    if (!v || *v < dead_v * back_share)
        return;
    add(step, probe);
    for (const BenchMove& move : drains())
        if (move.unit == probe.unit && move.point == probe.point)
            add(step, move);
}

void RehearsedJob::log(const Step& step, const Asked& asked, const BenchReading& reading)
{
    LogEntry entry{.id = nextLogId(m_job), .time_s = m_benches.timeS(), .kind = LogKind::Reading};
    entry.step = step.id;
    entry.point = asked.point;
    entry.unit = asked.unit;
    entry.quantity = asked.quantity;
    entry.value = reading.value;
    entry.uncertainty = reading.u;
    entry.stage = step.reading_stage;
    entry.isolation = m_benches.live() ? Isolation::Live : Isolation::ProvenDead;
    if (asked.load_a)
        entry.load = ReadingLoad{reading.load_a.value_or(*asked.load_a), Quantity::Current};
    m_job.log.push_back(std::move(entry));
    const Bench& read = m_benches.unit(unitOf(asked.unit));
    if (read.live() && read.running().how == Running::How::Hiccups)
        m_job.log.push_back({.id = nextLogId(m_job),
                             .time_s = m_benches.timeS(),
                             .kind = LogKind::Hunting,
                             .step = step.id,
                             .point = asked.point,
                             .unit = asked.unit});
    m_logged = true;
}

/// A resistor across each reservoir that holds more than a little.
std::vector<BenchMove> RehearsedJob::drains() const
{
    std::vector<BenchMove> moves;
    for (std::size_t unit = 1; unit <= m_benches.count(); ++unit) {
        const Bench& bench = m_benches.unit(unit);
        for (const TrueReservoir& reservoir : bench.unit().reservoirs(bench.changed()))
            if (const auto v = bench.storeVolts(reservoir.point); v && *v > dead_v / 2) {
                const DischargeTool tool = dischargeTool(std::max(*v, 2 * dead_v), reservoir.c_f);
                moves.push_back({.kind = MoveKind::Discharge,
                                 .point = reservoir.point,
                                 .value = tool.ohm,
                                 .time_s = std::max(by_hand_s, 2 * tool.seconds),
                                 .unit = unit});
            }
    }
    return moves;
}

/// The moves that lead to a step's readings, which come after them.
std::vector<BenchMove> RehearsedJob::movesOf(const Step& step) const
{
    std::vector<BenchMove> moves;
    const auto add = [&](MoveKind kind) {
        for (const std::size_t unit : unitsOf(step))
            moves.push_back({.kind = kind, .unit = unit});
    };
    for (const Does does : step.does)
        switch (does) {
        case Does::Isolate:
            add(MoveKind::Unplug);
            if (bench().batteryConnected()) // a source of its own
                moves.push_back({.kind = MoveKind::DisconnectLoad});
            break;
        case Does::MeasurePins: // nobody is there with the meter at once
            moves.push_back({.kind = MoveKind::Wait, .value = by_hand_s});
            break;
        case Does::OpenCase:
            add(MoveKind::OpenCase);
            break;
        case Does::CloseCase:
            add(MoveKind::CloseCase);
            break;
        case Does::LampIn:
        case Does::BenchSupplyIn:
            add(MoveKind::LampIn);
            break;
        case Does::LampOut:
        case Does::BenchSupplyOut:
            add(MoveKind::LampOut);
            break;
        case Does::Power:
            add(MoveKind::PlugIn);
            break;
        case Does::ConnectLoad: // a battery's fuse goes in last of all
            moves.push_back(
                {.kind = MoveKind::ConnectLoad, .open = m_job.need.load.kind == LoadKind::Battery});
            break;
        case Does::ConnectSource:
            if (m_job.need.load.kind == LoadKind::Battery)
                moves.push_back({.kind = MoveKind::FuseIn});
            break;
        case Does::OpenBond:
            add(MoveKind::OpenBond);
            break;
        case Does::Discharge:
            for (BenchMove& move : drains())
                moves.push_back(std::move(move));
            break;
        default:
            break;
        }
    // Again where a trimmer that was in for a time gives way to the part.
    if (fits(step) && (!bench().changed() || step.id == "change.trimmer.value"))
        moves.push_back({.kind = MoveKind::Fit});
    if (step.id == "join.link")
        moves.push_back({.kind = MoveKind::Join});
    if (step.wait_s && *step.wait_s > 0)
        moves.push_back({.kind = MoveKind::Wait, .value = std::ceil(*step.wait_s)});
    return moves;
}

/// The move that answers what is asked; nothing where the simulated unit has no such point.
std::optional<BenchMove> RehearsedJob::moveFor(const Asked& asked) const
{
    const std::size_t unit = unitOf(asked.unit);
    if (unit > m_benches.count())
        return std::nullopt;
    const bool charge = asked.point == "load" && asked.quantity == Quantity::Current;
    const std::string point = charge ? "charge" : asked.point;
    const bool of_join = (asked.point == "lead" && m_benches.leadAmps(unit)) ||
                         (asked.point == "difference" && unit > 1) ||
                         (asked.point == "node" && m_benches.joined());
    if (!of_join && !m_benches.unit(unit).knows(point, asked.quantity))
        return std::nullopt;
    const bool ohms = asked.quantity == Quantity::Resistance;
    return BenchMove{.kind = ohms ? MoveKind::Ohms : MoveKind::Probe, .point = point, .unit = unit};
}

} // namespace offshoot
