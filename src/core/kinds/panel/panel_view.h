// What comes out to a front: its cut-outs, what is behind them, what stands too near to what, its letters.
#pragma once

#include "core/job/job.h"
#include "core/judge/consequences.h"
#include "core/kinds/job_figures.h"
#include "core/kinds/sheet_drawing.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

/// The usual part of a kind: its cut-out, how much of the front and of the room behind it takes.
struct PanelPartSize
{
    std::optional<double> d_m; ///< of a round cut-out; else two sides
    double dx_m;
    double dy_m;
    double over_m;  ///< its rim beyond the cut-out, on each side
    double depth_m; ///< behind the panel
};
PanelPartSize usualSize(PanelPart kind);

/// A rectangle of the front, from the panel's lower left corner.
struct PanelBox
{
    double x_m;
    double y_m;
    double dx_m;
    double dy_m;
};
/// From edge to edge; 0 where they touch or overlap.
double gapBetween(const PanelBox& a, const PanelBox& b);

struct PlacedItem
{
    PanelBox cut;
    bool round;
    PanelBox body; ///< what of the front is taken
    double depth_m;
    std::string letters; ///< its own, else the plan's, one line or two
    std::string above;   ///< of the letters what stands over it
    std::string below;   ///< and under it
    std::string why;     ///< of the plan's letters
    bool output;         ///< on the output side: mains parts keep away from it
    Verdict verdict;     ///< the worst row of this part
};

struct PanelView
{
    std::vector<PlacedItem> items; ///< as the plan lists them
    std::vector<ConsequenceRow> rows;
    std::string sentence;
};
PanelView panelView(const Job& job, const Figures& figures);

/// What a front of this job would carry: posts for each rail, a potentiometer and a readout for each that is
/// brought out, inlet, switch and fuse of a job on the mains; spread over a panel as wide as the case.
PanelPlan usualPanel(const Job& job);
/// Mains parts at the left, outputs at the right, the rest between them, in rows of even gaps.
void spread(PanelPlan& panel);

/// Letters of two lines in one.
std::string oneLine(std::string letters);
/// "binding post".
std::string partWords(PanelPart kind);
/// The panel with its cut-outs, letters and old holes, at true scale.
TemplateSheets panelTemplate(const Job& job, const Figures& figures);

} // namespace offshoot
