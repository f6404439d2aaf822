// What comes out to a front: its cut-outs, what is behind them, what stands too near to what, its letters.
#pragma once

#include "core/job/job.h"
#include "core/judge/consequences.h"
#include "core/kinds/job_figures.h"
#include "core/kinds/panel/panel_parts.h"
#include "core/kinds/sheet_drawing.h"

#include <string>
#include <vector>

namespace offshoot {

struct PlacedItem : PanelShape
{
    std::string letters = {};        ///< its own, else the plan's, one line or two
    std::string above = {};          ///< of the letters what stands over it
    std::string below = {};          ///< and under it
    std::string why = {};            ///< of the plan's letters
    bool output = true;              ///< on the output side: mains parts keep away from it
    Verdict verdict = Verdict::Fits; ///< the worst row of this part
};

inline constexpr double letters_m = 5e-3; ///< what a line of letters takes over a part, or under it

struct PanelView
{
    std::vector<PlacedItem> items; ///< as the plan lists them
    std::vector<ConsequenceRow> rows;
    std::string sentence;
};
/// The front as planned: what collides, what a hand reaches, what is still to be placed.
PanelView panelView(const Job& job, const Figures& figures);

/// What a front of this job would carry: posts for each rail, a potentiometer and a readout for each that is
/// brought out, switch and fuse of what feeds it; spread over the panel that is planned, else one as wide as
/// the case.
PanelPlan usualPanel(const Job& job);
/// Mains parts at the left, outputs at the right, the rest between them, in rows of even gaps.
void spread(PanelPlan& panel);

/// The panel with its cut-outs, letters and old holes, at true scale.
TemplateSheets panelTemplate(const Job& job, const Figures& figures);

} // namespace offshoot
