// A bare adjustable module in a case of its own: its trimmers brought out, spacers, fuse, readouts.
#include "core/kinds/modules.h"
#include "core/kinds/rehouse/rehouse_view.h"
#include "core/values/figures.h"
#include "core/values/typed_words.h"

#include <algorithm>

namespace offshoot::kind {

namespace {

bool planned(const Job& job) { return job.plan.rehouse.has_value() && plannedModule(job) != nullptr; }

std::string turnsWords(std::int64_t turns)
{
    return turns == 1 ? "single turn" : std::to_string(turns) + " turns";
}

std::string potWords(const BroughtOut& pot)
{
    return "potentiometer " + formatValue(pot.ohm, Quantity::Resistance) + ", " + turnsWords(pot.turns);
}

void lines(const Job& job, std::vector<std::string>& all)
{
    const RehousePlan& plan = *job.plan.rehouse;
    for (const BroughtOut& pot : plan.pots)
        all.push_back(pot.name + " brought out: " + potWords(pot));
    for (const Spacer& spacer : plan.spacers)
        if (spacer.area_m2)
            all.push_back(spacer.name + " replaced by " + formatValue(*spacer.area_m2, Quantity::WireSize));
    if (plan.fuse_a)
        all.push_back("a fuse of " + amps(*plan.fuse_a) + " in the feed");
}

class RehouseSteps
{
public:
    explicit RehouseSteps(ChangeProcedure& procedure)
        : m_p(procedure)
        , m_plan(*procedure.job().plan.rehouse)
        , m_view(rehouseView(procedure.job()))
        , m_name(m_view.module->entry.unit.name)
    {}

    void onBench()
    {
        for (std::size_t i = 0; i < m_plan.pots.size(); ++i)
            bringOut(i);
        for (std::size_t i = 0; i < m_plan.spacers.size(); ++i)
            replaceSpacer(i);
        fuse();
    }

    void alone()
    {
        for (std::size_t i = 0; i < m_plan.pots.size(); ++i)
            if (m_plan.pots[i].sets == PotSets::Volts)
                sweep(i);
    }

    void checkReadouts()
    {
        for (std::size_t i = 0; i < m_plan.readouts.size(); ++i) {
            const FrontReadout& readout = m_plan.readouts[i];
            const std::string how = readout.shows == PotSets::Volts
                                        ? "Every test load off, the meter across the output posts. At three "
                                          "settings, low, middle "
                                          "and high; then back to " +
                                              volts(m_view.module->rails.front().set_v) + ". "
                                        : "The meter in the lead to the test loads, its range above their "
                                          "current; the light, the "
                                          "half and the full one in turn, then off. ";
            m_p.add("bringup.readout." + std::to_string(i + 1), Stage::BringUp, StepKind::Probe,
                    "Hold " + readout.name + " against a good meter",
                    how +
                        "What it shows and what is true, pair by pair, under Rehouse. What its zero or gain "
                        "cannot cure is written beside it on the front.");
        }
    }

private:
    Step& touch(const std::string& id, const std::string& title, const std::string& detail)
    {
        return m_p.add("change." + id, Stage::Change, StepKind::Touch, title, detail, {Does::WorkOutputSide});
    }

    void bringOut(std::size_t at)
    {
        const BroughtOut& pot = m_plan.pots[at];
        std::string detail = "The trimmer on the board out, its pads cleared. In its place " + potWords(pot) +
                             ": " + wiringWords(pot.wiring, pot.sets) + ", " + millimetres(pot.wire_m) +
                             " mm" + (pot.twisted ? ", twisted" : "") +
                             ", held at the board so that no joint carries the pull. Clockwise is more: "
                             "look at the end of its track by ohmmeter before it is soldered.";
        if (pot.guard_ohm)
            detail += " On the board, " +
                      std::string(pot.wiring != PotWiring::Divider ? "across the trimmer's pads"
                                  : pot.sets == PotSets::Volts     ? "from the wiper's pad to the output's"
                                                                   : "from the wiper's pad to the return") +
                      ", " + formatValue(*pot.guard_ohm, Quantity::Resistance) + ": for when a wire breaks.";
        for (const BrokenWire& wire : m_view.pots[at].broken.wires)
            detail += ' ' + capitalized(brokenWords(wire, pot.sets)) + '.';
        Step& step =
            touch("pot." + std::to_string(at + 1), "Bring out " + pot.name + " of " + m_name, detail);
        step.unit = m_p.stepUnit(1);
        step.parts = {pot.name, potWords(pot)};
    }

    void replaceSpacer(std::size_t at)
    {
        const Spacer& spacer = m_plan.spacers[at];
        const std::string id = "spacer." + std::to_string(at + 1);
        if (!spacer.carries) {
            Step& step =
                touch(id, "Measure " + spacer.name,
                      "By ohmmeter, the board dead and alone: from its head to the feed's plus, to the "
                      "return and to each output. Below an ohm to any of them it carries current: enter "
                      "it under Rehouse, and a wire takes its place.");
            step.parts = {spacer.name};
            return;
        }
        const std::string detail =
            *spacer.carries
                ? "It carried current: a wire" +
                      (spacer.area_m2 ? " of " + formatValue(*spacer.area_m2, Quantity::WireSize)
                                      : std::string(" of enough size")) +
                      " from pad to pad, soldered, and the board on insulating spacers."
                : std::string(
                      spacer.insulated
                          ? "It carries nothing: an insulating spacer, or washers on both sides; then an "
                            "ohmmeter from its screw to the board shows nothing."
                          : "It carries nothing. Left metal, it ties the board to the case: say which is "
                            "meant before it is screwed down.");
        Step& step = touch(id, (*spacer.carries ? "Replace " : "Fit ") + spacer.name, detail);
        step.parts = {spacer.name, spacer.area_m2 ? formatValue(*spacer.area_m2, Quantity::WireSize) : ""};
    }

