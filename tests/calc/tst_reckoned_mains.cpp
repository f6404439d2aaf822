// The mains side reckoned a second time, straight from the written formulas, on random input: every key of
// every answer, and every refusal.

#include "calc/reckon.h"

#include <algorithm>
#include <numbers>
#include <set>

using namespace offshoot;
using namespace offshoot::test;

namespace {

constexpr double root2 = std::numbers::sqrt2;

// ---- mains.fuse

Json drawFuse(Random& r)
{
    Json in;
    switch (r.whole(0, 2)) {
    case 0:
        in = {{"va", r.decade(5, 3000)}, {"mains_v", r.between(100, 250)}};
        break;
    case 1:
        in = {{"current_a", r.decade(0.01, 15)}, {"mains_v", r.between(100, 250)}};
        break;
    default:
        in = {{"old_a", r.decade(0.03, 8)}, {"old_v", r.between(100, 250)}, {"new_v", r.between(100, 250)}};
    }
    if (r.chance(0.3))
        in["factor"] = r.between(1, 3);
    if (r.chance())
        in["speed"] = r.word({"slow", "fast", "unknown"});
    if (r.chance(0.7))
        in["v_rated_v"] = r.of({125.0, 250.0});
    if (r.chance(0.7))
        in["breaking_a"] = r.decade(35, 1500);
    if (r.chance(0.7))
        in["prospective_a"] = r.decade(35, 1500);
    if (r.chance(0.4))
        in["inrush"] = {{"i2t_a2s", r.decade(0.1, 20)}};
    else if (r.chance())
        in["inrush"] = {{"i_peak_a", r.between(5, 60)}, {"tau_s", r.decade(1e-3, 0.02)}};
    if (r.chance(0.7))
        in["melting_i2t_a2s"] = r.decade(0.5, 50);
    return in;
}

Json reckonFuse(const Json& in)
{
    const double mains = in.contains("new_v") ? in["new_v"] : in["mains_v"];
    const double plain = in.contains("va") ? given(in, "va", 0.0) / mains
                         : in.contains("current_a")
                             ? given(in, "current_a", 0.0)
                             : given(in, "old_a", 0.0) * given(in, "old_v", 0.0) / mains;
    const double needed = given(in, "factor", 1.0) * plain;
    Maybe value;
    Maybe below;
    for (const double a : {0.032, 0.04, 0.05, 0.063, 0.08, 0.1, 0.125, 0.16, 0.2, 0.25, 0.315, 0.4, 0.5,
                           0.63,  0.8,  1.0,  1.25,  1.6,  2.0, 2.5,   3.15, 4.0, 5.0,  6.3,   8.0, 10.0}) {
        if (a < needed / 1.02)
            below = a;
        else if (!value)
            value = a;
    }
    Maybe i2t;
    if (in.contains("inrush")) {
        const Json& surge = in["inrush"];
        i2t = surge.contains("i2t_a2s")
                  ? given(surge, "i2t_a2s", 0.0)
                  : std::pow(given(surge, "i_peak_a", 0.0), 2) * given(surge, "tau_s", 0.0) / 2;
    }
    const Maybe use = over(i2t, given(in, "melting_i2t_a2s"));
    const auto at_least = [](Maybe has, Maybe wants) {
        return !has || !wants ? "unknown" : *has >= *wants ? "fits" : "breaks";
    };
    return {{"needed_a", needed},
            {"value_a", orNull(value)},
            {"below_a", orNull(below)},
            {"over", orNull(value ? Maybe(*value / needed - 1) : Maybe())},
            {"range", needed < 0.032 ? "below"
                      : value        ? "inside"
                                     : "above"},
            {"speed", wordIn(in, "speed", "unknown")},
            {"voltage_verdict", at_least(given(in, "v_rated_v"), mains)},
            {"breaking_verdict", at_least(given(in, "breaking_a"), given(in, "prospective_a"))},
            {"inrush_i2t_a2s", orNull(i2t)},
            {"inrush_use", orNull(use)},
            {"inrush_verdict", verdictOf(use, 0.30, 0.75)}};
}

// ---- mains.evidence

bool isPaper(const std::string& kind) { return kind == "label" || kind == "manual" || kind == "sibling"; }

Json drawEvidence(Random& r)
{
    Json clues = Json::array();
    for (std::int64_t i = r.whole(0, 7); i > 0; --i) {
        Json clue{{"part", "P" + std::to_string(i)},
                  {"kind", r.word({"bulk_cap", "bulk_cap_series", "x_cap", "mov", "breaker", "fuse_v",
                                   "transformer_primary", "label", "manual", "sibling"})}};
        if (r.chance(0.15))
            clue["seen"] = false;
        const std::string kind = clue["kind"];
        if (isPaper(kind)) {
            clue["min_v"] = r.of({85.0, 100.0, 200.0, 220.0});
            clue["max_v"] = clue["min_v"].get<double>() + r.of({20.0, 40.0, 150.0});
            if (r.chance(0.3))
                clue["f_min_hz"] = r.of({47.0, 50.0, 57.0});
            if (r.chance(0.3))
                clue["f_max_hz"] = r.of({58.0, 63.0});
        } else if (r.chance(0.8)) {
            clue["rating_v"] = r.of({200.0, 250.0, 275.0, 400.0, 450.0}) + r.between(0, 5);
            if (kind == "transformer_primary")
                clue["f_rated_hz"] = r.of({50.0, 60.0});
        }
        if (kind == "bulk_cap_series")
            clue["link"] = r.word({"straight", "doubler", "unknown"});
        clues.push_back(clue);
    }
    Json in{{"clues", clues}, {"target", {{"v_v", r.of({100.0, 117.0, 231.0})}, {"f_hz", 50}}}};
    if (r.chance())
        in["target"]["spread"] = r.between(0, 0.2);
    if (r.chance(0.3))
        in["needed"] = {"bulk_cap", "x_cap"};
    if (r.chance(0.2))
        in["needed"] = Json::array();
    return in;
}

/// What one part or paper says of the wanted mains.
Json reckonClue(const Json& clue, double v, double top, double f)
{
    const std::string kind = clue["kind"];
    Json out{{"part", clue["part"]}, {"kind", kind},        {"says", "silent"}, {"ceiling_v", nullptr},
             {"floor_v", nullptr},   {"judged_v", nullptr}, {"use", nullptr}};
    const bool seen = !clue.contains("seen");
    const Maybe rating = given(clue, "rating_v");
    if (!seen || (!isPaper(kind) && !rating))
        return out;
    double ceiling = rating.value_or(0);
    double judged = top;
    if (isPaper(kind)) {
        judged = v;
        ceiling = clue["max_v"];
        const bool permits = v <= ceiling && v >= clue["min_v"].get<double>() &&
                             f >= given(clue, "f_min_hz", 0.0) && f <= given(clue, "f_max_hz", 1e9);
        if (kind == "sibling" && !permits)
            return out;
        out["floor_v"] = clue["min_v"];
        out["says"] = permits ? "permits" : "forbids";
    } else {
        const std::string link = wordIn(clue, "link", "");
        if (kind == "bulk_cap")
            ceiling /= root2;
        if (kind == "bulk_cap_series")
            ceiling *= link == "straight" ? root2 : 1 / root2;
        if (kind == "breaker" || kind == "fuse_v")
            judged = v;
        if (kind == "transformer_primary") {
            ceiling *= 1.1 * f / clue["f_rated_hz"].get<double>();
            judged = std::max(v, top / 1.1);
        }
        const bool straight = kind == "bulk_cap_series" && link == "unknown" && judged <= *rating * root2;
        out["says"] = judged <= ceiling ? "permits" : straight ? "depends" : "forbids";
    }
    out["ceiling_v"] = ceiling;
    out["judged_v"] = judged;
    out["use"] = judged / ceiling;
    return out;
}

Json reckonEvidence(const Json& in)
{
    const Json& target = in["target"];
    const double v = target["v_v"];
    const double top = v * (1 + given(target, "spread", 0.1));
    Json out{{"clues", Json::array()},          {"unread", Json::array()},  {"missing", Json::array()},
             {"contradictions", Json::array()}, {"max_nominal_v", nullptr}, {"ruled_by", nullptr}};
    std::set<std::string> read;
    std::vector<Json> parts; // rated and read
    std::vector<Json> papers;
    for (const Json& clue : in["clues"]) {
        const Json judged = reckonClue(clue, v, top, target["f_hz"]);
        out["clues"].push_back(judged);
        const std::string kind = clue["kind"];
        if (kind == "sibling")
            continue;
        if (isPaper(kind)) {
            if (judged["says"] != "silent")
                papers.push_back(judged);
        } else if (judged["says"] == "silent") {
            out["unread"].push_back(clue["part"]);
        } else {
            parts.push_back(judged);
            read.insert(kind == "bulk_cap_series" ? "bulk_cap" : kind);
        }
    }
    for (const Json& kind : in.contains("needed") ? in["needed"] : Json{"bulk_cap", "fuse_v"})
        if (!read.contains(kind))
            out["missing"].push_back(kind);
    const auto says = [](const std::vector<Json>& all, const char* word) {
        return std::ranges::any_of(all, [&](const Json& j) { return j["says"] == word; });
    };
    for (const Json& part : parts) {
        const double nominal = part["ceiling_v"].get<double>() * v / part["judged_v"].get<double>();
        if (out["max_nominal_v"].is_null() || nominal < out["max_nominal_v"].get<double>()) {
            out["max_nominal_v"] = nominal;
            out["ruled_by"] = part["part"];
        }
    }
    const bool close = std::ranges::any_of(parts, [](const Json& j) { return j["use"] > 0.95; });
    const bool open = !out["unread"].empty() || !out["missing"].empty() || says(parts, "depends") ||
                      says(papers, "forbids");
    out["verdict"] = says(parts, "forbids") ? "breaks" : open ? "unknown" : close ? "tight" : "fits";
    Json& all = out["contradictions"];
    for (const Json& paper : papers)
        for (const Json& part : parts)
            if (paper["says"] == "permits" && part["says"] == "forbids")
                all.push_back(
                    {{"code", "paper_permits_part_forbids"}, {"parts", {paper["part"], part["part"]}}});
    for (const Json& paper : papers)
        if (paper["says"] == "forbids" && !parts.empty() && !says(parts, "forbids"))
            all.push_back({{"code", "paper_forbids_parts_permit"}, {"parts", {paper["part"]}}});
    for (std::size_t i = 0; i < papers.size(); ++i)
        for (std::size_t j = i + 1; j < papers.size(); ++j)
            if (papers[i]["says"] != papers[j]["says"])
                all.push_back(
                    {{"code", "papers_disagree"}, {"parts", {papers[i]["part"], papers[j]["part"]}}});
    return out;
}

// ---- mains.windings

Json drawWindings(Random& r)
{
    Json in{{"primaries", Json::array()},
            {"f_rated_hz", r.of({50.0, 60.0})},
            {"va", r.decade(10, 500)},
            {"target", {{"v_v", r.between(90, 250)}, {"f_hz", r.of({50.0, 60.0})}}},
            {"limit", 1000}};
    const bool resistances = r.chance(0.7);
    const std::int64_t count = r.whole(1, 3);
    for (std::int64_t i = 0; i < count; ++i) {
        const std::string name(1, static_cast<char>('A' + i));
        Json winding{{"name", name},
                     {"start", name + "1"},
                     {"end", name + "9"},
                     {"v_v", r.chance(0.7) ? 115.0 : r.between(90, 130)}};
        if (r.chance(0.3))
            winding["taps"] = {{name + "5", 100 * r.between(0.2, 0.85)}};
        if (r.chance())
            winding["i_max_a"] = r.decade(0.1, 2);
        if (resistances)
            winding["r_ohm"] = r.between(5, 25);
        in["primaries"].push_back(winding);
    }
    if (r.chance(0.7)) {
        in["secondaries"] = Json::array();
        for (std::int64_t i = r.whole(1, 2); i > 0; --i) {
            Json secondary{{"name", "S" + std::to_string(i)}, {"v_v", r.between(5, 50)}};
            if (r.chance(0.8)) {
                secondary["i_a"] = r.decade(0.5, 5);
                secondary["r_ohm"] = r.decade(0.05, 1);
            }
            in["secondaries"].push_back(secondary);
        }
    }
    if (r.chance())
        in["regulation"] = r.between(0, 0.2);
    if (r.chance())
        in["target"]["spread"] = r.between(0, 0.2);
    if (r.chance(0.3))
        in["spread_rated"] = r.between(0, 0.1);
    if (r.chance(0.3))
        in["test_v_v"] = r.between(6, 24);
    return in;
}

using String = std::vector<Json>; // segments of different windings

/// Every string: for each winding nothing or one of its segments.
std::vector<String> reckonStrings(const Json& in)
{
    std::vector<String> strings{{}};
    for (const Json& winding : in["primaries"]) {
        std::vector<std::pair<double, std::string>> leads{{0, winding["start"]},
                                                          {winding["v_v"], winding["end"]}};
        if (winding.contains("taps"))
            for (const auto& [lead, volts] : winding["taps"].items())
                leads.emplace_back(volts, lead);
        std::ranges::sort(leads);
        const std::vector<String> before = strings;
        for (const String& string : before)
            for (std::size_t a = 0; a < leads.size(); ++a)
                for (std::size_t b = a + 1; b < leads.size(); ++b) {
                    String longer = string;
                    longer.push_back({{"winding", winding["name"]},
                                      {"from", leads[a].second},
                                      {"to", leads[b].second},
                                      {"v_v", leads[b].first - leads[a].first}});
                    strings.push_back(longer);
                }
    }
    strings.erase(strings.begin());
    return strings;
}

bool mayParallel(const String& a, const String& b)
{
    if (a.size() != b.size())
        return false;
    for (std::size_t i = 0; i < a.size(); ++i)
        if (!near(a[i]["v_v"].get<double>(), b[i]["v_v"].get<double>()))
            return false;
    return std::ranges::none_of(a, [&](const Json& s) {
        return std::ranges::any_of(b, [&](const Json& t) { return s["winding"] == t["winding"]; });
    });
}

Json reckonConnection(const Json& in, const std::vector<String>& strings)
{
    const double v = in["target"]["v_v"];
    const double f = in["target"]["f_hz"];
    const double va = in["va"];
    const auto winding_of = [&](const Json& segment) -> const Json& {
        return *std::ranges::find_if(in["primaries"],
                                     [&](const Json& w) { return w["name"] == segment["winding"]; });
    };
    double all_v = 0;
    for (const Json& w : in["primaries"])
        all_v += w["v_v"].get<double>();
    const auto most = [&](const Json& w) { return given(w, "i_max_a", va / all_v); };

    double rated = 0;
    for (const Json& s : strings.front())
        rated += s["v_v"].get<double>();
    const double scale = v / rated;
    // Each string's ohms, and its share of the current.
    std::vector<Maybe> ohms;
    for (const String& string : strings) {
        Maybe ohm = 0.0;
        for (const Json& s : string) {
            const Maybe r = given(winding_of(s), "r_ohm");
            ohm = ohm && r ? Maybe(*ohm + *r * s["v_v"].get<double>() / winding_of(s)["v_v"].get<double>())
                           : Maybe();
        }
        ohms.push_back(ohm);
    }
    const bool known = std::ranges::all_of(ohms, [](Maybe ohm) { return ohm.has_value(); });
    std::vector<double> shares;
    shares.reserve(ohms.size());
    double whole = 0;
    for (const Maybe& ohm : ohms)
        whole += known ? 1 / *ohm : 1;
    for (const Maybe& ohm : ohms)
        shares.push_back((known ? 1 / *ohm : 1) / whole);
    double allowed = 1e300;
    for (std::size_t k = 0; k < strings.size(); ++k)
        for (const Json& s : strings[k])
            allowed = std::min(allowed, most(winding_of(s)) / shares[k]);

    const double line = va / v;
    const double share = std::min({1.0, scale, v * allowed / va});
    Maybe copper;
    Maybe hottest;
    const Json secondaries = in.contains("secondaries") ? in["secondaries"] : Json::array();
    if (std::ranges::all_of(in["primaries"], [](const Json& w) { return w.contains("r_ohm"); }) &&
        !secondaries.empty() &&
        std::ranges::all_of(secondaries, [](const Json& s) { return s.contains("i_a"); })) {
        double primary = 0;
        double secondary = 0;
        double used = 0;
        for (const Json& w : in["primaries"])
            primary += w["r_ohm"].get<double>() * std::pow(most(w), 2);
        for (const Json& s : secondaries)
            secondary += s["r_ohm"].get<double>() * std::pow(s["i_a"].get<double>(), 2);
        for (std::size_t k = 0; k < strings.size(); ++k)
            used += std::pow(line * shares[k], 2) * *ohms[k];
        copper =
            std::min({1.0, scale, std::sqrt((primary + secondary) / (used + secondary / scale / scale))});
        hottest = 0.0;
        for (std::size_t k = 0; k < strings.size(); ++k)
            for (const Json& s : strings[k])
                hottest = std::max(*hottest, line * *copper * shares[k] / most(winding_of(s)));
    }

    const double flux = v / f / (rated / in["f_rated_hz"].get<double>());
    const double flux_top = flux * (1 + given(in["target"], "spread", 0.1));
    const double judged = std::max(flux, flux_top / (1 + given(in, "spread_rated", 0.1)));
    const bool several = strings.size() > 1;
    const bool series = strings.front().size() > 1;
    Json out{{"kind", several  ? series ? "series_parallel" : "parallel"
                      : series ? "series"
                               : "single"},
             {"strings", strings},
             {"links", Json::array()},
             {"feed_a", Json::array()},
             {"feed_b", Json::array()},
             {"v_rated_v", rated},
             {"v_scale", scale},
             {"flux", flux},
             {"flux_top", flux_top},
             {"verdict", verdictOf(judged, 1.05, 1.10)},
             {"secondary_verdict", verdictOf(std::abs(scale - 1), 0.05, 0.10)},
             {"i_allowed_a", allowed},
             {"va_share", share},
             {"va_share_copper", orNull(copper)},
             {"copper_current_use", orNull(hottest)},
             {"line_a", line},
             {"line_allowed_a", line * share},
             {"secondaries", Json::array()},
             {"open", Json::array()},
             {"hazards", Json::array()},
             {"gap_wrong_v", several ? Json(2 * given(in, "test_v_v", 12.0)) : Json(nullptr)}};
    for (const String& string : strings) {
        for (std::size_t i = 1; i < string.size(); ++i)
            out["links"].push_back({string[i - 1]["to"], string[i]["from"]});
        out["feed_a"].push_back(string.front()["from"]);
        out["feed_b"].push_back(string.back()["to"]);
    }
    for (const Json& s : secondaries)
        out["secondaries"].push_back(
            {{"name", s["name"]},
             {"v_v", s["v_v"].get<double>() * scale},
             {"v_open_v", in.contains("regulation")
                              ? Json(s["v_v"].get<double>() * scale * (1 + in["regulation"].get<double>()))
                              : Json(nullptr)}});
    bool above = false;
    for (const Json& w : in["primaries"]) {
        const bool wholly = std::ranges::any_of(strings, [&](const String& string) {
            return std::ranges::any_of(string, [&](const Json& s) {
                return s["winding"] == w["name"] && s["from"] == w["start"] && s["to"] == w["end"];
            });
        });
        if (wholly)
            continue;
        out["open"].push_back({{"winding", w["name"]}, {"v_v", w["v_v"].get<double>() * scale}});
        above = above || w["v_v"].get<double>() * scale > v * (1 + 1e-9);
    }
    for (const auto& [is, word] : {std::pair{series, "series_reversed"},
                                   {several, "parallel_reversed"},
                                   {out["verdict"] == "breaks", "over_flux"},
                                   {scale > 1.10, "secondary_high"},
                                   {scale < 0.90, "secondary_low"},
                                   {above, "open_above_mains"}})
        if (is)
            out["hazards"].push_back(word);
    return out;
}

Json reckonWindings(const Json& in)
{
    Json out{{"connections", Json::array()}, {"assumed", Json::array()}, {"phase_tests", Json::array()}};
    const std::vector<String> strings = reckonStrings(in);
    const std::size_t n = strings.size();
    for (std::size_t a = 0; a < n; ++a) {
        out["connections"].push_back(reckonConnection(in, {strings[a]}));
        for (std::size_t b = 0; b < n; ++b) {
            if (strings[a] < strings[b] && mayParallel(strings[a], strings[b]))
                out["connections"].push_back(reckonConnection(in, {strings[a], strings[b]}));
            for (std::size_t c = 0; c < n; ++c)
                if (strings[a] < strings[b] && strings[b] < strings[c] &&
                    mayParallel(strings[a], strings[b]) && mayParallel(strings[b], strings[c]) &&
                    mayParallel(strings[a], strings[c]))
                    out["connections"].push_back(reckonConnection(in, {strings[a], strings[b], strings[c]}));
        }
    }
    out["count"] = out["connections"].size();
    const Json& windings = in["primaries"];
    for (std::size_t a = 0; a < windings.size(); ++a) {
        if (!windings[a].contains("i_max_a"))
            out["assumed"].push_back(windings[a]["name"]);
        for (std::size_t b = a + 1; b < windings.size(); ++b) {
            const double feed = given(in, "test_v_v", 12.0);
            const double ratio = windings[b]["v_v"].get<double>() / windings[a]["v_v"].get<double>();
            out["phase_tests"].push_back({{"a", windings[a]["name"]},
                                          {"b", windings[b]["name"]},
                                          {"join", {windings[a]["end"], windings[b]["start"]}},
                                          {"read", {windings[a]["start"], windings[b]["end"]}},
                                          {"feed_v", feed},
                                          {"sum_v", feed * (1 + ratio)},
                                          {"difference_v", feed * std::abs(1 - ratio)}});
        }
    }
    return out;
}

/// Their order is looked at by itself.
void unordered(Json& answer)
{
    const auto name = [](const Json& c) {
        return c["feed_a"].dump() + c["feed_b"].dump() + c["links"].dump();
    };
    auto& all = answer["connections"];
    std::sort(all.begin(), all.end(), [&](const Json& a, const Json& b) { return name(a) < name(b); });
}

// ---- inrush

Json drawDirect(Random& r)
{
    Json in{{"v_rms_v", r.of({115.0, 230.0})}};
    for (const char* key : {"source_ohm", "esr_ohm", "other_ohm"})
        if (r.chance(0.6))
            in[key] = r.decade(0.05, 3);
    if (r.chance()) {
        in["ntc"] = {{"r25_ohm", r.decade(2, 20)}};
        if (r.chance(0.8)) {
            in["ntc"]["b_k"] = r.between(2500, 3500);
            if (r.chance())
                in["ntc"]["t_cold_k"] = r.between(260, 320);
            if (r.chance())
                in["ntc"]["t_hot_k"] = r.between(380, 480);
        }
        if (r.chance())
            in["ntc"]["energy_max_j"] = r.decade(10, 100);
    }
    if (r.chance())
        in["spread"] = r.between(0, 0.2);
    if (r.chance(0.8))
        in["c_f"] = r.decade(50e-6, 1e-3);
    if (r.chance(0.3))
        in["v0_v"] = r.between(0, 450);
    for (const auto& [key, low, high] :
         {std::tuple{"i_surge_max_a", 30, 300}, {"breaker_trip_a", 30, 300}, {"fuse_i2t_a2s", 1, 100}})
        if (r.chance(0.7))
            in[key] = r.decade(low, high);
    return in;
}

Json reckonDirect(const Json& in)
{
    if (!in.contains("source_ohm") && !in.contains("esr_ohm") && !in.contains("other_ohm") &&
        !in.contains("ntc"))
        return refused("missing");
    const double peak_v = root2 * in["v_rms_v"].get<double>() * (1 + given(in, "spread", 0.1));
    const double step = std::max(0.0, peak_v - given(in, "v0_v", 0.0));
    const double fixed =
        given(in, "source_ohm", 0.0) + given(in, "esr_ohm", 0.0) + given(in, "other_ohm", 0.0);
    Maybe cold;
    Maybe hot;
    Maybe ntc_max;
    if (in.contains("ntc")) {
        const Json& ntc = in["ntc"];
        const auto at = [&](double t) {
            return ntc["r25_ohm"].get<double>() * std::exp(given(ntc, "b_k", 0.0) * (1 / t - 1 / 298.15));
        };
        cold = at(given(ntc, "t_cold_k", 298.15));
        if (ntc.contains("t_hot_k"))
            hot = at(ntc["t_hot_k"]);
        ntc_max = given(ntc, "energy_max_j");
    }
    const double total = fixed + cold.value_or(0);
    const double peak_a = step / total;
    const Maybe hot_a = hot ? Maybe(step / (fixed + *hot)) : Maybe();
    const Maybe c = given(in, "c_f");
    const Maybe energy = c ? Maybe(*c * step * step / 2) : Maybe();
    const Maybe i2t = over(energy, total);
    const double worst_a = std::max(peak_a, hot_a.value_or(0));
    return {{"v_peak_v", peak_v},
            {"r_total_ohm", total},
            {"i_peak_a", peak_a},
            {"ntc_cold_ohm", orNull(cold)},
            {"ntc_hot_ohm", orNull(hot)},
            {"i_peak_hot_a", orNull(hot_a)},
            {"tau_s", orNull(c ? Maybe(total * *c) : Maybe())},
            {"energy_j", orNull(energy)},
            {"i2t_a2s", orNull(i2t)},
            {"ntc_verdict", verdictOf(over(c ? Maybe(*c * peak_v * peak_v / 2) : Maybe(), ntc_max))},
            {"surge_verdict", verdictOf(over(worst_a, given(in, "i_surge_max_a")))},
            {"breaker_verdict", verdictOf(over(worst_a, given(in, "breaker_trip_a")))},
            {"fuse_verdict", verdictOf(over(i2t, given(in, "fuse_i2t_a2s")), 0.30, 0.75)}};
}

Json drawLimiter(Random& r)
{
    Json in{{"v_rms_v", r.of({115.0, 230.0})}, {"c_f", r.decade(100e-6, 5e-3)}};
    if (r.chance(0.7))
        in["i_peak_max_a"] = r.between(5, 40);
    if (r.chance() || !in.contains("i_peak_max_a"))
        in["r_ohm"] = r.decade(2, 100);
    if (r.chance())
        in["r_other_ohm"] = r.decade(0.1, 3);
    if (r.chance(0.3))
        in["kind"] = "doubler";
    if (r.chance(0.3))
        in["ratio"] = r.between(0.5, 8);
    if (r.chance(0.7))
        in["load_w"] = r.decade(5, 800);
    if (r.chance(0.4))
        in["pf"] = r.between(0.5, 1);
    if (r.chance(0.7))
        in["pulse_j"] = r.decade(20, 500);
    if (r.chance(0.7))
        in["power_w"] = r.decade(2, 100);
    if (r.chance(0.4))
        in["fusible"] = true;
    return in;
}

Json reckonLimiter(const Json& in)
{
    const double v = in["v_rms_v"];
    const double peak_v = root2 * v * 1.1;
    const double other = given(in, "r_other_ohm", 0.0);
    const Maybe wanted_a = given(in, "i_peak_max_a");
    const Maybe needed = wanted_a ? Maybe(std::max(0.0, peak_v / *wanted_a - other)) : Maybe();
    const double r = in.contains("r_ohm") ? in["r_ohm"].get<double>() : *needed;
    const double total = r + other;
    const double ratio = given(in, "ratio", 1.0);
    const double c = in["c_f"];
    const bool doubler = in.contains("kind");
    const double energy = (doubler ? 2 : 1) * 0.5 * c * std::pow(peak_v / ratio, 2) * r / total;
    const Maybe pulse = over(energy, given(in, "pulse_j"));
    Maybe run;
    Maybe stuck_w;
    Json stalls = nullptr;
    if (in.contains("load_w")) {
        const double s = in["load_w"].get<double>() / given(in, "pf", 0.65);
        run = s / v;
        const double under = v * v - 4 * total * s;
        stalls = under < 0;
        const double a = under < 0 ? v / (2 * total) : (v - std::sqrt(under)) / (2 * total);
        stuck_w = a * a * r;
    }
    const Maybe stuck = over(stuck_w, given(in, "power_w"));
    const bool assumed = in.contains("load_w") && !in.contains("pf");
    return {{"v_peak_v", peak_v},
            {"r_needed_ohm", orNull(needed)},
            {"r_ohm", r},
            {"i_peak_a", peak_v / total},
            {"tau_s", total * c / ratio / ratio},
            {"energy_j", energy},
            {"pulse_use", orNull(pulse)},
            {"pulse_verdict", verdictOf(pulse)},
            {"five_tau_s", 5 * total * c / ratio / ratio},
            {"residual", nullptr},
            {"bypass_verdict", "unknown"},
            {"i_close_a", nullptr},
            {"i_run_a", orNull(run)},
            {"stalls", stalls},
            {"stuck_w", orNull(stuck_w)},
            {"stuck_use", orNull(stuck)},
            {"stuck_verdict", verdictOf(stuck, 0.5)},
            {"stuck_outcome", !stuck                ? "unknown"
                              : *stuck <= 1         ? "survives"
                              : flag(in, "fusible") ? "opens"
                                                    : "burns"},
            {"shorted_w", std::pow(v / total, 2) * r},
            {"relay_verdict", "unknown"},
            {"assumed", assumed ? Json{"pf"} : Json::array()}};
}

/// When it is charged is tested against small steps elsewhere.
void notCharging(Json& answer)
{
    answer.erase("t95_s");
    answer.erase("bypass_min_s");
}

// ---- delay.rc

Json drawDelay(Random& r)
{
    Json in{{"c_f", r.decade(1e-6, 1e-3)}, {"v_supply_v", r.between(5, 24)}};
    in["v_threshold_v"] =
        r.chance(0.8) ? in["v_supply_v"].get<double>() * r.between(0.3, 0.95) : r.between(-1, 26);
    if (r.chance())
        in["v_initial_v"] = r.chance(0.8) ? r.between(0, 3) : r.between(10, 30);
    if (r.chance())
        in["r_ohm"] = r.decade(1e3, 1e6);
    else
        in["t_s"] = r.decade(0.01, 30);
    if (r.chance(0.4))
        in["i_leak_a"] = r.decade(1e-9, 1e-5);
    if (r.chance())
        in["r_tolerance"] = 0.05;
    if (r.chance())
        in["c_tolerance"] = 0.2;
    if (r.chance())
        in["r_discharge_ohm"] = r.decade(10, 1e4);
    return in;
}

Json reckonDelay(const Json& in)
{
    const double c = in["c_f"];
    const double supply = in["v_supply_v"];
    const double start = given(in, "v_initial_v", 0.0);
    const double threshold = in["v_threshold_v"];
    const double leak = given(in, "i_leak_a", 0.0);
    if (leak > 0 && supply <= start)
        return refused("inconsistent");
    if (threshold <= std::min(start, supply) || threshold >= std::max(start, supply))
        return refused("no_solution");
    /// Nothing where the threshold is never reached.
    const auto after = [&](double r_ohm, double c_f) -> Maybe {
        const double end = supply - r_ohm * leak;
        if (leak > 0 && end <= threshold)
            return {};
        return r_ohm * c_f * std::log((end - start) / (end - threshold));
    };
    double r = given(in, "r_ohm", 0.0);
    if (in.contains("t_s")) {
        double low = 0;
        double high = leak > 0 ? (supply - threshold) / leak : 1e12;
        for (int i = 0; i < 200; ++i) {
            r = (low + high) / 2;
            const Maybe t = after(r, c);
            (t && *t < in["t_s"].get<double>() ? low : high) = r;
        }
    }
    const Maybe t = after(r, c);
    if (!t)
        return refused("no_solution");
    const double r_off = given(in, "r_tolerance", 0.0);
    const double c_off = given(in, "c_tolerance", 0.0);
    const Maybe drain = given(in, "r_discharge_ohm");
    return {{"t_s", *t},
            {"r_ohm", r},
            {"v_final_v", supply - r * leak},
            {"t_min_s", orNull(after(r * (1 - r_off), c * (1 - c_off)))},
            {"t_max_s", orNull(after(r * (1 + r_off), c * (1 + c_off)))},
            {"reset_s", drain && threshold > 0
                            ? Json(std::max(0.0, *drain * c * std::log(supply / (0.1 * threshold))))
                            : Json(nullptr)}};
}

// ---- lamp.limit

Json drawLamp(Random& r)
{
    Json in{{"lamps_w", Json::array()}, {"lamp_v", r.of({115.0, 230.0})}, {"mains_v", r.of({115.0, 230.0})}};
    for (std::int64_t i = r.whole(1, 3); i > 0; --i)
        in["lamps_w"].push_back(r.of({25.0, 40.0, 60.0, 100.0, 150.0}));
    if (r.chance(0.3))
        in["series"] = 2;
    if (r.chance(0.8))
        in["idle_w"] = r.decade(1, 40);
    if (r.chance(0.7))
        in["load_w"] = r.decade(1, 100);
    if (r.chance(0.4))
        in["efficiency"] = r.between(0.5, 0.95);
    if (r.chance(0.3))
        in["unit"] = r.word({"constant_power", "resistive"});
    if (r.chance(0.4))
        in["v_unit_min_v"] = r.between(60, 200);
    return in;
}

Json reckonLamp(const Json& in)
{
    double watts = 0;
    for (const Json& w : in["lamps_w"])
        watts += w.get<double>();
    const double lamp_v = in["lamp_v"];
    const double v = in["mains_v"];
    const double rated_a = watts / lamp_v;
    const double group_v = given(in, "series", 1.0) * lamp_v;
    const bool resistive = wordIn(in, "unit", "constant_power") == "resistive";
    const auto amps = [&](double v_lamp) { return rated_a * std::pow(v_lamp / group_v, 0.55); };
    const double top_v = v * 0.55 / 1.55;
    const double most_w = (v - top_v) * amps(top_v);
    const auto state = [&](double w) {
        Json out{
            {"w", w}, {"v_unit_v", nullptr}, {"v_lamp_v", nullptr}, {"i_a", nullptr}, {"glow", "pulsing"}};
        if (!resistive && w > most_w)
            return out;
        double low = 0;
        double high = resistive ? v : top_v;
        for (int i = 0; i < 200; ++i) {
            const double middle = (low + high) / 2;
            const double wanted_a = resistive ? (v - middle) * w / v / v : w / (v - middle);
            (amps(middle) < wanted_a ? low : high) = middle;
        }
        const double share = high / group_v;
        out["v_lamp_v"] = high;
        out["v_unit_v"] = v - high;
        out["i_a"] = amps(high);
        out["glow"] = share < 0.10 ? "dark" : share < 0.40 ? "dim" : share < 0.75 ? "half" : "bright";
        return out;
    };
    const double idle_w = given(in, "idle_w", 0.0);
    const double loaded_w = idle_w + given(in, "load_w", 0.0) / given(in, "efficiency", 0.8);
    const Json loaded = state(loaded_w);
    const Maybe use = resistive ? Maybe() : Maybe(loaded_w / most_w);
    std::string verdict = verdictOf(use);
    if (resistive) {
        const double share = loaded["v_unit_v"].get<double>() / v;
        verdict = share >= 0.8 ? "fits" : share >= 0.5 ? "tight" : "breaks";
    }
    if (in.contains("v_unit_min_v") &&
        (loaded["v_unit_v"].is_null() || loaded["v_unit_v"] < in["v_unit_min_v"]))
        verdict = "breaks";
    const bool quiet = loaded["glow"] == "dark" || loaded["glow"] == "dim";
    const auto sign = [](const char* seen, const char* means) {
        return Json{{"sign", seen}, {"means", means}};
    };
    return {{"i_rated_a", rated_a},
            {"v_group_v", group_v},
            {"v_lamp_at_max_v", top_v},
            {"p_max_w", most_w},
            {"short_a", amps(v)},
            {"short_use", v / group_v},
            {"short_verdict", verdictOf(v / group_v, 1.05, 1.10)},
            {"cold_peak_a", root2 * v * rated_a / (0.08 * group_v)},
            {"idle", state(idle_w)},
            {"loaded", loaded},
            {"use", orNull(use)},
            {"verdict", verdict},
            {"expected", loaded["glow"] == "pulsing" ? "pulsing"
                         : quiet                     ? "flash_then_dim"
                                                     : "bright"},
            {"signs",
             {sign("dark", "no_current"), sign("flash_then_dim", "normal"), sign("bright", "short"),
              sign("pulsing", "hiccup")}},
            {"assumed", given(in, "load_w", 0.0) > 0 && !in.contains("efficiency") ? Json{"efficiency"}
                                                                                   : Json::array()}};
}

// ---- discharge.plan

Json drawDischarge(Random& r)
{
    Json in{{"v0_v", r.decade(5, 800)}, {"capacitors", Json::array()}};
    for (std::int64_t i = r.whole(1, 3); i > 0; --i) {
        in["capacitors"].push_back({{"c_f", r.decade(1e-6, 5e-3)}});
        if (r.chance())
            in["capacitors"].back()["kind"] =
                r.word({"aluminium", "film_polyester", "polypropylene", "ceramic_2", "other"});
    }
    if (r.chance(0.4))
        in["arrangement"] = "series";
    if (r.chance(0.6)) {
        in["bleeder_ohm"] = r.decade(1e3, 1e6);
        if (r.chance())
            in["bleeder_power_w"] = r.of({0.5, 2.0, 5.0});
    }
    if (r.chance())
        in["t_s"] = r.between(1, 30);
    if (r.chance(0.3))
        in["v_end_v"] = r.between(2, 50);
    if (r.chance(0.6)) {
        in["tool"] = Json::object();
        if (r.chance())
            in["tool"]["r_ohm"] = r.decade(100, 1e5);
        for (const auto& [key, low, high] :
             {std::tuple{"pulse_j", 1, 300}, {"power_w", 1, 100}, {"v_max_v", 200, 700}})
            if (r.chance())
                in["tool"][key] = r.decade(low, high);
    }
    return in;
}

Json reckonDischarge(const Json& in)
{
    const double v0 = in["v0_v"];
    const double end = given(in, "v_end_v", 10.0);
    const bool series = in.contains("arrangement");
    double c = 0;
    double recovery = 0;
    for (const Json& capacitor : in["capacitors"]) {
        const double each = capacitor["c_f"];
        c += series ? 1 / each : each;
        const std::string kind = wordIn(capacitor, "kind", "aluminium");
        recovery = std::max(recovery, kind == "film_polyester"  ? 0.005
                                      : kind == "polypropylene" ? 0.001
                                      : kind == "ceramic_2"     ? 0.03
                                                                : 0.12);
    }
    c = series ? 1 / c : c;
    const double energy = c * v0 * v0 / 2;
    const auto to = [&](double r, double v) { return v0 <= v ? 0 : r * c * std::log(v0 / v); };
    Json bleeder = nullptr;
    if (const Maybe r = given(in, "bleeder_ohm"))
        bleeder = {{"r_ohm", *r},
                   {"tau_s", *r * c},
                   {"t60_s", to(*r, 60)},
                   {"t42_s", to(*r, 42)},
                   {"t10_s", to(*r, 10)},
                   {"power_w", v0 * v0 / *r},
                   {"verdict", verdictOf(over(v0 * v0 / *r, given(in, "bleeder_power_w")), 0.5)}};
    const Maybe largest = v0 > end ? Maybe(given(in, "t_s", 5.0) / (c * std::log(v0 / end))) : Maybe();
    const Json own = in.contains("tool") ? in["tool"] : Json::object();
    const Maybe r = own.contains("r_ohm") ? given(own, "r_ohm") : largest;
    Json tool = nullptr;
    if (r)
        tool = {{"r_ohm", *r},
                {"t60_s", to(*r, 60)},
                {"t42_s", to(*r, 42)},
                {"t10_s", to(*r, 10)},
                {"i_peak_a", v0 / *r},
                {"p_peak_w", v0 * v0 / *r},
                {"energy_j", energy},
                {"pulse_verdict", verdictOf(over(energy, given(own, "pulse_j")))},
                {"left_on_verdict", verdictOf(over(v0 * v0 / *r, given(own, "power_w")), 0.5)},
                {"voltage_verdict", verdictOf(over(v0, given(own, "v_max_v")))}};
    Json each = Json::array();
    for (const Json& capacitor : in["capacitors"])
        each.push_back(series ? v0 * c / capacitor["c_f"].get<double>() : v0);
    return {{"c_f", c},
            {"energy_j", energy},
            {"bleeder", bleeder},
            {"tool_max_ohm", orNull(largest)},
            {"tool", tool},
            {"recovery_share", recovery},
            {"recovery_v", recovery * v0},
            {"wait_s", recovery * v0 >= 10 ? 300 : 60},
            {"each_v", each}};
}

const std::vector<Reckoning> mainsReckonings{
    {"mains.fuse", drawFuse, reckonFuse},
    {"mains.evidence", drawEvidence, reckonEvidence},
    {"mains.windings", drawWindings, reckonWindings, unordered},
    {"inrush.direct", drawDirect, reckonDirect},
    {"inrush.limiter", drawLimiter, reckonLimiter, notCharging},
    {"delay.rc", drawDelay, reckonDelay},
    {"lamp.limit", drawLamp, reckonLamp},
    {"discharge.plan", drawDischarge, reckonDischarge},
};

} // namespace

