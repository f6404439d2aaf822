// Markings on parts: colour bands (IEC 60062), chip codes (3 and 4 digits, R codes, EIA-96), capacitor codes.
#pragma once

#include "core/values/preferred.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

enum class Colour {
    Black,
    Brown,
    Red,
    Orange,
    Yellow,
    Green,
    Blue,
    Violet,
    Grey,
    White,
    Gold,
    Silver,
    Pink,
    Gray,
    Purple,
};
template <>
struct Words<Colour>
{
    static constexpr std::array<std::string_view, 15> list{"black", "brown",  "red",    "orange", "yellow",
                                                           "green", "blue",   "violet", "grey",   "white",
                                                           "gold",  "silver", "pink",   "gray",   "purple"};
};

enum class MarkingKind { Bands, Smd, Capacitor };
template <>
struct Words<MarkingKind>
{
    static constexpr std::array<std::string_view, 3> list{"bands", "smd", "capacitor"};
};
enum class MarkedQuantity { Resistance, Capacitance };
template <>
struct Words<MarkedQuantity>
{
    static constexpr std::array<std::string_view, 2> list{"resistance", "capacitance"};
};
enum class OtherReading { OtherEnd, Eia96, Literal, UpsideDown, Microfarad };
template <>
struct Words<OtherReading>
{
    static constexpr std::array<std::string_view, 5> list{"other_end", "eia96", "literal", "upside_down",
                                                          "microfarad"};
};

struct MarkingReadInput
{
    MarkingKind kind;
    std::vector<Colour> bands; ///< 1 or 3 to 6, from the end read first
    std::string text;          ///< chip or capacitor code
};
void fields(Fields& f, MarkingReadInput& in);

struct AlternativeReading
{
    double value;
    std::optional<double> tolerance;
    std::optional<Series> series;
    OtherReading why;
};
void fields(Fields& f, AlternativeReading& out);

struct MarkingReadResult
{
    double value; ///< Ω or F
    MarkedQuantity quantity;
    std::optional<double> tolerance; ///< fraction; null if not coded or not symmetrical
    std::optional<double> tolerance_low;
    std::optional<double> tolerance_high;
    bool tolerance_assumed = false;
    std::optional<double> tempco_per_k;
    std::optional<double> rated_v;
    std::optional<Series> series;
    bool reversed = false;
    std::vector<AlternativeReading> alternatives;
};
void fields(Fields& f, MarkingReadResult& out);

/// `marking.read`. Throws DocumentError: `unreadable` at /bands or /text.
MarkingReadResult markingRead(const MarkingReadInput& in);

enum class SmdStyle { ThreeDigit, FourDigit, Eia96 };
template <>
struct Words<SmdStyle>
{
    static constexpr std::array<std::string_view, 3> list{"3_digit", "4_digit", "eia96"};
};

struct MarkingWriteInput
{
    MarkingKind kind; ///< Bands or Smd
    double value;     ///< Ω
    std::optional<double> tolerance;
    std::optional<double> tempco_per_k;
    std::optional<std::int64_t> count;
    SmdStyle style;
};
void fields(Fields& f, MarkingWriteInput& in);

struct MarkingWriteResult
{
    std::vector<Colour> bands;
    std::optional<std::string> text;
};
void fields(Fields& f, MarkingWriteResult& out);

/// `marking.write`: what reads back to exactly this. Throws DocumentError `no_solution` at the key at fault.
MarkingWriteResult markingWrite(const MarkingWriteInput& in);

/// The digit a colour stands for, or nothing for gold, silver and pink.
std::optional<int> digitOf(Colour colour);

} // namespace offshoot
