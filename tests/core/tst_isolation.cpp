// Safety: no order of events lets a touching step be ticked unless every source is declared off and every
// reservoir was read below 10 V since it was last live, by a meter proven before and after.
//
// The oracle below says so in its own words, from the log alone; the state machine is never asked to check
// itself. All orders up to six events are walked, then long random ones with strikes and a battery.
#include "core/evaluate/evaluation.h"
#include "core/kinds/planned.h"
#include "support/support.h"

#include <QDir>
#include <algorithm>
#include <random>

using namespace offshoot;
using namespace Qt::StringLiterals;

namespace {

constexpr double event_gap_s = 60;

struct Event
{
    const char* name;
    LogKind kind;
    const char* point = nullptr; ///< reservoir of a reading, or source
    double value = 0;
    double later_s = event_gap_s;
    double u = 0; ///< of the meter
};

LogEntry entryOf(const Event& event, std::size_t number, double time_s)
{
    LogEntry entry{.id = "L" + std::to_string(number + 1), .time_s = time_s, .kind = event.kind};
    if (event.kind == LogKind::Reading) {
        entry.point = event.point;
        entry.quantity = Quantity::Voltage;
        entry.value = event.value;
        entry.uncertainty = event.u;
    } else if (event.point != nullptr) {
        entry.text = event.point;
    }
    return entry;
}

Job mainsJob(bool battery)
{
    Job job;
    job.found.bulk.c_f = 100e-6;
    job.found.rails.front().name = "out";
    job.found.rails.front().v_v = 24;
    job.found.rails.front().capacitor.c_f = 2e-3;
    if (battery)
        job.need.load.kind = LoadKind::Battery;
    return job;
}

bool low(const LogEntry& reading) { return std::abs(*reading.value) + reading.uncertainty.value_or(0) < 10; }

/// What the log must hold for a hand to be allowed on a part, in its own words. A capacitor that recovers is
/// read again between one and two of its waiting times after the reading that counts; until that time is over
/// the first reading alone will do.
bool mayTouch(const std::vector<LogEntry>& log, const EnergyModel& model, double now_s, bool deadlines = true)
{
    std::set<std::string> struck;
    for (const LogEntry& entry : log)
        if (entry.kind == LogKind::Strike)
            struck.insert(*entry.text);
    std::size_t begin = 0;
    for (std::size_t i = 0; i < log.size(); ++i)
        if (log[i].kind == LogKind::Live || log[i].kind == LogKind::Opened)
            begin = i + 1;
    const auto counts = [&](std::size_t i, LogKind kind) {
        return log[i].kind == kind && !struck.contains(log[i].id);
    };
    std::size_t all_off = begin;
    for (const std::string& source : model.sources) {
        std::size_t at = log.size();
        for (std::size_t i = log.size(); i-- > begin;)
            if (counts(i, LogKind::SourceOff) && log[i].text == source)
                at = i;
        if (at == log.size())
            return false;
        all_off = std::max(all_off, at);
    }
    for (const Reservoir& reservoir : model.reservoirs) {
        const auto reads = [&](std::size_t i) {
            return log[i].kind == LogKind::Reading && log[i].point == reservoir.point &&
                   log[i].unit == reservoir.unit;
        };
        // Nobody knows when an imported reading was taken.
        const auto good = [&](std::size_t i) {
            return reads(i) && low(log[i]) && !log[i].imported && !struck.contains(log[i].id);
        };
        const auto meter = [&](std::size_t from, std::size_t to) {
            for (std::size_t j = from; j < to; ++j)
                if (counts(j, LogKind::MeterProven))
                    return true;
            return false;
        };
        const auto provenBy = [&](std::size_t i) {
            if (!good(i) || !meter(all_off + 1, i) || !meter(i + 1, log.size()))
                return false;
            bool again = false;
            for (std::size_t j = i + 1; j < log.size(); ++j) {
                if (reads(j) && !low(log[j]))
                    return false; // counts even when it was struck
                const double later_s = log[j].time_s - log[i].time_s;
                again = again || (good(j) && later_s >= reservoir.wait_s && later_s <= 2 * reservoir.wait_s);
            }
            return !deadlines || !reservoir.needs_second || again ||
                   now_s <= log[i].time_s + 2 * reservoir.wait_s;
        };
        bool proven = false;
        for (std::size_t i = all_off + 1; i < log.size(); ++i)
            proven = proven || provenBy(i);
        if (!proven)
            return false;
    }
    return !model.reservoirs.empty() && model.missing.empty();
}

std::string written(const std::vector<LogEntry>& log)
{
    std::string text;
    for (const LogEntry& entry : log)
        text += std::to_string(entry.time_s) + ' ' + std::string(word(entry.kind)) + ' ' +
                entry.point.value_or(entry.text.value_or("")) +
                (entry.value ? ' ' + std::to_string(*entry.value) : "") + "; ";
    return text;
}

const std::array<Event, 8> mains_events{{{"mains off", LogKind::SourceOff, "mains"},
                                         {"meter", LogKind::MeterProven},
                                         {"bulk low", LogKind::Reading, "bulk", 3},
                                         {"bulk low, later", LogKind::Reading, "bulk", 4, 400},
                                         {"bulk high", LogKind::Reading, "bulk", 12},
                                         {"out low", LogKind::Reading, "out", 0.2},
                                         {"live", LogKind::Live},
                                         {"opened", LogKind::Opened}}};

} // namespace

