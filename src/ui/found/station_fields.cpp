#include "ui/found/station_fields.h"

#include <QCoreApplication>
#include <QFormLayout>
#include <algorithm>
#include <array>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

using Value = std::optional<double>;

QString tr(const char* text) { return QCoreApplication::translate("StationFields", text); }

/// Which optional number of a job a field edits.
using Access = Value& (*)(Job&, Rail&);

struct NumberRow
{
    Station station;
    const char* label;
    Quantity quantity;
    Access access;
    const char* hint;
    bool percent = false;
    bool plain = false;
    bool zero = false;
    double most = 1e15;
    bool (*applies)(Topology) = nullptr; ///< absent: to every topology
};

bool isFlyback(Topology t) { return t == Topology::Flyback; }
bool isDirect(Topology t)
{
    return t == Topology::Buck || t == Topology::Boost || isLinear(t) || t == Topology::Unregulated;
}
bool isBuck(Topology t) { return t == Topology::Buck; }
bool isBoost(Topology t) { return t == Topology::Boost; }
bool isSealed(Topology t) { return t == Topology::SealedModule; }
bool dropsVolts(Topology t) { return t == Topology::Buck || isLinear(t); }
bool hasDuty(Topology t) { return isMainsSwitcher(t) || t == Topology::Buck; }

Rail& railAt(Job& job, std::size_t rail)
{
    return job.found.rails[std::min(rail, job.found.rails.size() - 1)];
}
const Rail& railAt(const Job& job, std::size_t rail)
{
    return job.found.rails[std::min(rail, job.found.rails.size() - 1)];
}

