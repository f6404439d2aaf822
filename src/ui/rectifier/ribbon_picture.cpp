#include "ui/rectifier/ribbon_picture.h"

#include "core/values/format.h"
#include "ui/frame/consequences_panel.h"
#include "ui/paint/figures.h"
#include "ui/paint/marks.h"
#include "ui/paint/sketch.h"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QMenu>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QToolTip>
#include <algorithm>
#include <cmath>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

constexpr double axisWide = 54;
constexpr double topHigh = 40; ///< for the line that says how it is read, and the places' figures
constexpr double thingHigh = 48;
constexpr double wordsHigh = 74;   ///< name, value, and two lines of its limit
constexpr double cornersHigh = 50; ///< two lines below all of it, and the keys
constexpr double gapRadius = 9;
constexpr double narrowSlot = 74; ///< below it a part shows its limit's mark alone
constexpr double outFar = 70;     ///< from where they stand: let go there, a part is out
constexpr double meantFar = 6;    ///< a press that moved less chooses
constexpr double decadeFar = 240; ///< dragged upwards

/// What a part bears where somebody read it, else what flows there, in two lines.
QStringList underIt(const ChainPart& part)
{
    if (part.limit)
        return {qs(part.limit->quantity), figureOf(*part.limit)};
    return qs(part.flow).split(u", "_s);
}

QString inWords(const ChainPart& part)
{
    QString words = u"%1 %2. %3"_s.arg(qs(part.name), qs(part.value), underIt(part).join(u", "_s));
    if (part.limit)
        words += u", "_s + verdictWord(part.limit->verdict);
    return words;
}

/// An S between two levels.
void leadTo(QPainterPath& path, QPointF to)
{
    const QPointF from = path.currentPosition();
    const double middle = (from.x() + to.x()) / 2;
    path.cubicTo({middle, from.y()}, {middle, to.y()}, to);
}

} // namespace

RibbonPicture::RibbonPicture(Look& look, QWidget* parent)
    : QWidget(parent)
    , m_look(look)
{
    setObjectName(u"chainRibbon"_s);
    setAccessibleName(tr("From the rectifier to the load, part by part"));
    setFocusPolicy(Qt::StrongFocus);
    sizedWith(*this, look, [this, &look] { setMinimumSize(look.px(360), look.px(290)); });
}

void RibbonPicture::show(RibbonShown shown)
{
    m_shown = std::move(shown);
    choose(m_chosen);
}

void RibbonPicture::choose(int part)
{
    m_chosen = std::clamp(part, 0, std::max(0, count() - 1));
    QString words;
    if (count() > 0) {
        const ChainPart& shown = partOf(m_chosen);
        words = inWords(shown);
    }
    setAccessibleDescription(words + u' ' + m_shown.corners);
    update();
}

// ---- where everything is

double RibbonPicture::slot() const
{
    return (width() - m_look.px(axisWide) - m_look.px(6)) / static_cast<double>(std::max(1, count()));
}

double RibbonPicture::middleOf(int part) const { return m_look.px(axisWide) + slot() * (part + 0.5); }

double RibbonPicture::stand() const { return height() - m_look.px(wordsHigh + cornersHigh); }

QRectF RibbonPicture::thingBox(int part) const
{
    // As wide as its sheet: what is drawn stands in the middle of it.
    const double wide =
        std::min(m_look.px(thingHigh) * Sketch::sheet.width() / Sketch::sheet.height(), slot() * 1.35);
    return {middleOf(part) - wide / 2, stand() - m_look.px(thingHigh), wide, double(m_look.px(thingHigh))};
}

QRectF RibbonPicture::valueBox(int part) const
{
    return {middleOf(part) - slot() / 2 + 2, stand() + m_look.px(18), slot() - 4, double(m_look.px(20))};
}

QPointF RibbonPicture::gapAfter(int part) const
{
    return {middleOf(part) + slot() / 2, stand() - m_look.px(thingHigh / 2)};
}

int RibbonPicture::partAt(QPointF at) const
{
    const int part = static_cast<int>(std::floor((at.x() - m_look.px(axisWide)) / slot()));
    return part >= 0 && part < count() ? part : -1;
}

