#include "core/job/readings.h"
#include "core/procedure/change_procedure.h"
#include "core/values/format.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace offshoot {

std::string_view cautionText(Caution caution)
{
    switch (caution) {
    case Caution::MainsPotential:
        return "Mains potential, and the reservoir at its crest. One hand behind your back, insulated "
               "probes, stand on "
               "something dry; no jewellery, no wrist strap.";
    case Caution::NoScope:
        return "An oscilloscope's clip is earthed and ties what it touches to earth. Never on the primary; "
               "on an "
               "output that floats or stands above earth only with an isolated differential probe.";
    case Caution::OneHand:
        return "Above 60 V: one hand behind your back, insulated probes, stand on something dry; no "
               "jewellery, no "
               "wrist strap.";
    case Caution::Discharge:
        return "Discharge through a resistor, not a screwdriver. Measure, wait, measure again: it recovers.";
    case Caution::PlugPins:
        return "Capacitors across the mains may have no bleeder: the plug's pins may bite.";
    case Caution::HighOutput:
        return "Above 60 V DC: treat it as mains.";
    case Caution::BatterySource:
        return "A battery gives fault current without limit. Take its fuse out, use insulated spanners; it "
               "feeds back "
               "into an unpowered supply. Ventilate lead-acid cells.";
    case Caution::SeriesLamp:
        return "Behind the lamp the unit is live even when the lamp is dark. A dark lamp proves nothing.";
    case Caution::HotParts:
        return "Dummy loads, lamps and heatsinks above 60 °C burn. Keep them off wires and capacitors.";
    case Caution::OldCapacitors:
        return "Old electrolytics: check polarity and bulging; first charge slowly through the lamp; eye "
               "protection.";
    case Caution::LentOrUnattended:
        return "A unit that is lent, sold or left running unattended may need testing by a competent person "
               "under "
               "local rules.";
    case Caution::FixedWiring:
        return "Fixed wiring, sockets and consumer units are for licensed practice and are not planned here.";
    case Caution::VariableTransformer:
        return "A variable transformer does not isolate; only an isolating transformer does, and then a "
               "first "
               "fault is not cleared by a breaker.";
    case Caution::ValveEquipment:
        return "Hundreds of volts for minutes after switching off. Valves out changes the voltages upwards: "
               "check every capacitor's rating first.";
    case Caution::OutputFloats:
        return "The case keeps its earth. What is opened is the output's own bond to the case; insulate the "
               "mountings and connectors that touched both.";
    }
    return {};
}

bool worksInside(Does does)
{
    switch (does) {
    case Does::WorkMainsSide:
    case Does::WorkOutputSide:
    case Does::OpenLinks:
    case Does::LinkWindings:
    case Does::SetSelector:
    case Does::FitFuse:
    case Does::OpenBond:
    case Does::ValvesOut:
    case Does::ValvesIn:
    case Does::TakeOut:
    case Does::Mount:
    case Does::ConnectWire:
        return true;
    default:
        return false;
    }
}

ReadingWindow signedWindow(const Rail& rail, double low_v, double high_v)
{
    return rail.negative ? ReadingWindow{-high_v, -low_v} : ReadingWindow{low_v, high_v};
}

std::string Asked::name() const { return unit ? point + " #" + *unit : point; }

bool Asked::answeredBy(std::string_view logged_point, std::optional<Quantity> logged_quantity) const
{
    return logged_quantity == quantity && (logged_point == point || logged_point.starts_with(point + ' '));
}

bool Step::is(Does what) const { return std::ranges::count(does, what) > 0; }

bool Step::worksInside() const { return std::ranges::any_of(does, offshoot::worksInside); }

std::string Step::fingerprint() const
{
    std::string text{word(kind)};
    for (const Does what : does)
        text += ' ' + std::string(word(what));
    if (through)
        text += '|' + std::string(word(*through));
    for (const std::string& part : parts)
        text += '|' + part;
    for (const Asked& asked : asks) {
        text += '|' + asked.name();
        if (asked.window)
            for (const auto& edge : {asked.window->min, asked.window->max})
                text += edge ? ' ' + significant(*edge, 4) : " -";
        if (asked.load_a)
            text += " @" + significant(*asked.load_a, 3);
    }
    return text;
}

