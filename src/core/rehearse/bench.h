// One unit at the bench of a rehearsal: the simulated unit with its plug, limiter, loads and lid, and what is
// seen, read and done wrong at it, move by move. Deterministic for a seed.
//
// Time passes in `wait` and `discharge` alone. It begins as a unit comes to the bench: switched off a moment
// ago, its reservoirs as charged as they were. A move that would hurt somebody or break something is named
// and not carried out, but for power without a limiter: that one may be left to see what happens.
#pragma once

#include "core/rehearse/bench_move.h"
#include "core/rehearse/charged_store.h"
#include "core/rehearse/true_unit.h"

namespace offshoot {

/// A unit comes to the bench whatever its log says.
Job withoutLog(Job job);

enum class WrongMove {
    OhmmeterLive,
    OhmmeterOnCharge,
    HandOnLive,
    HandOnCharge,
    FittedLive,
    FittedCharged,
    OpenedLive,
    LimiterMovedLive,
    FullMainsFirst,
    DischargedLive,
    ReservoirShorted,
    LoadFirst,
    LoadReversed,
    JoinedUnread,
    JoinedShorted,
};
template <>
struct Words<WrongMove>
{
    static constexpr std::array<std::string_view, 15> list{
        "ohmmeter_live",    "ohmmeter_on_charge", "hand_on_live",      "hand_on_charge",
        "fitted_live",      "fitted_charged",     "opened_live",       "limiter_moved_live",
        "full_mains_first", "discharged_live",    "reservoir_shorted", "load_first",
        "load_reversed",    "joined_unread",      "joined_shorted"};
};

/// "fitted while it is charged".
std::string phrase(WrongMove wrong);

/// What it would have done, in a sentence and in figures.
struct WrongAnswer
{
    WrongMove what;
    std::string would;
    std::optional<double> v_v = {};
    std::optional<double> i_a = {};
    std::optional<double> energy_j = {};
    bool first = true; ///< it is explained once; after that it only counts
};
void fields(Fields& f, WrongAnswer& out);

struct BenchReading
{
    std::string point;
    Quantity quantity;
    std::optional<double> value; ///< nothing: the meter shows overload
    double u;
    std::optional<double> load_a = {}; ///< drawn from the first rail meanwhile
};

struct BenchAnswer
{
    BenchMove move;
    double t_s; ///< after it
    std::string seen;
    std::optional<BenchReading> reading = {};
    std::optional<CaptureTrace> capture = {}; ///< what the oscilloscope saw
    std::optional<WrongAnswer> wrong = {};
    bool done = true; ///< a wrong move is not carried out
};

/// What the others make of a unit's first output while they are joined.
struct JoinedOutput
{
    double load_s;                     ///< what it gives into, as if it were a load of its own
    std::optional<double> at_v = {};   ///< at its terminals; nothing while nobody holds them
    std::optional<double> load_v = {}; ///< across the load that they share
};

class Bench
{
public:
    /// A unit as this job has it, whatever its log says; its true values drawn by the seed.
    Bench(const Job& job, std::uint64_t seed, const UnitFault& fault);
    /// The same, where the job without its log is evaluated already.
    Bench(const Job& job, const Evaluation& evaluation, std::uint64_t seed, const UnitFault& fault);
    /// One of several: `shared` draws the mains, the room and the meter.
    Bench(const Job& job, const Evaluation& evaluation, const Draw& own, const Draw& shared,
          const UnitFault& fault);

    /// Throws DocumentError at `path` for a point that the unit does not have.
    BenchAnswer play(const BenchMove& move, const std::string& path = {});

    /// Time that passes at another unit of the bench.
    void letPass(double t_s) { pass(t_s); }
    /// It is joined to others that run so.
    void join(const JoinedOutput& joined);
    /// The load that is connected to it from now on is one that it serves with others.
    void serveTogether(double load_s) { m_shared_load_s = load_s; }
    /// What the meter shows of a value there.
    BenchReading reading(const std::string& point, Quantity quantity, std::optional<double> value) const;
    /// Counts a wrong move, as the first of its kind or once more.
    std::optional<WrongAnswer> named(WrongAnswer wrong);
    /// A wrong move at what is live, with the most that can be met there.
    std::optional<WrongAnswer> powered(WrongMove what, const std::string& would);
    /// While a reservoir holds more than is dead; nothing where none does.
    std::optional<WrongAnswer> charged(WrongMove what, const std::string& would);
    /// What shows, without a meter.
    std::string look() const;

