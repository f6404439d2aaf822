#include "core/calculate/hiccup.h"

#include "core/values/format.h"

#include <algorithm>

namespace offshoot {

namespace {

constexpr double shorted_ohm = 1;
constexpr double lockout_room = 1.1;

class Explainer
{
public:
    explicit Explainer(const HiccupInput& in)
        : m_in(in)
    {}

    HiccupResult run()
    {
        HiccupResult result{{starvation(), overload(), shorted(), lamp(), minimumLoad()}};
        for (HiccupExplanation& e : result.causes)
            e.likelihood = !e.speaks_against.empty() ? Likelihood::RuledOut
                           : !e.speaks_for.empty()   ? Likelihood::Likely
                                                     : Likelihood::Possible;
        std::ranges::stable_sort(result.causes, {}, &HiccupExplanation::likelihood);
        return result;
    }

private:
    /// A yes or no that speaks for a cause when it equals `speaks_for`, against it when not.
    static void hold(HiccupExplanation& e, const std::optional<bool>& seen, bool speaks_for,
                     const std::string& if_true, const std::string& if_false)
    {
        if (!seen)
            return;
        (*seen == speaks_for ? e.speaks_for : e.speaks_against).push_back(*seen ? if_true : if_false);
    }

    HiccupExplanation starvation() const
    {
        HiccupExplanation e{.cause = HiccupCause::Starvation,
                            .likelihood = {},
                            .speaks_for = {},
                            .speaks_against = {},
                            .next =
                                "Measure the controller's supply while it pulses: it falls to its lockout "
                                "before each stop."};
        if (m_in.v_cc_v && m_in.off_v) {
            const std::string figures =
                "controller supply " + formatVolts(*m_in.v_cc_v) + ", lockout " + formatVolts(*m_in.off_v);
            if (!atLeast(*m_in.v_cc_v, lockout_room * *m_in.off_v))
                e.speaks_for.push_back(figures);
            else
                e.speaks_against.push_back(figures);
        }
        if (m_in.stops_lamp_out == true)
            e.speaks_against.emplace_back("it runs without the lamp: the windings feed the controller");
        if (m_in.reaches_output == false)
            e.speaks_against.emplace_back("the bursts end before the output is up");
        return e;
    }

    HiccupExplanation overload() const
    {
        HiccupExplanation e{.cause = HiccupCause::Overload,
                            .likelihood = {},
                            .speaks_for = {},
                            .speaks_against = {},
                            .next = "Take the load off: an overload stops with it."};
        if (m_in.load_a && m_in.allowed_a) {
            const std::string figures = formatValue(*m_in.load_a, Quantity::Current) + " of " +
                                        formatValue(*m_in.allowed_a, Quantity::Current) + " allowed";
            if (!atMost(*m_in.load_a, *m_in.allowed_a))
                e.speaks_for.push_back(figures);
        }
        hold(e, m_in.stops_unloaded, true, "it runs with the load taken off",
             "it pulses with the load taken off too");
        return e;
    }

    HiccupExplanation shorted() const
    {
        HiccupExplanation e{.cause = HiccupCause::Short,
                            .likelihood = {},
                            .speaks_for = {},
                            .speaks_against = {},
                            .next = "Unplugged and proven dead, measure across the output: well below the "
                                    "load's own ohms is a short."};
        if (m_in.output_ohm) {
            const std::string figures = formatOhms(*m_in.output_ohm) + " across the dead output";
            (*m_in.output_ohm < shorted_ohm ? e.speaks_for : e.speaks_against).push_back(figures);
        }
        if (m_in.stops_unloaded == true)
            e.speaks_against.emplace_back("it runs with the load taken off");
        if (m_in.reaches_output == true)
            e.speaks_against.emplace_back("each burst reaches the full output");
        return e;
    }

    /// What was seen without the lamp outranks the figure, which is of the lamp that was advised.
    HiccupExplanation lamp() const
    {
        HiccupExplanation e{.cause = HiccupCause::LampTooSmall,
                            .likelihood = {},
                            .speaks_for = {},
                            .speaks_against = {},
                            .next = "A larger lamp, or less load behind this one."};
        if (m_in.lamp_in == false)
            e.speaks_against.emplace_back("no lamp is in series");
        if (m_in.lamp_use) {
            const std::string figures =
                "the input takes " + formatPercent(*m_in.lamp_use, 2) + " of what the lamp lets through";
            if (!atMost(*m_in.lamp_use, 1))
                e.speaks_for.push_back(figures);
            else if (judgeUse(*m_in.lamp_use) == Verdict::Fits && m_in.stops_lamp_out != true)
                e.speaks_against.push_back(figures);
        }
        hold(e, m_in.stops_lamp_out, true, "it runs without the lamp", "it pulses without the lamp too");
        return e;
    }

    HiccupExplanation minimumLoad() const
    {
        HiccupExplanation e{.cause = HiccupCause::MissingMinimumLoad,
                            .likelihood = {},
                            .speaks_for = {},
                            .speaks_against = {},
                            .next = "A light resistive load: a tenth of the rated current is a usual start."};
        if (m_in.load_a && m_in.least_load_a) {
            const std::string figures = formatValue(*m_in.load_a, Quantity::Current) + " of at least " +
                                        formatValue(*m_in.least_load_a, Quantity::Current);
            (atLeast(*m_in.load_a, *m_in.least_load_a) ? e.speaks_against : e.speaks_for).push_back(figures);
        }
        hold(e, m_in.stops_with_load, true, "a light load makes it run", "it pulses with a light load too");
        if (m_in.stops_unloaded == true)
            e.speaks_against.emplace_back("it runs with the load taken off");
        return e;
    }

    const HiccupInput& m_in;
};

} // namespace

HiccupResult explainHiccup(const HiccupInput& in) { return Explainer(in).run(); }

void fields(Fields& f, HiccupInput& in)
{
    f.may("lamp_in", in.lamp_in);
    f.may("stops_lamp_out", in.stops_lamp_out);
    f.may("stops_unloaded", in.stops_unloaded);
    f.may("stops_with_load", in.stops_with_load);
    f.may("reaches_output", in.reaches_output);
    f.may("output_ohm", in.output_ohm, range::not_negative);
    f.may("v_cc_v", in.v_cc_v, range::positive);
    f.may("off_v", in.off_v, range::positive);
    f.may("load_a", in.load_a, range::not_negative);
    f.may("allowed_a", in.allowed_a, range::positive);
    f.may("lamp_use", in.lamp_use, range::not_negative);
    f.may("least_load_a", in.least_load_a, range::not_negative);
}

void fields(Fields& f, HiccupExplanation& out)
{
    f.need("cause", out.cause);
    f.need("likelihood", out.likelihood);
    f.may("speaks_for", out.speaks_for);
    f.may("speaks_against", out.speaks_against);
    f.need("next", out.next);
}

void fields(Fields& f, HiccupResult& out) { f.need("causes", out.causes); }

} // namespace offshoot
