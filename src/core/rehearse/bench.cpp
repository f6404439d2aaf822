#include "core/rehearse/bench.h"

#include "core/calculate/discharge.h"
#include "core/evaluate/job_input.h"
#include "core/procedure/test_loads.h"
#include "core/values/figures.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace offshoot {

namespace {

constexpr double usual_hold_s = 5;
constexpr double warms_in_s = 600;

} // namespace

Job withoutLog(Job job)
{
    job.log.clear();
    return job;
}

Bench::Bench(const Job& job, std::uint64_t seed, const UnitFault& fault)
    : Bench(job, evaluateWhole({withoutLog(job), 0}), seed, fault)
{}

Bench::Bench(const Job& job, const Evaluation& evaluation, std::uint64_t seed, const UnitFault& fault)
    : Bench(job, evaluation, suitedDraw(withoutLog(job), evaluation, Draw(seed)), fault)
{}

Bench::Bench(const Job& job, const Evaluation& evaluation, const Draw& draw, const UnitFault& fault)
    : Bench(job, evaluation, draw, draw, fault)
{}

Bench::Bench(const Job& job, const Evaluation& evaluation, const Draw& own, const Draw& shared,
             const UnitFault& fault)
    : m_job(withoutLog(job))
    , m_draw(own)
    , m_shared(shared)
    , m_evaluation(evaluation)
    , m_unit(m_job, m_evaluation, m_draw, m_shared, fault)
{
    m_connected.load_s.assign(m_job.found.rails.size(), 0);
    m_connected.trim.assign(m_job.found.rails.size(), 1);
    setStores();
    m_connected.on_s = m_unit.warmsInS(); // it was on for long
    m_running = m_unit.running(m_connected);
    constexpr double long_s = 3600;
    if (m_running.how == Running::How::Runs)
        for (Held& held : m_stores)
            held.store.hold(heldVolts(held), long_s);
}

/// Those of the unit as it now stands; one of the same name keeps its volts.
void Bench::setStores()
{
    std::vector<Held> made;
    for (const TrueReservoir& real : m_unit.reservoirs(m_connected.changed)) {
        Held held{real, ChargedStore(real.c_f, real.recovered_share)};
        if (const auto v = storeVolts(real.point))
            held.store.hold(*v, 0);
        made.push_back(held);
    }
    m_stores = std::move(made);
}

std::optional<double> Bench::storeVolts(const std::string& point) const
{
    const auto held = std::ranges::find(m_stores, point, [](const Held& h) { return h.real.point; });
    return held == m_stores.end() ? std::nullopt : std::optional(held->store.volts());
}

const Bench::Held* Bench::mostCharged() const
{
    const auto held = std::ranges::max_element(m_stores, {}, [](const Held& h) { return h.store.volts(); });
    return held == m_stores.end() || held->store.volts() < dead_v ? nullptr : &*held;
}

std::size_t Bench::storeNamed(const std::string& point, const std::string& path) const
{
    if (m_stores.empty())
        throw DocumentError(ErrorCode::OutOfRange, path, "this unit has no reservoir that was entered");
    const Held* most = mostCharged();
    if (point.empty())
        return most != nullptr ? static_cast<std::size_t>(most - m_stores.data()) : 0;
    std::vector<std::string> names;
    for (std::size_t i = 0; i < m_stores.size(); ++i) {
        if (m_stores[i].real.point == point)
            return i;
        names.push_back(m_stores[i].real.point);
    }
    throw DocumentError(ErrorCode::OutOfRange, path, "no such reservoir; there is " + listed(names));
}

std::size_t Bench::railNamed(const std::string& name, const std::string& path) const
{
    const std::vector<Rail>& rails = m_job.found.rails;
    if (name.empty() || name == "out")
        return 0;
    std::vector<std::string> names;
    for (std::size_t i = 0; i < rails.size(); ++i) {
        if (rails[i].name == name)
            return i;
        names.push_back(rails[i].name);
    }
    throw DocumentError(ErrorCode::OutOfRange, path, "no such rail; there is " + listed(names));
}

