#include "ui/windings/primaries_picture.h"

#include "core/values/format.h"
#include "ui/paint/marks.h"

#include <QPainterPath>
#include <algorithm>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

PrimariesPicture::PrimariesPicture(Look& look, QWidget* parent)
    : QWidget(parent)
    , m_look(look)
{
    setAccessibleName(tr("Windings with their links"));
    sizedWith(*this, look, [this, &look] { setMinimumSize(look.px(310), look.px(220)); });
}

void PrimariesPicture::show(const WindingsView& view)
{
    m_view = view;
    setAccessibleDescription(qs(view.sentence));
    update();
}

const Connection* PrimariesPicture::connection() const
{
    return m_view.result ? &m_view.result->connections[m_view.planned.value_or(0)] : nullptr;
}

/// Coils stand one under the other, left of the core.
QRectF PrimariesPicture::coilBox(std::size_t winding) const
{
    const auto count = static_cast<double>(m_view.input->primaries.size());
    const double top = m_look.px(24);
    const double each = (height() - top - m_look.px(20)) / count;
    return {double(m_look.px(128)), top + each * static_cast<double>(winding) + m_look.px(8),
            double(m_look.px(34)), each - m_look.px(22)};
}

std::vector<std::vector<PrimariesPicture::Lead>> PrimariesPicture::leads() const
{
    std::vector<std::vector<Lead>> all;
    for (std::size_t w = 0; w < m_view.input->primaries.size(); ++w) {
        const Primary& primary = m_view.input->primaries[w];
        const QRectF box = coilBox(w);
        std::vector<Lead> list;
        const auto add = [&](const std::string& name, double v) {
            list.push_back({qs(name), QPointF(box.left(), box.top() + v / primary.v_v * box.height())});
        };
        add(primary.start, 0);
        for (const auto& [name, v] : primary.taps)
            add(name, v);
        add(primary.end, primary.v_v);
        all.push_back(std::move(list));
    }
    return all;
}

void PrimariesPicture::paintCoil(QPainter& painter, std::size_t winding, const std::vector<Lead>& leads) const
{
    const Colours& c = m_look.colours();
    const QRectF box = coilBox(winding);
    const Primary& primary = m_view.input->primaries[winding];
    constexpr int turns = 7;
    QPainterPath path(QPointF(box.left(), box.top()));
    const double step = box.height() / turns;
    for (int i = 0; i < turns; ++i) {
        const double y = box.top() + step * i;
        path.cubicTo(QPointF(box.right() + 6, y), QPointF(box.right() + 6, y + step),
                     QPointF(box.left(), y + step));
    }
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(c.ink, 2));
    painter.drawPath(path);
    painter.setPen(Qt::NoPen);
    painter.setBrush(c.ink);
    painter.drawEllipse(QPointF(box.left() + m_look.px(6), box.top() - m_look.px(7)), m_look.px(3),
                        m_look.px(3));
    paintText(painter,
              QRectF(box.left() + m_look.px(16), box.top() - m_look.px(18), m_look.px(46), m_look.px(18)),
              qs(primary.name), m_look.font(13, true), c.ink);
    paintText(
        painter,
        QRectF(box.right() + m_look.px(8), box.center().y() - m_look.px(9), m_look.px(44), m_look.px(18)),
        qs(formatVolts(primary.v_v)), m_look.caption(), c.softInk);
    // Links run from an end down to the next start: names stand on the other side of each.
    for (const Lead& lead : leads) {
        paintLead(painter, lead.at, lead.at - QPointF(m_look.px(16), 0), coloursIn(lead.name), m_look);
        painter.setPen(QPen(c.ink, 1.6));
        painter.setBrush(c.sheet);
        painter.drawEllipse(lead.at - QPointF(m_look.px(20), 0), m_look.px(4), m_look.px(4));
        const double down = &lead == &leads.front() ? m_look.px(3) : -m_look.px(18);
        paintText(painter,
                  QRectF(lead.at.x() - m_look.px(84), lead.at.y() + down, m_look.px(58), m_look.px(16)),
                  lead.name, m_look.caption(), c.softInk, Qt::AlignRight | Qt::AlignVCenter);
    }
}

