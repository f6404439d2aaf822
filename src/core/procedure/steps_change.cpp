// The change itself: deepest first, then inspected; after work on the mains side earth and insulation
// measured again.
#include "core/procedure/change_procedure.h"
#include "core/values/figures.h"

#include <algorithm>

namespace offshoot {

namespace {

/// Usual guides for basic and for reinforced insulation at 500 V DC.
constexpr double class_1_insulation_ohm = 1e6;
constexpr double class_2_insulation_ohm = 7e6;

} // namespace

bool ChangeProcedure::worksOnMains() const
{
    return !dc() && !barredBySeal() && std::ranges::any_of(m_work.kinds, &Work::on_mains_side);
}

/// A sealed case leaves what is done outside of it.
void ChangeProcedure::fitParts()
{
    const bool barred = barredBySeal();
    if (barred)
        add("change.sealed", Stage::Change, StepKind::Look, "It cannot be fitted: the case is sealed",
            "What is planned is inside a case that does not open. Work at its output, or take another unit: "
            "change the plan.");
    else if (!m_work.changes)
        add("change.fit", Stage::Change, StepKind::Look, "Nothing is planned yet",
            "Choose in Plan what to change.");
    for (const auto at : {&Work::before, &Work::fit, &Work::close})
        for (const Work& work : m_work.kinds)
            if (work.*at && !(barred && work.inside))
                (work.*at)(*this);
}

std::optional<double> ChangeProcedure::testVolts(const std::string& rail) const
{
    std::optional<double> v = m_loads.planned.v_v;
    for (const Predictions::Other& other : m_predictions.others)
        if (other.rail == rail)
            v = other.v_v;
    return v;
}

void ChangeProcedure::inspectChange()
{
    pastTheChange();
    if (barredBySeal() && unit().outsideOnly())
        return;
    if (!unit().outsideOnly())
        add("change.inspect", Stage::Change, StepKind::Touch, "Inspect",
            dc() ? "Joints, clearances, polarity, no solder splash; strain relief on every lead."
                 : "Joints, clearances, polarity, no solder splash on the primary side; strain relief on "
                   "cord and "
                   "output leads.");
    Step& look = add("change.second_look", Stage::Change, StepKind::Look, "Second look before power",
                     "Somebody else, or you after a pause: against the plan's drawing, part by part.",
                     {Does::SecondLook});
    look.drawing = "plan";
    look.parts = m_work.lines;
    if (!mainsRetested())
        retestMains("change");
}

bool ChangeProcedure::mainsRetested() const
{
    return m_retested_at &&
           std::none_of(m_steps.begin() + static_cast<std::ptrdiff_t>(*m_retested_at), m_steps.end(),
                        [](const Step& step) { return step.is(Does::WorkMainsSide); });
}

bool ChangeProcedure::mainsTouched() const
{
    return std::any_of(m_steps.begin() + static_cast<std::ptrdiff_t>(m_retested_at.value_or(0)),
                       m_steps.end(), [](const Step& step) { return step.is(Does::WorkMainsSide); });
}

/// After work on the mains side, before the next power.
void ChangeProcedure::retestMains(const std::string& prefix)
{
    if (!worksOnMains())
        return;
    m_retested_at = m_steps.size();
    earthTest(prefix + ".earth", Stage::Change, 1, "Again, for the mains side was worked on. ");
    const bool class_1 = earthed(1);
    Step& insulation = add(
        prefix + ".insulation", Stage::Change, StepKind::Touch, "Measure the insulation at 500 V DC",
        std::string(
            "Plug out. Line and neutral pins joined, switch on, 500 V DC for a minute between them and ") +
            (class_1 ? "the earth pin" : "the output's terminals joined, and the case's metal") +
            "; off first with what it would break: surge arresters, varistors to earth, filters that bleed. "
            "By "
            "somebody equipped for it; otherwise leave it open: it stays an open point of the sign-off. What "
            "was "
            "tested is charged afterwards.",
        {Does::InsulationTest});
    insulation.unit = stepUnit(1);
    insulation.asks.push_back(
        {"insulation", Quantity::Resistance,
         ReadingWindow{class_1 ? class_1_insulation_ohm : class_2_insulation_ohm, std::nullopt}, std::nullopt,
         class_1 ? "usual guide for basic insulation" : "usual guide for reinforced insulation"});
    insulation.cautions = {Caution::OneHand, Caution::LentOrUnattended};
    isolate(prefix + ".tested", Stage::Change);
    waitAndProve(prefix + ".tested", Stage::Change);
}

} // namespace offshoot
