#include "core/kinds/panel/panel_view.h"

#include "core/kinds/panel/panel_letters.h"
#include "core/kinds/panel/panel_rows.h"
#include "core/values/figures.h"

#include <utility>

namespace offshoot {

namespace {

using lengths::mm;

/// Where over it there is no room, all of its letters stand under it.
PlacedItem placed(const PanelItem& item, const Letters& planned, double height_m)
{
    PlacedItem made{shapeOf(item)};
    made.letters = item.letters.empty() ? planned.text : item.letters;
    made.why = planned.why;
    made.output = !item.mains;
    const auto line = made.letters.find('\n');
    made.above = made.letters.substr(0, line);
    if (line != std::string::npos)
        made.below = made.letters.substr(line + 1);
    if (made.body.y_m + made.body.dy_m + letters_m > height_m)
        made.below = std::exchange(made.above, {}) + (made.below.empty() ? "" : ", " + made.below);
    return made;
}

std::string sentenceOf(const Job& job, const PanelView& view)
{
    const PanelPlan& panel = *job.plan.panel;
    if (panel.items.empty())
        return "Nothing comes out to it yet.";
    for (const Verdict verdict : {Verdict::Breaks, Verdict::Unknown, Verdict::Tight})
        for (const ConsequenceRow& row : view.rows)
            if (row.verdict == verdict)
                return row.part + ", " + row.quantity + ": " + row.working + ".";
    return std::to_string(panel.items.size()) + (panel.items.size() == 1 ? " part" : " parts") + " on " +
           (panel.fresh ? "a new panel" : "the panel of the case") + ", each with room around and behind it.";
}

} // namespace

PanelView panelView(const Job& job, const Figures& figures)
{
    PanelView view{};
    if (!job.plan.panel) {
        view.sentence = "No panel is planned: lay out what comes to the front.";
        return view;
    }
    const std::vector<Letters> planned = plannedLetters(job, figures);
    const PanelPlan& panel = *job.plan.panel;
    for (std::size_t i = 0; i < planned.size(); ++i)
        view.items.push_back(placed(panel.items[i], planned[i], panel.height_m));
    judgePanel(job, planned, view);
    view.sentence = sentenceOf(job, view);
    return view;
}

TemplateSheets panelTemplate(const Job& job, const Figures& figures)
{
    if (!job.plan.panel)
        return {{}, "No panel is planned."};
    const PanelPlan& panel = *job.plan.panel;
    const PanelView view = panelView(job, figures);
    SheetDrawing drawing(0, 0, panel.width_m / mm, panel.height_m / mm);
    drawing.box(0, 0, panel.width_m, panel.height_m, sheet::black, 0.3);
    if (!panel.fresh)
        for (const PanelHole& hole : panel.holes) {
            const PanelBox box = boxOf(hole);
            if (hole.d_m)
                drawing.old({hole.x_m, hole.y_m, *hole.d_m});
            else
                drawing.box(box.x_m, box.y_m, box.dx_m, box.dy_m, sheet::grey, 0.2);
        }
    constexpr double letter_size = 3.2;
    for (std::size_t i = 0; i < view.items.size(); ++i) {
        const PlacedItem& item = view.items[i];
        const PanelItem& own = panel.items[i];
        if (item.round)
            drawing.drilled({own.x_m, own.y_m, item.cut.dx_m}, "⌀" + millimetres(item.cut.dx_m), true);
        else
            drawing.cut(own.x_m, own.y_m, item.cut.dx_m, item.cut.dy_m,
                        millimetres(item.cut.dx_m) + " × " + millimetres(item.cut.dy_m));
        drawing.lettered(own.x_m, item.body.y_m + item.body.dy_m + 1 * mm, item.above, letter_size);
        drawing.lettered(own.x_m, item.body.y_m - letters_m + 1 * mm, item.below, letter_size);
    }
    return drawing.sheets("Panel: " + job.title, seen_from_front);
}

} // namespace offshoot
