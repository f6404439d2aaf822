// Captures: the transform against its definition for every size, energy kept, files as oscilloscopes write
// them, and what cannot be read said with its line. Kinds of supply by their clues: each kind is found by its
// own looks.
#include "core/calculate/capture.h"
#include "core/calculate/identify.h"
#include "core/calculate/load_survey.h"
#include "core/calculate/spectrum.h"
#include "support/support.h"

#include <cmath>
#include <numbers>
#include <random>

using namespace offshoot;

namespace {

std::string fileOf(std::size_t lines, const std::string& separator, const std::string& head)
{
    std::string text = head;
    for (std::size_t i = 0; i < lines; ++i)
        text +=
            std::to_string(i) + separator + std::to_string(i % 7) + separator + std::to_string(i % 5) + "\n";
    return text;
}

} // namespace

class TestCapture : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void spectrum()
    {
        std::mt19937 random(4);
        std::normal_distribution<double> noise;
        for (const std::size_t n : {16U, 17U, 18U, 30U, 49U, 97U, 128U, 143U}) {
            std::vector<double> x(n);
            for (double& value : x)
                value = noise(random);
            const auto got = spectrumOf(x);
            QCOMPARE(got.size(), n / 2 + 1);
            for (std::size_t j = 0; j < got.size(); ++j) {
                std::complex<double> sum = 0;
                for (std::size_t k = 0; k < n; ++k)
                    sum += x[k] * std::polar(1.0, -2 * std::numbers::pi * static_cast<double>(j * k % n) /
                                                      static_cast<double>(n));
                QVERIFY2(std::abs(got[j] - sum) < 1e-9, std::to_string(n).c_str());
            }
        }
        // A prime number of samples: energy in time is energy in frequency.
        constexpr std::size_t prime = 100003;
        std::vector<double> x(prime);
        double energy = 0;
        for (double& value : x) {
            value = noise(random);
            energy += value * value;
        }
        const auto got = spectrumOf(x);
        double found = std::norm(got.front());
        for (std::size_t j = 1; j < got.size(); ++j)
            found += 2 * std::norm(got[j]);
        QNEAR(found / static_cast<double>(prime), energy, 1e-9);
    }

    /// A tone between two bins is found where it is, as large as it is, however it is scaled and however
    /// long.
    void tones()
    {
        std::mt19937 random(8);
        for (int i = 0; i < 200; ++i) {
            const std::size_t n = 64 + random() % 400;
            const double dt_s = 1e-4;
            const double bins = 4 + static_cast<double>(random() % 1000) / 1000 * static_cast<double>(n) / 6;
            const double f_hz = bins / (static_cast<double>(n) * dt_s);
            const double amplitude = 0.01 + static_cast<double>(random() % 100) / 50;
            CapturedSamples samples{dt_s, {}};
            for (std::size_t k = 0; k < n; ++k)
                samples.values.push_back(
                    5 + amplitude * std::sin(2 * std::numbers::pi * f_hz * static_cast<double>(k) * dt_s));
            const CaptureResult r = captureAnalyse({.samples = samples, .scale = 10});
            QVERIFY(!r.peaks.empty());
            QVERIFY(std::abs(r.peaks.front().f_hz - f_hz) < 0.05 / (static_cast<double>(n) * dt_s));
            QVERIFY(std::abs(r.peaks.front().amplitude / (10 * amplitude) - 1) < 0.03);
            QCOMPARE(r.coarse, f_hz > 0.2 / dt_s);
            QVERIFY(r.pp <= 20 * amplitude * (1 + 1e-9) && r.pp_98 <= r.pp && r.crest >= 1);
            const CaptureCompareResult same =
                captureCompare({.before = {.samples = samples}, .after = {.samples = samples}});
            QNEAR(*same.pp_ratio, 1.0, 1e-12);
            QVERIFY(same.comparable && same.lines.front().ratio == 1.0);
        }
    }

    /// What turns with every sample may be twice what it looks like: its phase is not known. Where that is
    /// the largest, the samples are too coarse.
    void turningWithEverySample()
    {
        for (const double beside : {0.45, 0.55}) {
            CapturedSamples samples{1e-4, {}};
            for (int k = 0; k < 200; ++k)
                samples.values.push_back(std::sin(2 * std::numbers::pi * 0.1 * k) +
                                         (k % 2 == 0 ? beside : -beside));
            QCOMPARE(captureAnalyse({.samples = samples}).coarse, beside > 0.5);
        }
    }

    void files_data()
    {
        QTest::addColumn<std::string>("csv");
        QTest::addColumn<QByteArray>("path");
        QTest::addColumn<QByteArray>("says");
        const auto row = [](const char* name, const std::string& csv, const char* path, const char* says) {
            QTest::newRow(name) << csv << QByteArray(path) << QByteArray(says);
        };
        row("commas", fileOf(20, ",", "s,V,A\n"), "", "");
        row("tabs and returns", fileOf(20, "\t", "Logger\r\ns\tV\tA\r\n"), "", "");
        row("no heading, empty lines at the end", fileOf(20, ";", "") + "\n\n", "", "");
        row("cells that are empty at the end", fileOf(20, ",", "s,V,A,,,\n"), "", "");
        row("nothing", "", "/csv", "no line has a time and a value");
        row("too short", fileOf(15, ",", "s,V,A\n"), "/csv", "fewer than 16");
        row("text in the middle", fileOf(20, ",", "s,V,A\n") + "20,off,3\n", "/csv", "line 22:");
        row("a blank line in the middle", fileOf(20, ",", "") + "\n" + "20,1,1\n", "/csv", "line 21:");
        row("time runs back", fileOf(20, ",", "") + "3,1,1\n", "/csv", "line 21: time does not rise");
        row("a gap", fileOf(20, ",", "") + "21,1,1\n", "/csv", "more than 1 %");
    }
    void files()
    {
        QFETCH(std::string, csv);
        QFETCH(QByteArray, path);
        QFETCH(QByteArray, says);
        QByteArray got;
        QByteArray message;
        try {
            const CaptureResult r = captureAnalyse({.csv = csv});
            QCOMPARE(r.n, 20);
            QNEAR(r.dt_s, 1.0, 1e-12);
            QCOMPARE(r.pp, 6.0);
            QCOMPARE(captureAnalyse({.csv = csv, .column = std::int64_t{2}}).pp, 4.0);
        } catch (const DocumentError& error) {
            got = QByteArray::fromStdString(error.path());
            message = error.what();
        }
        QCOMPARE(got, path);
        QVERIFY2(message.contains(says), message.constData());
    }

    /// What every kind looks like leads to that kind, by asking what is said to tell most.
    void kindsAreFound()
    {
        std::mt19937 random(6);
        for (std::size_t kind = 0; kind < Words<Topology>::list.size(); ++kind)
            for (int i = 0; i < 40; ++i) {
                const auto topology = static_cast<Topology>(kind);
                IdentifyInput in;
                IdentifyResult r = supplyIdentify(in);
                std::int64_t left = r.left;
                while (r.next) {
                    std::vector<ClueAnswer> seen;
                    for (const ClueAnswer answer : answersOf(*r.next))
                        if (admits(topology, *r.next, answer))
                            seen.push_back(answer);
                    in.clues.answers.at(static_cast<std::size_t>(*r.next)) = seen.at(random() % seen.size());
                    QVERIFY(*r.worth <= static_cast<double>(left));
                    r = supplyIdentify(in);
                    QVERIFY(r.left >= 1 && r.left <= left); // itself is never ruled out
                    left = r.left;
                }
                const auto own = std::ranges::find(r.kinds, topology, &KindAgainst::topology);
                QVERIFY(own->against.empty());
                QVERIFY(!r.topology || *r.topology == topology);
            }
    }

    /// A larger draw never asks for less, and a state more never for less.
    void surveyLaws()
    {
        std::mt19937 random(2);
        const auto between = [&](double low, double high) {
            return std::uniform_real_distribution(low, high)(random);
        };
        for (int i = 0; i < 200; ++i) {
            LoadSurveyInput in{.rails = {{"5 V", 5}, {"12 V", 12}}, .states = {}};
            for (int s = 0; s < 3; ++s) {
                const double usual_a = between(0, 3);
                in.states.push_back({.name = "s" + std::to_string(s),
                                     .draws = {{.rail = s % 2 == 0 ? "5 V" : "12 V",
                                                .usual_a = usual_a,
                                                .peak_a = usual_a + between(0, 2),
                                                .peak_s = between(0, 2),
                                                .u_a = between(0, 0.1)}}});
            }
            const LoadSurveyResult before = loadSurvey(in);
            QVERIFY(*before.power.diversity <= 1 + 1e-12);
            in.states.push_back({.name = "more", .draws = {{.rail = "5 V", .usual_a = between(0, 4)}}});
            in.states.front().draws.front().u_a += 0.2;
            const LoadSurveyResult after = loadSurvey(in);
            QVERIFY(after.power.continuous_w >= before.power.continuous_w);
            QVERIFY(after.power.peak_w >= before.power.peak_w);
            for (std::size_t r = 0; r < 2; ++r) {
                QVERIFY(after.rails[r].continuous_a >= before.rails[r].continuous_a);
                QVERIFY(after.rails[r].peak_a >= before.rails[r].peak_a);
                QVERIFY(after.rails[r].least_a <= before.rails[r].least_a);
            }
        }
    }
};

REGISTER_TEST(TestCapture, void)
#include "tst_capture.moc"
