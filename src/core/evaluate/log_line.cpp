#include "core/evaluate/log_line.h"

#include "core/values/format.h"
#include "core/values/typed_words.h"

#include <algorithm>
#include <cmath>

namespace offshoot {

std::vector<LogPoint> logPoints(const Job& job)
{
    std::vector<LogPoint> points;
    for (const Rail& rail : job.found.rails)
        points.push_back({rail.name, Quantity::Voltage, false});
    for (const LogPoint& usual :
         {LogPoint{"out", Quantity::Voltage, false}, LogPoint{"bulk", Quantity::Voltage, false},
          LogPoint{"mains", Quantity::Voltage, true}, LogPoint{"in", Quantity::Voltage, true},
          LogPoint{"ref", Quantity::Voltage, true}, LogPoint{"ripple", Quantity::Voltage, true},
          LogPoint{"surge", Quantity::Current, true}, LogPoint{"load", Quantity::Current, true},
          LogPoint{"line", Quantity::Current, true}, LogPoint{"earth", Quantity::Resistance, false},
          LogPoint{"top", Quantity::Resistance, false}, LogPoint{"bottom", Quantity::Resistance, false},
          LogPoint{"temp", Quantity::Temperature, false}, LogPoint{"pins", Quantity::Voltage, false},
          LogPoint{"insulation", Quantity::Resistance, false}})
        if (std::none_of(points.begin(), points.end(),
                         [&](const LogPoint& p) { return p.name == usual.name; }))
            points.push_back(usual);
    if (!job.others.empty())
        points.insert(points.end(), {{"lead", Quantity::Current, true},
                                     {"difference", Quantity::Voltage, true},
                                     {"node", Quantity::Voltage, true},
                                     {"bond", Quantity::Resistance, false},
                                     {"load-earth", Quantity::Resistance, false},
                                     {"leakage", Quantity::Voltage, true}});
    if (job.need.load.kind == LoadKind::Battery)
        points.push_back({"polarity", Quantity::Voltage, true});
    if (job.plan.route == Route::TemporaryTrimmer)
        points.push_back({std::string(trimmer_point), Quantity::Resistance, false});
    if (job.plan.limiter)
        points.push_back({"bypass", Quantity::Time, true});
    if (job.plan.shunt)
        points.push_back({"limit", Quantity::Current, true});
    for (const Secondary& secondary : job.found.mains_side.transformer.secondaries)
        points.push_back({secondary.name, Quantity::Voltage, true});
    if (!job.found.mains_side.transformer.primaries.empty())
        points.push_back({"phase", Quantity::Voltage, false});
    if (const RectifierChain* chain = plannedChain(job))
        for (std::size_t i = 0; i < chain->filter.size(); ++i)
            if (chain->filter[i].kind == SmoothingKind::C)
                points.push_back({chainPartName(*chain, std::to_string(i)), Quantity::Voltage, false});
    return points;
}

namespace {

struct Token
{
    std::string text;
    std::size_t at;
};

std::vector<Token> tokens(std::string_view text)
{
    std::vector<Token> list;
    std::size_t i = 0;
    while (i < text.size()) {
        if (text[i] == ' ' || text[i] == '\t') {
            ++i;
            continue;
        }
        const std::size_t from = i;
        while (i < text.size() && text[i] != ' ' && text[i] != '\t')
            ++i;
        list.push_back({std::string(text.substr(from, i - from)), from});
    }
    return list;
}

/// Edit distance, for "did you mean".
std::size_t distance(const std::string& a, const std::string& b)
{
    std::vector<std::size_t> row(b.size() + 1);
    for (std::size_t j = 0; j <= b.size(); ++j)
        row[j] = j;
    for (std::size_t i = 1; i <= a.size(); ++i) {
        std::size_t diagonal = row[0];
        row[0] = i;
        for (std::size_t j = 1; j <= b.size(); ++j) {
            const std::size_t above = row[j];
            row[j] = std::min({row[j] + 1, row[j - 1] + 1, diagonal + (a[i - 1] == b[j - 1] ? 0 : 1)});
            diagonal = above;
        }
    }
    return row[b.size()];
}

constexpr std::array<std::string_view, 9> event_words{"unplugged", "live",  "lamp",  "hunting", "strike",
                                                      "note",      "photo", "meter", "capture"};

class LineReader
{
public:
    LineReader(std::string_view text, const Job& job, const Evaluation& evaluation,
               const std::string& last_point)
        : m_text(text)
        , m_job(job)
        , m_e(evaluation)
        , m_last_point(last_point)
        , m_points(logPoints(job))
        , m_tokens(tokens(text))
    {}

