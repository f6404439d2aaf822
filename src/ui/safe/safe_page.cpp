#include "ui/safe/safe_page.h"

#include "core/values/format.h"
#include "ui/fields/value_field.h"
#include "ui/paint/curves.h"
#include "ui/paint/figures.h"
#include "ui/paint/marks.h"

#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QScrollArea>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

/// How bright a lamp burns, 0 to 1, for the picture.
double glowOf(Glow glow)
{
    switch (glow) {
    case Glow::Dark:
        return 0;
    case Glow::Dim:
        return 0.3;
    case Glow::Half:
        return 0.6;
    case Glow::Bright:
    case Glow::Pulsing:
        return 1;
    }
    return 0;
}

} // namespace

LampPicture::LampPicture(Look& look, QWidget* parent)
    : QWidget(parent)
    , m_look(look)
{
    setAccessibleName(tr("Limiter lamps and how they will look"));
    sizedWith(*this, look, [this, &look] { setFixedHeight(look.px(150)); });
}

void LampPicture::show(const SafeView& view)
{
    m_view = view;
    setAccessibleDescription(qs(view.sentence));
    update();
}

void LampPicture::paintEvent(QPaintEvent* /*event*/)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const Colours& c = m_look.colours();
    if (m_view.lamps.empty())
        return;
    const double each = width() / static_cast<double>(m_view.lamps.size());
    for (std::size_t i = 0; i < m_view.lamps.size(); ++i) {
        const LampView& lamp = m_view.lamps[i];
        const QRectF box(each * static_cast<double>(i), 0, each, height());
        if (m_view.chosen_w == lamp.lamp_w) {
            painter.setPen(QPen(c.planned, 1.6));
            painter.setBrush(c.selection);
            painter.drawRoundedRect(box.adjusted(3, 2, -3, -2), 4, 4);
        }
        const QPointF centre(box.center().x(), m_look.px(44));
        const double r = m_look.px(10 + 9 * std::sqrt(lamp.lamp_w / 200));
        QColor light(0xf2, 0xb5, 0x3d);
        const bool pulsing = lamp.result.loaded.glow == Glow::Pulsing;
        light.setAlphaF(static_cast<float>(0.08 + 0.82 * glowOf(lamp.result.loaded.glow)));
        painter.setPen(QPen(c.ink, 1.4, pulsing ? Qt::DashLine : Qt::SolidLine));
        painter.setBrush(light);
        painter.drawEllipse(centre, r, r);
        painter.drawLine(centre + QPointF(-r * 0.4, r * 0.95), centre + QPointF(-r * 0.4, r * 1.5));
        painter.drawLine(centre + QPointF(r * 0.4, r * 0.95), centre + QPointF(r * 0.4, r * 1.5));
        paintText(painter, QRectF(box.left(), m_look.px(82), each, m_look.px(20)), watts(lamp.lamp_w),
                  m_look.font(14, true), c.ink, Qt::AlignCenter);
        paintVerdict(painter, lamp.result.verdict, {box.center().x() - m_look.px(30), double(m_look.px(112))},
                     m_look.px(11), c);
        paintText(
            painter,
            QRectF(box.center().x() - m_look.px(20), m_look.px(102), each / 2 + m_look.px(18), m_look.px(20)),
            qs(phrase(lamp.result.loaded.glow)), m_look.font(13), c.softInk);
        paintText(painter, QRectF(box.left(), m_look.px(122), each, m_look.px(18)),
                  tr("passes %1").arg(watts(lamp.result.p_max_w)), m_look.caption(), c.softInk,
                  Qt::AlignCenter);
    }
}

DischargePicture::DischargePicture(Look& look, QWidget* parent)
    : QWidget(parent)
    , m_look(look)
{
    setAccessibleName(tr("Reservoirs after switching off"));
    sizedWith(*this, look, [this, &look] { setMinimumSize(look.px(260), look.px(150)); });
}

void DischargePicture::show(const SafeView& view, std::optional<double> offS)
{
    m_view = view;
    m_offS = offS;
    update();
}

void DischargePicture::paintEvent(QPaintEvent* /*event*/)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    if (m_view.banks.empty())
        return paintSentence(painter, rect(), qs(m_view.sentence), m_look);
    const Colours& c = m_look.colours();
    double end = 10;
    double high = 20;
    for (const SafeView::Bank& bank : m_view.banks) {
        end = std::max(end, 1.2 * bank.reservoir.discharge_s.value_or(0));
        high = std::max(high, bank.reservoir.v0_v);
    }
    std::vector<Curve> curves;
    const std::array<QColor, 3> colours{c.planned, c.found, c.measured};
    for (std::size_t i = 0; i < m_view.banks.size(); ++i) {
        const SafeView::Bank& bank = m_view.banks[i];
        Curve curve{{},
                    {},
                    colours.at(i % 3),
                    2,
                    bank.reservoir.bleeder_ohm ? Qt::SolidLine : Qt::DashLine,
                    qs(bank.reservoir.key())};
        constexpr int points = 120;
        for (int k = 0; k <= points; ++k) {
            const double t = end * k / points;
            curve.x.push_back(t);
            curve.y.push_back(bank.reservoir.leftAfter(t));
        }
        curves.push_back(std::move(curve));
    }
    const Axes axes(QRectF(rect()).adjusted(m_look.px(60), m_look.px(30), -m_look.px(16), -m_look.px(46)),
                    {0, end}, {0, high * 1.06});
    QColor dead = c.fits;
    dead.setAlpha(m_look.dark() ? 70 : 50);
    painter.fillRect(
        QRectF(axes.box().left(), axes.y(dead_v), axes.box().width(), axes.box().bottom() - axes.y(dead_v)),
        dead);
    paintCurves(painter, axes, curves, m_look);
    axes.paint(painter, m_look, tr("after every source is off, s"), tr("volts"));
    if (m_offS && *m_offS <= end) {
        painter.setPen(QPen(c.measured, 1.6, Qt::DashLine));
        painter.drawLine(axes.at(*m_offS, 0), axes.at(*m_offS, high));
        paintText(painter, QRectF(axes.x(*m_offS) + 4, axes.box().top() + 2, m_look.px(60), m_look.px(18)),
                  tr("now"), m_look.caption(), c.measured);
    }
}

