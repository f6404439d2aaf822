// Captures in a job: files become readings in the units of their point, before stands beside after, what
// keeps a verdict from counting is said, and the simulated oscilloscope is read as what it was made of.
#include "core/calculate/capture_outline.h"
#include "core/evaluate/captures_view.h"
#include "core/evaluate/log_line.h"
#include "core/evaluate/report.h"
#include "core/rehearse/bench.h"
#include "support/support.h"

#include <cmath>
#include <numbers>

using namespace offshoot;

namespace {

constexpr double pi = std::numbers::pi;

/// A known sum: the mains' second harmonic, a switching line, and a spike now and then.
CaptureTrace sumOf(double mains_v, double switching_v, double spike_v = 0, double dt_s = 2e-6)
{
    CaptureTrace trace{0, dt_s, {}};
    const auto count = static_cast<std::size_t>(0.1 / dt_s);
    for (std::size_t i = 0; i < count; ++i) {
        const double t_s = static_cast<double>(i) * dt_s;
        trace.values.push_back(mains_v * std::sin(2 * pi * 100 * t_s) +
                               switching_v * std::sin(2 * pi * 50e3 * t_s) + (i % 4999 == 7 ? spike_v : 0));
    }
    return trace;
}

LogEntry logged(Job& job, LogEntry entry, ReadingStage stage, std::optional<ReadingLoad> load)
{
    entry.id = nextLogId(job);
    entry.stage = stage;
    entry.load = load;
    job.log.push_back(entry);
    return entry;
}

const ReadingLoad two_amps{2, Quantity::Current};

} // namespace

