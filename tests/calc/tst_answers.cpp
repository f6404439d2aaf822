// Every answer of every worked case, whole; what of it differs where one figure is a third more or half of
// it; what is refused when one is not there, is of another kind, negative, beyond all bounds, empty or there
// twice, and what does not go with what is there; the bounds of its schema. Lines in tests/golden/answers,
// made anew by tests/tools/remake: tst_cases says what must be right, here whatever else changes is a
// finding.
#include "calc/calculations.h"
#include "support/golden.h"
#include "support/job_files.h"

#include <algorithm>
#include <map>
#include <numeric>
#include <set>

using namespace offshoot;
using test::Told;

namespace {

constexpr std::size_t told_whole = 16;

/// Long rows of numbers by how many they are, their ends and their mean.
Json shortened(const Json& value)
{
    if (value.is_array() && value.size() > told_whole &&
        std::ranges::all_of(value, [](const Json& item) { return item.is_number(); })) {
        const auto all = value.get<std::vector<double>>();
        const auto [low, high] = std::ranges::minmax(all);
        return Json{{"count", all.size()},
                    {"from", low},
                    {"to", high},
                    {"mean", std::accumulate(all.begin(), all.end(), 0.0) / static_cast<double>(all.size())}};
    }
    Json made = value;
    if (value.is_structured())
        for (auto& item : made)
            item = shortened(item);
    return made;
}

/// What of `now` differs from `was`: keys, and places in lists.
Json changed(const Json& was, const Json& now)
{
    if (was.type() != now.type() || !now.is_structured() || (now.is_array() && was.size() != now.size()))
        return shortened(now);
    Json made = Json::object();
    std::size_t place = 0;
    for (const auto& [key, item] : now.items()) {
        const bool there = now.is_array() || was.contains(key);
        const Json& before = now.is_array() ? was[place] : there ? was[key] : now;
        if (!there || before != item)
            made[key] = changed(before, item);
        ++place;
    }
    return made;
}

std::string refusal(const DocumentError& error)
{
    return error.path() + ": " + std::string(wordFor(error.code())) + ": " + error.what();
}

std::vector<Json> insteadOf(const Json& value)
{
    if (value.is_number())
        return {-1, 1e30, "no such word"};
    if (value.is_string())
        return {"", "no such word", 7};
    if (value.is_array() && !value.empty()) {
        Json twice = value;
        twice.push_back(value.front());
        return {Json::array(), twice, 7};
    }
    return {7};
}

/// By the name of an object, what its keys are in any case, and a value of each.
using KnownKeys = std::map<std::string, std::map<std::string, Json>>;

KnownKeys keysOf(const Json& cases)
{
    KnownKeys known;
    for (const Json& item : cases)
        for (const Json::json_pointer& at : test::places(item["input"]))
            if (const Json& object = item["input"].at(at); object.is_object())
                for (const auto& [key, value] : object.items())
                    known[test::nameOf(at)].try_emplace(key, value);
    return known;
}

} // namespace

class TestAnswers : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void answers_data() { test::everyCaseFile(); }
    void answers()
    {
        QFETCH(QByteArray, file);
        const Json document = parseJson(test::sourceFile("tests/cases/" + file));
        const Calculation* calculation = findCalculation(document["calculation"].get<std::string>());
        Told told;
        const Json schema = calculation->schema().flatten();
        for (const auto& [at, bound] : schema.items())
            if (bound.is_number())
                told.line("schema", at, bound);
        std::set<std::string> tried;
        std::set<std::string> refused;
        const KnownKeys known = keysOf(document["cases"]);
        for (const Json& item : document["cases"]) {
            Json input;
            Json answer;
            try {
                input =
                    item["input"].is_string() ? parseJson(item["input"].get<std::string>()) : item["input"];
                answer = calculation->run(input);
                told.line(item["title"].get<std::string>(), shortened(answer));
            } catch (const DocumentError& error) {
                told.line(item["title"].get<std::string>(), refusal(error));
                continue;
            }
            for (const Json::json_pointer& at : test::places(input))
                if (!at.empty() && tried.insert(test::nameOf(at)).second) {
                    refuse(*calculation, input, at, refused);
                    if (input.at(at).is_number()) {
                        vary(*calculation, input, at, answer, told);
                        endWhereItBegins(*calculation, input, at, told);
                    }
                }
            refuseTogether(*calculation, input, known, refused);
            if (input.contains("text"))
                misspell(*calculation, input, told);
        }
        for (const std::string& line : refused)
            told.line(line);
        test::compareGolden(QStringLiteral("answers/") + QString::fromUtf8(file).chopped(5), told.text());
    }

