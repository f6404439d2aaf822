// The table from a calculation's name to its core function, used by offshoot-calc and by the tests.
#pragma once

#include "core/values/json.h"

#include <span>
#include <string_view>

namespace offshoot {

struct Calculation
{
    std::string_view name;
    std::string_view description;
    Json (*run)(const Json& input); ///< throws DocumentError
    Json (*schema)();
};

std::span<const Calculation> calculations();
/// Nothing if there is no calculation of that name.
const Calculation* findCalculation(std::string_view name);

} // namespace offshoot
