// Out with the old unit, the new one met alone, mounted, wired wire by wire: earth first.
#include "core/kinds/replace/fit_view.h"
#include "core/kinds/replace/reach.h"
#include "core/kinds/replace/replace_view.h"
#include "core/kinds/replace/wanted.h"
#include "core/kinds/replace/wiring_view.h"
#include "core/values/figures.h"
#include "core/values/typed_words.h"

#include <algorithm>

namespace offshoot {

namespace {

/// Where a wire that is made new begins.
std::string newWireWords(WireFunction function)
{
    switch (function) {
    case WireFunction::Line:
        return ", a new wire from behind switch and fuse. ";
    case WireFunction::Neutral:
        return ", a new wire from behind the switch. ";
    case WireFunction::Earth:
        return ", a new wire from the stud where the cord's earth ends. ";
    default:
        return ", a new wire. ";
    }
}

std::string listedWires(const std::vector<PlannedWire>& wires, auto keep)
{
    std::string text;
    for (const PlannedWire& wire : wires)
        if (keep(wire))
            text += (text.empty() ? "" : ", ") + withColour(wire.wire);
    return text;
}

class ReplaceSteps
{
public:
    explicit ReplaceSteps(ChangeProcedure& procedure)
        : m_p(procedure)
        , m_plan(*procedure.job().plan.replace)
        , m_wiring(wiringView(procedure.job()))
        , m_mains(!procedure.dc())
        , m_was_outside(procedure.job().found.outsideOnly())
        , m_outside(procedure.planned().outsideOnly())
    {}

    void run()
    {
        document();
        takeOut();
        inspectKept();
        m_p.pastTheChange();
        m_p.each(&Work::on_bench);
        for (std::size_t unit = 0; unit < m_plan.units.size(); ++unit)
            meetAlone(unit);
        for (std::size_t unit = 0; unit < m_plan.units.size(); ++unit)
            mount(unit);
        connect();
    }

    void close()
    {
        const std::string left =
            listedWires(m_wiring.wires, [](const PlannedWire& w) { return !w.terminal || !w.judged; });
        if (m_outside)
            return;
        if (!left.empty()) {
            Step& cap = add("capped", StepKind::Touch, "Cap what is left over",
                            "Each by itself, insulated and tied back, its tag on: " + left + ".",
                            {Does::WorkOutputSide});
            cap.parts = {left};
        }
        add("tug", StepKind::Touch, "Tug every wire",
            "One at a time, as hard as a finger can: none moves in its terminal, no strand stands out, no "
            "insulation is under a screw.",
            {Does::TugTest});
        if (!m_p.job().found.opens())
            return;
        add("lid", StepKind::Touch, "Hold the lid on and look in from the side",
            "Nothing is pressed: no wire, no terminal, no switch that was turned round. Then take it off "
            "again.");
    }

private:
    Step& add(const std::string& id, StepKind kind, const std::string& title, const std::string& detail,
              std::vector<Does> does = {})
    {
        return m_p.add("change." + id, Stage::Change, kind, title, detail, std::move(does));
    }

    std::string name(std::size_t unit) const { return unitLabel(m_plan, unit); }
    /// "change.mount", "change.mount.2".
    static std::string idOf(const std::string& id, std::size_t unit)
    {
        return unit == 0 ? id : id + "." + std::to_string(unit + 1);
    }

    void document()
    {
        add("photographs", StepKind::Look, "Photograph it as it is",
            "From above, from each side, every connector and every colour readable. Log each: photo PATH.",
            {Does::Photograph});
        const std::string wires = listedWires(m_wiring.wires, [](const PlannedWire& w) { return !w.added; });
        Step& label = add("tags", StepKind::Touch, "Label every wire before the first is loosened",
                          wires.empty() ? "Each with a name of its own; enter them in Found, under Rails."
                                        : "A tag on each, at the end that stays in the case: " + wires + ".",
                          {Does::LabelWires});
        label.parts = {wires};
    }