bool Step::namedBy(std::string_view old_words) const
{
    return kind == StepKind::Look || // looks named no parts then
           std::ranges::all_of(parts, [&](const std::string& part) {
               return old_words.find(part) != std::string_view::npos;
           });
}

std::vector<Step> changeProcedure(const Job& job, const Predictions& predictions, const PlannedWork& work)
{
    return ChangeProcedure(job, predictions, work).run();
}

// ---- what the builder knows of the job, and the readings it asks for

namespace {

constexpr double guide_light_share = 0.05;
/// Of the voltage at full load, of a regulated output whose droop nobody measured.
constexpr double droop_allowed = 0.05;
constexpr double rise_allowed = 0.01;

} // namespace

ChangeProcedure::ChangeProcedure(const Job& job, const Predictions& predictions, const PlannedWork& work)
    : m_job(job)
    , m_predictions(predictions)
    , m_work(work)
    , m_loads(testLoadsOf(job, work.supply))
{
    constexpr std::size_t usual_steps = 100; // moved each time that there is no more room
    m_steps.reserve(usual_steps);
}

Step& ChangeProcedure::add(std::string id, Stage stage, StepKind kind, std::string title, std::string detail,
                           std::vector<Does> does)
{
    m_steps.push_back({.id = std::move(id),
                       .stage = stage,
                       .kind = kind,
                       .title = std::move(title),
                       .detail = std::move(detail),
                       .does = std::move(does),
                       .reading_stage = m_reading_stage});
    return m_steps.back();
}

const Supply& ChangeProcedure::supply(std::size_t unit) const
{
    return unit == 1 ? this->unit() : m_job.others.at(unit - 2);
}

bool ChangeProcedure::anyMains() const
{
    for (std::size_t unit = 1; unit <= unitCount(); ++unit)
        if (!supply(unit).dcFed())
            return true;
    return false;
}

void ChangeProcedure::pastTheChange()
{
    m_changed = true;
    m_reading_stage = ReadingStage::PlannedCheck;
}

void ChangeProcedure::each(std::function<void(ChangeProcedure&)> Work::*at)
{
    for (const Work& work : m_work.kinds)
        if (work.*at)
            (work.*at)(*this);
}

bool ChangeProcedure::barredBySeal() const
{
    return m_job.found.sealed() && std::ranges::any_of(m_work.kinds, &Work::inside);
}

double ChangeProcedure::highestOutput() const
{
    double highest_v = unitTarget(m_job) ? unitTarget(m_job)->max_v : 0;
    for (const Rail& rail : unit().rails)
        highest_v = std::max(highest_v, rail.v_v.value_or(0));
    if (m_predictions.planned)
        highest_v = std::max(highest_v, m_predictions.planned->max_v);
    for (const Predictions::Unit& unit : m_predictions.units)
        highest_v = std::max({highest_v, unit.set_v, std::abs(unit.top_v.value_or(0))});
    if (joined() && m_job.need.target)
        highest_v = std::max(highest_v, m_job.need.target->max_v);
    return highest_v;
}

std::string ChangeProcedure::of(std::size_t unit) const
{
    return joined() ? " of " + unitName(m_job, unit) : "";
}

std::string ChangeProcedure::idOf(const std::string& id, std::size_t unit) const
{
    return unit == 1 ? id : id + "." + std::to_string(unit);
}

std::optional<std::size_t> ChangeProcedure::stepUnit(std::size_t unit) const
{
    return joined() ? std::optional(unit) : std::nullopt;
}

