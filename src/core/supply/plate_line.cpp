#include "core/supply/shelf.h"
#include "core/supply/shelf_text.h"
#include "core/values/format.h"
#include "core/values/quantity.h"
#include "core/values/typed_words.h"

#include <algorithm>
#include <functional>

namespace offshoot {

namespace {

/// Of a mains voltage that stands alone on a plate.
constexpr double plate_spread = 0.1;

/// Reads a plate word by word.
class PlateReader
{
public:
    explicit PlateReader(std::vector<TypedWord> words)
        : m_words(std::move(words))
    {}

    Parsed<ShelfEntry> run()
    {
        while (m_next < m_words.size())
            if (auto problem = readOne())
                return *problem;
        if (m_entry.unit.outputs.empty())
            return TextProblem{ErrorCode::Unreadable, end(), "what does it give? Such as 24V 4.2A"};
        for (const UnitOutput& output : m_entry.unit.outputs)
            if (output.rated_a <= 0)
                return TextProblem{ErrorCode::Unreadable, end(),
                                   "how many amperes does " + output.name + " give?"};
        if (m_entry.unit.input.ranges.empty())
            return TextProblem{ErrorCode::Unreadable, end(),
                               "what does it run on? Such as 100-240V, or dc 18-36V"};
        return std::move(m_entry);
    }

private:
    std::size_t end() const { return m_words.empty() ? 0 : m_words.back().at + m_words.back().text.size(); }

    TextProblem wrong(const TypedWord& word, const std::string& message) const
    {
        return {ErrorCode::Unreadable, word.at, "\"" + word.text + "\": " + message};
    }

    static std::optional<double> value(const std::string& text, Quantity quantity)
    {
        const auto parsed = parseValue(text, quantity);
        return parsed ? std::optional(parsed->value) : std::nullopt;
    }

    UnitOutput* output() { return m_entry.unit.outputs.empty() ? nullptr : &m_entry.unit.outputs.back(); }

    /// The word behind `word`, or a problem there.
    Parsed<TypedWord> following(const TypedWord& word)
    {
        if (m_next == m_words.size())
            return wrong(word, "something is wanted behind this");
        return m_words[m_next++];
    }

    std::optional<TextProblem> ofOutput(const TypedWord& key,
                                        const std::function<bool(UnitOutput&, const std::string&)>& take,
                                        const std::string& wanted)
    {
        if (output() == nullptr)
            return wrong(key, "of which output? Its volts come first");
        const auto word = following(key);
        if (!word)
            return word.problem();
        if (!take(*output(), word->text))
            return wrong(*word, wanted);
        return std::nullopt;
    }

    template <class Member>
    std::optional<TextProblem> ofOutput(const TypedWord& key, Quantity quantity, Member member,
                                        const std::string& wanted)
    {
        return ofOutput(
            key,
            [&](UnitOutput& out, const std::string& text) {
                const auto read = value(text, quantity);
                if (!read || *read <= 0)
                    return false;
                out.*member = *read;
                return true;
            },
            wanted);
    }

    std::optional<TextProblem> readOne()
    {
        const TypedWord word = m_words[m_next++];
        if (const auto known = keyed(word))
            return *known;
        if (const auto box = sizeIn(word.text)) {
            m_entry.unit.size = box;
            return std::nullopt;
        }
        if (const auto hz = rangeIn(word.text, Quantity::Frequency); hz && word.text.ends_with("hz"))
            return frequency(hz->first, hz->second);
        if (const auto hz = value(word.text, Quantity::Frequency); hz && word.text.ends_with("hz"))
            return frequency(*hz, *hz);
        if (const auto volts = rangeIn(word.text, Quantity::Voltage);
            volts && volts->first > 0 && word.text.ends_with('v'))
            return inputRange({volts->first, volts->second, std::nullopt});
        if (word.text.ends_with('v') && word.text.find('/') != std::string::npos)
            return selector(word);
        if (const auto kg = mass(word.text)) {
            m_entry.mass_kg = kg;
            return std::nullopt;
        }
        return figure(word);
    }

    static std::optional<double> mass(const std::string& text)
    {
        for (const auto& [name, scale] : {std::pair{"kg", 1.0}, std::pair{"g", 1e-3}})
            if (text.ends_with(name))
                if (const auto read =
                        value(text.substr(0, text.size() - std::string_view(name).size()), Quantity::Number);
                    read && *read > 0)
                    return *read * scale;
        return std::nullopt;
    }