    /// Close to the joint, so that length stays; a wire nobody measured keeps its tag and its insulation.
    void takeOut()
    {
        if (m_was_outside) {
            add("out", StepKind::Touch, "Put the old unit away",
                std::string(m_mains ? "Its plug out" : "Its feed off") +
                    ", its output off the load. It is not opened.")
                .parts = {m_p.job().found.name};
            return labelOld();
        }
        const std::string unknown =
            listedWires(m_wiring.wires, [](const PlannedWire& w) { return !w.added && !w.wire.measured; });
        Step& out = add("out", StepKind::Touch, "Take the old unit out",
                        "Wires off at its terminals, or cut close to its joints, so that their length stays" +
                            std::string(m_mains ? ": mains wires last, protective earth last of all" : "") +
                            ". Then its screws, and lift it out without pulling on what stays." +
                            (unknown.empty()
                                 ? ""
                                 : " Not measured, so insulated and left at the old side: " + unknown + "."),
                        {Does::TakeOut, Does::WorkOutputSide});
        if (m_mains)
            out.does.push_back(Does::WorkMainsSide);
        out.parts = {m_p.job().found.name};
        if (m_mains)
            out.cautions = {Caution::FixedWiring};
        labelOld();
    }

    void labelOld()
    {
        add("old_label", StepKind::Look, "Write on the old unit what is wrong with it",
            "What it gave, what it should give, and the date. A unit without a word on it comes back.");
    }

    void inspectKept()
    {
        if (!m_mains || m_was_outside || m_outside)
            return;
        Step& step = add(
            "kept", StepKind::Touch, "Inspect what is kept",
            "Plug opened, if it opens: no loose strand, the earth longest, strain relief on the sheath. "
            "Cord without a crushed core, from end to end; switch without scorch, its action firm; no lead "
            "with brittle or cut insulation. Renew what fails.",
            {Does::WorkMainsSide});
        step.cautions = {Caution::FixedWiring};
    }

    /// On the bench, before it goes in: what is wrong with it is found where nothing hangs on it.
    void meetAlone(std::size_t unit)
    {
        const ReplacingUnit& own = m_plan.units[unit];
        const std::string id = idOf("alone", unit);
        select(unit);
        enable(unit);
        openBond(unit);
        loadOutputs(unit);
        lead(unit, id);
        m_p.limiterIn("change." + id + ".limiter", Stage::Change, "");
        m_p.power("change." + id + ".power", Stage::Change, true,
                  name(unit) + " alone on the bench, a light resistive load on each output", 1);
        readAlone(own, name(unit), id);
        if (plannedModule(m_p.job()) == &own)
            m_p.each(&Work::alone);
        m_p.makeSafe("change." + id, Stage::Change);
        m_p.limiterOut("change." + id + ".limiter_out", Stage::Change);
    }

    void select(std::size_t unit)
    {
        const ReplacingUnit& own = m_plan.units[unit];
        if (own.entry.unit.input.ranges.size() < 2)
            return;
        const std::string where = own.selector.value_or("the mains there is");
        Step& step =
            add(idOf("selector", unit), StepKind::Touch, "Set the selector of " + name(unit) + " to " + where,
                "It leaves the factory at either. At the wrong one its first power is its last, or "
                "it does not start.",
                m_outside ? std::vector<Does>{} : std::vector{Does::SetSelector});
        step.parts = {where};
    }

    void enable(std::size_t unit)
    {
        const EnablePin pin = m_plan.units[unit].entry.unit.enable;
        if (pin == EnablePin::None)
            return;
        Step& step = add(idOf("enable", unit), StepKind::Touch, "Hold the enable of " + name(unit) + " on",
                         enableWords(pin), {Does::TieEnable});
        step.parts = {phrase(pin)};
    }

    /// What would earth a rail through the unit's case; earth and insulation are measured after it.
    void openBond(std::size_t unit)
    {
        const auto match = plannedMatch(m_p.job());
        if (!match || unit >= match->units.size() ||
            std::ranges::count(match->units[unit].actions, UnitAction::OpenBond) == 0)
            return;
        if (m_plan.units[unit].entry.mounting == Mounting::Adapter) {
            add(idOf("bond", unit), StepKind::Look, "The output bond of " + name(unit) + " cannot be opened",
                "It is inside a case that does not open: it would earth the rail. Take another unit.");
            return;
        }
        Step& open =
            add(idOf("bond", unit), StepKind::Touch, "Open the output bond of " + name(unit),
                "The strap, screw or track from output to case, and nothing else: the protective earth "
                "of the case stays. Then measure output to case.",
                {Does::OpenBond, Does::WorkOutputSide});
        open.asks.push_back({"bond", Quantity::Resistance, ReadingWindow{free_above_ohm, std::nullopt},
                             std::nullopt, "free of its case"});
        open.cautions = {Caution::OutputFloats};
    }