class TestReckonedMains : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void agrees_data()
    {
        QTest::addColumn<std::size_t>("index");
        for (std::size_t i = 0; i < mainsReckonings.size(); ++i)
            QTest::newRow(mainsReckonings[i].name) << i;
    }
    void agrees()
    {
        QFETCH(std::size_t, index);
        const std::string found = disagreement(mainsReckonings[index], 400);
        QVERIFY2(found.empty(), found.c_str());
    }

    /// Connections stand by their worse verdict, then nearness to the rated voltage, then power left, then
    /// kind.
    void windingsInOrder()
    {
        Random random(5);
        const std::vector<std::string> kinds{"single", "series", "parallel", "series_parallel"};
        for (int round = 0; round < 100; ++round) {
            const Json in = drawWindings(random);
            const Json answer = answerOf("mains.windings", in);
            std::tuple<std::ptrdiff_t, double, double, std::ptrdiff_t> last{-1, 0, 0, 0};
            for (const Json& c : answer["connections"]) {
                const auto rounded = [](double x) { return std::round(x * 1e9); };
                const std::tuple now{
                    std::max(placeOf(by_verdict, c["verdict"]), placeOf(by_verdict, c["secondary_verdict"])),
                    rounded(std::abs(c["v_scale"].get<double>() - 1)), -rounded(c["va_share"]),
                    placeOf(kinds, c["kind"])};
                QVERIFY2(last <= now, in.dump().c_str());
                last = now;
            }
            Json fewer = in;
            fewer["limit"] = 2;
            const Json best = answerOf("mains.windings", fewer)["connections"];
            for (std::size_t i = 0; i < best.size(); ++i)
                QVERIFY(best[i] == answer["connections"][i]);
        }
    }
};

REGISTER_TEST(TestReckonedMains, void)
#include "tst_reckoned_mains.moc"