    LogLine run()
    {
        if (m_tokens.empty())
            return {};
        if (!readEvent())
            readReading();
        if (m_line.entry)
            m_line.entry->typed = std::string(m_text);
        return std::move(m_line);
    }

private:
    void fail(const std::string& message, const Token& token, std::string suggestion = {})
    {
        m_line.problem = message;
        m_line.problem_at = token.at;
        m_line.problem_length = token.text.size();
        m_line.suggestion = std::move(suggestion);
    }

    LogEntry& make(LogKind kind)
    {
        return m_line.entry.emplace(LogEntry{.id = "", .time_s = 0, .kind = kind});
    }

    std::string rest(std::size_t token) const
    {
        return token < m_tokens.size() ? std::string(m_text.substr(m_tokens[token].at)) : std::string();
    }

    bool readEvent();
    void sourceOff(const std::string& source);
    void unplugged(const std::string& which);
    void lampEvent();
    void remark(const std::string& word);
    void strikeEvent(const std::string& id);
    void captureEvent();
    bool plainEvent(const std::string& first, const std::string& second);
    void readReading();
    bool takeMarkers(std::vector<Token>& words, LogEntry& entry);
    bool takeLoad(const Token& token, const std::string& text, LogEntry& entry);
    const LogPoint* takePoint(std::vector<Token>& words, std::string& name);
    bool takeValue(const std::vector<Token>& words, const LogPoint& point, LogEntry& entry);
    void understand(const LogPoint& point);

