#include "ui/batch/board_page.h"

#include "core/values/format.h"
#include "ui/fields/value_field.h"
#include "ui/paint/marks.h"

#include <QDateTime>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

QString clock(double t_s)
{
    return QDateTime::fromSecsSinceEpoch(static_cast<qint64>(t_s)).toString(u"HH:mm"_s);
}

} // namespace

BoardPicture::BoardPicture(JobSession& session, const Look& look, QWidget* parent)
    : QWidget(parent)
    , m_session(session)
    , m_look(look)
{
    setObjectName(u"board"_s);
    setAccessibleName(tr("The units of the batch by their steps"));
    setFocusPolicy(Qt::StrongFocus);
    sizedWith(*this, look, [this, &look] { setMinimumSize(look.px(420), look.px(160)); });
}

void BoardPicture::show(const BatchBoard& board)
{
    m_board = board;
    m_at = std::min(m_at, board.units.empty() ? 0 : board.units.size() - 1);
    QStringList said;
    for (const BoardUnit& unit : board.units)
        said << tr("unit %1: %2")
                    .arg(unit.unit)
                    .arg(unit.open.empty() ? tr("done") : qs(unit.open.front().title));
    setAccessibleDescription(said.join(u"; "_s));
    constexpr double unitHigh = 46; // its row, and its line in the plan
    setMinimumHeight(m_look.px(64 + unitHigh * static_cast<double>(board.units.size())));
    update();
}

QRectF BoardPicture::rowOf(std::size_t at) const
{
    const double high =
        std::clamp(height() * 0.52 / static_cast<double>(std::max<std::size_t>(m_board.units.size(), 1)),
                   double(m_look.px(24)), double(m_look.px(46)));
    return {0, static_cast<double>(at) * high, double(width()), high};
}

void BoardPicture::paintUnit(QPainter& painter, std::size_t at) const
{
    const Colours& c = m_look.colours();
    const BoardUnit& unit = m_board.units[at];
    const QRectF row = rowOf(at).adjusted(m_look.px(2), m_look.px(2), -m_look.px(2), -m_look.px(2));
    const bool inHand = unit.unit == m_session.unit();
    if (inHand)
        painter.fillRect(row, c.selection);
    if (hasFocus() && at == m_at) {
        painter.setPen(QPen(c.planned, 2));
        painter.setBrush(Qt::NoBrush);
        painter.drawRoundedRect(row, 3, 3);
    }
    const double middle = row.center().y();
    const double side = std::min(row.height() * 0.7, double(m_look.px(22)));
    const QColor state = unit.isolation == Isolation::Live       ? c.breaks
                         : unit.isolation == Isolation::Unproven ? c.tight
                                                                 : c.fits;
    paintIsolationSign(painter, unit.isolation,
                       QRectF(row.left() + m_look.px(6), middle - side / 2, side, side), state);
    const double nameAt = row.left() + m_look.px(36);
    paintText(painter, QRectF(nameAt, row.top(), m_look.px(64), row.height()), tr("Unit %1").arg(unit.unit),
              inHand ? m_look.textBold() : m_look.text(), c.ink);
    // One cell for each step; stages stand apart.
    const double left = nameAt + m_look.px(66);
    const double right = row.right() - m_look.px(280);
    const std::size_t count = unit.steps.size();
    const double gap = m_look.px(5);
    const double wide = (right - left - 5 * gap) / static_cast<double>(std::max<std::size_t>(count, 1));
    double x = left;
    const double high = std::min(row.height() * 0.5, double(m_look.px(16)));
    bool current = !unit.signed_off;
    for (std::size_t i = 0; i < count; ++i) {
        if (i > 0 && unit.stages[i] != unit.stages[i - 1])
            x += gap;
        const QRectF cell(x, middle - high / 2, std::max(wide - 1, 1.0), high);
        const bool done = unit.steps[i] == StepStatus::Done || unit.signed_off;
        painter.fillRect(cell, done ? c.fits : unit.steps[i] == StepStatus::Again ? c.tight : c.hairline);
        if (!done && current) {
            painter.fillRect(cell.adjusted(-1, -m_look.px(3), 1, m_look.px(3)), c.planned);
            current = false;
        }
        x += wide;
    }
    QString next = unit.signed_off     ? tr("signed off")
                   : unit.open.empty() ? tr("every step is done")
                                       : qs(unit.open.front().title);
    if (!unit.open.empty() && unit.ready_s > m_session.now() + 1)
        next = tr("until %1: ").arg(clock(unit.ready_s)) + next;
    paintText(painter, QRectF(right + m_look.px(10), row.top(), m_look.px(268), row.height()), next,
              m_look.caption(), c.ink);
}

