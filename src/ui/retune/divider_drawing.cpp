#include "ui/retune/divider_drawing.h"

#include "core/values/format.h"
#include "ui/paint/marks.h"

namespace offshoot::ui {

using namespace Qt::StringLiterals;

QString methodPhrase(DividerMethod method)
{
    switch (method) {
    case DividerMethod::ReplaceBottom:
        return DividerDrawing::tr("for bottom");
    case DividerMethod::ReplaceTop:
        return DividerDrawing::tr("for top");
    case DividerMethod::ParallelBottom:
        return DividerDrawing::tr("across bottom");
    case DividerMethod::ParallelTop:
        return DividerDrawing::tr("across top");
    case DividerMethod::SeriesBottom:
        return DividerDrawing::tr("in series, bottom");
    case DividerMethod::SeriesTop:
        return DividerDrawing::tr("in series, top");
    }
    return {};
}

QStringList methodPhrases()
{
    QStringList phrases;
    for (std::size_t i = 0; i < method_count; ++i)
        phrases << methodPhrase(static_cast<DividerMethod>(i));
    return phrases;
}

QString outcomePhrase(const FaultResult& fault)
{
    switch (fault.outcome.value_or(fault.runaway ? Outcome::Runaway : Outcome::InWindow)) {
    case Outcome::Low:
        return DividerDrawing::tr("low");
    case Outcome::InWindow:
        return DividerDrawing::tr("in window");
    case Outcome::High:
        return DividerDrawing::tr("high");
    case Outcome::Runaway:
        return DividerDrawing::tr("runs away");
    }
    return {};
}

DividerDrawing::DividerDrawing(JobSession& session, Look& look, Shows shows, QWidget* parent)
    : QWidget(parent)
    , m_session(session)
    , m_look(look)
    , m_shows(shows)
{
    setAccessibleName(tr("The feedback divider"));
    connect(&session, &JobSession::changed, this, qOverload<>(&QWidget::update));
    connect(&look, &Look::changed, this, qOverload<>(&QWidget::update));
}

QSize DividerDrawing::sizeHint() const
{
    const bool faults = m_shows == Shows::PlanAndFaults;
    return {m_look.px(280), m_look.px(faults ? 400 : 240)};
}

QSize DividerDrawing::minimumSizeHint() const { return {m_look.px(220), m_look.px(200)}; }

namespace {
constexpr double spineX = 96;
} // namespace

void DividerDrawing::paintLeg(QPainter& painter, bool top, double y0, double y1) const
{
    const Colours& c = m_look.colours();
    const Feedback& feedback = m_session.job().found.rails.front().feedback;
    const auto& network = top ? feedback.top : feedback.bottom;
    const double x = m_look.px(spineX);
    const double w = m_look.px(26);
    const auto& planned = m_session.evaluation().planned;
    const bool replaced = m_shows != Shows::Found && planned && replaces(planned->option.method) &&
                          joinsTop(planned->option.method) == top;
    painter.setPen(QPen(c.ink, 1.6));
    if (!network) {
        QPen dashes(c.unknown, 1.6);
        dashes.setDashPattern({2, 2});
        painter.setPen(dashes);
        painter.setBrush(Qt::NoBrush);
        painter.drawRoundedRect(QRectF(x - w / 2, y0 + (y1 - y0) * 0.16, w, (y1 - y0) * 0.68), 4, 4);
        painter.drawLine(QPointF(x, y0), QPointF(x, y0 + (y1 - y0) * 0.16));
        painter.drawLine(QPointF(x, y1 - (y1 - y0) * 0.16), QPointF(x, y1));
    } else {
        painter.setOpacity(replaced ? 0.35 : 1);
        // Several parts stand in one place as one; its bands are drawn when they can say it.
        paintResistor(painter, QRectF(x - w / 2, y0, w, y1 - y0), network->ohm(), feedback.tolerance, m_look);
        painter.setOpacity(1);
    }
    const QRectF label(x + m_look.px(20), (y0 + y1) / 2 - m_look.px(20), m_look.px(76), m_look.px(18));
    paintText(painter, label, top ? tr("top") : tr("bottom"), m_look.font(13), c.softInk);
    paintText(painter, label.translated(0, m_look.px(18)),
              network ? qs(formatOhms(network->ohm())) : tr("unknown"), m_look.font(15, true), c.found);
}

void DividerDrawing::paintAdded(QPainter& painter, const DividerOption& option, double y0, double y1) const
{
    const Colours& c = m_look.colours();
    const double spine = m_look.px(spineX);
    const double x = m_look.px(spineX + 92);
    const double w = m_look.px(26);
    QPen dashes(c.planned, 1.8);
    dashes.setDashPattern({3, 2});
    painter.setPen(dashes);
    painter.setBrush(Qt::NoBrush);
    const double a = y0 + m_look.px(4);
    const double b = y1 - m_look.px(4);
    painter.drawPolyline(QPolygonF{{QPointF(spine, a), QPointF(x, a)}});
    painter.drawPolyline(QPolygonF{{QPointF(spine, b), QPointF(x, b)}});
    const double tolerance = option.parts.empty() ? 0.01 : option.parts.front().tolerance;
    const auto& ohms = option.network.parts();
    const bool parallel = option.network.root().kind == Network::Kind::Parallel;
    const auto count = static_cast<double>(ohms.size());
    for (std::size_t i = 0; i < ohms.size(); ++i) {
        const auto n = static_cast<double>(i);
        const QRectF box = parallel ? QRectF(x - w / 2 + n * m_look.px(34), a, w, b - a)
                                    : QRectF(x - w / 2, a + n * (b - a) / count, w, (b - a) / count);
        if (parallel && i > 0) {
            painter.setPen(dashes);
            painter.drawLine(QPointF(x, a), QPointF(box.center().x(), a));
            painter.drawLine(QPointF(x, b), QPointF(box.center().x(), b));
        }
        paintResistor(painter, box, ohms[i], i < option.parts.size() ? option.parts[i].tolerance : tolerance,
                      m_look, true);
    }
    const QRectF label(x - m_look.px(60), b + m_look.px(6), width() - x + m_look.px(60), m_look.px(20));
    paintText(painter, label, qs(option.network.prettyText()), m_look.font(15, true), c.planned,
              Qt::AlignLeft | Qt::AlignVCenter);
}

void DividerDrawing::paintFaults(QPainter& painter, double y) const
{
    const Colours& c = m_look.colours();
    const Evaluation& e = m_session.evaluation();
    const double left = m_look.px(4);
    const double wide = width() - left;
    const auto line = [&](const QString& text, const QFont& font, const QColor& colour, double h) {
        paintText(painter, QRectF(left, y, wide, m_look.px(h)), text, font, colour);
        y += m_look.px(h);
    };
    if (!e.planned) {
        line(e.divider ? tr("Choose a part at the right.") : tr("Enter the divider in Found."), m_look.text(),
             c.softInk, 22);
        return;
    }
    const DividerOption& o = e.planned->option;
    const auto fault = [&](const QString& what, const FaultResult& f) {
        line(what, m_look.font(13), c.softInk, 18);
        const bool bad = f.outcome == Outcome::High || f.runaway;
        line(f.v ? u"%1 · %2"_s.arg(qs(formatVolts(*f.v)), outcomePhrase(f)) : tr("no regulation: runs away"),
             m_look.textBold(), bad ? c.breaks : c.fits, 24);
    };
    fault(tr("If the added joint opens"), o.if_open);
    fault(tr("If the added part shorts"), o.if_short);
    const Reference& r = e.divider->reference;
    const Legs& legs = *e.planned_legs;
    line(u"%1 = %2 × (1 + %3 / %4)"_s.arg(qs(formatVolts(dividerVoltage(r.v_ref_v, r.i_ref_a, legs))),
                                          qs(significant(r.v_ref_v, 4) + " V"), qs(formatOhms(legs.top_ohm)),
                                          qs(formatOhms(legs.bottom_ohm))),
         m_look.font(13), c.softInk, 18);
    line(u"   + %1 × %2"_s.arg(qs(formatValue(r.i_ref_a, Quantity::Current)), qs(formatOhms(legs.top_ohm))),
         m_look.font(13), c.softInk, 18);
    if (o.has_before)
        line(tr("with the before-reading: %1").arg(qs(formatVolts(o.v))), m_look.font(13), c.softInk, 20);
    line(tr("divider current %1, part at %2")
             .arg(qs(formatValue(o.divider_a, Quantity::Current)),
                  qs(formatValue(o.power_w_max, Quantity::Power, 2))),
         m_look.font(13), c.softInk, 18);
}

void DividerDrawing::paintEvent(QPaintEvent* /*event*/)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const Colours& c = m_look.colours();
    const Evaluation& e = m_session.evaluation();
    const double drawing = m_shows == Shows::PlanAndFaults
                               ? height() - m_look.px(178)
                               : height() - m_look.px(m_shows == Shows::Plan ? 24 : 10);
    const double y0 = m_look.px(26);
    constexpr double leastDrawing = 120;
    if (drawing < m_look.px(leastDrawing)) {
        // Too little room for parts that could be told apart: the words alone.
        if (m_shows == Shows::PlanAndFaults)
            paintFaults(painter, 0);
        return;
    }
    const double middle = y0 + (drawing - y0) * 0.5;
    const double y1 = drawing - m_look.px(14);
    const double x = m_look.px(spineX);
    const std::string rail = e.planned && m_shows != Shows::Found ? formatVolts(e.planned->option.v)
                             : e.found_v                          ? formatVolts(*e.found_v)
                                                                  : "?";
    paintText(painter, QRectF(0, 0, x * 2, m_look.px(20)), tr("%1 rail").arg(qs(rail)), m_look.font(14, true),
              c.ink, Qt::AlignCenter);
    painter.setPen(QPen(c.ink, 1.6));
    painter.drawLine(QPointF(x, m_look.px(20)), QPointF(x, y0));
    const double gap = m_look.px(7);
    paintLeg(painter, true, y0, middle - gap);
    paintLeg(painter, false, middle + gap, y1);
    painter.setPen(QPen(c.ink, 1.6));
    painter.drawLine(QPointF(x, middle - gap), QPointF(x, middle + gap));
    painter.drawLine(QPointF(m_look.px(40), middle), QPointF(x, middle));
    painter.setBrush(c.ink);
    painter.drawEllipse(QPointF(x, middle), 3, 3);
    painter.drawLine(QPointF(x - m_look.px(14), y1), QPointF(x + m_look.px(14), y1));
    const auto& reference = m_session.job().found.rails.front().feedback.reference;
    paintText(painter, QRectF(0, middle - m_look.px(22), m_look.px(86), m_look.px(18)), tr("reference"),
              m_look.font(13), c.softInk);
    paintText(painter, QRectF(0, middle + m_look.px(4), m_look.px(80), m_look.px(18)),
              reference ? qs(significant(reference->v_ref_v, 4)) + u" V"_s : tr("unknown"),
              m_look.font(14, true), c.found);
    if (m_shows != Shows::Found && e.planned) {
        const bool top = joinsTop(e.planned->option.method);
        paintAdded(painter, e.planned->option, top ? y0 : middle + gap, top ? middle - gap : y1);
    }
    if (m_shows == Shows::PlanAndFaults)
        paintFaults(painter, drawing + m_look.px(8));
}

} // namespace offshoot::ui
