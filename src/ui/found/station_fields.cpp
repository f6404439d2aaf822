#include "ui/found/station_fields.h"

#include "core/supply/part_figures.h"

#include <QCoreApplication>
#include <QFormLayout>
#include <algorithm>
#include <array>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

QString tr(const char* text) { return QCoreApplication::translate("StationFields", text); }

/// Of IEC 60127, in the order people meet them.
constexpr std::array<std::string_view, 5> fuseTypes{"T", "F", "FF", "M", "TT"};

struct ChoiceRow
{
    Station station;
    const char* label;
    std::vector<const char*> choices;
    int (*get)(const Supply&, const Rail&);
    void (*set)(Supply&, Rail&, int);
};

/// By their place in the enumeration.
std::vector<const char*> kindChoices()
{
    std::vector<const char*> choices{QT_TR_NOOP("not said")};
    for (std::size_t i = 0; i < kind_count; ++i)
        choices.push_back(kindWords(static_cast<Topology>(i)).data());
    return choices;
}

int threeWay(const std::optional<bool>& value) { return !value ? 0 : *value ? 1 : 2; }

std::optional<bool> fromThreeWay(int index) { return index == 0 ? std::nullopt : std::optional(index == 1); }

/// What is chosen of the whole unit.
const std::vector<ChoiceRow>& unitChoices()
{
    static const std::vector<ChoiceRow> rows{
        {Station::Inlet,
         QT_TR_NOOP("Earth class"),
         {QT_TR_NOOP("class I, earthed"), QT_TR_NOOP("class II, none")},
         [](const Supply& s, const Rail&) { return static_cast<int>(s.earth_class); },
         [](Supply& s, Rail&, int i) { s.earth_class = static_cast<EarthClass>(i); }},
        {Station::Inlet,
         QT_TR_NOOP("Case"),
         {QT_TR_NOOP("not said"), QT_TR_NOOP("opens"), QT_TR_NOOP("open frame"), QT_TR_NOOP("sealed"),
          QT_TR_NOOP("opens, the unit in it does not")},
         [](const Supply& s, const Rail&) { return s.enclosure ? static_cast<int>(*s.enclosure) + 1 : 0; },
         [](Supply& s, Rail&, int i) {
             s.enclosure = i == 0 ? std::nullopt : std::optional(static_cast<Enclosure>(i - 1));
         }},
        {Station::Fuse,
         QT_TR_NOOP("Fuse speed"),
         {QT_TR_NOOP("not read"), QT_TR_NOOP("T, slow"), QT_TR_NOOP("F, fast"), QT_TR_NOOP("FF, very fast"),
          QT_TR_NOOP("M, medium"), QT_TR_NOOP("TT, very slow")},
         [](const Supply& s, const Rail&) {
             const auto& type = s.fuse.type;
             return type ? static_cast<int>(std::ranges::find(fuseTypes, *type) - fuseTypes.begin()) + 1 : 0;
         },
         [](Supply& s, Rail&, int i) {
             s.fuse.type = i == 0 ? std::nullopt
                                  : std::optional(std::string(fuseTypes.at(static_cast<std::size_t>(i) - 1)));
         }},
        {Station::Reservoir,
         QT_TR_NOOP("Bulk capacitors"),
         {QT_TR_NOOP("aluminium electrolytic"), QT_TR_NOOP("polyester film"), QT_TR_NOOP("polypropylene"),
          QT_TR_NOOP("class 2 ceramic"), QT_TR_NOOP("another kind")},
         [](const Supply& s, const Rail&) { return static_cast<int>(s.bulk.kind); },
         [](Supply& s, Rail&, int i) { s.bulk.kind = static_cast<CapacitorKind>(i); }},
        {Station::Converter, QT_TR_NOOP("Topology"), kindChoices(),
         [](const Supply& s, const Rail&) {
             return s.topology_assumed ? 0 : static_cast<int>(s.topology) + 1;
         },
         [](Supply& s, Rail&, int i) {
             s.topology_assumed = i == 0;
             s.topology = i == 0 ? Topology::Flyback : static_cast<Topology>(i - 1);
             takeLikelyKind(s);
         }},
        {Station::InputRectifier,
         QT_TR_NOOP("Mains rectifier"),
         {QT_TR_NOOP("not looked at"), QT_TR_NOOP("bridge"), QT_TR_NOOP("doubler"),
          QT_TR_NOOP("power factor stage")},
         [](const Supply& s, const Rail&) {
             const auto& kind = s.input.kind;
             return kind ? static_cast<int>(*kind) + 1 : 0;
         },
         [](Supply& s, Rail&, int i) {
             s.input.kind = i == 0 ? std::nullopt : std::optional(static_cast<InputKind>(i - 1));
         }},
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
         [](const Supply&, const Rail& r) {
             const auto& tapped = r.winding.centre_tapped;
             return tapped ? (*tapped ? 2 : 1) : 0;
         },
         [](Supply&, Rail& r, int i) {
             r.winding.centre_tapped = i == 0 ? std::nullopt : std::optional(i == 2);
         }},
        {Station::OutputRectifier,
         QT_TR_NOOP("Rectifier kind"),
         {QT_TR_NOOP("Schottky"), QT_TR_NOOP("fast")},
         [](const Supply&, const Rail& r) { return static_cast<int>(r.rectifier.kind); },
         [](Supply&, Rail& r, int i) { r.rectifier.kind = static_cast<RectifierKind>(i); }},
        {Station::Smoothing,
         QT_TR_NOOP("Over-voltage trip"),
         {QT_TR_NOOP("not looked at"), QT_TR_NOOP("none"), QT_TR_NOOP("zener"), QT_TR_NOOP("crowbar"),
          QT_TR_NOOP("on another winding")},
         [](const Supply&, const Rail& r) {
             const auto& k = r.trip.kind;
             return k ? static_cast<int>(*k) + 1 : 0;
         },
         [](Supply&, Rail& r, int i) {
             r.trip.kind = i == 0 ? std::nullopt : std::optional(static_cast<TripKind>(i - 1));
         }},
        {Station::Smoothing,
         QT_TR_NOOP("Bleeder fitted"),
         {QT_TR_NOOP("not looked at"), QT_TR_NOOP("yes"), QT_TR_NOOP("no")},
         [](const Supply&, const Rail& r) { return threeWay(r.minimum_load.fitted); },
         [](Supply&, Rail& r, int i) { r.minimum_load.fitted = fromThreeWay(i); }},
        {Station::Smoothing,
         QT_TR_NOOP("Indicator fitted"),
         {QT_TR_NOOP("not looked at"), QT_TR_NOOP("yes"), QT_TR_NOOP("no")},
         [](const Supply&, const Rail& r) { return threeWay(r.indicator.fitted); },
         [](Supply&, Rail& r, int i) { r.indicator.fitted = fromThreeWay(i); }},
        {Station::Feedback,
         QT_TR_NOOP("Reference fed from"),
         {QT_TR_NOOP("the output"), QT_TR_NOOP("its own rail")},
         [](const Supply&, const Rail& r) { return r.feedback.stage.own_supply ? 1 : 0; },
         [](Supply&, Rail& r, int i) { r.feedback.stage.own_supply = i == 1; }},
        {Station::Feedback,
         QT_TR_NOOP("Bias across the LED"),
         {QT_TR_NOOP("no"), QT_TR_NOOP("yes")},
         [](const Supply&, const Rail& r) { return r.feedback.stage.has_bias ? 1 : 0; },
         [](Supply&, Rail& r, int i) { r.feedback.stage.has_bias = i == 1; }},
    };
    return rows;
}

