// The simulated unit: its reservoirs against small steps, its draws, every wrong move, a sound unit through
// every demo job's own procedure, and a faulty one found by the diagnosis.
#include "core/evaluate/job_input.h"
#include "core/rehearse/bench_play.h"
#include "core/rehearse/exercises.h"
#include "core/rehearse/procedure_play.h"
#include "core/rehearse/suspects.h"
#include "support/job_files.h"
#include "support/support.h"

#include <algorithm>
#include <cmath>
#include <random>

using namespace offshoot;

namespace {

/// Of the demo jobs or of tests/jobs.
Job demo(const char* name)
{
    const std::string file = std::string(name) + ".offshoot";
    const bool shipped =
        QFile::exists(QStringLiteral(OFFSHOOT_SOURCE_DIR "/data/jobs/") + QString::fromStdString(file));
    return readJob(test::sourceFile(((shipped ? "data/jobs/" : "tests/jobs/") + file).c_str()));
}

Json played(const Job& job, std::initializer_list<const char*> moves, std::uint64_t seed = 3,
            const char* fault = "none")
{
    Json input{{"job", Json::parse(writeJob(job))}, {"seed", seed}, {"fault", fault}};
    input["moves"] = Json::array();
    for (const char* move : moves)
        input["moves"].push_back(move);
    return benchPlay(input);
}

} // namespace

