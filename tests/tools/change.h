#pragma once

#include <algorithm>
#include <array>
#include <concepts>
#include <cstdlib>
#include <fstream>
#include <initializer_list>

// What change_one writes into a copy of the core: every operator, constant or condition drawn stands there
// with what it is changed to behind a number, and OFFSHOOT_CHANGE chooses one of them. So the copy is built
// once. The numbers of those that made a difference where they were come upon are added to OFFSHOOT_DIFFERED:
// a run that comes upon none cannot notice it.
namespace change {

struct Differed
{
    std::array<bool, 1000> numbers{};
    ~Differed()
    {
        if (const char* name = std::getenv("OFFSHOOT_DIFFERED")) {
            std::ofstream file(name, std::ios::app);
            for (std::size_t i = 0; i < numbers.size(); ++i)
                if (numbers[i])
                    file << i << '\n';
        }
    }
};
inline Differed differed;

inline bool on(int number, bool differs = true)
{
    static const int chosen = [] {
        const char* said = std::getenv("OFFSHOOT_CHANGE");
        return said ? std::atoi(said) : 0;
    }();
    if (differs)
        differed.numbers.at(static_cast<std::size_t>(number)) = true;
    return chosen == number;
}

/// `becomes` where the change is chosen, else `is`.
template <class T>
T of(int number, const T& is, const T& becomes)
{
    if constexpr (std::equality_comparable<T>)
        return on(number, !(is == becomes)) ? becomes : is;
    else
        return on(number) ? becomes : is;
}

/// `a < b` becomes `a <(change::less<7>)< b`: the left half is kept until the right one is there, so it binds
/// as before. Measured numbers do not lie on a bound (where people type both, atMost() and atLeast() decide):
/// what compares them is turned round; of whole numbers the bound changes sides.
#define OFFSHOOT_CHANGE(NAME, IS, WAS, BECOMES, OF_MEASURED)                                                 \
    template <int N>                                                                                         \
    struct NAME##_                                                                                           \
    {};                                                                                                      \
    template <int N>                                                                                         \
    inline constexpr NAME##_<N> NAME;                                                                        \
    template <int N, class A>                                                                                \
    struct NAME##_half                                                                                       \
    {                                                                                                        \
        const A& a;                                                                                          \
    };                                                                                                       \
    template <int N, class A>                                                                                \
    NAME##_half<N, A> operator IS(const A& a, NAME##_<N>)                                                    \
    {                                                                                                        \
        return {a};                                                                                          \
    }                                                                                                        \
    template <int N, class A, class B>                                                                       \
    auto operator IS(NAME##_half<N, A> half, const B& b)                                                     \
        ->std::common_type_t<decltype(half.a WAS b), decltype(half.a BECOMES b)>                             \
    {                                                                                                        \
        using T = std::common_type_t<decltype(half.a WAS b), decltype(half.a BECOMES b)>;                    \
        if constexpr (std::floating_point<A> || std::floating_point<B>)                                      \
            return of<T>(N, half.a WAS b, half.a OF_MEASURED b);                                             \
        /* Whole numbers cannot be divided by 0 to see what would come of it. */                             \
        else if constexpr (std::integral<T> && !std::same_as<T, bool>)                                       \
            return on(N) ? T(half.a BECOMES b) : T(half.a WAS b);                                            \
        else                                                                                                 \
            return of<T>(N, half.a WAS b, half.a BECOMES b);                                                 \
    }
OFFSHOOT_CHANGE(less, <, <, <=, >=)
OFFSHOOT_CHANGE(most, <, <=, <, >)
OFFSHOOT_CHANGE(more, <, >, >=, <=)
OFFSHOOT_CHANGE(least, <, >=, >, <)
OFFSHOOT_CHANGE(equal, ==, ==, !=, !=)
OFFSHOOT_CHANGE(unequal, ==, !=, ==, ==)
OFFSHOOT_CHANGE(plus, +, +, -, -)
OFFSHOOT_CHANGE(minus, +, -, +, +)
OFFSHOOT_CHANGE(times, *, *, /, /)
OFFSHOOT_CHANGE(over, *, /, *, *)
#undef OFFSHOOT_CHANGE

template <int N, bool Least>
struct end_of
{
    template <class T>
    static T of(const T& a, const T& b)
    {
        return change::of<T>(N, Least ? std::min(a, b) : std::max(a, b),
                             Least ? std::max(a, b) : std::min(a, b));
    }
    template <class T>
    static T of(std::initializer_list<T> all)
    {
        return change::of<T>(N, Least ? std::min(all) : std::max(all), Least ? std::max(all) : std::min(all));
    }
};

/// `!a` becomes `change::no<7> * a`.
template <int N>
struct no_
{};
template <int N>
inline constexpr no_<N> no;
template <int N, class A>
bool operator*(no_<N>, const A& a)
{
    return on(N) == static_cast<bool>(a);
}

inline double number(int n, double was) { return on(n) ? 1.07 * was : was; }
inline int whole(int n, int was) { return on(n) ? was + 1 : was; }
inline bool flag(int n, bool was) { return on(n) != was; }

} // namespace change