/// The unit and the rail that a place names; one that is gone meanwhile is the unit on the bench, the last
/// rail.
const Supply& unitOf(const Job& job, const StationPlace& place)
{
    return place.unit == 0 || place.unit > job.others.size() ? job.found : job.others[place.unit - 1];
}
Supply& unitOf(Job& job, const StationPlace& place)
{
    return place.unit == 0 || place.unit > job.others.size() ? job.found : job.others[place.unit - 1];
}
Rail& railOf(Supply& unit, const StationPlace& place)
{
    return unit.rails[std::min(place.rail, unit.rails.size() - 1)];
}
const Rail& railOf(const Supply& unit, const StationPlace& place)
{
    return unit.rails[std::min(place.rail, unit.rails.size() - 1)];
}
const Rail& railOf(const Job& job, const StationPlace& place) { return railOf(unitOf(job, place), place); }
Rail& railOf(Job& job, const StationPlace& place) { return railOf(unitOf(job, place), place); }

void addChoice(const ChoiceRow& row, const StationPlace& place, QFormLayout& form, JobSession& session)
{
    QStringList choices;
    for (const char* choice : row.choices)
        choices << tr(choice);
    const auto get = [&row, place](const Job& job) {
        const Supply& unit = unitOf(job, place);
        return row.get(unit, railOf(unit, place));
    };
    const auto set = [&row, place](Job& job, int at) {
        Supply& unit = unitOf(job, place);
        row.set(unit, railOf(unit, place), at);
    };
    form.addRow(tr(row.label), new ChoiceField(tr(row.label), choices, get, set, session));
}

