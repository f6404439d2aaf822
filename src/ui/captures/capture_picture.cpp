#include "ui/captures/capture_picture.h"

#include "core/calculate/capture_outline.h"
#include "core/values/format.h"
#include "ui/paint/curves.h"
#include "ui/paint/marks.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QWheelEvent>
#include <algorithm>
#include <cmath>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

/// Before is found, after is measured: their colours everywhere.
struct Side
{
    const CaptureStudy* study;
    const std::vector<NamedLine>* lines;
    QColor colour;
    QString name;
    std::size_t at; ///< 0 before, 1 after
};

/// Whether it is still the same two captures.
std::array<std::string, 2> idsOf(const std::optional<ComparedCaptures>& compared)
{
    std::array<std::string, 2> ids;
    const auto name = [](const std::optional<CaptureSeen>& seen) {
        return seen ? seen->entry.id + ' ' + seen->entry.capture->file : std::string();
    };
    if (compared)
        ids = {name(compared->before), name(compared->after)};
    return ids;
}

std::vector<Side> sidesOf(const std::optional<ComparedCaptures>& compared, const Look& look)
{
    std::vector<Side> sides;
    const auto add = [&](const std::optional<CaptureSeen>& seen, const QColor& colour, std::size_t at) {
        if (seen)
            sides.push_back({&seen->entry.capture->study, &seen->lines, colour, qs(seen->title), at});
    };
    if (compared) {
        add(compared->before, look.colours().found, 0);
        add(compared->after, look.colours().measured, 1);
    }
    return sides;
}

void paintKeys(QPainter& painter, const std::vector<Side>& sides, double right, double top, const Look& look)
{
    for (auto side = sides.rbegin(); side != sides.rend(); ++side) {
        const double wide = textWidth(side->name, look.caption()) + look.px(26);
        right -= wide;
        painter.fillRect(QRectF(right, top + look.px(6), look.px(14), look.px(7)), side->colour);
        paintText(painter, QRectF(right + look.px(18), top, wide, look.px(18)), side->name, look.caption(),
                  side->colour);
    }
}

} // namespace

/// What the axis of values holds, and where the limit stands on it.
struct TraceScale
{
    bool surge;
    AxisRange value{1e300, -1e300};
    bool milli = false; ///< small volts are read in millivolts
    double factor = 1;
    std::optional<double> most = {}; ///< the limit, from the middle; nothing where it lies outside
};