// One row for each rating a station has.
constexpr NumberRow numberRows[] = {
    {Station::Fuse, QT_TR_NOOP("Fuse value"), Quantity::Current,
     [](Job& j, Rail&) -> Value& { return j.found.fuse.value_a; }, "2A"},
    {Station::Fuse, QT_TR_NOOP("Fuse rated voltage"), Quantity::Voltage,
     [](Job& j, Rail&) -> Value& { return j.found.fuse.v_rated_v; }, "250V"},
    {Station::Inrush, QT_TR_NOOP("Cold limiter"), Quantity::Resistance,
     [](Job& j, Rail&) -> Value& { return j.found.inrush.r_ohm; }, "5R"},
    {Station::InputRectifier, QT_TR_NOOP("Reverse rating"), Quantity::Voltage,
     [](Job& j, Rail&) -> Value& { return j.found.input.v_rrm_v; }, "600V"},
    {Station::InputRectifier, QT_TR_NOOP("Bus behind a PFC"), Quantity::Voltage,
     [](Job& j, Rail&) -> Value& { return j.found.input.bus_v; }, "385V"},
    {Station::Reservoir, QT_TR_NOOP("Bulk capacitance"), Quantity::Capacitance,
     [](Job& j, Rail&) -> Value& { return j.found.bulk.c_f; }, "150u"},
    {Station::Reservoir, QT_TR_NOOP("Bulk rated voltage"), Quantity::Voltage,
     [](Job& j, Rail&) -> Value& { return j.found.bulk.v_rated_v; }, "400V"},
    {Station::Reservoir, QT_TR_NOOP("Bulk bleeder"), Quantity::Resistance,
     [](Job& j, Rail&) -> Value& { return j.found.bulk.bleeder_ohm; }, "330k"},
    {Station::Converter, QT_TR_NOOP("Switch rated voltage"), Quantity::Voltage,
     [](Job& j, Rail&) -> Value& { return j.found.converter.v_rated_v; }, "650V", false, false, false, 1e15,
     isMainsSwitcher},
    {Station::Converter, QT_TR_NOOP("Leakage spike"), Quantity::Voltage,
     [](Job& j, Rail&) -> Value& { return j.found.converter.spike_v; }, "50V", false, false, true, 1e15,
     isFlyback},
    {Station::Converter, QT_TR_NOOP("Clamp level"), Quantity::Voltage,
     [](Job& j, Rail&) -> Value& { return j.found.converter.clamp_v; }, "200V", false, false, false, 1e15,
     isFlyback},
    {Station::Converter, QT_TR_NOOP("Largest duty"), Quantity::Voltage,
     [](Job& j, Rail&) -> Value& { return j.found.converter.duty_max; }, "70 %", true, false, false, 0.99,
     hasDuty},
    {Station::Converter, QT_TR_NOOP("Lockout, off below"), Quantity::Voltage,
     [](Job& j, Rail&) -> Value& { return j.found.auxiliary.off_v; }, "9V5", false, false, false, 1e15,
     isFlyback},
    {Station::Converter, QT_TR_NOOP("Controller maximum"), Quantity::Voltage,
     [](Job& j, Rail&) -> Value& { return j.found.auxiliary.max_v; }, "20V", false, false, false, 1e15,
     isFlyback},
    {Station::Converter, QT_TR_NOOP("Its diode's drop"), Quantity::Voltage,
     [](Job& j, Rail&) -> Value& { return j.found.auxiliary.v_f_v; }, "0V9", false, false, true, 1e15,
     isFlyback},
    {Station::Converter, QT_TR_NOOP("Input, lowest"), Quantity::Voltage,
     [](Job& j, Rail&) -> Value& { return j.found.direct.min_v; }, "18V", false, false, false, 1e15,
     isDirect},
    {Station::Converter, QT_TR_NOOP("Input, mean at highest mains"), Quantity::Voltage,
     [](Job& j, Rail&) -> Value& { return j.found.direct.mean_v; }, "20V", false, false, false, 1e15,
     isDirect},
    {Station::Converter, QT_TR_NOOP("Input, highest"), Quantity::Voltage,
     [](Job& j, Rail&) -> Value& { return j.found.direct.max_v; }, "22V", false, false, false, 1e15,
     isDirect},
    {Station::Converter, QT_TR_NOOP("Dropout"), Quantity::Voltage,
     [](Job& j, Rail&) -> Value& { return j.found.regulator.drop_v; }, "2V", false, false, true, 1e15,
     dropsVolts},
    {Station::Converter, QT_TR_NOOP("Headroom wanted"), Quantity::Voltage,
     [](Job& j, Rail&) -> Value& { return j.found.regulator.headroom_v; }, "3V", false, false, true, 1e15,
     isBuck},
    {Station::Converter, QT_TR_NOOP("Switch peak current"), Quantity::Current,
     [](Job& j, Rail&) -> Value& { return j.found.regulator.i_peak_a; }, "5A", false, false, false, 1e15,
     isBoost},
    {Station::Converter, QT_TR_NOOP("Choke ripple, p-p"), Quantity::Current,
     [](Job& j, Rail&) -> Value& { return j.found.regulator.ripple_a; }, "1A", false, false, true, 1e15,
     isBoost},
    {Station::Converter, QT_TR_NOOP("Junction to air, K/W"), Quantity::Voltage,
     [](Job& j, Rail&) -> Value& { return j.found.regulator.theta_k_per_w; }, "4", false, true, false, 1e15,
     isLinear},
    {Station::Converter, QT_TR_NOOP("Junction limit"), Quantity::Temperature,
     [](Job& j, Rail&) -> Value& { return j.found.regulator.t_j_max_k; }, "125C", false, false, false, 1e15,
     isLinear},
    {Station::Converter, QT_TR_NOOP("Trim range, lowest"), Quantity::Voltage,
     [](Job&, Rail& r) -> Value& { return r.trim_min_v; }, "21V6", false, false, false, 1e15, isSealed},
    {Station::Converter, QT_TR_NOOP("Trim range, highest"), Quantity::Voltage,
     [](Job&, Rail& r) -> Value& { return r.trim_max_v; }, "28V8", false, false, false, 1e15, isSealed},
    {Station::Transformer, QT_TR_NOOP("Turns primary : secondary"), Quantity::Voltage,
     [](Job& j, Rail&) -> Value& { return j.found.transformer.primary_turns_per_secondary; }, "4.5", false,
     true},
    {Station::Transformer, QT_TR_NOOP("Turns auxiliary : secondary"), Quantity::Voltage,
     [](Job& j, Rail&) -> Value& { return j.found.transformer.auxiliary_turns_per_secondary; }, "0.6", false,
     true},
    {Station::Transformer, QT_TR_NOOP("Efficiency"), Quantity::Voltage,
     [](Job& j, Rail&) -> Value& { return j.found.efficiency; }, "84 %", true, false, false, 1},
    {Station::OutputRectifier, QT_TR_NOOP("Rectifier reverse rating"), Quantity::Voltage,
     [](Job&, Rail& r) -> Value& { return r.rectifier.v_rrm_v; }, "150V"},
    {Station::OutputRectifier, QT_TR_NOOP("Rectifier drop"), Quantity::Voltage,
     [](Job&, Rail& r) -> Value& { return r.rectifier.v_f_v; }, "0V5", false, false, true},
    {Station::OutputRectifier, QT_TR_NOOP("Rectifier current"), Quantity::Current,
     [](Job&, Rail& r) -> Value& { return r.rectifier.i_rated_a; }, "10A"},
    {Station::OutputRectifier, QT_TR_NOOP("Winding's own ratio"), Quantity::Voltage,
     [](Job&, Rail& r) -> Value& { return r.winding.primary_turns_per_secondary; }, "8", false, true, false,
     1e15, isMainsSwitcher},
    {Station::OutputRectifier, QT_TR_NOOP("Winding current"), Quantity::Current,
     [](Job&, Rail& r) -> Value& { return r.winding.i_rated_a; }, "10A", false, false, false, 1e15,
     isBuckDerived},
    {Station::Smoothing, QT_TR_NOOP("Choke current"), Quantity::Current,
     [](Job&, Rail& r) -> Value& { return r.choke_rated_a; }, "10A", false, false, false, 1e15,
     isBuckDerived},
    {Station::Smoothing, QT_TR_NOOP("Output capacitance"), Quantity::Capacitance,
     [](Job&, Rail& r) -> Value& { return r.capacitor.c_f; }, "2200u"},
    {Station::Smoothing, QT_TR_NOOP("Output capacitor voltage"), Quantity::Voltage,
     [](Job&, Rail& r) -> Value& { return r.capacitor.v_rated_v; }, "35V"},
    {Station::Smoothing, QT_TR_NOOP("Trip voltage"), Quantity::Voltage,
     [](Job&, Rail& r) -> Value& { return r.trip.v_v; }, "30V"},
    {Station::Smoothing, QT_TR_NOOP("Bleeder"), Quantity::Resistance,
     [](Job&, Rail& r) -> Value& { return r.minimum_load.r_ohm; }, "2k2"},
    {Station::Smoothing, QT_TR_NOOP("Bleeder power"), Quantity::Power,
     [](Job&, Rail& r) -> Value& { return r.minimum_load.power_w; }, "1W"},
    {Station::Smoothing, QT_TR_NOOP("Indicator resistor"), Quantity::Resistance,
     [](Job&, Rail& r) -> Value& { return r.indicator.r_ohm; }, "10k"},
    {Station::Smoothing, QT_TR_NOOP("Indicator's drop"), Quantity::Voltage,
     [](Job&, Rail& r) -> Value& { return r.indicator.v_f_v; }, "2V", false, false, true},
    {Station::Smoothing, QT_TR_NOOP("Indicator power"), Quantity::Power,
     [](Job&, Rail& r) -> Value& { return r.indicator.power_w; }, "1/4W"},
    {Station::Cable, QT_TR_NOOP("Cable, go and return"), Quantity::Resistance,
     [](Job&, Rail& r) -> Value& { return r.cable.r_loop_ohm; }, "0R05", false, false, true},
    {Station::Load, QT_TR_NOOP("Rated output"), Quantity::Voltage,
     [](Job&, Rail& r) -> Value& { return r.v_v; }, "24V"},
    {Station::Load, QT_TR_NOOP("Rated current"), Quantity::Current,
     [](Job&, Rail& r) -> Value& { return r.i_rated_a; }, "2A5"},
    {Station::Feedback, QT_TR_NOOP("Cathode rating"), Quantity::Voltage,
     [](Job&, Rail& r) -> Value& { return r.feedback.stage.cathode_max_v; }, "36V"},
    {Station::Feedback, QT_TR_NOOP("LED resistor"), Quantity::Resistance,
     [](Job&, Rail& r) -> Value& { return r.feedback.stage.r_led_ohm; }, "2k2"},
    {Station::Feedback, QT_TR_NOOP("LED drop"), Quantity::Voltage,
     [](Job&, Rail& r) -> Value& { return r.feedback.stage.v_f_v; }, "1V2", false, false, true},
    {Station::Feedback, QT_TR_NOOP("LED current needed"), Quantity::Current,
     [](Job&, Rail& r) -> Value& { return r.feedback.stage.i_needed_a; }, "2mA"},
};

