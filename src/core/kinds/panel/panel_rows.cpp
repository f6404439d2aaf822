#include "core/kinds/panel/panel_rows.h"

#include "core/judge/row_maker.h"
#include "core/kinds/replace/fit_view.h"
#include "core/kinds/replace/wanted.h"
#include "core/values/figures.h"

#include <algorithm>

namespace offshoot {

namespace {

using lengths::mm;
using rows::Judged;
using rows::planRow;

constexpr double between_bodies_m = 2 * mm;
constexpr double to_edge_m = 3 * mm;
constexpr double bend_m = 10 * mm;   ///< of the wire behind a part
constexpr double finger_m = 12 * mm; ///< the jointed test finger (IEC 60529)

/// Between the panel's left edge and the case's: both have one middle.
double sideways(const PanelPlan& panel, const BoxSize& case_inside)
{
    return (panel.width_m - case_inside.x_m) / 2;
}

class PanelRows
{
public:
    PanelRows(const Job& job, PanelView& view, const std::vector<Letters>& planned)
        : m_job(job)
        , m_panel(*job.plan.panel)
        , m_view(view)
        , m_planned(planned)
    {}

    void run()
    {
        for (std::size_t i = 0; i < m_panel.items.size(); ++i) {
            add(i, room(i));
            if (m_job.found.space)
                add(i, depth(i));
            if (auto row = letters(i))
                add(i, std::move(*row));
        }
        if (!m_job.found.space && !m_panel.items.empty())
            m_view.rows.push_back(planRow(RowId::PanelDepth, {.verdict = Verdict::Unknown},
                                          "what is behind it against what each part takes",
                                          "the case inside is not measured"));
        mainsToOutput();
        unearthed();
        if (!m_panel.fresh)
            for (std::size_t i = 0; i < m_panel.holes.size(); ++i)
                m_view.rows.push_back(hole(i));
    }

private:
    void add(std::size_t item, ConsequenceRow row)
    {
        m_view.items[item].verdict = worse(m_view.items[item].verdict, row.verdict);
        m_view.rows.push_back(std::move(row));
    }

    /// To the nearest part beside it and to the panel's edge.
    ConsequenceRow room(std::size_t at) const
    {
        const PlacedItem& own = m_view.items[at];
        const PanelBox& cut = own.cut;
        double gap_m = std::min(
            {cut.x_m, cut.y_m, m_panel.width_m - cut.x_m - cut.dx_m, m_panel.height_m - cut.y_m - cut.dy_m});
        Judged judged{.value = gap_m, .limit = to_edge_m, .fits_to = 1};
        judged.verdict = gap_m < 0                   ? Verdict::Breaks
                         : atLeast(gap_m, to_edge_m) ? Verdict::Fits
                                                     : Verdict::Tight;
        std::string working =
            gap_m < 0 ? "its cut-out leaves the panel" : millimetres(gap_m) + " mm of panel to the edge";
        for (std::size_t i = 0; i < m_view.items.size(); ++i) {
            if (i == at)
                continue;
            const double to_m = gapBetween(own.body, m_view.items[i].body);
            const bool over = overlap(own.body, m_view.items[i].body);
            const Verdict verdict = over                              ? Verdict::Breaks
                                    : atLeast(to_m, between_bodies_m) ? Verdict::Fits
                                                                      : Verdict::Tight;
            if (badness(verdict) > badness(judged.verdict) ||
                (verdict == judged.verdict && verdict != Verdict::Fits && to_m < gap_m)) {
                gap_m = to_m;
                judged = {.value = to_m, .limit = between_bodies_m, .verdict = verdict, .fits_to = 1};
                working = over ? "over " + m_panel.items[i].name
                               : millimetres(to_m) + " mm to " + m_panel.items[i].name;
            }
        }
        ConsequenceRow row = planRow(RowId::PanelRoom, judged,
                                     "3 mm of panel to its edge, 2 mm from rim to rim", working, name(at));
        if (!ownSize(m_panel.items[at]))
            row.assumed.emplace_back("the usual size of a " + partWords(m_panel.items[at].kind));
        return row;
    }

    /// The nearest of what is behind it in the case.
    ConsequenceRow depth(std::size_t at) const
    {
        const PlacedItem& own = m_view.items[at];
        const CaseSpace& space = *m_job.found.space;
        const double dx_m = sideways(m_panel, space.inside);
        const double dz_m = (m_panel.height_m - space.inside.z_m) / 2;
        double room_m = space.inside.y_m;
        std::string what = "the rear wall";
        const auto look = [&](const NamedBox& box, const std::string& called) {
            const PanelBox front{box.x_m + dx_m, box.z_m + dz_m, box.dx_m, box.dz_m};
            if (overlap(front, own.body) && box.y_m < room_m) {
                room_m = std::max(0.0, box.y_m);
                what = called;
            }
        };
        for (const KeptPart& box : space.keep_out)
            look(box.box(), box.name);
        if (m_job.plan.replace)
            for (std::size_t i = 0; i < m_job.plan.replace->units.size(); ++i) {
                const ReplacingUnit& unit = m_job.plan.replace->units[i];
                if (unit.place && unit.entry.unit.size)
                    look(placedOutline(unit, *unit.place), unitLabel(*m_job.plan.replace, i));
            }
        Judged judged{.value = room_m, .limit = own.depth_m, .fits_to = 1};
        if (room_m > 0)
            judged.use = own.depth_m / room_m;
        judged.verdict = atLeast(room_m, own.depth_m + bend_m) ? Verdict::Fits
                         : atLeast(room_m, own.depth_m)        ? Verdict::Tight
                                                               : Verdict::Breaks;
        ConsequenceRow row =
            planRow(RowId::PanelDepth, judged, "to what stands behind it; 10 mm more for the bend of a wire",
                    millimetres(room_m) + " mm to " + what, name(at));
        row.assumed.emplace_back(millimetres(own.depth_m) + " mm deep, as usual for a " +
                                 partWords(m_panel.items[at].kind));
        return row;
    }

