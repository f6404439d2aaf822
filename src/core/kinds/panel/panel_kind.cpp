// What comes out to a front: cut, fitted, lettered and wired.
#include "core/kinds/modules.h"
#include "core/kinds/panel/panel_letters.h"
#include "core/kinds/panel/panel_view.h"
#include "core/kinds/replace/wanted.h"
#include "core/kinds/replace/wiring_view.h"
#include "core/values/figures.h"

#include <algorithm>

namespace offshoot::kind {

namespace {

bool planned(const Job& job) { return job.plan.panel && !job.plan.panel->items.empty(); }

bool hasMains(const Job& job) { return std::ranges::any_of(job.plan.panel->items, &PanelItem::mains); }

void lines(const Job& job, std::vector<std::string>& all)
{
    const PanelPlan& panel = *job.plan.panel;
    all.push_back(std::string(panel.fresh ? "a new panel" : "the panel of the case") + ", " +
                  millimetres(panel.width_m) + " × " + millimetres(panel.height_m) + " mm, with " +
                  std::to_string(panel.items.size()) + (panel.items.size() == 1 ? " part" : " parts"));
}

std::string behind(const Job& job)
{
    return job.plan.replace         ? unitNames(*job.plan.replace)
           : job.found.name.empty() ? "the unit"
                                    : job.found.name;
}

/// What of the front no listed wire reaches, and what it is joined to.
Connections frontConnections(const Job& job)
{
    const PanelPlan& panel = *job.plan.panel;
    const WiringView listed = wiringView(job);
    const auto reached = [&](WireFunction function, const std::string& rail) {
        return std::ranges::any_of(listed.wires, [&](const PlannedWire& wire) {
            return wire.terminal && wire.wire.function == function && wire.wire.rail == rail;
        });
    };
    Connections made{.name = "front", .sentence = "What comes out to the front.", .parts = {}};
    const auto add = [&](const std::string& name, const std::string& from, const std::string& to) {
        made.parts.push_back(
            {.name = name, .kind = PartKind::Wire, .from = from, .to = to, .fate = PartFate::Added});
    };
    const bool mains = !job.found.dcFed();
    const auto lead = [&](WireFunction function, const std::string& conductor, bool neutral) {
        const auto chain = throughFront(panel, mains, neutral);
        if (chain.empty() || reached(function, {}))
            return;
        std::string from = mains ? "where the cord comes in" : "where the feed comes in";
        for (const std::string& name : chain) {
            add(conductor, from, name);
            from = name;
        }
        add(conductor, from, (mains ? conductor + " of " : "input plus of ") + behind(job));
    };
    lead(mains ? WireFunction::Line : WireFunction::Feed, mains ? "line" : "plus", false);
    if (mains)
        lead(WireFunction::Neutral, "neutral", true);
    for (const Rail& rail : job.found.rails)
        for (const bool returns : {false, true}) {
            const PanelItem* post = postOf(panel, rail.name, returns);
            if (post != nullptr && !reached(returns ? WireFunction::Return : WireFunction::Output, rail.name))
                add("new wire", post->name,
                    (returns ? "return of " : "output of ") + rail.name + ", " + behind(job));
        }
    made.station = Station::Smoothing;
    return made;
}

void wiring(const Job& job, const Figures& /*figures*/, std::vector<Connections>& all)
{
    Connections made = frontConnections(job);
    if (!made.parts.empty())
        all.push_back(std::move(made));
}

class PanelSteps
{
public:
    PanelSteps(ChangeProcedure& procedure, const Figures& figures)
        : m_p(procedure)
        , m_panel(*procedure.job().plan.panel)
        , m_view(panelView(procedure.job(), figures))
        , m_mains(hasMains(procedure.job()))
        , m_outside(procedure.job().plan.replace && procedure.planned().outsideOnly())
    {}

    void fitParts()
    {
        cut();
        cover();
        std::string all;
        std::string letters;
        for (std::size_t i = 0; i < m_panel.items.size(); ++i) {
            all += (all.empty() ? "" : "; ") + m_panel.items[i].name + " (" +
                   partWords(m_panel.items[i].kind) + ")";
            letters += (letters.empty() ? "" : "; ") + m_panel.items[i].name + ": " +
                       oneLine(m_view.items[i].letters);
        }
        add("front.parts", "Fit the parts of the front",
            all + ". Each held against turning, its nut tight, nothing of it touching its neighbour. A post "
                  "in a "
                  "metal panel has its insulating ring seated in the hole: an ohmmeter from post to panel "
                  "shows "
                  "nothing.",
            {all});
        if (m_panel.metal && m_mains && m_p.planned().earth_class == EarthClass::ClassI)
            add("front.earth", "Earth the panel",
                "Protective earth to the panel on a stud of its own, bare metal under a toothed washer: it "
                "carries mains parts, and the screws that hold it are no earth.",
                {"panel"}, m_mains);
        else if (m_panel.metal && m_mains)
            add("front.insulated", "Look that each mains part of the front is doubly insulated",
                "There is no protective earth here: nothing metal of the panel may touch a part that is not "
                "insulated twice. Where one is not, it does not go in: take an insulating panel.",
                {"panel"});
        add("front.letters", "Letter the front",
            letters + ". As the plan stands: a changed plan is lettered anew.", {letters});
    }