/// Of IEC 60127, in the order people meet them.
constexpr std::array<std::string_view, 5> fuseTypes{"T", "F", "FF", "M", "TT"};

struct ChoiceRow
{
    Station station;
    const char* label;
    std::vector<const char*> choices;
    int (*get)(const Job&, const Rail&);
    void (*set)(Job&, Rail&, int);
};

int threeWay(const std::optional<bool>& value) { return !value ? 0 : *value ? 1 : 2; }

std::optional<bool> fromThreeWay(int index) { return index == 0 ? std::nullopt : std::optional(index == 1); }

/// What is chosen of the whole unit.
const std::vector<ChoiceRow>& unitChoices()
{
    static const std::vector<ChoiceRow> rows{
        {Station::Inlet,
         QT_TR_NOOP("Earth class"),
         {QT_TR_NOOP("class I, earthed"), QT_TR_NOOP("class II, none")},
         [](const Job& j, const Rail&) { return static_cast<int>(j.found.earth_class); },
         [](Job& j, Rail&, int i) { j.found.earth_class = static_cast<EarthClass>(i); }},
        {Station::Inlet,
         QT_TR_NOOP("Case"),
         {QT_TR_NOOP("not said"), QT_TR_NOOP("opens"), QT_TR_NOOP("open frame"), QT_TR_NOOP("sealed")},
         [](const Job& j, const Rail&) {
             return j.found.enclosure ? static_cast<int>(*j.found.enclosure) + 1 : 0;
         },
         [](Job& j, Rail&, int i) {
             j.found.enclosure = i == 0 ? std::nullopt : std::optional(static_cast<Enclosure>(i - 1));
         }},
        {Station::Fuse,
         QT_TR_NOOP("Fuse speed"),
         {QT_TR_NOOP("not read"), QT_TR_NOOP("T, slow"), QT_TR_NOOP("F, fast"), QT_TR_NOOP("FF, very fast"),
          QT_TR_NOOP("M, medium"), QT_TR_NOOP("TT, very slow")},
         [](const Job& j, const Rail&) {
             const auto& type = j.found.fuse.type;
             return type ? static_cast<int>(std::ranges::find(fuseTypes, *type) - fuseTypes.begin()) + 1 : 0;
         },
         [](Job& j, Rail&, int i) {
             j.found.fuse.type =
                 i == 0 ? std::nullopt
                        : std::optional(std::string(fuseTypes.at(static_cast<std::size_t>(i) - 1)));
         }},
        {Station::Reservoir,
         QT_TR_NOOP("Bulk capacitors"),
         {QT_TR_NOOP("aluminium electrolytic"), QT_TR_NOOP("polyester film"), QT_TR_NOOP("polypropylene"),
          QT_TR_NOOP("class 2 ceramic"), QT_TR_NOOP("another kind")},
         [](const Job& j, const Rail&) { return static_cast<int>(j.found.bulk.kind); },
         [](Job& j, Rail&, int i) { j.found.bulk.kind = static_cast<CapacitorKind>(i); }},
        {Station::Converter,
         QT_TR_NOOP("Topology"),
         {QT_TR_NOOP("not looked at"), QT_TR_NOOP("flyback"), QT_TR_NOOP("forward"),
          QT_TR_NOOP("half bridge"), QT_TR_NOOP("full bridge"), QT_TR_NOOP("buck"), QT_TR_NOOP("boost"),
          QT_TR_NOOP("linear regulator"), QT_TR_NOOP("series pass, discrete"), QT_TR_NOOP("sealed module"),
          QT_TR_NOOP("unregulated: transformer and rectifier")},
         [](const Job& j, const Rail&) {
             return j.found.topology_assumed ? 0 : static_cast<int>(j.found.topology) + 1;
         },
         [](Job& j, Rail&, int i) {
             j.found.topology_assumed = i == 0;
             j.found.topology = i == 0 ? Topology::Flyback : static_cast<Topology>(i - 1);
         }},
        {Station::InputRectifier,
         QT_TR_NOOP("Mains rectifier"),
         {QT_TR_NOOP("not looked at"), QT_TR_NOOP("bridge"), QT_TR_NOOP("doubler"),
          QT_TR_NOOP("power factor stage")},
         [](const Job& j, const Rail&) {
             const auto& kind = j.found.input.kind;
             return kind ? static_cast<int>(*kind) + 1 : 0;
         },
         [](Job& j, Rail&, int i) {
             j.found.input.kind = i == 0 ? std::nullopt : std::optional(static_cast<InputKind>(i - 1));
         }},
        {Station::Load,
         QT_TR_NOOP("Blocking diode"),
         {QT_TR_NOOP("not looked at"), QT_TR_NOOP("yes"), QT_TR_NOOP("no")},
         [](const Job& j, const Rail&) { return threeWay(j.need.load.battery.blocking_diode); },
         [](Job& j, Rail&, int i) { j.need.load.battery.blocking_diode = fromThreeWay(i); }},
    };
    return rows;
}

