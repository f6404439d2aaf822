#include "core/judge/consequences.h"

#include "core/values/format.h"

#include <algorithm>
#include <cmath>
#include <functional>

namespace offshoot {

namespace {

constexpr std::array<RowInfo, Words<RowId>::list.size()> row_infos{{
    {RowId::FuseVoltage, Station::Fuse, "Fuse", "rated voltage", Quantity::Voltage, true, true,
     "rated voltage", "the fuse's rated voltage"},
    {RowId::FuseCurrent, Station::Fuse, "Fuse", "line current", Quantity::Current, true, true, "value",
     "the fuse's value"},
    {RowId::InputRectifierReverse, Station::InputRectifier, "Mains rectifier", "reverse voltage",
     Quantity::Voltage, true, false, "reverse rating", "the rectifier's reverse rating"},
    {RowId::BulkVoltage, Station::Reservoir, "Bulk capacitor", "voltage", Quantity::Voltage, true, true,
     "rated voltage", "the bulk capacitor's rated voltage"},
    {RowId::SwitchVoltage, Station::Converter, "Switch", "drain voltage", Quantity::Voltage, true, true,
     "rated voltage", "the switch's rated voltage and the transformer's ratio"},
    {RowId::ClampLevel, Station::Converter, "Clamp", "reflected voltage", Quantity::Voltage, true, false,
     "clamp level", "the clamp's level"},
    {RowId::ConverterDuty, Station::Converter, "Controller", "duty at lowest mains", std::nullopt, true,
     false, "", "the controller's largest duty"},
    {RowId::AuxiliaryLow, Station::Converter, "Controller supply", "lockout", Quantity::Voltage, true, false,
     "", "the auxiliary turns and the controller's lockout"},
    {RowId::AuxiliaryHigh, Station::Converter, "Controller supply", "maximum", Quantity::Voltage, true, false,
     "maximum supply", "the auxiliary turns and the controller's maximum"},
    {RowId::OutputCurrent, Station::Transformer, "Output current", "allowed", Quantity::Current, false, false,
     "", "the rated output current"},
    {RowId::RectifierReverse, Station::OutputRectifier, "Rectifier", "reverse voltage", Quantity::Voltage,
     false, false, "reverse rating", "the output rectifier's reverse rating and the transformer's ratio"},
    {RowId::OutputCapacitorVoltage, Station::Smoothing, "Output capacitor", "voltage", Quantity::Voltage,
     false, false, "rated voltage", "the output capacitor's rated voltage"},
    {RowId::TripVoltage, Station::Smoothing, "Over-voltage trip", "voltage", Quantity::Voltage, false, false,
     "trip voltage", "whether there is a zener or crowbar, and its voltage"},
    {RowId::MinimumLoadPower, Station::Smoothing, "Bleeder", "power", Quantity::Power, false, false,
     "rated power", "whether a bleeder is fitted, its ohms and power"},
    {RowId::IndicatorPower, Station::Smoothing, "Indicator resistor", "power", Quantity::Power, false, false,
     "rated power", "whether an indicator is fitted, its resistor and power"},
    {RowId::ReferenceCathode, Station::Feedback, "Reference", "cathode voltage", Quantity::Voltage, false,
     false, "cathode rating", "what feeds the reference"},
    {RowId::OptocouplerCurrent, Station::Feedback, "Optocoupler", "LED current to spare", Quantity::Current,
     false, false, "", "the LED's resistor and the current the controller needs"},
    {RowId::BatteryFlatCurrent, Station::Load, "Flat battery", "charging current", Quantity::Current, false,
     false, "charging limit", "the largest charging current of the battery"},
    {RowId::BatteryBackFeed, Station::Load, "Back-feed", "30 days", Quantity::Current, false, false, "",
     "the battery's capacity and what stays across it"},
    {RowId::BatteryCrowbar, Station::Load, "Crowbar", "across the battery", Quantity::Current, false, false,
     "", "whether the supply has a crowbar"},
}};

constexpr double default_spike_share = 0.3;
constexpr double default_trough = 0.85;
constexpr double default_efficiency = 0.8;
constexpr double default_power_factor = 0.6;
constexpr double default_indicator_v = 2.0;
constexpr double default_opto_v = 1.2;
constexpr double default_cathode_v = 36;
constexpr double default_auxiliary_drop_v = 0.9;
constexpr double reference_bias_a = 1e-3;
constexpr double trip_breaks_share = 0.95;
constexpr double drain_days = 30;
constexpr double drain_share = 0.1;

/// The output in one condition: as found or as planned.
struct State
{
    double low_v;
    double high_v;
    double i_a;
};

using Value = std::optional<double>;
using Judged = std::pair<Value, Verdict>;
using Judge = Judged (*)(double value, double limit);

Judged upper(double value, double limit) { return {value / limit, judgeUse(value / limit)}; }

Judged upToLimit(double value, double limit) { return {value / limit, judgeUse(value / limit, {1, 1})}; }

Judged resistorPower(double value, double limit)
{
    return {value / limit, judgeUse(value / limit, resistor_power_bounds)};
}

/// Below the off-threshold it starves; within a tenth above it is tight.
Judged lockout(double value, double limit) { return {limit / value, judgeUse(limit / value, {1 / 1.1, 1})}; }

/// Fits from 1.4 times the reflected voltage; at 1.1 times or less the clamp burns output energy.
Judged clamp(double value, double limit)
{
    const double room = limit / value;
    const Verdict verdict = atMost(room, 1.1)    ? Verdict::Breaks
                            : atLeast(room, 1.4) ? Verdict::Fits
                                                 : Verdict::Tight;
    return {1.1 / room, verdict};
}

Judged trip(double value, double limit)
{
    const double use = value / limit;
    return {use, atLeast(use, trip_breaks_share) ? Verdict::Breaks : judgeUse(use)};
}

/// `limit` must be available in `value`.
Judged needed(double value, double limit)
{
    if (value <= 0)
        return {std::nullopt, Verdict::Breaks};
    return {limit / value, judgeUse(limit / value)};
}

std::string volts(double v) { return formatVolts(v); }
std::string amps(double a) { return formatValue(a, Quantity::Current); }

/// Builds the rows of one supply with one rail.
class RowMaker
{
public:
    RowMaker(const ConsequencesInput& in, const Rail& rail, const RailPlan& plan)
        : m_in(in)
        , m_s(in.supply)
        , m_rail(rail)
        , m_planned{plan.low(), plan.high(), plan.i_a}
    {
        if (rail.v_v)
            m_found = State{*rail.v_v, *rail.v_v, plan.i_a};
    }

