// What runs a rectifier chain over time, and the state that repeats itself after a cycle: found by Newton's
// method on the map of one cycle (shooting), whichever way the cycle is run.
#pragma once

#include "core/calculate/rectifier.h"

#include <algorithm>
#include <array>
#include <memory>
#include <vector>

namespace offshoot {

inline constexpr std::size_t most_states = 20;
using SimState = std::array<double, most_states>;

/// A few figures, without a memory of their own: they are copied at every step.
class SimList
{
public:
    SimList() = default;
    SimList(const SimList& other) { *this = other; }
    SimList& operator=(const SimList& other)
    {
        assign(other.m_at.data(), other.m_size);
        return *this;
    }
    ~SimList() = default;
    void assign(const double* from, std::size_t count)
    {
        m_size = count;
        std::copy_n(from, count, m_at.data());
    }
    void clear() { m_size = 0; }
    void push_back(double value) { m_at[m_size++] = value; }
    std::size_t size() const { return m_size; }
    double operator[](std::size_t at) const { return m_at[at]; }
    const double* begin() const { return m_at.data(); }
    const double* end() const { return m_at.data() + m_size; }

private:
    std::array<double, most_states> m_at; // as many as are said to be there
    std::size_t m_size = 0;
};

/// Everything that is looked at in one moment.
struct SimMoment
{
    double t_s;
    bool middle; ///< of a smooth stretch from the moment before to the one after
    double e_v;  ///< EMF of the source
    std::array<double, 2> diode_a;
    std::array<double, 2> diode_v; ///< of the whole path, forward; of each element of a bridge pair
    std::array<double, 2> half_a;  ///< source currents; one but with a centre tap
    double source_a;               ///< first less second half
    double load_v;
    double load_a;
    SimList node_v;   ///< upper, lower, then each `c`
    SimList node_a;   ///< into the capacitor
    SimList series_a; ///< each `l` and `r`
    SimList place_v;  ///< behind the rectifier, then behind each `l` and `r`
};

class ChainIntegrator
{
public:
    using Seen = std::function<void(const SimMoment&)>;

    virtual ~ChainIntegrator() = default;
    ChainIntegrator(const ChainIntegrator&) = delete;
    ChainIntegrator& operator=(const ChainIntegrator&) = delete;

    virtual std::size_t states() const = 0;
    /// Whether the state of that place is a voltage; else a current.
    virtual bool isVoltage(std::size_t state) const = 0;
    virtual SimState initial() const = 0;
    /// Phase of the source at t = 0.
    virtual void setPhase(double phase_rad) = 0;
    /// From t0 to t1; `seen` is called at the start and after each step. With `derivative` the columns of
    /// dx(t1)/dx(t0) are carried along, by state.
    virtual void integrate(SimState& x, double t0_s, double t1_s, const Seen& seen,
                           std::vector<SimState>* derivative = nullptr) = 0;
    /// One cycle from a rising zero of the EMF; after periodic() in the steps that led there.
    void cycle(SimState& x, const Seen& seen) { run(x, m_period_s, seen, nullptr); }
    /// The shortest stretch after which the chain stands before the same again: half a cycle where the halves
    /// of the source are alike, with what they carry exchanged at its end; else a cycle.
    void lap(SimState& x, const Seen& seen, std::vector<SimState>* derivative = nullptr);
    /// The state at a rising zero of the EMF that repeats itself after a cycle: the one that is tended to
    /// from `start`. Throws DocumentError `no_solution` where there is none.
    SimState periodic(const SimState& start);
    /// The same from a state that is near it, that of a chain a little different: a few millionths of the
    /// crest beside it. Nothing where it turns out not to be near.
    std::optional<SimState> periodicNear(SimState start);

    double period() const { return m_period_s; }
    double crest() const { return m_crest_v; }
    bool hasPowerLoad() const { return m_has_power_load; }
    void setShare(double from, double to)
    {
        m_share_from = from;
        m_share_to = to;
    }

protected:
    ChainIntegrator(const RectifierChain& chain, const SimProgress& progress);
    /// Counts a step; throws SimCancelled, or DocumentError `no_solution` after five million.
    void count();
    /// The largest current seen so far.
    virtual double mostAmps() const = 0;
    /// From a rising zero of the EMF to t1, in repeated steps where there are any.
    virtual void run(SimState& x, double t1_s, const Seen& seen, std::vector<SimState>* derivative)
    {
        integrate(x, 0, t1_s, seen, derivative);
    }
    /// The steps of the last lap with a derivative, where they are chosen by error.
    virtual std::vector<double> stepsTaken() const { return {}; }
    /// From now on laps repeat these steps; or choose their own again, without any.
    virtual void repeatSteps(std::vector<double> /*steps_s*/) {}
    /// The states of the source's inductance: of each half, or the same for both; nothing without.
    virtual std::optional<std::array<std::size_t, 2>> sourceStates() const = 0;

private:
    /// The state some cycles later, near enough for shooting.
    SimState followed(SimState x);
    /// One lap from x, and Newton's step to the x that repeats itself.
    struct Shot
    {
        SimState reached;
        SimState move;
        double moved;   ///< largest change in the lap, as a share of what is usual here
        double largest; ///< largest change of Newton's step, likewise
        double growth;  ///< of the deviation a cycle damps least, with a power load: Floquet's multiplier
        std::vector<double> steps_s;
    };
    static bool settled(const Shot& shot, double share);
    Shot shoot(const SimState& x);

    SimProgress m_progress;
    double m_period_s = 0;
    double m_lap_s = 0;
    double m_crest_v = 0;
    bool m_has_power_load = false;
    std::int64_t m_steps = 0;
    double m_share_from = 0;
    double m_share_to = 1;
};

/// By matrix exponentials, see exact_run.cpp; null unless the chain is linear between switchings. The chain
/// must outlive it.
std::unique_ptr<ChainIntegrator> exactIntegrator(const RectifierChain& chain, const SimProgress& progress);
/// The exact one where there is one; otherwise by steps.
std::unique_ptr<ChainIntegrator> integratorOf(const RectifierChain& chain, const SimProgress& progress);

} // namespace offshoot