    /// Fitted before its first power: without them an output may rise or wander.
    void loadOutputs(std::size_t unit)
    {
        for (const PlannedDummy& dummy : plannedDummies(m_plan.units[unit])) {
            const std::string load = dummyLoad(dummy).text();
            Step& step = add(idOf("dummy", unit) + "." + dummy.output, StepKind::Touch,
                             "Fit a dummy load on " + dummy.output + " of " + name(unit),
                             load + ", for good: the unit asks for at least " + amps(dummy.least_a) +
                                 ". On metal or in moving air, away from wires and capacitors.",
                             m_outside ? std::vector{Does::LoadResistive}
                                       : std::vector{Does::WorkOutputSide, Does::LoadResistive});
            step.parts = {load, dummy.output};
            step.cautions = {Caution::HotParts};
        }
    }

    void lead(std::size_t unit, const std::string& id)
    {
        if (!m_mains) {
            add(id + ".lead", StepKind::Touch, "Lay " + name(unit) + " on the bench",
                "On something that insulates. Leads for its input and a light load on each output.");
            return;
        }
        const bool class_1 = m_plan.units[unit].entry.unit.protection_class == 1;
        if (m_plan.units[unit].entry.mounting == Mounting::Adapter) {
            add(id + ".lead", StepKind::Touch, "Lay " + name(unit) + " on the bench",
                "Its plug stays out; a light resistive load on its lead.");
            if (!(m_was_outside && m_outside) || m_p.mainsTouched())
                m_p.retestMains("change." + id);
            return;
        }
        add(id + ".lead", StepKind::Touch, "Put a fused test lead on the mains terminals of " + name(unit),
            std::string(class_1 ? "Protective earth first. " : "") +
                "Its terminals covered, nothing metal under it, a light resistive load on each output." +
                (class_1 || m_p.planned().earth_class == EarthClass::ClassII
                     ? ""
                     : " It has no earth of its own: the earth asked for next is that of the case."),
            {Does::WorkMainsSide});
        m_p.retestMains("change." + id);
    }

    /// As it comes: anywhere inside its trim range, its regulation on top.
    void readAlone(const ReplacingUnit& own, const std::string& called, const std::string& id)
    {
        const bool negative = std::ranges::any_of(own.rails, [&](const ServedRail& served) {
            const Rail* rail = railNamed(m_p.planned(), served.rail);
            return rail != nullptr && rail->negative;
        });
        Step& read =
            add(id + ".outputs", StepKind::Probe, "Read every output of " + called,
                "Volts and polarity at its own terminals, as it comes from the shelf. Outside its "
                "window it does not go in." +
                    std::string(negative ? " Of a negative rail the red lead goes on the output, the black "
                                           "one on its return: a free output is turned round for it, its "
                                           "plus is the return."
                                         : ""),
                {Does::ReadOutput});
        for (const ServedRail& served : own.rails) {
            const auto output = std::ranges::find(own.entry.unit.outputs, served.output, &UnitOutput::name);
            const Rail* rail = railNamed(m_p.planned(), served.rail);
            if (output == own.entry.unit.outputs.end() || rail == nullptr)
                continue;
            const double low_v = output->trim_min_v.value_or(output->v) * (1 - output->regulation);
            const double high_v = output->trim_max_v.value_or(output->v) * (1 + output->regulation);
            read.asks.push_back({served.rail, Quantity::Voltage,
                                 m_p.widened(signedWindow(*rail, low_v, high_v), Quantity::Voltage),
                                 std::nullopt,
                                 output->trim_min_v ? "its trim range and regulation" : "its regulation"});
        }
        if (m_mains) {
            read.detail += " Say what the lamp did: dim or dark is normal while the output is there.";
            read.cautions = {Caution::SeriesLamp};
        }
        read.watches_lamp = m_mains;
        m_p.outputCautions(read);
    }