    void fuse()
    {
        if (!m_plan.fuse_a)
            return;
        Step& step =
            touch("feed_fuse", "Fuse in the feed: " + amps(*m_plan.fuse_a),
                  "In the plus lead of the feed, before everything else and where it comes in; holder "
                  "and fuse rated for DC at " +
                      volts(*m_p.job().found.direct.max_v) + ".");
        step.parts = {amps(*m_plan.fuse_a)};
    }

    /// From end to end, and back to where the plan wants it.
    void sweep(std::size_t at)
    {
        const BroughtOut& pot = m_plan.pots[at];
        const PotView& view = m_view.pots[at];
        const std::string id = "change.sweep." + std::to_string(at + 1);
        const double set_v = m_view.module->rails.front().set_v;
        constexpr double roughly = 0.1;
        turn(id + ".low", "Turn the potentiometer of " + pot.name + " to its left end",
             "The light load off, then slowly. It falls as it is turned: one that rises is wired the "
             "other way round. Isolate then.",
             {view.least * (1 - roughly), view.least * (1 + roughly)}, "the least that it can be set to");
        // The bench supply stands anywhere inside the feed.
        const double top_v = std::min(view.broken.most, *m_p.job().found.direct.max_v);
        turn(id + ".high", "Turn the potentiometer of " + pot.name + " to its right end",
             "Without a load, slowly, watching the meter: above " + volts(top_v * (1 + roughly)) +
                 " turn back and isolate.",
             {view.most * (1 - roughly), top_v * (1 + roughly)}, "the feed and the module end it there");
        turn(id + ".set", "Turn the potentiometer of " + pot.name + " to " + volts(set_v),
             "It stays there; the light load may go on again.",
             {set_v * (1 - roughly), set_v * (1 + roughly)}, "where the plan wants it");
    }

    void turn(const std::string& id, const std::string& title, const std::string& detail,
              const VoltageRange& range, const char* because)
    {
        Step& step =
            m_p.add(id, Stage::Change, StepKind::Adjust, title, detail, {Does::Adjust, Does::ReadOutput});
        step.unit = m_p.stepUnit(1);
        const Rail* rail = railNamed(m_p.planned(), m_view.module->rails.front().rail);
        if (rail != nullptr)
            step.asks.push_back(
                {rail->name, Quantity::Voltage,
                 m_p.widened(signedWindow(*rail, range.min_v, range.max_v), Quantity::Voltage), std::nullopt,
                 because});
        m_p.outputCautions(step);
    }

    ChangeProcedure& m_p;
    const RehousePlan& m_plan;
    const RehouseView m_view;
    const std::string m_name;
};

void parts(const Job& job, const Figures& /*figures*/, PartList& list)
{
    const RehousePlan& plan = *job.plan.rehouse;
    const std::string& name = plannedModule(job)->entry.unit.name;
    for (const BroughtOut& pot : plan.pots) {
        list.add(potWords(pot) + ", with a knob", pot.name + " on the front", "the trimmer of " + name);
        const int wires = pot.wiring == PotWiring::Divider ? 3 : 2;
        list.add(std::to_string(wires) + " × " + formatValue(pot.wire_m, Quantity::Length, 2) +
                     " of thin wire",
                 pot.name);
        if (pot.guard_ohm)
            list.addResistor(*pot.guard_ohm, std::nullopt, std::nullopt,
                             "on the board, guarding " + pot.name);
    }
    for (const Spacer& spacer : plan.spacers)
        if (spacer.area_m2)
            list.add("wire, " + formatValue(*spacer.area_m2, Quantity::WireSize),
                     "in place of " + spacer.name, spacer.name);
    if (plan.fuse_a)
        list.add("fuse " + amps(*plan.fuse_a) + ", for DC, with a holder", "in the feed");
}

std::vector<ConsequenceRow> rows(const Job& job, const Figures& /*figures*/, const ChainRun* /*run*/)
{
    return rehouseView(job).rows;
}

void schools(const Job& job, const Figures& /*figures*/, FiguresOf /*figuresOf*/, std::vector<School>& all)
{
    all.push_back(rehouseView(job).school);
}

Work work(const Job& /*job*/, const Figures& /*figures*/)
{
    return {.inside = false,
            .on_bench = [](ChangeProcedure& p) { RehouseSteps(p).onBench(); },
            .alone = [](ChangeProcedure& p) { RehouseSteps(p).alone(); },
            .set = [](ChangeProcedure& p) { RehouseSteps(p).checkReadouts(); }};
}

} // namespace

const Kind rehouse{.name = "rehouse",
                   .planned = planned,
                   .work = work,
                   .lines = lines,
                   .parts = parts,
                   .rows = rows,
                   .schools = schools};

} // namespace offshoot::kind