/// What runs now: after anything that changes what is connected. A converter that runs on takes what its
/// loads now draw.
void Bench::settle()
{
    const Running now = asItRuns();
    if (!m_plugged) {
        m_running.taken_w = now.taken_w;
        if (heldUpVolts() > 0)
            pass(0);
        return;
    }
    m_running = now;
    m_fuse_blown = m_fuse_blown || m_running.how == Running::How::BlowsFuse;
    pass(0);
}

void Bench::join(const JoinedOutput& joined)
{
    m_joined = joined;
    settle();
}

Connected Bench::asConnected() const
{
    Connected made = m_connected;
    if (m_joined)
        made.load_s.front() = m_joined->load_s;
    return made;
}

Running Bench::asItRuns() const
{
    Running now = m_unit.running(asConnected());
    if (now.how == Running::How::Runs && m_joined && m_joined->at_v)
        now.rails_v.front() = *m_joined->at_v;
    return now;
}

double Bench::heldUpVolts() const { return m_joined && m_joined->at_v ? *m_joined->at_v : m_battery_v; }

void Bench::pass(double t_s)
{
    const double cold_s = m_unit.warmsInS() - m_connected.on_s;
    if (!m_plugged || cold_s <= 0 || t_s < cold_s)
        return passEvenly(t_s);
    passEvenly(cold_s); // and its cathodes are warm
    m_connected.on_s = m_unit.warmsInS();
    m_running = asItRuns();
    passEvenly(t_s - cold_s);
}

double Bench::heldVolts(const Held& held) const
{
    return held.real.rail ? m_running.rails_v[*held.real.rail] : held.real.v_per_unit_v * m_running.unit_v;
}

double Bench::drainSiemens(const Held& held) const
{
    return held.real.bleeder_s + (held.real.rail ? asConnected().load_s[*held.real.rail] : 0);
}

void Bench::passEvenly(double t_s)
{
    m_t_s += t_s;
    const double to = runs() ? 1 : 0;
    m_warmth = to + (m_warmth - to) * std::exp(-t_s / warms_in_s);
    const bool cold = m_connected.on_s < m_unit.warmsInS();
    (m_plugged ? m_connected.on_s : m_off_s) += t_s;
    // One that hiccups keeps its reservoir at the crest: only its outputs are gone.
    const bool fed = runs() || (m_plugged && !m_fuse_blown && m_running.how == Running::How::Hiccups);
    if (!fed)
        return passDead(t_s);
    for (Held& held : m_stores)
        if (!cold && (runs() || !held.real.rail))
            held.store.hold(heldVolts(held), t_s);
        else
            held.store.leave(drainSiemens(held), t_s);
}

/// The converter runs on out of its reservoir until it stops, and its rails with it; then all of them drain.
void Bench::passDead(double t_s)
{
    double ran_s = 0;
    for (Held& held : m_stores) {
        if (held.real.rail)
            continue;
        const bool feeds = m_unit.holdsUp(m_connected.changed) && m_running.taken_w > 0;
        const double full_v = held.real.v_per_unit_v * m_unit.mainsV();
        ran_s = std::max(ran_s, held.store.draw(feeds ? m_running.taken_w : 0, m_unit.stopShare() * full_v,
                                                drainSiemens(held), t_s));
    }
    for (Held& held : m_stores)
        if (held.real.rail == std::size_t{0} && heldUpVolts() > 0) {
            held.store.hold(heldUpVolts(), t_s);
        } else if (held.real.rail) {
            held.store.hold(held.store.volts(), ran_s);
            held.store.leave(drainSiemens(held), t_s - ran_s);
        }
}

double Bench::loadWatts() const
{
    const double v = m_joined ? m_joined->load_v.value_or(0) : runs() ? m_running.rails_v.front() : 0;
    return v * v * loadSiemens();
}

