#include "core/evaluate/unread.h"

#include "core/values/figures.h"

#include <algorithm>
#include <span>

namespace offshoot {

namespace {

constexpr std::array capacitors{6.3,   10.0,  16.0,  25.0,  35.0,  50.0,  63.0,  80.0,  100.0,
                                160.0, 200.0, 250.0, 350.0, 400.0, 420.0, 450.0, 500.0, 630.0};
constexpr std::array diodes{20.0,  30.0,  40.0,  45.0,  60.0,  80.0,   100.0,  150.0,
                            200.0, 300.0, 400.0, 600.0, 800.0, 1000.0, 1200.0, 1600.0};
constexpr std::array switches{30.0,  40.0,  60.0,  100.0, 150.0, 200.0,  250.0,  400.0,  500.0,
                              600.0, 650.0, 700.0, 800.0, 900.0, 1000.0, 1200.0, 1500.0, 1700.0};
constexpr std::array resistors{0.063, 0.1, 0.125, 0.25, 0.5, 1.0, 2.0, 3.0, 5.0, 7.0, 10.0};

/// The usual ratings of what answers a row; empty where there is no series.
std::span<const double> seriesOf(RowId id)
{
    switch (id) {
    case RowId::BulkVoltage:
    case RowId::OutputCapacitorVoltage:
    case RowId::ChainCapacitor:
    case RowId::SourceRise:
        return capacitors;
    case RowId::InputRectifierReverse:
    case RowId::RectifierReverse:
    case RowId::ChainReverse:
        return diodes;
    case RowId::SwitchVoltage:
        return switches;
    case RowId::MinimumLoadPower:
    case RowId::IndicatorPower:
        return resistors;
    default:
        return {};
    }
}

/// A resistor's power has bounds of its own.
UseBounds boundsOf(const ConsequenceRow& row) { return {row.fits_to, 1}; }

void weigh(Unread& unread, const ConsequenceRow& row)
{
    unread.decides = row.worse;
    const auto series = seriesOf(row.id);
    if (!row.planned || series.empty())
        return;
    bool all_fit = true;
    for (const double rating : series) {
        if (row.found && rating < *row.found)
            continue; // it has borne more than that
        const Verdict verdict = judgeUse(*row.planned / rating, boundsOf(row));
        all_fit = all_fit && verdict == Verdict::Fits;
        if (verdict == Verdict::Breaks)
            unread.would_break = std::max(unread.would_break.value_or(0), rating);
        if (verdict == Verdict::Fits && !unread.would_fit)
            unread.would_fit = rating;
    }
    unread.decides = row.worse && !all_fit;
}

} // namespace

bool mustBeRead(const Job& job, const ConsequenceRow& row)
{
    return rowInfo(row.id).needed_for_sign_off && !job.found.dcFed() &&
           (row.id != RowId::SwitchVoltage || row.worse || !row.planned);
}

std::vector<Unread> unreadOf(const Job& job, const Evaluation& evaluation)
{
    std::vector<Unread> all;
    for (const ConsequenceRow& row : evaluation.consequences.rows) {
        if (row.verdict != Verdict::Unknown)
            continue;
        Unread unread{.station = row.station,
                      .part = row.part,
                      .quantity = row.quantity,
                      .row = row.key(),
                      .what = row.read_next.empty() ? std::string(rowInfo(row.id).read_next) : row.read_next,
                      .blocks = mustBeRead(job, row),
                      .decides = false,
                      .unit = rowInfo(row.id).unit};
        weigh(unread, row);
        all.push_back(std::move(unread));
    }
    std::ranges::stable_sort(all, {}, [](const Unread& unread) {
        return std::pair(unread.blocks ? 0 : unread.decides ? 1 : 2, unread.station);
    });
    return all;
}

std::string worthWords(const Unread& unread)
{
    if (!unread.decides)
        return "decides nothing: it may stay unread";
    const auto shown = [&](double v) {
        return unread.unit ? formatValue(v, *unread.unit) : significant(v, 4);
    };
    if (unread.would_break && unread.would_fit)
        return "a part of " + shown(*unread.would_break) + " would break, one of " +
               shown(*unread.would_fit) + " fits";
    if (unread.would_break)
        return "even a part of " + shown(*unread.would_break) + " would break";
    if (unread.would_fit)
        return "a part of " + shown(*unread.would_fit) + " fits, smaller ones are tight";
    return "decides";
}

} // namespace offshoot
