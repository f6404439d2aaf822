#include "core/job/job.h"

#include "core/values/format.h"

#include <algorithm>
#include <charconv>

namespace offshoot {

double Meter::uncertainty(double value, Quantity quantity) const
{
    switch (quantity) {
    case Quantity::Voltage:
        return volts.uncertainty(value);
    case Quantity::Current:
        return amps.uncertainty(value);
    case Quantity::Resistance:
        return ohms.uncertainty(value);
    default:
        return 0;
    }
}

bool sameEdits(const Job& a, const Job& b)
{
    return a.title == b.title && a.need == b.need && a.found == b.found && a.others == b.others &&
           a.plan == b.plan && a.hiccup == b.hiccup && a.drawer == b.drawer && a.meter == b.meter;
}

bool Refit::covers(const ConsequenceRow& judged) const
{
    return row == judged.id && (rail.empty() || rail == judged.rail);
}

bool Acceptance::covers(const ConsequenceRow& judged) const
{
    return row == judged.id && (rail.empty() || rail == judged.rail) && (part.empty() || part == judged.part);
}

std::optional<Target> unitTarget(const Job& job)
{
    const auto& target = job.need.target;
    const auto& join = job.plan.join;
    if (!target || !join || join->kind == Joining::SideBySide)
        return target;
    const auto units = static_cast<double>(job.others.size() + 1);
    return Target{target->v / units, target->min_v / units, target->max_v / units};
}

std::optional<VoltageWindow> windowOf(const Job& job, const Rail& rail)
{
    if (&rail == &job.found.rails.front() || rail.name == job.found.rails.front().name) {
        const auto target = unitTarget(job);
        return target ? std::optional(VoltageWindow{target->min_v, target->max_v}) : std::nullopt;
    }
    for (const RailNeed& other : job.need.others)
        if (other.rail == rail.name)
            return VoltageWindow{other.min_v, other.max_v};
    return std::nullopt;
}

namespace {

/// Ratios counted to the winding of the first rail, for another first rail.
void recountTurns(Supply& supply, const Rail& next)
{
    Transformer& transformer = supply.transformer;
    const auto old_ratio = turnsRatio(supply, supply.rails.front());
    const auto new_ratio = turnsRatio(supply, next);
    supply.rails.front().winding.primary_turns_per_secondary = old_ratio;
    if (auto& auxiliary = transformer.auxiliary_turns_per_secondary)
        auxiliary =
            old_ratio && new_ratio ? std::optional(*auxiliary * *new_ratio / *old_ratio) : std::nullopt;
    transformer.primary_turns_per_secondary = new_ratio;
}

/// The need's window to the others, the rail's own to the need.
void exchangeWindows(Need& need, const std::string& from, const Rail& to)
{
    const auto own = std::ranges::find(need.others, to.name, &RailNeed::rail);
    std::optional<Target> target;
    if (own != need.others.end()) {
        target = Target{(own->min_v + own->max_v) / 2, own->min_v, own->max_v};
        need.others.erase(own);
    }
    if (need.target)
        need.others.push_back({.rail = from, .min_v = need.target->min_v, .max_v = need.target->max_v});
    need.target = target;
    need.current_a = typicalCurrent(to);
}

} // namespace

void putUnderChange(Job& job, std::size_t rail)
{
    auto& rails = job.found.rails;
    if (rail == 0 || rail >= rails.size())
        return;
    recountTurns(job.found, rails[rail]);
    exchangeWindows(job.need, rails.front().name, rails[rail]);
    // A trimmer that named no rails moved those of the first one's loop.
    for (Trimmer& trimmer : job.found.trimmers)
        if (trimmer.rails.empty())
            for (const Rail& other : rails)
                if (&other == &rails.front() || movesWith(other, rails.front()))
                    trimmer.rails.push_back(other.name);
    const auto first = rails.begin();
    std::rotate(first, first + static_cast<std::ptrdiff_t>(rail),
                first + static_cast<std::ptrdiff_t>(rail) + 1);
    job.plan.chosen.reset();
}

std::string wireText(const WirePlan& wire)
{
    const std::string size = formatValue(wire.area_m2, Quantity::WireSize);
    return wire.conductors > 1 ? std::to_string(wire.conductors) + " conductors of " + size + " each way"
                               : size + " wire";
}

std::string connectionText(const ConnectionPlan& connection)
{
    std::string text;
    std::int64_t last = -1;
    for (const PlannedSegment& s : connection.segments) {
        text += last < 0 ? "" : s.string == last ? " + " : " || ";
        text += s.from + "-" + s.to;
        last = s.string;
    }
    return text;
}

std::string unitName(const Job& job, std::size_t unit)
{
    const auto named = [&job](std::size_t n) -> const std::string& {
        return n == 1 ? job.found.name : job.others.at(n - 2).name;
    };
    const std::string& name = named(unit);
    bool taken = name.empty();
    for (std::size_t n = 1; n <= job.others.size() + 1; ++n)
        taken = taken || (n != unit && named(n) == name);
    return !taken ? name : (name.empty() ? "unit" : name) + " #" + std::to_string(unit);
}

std::optional<std::string> unitTag(std::size_t unit)
{
    return unit == 1 ? std::nullopt : std::optional(std::to_string(unit));
}

namespace {

/// Version 1 hung ticks and signatures on the words of a step.
void migrate(Job& job)
{
    if (job.version < 2)
        for (LogEntry& entry : job.log)
            if (entry.kind == LogKind::Tick || entry.kind == LogKind::SignedOff)
                entry.by_words = true;
    job.version = job_version;
}

} // namespace

Job readJob(std::string_view text) { return jobFrom(parseJson(text)); }

Job jobFrom(const Json& document)
{
    Fields::expectObject(document, "");
    const auto version = document.find("version");
    if (version != document.end() && version->is_number_integer() &&
        version->get<std::int64_t>() > job_version)
        throw DocumentError(ErrorCode::OutOfRange, "/version",
                            "this job was written by a newer Offshoot (version " +
                                std::to_string(version->get<std::int64_t>()) + "; this one reads up to " +
                                std::to_string(job_version) + ")");
    Job job = readJson<Job>(document, UnknownKeys::Keep);
    migrate(job);
    return job;
}

std::string writeJob(const Job& job) { return writeJson(job, NullPolicy::Omit).dump(1, ' ', false) + '\n'; }

Json jobSchema()
{
    return schemaOf<Job>("Offshoot job, version " + std::to_string(job_version), UnknownKeys::Keep);
}

std::string nextLogId(const Job& job)
{
    int highest = 0;
    for (const LogEntry& entry : job.log) {
        int number = 0;
        const char* end = entry.id.data() + entry.id.size();
        if (entry.id.starts_with('L') && std::from_chars(entry.id.data() + 1, end, number).ptr == end)
            highest = std::max(highest, number);
    }
    return "L" + std::to_string(highest + 1);
}

Job sameChangeOnAnotherUnit(const Job& job)
{
    Job next = job;
    next.log.clear();
    next.revision = 0;
    next.title = job.title + " (next unit)";
    next.plan.trimmer.measured_ohm.reset();
    return next;
}

std::vector<StockItem> defaultDrawer()
{
    std::vector<StockItem> drawer =
        stockOf({.name = Series::E24, .from_ohm = 1, .to_ohm = 1e6, .tolerance = 0.01, .power_w = 0.25});
    const auto coarse =
        stockOf({.name = Series::E12, .from_ohm = 1, .to_ohm = 1e6, .tolerance = 0.05, .power_w = 0.25});
    drawer.insert(drawer.end(), coarse.begin(), coarse.end());
    return drawer;
}

// ---- documents

void fields(Fields& f, RailNeed& value)
{
    f.need("rail", value.rail);
    f.need("min_v", value.min_v);
    f.need("max_v", value.max_v);
    f.demand(value.min_v < value.max_v, ErrorCode::Inconsistent, {}, "min_v is not below max_v");
}

void fields(Fields& f, Need& value)
{
    f.may("target", value.target);
    f.may("current_a", value.current_a, range::positive);
    f.may("least_a", value.least_a, range::not_negative);
    f.may("peak_a", value.peak_a, range::positive);
    f.may("draws", value.draws);
    f.may("others", value.others);
    f.may("ripple_max_v", value.ripple_max_v, range::positive);
    if (f.reading())
        value.mains.v_assumed = value.mains.spread_assumed = true; // until the file says
    f.may("mains", value.mains);
    f.may("load", value.load);
    f.may("why", value.why);
    f.may("must_not_change", value.must_not_change);
}

void fields(Fields& f, ChosenNetwork& value)
{
    f.need("method", value.method);
    f.need("network", value.network);
    f.need("parts", value.parts, {1, max_network_parts});
    f.demand(value.parts.size() == value.network.parts().size(), ErrorCode::Inconsistent, "parts",
             "one entry for each part of the network is wanted");
}

void fields(Fields& f, TrimmerPlan& value)
{
    f.may("method", value.method);
    f.may("pot_ohm", value.pot_ohm, range::positive);
    f.may("fixed_ohm", value.fixed_ohm, range::not_negative);
    f.may("wiper_tied", value.wiper_tied);
    f.may("measured_ohm", value.measured_ohm, range::not_negative);
}

void fields(Fields& f, TrimPlan& value)
{
    f.need("trimmer", value.trimmer);
    f.may("scale", value.scale, range::positive);
}

void fields(Fields& f, DummyLoadPlan& value)
{
    f.need("rail", value.rail);
    f.need("network", value.network);
    f.may("part_power_w", value.part_power_w, range::positive);
}

void fields(Fields& f, RewindPlan& value)
{
    constexpr std::int64_t most_turns = 10000;
    f.need("rail", value.rail);
    f.need("turns", value.turns, 1, most_turns);
}

void fields(Fields& f, ShuntPlan& value)
{
    f.need("network", value.network);
    f.may("tolerance", value.tolerance, range::fraction);
    f.may("part_power_w", value.part_power_w, range::positive);
}

void fields(Fields& f, UnitSetting& value)
{
    f.need("unit", value.unit, 1, most_units);
    f.need("v_set_v", value.v_set_v, range::positive);
}

std::string JoinPlan::ballastText() const
{
    if (!ballast_lead)
        return ballast->prettyText();
    return formatOhms(ballast->ohm()) + " by " + formatValue(ballast_lead->length_m, Quantity::Length, 2) +
           " more lead of " + formatValue(ballast_lead->area_m2, Quantity::WireSize);
}

void fields(Fields& f, JoinPlan& value)
{
    f.may("kind", value.kind);
    f.may("settings", value.settings);
    f.may("ballast", value.ballast);
    f.may("ballast_power_w", value.ballast_power_w, range::positive);
    f.may("ballast_lead", value.ballast_lead);
    f.may("diode", value.diode);
    f.may("opened_bonds", value.opened_bonds, 1, most_units);
    f.may("reverse_diode", value.reverse_diode);
    f.may("earthed_node", value.earthed_node, 0, most_units);
}

void fields(Fields& f, WirePlan& value)
{
    f.need("area_m2", value.area_m2, range::positive);
    f.may("conductors", value.conductors, 1, most_units);
}

void fields(Fields& f, PlannedSegment& value)
{
    f.need("string", value.string, 0, 3);
    f.need("winding", value.winding);
    f.need("from", value.from);
    f.need("to", value.to);
}

void fields(Fields& f, ConnectionPlan& value) { f.may("segments", value.segments, {0, 4}); }

void fields(Fields& f, LimiterPlan& value)
{
    f.may("r_ohm", value.r_ohm, range::positive);
    f.may("power_w", value.power_w, range::positive);
    f.may("pulse_j", value.pulse_j, range::positive);
    f.may("fusible", value.fusible);
    f.may("bypass_s", value.bypass_s, range::not_negative);
    f.may("relay", value.relay);
    f.may("delay_c_f", value.delay_c_f, range::positive);
    f.may("delay_supply_v", value.delay_supply_v, range::positive);
    f.may("delay_threshold_v", value.delay_threshold_v, range::positive);
}

void fields(Fields& f, HiccupSeen& value)
{
    f.may("lamp_in", value.lamp_in);
    f.may("stops_lamp_out", value.stops_lamp_out);
    f.may("stops_unloaded", value.stops_unloaded);
    f.may("stops_with_load", value.stops_with_load);
    f.may("reaches_output", value.reaches_output);
}

void fields(Fields& f, Refit& value)
{
    f.need("row", value.row);
    f.need("rating", value.rating, range::positive);
    f.may("rail", value.rail);
}

void fields(Fields& f, Acceptance& value)
{
    f.need("row", value.row);
    f.need("reason", value.reason);
    f.may("rail", value.rail);
    f.may("part", value.part);
    f.demand(!rowInfo(value.row).mains_side, ErrorCode::Inconsistent, "row",
             "a break on the mains side cannot be accepted");
}

void fields(Fields& f, Plan& value)
{
    f.may("route", value.route);
    f.may("chosen", value.chosen);
    f.may("trimmer", value.trimmer);
    f.may("max_parts", value.max_parts, 1, 2);
    f.may("trim", value.trim);
    f.may("dummy_load", value.dummy_load);
    f.may("rewind", value.rewind);
    f.may("shunt", value.shunt);
    f.may("join", value.join);
    f.may("wire", value.wire);
    f.may("remote_sense", value.remote_sense);
    f.may("connection", value.connection);
    f.may("limiter", value.limiter);
    f.may("chain", value.chain);
    f.may("refits", value.refits);
    f.may("accepted", value.accepted);
}

void fields(Fields& f, ReadingLoad& value)
{
    f.need("value", value.value, range::not_negative);
    f.need("quantity", value.quantity);
}

std::optional<double> loadAmps(const LogEntry& entry)
{
    if (!entry.load)
        return std::nullopt;
    switch (entry.load->quantity) {
    case Quantity::Current:
        return entry.load->value;
    case Quantity::Power:
        return *entry.value != 0 ? std::optional(entry.load->value / std::abs(*entry.value)) : std::nullopt;
    case Quantity::Resistance:
        return entry.load->value > 0 ? std::optional(std::abs(*entry.value) / entry.load->value)
                                     : std::nullopt;
    default:
        return std::nullopt;
    }
}

void fields(Fields& f, LogEntry& value)
{
    constexpr Lengths names{0, 1000};
    f.need("id", value.id);
    f.need("time_s", value.time_s);
    f.need("kind", value.kind);
    f.may("step", value.step);
    f.may("point", value.point);
    f.may("quantity", value.quantity);
    f.may("value", value.value);
    f.may("uncertainty", value.uncertainty, range::not_negative);
    f.may("load", value.load);
    f.may("unit", value.unit);
    f.may("stage", value.stage);
    f.may("isolation", value.isolation);
    f.may("meter", value.meter);
    f.may("typed", value.typed, any_text);
    f.may("imported", value.imported);
    f.may("text", value.text, any_text);
    f.may("lamp", value.lamp);
    f.may("by_words", value.by_words);
    if (f.mode() != Fields::Mode::Write || value.kind == LogKind::Model) {
        f.may("sources", value.sources, names);
        f.may("reservoirs", value.reservoirs, names);
    }
    const bool reading = value.kind == LogKind::Reading;
    f.demand(!reading || (value.point && value.value && value.quantity), ErrorCode::Missing, "value",
             "a reading has point, quantity and value");
}

void fields(Fields& f, Meter& value)
{
    f.may("name", value.name);
    f.may("volts", value.volts);
    f.may("amps", value.amps);
    f.may("ohms", value.ohms);
}

void fields(Fields& f, Job& value)
{
    constexpr std::int64_t many = 1'000'000'000;
    constexpr Lengths long_list{0, 1'000'000};
    f.need("version", value.version, 1, job_version);
    f.may("revision", value.revision, 0, many);
    f.may("title", value.title, name_length);
    f.may("need", value.need);
    f.may("found", value.found);
    f.may("others", value.others, {0, most_units - 1});
    f.may("plan", value.plan);
    f.may("hiccup", value.hiccup);
    f.may("drawer", value.drawer);
    f.may("meter", value.meter);
    f.may("log", value.log, long_list);
}

} // namespace offshoot
