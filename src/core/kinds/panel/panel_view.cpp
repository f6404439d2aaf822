#include "core/kinds/panel/panel_view.h"

#include "core/judge/row_maker.h"
#include "core/kinds/rehouse/rehouse_view.h"
#include "core/kinds/replace/fit_view.h"
#include "core/kinds/replace/wanted.h"
#include "core/values/figures.h"

#include <algorithm>
#include <cctype>
#include <cmath>

namespace offshoot {

namespace {

using rows::Judged;
using rows::planRow;

constexpr double mm = 1e-3;
constexpr double between_bodies_m = 2 * mm;
constexpr double to_edge_m = 3 * mm;
constexpr double bend_m = 10 * mm;   ///< of the wire behind a part
constexpr double letters_m = 5 * mm; ///< above a part, and under it
constexpr double finger_m = 12 * mm; ///< the jointed test finger (IEC 60529)

bool overlap(const PanelBox& a, const PanelBox& b)
{
    constexpr double touching = 1e-9;
    return a.x_m + a.dx_m > b.x_m + touching && b.x_m + b.dx_m > a.x_m + touching &&
           a.y_m + a.dy_m > b.y_m + touching && b.y_m + b.dy_m > a.y_m + touching;
}

bool inside(const PanelBox& a, const PanelBox& b)
{
    constexpr double touching = 1e-9;
    return a.x_m >= b.x_m - touching && a.y_m >= b.y_m - touching &&
           a.x_m + a.dx_m <= b.x_m + b.dx_m + touching && a.y_m + a.dy_m <= b.y_m + b.dy_m + touching;
}

PanelBox about(double x_m, double y_m, double dx_m, double dy_m)
{
    return {x_m - dx_m / 2, y_m - dy_m / 2, dx_m, dy_m};
}

PanelBox boxOf(const PanelHole& hole)
{
    const double dx_m = hole.dx_m.value_or(hole.d_m.value_or(0));
    return about(hole.x_m, hole.y_m, dx_m, hole.dy_m.value_or(dx_m));
}

bool ownSize(const PanelItem& item) { return item.d_m || item.dx_m; }

/// Between the panel's left edge and the case's: both have one middle.
double sideways(const PanelPlan& panel, const BoxSize& case_inside)
{
    return (panel.width_m - case_inside.x_m) / 2;
}

struct Letters
{
    std::string text;
    std::string why = {};
    std::optional<double> most_v = {}; ///< the highest that stands there
};

/// "1.5 to 20.5 V": what fits under a knob.
std::string onFront(double least, double most, PotSets sets)
{
    return significant(least, 3) + " to " + significant(most, 3) + (sets == PotSets::Volts ? " V" : " A");
}

/// What is written at a part, from the plan.
class Lettering
{
public:
    Lettering(const Job& job, const Figures& figures)
        : m_job(job)
        , m_figures(figures)
        , m_rehoused(rehouseView(job))
    {}

    Letters of(const PanelItem& item) const
    {
        switch (item.kind) {
        case PanelPart::Post:
        case PanelPart::Socket:
            return rail(item);
        case PanelPart::Potentiometer:
            return potentiometer(item);
        case PanelPart::Readout:
            return readout(item);
        case PanelPart::FuseHolder:
            return fuse(item);
        case PanelPart::Inlet:
        case PanelPart::Gland:
            return inlet(item);
        case PanelPart::Switch:
        case PanelPart::Lamp:
            return {.text = "on"};
        case PanelPart::Other:
            break;
        }
        return {.text = item.name};
    }

private:
    Letters rail(const PanelItem& item) const
    {
        const auto& rails = m_job.found.rails;
        const auto found = std::ranges::find(rails, item.serves, &Rail::name);
        if (found == rails.end())
            return {.text = item.name};
        const auto at = static_cast<std::size_t>(found - rails.begin());
        if (item.returns)
            return {.text = "0 V", .why = "the return of " + found->name};
        if (const auto range = turned(*found))
            return *range;
        const auto v = at == 0 ? m_figures.planned_v ? m_figures.planned_v : m_figures.found_v
                       : at < m_figures.rails_planned_v.size() ? m_figures.rails_planned_v[at]
                                                               : std::nullopt;
        if (!v)
            return {.text = found->name, .why = "its volts are not known yet"};
        std::string text = (found->negative ? "−\n" : "+\n") + significant(*v, 3) + " V";
        const Rail* planned = railNamed(m_figures.unit.supply, found->name);
        if (planned != nullptr && planned->i_rated_a)
            text += " " + amps(*planned->i_rated_a);
        return {.text = std::move(text), .why = "as planned", .most_v = v};
    }

