// offshoot-calc as an outsider uses it: the program itself, its exit codes, and odd input.
#include "calc/calculations.h"
#include "support/support.h"

#include <QProcess>
#include <QTemporaryFile>
#include <random>

using namespace offshoot;
using namespace Qt::StringLiterals;

namespace {

struct Answer
{
    int status;
    QByteArray out;
    QByteArray err;
};

Answer calc(const QStringList& arguments, const QByteArray& input = {})
{
    QProcess process;
    process.start(QStringLiteral(OFFSHOOT_CALC), arguments);
    process.write(input);
    process.closeWriteChannel();
    if (!process.waitForFinished(20000) || process.exitStatus() != QProcess::NormalExit)
        return {-1, {}, "did not end"};
    return {process.exitCode(), process.readAllStandardOutput(), process.readAllStandardError()};
}

} // namespace

class TestCalc : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void lists()
    {
        const Answer answer = calc({u"--list"_s});
        QCOMPARE(answer.status, 0);
        for (const Calculation& calculation : calculations())
            QVERIFY2(answer.out.contains(calculation.name.data()), calculation.name.data());
    }

    void calculates()
    {
        const QByteArray input = R"({"text":"4k7","quantity":"resistance"})";
        QVERIFY(Json::parse(calc({u"value.parse"_s}, input).out.toStdString())["value"] == 4700);
        QTemporaryFile file;
        QVERIFY(file.open());
        file.write(input);
        file.flush();
        QCOMPARE(calc({u"value.parse"_s, file.fileName()}).out, calc({u"value.parse"_s, u"-"_s}, input).out);
        const Json schema = Json::parse(calc({u"consequences"_s, u"--schema"_s}).out.toStdString());
        QVERIFY(schema["properties"].contains("supply"));
    }

    void refuses_data()
    {
        QTest::addColumn<QStringList>("arguments");
        QTest::addColumn<QByteArray>("input");
        QTest::addColumn<int>("status");
        QTest::addColumn<QByteArray>("code");
        const QStringList parse{u"value.parse"_s};
        QTest::newRow("not JSON") << parse << QByteArray("{") << 2 << QByteArray("not_json");
        QTest::newRow("nothing") << parse << QByteArray() << 2 << QByteArray("not_json");
        QTest::newRow("two values") << parse << QByteArray("{} {}") << 2 << QByteArray("not_json");
        QTest::newRow("too deep") << parse << QByteArray(100, '[') + QByteArray(100, ']') << 2
                                  << QByteArray("not_json");
        QTest::newRow("not UTF-8") << parse << QByteArray("{\"text\":\"\xff\"}") << 2
                                   << QByteArray("not_json");
        QTest::newRow("an array") << parse << QByteArray("[]") << 2 << QByteArray("wrong_type");
        QTest::newRow("missing") << parse << QByteArray("{}") << 2 << QByteArray("missing");
        QTest::newRow("unknown key") << parse << QByteArray(R"({"text":"1","quantity":"voltage","x":1})") << 2
                                     << QByteArray("unknown_key");
        QTest::newRow("huge") << QStringList{u"divider.predict"_s}
                              << QByteArray(R"({"reference":{"v_ref_v":1e400}})") << 2
                              << QByteArray("out_of_range");
        QTest::newRow("no such file") << QStringList{u"value.parse"_s, u"/no/such/file"_s} << QByteArray()
                                      << 2 << QByteArray("not_json");
        QTest::newRow("no such calculation")
            << QStringList{u"nothing"_s} << QByteArray() << 64 << QByteArray();
        QTest::newRow("no such option") << QStringList{u"--nothing"_s} << QByteArray() << 64 << QByteArray();
    }
    void refuses()
    {
        QFETCH(QStringList, arguments);
        QFETCH(QByteArray, input);
        QFETCH(int, status);
        QFETCH(QByteArray, code);
        const Answer answer = calc(arguments, input);
        QCOMPARE(answer.status, status);
        QVERIFY(answer.out.isEmpty());
        if (!code.isEmpty()) {
            const Json error = Json::parse(answer.err.toStdString())["error"];
            QCOMPARE(QByteArray::fromStdString(error["code"]), code);
            QVERIFY(error.contains("path") && !error["message"].get<std::string>().empty());
        }
    }

    /// Every worked input with one value made odd: an answer without NaN, or a refusal with a place.
    void oddInput()
    {
        std::mt19937 random(41);
        const std::vector<Json> odd{-1,  0,       1e15, 1e-15,         0.5,
                                    "x", nullptr, true, Json::array(), Json::object()};
        int answered = 0;
        int refused = 0;
        for (const char* file :
             {"divider.solve", "divider.pot", "divider.tolerance", "divider.predict", "divider.diagnose",
              "reading.judge", "lamp.limit", "discharge.plan", "marking.write"}) {
            const Json document =
                parseJson(test::sourceFile((std::string("tests/cases/") + file + ".json").c_str()));
            const Calculation* calculation = findCalculation(document["calculation"].get<std::string>());
            for (int i = 0; i < 120; ++i) {
                Json input = document["cases"][random() % document["cases"].size()]["input"];
                if (!input.is_object() || input.contains("samples") ||
                    (input.contains("stock") && input["stock"].size() > 60))
                    continue;
                Json* place = &input;
                while (place->is_structured() && !place->empty() && (place == &input || random() % 3 != 0)) {
                    const auto next =
                        std::next(place->begin(), static_cast<std::ptrdiff_t>(random() % place->size()));
                    place = &*next;
                }
                *place = odd[random() % odd.size()];
                try {
                    const std::string text = calculation->run(input).dump();
                    QVERIFY2(text.find("nan") == std::string::npos && text.find("inf") == std::string::npos,
                             text.c_str());
                    ++answered;
                } catch (const DocumentError& error) {
                    QVERIFY(error.path().empty() || error.path().front() == '/');
                    ++refused;
                }
            }
        }
        QVERIFY(answered > 50 && refused > 200);
    }
};

QTEST_GUILESS_MAIN(TestCalc)
#include "tst_calc.moc"