    std::vector<ConsequenceRow> run()
    {
        mainsRows();
        converterRows();
        auxiliaryRows();
        outputRows();
        hungOnRows();
        feedbackRows();
        if (m_in.load.kind == LoadKind::Battery)
            batteryRows();
        return std::move(m_rows);
    }

    /// The primary current limit fixes the power, the rectifier's share included.
    Value allowedCurrent() const
    {
        if (!m_rail.i_rated_a || !m_found)
            return m_rail.i_rated_a;
        const double share = (m_found->high_v + rectifierDrop()) / (m_planned.high_v + rectifierDrop());
        return *m_rail.i_rated_a * std::min(1.0, share);
    }

private:
    template <class ValueAt, class WorkingAt>
    void add(RowId id, Value limit, ValueAt value, Judge judge, std::string formula, WorkingAt working,
             std::vector<std::string> assumed = {})
    {
        const RowInfo& info = rowInfo(id);
        ConsequenceRow row{};
        row.id = id;
        row.station = info.station;
        row.part = info.part;
        row.quantity = info.quantity;
        row.planned = value(m_planned);
        if (m_found)
            row.found = value(*m_found);
        row.limit = limit;
        row.assumed = std::move(assumed);
        row.formula = std::move(formula);
        row.verdict = Verdict::Unknown;
        if (row.planned) {
            row.working = working(m_planned);
            if (limit)
                std::tie(row.use, row.verdict) = judge(*row.planned, *limit);
        }
        row.worse = isWorse(row, judge);
        m_rows.push_back(std::move(row));
    }

