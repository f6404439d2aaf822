// For the tests that reckon each calculation a second time: random input, comparing answers key by key.
#pragma once

#include "calc/calculations.h"
#include "support/support.h"

#include <algorithm>
#include <functional>
#include <random>

namespace offshoot::test {

class Random
{
public:
    explicit Random(unsigned seed)
        : m_engine(seed)
    {}
    double between(double a, double b) { return std::uniform_real_distribution(a, b)(m_engine); }
    /// Evenly over the decades.
    double decade(double a, double b) { return std::pow(10, between(std::log10(a), std::log10(b))); }
    bool chance(double p = 0.5) { return between(0, 1) < p; }
    std::int64_t whole(std::int64_t a, std::int64_t b)
    {
        return std::uniform_int_distribution<std::int64_t>(a, b)(m_engine);
    }
    template <class T>
    T of(std::initializer_list<T> list)
    {
        return list.begin()[whole(0, static_cast<std::int64_t>(list.size()) - 1)];
    }
    const char* word(std::initializer_list<const char*> list) { return of<const char*>(list); }

private:
    std::mt19937 m_engine;
};

using Maybe = std::optional<double>;

/// What an input holds, or nothing, or the default.
inline Maybe given(const Json& in, const char* key)
{
    return in.contains(key) ? Maybe(in[key].get<double>()) : Maybe();
}
inline double given(const Json& in, const char* key, double otherwise)
{
    return given(in, key).value_or(otherwise);
}
inline std::string wordIn(const Json& in, const char* key, const char* otherwise)
{
    return in.contains(key) ? in[key].get<std::string>() : otherwise;
}
inline bool flag(const Json& in, const char* key) { return in.contains(key) && in[key].get<bool>(); }

inline Json orNull(Maybe value) { return value ? Json(*value) : Json(nullptr); }
inline Maybe over(Maybe planned, Maybe limit)
{
    return planned && limit ? Maybe(*planned / *limit) : Maybe();
}

inline std::string verdictOf(Maybe use, double fits = 0.8, double tight = 1)
{
    return !use ? "unknown" : *use <= fits ? "fits" : *use <= tight ? "tight" : "breaks";
}
inline std::string worstOf(const std::vector<std::string>& verdicts)
{
    for (const char* word : {"breaks", "unknown", "tight"})
        if (std::ranges::find(verdicts, word) != verdicts.end())
            return word;
    return "fits";
}

/// The order in which options stand.
inline const std::vector<std::string> by_verdict{"fits", "tight", "unknown", "breaks"};
inline std::ptrdiff_t placeOf(const std::vector<std::string>& words, const std::string& word)
{
    return std::ranges::find(words, word) - words.begin();
}

inline Json refused(const char* code) { return {{"refused", code}}; }

/// What a calculation answers; of a refusal its code.
inline Json answerOf(const char* name, const Json& in)
{
    try {
        return findCalculation(name)->run(in);
    } catch (const DocumentError& error) {
        return refused(wordFor(error.code()).data());
    }
}

/// The first place where two answers differ, with both figures; empty where they do not.
inline std::string difference(const Json& got, const Json& wanted, const std::string& at = {})
{
    const auto differs = [&] { return at + ": " + got.dump() + " instead of " + wanted.dump(); };
    if (got.is_number() && wanted.is_number())
        return near(got.get<double>(), wanted.get<double>(), 1e-8, 1e-11) ? std::string() : differs();
    if (got.type() != wanted.type() || !got.is_structured())
        return got == wanted ? std::string() : differs();
    if (got.size() != wanted.size())
        return differs();
    for (const auto& [key, item] : wanted.items()) {
        std::string below = at;
        below += '/';
        below += key;
        const Json::json_pointer place(got.is_array() ? "/" + key : (Json::json_pointer() / key).to_string());
        if (!got.contains(place))
            return below + " is missing in " + got.dump();
        if (std::string found = difference(got[place], item, below); !found.empty())
            return found;
    }
    return {};
}

/// One calculation: how to draw an input, and what the written formulas give for it.
struct Reckoning
{
    const char* name;
    Json (*draw)(Random&);
    Json (*reckon)(const Json&);
    /// What is taken from both answers before they are compared, as the reckoning does not go so far.
    std::function<void(Json&)> leave = [](Json&) {};
};

/// The first input on which the two disagree, said in full; empty where there is none.
inline std::string disagreement(const Reckoning& r, int rounds)
{
    Random random(17);
    int answered = 0;
    for (int round = 0; round < rounds; ++round) {
        const Json in = r.draw(random);
        Json got = answerOf(r.name, in);
        Json wanted = r.reckon(in);
        r.leave(got);
        r.leave(wanted);
        if (const std::string found = difference(got, wanted); !found.empty())
            return found + " for " + in.dump();
        answered += got.contains("refused") ? 0 : 1;
    }
    return 2 * answered > rounds ? std::string() : "too few of the inputs were taken";
}

} // namespace offshoot::test
