// Every calculation under another unit of volts and amperes, and another unit of time: names carry their
// quantities, so each figure must come out scaled as its name says. A wrong power of anything shows here.
#include "calc/calculations.h"
#include "support/support.h"

#include <algorithm>
#include <map>

using namespace offshoot;

namespace {

/// By how much figures of a kind grow, by the last word of their names.
using Scale = std::map<std::string, double, std::less<>>;

constexpr double k = 2;
/// Twice the volts and the amperes: resistances, capacitances and times stay.
const Scale electric{{"v", k},     {"a", k},    {"w", k* k},   {"va", k* k},
                     {"volts", k}, {"j", k* k}, {"a2s", k* k}, {"v15", 1 / std::sqrt(k)}};
/// Everything half as fast: frequencies halved, capacitors and chokes doubled, energies too.
const Scale slow{{"s", k}, {"hz", 1 / k}, {"f", k}, {"h", k}, {"j", k}, {"a2s", k}};

double factorOf(std::string key, const Scale& scale)
{
    for (const std::string_view end : {"_max", "_per_day", "_per_m2", "_per_turn"})
        if (key.ends_with(end))
            key.resize(key.size() - end.size());
    const auto found = scale.find(key.substr(key.rfind('_') + 1));
    return found == scale.end() ? 1 : found->second;
}

Json scaled(const Json& value, const Scale& scale, double factor = 1)
{
    if (value.is_object()) {
        Json out = Json::object();
        for (const auto& [key, item] : value.items())
            out[key] = scaled(item, scale, factorOf(key, scale));
        return out;
    }
    if (value.is_array()) {
        Json out = Json::array();
        for (const Json& item : value)
            out.push_back(scaled(item, scale, factor));
        return out;
    }
    return value.is_number() && factor != 1 ? Json(value.get<double>() * factor) : value;
}

/// The first place where two answers differ; empty where they agree.
std::string difference(const Json& got, const Json& want, double within, const std::string& at = "")
{
    if (want.is_number())
        return got.is_number() && test::near(got.get<double>(), want.get<double>(), within, 1e-7)
                   ? ""
                   : at + ": got " + got.dump() + ", wanted " + want.dump();
    if (want.is_structured()) {
        if (got.type() != want.type() || got.size() != want.size())
            return at + ": got " + got.dump().substr(0, 200) + ", wanted " + want.dump().substr(0, 200);
        for (const auto& [key, item] : want.items()) {
            if (key == "planned" || key == "limit")
                continue; // in a row of verdicts: of the quantity it names
            const Json& other = want.is_object() ? got.at(key) : got.at(std::stoul(key));
            if (std::string text = difference(other, item, within, std::string(at).append("/").append(key));
                !text.empty())
                return text;
        }
        return "";
    }
    // Words: what is assumed and advised names figures of its own.
    return got == want || want.is_string() ? "" : at + ": got " + got.dump() + ", wanted " + want.dump();
}

} // namespace

class TestDimensions : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    /// Left out are those with figures of their own: 10 V and 60 V of the dead and the dangerous, fuse sizes.
    void scales_data()
    {
        QTest::addColumn<QByteArray>("name");
        QTest::addColumn<bool>("in_time");
        for (const char* name :
             {"divider.predict", "divider.pot", "divider.tolerance", "divider.solve", "dummyload.options",
              "minimumload.fit", "rails.trim", "limit.shunt", "rewind.options", "sources.parallel",
              "sources.ballast", "cable.drop", "sense.plan", "inrush.direct", "inrush.limiter", "delay.rc",
              "filter.response", "rectifier.simulate", "rectifier.dropper"})
            QTest::addRow("%s, volts and amperes", name) << QByteArray(name) << false;
        for (const char* name : {"inrush.direct", "inrush.limiter", "delay.rc", "filter.response",
                                 "rectifier.simulate", "rectifier.dropper"})
            QTest::addRow("%s, time", name) << QByteArray(name) << true;
    }
    void scales()
    {
        QFETCH(QByteArray, name);
        QFETCH(bool, in_time);
        const Scale& scale = in_time ? slow : electric;
        const Json document = parseJson(test::sourceFile(("tests/cases/" + name + ".json").constData()));
        const Calculation* calculation = findCalculation(name.toStdString());
        const double within =
            name.startsWith("rectifier.") ? 5e-4 : 2e-5; // extremes lie between a simulation's steps
        int compared = 0;
        for (const Json& item : document["cases"]) {
            if (!item.contains("expect") || !item["input"].is_object())
                continue;
            Json input = item["input"];
            if (name == "inrush.limiter" && !input.contains("f_hz"))
                input["f_hz"] = 50; // what is meant otherwise would not scale
            if (input.dump().find("exponential") != std::string::npos)
                continue; // kT/q is what it is
            const std::string title = item["title"];
            try {
                const Json want = scaled(calculation->run(input), scale);
                const std::string text = difference(calculation->run(scaled(input, scale)), want, within);
                QVERIFY2(text.empty(), (title + ": ").append(text).c_str());
            } catch (const DocumentError& error) {
                QFAIL((title + ": " + error.path() + " " + error.what()).c_str());
            }
            ++compared;
        }
        QVERIFY(compared > 0);
    }
};

REGISTER_TEST(TestDimensions, void)
#include "tst_dimensions.moc"
