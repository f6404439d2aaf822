#include "core/evaluate/whole_job.h"

#include "core/evaluate/before_after.h"
#include "core/evaluate/evaluation.h"
#include "core/evaluate/job_input.h"
#include "core/evaluate/parts.h"
#include "core/evaluate/stations.h"
#include "core/evaluate/unread.h"
#include "core/evaluate/ways.h"
#include "core/kinds/kind.h"
#include "core/kinds/parts_list.h"
#include "core/kinds/school.h"
#include "core/supply/connections.h"
#include "core/supply/station.h"
#include "core/values/figures.h"

#include <algorithm>

namespace offshoot {

namespace {

struct SourceAnswer
{
    std::string name;
    bool off;
};
void fields(Fields& f, SourceAnswer& v)
{
    f.need("name", v.name);
    f.need("off", v.off);
}

struct ReservoirAnswer
{
    std::string point;
    std::optional<std::string> unit;
    double v0_v;
    std::optional<double> c_f;
    std::optional<double> bleeder_ohm;
    std::optional<double> discharge_s;
    double wait_s;
    bool needs_second;
    bool proven;
};
void fields(Fields& f, ReservoirAnswer& v)
{
    f.need("point", v.point);
    f.may("unit", v.unit);
    f.need("v0_v", v.v0_v);
    f.may("c_f", v.c_f);
    f.may("bleeder_ohm", v.bleeder_ohm);
    f.may("discharge_s", v.discharge_s);
    f.need("wait_s", v.wait_s);
    f.need("needs_second", v.needs_second);
    f.need("proven", v.proven);
}

struct IsolationAnswer
{
    Isolation state;
    std::string why;
    std::vector<SourceAnswer> sources;
    std::vector<ReservoirAnswer> reservoirs;
};
void fields(Fields& f, IsolationAnswer& v)
{
    f.need("state", v.state);
    f.need("why", v.why, any_text);
    f.need("sources", v.sources);
    f.need("reservoirs", v.reservoirs);
}

struct StationAnswer
{
    Station station;
    std::string name;
    std::optional<double> found;
    std::optional<double> planned;
    std::optional<double> measured;
    std::optional<Verdict> verdict;
};
void fields(Fields& f, StationAnswer& v)
{
    f.need("station", v.station);
    f.need("name", v.name);
    f.may("found", v.found);
    f.may("planned", v.planned);
    f.may("measured", v.measured);
    f.may("verdict", v.verdict);
}

struct DischargeAnswer
{
    double ohm;
    double v;
    double power_w;
    double energy_j;
    double seconds;
};
void fields(Fields& f, DischargeAnswer& v)
{
    f.need("ohm", v.ohm);
    f.need("v", v.v);
    f.need("power_w", v.power_w);
    f.need("energy_j", v.energy_j);
    f.need("seconds", v.seconds);
}

struct ReadingAnswer
{
    std::string point;
    std::optional<std::string> unit;
    Quantity quantity;
    std::optional<double> load;
    std::optional<double> min;
    std::optional<double> max;
    std::string why;
    std::optional<double> value;
    std::optional<double> u;
};
void fields(Fields& f, ReadingAnswer& v)
{
    f.need("point", v.point);
    f.may("unit", v.unit);
    f.need("quantity", v.quantity);
    f.may("load", v.load);
    f.may("min", v.min);
    f.may("max", v.max);
    f.need("why", v.why, any_text);
    f.may("value", v.value);
    f.may("u", v.u);
}

struct StepAnswer
{
    Stage stage;
    std::string id;
    std::optional<std::int64_t> unit;
    StepKind kind;
    std::vector<Does> does;
    std::optional<Through> through;
    std::optional<DischargeAnswer> discharge;
    std::string title;
    std::string detail;
    std::vector<std::string> parts;
    std::optional<double> wait_s;
    bool allowed;
    std::string refusal;
    StepStatus state;
    std::vector<std::string> checks;
    std::vector<Caution> cautions;
    std::vector<ReadingAnswer> readings;
};
void fields(Fields& f, StepAnswer& v)
{
    constexpr Lengths list{0, 100};
    f.need("stage", v.stage);
    f.need("id", v.id);
    f.may("unit", v.unit, 1, most_units);
    f.need("kind", v.kind);
    f.need("does", v.does, list);
    f.may("through", v.through);
    f.may("discharge", v.discharge);
    f.need("title", v.title);
    f.need("detail", v.detail, any_text);
    f.may("parts", v.parts);
    f.may("wait_s", v.wait_s);
    f.need("allowed", v.allowed);
    f.need("refusal", v.refusal, any_text);
    f.need("state", v.state);
    f.may("checks", v.checks);
    f.need("cautions", v.cautions, list);
    f.need("readings", v.readings);
}

struct SideAnswer
{
    std::string name;
    std::string figures;
};
void fields(Fields& f, SideAnswer& v)
{
    f.need("name", v.name);
    f.need("figures", v.figures, any_text);
}

struct SchoolAnswer
{
    std::string question;
    std::vector<SideAnswer> sides;
    std::string pick;
    std::string why;
};
void fields(Fields& f, SchoolAnswer& v)
{
    f.need("question", v.question);
    f.need("sides", v.sides);
    f.need("pick", v.pick);
    f.need("why", v.why, any_text);
}

struct CompareAnswer
{
    BeforeAfter row;
};
void fields(Fields& f, CompareAnswer& v)
{
    f.need("name", v.row.name);
    f.need("quantity", v.row.quantity);
    f.may("found", v.row.found);
    f.may("found_u", v.row.found_u);
    std::optional<double> min = v.row.planned ? v.row.planned->min : std::nullopt;
    std::optional<double> max = v.row.planned ? v.row.planned->max : std::nullopt;
    f.may("planned_min", min);
    f.may("planned_max", max);
    f.may("measured", v.row.measured);
    f.may("measured_u", v.row.measured_u);
    f.may("verdict", v.row.verdict);
    f.may("difference", v.row.difference);
    f.may("difference_verdict", v.row.is);
}

struct PartAnswer
{
    PartLine line;
};
void fields(Fields& f, PartAnswer& v)
{
    f.need("name", v.line.name);
    f.need("where", v.line.where, any_text);
    f.need("replaces", v.line.replaces, any_text);
    f.need("to_get", v.line.to_get);
    f.need("tool", v.line.tool);
}

struct NeedAnswer
{
    std::string line;
    Need need;
};
void fields(Fields& f, NeedAnswer& v)
{
    f.need("line", v.line, any_text);
    fields(f, v.need);
}

struct UnreadAnswer
{
    Unread unread;
};
void fields(Fields& f, UnreadAnswer& v)
{
    f.need("station", v.unread.station);
    f.need("part", v.unread.part);
    f.need("quantity", v.unread.quantity);
    f.need("row", v.unread.row.id);
    f.need("rail", v.unread.row.rail, any_text);
    f.need("what", v.unread.what, any_text);
    f.need("blocks", v.unread.blocks);
    f.need("decides", v.unread.decides);
    f.may("would_break", v.unread.would_break);
    f.may("would_fit", v.unread.would_fit);
}

struct ReachAnswer
{
    double min_v;
    double max_v;
};
void fields(Fields& f, ReachAnswer& v)
{
    f.need("min_v", v.min_v);
    f.need("max_v", v.max_v);
}

struct WorstAnswer
{
    RowId row;
    std::optional<double> use;
    Verdict verdict;
};
void fields(Fields& f, WorstAnswer& v)
{
    f.need("row", v.row);
    f.may("use", v.use);
    f.need("verdict", v.verdict);
}

struct WayAnswer
{
    Way way;
    bool concerned;
    std::string how;
    std::optional<ReachAnswer> reaches;
    Verdict verdict;
    std::optional<std::string> stopped_by;
    std::optional<WorstAnswer> worst;
    bool opens_mains_side;
    std::int64_t joints;
    std::int64_t parts;
    std::int64_t to_get;
    double minutes;
    bool reversible;
    std::vector<UnreadAnswer> needs;
    std::optional<Plan> plan;
};
void fields(Fields& f, WayAnswer& v)
{
    constexpr std::int64_t many = 100000;
    f.need("way", v.way);
    f.need("concerned", v.concerned);
    f.need("how", v.how, any_text);
    f.may("reaches", v.reaches);
    f.need("verdict", v.verdict);
    f.may("stopped_by", v.stopped_by, any_text);
    f.may("worst", v.worst);
    f.need("opens_mains_side", v.opens_mains_side);
    f.need("joints", v.joints, 0, many);
    f.need("parts", v.parts, 0, many);
    f.need("to_get", v.to_get, 0, many);
    f.need("minutes", v.minutes);
    f.need("reversible", v.reversible);
    f.need("needs", v.needs);
    f.may("plan", v.plan);
}

WayAnswer wayAnswer(const WorkedWay& way)
{
    WayAnswer out{.way = way.way,
                  .concerned = way.concerned,
                  .how = way.how,
                  .reaches = {},
                  .verdict = way.verdict,
                  .stopped_by = way.stopped_by.empty() ? std::nullopt : std::optional(way.stopped_by),
                  .worst = {},
                  .opens_mains_side = way.opens_mains_side,
                  .joints = way.joints,
                  .parts = way.parts,
                  .to_get = way.to_get,
                  .minutes = way.minutes,
                  .reversible = way.reversible,
                  .needs = {},
                  .plan = way.plan};
    if (way.reaches)
        out.reaches = ReachAnswer{way.reaches->min_v, way.reaches->max_v};
    if (way.worst)
        out.worst = WorstAnswer{way.worst->id, way.worst->use, way.worst->verdict};
    for (const Unread& unread : way.needs)
        out.needs.push_back({unread});
    return out;
}

struct UnitsAnswer
{
    std::vector<std::string> earth_class;
    std::vector<Verdict> bears;
    std::vector<std::string> why;
};

struct WholeJob
{
    std::string title;
    NeedAnswer need;
    IsolationAnswer isolation;
    std::vector<StationAnswer> stations;
    ConsequencesResult consequences;
    std::vector<UnreadAnswer> unread;
    std::vector<WayAnswer> ways;
    std::vector<StepAnswer> steps;
    std::vector<Connections> connections;
    std::vector<SchoolAnswer> schools;
    std::vector<CompareAnswer> before_after;
    std::vector<std::string> blocked_by;
    std::vector<PartAnswer> parts;
    std::int64_t units;
    UnitsAnswer of_units;
    bool dc_fed;
    bool sealed;
    bool open_frame;
    bool signed_off;
};
void fields(Fields& f, WholeJob& v)
{
    f.need("title", v.title);
    f.need("need", v.need);
    f.need("isolation", v.isolation);
    f.need("stations", v.stations);
    f.need("consequences", v.consequences);
    f.need("unread", v.unread);
    f.need("ways", v.ways);
    f.need("steps", v.steps);
    f.need("connections", v.connections);
    f.need("schools", v.schools);
    f.need("before_after", v.before_after);
    f.may("blocked_by", v.blocked_by);
    f.need("parts", v.parts);
    f.need("units", v.units, 1, most_units);
    const auto by_unit = [&](std::string_view key, const auto& list, const auto& text) {
        Json object = Json::object();
        for (std::size_t i = 0; i < list.size(); ++i)
            object[std::to_string(i + 1)] = text(list[i]);
        f.write(key, std::move(object));
    };
    by_unit("earth_class", v.of_units.earth_class, [](const std::string& s) { return Json(s); });
    by_unit("bears_mains", v.of_units.bears, [](Verdict verdict) { return Json(word(verdict)); });
    by_unit("bears_why", v.of_units.why, [](const std::string& s) { return Json(s); });
    f.need("dc_fed", v.dc_fed);
    f.need("sealed", v.sealed);
    f.need("open_frame", v.open_frame);
    f.need("signed_off", v.signed_off);
}

std::string whyIsolated(const IsolationView& view)
{
    if (view.state == Isolation::ProvenDead)
        return "every source off, every reservoir read below 10 V";
    if (view.state == Isolation::Unproven)
        return view.missing.empty() ? "every source off, charge not proven gone"
                                    : "it cannot become proven dead: " + view.missing;
    return view.assumed ? "assumed: nobody has declared the sources off" : "a source may be connected";
}

IsolationAnswer isolationAnswer(const Evaluation& e)
{
    IsolationAnswer answer{
        .state = e.isolation.state, .why = whyIsolated(e.isolation), .sources = {}, .reservoirs = {}};
    for (const std::string& source : e.energy.sources)
        answer.sources.push_back({source, std::ranges::count(e.isolation.sources_off, source) > 0});
    for (const Reservoir& r : e.energy.reservoirs)
        answer.reservoirs.push_back({r.point, r.unit, r.v0_v, r.c_f, r.bleeder_ohm, r.discharge_s, r.wait_s,
                                     r.needs_second, std::ranges::count(e.isolation.proven, r.key()) > 0});
    return answer;
}

StepAnswer stepAnswer(const StepView& view)
{
    const Step& step = view.step;
    StepAnswer answer{.stage = step.stage,
                      .id = step.id,
                      .unit = step.unit ? std::optional(static_cast<std::int64_t>(*step.unit)) : std::nullopt,
                      .kind = step.kind,
                      .does = step.does,
                      .through = step.through,
                      .discharge = {},
                      .title = step.title,
                      .detail = step.detail,
                      .parts = step.parts,
                      .wait_s = step.wait_s,
                      .allowed = view.refusal.empty(),
                      .refusal = view.refusal,
                      .state = view.status,
                      .checks = step.checks,
                      .cautions = step.cautions,
                      .readings = {}};
    if (const auto& d = step.discharge)
        answer.discharge = DischargeAnswer{d->ohm, d->v_v, d->power_w, d->energy_j, d->seconds};
    for (std::size_t i = 0; i < step.asks.size(); ++i) {
        const Asked& asked = step.asks[i];
        ReadingAnswer reading{.point = asked.point,
                              .unit = asked.unit,
                              .quantity = asked.quantity,
                              .load = asked.load_a,
                              .min = asked.window ? asked.window->min : std::nullopt,
                              .max = asked.window ? asked.window->max : std::nullopt,
                              .why = asked.because,
                              .value = {},
                              .u = {}};
        if (i < view.readings.size() && view.readings[i]) {
            reading.value = view.readings[i]->value;
            reading.u = view.readings[i]->u;
        }
        answer.readings.push_back(std::move(reading));
    }
    return answer;
}

WholeJob wholeJob(const Job& job, const Evaluation& e, const std::vector<ShelfEntry>& shelf)
{
    WholeJob answer{.title = job.title,
                    .need = {e.need_line, job.need},
                    .isolation = isolationAnswer(e),
                    .stations = {},
                    .consequences = e.consequences,
                    .unread = {},
                    .ways = {},
                    .steps = {},
                    .connections = plannedConnections(job, e),
                    .schools = {},
                    .before_after = {},
                    .blocked_by = e.blocks,
                    .parts = {},
                    .units = static_cast<std::int64_t>(unitCount(job)),
                    .of_units = {},
                    .dc_fed = job.found.dcFed(),
                    .sealed = job.found.outsideOnly(),
                    .open_frame = job.found.housing() == Enclosure::OpenFrame,
                    .signed_off = e.signed_off};
    for (const StationView& view : stationsShown(job, e))
        answer.stations.push_back({view.station, view.name, view.found_si, view.planned_si, view.measured_si,
                                   view.has_rows ? std::optional(view.verdict) : std::nullopt});
    for (Unread& unread : unreadOf(job, e))
        answer.unread.push_back({std::move(unread)});
    for (const WorkedWay& way : waysOf(job, shelf))
        answer.ways.push_back(wayAnswer(way));
    for (const StepView& view : e.steps)
        answer.steps.push_back(stepAnswer(view));
    for (const School& school : planSchools(job, e, figuresOf)) {
        SchoolAnswer out{.question = school.question,
                         .sides = {},
                         .pick = school.sides.empty() ? "" : school.sides.at(school.pick).name,
                         .why = school.why};
        for (const School::Side& side : school.sides)
            out.sides.push_back({side.name, side.figures});
        answer.schools.push_back(std::move(out));
    }
    for (BeforeAfter& row : beforeAfter(e))
        answer.before_after.push_back({std::move(row)});
    for (PartLine& line : partsOf(job, e))
        answer.parts.push_back({std::move(line)});
    for (std::size_t unit = 1; unit <= unitCount(job); ++unit) {
        answer.of_units.earth_class.emplace_back(word(unitSupply(job, unit).earth_class));
        answer.of_units.bears.push_back(e.bears.at(unit - 1).found);
        answer.of_units.why.push_back(e.bears.at(unit - 1).found_why);
    }
    return answer;
}

} // namespace

Json jobEvaluate(const Json& input)
{
    const JobInput in = readJobInput(input);
    return writeJson(wholeJob(in.job, evaluateWhole(in), in.shelf));
}

Json jobEvaluateSchema() { return schemaOf<WholeJob>("the answer of job.evaluate", UnknownKeys::Keep); }

} // namespace offshoot