/// What is chosen of one rail.
const std::vector<ChoiceRow>& railChoices()
{
    static const std::vector<ChoiceRow> rows{
        {Station::OutputRectifier,
         QT_TR_NOOP("Secondary"),
         {QT_TR_NOOP("not looked at"), QT_TR_NOOP("one winding"), QT_TR_NOOP("centre tap")},
         [](const Job&, const Rail& r) {
             const auto& tapped = r.winding.centre_tapped;
             return tapped ? (*tapped ? 2 : 1) : 0;
         },
         [](Job&, Rail& r, int i) {
             r.winding.centre_tapped = i == 0 ? std::nullopt : std::optional(i == 2);
         }},
        {Station::OutputRectifier,
         QT_TR_NOOP("Rectifier kind"),
         {QT_TR_NOOP("Schottky"), QT_TR_NOOP("fast")},
         [](const Job&, const Rail& r) { return static_cast<int>(r.rectifier.kind); },
         [](Job&, Rail& r, int i) { r.rectifier.kind = static_cast<RectifierKind>(i); }},
        {Station::Smoothing,
         QT_TR_NOOP("Over-voltage trip"),
         {QT_TR_NOOP("not looked at"), QT_TR_NOOP("none"), QT_TR_NOOP("zener"), QT_TR_NOOP("crowbar"),
          QT_TR_NOOP("on another winding")},
         [](const Job&, const Rail& r) {
             const auto& k = r.trip.kind;
             return k ? static_cast<int>(*k) + 1 : 0;
         },
         [](Job&, Rail& r, int i) {
             r.trip.kind = i == 0 ? std::nullopt : std::optional(static_cast<TripKind>(i - 1));
         }},
        {Station::Smoothing,
         QT_TR_NOOP("Bleeder fitted"),
         {QT_TR_NOOP("not looked at"), QT_TR_NOOP("yes"), QT_TR_NOOP("no")},
         [](const Job&, const Rail& r) { return threeWay(r.minimum_load.fitted); },
         [](Job&, Rail& r, int i) { r.minimum_load.fitted = fromThreeWay(i); }},
        {Station::Smoothing,
         QT_TR_NOOP("Indicator fitted"),
         {QT_TR_NOOP("not looked at"), QT_TR_NOOP("yes"), QT_TR_NOOP("no")},
         [](const Job&, const Rail& r) { return threeWay(r.indicator.fitted); },
         [](Job&, Rail& r, int i) { r.indicator.fitted = fromThreeWay(i); }},
        {Station::Feedback,
         QT_TR_NOOP("Reference fed from"),
         {QT_TR_NOOP("the output"), QT_TR_NOOP("its own rail")},
         [](const Job&, const Rail& r) { return r.feedback.stage.own_supply ? 1 : 0; },
         [](Job&, Rail& r, int i) { r.feedback.stage.own_supply = i == 1; }},
        {Station::Feedback,
         QT_TR_NOOP("Bias across the LED"),
         {QT_TR_NOOP("no"), QT_TR_NOOP("yes")},
         [](const Job&, const Rail& r) { return r.feedback.stage.has_bias ? 1 : 0; },
         [](Job&, Rail& r, int i) { r.feedback.stage.has_bias = i == 1; }},
    };
    return rows;
}