class TestIsolation : public QObject
{
    Q_OBJECT

    int m_walked = 0;
    int m_dead = 0;

    void walk(const EnergyModel& model, std::vector<LogEntry>& log, double time_s, int left)
    {
        const IsolationView view = isolationAt(log, model, time_s);
        ++m_walked;
        if (view.state == Isolation::ProvenDead) {
            ++m_dead;
            if (!mayTouch(log, model, time_s))
                QFAIL(written(log).c_str());
        }
        // A second reading may come for as long as it was waited for.
        if (view.second_from_s) {
            const auto at = std::ranges::find(model.reservoirs, view.second_point, &Reservoir::key);
            QVERIFY(at != model.reservoirs.end() && *view.second_from_s > 0);
            QNEAR(view.second_until_s.value() - *view.second_from_s, at->wait_s, 1e-9);
        }
        if (left == 0)
            return;
        for (const Event& event : mains_events) {
            log.push_back(entryOf(event, log.size(), time_s + event.later_s));
            walk(model, log, time_s + event.later_s, left - 1);
            log.pop_back();
            if (QTest::currentTestFailed())
                return;
        }
    }

private Q_SLOTS:
    void everyOrder()
    {
        const EnergyModel model = energyModel(mainsJob(false));
        QCOMPARE(model.sources.size(), 1u);
        QCOMPARE(model.reservoirs.size(), 2u);
        std::vector<LogEntry> log;
        constexpr int useful_length = 6;
        walk(model, log, 0, useful_length);
        QVERIFY(m_walked > 290000);
        QVERIFY(m_dead > 10); // it can be reached at all
    }

