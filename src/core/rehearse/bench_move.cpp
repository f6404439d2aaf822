#include "core/rehearse/bench_move.h"

#include "core/values/format.h"

#include <algorithm>
#include <vector>

namespace offshoot {

namespace {

std::vector<std::string> wordsOf(std::string_view text)
{
    std::vector<std::string> words;
    std::string word;
    for (const char c : text)
        if (c != ' ' && c != '\t') {
            word += c;
        } else if (!word.empty()) {
            words.push_back(word);
            word.clear();
        }
    if (!word.empty())
        words.push_back(word);
    return words;
}

/// What a move wants behind its word.
enum class Wants { Nothing, Point, Ohms, Volts, Seconds, Way, Capture };

Wants wants(MoveKind kind)
{
    switch (kind) {
    case MoveKind::Load:
    case MoveKind::Discharge:
        return Wants::Ohms;
    case MoveKind::Probe:
    case MoveKind::Ohms:
    case MoveKind::Screwdriver:
    case MoveKind::Hand:
        return Wants::Point;
    case MoveKind::Adjust:
        return Wants::Volts;
    case MoveKind::Wait:
        return Wants::Seconds;
    case MoveKind::Capture:
        return Wants::Capture;
    case MoveKind::ConnectLoad:
        return Wants::Way;
    default:
        return Wants::Nothing;
    }
}

class MoveReader
{
public:
    MoveReader(std::string_view text, const std::string& path)
        : m_words(wordsOf(text))
        , m_path(path)
    {}

    BenchMove read()
    {
        const auto kind = m_words.empty() ? std::nullopt : enumFrom<MoveKind>(m_words.front());
        if (!kind)
            fail(ErrorCode::OutOfRange, "no such move; there is " + known());
        BenchMove move{.kind = *kind, .unit = unitBehind()};
        m_words.erase(m_words.begin());
        switch (wants(*kind)) {
        case Wants::Nothing:
            break;
        case Wants::Point:
            move.point = rest();
            break;
        case Wants::Way:
            move.open = take("open");
            move.reversed = take("reversed");
            break;
        case Wants::Seconds:
            move.value = number(Quantity::Time, "wait 60");
            break;
        case Wants::Volts:
            if (m_words.size() > 1)
                move.point = take();
            move.value = number(Quantity::Voltage, "adjust 24V");
            break;
        case Wants::Ohms:
            readOhms(move);
            break;
        case Wants::Capture:
            readCapture(move);
            break;
        }
        if (!m_words.empty())
            fail(ErrorCode::OutOfRange, "\"" + m_words.front() + "\" says nothing here");
        return move;
    }

private:
    [[noreturn]] void fail(ErrorCode code, const std::string& message) const
    {
        throw DocumentError(code, m_path, message);
    }
    static std::string known()
    {
        std::string all;
        for (const std::string_view one : Words<MoveKind>::list)
            all += (all.empty() ? "" : ", ") + std::string(one);
        return all;
    }
    /// "#2" at the end.
    std::size_t unitBehind()
    {
        constexpr std::size_t digits = 2;
        const std::string& last = m_words.back();
        if (m_words.size() < 2 || last.front() != '#')
            return 1;
        const std::string number = last.substr(1);
        if (number.empty() || number.size() > digits ||
            number.find_first_not_of("0123456789") != std::string::npos || number.front() == '0')
            fail(ErrorCode::OutOfRange, "which unit? Such as probe bulk #2");
        m_words.pop_back();
        return std::stoul(number);
    }
    bool take(std::string_view word)
    {
        if (m_words.empty() || m_words.front() != word)
            return false;
        m_words.erase(m_words.begin());
        return true;
    }
    std::string take()
    {
        std::string first = m_words.front();
        m_words.erase(m_words.begin());
        return first;
    }
    std::string rest()
    {
        std::string all;
        for (const std::string& one : m_words)
            all += (all.empty() ? "" : " ") + one;
        m_words.clear();
        return all;
    }
    /// The first of the words left as a value of this quantity, above zero.
    double number(Quantity quantity, const char* example)
    {
        if (m_words.empty())
            fail(ErrorCode::Missing, std::string("how much? Such as ") + example);
        const auto value = parseValue(m_words.front(), quantity);
        if (!value)
            fail(value.problem().code, value.problem().message);
        if (!(value->value > 0))
            fail(ErrorCode::OutOfRange, "must be above 0");
        m_words.erase(m_words.begin());
        return value->value;
    }
    /// "22R", "5V 2R2", "bulk 4k7 20", "none".
    void readOhms(BenchMove& move)
    {
        const auto is = [this](Quantity quantity) { return bool(parseValue(m_words.front(), quantity)); };
        if (m_words.size() > 1 && !is(Quantity::Resistance))
            move.point = take();
        if (move.kind == MoveKind::Load && take("none"))
            return;
        move.value = number(Quantity::Resistance, move.kind == MoveKind::Load ? "load 22R" : "discharge 4k7");
        if (move.kind == MoveKind::Discharge && !m_words.empty())
            move.time_s = number(Quantity::Time, "discharge 4k7 20");
    }

    /// "ripple", "surge comma".
    void readCapture(BenchMove& move)
    {
        if (m_words.empty() || !enumFrom<CapturePoint>(m_words.front()))
            fail(ErrorCode::OutOfRange, "capture ripple, or capture surge?");
        move.point = take();
        if (m_words.empty())
            return;
        move.dialect = enumFrom<CaptureDialect>(m_words.front());
        if (move.dialect)
            take();
    }

    std::vector<std::string> m_words;
    const std::string& m_path;
};

} // namespace

std::string atUnit(const std::string& what, std::size_t unit)
{
    return unit > 1 ? what + " #" + std::to_string(unit) : what;
}

std::string BenchMove::text() const
{
    std::string made(word(kind));
    if (!point.empty())
        made += " " + point;
    if (value)
        made += " " + (kind == MoveKind::Wait     ? plainNumber(*value)
                       : kind == MoveKind::Adjust ? formatVolts(*value)
                                                  : formatOhms(*value));
    else if (kind == MoveKind::Load)
        made += " none";
    if (time_s)
        made += " " + plainNumber(*time_s);
    if (dialect)
        made += " " + std::string(word(*dialect));
    return atUnit(made + (open ? " open" : "") + (reversed ? " reversed" : ""), unit);
}

BenchMove benchMoveFrom(std::string_view text, const std::string& path)
{
    return MoveReader(text, path).read();
}

} // namespace offshoot