    /// Of a rail that a potentiometer on the front sets.
    std::optional<Letters> turned(const Rail& rail) const
    {
        if (m_rehoused.module == nullptr || m_rehoused.pots.empty() ||
            m_rehoused.module->rails.front().rail != rail.name)
            return std::nullopt;
        const auto& pots = m_job.plan.rehouse->pots;
        const auto pot = std::ranges::find(pots, PotSets::Volts, &BroughtOut::sets);
        if (pot == pots.end())
            return std::nullopt;
        const PotView& view = m_rehoused.pots[static_cast<std::size_t>(pot - pots.begin())];
        return Letters{.text = "+\n" + onFront(view.least, view.most, PotSets::Volts),
                       .why = m_rehoused.reach->by_feed
                                  ? "ended by " + m_rehoused.reach->because
                                  : "what " + m_rehoused.module->entry.unit.name + " can be set to",
                       .most_v = view.most};
    }

    Letters potentiometer(const PanelItem& item) const
    {
        if (m_job.plan.rehouse && !m_rehoused.pots.empty()) {
            const auto& pots = m_job.plan.rehouse->pots;
            const auto pot = std::ranges::find(pots, item.serves, &BroughtOut::name);
            if (pot != pots.end()) {
                const PotView& view = m_rehoused.pots[static_cast<std::size_t>(pot - pots.begin())];
                Letters letters{.text = pot->name + "\n" + onFront(view.least, view.most, pot->sets),
                                .why = "its range on this feed"};
                if (pot->sets == PotSets::Volts)
                    letters.most_v = view.most;
                return letters;
            }
        }
        return {.text = item.serves.empty() ? item.name : item.serves};
    }

    Letters readout(const PanelItem& item) const
    {
        if (m_job.plan.rehouse) {
            const auto& all = m_job.plan.rehouse->readouts;
            const auto readout = std::ranges::find(all, item.serves, &FrontReadout::name);
            if (readout != all.end())
                return {.text = readout->shows == PotSets::Volts ? "V" : "A"};
        }
        return {.text = item.name};
    }

    Letters fuse(const PanelItem& item) const
    {
        if (!item.mains && m_job.plan.rehouse && m_job.plan.rehouse->fuse_a)
            return {.text = amps(*m_job.plan.rehouse->fuse_a) + " DC", .why = "the fuse of the feed"};
        const Fuse& fuse = m_figures.unit.supply.fuse;
        if (fuse.value_a)
            return {.text = fuse.type.value_or("") + (fuse.type ? " " : "") + amps(*fuse.value_a),
                    .why = "the fuse as planned"};
        return {.text = item.name, .why = "its value is not known yet"};
    }

    Letters inlet(const PanelItem& item) const
    {
        if (item.mains)
            return {.text = volts(m_job.need.mains.v_v) + " " +
                            formatValue(m_job.need.mains.f_hz, Quantity::Frequency),
                    .why = "the mains of the need"};
        const DirectInput& feed = m_job.found.direct;
        if (item.kind == PanelPart::Inlet && m_job.found.dcFed() && feed.min_v && feed.max_v)
            return {.text = volts(*feed.min_v) + " to " + volts(*feed.max_v) + " DC", .why = "its feed"};
        return {.text = item.name};
    }