    /// Long orders with a battery, strikes and negative readings.
    void randomOrders()
    {
        const Job job = mainsJob(true);
        const EnergyModel model = energyModel(job);
        QCOMPARE(model.sources.size(), 2u);
        std::mt19937 random(17);
        std::vector<Event> events(mains_events.begin(), mains_events.end());
        events.push_back({"battery off", LogKind::SourceOff, "battery"});
        events.push_back({"out high", LogKind::Reading, "out", -24});
        events.push_back({"other source off", LogKind::SourceOff, "generator"});
        events.push_back({"long pause", LogKind::Note, "nothing done", 0, 700});
        events.push_back({"bulk low, with doubt", LogKind::Reading, "bulk", 8, event_gap_s, 3});
        events.push_back({"bulk low again", LogKind::Reading, "bulk", 5, event_gap_s, 1});
        // Declarations and low readings come up often enough for long proofs to happen.
        for (std::size_t often : {0u, 1u, 1u, 2u, 2u, 5u, 5u})
            events.push_back(events[often]);
        int dead = 0;
        int late = 0; // dead but for a second reading that did not come in time
        for (int round = 0; round < 10000; ++round) {
            std::vector<LogEntry> log;
            double time_s = 0;
            // Every second one begins well.
            for (const Event& event :
                 {Event{"mains off", LogKind::SourceOff, "mains"},
                  Event{"battery off", LogKind::SourceOff, "battery"}, Event{"meter", LogKind::MeterProven}})
                if (round % 2 == 0)
                    log.push_back(entryOf(event, log.size(), time_s += event.later_s));
            for (int i = 0; i < 16; ++i) {
                if (!log.empty() && random() % 12 == 0) {
                    LogEntry strike = entryOf({"strike", LogKind::Strike}, log.size(), time_s);
                    strike.text = log[random() % log.size()].id;
                    log.push_back(std::move(strike));
                } else {
                    const Event& event = events[random() % events.size()];
                    time_s += event.later_s;
                    log.push_back(entryOf(event, log.size(), time_s));
                    if (event.kind == LogKind::Reading && random() % 5 == 0)
                        log.back().imported = true;
                }
                if (isolationAt(log, model, time_s).state != Isolation::ProvenDead) {
                    late += mayTouch(log, model, time_s, false) && !mayTouch(log, model, time_s) ? 1 : 0;
                    continue;
                }
                ++dead;
                QVERIFY2(mayTouch(log, model, time_s), written(log).c_str());
            }
        }
        QVERIFY(dead > 1000);
        QVERIFY(late > 100);
    }

    /// In every state every kind of step is allowed or refused as WORKING says, and a refusal says what to
    /// do.
    void kindsAndStates()
    {
        using enum StepKind;
        const std::set<StepKind> in_any{Look, Isolate, Power, Wait};
        for (std::size_t k = 0; k < Words<StepKind>::list.size(); ++k)
            for (std::size_t s = 0; s < Words<Isolation>::list.size(); ++s) {
                const auto kind = static_cast<StepKind>(k);
                const auto state = static_cast<Isolation>(s);
                const bool live_only = kind == Probe || kind == Adjust;
                const bool want = in_any.contains(kind) || (live_only && state == Isolation::Live) ||
                                  (kind == Prove && state != Isolation::Live) ||
                                  (kind == Touch && state == Isolation::ProvenDead);
                QCOMPARE(allowedIn(kind, state), want);
                IsolationView view;
                view.state = state;
                QCOMPARE(refusal(kind, view).empty(), want);
            }
    }

    /// The same through a whole job: no touching step of any procedure can be ticked in a wrong state.
    void stepsOfAJob()
    {
        Job job = test::demoJob();
        const EnergyModel model = energyModel(job);
        std::vector<Event> events{
            {"mains", LogKind::SourceOff, "mains"},    {"battery", LogKind::SourceOff, "battery"},
            {"meter", LogKind::MeterProven},           {"bulk", LogKind::Reading, "bulk", 2},
            {"rail", LogKind::Reading, "24V", 0.3},    {"meter", LogKind::MeterProven},
            {"bulk up", LogKind::Reading, "bulk", 11}, {"live", LogKind::Live}};
        std::mt19937 random(23);
        job.log.clear();
        double time_s = 1e9;
        int allowed = 0;
        for (int i = 0; i < 150; ++i) {
            const std::size_t next =
                random() % 4 == 0 ? random() % events.size() : static_cast<std::size_t>(i) % events.size();
            time_s += event_gap_s;
            job.log.push_back(entryOf(events[next], job.log.size(), time_s));
            for (const StepView& view : evaluate(job, time_s).steps)
                if (view.step.kind == StepKind::Touch && view.refusal.empty()) {
                    ++allowed;
                    QVERIFY2(mayTouch(job.log, model, time_s), written(job.log).c_str());
                }
        }
        QVERIFY(allowed > 0);
    }

