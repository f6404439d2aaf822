#include "core/job/job.h"

#include "core/job/readings.h"
#include "core/supply/rail_use.h"
#include "core/values/format.h"

#include <algorithm>
#include <charconv>

namespace offshoot {

Job::Job() = default;
Job::Job(const Job&) = default;
Job::Job(Job&&) noexcept = default;
Job& Job::operator=(const Job&) = default;
Job& Job::operator=(Job&&) noexcept = default;
Job::~Job() = default;
bool Job::operator==(const Job&) const = default;

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
           a.plan == b.plan && a.hiccup == b.hiccup && a.drawer == b.drawer && a.meter == b.meter &&
           a.pins == b.pins && a.readouts == b.readouts && a.batch == b.batch;
}

std::vector<std::string> photosOf(const Job& job)
{
    const std::set<std::string> struck = struckIds(job.log);
    std::vector<std::string> all;
    for (const LogEntry& entry : job.log)
        if (entry.kind == LogKind::Photo && entry.text && !struck.contains(entry.id))
            all.push_back(*entry.text);
    return all;
}

std::vector<PhotoPin> pinsOn(const Job& job, const std::string& photo)
{
    std::vector<PhotoPin> all;
    std::ranges::copy_if(job.pins, std::back_inserter(all),
                         [&](const PhotoPin& pin) { return pin.photo == photo; });
    return all;
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
                if (turns(job.found, Trimmer{}, other))
                    trimmer.rails.push_back(other.name);
    const auto first = rails.begin();
    std::rotate(first, first + static_cast<std::ptrdiff_t>(rail),
                first + static_cast<std::ptrdiff_t>(rail) + 1);
    job.plan.chosen.reset();
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

std::size_t unitCount(const Job& job) { return job.others.size() + 1; }

const Supply& unitSupply(const Job& job, std::size_t unit)
{
    return unit == 1 ? job.found : job.others.at(unit - 2);
}

const RectifierChain* plannedChain(const Job& job)
{
    if (job.plan.replace) // it goes with the unit that it is in
        return nullptr;
    if (job.plan.chain)
        return &*job.plan.chain;
    return job.found.mains_side.chain ? &*job.found.mains_side.chain : nullptr;
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
    Fields::expectObject(document, {});
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

std::size_t batchUnits(const Job& job)
{
    return job.others.empty() ? static_cast<std::size_t>(job.batch.units) : 1;
}

Job unitOfBatch(const Job& job, std::size_t unit)
{
    const auto tag = unitTag(unit);
    Job one = job;
    one.log.clear();
    for (const LogEntry& entry : job.log) {
        // Opening a job makes every unit live; readings with a number stand in the first one's log as they
        // were typed there, and answer none of its steps.
        const bool of_all = entry.kind == LogKind::Opened || entry.kind == LogKind::Strike;
        const bool beside = unit == 1 && entry.kind == LogKind::Reading;
        if (entry.unit != tag && !of_all && !beside)
            continue;
        one.log.push_back(entry);
        if (entry.unit == tag)
            one.log.back().unit.reset();
    }
    return one;
}

Job sameChangeOnAnotherUnit(const Job& job)
{
    Job next = job;
    next.log.clear();
    next.revision = 0;
    next.title = job.title + " (next unit)";
    next.plan.trimmer.measured_ohm.reset();
    next.batch = {};
    std::erase_if(next.readouts, [](const HeldReadout& readout) { return !readout.own_meter; });
    next.pins.clear();
    for (Wire& wire : next.found.wires)
        wire.measured = false; // a colour says nothing of the next one either
    if (next.plan.rehouse)
        for (FrontReadout& readout : next.plan.rehouse->readouts)
            readout.points.clear();
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

void fields(Fields& f, HiccupSeen& value)
{
    f.may("lamp_in", value.lamp_in);
    f.may("stops_lamp_out", value.stops_lamp_out);
    f.may("stops_unloaded", value.stops_unloaded);
    f.may("stops_with_load", value.stops_with_load);
    f.may("reaches_output", value.reaches_output);
}

void fields(Fields& f, Meter& value)
{
    f.may("name", value.name);
    f.may("volts", value.volts);
    f.may("amps", value.amps);
    f.may("ohms", value.ohms);
    f.may("probe_factor", value.probe_factor, range::positive);
    f.may("amps_per_volt", value.amps_per_volt, range::positive);
}

void fields(Fields& f, PhotoPin& value)
{
    constexpr Range across{0, 1};
    f.need("photo", value.photo);
    f.need("x", value.x, across);
    f.need("y", value.y, across);
    f.may("name", value.name);
}

void fields(Fields& f, Batch& value)
{
    constexpr std::int64_t most = 12;
    f.may("units", value.units, 1, most);
    f.may("live_together", value.live_together);
}

void fields(Fields& f, Job& value)
{
    constexpr std::int64_t many = 1'000'000'000;
    constexpr Lengths long_list{0, 1'000'000};
    constexpr Lengths several{0, 50};
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
    f.may("pins", value.pins);
    f.may("readouts", value.readouts, several);
    f.may("batch", value.batch);
    f.may("log", value.log, long_list);
}

} // namespace offshoot
