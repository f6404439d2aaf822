#include "ui/frame/header_bar.h"

#include "core/values/format.h"
#include "ui/paint/marks.h"

#include <QMenu>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

IsolationControl::IsolationControl(JobSession& session, Look& look, QWidget* parent)
    : QAbstractButton(parent)
    , m_session(session)
    , m_look(look)
{
    setObjectName(u"isolationControl"_s);
    setFocusPolicy(Qt::StrongFocus);
    connect(this, &QAbstractButton::clicked, this, &IsolationControl::openMenu);
    connect(&session, &JobSession::changed, this, &IsolationControl::refresh);
    connect(&look, &Look::changed, this, [this] {
        updateGeometry();
        update();
    });
    refresh();
}

QSize IsolationControl::sizeHint() const { return {m_look.px(262), m_look.px(44)}; }

void IsolationControl::refresh()
{
    const QString says = tr("Isolation state: %1, %2").arg(headline(), detail());
    if (says == accessibleName())
        return;
    setAccessibleName(says);
    setToolTip(says);
    update();
}

QString IsolationControl::headline() const
{
    switch (m_session.evaluation().isolation.state) {
    case Isolation::Live:
        return m_session.evaluation().isolation.assumed ? tr("ASSUMED LIVE") : tr("LIVE");
    case Isolation::Unproven:
        return tr("UNPLUGGED");
    case Isolation::ProvenDead:
        return tr("PROVEN DEAD");
    }
    return {};
}

QString IsolationControl::detail() const
{
    const IsolationView& view = m_session.evaluation().isolation;
    const double now = m_session.now();
    const auto list = [](const std::vector<std::string>& names) {
        QStringList all;
        for (const std::string& name : names)
            all << qs(name);
        return all.join(u", "_s);
    };
    switch (view.state) {
    case Isolation::Live:
        return view.sources_off.empty() ? tr("declare each source off")
                                        : tr("still on: %1").arg(list(view.sources_on));
    case Isolation::Unproven:
        if (!view.missing.empty())
            return tr("cannot be proven: see Found");
        if (view.discharged_at_s && *view.discharged_at_s > now)
            return tr("charge not proven · %1").arg(qs(formatDuration(*view.discharged_at_s - now)));
        if (view.meter_pending)
            return tr("prove the meter again");
        return view.meter_proven ? tr("measure now: %1").arg(list(view.to_prove))
                                 : tr("measure now: meter first");
    case Isolation::ProvenDead:
        if (view.second_from_s && now < *view.second_from_s)
            return tr("second reading in %1").arg(qs(formatDuration(*view.second_from_s - now)));
        if (view.second_until_s)
            return tr("read %1 again, %2 left")
                .arg(qs(view.second_point), qs(formatDuration(*view.second_until_s - now)));
        return tr("parts may be touched");
    }
    return {};
}

void IsolationControl::openMenu()
{
    const IsolationView& view = m_session.evaluation().isolation;
    QMenu menu(this);
    for (const std::string& source : view.sources_on)
        menu.addAction(tr("Declare off: %1").arg(qs(source)), this,
                       [this, s = qs(source)] { m_session.declareOff(s); });
    if (view.state != Isolation::Live)
        menu.addAction(tr("Meter proven on a known voltage"), this, [this] { m_session.meterProven(); });
    menu.addAction(tr("It is live"), this, [this] { m_session.declareLive(); });
    menu.exec(mapToGlobal(QPoint(0, height())));
}

void IsolationControl::paintEvent(QPaintEvent* /*event*/)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const Isolation state = m_session.evaluation().isolation.state;
    // The plate carries light text, so it takes the light look's verdict colours in both looks.
    const Colours& c = lightColours();
    const QColor plate = state == Isolation::Live       ? c.breaks
                         : state == Isolation::Unproven ? c.tight
                                                        : c.fits;
    painter.setPen(Qt::NoPen);
    painter.setBrush(plate);
    painter.drawRoundedRect(rect(), 4, 4);
    if (hasFocus()) {
        painter.setPen(QPen(c.paper, 2));
        painter.setBrush(Qt::NoBrush);
        painter.drawRoundedRect(QRectF(rect()).adjusted(2, 2, -2, -2), 4, 4);
    }
    const QColor text = c.paper;
    const double side = m_look.px(24);
    paintIsolationSign(painter, state, QRectF(m_look.px(14), (height() - side) / 2, side, side), text);
    const double left = m_look.px(50);
    const QRectF box(left, 0, width() - left - m_look.px(8), height());
    paintText(painter, QRectF(box.left(), m_look.px(4), box.width(), m_look.px(20)), headline(),
              m_look.textBold(), text);
    paintText(painter, QRectF(box.left(), m_look.px(23), box.width(), m_look.px(18)), detail(),
              m_look.caption(), text);
}