    std::optional<TextProblem> frequency(double low_hz, double high_hz)
    {
        m_entry.unit.input.f_min_hz = low_hz;
        m_entry.unit.input.f_max_hz = high_hz;
        return std::nullopt;
    }

    std::optional<TextProblem> inputRange(const InputRange& range)
    {
        m_entry.unit.input.ranges.push_back(range);
        return std::nullopt;
    }

    /// "115/230v": a selector with two positions.
    std::optional<TextProblem> selector(const TypedWord& word)
    {
        const auto slash = word.text.find('/');
        for (const std::string& text : {word.text.substr(0, slash), word.text.substr(slash + 1)}) {
            const auto volts = value(text.ends_with('v') ? text : text + "v", Quantity::Voltage);
            if (!volts || *volts <= 0)
                return wrong(word, "two mains voltages are wanted here, such as 115/230V");
            m_entry.unit.input.ranges.push_back(
                {*volts * (1 - plate_spread), *volts * (1 + plate_spread), significant(*volts, 4)});
        }
        return std::nullopt;
    }

    /// A bare figure: volts begin an output, amperes complete it, watts are of the whole unit.
    std::optional<TextProblem> figure(const TypedWord& word)
    {
        const auto volts = value(word.text, Quantity::Voltage);
        const bool has_v = word.text.find('v') != std::string::npos;
        if (volts && has_v && *volts != 0) {
            UnitOutput made{.name = {}, .v = std::abs(*volts), .rated_a = 0};
            made.polarity = *volts < 0 ? OutputPolarity::Negative : OutputPolarity::Positive;
            made.name = (*volts < 0 ? "−" : "") + significant(made.v, 4) + " V";
            const auto same = std::ranges::count_if(m_entry.unit.outputs, [&](const UnitOutput& out) {
                return out.v == made.v && out.polarity == made.polarity;
            });
            if (same > 0)
                made.name += " " + std::to_string(same + 1);
            m_entry.unit.outputs.push_back(std::move(made));
            return std::nullopt;
        }
        const auto amperes = value(word.text, Quantity::Current);
        if (amperes && *amperes > 0 && word.text.find('a') != std::string::npos) {
            if (output() == nullptr || output()->rated_a > 0)
                return wrong(word, "at which voltage? Volts come first");
            output()->rated_a = *amperes;
            return std::nullopt;
        }
        const auto watts = value(word.text, Quantity::Power);
        if (watts && *watts > 0 && word.text.find('w') != std::string::npos) {
            m_entry.unit.total_w = *watts;
            return std::nullopt;
        }
        return wrong(
            word,
            "this does not read. A plate is such as 24V 4.2A 100-240V class 1 129x97x30 trim 21.6-28.8");
    }

    template <class E>
    std::optional<TextProblem> wordOf(const TypedWord& key, E& to)
    {
        const auto word = following(key);
        if (!word)
            return word.problem();
        const auto read = enumFrom<E>(word->text);
        if (!read) {
            std::vector<std::string> names(Words<E>::list.begin(), Words<E>::list.end());
            return wrong(*word, "one of " + listed(names) + " is wanted");
        }
        to = *read;
        return std::nullopt;
    }

