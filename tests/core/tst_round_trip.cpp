// What a job file may lack: keys taken away, zeroed, swapped and doubled at random in every demo job.
// Whatever is still read must be written so that it reads the same again, and be judged without a fault.
#include "core/evaluate/evaluation.h"
#include "support/spoiler.h"

#include <QDir>
#include <algorithm>

using namespace offshoot;
using namespace Qt::StringLiterals;

class TestRoundTrip : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void readsTheSameAgain_data()
    {
        QTest::addColumn<QString>("file");
        for (const QString& file :
             QDir(QStringLiteral(OFFSHOOT_SOURCE_DIR "/data/jobs")).entryList({u"*.offshoot"_s}))
            QTest::addRow("%s", qPrintable(file)) << file;
    }
    void readsTheSameAgain()
    {
        QFETCH(QString, file);
        const Json whole = Json::parse(test::sourceFile((u"data/jobs/"_s + file).toUtf8().constData()));
        int read = 0;
        int refused = 0;
        for (unsigned seed = 0; seed < 40; ++seed) {
            Json spoilt = whole;
            test::Spoiler spoiler(seed);
            std::string what;
            for (unsigned i = 0; i <= seed % 4; ++i)
                what += spoiler.spoil(spoilt) + "; ";
            try {
                const Job job = jobFrom(spoilt);
                try {
                    QVERIFY2(readJob(writeJob(job)) == job, what.c_str());
                } catch (const DocumentError& error) {
                    QFAIL((what + error.path() + ": " + error.what()).c_str());
                }
                const Evaluation e = evaluate(job, job.log.empty() ? 0 : job.log.back().time_s);
                for (const ConsequenceRow& row : e.consequences.rows) {
                    for (const auto& figure : {row.found, row.planned, row.limit, row.use})
                        QVERIFY2(!figure || std::isfinite(*figure), what.c_str());
                }
                ++read;
            } catch (const DocumentError& error) {
                QVERIFY2(error.path().empty() || error.path().front() == '/', what.c_str());
                ++refused;
            }
        }
        QVERIFY(read > 10 && refused > 3);
    }

    /// Parts that a file may hold with any of their optional figures.
    void partialParts_data()
    {
        QTest::addColumn<QByteArray>("place");
        QTest::addColumn<QByteArray>("whole");
        QTest::newRow("NTC")
            << QByteArray("/found/mains_side/surge/ntc")
            << QByteArray(R"({"r25_ohm":10,"b_k":3000,"t_cold_k":283,"t_hot_k":420,"energy_max_j":40})");
        QTest::newRow("relay") << QByteArray("/plan/limiter")
                               << QByteArray(
                                      R"({"r_ohm":27,"power_w":25,"pulse_j":100,"fusible":true,"bypass_s":0.5,
                                  "delay_c_f":0.0001,"delay_supply_v":12,"delay_threshold_v":6})");
        QTest::newRow("battery")
            << QByteArray("/need/load/battery")
            << QByteArray(R"({"v_flat_v":21,"r_ohm":0.15,"i_charge_max_a":5,"capacity_c":86400,"fuse_a":5})");
        QTest::newRow("cable") << QByteArray("/found/rails/0/cable")
                               << QByteArray(
                                      R"({"r_loop_ohm":0.04,"length_m":3,"area_m2":1.5e-6,"conductors":2,
                                  "contact_ohm":0.001,"temperature_k":300})");
        QTest::newRow("joint") << QByteArray("/found/joint")
                               << QByteArray(
                                      R"({"v_set_v":24.1,"r_out_ohm":0.01,"i_limit_a":3,"limit":"shutdown",
                                  "lead_length_m":1,"lead_area_m2":1e-6,"bonded":"negative","isolation_v":500})");
        QTest::newRow("limit")
            << QByteArray("/found/current_limit")
            << QByteArray(R"({"threshold":{"v_v":0.5,"tolerance":0.1},"shunt":"0.1","shunt_tolerance":0.05,
                                  "part_power_w":1,"lead_ohm":0.001,"in_loop":true,"primary_side":false,"hiccup_duty":0.5})");
        QTest::newRow("need")
            << QByteArray("/need")
            << QByteArray(R"({"target":{"v":27.6,"min_v":27.3,"max_v":27.9},"current_a":2,"least_a":0.1,
                                  "peak_a":3,"draws":"power","ripple_max_v":0.1,"why":"w","must_not_change":"m"})");
    }
    void partialParts()
    {
        QFETCH(QByteArray, place);
        QFETCH(QByteArray, whole);
        const Json part = Json::parse(whole.toStdString());
        std::vector<std::string> keys;
        for (const auto& [key, value] : part.items())
            keys.push_back(key);
        Json demo = Json::parse(test::sourceFile("data/jobs/beacon-float-charge.offshoot"));
        demo["log"] = Json::array(); // it has no part in it
        int read = 0;
        for (unsigned subset = 0; subset < 1U << keys.size(); ++subset) {
            Json some = Json::object();
            for (std::size_t i = 0; i < keys.size(); ++i)
                if ((subset >> i & 1U) != 0)
                    some[keys[i]] = part[keys[i]];
            Json file = demo;
            file[Json::json_pointer(place.toStdString())] = some;
            try {
                const Job job = jobFrom(file);
                try {
                    QVERIFY2(readJob(writeJob(job)) == job, some.dump().c_str());
                } catch (const DocumentError& error) {
                    QFAIL((some.dump() + ": " + error.path() + ": " + error.what()).c_str());
                }
                ++read;
            } catch (const DocumentError&) {
                continue; // what belongs together is missing
            }
        }
        QVERIFY(read > 3);
    }
};

REGISTER_TEST(TestRoundTrip, void)
#include "tst_round_trip.moc"