namespace {

TraceScale scaleOf(const ComparedCaptures& compared, const std::vector<Side>& sides,
                   const SurgeCurve& simulated)
{
    TraceScale scale{.surge = compared.point == CapturePoint::Surge};
    for (const Side& side : sides) {
        const double middle = captureMiddle(*side.study);
        scale.value.include(std::ranges::max(side.study->outline.high) - middle);
        scale.value.include(std::ranges::min(side.study->outline.low) - middle);
    }
    if (compared.limit)
        if (const double most = scale.surge ? *compared.limit : *compared.limit / 2;
            most < 3 * scale.value.high) {
            scale.most = most;
            scale.value.include(most);
            if (!scale.surge)
                scale.value.include(-most);
        }
    if (scale.surge)
        for (const double a : simulated.i_a)
            scale.value.include(a);
    scale.value.widen(0.06, 1e-9);
    constexpr double small = 0.5;
    scale.milli = std::max(scale.value.high, -scale.value.low) < small;
    scale.factor = scale.milli ? 1e3 : 1;
    return scale;
}

void paintLimit(QPainter& painter, const Axes& axes, const AxisRange& time, const TraceScale& scale,
                const Colours& c)
{
    const double most = *scale.most * scale.factor;
    const QRectF band = scale.surge ? QRectF(axes.box().topLeft(), axes.at(time.high, most))
                                    : QRectF(axes.at(time.low, most), axes.at(time.high, -most));
    QColor ground = scale.surge ? c.breaks : c.fits;
    ground.setAlphaF(0.10F);
    painter.fillRect(band, ground);
    painter.setPen(QPen(scale.surge ? c.breaks : c.fits, 1.2, Qt::DashLine));
    painter.drawLine(axes.at(time.low, most), axes.at(time.high, most));
    if (!scale.surge)
        painter.drawLine(axes.at(time.low, -most), axes.at(time.high, -most));
}

void paintTrace(QPainter& painter, const Axes& axes, const Side& side, const CaptureOutline& o, double factor)
{
    const double begin_s = o.from_s - side.study->outline.from_s - captureZero(*side.study);
    const double middle = captureMiddle(*side.study);
    const auto at = [&](std::size_t i, double v) {
        return axes.at(1e3 * (begin_s + (static_cast<double>(i) + 0.5) * o.step_s), (v - middle) * factor);
    };
    QPolygonF area;
    for (std::size_t i = 0; i < o.high.size(); ++i)
        area << at(i, o.high[i]);
    for (std::size_t i = o.low.size(); i-- > 0;)
        area << at(i, o.low[i]);
    QColor fill = side.colour;
    fill.setAlphaF(0.45F);
    painter.setPen(QPen(side.colour, 1));
    painter.setBrush(fill);
    painter.drawPolygon(area);
}

void paintSimulated(QPainter& painter, const Axes& axes, const SurgeCurve& surge, double factor,
                    const QColor& colour)
{
    const auto top = std::ranges::max_element(surge.i_a) - surge.i_a.begin();
    const double peak_s = surge.t_s[static_cast<std::size_t>(top)];
    QPolygonF line;
    for (std::size_t i = 0; i < surge.t_s.size(); ++i)
        line << axes.at(1e3 * (surge.t_s[i] - peak_s), surge.i_a[i] * factor);
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(colour, 1.8));
    painter.drawPolyline(line);
}

} // namespace

TracePicture::TracePicture(const Look& look, QWidget* parent)
    : QWidget(parent)
    , m_look(look)
{
    setAccessibleName(tr("What the oscilloscope saw, over time"));
    sizedWith(*this, look, [this, &look] { setMinimumSize(look.px(280), look.px(130)); });
    setFocusPolicy(Qt::StrongFocus);
    setToolTip(tr("A turn of the wheel, + or − looks closer; pull it, or ← →; Home shows all of it."));
}

void TracePicture::setSamples(Samples samples)
{
    m_samples = std::move(samples);
    update();
}

AxisRange TracePicture::allMs() const
{
    AxisRange time{1e300, -1e300};
    for (const Side& side : sidesOf(m_compared, m_look)) {
        const double zero = captureZero(*side.study);
        time.include(-1e3 * zero);
        time.include(1e3 * (side.study->saw.duration_s - zero));
    }
    return time;
}

QRectF TracePicture::axesBox() const
{
    return QRectF(rect()).adjusted(m_look.px(60), m_look.px(26), -m_look.px(12), -m_look.px(44));
}

void TracePicture::look(double closer, double at_ms)
{
    const auto sides = sidesOf(m_compared, m_look);
    if (sides.empty())
        return;
    const AxisRange all = allMs();
    const AxisRange now = m_time_ms.value_or(all);
    constexpr double samples = 8; // on the screen at least
    double least_ms = all.high - all.low;
    for (const Side& side : sides)
        least_ms = std::min(least_ms, samples * 1e3 * side.study->saw.dt_s);
    const double wide_ms = std::max((now.high - now.low) / closer, least_ms);
    m_time_ms.reset();
    if (wide_ms < all.high - all.low) {
        const double share = std::clamp((at_ms - now.low) / (now.high - now.low), 0.0, 1.0);
        m_time_ms = AxisRange{at_ms - share * wide_ms, at_ms + (1 - share) * wide_ms};
        move(0);
        if (!m_asked)
            Q_EMIT samplesWanted();
        m_asked = true;
    }
    update();
}

/// Never out of what was captured.
void TracePicture::move(double by_ms)
{
    if (!m_time_ms)
        return;
    const AxisRange all = allMs();
    by_ms = std::clamp(by_ms, all.low - m_time_ms->low, all.high - m_time_ms->high);
    m_time_ms = AxisRange{m_time_ms->low + by_ms, m_time_ms->high + by_ms};
    update();
}