    /// Its reservoirs are those of the changed unit once that was powered: a change that was only begun, or
    /// whose tick was struck, leaves them as they were found.
    void poweredChanged()
    {
        for (const auto& [file, altered] : {std::pair("beacon-float-charge", "change.second_look"),
                                            std::pair("tide-house-cabinet", "change.out"),
                                            std::pair("barograph-amplifier", "change.chain")}) {
            Job job = readJob(test::sourceFile(("data/jobs/" + std::string(file) + ".offshoot").c_str()));
            const auto log = [&job](LogKind kind, const char* step = nullptr, const char* text = nullptr) {
                LogEntry entry{.id = nextLogId(job), .time_s = 1e9, .kind = kind};
                if (step != nullptr)
                    entry.step = step;
                if (text != nullptr)
                    entry.text = text;
                job.log.push_back(entry);
                return poweredSinceChange(job);
            };
            job.log.clear();
            QVERIFY2(!log(LogKind::Live) && !log(LogKind::Note, altered) && !log(LogKind::Live), file);
            QVERIFY2(!log(LogKind::Tick, "change.prove") && !log(LogKind::Live), file);
            QVERIFY2(!log(LogKind::Tick, altered), file);
            const std::string tick = job.log.back().id;
            QVERIFY2(log(LogKind::Live), file);
            QVERIFY2(!log(LogKind::Strike, nullptr, tick.c_str()), file);
        }
    }

    /// Every demo job with its own sources and reservoirs, several units and smoothing chains among them: the
    /// readings of one unit never prove another.
    void everyDemo_data()
    {
        QTest::addColumn<QString>("file");
        for (const QString& file :
             QDir(QStringLiteral(OFFSHOOT_SOURCE_DIR "/data/jobs")).entryList({u"*.offshoot"_s}))
            QTest::addRow("%s", qPrintable(file)) << file;
    }
    void everyDemo()
    {
        QFETCH(QString, file);
        Job job = readJob(test::sourceFile((u"data/jobs/"_s + file).toUtf8().constData()));
        const EnergyModel model = energyModel(job);
        QVERIFY2(model.missing.empty(), model.missing.c_str());
        std::mt19937 random(29);
        int dead = 0;
        int refused = 0;
        for (int round = 0; round < 400; ++round) {
            job.log.clear();
            double time_s = 1e9;
            const auto add = [&](const Event& event, const std::optional<std::string>& unit = {}) {
                time_s += event.later_s;
                job.log.push_back(entryOf(event, job.log.size(), time_s));
                job.log.back().unit = unit;
            };
            // The right order, with something left out or put in the wrong place now and then.
            const auto slip = [&random] { return random() % 9 == 0; };
            for (const std::string& source : model.sources)
                if (!slip())
                    add({"off", LogKind::SourceOff, source.c_str()});
            if (!slip())
                add({"meter", LogKind::MeterProven});
            for (const Reservoir& reservoir : model.reservoirs) {
                if (slip())
                    add({"live", LogKind::Live});
                const double value = slip() ? 48 : 2;
                add({"read", LogKind::Reading, reservoir.point.c_str(), value},
                    slip() ? std::optional<std::string>("9") : reservoir.unit);
            }
            if (!slip())
                add({"meter", LogKind::MeterProven});
            const bool proven = isolationAt(job.log, model, time_s).state == Isolation::ProvenDead;
            (proven ? dead : refused) += 1;
            if (proven)
                QVERIFY2(mayTouch(job.log, model, time_s), written(job.log).c_str());
            if (round % 20 != 0)
                continue; // a whole evaluation costs more
            for (const StepView& view : evaluate(job, time_s).steps)
                if (view.step.kind == StepKind::Touch && view.refusal.empty())
                    QVERIFY2(mayTouch(job.log, model, time_s), written(job.log).c_str());
        }
        QVERIFY2(dead > 5 && refused > 5, qPrintable(u"%1 dead, %2 not"_s.arg(dead).arg(refused)));
    }