/// Gives the fields a job in which the place's unit stands on the bench.
class UnitOnBench
{
public:
    explicit UnitOnBench(std::size_t unit)
        : m_unit(unit)
    {}
    template <class Read>
    auto read(Read inner) const
    {
        return [unit = m_unit, inner = std::move(inner)](const Job& job) {
            if (unit == 0 || unit > job.others.size())
                return inner(job);
            Job turned = job;
            std::swap(turned.found, turned.others[unit - 1]);
            return inner(turned);
        };
    }
    template <class Write>
    auto write(Write inner) const
    {
        return [unit = m_unit, inner = std::move(inner)](Job& job, auto value) {
            const bool other = unit > 0 && unit <= job.others.size();
            if (other)
                std::swap(job.found, job.others[unit - 1]);
            inner(job, value);
            if (other)
                std::swap(job.found, job.others[unit - 1]);
        };
    }
    void add(ValueSpec spec, QFormLayout& form, JobSession& session) const
    {
        spec.get = read(std::move(spec.get));
        spec.set = write(std::move(spec.set));
        if (spec.wrong)
            spec.wrong = read(std::move(spec.wrong));
        addValueRow(form, std::move(spec), session);
    }

private:
    std::size_t m_unit;
};

void addChoice(const ChoiceRow& row, const StationPlace& place, QFormLayout& form, JobSession& session)
{
    const std::size_t rail = place.rail;
    const UnitOnBench bench(place.unit);
    QStringList choices;
    for (const char* choice : row.choices)
        choices << tr(choice);
    form.addRow(
        tr(row.label),
        new ChoiceField(tr(row.label), choices,
                        bench.read([&row, rail](const Job& job) { return row.get(job, railAt(job, rail)); }),
                        bench.write([&row, rail](Job& job, int at) { row.set(job, railAt(job, rail), at); }),
                        session));
}

