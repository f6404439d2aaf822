#include "ui/wires/wires_picture.h"

#include "core/values/format.h"
#include "ui/paint/marks.h"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>
#include <algorithm>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

WiresPicture::WiresPicture(Look& look, QWidget* parent)
    : QWidget(parent)
    , m_look(look)
{
    setObjectName(u"wiresPicture"_s);
    setAccessibleName(tr("Old wires and new terminals"));
    setFocusPolicy(Qt::StrongFocus);
}

void WiresPicture::show(const WiringView& view)
{
    const auto kept = current();
    m_view = view;
    arrange();
    for (std::size_t row = 0; row < m_rows.size(); ++row)
        if (m_rows[row].wire &&
            (m_rows[row].wire == kept || !m_rows.at(std::min(m_current, m_rows.size() - 1)).wire))
            m_current = row;
    setMinimumHeight(m_look.px(24) + static_cast<int>(m_look.px(30) * static_cast<double>(m_rows.size())) +
                     4);
    setAccessibleDescription(qs(view.sentence));
    update();
}

/// Terminal by terminal, so that wires run straight; what has no place stands at the end.
void WiresPicture::arrange()
{
    m_rows.clear();
    for (std::size_t t = 0; t < m_view.terminals.size(); ++t) {
        const std::size_t before = m_rows.size();
        for (std::size_t w = 0; w < m_view.wires.size(); ++w)
            if (m_view.wires[w].terminal == t)
                m_rows.push_back({w, t});
        if (m_rows.size() == before)
            m_rows.push_back({std::nullopt, t});
    }
    for (std::size_t w = 0; w < m_view.wires.size(); ++w)
        if (!m_view.wires[w].terminal)
            m_rows.push_back({w, std::nullopt});
}

std::optional<std::size_t> WiresPicture::current() const
{
    return m_current < m_rows.size() ? m_rows[m_current].wire : std::nullopt;
}

double WiresPicture::rowHeight() const
{
    const double room = height() - m_look.px(28);
    const auto rows = static_cast<double>(std::max<std::size_t>(1, m_rows.size()));
    return std::clamp(room / rows, m_look.px(30) * 1.0, m_look.px(50) * 1.0);
}

QRectF WiresPicture::terminalBox(std::size_t terminal) const
{
    double top = 0;
    double bottom = 0;
    bool any = false;
    for (std::size_t row = 0; row < m_rows.size(); ++row)
        if (m_rows[row].terminal == terminal) {
            top = any ? top : rowTop(row);
            bottom = rowTop(row) + rowHeight();
            any = true;
        }
    return {right(), top + 3, m_look.px(118) * 1.0, bottom - top - 6};
}

std::optional<std::size_t> WiresPicture::rowAt(QPointF at) const
{
    for (std::size_t row = 0; row < m_rows.size(); ++row)
        if (at.y() >= rowTop(row) && at.y() < rowTop(row) + rowHeight())
            return row;
    return std::nullopt;
}

std::optional<std::size_t> WiresPicture::terminalAt(QPointF at) const
{
    for (std::size_t t = 0; t < m_view.terminals.size(); ++t)
        if (terminalBox(t).adjusted(-30, -3, 200, 3).contains(at))
            return t;
    return std::nullopt;
}

void WiresPicture::paintRow(QPainter& painter, std::size_t row) const
{
    if (!m_rows[row].wire)
        return;
    const Colours& c = m_look.colours();
    const PlannedWire& wire = m_view.wires[*m_rows[row].wire];
    const double top = rowTop(row);
    const double high = rowHeight();
    if (row == m_current) {
        painter.fillRect(QRectF(0, top, width(), high), c.selection);
        if (hasFocus()) {
            painter.setPen(QPen(c.planned, 1, Qt::DotLine));
            painter.drawRect(QRectF(0.5, top + 0.5, width() - 1, high - 1));
        }
    }
    const double middle = top + high / 2;
    const QList<QColor> insulation = coloursIn(qs(wire.wire.colour));
    paintLead(painter, {m_look.px(6) * 1.0, middle}, {m_look.px(28) * 1.0, middle}, insulation, m_look);
    const double from = m_look.px(36);
    const QString name = qs(wire.wire.name) +
                         (wire.wire.colour.empty() ? QString() : u" · "_s + qs(wire.wire.colour)) +
                         (wire.added ? tr(", new") : QString());
    const bool two = high >= m_look.px(40);
    const double wide = left() - from - m_look.px(8);
    const double split = two ? wide : wide * 0.5;
    paintText(painter, QRectF(from, two ? middle - m_look.px(19) : top, split, two ? m_look.px(19) : high),
              name, m_look.font(14, true), c.ink);
    QString words = qs(wire.words);
    if (wire.wire.current_a.value_or(0) > 0)
        words += u", "_s + qs(formatValue(*wire.wire.current_a, Quantity::Current));
    paintText(painter,
              two ? QRectF(from, middle, wide, m_look.px(18)) : QRectF(from + split, top, wide - split, high),
              words, m_look.font(13), wire.wire.measured || wire.added ? c.measured : c.softInk);
    if (m_rows[row].terminal) {
        paintLead(painter, {left(), middle}, {right(), middle}, insulation, m_look);
        const bool shortfall = wire.judged && wire.judged->reach_verdict == Verdict::Breaks;
        if (shortfall) {
            const double x = (left() + right()) / 2;
            painter.setPen(QPen(c.tight, 2));
            painter.drawLine(QPointF(x - 6, middle - 6), QPointF(x + 6, middle + 6));
            painter.drawLine(QPointF(x - 6, middle + 6), QPointF(x + 6, middle - 6));
        }
    }
    const double mark = right() + m_look.px(134);
    paintVerdict(painter, wire.verdict, {mark, middle}, m_look.px(12), c);
    QString said = m_rows[row].terminal ? QString() : qs(wire.left);
    for (const std::string& remark : wire.remarks)
        said += (said.isEmpty() ? QString() : u"; "_s) + qs(remark);
    if (said.isEmpty() && wire.wire.area_m2)
        said = qs(formatValue(*wire.wire.area_m2, Quantity::WireSize));
    paintText(painter, QRectF(mark + m_look.px(12), top, width() - mark - m_look.px(14), high), said,
              m_look.font(13), wire.verdict == Verdict::Fits ? c.softInk : c.verdict(wire.verdict));
}