class TestCapturesView : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void study_data()
    {
        QTest::addColumn<double>("mains");
        QTest::addColumn<double>("switching");
        for (const auto& [mains, switching] :
             {std::pair{0.02, 0.005}, {0.001, 0.03}, {0.0, 0.01}, {0.015, 0.0}})
            QTest::addRow("%g and %g", mains, switching) << mains << switching;
    }
    /// The roots of the mean squares of known sines, by themselves and in all.
    void study()
    {
        QFETCH(double, mains);
        QFETCH(double, switching);
        const CaptureStudy s = captureStudy(sumOf(mains, switching), 50, {}, false);
        const auto near = [](double got, double wanted) {
            return std::abs(got - wanted) <= 1e-3 * (std::abs(wanted) + 1e-3);
        };
        QVERIFY(near(s.parts.mains, mains / std::numbers::sqrt2));
        QVERIFY(near(s.parts.switching, switching / std::numbers::sqrt2));
        const auto squared = [](double v) { return v * v; };
        QVERIFY(near(std::sqrt(squared(s.parts.mains) + squared(s.parts.switching) + squared(s.parts.wander) +
                               squared(s.parts.rest)),
                     s.saw.ripple_rms));
        QCOMPARE(s.switching_seen, switching > 0);
        for (const NamedLine& line : namedLines(s)) {
            QVERIFY(line.of != LineOf::Other);
            QCOMPARE(line.harmonic, line.of == LineOf::Mains ? 2 : 1);
        }
        // The outline over frequency runs to half the sampling rate and has each sine at its place, no more.
        const SpectrumOutline& lines = s.spectrum;
        const auto at = [&lines](double f_hz) {
            return lines.amplitude.at(
                static_cast<std::size_t>(std::log(f_hz / lines.from_hz) / std::log(lines.ratio)));
        };
        QVERIFY(near(lines.from_hz, 10));
        QVERIFY(
            near(lines.from_hz * std::pow(lines.ratio, static_cast<double>(lines.amplitude.size())), 250e3));
        QVERIFY(near(at(100.001), mains));
        QVERIFY(near(at(50.001e3), switching));
        for (const double f_hz : {10.001, 1e3, 10e3, 249e3})
            QVERIFY2(at(f_hz) < 1e-6, QByteArray::number(at(f_hz)));
        // The outline holds every sample.
        const CaptureTrace trace = sumOf(mains, switching);
        QVERIFY(near(std::ranges::max(s.outline.high), std::ranges::max(trace.values)));
        QVERIFY(near(std::ranges::min(s.outline.low), std::ranges::min(trace.values)));
        // So does any stretch of it, with a sample beyond either end.
        const double span_s = trace.dt_s * static_cast<double>(trace.values.size());
        for (const auto& [from, to] :
             {std::pair(0.0, 1.0), {0.3, 0.31}, {0.5, 0.5}, {0.999, 1.2}, {-1.0, 0.01}}) {
            const CaptureOutline part = outlineOf(trace, from * span_s, to * span_s, 50);
            QVERIFY(!part.low.empty() && part.low.size() <= 50 && part.low.size() == part.high.size());
            double low = 1e300;
            double high = -1e300;
            for (std::size_t i = 0; i < trace.values.size(); ++i) {
                const double t_s = static_cast<double>(i) * trace.dt_s;
                if (t_s < from * span_s || t_s > to * span_s)
                    continue;
                low = std::min(low, trace.values[i]);
                high = std::max(high, trace.values[i]);
            }
            QVERIFY(high < low || (std::ranges::min(part.low) <= low + 1e-6 * std::abs(low) &&
                                   std::ranges::max(part.high) >= high - 1e-6 * std::abs(high)));
            QVERIFY(part.from_s <= trace.from_s + std::max(from, 0.0) * span_s + trace.dt_s);
        }
    }

    /// However many samples there are, the outline over frequency ends at half their rate, and holds the
    /// largest of what lies between.
    void spectraOfEveryLength()
    {
        for (std::size_t count = 32; count < 500; ++count) {
            CaptureTrace trace{0, 1e-3, {}};
            for (std::size_t i = 0; i < count; ++i)
                trace.values.push_back(i % 2 == 0 ? 0.1 : -0.1);
            const SpectrumOutline& lines = captureStudy(trace, 50, {}, false).spectrum;
            const double ends_hz =
                lines.from_hz * std::pow(lines.ratio, static_cast<double>(lines.amplitude.size()));
            QVERIFY(std::abs(ends_hz - 500) <= 0.5 * lines.from_hz + 1e-6);
            QVERIFY(lines.amplitude.back() > 0.04);
            QVERIFY(lines.amplitude.back() == std::ranges::max(lines.amplitude));
        }
    }

    void surge()
    {
        CaptureTrace trace{-0.01, 1e-4, std::vector<double>(100, 0)};
        for (int i = 0; i < 900; ++i)
            trace.values.push_back(40 * std::exp(-i / 100.0)); // τ = 10 ms
        const CaptureStudy s = captureStudy(trace, 50, {}, true);
        QCOMPARE(s.surge->peak, 40.0);
        QVERIFY(std::abs(*s.surge->decay_s - 0.01) <= 1.01e-4);
        QVERIFY(std::abs(s.surge->square_time - 40 * 40 * 0.01 / 2) < 0.1);
        QVERIFY(!s.surge->clipped); // the line before it is no clipping
        for (double& value : trace.values)
            value = std::min(value, 30.0);
        QVERIFY(captureStudy(trace, 50, {}, true).surge->clipped);
        trace.values.resize(110);
        QVERIFY(!captureStudy(trace, 50, {}, true).surge->decay_s);
    }

    void headings_data()
    {
        QTest::addColumn<QString>("head");
        QTest::addColumn<QString>("name");
        QTest::addColumn<double>("factor");
        QTest::addColumn<double>("timeFactor");
        QTest::newRow("units in a row") << "Time,CH1\nms,mV\n"
                                        << "CH1" << 1e-3 << 1e-3;
        QTest::newRow("units in brackets") << "time (s),output (V)\n"
                                           << "output (V)" << 1.0 << 1.0;
        QTest::newRow("behind a stroke") << "t/us,probe/A\n"
                                         << "probe/A" << 1.0 << 1e-6;
        QTest::newRow("none") << ""
                              << "" << 1.0 << 1.0;
        QTest::newRow("names only") << "x,y\n"
                                    << "y" << 1.0 << 1.0;
    }
    void headings()
    {
        QFETCH(QString, head);
        QFETCH(QString, name);
        QFETCH(double, factor);
        QFETCH(double, timeFactor);
        const auto all = captureHeadings(head.toStdString() + "0,1\n1,2\n");
        QCOMPARE(all.size(), std::size_t{2});
        QCOMPARE(QString::fromStdString(all[1].name), name);
        QCOMPARE(all[1].factor, factor);
        QCOMPARE(all[0].factor, timeFactor);
    }

    /// Volts at the probe's tip, amperes by its factor; asked for where neither says so.
    void scales()
    {
        const auto file = [](const std::string& unit) {
            std::string text = "Time,a,b\nms," + unit + ",A\n";
            for (int i = 0; i < 200; ++i)
                text += std::to_string(i) + "," + std::to_string(i % 2) + "," + std::to_string(3 * (i % 2)) +
                        "\n";
            return text;
        };
        Job job;
        const CaptureAsk ripple{.path = "x.csv"};
        QCOMPARE(captureMissing(ripple, captureHeadings(file("mV")), job.meter), CaptureMissing::ProbeFactor);
        job.meter.probe_factor = 10;
        QCOMPARE(captureMissing(ripple, captureHeadings(file("mV")), job.meter), CaptureMissing::Nothing);
        const LogEntry entry = captureEntry(ripple, file("mV"), job);
        QCOMPARE(*entry.value, 0.01);
        QCOMPARE(*entry.uncertainty, scope_share * 0.01);
        QCOMPARE(entry.capture->study.saw.dt_s, 1e-3);
        CaptureAsk surge{.path = "x.csv", .point = CapturePoint::Surge};
        QCOMPARE(captureMissing(surge, captureHeadings(file("V")), job.meter), CaptureMissing::AmpsPerVolt);
        job.meter.amps_per_volt = 20;
        QCOMPARE(*captureEntry(surge, file("V"), job).value, 20.0);
        surge.column = std::string("b");
        QCOMPARE(*captureEntry(surge, file("V"), job).value, 3.0); // says amperes: no factor
        const auto refused = [&](const CaptureAsk& ask) {
            try {
                captureEntry(ask, file("V"), job);
            } catch (const DocumentError& error) {
                return error.path();
            }
            return std::string();
        };
        QVERIFY(refused({.path = "x", .column = std::string("b")}).starts_with("/column"));
        QVERIFY(refused({.path = "x", .column = std::int64_t{3}}).starts_with("/column"));
        QVERIFY(refused({.path = "x", .column = std::string("c")}).starts_with("/column"));
    }

    /// Before beside after with the same load; what is in the way of a verdict is said.
    void compared()
    {
        Job job;
        job.need.ripple_max_v = 0.05;
        QVERIFY(capturesView(job).all.empty());
        const auto entry = [&](const CaptureTrace& trace) {
            return captureEntry(CapturePoint::Ripple, trace, job);
        };
        logged(job, entry(sumOf(0.02, 0.004)), ReadingStage::Found, two_amps);
        logged(job, entry(sumOf(0.001, 0.001)), ReadingStage::Found, ReadingLoad{0.2, Quantity::Current});
        auto view = capturesView(job);
        QCOMPARE(view.all.size(), std::size_t{1});
        QVERIFY(!view.all[0].after && view.sentence.find("Capture it again after") != std::string::npos);
        logged(job, entry(sumOf(0.004, 0.004)), ReadingStage::Measured, two_amps);
        view = capturesView(job);
        const ComparedCaptures& both = view.all[0];
        QCOMPARE(both.before->entry.id, job.log[0].id); // of the two the one with the same load
        QVERIFY(both.doubts.empty());
        QCOMPARE(*both.after->verdict, Verdict::Fits);
        QVERIFY2(both.sentence.find("9.7 dB less") != std::string::npos, both.sentence.c_str());
        QVERIFY2(both.sentence.find("100 Hz (mains ×2), from 40 mV to 8 mV") != std::string::npos,
                 both.sentence.c_str());
        // It is judged, drawn and reported.
        const std::string html = reportHtml(reportOf(job, evaluate(job, 0)));
        QVERIFY(html.find("What the oscilloscope saw") != std::string::npos);
        QVERIFY(html.find("polygon") != std::string::npos);

        const LogEntry other = logged(job, entry(sumOf(0.004, 0.004)), ReadingStage::Measured,
                                      ReadingLoad{5, Quantity::Current});
        QVERIFY(capturesView(job).all[0].doubts.front().starts_with("Not with the same load"));
        job.log.push_back({.id = nextLogId(job), .time_s = 0, .kind = LogKind::Strike, .text = other.id});
        QVERIFY(capturesView(job).all[0].doubts.empty());
        // Alike is what differs by a tenth of the larger at most.
        for (const auto& [load_a, alike] :
             {std::pair(1.82, true), {1.79, false}, {2.21, true}, {2.24, false}}) {
            Job loaded;
            logged(loaded, entry(sumOf(0.02, 0.004)), ReadingStage::Found, two_amps);
            logged(loaded, entry(sumOf(0.004, 0.004)), ReadingStage::Measured,
                   ReadingLoad{load_a, Quantity::Current});
            QCOMPARE(capturesView(loaded).all[0].doubts.empty(), alike);
        }
        // Sampled alike is what differs by two at most, and is as long to a factor of five.
        for (const auto& [each_s, share, alike] :
             {std::tuple(1.9e-6, 1.0, true), {2.1e-6, 1.0, false}, {1e-6, 0.25, true}, {1e-6, 0.18, false}}) {
            Job sampled;
            CaptureTrace first = sumOf(0.02, 0.004);
            CaptureTrace second = sumOf(0.004, 0.004, 0, first.dt_s * each_s / 1e-6);
            second.values.resize(static_cast<std::size_t>(share * static_cast<double>(second.values.size())));
            logged(sampled, entry(first), ReadingStage::Found, two_amps);
            logged(sampled, entry(second), ReadingStage::Measured, two_amps);
            const auto doubts = capturesView(sampled).all[0].doubts;
            QCOMPARE(
                std::ranges::none_of(
                    doubts, [](const std::string& doubt) { return doubt.starts_with("Not sampled alike"); }),
                alike);
        }
        // The line that changed most is named, though another is larger.
        Job lesser;
        logged(lesser, entry(sumOf(0.02, 0.008)), ReadingStage::Found, two_amps);
        logged(lesser, entry(sumOf(0.019, 0.002)), ReadingStage::Measured, two_amps);
        const std::string most = capturesView(lesser).all[0].sentence;
        QVERIFY2(most.find("from 16 mV to 4 mV") != std::string::npos, most.c_str());
        // A line that was not there before is named, from crest to crest.
        Job fresh;
        logged(fresh, entry(sumOf(0.02, 0)), ReadingStage::Found, two_amps);
        logged(fresh, entry(sumOf(0.02, 0.006)), ReadingStage::Measured, two_amps);
        const std::string said = capturesView(fresh).all[0].sentence;
        QVERIFY2(said.find(" New: ") != std::string::npos && said.ends_with(", 12 mV."), said.c_str());
        // The file says so and the next reader knows it.
        const Job again = readJob(writeJob(job)); // what is next to nothing is read as nothing
        QCOMPARE(readJob(writeJob(again)), again);
        QCOMPARE(capturesView(again).sentence, capturesView(job).sentence);
    }

    /// What Noise promises of a filter stands beside what was measured.
    void filtered()
    {
        Job job;
        job.found.mains_side.noise = {{.kind = FilterKind::L, .r_ohm = 0.03, .l_h = 10e-6},
                                      {.kind = FilterKind::C, .c_f = 100e-6, .esr_ohm = 0.01}};
        job.found.mains_side.noise_hz = 50e3;
        const auto entry = [&](double switching_v) {
            CaptureTrace trace = sumOf(0.001, switching_v);
            for (std::size_t i = 0; i < trace.values.size();
                 ++i) // the mains themselves are no line of the filter
                trace.values[i] += 0.05 * std::sin(2 * pi * 50 * trace.dt_s * static_cast<double>(i));
            return captureEntry(CapturePoint::Ripple, trace, job);
        };
        logged(job, entry(0.02), ReadingStage::Found, two_amps);
        logged(job, entry(0.002), ReadingStage::Measured, two_amps);
        const auto remarks = capturesView(job).all[0].remarks;
        QCOMPARE(remarks.size(), std::size_t{1});
        QVERIFY2(remarks[0].ends_with("20 dB were measured."), remarks[0].c_str());
        // |0.01 − j0.0318| over j3.14: 39 dB.
        QVERIFY2(remarks[0].starts_with("Noise says that the filter takes 39 dB"), remarks[0].c_str());
    }

    /// Clipped or coarse: no verdict, and no step is answered.
    void doubtful()
    {
        Job job = test::demoJob();
        const Evaluation e = evaluate(job, job.log.back().time_s);
        const auto question = stepAsking(e, "ripple", Quantity::Voltage, {});
        QVERIFY(question);
        CaptureTrace clipped = sumOf(0.02, 0.001);
        for (double& value : clipped.values)
            value = std::min(value, 0.01);
        CaptureTrace coarse = sumOf(0.001, 0.02, 0, 9e-6);
        const std::pair<CaptureTrace, const char*> all[] = {{clipped, "clipped"}, {coarse, "too coarsely"}};
        for (const auto& [trace, word] : all) {
            LogEntry entry = captureEntry(CapturePoint::Ripple, trace, job);
            attachCapture(entry, e);
            QVERIFY(!entry.step);
            for (const bool found : {true, false}) {
                Job other = job;
                logged(other, entry, found ? ReadingStage::Found : ReadingStage::Measured,
                       ReadingLoad{1, Quantity::Current});
                const ComparedCaptures seen = capturesView(other).all[0];
                QVERIFY(!(found ? seen.before : seen.after)->verdict);
                const std::string& doubt = seen.doubts.front();
                QVERIFY2(doubt.starts_with(found ? "Before: " : "After: "), doubt.c_str());
                QVERIFY2(doubt.find(word) != std::string::npos, doubt.c_str());
            }
        }
        LogEntry sound = captureEntry(CapturePoint::Ripple, sumOf(0.02, 0.001), job);
        sound.load = ReadingLoad{*question->asked->load_a, Quantity::Current};
        attachCapture(sound, e);
        QCOMPARE(sound.step.value_or(""), question->view->step.id);
        sound.load =
            ReadingLoad{*question->asked->load_a / 2, Quantity::Current}; // the step asks for full load
        attachCapture(sound, e);
        QVERIFY(!sound.step);
    }

    void simulated_data()
    {
        QTest::addColumn<int>("seed");
        for (int seed = 0; seed < 12; ++seed)
            QTest::addRow("unit %d", seed) << seed;
    }
    /// The simulated oscilloscope in every dialect: what is read of its file is what the unit does.
    void simulated()
    {
        QFETCH(int, seed);
        const Job job = test::demoJob();
        for (const CaptureDialect dialect :
             {CaptureDialect::Comma, CaptureDialect::Semicolon, CaptureDialect::Tab}) {
            Bench bench(job, static_cast<std::uint64_t>(seed), {});
            BenchAnswer seen;
            for (const char* move : {"lamp_in", "plug_in", "probe out", "unplug", "lamp_out", "load 24R",
                                     "plug_in", "capture ripple"})
                seen = bench.play(benchMoveFrom(move, {}));
            QVERIFY(seen.capture);
            const std::string csv = captureFile(*seen.capture, CapturePoint::Ripple, dialect);
            Job with = job;
            with.meter.probe_factor = 1;
            const LogEntry entry = captureEntry({.path = "x"}, csv, with);
            const double real_v = bench.running().ripple_v.front();
            QVERIFY2(std::abs(*entry.value - real_v) < 0.06 * real_v, csv.substr(0, 80).c_str());
            QVERIFY(!entry.capture->study.saw.clipped && !entry.capture->study.saw.coarse);
            const double hz = bench.unit().truth().at("switching_hz");
            QVERIFY(std::ranges::any_of(entry.capture->study.saw.peaks, [&](const SpectralLine& line) {
                return std::abs(line.f_hz - hz) < 100;
            }));
        }
    }

    /// A surge is that of the last time it was switched on; through the lamp it is small.
    void simulatedSurge()
    {
        const Job job = readJob(test::sourceFile("data/jobs/fog-signal-amplifier.offshoot"));
        Bench bench(job, 5, {});
        const auto play = [&](const char* move) { return bench.play(benchMoveFrom(move, {})); };
        QVERIFY(!play("capture surge").capture);
        play("lamp_in");
        play("plug_in");
        const double through_lamp = *play("capture surge").reading->value;
        play("probe out");
        play("unplug");
        play("lamp_out");
        play("plug_in");
        const BenchAnswer bare = play("capture surge semicolon");
        QVERIFY(*bare.reading->value > 3 * through_lamp);
        const auto in = surgeAsFound(job);
        QVERIFY(*bare.reading->value <
                1.05 * inrushDirect(*in).i_peak_a); // which is at the crest of the highest
        QCOMPARE(play("capture surge").capture->values, bare.capture->values);
        QVERIFY_THROWS_EXCEPTION(DocumentError, benchMoveFrom("capture", {}));
        QVERIFY_THROWS_EXCEPTION(DocumentError, benchMoveFrom("capture ripple tabs", {}));
    }

    void logLine_data()
    {
        QTest::addColumn<QString>("text");
        QTest::addColumn<QString>("path");
        QTest::addColumn<QString>("echo");
        QTest::newRow("ripple") << "capture ~/a b.csv ripple @2A"
                                << "~/a b.csv"
                                << "ripple as ~/a b.csv has it, at 2 A";
        QTest::newRow("surge") << "Capture surge x.csv #2"
                               << "x.csv"
                               << "surge as x.csv has it, unit 2";
        QTest::newRow("no load") << "capture x.csv column CH2"
                                 << "x.csv"
                                 << "ripple as x.csv has it; with which load? @2A";
        QTest::newRow("no file") << "capture ripple"
                                 << ""
                                 << "";
        QTest::newRow("bad load") << "capture x.csv @2V"
                                  << ""
                                  << "";
    }
    void logLine()
    {
        QFETCH(QString, text);
        QFETCH(QString, path);
        QFETCH(QString, echo);
        const Job job;
        const LogLine line = readLogLine(text.toStdString(), job, evaluate(job, 0), "");
        QVERIFY(!line.entry);
        QCOMPARE(line.capture.has_value(), !path.isEmpty());
        QCOMPARE(line.problem.empty(), !path.isEmpty());
        if (!line.capture)
            return;
        QCOMPARE(QString::fromStdString(line.capture->path), path);
        QCOMPARE(QString::fromStdString(line.echo), echo);
    }
};

REGISTER_TEST(TestCapturesView, void)
#include "tst_captures_view.moc"
