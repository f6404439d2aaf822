#include "core/values/marking.h"

#include "core/values/marking_tables.h"
#include "core/values/scan.h"

#include <algorithm>
#include <cmath>

namespace offshoot {

namespace {

void setTolerance(MarkingReadResult& result, double tolerance)
{
    result.tolerance = tolerance;
    result.tolerance_low = -tolerance;
    result.tolerance_high = tolerance;
}

void addAlternative(MarkingReadResult& result, double value, std::optional<double> tolerance,
                    OtherReading why)
{
    if (!same(value, result.value) && value > 0)
        result.alternatives.push_back({value, tolerance, smallestSeriesWith(value), why});
}

// ---- bands

std::optional<MarkingReadResult> readBandsFrom(const std::vector<Colour>& bands)
{
    if (bands.front() == Colour::Black)
        return std::nullopt;
    const std::size_t digits = bands.size() <= 4 ? 2 : 3;
    int mantissa = 0;
    for (std::size_t i = 0; i < digits; ++i) {
        const auto digit = meaningOf(bands[i]).digit;
        if (!digit)
            return std::nullopt;
        mantissa = mantissa * 10 + *digit;
    }
    MarkingReadResult result{};
    result.value = timesTen(mantissa, meaningOf(bands[digits]).exponent);
    double tolerance_percent = 20;
    if (bands.size() > digits + 1) {
        const auto coded = meaningOf(bands[digits + 1]).tolerance_percent;
        if (!coded)
            return std::nullopt;
        tolerance_percent = *coded;
    }
    setTolerance(result, tolerance_percent / 100);
    if (bands.size() > digits + 2) {
        const auto ppm = meaningOf(bands[digits + 2]).tempco_ppm;
        if (!ppm)
            return std::nullopt;
        result.tempco_per_k = *ppm / 1e6;
    }
    return result;
}

MarkingReadResult readBands(const std::vector<Colour>& bands)
{
    if (bands.size() == 1) {
        if (bands.front() != Colour::Black)
            throw DocumentError(ErrorCode::Unreadable, "/bands", "a single band is the black one of a link");
        return MarkingReadResult{};
    }
    std::vector<Colour> turned(bands.rbegin(), bands.rend());
    auto result = readBandsFrom(bands);
    const auto other = readBandsFrom(turned);
    if (!result && !other)
        throw DocumentError(ErrorCode::Unreadable, "/bands", "these bands read from neither end");
    if (!result) {
        result = other;
        result->reversed = true;
    } else if (other) {
        addAlternative(*result, other->value, other->tolerance, OtherReading::OtherEnd);
    }
    return *result;
}

// ---- chip codes

std::string upper(std::string text)
{
    for (char& c : text)
        c = static_cast<char>(c >= 'a' && c <= 'z' ? c - 32 : c);
    return text;
}

bool allOf(std::string_view text, std::string_view set)
{
    return !text.empty() && text.find_first_not_of(set) == std::string_view::npos;
}
constexpr std::string_view decimal_digits = "0123456789";

int toInt(std::string_view digits)
{
    int value = 0;
    for (char c : digits)
        value = value * 10 + (c - '0');
    return value;
}

struct ChipValue
{
    double ohm;
    std::optional<double> tolerance;
    bool assumed;
};

/// 0, 000, 0R00: a link.
std::optional<ChipValue> readLink(const std::string& code)
{
    constexpr std::size_t longest = 5;
    const bool zeros = allOf(code, "0R") && code.find('0') != std::string::npos;
    if (!zeros || std::count(code.begin(), code.end(), 'R') > 1 || code.size() > longest)
        return std::nullopt;
    return ChipValue{0, std::nullopt, false};
}

std::optional<ChipValue> readDigits(const std::string& code)
{
    if (!allOf(code, decimal_digits) || code.front() == '0' || (code.size() != 3 && code.size() != 4))
        return std::nullopt;
    const auto mantissa = toInt(std::string_view(code).substr(0, code.size() - 1));
    return ChipValue{timesTen(mantissa, code.back() - '0'), code.size() == 3 ? 0.05 : 0.01, true};
}

std::optional<ChipValue> readRCode(const std::string& code)
{
    const auto point = code.find('R');
    std::string digits = code;
    if (point == std::string::npos)
        return std::nullopt;
    digits.erase(point, 1);
    if (!allOf(digits, decimal_digits) || digits.size() > 4)
        return std::nullopt;
    const int places = static_cast<int>(code.size() - 1 - point);
    return ChipValue{timesTen(toInt(digits), -places), code.size() <= 3 ? 0.05 : 0.01, true};
}

std::optional<ChipValue> readEia96(const std::string& code)
{
    if (code.size() != 3 || !allOf(std::string_view(code).substr(0, 2), decimal_digits))
        return std::nullopt;
    const int index = toInt(std::string_view(code).substr(0, 2));
    const auto letter = std::find_if(eia96_letters.begin(), eia96_letters.end(),
                                     [&](const auto& entry) { return entry.first == code[2]; });
    if (index < 1 || index > 96 || letter == eia96_letters.end())
        return std::nullopt;
    const int mantissa = decade(Series::E96).at(static_cast<std::size_t>(index - 1));
    return ChipValue{timesTen(mantissa, letter->second), 0.01, false};
}

std::optional<ChipValue> readTurned(const std::string& code)
{
    if (!allOf(code, "01689"))
        return std::nullopt;
    std::string turned(code.rbegin(), code.rend());
    for (char& c : turned)
        c = c == '6' ? '9' : c == '9' ? '6' : c;
    return readDigits(turned);
}

MarkingReadResult readChip(const std::string& text)
{
    const std::string code = upper(text);
    std::optional<ChipValue> chip;
    for (auto* reader : {readLink, readDigits, readRCode, readEia96})
        if (!chip)
            chip = reader(code);
    if (!chip)
        throw DocumentError(ErrorCode::Unreadable, "/text",
                            "no chip code: 3 or 4 digits, R for the point, or two digits and a letter");
    MarkingReadResult result{};
    result.value = chip->ohm;
    if (chip->tolerance)
        setTolerance(result, *chip->tolerance);
    result.tolerance_assumed = chip->assumed;
    if (chip->ohm == 0)
        return result;
    if (const auto eia = readEia96(code))
        addAlternative(result, eia->ohm, eia->tolerance, OtherReading::Eia96);
    if (code.size() == 3 && allOf(code, decimal_digits) && code.back() == '0')
        addAlternative(result, toInt(code), chip->tolerance, OtherReading::Literal);
    if (const auto turned = readTurned(code))
        addAlternative(result, turned->ohm, turned->tolerance, OtherReading::UpsideDown);
    return result;
}

// ---- capacitor codes

struct CapacitorTolerance
{
    double low;
    double high;
    bool symmetrical;
};

std::optional<CapacitorTolerance> capacitorTolerance(char letter, double farad)
{
    static constexpr std::array<std::pair<char, double>, 8> percent{
        {{'B', 0.1}, {'C', 0.25}, {'D', 0.5}, {'F', 1}, {'G', 2}, {'J', 5}, {'K', 10}, {'M', 20}}};
    if (letter == 'S')
        return CapacitorTolerance{-0.2, 0.5, false};
    if (letter == 'Z')
        return CapacitorTolerance{-0.2, 0.8, false};
    for (const auto& [name, share] : percent) {
        if (name != letter)
            continue;
        constexpr double small_f = 10e-12;
        constexpr std::size_t absolute_letters = 5;
        const bool absolute = farad < small_f * (1 - same_share) &&
                              std::find_if(percent.begin(), percent.begin() + absolute_letters,
                                           [&](const auto& entry) { return entry.first == letter; }) !=
                                  percent.begin() + absolute_letters;
        const double tolerance = absolute ? share * 1e-12 / farad : share / 100;
        // Below 10 pF F and G are ±1 and ±2 pF, which is what their numbers say.
        return CapacitorTolerance{-tolerance, tolerance, true};
    }
    return std::nullopt;
}

std::optional<double> voltageLetter(char letter)
{
    static constexpr std::array<std::pair<char, double>, 11> letters{{{'A', 1.0},
                                                                      {'B', 1.25},
                                                                      {'C', 1.6},
                                                                      {'D', 2.0},
                                                                      {'E', 2.5},
                                                                      {'F', 3.15},
                                                                      {'V', 3.5},
                                                                      {'G', 4.0},
                                                                      {'H', 5.0},
                                                                      {'J', 6.3},
                                                                      {'K', 8.0}}};
    for (const auto& [name, volts] : letters)
        if (name == letter)
            return volts;
    return std::nullopt;
}

/// The end of the capacitance in a code, its value, and how it was written.
struct CapacitorValue
{
    enum class Form { Letter, ThreeDigits, Microfarad, FewDigits };
    double farad;
    Form form;
    std::string digits;
};

std::optional<CapacitorValue> letterCapacitance(const std::string& body)
{
    const auto letter = body.find_first_of("PNU");
    if (letter == std::string::npos)
        return std::nullopt;
    std::string digits = body;
    digits.erase(letter, 1);
    if (!allOf(digits, decimal_digits) || digits.size() > 9)
        return std::nullopt;
    const int places = static_cast<int>(body.size() - 1 - letter);
    const int exponent = body[letter] == 'P' ? -12 : body[letter] == 'N' ? -9 : -6;
    return CapacitorValue{timesTen(toInt(digits), exponent - places), CapacitorValue::Form::Letter, digits};
}

std::optional<CapacitorValue> threeDigitCapacitance(const std::string& body)
{
    if (body.size() != 3 || !allOf(body, decimal_digits))
        return std::nullopt;
    const int last = body[2] - '0';
    const int power = last == 8 ? -2 : last == 9 ? -1 : last;
    return CapacitorValue{timesTen(toInt(body.substr(0, 2)), power - 12), CapacitorValue::Form::ThreeDigits,
                          body};
}

std::optional<CapacitorValue> pointCapacitance(const std::string& body)
{
    const auto point = body.find('.');
    if (point == std::string::npos || point + 1 == body.size())
        return std::nullopt;
    std::string digits = body;
    digits.erase(point, 1);
    if (!allOf(digits, decimal_digits) || digits.size() > 9)
        return std::nullopt;
    const int places = static_cast<int>(body.size() - 1 - point);
    return CapacitorValue{timesTen(toInt(digits), -6 - places), CapacitorValue::Form::Microfarad, digits};
}

std::optional<CapacitorValue> fewDigitCapacitance(const std::string& body)
{
    if (body.empty() || body.size() > 2 || !allOf(body, decimal_digits))
        return std::nullopt;
    return CapacitorValue{timesTen(toInt(body), -12), CapacitorValue::Form::FewDigits, body};
}

std::optional<CapacitorValue> readCapacitance(const std::string& body)
{
    for (auto* reader : {letterCapacitance, threeDigitCapacitance, pointCapacitance, fewDigitCapacitance})
        if (auto value = reader(body))
            return value;
    return std::nullopt;
}

void setCapacitorTolerance(MarkingReadResult& result, char letter)
{
    const auto tolerance = capacitorTolerance(letter, result.value);
    if (!tolerance)
        return;
    result.tolerance_low = tolerance->low;
    result.tolerance_high = tolerance->high;
    if (tolerance->symmetrical)
        result.tolerance = tolerance->high;
}

void addCapacitorAlternatives(MarkingReadResult& result, const CapacitorValue& value, char letter)
{
    const auto add = [&](double farad, OtherReading why) {
        const auto tolerance = capacitorTolerance(letter, farad);
        addAlternative(result, farad,
                       tolerance && tolerance->symmetrical ? std::optional(tolerance->high) : std::nullopt,
                       why);
    };
    if (value.form == CapacitorValue::Form::ThreeDigits && value.digits.back() == '0')
        add(timesTen(toInt(value.digits), -12), OtherReading::Literal);
    if (value.form == CapacitorValue::Form::FewDigits)
        add(timesTen(toInt(value.digits), -6), OtherReading::Microfarad);
}

/// The text with µ and μ as U, in capitals.
std::string capacitorCode(const std::string& text)
{
    std::string code;
    scan::Cursor cursor(text);
    for (; !cursor.atEnd(); cursor.step()) {
        const char32_t c = cursor.peek();
        code += c == 0xB5 || c == 0x3BC ? 'U' : c < 0x80 ? static_cast<char>(c) : '?';
    }
    return upper(code);
}

MarkingReadResult readCapacitor(const std::string& text)
{
    std::string code = capacitorCode(text);
    const DocumentError unreadable(ErrorCode::Unreadable, "/text",
                                   "no capacitor code, such as 104, 4n7 or 2A104J");
    char letter = 0;
    auto value = readCapacitance(code);
    if (!value && !code.empty() && capacitorTolerance(code.back(), 1)) {
        letter = code.back();
        code.pop_back();
        value = readCapacitance(code);
    }
    std::optional<double> rated_v;
    if (!value && code.size() == 5 && code[0] >= '0' && code[0] <= '3')
        if (const auto volts = voltageLetter(code[1])) {
            value = threeDigitCapacitance(code.substr(2));
            rated_v = timesTen(*volts, code[0] - '0');
        }
    if (!value || value->farad == 0)
        throw unreadable;
    MarkingReadResult result{};
    result.value = value->farad;
    result.quantity = MarkedQuantity::Capacitance;
    result.rated_v = rated_v;
    setCapacitorTolerance(result, letter);
    addCapacitorAlternatives(result, *value, letter);
    return result;
}

} // namespace

std::optional<int> digitOf(Colour colour) { return meaningOf(colour).digit; }

MarkingReadResult markingRead(const MarkingReadInput& in)
{
    MarkingReadResult result = in.kind == MarkingKind::Bands ? readBands(in.bands)
                               : in.kind == MarkingKind::Smd ? readChip(in.text)
                                                             : readCapacitor(in.text);
    result.series = smallestSeriesWith(result.value);
    return result;
}

void fields(Fields& f, MarkingReadInput& in)
{
    f.need("kind", in.kind);
    const bool every_kind = f.mode() == Fields::Mode::Schema;
    if (every_kind)
        f.may("bands", in.bands, {1, 6});
    else if (in.kind == MarkingKind::Bands)
        f.need("bands", in.bands, {1, 6});
    if (every_kind)
        f.may("text", in.text);
    else if (in.kind != MarkingKind::Bands)
        f.need("text", in.text, any_text);
    f.demand(in.bands.size() != 2, ErrorCode::OutOfRange, "bands", "1 or 3 to 6 bands are wanted");
}

void fields(Fields& f, AlternativeReading& out)
{
    f.need("value", out.value);
    f.may("tolerance", out.tolerance);
    f.may("series", out.series);
    f.need("why", out.why);
}

void fields(Fields& f, MarkingReadResult& out)
{
    f.need("value", out.value);
    f.need("quantity", out.quantity);
    f.may("tolerance", out.tolerance);
    f.may("tolerance_low", out.tolerance_low);
    f.may("tolerance_high", out.tolerance_high);
    f.may("tolerance_assumed", out.tolerance_assumed);
    f.may("tempco_per_k", out.tempco_per_k);
    f.may("rated_v", out.rated_v);
    f.may("series", out.series);
    f.may("reversed", out.reversed);
    f.need("alternatives", out.alternatives);
}

} // namespace offshoot