double Bench::lightLoadOhm() const
{
    constexpr double light_share = 0.1;
    const double v = m_evaluation.planned_v.value_or(m_evaluation.found_v.value_or(1));
    return testLoad(std::max(v, 1.0), light_share * m_evaluation.own_current_a.value_or(1)).ohm;
}

BenchReading Bench::reading(const std::string& point, Quantity quantity, std::optional<double> value) const
{
    if (!value || !std::isfinite(*value))
        return {point, quantity, std::nullopt, 0};
    // A meter is off the same way all day; a ripple is read from a screen.
    const double u = point == "ripple" ? scope_share * *value : m_job.meter.uncertainty(*value, quantity);
    const double off = m_shared.between("meter " + std::string(word(quantity)), -1, 1);
    const double shown = *value + off * u;
    const bool signless = quantity == Quantity::Resistance || point == "ripple";
    return {point, quantity, signless ? std::max(shown, 0.0) : shown, u};
}

BenchAnswer Bench::play(const BenchMove& move, const std::string& path)
{
    if (move.kind == MoveKind::Ohms)
        checkOhms(move.point, path);
    BenchAnswer answer{.move = move, .t_s = m_t_s, .seen = {}};
    answer.wrong = wrongOf(move, path);
    answer.done = !answer.wrong || answer.wrong->what == WrongMove::FullMainsFirst;
    if (answer.done)
        carryOut(move, path, answer);
    else
        answer.seen = "Not done here: it is named instead.";
    answer.t_s = m_t_s;
    return answer;
}

void Bench::carryOut(const BenchMove& move, const std::string& path, BenchAnswer& answer)
{
    switch (move.kind) {
    case MoveKind::PlugIn:
        m_connected.on_s = m_plugged ? m_connected.on_s : 0;
        if (!m_plugged)
            m_surge = m_unit.surge(
                m_connected.limiter, m_connected.changed,
                m_draw.between("switched on " + std::to_string(++m_switched_on), 0, std::numbers::pi));
        m_plugged = true;
        settle();
        break;
    case MoveKind::Unplug:
        m_off_s = m_plugged ? 0 : m_off_s;
        m_plugged = false;
        break;
    case MoveKind::LampIn:
    case MoveKind::LampOut:
        m_connected.limiter = move.kind == MoveKind::LampIn;
        break;
    case MoveKind::Load:
        return setLoad(move, path, answer);
    case MoveKind::Adjust:
        return adjust(move, path, answer);
    case MoveKind::Probe:
        return probe(move.point, path, answer);
    case MoveKind::Ohms:
        return ohms(move.point, answer);
    case MoveKind::Discharge:
        return discharge(move, path, answer);
    case MoveKind::Screwdriver:
    case MoveKind::Hand:
        answer.seen = "Nothing happens.";
        return;
    case MoveKind::OpenCase:
    case MoveKind::CloseCase:
        return moveLid(move.kind == MoveKind::OpenCase, answer);
    case MoveKind::Fit:
        m_connected.changed = true;
        m_limiter_passed = m_output_right = m_read_at_full = m_fuse_blown = false;
        m_connected.trim.assign(m_connected.trim.size(), 1);
        setStores();
        break;
    case MoveKind::Wait:
        pass(*move.value);
        break;
    case MoveKind::ConnectLoad:
        connectLoad(move);
        break;
    case MoveKind::FuseIn:
        closeFuse();
        break;
    case MoveKind::DisconnectLoad:
        m_load_connected = m_fuse_out = m_load_reversed = false;
        m_battery_v = 0;
        m_connected.load_s.front() = 0;
        settle();
        break;
    case MoveKind::Look:
        break;
    case MoveKind::Capture:
        return capture(move, answer);
    case MoveKind::OpenBond:
        m_bond_opened = true;
        break;
    case MoveKind::Join:
        break; // of all of them: see Benches
    }
    answer.seen = look();
}

