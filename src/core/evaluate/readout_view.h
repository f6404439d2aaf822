// Is a readout right? Its points, what would cure it, and what accuracy can be taken from them.
#pragma once

#include "core/job/job.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

/// A readout of the job: one held by itself, or one on the planned front.
struct ReadoutPlace
{
    std::string name;
    bool on_front; ///< of plan.rehouse, else of job.readouts
    std::size_t at;
};
std::vector<ReadoutPlace> readoutPlaces(const Job& job);
/// The readout at a place; one of the front as if it were held by itself.
HeldReadout heldReadout(const Job& job, const ReadoutPlace& place);
/// Puts it back, as far as its place can hold it.
void putReadout(Job& job, const ReadoutPlace& place, const HeldReadout& readout);

struct ReadoutView
{
    HeldReadout readout;
    std::optional<ReadoutCheckInput> input = {};
    std::optional<ReadoutCheckResult> result = {};
    std::string sentence = {};
    std::vector<std::string> assumed = {};
    /// The least share that covers every point with its doubt, at the counts that are claimed; of one's own
    /// meter with points.
    std::optional<MeterAccuracy> accuracy = {};
};
ReadoutView readoutView(const Job& job, const ReadoutPlace& place);
std::string readoutValue(double value, Quantity quantity);
/// What a claim allows at what is shown, in its unit: share·|shown| + counts·resolution.
double allowedError(const ReadoutClaim& claim, double shown);
/// How far a point may truly be off either way from its error: the doubt of its truth and half a step of the
/// readout.
double doubtOf(const ReadoutView& view, const CheckedPoint& point);
/// The error that the line through the points has at a true value; nothing without a line.
std::optional<double> lineError(const ReadoutCheckResult& result, double truth);
/// What the meter's accuracy becomes.
void takeAccuracy(Meter& meter, Quantity quantity, const MeterAccuracy& accuracy);

} // namespace offshoot
