#include "ui/rehouse/reach_picture.h"

#include "core/values/figures.h"
#include "ui/paint/figures.h"
#include "ui/paint/marks.h"

#include <QPainter>
#include <algorithm>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

ReachPicture::ReachPicture(Look& look, QWidget* parent)
    : QWidget(parent)
    , m_look(look)
{
    setAccessibleName(tr("What the module reaches on its feed, and where a broken wire takes it"));
    sizedWith(*this, look, [this, &look] { setFixedHeight(look.px(60)); });
}

void ReachPicture::show(const Job& job, const RehouseView& view)
{
    m_bars.clear();
    m_pots.clear();
    setAccessibleDescription(qs(view.sentence));
    if (view.module != nullptr) {
        const UnitOutput& out = view.module->entry.unit.outputs.front();
        const DirectInput& feed = job.found.direct;
        m_set_v = view.module->rails.front().set_v;
        const double top_v = out.trim_max_v.value_or(out.v);
        m_most_v = 1.08 * std::max(top_v, *feed.max_v);
        const auto range = [](double from, double to) { return qs(rangeWords(from, to, PotSets::Volts)); };
        m_bars = {{tr("feed"), range(*feed.min_v, *feed.max_v), *feed.min_v, *feed.max_v},
                  {tr("module"), range(*out.trim_min_v, top_v), *out.trim_min_v, top_v},
                  {tr("reaches"), range(view.reach->min_v, view.reach->max_v), view.reach->min_v,
                   view.reach->max_v, false, true}};
        if (const auto& target = job.need.target)
            m_bars.push_back(
                {tr("wanted"), range(target->min_v, target->max_v), target->min_v, target->max_v, true});
        for (std::size_t i = 0; i < view.pots.size(); ++i) {
            const BroughtOut& pot = job.plan.rehouse->pots[i];
            if (pot.sets != PotSets::Volts)
                continue;
            Bar bar{qs(pot.name),
                    range(view.pots[i].least, view.pots[i].most),
                    view.pots[i].least,
                    view.pots[i].most,
                    false,
                    true};
            std::vector<Fall> falls;
            for (std::size_t w = 0; w < view.pots[i].verdicts.size(); ++w)
                if (const BrokenWire& wire = view.pots[i].broken.wires[w]; wire.to)
                    falls.push_back({*wire.to, view.pots[i].verdicts[w],
                                     tr("%1 broken: %2").arg(qs(wire.wire), volts(*wire.to))});
            m_pots.emplace_back(std::move(bar), std::move(falls));
        }
    }
    const auto lines = static_cast<double>(std::max<std::size_t>(2, m_bars.size() + 2 * m_pots.size()));
    setFixedHeight(m_look.px(static_cast<int>(12 + 24 * lines)));
    update();
}

double ReachPicture::at(double v) const
{
    const double left = m_look.px(84);
    return left + (width() - left - m_look.px(150)) * std::clamp(v / m_most_v, 0.0, 1.0);
}

void ReachPicture::paintBar(QPainter& painter, double y, const Bar& bar) const
{
    const Colours& c = m_look.colours();
    const QColor colour = bar.planned ? c.planned : bar.wanted ? c.ink : c.found;
    const double high = m_look.px(14);
    paintText(painter, QRectF(0, y, m_look.px(80), high), bar.name, m_look.font(13, bar.planned), colour);
    const QRectF box(at(bar.from), y, std::max(2.0, at(bar.to) - at(bar.from)), high);
    painter.setPen(QPen(colour, bar.planned ? 2 : 1.2));
    painter.setBrush(bar.wanted ? QBrush(Qt::NoBrush) : QBrush(bar.planned ? c.selection : c.ribbon));
    painter.drawRect(box);
    paintText(painter, QRectF(width() - m_look.px(146), y, m_look.px(146), high), bar.value,
              m_look.font(13, bar.planned), colour, Qt::AlignRight | Qt::AlignVCenter);
}

/// From where it is set an arrow to where each broken wire takes it.
void ReachPicture::paintPot(QPainter& painter, double y, const Bar& bar, const std::vector<Fall>& falls) const
{
    paintBar(painter, y, bar);
    const Colours& c = m_look.colours();
    const double line = y + m_look.px(26);
    const double set = at(m_set_v);
    painter.setPen(QPen(c.ink, 1.6));
    painter.drawLine(QPointF(set, y - 2), QPointF(set, line + m_look.px(6)));
    for (const Fall& fall : falls) {
        const QColor colour = c.verdict(fall.verdict);
        const double to = at(fall.to);
        const double head = to > set ? -m_look.px(6) : m_look.px(6);
        painter.setPen(QPen(colour, 1.6));
        painter.drawLine(QPointF(set, line), QPointF(to, line));
        painter.drawLine(QPointF(to, line), QPointF(to + head, line - m_look.px(4)));
        painter.drawLine(QPointF(to, line), QPointF(to + head, line + m_look.px(4)));
        const QRectF room = to > set ? QRectF(to + 6, line - m_look.px(9), width() - to - 6, m_look.px(18))
                                     : QRectF(set + 6, line - m_look.px(9), width() - set - 6, m_look.px(18));
        paintText(painter, room, fall.text, m_look.caption(), colour);
    }
}

void ReachPicture::paintEvent(QPaintEvent* /*event*/)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    if (m_bars.empty())
        return paintSentence(painter, rect(), tr("Here stands what the module reaches on its feed."), m_look);
    const double line = m_look.px(24);
    double y = m_look.px(6);
    for (const Bar& bar : m_bars) {
        paintBar(painter, y, bar);
        y += line;
    }
    for (const auto& [bar, falls] : m_pots) {
        paintPot(painter, y, bar, falls);
        y += 2 * line;
    }
}

} // namespace offshoot::ui