int RibbonPicture::gapAt(QPointF at) const
{
    for (int part = 1; part + 1 < count(); ++part)
        if (QLineF(gapAfter(part), at).length() <= m_look.px(gapRadius + 4))
            return part;
    return -1;
}

Axes RibbonPicture::axes() const
{
    AxisRange range{m_shown.ribbon.unloaded_v, m_shown.ribbon.unloaded_v};
    for (const auto& places : {m_shown.places, m_shown.before})
        for (const SimFigures& place : places) {
            range.include(place.v_min_v);
            range.include(place.v_max_v);
        }
    for (const ChainSpread::Place& place : m_shown.spread) {
        range.include(place.trough_v);
        range.include(place.crest_v);
    }
    if (m_shown.ribbon.window) {
        range.include(m_shown.ribbon.window->min_v);
        range.include(m_shown.ribbon.window->max_v);
    }
    range.widen(0.08, 1);
    const double top = m_look.px(topHigh);
    const double bottom = stand() - m_look.px(thingHigh + 14);
    return {QRectF(m_look.px(axisWide), top, width() - m_look.px(axisWide + 6), bottom - top), {0, 1}, range};
}

std::vector<RibbonPicture::Edge> RibbonPicture::edges(const std::vector<SimFigures>& places) const
{
    std::vector<Edge> all;
    if (places.empty() || count() == 0)
        return all;
    const auto add = [&](double x, std::size_t place) {
        const SimFigures& v = places[place];
        all.push_back({x, v.v_min_v, v.v_mean_v, v.v_max_v});
    };
    const double from = middleOf(1);
    const double to = middleOf(count() - 1) + slot() / 2;
    add(from, 0);
    if (places.size() != m_shown.ribbon.places) {
        // Another chain: its places one after the other, each as long as the next.
        const double each = (to - from) / static_cast<double>(places.size());
        for (std::size_t k = 0; k + 1 < places.size(); ++k) {
            const double x = from + each * static_cast<double>(k + 1);
            add(x - slot() / 4, k);
            add(x + slot() / 4, k + 1);
        }
    } else {
        for (int part = firstSection; part < count(); ++part) {
            const ChainPart& shown = partOf(part);
            if (!shown.in_line)
                continue;
            add(middleOf(part) - slot() / 4, shown.place);
            add(middleOf(part) + slot() / 4, shown.place + 1);
        }
    }
    add(to, places.size() - 1);
    return all;
}

// ---- painting

void RibbonPicture::paintEvent(QPaintEvent* /*event*/)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const Colours& c = m_look.colours();
    if (count() == 0)
        return paintSentence(painter, rect(), tr("Start a chain beside this: then every part stands here."),
                             m_look);
    paintText(painter, QRectF(0, 0, width(), m_look.px(18)), m_shown.reading, m_look.caption(), c.softInk);
    painter.setFont(m_look.font(11));
    painter.setPen(c.softInk);
    painter.drawText(QRectF(0, height() - m_look.px(cornersHigh - 4), width(), m_look.px(cornersHigh - 20)),
                     Qt::TextWordWrap, m_shown.corners);
    paintText(painter, QRectF(0, height() - m_look.px(16), width(), m_look.px(16)),
              tr("C L R put in · Del out · Shift+← → move · ↑ ↓ value"), m_look.font(11), c.softInk);
    const Axes scale = axes();
    paintRibbon(painter, scale);
    paintFound(painter, scale);
    paintWindow(painter, scale);
    paintPlaces(painter, scale);
    for (int part = 0; part < count(); ++part)
        if (!(m_dragging && m_drag == Drag::Thing && part == m_chosen))
            paintPart(painter, scale, part);
    for (int part = 1; part + 1 < count(); ++part)
        paintGap(painter, part);
    if (m_dragging && m_drag == Drag::Thing) {
        QRectF box = thingBox(m_chosen);
        box.moveCenter(m_at);
        paintThing(painter, m_chosen, box);
        const bool out = std::abs(m_at.y() - (stand() - m_look.px(thingHigh / 2))) > m_look.px(outFar);
        paintText(painter, QRectF(box.left() - 60, box.bottom(), box.width() + 120, m_look.px(20)),
                  out                ? tr("let go: taken out")
                  : gapAt(m_at) >= 0 ? tr("let go: stands here")
                                     : tr("to a gap, or away"),
                  m_look.caption(), c.planned, Qt::AlignCenter);
    }
    if (m_shown.running >= 0) {
        painter.setPen(Qt::NoPen);
        painter.setBrush(c.planned);
        painter.drawRect(QRectF(0, height() - 3, width() * m_shown.running, 3));
    }
}

