#include "core/job/need.h"

namespace offshoot {

Need::Need() = default;
Need::Need(const Need&) = default;
Need::Need(Need&&) noexcept = default;
Need& Need::operator=(const Need&) = default;
Need& Need::operator=(Need&&) noexcept = default;
Need::~Need() = default;
bool Need::operator==(const Need&) const = default;

void fields(Fields& f, RailNeed& value)
{
    f.need("rail", value.rail);
    f.need("min_v", value.min_v);
    f.need("max_v", value.max_v);
    f.demand(value.min_v < value.max_v, ErrorCode::Inconsistent, {}, "min_v is not below max_v");
}

void fields(Fields& f, StateDraw& value)
{
    f.need("state", value.state, name_length);
    f.need("rail", value.rail, name_length);
    f.need("usual_a", value.usual_a, range::not_negative);
    f.may("least_a", value.least_a, range::not_negative);
    f.may("peak_a", value.peak_a, range::not_negative);
    f.may("peak_s", value.peak_s, range::not_negative);
    f.may("u_a", value.u_a, range::not_negative);
    f.demand(value.least_a.value_or(value.usual_a) <= value.usual_a &&
                 value.usual_a <= value.peak_a.value_or(value.usual_a),
             ErrorCode::Inconsistent, "usual_a", "what is usual lies between least and peak");
}

void fields(Fields& f, Need& value)
{
    f.may("aim", value.aim);
    f.may("target", value.target);
    f.may("current_a", value.current_a, range::positive);
    f.may("least_a", value.least_a, range::not_negative);
    f.may("peak_a", value.peak_a, range::positive);
    f.may("draws", value.draws);
    f.may("others", value.others);
    f.may("measured", value.measured);
    for (std::size_t i = 0; i < value.measured.size(); ++i)
        for (std::size_t j = 0; j < i; ++j)
            f.demand(value.measured[i].state != value.measured[j].state ||
                         value.measured[i].rail != value.measured[j].rail,
                     ErrorCode::Inconsistent, "measured", "a rail stands twice in a state");
    f.may("ripple_max_v", value.ripple_max_v, range::positive);
    if (f.reading())
        value.mains.v_assumed = value.mains.spread_assumed = true; // until the file says
    f.may("mains", value.mains);
    f.may("load", value.load);
    f.may("why", value.why);
    f.may("must_not_change", value.must_not_change);
}

} // namespace offshoot