/// A figure of the reference; all but its voltage want that entered first.
ValueSpec referenceSpec(const QString& label, Quantity quantity, std::size_t rail,
                        const std::function<std::optional<double>(const Reference&)>& get,
                        const std::function<void(Reference&, std::optional<double>)>& set)
{
    return {.label = label,
            .quantity = quantity,
            .get = [rail, get](const Job& job) -> std::optional<double> {
                const auto& reference = railAt(job, rail).feedback.reference;
                return reference ? get(*reference) : std::nullopt;
            },
            .set =
                [rail, set](Job& job, std::optional<double> v) {
                    if (auto& reference = railAt(job, rail).feedback.reference)
                        set(*reference, v);
                },
            .wrong =
                [rail](const Job& job) {
                    const auto& r = railAt(job, rail).feedback.reference;
                    return !r ? tr("enter the reference's voltage first")
                           : r->iMin() <= r->i_ref_a && r->i_ref_a <= r->iMax()
                               ? QString()
                               : tr("least, usual and most are not in order");
                }};
}

/// The reference as its data sheet has it; the kinds people meet stand beside the divider.
void addReferenceFields(const StationPlace& place, QFormLayout& form, JobSession& session)
{
    const std::size_t rail = place.rail;
    const UnitOnBench bench(place.unit);
    ValueSpec volts = referenceSpec(tr("Reference voltage"), Quantity::Voltage, rail,
                                    [](const Reference& r) { return std::optional(r.v_ref_v); }, {});
    volts.set = [rail](Job& job, std::optional<double> v) {
        constexpr double usualTolerance = 0.01;
        auto& reference = railAt(job, rail).feedback.reference;
        if (v && reference)
            reference->v_ref_v = *v;
        else
            reference =
                v ? std::optional(Reference{.v_ref_v = *v, .tolerance = usualTolerance}) : std::nullopt;
    };
    volts.wrong = {};
    volts.hint = u"2.495V"_s;
    bench.add(std::move(volts), form, session);
    ValueSpec tolerance = referenceSpec(
        tr("Reference ±"), Quantity::Voltage, rail,
        [](const Reference& r) { return std::optional(r.tolerance); },
        [](Reference& r, std::optional<double> v) { r.tolerance = v.value_or(0); });
    tolerance.zeroAllowed = true;
    tolerance.most = 0.99;
    tolerance.percent = true;
    tolerance.hint = u"1 %"_s;
    bench.add(std::move(tolerance), form, session);
    const auto current = [&](ValueSpec spec, const QString& hint) {
        constexpr double mostPinA = 1e-3;
        spec.least = -mostPinA;
        spec.zeroAllowed = true;
        spec.most = mostPinA;
        spec.hint = hint;
        bench.add(std::move(spec), form, session);
    };
    current(referenceSpec(
                tr("Its pin draws"), Quantity::Current, rail,
                [](const Reference& r) { return std::optional(r.i_ref_a); },
                [](Reference& r, std::optional<double> v) { r.i_ref_a = v.value_or(0); }),
            u"2uA"_s);
    const auto limit = [&](const QString& label, std::optional<double> Reference::*member) {
        current(referenceSpec(
                    label, Quantity::Current, rail, [member](const Reference& r) { return r.*member; },
                    [member](Reference& r, std::optional<double> v) { r.*member = v; }),
                tr("as usual"));
    };
    limit(tr("at least"), &Reference::i_ref_min_a);
    limit(tr("at most"), &Reference::i_ref_max_a);
}

} // namespace

