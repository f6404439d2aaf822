#include "ui/panel/panel_picture.h"

#include "core/values/figures.h"
#include "ui/paint/marks.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

constexpr double step_m = 1e-3;

double whole(double m) { return std::round(m / step_m) * step_m; }

} // namespace

PanelPicture::PanelPicture(Look& look, QWidget* parent)
    : QWidget(parent)
    , m_look(look)
{
    setObjectName(u"panelPicture"_s);
    setAccessibleName(tr("The front with what comes out to it"));
    setFocusPolicy(Qt::StrongFocus);
    sizedWith(*this, look, [this, &look] { setFixedHeight(look.px(190)); });
}

void PanelPicture::show(const std::optional<PanelPlan>& panel, const PanelView& view)
{
    m_panel = panel;
    m_view = view;
    if (any())
        m_current = std::min(m_current, m_panel->items.size() - 1);
    setAccessibleDescription(qs(view.sentence));
    update();
}

double PanelPicture::scale() const
{
    const double margin = m_look.px(20);
    return std::min((width() - 2 * margin) / m_panel->width_m, (height() - 2 * margin) / m_panel->height_m);
}

QPointF PanelPicture::corner() const
{
    return {(width() - m_panel->width_m * scale()) / 2, (height() + m_panel->height_m * scale()) / 2};
}

QPointF PanelPicture::at(double x_m, double y_m) const { return corner() + QPointF(x_m, -y_m) * scale(); }

QRectF PanelPicture::at(const PanelBox& box) const
{
    return QRectF(at(box.x_m, box.y_m + box.dy_m), at(box.x_m + box.dx_m, box.y_m));
}

void PanelPicture::paintHoles(QPainter& painter) const
{
    if (m_panel->fresh)
        return;
    const Colours& c = m_look.colours();
    for (const PanelHole& hole : m_panel->holes) {
        const QRectF box = at(boxOf(hole));
        painter.setPen(QPen(c.found, 1, Qt::DotLine));
        painter.setBrush(hole.covered ? c.paper : c.sheet);
        if (hole.d_m)
            painter.drawEllipse(box);
        else
            painter.drawRect(box);
        if (hole.covered) {
            painter.drawLine(box.topLeft(), box.bottomRight());
            painter.drawLine(box.topRight(), box.bottomLeft());
        }
    }
}

/// Its rim, its cut-out, its letters above; what stands at mains is hatched.
void PanelPicture::paintItem(QPainter& painter, std::size_t item) const
{
    const Colours& c = m_look.colours();
    const PlacedItem& placed = m_view.items[item];
    const PanelItem& own = m_panel->items[item];
    const QColor colour = placed.verdict == Verdict::Breaks ? c.breaks : c.planned;
    const bool current = item == m_current && hasFocus();
    painter.setPen(QPen(colour, current ? 2.4 : 1.2));
    painter.setBrush(current ? c.selection : c.sheet);
    const QRectF body = at(placed.body);
    const QRectF cut = at(placed.cut);
    if (placed.round)
        painter.drawEllipse(body);
    else
        painter.drawRect(body);
    painter.setPen(QPen(colour, 1));
    painter.setBrush(own.mains ? QBrush(c.ink, Qt::BDiagPattern) : QBrush(c.ribbon));
    if (placed.round)
        painter.drawEllipse(cut);
    else
        painter.drawRect(cut);
    if (own.kind == PanelPart::Post || own.kind == PanelPart::Socket) {
        painter.setPen(Qt::NoPen);
        painter.setBrush(own.returns ? c.ink : c.breaks.darker(110));
        const double r = cut.width() / 4;
        painter.drawEllipse(cut.center(), r, r);
    }
    const auto letter = [&](const std::string& words, double y) {
        const QFontMetricsF metrics(m_look.font(13, true));
        const double wide = metrics.horizontalAdvance(qs(words)) + 4;
        paintText(painter, QRectF(body.center().x() - wide / 2, y, wide, m_look.px(16)), qs(words),
                  m_look.font(13, true), c.ink, Qt::AlignCenter);
    };
    letter(placed.above, body.top() - m_look.px(16));
    letter(placed.below, body.bottom());
}

