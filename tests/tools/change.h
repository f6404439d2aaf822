#pragma once

#include <algorithm>
#include <cstdlib>
#include <initializer_list>

// What change_one writes into a copy of the core: every operator, constant or condition drawn stands there
// with what it is changed to behind a number, and OFFSHOOT_CHANGE chooses one of them. So the copy is built
// once.
namespace change {

inline bool on(int number)
{
    static const int chosen = [] {
        const char* said = std::getenv("OFFSHOOT_CHANGE");
        return said ? std::atoi(said) : 0;
    }();
    return chosen == number;
}

/// `a < b` becomes `a <(change::less<7>)< b`: the left half is kept until the right one is there, so it binds
/// as before.
#define OFFSHOOT_CHANGE(NAME, IS, WAS, BECOMES)                                                              \
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
        if (on(N))                                                                                           \
            return half.a BECOMES b;                                                                         \
        return half.a WAS b;                                                                                 \
    }
OFFSHOOT_CHANGE(less, <, <, <=)
OFFSHOOT_CHANGE(most, <, <=, <)
OFFSHOOT_CHANGE(more, <, >, >=)
OFFSHOOT_CHANGE(least, <, >=, >)
OFFSHOOT_CHANGE(equal, ==, ==, !=)
OFFSHOOT_CHANGE(unequal, ==, !=, ==)
OFFSHOOT_CHANGE(plus, +, +, -)
OFFSHOOT_CHANGE(minus, +, -, +)
OFFSHOOT_CHANGE(times, *, *, /)
OFFSHOOT_CHANGE(over, *, /, *)
#undef OFFSHOOT_CHANGE

template <int N, bool Least>
struct end_of
{
    template <class T>
    static T of(const T& a, const T& b)
    {
        return on(N) == Least ? std::max(a, b) : std::min(a, b);
    }
    template <class T>
    static T of(std::initializer_list<T> all)
    {
        return on(N) == Least ? std::max(all) : std::min(all);
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
