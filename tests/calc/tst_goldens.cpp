// The answers of job.evaluate for every demo job and every job of tests/jobs stand in tests/golden: what a
// change does to procedures, windows and verdicts stands in its diff. tests/tools/remake makes them
// anew.
#include "calc/calculations.h"
#include "core/evaluate/whole_job.h"
#include "support/job_files.h"
#include "support/support.h"

using namespace offshoot;

class TestGoldens : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void answers_data() { test::everyJobFile(); }
    void answers()
    {
        QFETCH(QString, file);
        const Json job = parseJson(test::sourceFile(qPrintable(file)));
        const Json answer = findCalculation("job.evaluate")->run(job);
        const QString name = file.section(QLatin1Char('/'), -1).section(QLatin1Char('.'), 0, 0);
        const Json golden =
            parseJson(test::sourceFile(qPrintable(QStringLiteral("tests/golden/%1.json").arg(name))));
        for (const auto& [key, value] : golden.items())
            QVERIFY2(answer.contains(key), key.c_str());
        for (const auto& [key, value] : answer.items()) {
            if (!golden.contains(key) || golden[key] != value) {
                const QByteArray difference =
                    QByteArray::fromStdString(Json::diff(golden.value(key, Json()), value).dump(1));
                QFAIL((key + ": " + difference.left(2000).toStdString() + "\nmeant? tests/tools/remake")
                          .c_str());
            }
        }
    }

    /// Wrapped with a time, the same; a time of its own moves the isolation alone. Keys are held to.
    void input()
    {
        const Json job = parseJson(test::sourceFile("data/jobs/beacon-float-charge.offshoot"));
        QCOMPARE(jobEvaluate(Json{{"job", job}}).dump(), jobEvaluate(job).dump());
        const Json later = jobEvaluate(Json{{"job", job}, {"now_s", 4e9}});
        QCOMPARE(later["steps"].size(), jobEvaluate(job)["steps"].size());
        const auto refused = [](const Json& in) {
            try {
                jobEvaluate(in);
            } catch (const DocumentError& error) {
                return QByteArray::fromStdString(std::string(wordFor(error.code())) + " " + error.path());
            }
            return QByteArray();
        };
        QCOMPARE(refused(Json{{"job", job}, {"when", 3}}), QByteArray("unknown_key /when"));
        QCOMPARE(refused(Json{{"job", Json{{"version", 999}}}}), QByteArray("out_of_range /job/version"));
        QCOMPARE(refused(Json::array()), QByteArray("wrong_type "));
        QCOMPARE(refused(Json::object()), QByteArray("missing /version"));
        QVERIFY(findCalculation("job.report")
                    ->run(job)["html"]
                    .get<std::string>()
                    .starts_with("<!DOCTYPE html>"));
    }
};

REGISTER_TEST(TestGoldens, void)
#include "tst_goldens.moc"
