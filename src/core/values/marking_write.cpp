// A value as bands or as a code.
#include "core/values/marking_tables.h"

#include <algorithm>
#include <cmath>

namespace offshoot {

namespace {

[[noreturn]] void noMarking(const std::string& path, const std::string& message)
{
    throw DocumentError(ErrorCode::NoSolution, path, message);
}

/// value = mantissa·10^exponent with `digits` digits in the mantissa, if it is exactly so.
std::optional<std::pair<int, int>> decimal(double value, int digits)
{
    const int exponent = static_cast<int>(std::floor(std::log10(value) + same_share)) - digits + 1;
    const auto mantissa = static_cast<int>(std::lround(value / std::pow(10.0, exponent)));
    if (!same(timesTen(mantissa, exponent), value))
        return std::nullopt;
    return std::pair(mantissa, exponent);
}

template <class Matches>
Colour colourWhere(Matches matches, const std::string& path, const std::string& message)
{
    const auto found = std::find_if(band_meanings.begin(), band_meanings.end(), matches);
    if (found == band_meanings.end())
        noMarking(path, message);
    return found->colour;
}

std::int64_t defaultCount(const MarkingWriteInput& in)
{
    if (in.value == 0)
        return 1;
    if (in.tempco_per_k)
        return 6;
    if (!in.tolerance || same(*in.tolerance, 0.2))
        return 3;
    const bool coarse = same(*in.tolerance, 0.05) || same(*in.tolerance, 0.1);
    return coarse && decimal(in.value, 2) ? 4 : 5;
}

void checkCount(const MarkingWriteInput& in, std::int64_t count)
{
    if ((in.value == 0) != (count == 1))
        noMarking("/count", "one band is for a link, and a link has one band");
    if (count == 1 && in.tolerance)
        noMarking("/tolerance", "a link has no tolerance");
    if (count == 3 && in.tolerance && !same(*in.tolerance, 0.2))
        noMarking("/tolerance", "three bands say 20 %");
    if (count > 3 && !in.tolerance)
        noMarking("/count", "so many bands need a tolerance");
    if (in.tempco_per_k && count != 6)
        noMarking(count == 1 ? "/tempco_per_k" : "/count", "only six bands carry a temperature coefficient");
    if (count == 6 && !in.tempco_per_k)
        noMarking("/count", "six bands need a temperature coefficient");
}

std::vector<Colour> writeBands(const MarkingWriteInput& in)
{
    const auto count = in.count.value_or(defaultCount(in));
    checkCount(in, count);
    if (count == 1)
        return {Colour::Black};
    const auto parts = decimal(in.value, count <= 4 ? 2 : 3);
    if (!parts)
        noMarking("/value", "this value has more digits than the bands");
    const auto [mantissa, exponent] = *parts;
    std::vector<Colour> bands;
    for (char c : std::to_string(mantissa))
        bands.push_back(colourWhere([&](const BandMeaning& m) { return m.digit == c - '0'; }, "/value", ""));
    bands.push_back(colourWhere([e = exponent](const BandMeaning& m) { return m.exponent == e; }, "/value",
                                "no colour for this power of ten"));
    const auto matches = [](std::optional<double> coded, double wanted) {
        return coded && same(*coded, wanted);
    };
    if (count > 3)
        bands.push_back(colourWhere(
            [&](const BandMeaning& m) { return matches(m.tolerance_percent, *in.tolerance * 100); },
            "/tolerance", "no colour for this tolerance"));
    if (count == 6)
        bands.push_back(
            colourWhere([&](const BandMeaning& m) { return matches(m.tempco_ppm, *in.tempco_per_k * 1e6); },
                        "/tempco_per_k", "no colour for this temperature coefficient"));
    return bands;
}

/// Digits with R for the point, or digits and a power: the 3 and 4 digit codes differ only in their length.
std::string writeDigits(double value, int digits)
{
    const auto parts = decimal(value, digits);
    std::string text;
    if (value < 1 - same_share) {
        const double scaled = value * std::pow(10.0, digits);
        const auto places = std::lround(scaled);
        if (places < 1 || !same(static_cast<double>(places), scaled))
            noMarking("/value", "this value does not go into so many digits");
        text = std::to_string(places);
        return "R" + std::string(static_cast<std::size_t>(digits) - text.size(), '0') + text;
    }
    if (!parts)
        noMarking("/value", "this value does not go into so many digits");
    const auto [mantissa, exponent] = *parts;
    text = std::to_string(mantissa);
    if (exponent < 0)
        return text.insert(text.size() - static_cast<std::size_t>(-exponent), "R");
    if (exponent > 9)
        noMarking("/value", "this value is too large for the code");
    return text + std::to_string(exponent);
}

std::string writeEia96(double value)
{
    const auto parts = decimal(value, 3);
    const auto& numbers = decade(Series::E96);
    const auto found = parts ? std::find(numbers.begin(), numbers.end(), parts->first) : numbers.end();
    if (found == numbers.end())
        noMarking("/value", "this value is not in E96");
    const auto letter = std::find_if(eia96_letters.begin(), eia96_letters.end(),
                                     [&](const auto& entry) { return entry.second == parts->second; });
    if (letter == eia96_letters.end())
        noMarking("/value", "EIA-96 has no letter for this power of ten");
    const std::string index = std::to_string(found - numbers.begin() + 1);
    return std::string(2 - index.size(), '0') + index + letter->first;
}

std::string writeChip(const MarkingWriteInput& in)
{
    if (in.value == 0) {
        if (in.style == SmdStyle::Eia96)
            noMarking("/value", "EIA-96 has no code for a link");
        return in.style == SmdStyle::ThreeDigit ? "000" : "0000";
    }
    switch (in.style) {
    case SmdStyle::ThreeDigit:
        return writeDigits(in.value, 2);
    case SmdStyle::FourDigit:
        return writeDigits(in.value, 3);
    case SmdStyle::Eia96:
        return writeEia96(in.value);
    }
    return {};
}

} // namespace

MarkingWriteResult markingWrite(const MarkingWriteInput& in)
{
    if (in.kind == MarkingKind::Bands)
        return {writeBands(in), std::nullopt};
    return {{}, writeChip(in)};
}

// ---- documents

void fields(Fields& f, MarkingWriteInput& in)
{
    f.need("kind", in.kind);
    f.demand(in.kind != MarkingKind::Capacitor, ErrorCode::OutOfRange, "kind",
             "only bands or smd can be written");
    f.need("value", in.value, range::not_negative);
    if (f.mode() == Fields::Mode::Schema || in.kind == MarkingKind::Bands) {
        f.may("tolerance", in.tolerance, range::fraction);
        f.may("tempco_per_k", in.tempco_per_k, range::not_negative);
        f.may("count", in.count, 1, 6);
    }
    if (f.mode() == Fields::Mode::Schema)
        f.may("style", in.style);
    else if (in.kind == MarkingKind::Smd)
        f.need("style", in.style);
    f.demand(in.count != 2, ErrorCode::OutOfRange, "count", "1 or 3 to 6 bands are wanted");
}

void fields(Fields& f, MarkingWriteResult& out)
{
    if (!out.bands.empty())
        f.need("bands", out.bands, {1, 6});
    if (out.text)
        f.may("text", out.text);
}

} // namespace offshoot