void RibbonPicture::paintRibbon(QPainter& painter, const Axes& axes) const
{
    const Colours& c = m_look.colours();
    axes.paintUpright(painter, m_look);
    const auto area = [&](const std::vector<Edge>& edges) {
        QPainterPath path(QPointF(edges.front().x, axes.y(edges.front().high_v)));
        for (const Edge& edge : edges)
            leadTo(path, {edge.x, axes.y(edge.high_v)});
        path.lineTo(edges.back().x, axes.y(edges.back().low_v));
        for (auto edge = edges.rbegin(); edge != edges.rend(); ++edge)
            leadTo(path, {edge->x, axes.y(edge->low_v)});
        path.closeSubpath();
        return path;
    };
    const std::vector<Edge> band = edges(m_shown.places);
    if (band.empty())
        return paintSentence(painter, axes.box().toRect(),
                             m_shown.running >= 0 ? tr("Simulating…") : tr("Not simulated."), m_look);
    painter.setPen(Qt::NoPen);
    if (m_shown.spread.size() == m_shown.places.size()) {
        std::vector<SimFigures> outer;
        for (const ChainSpread::Place& place : m_shown.spread)
            outer.push_back({place.trough_v, place.crest_v, place.trough_v, 0, 0});
        QColor pale = c.ribbon;
        pale.setAlphaF(0.45F);
        painter.setBrush(pale);
        painter.drawPath(area(edges(outer)));
    }
    painter.setBrush(c.ribbon.darker(m_look.dark() ? 80 : 112));
    painter.drawPath(area(band));
    // From the crest there would be without a load to what stands behind the rectifier.
    const double left = m_look.px(axisWide);
    QPainterPath crest(QPointF(left, axes.y(m_shown.ribbon.unloaded_v)));
    crest.lineTo(middleOf(0), axes.y(m_shown.ribbon.unloaded_v));
    leadTo(crest, {middleOf(1), axes.y(band.front().high_v)});
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(c.softInk, 1, Qt::DotLine));
    painter.drawPath(crest);
    QPainterPath mean(QPointF(band.front().x, axes.y(band.front().mean_v)));
    for (const Edge& edge : band)
        leadTo(mean, {edge.x, axes.y(edge.mean_v)});
    painter.setPen(QPen(c.planned, 2.4));
    painter.drawPath(mean);
    paintText(painter, QRectF(left + 4, axes.y(m_shown.ribbon.unloaded_v) + 2, slot() * 2, m_look.px(16)),
              tr("unloaded %1").arg(volts(m_shown.ribbon.unloaded_v)), m_look.caption(), c.softInk);
}

void RibbonPicture::paintFound(QPainter& painter, const Axes& axes) const
{
    const std::vector<Edge> found = edges(m_shown.before);
    if (found.empty())
        return;
    painter.setBrush(Qt::NoBrush);
    const QColor& colour = m_look.colours().found;
    const auto line = [&](double Edge::*level, const QPen& pen) {
        QPainterPath path(QPointF(found.front().x, axes.y(found.front().*level)));
        for (const Edge& edge : found)
            leadTo(path, {edge.x, axes.y(edge.*level)});
        painter.setPen(pen);
        painter.drawPath(path);
    };
    line(&Edge::high_v, QPen(colour, 0.9));
    line(&Edge::low_v, QPen(colour, 0.9));
    line(&Edge::mean_v, QPen(colour, 1.3, Qt::DashLine));
    const Edge& last = found.back();
    const QString text = tr("found %1").arg(volts(last.mean_v));
    const double wide = textWidth(text, m_look.caption()) + 4;
    double under_v = last.low_v;
    if (m_shown.ribbon.window)
        under_v = std::min(under_v, m_shown.ribbon.window->min_v);
    QRectF box(last.x - wide - 2, axes.y(under_v) + 2, wide, m_look.px(16));
    for (std::size_t place = 0; place < m_shown.places.size(); ++place)
        if (figuresBox(place, axes).intersects(box))
            box.moveBottom(axes.y(last.high_v) - 2);
    paintText(painter, box, text, m_look.caption(), colour, Qt::AlignRight | Qt::AlignVCenter);
}

