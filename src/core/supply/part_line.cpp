// A line read off a part, word by word.
#include "core/supply/part_figures.h"
#include "core/values/format.h"
#include "core/values/marking.h"
#include "core/values/typed_words.h"

#include <algorithm>
#include <array>

namespace offshoot {

namespace {

/// Of IEC 60127.
constexpr std::array<std::string_view, 5> fuse_types{"TT", "FF", "T", "F", "M"};

class PartLineReader
{
public:
    PartLineReader(const Supply& supply, BoardPart part, std::string_view line)
        : m_left(figuresOf(supply, part))
        , m_part(part)
        , m_words(typedWords(line))
    {}

    Parsed<PartReading> run()
    {
        if (m_words.size() == 1 && lowered(m_words.front().text) == "none" && mayBeAbsent(m_part)) {
            m_line.none = true;
            m_line.echo = "there is none";
            return std::move(m_line);
        }
        if (auto problem = readBands())
            return *problem;
        for (; m_next < m_words.size(); ++m_next)
            if (auto problem = readOne(m_words[m_next]))
                return *problem;
        for (const auto& [figure, value] : m_line.figures)
            say(std::string(figure->label) + " " + formatValue(value, figure->quantity));
        if (m_line.rail_v)
            say(formatVolts(*m_line.rail_v) + " on it");
        if (m_line.fuse_type)
            say("speed " + *m_line.fuse_type);
        return std::move(m_line);
    }

private:
    void say(const std::string& text) { m_line.echo += (m_line.echo.empty() ? "" : ", ") + text; }

    TextProblem wrong(const TypedWord& word, const std::string& message) const
    {
        return {ErrorCode::Unreadable, word.at, "\"" + word.text + "\": " + message};
    }

    /// Colours at its head are the bands of a resistor.
    std::optional<TextProblem> readBands()
    {
        MarkingReadInput in{.kind = MarkingKind::Bands, .bands = {}, .text = {}};
        while (m_next < m_words.size()) {
            const auto colour = std::ranges::find(Words<Colour>::list, lowered(m_words[m_next].text));
            if (colour == Words<Colour>::list.end())
                break;
            in.bands.push_back(static_cast<Colour>(colour - Words<Colour>::list.begin()));
            ++m_next;
        }
        if (in.bands.empty())
            return {};
        const TypedWord& first = m_words.front();
        constexpr std::size_t most_bands = 6;
        if (in.bands.size() == 2 || in.bands.size() > most_bands)
            return wrong(first, "a resistor has 3 to 6 bands, or one");
        try {
            return take(first, Quantity::Resistance, markingRead(in).value);
        } catch (const DocumentError& error) {
            return wrong(first, error.what());
        }
    }

    /// The first figure of that quantity which the line has not said yet.
    std::optional<TextProblem> take(const TypedWord& word, Quantity quantity, double value)
    {
        const auto at = std::ranges::find(m_left, quantity, &PartFigure::quantity);
        if (at == m_left.end())
            return second(word, quantity, value);
        if (value > (*at)->most || (value <= 0 && !(*at)->zero))
            return wrong(word, "not a value that this can have");
        m_line.figures.emplace_back(*at, value);
        m_left.erase(at);
        return {};
    }

    /// A second voltage of a capacitor: the lower one is what stands on it.
    std::optional<TextProblem> second(const TypedWord& word, Quantity quantity, double value)
    {
        const auto said = std::ranges::find_if(
            m_line.figures, [&](const auto& read) { return read.first->quantity == quantity; });
        if (said == m_line.figures.end())
            return wrong(word, "this part has no such figure");
        if (m_part != BoardPart::Capacitor || quantity != Quantity::Voltage || m_line.rail_v)
            return wrong(word, "it was said before on this line");
        m_line.rail_v = std::min(value, said->second);
        said->second = std::max(value, said->second);
        return {};
    }

    std::optional<TextProblem> readOne(const TypedWord& word)
    {
        std::string text = word.text;
        if (m_part == BoardPart::Fuse && !m_line.fuse_type)
            for (const std::string_view type : fuse_types)
                if (text.starts_with(type)) {
                    m_line.fuse_type = std::string(type);
                    text.erase(0, type.size());
                    break;
                }
        if (text.empty())
            return {};
        // "2AL250V": amperes, breaking capacity, volts in one word.
        if (const auto ampere = text.find('A');
            m_part == BoardPart::Fuse && ampere != std::string::npos && text.ends_with('V')) {
            const auto digits = text.find_first_of("0123456789", ampere);
            const std::string rest = digits == std::string::npos ? "" : text.substr(digits);
            if (auto problem = readOne({text.substr(0, ampere + 1), word.at}))
                return problem;
            return readOne({rest, word.at + ampere + 1});
        }
        if (const auto quantity = quantityOf(text)) {
            const auto read = parseValue(text, *quantity);
            return read ? take(word, *quantity, read->value) : wrong(word, read.problem().message);
        }
        return wrong(word, "of what? Write the unit with it");
    }

