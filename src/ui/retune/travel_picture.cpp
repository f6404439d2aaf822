#include "ui/retune/travel_picture.h"

#include "core/values/format.h"
#include "ui/paint/marks.h"

#include <algorithm>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

TravelPicture::TravelPicture(JobSession& session, Look& look, QWidget* parent)
    : QWidget(parent)
    , m_session(session)
    , m_look(look)
{
    sizedWith(*this, look, [this] { setFixedHeight(TravelPicture::sizeHint().height()); });
    setAccessibleName(tr("Travel of the trimmer"));
    connect(&session, &JobSession::changed, this, qOverload<>(&QWidget::update));
}

QSize TravelPicture::sizeHint() const { return {m_look.px(300), m_look.px(112)}; }

void TravelPicture::paintEvent(QPaintEvent* /*event*/)
{
    const auto& t = m_session.evaluation().trimmer;
    if (!t)
        return;
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const Colours& c = m_look.colours();
    const double left = m_look.px(14);
    const double right = width() - m_look.px(14);
    const QRectF track(left, m_look.px(44), right - left, m_look.px(14));
    const auto x = [&](double travel) { return left + travel * (right - left); };
    const auto volts = [](const FaultResult& end) {
        return end.v ? qs(formatVolts(*end.v)) : tr("runs away");
    };
    painter.setPen(Qt::NoPen);
    painter.setBrush(c.ribbon);
    painter.drawRoundedRect(track, 4, 4);
    if (t->window_from) {
        // A window narrower than a stroke still shows.
        const double wide = std::max<double>(x(*t->window_to) - x(*t->window_from), m_look.px(2));
        painter.setBrush(c.fits);
        painter.drawRect(QRectF(x(*t->window_from), track.top(), wide, track.height()));
    }
    const auto mark = [&](double travel, const QString& words, const QColor& colour, bool above) {
        const double at = x(travel);
        const double tip = above ? track.top() - m_look.px(2) : track.bottom() + m_look.px(2);
        const double base = tip + (above ? -1 : 1) * m_look.px(9);
        painter.setPen(Qt::NoPen);
        painter.setBrush(colour);
        painter.drawPolygon(QPolygonF{
            {QPointF(at, tip), QPointF(at - m_look.px(6), base), QPointF(at + m_look.px(6), base)}});
        const double wide = textWidth(words, m_look.font(13, true)) + 4;
        const double begin = std::clamp(at - wide / 2, 0.0, width() - wide);
        paintText(painter, QRectF(begin, above ? m_look.px(10) : base + m_look.px(1), wide, m_look.px(20)),
                  words, m_look.font(13, true), colour, Qt::AlignCenter);
    };
    const TrimmerPlan& plan = m_session.job().plan.trimmer;
    if (t->target_travel)
        mark(*t->target_travel, tr("target at %1").arg(qs(formatPercent(*t->target_travel, 2))), c.fits,
             true);
    mark(std::clamp(t->preset_ohm / plan.pot_ohm, 0.0, 1.0), tr("preset"), c.planned, false);
    const double base = m_look.px(92);
    paintText(painter, QRectF(left, base, (right - left) / 2, m_look.px(18)),
              tr("zero: %1").arg(volts(t->at_zero)), m_look.font(13),
              t->at_zero.runaway ? c.breaks : c.softInk);
    paintText(painter, QRectF((left + right) / 2, base, (right - left) / 2, m_look.px(18)),
              tr("full: %1").arg(volts(t->at_full)), m_look.font(13),
              t->at_full.runaway ? c.breaks : c.softInk, Qt::AlignRight | Qt::AlignVCenter);
}

} // namespace offshoot::ui
