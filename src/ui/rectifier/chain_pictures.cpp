#include "ui/rectifier/chain_pictures.h"

#include "core/values/format.h"
#include "ui/frame/consequences_panel.h"
#include "ui/paint/curves.h"
#include "ui/paint/figures.h"
#include "ui/paint/marks.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <algorithm>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

const QStringList& rectifierNames()
{
    static const QStringList names{ChainStrip::tr("half wave"), ChainStrip::tr("full wave, centre tap"),
                                   ChainStrip::tr("bridge"), ChainStrip::tr("doubler")};
    return names;
}

ChainStrip::ChainStrip(Look& look, QWidget* parent)
    : QWidget(parent)
    , m_look(look)
{
    setObjectName(u"chainStrip"_s);
    setAccessibleName(tr("Rectifier chain, part by part"));
    setFocusPolicy(Qt::StrongFocus);
    setFixedHeight(look.px(112));
    setCursor(Qt::PointingHandCursor);
}

void ChainStrip::show(const RectifierChain* chain, int chosen)
{
    m_chain = chain != nullptr ? std::optional(*chain) : std::nullopt;
    m_wiring = m_chain ? chainConnections(*m_chain, std::nullopt, "load") : Connections{};
    m_chosen = std::clamp(chosen, 0, std::max(0, count() - 1));
    setAccessibleDescription(m_chain ? name(m_chosen) + u' ' + value(m_chosen) : QString());
    update();
}

int ChainStrip::count() const { return m_chain ? static_cast<int>(m_chain->filter.size()) + 3 : 0; }

QRectF ChainStrip::box(int part) const
{
    const double each = std::min<double>(m_look.px(104), width() / static_cast<double>(std::max(1, count())));
    return {each * part, 0, each, double(height())};
}

QString ChainStrip::name(int part) const
{
    if (part == 0)
        return tr("secondary");
    if (part == 1)
        return rectifierNames().at(static_cast<int>(m_chain->rectifier.kind)).section(u',', 0, 0);
    if (part == count() - 1)
        return tr("load");
    const auto tap = std::ranges::find(m_chain->tap_loads, part - firstSection, &TapLoad::section);
    if (tap != m_chain->tap_loads.end())
        return tap->load.current_a ? tr("tap %1").arg(amps(*tap->load.current_a)) : tr("tap");
    switch (m_chain->filter[static_cast<std::size_t>(part - firstSection)].kind) {
    case SmoothingKind::C:
        return tr("capacitor");
    case SmoothingKind::L:
        return tr("choke");
    case SmoothingKind::R:
        return tr("resistor");
    }
    return {};
}

QString ChainStrip::value(int part) const
{
    if (part == 0)
        return volts(m_chain->source.v_rms_v);
    if (part == 1)
        return m_chain->rectifier.diode.model == DiodeModel::Valve ? tr("valve") : tr("diodes");
    if (part == count() - 1) {
        const SimLoad& load = m_chain->load;
        return load.resistance_ohm ? qs(formatOhms(*load.resistance_ohm))
               : load.current_a    ? amps(*load.current_a)
                                   : qs(formatValue(*load.power_w, Quantity::Power));
    }
    const SmoothingSection& s = m_chain->filter[static_cast<std::size_t>(part - firstSection)];
    return s.kind == SmoothingKind::C   ? qs(formatValue(s.c_f, Quantity::Capacitance))
           : s.kind == SmoothingKind::L ? qs(formatValue(s.l_h, Quantity::Inductance))
                                        : qs(formatOhms(s.r_ohm));
}

/// Between two nodes, not to the return: by the computed connections.
bool ChainStrip::inSeries(int part) const
{
    const std::string name = chainPartName(*m_chain, std::to_string(part - firstSection));
    const auto at = std::ranges::find(m_wiring.parts, name, &ConnectedPart::name);
    return at != m_wiring.parts.end() && at->to != m_wiring.bottom;
}

