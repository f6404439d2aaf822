#include "core/evaluate/evaluation.h"

#include "core/evaluate/evaluator.h"
#include "core/values/fresh_registers.h"

#include <algorithm>

namespace offshoot {

std::optional<Verdict> StepView::verdict() const
{
    std::optional<Verdict> worst;
    for (const auto& reading : readings)
        if (reading)
            worst = worse(worst.value_or(Verdict::Fits), reading->judgement.verdict);
    return worst;
}

Evaluation::Evaluation() = default;
Evaluation::Evaluation(const Evaluation&) = default;
Evaluation::Evaluation(Evaluation&&) noexcept = default;
Evaluation& Evaluation::operator=(const Evaluation&) = default;
Evaluation& Evaluation::operator=(Evaluation&&) noexcept = default;
Evaluation::~Evaluation() = default;

Evaluation evaluate(const Job& job, double now_s, const ChainRun* run)
{
    freshRegisters();
    if (batchUnits(job) > 1) // what was logged of its other units says nothing of this one
        return Evaluator(unitOfBatch(job, 1), now_s, run).run();
    return Evaluator(job, now_s, run).run();
}

Figures figuresOf(const Job& job) { return Evaluator(job, 0, nullptr).figures(); }

const StepView* nextStep(const Evaluation& evaluation, Stage stage)
{
    for (const StepView& view : evaluation.steps)
        if (view.step.stage == stage && view.status != StepStatus::Done)
            return &view;
    return nullptr;
}

const StepView* openStep(const Evaluation& evaluation, Does what)
{
    const auto open = std::ranges::find_if(
        evaluation.steps, [](const StepView& view) { return view.status != StepStatus::Done; });
    return open != evaluation.steps.end() && open->step.is(what) ? &*open : nullptr;
}

ReadingStage stageOf(const LogEntry& reading, const Evaluation& evaluation)
{
    bool changed = false;
    for (const StepView& view : evaluation.steps) {
        if (reading.step == view.step.id)
            return view.step.reading_stage;
        const bool alters =
            view.step.stage == Stage::Change && (view.step.worksInside() || !view.step.parts.empty());
        changed = changed || (alters && view.status != StepStatus::Open);
    }
    return changed ? ReadingStage::Measured : ReadingStage::Found;
}

std::optional<Question> stepAsking(const Evaluation& evaluation, const std::string& point, Quantity quantity,
                                   const std::optional<std::string>& unit)
{
    const bool batch = evaluation.units.empty();
    for (const StepView& view : evaluation.steps) {
        if (view.status == StepStatus::Done || !allowedIn(view.step.kind, evaluation.isolation.state))
            continue;
        for (std::size_t i = 0; i < view.step.asks.size(); ++i) {
            const Asked& asked = view.step.asks[i];
            const bool asks = asked.answeredBy(point, quantity) && (batch || asked.unit == unit);
            const bool open = !view.readings[i] || view.readings[i]->judgement.verdict == Verdict::Breaks ||
                              view.step.kind == StepKind::Prove;
            if (asks && open)
                return Question{&view, &asked};
        }
    }
    return std::nullopt;
}

std::optional<DividerDiagnoseInput> diagnosisInput(const Job& job, double measured_v, double uncertainty_v,
                                                   Observed observed)
{
    const auto divider = job.found.rails.front().feedback.divider();
    const auto& chosen = job.plan.chosen;
    if (!divider || !chosen)
        return std::nullopt;
    const auto named = [&](const Network& network, const std::string& prefix, DiagnosedLeg& leg,
                           bool is_new) {
        std::vector<std::string> names;
        for (std::size_t i = 0; i < network.parts().size(); ++i) {
            names.push_back(prefix + (network.parts().size() > 1 ? std::to_string(i + 1) : ""));
            const double tolerance = is_new ? chosen->parts[i].tolerance : divider->found_tolerance;
            leg.parts.emplace_back(names.back(), DiagnosedPart{network.parts()[i], tolerance, is_new});
        }
        return network.textWith(names);
    };
    DividerDiagnoseInput in{.reference = {.v_ref_v = divider->reference.v_ref_v,
                                          .tolerance = divider->reference.tolerance,
                                          .i_ref_a = divider->reference.i_ref_a},
                            .top = {},
                            .bottom = {},
                            .measured_v = measured_v,
                            .uncertainty_v = uncertainty_v,
                            .observed = observed};
    const bool joins_top = joinsTop(chosen->method);
    const auto leg = [&](const Network& found, const std::string& prefix, DiagnosedLeg& out, bool changed) {
        if (!changed) {
            out.network = named(found, prefix, out, false);
        } else if (replaces(chosen->method)) {
            out.network = named(chosen->network, "added", out, true);
        } else {
            const std::string old = named(found, prefix, out, false);
            const std::string added = named(chosen->network, "added", out, true);
            const bool parallel = chosen->method == DividerMethod::ParallelBottom ||
                                  chosen->method == DividerMethod::ParallelTop;
            out.network = parallel ? "(" + old + ")||(" + added + ")" : old + "+" + added;
        }
    };
    leg(divider->top, "top", in.top, joins_top);
    leg(divider->bottom, "bottom", in.bottom, !joins_top);
    return in;
}

} // namespace offshoot
