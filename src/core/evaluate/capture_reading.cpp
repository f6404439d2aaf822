#include "core/evaluate/capture_reading.h"

#include "core/job/readings.h"

#include <algorithm>
#include <cmath>

namespace offshoot {

namespace {

std::size_t columnAt(const CaptureAsk& ask, const std::vector<CaptureHeading>& headings)
{
    const CaptureColumnName column = ask.column.value_or(std::int64_t{1});
    if (const auto* number = std::get_if<std::int64_t>(&column)) {
        if (*number >= 1 && static_cast<std::size_t>(*number) < headings.size())
            return static_cast<std::size_t>(*number);
    } else {
        for (std::size_t k = 1; k < headings.size(); ++k)
            if (headings[k].name == std::get<std::string>(column))
                return k;
    }
    throw DocumentError(ErrorCode::OutOfRange, "/column", "the file has no such column");
}

/// Units of the point for each number of the column.
double scaleOf(const CaptureAsk& ask, const CaptureHeading& heading, const Meter& meter)
{
    if (ask.point == CapturePoint::Ripple)
        return heading.factor * meter.probe_factor.value_or(1);
    return heading.quantity == Quantity::Current ? heading.factor
                                                 : heading.factor * meter.amps_per_volt.value_or(1);
}

} // namespace

Quantity captureQuantity(CapturePoint point)
{
    return point == CapturePoint::Surge ? Quantity::Current : Quantity::Voltage;
}

bool loadsAlike(double load_a, double load_b)
{
    constexpr double share = 0.1;
    return std::abs(load_a - load_b) <= share * std::max(load_a, load_b);
}

CaptureMissing captureMissing(const CaptureAsk& ask, const std::vector<CaptureHeading>& headings,
                              const Meter& meter)
{
    const CaptureHeading& heading = headings[columnAt(ask, headings)];
    const bool amperes = heading.quantity == Quantity::Current;
    if (ask.point == CapturePoint::Ripple && amperes)
        throw DocumentError(ErrorCode::Inconsistent, "/column",
                            "that column is in amperes: a ripple is in volts");
    if (heading.quantity == Quantity::Time)
        throw DocumentError(ErrorCode::Inconsistent, "/column", "that column is a time");
    if (ask.point == CapturePoint::Ripple)
        return meter.probe_factor ? CaptureMissing::Nothing : CaptureMissing::ProbeFactor;
    return amperes || meter.amps_per_volt ? CaptureMissing::Nothing : CaptureMissing::AmpsPerVolt;
}

CaptureTrace keptTrace(const KeptCapture& kept, std::string_view csv)
{
    CaptureTrace trace = readCapture(csv, kept.column.value_or(std::int64_t{1}));
    trace.from_s *= kept.time_scale;
    trace.dt_s *= kept.time_scale;
    for (double& value : trace.values)
        value *= kept.scale;
    return trace;
}

LogEntry captureEntry(const CaptureAsk& ask, std::string_view csv, const Job& job)
{
    const auto headings = captureHeadings(csv);
    const std::size_t column = columnAt(ask, headings);
    captureMissing(ask, headings, job.meter); // refuses what cannot be
    KeptCapture kept{.file = ask.path,
                     .from = {},
                     .column = static_cast<std::int64_t>(column),
                     .scale = scaleOf(ask, headings[column], job.meter),
                     .time_scale = headings.front().factor};
    LogEntry entry = captureEntry(ask.point, keptTrace(kept, csv), job);
    kept.study = std::move(entry.capture->study);
    entry.load = ask.load;
    entry.unit = ask.unit;
    entry.capture = std::move(kept);
    return entry;
}

LogEntry captureEntry(CapturePoint point, const CaptureTrace& trace, const Job& job)
{
    const bool surge = point == CapturePoint::Surge;
    KeptCapture kept;
    kept.study = captureStudy(trace, job.found.dcFed() ? std::nullopt : std::optional(job.need.mains.f_hz),
                              surge ? std::nullopt : job.found.mains_side.noise_hz, surge);
    LogEntry entry{.id = "", .time_s = 0, .kind = LogKind::Reading};
    entry.point = word(point);
    entry.quantity = captureQuantity(point);
    entry.value = surge ? kept.study.surge->peak : kept.study.saw.pp;
    entry.uncertainty = scope_share * *entry.value;
    entry.meter = "oscilloscope";
    entry.capture = std::move(kept);
    return entry;
}

void attachCapture(LogEntry& entry, const Evaluation& evaluation)
{
    entry.step.reset();
    if (entry.capture->study.doubtful())
        return;
    const auto question = stepAsking(evaluation, *entry.point, *entry.quantity, entry.unit);
    if (!question)
        return;
    const auto& asked_a = question->asked->load_a;
    const bool other = asked_a && entry.load && entry.load->quantity == Quantity::Current &&
                       !loadsAlike(entry.load->value, *asked_a);
    if (!other)
        entry.step = question->view->step.id;
}

} // namespace offshoot
