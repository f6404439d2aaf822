// What a move at the bench would have done that nobody should make.
#include "core/calculate/discharge.h"
#include "core/rehearse/bench.h"
#include "core/values/figures.h"

#include <algorithm>
#include <numbers>

namespace offshoot {

namespace {

/// Hand to hand, at mains voltage: about the median of IEC 60479-1.
constexpr double body_ohm = 1000;
/// Wires, contacts and a battery's own: about, for what flows when it is connected the wrong way round.
constexpr double wires_ohm = 0.05;
/// A tool across a reservoir: its ESR and the contact.
constexpr double tool_ohm = 0.1;

std::string joules(double energy_j) { return formatValue(energy_j, Quantity::Energy); }

} // namespace

std::string phrase(WrongMove wrong)
{
    static constexpr std::array<std::string_view, Words<WrongMove>::list.size()> phrases{
        "an ohmmeter on what is live",
        "an ohmmeter on what is charged",
        "a hand on what is live",
        "a hand on what is charged",
        "fitted while it is live",
        "fitted while it is charged",
        "opened while it is live",
        "the limiter moved while it is live",
        "full power first, without a limiter",
        "drained while it is live",
        "a reservoir shorted",
        "the real load first",
        "the load the wrong way round",
        "joined before each was read",
        "joined through the earth"};
    return std::string(phrases.at(static_cast<std::size_t>(wrong)));
}

void fields(Fields& f, WrongAnswer& out)
{
    f.need("what", out.what);
    f.need("would", out.would);
    f.may("v_v", out.v_v);
    f.may("i_a", out.i_a);
    f.may("energy_j", out.energy_j);
    f.need("first", out.first);
}

std::optional<WrongAnswer> Bench::named(WrongAnswer wrong)
{
    wrong.first = m_wrongs[wrong.what]++ == 0;
    return wrong;
}

/// The most that can be met in the unit while it is powered: its input's crest, or its highest output.
double Bench::liveVolts() const
{
    const double v = m_running.rails_v.empty() ? 0 : std::ranges::max(m_running.rails_v);
    return m_unit.dcFed(m_connected.changed) ? std::max(v, m_running.unit_v)
                                             : std::max(v, std::numbers::sqrt2 * m_unit.mainsV());
}

std::optional<WrongAnswer> Bench::powered(WrongMove what, const std::string& would)
{
    const double v = liveVolts();
    const bool body = what != WrongMove::OhmmeterLive;
    return named({.what = what,
                  .would = volts(v) + " " + would,
                  .v_v = v,
                  .i_a = body ? std::optional(v / body_ohm) : std::nullopt});
}

/// Extra-low voltage is not felt. Of the mains a hand feels the effective value.
std::optional<WrongAnswer> Bench::handWrong()
{
    const Held* held = mostCharged();
    if (!m_plugged)
        return held != nullptr && held->store.volts() >= extra_low_v
                   ? charged(WrongMove::HandOnCharge, "for a hand to take.")
                   : std::nullopt;
    const bool dc = m_unit.dcFed(m_connected.changed);
    const double outputs_v = std::ranges::max(m_running.rails_v);
    const double v = std::max(outputs_v, dc ? m_running.unit_v : m_unit.mainsV());
    if (v < extra_low_v)
        return std::nullopt;
    return named({.what = WrongMove::HandOnLive,
                  .would = volts(v) + " through a hand: about " + amps(v / body_ohm) +
                           " through 1 kΩ; 30 mA are enough to stop a heart.",
                  .v_v = v,
                  .i_a = v / body_ohm});
}

std::optional<WrongAnswer> Bench::fullPower()
{
    if (m_connected.limiter || m_limiter_passed)
        return std::nullopt;
    const bool dc = m_unit.dcFed(m_connected.changed);
    std::string would = std::string("Whatever is wrong inside gets all that ") +
                        (dc ? "its feed" : "the mains") + " can give";
    std::optional<double> i_a;
    if (!dc && m_evaluation.lamp) {
        i_a = m_evaluation.lamp->short_a;
        would += "; behind the lamp no more than " + amps(*i_a) + " would have flowed";
    }
    return named({.what = WrongMove::FullMainsFirst,
                  .would = would + ".",
                  .v_v = dc ? m_running.unit_v : m_unit.mainsV(),
                  .i_a = i_a});
}

std::optional<WrongAnswer> Bench::loadWrong(const BenchMove& move)
{
    const bool fuse = move.kind == MoveKind::FuseIn;
    if (m_plugged && !fuse)
        return powered(WrongMove::FittedLive, "on the terminals while they are being wired.");
    const double out_v =
        m_connected.changed ? m_evaluation.planned_v.value_or(0) : m_evaluation.found_v.value_or(0);
    const bool reversed = fuse ? m_load_reversed : move.reversed;
    if (!move.open && reversed != m_unit.swapped(m_connected.changed)) {
        const bool battery = m_job.need.load.kind == LoadKind::Battery;
        const double v = battery ? 2 * out_v : out_v;
        return named({.what = WrongMove::LoadReversed,
                      .would = battery ? "Battery and output add up: about " + amps(v / wires_ohm) +
                                             " through the wires, and through whatever rectifies the output."
                                       : "The load sees " + volts(-out_v) + " the wrong way round.",
                      .v_v = v,
                      .i_a = battery ? std::optional(v / wires_ohm) : std::nullopt});
    }
    if (m_output_right || fuse)
        return std::nullopt;
    return named({.what = WrongMove::LoadFirst,
                  .would =
                      "The load would have been the first to feel what the output really gives: it was not "
                      "read on a resistor at full mains yet.",
                  .v_v = m_connected.changed ? m_evaluation.planned_v : m_evaluation.found_v});
}

std::optional<WrongAnswer> Bench::charged(WrongMove what, const std::string& would)
{
    const Held* held = mostCharged();
    if (held == nullptr)
        return std::nullopt;
    const double v = held->store.volts();
    return named({.what = what,
                  .would = held->real.point + " holds " + volts(v) + " and " + joules(held->store.energyJ()) +
                           " " + would,
                  .v_v = v,
                  .energy_j = held->store.energyJ()});
}

std::optional<WrongAnswer> Bench::dischargeWrong(const BenchMove& move, const std::string& path)
{
    const double v = m_stores[storeNamed(move.point, path)].store.volts();
    if (!m_plugged)
        return std::nullopt;
    return named({.what = WrongMove::DischargedLive,
                  .would = "The resistor stays across " + volts(v) + ": " + watts(v * v / *move.value) +
                           " in it until it burns out, and nothing is discharged.",
                  .v_v = v,
                  .i_a = v / *move.value});
}

std::optional<WrongAnswer> Bench::bladeWrong(const BenchMove& move, const std::string& path)
{
    const Held& held = m_stores[storeNamed(move.point, path)];
    const double v = held.store.volts();
    if (v < dead_v)
        return std::nullopt;
    return named({.what = WrongMove::ReservoirShorted,
                  .would = joules(held.store.energyJ()) + " at " + volts(v) + " into the blade: about " +
                           amps(v / tool_ohm) + " and molten metal.",
                  .v_v = v,
                  .i_a = v / tool_ohm,
                  .energy_j = held.store.energyJ()});
}

std::optional<WrongAnswer> Bench::wrongOf(const BenchMove& move, const std::string& path)
{
    switch (move.kind) {
    case MoveKind::PlugIn:
        return m_plugged ? std::nullopt : fullPower();
    case MoveKind::LampIn:
    case MoveKind::LampOut:
        return m_plugged ? powered(WrongMove::LimiterMovedLive, "at the limiter's open ends.") : std::nullopt;
    case MoveKind::OpenCase:
        return m_plugged && m_job.found.opens()
                   ? powered(WrongMove::OpenedLive, "under the lid, within reach.")
                   : std::nullopt;
    case MoveKind::Ohms:
        if (m_plugged)
            return powered(WrongMove::OhmmeterLive, "into the ohmmeter, which is no meter after it.");
        // From the plug's earth pin to the case: no reservoir lies between.
        return move.point == "earth" || move.point == "bond"
                   ? std::nullopt
                   : charged(WrongMove::OhmmeterOnCharge, "for the ohmmeter to take.");
    case MoveKind::Hand:
        return handWrong();
    case MoveKind::Fit:
        return m_plugged ? powered(WrongMove::FittedLive, "under the iron.")
                         : charged(WrongMove::FittedCharged,
                                   "under the iron, and through the first part it meets.");
    case MoveKind::Discharge:
        return dischargeWrong(move, path);
    case MoveKind::Screwdriver:
        return bladeWrong(move, path);
    case MoveKind::ConnectLoad:
        return loadWrong(move);
    case MoveKind::FuseIn:
        return m_fuse_out ? loadWrong(move) : std::nullopt;
    case MoveKind::OpenBond:
        return m_plugged ? powered(WrongMove::FittedLive, "under the screwdriver.")
                         : charged(WrongMove::FittedCharged, "under the screwdriver.");
    default:
        return std::nullopt;
    }
}

} // namespace offshoot