void addStationFields(const StationPlace& place, QFormLayout& form, JobSession& session)
{
    const std::size_t rail = place.rail;
    const UnitOnBench bench(place.unit);
    const Topology topology = bench.read([](const Job& job) { return job.found.topology; })(session.job());
    for (const auto* rows : {&unitChoices(), &railChoices()})
        for (const ChoiceRow& row : *rows)
            if (row.station == place.station)
                addChoice(row, place, form, session);
    for (const NumberRow& row : numberRows) {
        if (row.station != place.station || (row.applies != nullptr && !row.applies(topology)))
            continue;
        const Access access = row.access;
        bench.add({.label = tr(row.label),
                   .quantity = row.quantity,
                   .get =
                       [access, rail](const Job& job) {
                           // The table names the member once; reading does not change it.
                           auto& read = const_cast<Job&>(job);
                           return access(read, railAt(read, rail));
                       },
                   .set = [access, rail](Job& job, Value v) { access(job, railAt(job, rail)) = v; },
                   .zeroAllowed = row.zero,
                   .most = row.most,
                   .percent = row.percent,
                   .plain = row.plain,
                   .hint = QString::fromUtf8(row.hint)},
                  form, session);
    }
    if (place.station == Station::Feedback)
        addReferenceFields(place, form, session);
    if (place.station == Station::Converter && isLinear(topology))
        bench.add({.label = tr("Air around it"),
                   .quantity = Quantity::Temperature,
                   .get = [](const Job& job) { return job.found.regulator.t_ambient_k; },
                   .set = [](Job& job, std::optional<double> v) { job.found.regulator.t_ambient_k = v; },
                   .hint = u"40C"_s},
                  form, session);
}

} // namespace offshoot::ui
