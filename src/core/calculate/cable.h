// `cable.drop`: the wire to the load, go and return. What arrives, what is lost, and which size would do?
//
// R = ρ·L/A·(1 + α·(T − 293.15 K)), annealed copper: ρ 1.724e-8 Ω·m at 20 °C, α 0.00393 /K (IEC 60028).
// A load of constant power draws more as its voltage falls; above V²/(4·R) there is no operating point.
#pragma once

#include "core/supply/conductor.h"
#include "core/values/verdict.h"

#include <optional>
#include <span>
#include <string>

namespace offshoot {

enum class WireSizes { Mm2, Awg };
template <>
struct Words<WireSizes>
{
    static constexpr std::array<std::string_view, 2> list{"mm2", "awg"};
};

struct NamedSize
{
    std::string name;
    double area_m2;
};
/// The sizes in use, thinnest first: 0.14 to 120 mm², or AWG 30 to 4/0.
std::span<const NamedSize> wireSizes(WireSizes sizes);

/// Above this density a wire wants a look at the local tables: an open copper conductor bears more, one in a
/// bundle less.
inline constexpr double usual_density_a_per_m2 = 6e6;

struct CableInput
{
    double length_m;                            ///< one way
    std::optional<double> return_length_m = {}; ///< as long as the way there when absent
    std::optional<double> area_m2 = {};
    std::optional<double> return_area_m2 = {};
    double temperature_k = 293.15;
    double contact_ohm = 0; ///< all connectors together
    // One of these:
    std::optional<double> current_a = {};
    std::optional<double> power_w = {};
    std::optional<double> load_ohm = {};
    std::optional<double> source_v = {}; ///< must be there unless the current is given
    std::optional<double> max_drop_v = {};
    WireSizes sizes = WireSizes::Mm2;
};
void fields(Fields& f, CableInput& in);

struct SmallestSize
{
    std::string name;
    double area_m2;
    double r_loop_ohm;
    double drop_v;
};
void fields(Fields& f, SmallestSize& out);

struct CableResult
{
    // With a size, else nothing:
    std::optional<double> r_go_ohm;
    std::optional<double> r_return_ohm;
    std::optional<double> r_loop_ohm;
    std::optional<double> current_a;
    std::optional<double> drop_v;
    std::optional<double> loss_w;
    std::optional<double> load_v;
    std::optional<double> max_power_w; ///< no load can draw more
    std::optional<double> density_a_per_m2;
    std::optional<Verdict> density_verdict;
    std::optional<Verdict> drop_verdict;
    std::optional<SmallestSize> smallest; ///< both ways, that keeps within max_drop_v
};
void fields(Fields& f, CableResult& out);

/// What flows in the run's loop, and what drops there.
struct OperatingPoint
{
    double current_a;
    double drop_v;
};
/// The loop's resistance known (Ω, 0 and up): I as given, V/(R + R_loop) of a resistance, the smaller root of
/// P = V·I − R_loop·I² of a power. Nothing where the power passes V²/(4·R_loop) or the whole voltage would
/// drop.
std::optional<OperatingPoint> operatingPoint(const CableInput& in, double r_loop_ohm);

/// A resistance draws V/(R + R_loop); a power the smaller root of P = V·I − R_loop·I². What has no operating
/// point breaks; throws nothing.
CableResult cableDrop(const CableInput& in);

} // namespace offshoot
