#include "core/evaluate/stations.h"

#include "core/evaluate/evaluation.h"
#include "core/job/readings.h"
#include "core/judge/row_maker.h"
#include "core/kinds/joined/units.h"
#include "core/kinds/planned.h"
#include "core/kinds/wire/wire_view.h"
#include "core/supply/power_path.h"
#include "core/values/figures.h"

#include <algorithm>
#include <cmath>

namespace offshoot {

namespace {

class Stations
{
public:
    Stations(const Job& job, const Evaluation& evaluation)
        : m_job(job)
        , m_e(evaluation)
        , m_rail(job.found.rails.front())
    {}

    std::vector<RailView> rails() const
    {
        std::vector<RailView> views;
        for (std::size_t i = 0; i < m_job.found.rails.size(); ++i)
            views.push_back(railView(i));
        return views;
    }

    std::vector<UnitView> units() const
    {
        std::vector<UnitView> views;
        for (std::size_t unit = 1; !m_job.others.empty() && unit <= unitCount(m_job); ++unit)
            views.push_back(unitView(unit));
        return views;
    }

    std::vector<StationView> run()
    {
        std::vector<StationView> views(station_count);
        for (std::size_t i = 0; i < station_count; ++i) {
            views[i].station = static_cast<Station>(i);
            views[i].verdict = Verdict::Fits;
        }
        setVerdicts(views);
        for (StationView& view : views) {
            view.name = stationName(view.station, m_job.found);
            setFigures(view);
        }
        setPower(views);
        return views;
    }

private:
    void setVerdicts(std::vector<StationView>& views) const
    {
        for (const ConsequenceRow& row : m_e.consequences.rows) {
            StationView& view = views[static_cast<std::size_t>(spokenFor(m_e.path, row.station))];
            view.has_rows = true;
            view.verdict = worse(view.verdict, row.verdict);
        }
        for (StationView& view : views)
            if (!view.has_rows)
                view.reason = reasonWithoutRows(view.station, m_job.found.topology);
    }

    template <typename Write>
    static void setFound(StationView& view, const std::optional<double>& value, Write write)
    {
        view.found = value ? write(*value) : std::string();
        view.found_si = value;
    }
    template <typename Write>
    static void setPlanned(StationView& view, const std::optional<double>& value, Write write)
    {
        view.planned = value ? write(*value) : std::string();
        view.planned_si = value;
    }

    /// Found and planned of one row, as its station's figures.
    void fromRow(StationView& view, RowId id) const
    {
        for (const ConsequenceRow& row : m_e.consequences.rows) {
            if (row.id != id || (!row.rail.empty() && row.rail != m_rail.name))
                continue;
            if (row.found)
                setFound(view, row.found, volts);
            if (row.planned)
                setPlanned(view, row.planned, volts);
        }
    }

    std::string measured(const std::string& point, std::optional<Isolation> isolation = Isolation::Live,
                         bool after_change = false, const std::optional<std::string>& unit = {},
                         std::optional<double>* si = nullptr) const
    {
        const LogEntry* entry = newestAt(m_job, point, unit, isolation, after_change);
        if (entry == nullptr)
            return {};
        if (si != nullptr)
            *si = entry->value;
        std::string text = entry->quantity == Quantity::Voltage ? volts(*entry->value)
                           : entry->quantity == Quantity::Resistance
                               ? formatOhms(*entry->value)
                               : formatValue(*entry->value, *entry->quantity);
        if (!isolation && entry->quantity == Quantity::Voltage && entry->isolation != Isolation::Live)
            text += " dead";
        return text;
    }

    /// A figure that this change leaves as it was found.
    template <typename Write>
    static void keeps(StationView& view, const std::optional<double>& value, Write write)
    {
        if (!value)
            return;
        setFound(view, value, write);
        setPlanned(view, value, write);
    }

