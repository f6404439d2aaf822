#include "ui/found/station_fields.h"

#include <QComboBox>
#include <QFormLayout>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

using Value = std::optional<double>;

QString tr(const char* text) { return QCoreApplication::translate("StationFields", text); }

/// Which optional number of a job a field edits.
using Access = Value& (*)(Job&);

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
};

Rail& rail(Job& job) { return job.found.rails.front(); }

// One row for each rating a station has.
constexpr NumberRow numberRows[] = {
    {Station::Fuse, QT_TR_NOOP("Fuse value"), Quantity::Current,
     [](Job& j) -> Value& { return j.found.fuse.value_a; }, "2A"},
    {Station::Fuse, QT_TR_NOOP("Fuse rated voltage"), Quantity::Voltage,
     [](Job& j) -> Value& { return j.found.fuse.v_rated_v; }, "250V"},
    {Station::Inrush, QT_TR_NOOP("Cold limiter"), Quantity::Resistance,
     [](Job& j) -> Value& { return j.found.inrush.r_ohm; }, "5R"},
    {Station::InputRectifier, QT_TR_NOOP("Reverse rating"), Quantity::Voltage,
     [](Job& j) -> Value& { return j.found.input.v_rrm_v; }, "600V"},
    {Station::InputRectifier, QT_TR_NOOP("Bus behind a PFC"), Quantity::Voltage,
     [](Job& j) -> Value& { return j.found.input.bus_v; }, "385V"},
    {Station::Reservoir, QT_TR_NOOP("Bulk capacitance"), Quantity::Capacitance,
     [](Job& j) -> Value& { return j.found.bulk.c_f; }, "150u"},
    {Station::Reservoir, QT_TR_NOOP("Bulk rated voltage"), Quantity::Voltage,
     [](Job& j) -> Value& { return j.found.bulk.v_rated_v; }, "400V"},
    {Station::Reservoir, QT_TR_NOOP("Bulk bleeder"), Quantity::Resistance,
     [](Job& j) -> Value& { return j.found.bulk.bleeder_ohm; }, "330k"},
    {Station::Converter, QT_TR_NOOP("Switch rated voltage"), Quantity::Voltage,
     [](Job& j) -> Value& { return j.found.converter.v_rated_v; }, "650V"},
    {Station::Converter, QT_TR_NOOP("Leakage spike"), Quantity::Voltage,
     [](Job& j) -> Value& { return j.found.converter.spike_v; }, "50V", false, false, true},
    {Station::Converter, QT_TR_NOOP("Clamp level"), Quantity::Voltage,
     [](Job& j) -> Value& { return j.found.converter.clamp_v; }, "200V"},
    {Station::Converter, QT_TR_NOOP("Largest duty"), Quantity::Voltage,
     [](Job& j) -> Value& { return j.found.converter.duty_max; }, "70 %", true, false, false, 0.99},
    {Station::Converter, QT_TR_NOOP("Lockout, off below"), Quantity::Voltage,
     [](Job& j) -> Value& { return j.found.auxiliary.off_v; }, "9V5"},
    {Station::Converter, QT_TR_NOOP("Controller maximum"), Quantity::Voltage,
     [](Job& j) -> Value& { return j.found.auxiliary.max_v; }, "20V"},
    {Station::Transformer, QT_TR_NOOP("Turns primary : secondary"), Quantity::Voltage,
     [](Job& j) -> Value& { return j.found.transformer.primary_turns_per_secondary; }, "4.5", false, true},
    {Station::Transformer, QT_TR_NOOP("Turns auxiliary : secondary"), Quantity::Voltage,
     [](Job& j) -> Value& { return j.found.transformer.auxiliary_turns_per_secondary; }, "0.6", false, true},
    {Station::Transformer, QT_TR_NOOP("Efficiency"), Quantity::Voltage,
     [](Job& j) -> Value& { return j.found.efficiency; }, "84 %", true, false, false, 1},
    {Station::OutputRectifier, QT_TR_NOOP("Rectifier reverse rating"), Quantity::Voltage,
     [](Job& j) -> Value& { return rail(j).rectifier.v_rrm_v; }, "150V"},
    {Station::OutputRectifier, QT_TR_NOOP("Rectifier drop"), Quantity::Voltage,
     [](Job& j) -> Value& { return rail(j).rectifier.v_f_v; }, "0V5", false, false, true},
    {Station::OutputRectifier, QT_TR_NOOP("Rectifier current"), Quantity::Current,
     [](Job& j) -> Value& { return rail(j).rectifier.i_rated_a; }, "10A"},
    {Station::Smoothing, QT_TR_NOOP("Output capacitance"), Quantity::Capacitance,
     [](Job& j) -> Value& { return rail(j).capacitor.c_f; }, "2200u"},
    {Station::Smoothing, QT_TR_NOOP("Output capacitor voltage"), Quantity::Voltage,
     [](Job& j) -> Value& { return rail(j).capacitor.v_rated_v; }, "35V"},
    {Station::Smoothing, QT_TR_NOOP("Trip voltage"), Quantity::Voltage,
     [](Job& j) -> Value& { return rail(j).trip.v_v; }, "30V"},
    {Station::Smoothing, QT_TR_NOOP("Bleeder"), Quantity::Resistance,
     [](Job& j) -> Value& { return rail(j).minimum_load.r_ohm; }, "2k2"},
    {Station::Smoothing, QT_TR_NOOP("Bleeder power"), Quantity::Power,
     [](Job& j) -> Value& { return rail(j).minimum_load.power_w; }, "1W"},
    {Station::Smoothing, QT_TR_NOOP("Indicator resistor"), Quantity::Resistance,
     [](Job& j) -> Value& { return rail(j).indicator.r_ohm; }, "10k"},
    {Station::Smoothing, QT_TR_NOOP("Indicator power"), Quantity::Power,
     [](Job& j) -> Value& { return rail(j).indicator.power_w; }, "1/4W"},
    {Station::Cable, QT_TR_NOOP("Cable, go and return"), Quantity::Resistance,
     [](Job& j) -> Value& { return rail(j).cable.r_loop_ohm; }, "0R05", false, false, true},
    {Station::Load, QT_TR_NOOP("Rated output"), Quantity::Voltage,
     [](Job& j) -> Value& { return rail(j).v_v; }, "24V"},
    {Station::Load, QT_TR_NOOP("Rated current"), Quantity::Current,
     [](Job& j) -> Value& { return rail(j).i_rated_a; }, "2A5"},
    {Station::Feedback, QT_TR_NOOP("Cathode rating"), Quantity::Voltage,
     [](Job& j) -> Value& { return rail(j).feedback.stage.cathode_max_v; }, "36V"},
    {Station::Feedback, QT_TR_NOOP("LED resistor"), Quantity::Resistance,
     [](Job& j) -> Value& { return rail(j).feedback.stage.r_led_ohm; }, "2k2"},
    {Station::Feedback, QT_TR_NOOP("LED drop"), Quantity::Voltage,
     [](Job& j) -> Value& { return rail(j).feedback.stage.v_f_v; }, "1V2", false, false, true},
    {Station::Feedback, QT_TR_NOOP("LED current needed"), Quantity::Current,
     [](Job& j) -> Value& { return rail(j).feedback.stage.i_needed_a; }, "2mA"},
};

