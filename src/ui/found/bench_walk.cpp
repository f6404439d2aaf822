#include "ui/found/bench_walk.h"

#include "ui/found/walk_pictures.h"
#include "ui/paint/marks.h"

#include <QKeyEvent>
#include <QLineEdit>
#include <QPainter>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

BenchWalk::BenchWalk(WalkCourse& course, JobSession& session, Look& look, QWidget* parent)
    : QWidget(parent)
    , m_course(course)
    , m_session(session)
    , m_look(look)
    , m_entry(new QLineEdit(this))
{
    setObjectName(u"benchWalk"_s);
    setAccessibleName(tr("Walk the board"));
    setFocusProxy(m_entry);
    m_entry->setPlaceholderText(tr("type what it says, Enter goes on"));
    m_entry->setAccessibleName(tr("What it says"));
    m_entry->setObjectName(u"benchWalkLine"_s);
    m_entry->installEventFilter(this);
    connect(m_entry, &QLineEdit::textEdited, this, qOverload<>(&QWidget::update));
    connect(m_entry, &QLineEdit::returnPressed, this, [this] {
        if (m_course.barred().isEmpty() && m_course.take(m_entry->text()))
            m_entry->clear();
        update();
    });
    connect(&session, &JobSession::changed, this, [this] {
        m_course.refresh();
        update();
    });
}

void BenchWalk::showEvent(QShowEvent* event)
{
    QWidget::showEvent(event);
    m_course.refresh();
    m_entry->setFocus();
}

bool BenchWalk::eventFilter(QObject* watched, QEvent* event)
{
    if (watched == m_entry && event->type() == QEvent::KeyPress) {
        const int key = static_cast<QKeyEvent*>(event)->key();
        if (key == Qt::Key_F11) {
            Q_EMIT closed();
            return true;
        }
        if (key == Qt::Key_Escape) {
            m_course.later();
            m_entry->clear();
            update();
            return true;
        }
    }
    return QWidget::eventFilter(watched, event);
}

void BenchWalk::resizeEvent(QResizeEvent* /*event*/)
{
    m_entry->setGeometry(m_look.px(60), height() - m_look.px(84), width() / 2, m_look.px(54));
    m_entry->setStyleSheet(u"font-size: %1px;"_s.arg(m_look.px(28)));
}

void BenchWalk::paintEvent(QPaintEvent* /*event*/)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const Colours& c = m_look.colours();
    painter.fillRect(rect(), c.sheet);
    paintBenchBand(painter, width(), m_session.evaluation().isolation.state, m_look);
    const double left = m_look.px(60);
    const double wide = width() - 2 * left;
    const WalkStop* stop = m_course.current();
    if (stop == nullptr)
        return;
    double y = m_look.px(90);
    paintText(painter, QRectF(left, y, wide, m_look.px(64)), qs(stop->name), m_look.font(48, true), c.ink);
    y += m_look.px(72);
    const double picture = m_look.px(330);
    paintBoardPart(painter, QRectF(left, y, picture, m_look.px(230)), stop->place.part, m_look);
    painter.setFont(m_look.font(22));
    painter.setPen(c.softInk);
    painter.drawText(QRectF(left, y + m_look.px(236), picture, m_look.px(110)), Qt::TextWordWrap,
                     qs(infoOf(stop->place.part).where));
    const double beside = left + picture + m_look.px(40);
    double line = y;
    for (const WalkFigure& figure : stop->figures) {
        const QRectF box(beside, line, width() - beside - left, m_look.px(36));
        paintText(painter, box, qs(figure.figure->label), m_look.font(26, true), c.ink);
        paintText(painter, box,
                  stop->absent   ? tr("there is none")
                  : figure.value ? qs(figure.shown)
                                 : tr("not read"),
                  m_look.font(26), c.found, Qt::AlignRight | Qt::AlignVCenter);
        if (!figure.value && !stop->absent)
            paintText(painter, box.translated(0, m_look.px(34)), qs(figure.worth), m_look.font(22),
                      figure.decides || figure.blocks ? c.tight : c.softInk);
        line += m_look.px(86);
    }
    const WalkCourse::Echo echo = m_course.echo(m_entry->text());
    const QString barred = m_course.barred();
    const QString said = !barred.isEmpty()      ? barred
                         : !echo.text.isEmpty() ? echo.text
                                                : tr("Enter: on · Esc: later · F11: back to the window");
    paintText(painter, QRectF(left, height() - m_look.px(140), wide, m_look.px(44)), said,
              m_look.font(26, true), !barred.isEmpty() || !echo.fine ? c.breaks : c.planned);
}

} // namespace offshoot::ui