    bool isWorse(const ConsequenceRow& row, Judge judge) const
    {
        const bool moves =
            !m_found || std::abs(m_planned.high_v - m_found->high_v) > limit_share * m_planned.high_v;
        if (!row.planned)
            return moves && !rowInfo(row.id).mains_side;
        if (!row.found)
            return true;
        if (!row.limit)
            return *row.planned > *row.found * (1 + limit_share);
        const Judged before = judge(*row.found, *row.limit);
        return badness(row.verdict) > badness(before.second) ||
               (row.use && before.first && *row.use > *before.first * (1 + limit_share));
    }

    /// Notes an assumption when nobody read the value.
    static double orAssume(const Value& read, double usual, std::vector<std::string>& assumed,
                           std::string what)
    {
        if (!read)
            assumed.push_back(std::move(what));
        return read.value_or(usual);
    }

    double rectifierDrop() const
    {
        constexpr double schottky_v = 0.5;
        constexpr double fast_v = 0.9;
        return m_rail.rectifier.v_f_v.value_or(m_rail.rectifier.kind == RectifierKind::Schottky ? schottky_v
                                                                                                : fast_v);
    }
    void assumeDrop(std::vector<std::string>& assumed) const
    {
        if (!m_rail.rectifier.v_f_v)
            assumed.push_back("rectifier drop " + volts(rectifierDrop()));
    }
    double highestInput() const { return inputCrest(m_s.input, m_in.mains.highest()); }

    Value reflected(const State& s) const
    {
        const auto& ratio = m_s.transformer.primary_turns_per_secondary;
        if (!ratio)
            return std::nullopt;
        return (s.high_v + rectifierDrop()) * *ratio;
    }

    double auxiliaryDrop(std::vector<std::string>& assumed) const
    {
        assumeDrop(assumed);
        return orAssume(m_s.auxiliary.v_f_v, default_auxiliary_drop_v, assumed,
                        "auxiliary rectifier drop 0.9 V");
    }
    Value auxiliarySupply(double v, double drop_v) const
    {
        const auto& ratio = m_s.transformer.auxiliary_turns_per_secondary;
        return ratio ? Value((v + rectifierDrop()) * *ratio - drop_v) : Value();
    }
    std::string auxiliaryWorking(double v, double drop_v) const
    {
        return "(" + volts(v) + " + " + volts(rectifierDrop()) + ") × " +
               significant(*m_s.transformer.auxiliary_turns_per_secondary, 4) + " − " + volts(drop_v) +
               " = " + volts(*auxiliarySupply(v, drop_v));
    }

    void mainsRows();
    void converterRows();
    void auxiliaryRows();
    void outputRows();
    void windingTripRow();
    void hungOnRows();
    void feedbackRows();
    void batteryRows();
    void crowbarRow();