    /// What begins with a word of its own; nothing where this is none.
    std::optional<std::optional<TextProblem>> keyed(const TypedWord& word)
    {
        const std::string& key = word.text;
        ShelfUnit& unit = m_entry.unit;
        if (key == "class") {
            const auto which = following(word);
            if (!which)
                return which.problem();
            const bool first = which->text == "1" || which->text == "i";
            if (!first && which->text != "2" && which->text != "ii")
                return wrong(*which, "class 1 has an earth, class 2 has none");
            unit.protection_class = first ? 1 : 2;
            return std::optional<TextProblem>{};
        }
        if (key == "trim")
            return ofOutput(
                word,
                [](UnitOutput& out, const std::string& text) {
                    const auto range = rangeIn(text, Quantity::Voltage);
                    if (!range || range->first > out.v || range->second < out.v)
                        return false;
                    out.trim_min_v = range->first;
                    out.trim_max_v = range->second;
                    return true;
                },
                "a range around the output's own voltage is wanted, such as 21.6-28.8");
        if (key == "peak")
            return ofOutput(
                word,
                [](UnitOutput& out, const std::string& text) {
                    const auto peak = value(text, Quantity::Current);
                    if (!peak || *peak < out.rated_a)
                        return false;
                    out.peak_a = *peak;
                    return true;
                },
                "no less than the rated amperes are wanted");
        if (key == "least" || key == "min")
            return ofOutput(word, Quantity::Current, &UnitOutput::least_a,
                            "the least load in amperes is wanted");
        if (key == "ripple")
            return ofOutput(word, Quantity::Voltage, &UnitOutput::ripple_v,
                            "the ripple is wanted, such as 120mV");
        if (key == "bonded")
            return output() == nullptr ? std::optional(wrong(word, "of which output? Its volts come first"))
                                       : wordOf(word, output()->bonded);
        if (key == "isolated") {
            if (output() == nullptr)
                return wrong(word, "of which output? Its volts come first");
            output()->isolated = true;
            return std::optional<TextProblem>{};
        }
        if (key == "enable")
            return wordOf(word, unit.enable);
        if (key == "screws") {
            const auto depth = following(word);
            if (!depth)
                return depth.problem();
            m_entry.screw_depth_m = value(depth->text, Quantity::Length);
            if (!m_entry.screw_depth_m || *m_entry.screw_depth_m <= 0)
                return wrong(*depth, "how far a screw may go into it is wanted, such as 4mm");
            return std::optional<TextProblem>{};
        }
        if (key == "dc" || key == "ac") {
            unit.input.kind = key == "dc" ? InputCurrent::Dc : InputCurrent::Ac;
            return std::optional<TextProblem>{};
        }
        return share(word);
    }

    /// "±3%" of the output before it, "88%" of efficiency, "x2" pieces.
    std::optional<std::optional<TextProblem>> share(const TypedWord& word)
    {
        std::string text = word.text;
        const bool around = text.starts_with("±") || text.starts_with("+-");
        if (around)
            text.erase(0, std::string_view("±").size());
        if (text.ends_with('%')) {
            const auto percent = value(text.substr(0, text.size() - 1), Quantity::Number);
            const bool good = percent && *percent > 0 && (around ? *percent < 100 : *percent <= 100);
            if (!good || (around && output() == nullptr))
                return wrong(word, "±3 % stands behind the output it is of, 88 % is the efficiency");
            if (around)
                output()->regulation = *percent / 100;
            else
                m_entry.unit.efficiency = *percent / 100;
            return std::optional<TextProblem>{};
        }
        if (text.size() > 1 && text.front() == 'x' &&
            std::ranges::all_of(text.substr(1), [](char c) { return c >= '0' && c <= '9'; })) {
            constexpr std::size_t most_digits = 4;
            if (text.size() > most_digits + 1 || std::stoi(text.substr(1)) < 1)
                return wrong(word, "how many there are, such as x2");
            m_entry.unit.quantity = std::stoi(text.substr(1));
            return std::optional<TextProblem>{};
        }
        return std::nullopt;
    }

    std::vector<TypedWord> m_words;
    std::size_t m_next = 0;
    ShelfEntry m_entry;
};

} // namespace

Parsed<ShelfEntry> readPlateLine(std::string_view text)
{
    constexpr std::size_t longest = 400;
    if (text.size() > longest)
        return TextProblem{ErrorCode::OutOfRange, longest, "more than 400 characters"};
    std::string name;
    std::string_view rest = text;
    if (const auto colon = text.find(':'); colon != std::string_view::npos) {
        name = std::string(text.substr(0, colon));
        name.erase(0, name.find_first_not_of(" \t") == std::string::npos ? name.size()
                                                                         : name.find_first_not_of(" \t"));
        name.erase(name.find_last_not_of(" \t") + 1);
        rest = text.substr(colon + 1);
    }
    std::vector<TypedWord> words = typedWords(rest);
    for (TypedWord& word : words)
        word.text = lowered(word.text);
    const auto before =
        static_cast<std::size_t>(std::ranges::count_if(text.substr(0, text.size() - rest.size()), [](char c) {
            return (static_cast<unsigned char>(c) & 0xC0U) != 0x80U;
        }));
    for (TypedWord& word : words)
        word.at += before;
    auto entry = PlateReader(std::move(words)).run();
    if (!entry)
        return entry;
    ShelfEntry made = *entry;
    if (name.empty())
        for (const UnitOutput& output : made.unit.outputs)
            name += (name.empty() ? "" : ", ") + output.name + ' ' +
                    formatValue(output.rated_a, Quantity::Current);
    made.unit.name = name;
    return made;
}

} // namespace offshoot