    std::string_view m_text;
    const Job& m_job;
    const Evaluation& m_e;
    const std::string& m_last_point;
    std::vector<LogPoint> m_points;
    std::vector<Token> m_tokens;
    LogLine m_line;
    std::optional<std::string> m_doubt; ///< text behind +-
};

void LineReader::sourceOff(const std::string& source)
{
    make(LogKind::SourceOff).text = source;
    m_line.echo = source + " declared off";
    std::string others;
    for (const std::string& on : m_e.isolation.sources_on)
        if (on != source)
            others += (others.empty() ? "" : ", ") + on;
    if (!others.empty())
        m_line.echo += "; still to declare: " + others;
}

void LineReader::lampEvent()
{
    const auto seen = m_tokens.size() > 1 ? enumFrom<LampSeen>(lowered(m_tokens[1].text)) : std::nullopt;
    if (!seen)
        return fail("lamp in, out, dark, flash, bright or pulsing?", m_tokens.back());
    make(LogKind::Lamp).lamp = seen;
    static constexpr std::array<std::string_view, 6> meanings{"in series",
                                                              "out of the line",
                                                              "no current: open fuse, switch or primary",
                                                              "normal start",
                                                              "a short, or a lamp too small",
                                                              "hiccup: starved or overloaded"};
    m_line.echo = "lamp " + phrase(*seen) + ": " + std::string(meanings.at(static_cast<std::size_t>(*seen)));
}

void LineReader::remark(const std::string& word)
{
    if (m_tokens.size() < 2)
        return fail(word == "note" ? "write the note behind it" : "write the path behind it", m_tokens[0]);
    make(word == "note" ? LogKind::Note : LogKind::Photo).text = rest(1);
    m_line.echo = word + ": " + rest(1);
}

void LineReader::strikeEvent(const std::string& id)
{
    const auto found = std::find_if(m_job.log.begin(), m_job.log.end(),
                                    [&](const LogEntry& entry) { return lowered(entry.id) == id; });
    if (found == m_job.log.end())
        return fail("no entry of that number to strike", m_tokens.back());
    make(LogKind::Strike).text = found->id;
    m_line.echo = "strike " + found->id + (found->typed ? " (" + *found->typed + ")" : "");
}

/// "capture FILE ripple @2A #2 column CH2", in any order; what is none of these is the file.
void LineReader::captureEvent()
{
    CaptureAsk ask;
    LogEntry marked{.id = "", .time_s = 0, .kind = LogKind::Reading};
    std::vector<Token> words(m_tokens.begin() + 1, m_tokens.end());
    if (!takeMarkers(words, marked))
        return;
    if (m_doubt)
        return fail("a capture's doubt is its oscilloscope's", m_tokens.back());
    for (std::size_t i = 0; i < words.size(); ++i) {
        const std::string word = lowered(words[i].text);
        if (const auto point = enumFrom<CapturePoint>(word)) {
            ask.point = *point;
        } else if (word == "column" && i + 1 < words.size()) {
            const std::string& name = words[++i].text;
            const bool number = name.find_first_not_of("0123456789") == std::string::npos && name.size() < 4;
            ask.column = number ? CaptureColumnName(std::int64_t{std::stoi(name)}) : CaptureColumnName(name);
        } else {
            ask.path += (ask.path.empty() ? "" : " ") + words[i].text;
        }
    }
    if (ask.path.empty())
        return fail("write the file behind it", m_tokens.back());
    ask.load = marked.load;
    ask.unit = marked.unit;
    m_line.echo =
        std::string(ask.point == CapturePoint::Surge ? "surge" : "ripple") + " as " + ask.path + " has it";
    if (ask.load)
        m_line.echo += ", at " + formatValue(ask.load->value, ask.load->quantity);
    else if (ask.point == CapturePoint::Ripple)
        m_line.echo += "; with which load? @2A";
    if (ask.unit)
        m_line.echo += ", unit " + *ask.unit;
    m_line.capture = std::move(ask);
}

/// Events of fixed words; false where the line is none of them.
bool LineReader::plainEvent(const std::string& first, const std::string& second)
{
    struct Plain
    {
        std::string_view first;
        std::vector<std::string_view> second; ///< empty: none needed
        LogKind kind;
        std::string_view echo;
    };
    static const std::array<Plain, 3> events{
        Plain{"live", {}, LogKind::Live, "the unit is live"},
        Plain{"meter", {"ok", "proven"}, LogKind::MeterProven, "meter proven on a known voltage"},
        Plain{"hunting", {}, LogKind::Hunting, "the output is unsteady"}};
    const auto event = std::ranges::find_if(events, [&](const Plain& e) {
        return e.first == first && (e.second.empty() || std::ranges::count(e.second, second) > 0);
    });
    if (event == events.end())
        return false;
    make(event->kind);
    m_line.echo = event->echo;
    return true;
}

/// "unplugged" is the unit on the bench, "unplugged #2" another of the job.
void LineReader::unplugged(const std::string& which)
{
    if (which.empty() || which == "#1")
        return sourceOff(m_e.energy.sources.front());
    for (std::size_t unit = 2; unit <= m_job.others.size() + 1; ++unit)
        if (which == "#" + std::to_string(unit))
            return sourceOff(unitName(m_job, unit));
    fail("no unit of that number", m_tokens[1]);
}

bool LineReader::readEvent()
{
    const std::string first = lowered(m_tokens[0].text);
    const std::string second = m_tokens.size() > 1 ? lowered(m_tokens[1].text) : "";
    const auto source = std::ranges::find_if(m_e.energy.sources,
                                             [&](const std::string& name) { return lowered(name) == first; });
    // A secondary may be called "lamp": with a figure behind it, it is meant.
    const bool names_point =
        std::ranges::any_of(m_points, [&](const LogPoint& p) { return lowered(p.name) == first; });
    if (names_point && !second.empty() && second.find_first_of("0123456789") < 2)
        return false;
    if (first == "note" || first == "photo")
        remark(first);
    else if (first == "capture")
        captureEvent();
    else if (first == "lamp")
        lampEvent();
    else if (first == "unplugged")
        unplugged(second);
    else if (source != m_e.energy.sources.end() && (second == "off" || second == "out"))
        sourceOff(*source);
    else if (first == "strike")
        strikeEvent(second);
    else
        return plainEvent(first, second);
    return true;
}

bool LineReader::takeLoad(const Token& token, const std::string& text, LogEntry& entry)
{
    entry.load = readLoad(text);
    if (entry.load)
        return true;
    fail("the load behind @ is in A, W or ohms", token);
    return false;
}

/// Takes "@0.5A", "+-20mV" and "#2" out of the words, wherever they stand.
bool LineReader::takeMarkers(std::vector<Token>& words, LogEntry& entry)
{
    std::vector<Token> left;
    for (std::size_t i = 0; i < words.size(); ++i) {
        const Token& token = words[i];
        std::string text = token.text;
        const std::size_t skip = text.starts_with("+-") || text.starts_with("±")  ? 2
                                 : text.starts_with('@') || text.starts_with('#') ? 1
                                                                                  : 0;
        if (skip == 0) {
            left.push_back(token);
            continue;
        }
        const char marker = text[0];
        text.erase(0, skip);
        if (text.empty() && i + 1 < words.size())
            text = words[++i].text;
        if (marker == '@' && !takeLoad(token, text, entry))
            return false;
        // The unit on the bench needs no number; of a batch another may be in hand.
        if (marker == '#' && (text != "1" || batchUnits(m_job) > 1))
            entry.unit = text;
        if (marker != '@' && marker != '#')
            m_doubt = text;
    }
    words = std::move(left);
    return true;
}

/// The point among the words, in any case and place; "temp" takes the part's name with it.
const LogPoint* LineReader::takePoint(std::vector<Token>& words, std::string& name)
{
    for (std::size_t i = 0; i < words.size(); ++i) {
        const auto found = std::find_if(m_points.begin(), m_points.end(), [&](const LogPoint& p) {
            return lowered(p.name) == lowered(words[i].text);
        });
        // "24V" alone may be a value although a rail has that name.
        if (found == m_points.end() || (words.size() == 1 && !m_last_point.empty()))
            continue;
        name = found->name == "out" ? m_job.found.rails.front().name : found->name;
        words.erase(words.begin() + static_cast<std::ptrdiff_t>(i));
        if (found->quantity == Quantity::Temperature && words.size() > i + 1) {
            name += ' ' + words[i].text;
            words.erase(words.begin() + static_cast<std::ptrdiff_t>(i));
        }
        return &*found;
    }
    const auto last = std::find_if(m_points.begin(), m_points.end(),
                                   [this](const LogPoint& p) { return m_last_point.starts_with(p.name); });
    if (last == m_points.end() || words.size() != 1)
        return nullptr;
    name = m_last_point;
    return &*last;
}

bool LineReader::takeValue(const std::vector<Token>& words, const LogPoint& point, LogEntry& entry)
{
    std::string text;
    for (const Token& token : words)
        text += (text.empty() ? "" : " ") + token.text;
    std::optional<TextProblem> first_problem;
    for (Quantity quantity : {point.quantity, Quantity::Voltage, Quantity::Current, Quantity::Power,
                              Quantity::Resistance, Quantity::Temperature}) {
        const auto value = parseValue(text, quantity);
        if (value) {
            entry.quantity = quantity;
            entry.value = value->value;
            return true;
        }
        if (!first_problem)
            first_problem = value.problem();
    }
    if (words.empty())
        fail("and the value?", m_tokens.back());
    else
        fail(first_problem->message, words.front());
    return false;
}

void LineReader::readReading()
{
    std::vector<Token> words = m_tokens;
    LogEntry entry{.id = "", .time_s = 0, .kind = LogKind::Reading};
    if (!takeMarkers(words, entry))
        return;
    std::string name;
    const LogPoint* point = takePoint(words, name);
    if (point == nullptr) {
        const Token& token = words.empty() ? m_tokens.front() : words.front();
        std::string nearest;
        std::size_t best = 3;
        std::vector<std::string> known(event_words.begin(), event_words.end());
        for (const LogPoint& p : m_points)
            known.push_back(p.name);
        for (const std::string& candidate : known)
            if (const auto d = distance(lowered(token.text), lowered(candidate)); d < best) {
                best = d;
                nearest = candidate;
            }
        return fail("no such point", token, nearest);
    }
    if (!takeValue(words, *point, entry))
        return;
    entry.point = name;
    entry.uncertainty = m_job.meter.uncertainty(*entry.value, *entry.quantity);
    if (m_doubt) {
        const auto doubt = parseValue(*m_doubt, *entry.quantity);
        if (!doubt || doubt->value < 0)
            return fail("the doubt behind +- does not read", m_tokens.back());
        entry.uncertainty = doubt->value;
    }
    entry.meter = m_job.meter.name;
    m_line.entry = std::move(entry);
    understand(*point);
}

/// Words and verdict for a reading, and the question whether it can be.
void LineReader::understand(const LogPoint& point)
{
    LogEntry& entry = *m_line.entry;
    const auto show = [](double value, Quantity quantity) {
        return quantity == Quantity::Voltage ? formatVolts(value) : formatValue(value, quantity);
    };
    m_line.echo = *entry.point + ' ' + show(*entry.value, *entry.quantity);
    if (*entry.uncertainty > 0)
        m_line.echo += " ±" + formatValue(*entry.uncertainty, *entry.quantity, 2);
    if (entry.load)
        m_line.echo += " at " + formatValue(entry.load->value, entry.load->quantity);
    if (entry.unit)
        m_line.echo += ", unit " + *entry.unit;
    if (const auto question = stepAsking(m_e, *entry.point, *entry.quantity, entry.unit)) {
        const StepView* step = question->view;
        entry.step = step->step.id;
        if (question->asked->window) {
            m_line.window = question->asked->window;
            const bool by_size = step->step.kind == StepKind::Prove;
            m_line.judgement = judgeReading({.value = by_size ? std::abs(*entry.value) : *entry.value,
                                             .window = question->asked->window,
                                             .uncertainty = entry.uncertainty});
        }
        m_line.echo += " · " + step->step.title;
    }
    const bool live = m_e.isolation.state == Isolation::Live;
    const bool powered =
        point.needs_power || (entry.quantity == Quantity::Voltage && point.quantity == Quantity::Voltage &&
                              std::abs(*entry.value) >= dead_v);
    if (!live && powered)
        m_line.question = "that needs power: is the unit live?";
    if (live && entry.quantity == Quantity::Resistance)
        m_line.question = "ohms on a live unit? the job counts as live";
}

} // namespace

LogLine readLogLine(std::string_view text, const Job& job, const Evaluation& evaluation,
                    const std::string& last_point)
{
    return LineReader(text, job, evaluation, last_point).run();
}

std::vector<std::string> completions(std::string_view text, const Job& job)
{
    const auto list = tokens(text);
    if (list.size() > 1)
        return {};
    const std::string begun = list.empty() ? "" : lowered(list[0].text);
    std::vector<std::string> result;
    for (const LogPoint& point : logPoints(job))
        if (lowered(point.name).starts_with(begun))
            result.push_back(point.name);
    for (std::string_view event : event_words)
        if (event.starts_with(begun))
            result.emplace_back(event);
    return result;
}

} // namespace offshoot
