// `lamp.limit`: the lamp in series with the mains for first power. What it lets through and how it will look.
//
// A tungsten filament follows I ∝ V^0.55 from dim to full (lamp engineering's exponent for gas-filled lamps).
#pragma once

#include "core/values/verdict.h"

#include <array>
#include <optional>
#include <vector>

namespace offshoot {

/// Resistance of a cold filament over that of the hot one: tungsten, a usual figure.
inline constexpr double lamp_cold_share = 0.08;

enum class LampUnit { ConstantPower, Resistive };
template <>
struct Words<LampUnit>
{
    static constexpr std::array<std::string_view, 2> list{"constant_power", "resistive"};
};
enum class Glow { Dark, Dim, Half, Bright, Pulsing };
template <>
struct Words<Glow>
{
    static constexpr std::array<std::string_view, 5> list{"dark", "dim", "half", "bright", "pulsing"};
};
enum class LampSign { Dark, FlashThenDim, Bright, Pulsing };
template <>
struct Words<LampSign>
{
    static constexpr std::array<std::string_view, 4> list{"dark", "flash_then_dim", "bright", "pulsing"};
};
enum class LampMeaning { NoCurrent, Normal, Short, Hiccup };
template <>
struct Words<LampMeaning>
{
    static constexpr std::array<std::string_view, 4> list{"no_current", "normal", "short", "hiccup"};
};

struct LampLimitInput
{
    std::vector<double> lamps_w; ///< 1 to 20 lamps in parallel
    double lamp_v;
    std::int64_t series = 1; ///< each stands for so many equal ones in a row
    double mains_v;
    double idle_w = 0;
    double load_w = 0;
    std::optional<double> efficiency = {}; ///< 0.8 assumed when absent and there is a load
    LampUnit unit = LampUnit::ConstantPower;
    std::optional<double> v_unit_min_v = {};
};
void fields(Fields& f, LampLimitInput& in);

struct LampState
{
    double w;
    std::optional<double> v_unit_v;
    std::optional<double> v_lamp_v;
    std::optional<double> i_a;
    Glow glow;
};
void fields(Fields& f, LampState& out);

struct LampLimitResult
{
    struct Sign
    {
        LampSign sign;
        LampMeaning means;
    };
    double i_rated_a;
    double v_group_v;
    double p_max_w;
    double v_lamp_at_max_v;
    double short_a;
    double short_use;
    Verdict short_verdict;
    double cold_peak_a;
    LampState idle;
    LampState loaded;
    std::optional<double> use;
    Verdict verdict;
    LampSign expected;
    std::vector<Sign> signs;
    std::vector<std::string> assumed;
};
void fields(Fields& f, LampLimitResult::Sign& out);
void fields(Fields& f, LampLimitResult& out);

/// Where the lamp and the unit, one resistance or one constant power, divide the mains, by bisection. A power
/// beyond what passes at most leaves it pulsing; throws nothing.
LampLimitResult lampLimit(const LampLimitInput& in);

/// Incandescent lamps as they are sold.
inline constexpr std::array<double, 7> usual_lamps_w{25, 40, 60, 75, 100, 150, 200};
/// The smallest of the usual lamps that runs `input_w` as fits; nothing if none does.
std::optional<double> chooseLamp(double mains_v, double input_w);

} // namespace offshoot