/// The links inside strings, and the two sides of the mains.
void PrimariesPicture::paintLinks(QPainter& painter, const std::vector<std::vector<Lead>>& leads) const
{
    const Connection* c = connection();
    if (c == nullptr)
        return;
    const Colours& colours = m_look.colours();
    const auto place = [&](const std::string& name) {
        for (const auto& list : leads)
            for (const Lead& lead : list)
                if (lead.name == qs(name))
                    return lead.at - QPointF(m_look.px(20), 0);
        return QPointF();
    };
    painter.setBrush(Qt::NoBrush);
    const Connections wiring = primaryConnections(connectionPlan(*c));
    std::vector<std::string> live;
    std::vector<std::string> neutral;
    for (const ConnectedPart& part : wiring.parts) {
        if (part.kind == PartKind::Wire)
            (part.from == wiring.top ? live : neutral).push_back(part.to);
        if (part.kind != PartKind::Link)
            continue;
        const QPointF a = place(part.from);
        const QPointF b = place(part.to);
        painter.setPen(QPen(colours.planned, m_look.px(4), Qt::SolidLine, Qt::RoundCap));
        QPainterPath path(a);
        path.cubicTo(a - QPointF(m_look.px(26), 0), b - QPointF(m_look.px(26), 0), b);
        painter.drawPath(path);
    }
    const auto feed = [&](const std::vector<std::string>& names, double x, const QString& label,
                          const QColor& colour) {
        double top = height();
        double bottom = 0;
        painter.setPen(QPen(colour, 2));
        for (const std::string& name : names) {
            const QPointF at = place(name);
            painter.drawLine(at, QPointF(x, at.y()));
            top = std::min(top, at.y());
            bottom = std::max(bottom, at.y());
        }
        painter.drawLine(QPointF(x, top), QPointF(x, bottom));
        painter.setBrush(colour);
        painter.drawEllipse(QPointF(x, (top + bottom) / 2), m_look.px(5), m_look.px(5));
        painter.setBrush(Qt::NoBrush);
        paintText(painter,
                  QRectF(x - m_look.px(58), (top + bottom) / 2 - m_look.px(10), m_look.px(50), m_look.px(20)),
                  label, m_look.font(13, true), colour, Qt::AlignRight | Qt::AlignVCenter);
    };
    feed(live, m_look.px(84), tr("mains"), colours.planned);
    feed(neutral, m_look.px(64), tr("mains"), colours.found);
}

void PrimariesPicture::paintSecondaries(QPainter& painter) const
{
    const Colours& colours = m_look.colours();
    const Connection* c = connection();
    const double core = coilBox(0).right() + m_look.px(54);
    painter.setPen(QPen(colours.softInk, 3));
    for (const double dx : {0.0, 8.0})
        painter.drawLine(QPointF(core + dx, m_look.px(24)), QPointF(core + dx, height() - m_look.px(24)));
    if (c == nullptr)
        return;
    const double left = core + m_look.px(24);
    double y = m_look.px(34);
    for (const SecondaryVolts& s : c->secondaries) {
        const Verdict verdict = c->secondary_verdict;
        paintVerdict(painter, verdict, {left, y + m_look.px(10)}, m_look.px(11), colours);
        const auto line = [&](double down, const QString& text, const QFont& font, const QColor& colour) {
            paintText(painter,
                      QRectF(left + m_look.px(12), y + m_look.px(down), width() - left - m_look.px(12),
                             m_look.px(20)),
                      text, font, colour);
        };
        line(0, qs(s.name), m_look.font(14, true), colours.ink);
        line(19, qs(formatVolts(s.v_v)), m_look.font(14, true), colours.planned);
        if (s.v_open_v)
            line(38, tr("open %1 V").arg(qs(significant(*s.v_open_v, 3))), m_look.caption(), colours.softInk);
        y += m_look.px(66);
    }
    for (const OpenWinding& open : c->open) {
        paintText(painter, QRectF(left, y, width() - left - 4, m_look.px(20)),
                  tr("%1 free: %2, live").arg(qs(open.winding), qs(formatVolts(open.v_v))),
                  m_look.font(13, true), colours.breaks);
        y += m_look.px(24);
    }
}

void PrimariesPicture::paintEvent(QPaintEvent* /*event*/)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    if (!m_view.input)
        return paintSentence(painter, rect(), qs(m_view.sentence), m_look);
    const auto all = leads();
    for (std::size_t w = 0; w < all.size(); ++w)
        paintCoil(painter, w, all[w]);
    paintLinks(painter, all);
    paintSecondaries(painter);
}

} // namespace offshoot::ui