void ChainStrip::paintPart(QPainter& painter, int part) const
{
    const Colours& c = m_look.colours();
    const QRectF at = box(part);
    const double line = m_look.px(40);
    const double ground = m_look.px(74);
    const double x = at.center().x();
    const bool last = part == count() - 1;
    if (part == m_chosen) {
        painter.setPen(QPen(c.planned, hasFocus() ? 2.2 : 1.4));
        painter.setBrush(c.selection);
        painter.drawRoundedRect(at.adjusted(2, 1, -2, -1), 4, 4);
    }
    painter.setPen(QPen(c.ink, 1.8));
    painter.setBrush(Qt::NoBrush);
    const bool series = part >= firstSection && !last && inSeries(part);
    if (!series)
        painter.drawLine(QPointF(part == 0 ? x : at.left(), line), QPointF(last ? x : at.right(), line));
    painter.drawLine(QPointF(part == 0 ? x : at.left(), ground), QPointF(last ? x : at.right(), ground));
    if (part == 0)
        paintSource(painter, QPointF(x, line), QPointF(x, ground));
    else if (part == 1)
        paintRectifier(painter, QPointF(x, line), QPointF(x, ground));
    else if (last)
        paintLoad(painter, QPointF(x, line), QPointF(x, ground));
    else if (series)
        paintInSeries(painter, QPointF(at.left(), line), QPointF(at.right(), line),
                      m_chain->filter[static_cast<std::size_t>(part - firstSection)].kind);
    else
        paintCapacitor(painter, QPointF(x, line), QPointF(x, ground));
    paintText(painter, QRectF(at.left() + 4, m_look.px(4), at.width() - 8, m_look.px(18)), name(part),
              m_look.caption(), c.softInk, Qt::AlignCenter);
    paintText(painter, QRectF(at.left() + 4, m_look.px(84), at.width() - 8, m_look.px(20)), value(part),
              m_look.font(14, true), c.planned, Qt::AlignCenter);
}

void ChainStrip::paintSource(QPainter& painter, QPointF upper, QPointF lower) const
{
    const double r = m_look.px(15);
    const QPointF middle = (upper + lower) / 2;
    painter.setBrush(m_look.colours().sheet);
    painter.drawLine(upper, lower);
    painter.drawEllipse(middle, r, r);
    QPainterPath wave(middle - QPointF(r * 0.6, 0));
    wave.cubicTo(middle + QPointF(-r * 0.3, -r), middle + QPointF(r * 0.3, r), middle + QPointF(r * 0.6, 0));
    painter.drawPath(wave);
}

/// A block: which diode stands where is drawn under Wiring.
void ChainStrip::paintRectifier(QPainter& painter, QPointF upper, QPointF lower) const
{
    const double s = m_look.px(9);
    const QPointF half(m_look.px(22), m_look.px(8));
    const QPointF middle = (upper + lower) / 2;
    painter.setBrush(m_look.colours().sheet);
    painter.drawRoundedRect(QRectF(upper - half, lower + half), 4, 4);
    painter.setBrush(m_look.colours().ink);
    painter.drawPolygon(
        QPolygonF{{middle + QPointF(-s, -s), middle + QPointF(-s, s), middle + QPointF(s, 0)}});
    painter.drawLine(middle + QPointF(s, -s), middle + QPointF(s, s));
}

void ChainStrip::paintLoad(QPainter& painter, QPointF upper, QPointF lower) const
{
    const QPointF half(m_look.px(8), -m_look.px(7));
    painter.drawLine(upper, lower);
    painter.setBrush(m_look.colours().ribbon);
    painter.drawRect(QRectF(upper - half, lower + half));
}

void ChainStrip::paintCapacitor(QPainter& painter, QPointF upper, QPointF lower) const
{
    const QPointF gap(0, 4);
    const QPointF half(m_look.px(12), 0);
    const QPointF middle = (upper + lower) / 2;
    painter.drawLine(upper, middle - gap);
    painter.drawLine(middle + gap, lower);
    painter.setPen(QPen(m_look.colours().ink, 3));
    painter.drawLine(middle - gap - half, middle - gap + half);
    painter.drawLine(middle + gap - half, middle + gap + half);
}

void ChainStrip::paintInSeries(QPainter& painter, QPointF left, QPointF right, SmoothingKind kind) const
{
    const double half = m_look.px(22);
    const double line = left.y();
    const double x = (left.x() + right.x()) / 2;
    painter.drawLine(left, QPointF(x - half, line));
    painter.drawLine(QPointF(x + half, line), right);
    if (kind != SmoothingKind::L) {
        painter.setBrush(m_look.colours().sheet);
        painter.drawRect(QRectF(x - half, line - m_look.px(7), 2 * half, m_look.px(14)));
        return;
    }
    QPainterPath path(QPointF(x - half, line));
    for (int i = 0; i < 4; ++i) {
        const double from = x - half + half / 2 * i;
        path.cubicTo(QPointF(from, line - m_look.px(16)), QPointF(from + half / 2, line - m_look.px(16)),
                     QPointF(from + half / 2, line));
    }
    painter.drawPath(path);
}

