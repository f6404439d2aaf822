// Law 12: a unit whose parts lie within their tolerances, read with a meter within its own, passes every
// step. Units are drawn: reference, legs, what is added, a trimmer's travel, a droop that goes with the
// current or with the voltage; every reading is off by up to the meter's doubt.
#include "core/evaluate/evaluation.h"
#include "core/kinds/joined/bus_view.h"
#include "support/support.h"

#include <algorithm>
#include <random>

using namespace offshoot;

namespace {

constexpr double start_s = 1.8e9;

const Step* stepOf(const Evaluation& e, std::string_view id)
{
    const auto view = std::ranges::find(e.steps, id, [](const StepView& v) { return v.step.id; });
    return view == e.steps.end() ? nullptr : &view->step;
}

} // namespace

class TestSoundUnits : public QObject
{
    Q_OBJECT

    std::mt19937 m_random{7};
    Job m_job;
    double m_v_ref_v = 0;
    Legs m_legs{};
    double m_droop_ohm = 0;   ///< of the leads
    double m_droop_per_a = 0; ///< of the loop
    std::string m_out;

    double around(double v, double share)
    {
        return v * (1 + std::uniform_real_distribution<>(-share, share)(m_random));
    }
    double between(double from, double to) { return std::uniform_real_distribution<>(from, to)(m_random); }
    double read(double value, Quantity quantity)
    {
        return value + between(-1, 1) * m_job.meter.uncertainty(value, quantity);
    }
    double output(const Legs& legs, double load_a)
    {
        const double v =
            dividerVoltage(m_v_ref_v, m_job.found.rails.front().feedback.reference->i_ref_a, legs);
        return v * (1 - m_droop_per_a * load_a) - m_droop_ohm * load_a;
    }
    void draw(const FoundDivider& divider)
    {
        m_v_ref_v = around(divider.reference.v_ref_v, divider.reference.tolerance);
        m_legs = {around(divider.top.ohm(), divider.found_tolerance),
                  around(divider.bottom.ohm(), divider.found_tolerance)};
        const double drop_share = between(0, 0.04);
        const double of_leads = between(0, 1);
        m_droop_ohm = of_leads * drop_share * 24 / 2.2;
        m_droop_per_a = (1 - of_leads) * drop_share / 2.2;
    }
    /// What the step's first reading would be lies in its window; it is logged where it was read before the
    /// change.
    void passes(const Evaluation& e, const char* id, double value, bool log = false)
    {
        const Step* step = stepOf(e, id);
        if (step == nullptr || step->asks.empty() || !step->asks.front().window)
            return;
        const Asked& asked = step->asks.front();
        const double got = read(value, asked.quantity);
        if ((asked.window->min && got < *asked.window->min) ||
            (asked.window->max && got > *asked.window->max))
            m_out += std::string(id) + ": " + std::to_string(got) + " of " + std::to_string(value) + " in " +
                     std::to_string(asked.window->min.value_or(-1)) + " to " +
                     std::to_string(asked.window->max.value_or(-1)) + " (" + asked.because + ")\n";
        if (!log)
            return;
        LogEntry entry{.id = nextLogId(m_job),
                       .time_s = start_s + static_cast<double>(m_job.log.size()),
                       .kind = LogKind::Reading};
        entry.step = id;
        entry.point = asked.point;
        entry.quantity = asked.quantity;
        entry.value = got;
        entry.uncertainty = m_job.meter.uncertainty(got, asked.quantity);
        entry.stage = ReadingStage::Found;
        entry.isolation = Isolation::Live;
        if (asked.load_a)
            entry.load = ReadingLoad{*asked.load_a, Quantity::Current};
        m_job.log.push_back(std::move(entry));
    }
    double loadOf(const Evaluation& e, const char* id)
    {
        const Step* step = stepOf(e, id);
        return step == nullptr || step->asks.empty() ? 0 : step->asks.front().load_a.value_or(0);
    }

private Q_SLOTS:
    void retuned_data()
    {
        QTest::addColumn<int>("method");
        QTest::addColumn<double>("target_v");
        QTest::addColumn<double>("tolerance");
        QTest::addColumn<bool>("trimmer");
        for (std::size_t m = 0; m < method_count; ++m) {
            const auto method = static_cast<DividerMethod>(m);
            const bool down = method == DividerMethod::ParallelTop || method == DividerMethod::SeriesBottom;
            for (const double tolerance : {0.01, 0.05})
                for (const bool trimmer : {false, true})
                    QTest::addRow("%s %g%%%s", word(method).data(), tolerance * 100,
                                  trimmer ? " trimmer" : "")
                        << static_cast<int>(m) << (down ? 22.0 : 27.6) << tolerance << trimmer;
        }
    }
    void retuned()
    {
        QFETCH(int, method);
        QFETCH(double, target_v);
        QFETCH(double, tolerance);
        QFETCH(bool, trimmer);
        const auto how = static_cast<DividerMethod>(method);
        Job plain = test::demoJob();
        plain.log.clear();
        plain.drawer.clear();
        plain.found.rails.front().feedback.tolerance = tolerance;
        plain.need.target = Target{target_v, target_v - 0.3, target_v + 0.3};
        plain.plan.trimmer.method = how;
        const auto exact = evaluate(plain, start_s).exact.ohm[static_cast<std::size_t>(method)];
        QVERIFY(exact && *exact > 0);
        plain.plan.chosen = ChosenNetwork{how, Network(*exact), {{.ohm = *exact, .tolerance = tolerance}}};
        if (trimmer) {
            const TrimmerChoice usual = usualTrimmerFor(*exact);
            plain.plan.route = Route::TemporaryTrimmer;
            plain.plan.trimmer.pot_ohm = usual.pot_ohm;
            plain.plan.trimmer.fixed_ohm = usual.fixed_ohm;
        }
        const Evaluation first = evaluate(plain, start_s);
        constexpr int units = 40;
        for (int i = 0; i < units; ++i) {
            m_job = plain;
            m_out.clear();
            draw(*first.divider);
            for (const char* id :
                 {"found.lamp_output", "found.no_load", "found.light", "found.half", "found.full"})
                passes(first, id, output(m_legs, loadOf(first, id)), true);
            const bool all = i % 2 == 0; // else nobody read the loaded ones
            if (!all)
                std::erase_if(m_job.log,
                              [](const LogEntry& entry) { return entry.load && entry.load->value > 0.01; });
            const Evaluation e = evaluate(m_job, start_s + 100);
            if (trimmer) {
                const TrimmerPlan& plan = m_job.plan.trimmer;
                const bool at_stop = e.trimmer->preset_ohm == plan.pot_ohm;
                const double pot_ohm =
                    at_stop ? around(plan.pot_ohm, 0.2) : around(e.trimmer->preset_ohm, 0.04);
                const Legs legs = withAdded(how, m_legs, around(plan.fixed_ohm, 0.01) + pot_ohm);
                passes(e, "change.trimmer.preset", output(legs, loadOf(e, "change.trimmer.preset")));
            }
            const Legs legs = withAdded(how, m_legs, around(*exact, tolerance));
            const bool top = joinsTop(how);
            const double leg_ohm = top ? legs.top_ohm : legs.bottom_ohm;
            const double other_ohm = top ? legs.bottom_ohm : legs.top_ohm;
            passes(e, "change.measure", leg_ohm);
            passes(e, "change.measure", parallelOhm(leg_ohm, other_ohm + between(0, 1000)));
            for (const char* id : {"bringup.lamp_output", "bringup.no_load", "bringup.light", "bringup.half",
                                   "bringup.full", "signoff.output"})
                if (id != std::string("signoff.output") || e.load_v)
                    passes(e, id, output(legs, loadOf(e, id)));
            QVERIFY2(m_out.empty(), m_out.c_str());
        }
    }

