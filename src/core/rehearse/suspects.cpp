#include "core/rehearse/suspects.h"

#include "core/evaluate/job_input.h"

#include <algorithm>
#include <cmath>

namespace offshoot {

namespace {

/// From 0, alike, to 1: another reading altogether. Units of one kind differ by their tolerances: a tenth
/// counts as little as the meters' doubt.
double apart(const std::optional<BenchReading>& was, const std::optional<BenchReading>& is)
{
    constexpr double kind_share = 0.1;
    constexpr double altogether = 5;
    if (!was || !is)
        return was.has_value() == is.has_value() ? 0 : 1;
    if (!was->value || !is->value)
        return was->value.has_value() == is->value.has_value() ? 0 : 1;
    const double scale = was->u + is->u + kind_share * std::max(std::abs(*was->value), std::abs(*is->value));
    return scale > 0 ? std::min(1.0, std::abs(*was->value - *is->value) / scale / altogether) : 0;
}

/// Nothing where this unit has no such point: what would have made it was refused there as a wrong move.
std::optional<BenchReading> readAt(Benches& bench, const BenchMove& move)
{
    try {
        return bench.play(move).reading;
    } catch (const DocumentError&) {
        return std::nullopt;
    }
}

} // namespace

std::vector<Suspect> suspects(const RehearsedJob& rehearsed, const std::function<bool()>& wanted)
{
    const std::vector<PlayedMove>& moves = rehearsed.played().moves;
    if (std::ranges::none_of(moves, [](const PlayedMove& m) { return m.answer.reading.has_value(); }))
        return {};
    const Job job = withoutLog(rehearsed.job());
    const Evaluation evaluation = evaluateWhole({job, 0});
    std::vector<UnitFault> faults = possibleFaults(job);
    faults.emplace_back();
    std::vector<Suspect> all;
    for (const UnitFault& fault : faults) {
        if (wanted && !wanted())
            throw SimCancelled{};
        constexpr std::uint64_t another = 20270501;
        Benches bench(job, evaluation, another, fault);
        Suspect suspect{fault, 0};
        for (const PlayedMove& move : moves)
            suspect.off += apart(move.answer.reading, readAt(bench, move.answer.move));
        all.push_back(suspect);
    }
    std::ranges::stable_sort(all, {}, &Suspect::off);
    return all;
}

std::vector<Suspect> likeliest(const std::vector<Suspect>& all)
{
    constexpr std::size_t first = 3;
    constexpr double told_apart = 0.02; // of one reading
    std::size_t count = std::min(first, all.size());
    while (count > 0 && count < all.size() && all[count].off <= all[count - 1].off + told_apart)
        ++count;
    return {all.begin(), all.begin() + static_cast<std::ptrdiff_t>(count)};
}

} // namespace offshoot
