// Reading and writing documents: the strict parser, and one description of a struct as reader, writer and
// schema.
#include "core/calculate/divider_search.h"
#include "core/calculate/reading.h"
#include "support/support.h"

#include <algorithm>
#include <random>

using namespace offshoot;

namespace {

enum class Shade { Light, Dark };

struct Inner
{
    double ohm = 0;
    Json unknown = {};
    bool operator==(const Inner&) const = default;
};
void fields(Fields& f, Inner& value) { f.need("ohm", value.ohm, range::positive); }

/// One of everything a document can hold.
struct Sample
{
    double need_v = 0;
    double may_v = 3;
    std::optional<double> maybe_v = {};
    std::int64_t count = 2;
    bool flag = false;
    std::optional<bool> maybe_flag = {};
    std::string name = "x";
    Shade shade = Shade::Light;
    std::optional<Network> network = {};
    Inner inner = {.ohm = 1};
    std::optional<Inner> maybe_inner = {};
    std::vector<Inner> list = {};
    std::vector<double> numbers = {};
    std::vector<std::string> words = {};
    Json unknown = {};
    bool operator==(const Sample&) const = default;
};

void fields(Fields& f, Sample& value)
{
    f.need("need_v", value.need_v, range::positive);
    f.may("may_v", value.may_v, {-5, 5});
    f.may("maybe_v", value.maybe_v, range::fraction);
    f.may("count", value.count, 1, 9);
    f.may("flag", value.flag);
    f.may("maybe_flag", value.maybe_flag);
    f.may("name", value.name, name_length);
    f.may("shade", value.shade);
    f.may("network", value.network);
    f.may("inner", value.inner);
    f.may("maybe_inner", value.maybe_inner);
    f.may("list", value.list, {0, 3});
    f.may("numbers", value.numbers, range::not_negative, {0, 4});
    f.may("words", value.words, {0, 3});
}

} // namespace

namespace offshoot {
template <>
struct Words<Shade>
{
    static constexpr std::array<std::string_view, 2> list{"light", "dark"};
};
} // namespace offshoot

