// Where what is said turns: each figure of the worked cases and of the jobs goes from half to twice of
// itself, and where words, verdicts or how many there are turn on the way is found to a percent, and, where
// that is a round figure, what is said at the figure itself. Lines in tests/golden/edges, made anew by
// tests/tools/remake: a bound that moved is a line that changed.
#include "calc/calculations.h"
#include "core/evaluate/evaluation.h"
#include "support/golden.h"
#include "support/job_files.h"

#include <QRegularExpression>
#include <algorithm>
#include <cmath>
#include <functional>
#include <set>
#include <unordered_map>

using namespace offshoot;
using namespace Qt::StringLiterals;
using test::Told;

namespace {

using Said = std::set<std::string>;

constexpr const char* not_taken = "refused ";

/// Words without their figures and the units behind them: 12.3 mA and 4 A are one. Most are said many times.
const std::string& withoutFigures(const std::string& text)
{
    static std::unordered_map<std::string, std::string> known;
    const auto [at, is_new] = known.try_emplace(text);
    if (!is_new)
        return at->second;
    static const QRegularExpression figure(
        u"[0-9][0-9.,]*(?:e-?[0-9]+)?(?:[ \\x{A0}\\x{202F}]?[pnµmkMG]?(?:V|A|W|Ω|F|H|s|J|Hz|K|m)\\b)?"_s,
        QRegularExpression::UseUnicodePropertiesOption);
    at->second = QString::fromStdString(text).replace(figure, u"#"_s).toStdString();
    return at->second;
}

/// What one of a list calls itself.
std::string calledIn(const Json& item)
{
    for (const char* key : {"id", "name"})
        if (item.is_object() && item.contains(key) && item[key].is_string())
            return item[key].get<std::string>();
    return "*";
}

void collect(const Json& value, const std::string& at, Said& said)
{
    if (value.is_string())
        said.insert(at + " " + withoutFigures(value.get<std::string>()));
    else if (value.is_null())
        said.insert(at + " null");
    else if (value.is_boolean())
        said.insert(at + (value.get<bool>() ? " true" : " false"));
    else if (value.is_array()) {
        said.insert(at + " of " + std::to_string(value.size()));
        for (const Json& item : value)
            collect(item, at + '/' + calledIn(item), said);
    } else if (value.is_object())
        for (const auto& [key, item] : value.items())
            collect(item, at + '/' + key, said);
}

/// What is answered to an input, and whether it is soon enough to be asked about the turns themselves.
struct Answers
{
    std::function<Json(const Json&)> to;
    bool soon;
};

/// Of a job its rows, what each step says and whether it waits, and whether what is asked there has a window.
Json jobAnswer(const Json& input)
{
    const Evaluation evaluation = evaluate(jobFrom(input), 0);
    Json all = Json::object();
    for (const ConsequenceRow& row : evaluation.consequences.rows)
        all[Told::text(row.id)] = word(row.verdict);
    for (const StepView& view : evaluation.steps) {
        Json& step = all[view.step.id];
        step["says"] = view.step.title;
        step["waits"] = view.step.wait_s.has_value();
        for (const Asked& asked : view.step.asks)
            step[asked.name()] = asked.window.has_value();
    }
    return all;
}

Said saidTo(const Json& input, const Answers& answers)
{
    Said said;
    try {
        collect(answers.to(input), "", said);
    } catch (const DocumentError& error) {
        said.insert(not_taken + error.path() + ": " + withoutFigures(error.what()));
    }
    return said;
}

/// One figure of an input, put to other values.
class Figure
{
public:
    Figure(const Answers& answers, const Json& input, const Said& as_it_is, const Json::json_pointer& at)
        : m_answers(answers)
        , m_as_it_is(as_it_is)
        , m_input(input)
        , m_at(at)
        , m_is(input.at(at).get<double>())
        , m_whole(input.at(at).is_number_integer())
    {}

