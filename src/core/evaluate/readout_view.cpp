#include "core/evaluate/readout_view.h"

#include "core/values/figures.h"
#include "core/values/typed_words.h"

#include <algorithm>
#include <cmath>

namespace offshoot {

namespace {

MeterAccuracy Meter::*accuracyFor(Quantity quantity)
{
    return quantity == Quantity::Current      ? &Meter::amps
           : quantity == Quantity::Resistance ? &Meter::ohms
                                              : &Meter::volts;
}

void say(ReadoutView& view)
{
    const auto& points = view.result->points;
    const CheckedPoint& worst =
        *std::ranges::max_element(points, {}, [](const CheckedPoint& p) { return std::abs(p.error); });
    const Quantity shows = view.readout.shows;
    const std::string name = capitalized(view.readout.name);
    const ReadoutCheckResult& r = *view.result;
    std::string& text = view.sentence;
    if (r.cured_by == ReadoutCure::NothingNeeded)
        text = name + " is right, as far as what it was held against can tell";
    else
        text = name + " shows " + readoutValue(std::abs(worst.error), shows) +
               (worst.error > 0 ? " too much" : " too little") + " at " + readoutValue(worst.truth, shows);
    if (r.cured_by && *r.cured_by != ReadoutCure::NothingNeeded)
        text += ": " + cureWords(*r.cured_by);
    else if (!r.cured_by)
        text += ". One truth cannot tell its zero from its gain: hold it at another";
    text += ".";
    if (view.readout.claim)
        text += r.verdict == Verdict::Fits     ? " It keeps what it claims."
                : r.verdict == Verdict::Breaks ? " It does not keep what it claims."
                                               : " Whether it keeps what it claims is within the doubt.";
}

} // namespace

std::vector<ReadoutPlace> readoutPlaces(const Job& job)
{
    std::vector<ReadoutPlace> all;
    if (job.plan.rehouse)
        for (std::size_t i = 0; i < job.plan.rehouse->readouts.size(); ++i)
            all.push_back({job.plan.rehouse->readouts[i].name, true, i});
    for (std::size_t i = 0; i < job.readouts.size(); ++i)
        all.push_back({job.readouts[i].name, false, i});
    return all;
}

HeldReadout heldReadout(const Job& job, const ReadoutPlace& place)
{
    if (!place.on_front)
        return job.readouts.at(place.at);
    return heldReadout(job.plan.rehouse->readouts.at(place.at));
}

void putReadout(Job& job, const ReadoutPlace& place, const HeldReadout& readout)
{
    if (!place.on_front) {
        job.readouts.at(place.at) = readout;
        return;
    }
    FrontReadout& front = job.plan.rehouse->readouts.at(place.at);
    front.points = readout.points;
    front.claim = readout.claim;
}

ReadoutView readoutView(const Job& job, const ReadoutPlace& place)
{
    ReadoutView view{.readout = heldReadout(job, place)};
    view.input = readoutInput(view.readout, job.meter);
    if (!view.input) {
        view.sentence =
            view.readout.own_meter
                ? "Hold it against a better meter, or against known resistors, at three points or more."
                : "At three settings, low, middle and high: what it shows and what a good meter reads.";
        return view;
    }
    view.result = readoutCheck(*view.input);
    const bool doubtless =
        std::ranges::all_of(view.readout.points, [](const ReadoutPair& p) { return !p.u; });
    if (doubtless)
        view.assumed.push_back(
            view.readout.own_meter
                ? "what it is held against is taken to be right: enter its doubt"
                : "what it is held against is off by the bench meter's accuracy at the most");
    if (!view.readout.claim || view.readout.claim->resolution <= 0)
        view.assumed.emplace_back("the steps of its last digit are taken for nothing");
    say(view);
    if (!view.readout.own_meter)
        return view;
    const MeterAccuracy& now = job.meter.*accuracyFor(view.readout.shows);
    MeterAccuracy taken{.reading_fraction = 0, .counts = now.counts, .resolution = now.resolution};
    if (view.readout.claim) {
        taken.counts = view.readout.claim->counts;
        taken.resolution = view.readout.claim->resolution;
    }
    for (const CheckedPoint& point : view.result->points)
        if (point.shown != 0) {
            const double left =
                std::abs(point.error) + doubtOf(view, point) - taken.counts * taken.resolution;
            taken.reading_fraction = std::max(taken.reading_fraction, left / std::abs(point.shown));
        }
    view.accuracy = taken;
    return view;
}

std::string readoutValue(double value, Quantity quantity)
{
    return quantity == Quantity::Voltage ? formatVolts(value) : formatValue(value, quantity, 4);
}

double allowedError(const ReadoutClaim& claim, double shown)
{
    return claim.reading_fraction * std::abs(shown) + claim.counts * claim.resolution;
}

double doubtOf(const ReadoutView& view, const CheckedPoint& point)
{
    return point.u_truth + view.input->resolution / 2;
}

std::optional<double> lineError(const ReadoutCheckResult& result, double truth)
{
    return result.gain && result.offset ? std::optional(*result.offset + (*result.gain - 1) * truth)
                                        : std::nullopt;
}

void takeAccuracy(Meter& meter, Quantity quantity, const MeterAccuracy& accuracy)
{
    meter.*accuracyFor(quantity) = accuracy;
}

} // namespace offshoot