struct ChoiceRow
{
    Station station;
    const char* label;
    std::vector<const char*> choices;
    int (*get)(const Job&);
    void (*set)(Job&, int);
};

int threeWay(const std::optional<bool>& value) { return !value ? 0 : *value ? 1 : 2; }

std::optional<bool> fromThreeWay(int index) { return index == 0 ? std::nullopt : std::optional(index == 1); }

const std::vector<ChoiceRow>& choiceRows()
{
    static const std::vector<ChoiceRow> rows{
        {Station::Inlet,
         QT_TR_NOOP("Earth class"),
         {QT_TR_NOOP("class I, earthed"), QT_TR_NOOP("class II, none")},
         [](const Job& j) { return static_cast<int>(j.found.earth_class); },
         [](Job& j, int i) { j.found.earth_class = static_cast<EarthClass>(i); }},
        {Station::InputRectifier,
         QT_TR_NOOP("Mains rectifier"),
         {QT_TR_NOOP("bridge"), QT_TR_NOOP("doubler"), QT_TR_NOOP("power factor stage")},
         [](const Job& j) { return static_cast<int>(j.found.input.kind); },
         [](Job& j, int i) { j.found.input.kind = static_cast<InputKind>(i); }},
        {Station::OutputRectifier,
         QT_TR_NOOP("Rectifier kind"),
         {QT_TR_NOOP("Schottky"), QT_TR_NOOP("fast")},
         [](const Job& j) { return static_cast<int>(j.found.rails.front().rectifier.kind); },
         [](Job& j, int i) { rail(j).rectifier.kind = static_cast<RectifierKind>(i); }},
        {Station::Smoothing,
         QT_TR_NOOP("Over-voltage trip"),
         {QT_TR_NOOP("not looked at"), QT_TR_NOOP("none"), QT_TR_NOOP("zener"), QT_TR_NOOP("crowbar"),
          QT_TR_NOOP("on another winding")},
         [](const Job& j) {
             const auto& k = j.found.rails.front().trip.kind;
             return k ? static_cast<int>(*k) + 1 : 0;
         },
         [](Job& j, int i) {
             rail(j).trip.kind = i == 0 ? std::nullopt : std::optional(static_cast<TripKind>(i - 1));
         }},
        {Station::Smoothing,
         QT_TR_NOOP("Bleeder fitted"),
         {QT_TR_NOOP("not looked at"), QT_TR_NOOP("yes"), QT_TR_NOOP("no")},
         [](const Job& j) { return threeWay(j.found.rails.front().minimum_load.fitted); },
         [](Job& j, int i) { rail(j).minimum_load.fitted = fromThreeWay(i); }},
        {Station::Smoothing,
         QT_TR_NOOP("Indicator fitted"),
         {QT_TR_NOOP("not looked at"), QT_TR_NOOP("yes"), QT_TR_NOOP("no")},
         [](const Job& j) { return threeWay(j.found.rails.front().indicator.fitted); },
         [](Job& j, int i) { rail(j).indicator.fitted = fromThreeWay(i); }},
        {Station::Feedback,
         QT_TR_NOOP("Reference fed from"),
         {QT_TR_NOOP("the output"), QT_TR_NOOP("its own rail")},
         [](const Job& j) { return j.found.rails.front().feedback.stage.own_supply ? 1 : 0; },
         [](Job& j, int i) { rail(j).feedback.stage.own_supply = i == 1; }},
        {Station::Feedback,
         QT_TR_NOOP("Bias across the LED"),
         {QT_TR_NOOP("no"), QT_TR_NOOP("yes")},
         [](const Job& j) { return j.found.rails.front().feedback.stage.has_bias ? 1 : 0; },
         [](Job& j, int i) { rail(j).feedback.stage.has_bias = i == 1; }},
        {Station::Load,
         QT_TR_NOOP("Blocking diode"),
         {QT_TR_NOOP("not looked at"), QT_TR_NOOP("yes"), QT_TR_NOOP("no")},
         [](const Job& j) { return threeWay(j.need.load.battery.blocking_diode); },
         [](Job& j, int i) { j.need.load.battery.blocking_diode = fromThreeWay(i); }},
    };
    return rows;
}