    void tell(Told& told)
    {
        double from = 0.5;
        Said before = said(from);
        for (const double to : {1.0, 2.0}) {
            const Said end = to == 1 ? m_as_it_is : said(to);
            constexpr int most_turns = 4;
            for (int turns = 0; before != end && turns < most_turns; ++turns)
                before = tellTurn(told, from, before, to, end);
            from = to;
            before = end;
        }
    }

private:
    Said said(double times) { return saidOf(times * m_is); }
    Said saidOf(double value)
    {
        if (m_whole)
            m_input.at(m_at) = static_cast<std::int64_t>(std::lround(value));
        else
            m_input.at(m_at) = value;
        return saidTo(m_input, m_answers);
    }
    /// The first turn behind `from`, which moves there; what is said behind it.
    Said tellTurn(Told& told, double& from, const Said& before, double to, Said after)
    {
        constexpr double near_enough = 1.01;
        while (to > near_enough * from) {
            const double middle = std::sqrt(from * to);
            Said there = said(middle);
            if (there == before) {
                from = middle;
            } else {
                to = middle;
                after = std::move(there);
            }
        }
        told.line(m_at.to_string(),
                  QByteArray::number(m_whole ? std::round(to * m_is) : to * m_is, 'g', 3).toStdString() +
                      onRoundFigure(from * m_is, to * m_is),
                  only(before, after), "then", only(after, before));
        from = to;
        return after;
    }
    /// Where the turn between two values is at a round figure: what is said at that figure itself.
    std::string onRoundFigure(double low, double high)
    {
        if (m_whole || low <= 0 || !m_answers.soon)
            return {};
        double round = 0;
        for (int digits = 1; round == 0; ++digits) {
            const double step = std::pow(10, std::floor(std::log10(high)) + 1 - digits);
            if (const double least = std::ceil(low / step) * step; least <= high)
                round = QByteArray::number(least, 'g', digits).toDouble(); // 5.1, not fifty-one tenths
        }
        constexpr double beside = 1e-9;
        const Said below = saidOf(round * (1 - beside));
        const Said above = saidOf(round * (1 + beside));
        if (below == above)
            return {};
        const Said there = saidOf(round);
        return there == below ? " itself as below" : there == above ? " itself as above" : " itself apart";
    }
    /// What one of them says and the other does not.
    static std::string only(const Said& one, const Said& other)
    {
        if (other.size() == 1 && other.begin()->starts_with(not_taken))
            return "taken";
        std::vector<std::string> all;
        std::ranges::set_difference(one, other, std::back_inserter(all));
        constexpr std::size_t most = 2;
        constexpr std::size_t longest = 160;
        std::string made;
        for (std::size_t i = 0; i < std::min(most, all.size()); ++i)
            made += (i == 0 ? "" : " + ") + all[i].substr(0, longest);
        return made + (all.size() > most ? " …" : "");
    }

    const Answers& m_answers;
    const Said& m_as_it_is;
    Json m_input;
    Json::json_pointer m_at;
    double m_is;
    bool m_whole;
};

} // namespace

class TestEdges : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void cases_data() { test::everyCaseFile(); }
    void cases()
    {
        QFETCH(QByteArray, file);
        const Json document = parseJson(test::sourceFile("tests/cases/" + file));
        const Calculation* calculation = findCalculation(document["calculation"].get<std::string>());
        Told told;
        std::set<std::string> tried;
        for (const Json& item : document["cases"])
            if (item["input"].is_structured())
                tellInput({calculation->run, true}, item["input"], tried, told);
        test::compareGolden(QStringLiteral("edges/") + QString::fromUtf8(file).chopped(5), told.text());
    }

    /// Where a job holds a figure that one before it held, that is its name that is known, not this one.
    void jobs()
    {
        Told told;
        std::set<std::string> tried;
        for (const char* folder : {"data/jobs/", "tests/jobs/"})
            for (const QString& name :
                 QDir(QStringLiteral(OFFSHOOT_SOURCE_DIR "/") + QLatin1StringView(folder))
                     .entryList(QDir::Files)) {
                told.line(name.toStdString());
                tellInput({jobAnswer, false}, parseJson(test::sourceFile(QByteArray(folder) + name.toUtf8())),
                          tried, told);
            }
        test::compareGolden(QStringLiteral("edges/jobs"), told.text());
    }

private:
    /// Every figure of an input of which the name was not tried.
    static void tellInput(const Answers& answers, const Json& input, std::set<std::string>& tried, Told& told)
    {
        const Said as_it_is = saidTo(input, answers);
        for (const Json::json_pointer& at : test::places(input))
            if (!at.empty() && at.back() != "version" && input.at(at).is_number() &&
                tried.insert(test::nameOf(at)).second)
                Figure(answers, input, as_it_is, at).tell(told);
    }
};

REGISTER_TEST(TestEdges, void)
#include "tst_edges.moc"