void PanelPicture::paintEvent(QPaintEvent* /*event*/)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    if (!m_panel)
        return paintSentence(painter, rect(), tr("Here stands the front, to scale."), m_look);
    const Colours& c = m_look.colours();
    painter.setPen(QPen(c.ink, 2));
    painter.setBrush(Qt::NoBrush);
    const QRectF panel(at(0, m_panel->height_m), at(m_panel->width_m, 0));
    painter.drawRect(panel);
    paintText(painter, QRectF(panel.left(), panel.top() - m_look.px(19), panel.width(), m_look.px(17)),
              tr("from the front, %1 × %2 mm%3")
                  .arg(qs(millimetres(m_panel->width_m)), qs(millimetres(m_panel->height_m)),
                       m_panel->fresh ? tr(", new") : QString()),
              m_look.caption(), c.softInk);
    paintHoles(painter);
    for (std::size_t i = 0; i < m_panel->items.size(); ++i)
        if (i != m_current)
            paintItem(painter, i);
    if (any())
        paintItem(painter, m_current);
    if (hasFocus()) {
        painter.setPen(QPen(c.planned, 1, Qt::DotLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(rect().adjusted(0, 0, -1, -1));
    }
}

/// N and P walk the parts: Tab leaves the picture.
void PanelPicture::keyPressEvent(QKeyEvent* event)
{
    if (!any())
        return QWidget::keyPressEvent(event);
    const double by = (event->modifiers() & Qt::ShiftModifier) != 0 ? 10 * step_m : step_m;
    const PanelItem& item = m_panel->items[m_current];
    const auto move = [&](double dx_m, double dy_m) {
        Q_EMIT moved(m_current, whole(item.x_m + dx_m), whole(item.y_m + dy_m), true);
    };
    const std::size_t count = m_panel->items.size();
    switch (event->key()) {
    case Qt::Key_Left:
        return move(-by, 0);
    case Qt::Key_Right:
        return move(by, 0);
    case Qt::Key_Up:
        return move(0, by);
    case Qt::Key_Down:
        return move(0, -by);
    case Qt::Key_N:
        m_current = (m_current + 1) % count;
        return update();
    case Qt::Key_P:
        m_current = (m_current + count - 1) % count;
        return update();
    case Qt::Key_Home:
        return Q_EMIT spreadWanted();
    case Qt::Key_Delete:
        return Q_EMIT removeWanted(m_current);
    default:
        QWidget::keyPressEvent(event);
    }
}

bool PanelPicture::event(QEvent* event)
{
    if (event->type() == QEvent::FocusIn || event->type() == QEvent::FocusOut)
        update();
    return QWidget::event(event);
}

void PanelPicture::mousePressEvent(QMouseEvent* event)
{
    setFocus(Qt::MouseFocusReason);
    if (!any())
        return;
    for (std::size_t i = 0; i < m_panel->items.size(); ++i)
        if (at(m_view.items[i].body).contains(event->position())) {
            const QPointF middle = at(m_panel->items[i].x_m, m_panel->items[i].y_m);
            m_current = i;
            m_grabbed = (event->position() - middle) / scale();
        }
    update();
}

void PanelPicture::mouseMoveEvent(QMouseEvent* event)
{
    if (!m_grabbed || !any())
        return;
    const QPointF middle = (event->position() - corner()) / scale() - *m_grabbed;
    PanelItem& item = m_panel->items[m_current];
    PlacedItem& placed = m_view.items[m_current];
    const double dx_m = whole(middle.x()) - item.x_m;
    const double dy_m = whole(-middle.y()) - item.y_m;
    for (PanelBox* box : {&placed.body, &placed.cut}) {
        box->x_m += dx_m;
        box->y_m += dy_m;
    }
    item.x_m += dx_m;
    item.y_m += dy_m;
    update();
}

void PanelPicture::mouseReleaseEvent(QMouseEvent* /*event*/)
{
    if (!m_grabbed || !any())
        return;
    m_grabbed.reset();
    const PanelItem item = m_panel->items[m_current];
    Q_EMIT moved(m_current, item.x_m, item.y_m, false);
}

} // namespace offshoot::ui
