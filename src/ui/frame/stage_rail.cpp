#include "ui/frame/stage_rail.h"

#include "ui/paint/marks.h"
#include "ui/refresh.h"

#include <QButtonGroup>
#include <QVBoxLayout>
#include <algorithm>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

QString stageName(Stage stage)
{
    switch (stage) {
    case Stage::Need:
        return StageRail::tr("Need");
    case Stage::Found:
        return StageRail::tr("Found");
    case Stage::Plan:
        return StageRail::tr("Plan");
    case Stage::Change:
        return StageRail::tr("Change");
    case Stage::BringUp:
        return StageRail::tr("Bring-up");
    case Stage::SignOff:
        return StageRail::tr("Sign-off");
    }
    return {};
}

StageButton::StageButton(Stage stage, JobSession& session, Look& look, QWidget* parent)
    : QAbstractButton(parent)
    , m_stage(stage)
    , m_session(session)
    , m_look(look)
{
    setCheckable(true);
    setFocusPolicy(Qt::StrongFocus);
    const int number = static_cast<int>(stage) + 1;
    setText(stageName(stage));
    setObjectName(u"stage%1"_s.arg(number));
    const auto describe = [this, number] {
        const StageView& view = m_session.evaluation().stages[static_cast<std::size_t>(m_stage)];
        setToolTip(tr("%1 (Alt+%2): %3 % done. %4")
                       .arg(text())
                       .arg(number)
                       .arg(qRound(view.complete * 100))
                       .arg(qs(view.next)));
        setAccessibleName(toolTip());
    };
    connect(&session, &JobSession::changed, this, describe);
    repaintWhenOther(*this, session, [this] { return complete(); });
    describe();
}

double StageButton::complete() const
{
    return m_session.evaluation().stages[static_cast<std::size_t>(m_stage)].complete;
}

QSize StageButton::sizeHint() const { return {m_look.px(108), m_look.px(76)}; }

void StageButton::paintEvent(QPaintEvent* /*event*/)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const Colours& c = m_look.colours();
    if (isChecked()) {
        painter.fillRect(rect(), c.sheet);
        painter.fillRect(QRectF(0, 0, 4, height()), c.planned);
    }
    const double r = std::min<double>(m_look.px(15), height() / 2.0 - m_look.px(4)); // in a low window
    const QPointF centre(m_look.px(28), height() / 2.0);
    const QRectF ring(centre.x() - r, centre.y() - r, 2 * r, 2 * r);
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(c.hairline, m_look.px(4)));
    painter.drawEllipse(ring);
    painter.setPen(QPen(c.planned, m_look.px(4), Qt::SolidLine, Qt::FlatCap));
    painter.drawArc(ring, 90 * 16, -static_cast<int>(complete() * 360 * 16));
    paintText(painter, ring, QString::number(static_cast<int>(m_stage) + 1), m_look.font(13, true), c.ink,
              Qt::AlignCenter);
    paintText(painter, QRectF(m_look.px(49), 0, width() - m_look.px(51), height()), text(),
              m_look.font(13, isChecked()), c.ink);
    if (hasFocus()) {
        painter.setPen(QPen(c.planned, 2));
        painter.drawRoundedRect(QRectF(rect()).adjusted(7, 8, -4, -8), 4, 4);
    }
}

StageRail::StageRail(JobSession& session, Look& look, QWidget* parent)
    : QWidget(parent)
    , m_look(look)
{
    setAttribute(Qt::WA_OpaquePaintEvent);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, m_look.px(10), 1, 0);
    layout->setSpacing(0);
    auto* group = new QButtonGroup(this);
    for (std::size_t i = 0; i < m_buttons.size(); ++i) {
        const auto stage = static_cast<Stage>(i);
        m_buttons[i] = new StageButton(stage, session, look, this);
        group->addButton(m_buttons[i]);
        layout->addWidget(m_buttons[i]);
        connect(m_buttons[i], &QAbstractButton::clicked, this, [this, stage] { Q_EMIT chosen(stage); });
    }
    layout->addStretch();
    connect(&look, &Look::changed, this, [this] {
        for (StageButton* button : m_buttons)
            button->updateGeometry();
        update();
    });
}

void StageRail::show(Stage stage) { m_buttons[static_cast<std::size_t>(stage)]->setChecked(true); }

void StageRail::paintEvent(QPaintEvent* /*event*/)
{
    QPainter painter(this);
    painter.fillRect(rect(), m_look.colours().paper);
    painter.setPen(m_look.colours().hairline);
    painter.drawLine(width() - 1, 0, width() - 1, height());
}

} // namespace offshoot::ui
