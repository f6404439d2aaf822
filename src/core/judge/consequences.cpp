#include "core/judge/consequences.h"

#include "core/judge/row_maker.h"

#include <algorithm>
#include <cmath>

namespace offshoot {

namespace {

/// η·V_in,min·(I_peak − ripple/2)/V
std::optional<double> boostCurrent(const Supply& supply, const std::optional<double>& v_v)
{
    const double efficiency = supply.efficiency.value_or(usual_efficiency);
    return rows::when([&](double in, double peak, double ripple,
                          double v) { return efficiency * in * std::max(0.0, peak - ripple / 2) / v; },
                      supply.direct.min_v, supply.regulator.i_peak_a, supply.regulator.ripple_a, v_v);
}

/// Where a rail of the loop of `moved` comes to when that one is brought to `to_v`; nothing where either's
/// found voltage is unread.
std::optional<double> followed(const Supply& supply, const Rail& rail, const Rail& moved, double to_v)
{
    return rows::when(
        [&](double own, double from) {
            return followedVoltage(supply, {rail, own}, {moved, from}, to_v);
        },
        rail.v_v, moved.v_v);
}

/// An unregulated rail stands at its highest where nothing loads it at the highest mains.
std::optional<double> unloaded(const Supply& supply, const Rail& rail)
{
    const Rail& first = supply.rails.front();
    if (&rail == &first)
        return supply.direct.max_v;
    return rows::when([](double max, double own, double front) { return max * own / front; },
                      supply.direct.max_v, rail.v_v, first.v_v);
}

const RailPlan* planOf(const ConsequencesInput& in, const Rail& rail)
{
    const auto at =
        std::ranges::find_if(in.plan, [&](const auto& entry) { return entry.first == rail.name; });
    return at == in.plan.end() ? nullptr : &at->second;
}

/// The rail of a loop that the others follow: the one that holds it where the plan names it, else the first
/// that the plan names; null where it names none.
const Rail* moverOf(const ConsequencesInput& in, const std::string& loop)
{
    const Rail* mover = nullptr;
    for (const Rail& rail : in.supply.rails)
        if (loopOf(rail) == loop && planOf(in, rail) != nullptr && (mover == nullptr || rail.name == loop))
            mover = &rail;
    return mover;
}

} // namespace

double followedVoltage(const Supply& supply, const RailAt& own, const RailAt& moved, double to_v)
{
    const bool windings = isMainsSwitcher(supply.topology);
    const double drop_v = windings ? rows::rectifierDropOf(own.rail) : 0;
    const double moved_drop_v = windings ? rows::rectifierDropOf(moved.rail) : 0;
    return std::max(0.0, (own.v_v + drop_v) * (to_v + moved_drop_v) / (moved.v_v + moved_drop_v) - drop_v);
}

std::vector<rows::MovedRail> rows::movedRails(const ConsequencesInput& in)
{
    const Supply& supply = in.supply;
    for (const auto& [name, plan] : in.plan)
        if (name.empty() || railNamed(supply, name) == nullptr)
            throw DocumentError(ErrorCode::Inconsistent, jsonPath("/plan", name),
                                "the supply has no such rail");
    std::vector<MovedRail> moved;
    for (const Rail& rail : supply.rails) {
        const Rail* mover = moverOf(in, loopOf(rail));
        if (mover == nullptr)
            continue;
        const RailPlan* plan = planOf(in, rail);
        MovedRail at{.rail = &rail,
                     .found = {rail.v_v, rail.v_v, typicalCurrent(rail), rail.v_v},
                     .planned = {},
                     .named = plan != nullptr,
                     .leads = !rail.regulated_by};
        if (plan != nullptr) {
            at.found.i_a = plan->i_a ? plan->i_a : at.found.i_a;
            at.planned = {plan->low(), plan->high(), at.found.i_a, plan->high()};
        } else {
            const RailPlan& of_mover = *planOf(in, *mover);
            const auto high_v = followed(supply, rail, *mover, of_mover.high());
            at.planned = {followed(supply, rail, *mover, of_mover.low()), high_v, at.found.i_a, high_v};
            if (isMainsSwitcher(supply.topology))
                for (const Rail* drops : {&rail, mover})
                    if (!drops->rectifier.v_f_v)
                        at.assumed.push_back("rectifier drop " + volts(rectifierDropOf(*drops)));
        }
        if (supply.topology == Topology::Unregulated) {
            const auto highest_v = unloaded(supply, rail);
            const bool said = plan != nullptr && plan->max_v;
            at.found.high_v = highest_v;
            at.planned.high_v = !highest_v && !said ? std::nullopt
                                : !highest_v        ? at.planned.high_v
                                : at.planned.high_v ? std::optional(std::max(*highest_v, *at.planned.high_v))
                                                    : highest_v;
        }
        moved.push_back(std::move(at));
    }
    return moved;
}

std::optional<double> allowedCurrent(const Supply& supply, const Rail& rail, std::optional<double> v_v)
{
    if (!rail.i_rated_a)
        return std::nullopt;
    std::optional<double> allowed = rail.i_rated_a;
    const bool flyback = supply.topology == Topology::Flyback;
    if (flyback || supply.topology == Topology::SealedModule) {
        const double drop_v = flyback ? rows::rectifierDropOf(rail) : 0;
        allowed = rows::when(
            [&](double found, double v) {
                return *rail.i_rated_a * std::min(1.0, (found + drop_v) / (v + drop_v));
            },
            rail.v_v, v_v);
    }
    std::vector<std::optional<double>> ratings{rail.rectifier.i_rated_a, rail.choke_rated_a,
                                               rail.winding.i_rated_a, rows::limitCurrent(supply, rail)};
    if (supply.topology == Topology::Boost) {
        const auto switched = boostCurrent(supply, v_v);
        if (!switched)
            return std::nullopt;
        ratings.push_back(switched);
    }
    for (const auto& rating : ratings)
        if (allowed && rating)
            allowed = std::min(*allowed, *rating);
    return allowed;
}

bool ConsequenceRow::limitIsLeast() const
{
    constexpr double rounding = 1e-9;
    return use && planned && limit && *planned != *limit &&
           std::abs(*use * *planned - *limit) < rounding * std::abs(*limit);
}

ConsequenceRow blankRow(RowId id, std::string part)
{
    const RowInfo& info = rowInfo(id);
    ConsequenceRow row{};
    row.id = id;
    row.station = info.station;
    row.part = part.empty() ? std::string(info.part) : std::move(part);
    row.quantity = info.quantity;
    row.verdict = Verdict::Unknown;
    row.fits_to = default_bounds.fits;
    return row;
}

Verdict countAndSort(std::vector<ConsequenceRow>& rows)
{
    Verdict worst = Verdict::Fits;
    for (ConsequenceRow& row : rows) {
        row.counted = row.verdict == Verdict::Breaks || (row.worse && row.verdict != Verdict::Fits);
        if (row.counted)
            worst = worse(worst, row.verdict);
        if (row.verdict != Verdict::Unknown)
            row.read_next.clear();
        else if (row.read_next.empty())
            row.read_next = rowInfo(row.id).read_next;
    }
    std::ranges::stable_sort(rows, {}, [](const ConsequenceRow& r) {
        return std::tuple(!r.counted, -badness(r.verdict), -r.use.value_or(0));
    });
    return worst;
}

ConsequencesResult consequences(const ConsequencesInput& in)
{
    ConsequencesResult result{};
    rows::RowMaker maker(in);
    for (const rows::MovedRail& moved : maker.moved())
        result.allowed_current_a.emplace_back(moved.rail->name,
                                              allowedCurrent(in.supply, *moved.rail, moved.planned.high_v));
    result.rows = maker.run();
    result.verdict = countAndSort(result.rows);
    return result;
}

// ---- documents

void fields(Fields& f, ConsequenceRow& out)
{
    f.need("id", out.id);
    f.need("station", out.station);
    f.need("rail", out.rail, any_text);
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
    f.may("read_next", out.read_next);
    f.need("fits_to", out.fits_to);
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

void fields(Fields& f, MainsGiven& value)
{
    f.may("v_v", value.v_v, range::positive);
    f.may("spread", value.spread, range::fraction);
    f.may("f_hz", value.f_hz, mains_hz);
}

void fields(Fields& f, ConsequencesInput& in)
{
    f.need("supply", in.supply);
    f.may("mains", in.mains);
    f.may("load", in.load);
    f.need("plan", in.plan);
    if (!f.reading())
        return;
    const Supply& supply = in.supply;
    const DirectInput& direct = supply.direct;
    const auto refuse = [&f](const std::string& at, const char* why) {
        throw DocumentError(ErrorCode::Inconsistent, f.path() + at, why);
    };
    const bool switcher = isMainsSwitcher(supply.topology);
    if (switcher && (direct.min_v || direct.mean_v || direct.max_v))
        refuse("/supply/direct", "a converter behind the rectified mains has no direct input");
    const double crest_v =
        std::sqrt(2.0) * in.mains.v_v.value_or(0) * (1 + in.mains.spread.value_or(usual_mains_spread));
    if (switcher && supply.input.stage() == InputKind::PowerFactorStage && supply.input.bus_v &&
        !atLeast(*supply.input.bus_v, crest_v))
        refuse("/supply/input/bus_v",
               "the bus of a power factor stage cannot stand below the crest of the mains");
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