void WiresPicture::paintTerminal(QPainter& painter, std::size_t terminal) const
{
    const Colours& c = m_look.colours();
    const PlannedTerminal& own = m_view.terminals[terminal];
    const QRectF box = terminalBox(terminal);
    const bool missing = std::ranges::find(m_view.missing, own.name) != m_view.missing.end();
    painter.setPen(QPen(missing ? c.breaks : c.planned, 1.4));
    painter.setBrush(c.sheet);
    painter.drawRoundedRect(box, m_look.px(4), m_look.px(4));
    paintText(painter, box.adjusted(4, 0, -4, 0), qs(own.name), m_look.font(14, true),
              missing ? c.breaks : c.planned, Qt::AlignCenter, Qt::ElideMiddle);
    if (own.wires > 0)
        return;
    paintText(
        painter,
        QRectF(box.right() + m_look.px(28), box.top(), width() - box.right() - m_look.px(30), box.height()),
        missing ? tr("%1: nothing goes here yet").arg(qs(own.words))
                : tr("%1: stays empty").arg(qs(own.words)),
        m_look.font(13), missing ? c.breaks : c.softInk);
}

void WiresPicture::paintEvent(QPaintEvent* /*event*/)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    if (m_rows.empty())
        return paintSentence(painter, rect(), tr("Here stand the old wires and the new terminals."), m_look);
    const Colours& c = m_look.colours();
    paintText(painter, QRectF(m_look.px(6), 0, left(), m_look.px(20)),
              tr("what was measured on the old side"), m_look.caption(), c.softInk);
    paintText(painter, QRectF(right(), 0, width() - right(), m_look.px(20)), tr("the new terminals"),
              m_look.caption(), c.softInk);
    for (std::size_t row = 0; row < m_rows.size(); ++row)
        paintRow(painter, row);
    for (std::size_t t = 0; t < m_view.terminals.size(); ++t)
        paintTerminal(painter, t);
    if (m_drag && current())
        paintLead(painter, {left(), rowTop(m_current) + rowHeight() / 2}, *m_drag,
                  coloursIn(qs(m_view.wires[*current()].wire.colour)), m_look);
}

void WiresPicture::select(std::size_t row)
{
    m_current = row;
    Q_EMIT looked();
    update();
}

void WiresPicture::keyPressEvent(QKeyEvent* event)
{
    const auto step = [&](int by) {
        for (int row = static_cast<int>(m_current) + by; row >= 0 && row < static_cast<int>(m_rows.size());
             row += by)
            if (m_rows[static_cast<std::size_t>(row)].wire)
                return select(static_cast<std::size_t>(row));
    };
    switch (event->key()) {
    case Qt::Key_Up:
        return step(-1);
    case Qt::Key_Down:
        return step(1);
    case Qt::Key_Space:
        return Q_EMIT automaticWanted();
    case Qt::Key_Right:
    case Qt::Key_Left:
        if (const auto wire = current())
            Q_EMIT walked(*wire, event->key() == Qt::Key_Right ? 1 : -1);
        return;
    default:
        QWidget::keyPressEvent(event);
    }
}

void WiresPicture::mousePressEvent(QMouseEvent* event)
{
    setFocus(Qt::MouseFocusReason);
    const auto row = rowAt(event->position());
    if (!row || !m_rows[*row].wire)
        return;
    select(*row);
    m_drag = event->position();
}

void WiresPicture::mouseMoveEvent(QMouseEvent* event)
{
    if (!m_drag)
        return;
    m_drag = event->position();
    update();
}

void WiresPicture::mouseReleaseEvent(QMouseEvent* event)
{
    if (!m_drag)
        return;
    m_drag.reset();
    update();
    const auto terminal = terminalAt(event->position());
    const auto wire = current();
    if (terminal && wire && m_view.wires[*wire].terminal != terminal)
        Q_EMIT pulled(*wire, *terminal);
}

/// What does not fit into a row is told whole.
bool WiresPicture::event(QEvent* event)
{
    if (event->type() != QEvent::ToolTip)
        return QWidget::event(event);
    const auto* help = static_cast<QHelpEvent*>(event);
    const auto row = rowAt(help->pos());
    if (!row || !m_rows[*row].wire)
        return true;
    const PlannedWire& wire = m_view.wires[*m_rows[*row].wire];
    QString text = u"%1: %2"_s.arg(qs(wire.wire.name), qs(wire.words));
    for (const std::string& remark : wire.remarks)
        text += u"\n"_s + qs(remark);
    QToolTip::showText(help->globalPos(), text + (wire.left.empty() ? QString() : u"\n"_s + qs(wire.left)),
                       this);
    return true;
}

} // namespace offshoot::ui