/// It was armed all along: a surge is that of the last time it was switched on.
void Bench::capture(const BenchMove& move, BenchAnswer& answer)
{
    const auto point = *enumFrom<CapturePoint>(move.point);
    const bool surge = point == CapturePoint::Surge;
    if (surge && !m_surge) {
        answer.seen = m_switched_on == 0 ? "Nothing was captured: it was not switched on yet."
                      : m_job.found.dcFed()
                          ? "A unit on DC has no surge from the mains."
                          : "What stands in the way of its surge is not entered: see Inrush.";
        return;
    }
    RippleSource ripple{.pp_v = 0};
    if (runs())
        ripple = m_unit.ripple(0, m_running, m_connected.changed);
    const Draw draw = m_draw.within(move.point + std::to_string(m_t_s));
    answer.capture = surge ? surgeTrace(*m_surge, draw) : rippleTrace(ripple, m_draw, draw);
    const LogEntry entry = captureEntry(point, *answer.capture, m_job);
    answer.reading = BenchReading{move.point, *entry.quantity, entry.value, entry.uncertainty.value_or(0)};
    if (!surge)
        answer.reading->load_a = runs() ? m_running.rails_v.front() * m_connected.load_s.front() : 0;
    answer.seen = std::to_string(answer.capture->values.size()) + " samples, one every " +
                  formatValue(answer.capture->dt_s, Quantity::Time) + ".";
}

/// A battery takes nothing and pushes nothing back while its fuse is out.
void Bench::connectLoad(const BenchMove& move)
{
    m_load_connected = true;
    m_load_reversed = move.reversed;
    m_fuse_out = move.open && isBattery();
    if (!m_fuse_out)
        closeFuse();
}

/// A battery holds the output where it stands itself, unless a diode keeps it out.
void Bench::closeFuse()
{
    m_fuse_out = false;
    if (!m_load_connected)
        return;
    const double planned_v = m_evaluation.planned_v.value_or(1);
    m_connected.load_s.front() =
        m_shared_load_s.value_or(m_evaluation.own_current_a.value_or(0) / std::max(planned_v, 1.0));
    if (isBattery() && !m_job.need.load.battery.blocking_diode.value_or(false))
        m_battery_v = batteryEmf();
    settle();
}

double Bench::batteryEmf() const
{
    constexpr double usual_flat_share = 0.8;
    const double planned_v = m_evaluation.planned_v.value_or(1);
    return m_draw.between("battery", m_job.need.load.battery.v_flat_v.value_or(usual_flat_share * planned_v),
                          planned_v);
}

double Bench::atLoadVolts() const
{
    if (m_joined)
        return m_joined->load_v.value_or(0);
    return runs() ? m_running.rails_v.front() * runShare(m_job, m_evaluation) : 0;
}

void Bench::moveLid(bool open, BenchAnswer& answer)
{
    answer.done = m_job.found.opens();
    m_open = answer.done && open;
    answer.seen = answer.done                 ? look()
                  : m_job.found.outsideOnly() ? "It is sealed: it opens only to be destroyed."
                                              : "There is no case around it.";
}

/// Turned until the meter shows it, or to the trimmer's end: the output rises with the trimmer.
void Bench::adjust(const BenchMove& move, const std::string& path, BenchAnswer& answer)
{
    const std::size_t rail = railNamed(move.point, path);
    if (runs()) {
        constexpr double far = 100;
        constexpr int halvings = 40;
        auto [least, most] = m_unit.trimRange(rail, m_connected.changed);
        most = std::min(most, far);
        double& trim = m_connected.trim[rail];
        const auto below = [&](double at) {
            trim = at;
            return m_unit.running(asConnected()).rails_v[rail] < *move.value;
        };
        for (int i = 0; i < halvings; ++i) {
            const double middle = (least + most) / 2;
            (below(middle) ? least : most) = middle;
        }
        settle();
        answer.seen = look();
    } else {
        answer.seen = live() ? "Nothing moves: it is live, but gives nothing." : "Nothing moves: it is off.";
    }
    probe(m_job.found.rails[rail].name, path, answer);
}