    void mount(std::size_t unit)
    {
        const FitView view = fitView(m_p.job(), unit);
        std::string where = "Where it stands firm, cooled and out of reach of hands.";
        if (view.placed && view.now) {
            const PlacedAt& at = *view.place;
            where = "Its corner " + millimetres(at.x_m) + " mm from the left wall and " +
                    millimetres(at.y_m) + " mm from the front wall" +
                    (at.turn != 0
                         ? ", turned " + std::to_string(at.turn) + "° counter-clockwise as seen from above"
                         : "") +
                    ", " + millimetres(at.standoff_m) + " mm above the floor. " + view.sentence;
            drill(unit, view);
        }
        std::string screws;
        if (view.screw)
            screws = view.screw->length_m > 0
                         ? " Screws: " + view.screw->thread + " × " + millimetres(view.screw->length_m) +
                               " mm, from below; a longer one meets what is inside."
                         : " Screws: " + view.screw->thread + ", cut or packed with washers to between " +
                               millimetres(view.screw->least_m) + " and " + millimetres(view.screw->most_m) +
                               " mm.";
        if (view.screw && view.screw->assumed)
            screws += " That it takes 5 mm of thread is assumed: before it goes in, look how deep its holes "
                      "are.";
        Step& step = add(idOf("mount", unit), StepKind::Touch, "Mount " + name(unit), where + screws,
                         m_outside ? std::vector<Does>{} : std::vector{Does::Mount, Does::WorkOutputSide});
        step.parts = {name(unit), where};
    }

    void drill(std::size_t unit, const FitView& view)
    {
        if (view.now->drill.empty())
            return;
        std::string holes;
        for (const DrilledHole& hole : view.now->drill)
            holes += (holes.empty() ? "" : "; ") + millimetres(hole.hole.d_m) + " mm at " +
                     millimetres(hole.hole.x_m) + " / " + millimetres(hole.hole.y_m) +
                     (hole.spoiled ? " (too near an old hole)" : "");
        add(idOf("drill", unit), StepKind::Touch, "Drill the floor for " + name(unit),
            "By the template, its 100 mm line measured first: " + holes +
                " (mm from the left and the front wall). What stays in the case is covered, the swarf goes "
                "out to the last chip, the edges are broken.")
            .parts = {holes};
    }

    /// Protective earth first, then as the wiring lists them: each its own tick.
    void connect()
    {
        if (m_outside) // it brings its own plug and lead
            return;
        std::vector<const PlannedWire*> order;
        for (const PlannedWire& wire : m_wiring.wires)
            if (wire.terminal && wire.judged && wire.judged->measured)
                order.push_back(&wire);
        std::ranges::stable_sort(order, {}, [](const PlannedWire* wire) {
            return wire->wire.function == WireFunction::Earth ? 0 : carriesMains(wire->wire.function) ? 1 : 2;
        });
        int number = 0;
        for (const PlannedWire* wire : order)
            connectWire(*wire, ++number);
        if (order.empty())
            add("wires", StepKind::Touch, "Connect it",
                std::string(
                    m_mains ? "Protective earth first, on a stud of its own; then line and neutral, then the "
                              "outputs. "
                            : "Its feed first, then the outputs. ") +
                    "Enter the wires in Found and their places under Wires: until then nothing says which "
                    "goes "
                    "where.",
                m_mains ? std::vector{Does::ConnectWire, Does::WorkMainsSide, Does::WorkOutputSide}
                        : std::vector{Does::ConnectWire, Does::WorkOutputSide});
    }

    void connectWire(const PlannedWire& wire, int number)
    {
        const PlannedTerminal& terminal = m_wiring.terminals[*wire.terminal];
        const bool mains = carriesMains(wire.wire.function);
        std::string detail = capitalized(wire.words + (wire.added ? newWireWords(wire.wire.function) : ". "));
        if (wire.wire.function == WireFunction::Earth)
            detail +=
                "Before every other wire: eyelet, toothed washer, nut, on a stud of its own; two under one "
                "screw only where it is made for two. ";
        else if (mains)
            detail += "Off every metal edge, sleeved where it is single insulated, apart from the outputs. ";
        else if (terminal.most > 1 && terminal.wires > 1)
            detail += "This terminal takes " + std::to_string(terminal.wires) +
                      " wires: in one crimp, or one on each side of its screw. ";
        if (terminal.swapped)
            detail += "This output serves a negative rail: its plus terminal is the return. ";
        for (const std::string& remark : wire.remarks)
            detail += remark + ". ";
        detail.pop_back();
        Step& step = add("wire." + std::to_string(number), StepKind::Touch,
                         withColour(wire.wire) + " to " + terminal.name, detail,
                         {Does::ConnectWire, mains ? Does::WorkMainsSide : Does::WorkOutputSide});
        step.parts = {wire.wire.name, terminal.name};
        if (wire.wire.function == WireFunction::Line || wire.wire.function == WireFunction::Neutral)
            step.cautions = {Caution::FixedWiring};
    }