void addChoice(const ChoiceRow& row, QFormLayout& form, JobSession& session)
{
    auto* combo = new QComboBox;
    for (const char* choice : row.choices)
        combo->addItem(tr(choice));
    combo->setAccessibleName(tr(row.label));
    combo->setObjectName(tr(row.label));
    form.addRow(tr(row.label), combo);
    QObject::connect(combo, &QComboBox::activated, &session, [&session, &row](int index) {
        session.edit(tr(row.label), [&](Job& job) { row.set(job, index); });
    });
    const auto show = [combo, &row, &session] { combo->setCurrentIndex(row.get(session.job())); };
    QObject::connect(&session, &JobSession::changed, combo, show);
    show();
}

} // namespace

void addStationFields(Station station, QFormLayout& form, JobSession& session)
{
    for (const ChoiceRow& row : choiceRows())
        if (row.station == station)
            addChoice(row, form, session);
    for (const NumberRow& row : numberRows) {
        if (row.station != station)
            continue;
        const Access access = row.access;
        form.addRow(tr(row.label), new ValueField({.label = tr(row.label),
                                                   .quantity = row.quantity,
                                                   .get =
                                                       [access](const Job& job) {
                                                           // The table names the member once; reading does
                                                           // not change it.
                                                           return access(const_cast<Job&>(job));
                                                       },
                                                   .set = [access](Job& job, Value v) { access(job) = v; },
                                                   .zeroAllowed = row.zero,
                                                   .most = row.most,
                                                   .percent = row.percent,
                                                   .plain = row.plain,
                                                   .hint = QString::fromUtf8(row.hint)},
                                                  session));
    }
}

} // namespace offshoot::ui
