#include "core/supply/output_parts.h"

namespace offshoot {

void fields(Fields& f, LimitThreshold& value)
{
    f.oneOf({"v_v", "v_ref_v"});
    f.may("v_v", value.v_v, range::positive);
    f.need("tolerance", value.tolerance, range::fraction);
    f.may("v_ref_v", value.v_ref_v, range::positive);
    if (f.reading() && value.v_v)
        for (const char* key : {"top", "bottom", "divider_tolerance"})
            f.demand(!f.present(key), ErrorCode::Inconsistent, {}, "a stated threshold has no divider");
    f.may("top", value.top);
    f.may("bottom", value.bottom);
    f.may("divider_tolerance", value.divider_tolerance, range::fraction);
    if (f.reading() && value.v_ref_v)
        for (const char* key : {"top", "bottom", "divider_tolerance"})
            f.demand(f.present(key), ErrorCode::Missing, key, "a reference needs its divider");
}

void fields(Fields& f, OringDiode& value)
{
    f.need("v_f_v", value.v_f_v, range::not_negative);
    f.may("r_ohm", value.r_ohm, range::not_negative);
}

void fields(Fields& f, ReverseDiode& value)
{
    f.need("v_rrm_v", value.v_rrm_v, range::positive);
    f.need("i_a", value.i_a, range::positive);
}

} // namespace offshoot