    ChangeProcedure& m_p;
    const ReplacePlan& m_plan;
    const WiringView m_wiring;
    bool m_mains;
    bool m_was_outside; ///< the old unit: nothing but its plug and its output could be reached
    bool m_outside;     ///< and so of the new one
};

} // namespace

TestLoad dummyLoad(const PlannedDummy& dummy)
{
    constexpr double nearest_e24 = 1.06; // E24 values lie up to 5 % off what is asked
    return testLoad(dummy.v_v, nearest_e24 * dummy.least_a);
}

std::string enableWords(EnablePin pin)
{
    switch (pin) {
    case EnablePin::Jumper:
        return "Its two enable pins joined by a short insulated link. If it opens, the unit goes to standby "
               "and its outputs fall.";
    case EnablePin::Resistor:
        return "Through the resistor that its papers name, 1k where they name none, to the level that they "
               "give; insulated. If it opens, the unit goes to standby and its outputs fall.";
    case EnablePin::Low:
        return "Through 1k to its return, insulated: it runs while the pin is low. If it opens, the unit "
               "goes "
               "to standby and its outputs fall.";
    case EnablePin::High:
        return "Through 1k to its standby output, insulated: it runs while the pin is high. If it opens, the "
               "unit goes to standby and its outputs fall.";
    case EnablePin::None:
        break;
    }
    return "It has none.";
}

void replaceSteps(ChangeProcedure& procedure) { ReplaceSteps(procedure).run(); }

void closeReplacement(ChangeProcedure& procedure) { ReplaceSteps(procedure).close(); }

void readAtConnectors(ChangeProcedure& procedure)
{
    const WiringView wiring = wiringView(procedure.job());
    std::string pins;
    for (const PlannedWire& wire : wiring.wires)
        if (wire.terminal && wire.wire.function == WireFunction::Output)
            pins += (pins.empty() ? "" : "; ") + withColour(wire.wire) + ": " + wire.words;
    Step& step = procedure.add(
        "bringup.pins", Stage::BringUp, StepKind::Probe, "Read each pin at the unplugged connector",
        "Against the wiring card, meter's black on the return, before the load ever sees it" +
            (pins.empty() ? std::string(".") : ": " + pins + ".") +
            " A pin that shows another voltage, or the other sign, is a swapped wire: isolate.",
        {Does::ReadOutput, Does::MeasureWires});
    step.asks.push_back(procedure.outputAt(procedure.predictions().planned, std::nullopt,
                                           procedure.predictions().planned_because));
    procedure.askOthers(step, true);
    procedure.outputCautions(step);
}

namespace {

bool onFront(const Job& job)
{
    return job.plan.rehouse && plannedModule(job) != nullptr &&
           std::ranges::any_of(job.plan.rehouse->pots,
                               [](const BroughtOut& pot) { return pot.sets == PotSets::Volts; });
}

} // namespace

void setNewUnits(ChangeProcedure& procedure)
{
    std::string goals;
    for (const ReplacingUnit& unit : procedure.job().plan.replace->units)
        for (const ServedRail& served : unit.rails) {
            const auto output = std::ranges::find(unit.entry.unit.outputs, served.output, &UnitOutput::name);
            if (output != unit.entry.unit.outputs.end() && output->trim_min_v)
                goals += (goals.empty() ? "" : "; ") + served.rail + " to " + volts(served.set_v);
        }
    if (goals.empty())
        return;
    const auto full = procedure.loadFor(1);
    Step& step =
        procedure.add("bringup.set", Stage::BringUp, StepKind::Adjust, "Set " + goals,
                      (full ? "Full load switched on: " + full->text() + ". " : std::string()) +
                          std::string(onFront(procedure.job()) ? "By the potentiometer on the front, "
                                                               : "Insulated trimming tool, ") +
                          "slowly, after it has run warm; watch every rail. "
                          "Under the real load it is looked at once more.",
                      {Does::Adjust, Does::ReadOutput});
    step.parts = {goals};
    step.asks.push_back(procedure.outputAt(procedure.predictions().planned,
                                           full ? std::optional(full->current_a) : std::nullopt,
                                           procedure.predictions().planned_because));
    procedure.askOthers(step, true);
    procedure.outputCautions(step);
}

} // namespace offshoot