    /// An output that was dead before the change has shown no droop.
    void deadBefore()
    {
        m_job = test::demoJob();
        for (LogEntry& entry : m_job.log)
            if (entry.stage == ReadingStage::Found && entry.quantity == Quantity::Voltage && !entry.load)
                entry.value = 0;
        const Evaluation e = evaluate(m_job, start_s);
        for (const StepView& view : e.steps)
            for (const Asked& asked : view.step.asks)
                if (asked.window)
                    QVERIFY2(std::isfinite(asked.window->min.value_or(0)) &&
                                 std::isfinite(asked.window->max.value_or(0)),
                             view.step.id.c_str());
    }

    void shared_data()
    {
        QTest::addColumn<int>("units");
        QTest::addColumn<double>("ballast");
        for (const int units : {2, 3, 6})
            for (const double ballast : {0.0, 0.1})
                QTest::addRow("%d units%s", units, ballast > 0 ? " with ballast" : "") << units << ballast;
    }
    /// Units that pass their set steps and the step between them share as the step of the leads expects;
    /// their droop and leads are what was entered, within a tenth.
    void shared()
    {
        QFETCH(int, units);
        QFETCH(double, ballast);
        m_job = readJob(test::sourceFile("data/jobs/hatch-heater.offshoot"));
        m_job.log.clear();
        m_job.others.resize(static_cast<std::size_t>(units) - 1, m_job.others.front());
        m_job.need.current_a = 3.5 * units;
        m_job.plan.join->ballast = ballast > 0 ? std::optional(Network(ballast)) : std::nullopt;
        m_job.plan.join->settings.clear();
        for (int unit = 1; unit <= units; ++unit)
            m_job.plan.join->settings.push_back({.unit = unit, .v_set_v = 15});
        const Evaluation e = evaluate(m_job, start_s);
        const ParallelInput planned = *busModel(m_job, e).input;
        const Step* share = stepOf(e, "join.share");
        const Step* difference = stepOf(e, "join.difference");
        QVERIFY(share != nullptr && difference != nullptr);
        QCOMPARE(share->asks.size(), planned.units.size());
        const auto inside = [](const Asked& asked, double value) {
            return value >= *asked.window->min && value <= *asked.window->max;
        };
        const double widest_v = *difference->asks.front().window->max * 1.2;
        for (int drawn = 0; drawn < 300;) {
            ParallelInput in = planned;
            for (ParallelUnit& unit : in.units) {
                unit.v_set_v += between(-widest_v, widest_v);
                unit.r_out_ohm = around(unit.r_out_ohm, 0.1);
                unit.r_lead_ohm = around(unit.r_lead_ohm, 0.1);
            }
            bool passed = true;
            for (std::size_t i = 0; i < in.units.size(); ++i) {
                const double v = in.units[i].v_set_v;
                const Step* set = stepOf(e, "join.set." + std::to_string(i + 1));
                passed = passed && inside(set->asks.front(), read(v, Quantity::Voltage)) &&
                         (i == 0 || inside(difference->asks[i - 1],
                                           read(v - in.units.front().v_set_v, Quantity::Voltage)));
            }
            if (!passed)
                continue;
            ++drawn;
            const BusState state = busState(in);
            for (std::size_t i = 0; i < state.units.size(); ++i) {
                const double a = read(state.units[i].current_a, Quantity::Current);
                QVERIFY2(inside(share->asks[i], a), qPrintable(QStringLiteral("%1 A in %2 to %3")
                                                                   .arg(a)
                                                                   .arg(*share->asks[i].window->min)
                                                                   .arg(*share->asks[i].window->max)));
            }
        }
    }
};

REGISTER_TEST(TestSoundUnits, void)
#include "tst_sound_units.moc"