    void connect()
    {
        const Connections made = frontConnections(m_p.job());
        std::string text;
        for (const ConnectedPart& part : made.parts)
            text += (text.empty() ? "" : "; ") + part.name + ": " + part.from + " to " + part.to;
        if (text.empty())
            return;
        Step& step = add(
            "front.wires", "Wire the front",
            text + "." +
                (m_mains ? " Mains wires first, sleeved, off metal edges and apart from the outputs." : ""),
            {text}, m_mains);
        step.drawing = "front";
        if (m_mains)
            step.cautions = {Caution::FixedWiring};
    }

    /// Behind the limiter, before the load: each post against its letters.
    void readPosts()
    {
        const bool any = std::ranges::any_of(m_panel.items, [&](const PanelItem& item) {
            return (item.kind == PanelPart::Post || item.kind == PanelPart::Socket) && !item.returns;
        });
        if (!any)
            return;
        Step& step =
            m_p.add("bringup.posts", Stage::BringUp, StepKind::Probe, "Read at the posts of the front",
                    "The meter's black lead on the post of the return. Volts and sign as the front "
                    "says; another one is a swapped pair: isolate.",
                    {Does::ReadOutput});
        step.unit = m_p.stepUnit(1);
        step.asks.push_back(
            m_p.outputAt(m_p.predictions().planned, std::nullopt, m_p.predictions().planned_because));
        m_p.askOthers(step, true);
        m_p.outputCautions(step);
    }

private:
    /// In a case whose unit is closed in itself and plugs in, nothing of the supply is worked on.
    Step& add(const std::string& id, const std::string& title, const std::string& detail,
              std::vector<std::string> parts, bool mains = false)
    {
        std::vector<Does> does;
        if (!m_outside)
            does.push_back(Does::WorkOutputSide);
        if (!m_outside && mains)
            does.push_back(Does::WorkMainsSide);
        Step& step = m_p.add("change." + id, Stage::Change, StepKind::Touch, title, detail, std::move(does));
        step.unit = m_p.stepUnit(1);
        step.parts = std::move(parts);
        return step;
    }

    void cut()
    {
        std::string cuts;
        for (std::size_t i = 0; i < m_panel.items.size(); ++i) {
            const PlacedItem& item = m_view.items[i];
            cuts += (cuts.empty() ? "" : "; ") + m_panel.items[i].name + " " +
                    (item.round ? "⌀" + millimetres(item.cut.dx_m)
                                : millimetres(item.cut.dx_m) + " × " + millimetres(item.cut.dy_m)) +
                    " at " + millimetres(m_panel.items[i].x_m) + " / " + millimetres(m_panel.items[i].y_m);
        }
        add("front.cut", m_panel.fresh ? "Cut the new panel" : "Cut the panel of the case",
            "Off the case, or the case empty and what stays in it covered. By the template, its 100 mm line "
            "measured first: " +
                cuts +
                " (mm from the left and the lower edge, seen from the front). Centre punch, a small drill "
                "first, "
                "edges broken, swarf out to the last chip.",
            {cuts});
    }

    void cover()
    {
        if (m_panel.fresh)
            return;
        std::string covered;
        for (const PanelHole& hole : m_panel.holes)
            if (hole.covered)
                covered +=
                    (covered.empty() ? "" : "; ") + millimetres(hole.x_m) + " / " + millimetres(hole.y_m);
        if (!covered.empty())
            add("front.cover", "Cover the old holes",
                "A cap or a plate, held from behind by more than glue: " + covered + ".", {covered});
    }

    ChangeProcedure& m_p;
    const PanelPlan& m_panel;
    const PanelView m_view;
    bool m_mains;
    bool m_outside;
};

void parts(const Job& job, const Figures& figures, PartList& list)
{
    const PanelPlan& panel = *job.plan.panel;
    if (panel.fresh)
        list.add("panel " + millimetres(panel.width_m) + " × " + millimetres(panel.height_m) + " × " +
                     millimetres(panel.thick_m) + " mm, " + (panel.metal ? "metal" : "insulating"),
                 "the front");
    const PanelView view = panelView(job, figures);
    for (std::size_t i = 0; i < panel.items.size(); ++i)
        if (panel.items[i].kind != PanelPart::Potentiometer) // listed with what it turns
            list.add(partWords(panel.items[i].kind) + ", cut-out " +
                         (view.items[i].round ? "⌀" + millimetres(view.items[i].cut.dx_m)
                                              : millimetres(view.items[i].cut.dx_m) + " × " +
                                                    millimetres(view.items[i].cut.dy_m)) +
                         " mm" + (panel.items[i].mains ? ", for mains" : ""),
                     panel.items[i].name + " on the front");
}

std::vector<ConsequenceRow> rows(const Job& job, const Figures& figures, const ChainRun* /*run*/)
{
    return panelView(job, figures).rows;
}

Work work(const Job& job, const Figures& figures)
{
    // Where a unit comes in, its case is worked on and not what was closed.
    const bool replaced = job.plan.replace.has_value();
    return {.inside = !replaced,
            .on_mains_side = hasMains(job) && !(replaced && figures.unit.supply.outsideOnly()),
            .fit =
                [&figures, replaced](ChangeProcedure& p) {
                    PanelSteps steps(p, figures);
                    if (!replaced)
                        steps.fitParts();
                    steps.connect();
                },
            .on_bench = [&figures](ChangeProcedure& p) { PanelSteps(p, figures).fitParts(); },
            .at_first_power = [&figures](ChangeProcedure& p) { PanelSteps(p, figures).readPosts(); }};
}

} // namespace

const Kind panel{.name = "panel",
                 .planned = planned,
                 .work = work,
                 .lines = lines,
                 .wiring = wiring,
                 .parts = parts,
                 .rows = rows};

} // namespace offshoot::kind
