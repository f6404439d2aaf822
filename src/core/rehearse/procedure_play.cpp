#include "core/rehearse/procedure_play.h"

#include "core/procedure/change_procedure.h"

#include <algorithm>
#include <cmath>

namespace offshoot {

namespace {

/// Points beside rails and reservoirs that the simulated unit answers.
/// As the energy model names it.
constexpr std::string_view battery_source = "battery";
constexpr std::array<std::string_view, 4> live_points{"ripple", "mains", "pins", "line"};
constexpr std::array<std::string_view, 4> ohm_points{"earth", "insulation", "top", "bottom"};

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

Job withoutLog(Job job)
{
    job.log.clear();
    return job;
}

constexpr double by_hand_s = 5;

/// A resistor across each reservoir that holds more than a little.
std::vector<BenchMove> drainsOf(const Bench& bench)
{
    std::vector<BenchMove> moves;
    for (const TrueReservoir& reservoir : bench.unit().reservoirs(bench.changed()))
        if (const auto v = bench.storeVolts(reservoir.point); v && *v > dead_v / 2) {
            const DischargeTool tool = dischargeTool(std::max(*v, 2 * dead_v), reservoir.c_f);
            moves.push_back({.kind = MoveKind::Discharge,
                             .point = reservoir.point,
                             .value = tool.ohm,
                             .time_s = std::max(by_hand_s, 2 * tool.seconds)});
        }
    return moves;
}

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

RehearsedJob::RehearsedJob(Job job, std::uint64_t seed, const UnitFault& fault)
    : m_job(withoutLog(std::move(job)))
    , m_run(chainRunOf(m_job))
    , m_evaluation(evaluated())
    , m_bench(m_job, m_evaluation, seed, fault)
{
    skipOthers();
}

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

void RehearsedJob::skipOthers()
{
    while (const StepView* view = step()) {
        if (view->step.unit.value_or(1) == 1)
            return;
        ++m_at;
    }
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
        lightLoad();
    for (const BenchMove& move : movesOf(now, m_bench))
        add(now, m_bench.play(move));
    m_joined = m_joined || now.is(Does::JoinUnits);
    for (const Asked& asked : now.asks)
        ask(now, asked);
    if (now.is(Does::Prove))
        readAgain(now);
    ++m_at;
    if (m_logged)
        evaluateAnew(now.id);
    skipOthers();
}

/// What can recover is read a second time, when that may be; what did recover is drained and read anew.
void RehearsedJob::readAgain(const Step& step)
{
    constexpr int most = 50; // readings
    for (int i = 0; i < most; ++i) {
        const IsolationView view = isolation();
        if (!view.second_from_s)
            return;
        if (const double wait_s = *view.second_from_s - m_bench.timeS(); wait_s > 0)
            add(step, m_bench.play({.kind = MoveKind::Wait, .value = wait_s + 1}));
        const BenchMove probe{.kind = MoveKind::Probe, .point = view.second_point};
        const auto& read = add(step, m_bench.play(probe)).answer.reading;
        if (!read || !read->value || std::abs(*read->value) < dead_v)
            continue;
        for (const BenchMove& move : drainsOf(m_bench))
            add(step, m_bench.play(move));
        add(step, m_bench.play(probe));
    }
}

IsolationView RehearsedJob::isolation() const
{
    // What was put in holds nothing before it was powered.
    bool fitted = false;
    bool powered = false;
    for (const PlayedMove& played : m_out.moves) {
        fitted = fitted || (played.answer.done && played.answer.move.kind == MoveKind::Fit);
        powered = powered || (fitted && played.answer.done && played.answer.move.kind == MoveKind::PlugIn);
    }
    EnergyModel model = powered ? energyModel(m_job, m_evaluation.unit.supply, plannedChain(m_job))
                                : energyModel(m_job, Condition::Found);
    std::erase_if(model.reservoirs, [](const Reservoir& r) { return r.unit.has_value(); });
    const std::string plug = model.sources.front();
    const bool battery = std::ranges::count(model.sources, battery_source) > 0;
    model.sources = {plug};
    if (battery)
        model.sources.emplace_back(battery_source);
    std::vector<LogEntry> log;
    const auto enter = [&](LogKind kind, double t_s, const std::optional<std::string>& text = {}) {
        log.push_back({.id = std::to_string(log.size()), .time_s = t_s, .kind = kind, .text = text});
    };
    enter(LogKind::Opened, 0);
    bool plugged = true; // until somebody pulls it
    bool on_battery = false;
    for (const PlayedMove& played : m_out.moves) {
        const BenchAnswer& answer = played.answer;
        const MoveKind kind = answer.move.kind;
        const bool was_live = plugged || on_battery;
        if (answer.done) {
            plugged = kind == MoveKind::PlugIn || (plugged && kind != MoveKind::Unplug);
            on_battery = (battery && kind == MoveKind::ConnectLoad) ||
                         (on_battery && kind != MoveKind::DisconnectLoad);
        }
        const bool live = plugged || on_battery;
        if (answer.done && (kind == MoveKind::PlugIn || (live && !was_live)))
            enter(LogKind::Live, answer.t_s);
        if (answer.done && (kind == MoveKind::Unplug || kind == MoveKind::DisconnectLoad)) {
            if (!plugged)
                enter(LogKind::SourceOff, answer.t_s, plug);
            if (battery && !on_battery)
                enter(LogKind::SourceOff, answer.t_s, std::string(battery_source));
        }
        const auto& reading = answer.reading;
        if (live || !reading || !reading->value || reading->quantity != Quantity::Voltage ||
            kind != MoveKind::Probe)
            continue;
        enter(LogKind::MeterProven, answer.t_s);
        enter(LogKind::Reading, answer.t_s);
        log.back().point = reading->point;
        log.back().quantity = Quantity::Voltage;
        log.back().value = reading->value;
        enter(LogKind::MeterProven, answer.t_s);
    }
    return isolationAt(log, model, m_bench.timeS());
}

std::vector<std::string> RehearsedJob::titlesToCome() const
{
    std::vector<std::string> titles;
    for (std::size_t at = m_at; at < m_evaluation.steps.size(); ++at)
        if (m_evaluation.steps[at].step.unit.value_or(1) == 1)
            titles.push_back(m_evaluation.steps[at].step.title);
    return titles;
}

const PlayedMove& RehearsedJob::play(const BenchMove& move, const std::string& path)
{
    m_out.moves.push_back({.answer = m_bench.play(move, path)});
    return m_out.moves.back();
}

PlayedMove& RehearsedJob::add(const Step& step, BenchAnswer answer)
{
    m_out.moves.push_back({.step = step.id, .answer = std::move(answer)});
    return m_out.moves.back();
}

/// The load of the first reading to come, on before the power; none where it asks for none.
void RehearsedJob::lightLoad()
{
    const std::string& rail = m_job.found.rails.front().name;
    for (std::size_t next = m_at + 1; next < m_evaluation.steps.size(); ++next) {
        const Step& step = m_evaluation.steps[next].step;
        for (const Asked& asked : step.asks)
            if (step.kind == StepKind::Probe && !asked.unit && asked.point == rail) {
                add(m_evaluation.steps[m_at].step,
                    m_bench.play(loadMove(asked).value_or(BenchMove{.kind = MoveKind::Load})));
                return;
            }
    }
}

void RehearsedJob::ask(const Step& step, const Asked& asked)
{
    const auto move = moveFor(asked, m_job, m_bench);
    // A trimmer in for a time stands where it was preset: the simulated unit has the part in its place. Once
    // units are joined their outputs are those of the bus.
    const bool of_bus = m_joined && move && move->kind == MoveKind::Probe && m_bench.live();
    if (!move || of_bus || step.id == "change.trimmer.preset") {
        m_out.not_played.push_back(step.id + ": " + asked.name());
        return;
    }
    if (const auto load = loadMove(asked); load && !m_bench.loadConnected())
        add(step, m_bench.play(*load));
    if (step.is(Does::Adjust) && &asked == &step.asks.front() && asked.window && asked.window->min &&
        asked.window->max)
        add(step, m_bench.play({.kind = MoveKind::Adjust,
                                .point = asked.point,
                                .value = std::abs(*asked.window->min + *asked.window->max) / 2}));
    PlayedMove& played = add(step, m_bench.play(*move));
    if (!played.answer.reading)
        return; // it would have hurt somebody
    played.window = asked.window;
    played.because = asked.because;
    const BenchReading& reading = *played.answer.reading;
    if (!reading.value)
        return; // overload: outside of every window
    const double judged = step.kind == StepKind::Prove ? std::abs(*reading.value) : *reading.value;
    played.judgement = judgeReading({.value = judged, .window = asked.window, .uncertainty = reading.u});
    log(step, asked, reading);
}

void RehearsedJob::log(const Step& step, const Asked& asked, const BenchReading& reading)
{
    LogEntry entry{.id = nextLogId(m_job), .time_s = m_bench.timeS(), .kind = LogKind::Reading};
    entry.step = step.id;
    entry.point = asked.point;
    entry.quantity = asked.quantity;
    entry.value = reading.value;
    entry.uncertainty = reading.u;
    entry.stage = step.reading_stage;
    entry.isolation = m_bench.live() ? Isolation::Live : Isolation::ProvenDead;
    if (asked.load_a)
        entry.load = ReadingLoad{reading.load_a.value_or(*asked.load_a), Quantity::Current};
    m_job.log.push_back(std::move(entry));
    if (m_bench.live() && m_bench.running().how == Running::How::Hiccups)
        m_job.log.push_back({.id = nextLogId(m_job),
                             .time_s = m_bench.timeS(),
                             .kind = LogKind::Hunting,
                             .step = step.id,
                             .point = asked.point});
    m_logged = true;
}

std::vector<BenchMove> movesOf(const Step& step, const Bench& bench)
{
    std::vector<BenchMove> moves;
    const auto add = [&moves](MoveKind kind) { moves.push_back({.kind = kind}); };
    for (const Does does : step.does)
        switch (does) {
        case Does::Isolate:
            add(MoveKind::Unplug);
            if (bench.batteryConnected()) // a source of its own
                add(MoveKind::DisconnectLoad);
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
        case Does::ConnectLoad:
            add(MoveKind::ConnectLoad);
            break;
        case Does::Discharge:
            for (BenchMove& move : drainsOf(bench))
                moves.push_back(std::move(move));
            break;
        default:
            break;
        }
    // Again where a trimmer that was in for a time gives way to the part.
    if (fits(step) && (!bench.changed() || step.id == "change.trimmer.value"))
        add(MoveKind::Fit);
    if (step.wait_s && *step.wait_s > 0)
        moves.push_back({.kind = MoveKind::Wait, .value = *step.wait_s});
    return moves;
}

std::optional<BenchMove> moveFor(const Asked& asked, const Job& job, const Bench& bench)
{
    if (asked.unit)
        return std::nullopt;
    if (asked.quantity == Quantity::Resistance) {
        const bool leg = asked.point == "top" || asked.point == "bottom";
        if (!std::ranges::count(ohm_points, asked.point) ||
            (leg && !bench.unit().legOhm(asked.point == "top", bench.changed())))
            return std::nullopt;
        return BenchMove{.kind = MoveKind::Ohms, .point = asked.point};
    }
    const bool known = std::ranges::count(live_points, asked.point) > 0 || asked.point.starts_with("temp") ||
                       bench.storeVolts(asked.point) ||
                       (asked.quantity == Quantity::Voltage &&
                        std::ranges::count(job.found.rails, asked.point, &Rail::name) > 0);
    if (!known)
        return std::nullopt;
    return BenchMove{.kind = MoveKind::Probe, .point = asked.point};
}

} // namespace offshoot