    RailView railView(std::size_t at) const;
    UnitView unitView(std::size_t unit) const;
    void setFigures(StationView& view) const;
    void feedbackFigures(StationView& view) const;
    void cableFigures(StationView& view) const;
    bool onlyAims() const;
    std::optional<double> atTerminals(const std::optional<double>& set_v) const;
    std::optional<double> arrives(const std::optional<double>& from_v, Condition condition) const;
    void setRatio(StationView& view) const;
    void setPower(std::vector<StationView>& views) const;

    const Job& m_job;
    const Evaluation& m_e;
    const Rail& m_rail;
};

void Stations::setFigures(StationView& view) const
{
    const Supply& supply = m_job.found;
    const auto target = unitTarget(m_job);
    const bool aims = onlyAims();
    const std::optional<double> planned_v = m_e.planned_v ? m_e.planned_v
                                            : aims        ? std::optional(target->v)
                                                          : std::nullopt;
    switch (view.station) {
    case Station::Inlet:
        if (supply.dcFed()) {
            if (supply.direct.min_v && supply.direct.max_v)
                view.found = view.planned =
                    significant(*supply.direct.min_v, 3) + "–" + significant(*supply.direct.max_v, 3) + " V";
        } else if (!m_job.need.mains.v_assumed)
            keeps(view, m_job.need.mains.v_v, [](double v) { return significant(v, 4) + " V"; });
        view.measured = measured("mains", Isolation::Live, false, {}, &view.measured_si);
        break;
    case Station::Fuse:
        view.found = fuseText(supply.fuse);
        view.found_si = supply.fuse.value_a;
        view.planned = fuseText(m_e.unit.supply.fuse);
        view.planned_si = m_e.unit.supply.fuse.value_a;
        break;
    case Station::Inrush:
        keeps(view, supply.inrush.r_ohm, formatOhms);
        break;
    case Station::InputRectifier:
        fromRow(view, RowId::InputRectifierReverse);
        break;
    case Station::Reservoir:
        fromRow(view, RowId::BulkVoltage);
        view.measured = measured("bulk", std::nullopt, false, {}, &view.measured_si);
        break;
    case Station::Converter:
        fromRow(view, RowId::SwitchVoltage);
        break;
    case Station::Transformer:
        setRatio(view);
        break;
    case Station::OutputRectifier:
        fromRow(view, RowId::RectifierReverse);
        break;
    case Station::Smoothing:
        setFound(view, m_e.found_v, volts);
        setPlanned(view, atTerminals(planned_v), volts);
        view.measured = measured(m_rail.name, Isolation::Live, false, {}, &view.measured_si);
        break;
    case Station::Cable:
        cableFigures(view);
        break;
    case Station::Load:
        view.name = m_job.need.load.name;
        setFound(view, arrives(m_e.found_v, Condition::Found), volts);
        setPlanned(view, m_e.load_v && !aims ? m_e.load_v : arrives(planned_v, Condition::Planned), volts);
        view.measured = measured("load", Isolation::Live, true, {}, &view.measured_si);
        if (view.measured.empty())
            view.measured = measured(m_rail.name, Isolation::Live, true, {}, &view.measured_si);
        break;
    case Station::Feedback:
        feedbackFigures(view);
        break;
    }
}

/// Without a plan the target stands as planned; where a plan's voltage is unknown it does not.
bool Stations::onlyAims() const { return !m_e.planned_v && unitTarget(m_job) && !changesAnything(m_job); }

/// What drops on the way to the load.
void Stations::cableFigures(StationView& view) const
{
    setFound(view, runDrop(m_job, m_e, Condition::Found), volts);
    setPlanned(view, runDrop(m_job, m_e, Condition::Planned), volts);
}

/// Where plan and run are known, the terminals stand above what arrives by what drops on it: below the set
/// point by the unit's own droop, or above it with sense wires.
std::optional<double> Stations::atTerminals(const std::optional<double>& set_v) const
{
    if (m_e.joined || onlyAims() || !m_e.load_v)
        return set_v;
    const auto drop_v = runDrop(m_job, m_e, Condition::Planned);
    return drop_v ? std::optional(*m_e.load_v + *drop_v) : set_v;
}

/// What the unit gives less what drops on the run, all of it where nobody knows the run; nothing where the
/// load cannot run through it.
std::optional<double> Stations::arrives(const std::optional<double>& from_v, Condition condition) const
{
    const Supply& supply = condition == Condition::Found ? m_job.found : m_e.unit.supply;
    if (!from_v || !supply.rails.front().cable.loopOhm() || !m_job.need.current_a)
        return from_v;
    const auto drop_v = runDrop(m_job, m_e, condition);
    return drop_v ? std::optional(*from_v - *drop_v) : std::nullopt;
}

void Stations::setRatio(StationView& view) const
{
    const auto ratio = [](const Supply& supply) { return turnsRatio(supply, supply.rails.front()); };
    const auto text = [](double r) { return significant(r, 3) + " : 1"; };
    setFound(view, ratio(m_job.found), text);
    setPlanned(view, ratio(m_job.plan.rewind ? m_e.unit.supply : m_job.found), text);
}

void Stations::feedbackFigures(StationView& view) const
{
    if (m_job.found.topology == Topology::Unregulated)
        view.found = view.planned = "none";
    if (!m_e.divider)
        return;
    const Legs legs = m_e.divider->nominal();
    const bool top = m_e.planned && joinsTop(m_e.planned->option.method);
    setFound(view, top ? legs.top_ohm : legs.bottom_ohm, formatOhms);
    if (m_e.planned_legs)
        setPlanned(view, top ? m_e.planned_legs->top_ohm : m_e.planned_legs->bottom_ohm,
                   [](double ohm) { return formatOhms(std::round(ohm)); });
    view.measured = measured(top ? "top" : "bottom", std::nullopt, false, {}, &view.measured_si);
}

RailView Stations::railView(std::size_t at) const
{
    const Rail& rail = m_job.found.rails[at];
    const bool first = at == 0;
    RailView view{};
    view.name = rail.name;
    view.users = rail.users.size();
    view.follows = movesWith(rail, m_rail);
    const auto& found_v = m_e.rails_found_v[at];
    const auto& planned_v = m_e.rails_planned_v[at];
    view.found = found_v ? volts(rail.sign() * *found_v) : "";
    view.planned = planned_v ? volts(rail.sign() * *planned_v) : "";
    view.measured = measured(rail.name);
    const double i_a =
        first ? m_e.own_current_a.value_or(rail.i_rated_a.value_or(0)) : typicalCurrent(rail).value_or(0);
    const double v = planned_v.value_or(found_v.value_or(0));
    view.power_w = v * i_a;
    if (const auto& dummy = m_job.plan.dummy_load; dummy && dummy->rail == rail.name && !first)
        view.power_w += v * v / dummy->network.ohm();
    view.verdict = Verdict::Fits;
    for (const ConsequenceRow& row : m_e.consequences.rows)
        if (row.rail == rail.name) {
            view.has_rows = true;
            view.verdict = worse(view.verdict, row.verdict);
        }
    return view;
}

UnitView Stations::unitView(std::size_t unit) const
{
    UnitView view{};
    view.name = unitName(m_job, unit);
    view.tag = unitTag(unit);
    const auto found_v = unitFound(m_job, m_e, unit);
    const auto set_v = unitSet(m_job, m_e, unit);
    view.found = found_v ? volts(*found_v) : "";
    view.planned = set_v ? volts(*set_v) : "";
    view.measured = measured(m_rail.name, Isolation::Live, true, view.tag);
    view.verdict = Verdict::Fits;
    for (const ConsequenceRow& row : m_e.consequences.rows) {
        if (row.part != view.name)
            continue;
        if (row.id != RowId::UnitShare && row.id != RowId::StackIsolation && row.id != RowId::StackDiode)
            continue;
        view.has_rows = true;
        view.verdict = worse(view.verdict, row.verdict);
        if (row.id != RowId::StackDiode && row.planned)
            view.place = row.id == RowId::UnitShare
                             ? formatValue(*row.planned, Quantity::Current) +
                                   (row.limit ? " of " + formatValue(*row.limit, Quantity::Current) : "")
                             : row.working;
    }
    return view;
}

/// Power from the load back to the mains; what is lost on the way peels off at its station.
void Stations::setPower(std::vector<StationView>& views) const
{
    const Supply& planned = m_e.unit.supply;
    const Rail& rail = planned.rails.front();
    const double set_v = m_e.planned_v       ? *m_e.planned_v
                         : unitTarget(m_job) ? unitTarget(m_job)->v
                                             : m_e.found_v.value_or(0);
    const double v = atTerminals(set_v).value_or(set_v);
    // Through a run that is known flows what the load then draws; of joined units each gives its own share.
    const auto drop_v = runDrop(m_job, m_e, Condition::Planned);
    const double loop_ohm = rail.cable.loopOhm().value_or(0);
    const double i_a = drop_v && loop_ohm > 0 && !m_e.joined
                           ? *drop_v / loop_ohm
                           : m_e.own_current_a.value_or(m_rail.i_rated_a.value_or(0));
    const auto at = [&](Station s) -> StationView& {
        return views[static_cast<std::size_t>(spokenFor(m_e.path, s))];
    };
    double accounted = 0;
    const auto lose = [&](Station s, double w, const std::string& name) {
        accounted += w;
        at(s).loss_w += w;
        if (at(s).loss_name.empty())
            at(s).loss_name = name;
    };
    const auto& dummy = m_job.plan.dummy_load;
    if (rail.minimum_load.r_ohm && rail.minimum_load.fitted != false)
        lose(Station::Smoothing, v * v / *rail.minimum_load.r_ohm,
             dummy && dummy->rail == rail.name ? "dummy load" : "bleeder");
    if (m_rail.indicator.r_ohm && m_rail.indicator.fitted != false)
        lose(Station::Smoothing, v * std::max(0.0, v - 2) / *m_rail.indicator.r_ohm, "bleeder");
    lose(Station::OutputRectifier, rows::rectifierDropOf(m_rail) * i_a, "rectifier");
    double others_w = 0;
    for (std::size_t i = 1; i < m_e.rails.size(); ++i)
        others_w += m_e.rails[i].power_w;
    const double out_w = v * i_a + others_w;
    const double input_w = out_w / efficiencyOf(m_job.found, v);
    lose(Station::Converter, std::max(0.0, input_w - out_w - accounted), "losses");
    lose(Station::Cable, drop_v.value_or(0) * i_a, "cable"); // of what the unit gives
    double power_w = input_w;
    for (const Station station : m_e.path) {
        StationView& view = at(station);
        power_w -= view.loss_w;
        if (station == spokenFor(m_e.path, Station::Transformer))
            power_w -= others_w; // the other rails fork off here
        view.power_w = std::max(0.0, power_w);
    }
}

} // namespace

std::vector<UnitView> unitViews(const Job& job, const Evaluation& evaluation)
{
    return Stations(job, evaluation).units();
}

std::vector<RailView> railViews(const Job& job, const Evaluation& evaluation)
{
    return Stations(job, evaluation).rails();
}

std::vector<StationView> stationViews(const Job& job, const Evaluation& evaluation)
{
    return Stations(job, evaluation).run();
}

std::vector<Station> walkOf(const Job& job, const Evaluation& evaluation)
{
    std::vector<Station> walk;
    for (const Station station : evaluation.path) {
        walk.push_back(station);
        if (station == Station::Converter && hasFeedback(job.found))
            walk.push_back(Station::Feedback);
    }
    return walk;
}

std::vector<StationView> stationsShown(const Job& job, const Evaluation& evaluation)
{
    std::vector<StationView> shown;
    for (const Station station : walkOf(job, evaluation))
        shown.push_back(evaluation.stations.at(static_cast<std::size_t>(station)));
    return shown;
}

} // namespace offshoot