    void walkthrough_data()
    {
        QTest::addColumn<QList<int>>("events"); // indices into the list below
        QTest::addColumn<int>("state");
        const int live = static_cast<int>(Isolation::Live);
        const int unproven = static_cast<int>(Isolation::Unproven);
        const int dead = static_cast<int>(Isolation::ProvenDead);
        QTest::newRow("new job") << QList<int>{} << live;
        QTest::newRow("unplugged") << QList<int>{0} << unproven;
        QTest::newRow("proven") << QList<int>{0, 1, 2, 5, 1} << dead;
        QTest::newRow("meter not proven after") << QList<int>{0, 1, 2, 5} << unproven;
        QTest::newRow("meter not proven before") << QList<int>{0, 2, 5, 1} << unproven;
        QTest::newRow("one reservoir left") << QList<int>{0, 1, 2, 1} << unproven;
        QTest::newRow("read before unplugging") << QList<int>{1, 2, 5, 1, 0} << live + 1;
        QTest::newRow("it came back") << QList<int>{0, 1, 2, 5, 1, 4} << unproven;
        QTest::newRow("second reading in time") << QList<int>{0, 1, 2, 5, 1, 3, 8} << dead;
        QTest::newRow("second reading missed") << QList<int>{0, 1, 2, 5, 1, 8} << unproven;
        QTest::newRow("live again") << QList<int>{0, 1, 2, 5, 1, 6} << live;
        QTest::newRow("reopened") << QList<int>{0, 1, 2, 5, 1, 7} << live;
    }
    void walkthrough()
    {
        QFETCH(QList<int>, events);
        QFETCH(int, state);
        std::vector<Event> list(mains_events.begin(), mains_events.end());
        list.push_back({"ten minutes later", LogKind::Note, nullptr, 0, 601});
        std::vector<LogEntry> log;
        double time_s = 0;
        for (int i : events) {
            time_s += list[static_cast<std::size_t>(i)].later_s;
            log.push_back(entryOf(list[static_cast<std::size_t>(i)], log.size(), time_s));
        }
        const EnergyModel model = energyModel(mainsJob(false));
        QCOMPARE(static_cast<int>(isolationAt(log, model, time_s).state), state);
    }

    /// A source or reservoir added takes the proof away; one removed never raises an earlier state.
    void modelChanges()
    {
        Job job = mainsJob(false);
        std::vector<LogEntry> log;
        double time_s = 0;
        for (int i : {0, 1, 2, 5, 1}) {
            time_s += event_gap_s;
            log.push_back(entryOf(mains_events[static_cast<std::size_t>(i)], log.size(), time_s));
        }
        LogEntry before{.id = "M1", .time_s = 0, .kind = LogKind::Model};
        before.sources = {"mains"};
        before.reservoirs = {"bulk", "out"};
        log.insert(log.begin(), before);
        QCOMPARE(isolationAt(log, energyModel(job), time_s).state, Isolation::ProvenDead);
        job.need.load.kind = LoadKind::Battery;
        QVERIFY(isolationAt(log, energyModel(job), time_s).state != Isolation::ProvenDead);
        job.need.load.kind = LoadKind::Equipment;
        job.found.bulk.c_f.reset();
        const EnergyModel none = energyModel(job);
        QVERIFY(!none.missing.empty());
        QVERIFY(isolationAt(log, none, time_s).state != Isolation::ProvenDead);
        // A log that says nothing of the model: what is proven of it as it is counts, whoever writes it down
        // later; a source that nobody switched off does not.
        EnergyModel model = energyModel(mainsJob(false));
        const std::vector<LogEntry> without(log.begin() + 1, log.end());
        QCOMPARE(isolationAt(without, model, time_s).state, Isolation::ProvenDead);
        std::vector<LogEntry> later = without;
        later.push_back(before);
        QCOMPARE(isolationAt(later, model, time_s).state, Isolation::ProvenDead);
        model.sources.push_back("battery");
        QVERIFY(isolationAt(without, model, time_s).state != Isolation::ProvenDead);
    }

    /// A large capacitor without bleeder: no countdown, a tool resistor; with one, the time of the plan.
    void discharge()
    {
        Job job = mainsJob(false);
        Reservoir bulk = energyModel(job).reservoirs.front();
        QVERIFY(!bulk.discharge_s);
        QVERIFY(bulk.tool_ohm > 1000);
        QVERIFY(bulk.needs_second);
        job.found.bulk.bleeder_ohm = 470e3;
        bulk = energyModel(job).reservoirs.front();
        QNEAR(*bulk.discharge_s, 47 * std::log(std::sqrt(2) * 253 / 10), 1e-9);
    }
};

REGISTER_TEST(TestIsolation, void)
#include "tst_isolation.moc"
