#include "ui/rectifier/chain_pictures.h"

#include "core/values/format.h"
#include "ui/frame/consequences_panel.h"
#include "ui/paint/curves.h"
#include "ui/paint/figures.h"
#include "ui/paint/marks.h"

#include <QPainter>
#include <algorithm>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

const QStringList& rectifierNames()
{
    static const QStringList names{WavePicture::tr("half wave"), WavePicture::tr("full wave, centre tap"),
                                   WavePicture::tr("bridge"), WavePicture::tr("doubler")};
    return names;
}

// ---- waveforms

WavePicture::WavePicture(Look& look, QWidget* parent)
    : QWidget(parent)
    , m_look(look)
{
    setObjectName(u"chainWaves"_s);
    sizedWith(*this, look, [this, &look] { setMinimumSize(look.px(240), look.px(190)); });
}

std::optional<WavePicture::Traced> WavePicture::traced(const SteadyResult* result, const std::string& part)
{
    if (result == nullptr || !result->waveforms)
        return std::nullopt;
    const auto trace = std::ranges::find(result->traces, part, &SimTrace::part);
    if (trace == result->traces.end())
        return std::nullopt;
    Traced made{result->waveforms->t_s, *trace};
    constexpr double milli = 1e3;
    for (double& t : made.t_ms)
        t *= milli;
    return made;
}

void WavePicture::show(const SteadyResult* result, const SteadyResult* before, const std::string& part,
                       const QString& title)
{
    m_planned = traced(result, part);
    m_found = traced(before, part);
    m_title = title;
    setAccessibleName(tr("Volts and amperes at %1 over one cycle").arg(title));
    update();
}

void WavePicture::paintEvent(QPaintEvent* /*event*/)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const Colours& c = m_look.colours();
    if (!m_planned)
        return paintSentence(painter, rect(), tr("Nothing simulated here yet."), m_look);
    std::vector<Curve> voltsOf;
    std::vector<Curve> ampsOf;
    const auto add = [&](const Traced& traced, const QColor& colour, double wide, Qt::PenStyle style,
                         const QString& name) {
        voltsOf.push_back({traced.t_ms, traced.trace.v_v, colour, wide, style, name});
        ampsOf.push_back({traced.t_ms, traced.trace.i_a, colour, wide, style, {}});
    };
    if (m_found)
        add(*m_found, c.found, 1.4, Qt::DashLine, tr("found"));
    add(*m_planned, c.planned, 2.2, Qt::SolidLine, m_found ? tr("planned") : QString());
    const double end = m_planned->t_ms.back();
    const double left = m_look.px(64);
    const double panel = (height() - m_look.px(118)) / 2.0;
    const Axes upper(QRectF(left, m_look.px(28), width() - left - m_look.px(12), panel), {0, end},
                     yRange(voltsOf, false));
    const Axes lower(
        QRectF(left, m_look.px(28) + panel + m_look.px(46), width() - left - m_look.px(12), panel), {0, end},
        yRange(ampsOf));
    paintCurves(painter, upper, voltsOf, m_look);
    paintCurves(painter, lower, ampsOf, m_look);
    upper.paint(painter, m_look, {}, tr("%1, V").arg(m_title));
    lower.paint(painter, m_look, tr("one cycle, ms"), tr("%1, A").arg(m_title));
}

// ---- limits as bars

LimitBars::LimitBars(Look& look, QWidget* parent)
    : QWidget(parent)
    , m_look(look)
{
    setAccessibleName(tr("What rectifier and capacitors use of their limits"));
}

void LimitBars::show(std::vector<ConsequenceRow> rows)
{
    m_rows = std::move(rows);
    QStringList words;
    for (const ConsequenceRow& row : m_rows)
        words << u"%1, %2: %3, %4"_s.arg(qs(row.part), qs(row.quantity), figureOf(row),
                                         verdictWord(row.verdict));
    setAccessibleDescription(words.join(u"; "_s));
    setFixedHeight(sizeHint().height());
    update();
}

QSize LimitBars::sizeHint() const
{
    return {m_look.px(240), static_cast<int>(m_look.px(36) * static_cast<double>(m_rows.size()))};
}

void LimitBars::paintEvent(QPaintEvent* /*event*/)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const Colours& c = m_look.colours();
    double y = 0;
    for (const ConsequenceRow& row : m_rows) {
        const double left = m_look.px(20);
        const double wide = width() - left - m_look.px(4);
        paintVerdict(painter, row.verdict, {double(m_look.px(8)), y + m_look.px(11)}, m_look.px(11), c);
        const QString figure = figureOf(row);
        const double figureWide = textWidth(figure, m_look.caption()) + 4;
        paintText(painter, QRectF(left + wide - figureWide, y, figureWide, m_look.px(20)), figure,
                  m_look.caption(), c.softInk, Qt::AlignRight | Qt::AlignVCenter);
        paintText(painter, QRectF(left, y, wide - figureWide - 6, m_look.px(20)),
                  u"%1, %2"_s.arg(qs(row.part), qs(row.quantity)), m_look.font(13, true), c.ink);
        paintUse(painter, QRectF(left, y + m_look.px(23), wide, m_look.px(6)), row.use, row.fits_to,
                 row.verdict, c);
        y += m_look.px(36);
    }
}

} // namespace offshoot::ui
