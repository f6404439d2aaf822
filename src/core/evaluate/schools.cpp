#include "core/evaluate/schools.h"

#include "core/evaluate/evaluator.h"
#include "core/kinds/job_figures.h"
#include "core/values/format.h"

#include <algorithm>

namespace offshoot {

namespace {

class Schools
{
public:
    Schools(const Job& job, const Evaluation& evaluation)
        : m_job(job)
        , m_e(evaluation)
    {}
    std::vector<School> run() const
    {
        return {retuneOrRewind(), addOrReplace(), trimmerOrFixed(), whereToTrim()};
    }

private:
    School retuneOrRewind() const;
    School addOrReplace() const;
    School trimmerOrFixed() const;
    School whereToTrim() const;

    const Job& m_job;
    const Evaluation& m_e;
};

School Schools::retuneOrRewind() const
{
    const double share = m_e.planned->option.v / m_e.found_v.value_or(m_e.planned->option.v);
    // What the divider alone does is judged with the turns as they were found.
    std::optional<Figures> unwound;
    if (m_job.plan.rewind) {
        Job alone = m_job;
        alone.plan.rewind.reset();
        unwound = Evaluator(alone, 0, nullptr).figures();
    }
    const ConsequenceRow* worst = nullptr;
    for (const ConsequenceRow& row : (unwound ? unwound->consequences : m_e.consequences).rows)
        if (row.worse && row.use && rowInfo(row.id).mains_side &&
            (worst == nullptr || *row.use > *worst->use))
            worst = &row;
    const std::string nearest = worst != nullptr
                                    ? worst->part + " at " + formatPercent(*worst->use, 2) + " of its limit"
                                    : std::string("nothing on the primary side moves nearer its limit");
    constexpr double rewind_worth = 1.25;
    const bool far = share > rewind_worth || share < 1 / rewind_worth;
    const std::string factor = significant(share, 3);
    return {"Retune the divider or rewind the transformer",
            {{"Retune", "output × " + factor + ", controller supply × " + factor + "; " + nearest},
             {"Rewind", "secondary turns × " + factor +
                            ", controller supply unchanged; core apart, insulation to be made again"}},
            far ? std::size_t{1} : std::size_t{0},
            far ? "So far from the found voltage the auxiliary supply and the duty leave their range."
                : "Within a quarter of the found voltage the divider alone is the smaller risk."};
}

/// Adding keeps both found legs, so the before-reading stays worth something; replacing one throws it away.
School Schools::addOrReplace() const
{
    const auto spread = [this](bool replacing) -> std::string {
        const auto best = std::ranges::find_if(m_e.candidates, [replacing](const Candidate& candidate) {
            return candidate.option.in_window && replaces(candidate.option.method) == replacing;
        });
        if (best == m_e.candidates.end())
            return "nothing in the drawer does it";
        return best->option.network.prettyText() + ": " + fixed(best->option.worst_min_v, 2) + " to " +
               fixed(best->option.worst_max_v, 2) + " V worst case";
    };
    return {
        "Add to a leg or replace it",
        {{"Add", spread(false)}, {"Replace", spread(true)}},
        0,
        m_e.before && m_e.before_possible
            ? "The before-reading knows both found legs together; a new leg is known by its own tolerance "
              "alone."
            : "Take a before-reading: it makes an added part several times closer, a replaced leg hardly."};
}

School Schools::trimmerOrFixed() const
{
    const DividerOption& option = m_e.planned->option;
    const DividerPotResult& trimmer = *m_e.trimmer;
    const std::string travel = significant(trimmer.min_v, 4) + " V to " +
                               (trimmer.max_v ? significant(*trimmer.max_v, 4) + " V" : "runaway");
    return {"Leave a trimmer in or fit a fixed resistor",
            {{"Fixed", fixed(option.worst_min_v, 2) + " to " + fixed(option.worst_max_v, 2) +
                           " V, stays there for good"},
             {"Trimmer",
              "any voltage from " + travel + "; wiper open: " +
                  (trimmer.open_wiper.v ? formatVolts(*trimmer.open_wiper.v) : std::string("runs away")) +
                  (trimmer.target_ohm ? "" : "; the one entered does not reach the target")}},
            0,
            option.worst_in_window ? "The fixed part meets the window in its worst case."
                                   : "Find the value with a trimmer, then fit what it measured: wipers age."};
}

School Schools::whereToTrim() const
{
    const bool battery = m_job.need.load.kind == LoadKind::Battery;
    const std::string load = m_job.need.current_a ? formatValue(*m_job.need.current_a, Quantity::Current)
                                                  : std::string("the need's current");
    return {"Trim without load, on a dummy load, or on the real load",
            {{"Without", "sees the set point alone"},
             {"Dummy", "sees the droop at " + load},
             {"Real", battery ? "a battery holds its own voltage: never" : "wins over all others"}},
            battery ? std::size_t{1} : std::size_t{2},
            battery ? "The load is a source itself: set it on a resistor."
                    : "Trim roughly before, finally on the real load."};
}

} // namespace

std::vector<School> schoolsOf(const Job& job, const Evaluation& evaluation)
{
    return Schools(job, evaluation).run();
}

} // namespace offshoot