    /// Only of what somebody wrote himself: the plan's letters are the plan's.
    std::optional<ConsequenceRow> letters(std::size_t at) const
    {
        const auto promised = promisedVolts(m_panel.items[at].letters);
        const auto& most_v = m_planned[at].most_v;
        if (!promised || !most_v)
            return std::nullopt;
        constexpr double rounded = 1.01; // a front says 12 V where 11.9 V stand
        const bool keeps = atMost(*promised, rounded * *most_v);
        return planRow(RowId::PanelLetters,
                       {.value = promised,
                        .limit = most_v,
                        .verdict = keeps ? Verdict::Fits : Verdict::Breaks,
                        .fits_to = 1},
                       "a front promises no more than stands behind it",
                       "the plan gives " + oneLine(m_planned[at].text) +
                           (m_planned[at].why.empty() ? "" : ", " + m_planned[at].why),
                       name(at));
    }

    void mainsToOutput()
    {
        std::optional<double> least_m;
        std::string working;
        for (std::size_t a = 0; a < m_panel.items.size(); ++a)
            for (std::size_t b = 0; b < m_panel.items.size(); ++b) {
                if (m_view.items[a].output || !m_view.items[b].output)
                    continue;
                const double gap_m = gapBetween(m_view.items[a].body, m_view.items[b].body);
                if (!least_m || gap_m < *least_m) {
                    least_m = gap_m;
                    working = m_panel.items[a].name + " to " + m_panel.items[b].name;
                }
            }
        if (!least_m)
            return;
        Judged judged{.value = least_m, .limit = to_touched_m, .fits_to = 1};
        if (*least_m > 0)
            judged.use = to_touched_m / *least_m;
        judged.verdict = atLeast(*least_m, to_touched_m) ? Verdict::Fits : Verdict::Breaks;
        ConsequenceRow row =
            planRow(RowId::PanelMains, judged, "guide: the local standard rules", working, "Panel");
        row.assumed.emplace_back("8 mm from mains to output: a guide");
        m_view.rows.push_back(std::move(row));
    }

    /// Mains parts in metal that nothing earths.
    void unearthed()
    {
        if (!m_panel.metal || std::ranges::none_of(m_panel.items, &PanelItem::mains) ||
            m_job.found.earth_class == EarthClass::ClassI)
            return;
        m_view.rows.push_back(
            planRow(RowId::PanelMains, {.verdict = Verdict::Tight, .fits_to = 1},
                    "metal that carries mains parts is earthed, or every one of them is doubly insulated",
                    "this unit has no protective earth: only parts with reinforced insulation, or an "
                    "insulating panel",
                    "Panel of metal"));
    }

    ConsequenceRow hole(std::size_t at) const
    {
        const PanelBox box = boxOf(m_panel.holes[at]);
        const double size_m = std::min(box.dx_m, box.dy_m);
        Judged judged{.value = size_m, .verdict = Verdict::Tight, .fits_to = 1};
        std::string working;
        for (std::size_t i = 0; i < m_view.items.size() && working.empty(); ++i) {
            const PlacedItem& item = m_view.items[i];
            const std::string& called = m_panel.items[i].name;
            if (inside(box, item.cut)) {
                judged.verdict = Verdict::Fits;
                working = called + " uses it";
            } else if (inside(box, item.body)) {
                working = called + " covers it with its rim: see that it still holds";
            } else if (overlap(box, item.cut)) {
                judged.verdict = Verdict::Breaks;
                working = "it reaches beyond the cut-out of " + called;
            } else if (overlap(box, item.body)) {
                working = "it reaches beyond the rim of " + called;
            }
        }
        if (working.empty() && m_panel.holes[at].covered) {
            judged.verdict = Verdict::Fits;
            working = "covered";
        } else if (working.empty()) {
            const bool lets_in = atLeast(size_m, finger_m);
            judged.limit = finger_m;
            judged.verdict = lets_in ? Verdict::Breaks : Verdict::Tight;
            working = lets_in ? "open, and a finger goes in: cover it" : "open: cover it";
        }
        return planRow(
            RowId::PanelHoles, judged, "used, covered, or smaller than a finger (IEC 60529)", working,
            "Hole at " + millimetres(m_panel.holes[at].x_m) + " / " + millimetres(m_panel.holes[at].y_m));
    }

    std::string name(std::size_t at) const { return m_panel.items[at].name; }

    const Job& m_job;
    const PanelPlan& m_panel;
    PanelView& m_view;
    const std::vector<Letters>& m_planned;
};

} // namespace

void judgePanel(const Job& job, const std::vector<Letters>& planned, PanelView& view)
{
    PanelRows(job, view, planned).run();
}

} // namespace offshoot