std::optional<TestLoad> ChangeProcedure::loadOf(const Predictions::Other& other) const
{
    if (!other.v_v || !other.load_a || *other.v_v <= 0 || *other.load_a <= 0)
        return std::nullopt;
    const Rail* rail = railNamed(unit(), other.rail);
    const auto bears_a = rail != nullptr ? bearable(unit(), *rail, other.v_v) : std::nullopt;
    const LoadLevel level{.v_v = other.v_v, .wanted_a = other.load_a, .bears_a = bears_a};
    return level.load(1);
}

std::optional<double> ChangeProcedure::peakShare() const
{
    const auto& need = m_job.need;
    const bool peaks = need.peak_a && need.current_a && *need.peak_a > *need.current_a;
    return peaks && !level().held() ? std::optional(*need.peak_a / *need.current_a) : std::nullopt;
}

std::string ChangeProcedure::heldWords() const
{
    const LoadLevel& now = level();
    const auto& join = m_job.plan.join;
    const bool shared = join && join->kind == Joining::SideBySide; // a stack's units all carry the whole
    return now.held() ? " The need's " + formatValue(*now.wanted_a, Quantity::Current, 2) +
                            (shared ? " a unit" : "") + " is more than it may give (" +
                            formatValue(*now.bears_a, Quantity::Current, 2) + ") and is not asked of it here."
                      : std::string();
}

std::string ChangeProcedure::loadBank() const
{
    const auto full = loadFor(1);
    if (!full)
        return "Test loads: enter in Need what the load draws, then their ohms and watts stand here. Until "
               "then a "
               "resistor that draws little.";
    std::string text = "Test loads, each behind its own switch, all switched off: light " +
                       loadFor(0.1)->text() + "; half " + loadFor(0.5)->text() + "; full " + full->text();
    const auto& bears_a = level().bears_a;
    if (const auto peak = peakShare();
        peak && (m_changed || !bears_a || *peak * *level().wanted_a <= *bears_a))
        text += "; peak " + loadFor(*peak)->text();
    for (const Predictions::Other& other : m_predictions.others)
        if (const auto load = loadOf(other))
            text += "; on " + other.rail + " " + load->text();
    return text + '.';
}

ReadingWindow ChangeProcedure::widened(ReadingWindow window, Quantity quantity) const
{
    const auto u = [&](double edge) { return m_job.meter.uncertainty(edge, quantity); };
    if (window.min)
        window.min = *window.min - u(*window.min);
    if (window.max)
        window.max = *window.max + u(*window.max);
    return window;
}

VoltageRange ChangeProcedure::Droop::under(const VoltageRange& unloaded) const
{
    const auto under = [this](double v) { return std::minmax({v - drop_v, v * (1 - drop_v / unloaded_v)}); };
    return {under(unloaded.min_v).first - doubt_v, under(unloaded.max_v).second + doubt_v};
}

std::optional<ChangeProcedure::Droop> ChangeProcedure::droopAt(std::optional<double> load_a) const
{
    const bool simulated = unit().topology == Topology::Unregulated;
    if (!load_a || *load_a <= 0 || simulated || (m_changed && m_work.other_unit))
        return std::nullopt;
    struct Read
    {
        const LogEntry* entry;
        double load_a;
    };
    std::optional<Read> unloaded;
    std::optional<Read> loaded;
    constexpr double near_share = 0.3; // taken as a straight line so far
    for (const LogEntry* entry : foundReadings(m_job, rail())) {
        const std::optional<double> a = entry->load ? loadAmps(*entry) : 0.0;
        if (!a)
            continue;
        if (*a <= guide_light_share * *load_a)
            unloaded = Read{entry, *a};
        const double off_a = std::abs(*a - *load_a);
        if (off_a <= near_share * *load_a && (!loaded || off_a <= std::abs(loaded->load_a - *load_a)))
            loaded = Read{entry, *a};
    }
    if (!unloaded || !loaded || *unloaded->entry->value == 0)
        return std::nullopt;
    const auto volts = [](const Read& read) { return std::abs(*read.entry->value); };
    const auto doubt = [&](const Read& read) {
        return read.entry->uncertainty.value_or(m_job.meter.uncertainty(volts(read), Quantity::Voltage));
    };
    const double scale = *load_a / (loaded->load_a - unloaded->load_a);
    return Droop{.unloaded_v = volts(*unloaded),
                 .drop_v = (volts(*unloaded) - volts(*loaded)) * scale,
                 .doubt_v = (doubt(*unloaded) + doubt(*loaded)) * scale};
}