void TracePicture::wheelEvent(QWheelEvent* event)
{
    constexpr double notch = 120;
    constexpr double each = 1.4;
    const AxisRange now = m_time_ms.value_or(allMs());
    const Axes axes(axesBox(), now, {0, 1});
    look(std::pow(each, event->angleDelta().y() / notch), axes.valueAtX(event->position().x()));
    event->accept();
}

void TracePicture::mousePressEvent(QMouseEvent* event) { m_pulled_from = event->position().x(); }

void TracePicture::mouseMoveEvent(QMouseEvent* event)
{
    if (!m_time_ms || !(event->buttons() & Qt::LeftButton))
        return;
    const double ms_per_px = (m_time_ms->high - m_time_ms->low) / axesBox().width();
    move((m_pulled_from - event->position().x()) * ms_per_px);
    m_pulled_from = event->position().x();
}

void TracePicture::mouseDoubleClickEvent(QMouseEvent* /*event*/)
{
    m_time_ms.reset();
    update();
}

void TracePicture::keyPressEvent(QKeyEvent* event)
{
    constexpr double closer = 2;
    constexpr double step = 0.25;
    const AxisRange now = m_time_ms.value_or(allMs());
    const double middle = (now.low + now.high) / 2;
    const double wide = now.high - now.low;
    switch (event->key()) {
    case Qt::Key_Plus:
    case Qt::Key_Equal:
        return look(closer, middle);
    case Qt::Key_Minus:
        return look(1 / closer, middle);
    case Qt::Key_Left:
        return move(-step * wide);
    case Qt::Key_Right:
        return move(step * wide);
    case Qt::Key_Home:
        m_time_ms.reset();
        return update();
    default:
        QWidget::keyPressEvent(event);
    }
}

void TracePicture::show(const std::optional<ComparedCaptures>& compared, const SurgeCurve& simulated)
{
    if (idsOf(compared) != idsOf(m_compared)) {
        m_time_ms.reset();
        m_samples = {};
        m_asked = false;
    }
    m_compared = compared;
    m_simulated = simulated;
    setAccessibleDescription(compared ? qs(compared->sentence) : QString());
    update();
}

CaptureOutline TracePicture::outlineShown(const CaptureStudy& study, std::size_t at) const
{
    if (!m_time_ms || !m_samples[at])
        return study.outline;
    const double zero = captureZero(study);
    return outlineOf(*m_samples[at], m_time_ms->low / 1e3 + zero, m_time_ms->high / 1e3 + zero,
                     static_cast<std::size_t>(std::max(1.0, axesBox().width())));
}

void TracePicture::paintEvent(QPaintEvent* /*event*/)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const auto sides = sidesOf(m_compared, m_look);
    if (sides.empty())
        return paintSentence(
            painter, rect(),
            tr("Drop the oscilloscope's file onto the window: before and after stand here on one axis."),
            m_look);
    const AxisRange time = m_time_ms.value_or(allMs());
    const TraceScale scale = scaleOf(*m_compared, sides, m_simulated);
    const Axes axes(axesBox(), time, {scale.value.low * scale.factor, scale.value.high * scale.factor});
    if (scale.most)
        paintLimit(painter, axes, time, scale, m_look.colours());
    painter.save();
    painter.setClipRect(axes.box());
    for (const Side& side : sides)
        paintTrace(painter, axes, side, outlineShown(*side.study, side.at), scale.factor);
    const bool simulated = scale.surge && !m_simulated.t_s.empty();
    if (simulated)
        paintSimulated(painter, axes, m_simulated, scale.factor, m_look.colours().planned);
    painter.restore();
    const QString unit = scale.surge ? (scale.milli ? tr("current, mA") : tr("current, A"))
                                     : (scale.milli ? tr("about its middle, mV") : tr("about its middle, V"));
    axes.paint(painter, m_look, scale.surge ? tr("from its peak, ms") : tr("from its beginning, ms"), unit);
    paintKeys(painter, sides, width() - m_look.px(12), m_look.px(2), m_look);
    if (simulated)
        paintText(
            painter,
            QRectF(axes.box().left() + axes.box().width() * 0.3, m_look.px(2), m_look.px(200), m_look.px(18)),
            tr("— simulated at the crest"), m_look.caption(), m_look.colours().planned);
    if (m_compared->limit)
        paintLimitWords(painter, axes, scale);
}