    /// By the unit that is written with it; without one, the only figure that is left.
    std::optional<Quantity> quantityOf(std::string_view text) const
    {
        static constexpr std::array<std::pair<std::string_view, Quantity>, 18> ends{{
            {"V", Quantity::Voltage},
            {"v", Quantity::Voltage},
            {"A", Quantity::Current},
            {"a", Quantity::Current},
            {"W", Quantity::Power},
            {"w", Quantity::Power},
            {"F", Quantity::Capacitance},
            {"f", Quantity::Capacitance},
            {"C", Quantity::Temperature},
            {"u", Quantity::Capacitance},
            {"U", Quantity::Capacitance},
            {"n", Quantity::Capacitance},
            {"\u00b5", Quantity::Capacitance},
            {"R", Quantity::Resistance},
            {"k", Quantity::Resistance},
            {"K", Quantity::Resistance},
            {"M", Quantity::Resistance},
            {"\u03a9", Quantity::Resistance},
        }};
        for (const auto& [end, quantity] : ends)
            if (text.ends_with(end))
                return quantity;
        const auto only = [&](const PartFigure* figure) {
            return figure->quantity == m_left.front()->quantity;
        };
        if (!m_left.empty() && std::ranges::all_of(m_left, only))
            return m_left.front()->quantity;
        // "4k7", "27V6": the unit stands where the point would.
        for (const Quantity quantity :
             {Quantity::Voltage, Quantity::Current, Quantity::Capacitance, Quantity::Resistance})
            if (text.find_first_not_of("0123456789.") != std::string_view::npos &&
                std::ranges::find(m_left, quantity, &PartFigure::quantity) != m_left.end() &&
                parseValue(text, quantity))
                return quantity;
        return {};
    }

    std::vector<const PartFigure*> m_left; ///< what the line has not said yet
    BoardPart m_part;
    std::vector<TypedWord> m_words;
    std::size_t m_next = 0;
    PartReading m_line;
};

} // namespace

Parsed<PartReading> readPartLine(const Supply& supply, BoardPart part, std::string_view line)
{
    return PartLineReader(supply, part, line).run();
}

bool mayBeAbsent(BoardPart part)
{
    return part == BoardPart::MinimumLoad || part == BoardPart::Indicator || part == BoardPart::Trip;
}

bool isAbsent(const Supply& supply, std::size_t rail_at, BoardPart part)
{
    const Rail& rail = supply.rails[std::min(rail_at, supply.rails.size() - 1)];
    switch (part) {
    case BoardPart::MinimumLoad:
        return rail.minimum_load.fitted == false;
    case BoardPart::Indicator:
        return rail.indicator.fitted == false;
    case BoardPart::Trip:
        return rail.trip.kind == TripKind::None;
    default:
        return false;
    }
}

/// What stands there is there; a trip whose kind nobody said is the usual zener.
static void setPresence(Rail& rail, BoardPart part, bool there)
{
    if (part == BoardPart::MinimumLoad)
        rail.minimum_load.fitted = there;
    else if (part == BoardPart::Indicator)
        rail.indicator.fitted = there;
    else if (part == BoardPart::Trip && (!there || rail.trip.kind.value_or(TripKind::None) == TripKind::None))
        rail.trip.kind = there ? TripKind::Zener : TripKind::None;
}

void takePartLine(Supply& supply, std::size_t rail_at, BoardPart part, const PartReading& line)
{
    Rail& rail = supply.rails[std::min(rail_at, supply.rails.size() - 1)];
    if (line.none || !line.figures.empty())
        setPresence(rail, part, !line.none);
    for (const auto& [figure, value] : line.figures)
        figure->access(supply, rail) = value;
    if (line.rail_v && !rail.v_v)
        rail.v_v = line.rail_v;
    if (line.fuse_type)
        supply.fuse.type = line.fuse_type;
}

} // namespace offshoot
