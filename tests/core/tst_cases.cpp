// Every worked case of tests/cases against the calculation it names, compared as docs/FORMATS.md says.
#include "calc/calculations.h"
#include "support/support.h"

#include <QDir>
#include <algorithm>

using namespace offshoot;
using namespace Qt::StringLiterals;

namespace {

struct Tolerances
{
    double rel;
    double abs;
    Json by_path;
    bool exact_length;
};

std::string briefly(const Json& value) { return value.dump().substr(0, 120); }

/// Adds one line for each place where `got` does not match `want`.
void compare(const Json& want, const Json& got, const Tolerances& t, const std::string& at,
             std::vector<std::string>& out)
{
    const auto differs = [&] { out.push_back(at + ": got " + briefly(got) + ", wanted " + briefly(want)); };
    if (want.is_object() && want.contains("$count")) {
        if (!got.is_array() || got.size() != want["$count"].get<std::size_t>())
            differs();
    } else if (want.is_object() && (want.contains("$any") || want.contains("$none"))) {
        const bool any = want.contains("$any");
        const bool hit = std::any_of(got.begin(), got.end(), [&](const Json& item) {
            std::vector<std::string> inner;
            compare(want[any ? "$any" : "$none"], item, t, at, inner);
            return inner.empty();
        });
        if (hit != any)
            differs();
    } else if (want.is_object()) {
        for (const auto& [key, value] : want.items())
            if (!got.is_object() || !got.contains(key))
                out.push_back(std::string(at).append("/").append(key).append(": missing"));
            else
                compare(value, got[key], t, std::string(at).append("/").append(key), out);
    } else if (want.is_array()) {
        if (!got.is_array() || got.size() < want.size() || (t.exact_length && got.size() != want.size()))
            return differs();
        for (std::size_t i = 0; i < want.size(); ++i)
            compare(want[i], got[i], t, at + '/' + std::to_string(i), out);
    } else if (want.is_number()) {
        const double rel = t.by_path.contains(at) ? t.by_path[at].get<double>() : t.rel;
        if (!got.is_number() || !test::near(got.get<double>(), want.get<double>(), rel, t.abs))
            differs();
    } else if (want != got) {
        differs();
    }
}

Json inputOf(const Json& input)
{
    return input.is_string() ? parseJson(input.get<std::string>()) : parseJson(input.dump());
}

} // namespace

class TestCases : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void matches_data()
    {
        QTest::addColumn<QByteArray>("name");
        QTest::addColumn<QByteArray>("text");
        const QDir folder(QStringLiteral(OFFSHOOT_SOURCE_DIR "/tests/cases"));
        for (const QString& file : folder.entryList({u"*.json"_s})) {
            const Json document =
                parseJson(test::sourceFile((u"tests/cases/"_s + file).toUtf8().constData()));
            for (const Json& item : document["cases"])
                QTest::addRow("%s: %s", qPrintable(file), item["title"].get<std::string>().c_str())
                    << QByteArray::fromStdString(document["calculation"])
                    << QByteArray::fromStdString(item.dump());
        }
    }
    void matches()
    {
        QFETCH(QByteArray, name);
        QFETCH(QByteArray, text);
        const Json item = Json::parse(text.toStdString());
        const Calculation* calculation = findCalculation(name.toStdString());
        QVERIFY(calculation != nullptr);
        std::vector<std::string> differences;
        try {
            const Json got = calculation->run(inputOf(item["input"]));
            QVERIFY2(!item.contains("error"), "it should have been refused");
            const Tolerances t{item.value("rel", 1e-6), item.value("abs", 1e-12),
                               item.value("tol", Json::object()), item.value("exact_length", false)};
            compare(item["expect"], got, t, "", differences);
        } catch (const DocumentError& error) {
            QVERIFY2(item.contains("error"), error.what());
            QCOMPARE(std::string(wordFor(error.code())), item["error"]["code"].get<std::string>());
            if (item["error"].contains("path"))
                QCOMPARE(error.path(), item["error"]["path"].get<std::string>());
        }
        QVERIFY2(differences.empty(), differences.empty() ? "" : differences.front().c_str());
    }

    /// The same input gives byte-identical output, and every schema is an object schema.
    void deterministic()
    {
        const Json document = parseJson(test::sourceFile("tests/cases/divider.tolerance.json"));
        const Calculation* calculation = findCalculation("divider.tolerance");
        for (const Json& item : document["cases"])
            if (item.contains("expect"))
                QCOMPARE(calculation->run(inputOf(item["input"])).dump(),
                         calculation->run(inputOf(item["input"])).dump());
    }
    void schemas()
    {
        for (const Calculation& calculation : calculations()) {
            const Json schema = calculation.schema();
            QVERIFY(schema["type"] == "object");
            QVERIFY2(!calculation.description.empty(), calculation.name.data());
            QVERIFY_THROWS_EXCEPTION(DocumentError, calculation.run(Json::array()));
            QVERIFY_THROWS_EXCEPTION(DocumentError, calculation.run(Json{{"no_such_key", 1}}));
        }
    }
};

REGISTER_TEST(TestCases, void)
#include "tst_cases.moc"