void TracePicture::paintLimitWords(QPainter& painter, const Axes& axes, const TraceScale& scale) const
{
    const Colours& c = m_look.colours();
    const QString limit = qs(captureValue(*m_compared->limit, m_compared->point));
    if (!scale.most) {
        paintText(
            painter,
            QRectF(axes.box().left(), height() - m_look.px(20), axes.box().width() * 0.62, m_look.px(18)),
            tr("the limit, %1, lies outside").arg(limit), m_look.caption(), c.softInk);
        return;
    }
    paintText(painter,
              QRectF(axes.box().right() - m_look.px(260), axes.y(*scale.most * scale.factor) + 1,
                     m_look.px(256), m_look.px(16)),
              scale.surge ? tr("breaker trips at %1").arg(limit) : tr("limit %1 peak to peak").arg(limit),
              m_look.caption(), scale.surge ? c.breaks : c.fits, Qt::AlignRight | Qt::AlignVCenter);
}

namespace {

/// Whether the steps of an outline come into the box.
bool passes(const QPolygonF& outline, const QRectF& box)
{
    for (qsizetype i = 1; i < outline.size(); ++i) {
        const QRectF step = QRectF(outline[i - 1], outline[i]).normalized();
        if (step.right() > box.left() && step.left() < box.right() && step.bottom() > box.top() &&
            step.top() < box.bottom())
            return true;
    }
    return false;
}

/// The largest lines are named where their names lie over no other and over no outline: all that is said of
/// the line, else its frequency alone.
void paintNames(QPainter& painter, const Axes& axes, const Side& side, const std::vector<QPolygonF>& outlines,
                const Look& look)
{
    const QRectF& box = axes.box();
    std::vector<QRectF> taken;
    constexpr std::size_t names = 5;
    for (std::size_t i = 0; i < std::min(names, side.lines->size()); ++i) {
        const NamedLine& line = (*side.lines)[i];
        const QString all = qs(lineWords(line, *side.study));
        const QPointF at = axes.at(std::log10(line.line.f_hz), std::log10(line.line.amplitude));
        const auto place = [&](const QString& text, bool right) {
            const QSizeF size(textWidth(text, look.caption()) + look.px(4), look.px(16));
            const double x = right ? at.x() + look.px(4) : at.x() - look.px(4) - size.width();
            return QRectF(QPointF(x, std::max(at.y() - look.px(17), box.top())), size);
        };
        const auto free = [&](const QRectF& label) {
            return label.left() >= box.left() && label.right() <= box.right() &&
                   std::ranges::none_of(taken,
                                        [&](const QRectF& other) { return other.intersects(label); }) &&
                   std::ranges::none_of(outlines, [&](const QPolygonF& o) { return passes(o, label); });
        };
        for (const QString& text : {all, all.section(u" ("_s, 0, 0)}) {
            const QRectF right = place(text, true);
            const QRectF left = place(text, false);
            if (!free(right) && !free(left))
                continue;
            taken.push_back(free(right) ? right : left);
            painter.setPen(Qt::NoPen);
            painter.setBrush(side.colour);
            painter.drawEllipse(at, look.px(3), look.px(3));
            paintText(painter, taken.back(), text, look.caption(), look.colours().ink);
            break;
        }
    }
}

} // namespace

SpectrumPicture::SpectrumPicture(const Look& look, QWidget* parent)
    : QWidget(parent)
    , m_look(look)
{
    setAccessibleName(tr("What it is made of, over frequency"));
    sizedWith(*this, look, [this, &look] { setMinimumSize(look.px(280), look.px(110)); });
}

