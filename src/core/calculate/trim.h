// `rails.trim`: one trimmer moves several rails in proportion. Can any setting put all of them in their
// windows, and if not, which rails conflict and what does that point to?
//
// Every rail is a V-shaped function of the scale, |s·v − middle|, so the best compromise is the crossing of
// two of them: found exactly over all pairs (at most 100 rails).
#pragma once

#include "core/values/verdict.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

/// One rail as read at one setting of the trimmer; the same rail under another load is another entry.
struct TrimRail
{
    std::string name;
    std::string load = {};
    double v; ///< not zero; negative rails carry negative numbers
    double min_v;
    double max_v;
    double weight = 1;
};
void fields(Fields& f, TrimRail& value);

struct ScaleRange
{
    double min_scale;
    double max_scale;
};
void fields(Fields& f, ScaleRange& value);

struct TrimInput
{
    std::vector<TrimRail> rails;
    std::optional<ScaleRange> travel;
};
void fields(Fields& f, TrimInput& in);

enum class Turn { Up, Down, None };
template <>
struct Words<Turn>
{
    static constexpr std::array<std::string_view, 3> list{"up", "down", "none"};
};
enum class TrimBlock { Rails, Travel };
template <>
struct Words<TrimBlock>
{
    static constexpr std::array<std::string_view, 2> list{"rails", "travel"};
};
enum class TravelEnd { Max, Min };
template <>
struct Words<TravelEnd>
{
    static constexpr std::array<std::string_view, 2> list{"max", "min"};
};
/// What a conflict points to: one rail under two loads (wiring drop, regulation), a wrong polarity, or two
/// rails that never get this close (missing load on one, a failing part).
enum class ConflictCause { Load, Sign, Cross };
template <>
struct Words<ConflictCause>
{
    static constexpr std::array<std::string_view, 3> list{"load", "sign", "cross"};
};

struct RailId
{
    std::string name;
    std::string load;
};
void fields(Fields& f, RailId& out);

struct TrimConflict
{
    RailId up;   ///< wants a larger scale
    RailId down; ///< wants a smaller one
    ConflictCause cause;
};
void fields(Fields& f, TrimConflict& out);

struct TrimmedRail
{
    std::string name;
    std::string load;
    double v;
    bool in_window;
    double margin;   ///< margin_v in half windows
    double margin_v; ///< to the nearer edge, negative outside
};
void fields(Fields& f, TrimmedRail& out);

struct TrimResult
{
    bool feasible;
    std::optional<ScaleRange> interval;
    bool now_in_windows;
    std::optional<double> best_scale;
    std::optional<double> change;
    Turn turn;
    std::vector<TrimmedRail> rails; ///< at best_scale, or as read where there is none
    std::optional<TrimBlock> blocked_by;
    std::optional<TrimConflict> conflict;
    std::optional<TravelEnd> travel_end;
};
void fields(Fields& f, TrimResult& out);

/// The scale s whose largest |s·v − middle|, in half windows, is the least, and the span in which all rails
/// fit. None is no error: the rails in conflict are named. Throws nothing.
TrimResult railsTrim(const TrimInput& in);
/// Every rail with the trimmer at `scale` of where it stands.
std::vector<TrimmedRail> railsAt(const TrimInput& in, double scale);

} // namespace offshoot