    const TrueUnit& unit() const { return m_unit; }
    const Supply& found() const { return m_job.found; }
    /// It is on and gives what it should.
    bool runs() const { return m_plugged && !m_fuse_blown && m_running.how == Running::How::Runs; }
    /// What is connected to it; of a joined one the load is the shared one's.
    const Connected& connected() const { return m_connected; }
    /// Its first output was read at full power since hands were on it.
    bool readAtFull() const { return m_read_at_full; }
    bool bondOpened() const { return m_bond_opened; }
    /// What a connected battery holds the output at; 0 without one.
    double batteryVolts() const { return m_battery_v; }
    /// Whether a meter finds anything under that name, live or dead.
    bool knows(const std::string& point, Quantity quantity) const;
    double timeS() const { return m_t_s; }
    bool live() const { return m_plugged; }
    bool changed() const { return m_connected.changed; }
    bool caseOpen() const { return m_open; }
    bool loadConnected() const { return m_load_connected; }
    /// A battery is connected that pushes back into the output.
    bool batteryConnected() const { return m_battery_v > 0; }
    bool limiterIn() const { return m_connected.limiter; }
    /// On the first rail.
    double loadSiemens() const { return m_connected.load_s.front(); }
    /// What it burns as it now runs; 0 while it is off.
    double loadWatts() const;
    /// A tenth of the load as a resistor that can be bought.
    double lightLoadOhm() const;
    /// How it runs; of the moment before while it is off.
    const Running& running() const { return m_running; }
    /// Volts across a reservoir, truly; nothing where there is none of that name.
    std::optional<double> storeVolts(const std::string& point) const;
    /// How often each wrong move was made.
    const std::map<WrongMove, int>& wrongs() const { return m_wrongs; }

private:
    Bench(const Job& job, const Evaluation& evaluation, const Draw& draw, const UnitFault& fault);

    struct Held
    {
        TrueReservoir real;
        ChargedStore store;
    };

    void pass(double t_s);
    void passEvenly(double t_s);
    /// What a reservoir is held at while the unit runs, and what drains it otherwise.
    double heldVolts(const Held& held) const;
    double drainSiemens(const Held& held) const;
    void passDead(double t_s);
    void settle();
    /// What it gives into: its own load, or its share of the others'.
    Connected asConnected() const;
    Running asItRuns() const;
    /// What others hold its dead output at; 0 when nobody does.
    double heldUpVolts() const;
    void setStores();
    const Held* mostCharged() const;
    std::size_t storeNamed(const std::string& point, const std::string& path) const;
    std::size_t railNamed(const std::string& name, const std::string& path) const;
    std::optional<WrongAnswer> wrongOf(const BenchMove& move, const std::string& path);
    double liveVolts() const;
    std::optional<WrongAnswer> handWrong();
    std::optional<WrongAnswer> fullPower();
    std::optional<WrongAnswer> dischargeWrong(const BenchMove& move, const std::string& path);
    std::optional<WrongAnswer> bladeWrong(const BenchMove& move, const std::string& path);
    std::optional<WrongAnswer> loadWrong(const BenchMove& move);
    void moveLid(bool open, BenchAnswer& answer);
    void carryOut(const BenchMove& move, const std::string& path, BenchAnswer& answer);
    void adjust(const BenchMove& move, const std::string& path, BenchAnswer& answer);
    void setLoad(const BenchMove& move, const std::string& path, BenchAnswer& answer);
    bool isOutputOrStore(const std::string& point) const;
    std::optional<std::pair<Quantity, double>> otherReading(const std::string& point) const;
    void probe(const std::string& point, const std::string& path, BenchAnswer& answer);
    void checkOhms(const std::string& point, const std::string& path) const;
    void ohms(const std::string& point, BenchAnswer& answer);
    void discharge(const BenchMove& move, const std::string& path, BenchAnswer& answer);
    void capture(const BenchMove& move, BenchAnswer& answer);
    void connectLoad(const BenchMove& move);
    void closeFuse();
    /// Its own, between flat and what it is charged to.
    double batteryEmf() const;
    /// At the far end of the run to the load.
    double atLoadVolts() const;
    bool isBattery() const { return m_job.need.load.kind == LoadKind::Battery; }

    Job m_job; ///< without its log
    Draw m_draw;
    Draw m_shared;           ///< of the meter
    Evaluation m_evaluation; ///< of it
    TrueUnit m_unit;
    Connected m_connected;
    Running m_running; ///< while it is plugged in
    std::vector<Held> m_stores;
    double m_t_s = 0;
    double m_off_s = 0;                 ///< since the plug was pulled
    double m_warmth = 0;                ///< 0 cold, 1 as warm as it gets
    int m_switched_on = 0;              ///< how often
    std::optional<SurgeSource> m_surge; ///< of the last time
    bool m_plugged = false;
    bool m_fuse_blown = false;
    bool m_open = false;
    bool m_limiter_passed = false; ///< something was read behind the limiter since the last touch
    bool m_output_right = false;   ///< read at full mains since the change
    bool m_load_connected = false;
    bool m_read_at_full = false;
    bool m_bond_opened = false;
    bool m_fuse_out = false; ///< of a battery that is connected
    bool m_load_reversed = false;
    double m_battery_v = 0;
    std::optional<JoinedOutput> m_joined; ///< nothing: it stands alone
    std::optional<double> m_shared_load_s;
    std::map<WrongMove, int> m_wrongs;
};

} // namespace offshoot