void RibbonPicture::paintWindow(QPainter& painter, const Axes& axes) const
{
    if (!m_shown.ribbon.window)
        return;
    const Colours& c = m_look.colours();
    const double x = middleOf(count() - 1);
    const QRectF box(QPointF(x - slot() * 0.4, axes.y(m_shown.ribbon.window->max_v)),
                     QPointF(x + slot() * 0.46, axes.y(m_shown.ribbon.window->min_v)));
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(c.fits, 1.4, Qt::DashLine));
    painter.drawRect(box);
}

QRectF RibbonPicture::figuresBox(std::size_t place, const Axes& axes) const
{
    int part = 1;
    const auto stands = [&](const ChainPart& at) {
        return at.place == place && (at.thing == ChainThing::Can || at.thing == ChainThing::Load);
    };
    while (part < count() && !stands(partOf(part)))
        ++part;
    if (part == count())
        return {};
    double top_v = m_shown.places[place].v_max_v;
    if (place < m_shown.spread.size())
        top_v = m_shown.spread[place].crest_v;
    if (m_shown.ribbon.window && partOf(part).thing == ChainThing::Load)
        top_v = std::max(top_v, m_shown.ribbon.window->max_v);
    const double wide = std::max<double>(slot(), m_look.px(92));
    return {std::min(middleOf(part) - wide / 2, width() - wide - 2),
            std::max<double>(m_look.px(18), axes.y(top_v) - m_look.px(36)), wide, double(m_look.px(32))};
}

/// What stands at each place: mean and ripple.
void RibbonPicture::paintPlaces(QPainter& painter, const Axes& axes) const
{
    const Colours& c = m_look.colours();
    for (std::size_t place = 0; place < m_shown.places.size(); ++place) {
        const QRectF box = figuresBox(place, axes);
        const SimFigures& v = m_shown.places[place];
        if (box.isEmpty())
            continue;
        paintText(painter, QRectF(box.left(), box.top(), box.width(), m_look.px(18)), volts(v.v_mean_v),
                  m_look.font(14, true), c.planned, Qt::AlignCenter);
        paintText(painter, QRectF(box.left(), box.top() + m_look.px(17), box.width(), m_look.px(15)),
                  tr("%1 ripple").arg(qs(formatValue(v.ripple_pp_v, Quantity::Voltage))), m_look.caption(),
                  c.softInk, Qt::AlignCenter);
    }
}

void RibbonPicture::paintGap(QPainter& painter, int part) const
{
    const Colours& c = m_look.colours();
    const QPointF at = gapAfter(part);
    const double r = m_look.px(gapRadius);
    const bool near = m_dragging && m_drag == Drag::Thing && gapAt(m_at) == part;
    const bool behindChosen = part == std::max(1, m_chosen) && hasFocus();
    painter.setBrush(near ? c.selection : c.sheet);
    painter.setPen(QPen(near || behindChosen ? c.planned : c.softInk, near || behindChosen ? 2 : 1));
    painter.drawEllipse(at, near ? r * 1.3 : r, near ? r * 1.3 : r);
    painter.drawLine(at - QPointF(r * 0.45, 0), at + QPointF(r * 0.45, 0));
    painter.drawLine(at - QPointF(0, r * 0.45), at + QPointF(0, r * 0.45));
}

void RibbonPicture::paintThing(QPainter& painter, int part, const QRectF& box) const
{
    Sketch sketch(painter, box, m_look);
    switch (partOf(part).thing) {
    case ChainThing::Source:
        sketch.iron({60, 38}, 66, 46);
        break;
    case ChainThing::Diodes:
        sketch.bridge({60, 36}, 48);
        break;
    case ChainThing::Valve:
        sketch.valve({60, 36}, 66);
        break;
    case ChainThing::Can:
        sketch.capacitor({60, 36}, 38, 62);
        break;
    case ChainThing::Choke:
        sketch.choke({60, 36}, 54);
        break;
    case ChainThing::Resistor:
        sketch.resistor({60, 44}, 70);
        break;
    case ChainThing::Load:
        sketch.fill(m_look.colours().ribbon);
        sketch.box(28, 12, 64, 52, 4);
        sketch.line(40, 26, 80, 26);
        sketch.line(40, 36, 66, 36);
        break;
    }
}