    const Job& m_job;
    const Figures& m_figures;
    RehouseView m_rehoused;
};

/// The highest figure of volts in what somebody wrote: "0 to 36 V".
std::optional<double> promisedVolts(const std::string& letters)
{
    std::optional<double> most;
    for (std::size_t i = 0; i < letters.size();) {
        if (std::isdigit(static_cast<unsigned char>(letters[i])) == 0) {
            ++i;
            continue;
        }
        std::size_t used = 0;
        const double value = std::stod(letters.substr(i), &used);
        i += used;
        std::size_t unit = i;
        while (unit < letters.size() && letters[unit] == ' ')
            ++unit;
        if (unit < letters.size() && letters[unit] == 'V')
            most = std::max(most.value_or(0), value);
    }
    return most;
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
        for (const NamedBox& box : space.keep_out)
            look(box, box.name);
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
            judged.limit = finger_m;
            judged.verdict = size_m > finger_m ? Verdict::Breaks : Verdict::Tight;
            working = size_m > finger_m ? "open, and a finger goes in: cover it" : "open: cover it";
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

PlacedItem placed(const PanelItem& item, const Letters& planned)
{
    const PanelPartSize usual = usualSize(item.kind);
    const double dx_m = item.dx_m ? *item.dx_m : item.d_m ? *item.d_m : usual.d_m ? *usual.d_m : usual.dx_m;
    const bool round = item.dx_m ? false : item.d_m || usual.d_m;
    const double dy_m = round ? dx_m : item.dy_m.value_or(usual.dy_m);
    PlacedItem made{.cut = about(item.x_m, item.y_m, dx_m, dy_m),
                    .round = round,
                    .body = about(item.x_m, item.y_m, dx_m + 2 * usual.over_m, dy_m + 2 * usual.over_m),
                    .depth_m = usual.depth_m,
                    .letters = item.letters.empty() ? planned.text : item.letters,
                    .above = {},
                    .below = {},
                    .why = planned.why,
                    .output = !item.mains,
                    .verdict = Verdict::Fits};
    const auto line = made.letters.find('\n');
    made.above = made.letters.substr(0, line);
    if (line != std::string::npos)
        made.below = made.letters.substr(line + 1);
    return made;
}

/// Where over a part there is no room, all of its letters stand under it.
void fitLetters(PlacedItem& item, double height_m)
{
    if (item.body.y_m + item.body.dy_m + letters_m <= height_m)
        return;
    item.below = item.above + (item.below.empty() ? "" : ", " + item.below);
    item.above.clear();
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

PanelPartSize usualSize(PanelPart kind)
{
    switch (kind) {
    case PanelPart::Post:
        return {.d_m = 8 * mm, .dx_m = 0, .dy_m = 0, .over_m = 3 * mm, .depth_m = 25 * mm};
    case PanelPart::Socket:
        return {.d_m = 8 * mm, .dx_m = 0, .dy_m = 0, .over_m = 1.5 * mm, .depth_m = 25 * mm};
    case PanelPart::Switch:
        return {.d_m = 12.2 * mm, .dx_m = 0, .dy_m = 0, .over_m = 3 * mm, .depth_m = 32 * mm};
    case PanelPart::FuseHolder:
        return {.d_m = 12.7 * mm, .dx_m = 0, .dy_m = 0, .over_m = 2 * mm, .depth_m = 38 * mm};
    case PanelPart::Inlet:
        return {.d_m = {}, .dx_m = 27.5 * mm, .dy_m = 20 * mm, .over_m = 6 * mm, .depth_m = 32 * mm};
    case PanelPart::Potentiometer:
        return {.d_m = 7.2 * mm, .dx_m = 0, .dy_m = 0, .over_m = 8 * mm, .depth_m = 25 * mm};
    case PanelPart::Readout:
        return {.d_m = {}, .dx_m = 45.5 * mm, .dy_m = 26.5 * mm, .over_m = 1.5 * mm, .depth_m = 22 * mm};
    case PanelPart::Lamp:
        return {.d_m = 8 * mm, .dx_m = 0, .dy_m = 0, .over_m = 1 * mm, .depth_m = 30 * mm};
    case PanelPart::Gland:
        return {.d_m = 12.2 * mm, .dx_m = 0, .dy_m = 0, .over_m = 3 * mm, .depth_m = 20 * mm};
    case PanelPart::Other:
        break;
    }
    return {.d_m = 6 * mm, .dx_m = 0, .dy_m = 0, .over_m = 2 * mm, .depth_m = 20 * mm};
}

std::string oneLine(std::string letters)
{
    std::ranges::replace(letters, '\n', ' ');
    return letters;
}

std::string partWords(PanelPart kind)
{
    switch (kind) {
    case PanelPart::Post:
        return "binding post";
    case PanelPart::Socket:
        return "socket";
    case PanelPart::Switch:
        return "switch";
    case PanelPart::FuseHolder:
        return "fuse holder";
    case PanelPart::Inlet:
        return "inlet";
    case PanelPart::Potentiometer:
        return "potentiometer";
    case PanelPart::Readout:
        return "readout";
    case PanelPart::Lamp:
        return "indicator lamp";
    case PanelPart::Gland:
        return "cable gland";
    case PanelPart::Other:
        break;
    }
    return "part";
}

double gapBetween(const PanelBox& a, const PanelBox& b)
{
    const double dx_m = std::max({0.0, b.x_m - a.x_m - a.dx_m, a.x_m - b.x_m - b.dx_m});
    const double dy_m = std::max({0.0, b.y_m - a.y_m - a.dy_m, a.y_m - b.y_m - b.dy_m});
    return std::hypot(dx_m, dy_m);
}

PanelView panelView(const Job& job, const Figures& figures)
{
    PanelView view{};
    if (!job.plan.panel) {
        view.sentence = "No panel is planned: lay out what comes to the front.";
        return view;
    }
    const Lettering lettering(job, figures);
    std::vector<Letters> planned;
    for (const PanelItem& item : job.plan.panel->items) {
        planned.push_back(lettering.of(item));
        view.items.push_back(placed(item, planned.back()));
        fitLetters(view.items.back(), job.plan.panel->height_m);
    }
    PanelRows(job, view, planned).run();
    view.sentence = sentenceOf(job, view);
    return view;
}

PanelPlan usualPanel(const Job& job)
{
    constexpr double usual_width_m = 160 * mm;
    constexpr double usual_height_m = 60 * mm;
    PanelPlan panel{.width_m = usual_width_m, .height_m = usual_height_m};
    if (const auto& space = job.found.space) {
        panel.width_m = space->inside.x_m;
        panel.height_m = space->inside.z_m;
        panel.metal = space->earthed_metal;
    }
    const auto add = [&](std::string name, PanelPart kind, std::string serves = {}) -> PanelItem& {
        panel.items.push_back({.name = std::move(name), .kind = kind, .serves = std::move(serves)});
        return panel.items.back();
    };
    const bool mains = !job.found.dcFed();
    if (mains || job.plan.rehouse) {
        add("fuse", PanelPart::FuseHolder).mains = mains;
        add("switch", PanelPart::Switch).mains = mains;
    }
    if (job.plan.rehouse) {
        for (const BroughtOut& pot : job.plan.rehouse->pots)
            add(pot.name, PanelPart::Potentiometer, pot.name);
        for (const FrontReadout& readout : job.plan.rehouse->readouts)
            add("readout " + readout.name, PanelPart::Readout, readout.name);
    }
    for (const Rail& rail : job.found.rails) {
        add(rail.name + " out", PanelPart::Post, rail.name);
        add(rail.name + " return", PanelPart::Post, rail.name).returns = true;
    }
    spread(panel);
    return panel;
}

namespace {

constexpr double margin_m = 5 * mm;

constexpr double plugs_m = 19 * mm; ///< between the posts of a pair: what double plugs have

/// Parts in one row, centred at `y_m`, the room that is left shared between them; a post's return stands
/// beside it.
void layRow(const std::vector<PanelItem*>& row, double left_m, double right_m, double y_m)
{
    // A knob's range under it is about as wide as the knob: some air beside it.
    const auto wide = [](const PanelItem* item) {
        return placed(*item, {}).body.dx_m + (item->kind == PanelPart::Potentiometer ? letters_m : 0);
    };
    const auto pairs = [&](std::size_t i) { // with the one before it
        return i > 0 && row[i]->returns && row[i]->kind == PanelPart::Post &&
               row[i - 1]->kind == PanelPart::Post && row[i - 1]->serves == row[i]->serves;
    };
    double taken_m = 0;
    std::size_t gaps = 1;
    for (std::size_t i = 0; i < row.size(); ++i) {
        taken_m += pairs(i) ? plugs_m : wide(row[i]);
        gaps += pairs(i) ? 0U : 1U;
    }
    const double gap_m = std::max(0.0, (right_m - left_m - taken_m) / static_cast<double>(gaps));
    double x_m = left_m;
    const auto whole = [](double m) { return std::round(m / mm) * mm; };
    for (std::size_t i = 0; i < row.size(); ++i) {
        const double before_m = pairs(i) ? plugs_m - wide(row[i]) : gap_m;
        row[i]->x_m = whole(x_m + before_m + wide(row[i]) / 2);
        row[i]->y_m = whole(y_m);
        x_m += before_m + wide(row[i]);
    }
}

} // namespace

void spread(PanelPlan& panel)
{
    std::vector<PanelItem*> mains;
    std::vector<PanelItem*> rest;
    for (PanelItem& item : panel.items)
        (item.mains ? mains : rest).push_back(&item);
    std::ranges::stable_sort(rest, {}, [](const PanelItem* item) {
        return item->kind == PanelPart::Post || item->kind == PanelPart::Socket;
    });
    // Mains parts one below the other in as many columns as they take.
    double left_m = margin_m;
    double column_m = 0;
    double y_m = panel.height_m - letters_m;
    for (PanelItem* item : mains) {
        const PanelBox body = placed(*item, {}).body;
        if (y_m - body.dy_m < margin_m && column_m > 0) {
            left_m += column_m + margin_m;
            column_m = 0;
            y_m = panel.height_m - letters_m;
        }
        item->x_m = left_m + body.dx_m / 2;
        item->y_m = y_m - body.dy_m / 2;
        y_m -= body.dy_m + letters_m;
        column_m = std::max(column_m, body.dx_m);
    }
    if (column_m > 0)
        left_m += column_m + to_touched_m + 2 * mm;
    // The rest in rows to their right.
    const double right_m = panel.width_m - margin_m;
    std::vector<std::vector<PanelItem*>> all_rows(1);
    double whole_m = 0;
    for (const PanelItem* item : rest)
        whole_m += placed(*item, {}).body.dx_m + 2 * between_bodies_m;
    const bool several = whole_m > right_m - left_m;
    double taken_m = 0;
    for (PanelItem* item : rest) {
        const double wide_m = placed(*item, {}).body.dx_m + 2 * between_bodies_m;
        const bool posts_begin = several && item->kind == PanelPart::Post && !all_rows.back().empty() &&
                                 all_rows.back().back()->kind != PanelPart::Post;
        if (posts_begin || (taken_m + wide_m > right_m - left_m && !all_rows.back().empty())) {
            all_rows.emplace_back();
            taken_m = 0;
        }
        all_rows.back().push_back(item);
        taken_m += wide_m;
    }
    const auto count = static_cast<double>(all_rows.size());
    for (std::size_t i = 0; i < all_rows.size(); ++i)
        if (!all_rows[i].empty())
            layRow(all_rows[i], left_m, right_m,
                   panel.height_m * (count - static_cast<double>(i) - 0.5) / count - letters_m / 2);
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
