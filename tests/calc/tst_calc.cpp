// offshoot-calc as an outsider uses it: the program itself, its exit codes, and odd input.
#include "calc/calculations.h"
#include "support/support.h"

#include <QDir>
#include <QProcess>
#include <QTemporaryFile>
#include <algorithm>
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

/// One that the calculation answers: of its worked cases, or a demo job for a whole job.
Json workedInput(const QByteArray& name)
{
    if (name.startsWith("job."))
        return {{"job", parseJson(test::sourceFile("data/jobs/beacon-float-charge.offshoot"))},
                {"now_s", 2e9}};
    const Json document = parseJson(test::sourceFile(("tests/cases/" + name + ".json").constData()));
    const auto worked = std::ranges::find_if(
        document["cases"], [](const Json& c) { return c.contains("expect") && c["input"].is_object(); });
    return worked == document["cases"].end() ? Json() : (*worked)["input"];
}

bool allFinite(const Json& value)
{
    if (value.is_structured())
        return std::ranges::all_of(value, allFinite);
    return !value.is_number_float() || std::isfinite(value.get<double>());
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

    /// Each has a worked input, and is read by the program as by the library.
    void everyCalculation_data()
    {
        QTest::addColumn<QByteArray>("name");
        for (const Calculation& calculation : calculations())
            QTest::addRow("%s", calculation.name.data()) << QByteArray(calculation.name.data());
    }
    void everyCalculation()
    {
        QFETCH(QByteArray, name);
        const Json input = workedInput(name);
        QVERIFY(input.is_object());
        const Answer answer = calc({QString::fromUtf8(name)}, QByteArray::fromStdString(input.dump()));
        QVERIFY2(answer.status == 0, answer.err.constData());
        const Json expected = findCalculation(name.toStdString())->run(input);
        QVERIFY(Json::parse(answer.out.toStdString()) == Json::parse(expected.dump()));
        const Json schema = Json::parse(calc({QString::fromUtf8(name), u"--schema"_s}).out.toStdString());
        const bool job = name.startsWith("job.");
        const Json& keys = job ? schema["anyOf"][1]["properties"] : schema["properties"];
        for (const auto& [key, value] : input.items())
            QVERIFY2(keys.contains(key), key.c_str());
    }

    /// The supply part of a job file is what `consequences` takes.
    void consequencesOfJobFiles_data()
    {
        QTest::addColumn<QString>("file");
        for (const QString& file :
             QDir(QStringLiteral(OFFSHOOT_SOURCE_DIR "/data/jobs")).entryList({u"*.offshoot"_s}))
            QTest::addRow("%s", qPrintable(file)) << file;
    }
    void consequencesOfJobFiles()
    {
        QFETCH(QString, file);
        const Json job = parseJson(test::sourceFile((u"data/jobs/"_s + file).toUtf8().constData()));
        const Json& rail = job["found"]["rails"][0];
        const double v_v = job["need"]["target"]["v"];
        Json input{{"supply", job["found"]}, {"mains", job["need"]["mains"]}, {"load", job["need"]["load"]}};
        input["supply"]["rails"][0]["v_v"] = rail.value("v_v", v_v);
        input["plan"][rail["name"].get<std::string>()] = {{"v_v", v_v}, {"i_a", 0.5}};
        const Answer answer = calc({u"consequences"_s}, QByteArray::fromStdString(input.dump()));
        QVERIFY2(answer.status == 0, answer.err.constData());
        const Json result = Json::parse(answer.out.toStdString());
        QVERIFY(result["allowed_current_a"].contains(rail["name"].get<std::string>()));
        int broken = 0;
        QVERIFY(result["rows"].size() >= 3);
        for (const Json& row : result["rows"]) {
            const std::string id = row["id"];
            broken += row["verdict"] == "breaks" ? 1 : 0;
            QVERIFY2(!row["formula"].get<std::string>().empty(), id.c_str());
            if (row["verdict"] == "fits")
                QVERIFY2(row["use"].is_null() || row["use"] <= 1.0 + 1e-9, id.c_str());
            if (row["verdict"] == "unknown")
                QVERIFY2(row["planned"].is_null() || row["limit"].is_null() || row["use"].is_null(),
                         id.c_str());
        }
        QCOMPARE(result["verdict"] == "breaks", broken > 0);
    }

    /// Every worked input with one value made odd: an answer without NaN, or a refusal with a place.
    void oddInput()
    {
        const std::vector<Json> odd{-1,  0,       1e15, 1e-15,         0.5,
                                    "x", nullptr, true, Json::array(), Json::object()};
        int answered = 0;
        int refused = 0;
        for (const QString& file :
             QDir(QStringLiteral(OFFSHOOT_SOURCE_DIR "/tests/cases")).entryList({u"*.json"_s})) {
            if (file == u"rectifier.dropper.json"_s)
                continue; // simulates a dozen times for each answer
            const Json document =
                parseJson(test::sourceFile((u"tests/cases/"_s + file).toUtf8().constData()));
            const Calculation* calculation = findCalculation(document["calculation"].get<std::string>());
            std::mt19937 random(41); // a further file leaves what the others are asked as it is
            for (int i = 0; i < 60; ++i) {
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
                    const Json result = calculation->run(input);
                    QVERIFY2(allFinite(result), input.dump().substr(0, 500).c_str());
                    ++answered;
                } catch (const DocumentError& error) {
                    QVERIFY(error.path().empty() || error.path().front() == '/');
                    ++refused;
                }
            }
        }
        QVERIFY(answered > 150 && refused > 600);
    }
};

REGISTER_TEST(TestCalc, QCoreApplication)
#include "tst_calc.moc"