void RibbonPicture::paintPart(QPainter& painter, const Axes& axes, int part) const
{
    const Colours& c = m_look.colours();
    const ChainPart& shown = partOf(part);
    const double x = middleOf(part);
    const bool narrow = slot() < m_look.px(narrowSlot);
    constexpr double lineHigh = 18;
    const QRectF slotBox(x - slot() / 2 + 2, stand() - m_look.px(thingHigh + 6), slot() - 4,
                         m_look.px(thingHigh + wordsHigh + 5 - (narrow ? lineHigh : 0)));
    if (part == m_chosen) {
        painter.setPen(QPen(c.planned, hasFocus() ? 2.2 : 1.4));
        painter.setBrush(c.selection);
        painter.drawRoundedRect(slotBox, 5, 5);
    }
    if (part > 0 && shown.place < m_shown.places.size()) {
        painter.setPen(QPen(c.softInk, 1, Qt::DotLine));
        painter.drawLine(QPointF(x, axes.y(m_shown.places[shown.place].v_min_v) + 2),
                         QPointF(x, slotBox.top()));
    }
    paintThing(painter, part, thingBox(part));
    const auto line = [&](double down, double high, const QString& text, const QFont& font,
                          const QColor& colour) {
        const double over = narrow ? m_look.px(8) : 0; // few neighbours are as long
        paintText(painter,
                  QRectF(slotBox.left() - over, stand() + m_look.px(down), slotBox.width() + 2 * over, high),
                  text, font, colour, Qt::AlignCenter);
    };
    line(2, m_look.px(16),
         shown.tapped.empty() ? qs(shown.name) : tr("%1, tap %2").arg(qs(shown.name), qs(shown.tapped)),
         m_look.caption(), c.softInk);
    line(18, m_look.px(20), qs(shown.value), m_look.font(narrow ? 12 : 14, true), c.planned);
    const QStringList under = underIt(shown);
    const QFont small = m_look.font(11);
    const QColor figure = shown.limit ? c.verdict(shown.limit->verdict) : c.softInk;
    const double mark = m_look.px(11);
    const double markY = stand() + m_look.px(47);
    if (narrow) { // the words of the chosen one have the line below to themselves
        if (shown.limit)
            paintVerdict(painter, shown.limit->verdict, {x, markY}, mark, c);
        const QString words = under.join(u' ');
        const double wide = textWidth(words, small) + 4;
        const double left = std::clamp(x - wide / 2, 0.0, std::max(0.0, width() - wide));
        if (part == m_chosen)
            paintText(painter, QRectF(left, stand() + m_look.px(54), wide, m_look.px(16)), words, small,
                      figure, Qt::AlignCenter);
        return;
    }
    line(54, m_look.px(16), under.value(1), small, figure);
    if (!shown.limit)
        return line(39, m_look.px(16), under.value(0), small, c.softInk);
    const double wide = std::min(textWidth(under[0], small) + 2, slotBox.width() - mark - 6);
    const double left = x - (wide + mark + 4) / 2;
    paintVerdict(painter, shown.limit->verdict, {left + mark / 2, markY}, mark, c);
    paintText(painter, QRectF(left + mark + 4, stand() + m_look.px(39), wide, m_look.px(16)), under[0], small,
              c.softInk);
}

// ---- keys and mouse