void SpectrumPicture::show(const std::optional<ComparedCaptures>& compared)
{
    m_compared = compared;
    QStringList said;
    for (const Side& side : sidesOf(m_compared, m_look))
        for (const NamedLine& line : *side.lines)
            said << side.name + u": "_s + qs(lineWords(line, *side.study));
    setAccessibleDescription(said.join(u", "_s));
    update();
}

void SpectrumPicture::paintEvent(QPaintEvent* /*event*/)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const auto sides = sidesOf(m_compared, m_look);
    if (sides.empty())
        return;
    const Colours& c = m_look.colours();
    const CapturePoint point = m_compared->point;
    double lowHz = 1e300;
    double highHz = 0;
    double most = 0;
    for (const Side& side : sides) {
        const SpectrumOutline& s = side.study->spectrum;
        lowHz = std::min(lowHz, s.from_hz);
        highHz = std::max(highHz, s.from_hz * std::pow(s.ratio, static_cast<double>(s.amplitude.size())));
        most = std::max(most, std::ranges::max(s.amplitude));
    }
    if (most <= 0)
        return paintSentence(painter, rect(), tr("A flat line: no ripple to take apart."), m_look);
    constexpr double decades = 3;
    const double top = std::log10(most) + 0.45; // room for the names
    const QRectF box = QRectF(rect()).adjusted(m_look.px(60), m_look.px(22), -m_look.px(12), -m_look.px(34));
    const Axes axes(box, {std::log10(lowHz), std::log10(highHz)}, {top - decades - 0.45, top});
    painter.setPen(QPen(c.ink, 1.2));
    painter.drawLine(box.bottomLeft(), box.bottomRight());
    painter.drawLine(box.bottomLeft(), box.topLeft());
    for (double decade = std::ceil(std::log10(lowHz)); decade <= std::log10(highHz); ++decade) {
        const double x = axes.x(decade);
        painter.setPen(QPen(c.hairline, 1));
        painter.drawLine(QPointF(x, box.top()), QPointF(x, box.bottom()));
        paintText(painter,
                  QRectF(x - m_look.px(40), box.bottom() + m_look.px(2), m_look.px(80), m_look.px(16)),
                  qs(formatValue(std::pow(10, decade), Quantity::Frequency, 2)), m_look.caption(), c.softInk,
                  Qt::AlignCenter);
    }
    for (double decade = std::ceil(top - decades - 0.45); decade <= top; ++decade) {
        const double y = axes.y(decade);
        painter.setPen(QPen(c.hairline, 1));
        painter.drawLine(QPointF(box.left(), y), QPointF(box.right(), y));
        paintText(painter, QRectF(0, y - m_look.px(8), box.left() - m_look.px(6), m_look.px(16)),
                  qs(captureValue(std::pow(10, decade), point)), m_look.caption(), c.softInk,
                  Qt::AlignRight | Qt::AlignVCenter);
    }
    std::vector<QPolygonF> outlines;
    painter.save();
    painter.setClipRect(box);
    for (const Side& side : sides) {
        const SpectrumOutline& s = side.study->spectrum;
        QPolygonF line;
        for (std::size_t i = 0; i < s.amplitude.size(); ++i) {
            const double y = std::log10(std::max(s.amplitude[i], most * 1e-6));
            line << axes.at(std::log10(s.from_hz) + static_cast<double>(i) * std::log10(s.ratio), y)
                 << axes.at(std::log10(s.from_hz) + static_cast<double>(i + 1) * std::log10(s.ratio), y);
        }
        painter.setPen(QPen(side.colour, 1.5));
        painter.drawPolyline(line);
        outlines.push_back(std::move(line));
    }
    painter.restore();
    paintNames(painter, axes, sides.back(), outlines, m_look);
    paintText(painter, QRectF(box.left() - m_look.px(56), 0, m_look.px(300), m_look.px(18)),
              tr("what it is made of, amplitude"), m_look.caption(), c.ink);
}

} // namespace offshoot::ui
