#include "core/job/readouts.h"

#include "core/job/job.h"

namespace offshoot {

std::optional<ReadoutCheckInput> readoutInput(const HeldReadout& readout, const Meter& meter)
{
    if (readout.points.empty())
        return std::nullopt;
    ReadoutCheckInput in{.points = {},
                         .through = readout.through,
                         .claim = readout.claim,
                         .resolution = readout.claim ? readout.claim->resolution : 0};
    for (const ReadoutPair& pair : readout.points) {
        ReadoutPoint point{.shown = pair.shown};
        const Quantity read = readout.through ? Quantity::Voltage : readout.shows;
        const double u = pair.u.value_or(readout.own_meter ? 0 : meter.uncertainty(pair.truth, read));
        if (readout.through) {
            point.across_v = pair.truth;
            point.u_v = u;
        } else {
            point.truth = pair.truth;
            point.u_truth = u;
        }
        in.points.push_back(point);
    }
    return in;
}

std::string cureWords(ReadoutCure cure)
{
    switch (cure) {
    case ReadoutCure::NothingNeeded:
        return "it needs no cure";
    case ReadoutCure::Offset:
        return "its zero cures it";
    case ReadoutCure::Gain:
        return "its gain cures it";
    case ReadoutCure::Both:
        return "zero and gain cure it";
    case ReadoutCure::Neither:
        break;
    }
    return "nothing that can be turned cures it";
}

void fields(Fields& f, ReadoutPair& value)
{
    f.need("shown", value.shown);
    f.need("truth", value.truth);
    f.may("u", value.u, range::not_negative);
}

void fields(Fields& f, HeldReadout& value)
{
    constexpr Lengths most_points{0, 200};
    f.need("name", value.name, name_length);
    f.need("shows", value.shows);
    f.may("own_meter", value.own_meter);
    f.may("through", value.through);
    f.may("points", value.points, most_points);
    f.may("claim", value.claim);
    f.demand(value.shows == Quantity::Voltage || value.shows == Quantity::Current ||
                 value.shows == Quantity::Resistance,
             ErrorCode::OutOfRange, "shows", "a readout shows volts, amperes or ohms");
    f.demand(!value.through || value.shows == Quantity::Current, ErrorCode::Inconsistent, "through",
             "amperes alone are read through a resistance");
}

} // namespace offshoot