void RibbonPicture::keyPressEvent(QKeyEvent* event)
{
    const int section = m_chosen - firstSection;
    const bool is = isSection(m_chosen);
    const bool shift = (event->modifiers() & Qt::ShiftModifier) != 0;
    const int sections = count() - firstSection - 1;
    const int behind = std::clamp(m_chosen - 1, 0, std::max(0, sections));
    switch (event->key()) {
    case Qt::Key_Right:
        if (shift && is && section + 1 < sections)
            Q_EMIT moved(section, section + 2);
        else if (!shift && m_chosen + 1 < count())
            Q_EMIT chose(m_chosen + 1);
        return;
    case Qt::Key_Left:
        if (shift && is && section > 0)
            Q_EMIT moved(section, section - 1);
        else if (!shift && m_chosen > 0)
            Q_EMIT chose(m_chosen - 1);
        return;
    case Qt::Key_Home:
        return Q_EMIT chose(0);
    case Qt::Key_End:
        return Q_EMIT chose(count() - 1);
    case Qt::Key_C:
        return Q_EMIT putIn(behind, SmoothingKind::C);
    case Qt::Key_L:
        return Q_EMIT putIn(behind, SmoothingKind::L);
    case Qt::Key_R:
        return Q_EMIT putIn(behind, SmoothingKind::R);
    case Qt::Key_Delete:
    case Qt::Key_Backspace:
        if (is)
            Q_EMIT takenOut(section);
        return;
    case Qt::Key_Up:
    case Qt::Key_Down:
        if (is)
            Q_EMIT stepped(section, event->key() == Qt::Key_Up);
        return;
    default:
        QWidget::keyPressEvent(event);
    }
}

void RibbonPicture::choosePutIn(int part, QPoint where)
{
    QMenu menu(this);
    const auto add = [&](const QString& text, SmoothingKind kind) {
        menu.addAction(text, this, [this, part, kind] { Q_EMIT putIn(part - 1, kind); });
    };
    add(tr("Capacitor here (C)"), SmoothingKind::C);
    add(tr("Choke here (L)"), SmoothingKind::L);
    add(tr("Resistor here (R)"), SmoothingKind::R);
    menu.exec(where);
}

void RibbonPicture::mousePressEvent(QMouseEvent* event)
{
    if (event->button() != Qt::LeftButton || count() == 0)
        return;
    if (const int gap = gapAt(event->position()); gap >= 0)
        return choosePutIn(gap, event->globalPosition().toPoint());
    const int part = partAt(event->position());
    if (part < 0)
        return;
    Q_EMIT chose(part);
    m_pressed = m_at = event->position();
    m_dragging = false;
    m_drag = !isSection(part)                                                    ? Drag::None
             : valueBox(part).contains(event->position())                        ? Drag::Value
             : thingBox(part).adjusted(-6, -6, 6, 6).contains(event->position()) ? Drag::Thing
                                                                                 : Drag::None;
}

void RibbonPicture::mouseMoveEvent(QMouseEvent* event)
{
    if (m_drag == Drag::None)
        return;
    m_at = event->position();
    m_dragging = m_dragging || QLineF(m_at, m_pressed).length() > meantFar;
    if (m_dragging && m_drag == Drag::Value)
        Q_EMIT scaled(m_chosen - firstSection, std::pow(10, (m_pressed.y() - m_at.y()) / decadeFar), false);
    update();
}

void RibbonPicture::mouseReleaseEvent(QMouseEvent* event)
{
    m_at = event->position();
    const bool meant = m_dragging;
    const Drag drag = m_drag;
    m_drag = Drag::None;
    m_dragging = false;
    update();
    if (!meant)
        return;
    const int section = m_chosen - firstSection;
    if (drag == Drag::Value)
        return Q_EMIT scaled(section, std::pow(10, (m_pressed.y() - m_at.y()) / decadeFar), true);
    if (std::abs(m_at.y() - (stand() - m_look.px(thingHigh / 2))) > m_look.px(outFar))
        return Q_EMIT takenOut(section);
    if (const int gap = gapAt(m_at); gap >= 0 && gap != m_chosen && gap + 1 != m_chosen)
        Q_EMIT moved(section, gap - firstSection + 1);
}

/// What is cut short for want of room.
bool RibbonPicture::event(QEvent* event)
{
    if (event->type() != QEvent::ToolTip)
        return QWidget::event(event);
    const auto* help = static_cast<QHelpEvent*>(event);
    const int gap = gapAt(help->pos());
    const int part = partAt(help->pos());
    if (gap >= 0)
        QToolTip::showText(help->globalPos(), tr("Put a part in here"), this);
    else if (part >= 0 && help->pos().y() > stand() - m_look.px(thingHigh)) {
        QToolTip::showText(help->globalPos(), inWords(partOf(part)), this);
    } else {
        QToolTip::hideText();
    }
    return true;
}

} // namespace offshoot::ui