std::optional<VoltageRange> ChangeProcedure::plannedAt(double share) const
{
    constexpr double half = 0.5;
    // What droops with the load droops on beyond full load, by half as much again at most.
    constexpr double steeper = 1.5;
    if (level().held() && m_predictions.planned) {
        // Between what the need's full load leaves and what the lightest does.
        VoltageRange range = *m_predictions.planned;
        for (const auto& [at, lighter] : m_predictions.lighter)
            range.max_v = std::max(range.max_v, lighter.max_v);
        return range;
    }
    for (const auto& [at, range] : m_predictions.lighter) {
        if (at == share)
            return range;
        if (share > 1 && at == half && m_predictions.planned) {
            const VoltageRange& full = *m_predictions.planned;
            const double slope_v = std::max(0.0, range.min_v - full.min_v) / (1 - half);
            return VoltageRange{std::max(0.0, full.min_v - steeper * slope_v * (share - 1)), full.max_v};
        }
    }
    return m_predictions.planned;
}

Asked ChangeProcedure::outputAt(const std::optional<VoltageRange>& unloaded, std::optional<double> load_a,
                                const std::string& because) const
{
    Asked asked{rail().name, Quantity::Voltage, std::nullopt, load_a, because};
    if (!unloaded)
        return asked;
    const bool loaded = load_a && *load_a > 0 && unit().topology != Topology::Unregulated;
    VoltageRange range = *unloaded;
    // A before-reading is not judged by the droop that it shows itself.
    if (const auto droop = m_changed ? droopAt(load_a) : std::nullopt) {
        range = droop->under(range);
        asked.because += ", with the droop of the before-readings";
    } else if (const auto& r_out_ohm = unit().joint.r_out_ohm; loaded && r_out_ohm) {
        range = {range.min_v - *r_out_ohm * *load_a, range.max_v - *r_out_ohm * *load_a};
        asked.because += ", less its droop of " + formatOhms(*r_out_ohm);
    } else if (loaded) {
        const auto full_a = level().fullAmps();
        const double part = full_a && *full_a > 0 ? std::min(1.5, *load_a / *full_a) : 1;
        range = {range.min_v * (1 - droop_allowed * part), range.max_v * (1 + rise_allowed * part)};
        asked.because += "; droop not known, 5 % at full load allowed";
    }
    asked.window = widened(signedWindow(rail(), range.min_v, range.max_v), Quantity::Voltage);
    return asked;
}

/// Behind the limiter an output that nothing regulates stands lower, and so may one whose input is taken
/// down.
std::optional<VoltageRange> ChangeProcedure::behindLimiter(const std::optional<VoltageRange>& range,
                                                           std::string& because) const
{
    const bool holds = m_changed && m_work.other_unit && !bearsLowMains(unit().topology);
    if (!range || holds || (m_predictions.lamp_share_min >= 1 && m_predictions.lamp_share_max >= 1))
        return range;
    because += ", less what the lamp takes";
    return VoltageRange{range->min_v * m_predictions.lamp_share_min,
                        range->max_v * m_predictions.lamp_share_max};
}

/// The other rails stand beside the first in the same step: one setting moves them all.
void ChangeProcedure::askOthers(Step& step, bool planned) const
{
    for (const Predictions::Other& other : m_predictions.others) {
        const auto& window = planned ? other.planned : other.found;
        step.asks.push_back({other.rail, Quantity::Voltage,
                             window ? std::optional(widened(*window, Quantity::Voltage)) : std::nullopt,
                             std::nullopt, planned ? other.because : "as found"});
    }
}

} // namespace offshoot
