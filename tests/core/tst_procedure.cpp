// The procedure over a family of supplies: its order, its gates, its cautions and its windows.
#include "core/evaluate/evaluation.h"
#include "core/judge/consequences.h"
#include "core/kinds/kind.h"
#include "core/kinds/planned.h"
#include "core/values/quantity.h"
#include "support/job_files.h"
#include "support/support.h"

#include <QRegularExpression>
#include <algorithm>
#include <functional>
#include <set>

using namespace offshoot;

namespace {

struct Variant
{
    bool earthed;
    bool battery;
    bool bleeder;
    bool high_output;
    bool planned;

    std::string name() const
    {
        return std::string(earthed ? "class I" : "class II") + (battery ? ", battery" : "") +
               (bleeder ? ", bleeder" : "") + (high_output ? ", high output" : "") +
               (planned ? ", planned" : "");
    }
    Job job() const
    {
        Job job = test::demoJob();
        job.log.clear();
        job.found.earth_class = earthed ? EarthClass::ClassI : EarthClass::ClassII;
        job.need.load.kind = battery ? LoadKind::Battery : LoadKind::Equipment;
        if (!bleeder)
            job.found.bulk.bleeder_ohm.reset();
        if (high_output)
            job.need.target = Target{72, 71, 73};
        if (!planned)
            job.plan.chosen.reset();
        return job;
    }
};

std::vector<Variant> variants()
{
    std::vector<Variant> all;
    for (unsigned i = 0; i < 32; ++i)
        all.push_back({(i & 1) != 0, (i & 2) != 0, (i & 4) != 0, (i & 8) != 0, (i & 16) != 0});
    return all;
}

Evaluation evaluated(const Job& job) { return evaluate(job, 1.8e9); }

bool has(const Step& step, Caution caution) { return std::ranges::count(step.cautions, caution) > 0; }

const StepView* find(const Evaluation& e, const std::string& id)
{
    const auto found = std::ranges::find_if(e.steps, [&](const StepView& v) { return v.step.id == id; });
    return found == e.steps.end() ? nullptr : &*found;
}

void everyVariant()
{
    QTest::addColumn<int>("index");
    const auto all = variants();
    for (std::size_t i = 0; i < all.size(); ++i)
        QTest::addRow("%s", all[i].name().c_str()) << static_cast<int>(i);
}

Variant fetched()
{
    QFETCH(int, index);
    return variants()[static_cast<std::size_t>(index)];
}

} // namespace

