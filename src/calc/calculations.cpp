#include "calc/calculations.h"

#include "core/change/current_limit.h"
#include "core/change/divider_diagnose.h"
#include "core/change/divider_pot.h"
#include "core/change/divider_search.h"
#include "core/change/divider_tolerance.h"
#include "core/change/dummy_load.h"
#include "core/change/rewind.h"
#include "core/change/trim.h"
#include "core/judge/consequences.h"
#include "core/judge/reading.h"
#include "core/procedure/discharge.h"
#include "core/procedure/limiter_lamp.h"
#include "core/values/marking.h"
#include "core/values/quantity.h"

#include <algorithm>

namespace offshoot {

namespace {

template <class Function>
struct InputOf;
template <class Out, class In>
struct InputOf<Out (*)(const In&)>
{
    using Type = In;
};

/// One row: the input is read, the function called and its result written.
template <auto function>
constexpr Calculation row(std::string_view name, std::string_view description)
{
    using In = typename InputOf<decltype(function)>::Type;
    return {name, description, [](const Json& input) { return writeJson(function(readJson<In>(input))); },
            [] { return schemaOf<In>("input"); }};
}

constexpr std::array table{
    row<valueParse>("value.parse", "read a value as people write it"),
    row<markingRead>("marking.read", "read colour bands, a chip code or a capacitor code"),
    row<markingWrite>("marking.write", "the bands or code of a resistor"),
    row<dividerSolve>("divider.solve", "parts from the drawer that bring a feedback divider to its target"),
    row<dividerPot>("divider.pot", "a temporary trimmer in the divider"),
    row<dividerTolerance>("divider.tolerance", "how a divider's voltage spreads over many builds"),
    row<dividerPredict>("divider.predict", "what a before-reading is worth"),
    row<dividerDiagnose>("divider.diagnose", "which single fault explains a reading"),
    row<consequences>("consequences", "what a new output voltage drags along"),
    row<rewindOptions>("rewind.options", "other turns on a secondary"),
    row<dummyLoadOptions>("dummyload.options", "resistors from the drawer that load a rail"),
    row<minimumLoadFit>("minimumload.fit", "how much load a rail needs, from readings"),
    row<railsTrim>("rails.trim", "one trimmer, several rails: is any setting good for all"),
    row<limitShunt>("limit.shunt", "a current limit: where it trips, and which shunt makes another"),
    row<judgeReading>("reading.judge", "is a reading good, given the meter"),
    row<lampLimit>("lamp.limit", "the lamp in series for first power"),
    row<dischargePlan>("discharge.plan", "how long until a reservoir is dead, and with what"),
};

} // namespace

std::span<const Calculation> calculations() { return table; }

const Calculation* findCalculation(std::string_view name)
{
    const auto found =
        std::find_if(table.begin(), table.end(), [&](const Calculation& c) { return c.name == name; });
    return found == table.end() ? nullptr : &*found;
}

} // namespace offshoot