void Bench::setLoad(const BenchMove& move, const std::string& path, BenchAnswer& answer)
{
    const std::size_t rail = railNamed(move.point, path);
    m_connected.load_s[rail] = move.value ? 1 / *move.value : 0;
    settle();
    answer.seen = look();
}

void Bench::discharge(const BenchMove& move, const std::string& path, BenchAnswer& answer)
{
    Held& held = m_stores[storeNamed(move.point, path)];
    const std::string& point = held.real.point;
    const double before_v = held.store.volts();
    const double bleeder_s = held.real.bleeder_s;
    held.real.bleeder_s += 1 / *move.value;
    pass(move.time_s.value_or(usual_hold_s));
    held.real.bleeder_s = bleeder_s;
    answer.seen = point + " from " + volts(before_v) + ", " + watts(before_v * before_v / *move.value) +
                  " in the resistor at first.";
    answer.reading = reading(point, Quantity::Voltage, held.store.volts());
}

bool Bench::knows(const std::string& point, Quantity quantity) const
{
    if (quantity == Quantity::Resistance)
        return point == "earth" || point == "insulation" || point == "load-earth" ||
               (point == "bond" && m_job.found.joint.bonded != Bond::Unknown) ||
               ((point == "top" || point == "bottom") && m_unit.legOhm(point == "top", m_connected.changed));
    if (isOutputOrStore(point))
        return quantity == Quantity::Voltage;
    const auto other = otherReading(point);
    return other && other->first == quantity;
}

bool Bench::isOutputOrStore(const std::string& point) const
{
    return storeVolts(point) || std::ranges::count(m_job.found.rails, point, &Rail::name) > 0;
}

/// What is neither a rail nor a reservoir; nothing for a point that it does not know.
std::optional<std::pair<Quantity, double>> Bench::otherReading(const std::string& point) const
{
    const bool runs = this->runs();
    const bool dc = m_unit.dcFed(m_connected.changed);
    const double first_v = runs ? m_running.rails_v.front() : 0;
    const auto live = [](Quantity quantity, bool there, double value) {
        return std::pair(quantity, there ? value : 0.0);
    };
    if (point == "ripple")
        return live(Quantity::Voltage, runs, runs ? m_running.ripple_v.front() : 0);
    if (point == "mains")
        return live(Quantity::Voltage, !dc, m_unit.mainsV());
    if (point == "pins") // across the plug's; while it is in, those of the socket
        return std::pair(Quantity::Voltage,
                         m_plugged ? m_unit.mainsV() : m_unit.pinsVolts(m_off_s, m_connected.changed));
    if (point == "line")
        return live(Quantity::Current, runs, m_running.line_a);
    if (point == "in")
        return live(Quantity::Voltage, m_plugged && dc, m_running.unit_v);
    if (point == "load")
        return live(Quantity::Voltage, m_load_connected, atLoadVolts());
    if (point == "charge") // into the load, by a clamp
        return live(Quantity::Current, m_load_connected, first_v * m_connected.load_s.front());
    if (point == "polarity" && isBattery()) {
        const bool swapped = m_load_reversed != m_unit.swapped(m_connected.changed);
        return live(Quantity::Voltage, m_fuse_out, first_v + (swapped ? batteryEmf() : -batteryEmf()));
    }
    if (point == "bypass" && m_unit.bypassS())
        return live(Quantity::Time, runs, *m_unit.bypassS());
    if (point == "leakage")
        return live(Quantity::Voltage, m_plugged && !dc, m_unit.leakageV());
    if (point.starts_with("temp"))
        return std::pair(Quantity::Temperature, m_unit.roomK() + m_unit.riseK() * m_warmth);
    return std::nullopt;
}