/// Hands solid, what goes on by itself pale, live edged.
void BoardPicture::paintPlan(QPainter& painter, const QRectF& box) const
{
    const Colours& c = m_look.colours();
    if (m_board.plan.empty() || m_board.units.size() < 2)
        return;
    const double from = m_session.now();
    const double to = std::max(m_board.ends_s, from + 60);
    const double nameWide = m_look.px(66);
    const double left = box.left() + nameWide;
    const auto x = [&](double t_s) {
        return left + (t_s - from) / (to - from) * (box.width() - nameWide - m_look.px(24));
    };
    const double top = box.top() + m_look.px(20);
    const double bottom = box.bottom() - m_look.px(20);
    const double high = (bottom - top) / static_cast<double>(m_board.units.size());
    paintText(painter, QRectF(box.left(), box.top(), box.width(), m_look.px(18)),
              tr("The order that ends soonest: hands solid, what goes on by itself pale, live edged red"),
              m_look.caption(), c.softInk);
    for (std::size_t i = 0; i < m_board.units.size(); ++i)
        paintText(painter,
                  QRectF(box.left() + m_look.px(6), top + static_cast<double>(i) * high, nameWide, high),
                  tr("Unit %1").arg(m_board.units[i].unit), m_look.caption(), c.ink);
    for (const BoardTask& task : m_board.plan) {
        const double y = top + (static_cast<double>(task.unit) - 1) * high;
        const double inset = std::min(high * 0.2, double(m_look.px(5)));
        QColor waits = c.planned;
        waits.setAlphaF(0.28F);
        painter.fillRect(QRectF(QPointF(x(task.to_s), y + inset), QPointF(x(task.done_s), y + high - inset)),
                         waits);
        painter.fillRect(QRectF(QPointF(x(task.from_s), y + inset), QPointF(x(task.to_s), y + high - inset)),
                         c.planned);
        if (task.live)
            painter.fillRect(QRectF(QPointF(x(task.from_s), y + high - inset),
                                    QPointF(x(task.done_s), y + high - inset + m_look.px(2))),
                             c.breaks);
    }
    painter.setPen(QPen(c.ink, 1));
    painter.drawLine(QPointF(left, bottom), QPointF(x(to), bottom));
    constexpr double steps_s[] = {300, 900, 1800, 3600, 7200, 14400, 43200};
    double step = steps_s[6];
    for (const double one : steps_s)
        if ((to - from) / one <= 9) {
            step = one;
            break;
        }
    for (double t_s = std::ceil(from / step) * step; t_s <= to; t_s += step) {
        painter.drawLine(QPointF(x(t_s), bottom), QPointF(x(t_s), bottom + m_look.px(4)));
        paintText(painter,
                  QRectF(x(t_s) - m_look.px(30), bottom + m_look.px(3), m_look.px(60), m_look.px(16)),
                  clock(t_s), m_look.caption(), c.softInk, Qt::AlignCenter);
    }
}

void BoardPicture::paintEvent(QPaintEvent* /*event*/)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    if (m_board.units.empty())
        return;
    for (std::size_t i = 0; i < m_board.units.size(); ++i)
        paintUnit(painter, i);
    const double below = rowOf(m_board.units.size() - 1).bottom() + m_look.px(12);
    paintPlan(painter, QRectF(0, below, width(), std::max(height() - below - 2, 10.0)));
}

void BoardPicture::mousePressEvent(QMouseEvent* event)
{
    for (std::size_t i = 0; i < m_board.units.size(); ++i)
        if (rowOf(i).contains(event->position())) {
            m_at = i;
            Q_EMIT taken(m_board.units[i].unit);
        }
}