class TestProcedure : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    /// What a trimmer is to be turned to lies in the window of the reading that is asked for there, at the
    /// load that is said; without a droop known it is turned without load.
    void turnedTo()
    {
        Job job = readJob(test::sourceFile("data/jobs/splicing-bench.offshoot"));
        const auto turn = [&] {
            for (const StepView& view : evaluate(job, 2e9).steps)
                if (view.step.id == "bringup.trim")
                    return view.step;
            qFatal("no trimmer is turned");
        };
        const auto goal = [](const Step& step) {
            return std::stod(step.title.substr(step.title.find("reads ") + 6));
        };
        const Step loaded = turn();
        QVERIFY2(loaded.title.ends_with("at 4 A"), loaded.title.c_str());
        QNEAR(goal(loaded), 12.10 * job.plan.trim->scale, 1e-3); // read at 4 A, times the turn
        QVERIFY(within(goal(loaded), *loaded.asks.front().window->min, *loaded.asks.front().window->max));
        std::erase_if(job.log, [](const LogEntry& entry) { return entry.load.has_value(); });
        const Step unloaded = turn();
        QVERIFY2(unloaded.title.ends_with("without load"), unloaded.title.c_str());
        QVERIFY(unloaded.detail.starts_with("Every test load switched off."));
        QVERIFY(
            within(goal(unloaded), *unloaded.asks.front().window->min, *unloaded.asks.front().window->max));
    }

    /// What the divider alone would do is said of the turns as found, whatever turns are planned beside it.
    void dividerAlone()
    {
        Job job = test::demoJob();
        job.found.rails.front().winding.turns = 12;
        const auto retune = [&] {
            const auto schools = planSchools(job, figuresOf(job), figuresOf);
            return std::ranges::find(schools, "Retune the divider or rewind the transformer",
                                     &School::question)
                ->sides.front()
                .figures;
        };
        const std::string alone = retune();
        job.plan.rewind = RewindPlan{.rail = "24V", .turns = 14};
        const auto nearest = [](const std::string& figures) { return figures.substr(figures.find(';')); };
        QCOMPARE(nearest(retune()), nearest(alone));
    }

    /// Beyond full load an unregulated rail may droop on: its window reaches lower, never higher.
    void peakDroopsOn()
    {
        const Job job = readJob(test::sourceFile("data/jobs/fog-signal-amplifier.offshoot"));
        const auto run = chainRunOf(job);
        const auto window = [&](const char* id) {
            const Evaluation e = evaluate(job, 2e9, &*run);
            for (const StepView& view : e.steps)
                if (view.step.id == id)
                    return *view.step.asks.front().window;
            qFatal("no step %s", id);
        };
        QVERIFY(*window("bringup.peak").min < *window("bringup.full").min - 1);
        QVERIFY(*window("bringup.peak").max <= *window("bringup.full").max);
    }

    /// A load draws no more than the unit at hand bears, at the volts that this unit gives; its watts are
    /// those it turns to heat there, with half as much again to spare.
    void loadsHeld_data()
    {
        QTest::addColumn<QString>("file");
        QTest::addColumn<double>("times"); // the need's current; none at 0
        for (const QString& file : test::jobFiles())
            for (const double times : {0.0, 0.4, 1.0, 4.0})
                QTest::addRow("%s, %g times", qPrintable(file.section(u'/', -1)), times) << file << times;
    }
    void loadsHeld()
    {
        QFETCH(QString, file);
        QFETCH(double, times);
        Job job = readJob(test::sourceFile(qPrintable(file)));
        job.log.clear();
        job.need.peak_a.reset();
        auto& need_a = job.need.current_a;
        need_a = times > 0 ? std::optional(times * *need_a) : std::nullopt;
        for (Rail& rail : job.found.rails)
            for (RailUser& user : rail.users)
                if (user.typical_a && times > 0)
                    *user.typical_a *= times;
        const auto join = job.plan.join;
        const double units =
            join && join->kind == Joining::SideBySide ? static_cast<double>(unitCount(job)) : 1;
        const Supply planned = plannedSupply(job);
        static const QRegularExpression words(
            QStringLiteral(R"(Switch on (\S+), ([^(]+) \(([^,]+), ([^)]+)\), the others off)"));
        static const QRegularExpression other(QStringLiteral(R"(; on (\S+) \S+, [^(]+ \(([^,]+),)"));
        std::set<std::string> seen;
        for (const StepView& view : evaluated(job).steps) {
            const Step& step = view.step;
            const QString detail = QString::fromStdString(step.detail);
            for (const auto& beside : other.globalMatch(detail)) {
                const Supply& unit = step.stage == Stage::Found ? job.found : planned;
                const Rail* rail = railNamed(unit, beside.captured(1).toStdString());
                const auto drawn = parseValue(beside.captured(2).toStdString(), Quantity::Current);
                constexpr double rounding = 1.06; // of two figures
                if (rail != nullptr && rail->i_rated_a)
                    QVERIFY2(drawn->value <= rounding * *rail->i_rated_a, qPrintable(detail));
            }
            const auto load = words.match(detail);
            if (!load.hasMatch())
                continue;
            seen.insert(step.id);
            const auto said = [&](int at, Quantity quantity) {
                return parseValue(load.captured(at).toStdString(), quantity)->value;
            };
            const bool found = step.stage == Stage::Found;
            const Supply& unit = found ? job.found : planned;
            const double v = found ? *unit.rails.front().v_v : unitTarget(job)->v;
            const double ohm = said(1, Quantity::Resistance);
            const double drawn_a = v / ohm;
            constexpr double rounding = 0.06; // of two figures
            QNEAR(said(3, Quantity::Current), drawn_a, rounding);
            QNEAR(said(4, Quantity::Power), drawn_a * v, rounding);
            QVERIFY2(said(2, Quantity::Power) >= 1.5 * drawn_a * v, step.detail.c_str());
            QNEAR(*step.asks.front().load_a, drawn_a, 1e-9);
            const double most_a =
                allowedCurrent(unit, unit.rails.front(), v).value_or(*unit.rails.front().i_rated_a);
            QVERIFY2(drawn_a <= most_a * (1 + 1e-9), step.detail.c_str());
            if (!step.id.ends_with(".full"))
                continue;
            constexpr double near_share = 0.25; // one resistor for before and after
            const double wanted_a = need_a ? *need_a / units : most_a;
            QVERIFY2(drawn_a >= std::min(wanted_a, most_a) * (1 - near_share), step.detail.c_str());
            QCOMPARE(step.detail.find("is not asked of it here") != std::string::npos, wanted_a > most_a);
        }
        for (const char* stage : {"found", "bringup"})
            QCOMPARE(seen.contains(stage + std::string(".light")),
                     seen.contains(stage + std::string(".full")));
    }

    /// Power only after everything before it was made safe or checked; hands only after proof; probes only
    /// live.
    void order_data() { everyVariant(); }
    void order()
    {
        const Evaluation e = evaluated(fetched().job());
        std::set<std::string> ids;
        Isolation state = Isolation::Live;
        bool isolated = false;
        Stage stage = Stage::Need;
        for (const StepView& view : e.steps) {
            const Step& step = view.step;
            QVERIFY2(ids.insert(step.id).second, step.id.c_str());
            QVERIFY2(step.stage >= stage, step.id.c_str()); // stages follow each other
            stage = step.stage;
            switch (step.kind) {
            case StepKind::Isolate:
                isolated = true;
                state = Isolation::Unproven;
                break;
            case StepKind::Prove:
                QVERIFY2(isolated, step.id.c_str());
                state = Isolation::ProvenDead;
                break;
            case StepKind::Touch:
                QVERIFY2(state == Isolation::ProvenDead, step.id.c_str());
                break;
            case StepKind::Power:
                QVERIFY2(step.checks.size() >= 8, step.id.c_str());
                isolated = false;
                state = Isolation::Live;
                break;
            case StepKind::Probe:
            case StepKind::Adjust:
                QVERIFY2(state == Isolation::Live && !isolated, step.id.c_str());
                break;
            case StepKind::Look:
            case StepKind::Wait:
                break;
            }
        }
        QVERIFY(e.steps.size() > 30);
    }

    /// Words and windows of every step are usable as they stand.
    void content_data() { everyVariant(); }
    void content()
    {
        for (const StepView& view : evaluated(fetched().job()).steps) {
            const Step& step = view.step;
            QVERIFY2(!step.title.empty() && step.title.size() < 70, step.id.c_str());
            QVERIFY2(!step.wait_s || *step.wait_s > 0, step.id.c_str());
            for (const Asked& asked : step.asks) {
                QVERIFY2(!asked.point.empty() && !asked.because.empty(), step.id.c_str());
                if (asked.window) {
                    QVERIFY2(asked.window->min || asked.window->max, step.id.c_str());
                    if (asked.window->min && asked.window->max)
                        QVERIFY2(*asked.window->min < *asked.window->max, step.id.c_str());
                }
                QVERIFY2(!asked.load_a || *asked.load_a >= 0, step.id.c_str());
            }
            std::set<std::string> checks(step.checks.begin(), step.checks.end());
            QCOMPARE(checks.size(), step.checks.size());
            std::set<Caution> cautions(step.cautions.begin(), step.cautions.end());
            QVERIFY2(cautions.size() == step.cautions.size(), step.id.c_str());
        }
    }

    /// Protective earth is measured where there is one, and no step ever opens it.
    void protectiveEarth_data() { everyVariant(); }
    void protectiveEarth()
    {
        const Variant variant = fetched();
        const Evaluation e = evaluated(variant.job());
        const StepView* earth = find(e, "found.earth");
        QVERIFY(earth != nullptr);
        QCOMPARE(earth->step.asks.empty(), !variant.earthed);
        const auto first_power =
            std::ranges::find_if(e.steps, [](const StepView& v) { return v.step.kind == StepKind::Power; });
        const auto measured =
            std::ranges::find_if(e.steps, [](const StepView& v) { return v.step.id == "found.earth"; });
        QVERIFY(measured < first_power);
        for (const StepView& view : e.steps)
            for (const char* word : {"lift", "disconnect the earth", "cut the earth", "remove the earth"})
                QVERIFY2((view.step.title + view.step.detail).find(word) == std::string::npos,
                         view.step.id.c_str());
    }

    /// Each caution of the table stands where its case is, and nowhere else.
    void cautions_data() { everyVariant(); }
    void cautions()
    {
        const Variant variant = fetched();
        for (const StepView& view : evaluated(variant.job()).steps) {
            const Step& step = view.step;
            const bool lamp_power =
                step.kind == StepKind::Power && step.title.find("lamp") != std::string::npos;
            if (step.kind == StepKind::Power)
                QVERIFY2(has(step, Caution::MainsPotential), step.id.c_str());
            // Where an oscilloscope may be taken out, and nowhere else.
            const bool ripple = std::ranges::count(step.asks, std::string("ripple"), &Asked::point) > 0;
            QCOMPARE(has(step, Caution::NoScope), ripple);
            if (lamp_power || step.watches_lamp)
                QVERIFY2(has(step, Caution::SeriesLamp), step.id.c_str());
            if (step.is(Does::Discharge))
                QVERIFY2(has(step, Caution::Discharge) && has(step, Caution::OneHand), step.id.c_str());
            if (step.is(Does::Prove) || step.is(Does::MeasurePins))
                QVERIFY2(has(step, Caution::OneHand), step.id.c_str());
            if (step.kind == StepKind::Touch || step.kind == StepKind::Look)
                QVERIFY2(!has(step, Caution::MainsPotential) && !has(step, Caution::HighOutput),
                         step.id.c_str());
            if (step.kind == StepKind::Isolate)
                QVERIFY2(has(step, Caution::BatterySource) == variant.battery, step.id.c_str());
            if (!variant.battery)
                QVERIFY2(!has(step, Caution::BatterySource), step.id.c_str());
            if (step.kind == StepKind::Power)
                QVERIFY2(has(step, Caution::HighOutput) == variant.high_output, step.id.c_str());
        }
        for (std::size_t i = 0; i < Words<Caution>::list.size(); ++i)
            QVERIFY(cautionText(static_cast<Caution>(i)).size() > 30);
    }

    /// What has a known bleeder is waited for, as long as the plan says; what has none is named.
    void draining_data() { everyVariant(); }
    void draining()
    {
        const Variant variant = fetched();
        const Evaluation e = evaluated(variant.job());
        const StepView* wait = find(e, "found.wait");
        double longest_s = 0;
        for (const Reservoir& reservoir : e.energy.reservoirs) {
            const std::string kept = reservoir.key() + ": no known bleeder";
            QCOMPARE(wait->step.detail.find(kept) != std::string::npos, !reservoir.discharge_s);
            longest_s = std::max(longest_s, reservoir.discharge_s.value_or(0));
        }
        QNEAR(wait->step.wait_s.value_or(0), longest_s, 1e-9);
        if (variant.bleeder)
            QNEAR(*wait->step.wait_s, 47 * std::log(std::sqrt(2) * 253 / 10), 1e-6);
        // Every reservoir is asked for, below 10 V, and the large one a second time.
        const Step& prove = find(e, "found.prove")->step;
        QCOMPARE(prove.asks.size(), e.energy.reservoirs.size());
        for (const Asked& asked : prove.asks)
            QCOMPARE(*asked.window->max, 10.0);
        QVERIFY(prove.detail.find("again after 5 min") != std::string::npos);
    }

    /// A battery is connected last and never used to set the voltage.
    void batteryLast()
    {
        const Variant with{true, true, true, false, true};
        const Evaluation e = evaluated(with.job());
        const Step& connect = find(e, "signoff.connect")->step;
        QVERIFY(connect.detail.find("its fuse out") != std::string::npos);
        QVERIFY(find(e, "signoff.charge") != nullptr);
        QVERIFY(find(e, "signoff.polarity") < find(e, "signoff.fuse"));
        QVERIFY(*find(e, "signoff.polarity")->step.asks.front().window->max <
                10); // the sum would be twice the battery
        QVERIFY(find(e, "found.limiter")->step.detail.find("Never the battery") != std::string::npos);
        const Variant without{true, false, true, false, true};
        QVERIFY(find(evaluated(without.job()), "signoff.charge") == nullptr);
    }

    /// Predicted windows under load follow the droop the before-readings showed.
    void droop()
    {
        const Job job = test::demoJob();
        const Evaluation e = evaluated(job);
        const auto window = [&](const char* id) { return *find(e, id)->step.asks.front().window; };
        // Part of the droop goes with the voltage and part with the current alone: from the lower of both to
        // the higher, and no wider than what the two readings leave open.
        const auto follows = [](const ReadingWindow& unloaded, const ReadingWindow& loaded, double from_v,
                                double drop_v, double doubt_v) {
            constexpr double meter_v = 2e-3; // its doubt differs a little between the edges
            const double least_v = *unloaded.min * (1 - drop_v / from_v);
            const double most_v = *unloaded.max - drop_v;
            QVERIFY(*loaded.min <= least_v + meter_v && *loaded.min >= least_v - doubt_v - meter_v);
            QVERIFY(*loaded.max >= most_v - meter_v && *loaded.max <= most_v + doubt_v + meter_v);
        };
        double doubt_v = 0;
        for (const char* id : {"found.no_load", "found.full"})
            doubt_v += find(e, id)->readings.front()->u;
        // The before-reading was taken at the found volts: the straight line goes on to the planned ones.
        const double on = *find(e, "bringup.full")->step.asks.front().load_a / 1.8;
        follows(window("bringup.no_load"), window("bringup.full"), 24.05, on * 0.07, on * doubt_v);
        // The load may be said in amperes, watts or ohms; what was struck does not count.
        const double full_a = *job.need.current_a;
        Job other = job;
        std::erase_if(other.log, [](const LogEntry& entry) { return entry.kind == LogKind::Reading; });
        const auto read = [&other](double v, std::optional<ReadingLoad> load) {
            LogEntry entry{.id = nextLogId(other), .time_s = 1, .kind = LogKind::Reading, .load = load};
            entry.point = "24V";
            entry.quantity = Quantity::Voltage;
            entry.value = v;
            entry.uncertainty = 0.03;
            entry.stage = ReadingStage::Found;
            entry.isolation = Isolation::Live;
            other.log.push_back(entry);
        };
        read(24.05, ReadingLoad{1200, Quantity::Resistance}); // 20 mA: as good as none
        for (const ReadingLoad& load :
             {ReadingLoad{full_a, Quantity::Current}, ReadingLoad{full_a * 23.5, Quantity::Power},
              ReadingLoad{23.5 / full_a, Quantity::Resistance}}) {
            read(23.5, load);
            const Evaluation o = evaluated(other);
            QNEAR(o.found_v.value_or(0), 24.05, 1e-6); // the least load, not the least number
            const Asked& full = find(o, "bringup.full")->step.asks.front();
            const double scale = *full.load_a / (full_a - 24.05 / 1200); // a straight line as far as its load
            follows(*find(o, "bringup.no_load")->step.asks.front().window, *full.window, 24.05, 0.55 * scale,
                    0.06 * scale);
            LogEntry strike{.id = nextLogId(other), .time_s = 2, .kind = LogKind::Strike};
            strike.text = other.log.back().id;
            other.log.push_back(strike);
            QVERIFY(
                find(evaluated(other), "bringup.full")->step.asks.front().because.find("droop not known") !=
                std::string::npos);
        }
        Job fresh = job;
        fresh.log.clear();
        const Evaluation f = evaluated(fresh);
        QVERIFY(find(f, "bringup.full")->step.asks.front().because.find("droop not known") !=
                std::string::npos);
    }

    /// A tick holds for just the step it was given for.
    void fingerprints()
    {
        const Job job = test::demoJob();
        const Evaluation e = evaluated(job);
        std::set<std::string> all;
        for (const StepView& view : e.steps)
            all.insert(view.step.id + view.step.fingerprint());
        QCOMPARE(all.size(), e.steps.size());
        const auto changed = [&](const std::function<void(Job&)>& edit) {
            Job other = job;
            edit(other);
            std::set<std::string> ids;
            for (const StepView& view : evaluated(other).steps)
                if (const StepView* before = find(e, view.step.id);
                    before == nullptr || before->step.fingerprint() != view.step.fingerprint())
                    ids.insert(view.step.id);
            return ids;
        };
        QVERIFY(changed([](Job& j) { j.title = "another name"; }).empty());
        QVERIFY(changed([](Job& j) { j.need.why = "because"; }).empty());
        const auto by_part = changed([](Job& j) { j.plan.chosen->network = Network(16e3); });
        QVERIFY(by_part.contains("change.fit") && by_part.contains("bringup.full") &&
                !by_part.contains("found.full"));
        const auto by_fuse = changed([](Job& j) { j.found.fuse.value_a = 1.6; });
        QVERIFY(by_fuse.contains("found.power_lamp") && !by_fuse.contains("change.fit"));
    }

    /// What the demo's stations show: found, planned, measured.
    void stations_data()
    {
        QTest::addColumn<int>("station");
        QTest::addColumn<QByteArray>("found");
        QTest::addColumn<QByteArray>("planned");
        QTest::addColumn<QByteArray>("measured");
        const auto row = [](Station station, const char* found, const char* planned, const char* measured) {
            QTest::addRow("%s", word(station).data()) << static_cast<int>(station) << QByteArray(found)
                                                      << QByteArray(planned) << QByteArray(measured);
        };
        row(Station::Inlet, "230 V", "230 V", "232 V");
        row(Station::Fuse, "T2 A", "T2 A", "");
        row(Station::Inrush, "5R", "5R", "");
        row(Station::InputRectifier, "358 V", "358 V", "");
        row(Station::Reservoir, "358 V", "358 V", "4.10 V dead");
        row(Station::Converter, "516 V", "531 V", "");
        row(Station::Transformer, "4 : 1", "4 : 1", "");
        row(Station::OutputRectifier, "113 V", "117 V", "");
        row(Station::Smoothing, "24.05 V", "27.71 V", "27.66 V");
        row(Station::Cable, "80 mV", "80 mV", "");
        row(Station::Load, "23.97 V", "27.63 V", "27.66 V");
        row(Station::Feedback, "2k55", "2k179", "2k174");
    }
    void stations()
    {
        QFETCH(int, station);
        QFETCH(QByteArray, found);
        QFETCH(QByteArray, planned);
        QFETCH(QByteArray, measured);
        const StationView view = evaluated(test::demoJob()).stations[static_cast<std::size_t>(station)];
        QCOMPARE(QByteArray::fromStdString(view.found), found);
        QCOMPARE(QByteArray::fromStdString(view.planned), planned);
        QCOMPARE(QByteArray::fromStdString(view.measured), measured);
    }
};

REGISTER_TEST(TestProcedure, void)
#include "tst_procedure.moc"