void Bench::probe(const std::string& point, const std::string& path, BenchAnswer& answer)
{
    const bool runs = this->runs();
    const std::vector<Rail>& rails = m_job.found.rails;
    const double first_v = runs ? m_running.rails_v.front() : 0;
    const auto take = [&](Quantity quantity, double value) {
        answer.reading = reading(point, quantity, value);
        answer.reading->load_a = first_v * m_connected.load_s.front();
    };
    if (const auto other = isOutputOrStore(point) ? std::nullopt : otherReading(point)) {
        take(other->first, other->second);
        if (point == "charge")
            answer.reading->point = "load";
        return;
    }
    const auto held = std::ranges::find(m_stores, point, [](const Held& h) { return h.real.point; });
    if (held != m_stores.end() && !(runs && held->real.rail))
        return take(Quantity::Voltage,
                    held->store.volts() * (held->real.rail ? rails[*held->real.rail].sign() : 1));
    const std::size_t rail = railNamed(point, path);
    const double sign = rails[rail].sign() * (m_unit.swapped(m_connected.changed) ? -1 : 1);
    take(Quantity::Voltage, runs ? sign * m_running.rails_v[rail] : 0);
    if (!runs || rail != 0)
        return;
    m_limiter_passed = m_limiter_passed || m_connected.limiter;
    m_read_at_full = m_read_at_full || !m_connected.limiter;
    constexpr double droops = 0.05; // below the plan at most, as a regulated output with load is allowed
    const auto target = unitTarget(m_job);
    const auto& planned = m_evaluation.planned_range;
    const bool right =
        sign == rails[rail].sign() &&
        ((target && within(first_v, target->min_v, target->max_v)) ||
         (planned && within(first_v, planned->min_v * (1 - droops), planned->max_v * (1 + droops))));
    m_output_right = m_output_right || (!m_connected.limiter && m_connected.changed && right);
}

/// What an ohmmeter can be held to in this unit.
void Bench::checkOhms(const std::string& point, const std::string& path) const
{
    const bool mains = point == "earth" || point == "insulation";
    const bool leg = point == "top" || point == "bottom";
    if (!mains && !leg && point != "bond" && point != "load-earth")
        throw DocumentError(ErrorCode::OutOfRange, path,
                            "there is earth, insulation, bond, load-earth, top and bottom");
    if (point == "bond" && m_job.found.joint.bonded == Bond::Unknown)
        throw DocumentError(ErrorCode::OutOfRange, path, "what its output is tied to was not entered");
    if (mains && m_unit.dcFed(m_connected.changed))
        throw DocumentError(ErrorCode::OutOfRange, path, "a unit fed from DC has no mains side");
    if (leg && !m_unit.legOhm(point == "top", m_connected.changed))
        throw DocumentError(ErrorCode::OutOfRange, path, "the divider of this unit was not entered");
}

void Bench::ohms(const std::string& point, BenchAnswer& answer)
{
    const double ohm = point == "earth"                                 ? m_unit.earthOhm()
                       : point == "insulation" || point == "load-earth" ? m_unit.insulationOhm()
                       : point == "bond"
                           ? (m_job.found.joint.bonded == Bond::None || m_bond_opened ? m_unit.insulationOhm()
                                                                                      : m_unit.bondOhm())
                           : *m_unit.legOhm(point == "top", m_connected.changed);
    answer.reading = reading(point, Quantity::Resistance, ohm);
}

std::string Bench::look() const
{
    if (m_plugged && m_fuse_blown)
        return "The fuse has blown.";
    const std::string lid = m_open ? " The case is open." : "";
    if (!m_plugged) {
        const Held* charged = mostCharged();
        return std::string("Off.") +
               (charged != nullptr ? " Nothing shows that " + charged->real.point + " is charged." : "") +
               lid;
    }
    std::string seen = "Live.";
    if (m_running.glow)
        seen += " The lamp is " + phrase(*m_running.glow) + ".";
    switch (m_running.how) {
    case Running::How::Runs:
        break;
    case Running::How::Hiccups:
        seen += " It tries to start again and again.";
        break;
    case Running::How::Short:
    case Running::How::BlowsFuse:
        seen += " Nothing comes out.";
        break;
    case Running::How::Open:
        seen += " No current is drawn, and nothing comes out.";
        break;
    }
    return seen + lid;
}

} // namespace offshoot