void BoardPicture::keyPressEvent(QKeyEvent* event)
{
    const std::size_t last = m_board.units.empty() ? 0 : m_board.units.size() - 1;
    switch (event->key()) {
    case Qt::Key_Up:
        m_at = m_at > 0 ? m_at - 1 : 0;
        break;
    case Qt::Key_Down:
        m_at = std::min(m_at + 1, last);
        break;
    case Qt::Key_Return:
    case Qt::Key_Enter:
        if (m_at < m_board.units.size())
            Q_EMIT taken(m_board.units[m_at].unit);
        break;
    default:
        return QWidget::keyPressEvent(event);
    }
    update();
}

BoardPage::BoardPage(JobSession& session, Look& look, QWidget* parent)
    : WorkspacePage(session, look, parent)
    , m_picture(new BoardPicture(session, look))
    , m_off(new QPushButton(tr("Every unit is unplugged")))
{
    auto* column = new QVBoxLayout;
    auto* board = new QWidget;
    auto* with_words = new QVBoxLayout(board);
    with_words->setContentsMargins(0, 0, 0, 0);
    with_words->addWidget(m_picture, 1);
    // In lines of its own: a scrolled box does not ask how high wrapped words get.
    auto* words = caption(tr("↑ ↓ and Enter, or a click, take a unit in hand:\n"
                             "its steps, its isolation and its log are then in front.\n"
                             "Edits of need and plan are of all of them."));
    words->setWordWrap(false);
    with_words->addWidget(words);
    column->addWidget(scrolling(board), 1);
    auto* row = new QHBoxLayout;
    auto* form = new QFormLayout;
    addValueRow(*form,
                {.label = tr("Units side by side"),
                 .quantity = Quantity::Number,
                 .get = [](const Job& job) { return std::optional(static_cast<double>(job.batch.units)); },
                 .set =
                     [](Job& job, std::optional<double> v) {
                         job.batch.units = static_cast<std::int64_t>(std::lround(v.value_or(1)));
                     },
                 .least = 0.9,
                 .most = 12,
                 .hint = tr("1 to 12")},
                session);
    row->addLayout(form);
    row->addWidget(new TickField(
        tr("More than one may be live at once"), [](const Job& job) { return job.batch.live_together; },
        [](Job& job, bool on) { job.batch.live_together = on; }, session));
    row->addStretch();
    row->addWidget(m_off);
    column->addLayout(row);
    body().addLayout(column, 1);
    connect(m_picture, &BoardPicture::taken, this, [this](std::size_t unit) {
        m_session.takeUnit(unit);
        Q_EMIT unitTaken();
    });
    connect(m_off, &QPushButton::clicked, this, [this] {
        const std::size_t kept = m_session.unit();
        for (std::size_t unit = 1; unit <= batchUnits(m_session.whole()); ++unit) {
            m_session.takeUnit(unit);
            // Its own plug and no more: a battery is declared off by whoever took it off.
            const std::string plug = m_session.evaluation().energy.sources.front();
            if (std::ranges::count(m_session.evaluation().isolation.sources_on, plug) > 0)
                m_session.declareOff(qs(plug));
        }
        m_session.takeUnit(kept);
    });
    follow();
}

void BoardPage::refresh()
{
    m_off->setVisible(batchUnits(m_session.job()) > 1);
    if (!m_session.whole().others.empty()) {
        m_work.cancel();
        m_board = {};
        m_picture->show(m_board);
        setSentence(tr("A job that joins several units is no batch: its units are worked on together."));
        return;
    }
    m_work.start([this, job = m_session.whole(),
                  now = m_session.now()](const Background::Wanted&) -> Background::Finish {
        return [this, board = batchBoard(job, now)] {
            m_board = board;
            m_picture->show(m_board);
            setSentence(qs(m_board.sentence) +
                        (m_board.plan.empty() ? QString() : tr(" Done at %1.").arg(clock(m_board.ends_s))));
        };
    });
}

} // namespace offshoot::ui