class TestDocuments : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void parser_data()
    {
        QTest::addColumn<QByteArray>("text");
        QTest::addColumn<QByteArray>("code"); // empty: it reads
        const auto row = [](const char* name, const QByteArray& text, const char* code) {
            QTest::newRow(name) << text << QByteArray(code);
        };
        row("object", "{\"a\": [1, 2.5, \"x\", null, true]}", "");
        row("surrounded by blanks", " \n{}\t", "");
        row("a number alone", "17", "");
        row("64 deep", QByteArray(64, '[') + QByteArray(64, ']'), "");
        row("65 deep", QByteArray(65, '[') + QByteArray(65, ']'), "not_json");
        row("a million deep", QByteArray(1000000, '['), "not_json");
        row("nothing", "", "not_json");
        row("two values", "1 2", "not_json");
        row("a comment", "{} // no", "not_json");
        row("not a number", "NaN", "not_json");
        row("trailing comma", "[1,]", "not_json");
        row("half a surrogate", "\"\xed\xa0\x80\"", "not_json");
        row("not UTF-8", "\"\xc3\"", "not_json");
        row("beyond a double", "{\"a\": [0, 1e400]}", "out_of_range");
        row("beyond a double, behind one of each",
            R"({"a": [{"b": [null, true, "x", -1, 2, 0.5, {}, []]}, 1e400]})", "out_of_range");
        for (const char* before : {"null", "false", "\"x\"", "-1", "2", "0.5", "{}", "[]"})
            row(before, QByteArray("{\"a\": [") + before + ", 1e400]}", "out_of_range");
        row("smaller than a double", "{\"a\": 1e-400}", "");
    }
    void parser()
    {
        QFETCH(QByteArray, text);
        QFETCH(QByteArray, code);
        try {
            const Json read = parseJson({text.constData(), static_cast<std::size_t>(text.size())});
            QVERIFY2(code.isEmpty(), read.dump().c_str());
        } catch (const DocumentError& error) {
            QCOMPARE(QByteArray(wordFor(error.code()).data()), code);
            if (error.code() == ErrorCode::OutOfRange)
                QCOMPARE(error.path(), std::string("/a/1"));
            QVERIFY(*error.what() != '\0');
        }
    }

    /// Brackets nest as deep as anybody needs, and no deeper.
    void brackets()
    {
        const auto deep = [](std::size_t levels) {
            return parseNetwork(std::string(levels, '(') + "1k" + std::string(levels, ')'));
        };
        QVERIFY(deep(50) && deep(50)->ohm() == 1000);
        QVERIFY(!deep(51) && deep(51).problem().position == 50);
        const std::string beside = "(1k)+(1k)"; // one after the other is not one in the other
        std::string many = beside;
        for (int i = 0; i < 3; ++i)
            many += '+' + beside;
        QVERIFY(static_cast<bool>(parseNetwork(many)));
    }

    void pointers()
    {
        QCOMPARE(jsonPath("", "a"), std::string("/a"));
        QCOMPARE(jsonPath("/a", "b/c~d"), std::string("/a/b~1c~0d"));
        QCOMPARE(jsonPath("/a", 7), std::string("/a/7"));
    }

    void defaults()
    {
        const auto read = readJson<Sample>(Json{{"need_v", 2}});
        QCOMPARE(read, (Sample{.need_v = 2}));
        // null counts as absent, everywhere
        QCOMPARE(
            readJson<Sample>(Json{{"need_v", 2}, {"may_v", nullptr}, {"list", nullptr}, {"name", nullptr}}),
            read);
        // an integer may be written 3.0
        QCOMPARE(readJson<Sample>(Json{{"need_v", 2}, {"count", 3.0}}).count, std::int64_t{3});
        // less than the smallest counts as zero where zero is allowed
        QCOMPARE(readJson<Sample>(Json{{"need_v", 2}, {"maybe_v", 1e-20}}).maybe_v, std::optional(0.0));
    }

    void refuses_data()
    {
        QTest::addColumn<QByteArray>("text");
        QTest::addColumn<QByteArray>("code");
        QTest::addColumn<QByteArray>("path");
        const auto row = [](const char* text, const char* code, const char* path) {
            QTest::newRow(text) << QByteArray(text) << QByteArray(code) << QByteArray(path);
        };
        row("{}", "missing", "/need_v");
        row(R"({"need_v": null})", "missing", "/need_v");
        row(R"({"need_v": 0})", "out_of_range", "/need_v");
        row(R"({"need_v": 1e-16})", "out_of_range", "/need_v");
        row(R"({"need_v": 1e16})", "out_of_range", "/need_v");
        row(R"({"need_v": "2"})", "wrong_type", "/need_v");
        row(R"({"need_v": true})", "wrong_type", "/need_v");
        row(R"({"need_v": 1, "may_v": 5.1})", "out_of_range", "/may_v");
        row(R"({"need_v": 1, "maybe_v": 1})", "out_of_range", "/maybe_v");
        row(R"({"need_v": 1, "count": 2.5})", "wrong_type", "/count");
        row(R"({"need_v": 1, "count": 0})", "out_of_range", "/count");
        row(R"({"need_v": 1, "flag": 1})", "wrong_type", "/flag");
        row(R"({"need_v": 1, "name": ""})", "out_of_range", "/name");
        row(R"({"need_v": 1, "name": 4})", "wrong_type", "/name");
        row(R"({"need_v": 1, "shade": "grey"})", "out_of_range", "/shade");
        row(R"({"need_v": 1, "shade": 1})", "wrong_type", "/shade");
        row(R"({"need_v": 1, "network": "4k7k"})", "unreadable", "/network");
        row(R"({"need_v": 1, "network": 0})", "out_of_range", "/network");
        row(R"({"need_v": 1, "network": "0"})", "out_of_range", "/network");
        row(R"({"need_v": 1, "inner": {}})", "missing", "/inner/ohm");
        row(R"({"need_v": 1, "inner": []})", "wrong_type", "/inner");
        row(R"({"need_v": 1, "list": [{"ohm": 1}, {"ohm": -1}]})", "out_of_range", "/list/1/ohm");
        row(R"({"need_v": 1, "list": {}})", "wrong_type", "/list");
        row(R"({"need_v": 1, "list": [{"ohm":1},{"ohm":1},{"ohm":1},{"ohm":1}]})", "out_of_range", "/list");
        row(R"({"need_v": 1, "numbers": [1, -1]})", "out_of_range", "/numbers/1");
        row(R"({"need_v": 1, "words": [1]})", "wrong_type", "/words/0");
        row(R"({"need_v": 1, "later": 1})", "unknown_key", "/later");
        row(R"({"need_v": 1, "inner": {"ohm": 1, "a/b": 1}})", "unknown_key", "/inner/a~1b");
    }
    void refuses()
    {
        QFETCH(QByteArray, text);
        QFETCH(QByteArray, code);
        QFETCH(QByteArray, path);
        try {
            (void)readJson<Sample>(parseJson(text.toStdString()));
            QFAIL("it was read");
        } catch (const DocumentError& error) {
            QCOMPARE(QByteArray(wordFor(error.code()).data()), code);
            QCOMPARE(QByteArray::fromStdString(error.path()), path);
        }
    }

    /// What is written reads back; absent values are null or left out; kept keys come back in place.
    void roundTrips()
    {
        std::mt19937 random(81);
        const auto chance = [&] { return random() % 2 == 0; };
        for (int i = 0; i < 300; ++i) {
            Sample sample{.need_v = 0.5 + static_cast<double>(random() % 1000)};
            if (chance())
                sample.maybe_v = 0.25;
            if (chance())
                sample.maybe_flag = chance();
            if (chance())
                sample.network = *parseNetwork("10k||68k+330");
            if (chance())
                sample.maybe_inner = Inner{.ohm = 47};
            sample.list.resize(random() % 4, Inner{.ohm = 12});
            sample.shade = chance() ? Shade::Dark : Shade::Light;
            sample.numbers.assign(random() % 5, 1.5);
            sample.words.assign(random() % 4, "µ \"quoted\"");
            for (NullPolicy nulls : {NullPolicy::WriteNull, NullPolicy::Omit}) {
                const Json written = writeJson(sample, nulls);
                QCOMPARE(written.contains("maybe_v"),
                         nulls == NullPolicy::WriteNull || sample.maybe_v.has_value());
                QCOMPARE(readJson<Sample>(parseJson(written.dump())), sample);
            }
            Json later = writeJson(sample);
            later["later"] = {1, 2};
            later["inner"]["later"] = "x";
            const auto kept = readJson<Sample>(later, UnknownKeys::Keep);
            const Json again = writeJson(kept);
            QVERIFY(again["later"] == later["later"] && again["inner"]["later"] == "x");
        }
    }

    /// The schema names every key, its range and whether it must be there.
    void schema()
    {
        const Json schema = schemaOf<Sample>("sample");
        const Json& keys = schema["properties"];
        QCOMPARE(keys.size(), 14u);
        QVERIFY(schema["required"] == Json::array({"need_v"}));
        QVERIFY(schema["additionalProperties"] == false);
        QVERIFY(keys["shade"].dump().find("dark") != std::string::npos);
        QVERIFY(keys["list"].dump().find("maxItems") != std::string::npos);
        QVERIFY(schemaOf<Sample>("sample", UnknownKeys::Keep).dump().find("\"additionalProperties\":false") ==
                std::string::npos);
        // A stock item's own rule: it stops before it is hot.
        QVERIFY_THROWS_EXCEPTION(
            DocumentError, readJson<StockItem>(
                               Json{{"ohm", 10}, {"tolerance", 0.01}, {"t_rated_k", 400}, {"t_max_k", 350}}));
    }
};

REGISTER_TEST(TestDocuments, void)
#include "tst_documents.moc"
