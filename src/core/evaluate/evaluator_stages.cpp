// How far the stages are, and what keeps a job from being signed off.
#include "core/evaluate/evaluator.h"
#include "core/evaluate/unread.h"
#include "core/kinds/planned.h"
#include "core/values/figures.h"

#include <algorithm>

namespace offshoot {

double Evaluator::stepShare(Stage stage) const
{
    double all = 0;
    double done = 0;
    for (const StepView& view : m_e.steps) {
        if (view.step.stage != stage)
            continue;
        all += 1;
        done += view.status == StepStatus::Done ? 1 : 0;
    }
    return all > 0 ? done / all : 0;
}

void Evaluator::evaluateStages()
{
    const Need& need = m_job.need;
    const double need_share = ((need.target ? 2 : 0) + (need.current_a ? 1 : 0)) / 3.0;
    double read = 0;
    for (const ConsequenceRow& row : m_e.consequences.rows)
        read += row.verdict != Verdict::Unknown ? 1 : 0;
    const double rows = std::max<double>(1, static_cast<double>(m_e.consequences.rows.size()));
    const bool planned = changesAnything(m_job);
    const bool wants_divider = !m_e.divider && !planned && m_job.found.topology != Topology::Unregulated;
    const double found_share = (wants_divider ? 0 : 0.3) + 0.4 * read / rows + 0.3 * stepShare(Stage::Found);
    const double plan_share = !planned ? 0 : m_e.counts.breaks == 0 ? 1 : 0.6;
    const auto next_title = [this](Stage stage) {
        const StepView* next = nextStep(m_e, stage);
        return next != nullptr ? next->step.title : std::string();
    };
    m_e.stages = {
        StageView{need_share, need.target ? "" : "Say what the load wants."},
        StageView{found_share, wants_divider ? "Enter reference and divider." : next_title(Stage::Found)},
        StageView{plan_share, !planned ? "Choose what to change." : ""},
        StageView{stepShare(Stage::Change), next_title(Stage::Change)},
        StageView{stepShare(Stage::BringUp), next_title(Stage::BringUp)},
        StageView{stepShare(Stage::SignOff), next_title(Stage::SignOff)}};
    collectBlocks();
    // A signature holds only while nothing is open: another plan opens the steps it changes.
    m_e.signed_off = m_e.signed_off && m_e.blocks.empty();
}

/// What was measured to a case stands above what was entered: a bond that is there counts nowhere as
/// floating.
void Evaluator::blockFalseBonds()
{
    const auto bonded = [&](std::string_view point, const std::optional<std::string>& unit) {
        const LogEntry* entry = newestReading(m_job, point, Quantity::Resistance, unit, ReadingStage::Found);
        return entry != nullptr && entry->value && *entry->value < bonded_below_ohm;
    };
    for (std::size_t unit = 1; unit <= unitCount(m_job); ++unit)
        if (unitSupply(m_job, unit).joint.bonded == Bond::None && bonded("bond", unitTag(unit)))
            m_e.blocks.push_back(unitName(m_job, unit) +
                                 " counts as floating, but its output was measured bonded to its case.");
    if (m_job.plan.join && !m_job.plan.join->earthed_node && bonded("load-earth", {}))
        m_e.blocks.push_back(m_job.need.load.name +
                             " counts as earthed nowhere, but it was measured bonded to its case.");
}

void Evaluator::collectBlocks()
{
    auto& blocks = m_e.blocks;
    if (!m_job.need.target)
        blocks.emplace_back("The need has no voltage window.");
    if (!changesAnything(m_job))
        blocks.emplace_back("Nothing is planned.");
    for (const ConsequenceRow& row : m_e.consequences.rows) {
        const RowInfo& info = rowInfo(row.id);
        const bool accepted =
            std::ranges::any_of(m_job.plan.accepted, [&row](const Acceptance& a) { return a.covers(row); });
        if (row.verdict == Verdict::Breaks && (info.mains_side || !accepted))
            blocks.push_back(row.part + ", " + row.quantity + ": breaks.");
        if (row.verdict == Verdict::Unknown && mustBeRead(m_job, row))
            blocks.push_back(row.part + ", " + row.quantity + ": not read. Read " + row.read_next + ".");
    }
    for (const Wire& wire : m_job.found.wires)
        if (!wire.measured)
            blocks.push_back("Wire " + wire.name + ": its function was not measured.");
    blockFalseBonds();
    const Predictions::Bears& bears = m_e.bears.front();
    if (bears.planned == Verdict::Unknown || bears.planned == Verdict::Breaks)
        blocks.push_back("Not known to bear " +
                         (m_job.need.mains.v_assumed ? "the mains" : formatVolts(m_job.need.mains.v_v)) +
                         ": " + bears.planned_why);
    std::size_t open = 0;
    const StepView* first_open = nullptr;
    for (const StepView& view : m_e.steps)
        if (view.status != StepStatus::Done) {
            ++open;
            first_open = first_open == nullptr ? &view : first_open;
        }
    // A version-1 signature was given for the steps of its time: it stands while none of them is to be done
    // again.
    const bool again =
        std::ranges::any_of(m_e.steps, [](const StepView& view) { return view.status == StepStatus::Again; });
    if (first_open != nullptr && (again || !m_signed_by_words))
        blocks.push_back(std::to_string(open) + (open == 1 ? " step is" : " steps are") +
                         " open, first: " + first_open->step.title + ".");
}

} // namespace offshoot