/// A figure of the reference; all but its voltage want that entered first.
ValueSpec referenceSpec(const QString& label, Quantity quantity, const StationPlace& place,
                        const std::function<std::optional<double>(const Reference&)>& get,
                        const std::function<void(Reference&, std::optional<double>)>& set)
{
    return {.label = label,
            .quantity = quantity,
            .get = [place, get](const Job& job) -> std::optional<double> {
                const auto& reference = railOf(job, place).feedback.reference;
                return reference ? get(*reference) : std::nullopt;
            },
            .set =
                [place, set](Job& job, std::optional<double> v) {
                    if (auto& reference = railOf(job, place).feedback.reference)
                        set(*reference, v);
                },
            .wrong =
                [place](const Job& job) {
                    const auto& r = railOf(job, place).feedback.reference;
                    return !r ? tr("enter the reference's voltage first")
                           : r->iMin() <= r->i_ref_a && r->i_ref_a <= r->iMax()
                               ? QString()
                               : tr("least, usual and most are not in order");
                }};
}

/// The reference as its data sheet has it; the kinds people meet stand beside the divider.
void addReferenceFields(const StationPlace& place, QFormLayout& form, JobSession& session)
{
    ValueSpec volts = referenceSpec(tr("Reference voltage"), Quantity::Voltage, place,
                                    [](const Reference& r) { return std::optional(r.v_ref_v); }, {});
    volts.set = [place](Job& job, std::optional<double> v) {
        constexpr double usualTolerance = 0.01;
        auto& reference = railOf(job, place).feedback.reference;
        if (v && reference)
            reference->v_ref_v = *v;
        else
            reference =
                v ? std::optional(Reference{.v_ref_v = *v, .tolerance = usualTolerance}) : std::nullopt;
    };
    volts.wrong = {};
    volts.hint = u"2.495V"_s;
    addValueRow(form, std::move(volts), session);
    ValueSpec tolerance = referenceSpec(
        tr("Reference ±"), Quantity::Voltage, place,
        [](const Reference& r) { return std::optional(r.tolerance); },
        [](Reference& r, std::optional<double> v) { r.tolerance = v.value_or(0); });
    tolerance.zeroAllowed = true;
    tolerance.most = 0.99;
    tolerance.percent = true;
    tolerance.hint = u"1 %"_s;
    addValueRow(form, std::move(tolerance), session);
    const auto current = [&](ValueSpec spec, const QString& hint) {
        constexpr double mostPinA = 1e-3;
        spec.least = -mostPinA;
        spec.zeroAllowed = true;
        spec.most = mostPinA;
        spec.hint = hint;
        addValueRow(form, std::move(spec), session);
    };
    current(referenceSpec(
                tr("Its pin draws"), Quantity::Current, place,
                [](const Reference& r) { return std::optional(r.i_ref_a); },
                [](Reference& r, std::optional<double> v) { r.i_ref_a = v.value_or(0); }),
            u"2uA"_s);
    const auto limit = [&](const QString& label, std::optional<double> Reference::*member) {
        current(referenceSpec(
                    label, Quantity::Current, place, [member](const Reference& r) { return r.*member; },
                    [member](Reference& r, std::optional<double> v) { r.*member = v; }),
                tr("as usual"));
    };
    limit(tr("at least"), &Reference::i_ref_min_a);
    limit(tr("at most"), &Reference::i_ref_max_a);
}

} // namespace

void addStationFields(const StationPlace& place, QFormLayout& form, JobSession& session)
{
    const Topology topology = unitOf(session.job(), place).topology;
    for (const auto* rows : {&unitChoices(), &railChoices()})
        for (const ChoiceRow& row : *rows)
            if (row.station == place.station)
                addChoice(row, place, form, session);
    if (place.station == Station::Load)
        form.addRow(tr("Blocking diode"),
                    new ChoiceField(
                        tr("Blocking diode"), {tr("not looked at"), tr("yes"), tr("no")},
                        [](const Job& job) { return threeWay(job.need.load.battery.blocking_diode); },
                        [](Job& job, int at) { job.need.load.battery.blocking_diode = fromThreeWay(at); },
                        session));
    for (const PartFigure& row : partFigures()) {
        if (row.station != place.station || !row.isOf(topology))
            continue;
        addValueRow(
            form,
            {.label = qs(row.label),
             .quantity = row.quantity,
             .get = [&row, place](const Job& job) { return row.read(unitOf(job, place), place.rail); },
             .set =
                 [&row, place](Job& job, std::optional<double> v) {
                     Supply& unit = unitOf(job, place);
                     row.access(unit, railOf(unit, place)) = v;
                 },
             .zeroAllowed = row.zero,
             .most = row.most,
             .percent = row.percent,
             .hint = qs(row.hint)},
            session);
    }
    if (place.station == Station::Feedback)
        addReferenceFields(place, form, session);
    if (place.station == Station::Converter && isLinear(topology))
        addValueRow(
            form,
            {.label = tr("Air around it"),
             .quantity = Quantity::Temperature,
             .get = [place](const Job& job) { return unitOf(job, place).regulator.t_ambient_k; },
             .set = [place](Job& job,
                            std::optional<double> v) { unitOf(job, place).regulator.t_ambient_k = v; },
             .hint = u"40C"_s},
            session);
}

} // namespace offshoot::ui