SafePage::SafePage(JobSession& session, Look& look, QWidget* parent)
    : WorkspacePage(session, look, parent)
    , m_lamps(new LampPicture(look))
    , m_discharge(new DischargePicture(look))
    , m_signs(richText())
    , m_banks(richText())
{
    addAbove(*m_lamps);
    body().addWidget(m_discharge, 1);
    auto* right = new QWidget;
    auto* column = new QVBoxLayout(right);
    column->setContentsMargins(0, 0, look.px(4), 0);
    column->addWidget(m_signs);
    column->addWidget(m_banks);
    auto* form = new QFormLayout;
    ValueSpec idle{.label = tr("Lain without voltage, years"),
                   .quantity = Quantity::Number,
                   .get = [](const Job& j) { return j.found.mains_side.idle_years; },
                   .set = [](Job& j, std::optional<double> v) { j.found.mains_side.idle_years = v; },
                   .zeroAllowed = true,
                   .most = 200,
                   .hint = tr("from 2 on electrolytics are formed again")};
    form->addRow(idle.label, new ValueField(idle, session));
    column->addLayout(form);
    column->addStretch();
    body().addWidget(scrolling(right), 1);
    follow();
}

QString SafePage::banksHtml() const
{
    QString html = u"<p><b>%1</b></p>"_s.arg(tr("Reservoirs"));
    for (const SafeView::Bank& bank : m_view.banks) {
        const Reservoir& r = bank.reservoir;
        html += u"<p><b>%1</b> %2<br>%3<br>%4</p>"_s.arg(
            qs(r.key()).toHtmlEscaped(),
            tr("%1, %2 J").arg(qs(formatVolts(r.v0_v)), qs(significant(bank.plan.energy_j, 3))),
            bank.plan.bleeder
                ? tr("its bleeder: %1%2 to 10 V; an open bleeder does nothing, so measure")
                      .arg(bank.plan.bleeder->t60_s > 0
                               ? tr("%1 to 60 V, ").arg(qs(formatDuration(bank.plan.bleeder->t60_s)))
                               : QString(),
                           qs(formatDuration(bank.plan.bleeder->t10_s)))
                : tr("no bleeder known: it keeps its charge"),
            bank.plan.tool
                ? tr("tool: at most %1, takes %2 J at up to %3")
                      .arg(qs(formatOhms(bank.plan.tool->r_ohm)),
                           qs(significant(bank.plan.tool->energy_j, 3)), watts(bank.plan.tool->p_peak_w))
                : tr("below 10 V already"));
        html += nowText(bank);
        if (r.needs_second)
            html += u"<p>%1</p>"_s.arg(
                tr("Measure it again after %1: it may recover to %2.")
                    .arg(qs(formatDuration(r.wait_s)), qs(formatVolts(bank.plan.recovery_v))));
    }
    return html;
}

/// The countdown of one reservoir; it proves nothing.
QString SafePage::nowText(const SafeView::Bank& bank) const
{
    const IsolationView& isolation = m_session.evaluation().isolation;
    const Reservoir& r = bank.reservoir;
    if (!isolation.off_since_s)
        return {};
    const double offS = m_session.now() - *isolation.off_since_s;
    QString text;
    if (std::ranges::count(isolation.proven, r.key()) > 0)
        text = tr("Read below 10 V.");
    else if (!r.discharge_s)
        text = tr("Off for %1; without a bleeder that says nothing: measure.").arg(qs(formatDuration(offS)));
    else
        text = offS < *r.discharge_s
                   ? tr("By its bleeder about %1 now, below 10 V in %2; then measure.")
                         .arg(qs(formatVolts(r.leftAfter(offS))), qs(formatDuration(*r.discharge_s - offS)))
                   : tr("By its bleeder below 10 V: measure now.");
    if (isolation.second_point == r.key() && isolation.second_from_s)
        text += m_session.now() < *isolation.second_from_s
                    ? tr(" Second reading in %1.")
                          .arg(qs(formatDuration(*isolation.second_from_s - m_session.now())))
                    : tr(" Take the second reading now.");
    return u"<p style='color:%1'><b>%2</b></p>"_s.arg(m_look.colours().measured.name(), text);
}

void SafePage::refresh()
{
    m_view = safeView(m_session.job(), m_session.evaluation());
    setSentence(qs(m_view.sentence));
    m_lamps->show(m_view);
    m_lamps->setHidden(m_view.lamps.empty());
    m_signs->setText(
        m_view.lamps.empty()
            ? tr("<b>What the bench supply says</b><br>no current: fuse, switch, polarity<br>"
                 "a jump, then little: normal<br>at its limit: a short, or the feed the wrong way "
                 "round<br>pulsing: hiccup, starved or overloaded")
            : tr("<b>What the lamp says</b><br>dark: no current: fuse, switch, primary<br>a flash, "
                 "then dim: normal<br>"
                 "bright: a short, or a reversed winding<br>pulsing: hiccup, starved or "
                 "overloaded<br>Behind it the unit is live even when it is dark."));
    const auto& off = m_session.evaluation().isolation.off_since_s;
    m_discharge->show(m_view, off ? std::optional(m_session.now() - *off) : std::nullopt);
    m_banks->setText(banksHtml());
}

} // namespace offshoot::ui
