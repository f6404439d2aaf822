#include "core/supply/feedback.h"

namespace offshoot {

void fields(Fields& f, Reference& value)
{
    constexpr Range pin_current{-1e-3, 1e-3};
    f.need("v_ref_v", value.v_ref_v, range::positive);
    f.need("tolerance", value.tolerance, range::fraction);
    f.may("i_ref_a", value.i_ref_a, pin_current);
    f.may("i_ref_min_a", value.i_ref_min_a, pin_current);
    f.may("i_ref_max_a", value.i_ref_max_a, pin_current);
    f.demand(value.iMin() <= value.i_ref_a && value.i_ref_a <= value.iMax(), ErrorCode::Inconsistent, {},
             "i_ref_min_a, i_ref_a and i_ref_max_a must be in this order");
}

} // namespace offshoot
