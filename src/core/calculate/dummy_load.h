// `dummyload.options`: resistors from the drawer that draw a wanted current or power from a rail, and how hot
// their bodies get. `minimumload.fit`: how much load a rail needs, from readings at several currents.
//
// A resistor bears its rated power up to t_rated_k and falls in a straight line to nothing at t_max_k
// (derating curve of resistor datasheets); its body rises in proportion to the power.
#pragma once

#include "core/calculate/part_search.h"
#include "core/calculate/reading.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

enum class Arrangement { Single, Parallel, Series };
template <>
struct Words<Arrangement>
{
    static constexpr std::array<std::string_view, 3> list{"single", "parallel", "series"};
};
enum class BankKind { Parallel, Series };
template <>
struct Words<BankKind>
{
    static constexpr std::array<std::string_view, 2> list{"parallel", "series"};
};

struct CurrentWindow
{
    double min_a;
    double max_a;
};
void fields(Fields& f, CurrentWindow& value);
struct PowerWindow
{
    double min_w;
    double max_w;
};
void fields(Fields& f, PowerWindow& value);

struct DummyLoadInput
{
    double rail_v;
    std::optional<double> rail_max_v = {}; ///< rail_v when absent; what heats the parts
    std::optional<CurrentWindow> current_a = {};
    std::optional<PowerWindow> power_w = {};
    std::vector<StockItem> stock;
    std::int64_t max_parts = 4;
    std::vector<BankKind> arrangements{BankKind::Parallel, BankKind::Series};
    double ambient_k = 298.15;
    double max_use = 0.5; ///< of the power a part bears, still called fits
    std::int64_t limit = 20;
};
void fields(Fields& f, DummyLoadInput& in);

struct DummyLoadOption
{
    Network network;
    Arrangement arrangement;
    std::int64_t count;
    StockItem part;
    double ohm;
    double current_a;    ///< at rail_v
    double power_w;      ///< at rail_v
    double power_each_w; ///< at rail_max_v
    std::optional<double> use;
    std::optional<double> body_k;
    bool hot; ///< burns fingers: keep off wires and capacitors
    double energy_j_per_day;
    Verdict verdict;
};
void fields(Fields& f, DummyLoadOption& out);

struct DummyLoadResult
{
    std::vector<DummyLoadOption> options;
};
void fields(Fields& f, DummyLoadResult& out);

/// Every number of one stock item, in a row or side by side, that draws what is wanted: I = V/R, P = V²/R;
/// the use of each is its power against what the derating leaves at the ambient. None is no error.
DummyLoadResult dummyLoadOptions(const DummyLoadInput& in);

struct LoadReading
{
    double current_a;
    double v;
    bool hunting = false;
};
void fields(Fields& f, LoadReading& value);

struct VoltageWindow
{
    double min_v;
    double max_v;
};
void fields(Fields& f, VoltageWindow& value);

struct MinimumLoadInput
{
    std::vector<LoadReading> readings;
    VoltageWindow window;
};
void fields(Fields& f, MinimumLoadInput& in);

struct MinimumLoadResult
{
    std::int64_t steady;
    std::int64_t hunting;
    std::optional<double> v0_v;  ///< of the line V = V_0 − R·I
    std::optional<double> r_ohm; ///< likewise
    std::vector<double> residuals_v;
    std::optional<double> worst_residual_v;
    std::optional<double> steady_from_a;
    std::optional<double> least_current_a;
    std::optional<double> most_current_a; ///< nothing also where there is no upper end
    bool bent;
    bool extrapolated;
    Verdict verdict;
};
void fields(Fields& f, MinimumLoadResult& out);

/// Least squares over the steady readings (straight line, textbook).
MinimumLoadResult minimumLoadFit(const MinimumLoadInput& in);

} // namespace offshoot
