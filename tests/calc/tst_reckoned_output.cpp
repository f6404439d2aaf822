// The output side, sources, wire and readings reckoned a second time, straight from the written formulas, on
// random input: every key of every answer, and every refusal.
#include "calc/reckon.h"

#include <algorithm>
#include <numbers>
#include <set>

using namespace offshoot;
using namespace offshoot::test;

namespace {

void maybe(Json& in, Random& r, const char* key, double low, double high, double p = 0.5)
{
    if (r.chance(p))
        in[key] = low > 0 ? r.decade(low, high) : r.between(low, high);
}

// ---- divider.pot

const std::vector<std::string> methods{"replace_bottom", "replace_top",   "parallel_bottom",
                                       "parallel_top",   "series_bottom", "series_top"};

/// The voltage with `added` joined to a leg; nothing where the output runs away. Infinity is an open network.
Maybe joined(const Json& in, const std::string& method, double added)
{
    const Json& reference = in["reference"];
    double top = in["top"];
    double bottom = in["bottom"];
    double& leg = method.ends_with("top") ? top : bottom;
    if (method.starts_with("replace"))
        leg = added;
    else if (method.starts_with("series"))
        leg += added;
    else if (std::isfinite(added))
        leg = added == 0 ? 0 : leg * added / (leg + added);
    if (bottom == 0 || std::isinf(top))
        return {};
    const double ratio = std::isinf(bottom) ? 0 : top / bottom;
    return reference["v_ref_v"].get<double>() * (1 + ratio) + given(reference, "i_ref_a", 0.0) * top;
}

Json drawPot(Random& r)
{
    Json in{{"reference", {{"v_ref_v", r.between(1.2, 5)}, {"tolerance", 0.01}}},
            {"top", r.decade(2e3, 1e5)},
            {"bottom", r.decade(1e3, 2e4)},
            {"method", methods[static_cast<std::size_t>(r.whole(0, 5))]},
            {"pot_ohm", r.of({100.0, 1e3, 10e3, 100e3})}};
    if (r.chance())
        in["reference"]["i_ref_a"] = r.between(-3e-6, 3e-6);
    maybe(in, r, "fixed_ohm", 10, 1e4, 0.7);
    if (r.chance(0.4))
        in["wiper_tied"] = true;
    maybe(in, r, "measured_ohm", 10, 1e5);
    if (r.chance(0.8)) {
        const double v = joined(in, "series_top", 0).value_or(10) * r.between(0.7, 1.4);
        in["target"] = {{"v", v}, {"min_v", v * 0.98}, {"max_v", v * 1.02}};
    }
    return in;
}

Json reckonPot(const Json& in)
{
    const std::string method = in["method"];
    const double fixed = given(in, "fixed_ohm", 0.0);
    const double pot = in["pot_ohm"];
    const auto at = [&](double x) { return joined(in, method, fixed + x * pot); };
    const auto says = [](Maybe v) { return Json{{"v", orNull(v)}, {"runaway", !v.has_value()}}; };
    const Maybe zero = at(0);
    const Maybe full = at(1);
    const Maybe open =
        flag(in, "wiper_tied") ? full : joined(in, method, std::numeric_limits<double>::infinity());
    Json opened = says(open);
    opened["outcome"] = nullptr;
    const double leg = in[method.ends_with("top") ? "top" : "bottom"];
    const double preset = method.starts_with("replace")    ? std::clamp(leg - fixed, 0.0, pot)
                          : method.starts_with("parallel") ? pot
                                                           : 0;
    Json out{{"found_v", *joined(in, "series_top", 0)},
             {"at_zero", says(zero)},
             {"at_full", says(full)},
             {"min_v", orNull(zero && full ? Maybe(std::min(*zero, *full))
                              : zero       ? zero
                                           : full)},
             {"max_v", orNull(zero && full ? Maybe(std::max(*zero, *full)) : Maybe())},
             {"preset_ohm", preset},
             {"preset_v", orNull(joined(in, method, fixed + preset))},
             {"predicted_v",
              in.contains("measured_ohm") ? orNull(joined(in, method, in["measured_ohm"])) : Json(nullptr)},
             {"target_ohm", nullptr},
             {"target_travel", nullptr},
             {"window_travel", nullptr}};
    if (in.contains("target")) {
        const Json& target = in["target"];
        opened["outcome"] = !open                                   ? "runaway"
                            : *open < target["min_v"].get<double>() ? "low"
                            : *open > target["max_v"].get<double>() ? "high"
                                                                    : "in_window";
        // Rising or falling all along: found by halving.
        const bool rises = full.value_or(1e300) > zero.value_or(1e300) || !full;
        const auto travel_at = [&](double v) {
            double low = 0;
            double high = 1;
            for (int i = 0; i < 100; ++i) {
                const double x = (low + high) / 2;
                const double here = at(x).value_or(1e300);
                ((here < v) == rises ? low : high) = x;
            }
            return high;
        };
        const double wanted = target["v"];
        const double least = std::min(zero.value_or(1e300), full.value_or(1e300));
        const double most = std::max(zero.value_or(1e300), full.value_or(1e300));
        if (wanted >= least && wanted <= most) {
            out["target_travel"] = travel_at(wanted);
            out["target_ohm"] = travel_at(wanted) * pot;
        }
        const double a = travel_at(target["min_v"]);
        const double b = travel_at(target["max_v"]);
        out["window_travel"] = std::abs(b - a);
    }
    out["open_wiper"] = opened;
    return out;
}

// ---- divider.predict

Json drawPredict(Random& r)
{
    Json in{{"reference", {{"v_ref_v", r.between(1.2, 5)}, {"tolerance", r.between(0.001, 0.02)}}},
            {"top", r.decade(5e3, 1e5)},
            {"bottom", r.decade(2e3, 2e4)},
            {"found_tolerance", r.of({0.01, 0.02, 0.05})}};
    if (r.chance())
        in["reference"]["i_ref_a"] = r.between(1e-6, 4e-6);
    in["before"] = {{"v", joined(in, "series_top", 0).value_or(0) * r.between(0.97, 1.03)},
                    {"uncertainty_v", r.of({0.0, 0.02, 0.1})}};
    if (r.chance(0.9))
        in["added"] = {{"method", methods[static_cast<std::size_t>(r.whole(0, 5))]},
                       {"network", r.decade(1e3, 1e6)},
                       {"tolerance", r.of({0.0, 0.01, 0.05})}};
    return in;
}

/// The extremes by a fine walk over each edge of the box of found values that the reading cuts.
Json reckonPredict(const Json& in)
{
    const double v_ref = in["reference"]["v_ref_v"];
    const double i_ref = given(in["reference"], "i_ref_a", 0.0);
    const double off_ref = in["reference"]["tolerance"];
    const double off = in["found_tolerance"];
    const double top = in["top"];
    const double bottom = in["bottom"];
    const double before = in["before"]["v"];
    const double u = in["before"]["uncertainty_v"];
    const bool adds = in.contains("added");
    const Json added =
        adds ? in["added"] : Json{{"method", "series_top"}, {"network", 0.0}, {"tolerance", 0.0}};
    const auto volts = [&](double ref, double t, double b, double ohm) {
        const Json circuit{{"reference", {{"v_ref_v", ref}, {"i_ref_a", i_ref}}}, {"top", t}, {"bottom", b}};
        return *joined(circuit, added["method"], ohm);
    };
    const double ohm = added["network"];
    const double add_off = added["tolerance"];
    double plain_min = 1e300;
    double plain_max = -1e300;
    Maybe least;
    Maybe most;
    const std::vector<double> ends{-1, 1};
    for (const double sr : ends)
        for (const double st : ends)
            for (const double sb : ends)
                for (const double sa : ends) {
                    const double v = volts(v_ref * (1 + sr * off_ref), top * (1 + st * off),
                                           bottom * (1 + sb * off), ohm * (1 + sa * add_off));
                    plain_min = std::min(plain_min, v);
                    plain_max = std::max(plain_max, v);
                }
    // Two of the three found values at an end; the third where the reading's edges put it, or at its own
    // ends.
    const auto take = [&](double ref, double t, double b) {
        const double found = ref * (1 + t / b) + i_ref * t;
        if (std::abs(ref / v_ref - 1) > off_ref * (1 + 1e-9) || std::abs(t / top - 1) > off * (1 + 1e-9) ||
            std::abs(b / bottom - 1) > off * (1 + 1e-9) || std::abs(found - before) > u + 1e-9 * before)
            return;
        for (const double sa : ends) {
            const double v = volts(ref, t, b, ohm * (1 + sa * add_off));
            least = std::min(least.value_or(v), v);
            most = std::max(most.value_or(v), v);
        }
    };
    for (const double x : ends)
        for (const double y : ends) {
            for (const double edge : {before - u, before + u}) {
                const double r = v_ref * (1 + x * off_ref);
                const double t = top * (1 + x * off);
                const double b = bottom * (1 + y * off);
                const double t2 = top * (1 + y * off);
                take((edge - i_ref * t) / (1 + t / b), t, b);
                take(r, (edge - r) / (r / b + i_ref), b);
                take(r, t2, r * t2 / (edge - r - i_ref * t2));
            }
            for (const double z : ends)
                take(v_ref * (1 + x * off_ref), top * (1 + y * off), bottom * (1 + z * off));
        }
    const double q = v_ref * top / bottom; // q·k + i·top·√k = before − v_ref
    const double d = i_ref * top;
    const double root = (-d + std::sqrt(d * d + 4 * q * (before - v_ref))) / (2 * q);
    Json out{{"consistent", least.has_value()},
             {"leg_factor", root},
             {"plain", {{"v", volts(v_ref, top, bottom, ohm)}, {"min_v", plain_min}, {"max_v", plain_max}}},
             {"predicted", nullptr},
             {"gain", nullptr},
             {"runaway", false}};
    if (least) {
        out["predicted"] = {
            {"v", volts(v_ref, top * root, bottom / root, ohm)}, {"min_v", *least}, {"max_v", *most}};
        if (*most - *least > 1e-9)
            out["gain"] = (plain_max - plain_min) / (*most - *least);
    }
    return out;
}

void onlyRealGains(Json& answer)
{
    if (!answer["predicted"].is_null() &&
        answer["predicted"]["max_v"].get<double>() - answer["predicted"]["min_v"].get<double>() < 1e-9)
        answer["gain"] = nullptr;
}

// ---- rewind.options

Json drawRewind(Random& r)
{
    Json in{{"topology", r.word({"flyback", "forward", "line"})},
            {"secondary_turns", r.whole(2, 60)},
            {"found", {{"v", r.between(3, 30)}}},
            {"wanted", {{"v", r.between(3, 30)}}}};
    maybe(in["found"], r, "v_f_v", 0.3, 2);
    maybe(in["found"], r, "i_a", 0.5, 5);
    maybe(in["wanted"], r, "v_f_v", 0.3, 2, 0.3);
    maybe(in["wanted"], r, "i_a", 0.5, 5);
    if (r.chance(0.7)) {
        in["aux"] = {{"turns", r.whole(3, 40)}, {"min_v", 9.0}, {"max_v", r.between(18, 30)}};
        maybe(in["aux"], r, "v_f_v", 0.5, 1);
    }
    if (r.chance(0.8))
        in["primary_turns"] = r.whole(20, 100);
    maybe(in, r, "v_in_max_v", 150, 380, 0.8);
    maybe(in, r, "spike_v", 10, 100);
    maybe(in, r, "switch_v", 400, 900, 0.7);
    maybe(in, r, "rectifier_v", 40, 300, 0.7);
    if (r.chance(0.3))
        in["count"] = r.whole(1, 9);
    return in;
}

Json reckonRewind(const Json& in)
{
    const std::string topology = in["topology"];
    const bool flyback = topology == "flyback";
    const bool line = topology == "line";
    const std::int64_t n = in["secondary_turns"];
    const double found_v = in["found"]["v"].get<double>() + given(in["found"], "v_f_v", 0.0);
    const double wanted = in["wanted"]["v"];
    const double v_f = given(in["wanted"], "v_f_v", given(in["found"], "v_f_v", 0.0));
    const double ideal = static_cast<double>(n) * (wanted + v_f) / found_v;
    std::vector<std::int64_t> turns;
    for (std::int64_t t = 1; t < 2000; ++t)
        turns.push_back(t);
    const auto off = [&](std::int64_t t) { return std::pair(std::abs(static_cast<double>(t) - ideal), t); };
    std::ranges::sort(turns, {}, off);
    std::set<std::int64_t> kept(turns.begin(),
                                turns.begin() + static_cast<std::ptrdiff_t>(given(in, "count", 5.0)));
    kept.insert(n);
    Json options = Json::array();
    const Maybe primary = given(in, "primary_turns");
    const Maybe in_v = given(in, "v_in_max_v");
    for (const std::int64_t t : kept) {
        const auto turn = static_cast<double>(t);
        const double v = line ? found_v * turn / static_cast<double>(n) - v_f : wanted;
        Maybe reflected;
        Maybe on_switch;
        Maybe reverse;
        Maybe v_cc;
        if (flyback && primary)
            reflected = (wanted + v_f) * *primary / turn;
        if (reflected && in_v)
            on_switch = *in_v + *reflected + given(in, "spike_v", 0.0);
        if (!line && primary && in_v)
            reverse = (flyback ? wanted : 0) + *in_v * turn / *primary;
        Json vcc_verdict = nullptr;
        if (flyback && in.contains("aux")) {
            const Json& aux = in["aux"];
            v_cc = (wanted + v_f) * aux["turns"].get<double>() / turn - given(aux, "v_f_v", 0.0);
            const double low = aux["min_v"];
            const double high = aux["max_v"];
            vcc_verdict = *v_cc < low || *v_cc > high               ? "breaks"
                          : *v_cc < 1.1 * low || *v_cc > 0.8 * high ? "tight"
                                                                    : "fits";
        }
        const Json switch_verdict =
            flyback ? Json(verdictOf(over(on_switch, given(in, "switch_v")))) : Json(nullptr);
        const Json rectifier_verdict =
            line ? Json(nullptr) : Json(verdictOf(over(reverse, given(in, "rectifier_v"))));
        std::vector<std::string> all;
        for (const Json& one : {vcc_verdict, switch_verdict, rectifier_verdict})
            if (!one.is_null())
                all.push_back(one);
        const Maybe area = over(given(in["wanted"], "i_a"), given(in["found"], "i_a"));
        options.push_back(
            {{"turns", t},
             {"v", v},
             {"error_v", v - wanted},
             {"volts_per_turn", line ? found_v / static_cast<double>(n) : (wanted + v_f) / turn},
             {"reflected_v", orNull(reflected)},
             {"switch_v", orNull(on_switch)},
             {"rectifier_reverse_v", orNull(reverse)},
             {"v_cc_v", orNull(v_cc)},
             {"wire_area_scale", orNull(area)},
             {"fill_scale", orNull(area ? Maybe(*area * turn / static_cast<double>(n)) : Maybe())},
             {"vcc_verdict", vcc_verdict},
             {"switch_verdict", switch_verdict},
             {"rectifier_verdict", rectifier_verdict},
             {"verdict", all.empty() ? Json(nullptr) : Json(worstOf(all))}});
    }
    const auto best = std::ranges::min_element(options, {}, [&](const Json& o) {
        const double first = line ? std::abs(o["error_v"].get<double>())
                                  : static_cast<double>(placeOf(by_verdict, o["verdict"]));
        return std::tuple(first, off(o["turns"]));
    });
    return {{"ideal_turns", ideal}, {"best_turns", (*best)["turns"]}, {"options", options}};
}

// ---- dummyload.options

Json drawDummy(Random& r)
{
    Json in{{"rail_v", r.between(3, 30)}, {"stock", Json::array()}};
    if (r.chance(0.4))
        in["rail_max_v"] = in["rail_v"].get<double>() * r.between(1, 1.2);
    const double low = r.decade(0.02, 0.5);
    const double v = in["rail_v"];
    if (r.chance(0.7))
        in["current_a"] = {{"min_a", low}, {"max_a", low * r.between(1.2, 3)}};
    else
        in["power_w"] = {{"min_w", low * v}, {"max_w", low * v * 2}};
    for (std::int64_t i = r.whole(1, 8); i > 0; --i) {
        Json item{{"ohm", r.decade(2, 500)}, {"tolerance", 0.05}};
        if (r.chance(0.8))
            item["power_w"] = r.of({0.25, 1.0, 5.0, 10.0});
        if (r.chance(0.4))
            item["quantity"] = r.whole(0, 4);
        if (r.chance(0.3)) {
            item["t_rated_k"] = 313.15;
            item["t_max_k"] = 500.0;
        }
        in["stock"].push_back(item);
    }
    if (r.chance(0.3))
        in["max_parts"] = r.whole(1, 8);
    if (r.chance(0.3))
        in["arrangements"] = {r.word({"parallel", "series"})};
    if (r.chance(0.4))
        in["ambient_k"] = r.between(280, 450);
    if (r.chance(0.3))
        in["max_use"] = r.between(0.2, 1);
    in["limit"] = 1000;
    return in;
}

Json reckonDummy(const Json& in)
{
    const double v = in["rail_v"];
    const double high_v = given(in, "rail_max_v", v);
    const bool amps = in.contains("current_a");
    const double least = amps ? in["current_a"]["min_a"] : in["power_w"]["min_w"];
    const double most = amps ? in["current_a"]["max_a"] : in["power_w"]["max_w"];
    const double ambient = given(in, "ambient_k", 298.15);
    const Json arrangements = in.contains("arrangements") ? in["arrangements"] : Json{"parallel", "series"};
    std::vector<std::pair<std::tuple<std::ptrdiff_t, std::int64_t, double, std::size_t, bool>, Json>> found;
    for (std::size_t s = 0; s < in["stock"].size(); ++s) {
        const Json& item = in["stock"][s];
        const auto parts =
            static_cast<std::int64_t>(std::min(given(in, "max_parts", 4.0), given(item, "quantity", 1e9)));
        for (std::int64_t n = 1; n <= parts; ++n)
            for (const char* how : {"parallel", "series"}) {
                if ((n == 1 && how == std::string("series")) ||
                    (n > 1 && std::ranges::find(arrangements, how) == arrangements.end()))
                    continue;
                const double each = item["ohm"];
                const bool row = how == std::string("series");
                const auto count = static_cast<double>(n);
                const double ohm = row ? each * count : each / count;
                const double a = v / ohm;
                if ((amps ? a : a * v) < least || (amps ? a : a * v) > most)
                    continue;
                const double w = high_v * high_v / ohm / count;
                const double rated_k = given(item, "t_rated_k", 343.15);
                const double max_k = given(item, "t_max_k", 428.15);
                const Maybe rating = given(item, "power_w");
                const double left = std::clamp((max_k - ambient) / (max_k - rated_k), 0.0, 1.0);
                const Maybe use = rating && left > 0 ? Maybe(w / (*rating * left)) : Maybe();
                const Maybe body = rating ? Maybe(ambient + w / *rating * (max_k - rated_k)) : Maybe();
                const std::string verdict =
                    rating && left == 0 ? "breaks" : verdictOf(use, given(in, "max_use", 0.5));
                found.push_back({{placeOf(by_verdict, verdict), n, use.value_or(1e300), s, row},
                                 {{"arrangement", n == 1 ? "single" : how},
                                  {"count", n},
                                  {"part_ohm", each},
                                  {"ohm", ohm},
                                  {"current_a", a},
                                  {"power_w", a * v},
                                  {"power_each_w", w},
                                  {"use", orNull(use)},
                                  {"body_k", orNull(body)},
                                  {"hot", body && *body > 333.15},
                                  {"energy_j_per_day", a * v * 86400},
                                  {"verdict", verdict}}});
            }
    }
    std::ranges::sort(found, {}, [](const auto& one) { return one.first; });
    Json options = Json::array();
    for (const auto& [place, option] : found)
        options.push_back(option);
    return {{"options", options}};
}

void noNetworks(Json& answer)
{
    for (Json& option : answer["options"])
        option.erase("network");
}

// ---- minimumload.fit

Json drawFit(Random& r)
{
    Json in{{"readings", Json::array()}, {"window", {{"min_v", 11.4}, {"max_v", 12.6}}}};
    const double slope = r.between(-0.1, 1.5);
    const double open = r.between(11, 15);
    for (std::int64_t i = r.whole(0, 7); i > 0; --i) {
        const double a = r.chance(0.2) ? 0 : r.between(0, 3);
        Json reading{{"current_a", a}, {"v", open - slope * a + r.between(-0.1, 0.1)}};
        if (a < 0.8 && r.chance(0.5))
            reading["hunting"] = true;
        in["readings"].push_back(reading);
    }
    return in;
}

Json reckonFit(const Json& in)
{
    std::vector<std::pair<double, double>> steady;
    double highest_hunting = -1;
    std::int64_t hunting = 0;
    for (const Json& reading : in["readings"]) {
        if (flag(reading, "hunting")) {
            ++hunting;
            highest_hunting = std::max(highest_hunting, reading["current_a"].get<double>());
        } else
            steady.emplace_back(reading["current_a"], reading["v"]);
    }
    Json out{{"steady", steady.size()},
             {"hunting", hunting},
             {"v0_v", nullptr},
             {"r_ohm", nullptr},
             {"residuals_v", Json::array()},
             {"worst_residual_v", nullptr},
             {"steady_from_a", nullptr},
             {"least_current_a", nullptr},
             {"most_current_a", nullptr},
             {"bent", false},
             {"extrapolated", false},
             {"verdict", "unknown"}};
    Maybe from;
    if (hunting == 0)
        from = 0.0;
    for (const auto& [a, v] : steady)
        if (hunting > 0 && a > highest_hunting)
            from = std::min(from.value_or(a), a);
    out["steady_from_a"] = orNull(from);
    const auto [first, last] =
        steady.empty() ? std::pair(0.0, 0.0)
                       : std::pair(std::ranges::min(steady).first, std::ranges::max(steady).first);
    if (steady.size() < 2 || first == last)
        return out;
    double mean_a = 0;
    double mean_v = 0;
    for (const auto& [a, v] : steady) {
        mean_a += a / static_cast<double>(steady.size());
        mean_v += v / static_cast<double>(steady.size());
    }
    double squares = 0;
    double products = 0;
    for (const auto& [a, v] : steady) {
        squares += (a - mean_a) * (a - mean_a);
        products += (a - mean_a) * (v - mean_v);
    }
    const double r = -products / squares;
    const double v0 = mean_v + r * mean_a;
    double worst = 0;
    for (const auto& [a, v] : steady) {
        const double residual = v - (v0 - r * a);
        out["residuals_v"].push_back(residual);
        worst = std::abs(residual) > std::abs(worst) ? residual : worst;
    }
    out["v0_v"] = v0;
    out["r_ohm"] = r;
    out["worst_residual_v"] = std::abs(worst);
    if (!from)
        return out;
    // Between the currents where the line crosses the edges.
    double low = (v0 - (r > 0 ? 12.6 : 11.4)) / r;
    const double high = (v0 - (r > 0 ? 11.4 : 12.6)) / r;
    low = std::max(low, *from);
    if (high < low) {
        out["verdict"] = "breaks";
        return out;
    }
    out["least_current_a"] = low;
    out["most_current_a"] = high;
    const bool bent = std::abs(worst) > 0.1 * 1.2;
    const bool extrapolated = low < first || low > last;
    out["bent"] = bent;
    out["extrapolated"] = extrapolated;
    out["verdict"] = bent || extrapolated ? "tight" : "fits";
    return out;
}

// ---- rails.trim

Json drawTrim(Random& r)
{
    Json in{{"rails", Json::array()}};
    const std::int64_t count = r.whole(1, 4);
    for (std::int64_t i = 0; i < count; ++i) {
        const double nominal = r.of({3.3, 5.0, 12.0, -12.0});
        Json rail{{"name", "r" + std::to_string(i)},
                  {"v", nominal * r.between(0.93, 1.07) * (r.chance(0.03) ? -1 : 1)},
                  {"min_v", nominal - std::abs(nominal) * 0.05},
                  {"max_v", nominal + std::abs(nominal) * 0.05}};
        if (r.chance(0.3))
            rail["weight"] = r.between(0.5, 3);
        in["rails"].push_back(rail);
        if (r.chance(0.2)) {
            rail["load"] = "full";
            rail["v"] = rail["v"].get<double>() * r.between(0.85, 1);
            in["rails"].push_back(rail);
        }
    }
    if (r.chance(0.4))
        in["travel"] = {{"min_scale", r.between(0.94, 1)}, {"max_scale", r.between(1, 1.06)}};
    return in;
}

Json reckonTrim(const Json& in)
{
    const Json& rails = in["rails"];
    const auto of = [](const Json& rail, const char* key) { return rail[key].get<double>(); };
    const auto name_of = [](const Json& rail) {
        return Json{{"name", rail["name"]}, {"load", wordIn(rail, "load", "")}};
    };
    double lowest = -1e300;
    double highest = 1e300;
    const Json* up = &rails.front();
    const Json* down = &rails.front();
    const Json* wrong = nullptr;
    for (const Json& rail : rails) {
        const double a = of(rail, "min_v") / of(rail, "v");
        const double b = of(rail, "max_v") / of(rail, "v");
        if (std::max(a, b) <= 0 && wrong == nullptr)
            wrong = &rail;
        if (std::min(a, b) > lowest) {
            lowest = std::min(a, b);
            up = &rail;
        }
        if (std::max(a, b) < highest) {
            highest = std::max(a, b);
            down = &rail;
        }
    }
    const bool shared = wrong == nullptr && lowest <= highest;
    const bool held = in.contains("travel");
    const double from = held ? in["travel"]["min_scale"].get<double>() : 0;
    const double to = held ? in["travel"]["max_scale"].get<double>() : 1e300;
    const bool feasible = shared && lowest <= to && highest >= from;
    Json out{{"feasible", feasible},  {"interval", nullptr},   {"conflict", nullptr},
             {"blocked_by", nullptr}, {"travel_end", nullptr}, {"rails", Json::array()}};
    if (feasible)
        out["interval"] = {{"min_scale", std::max(lowest, from)}, {"max_scale", std::min(highest, to)}};
    else if (shared) {
        out["blocked_by"] = "travel";
        out["travel_end"] = lowest > to ? "max" : "min";
    } else {
        out["blocked_by"] = "rails";
        const Json& too_low = wrong != nullptr ? *wrong : *up;
        const Json& too_high = wrong != nullptr ? *wrong : *down;
        const bool load = too_low["name"] == too_high["name"];
        out["conflict"] = {{"up", name_of(too_low)},
                           {"down", name_of(too_high)},
                           {"cause", wrong != nullptr ? "sign"
                                     : load           ? "load"
                                                      : "cross"}};
    }
    const auto inside = [&](const Json& rail, double s) {
        return s * of(rail, "v") >= of(rail, "min_v") - 1e-9 * std::abs(of(rail, "min_v")) &&
               s * of(rail, "v") <= of(rail, "max_v") + 1e-9 * std::abs(of(rail, "max_v"));
    };
    out["now_in_windows"] = std::ranges::all_of(rails, [&](const Json& rail) { return inside(rail, 1); });
    const auto cost = [&](double s) {
        double worst = 0;
        for (const Json& rail : rails)
            worst = std::max(worst,
                             given(rail, "weight", 1.0) *
                                 std::abs(s * of(rail, "v") - (of(rail, "min_v") + of(rail, "max_v")) / 2) /
                                 ((of(rail, "max_v") - of(rail, "min_v")) / 2));
        return worst;
    };
    // The dearest of straight lines is lowest somewhere; three parts at a time close in on it.
    double a = feasible ? std::max(lowest, from) : from;
    double b = std::min(feasible ? std::min(highest, to) : to, 100.0);
    for (int i = 0; i < 300; ++i) {
        const double third = (b - a) / 3;
        (cost(a + third) < cost(b - third) ? b : a) =
            cost(a + third) < cost(b - third) ? b - third : a + third;
    }
    const double best = wrong != nullptr ? 1 : (a + b) / 2;
    out["best_scale"] = wrong != nullptr ? Json(nullptr) : Json(best);
    out["change"] = wrong != nullptr ? Json(nullptr) : Json(best - 1);
    out["turn"] = wrong != nullptr || std::abs(best - 1) <= 0.0005 ? "none" : best > 1 ? "up" : "down";
    for (const Json& rail : rails) {
        Json row = name_of(rail);
        const double v = best * of(rail, "v");
        const double margin = std::min(v - of(rail, "min_v"), of(rail, "max_v") - v);
        row["v"] = v;
        row["in_window"] = inside(rail, best);
        row["margin_v"] = margin;
        row["margin"] = margin / ((of(rail, "max_v") - of(rail, "min_v")) / 2);
        out["rails"].push_back(row);
    }
    return out;
}

// ---- limit.shunt

Json drawShunt(Random& r)
{
    Json in{{"threshold", Json::object()}, {"shunt", r.decade(0.01, 1)}};
    if (r.chance())
        in["threshold"] = {{"v_v", r.between(0.05, 0.7)}, {"tolerance", r.between(0, 0.1)}};
    else
        in["threshold"] = {{"v_ref_v", 2.5},
                           {"tolerance", r.between(0, 0.02)},
                           {"top", r.decade(1e3, 1e4)},
                           {"bottom", r.decade(100, 1e3)},
                           {"divider_tolerance", r.of({0.0, 0.01, 0.05})}};
    maybe(in, r, "shunt_tolerance", 0.001, 0.1);
    maybe(in, r, "part_power_w", 0.25, 5, 0.7);
    maybe(in, r, "lead_ohm", 1e-4, 0.01);
    maybe(in, r, "load_a", 0.1, 10, 0.7);
    maybe(in, r, "rated_a", 0.5, 20, 0.7);
    maybe(in, r, "hiccup_duty", 0.02, 1);
    maybe(in, r, "rail_v", 3, 30);
    if (r.chance(0.4))
        in["in_loop"] = true;
    return in;
}

Json reckonShunt(const Json& in)
{
    const Json& t = in["threshold"];
    const double off = t["tolerance"];
    double v = 0;
    double low_v = 0;
    double high_v = 0;
    if (t.contains("v_v")) {
        v = t["v_v"];
        low_v = v * (1 - off);
        high_v = v * (1 + off);
    } else {
        const double d = t["divider_tolerance"];
        const auto share = [&](double s) {
            const double top = t["top"].get<double>() * (1 - s * d);
            const double bottom = t["bottom"].get<double>() * (1 + s * d);
            return bottom / (top + bottom);
        };
        v = 2.5 * share(0);
        low_v = 2.5 * (1 - off) * share(-1);
        high_v = 2.5 * (1 + off) * share(1);
    }
    const double shunt = in["shunt"];
    const double lead = given(in, "lead_ohm", 0.0);
    const double s_off = given(in, "shunt_tolerance", 0.0);
    const double a = v / (shunt + lead);
    const double low_a = low_v / (shunt * (1 + s_off) + lead);
    const double high_a = high_v / (shunt * (1 - s_off) + lead);
    const double worst_w = std::max(high_a * high_a * shunt * (1 - s_off),
                                    std::pow(high_v / (shunt * (1 + s_off) + lead), 2) * shunt * (1 + s_off));
    const Maybe part = over(a * a * shunt, given(in, "part_power_w"));
    const Maybe load = given(in, "load_a");
    const Maybe load_use = over(load, low_a);
    const Maybe protect = over(high_a, given(in, "rated_a"));
    const Maybe drop = load ? Maybe(*load * (shunt + lead)) : Maybe();
    const Maybe rail = given(in, "rail_v");
    Maybe arrives;
    if (rail && flag(in, "in_loop"))
        arrives = rail;
    else if (rail && drop)
        arrives = *rail - *drop;
    return {{"v_threshold_v", v},
            {"v_threshold_min_v", low_v},
            {"v_threshold_max_v", high_v},
            {"r_sense_ohm", shunt + lead},
            {"i_limit_a", a},
            {"i_limit_min_a", low_a},
            {"i_limit_max_a", high_a},
            {"power_w", a * a * shunt},
            {"power_worst_w", worst_w},
            {"power_hiccup_w", a * a * shunt * given(in, "hiccup_duty", 1.0)},
            {"parts",
             {{{"ohm", shunt},
               {"power_w", a * a * shunt},
               {"use", orNull(part)},
               {"verdict", verdictOf(part, 0.5)}}}},
            {"load_use", orNull(load_use)},
            {"load_verdict", verdictOf(load_use)},
            {"protect_use", orNull(protect)},
            {"protect_verdict", verdictOf(protect)},
            {"drop_v", orNull(drop)},
            {"rail_at_load_v", orNull(arrives)},
            {"exact_ohm", nullptr},
            {"options", nullptr}};
}

// ---- sources.ballast

Json drawBallast(Random& r)
{
    Json in{{"units", r.whole(2, 6)}, {"current_a", r.between(1, 30)}};
    maybe(in, r, "r_unit_ohm", 1e-3, 0.1);
    const std::int64_t without = r.whole(0, 2);
    if (without != 0)
        in["spread_v"] = r.between(0, 0.3);
    if (without != 1)
        in["imbalance"] = r.between(0.02, 1);
    if (without != 2)
        in["ballast_ohm"] = r.chance(0.2) ? 0 : r.decade(1e-3, 0.5);
    return in;
}

Json reckonBallast(const Json& in)
{
    const double n = in["units"];
    const double i = in["current_a"].get<double>() / n;
    const double unit = given(in, "r_unit_ohm", 0.0);
    const double even = (n - 1) / n; // R·imbalance·I = spread·even
    const double ballast =
        in.contains("ballast_ohm")
            ? in["ballast_ohm"].get<double>()
            : std::max(0.0, given(in, "spread_v", 0.0) * even / (given(in, "imbalance", 1.0) * i) - unit);
    const double r = unit + ballast;
    const double spread =
        in.contains("spread_v") ? in["spread_v"].get<double>() : r * given(in, "imbalance", 0.0) * i / even;
    const double imbalance = r == 0 ? (spread == 0 ? 0 : n - 1) : std::min(n - 1, spread * even / (r * i));
    const double highest = i * (1 + imbalance);
    return {{"ballast_ohm", ballast},
            {"r_total_ohm", r},
            {"spread_v", spread},
            {"imbalance", imbalance},
            {"one_carries", imbalance >= (n - 1) * (1 - 1e-9)},
            {"highest_a", highest},
            {"loss_each_w", i * i * ballast},
            {"loss_highest_w", highest * highest * ballast},
            {"loss_total_w", n * i * i * ballast},
            {"drop_v", i * ballast},
            {"droop_v", i * r}};
}

// ---- sources.series

Json drawStack(Random& r)
{
    Json in{{"units", Json::array()}};
    const std::int64_t n = r.whole(1, 4);
    for (std::int64_t i = 0; i < n; ++i) {
        Json unit{{"name", "u" + std::to_string(i)},
                  {"v_v", r.of({12.0, 15.0, 24.0, 48.0})},
                  {"i_limit_a", r.of({2.0, 5.0, 10.0})},
                  {"bonded", r.chance(0.4) ? "none" : r.word({"none", "negative", "positive", "unknown"})}};
        maybe(unit, r, "isolation_v", 20, 200, 0.7);
        if (r.chance(0.7))
            unit["reverse_diode"] = {{"v_rrm_v", r.decade(20, 200)}, {"i_a", r.decade(2, 15)}};
        in["units"].push_back(unit);
    }
    if (r.chance(0.5))
        in["earthed_node"] = r.whole(0, n);
    return in;
}

Json reckonStack(const Json& in)
{
    const Json& units = in["units"];
    const std::size_t n = units.size();
    std::vector<double> nodes{0};
    std::set<std::size_t> earthed;
    bool unknown = false;
    for (std::size_t i = 0; i < n; ++i) {
        nodes.push_back(nodes.back() + units[i]["v_v"].get<double>());
        const std::string bond = units[i]["bonded"];
        if (bond == "negative" || bond == "positive")
            earthed.insert(bond == "negative" ? i : i + 1);
        unknown = unknown || bond == "unknown";
    }
    const double total = nodes.back();
    const bool load = in.contains("earthed_node");
    if (load)
        earthed.insert(in["earthed_node"].get<std::size_t>());
    const bool floating = earthed.empty();
    const std::size_t kept = floating ? 0 : load ? in["earthed_node"].get<std::size_t>() : *earthed.begin();
    const double zero = nodes[kept];
    if (!floating)
        for (double& node : nodes)
            node -= zero;
    Json out{{"total_v", total},
             {"floating", floating},
             {"nodes_v", floating ? Json(nullptr) : Json(nodes)},
             {"units", Json::array()},
             {"conflicts", Json::array()},
             {"open_bonds", Json::array()},
             {"limited_by", nullptr},
             {"current_limit_a", nullptr}};
    const std::vector<std::size_t> points(earthed.begin(), earthed.end());
    for (std::size_t k = 1; k < points.size(); ++k) {
        Json shorted = Json::array();
        for (std::size_t i = points[k - 1]; i < points[k]; ++i)
            shorted.push_back(units[i]["name"]);
        out["conflicts"].push_back(
            {{"from_node", points[k - 1]}, {"to_node", points[k]}, {"shorted", shorted}});
    }
    std::vector<std::string> verdicts{unknown ? "unknown" : "fits", points.size() > 1 ? "breaks" : "fits"};
    bool hazard = total > 60;
    for (std::size_t i = 0; i < n; ++i) {
        const Json& unit = units[i];
        const double v = unit["v_v"];
        const double limit = unit["i_limit_a"];
        if (out["current_limit_a"].is_null() || limit < out["current_limit_a"].get<double>()) {
            out["current_limit_a"] = limit;
            out["limited_by"] = unit["name"];
        }
        const std::string bond = unit["bonded"];
        if ((bond == "negative" && i != kept) || (bond == "positive" && i + 1 != kept))
            out["open_bonds"].push_back(unit["name"]);
        const double to_earth = floating ? std::max(nodes[i + 1], total - nodes[i])
                                         : std::max(std::abs(nodes[i]), std::abs(nodes[i + 1]));
        hazard = hazard || to_earth > 60;
        const Maybe isolation = over(to_earth, given(unit, "isolation_v"));
        double others = 0;
        for (std::size_t j = 0; j < n; ++j)
            others = j == i ? others : std::max(others, units[j]["i_limit_a"].get<double>());
        Maybe diode;
        if (n > 1 && unit.contains("reverse_diode"))
            diode = std::max(v / unit["reverse_diode"]["v_rrm_v"].get<double>(),
                             others / unit["reverse_diode"]["i_a"].get<double>());
        const bool shorted = std::ranges::any_of(out["conflicts"], [&](const Json& c) {
            return i >= c["from_node"].get<std::size_t>() && i < c["to_node"].get<std::size_t>();
        });
        verdicts.push_back(verdictOf(isolation));
        if (n > 1)
            verdicts.push_back(verdictOf(diode));
        out["units"].push_back({{"name", unit["name"]},
                                {"low_v", floating ? Json(nullptr) : Json(nodes[i])},
                                {"high_v", floating ? Json(nullptr) : Json(nodes[i + 1])},
                                {"to_earth_max_v", to_earth},
                                {"isolation_use", orNull(isolation)},
                                {"isolation_verdict", verdictOf(isolation)},
                                {"diode_use", orNull(diode)},
                                {"diode_verdict", n > 1 ? Json(verdictOf(diode)) : Json(nullptr)},
                                {"shorted", shorted}});
    }
    out["hazard"] = hazard;
    out["verdict"] = worstOf(verdicts);
    return out;
}

// ---- cable.drop

Json drawCable(Random& r)
{
    Json in{{"length_m", r.decade(0.3, 100)}};
    maybe(in, r, "return_length_m", 0.3, 100, 0.3);
    if (r.chance(0.4))
        in["area_m2"] = r.decade(0.1e-6, 20e-6);
    else if (r.chance(0.8))
        in["awg"] = r.whole(-3, 30);
    if (in.size() > 1 && (in.contains("awg") || in.contains("area_m2")))
        maybe(in, r, "return_area_m2", 0.1e-6, 20e-6, 0.3);
    maybe(in, r, "temperature_k", 250, 380);
    maybe(in, r, "contact_ohm", 1e-3, 0.2);
    const std::int64_t load = r.whole(0, 2);
    in[load == 0 ? "current_a" : load == 1 ? "power_w" : "load_ohm"] = r.decade(0.3, 30);
    if (load != 0 || r.chance())
        in["source_v"] = r.between(4, 50);
    maybe(in, r, "max_drop_v", 0.05, 2, 0.7);
    if (r.chance(0.3))
        in["sizes"] = "awg";
    return in;
}

double awgArea(double n)
{
    return std::numbers::pi / 4 * std::pow(0.127e-3 * std::pow(92, (36 - n) / 39), 2);
}

Json reckonCable(const Json& in)
{
    const Maybe area = in.contains("awg") ? Maybe(awgArea(in["awg"])) : given(in, "area_m2");
    if (!area && !in.contains("max_drop_v"))
        return refused("inconsistent");
    const double go_m = in["length_m"];
    const double back_m = given(in, "return_length_m", go_m);
    const double rho = 1.724e-8 * (1 + 0.00393 * (given(in, "temperature_k", 293.15) - 293.15));
    const Maybe source = given(in, "source_v");
    const Maybe max_drop = given(in, "max_drop_v");
    struct Point
    {
        Maybe a;
        Maybe drop;
    };
    /// Current and drop with this loop; the drop is nothing where there is no operating point.
    const auto through = [&](double loop) -> Point {
        if (in.contains("power_w")) {
            const double p = in["power_w"];
            const double under = *source * *source - 4 * p * loop;
            if (under < 0)
                return {};
            const double a = 2 * p / (*source + std::sqrt(under));
            return {a, a * loop};
        }
        const double a = in.contains("current_a") ? in["current_a"].get<double>()
                                                  : *source / (loop + in["load_ohm"].get<double>());
        if (source && a * loop >= *source)
            return {a, {}};
        return {a, a * loop};
    };
    Json out;
    for (const char* key :
         {"r_go_ohm", "r_return_ohm", "r_loop_ohm", "current_a", "drop_v", "loss_w", "load_v", "max_power_w",
          "density_a_per_m2", "density_verdict", "drop_verdict", "smallest"})
        out[key] = nullptr;
    if (area) {
        const double back = given(in, "return_area_m2", *area);
        const double r_go = rho * go_m / *area;
        const double r_back = rho * back_m / back;
        const double loop = r_go + r_back + given(in, "contact_ohm", 0.0);
        const Point point = through(loop);
        out["r_go_ohm"] = r_go;
        out["r_return_ohm"] = r_back;
        out["r_loop_ohm"] = loop;
        out["current_a"] = orNull(point.a);
        out["drop_v"] = orNull(point.drop);
        if (point.drop) {
            out["loss_w"] = *point.a * *point.drop;
            if (source)
                out["load_v"] = *source - *point.drop;
        }
        if (source)
            out["max_power_w"] = *source * *source / (4 * loop);
        if (point.a) {
            const double density = *point.a / std::min(*area, back);
            out["density_a_per_m2"] = density;
            out["density_verdict"] = density <= 6e6 ? "fits" : "tight";
        }
        if (max_drop)
            out["drop_verdict"] = point.drop ? verdictOf(*point.drop / *max_drop) : "breaks";
        else if (!point.drop)
            out["drop_verdict"] = "breaks";
    }
    if (max_drop) {
        std::vector<std::pair<std::string, double>> sizes;
        if (in.contains("sizes")) {
            for (int n = 30; n >= -3; --n)
                sizes.emplace_back(n >= 0 ? "AWG" + std::to_string(n) : "AWG" + std::to_string(1 - n) + "/0",
                                   awgArea(n));
        } else
            for (const char* mm2 : {"0.14", "0.25", "0.34", "0.5", "0.75", "1", "1.5", "2.5", "4", "6", "10",
                                    "16", "25", "35", "50", "70", "95", "120"})
                sizes.emplace_back(mm2 + std::string("mm2"), std::stod(mm2) * 1e-6);
        for (const auto& [name, size] : sizes) {
            const double loop = rho * (go_m + back_m) / size + given(in, "contact_ohm", 0.0);
            const Point point = through(loop);
            if (!point.drop || *point.drop > *max_drop)
                continue;
            out["smallest"] = {
                {"name", name}, {"area_m2", size}, {"r_loop_ohm", loop}, {"drop_v", *point.drop}};
            break;
        }
    }
    return out;
}

// ---- sense.plan

Json drawSense(Random& r)
{
    Json in{{"v_set_v", r.between(3, 15)},
            {"current_a", r.between(0, 10)},
            {"r_positive_ohm", r.decade(1e-3, 0.1)},
            {"r_negative_ohm", r.decade(1e-3, 0.1)}};
    maybe(in, r, "r_sense_lead_ohm", 0.05, 2);
    maybe(in, r, "r_fallback_ohm", 5, 200);
    maybe(in, r, "sense_current_a", 1e-5, 2e-3);
    maybe(in, r, "sense_range_v", 0.2, 1);
    const double v = in["v_set_v"];
    maybe(in, r, "ceiling_v", v, v * 1.3);
    maybe(in, r, "ovp_v", v * 1.05, v * 1.4);
    maybe(in, r, "rated_w", 10, 150);
    maybe(in, r, "load_capacitor_f", 1e-5, 1e-2);
    maybe(in, r, "bandwidth_hz", 1e2, 1e4);
    if (r.chance(0.7))
        in["window"] = {{"min_v", v * 0.96}, {"max_v", v * 1.04}};
    return in;
}

Json reckonSense(const Json& in)
{
    const double v = in["v_set_v"];
    const double a = in["current_a"];
    const double p = a * in["r_positive_ohm"].get<double>();
    const double n = a * in["r_negative_ohm"].get<double>();
    const double lead = given(in, "r_sense_lead_ohm", 0.0);
    const Maybe fallback = given(in, "r_fallback_ohm");
    const double draws = given(in, "sense_current_a", 0.0);
    const Maybe ceiling = given(in, "ceiling_v");
    const Maybe ovp = given(in, "ovp_v");
    Json states = Json::array();
    const auto add = [&](const char* name, Maybe load) {
        Json state{{"state", name},
                   {"v_load_v", nullptr},
                   {"v_terminal_v", nullptr},
                   {"runaway", !load},
                   {"verdict", "breaks"}};
        if (load) {
            const double terminal = *load + p + n;
            state["v_load_v"] = *load;
            state["v_terminal_v"] = terminal;
            const bool over_it = (ceiling && terminal > *ceiling) || (ovp && terminal >= 0.95 * *ovp);
            if (!over_it)
                state["verdict"] = !in.contains("window") ? "unknown"
                                   : *load >= in["window"]["min_v"].get<double>() &&
                                           *load <= in["window"]["max_v"].get<double>()
                                       ? "fits"
                                       : "breaks";
        }
        states.push_back(state);
    };
    const auto sensed = [&](bool p_open, bool n_open) -> Maybe {
        if (!fallback)
            return p_open || n_open ? Maybe() : Maybe(v + 2 * draws * lead);
        const double closed = lead / (lead + *fallback);
        return v - (p_open ? 1 : closed) * (p - draws * *fallback) -
               (n_open ? 1 : closed) * (n - draws * *fallback);
    };
    add("remote", sensed(false, false));
    add("local", v - p - n);
    add("positive_open", sensed(true, false));
    add("negative_open", sensed(false, true));
    add("both_open", sensed(true, true));
    add("reversed", {});
    const double terminal = states[0]["v_terminal_v"];
    const Maybe range = over(p + n, given(in, "sense_range_v"));
    const std::string range_verdict = verdictOf(range);
    const std::string ceiling_verdict = verdictOf(over(terminal, ceiling), 0.98);
    const std::string ovp_verdict = !ovp                     ? "unknown"
                                    : terminal < 0.90 * *ovp ? "fits"
                                    : terminal < 0.95 * *ovp ? "tight"
                                                             : "breaks";
    const std::string power_verdict = verdictOf(over(terminal * a, given(in, "rated_w")));
    Maybe loop;
    if (in.contains("load_capacitor_f") && in.contains("bandwidth_hz"))
        loop = 2 * std::numbers::pi * in["bandwidth_hz"].get<double>() *
               (in["r_positive_ohm"].get<double>() + in["r_negative_ohm"].get<double>()) *
               in["load_capacitor_f"].get<double>();
    const std::string loop_verdict = verdictOf(loop, 0.1, 0.5);
    std::vector<std::string> judged;
    for (const std::string& one : {range_verdict, ceiling_verdict, ovp_verdict, power_verdict, loop_verdict,
                                   states[0]["verdict"].get<std::string>()})
        if (one != "unknown")
            judged.push_back(one);
    return {{"drop_v", p + n},
            {"states", states},
            {"range_use", orNull(range)},
            {"range_verdict", range_verdict},
            {"ceiling_verdict", ceiling_verdict},
            {"ovp_verdict", ovp_verdict},
            {"power_w", terminal * a},
            {"power_verdict", power_verdict},
            {"regulation_local", (p + n) / v},
            {"loop_use", orNull(loop)},
            {"loop_verdict", loop_verdict},
            {"verdict", judged.empty() ? "unknown" : worstOf(judged)}};
}

// ---- reading.judge

Json drawJudge(Random& r)
{
    Json in{{"value", r.between(-2, 12)}};
    const auto accuracy = [&](Json& to, bool needed) {
        if (r.chance(0.4) || needed)
            to["meter"] = {{"reading_fraction", r.of({0.0, 0.005, 0.01})},
                           {"counts", r.of({0, 2, 5})},
                           {"resolution", 0.01}};
        else if (r.chance())
            to["uncertainty"] = r.between(0, 0.3);
    };
    if (r.chance(0.8)) {
        in["window"] = Json::object();
        const double low = r.between(-2, 10);
        if (r.chance(0.8))
            in["window"]["min"] = low;
        if (r.chance(0.8) || in["window"].empty())
            in["window"]["max"] = low + r.between(0, 1);
    }
    const bool same = r.chance(0.3);
    accuracy(in, same);
    if (r.chance(0.4)) {
        in["through"] = {{"ohm", r.decade(0.1, 10)}};
        maybe(in["through"], r, "tolerance", 0.005, 0.05);
    }
    if (r.chance() || same) {
        in["other"] = {{"value", in["value"].get<double>() + r.between(-0.3, 0.3)}};
        if (!same)
            accuracy(in["other"], false);
    }
    if (same)
        in["same_meter"] = true;
    return in;
}

Json reckonJudge(const Json& in)
{
    const auto fraction = [](const Json& of) {
        return of.contains("meter") ? of["meter"]["reading_fraction"].get<double>() : 0;
    };
    const auto digits = [](const Json& of) {
        return of.contains("meter")
                   ? of["meter"]["counts"].get<double>() * of["meter"]["resolution"].get<double>()
                   : 0;
    };
    const auto doubt = [&](const Json& of) {
        return of.contains("uncertainty") ? of["uncertainty"].get<double>()
                                          : fraction(of) * std::abs(of["value"].get<double>()) + digits(of);
    };
    const bool through = in.contains("through");
    const double ohm = through ? in["through"]["ohm"].get<double>() : 1;
    const double off = through ? given(in["through"], "tolerance", 0.0) : 0;
    const double value = in["value"].get<double>() / ohm;
    const double u = std::hypot(doubt(in) / ohm, value * off);
    Json out{{"value", value},
             {"u", u},
             {"u_known", in.contains("meter") || in.contains("uncertainty")},
             {"verdict", "unknown"},
             {"place", nullptr},
             {"margin", nullptr},
             {"meter_too_coarse", false},
             {"other", nullptr}};
    if (in.contains("window")) {
        const double low = given(in["window"], "min", -1e300);
        const double high = given(in["window"], "max", 1e300);
        out["verdict"] = value - u >= low && value + u <= high ? "fits"
                         : value + u < low || value - u > high ? "breaks"
                                                               : "tight";
        out["place"] = value < low ? "below" : value > high ? "above" : "inside";
        out["margin"] = std::min(value - low, high - value);
        out["meter_too_coarse"] = in["window"].size() == 2 && u > (high - low) / 2;
    }
    if (in.contains("other")) {
        const Json& other = in["other"];
        const double gap = value - other["value"].get<double>() / ohm;
        const double meters =
            flag(in, "same_meter")
                ? std::sqrt(2 * std::pow(digits(in), 2) + std::pow(fraction(in) * gap * ohm, 2))
                : std::hypot(doubt(in), doubt(other));
        const double gap_u = std::hypot(meters / ohm, off * gap);
        out["other"] = {{"difference", gap},
                        {"difference_u", gap_u},
                        {"difference_verdict", std::abs(gap) > gap_u ? "real" : "within_accuracy"}};
    }
    return out;
}

const std::vector<Reckoning> outputReckonings{
    {"divider.pot", drawPot, reckonPot},
    {"divider.predict", drawPredict, reckonPredict, onlyRealGains},
    {"rewind.options", drawRewind, reckonRewind},
    {"dummyload.options", drawDummy, reckonDummy, noNetworks},
    {"minimumload.fit", drawFit, reckonFit},
    {"rails.trim", drawTrim, reckonTrim},
    {"limit.shunt", drawShunt, reckonShunt},
    {"sources.ballast", drawBallast, reckonBallast},
    {"sources.series", drawStack, reckonStack},
    {"cable.drop", drawCable, reckonCable},
    {"sense.plan", drawSense, reckonSense},
    {"reading.judge", drawJudge, reckonJudge},
};

} // namespace

class TestReckonedOutput : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void agrees_data()
    {
        QTest::addColumn<std::size_t>("index");
        for (std::size_t i = 0; i < outputReckonings.size(); ++i)
            QTest::newRow(outputReckonings[i].name) << i;
    }
    void agrees()
    {
        QFETCH(std::size_t, index);
        const std::string found = disagreement(outputReckonings[index], 400);
        QVERIFY2(found.empty(), found.c_str());
    }
};

REGISTER_TEST(TestReckonedOutput, void)
#include "tst_reckoned_output.moc"