class TestRehearse : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    /// Three, and whatever cannot be told from the third.
    void likeliestFew()
    {
        const auto first = [](std::vector<double> offs) {
            std::vector<Suspect> all;
            for (const double off : offs)
                all.push_back({{}, off});
            return likeliest(all).size();
        };
        QCOMPARE(first({}), std::size_t{0});
        QCOMPARE(first({0, 1}), std::size_t{2});
        QCOMPARE(first({0, 1, 2, 3, 4}), std::size_t{3});
        QCOMPARE(first({0, 1, 2, 2.01, 4}), std::size_t{4});
    }

    /// Another reference may have been fitted where a meter would tell: from a hundredth away.
    void otherReferences()
    {
        Job job = demo("beacon-float-charge");
        for (const auto& [v_ref_v, others] :
             {std::pair(2.495, 1), {2.471, 1}, {2.4695, 2}, {1.2275, 2}, {1.2285, 1}}) {
            job.found.rails.front().feedback.reference->v_ref_v = v_ref_v;
            QCOMPARE(std::ranges::count(possibleFaults(job), UnitFaultKind::Reference, &UnitFault::kind),
                     others);
        }
    }

    /// In closed form as by steps of a tenth of a millisecond.
    void storesInSmallSteps()
    {
        std::mt19937 random(5);
        const auto between = [&](double from, double to) {
            return std::uniform_real_distribution<>(from, to)(random);
        };
        for (int i = 0; i < 20; ++i) {
            const double c = std::pow(10, between(-5, -3));
            const double share = between(0.001, 0.2);
            const double siemens = i % 3 == 0 ? 0 : std::pow(10, between(-6, -3));
            const double v0 = between(20, 400);
            const double soaked_s = between(0, 200);
            ChargedStore store(c, share);
            store.hold(v0, soaked_s);
            const double ca = c * share / (1 - share);
            const double link = c * ca / (c + ca) / ChargedStore::recovers_in_s;
            double v = v0;
            double a = v0 * (1 - std::exp(-soaked_s * link / ca));
            constexpr double h = 1e-4;
            const int steps = 20000;
            for (int k = 0; k < steps; ++k) {
                const double dv = (-(siemens + link) * v + link * a) / c;
                const double da = link * (v - a) / ca;
                const double vm = v + h / 2 * dv;
                const double am = a + h / 2 * da;
                v += h * (-(siemens + link) * vm + link * am) / c;
                a += h * link * (vm - am) / ca;
            }
            store.leave(siemens, steps * h);
            QVERIFY2(std::abs(store.volts() - v) < 1e-5 * v0, qPrintable(QString::number(store.volts() - v)));
        }
    }

    /// Soaked and emptied it comes back to its share and no further; what is left long is gone; a converter
    /// takes its joules.
    void storesComeBack()
    {
        ChargedStore store(1e-4, 0.12);
        store.hold(325, 3600);
        store.leave(1, 0.01);
        QVERIFY(store.volts() < 1);
        double before = store.volts();
        for (int i = 0; i < 60; ++i) {
            store.leave(0, 10);
            QVERIFY(store.volts() >= before);
            before = store.volts();
        }
        QVERIFY(std::abs(store.volts() - 0.12 * 325) < 0.5);
        ChargedStore fed(1e-4, 0);
        fed.hold(325, 0);
        const double energy = fed.energyJ();
        QCOMPARE(fed.draw(20, 100, 0, 0.1), 0.1);
        QVERIFY(std::abs(energy - fed.energyJ() - 2) < 1e-9);
        QVERIFY(std::abs(fed.draw(20, 100, 0, 100) - (energy - 2 - 0.5) / 20) < 1e-9);
        QVERIFY(std::abs(fed.volts() - 100) < 1e-9);
    }

    void draws()
    {
        const Draw draw(7);
        QCOMPARE(draw.share("a"), Draw(7).share("a"));
        QVERIFY(draw.share("a") != draw.share("b") && draw.share("a") != Draw(8).share("a"));
        double sum = 0;
        double square = 0;
        constexpr int count = 20000;
        for (int i = 0; i < count; ++i) {
            const double x = Draw(static_cast<std::uint64_t>(i)).around("v", 1, 0.5);
            QVERIFY(x >= 0.5 && x < 1.5);
            sum += x;
            square += (x - 1) * (x - 1);
        }
        QVERIFY(std::abs(sum / count - 1) < 0.01);
        QVERIFY(std::abs(square / count - 1.0 / 12) < 0.003);
    }

    void wrongMoves_data()
    {
        QTest::addColumn<QStringList>("before");
        QTest::addColumn<QString>("move");
        QTest::addColumn<QString>("wrong");
        QTest::addColumn<QByteArray>("job");
        const auto add = [](const char* name, QStringList before, const char* move, const char* wrong,
                            const char* job = "beacon-float-charge") {
            QTest::newRow(name) << before << QString::fromUtf8(move) << QString::fromUtf8(wrong)
                                << QByteArray(job);
        };
        const QStringList emptied{QStringLiteral("discharge bulk 4k7 30"), QStringLiteral("wait 300"),
                                  QStringLiteral("discharge bulk 4k7 30"),
                                  QStringLiteral("discharge 24V 47R 30")};
        const QStringList lamp{QStringLiteral("lamp_in"), QStringLiteral("plug_in")};
        add("ohms on charge", {}, "ohms bottom", "ohmmeter_on_charge");
        add("fit on charge", {}, "fit", "fitted_charged");
        add("hand on charge", {}, "hand heatsink", "hand_on_charge");
        add("blade", {}, "screwdriver bulk", "reservoir_shorted");
        add("blade on nothing", emptied, "screwdriver bulk", "");
        add("ohms dead", emptied, "ohms bottom", "");
        add("fit dead", emptied, "fit", "");
        add("earth while charged", {}, "ohms earth", "");
        add("full mains first", {}, "plug_in", "full_mains_first");
        add("behind the lamp", {QStringLiteral("lamp_in")}, "plug_in", "");
        add("ohms live", lamp, "ohms bottom", "ohmmeter_live");
        add("fit live", lamp, "fit", "fitted_live");
        add("hand live", lamp, "hand heatsink", "hand_on_live");
        add("lid live", lamp, "open_case", "opened_live", "wind-recorder");
        add("no lid", lamp, "open_case", "");
        add("hand on what is fed with little", lamp, "hand heatsink", "", "dc-buck");
        add("full feed first", {}, "plug_in", "full_mains_first", "dc-buck");
        add("lamp out live", lamp, "lamp_out", "limiter_moved_live");
        add("discharge live", lamp, "discharge bulk 4k7", "discharged_live");
        add("wiring live", lamp, "connect_load", "fitted_live");
        add("load first", emptied, "connect_load", "load_first");
        add("reversed", emptied, "connect_load reversed", "load_reversed");
        QStringList lamp_read = lamp;
        lamp_read << QStringLiteral("probe 24V") << QStringLiteral("unplug") << QStringLiteral("lamp_out");
        add("after the lamp", lamp_read, "plug_in", "");
        QStringList fitted = emptied;
        fitted << QStringLiteral("fit");
        add("after the change", fitted, "plug_in", "full_mains_first");
    }
    void wrongMoves()
    {
        QFETCH(QStringList, before);
        QFETCH(QString, move);
        QFETCH(QString, wrong);
        QFETCH(QByteArray, job);
        Bench bench(demo(job.constData()), 4, {});
        for (const QString& one : before) {
            const BenchAnswer answer = bench.play(benchMoveFrom(one.toStdString(), "/moves/0"));
            QVERIFY2(!answer.wrong, qPrintable(one));
        }
        for (const bool first : {true, false}) {
            const double t_s = bench.timeS();
            const BenchAnswer answer = bench.play(benchMoveFrom(move.toStdString(), "/moves/0"));
            if (wrong.isEmpty()) {
                QVERIFY2(!answer.wrong, answer.wrong ? answer.wrong->would.c_str() : "");
                QCOMPARE(answer.done, move != QLatin1String("open_case")); // there is none
                return;
            }
            if (wrong == QLatin1String("full_mains_first") && !first)
                return; // it is plugged in
            QVERIFY(answer.wrong);
            QCOMPARE(QString::fromUtf8(word(answer.wrong->what).data()), wrong);
            QCOMPARE(answer.wrong->first, first);
            QVERIFY(answer.wrong->would.ends_with('.'));
            QCOMPARE(answer.done, wrong == QLatin1String("full_mains_first"));
            QCOMPARE(bench.timeS(), t_s);
            QCOMPARE(bench.wrongs().at(answer.wrong->what), first ? 1 : 2);
        }
        if (wrong == QLatin1String("reservoir_shorted")) {
            const double v = *bench.storeVolts("bulk");
            const BenchAnswer answer = bench.play(benchMoveFrom(move.toStdString(), "/moves/0"));
            QCOMPARE(*answer.wrong->v_v, v);
        }
    }

    /// What is drained through a resistor follows its exponential; what comes back is below the dielectric's
    /// share.
    void drains()
    {
        const Job job = demo("beacon-float-charge");
        Json out = played(job, {"probe bulk", "discharge bulk 4k7 1", "discharge bulk 4k7 1",
                                "discharge bulk 4k7 60", "wait 600", "probe bulk"});
        const auto value = [&](std::size_t i) { return out["moves"][i]["reading"]["value"].get<double>(); };
        const double v0 = value(0);
        QVERIFY(v0 > 250 && v0 < 380);
        QVERIFY(value(1) < v0 && value(2) < value(1) && value(3) < 1);
        QVERIFY(value(5) < 0.12 * v0);
        QVERIFY(out["elapsed_s"].get<double>() == 662);
        QVERIFY(!out["live"].get<bool>());
    }

    /// What comes out went in: the line gives at least what the load takes, and behind a transformer the more
    /// the heavier the load, through the lamp and without it, however low the output is pulled.
    void takesWhatItGives_data() { test::everyJobFile(); }
    void takesWhatItGives()
    {
        QFETCH(QString, file);
        const Job job = readJob(test::sourceFile(qPrintable(file)));
        for (const char* limiter : {"lamp_in", "lamp_out"}) {
            Bench bench(job, 3, {});
            for (const char* move : {"unplug", "wait 7200", limiter, "plug_in", "wait 120"})
                bench.play(benchMoveFrom(move, {}));
            double before_a = 0;
            for (const char* load : {"load none", "load 22k", "load 4k7", "load 1k", "load 220R", "load 100R",
                                     "load 47R", "load 22R", "load 10R", "load 4R7", "load 1R"}) {
                bench.play(benchMoveFrom(load, {}));
                if (!bench.runs())
                    break; // it hiccups
                const Running& now = bench.running();
                const double given_w = bench.loadWatts();
                const std::string at = std::string(limiter) + ", " + load;
                QVERIFY2(now.unit_v * now.line_a > given_w, at.c_str());
                QVERIFY2(now.line_a >= before_a * (1 - 1e-6) || !bearsLowMains(bench.found().topology),
                         at.c_str());
                before_a = now.line_a;
            }
        }
    }

    /// The wire takes its share on the way to the load, unless the load itself is sensed.
    void arrives_data() { test::everyJobFile(); }
    void arrives()
    {
        QFETCH(QString, file);
        Job job = readJob(test::sourceFile(qPrintable(file)));
        for (const bool sensed : {false, true}) {
            job.plan.remote_sense = sensed;
            const Evaluation e = evaluate(job, 0);
            const double share = runShare(job, e);
            if (sensed || !e.load_v || !e.planned_v)
                QCOMPARE(share, 1.0);
            else
                QNEAR(share * *e.planned_v, *e.load_v, 1e-9);
        }
    }

    /// What is connected now drains it, not what was when the plug was in; one that hiccups keeps its
    /// reservoir at the crest; a feed of DC holds what it feeds, and the plug's pins drain in seconds.
    void holds()
    {
        const Job job = demo("beacon-float-charge");
        const auto at = [](const Bench& bench, const char* point) { return *bench.storeVolts(point); };
        const auto play = [](Bench& bench, std::initializer_list<const char*> moves) {
            std::optional<BenchReading> reading;
            for (const char* move : moves)
                reading = bench.play(benchMoveFrom(move, {})).reading;
            return reading;
        };
        Bench loaded(job, 2, {});
        Bench freed(job, 2, {});
        for (Bench* bench : {&loaded, &freed})
            play(*bench,
                 {"lamp_in", "plug_in", "probe 24V", "unplug", "lamp_out", "plug_in", "load 12R", "unplug"});
        play(freed, {"load none"});
        for (Bench* bench : {&loaded, &freed})
            play(*bench, {"wait 0.05"});
        QVERIFY(at(loaded, "bulk") < at(freed, "bulk") - 10);

        Bench hiccups(job, 2, {UnitFaultKind::Short, "bottom"});
        play(hiccups, {"discharge bulk 4k7 30", "wait 300", "discharge bulk 4k7 30", "discharge 24V 47R 30",
                       "fit", "lamp_in", "plug_in", "wait 60"});
        QVERIFY(hiccups.running().how == Running::How::Hiccups);
        QVERIFY(at(hiccups, "bulk") > 250 && at(hiccups, "24V") < 10);

        for (const char* name : {"dc-buck", "sample-bath"}) {
            const Job fed = demo(name);
            Bench bench(fed, 2, {});
            play(bench, {"lamp_in", "plug_in", "wait 1"});
            for (const Reservoir& reservoir : energyModel(fed, Condition::Found).reservoirs)
                if (const auto v = bench.storeVolts(reservoir.point); v && !reservoir.unit)
                    QVERIFY2(*v <= reservoir.v0_v * 1.01, qPrintable(QString::number(*v)));
        }

        Bench pins(job, 2, {});
        const double at_once_v = *play(pins, {"probe pins"})->value;
        QVERIFY(at_once_v > 1);
        QVERIFY(*play(pins, {"wait 10", "probe pins"})->value < 0.1);
    }

    void sameSeedSameAnswer()
    {
        const Json input{
            {"job", Json::parse(writeJob(demo("beacon-float-charge")))}, {"seed", 11}, {"fault", "any"}};
        QCOMPARE(benchPlay(input).dump(), benchPlay(input).dump());
        std::set<std::string> faults;
        for (int seed = 0; seed < 60; ++seed) {
            Json other = input;
            other["seed"] = seed;
            other["moves"] = Json::array();
            faults.insert(benchPlay(other)["fault"].get<std::string>());
        }
        QVERIFY(faults.size() > 3);
    }

    void refused_data()
    {
        QTest::addColumn<QString>("move");
        for (const char* move : {"", "jump", "wait", "wait -3", "wait soon", "load", "load 12", "discharge",
                                 "probe nowhere", "ohms somewhere", "load nowhere 22R",
                                 "discharge nowhere 22R", "plug_in twice", "discharge bulk 4k7 5 5"})
            QTest::newRow(move[0] != 0 ? move : "empty") << QString::fromUtf8(move);
    }
    void refused()
    {
        QFETCH(QString, move);
        if (move == QLatin1String("load 12"))
            return; // twelve ohms
        try {
            played(demo("beacon-float-charge"), {"look", move.toUtf8().constData()});
            QFAIL("taken");
        } catch (const DocumentError& error) {
            QCOMPARE(QString::fromStdString(error.path()), QStringLiteral("/moves/1"));
            QVERIFY(std::string(error.what()).size() > 5);
        }
    }

    void sound_data() { test::everyJobFile(); }
    /// Law 12: worked by its own procedure a sound unit gives every reading inside its window, and nothing
    /// that is done at it is wrong.
    void sound()
    {
        QFETCH(QString, file);
        const Job job = readJob(test::sourceFile(qPrintable(file)));
        // A thousand by hand: OFFSHOOT_SEEDS=1000.
        const int seeds =
            qEnvironmentVariableIsSet("OFFSHOOT_SEEDS") ? qEnvironmentVariableIntValue("OFFSHOOT_SEEDS") : 3;
        const auto target = unitTarget(job);
        Job unread = job;
        unread.log.clear();
        const Evaluation planned = evaluateWhole({unread, 0});
        const double arrives_v = planned.load_v.value_or(planned.planned_v.value_or(0));
        const bool meant = target && within(arrives_v, target->min_v, target->max_v);
        for (int seed = 0; seed < seeds; ++seed) {
            RehearsedJob rehearsed(job, static_cast<std::uint64_t>(seed), {});
            while (rehearsed.step() != nullptr)
                rehearsed.carryOut();
            const Bench& bench = rehearsed.bench();
            const ProcedurePlay& play = rehearsed.played();
            std::size_t read = 0;
            for (const PlayedMove& move : play.moves) {
                const std::string what =
                    "seed " + std::to_string(seed) + ", " + move.step + ": " + move.answer.move.text();
                QVERIFY2(!move.answer.wrong,
                         (what + ": " + (move.answer.wrong ? move.answer.wrong->would : "")).c_str());
                if (!move.judgement || !move.judgement->place)
                    continue; // recorded, whatever it is
                ++read;
                const auto& window = *move.window;
                if (move.because.find("need's window") != std::string::npos && !meant)
                    continue; // that judges a plan that is not what is asked for
                QVERIFY2(!move.outside(), (what + ": " + std::to_string(*move.answer.reading->value) +
                                           " in " + std::to_string(window.min.value_or(-INFINITY)) + " to " +
                                           std::to_string(window.max.value_or(INFINITY)))
                                              .c_str());
            }
            QVERIFY(read > 5);
            QVERIFY(!bench.live());
            QCOMPARE(bench.changed(), changesAnything(job));
        }
    }

    /// Every exercise has its job, and faults that its unit can have; a wrong move is never part of one done.
    void exercisesStand()
    {
        QCOMPARE(exercises().size(), std::size_t{10});
        std::set<std::string_view> ids;
        for (const Exercise& exercise : exercises()) {
            ids.insert(exercise.id);
            const Job job = exerciseJob(exercise, demo(std::string(exercise.job).c_str()));
            std::set<std::string> faults;
            for (std::uint64_t seed = 0; seed < 40; ++seed)
                faults.insert(faultOf(exercise, job, seed).text());
            QCOMPARE(static_cast<std::ptrdiff_t>(faults.size()),
                     1 + std::ranges::count(exercise.faults, ','));
            RehearsedJob rehearsed(job, 1, faultOf(exercise, job, 1));
            QVERIFY(!missing(exercise, rehearsed, std::nullopt).empty());
            rehearsed.play(benchMoveFrom("plug_in", {}));
            QCOMPARE(missing(exercise, rehearsed, rehearsed.benches().fault()),
                     std::string("Not without a wrong move."));
        }
        QCOMPARE(ids.size(), exercises().size());
    }

    /// A whole job is done when its last step is, on a unit without a fault; with one, when that is named.
    void wholeJobs()
    {
        for (const Exercise& exercise : exercises()) {
            if (exercise.goal != Goal::WholeJob)
                continue;
            const Job job = exerciseJob(exercise, demo(std::string(exercise.job).c_str()));
            RehearsedJob sound(job, 2, {});
            QVERIFY(!missing(exercise, sound, std::nullopt).empty());
            while (sound.step() != nullptr)
                sound.carryOut();
            QCOMPARE(missing(exercise, sound, std::nullopt), std::string());
            QVERIFY(!missing(exercise, sound, UnitFault{}).empty());
            const UnitFault fault = possibleFaults(job).front();
            RehearsedJob faulty(job, 2, fault);
            while (faulty.step() != nullptr)
                faulty.carryOut();
            if (faulty.benches().wrongs().empty()) {
                QVERIFY(!missing(exercise, faulty, std::nullopt).empty());
                QCOMPARE(missing(exercise, faulty, fault), std::string());
            }
        }
    }

    /// To have read a reservoir is not to have read it dead; power takes the proof away.
    void readDead()
    {
        for (const Exercise& exercise : exercises()) {
            if (exercise.goal != Goal::ProveDead)
                continue;
            RehearsedJob rehearsed(exerciseJob(exercise, demo(std::string(exercise.job).c_str())), 1, {});
            const auto play = [&](const std::string& move) { rehearsed.play(benchMoveFrom(move, {})); };
            const auto readAll = [&] {
                for (const TrueReservoir& one : rehearsed.bench().unit().reservoirs(false))
                    play("probe " + one.point);
                return missing(exercise, rehearsed, std::nullopt);
            };
            const std::string charged = readAll();
            QVERIFY2(charged.starts_with("Not read below 10 V: "), charged.c_str());
            for (const TrueReservoir& one : rehearsed.bench().unit().reservoirs(false)) {
                play("probe " + one.point);
                play("discharge 4k7");
                play("wait 7200");
            }
            QVERIFY(!missing(exercise, rehearsed, std::nullopt).empty());
            const std::string left = readAll();
            QVERIFY2(left.empty(), (std::string(exercise.id) + ": " + left).c_str());
        }
    }

    void gates_data() { test::everyJobFile(); }
    /// In its own order the procedure meets every gate of the isolation state; out of it the gate says why.
    void gates()
    {
        QFETCH(QString, file);
        RehearsedJob rehearsed(readJob(test::sourceFile(qPrintable(file))), 5, {});
        while (const StepView* view = rehearsed.step()) {
            const std::string why = refusal(view->step.kind, rehearsed.isolation());
            if (view->step.kind != StepKind::Isolate)
                QVERIFY2(why.empty(), (view->step.id + ": " + why).c_str());
            rehearsed.carryOut();
        }
        RehearsedJob jumped(readJob(test::sourceFile(qPrintable(file))), 5, {});
        QVERIFY(!refusal(StepKind::Touch, jumped.isolation()).empty());
        for (std::size_t unit = 1; unit <= jumped.benches().count(); ++unit) {
            QCOMPARE(jumped.isolation().state, Isolation::Live); // until the last plug is out
            jumped.play(benchMoveFrom("unplug #" + std::to_string(unit), {}));
        }
        QVERIFY(jumped.isolation().state != Isolation::Live);
    }

    /// A battery that was connected holds the output while the plug is out: no resistor takes it down, and a
    /// hand finds it. Taken off, the output drains.
    void battery()
    {
        const Job job = demo("beacon-float-charge");
        Bench bench(job, 4, {});
        const auto play = [&](const char* move) { return bench.play(benchMoveFrom(move, {})); };
        for (const char* move :
             {"discharge bulk 4k7 60", "wait 200", "discharge bulk 4k7 60", "discharge 24V 47R 60", "fit",
              "lamp_in", "plug_in", "probe 24V", "unplug", "lamp_out", "plug_in", "probe 24V", "unplug",
              "discharge bulk 4k7 60", "discharge 24V 47R 60", "connect_load"})
            play(move);
        QVERIFY(bench.batteryConnected());
        play("discharge 24V 47R 60");
        const double held_v = *play("probe 24V").reading->value;
        QVERIFY2(held_v > 20 && held_v < 28, QByteArray::number(held_v));
        QCOMPARE(play("ohms bottom").wrong->what, WrongMove::OhmmeterOnCharge);
        play("disconnect_load");
        play("discharge 24V 47R 60");
        QVERIFY(*play("probe 24V").reading->value < 1);
    }

    /// With its fuse out a battery harms nothing whichever way round it is: the volts across the holder tell,
    /// and the fuse is what must not go in.
    void batteryFuse()
    {
        const Job job = demo("beacon-float-charge");
        for (const bool reversed : {false, true}) {
            Bench bench(job, 6, {});
            const auto play = [&](const std::string& move) { return bench.play(benchMoveFrom(move, {})); };
            for (const char* move :
                 {"discharge bulk 4k7 60", "wait 200", "discharge bulk 4k7 60", "discharge 24V 47R 60", "fit",
                  "lamp_in", "plug_in", "probe 24V", "unplug", "lamp_out", "plug_in", "probe 24V", "unplug"})
                QVERIFY2(!play(move).wrong, move);
            QVERIFY(!play(reversed ? "connect_load open reversed" : "connect_load open").wrong);
            QVERIFY(!bench.batteryConnected());
            QVERIFY(std::abs(*play("probe charge").reading->value) < 0.01);
            play("plug_in");
            const double across_v = *play("probe polarity").reading->value;
            const double output_v = *play("probe 24V").reading->value;
            QVERIFY2(reversed ? across_v > output_v + 15 : across_v < 8, QByteArray::number(across_v));
            const BenchAnswer fuse = play("fuse_in");
            QCOMPARE(fuse.wrong.has_value(), reversed);
            if (reversed)
                QCOMPARE(fuse.wrong->what, WrongMove::LoadReversed);
            QCOMPARE(bench.batteryConnected(), !reversed);
        }
    }

    /// A sound unit reads much as another of its kind does.
    void alike()
    {
        RehearsedJob rehearsed(demo("beacon-float-charge"), 3, {});
        while (rehearsed.step() != nullptr)
            rehearsed.carryOut();
        const auto readings = std::ranges::count_if(
            rehearsed.played().moves, [](const PlayedMove& m) { return m.answer.reading.has_value(); });
        const auto all = suspects(rehearsed);
        const auto sound = std::ranges::find(all, UnitFault{}, &Suspect::fault);
        QVERIFY(sound != all.end() && readings > 10);
        const double off_each = sound->off / static_cast<double>(readings);
        QVERIFY2(off_each < 0.2, QByteArray::number(off_each));
    }

    void faults_data()
    {
        QTest::addColumn<QString>("file");
        QTest::addColumn<QString>("fault");
        QTest::addColumn<int>("seeds");
        const QDir jobs(QStringLiteral(OFFSHOOT_SOURCE_DIR "/data/jobs"));
        for (const QString& name : jobs.entryList({QStringLiteral("*.offshoot")})) {
            const QString file = QStringLiteral("data/jobs/") + name;
            const int seeds = name.startsWith(QLatin1String("beacon")) ? 3 : 1;
            for (const UnitFault& fault : possibleFaults(readJob(test::sourceFile(qPrintable(file)))))
                QTest::addRow("%s %s", qPrintable(name.chopped(9)), fault.text().c_str())
                    << file << QString::fromStdString(fault.text()) << seeds;
        }
    }
    /// With each single fault some reading breaks; one of the divider is among the first three that the
    /// diagnosis names, in nine of ten draws.
    void faults()
    {
        QFETCH(QString, file);
        QFETCH(QString, fault);
        QFETCH(int, seeds);
        Job job = readJob(test::sourceFile(qPrintable(file)));
        if (fault.startsWith(QLatin1String("poor_lead")))
            job = exerciseJob(exercises().back(), job);
        if (qEnvironmentVariableIsSet("OFFSHOOT_SEEDS"))
            seeds = qEnvironmentVariableIntValue("OFFSHOOT_SEEDS");
        int broken = 0;
        int named = 0;
        bool divider = false;
        int told = 0;    // of the readings those of this fault are among the nearest three, or as near
        int tripped = 0; // takes it down again and again, whatever it was
        for (int seed = 0; seed < seeds; ++seed) {
            const auto drawn = static_cast<std::uint64_t>(seed);
            const UnitFault put = unitFaultFrom(fault.toStdString(), job, Draw(drawn), "/fault");
            divider = put.kind >= UnitFaultKind::Open && put.kind <= UnitFaultKind::WrongLeg;
            RehearsedJob rehearsed(job, drawn, put);
            while (rehearsed.step() != nullptr && !(divider && rehearsed.played().diagnosis))
                rehearsed.carryOut();
            const auto& moves = rehearsed.played().moves;
            broken +=
                std::ranges::any_of(moves, [](const PlayedMove& m) { return m.answer.wrong || m.outside(); });
            tripped += rehearsed.bench().running().how == Running::How::Hiccups;
            const auto likely = likeliest(suspects(rehearsed));
            told += std::ranges::find(likely, put, &Suspect::fault) != likely.end();
            const auto& diagnosis = rehearsed.played().diagnosis;
            for (std::size_t i = 0; diagnosis && i < std::min<std::size_t>(3, diagnosis->hypotheses.size());
                 ++i) {
                const FaultHypothesis& h = diagnosis->hypotheses[i];
                named += word(h.fault) == word(put.kind) && h.part == put.part;
            }
        }
        qInfo("%s: broke %d, tripped %d, named %d, told %d of %d", qPrintable(fault), broken, tripped, named,
              told, seeds);
        QCOMPARE(broken, seeds);
        if (divider)
            QVERIFY(10 * (named + tripped) >= 9 * seeds);
        QVERIFY(10 * told >= 9 * seeds);
    }
};

REGISTER_TEST(TestRehearse, void)
#include "tst_rehearse.moc"