    const ConsequencesInput& m_in;
    const Supply& m_s;
    const Rail& m_rail;
    State m_planned;
    std::optional<State> m_found;
    std::vector<ConsequenceRow> m_rows;
};

void RowMaker::mainsRows()
{
    const double mains_v = m_in.mains.v_v;
    add(
        RowId::FuseVoltage, m_s.fuse.v_rated_v, [&](const State&) -> Value { return mains_v; }, upToLimit,
        "nominal mains ≤ rated voltage", [&](const State&) { return volts(mains_v); });

    std::vector<std::string> assumed;
    const double efficiency = orAssume(m_s.efficiency, default_efficiency, assumed, "efficiency 80 %");
    assumed.emplace_back("power factor 0.6");
    const auto line_a = [&](const State& s) -> Value {
        return s.high_v * s.i_a / (efficiency * default_power_factor * m_in.mains.lowest());
    };
    add(
        RowId::FuseCurrent, m_s.fuse.value_a, line_a, upper, "V·I / (η·pf·V_mains,min)",
        [&](const State& s) {
            return volts(s.high_v) + " × " + amps(s.i_a) + " / (" + significant(efficiency, 2) + " × 0.6 × " +
                   volts(m_in.mains.lowest()) + ") = " + amps(*line_a(s));
        },
        assumed);

    std::vector<std::string> bus;
    if (m_s.input.kind == InputKind::PowerFactorStage && !m_s.input.bus_v)
        bus.emplace_back("bus 385 V");
    const auto crest = [&](const State&) -> Value { return highestInput(); };
    const std::string crest_formula = m_s.input.kind == InputKind::Bridge ? "√2·V_mains,max"
                                      : m_s.input.kind == InputKind::Doubler
                                          ? "2√2·V_mains,max"
                                          : "bus behind the power factor stage";
    const auto crest_working = [&](const State&) {
        return crest_formula + " = " + volts(highestInput()) + " at " + volts(m_in.mains.highest());
    };
    add(RowId::InputRectifierReverse, m_s.input.v_rrm_v, crest, upper, crest_formula, crest_working, bus);
    add(RowId::BulkVoltage, m_s.bulk.v_rated_v, crest, upper, crest_formula, crest_working, bus);
}

void RowMaker::converterRows()
{
    std::vector<std::string> assumed;
    assumeDrop(assumed);
    std::vector<std::string> with_spike = assumed;
    if (!m_s.converter.spike_v)
        with_spike.emplace_back("leakage spike 0.3·V_or");
    const auto spike = [&](double v_or) {
        return m_s.converter.spike_v.value_or(default_spike_share * v_or);
    };
    const auto drain = [&](const State& s) -> Value {
        const Value v_or = reflected(s);
        return v_or ? Value(highestInput() + *v_or + spike(*v_or)) : Value();
    };
    const auto reflected_working = [&](const State& s) {
        return "V_or = (" + volts(s.high_v) + " + " + volts(rectifierDrop()) + ") × " +
               significant(*m_s.transformer.primary_turns_per_secondary, 4) + " = " + volts(*reflected(s));
    };
    add(
        RowId::SwitchVoltage, m_s.converter.v_rated_v, drain, upper, "V_in,max + V_or + V_spike",
        [&](const State& s) {
            return volts(highestInput()) + " + " + volts(*reflected(s)) + " + " +
                   volts(spike(*reflected(s))) + " = " + volts(*drain(s)) + "; " + reflected_working(s);
        },
        with_spike);
    add(
        RowId::ClampLevel, m_s.converter.clamp_v, [&](const State& s) { return reflected(s); }, clamp,
        "V_or = (V + V_f)·N_p/N_s; fits when the clamp is ≥ 1.4·V_or, breaks at ≤ 1.1·V_or",
        reflected_working, assumed);

    std::vector<std::string> trough = assumed;
    double v_in_min_v = inputCrest(m_s.input, m_in.mains.lowest());
    if (m_s.input.kind != InputKind::PowerFactorStage) {
        v_in_min_v *= default_trough;
        trough.emplace_back("ripple trough 0.85 of the crest");
    }
    const auto duty = [&](const State& s) -> Value {
        const Value v_or = reflected(s);
        return v_or ? Value(*v_or / (*v_or + v_in_min_v)) : Value();
    };
    add(
        RowId::ConverterDuty, m_s.converter.duty_max, duty, upper, "V_or / (V_or + V_in,min)",
        [&](const State& s) {
            return volts(*reflected(s)) + " / (" + volts(*reflected(s)) + " + " + volts(v_in_min_v) +
                   ") = " + significant(*duty(s), 3);
        },
        trough);
}

void RowMaker::auxiliaryRows()
{
    std::vector<std::string> assumed;
    const double aux_drop = auxiliaryDrop(assumed);
    const std::string formula = "V_cc = (V + V_f)·N_aux/N_s − V_f,aux";
    add(
        RowId::AuxiliaryLow, m_s.auxiliary.off_v,
        [&](const State& s) { return auxiliarySupply(s.low_v, aux_drop); }, lockout, formula,
        [&](const State& s) { return auxiliaryWorking(s.low_v, aux_drop); }, assumed);
    add(
        RowId::AuxiliaryHigh, m_s.auxiliary.max_v,
        [&](const State& s) { return auxiliarySupply(s.high_v, aux_drop); }, upper, formula,
        [&](const State& s) { return auxiliaryWorking(s.high_v, aux_drop); }, assumed);
}

void RowMaker::outputRows()
{
    std::vector<std::string> assumed;
    assumeDrop(assumed);
    const Value allowed = allowedCurrent();
    add(
        RowId::OutputCurrent, allowed, [](const State& s) -> Value { return s.i_a; }, upToLimit,
        "I_allowed = min(I_rated, I_rated·(V_found + V_f)/(V + V_f)): the primary limit fixes the power",
        [&](const State& s) {
            return m_found && allowed ? amps(*m_rail.i_rated_a) + " × (" + volts(m_found->high_v) + " + " +
                                            volts(rectifierDrop()) + ") / (" + volts(s.high_v) + " + " +
                                            volts(rectifierDrop()) + ") = " + amps(*allowed) + " at most"
                                      : std::string();
        },
        assumed);
    // The limit itself moved with the voltage, so more of it is used although the load is the same.
    m_rows.back().worse = m_found && allowed && *allowed < *m_rail.i_rated_a * (1 - limit_share);

    const auto& ratio = m_s.transformer.primary_turns_per_secondary;
    const auto reverse = [&](const State& s) -> Value {
        return ratio ? Value(s.high_v + highestInput() / *ratio) : Value();
    };
    add(RowId::RectifierReverse, m_rail.rectifier.v_rrm_v, reverse, upper, "V + V_in,max·N_s/N_p",
        [&](const State& s) {
            return volts(s.high_v) + " + " + volts(highestInput()) + " / " + significant(*ratio, 4) + " = " +
                   volts(*reverse(s));
        });
    const auto rail_v = [](const State& s) -> Value { return s.high_v; };
    const auto rail_working = [](const State& s) { return "highest predicted output: " + volts(s.high_v); };
    add(RowId::OutputCapacitorVoltage, m_rail.capacitor.v_rated_v, rail_v, upper, "V ≤ rated voltage",
        rail_working);
    m_rows.back().part = m_rail.capacitor.name;
    if (m_rail.trip.kind == TripKind::Winding)
        windingTripRow();
    else if (m_rail.trip.kind != TripKind::None)
        add(RowId::TripVoltage, m_rail.trip.v_v, rail_v, trip, "V < 0.95·V_trip", rail_working);
}

/// A trip that senses the auxiliary winding moves with the turns, not with the divider.
void RowMaker::windingTripRow()
{
    std::vector<std::string> assumed;
    const double aux_drop = auxiliaryDrop(assumed);
    add(
        RowId::TripVoltage, m_rail.trip.v_v,
        [&](const State& s) { return auxiliarySupply(s.high_v, aux_drop); }, trip,
        "V_cc = (V + V_f)·N_aux/N_s − V_f,aux < 0.95·V_trip",
        [&](const State& s) { return auxiliaryWorking(s.high_v, aux_drop); }, assumed);
}

void RowMaker::hungOnRows()
{
    if (m_rail.minimum_load.fitted != false) {
        const auto& r = m_rail.minimum_load.r_ohm;
        const auto power = [&](const State& s) -> Value {
            return r ? Value(s.high_v * s.high_v / *r) : Value();
        };
        add(RowId::MinimumLoadPower, m_rail.minimum_load.power_w, power, resistorPower, "V²/R",
            [&](const State& s) {
                return volts(s.high_v) + "² / " + formatOhms(*r) + " = " +
                       formatValue(*power(s), Quantity::Power);
            });
    }
    if (m_rail.indicator.fitted != false) {
        std::vector<std::string> assumed;
        const double v_f_v = orAssume(m_rail.indicator.v_f_v, default_indicator_v, assumed, "LED drop 2 V");
        const auto& r = m_rail.indicator.r_ohm;
        const auto power = [&](const State& s) -> Value {
            const double across = std::max(0.0, s.high_v - v_f_v);
            return r ? Value(across * across / *r) : Value();
        };
        add(
            RowId::IndicatorPower, m_rail.indicator.power_w, power, resistorPower, "(V − V_f)²/R",
            [&](const State& s) {
                return "(" + volts(s.high_v) + " − " + volts(v_f_v) + ")² / " + formatOhms(*r) + " = " +
                       formatValue(*power(s), Quantity::Power) + "; LED " +
                       amps(std::max(0.0, s.high_v - v_f_v) / *r);
            },
            assumed);
    }
}

void RowMaker::feedbackRows()
{
    const ReferenceStage& stage = m_rail.feedback.stage;
    if (!stage.own_supply) {
        std::vector<std::string> assumed;
        const double most =
            orAssume(stage.cathode_max_v, default_cathode_v, assumed, "cathode rating 36 V (431-type)");
        add(
            RowId::ReferenceCathode, most, [](const State& s) -> Value { return s.high_v; }, upper,
            "V ≤ cathode rating: with the LED dark the cathode stands at the rail",
            [](const State& s) { return "highest predicted output: " + volts(s.high_v); }, assumed);
    }
    std::vector<std::string> assumed;
    const double v_f_v = orAssume(stage.v_f_v, default_opto_v, assumed, "optocoupler LED drop 1.2 V");
    const double v_ka_v = m_rail.feedback.reference ? m_rail.feedback.reference->v_ref_v : 2.495;
    if (!m_rail.feedback.reference)
        assumed.emplace_back("least cathode voltage 2.495 V");
    const auto available = [&](const State& s) -> Value {
        return stage.r_led_ohm ? Value((s.low_v - v_f_v - v_ka_v) / *stage.r_led_ohm) : Value();
    };
    Value wanted = stage.i_needed_a;
    if (wanted && !stage.has_bias)
        *wanted += reference_bias_a;
    add(
        RowId::OptocouplerCurrent, wanted, available, needed,
        "(V − V_f,opto − V_ka,min)/R must exceed what is needed",
        [&](const State& s) {
            return "(" + volts(s.low_v) + " − " + volts(v_f_v) + " − " + volts(v_ka_v) + ") / " +
                   formatOhms(*stage.r_led_ohm) + " = " + amps(*available(s)) +
                   (stage.has_bias ? "" : "; the need includes 1 mA for the reference");
        },
        assumed);
}

void RowMaker::batteryRows()
{
    const Battery& battery = m_in.load.battery;
    std::vector<std::string> assumed;
    if (!battery.r_ohm || !battery.v_flat_v)
        assumed.emplace_back("the supply's current limit holds");
    const Value allowed = allowedCurrent();
    const auto flat_a = [&](const State& s) -> Value {
        if (!battery.r_ohm || !battery.v_flat_v)
            return allowed;
        const double pushed = std::max(0.0, s.high_v - *battery.v_flat_v) / *battery.r_ohm;
        return allowed ? std::min(*allowed, pushed) : pushed;
    };
    add(
        RowId::BatteryFlatCurrent, battery.i_charge_max_a, flat_a, upper,
        "min(I_allowed, (V − V_flat)/R_battery)",
        [&](const State& s) {
            if (!battery.r_ohm || !battery.v_flat_v)
                return "held by the supply's limit at " + amps(*flat_a(s));
            return "(" + volts(s.high_v) + " − " + volts(*battery.v_flat_v) + ") / " +
                   formatOhms(*battery.r_ohm) + " = " +
                   amps((s.high_v - *battery.v_flat_v) / *battery.r_ohm) + "; the supply limits at " +
                   (allowed ? amps(*allowed) : "an unread current") +
                   " or hiccups until the battery has risen";
        },
        assumed);

    const bool blocked = battery.blocking_diode.value_or(false);
    const auto drain = [&](const State& s) -> Value {
        if (blocked)
            return 0.0;
        double i_a = 0;
        if (const auto divider = m_rail.feedback.divider())
            i_a += s.high_v / (divider->top.ohm() + divider->bottom.ohm());
        if (m_rail.minimum_load.r_ohm && m_rail.minimum_load.fitted != false)
            i_a += s.high_v / *m_rail.minimum_load.r_ohm;
        if (m_rail.indicator.r_ohm && m_rail.indicator.fitted != false)
            i_a +=
                (s.high_v - m_rail.indicator.v_f_v.value_or(default_indicator_v)) / *m_rail.indicator.r_ohm;
        return i_a;
    };
    Value limit;
    if (battery.capacity_c)
        limit = *battery.capacity_c * drain_share / (drain_days * 86400);
    add(RowId::BatteryBackFeed, limit, drain, upper,
        "what the dead supply draws from the battery, against a tenth of its charge in 30 days",
        [&](const State& s) {
            return blocked ? std::string("a diode blocks it")
                           : "divider, bleeder and indicator draw " + amps(*drain(s)) + " with the mains off";
        },
        {"a tenth of the charge in 30 days is bearable"});
    crowbarRow();
}

/// Nothing is compared here: a crowbar either meets a battery or it does not.
void RowMaker::crowbarRow()
{
    const Battery& battery = m_in.load.battery;
    const auto nothing = [](const State&) -> Value { return std::nullopt; };
    add(RowId::BatteryCrowbar, std::nullopt, nothing, upper,
        "a crowbar that fires shorts the battery through itself", [](const State&) { return std::string(); });
    ConsequenceRow& row = m_rows.back();
    if (!m_rail.trip.kind)
        return;
    const bool crowbar = m_rail.trip.kind == TripKind::Crowbar;
    const bool blocked = battery.blocking_diode.value_or(false);
    row.verdict = !crowbar || blocked ? Verdict::Fits : battery.fuse_a ? Verdict::Tight : Verdict::Breaks;
    row.worse = row.verdict != Verdict::Fits;
    row.working = !crowbar         ? "no crowbar in this supply"
                  : blocked        ? "a diode keeps the battery from it"
                  : battery.fuse_a ? "only the battery's " + amps(*battery.fuse_a) + " fuse ends it"
                                   : "nothing ends it: fit a fuse at the battery";
}

} // namespace

const RowInfo& rowInfo(RowId id) { return row_infos.at(static_cast<std::size_t>(id)); }

std::optional<double>* ratingOf(RowId id, Supply& supply, Load& load)
{
    Rail& rail = supply.rails.front();
    switch (id) {
    case RowId::FuseVoltage:
        return &supply.fuse.v_rated_v;
    case RowId::FuseCurrent:
        return &supply.fuse.value_a;
    case RowId::InputRectifierReverse:
        return &supply.input.v_rrm_v;
    case RowId::BulkVoltage:
        return &supply.bulk.v_rated_v;
    case RowId::SwitchVoltage:
        return &supply.converter.v_rated_v;
    case RowId::ClampLevel:
        return &supply.converter.clamp_v;
    case RowId::AuxiliaryHigh:
        return &supply.auxiliary.max_v;
    case RowId::RectifierReverse:
        return &rail.rectifier.v_rrm_v;
    case RowId::OutputCapacitorVoltage:
        return &rail.capacitor.v_rated_v;
    case RowId::TripVoltage:
        return &rail.trip.v_v;
    case RowId::MinimumLoadPower:
        return &rail.minimum_load.power_w;
    case RowId::IndicatorPower:
        return &rail.indicator.power_w;
    case RowId::ReferenceCathode:
        return &rail.feedback.stage.cathode_max_v;
    case RowId::BatteryFlatCurrent:
        return &load.battery.i_charge_max_a;
    case RowId::ConverterDuty:
    case RowId::AuxiliaryLow:
    case RowId::OutputCurrent:
    case RowId::OptocouplerCurrent:
    case RowId::BatteryBackFeed:
    case RowId::BatteryCrowbar:
        return nullptr;
    }
    return nullptr;
}

std::string_view reasonWithoutRows(Station station)
{
    switch (station) {
    case Station::Inlet:
        return "A retune leaves the mains entry as it is; earth and insulation are proven before power.";
    case Station::Inrush:
        return "The surge depends on the mains side, which a retune leaves alone.";
    case Station::Cable:
        return "The drop follows the current, which the plan does not change.";
    case Station::Load:
        return "Equipment names its own window; it is the need.";
    default:
        return {};
    }
}

ConsequencesResult consequences(const ConsequencesInput& in)
{
    ConsequencesResult result{};
    for (const auto& [name, plan] : in.plan) {
        const auto rail = std::find_if(in.supply.rails.begin(), in.supply.rails.end(),
                                       [&n = name](const Rail& r) { return r.name == n; });
        if (rail == in.supply.rails.end())
            throw DocumentError(ErrorCode::Inconsistent, jsonPath("/plan", name),
                                "the supply has no such rail");
        RowMaker maker(in, *rail, plan);
        const auto rows = maker.run();
        result.rows.insert(result.rows.end(), rows.begin(), rows.end());
        result.allowed_current_a.emplace_back(name, maker.allowedCurrent());
    }
    result.verdict = Verdict::Fits;
    for (ConsequenceRow& row : result.rows) {
        row.counted = row.verdict == Verdict::Breaks || (row.worse && row.verdict != Verdict::Fits);
        if (row.counted)
            result.verdict = worse(result.verdict, row.verdict);
    }
    std::stable_sort(result.rows.begin(), result.rows.end(),
                     [](const ConsequenceRow& a, const ConsequenceRow& b) {
                         const auto key = [](const ConsequenceRow& r) {
                             return std::tuple(!r.counted, -badness(r.verdict), -r.use.value_or(0));
                         };
                         return key(a) < key(b);
                     });
    return result;
}

// ---- documents

void fields(Fields& f, ConsequenceRow& out)
{
    f.need("id", out.id);
    f.need("station", out.station);
    f.need("part", out.part);
    f.need("quantity", out.quantity);
    f.may("found", out.found);
    f.may("planned", out.planned);
    f.may("limit", out.limit);
    f.may("use", out.use);
    f.need("verdict", out.verdict);
    f.may("assumed", out.assumed);
    f.need("formula", out.formula);
    f.may("working", out.working);
    f.need("worse", out.worse);
    f.need("counted", out.counted);
}

void fields(Fields& f, RailPlan& value)
{
    f.need("v_v", value.v_v, range::positive);
    f.may("min_v", value.min_v, range::positive);
    f.may("max_v", value.max_v, range::positive);
    f.may("i_a", value.i_a, range::not_negative);
    f.demand(value.low() <= value.v_v && value.v_v <= value.high(), ErrorCode::Inconsistent, {},
             "v_v must lie between min_v and max_v");
}

void fields(Fields& f, ConsequencesInput& in)
{
    f.need("supply", in.supply);
    f.may("mains", in.mains);
    f.may("load", in.load);
    f.need("plan", in.plan);
}

void fields(Fields& f, ConsequencesResult& out)
{
    f.need("rows", out.rows);
    Json allowed = Json::object();
    for (const auto& [name, i_a] : out.allowed_current_a)
        allowed[name] = i_a ? Json(*i_a) : Json();
    f.write("allowed_current_a", allowed);
    f.need("verdict", out.verdict);
}

} // namespace offshoot
