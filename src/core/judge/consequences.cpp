#include "core/judge/consequences.h"

#include "core/judge/row_maker.h"

#include <algorithm>
#include <cmath>

namespace offshoot {

namespace {

/// The smallest of the ratings that carry a buck-derived output's current; nothing unless all were read.
std::optional<double> partsCurrent(const Rail& rail)
{
    if (!rail.rectifier.i_rated_a || !rail.choke_rated_a || !rail.winding.i_rated_a)
        return std::nullopt;
    return std::min({*rail.rectifier.i_rated_a, *rail.choke_rated_a, *rail.winding.i_rated_a});
}

std::optional<double> boostCurrent(const Supply& supply, const RailPlan& plan)
{
    const auto& v_in = supply.direct.min_v;
    const auto& peak = supply.regulator.i_peak_a;
    if (!v_in || !peak)
        return std::nullopt;
    const double mean_a = std::max(0.0, *peak - supply.regulator.ripple_a.value_or(0) / 2);
    return supply.efficiency.value_or(rows::usual::efficiency) * *v_in * mean_a / plan.high();
}

/// The plan of a rail that moves with the planned one: every voltage by the same share.
RailPlan followingPlan(const Rail& rail, const Rail& moved, const RailPlan& plan)
{
    const double share = 1 / *moved.v_v;
    return {.v_v = *rail.v_v * plan.v_v * share,
            .min_v = *rail.v_v * plan.low() * share,
            .max_v = *rail.v_v * plan.high() * share,
            .i_a = typicalCurrent(rail).value_or(0)};
}

} // namespace

std::optional<double> allowedCurrent(const Supply& supply, const Rail& rail, const RailPlan& plan)
{
    const auto& rated = rail.i_rated_a;
    if (isBuckDerived(supply.topology)) {
        const auto parts = partsCurrent(rail);
        return parts ? parts : rated;
    }
    if (supply.topology == Topology::Boost) {
        const auto switched = boostCurrent(supply, plan);
        return switched && rated ? std::min(*switched, *rated) : switched ? switched : rated;
    }
    const bool power_stays =
        supply.topology == Topology::Flyback || supply.topology == Topology::SealedModule;
    if (!rated || !rail.v_v || !power_stays)
        return rated;
    const double drop_v = supply.topology == Topology::Flyback ? rows::rectifierDropOf(rail) : 0;
    return *rated * std::min(1.0, (*rail.v_v + drop_v) / (plan.high() + drop_v));
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
    return row;
}

Verdict countAndSort(std::vector<ConsequenceRow>& rows)
{
    Verdict worst = Verdict::Fits;
    for (ConsequenceRow& row : rows) {
        row.counted = row.verdict == Verdict::Breaks || (row.worse && row.verdict != Verdict::Fits);
        if (row.counted)
            worst = worse(worst, row.verdict);
    }
    std::ranges::stable_sort(rows, {}, [](const ConsequenceRow& r) {
        return std::tuple(!r.counted, -badness(r.verdict), -r.use.value_or(0));
    });
    return worst;
}

ConsequencesResult consequences(const ConsequencesInput& in)
{
    ConsequencesResult result{};
    const auto add_rail = [&](const Rail& rail, const RailPlan& plan, rows::RailRole role) {
        const auto made = rows::RowMaker(in, rail, plan, role).run();
        result.rows.insert(result.rows.end(), made.begin(), made.end());
        result.allowed_current_a.emplace_back(rail.name, allowedCurrent(in.supply, rail, plan));
    };
    const auto planned = [&in](const Rail& rail) {
        return std::ranges::any_of(in.plan, [&](const auto& entry) { return entry.first == rail.name; });
    };
    for (const auto& [name, plan] : in.plan) {
        const Rail* rail = name.empty() ? nullptr : railNamed(in.supply, name);
        if (rail == nullptr)
            throw DocumentError(ErrorCode::Inconsistent, jsonPath("/plan", name),
                                "the supply has no such rail");
        // What the supply shares is judged once, with the rail planned first.
        const bool first = &in.plan.front().first == &name;
        add_rail(*rail, plan, first ? rows::RailRole::First : rows::RailRole::Planned);
        for (const Rail& other : in.supply.rails)
            if (movesWith(other, *rail) && !planned(other) && other.v_v && rail->v_v)
                add_rail(other, followingPlan(other, *rail, plan), rows::RailRole::Follows);
    }
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