private:
    static void vary(const Calculation& calculation, const Json& input, const Json::json_pointer& at,
                     const Json& answer, Told& told)
    {
        constexpr std::size_t told_of_each = 300;
        for (const double by : {1.33, 0.5}) {
            Json other = input;
            other.at(at) = by * input.at(at).get<double>();
            try {
                const std::string what = Told::text(changed(answer, calculation.run(other)));
                told.line(at.to_string(), by, what.substr(0, told_of_each));
            } catch (const DocumentError& error) {
                told.line(at.to_string(), by, refusal(error));
            }
        }
    }
    /// Text with each letter once not there, once twice.
    static void misspell(const Calculation& calculation, const Json& input, Told& told)
    {
        const auto text = input["text"].get<std::string>();
        for (std::size_t i = 0; i < text.size(); ++i)
            for (const std::string& middle : {std::string(), std::string(2, text[i])}) {
                const std::string misspelt = text.substr(0, i) + middle + text.substr(i + 1);
                Json other = input;
                other["text"] = misspelt;
                try {
                    told.line(misspelt, calculation.run(other));
                } catch (const DocumentError& error) {
                    told.line(misspelt, refusal(error));
                }
            }
    }
    /// What ends where it begins is a range, or is not.
    static void endWhereItBegins(const Calculation& calculation, const Json& input,
                                 const Json::json_pointer& at, Told& told)
    {
        const std::string key = at.back();
        const std::size_t min = key.find("min");
        if (min == std::string::npos)
            return;
        const Json::json_pointer other = at.parent_pointer() / std::string(key).replace(min, 3, "max");
        if (!input.contains(other) || !input.at(other).is_number())
            return;
        Json changed = input;
        changed.at(at) = input.at(other);
        try {
            calculation.run(changed);
            told.line(at.to_string(), "as its end", "taken");
        } catch (const DocumentError& error) {
            told.line(at.to_string(), "as its end", refusal(error));
        }
    }
    /// What does not go with what is there: each key that an object has in another case.
    static void refuseTogether(const Calculation& calculation, const Json& input, const KnownKeys& known,
                               std::set<std::string>& refused)
    {
        for (const Json::json_pointer& at : test::places(input)) {
            const auto keys = known.find(test::nameOf(at));
            if (!input.at(at).is_object() || keys == known.end())
                continue;
            for (const auto& [key, value] : keys->second) {
                if (input.at(at).contains(key))
                    continue;
                Json changed = input;
                changed.at(at)[key] = value;
                try {
                    calculation.run(changed);
                } catch (const DocumentError& error) {
                    refused.insert("with " + test::nameOf(at / key) + ": " + refusal(error));
                }
            }
        }
    }
    static void refuse(const Calculation& calculation, const Json& input, const Json::json_pointer& at,
                       std::set<std::string>& refused)
    {
        const auto attempt = [&](const Json& changed) {
            try {
                calculation.run(changed);
            } catch (const DocumentError& error) {
                refused.insert(refusal(error));
            }
        };
        for (const Json& other : insteadOf(input.at(at))) {
            Json changed = input;
            changed.at(at) = other;
            attempt(changed);
        }
        Json without = input;
        Json& parent = without.at(at.parent_pointer());
        if (parent.is_object()) {
            parent.erase(at.back());
            attempt(without);
        }
    }
};

REGISTER_TEST(TestAnswers, void)
#include "tst_answers.moc"