void ChainStrip::paintEvent(QPaintEvent* /*event*/)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    if (!m_chain)
        return paintSentence(painter, rect(),
                             tr("Start a chain below: then every part stands here to be edited."), m_look);
    for (int part = 0; part < count(); ++part)
        paintPart(painter, part);
}

void ChainStrip::mousePressEvent(QMouseEvent* event)
{
    for (int part = 0; part < count(); ++part)
        if (box(part).contains(event->position()))
            Q_EMIT chose(part);
}

void ChainStrip::keyPressEvent(QKeyEvent* event)
{
    if (event->key() == Qt::Key_Right && m_chosen + 1 < count())
        Q_EMIT chose(m_chosen + 1);
    else if (event->key() == Qt::Key_Left && m_chosen > 0)
        Q_EMIT chose(m_chosen - 1);
    else if (event->key() == Qt::Key_Home)
        Q_EMIT chose(0);
    else if (event->key() == Qt::Key_End)
        Q_EMIT chose(count() - 1);
    else
        QWidget::keyPressEvent(event);
}

// ---- waveforms

WavePicture::WavePicture(Look& look, QWidget* parent)
    : QWidget(parent)
    , m_look(look)
{
    setAccessibleName(tr("Load voltage and source current over one cycle"));
    setMinimumSize(look.px(280), look.px(190));
}

void WavePicture::show(const std::optional<SteadyResult>& result, const std::optional<SteadyResult>& before,
                       bool running, double share)
{
    m_result = result;
    m_before = before;
    m_running = running;
    m_share = share;
    update();
}

void WavePicture::paintEvent(QPaintEvent* /*event*/)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const Colours& c = m_look.colours();
    if (!m_result || !m_result->waveforms)
        return paintSentence(painter, rect(), m_running ? tr("Simulating…") : tr("No waveform."), m_look);
    const auto milli = [](const std::vector<double>& t) {
        std::vector<double> scaled(t);
        for (double& s : scaled)
            s *= 1e3;
        return scaled;
    };
    const SimWaveforms& w = *m_result->waveforms;
    std::vector<Curve> voltsOf;
    std::vector<Curve> ampsOf;
    if (m_before && m_before->waveforms) {
        voltsOf.push_back({milli(m_before->waveforms->t_s), m_before->waveforms->v_load_v, c.found, 1.4,
                           Qt::DashLine, tr("found")});
        ampsOf.push_back({milli(m_before->waveforms->t_s),
                          m_before->waveforms->i_source_a,
                          c.found,
                          1.4,
                          Qt::DashLine,
                          {}});
    }
    voltsOf.push_back(
        {milli(w.t_s), w.v_load_v, c.planned, 2.2, Qt::SolidLine, m_before ? tr("planned") : QString()});
    ampsOf.push_back({milli(w.t_s), w.i_source_a, c.planned, 2, Qt::SolidLine, {}});
    const double end = 1e3 * w.t_s.back();
    const double left = m_look.px(64);
    const double panel = (height() - m_look.px(118)) / 2.0;
    const Axes upper(QRectF(left, m_look.px(28), width() - left - m_look.px(12), panel), {0, end},
                     yRange(voltsOf, false));
    const Axes lower(
        QRectF(left, m_look.px(28) + panel + m_look.px(46), width() - left - m_look.px(12), panel), {0, end},
        yRange(ampsOf));
    paintCurves(painter, upper, voltsOf, m_look);
    paintCurves(painter, lower, ampsOf, m_look);
    upper.paint(painter, m_look, {}, tr("load, V"));
    lower.paint(painter, m_look, tr("one cycle, ms"), tr("from the secondary, A"));
    if (m_running) {
        painter.setPen(Qt::NoPen);
        painter.setBrush(c.planned);
        painter.drawRect(QRectF(0, height() - 3, width() * m_share, 3));
    }
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
        const double figureWide = QFontMetricsF(m_look.caption()).horizontalAdvance(figure) + 4;
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