HeaderBar::HeaderBar(JobSession& session, Look& look, QWidget* parent)
    : QWidget(parent)
    , m_session(session)
    , m_look(look)
    , m_isolation(new IsolationControl(session, look, this))
{
    setAttribute(Qt::WA_OpaquePaintEvent);
    connect(&session, &JobSession::changed, this, &HeaderBar::refresh);
    connect(&look, &Look::changed, this, [this] {
        updateGeometry();
        update();
    });
    refresh();
}

QSize HeaderBar::sizeHint() const { return {m_look.px(1000), m_look.px(60)}; }

void HeaderBar::resizeEvent(QResizeEvent* /*event*/)
{
    const QSize size = m_isolation->sizeHint();
    m_isolation->setGeometry(width() - size.width() - m_look.px(18), (height() - size.height()) / 2,
                             size.width(), size.height());
}

void HeaderBar::refresh()
{
    QString title = qs(m_session.job().title);
    if (const std::size_t units = batchUnits(m_session.job()); units > 1)
        title = tr("Unit %1 of %2 · ").arg(m_session.unit()).arg(units) + title;
    if (m_session.store().readOnly())
        title += tr(" · read only");
    else if (m_session.unsaved())
        title += u" •"_s;
    Said says{title, qs(m_session.evaluation().need_line), m_session.evaluation().counts};
    if (says == m_said)
        return;
    m_said = std::move(says);
    setToolTip(m_said.title + u"\n"_s + m_said.need);
    update();
}

double HeaderBar::paintCounts(QPainter& painter, double right) const
{
    const Counts& counts = m_said.counts;
    const Colours& c = m_look.barColours();
    struct Count
    {
        Verdict verdict;
        int number;
        QString word;
    };
    const Count all[] = {{Verdict::Unknown, counts.unknown, tr("to read")},
                         {Verdict::Tight, counts.tight, tr("tight")},
                         {Verdict::Breaks, counts.breaks, tr("breaks")}};
    double x = right;
    for (const Count& count : all) {
        const QString number = QString::number(count.number);
        const double digits = textWidth(number, m_look.textBold());
        const double wide = digits + textWidth(count.word, m_look.text()) + m_look.px(28);
        x -= wide + m_look.px(18);
        const double y = height() / 2.0;
        painter.setOpacity(count.number == 0 ? 0.75 : 1);
        paintVerdict(painter, count.verdict, {x + m_look.px(7), y}, m_look.px(14), c);
        paintText(painter, QRectF(x + m_look.px(19), 0, m_look.px(40), height()), number, m_look.textBold(),
                  c.barText);
        paintText(painter, QRectF(x + m_look.px(24) + digits, 0, m_look.px(80), height()), count.word,
                  m_look.text(), c.softInk);
        painter.setOpacity(1);
    }
    return x;
}

void HeaderBar::paintEvent(QPaintEvent* /*event*/)
{
    QPainter painter(this);
    const Colours& c = m_look.colours();
    painter.fillRect(rect(), c.bar);
    const double right = paintCounts(painter, m_isolation->geometry().left()) - m_look.px(12);
    const double left = m_look.px(20);
    paintText(painter, QRectF(left, m_look.px(7), right - left, m_look.px(24)), m_said.title, m_look.title(),
              c.barText, Qt::AlignLeft | Qt::AlignVCenter, Qt::ElideMiddle);
    paintText(painter, QRectF(left, m_look.px(32), right - left, m_look.px(20)), m_said.need, m_look.font(13),
              m_look.barColours().softInk);
}

} // namespace offshoot::ui
