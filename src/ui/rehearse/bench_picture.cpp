#include "ui/rehearse/bench_picture.h"

#include "core/rehearse/rehearsal_end.h"
#include "ui/paint/figures.h"
#include "ui/paint/marks.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <algorithm>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

const QString outlet = u"outlet"_s;
const QString limiter = u"limiter"_s;
const QString lid = u"lid"_s;
const QString load_bank = u"load"_s;
const QString tool = u"discharge tool"_s;

/// The last move that gave a reading.
const PlayedMove* lastReading(const RehearsedJob& rehearsed)
{
    const auto& moves = rehearsed.played().moves;
    for (auto move = moves.rbegin(); move != moves.rend(); ++move)
        if (move->answer.reading)
            return &*move;
    return nullptr;
}

QString limiterText(const Bench& bench)
{
    const bool dc = bench.unit().dcFed(bench.changed());
    if (!bench.limiterIn())
        return dc ? BenchPicture::tr("no current limit") : BenchPicture::tr("no lamp");
    if (dc)
        return BenchPicture::tr("current limit on");
    const auto glow = bench.live() ? bench.running().glow : std::nullopt;
    return glow ? BenchPicture::tr("lamp: %1").arg(qs(phrase(*glow))) : BenchPicture::tr("lamp: dark");
}

} // namespace

BenchPicture::BenchPicture(const Look& look, QWidget* parent)
    : QWidget(parent)
    , m_look(look)
{
    setAccessibleName(tr("The bench"));
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    sizedWith(*this, look, [this, &look] { setMinimumHeight(look.px(310)); });
}

QSize BenchPicture::sizeHint() const { return {m_look.px(720), m_look.px(400)}; }

void BenchPicture::show(const RehearsedJob& rehearsed, std::size_t unit)
{
    m_rehearsed = &rehearsed;
    m_number = unit;
    setMinimumHeight(m_look.px(rehearsed.benches().count() > 1 ? 350 : 310));
    place();
    QStringList said;
    for (const Spot& spot : m_spots)
        said << spot.name;
    setAccessibleDescription(said.join(u", "_s));
    update();
}

void BenchPicture::resizeEvent(QResizeEvent* /*event*/) { place(); }

QRectF BenchPicture::boxOf(const QString& name) const
{
    const auto spot = std::ranges::find(m_spots, name, &Spot::name);
    return spot == m_spots.end() ? QRectF() : spot->box;
}

/// Everything that can be clicked, with what it would do as things now stand.
void BenchPicture::place()
{
    m_spots.clear();
    if (m_rehearsed == nullptr)
        return;
    const Bench& bench = this->bench();
    const double w = width();
    const double h = height();
    const bool several = m_rehearsed->benches().count() > 1;
    const auto box = [&](double x, double y, double wide, double high) {
        return QRectF(x - wide / 2, y - high / 2, wide, high);
    };
    const double right = std::min(w * 0.78, w - px(164)); // beside it the load
    m_meter = QRectF(w - px(190), px(8), px(178), px(92));
    const double top = std::max(h * (several ? 0.36 : 0.28), m_meter.bottom() + px(36)); // its name over it
    m_unit = QRectF(w * 0.36, top, right - w * 0.36, h * 0.84 - top);
    const double feed_y = m_unit.center().y();
    const auto add = [this](const QRectF& at, const QString& move, const QString& name) {
        m_spots.push_back({at, ofUnit(move, m_number), name});
    };
    add(box(w * 0.07, feed_y, px(64), px(84)), bench.live() ? u"unplug"_s : u"plug_in"_s, outlet);
    add(box(w * 0.22, feed_y - px(60), px(72), px(72)), bench.limiterIn() ? u"lamp_out"_s : u"lamp_in"_s,
        limiter);
    if (bench.found().opens())
        add(QRectF(m_unit.left(), m_unit.top() - px(26), m_unit.width() * 0.5, px(24)),
            bench.caseOpen() ? u"close_case"_s : u"open_case"_s, lid);
    const auto& stores = bench.unit().reservoirs(bench.changed());
    std::vector<QString> inside;
    for (const TrueReservoir& store : stores)
        if (!store.rail)
            inside.push_back(qs(store.point));
    for (std::size_t i = 0; i < inside.size(); ++i)
        add(box(m_unit.left() + m_unit.width() * 0.22,
                m_unit.top() +
                    m_unit.height() * (static_cast<double>(i) + 0.5) / static_cast<double>(inside.size()),
                px(64), std::min(px(64), m_unit.height() / static_cast<double>(inside.size()) - px(6))),
            u"probe "_s + inside[i], inside[i]);
    const auto& rails = bench.found().rails;
    for (std::size_t i = 0; i < rails.size(); ++i)
        add(box(m_unit.right() - px(26),
                m_unit.top() +
                    m_unit.height() * (static_cast<double>(i) + 0.5) / static_cast<double>(rails.size()),
                px(44), std::min(px(44), m_unit.height() / static_cast<double>(rails.size()) - px(4))),
            u"probe "_s + qs(rails[i].name), qs(rails[i].name));
    add(QRectF(w - px(150), m_unit.bottom() - px(40), px(138), px(52)), u"load none"_s, load_bank);
    add(QRectF(px(16), h - px(66), px(150), px(46)), u"discharge 4k7"_s, tool);
    if (several)
        placeUnits();
    m_chosen = std::min(m_chosen, static_cast<int>(m_spots.size()) - 1);
}

QString BenchPicture::ofUnit(const QString& move, std::size_t unit) const
{
    return unit > 1 ? u"%1 #%2"_s.arg(move).arg(unit) : move;
}

/// All of them in a row, each to be taken in hand; joined, the points between them.
void BenchPicture::placeUnits()
{
    const Benches& benches = m_rehearsed->benches();
    const auto count = static_cast<double>(benches.count());
    const double apart = px(benches.sideBySide() ? 12 : 26);
    const double wide = std::min(px(150), (m_meter.left() - px(20)) / count - apart);
    const double high = px(46);
    for (std::size_t unit = 1; unit <= benches.count(); ++unit) {
        const double x = px(8) + static_cast<double>(unit - 1) * (wide + apart);
        m_spots.push_back({QRectF(x, px(8), wide, high), {}, u"#%1"_s.arg(unit), unit});
    }
    if (!benches.joined())
        return;
    const double size = px(16);
    for (std::size_t unit = 1; unit <= benches.count(); ++unit) {
        const QRectF box = boxOf(u"#%1"_s.arg(unit));
        const bool bus = benches.sideBySide();
        const QPointF at = bus ? QPointF(box.center().x(), box.bottom() + px(15))
                               : QPointF(box.right() + px(13), box.center().y());
        const QString point = bus ? u"lead"_s : u"node"_s;
        m_spots.push_back({QRectF(at.x() - size / 2, at.y() - size / 2, size, size),
                           ofUnit(u"probe "_s + point, unit), ofUnit(point, unit)});
    }
}

void BenchPicture::act(const Spot& spot)
{
    if (spot.takes > 0)
        Q_EMIT taken(spot.takes);
    else
        Q_EMIT wanted(spot.move);
}

void BenchPicture::mousePressEvent(QMouseEvent* event)
{
    for (const Spot& spot : m_spots)
        if (spot.box.contains(event->position())) {
            act(Spot(spot)); // the spots are placed anew by it
            return;
        }
}

void BenchPicture::mouseMoveEvent(QMouseEvent* event)
{
    const auto over =
        std::ranges::find_if(m_spots, [&](const Spot& s) { return s.box.contains(event->position()); });
    setToolTip(over == m_spots.end() ? QString()
               : over->takes > 0     ? tr("take unit %1 in hand").arg(over->name)
                                     : over->move);
    setCursor(over == m_spots.end() ? Qt::ArrowCursor : Qt::PointingHandCursor);
}

/// ← → go from thing to thing, Enter does what a click would.
void BenchPicture::keyPressEvent(QKeyEvent* event)
{
    const int count = static_cast<int>(m_spots.size());
    if (count > 0 && (event->key() == Qt::Key_Right || event->key() == Qt::Key_Left)) {
        m_chosen =
            (m_chosen + (event->key() == Qt::Key_Right ? 1 : count - 1 + (m_chosen < 0 ? 1 : 0))) % count;
        update();
    } else if (m_chosen >= 0 && (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter)) {
        act(Spot(m_spots[static_cast<std::size_t>(m_chosen)]));
    } else {
        QWidget::keyPressEvent(event);
    }
}

void BenchPicture::paintEvent(QPaintEvent* /*event*/)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    if (m_rehearsed == nullptr)
        return;
    paintFeed(painter);
    paintUnit(painter);
    paintLoad(painter);
    if (m_rehearsed->benches().count() > 1)
        paintUnits(painter);
    paintTool(painter);
    paintMeter(painter);
    if (m_chosen >= 0 && hasFocus()) {
        painter.setPen(QPen(m_look.colours().measured, 2, Qt::DashLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawRoundedRect(m_spots[static_cast<std::size_t>(m_chosen)].box.adjusted(-4, -4, 4, 4), 4, 4);
    }
}

/// Outlet, cord and limiter: the cord ends short of the outlet while the plug is out.
void BenchPicture::paintFeed(QPainter& painter) const
{
    const Colours& c = m_look.colours();
    const Bench& bench = this->bench();
    const bool dc = bench.unit().dcFed(bench.changed());
    const QRectF wall = boxOf(outlet);
    painter.setPen(QPen(c.ink, 1.6));
    painter.setBrush(c.paper);
    painter.drawRoundedRect(wall, 4, 4);
    painter.setBrush(c.ink);
    for (const double dx : {-0.18, 0.18})
        painter.drawEllipse(wall.center() + QPointF(dx * wall.width(), 0), px(5), px(5));
    const bool on = bench.live();
    paintText(painter,
              QRectF(std::max(wall.left() - px(16), 2.0), wall.top() - px(22), wall.width() + px(40), px(20)),
              dc   ? (on ? tr("feed on") : tr("feed off"))
              : on ? tr("plugged in")
                   : tr("plug out"),
              m_look.caption(), on ? c.breaks : c.softInk);
    const QRectF lamp = boxOf(limiter);
    const double y = wall.center().y();
    const double from = on ? wall.right() : wall.right() + px(30);
    painter.setPen(QPen(c.ink, 3, Qt::SolidLine, Qt::RoundCap));
    painter.setBrush(Qt::NoBrush);
    if (bench.limiterIn()) {
        QPainterPath cord(QPointF(from, y));
        cord.cubicTo(from + px(24), y, lamp.left() - px(4), lamp.bottom(), lamp.center().x() - px(14),
                     lamp.bottom() - px(16));
        painter.drawPath(cord);
        QPainterPath on_to(QPointF(lamp.center().x() + px(14), lamp.bottom() - px(16)));
        on_to.cubicTo(lamp.right() + px(4), lamp.bottom(), m_unit.left() - px(24), y, m_unit.left(), y);
        painter.drawPath(on_to);
    } else {
        painter.drawLine(QPointF(from, y), QPointF(m_unit.left(), y));
    }
    if (!on) { // the plug's pins
        painter.setPen(QPen(c.ink, 2));
        for (const double dy : {-4.0, 4.0})
            painter.drawLine(QPointF(from, y + dy), QPointF(from - px(10), y + dy));
    }
    const auto glow = on && bench.limiterIn() ? bench.running().glow : std::nullopt;
    const double lit = !glow                 ? 0
                       : *glow == Glow::Dark ? 0.05
                       : *glow == Glow::Dim  ? 0.4
                       : *glow == Glow::Half ? 0.7
                                             : 1;
    QColor light = c.tight;
    light.setAlphaF(static_cast<float>(lit));
    painter.setPen(bench.limiterIn() ? QPen(c.ink, 1.6) : QPen(c.softInk, 1.2, Qt::DashLine));
    painter.setBrush(c.sheet);
    painter.drawEllipse(lamp.center(), px(24), px(24));
    painter.setBrush(light);
    painter.drawEllipse(lamp.center(), px(24), px(24));
    paintText(painter, QRectF(lamp.left() - px(50), lamp.top() - px(20), lamp.width() + px(100), px(20)),
              limiterText(bench), m_look.textBold(), c.ink, Qt::AlignCenter);
}

void BenchPicture::paintUnit(QPainter& painter) const
{
    const Colours& c = m_look.colours();
    const Bench& bench = this->bench();
    painter.setPen(QPen(c.ink, 2));
    painter.setBrush(bench.caseOpen() ? c.sheet : c.paper);
    painter.drawRoundedRect(m_unit, 4, 4);
    painter.drawLine(QPointF(returnPoint().x(), m_unit.bottom()), returnPoint());
    painter.setBrush(c.ink);
    painter.drawEllipse(returnPoint(), px(5), px(5));
    paintText(painter, QRectF(returnPoint().x() - px(112), returnPoint().y() - px(10), px(100), px(20)),
              tr("return"), m_look.text(), c.ink, Qt::AlignRight | Qt::AlignVCenter);
    painter.setPen(QPen(c.ink, 2));
    painter.setBrush(Qt::NoBrush);
    const Supply& found = bench.found();
    const QString state = found.outsideOnly() ? tr("sealed")
                          : !found.opens()    ? tr("open frame")
                          : bench.caseOpen()  ? tr("lid off")
                                              : tr("lid on");
    paintText(painter, QRectF(m_unit.left(), m_unit.top() - px(26), width() - m_unit.left() - px(8), px(24)),
              u"%1 · %2%3"_s.arg(found.name.empty() ? tr("the unit") : qs(found.name), state,
                                 bench.changed() ? tr(" · changed") : QString()),
              m_look.textBold(), c.ink);
    for (const Spot& spot : m_spots) {
        if (!spot.move.startsWith(u"probe "_s) || !m_unit.contains(spot.box.center()))
            continue;
        const bool terminal = spot.box.center().x() > m_unit.center().x();
        painter.setPen(QPen(c.ink, 1.6));
        if (terminal) {
            painter.setBrush(c.planned);
            painter.drawEllipse(spot.box.center(), px(7), px(7));
            paintText(painter, QRectF(spot.box.left() - px(92), spot.box.top(), px(100), spot.box.height()),
                      spot.name, m_look.text(), c.ink, Qt::AlignRight | Qt::AlignVCenter);
        } else {
            painter.setBrush(c.ribbon);
            const double size = std::min(spot.box.width(), spot.box.height()) / 2 - 2;
            painter.drawEllipse(spot.box.center(), size, size);
            // Beside it its name; in it where the unit is drawn too narrow for that of a terminal there too.
            const bool narrow = m_unit.width() < px(200);
            if (narrow && textWidth(spot.name, m_look.text()) < 2 * size - px(8))
                paintText(painter, spot.box, spot.name, m_look.text(), c.ink, Qt::AlignCenter);
            else
                paintText(painter,
                          QRectF(spot.box.right() + px(4), spot.box.top(), px(90), spot.box.height()),
                          spot.name, m_look.text(), c.ink);
        }
    }
}

void BenchPicture::paintLoad(QPainter& painter) const
{
    const Colours& c = m_look.colours();
    const bool shared = m_rehearsed->benches().joined();
    const Bench& bench = shared ? m_rehearsed->bench() : this->bench();
    const QRectF bank = boxOf(load_bank);
    const double siemens = bench.loadSiemens();
    painter.setPen(siemens > 0 ? QPen(c.ink, 1.6) : QPen(c.softInk, 1.2, Qt::DashLine));
    painter.setBrush(c.sheet);
    painter.drawRoundedRect(bank, 4, 4);
    const QRectF upper(bank.left() + 4, bank.top() + px(4), bank.width() - 8, px(20));
    const QRectF lower = upper.translated(0, px(21));
    paintText(painter, upper, bench.loadConnected() ? tr("the real load") : tr("load bank"),
              m_look.textBold(), c.ink, Qt::AlignCenter);
    const double burns_w = bench.loadWatts();
    paintText(painter, lower,
              siemens <= 0  ? tr("switched off")
              : burns_w > 0 ? u"%1, %2"_s.arg(qs(formatOhms(1 / siemens)), watts(burns_w))
                            : qs(formatOhms(1 / siemens)),
              m_look.text(), siemens > 0 ? c.planned : c.softInk, Qt::AlignCenter);
    if (siemens <= 0)
        return;
    if (shared)
        return; // it hangs on what joins them
    const QRectF terminal = boxOf(qs(bench.found().rails.front().name));
    QPainterPath lead(terminal.center());
    lead.cubicTo(terminal.center() + QPointF(px(50), 0), QPointF(bank.center().x(), bank.top() - px(40)),
                 QPointF(bank.center().x(), bank.top()));
    painter.setPen(QPen(c.ink, 2.5));
    painter.setBrush(Qt::NoBrush);
    painter.drawPath(lead);
}

void BenchPicture::paintUnits(QPainter& painter) const
{
    const Colours& c = m_look.colours();
    const Benches& benches = m_rehearsed->benches();
    if (benches.joined())
        paintJoin(painter);
    for (std::size_t unit = 1; unit <= benches.count(); ++unit) {
        const Bench& bench = benches.unit(unit);
        const QRectF box = boxOf(u"#%1"_s.arg(unit));
        painter.setPen(unit == m_number ? QPen(c.measured, 3) : QPen(c.ink, 1.4));
        painter.setBrush(c.sheet);
        painter.drawRoundedRect(box, 4, 4);
        const QRectF upper(box.left() + px(6), box.top() + px(3), box.width() - px(12), px(20));
        const QString name = bench.found().name.empty() ? tr("unit") : qs(bench.found().name);
        paintText(painter, upper, u"#%1 %2"_s.arg(unit).arg(name), m_look.textBold(), c.ink);
        const QString state = !bench.live()   ? tr("off")
                              : !bench.runs() ? tr("live, nothing comes out")
                                              : tr("live");
        paintText(painter, upper.translated(0, px(20)), state, m_look.text(),
                  bench.live() ? c.breaks : c.softInk);
    }
}

/// Side by side each lead goes down to the bus; in a row each unit stands on the one before it. The load
/// hangs on all of them.
void BenchPicture::paintJoin(QPainter& painter) const
{
    const Colours& c = m_look.colours();
    const Benches& benches = m_rehearsed->benches();
    const QRectF last = boxOf(u"#%1"_s.arg(benches.count()));
    const QRectF bank = boxOf(load_bank);
    const bool bus = benches.sideBySide();
    const double bus_y = last.bottom() + px(30);
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(c.ink, 2.5, Qt::SolidLine, Qt::RoundCap));
    for (std::size_t unit = 1; unit <= benches.count(); ++unit) {
        const QRectF box = boxOf(u"#%1"_s.arg(unit));
        if (bus)
            painter.drawLine(QPointF(box.center().x(), box.bottom()), QPointF(box.center().x(), bus_y));
        else
            painter.drawLine(QPointF(box.right(), box.center().y()),
                             QPointF(box.right() + px(26), box.center().y()));
    }
    const QPointF end =
        bus ? QPointF(last.right(), bus_y) : QPointF(last.right() + px(26), last.center().y());
    if (bus)
        painter.drawLine(QPointF(boxOf(u"#1"_s).center().x(), bus_y), end);
    if (m_rehearsed->bench().loadSiemens() > 0) {
        QPainterPath lead(end);
        // Below the meter and down to the load.
        const double under = m_meter.bottom() + px(24);
        const QPointF turn(m_meter.left() - px(4), under);
        lead.cubicTo(QPointF(turn.x() - px(30), end.y()), QPointF(turn.x() - px(40), under), turn);
        lead.cubicTo(QPointF(bank.center().x(), under), QPointF(bank.center().x(), under),
                     QPointF(bank.center().x(), bank.top()));
        painter.drawPath(lead);
    }
    painter.setPen(QPen(c.ink, 1.4));
    painter.setBrush(c.planned);
    for (const Spot& spot : m_spots)
        if (spot.name.startsWith(u"lead"_s) || spot.name.startsWith(u"node"_s))
            painter.drawEllipse(spot.box.center(), px(6), px(6));
}

/// Its lead ends at what was read last.
void BenchPicture::paintMeter(QPainter& painter) const
{
    const Colours& c = m_look.colours();
    const PlayedMove* last = lastReading(*m_rehearsed);
    const BenchReading* reading = last == nullptr ? nullptr : &*last->answer.reading;
    const bool still = last == &m_rehearsed->played().moves.back(); // nothing was done since
    painter.setPen(Qt::NoPen);
    painter.setBrush(c.bar);
    painter.drawRoundedRect(m_meter, 4, 4);
    const QString figure = reading != nullptr ? qs(readingText(*reading)) : u"–"_s;
    paintText(painter, m_meter.adjusted(4, px(8), -4, -px(34)), figure, m_look.font(26, true), c.barText,
              Qt::AlignCenter);
    paintText(painter, QRectF(m_meter.left() + 4, m_meter.bottom() - px(32), m_meter.width() - 8, px(24)),
              reading == nullptr ? tr("nothing read yet")
              : still            ? qs(pointText(last->answer))
                                 : tr("%1, before").arg(qs(pointText(last->answer))),
              m_look.text(), c.barText, Qt::AlignCenter);
    QRectF at = reading != nullptr ? boxOf(qs(pointText(last->answer))) : QRectF();
    if (at.isEmpty() && reading != nullptr && last->answer.move.unit == m_number)
        at = boxOf(qs(reading->point));
    if (at.isEmpty() || !still)
        return;
    const auto [red, black] = clipsAt(at);
    paintLead(painter, QPointF(m_meter.left() + px(20), m_meter.bottom()), red, c.breaks);
    if (black)
        paintLead(painter, QPointF(m_meter.left() + px(44), m_meter.bottom()), *black, c.ink);
}

QPointF BenchPicture::returnPoint() const { return {m_unit.right() - px(26), m_unit.bottom() + px(14)}; }

std::pair<QPointF, std::optional<QPointF>> BenchPicture::clipsAt(const QRectF& spot) const
{
    if (!m_unit.contains(spot.center()))
        return {spot.center(), std::nullopt};
    if (spot.center().x() > m_unit.center().x())
        return {spot.center(), returnPoint()};
    const QPointF half(0, std::min(spot.width(), spot.height()) * 0.3);
    return {spot.center() - half, spot.center() + half};
}

void BenchPicture::paintLead(QPainter& painter, const QPointF& from, const QPointF& to,
                             const QColor& colour) const
{
    QPainterPath lead(from);
    lead.cubicTo(from + QPointF(-px(10), px(50)), to + QPointF(px(50), -px(60)), to);
    painter.setPen(QPen(colour, 2.5));
    painter.setBrush(Qt::NoBrush);
    painter.drawPath(lead);
    painter.setBrush(colour);
    painter.drawEllipse(to, px(3), px(3));
}

/// A resistor between two insulated probes; they are on what was drained last.
void BenchPicture::paintTool(QPainter& painter) const
{
    const Colours& c = m_look.colours();
    const QRectF box = boxOf(tool);
    const auto& moves = m_rehearsed->played().moves;
    const BenchAnswer* last = moves.empty() ? nullptr : &moves.back().answer;
    const bool used = last != nullptr && last->done && last->move.kind == MoveKind::Discharge &&
                      last->move.unit == m_number && last->reading;
    const QRectF body(box.left() + px(8), box.top() + px(6), px(44), px(14));
    painter.setPen(QPen(c.ink, 1.6));
    painter.drawLine(QPointF(body.left() - px(8), body.center().y()), body.center());
    painter.drawLine(body.center(), QPointF(body.right() + px(8), body.center().y()));
    painter.setBrush(used ? c.tight : c.sheet);
    painter.drawRoundedRect(body, 3, 3);
    const QString ohms = used ? qs(formatOhms(last->move.value.value_or(0))) : u"4k7"_s;
    paintText(painter, QRectF(box.left(), box.top() + px(24), box.width(), px(20)),
              tr("discharge tool, %1").arg(ohms), m_look.textBold(), c.ink);
    if (!used)
        return;
    const auto [one, other] = clipsAt(boxOf(qs(last->reading->point)));
    painter.setPen(QPen(c.ink, 2));
    painter.setBrush(Qt::NoBrush);
    const double y = body.center().y();
    QPainterPath near(QPointF(body.right() + px(8), y));
    near.cubicTo(QPointF(m_unit.left(), y), QPointF(one.x() - px(60), std::max(one.y(), m_unit.bottom())),
                 one);
    painter.drawPath(near);
    const QPointF end = other.value_or(one);
    QPainterPath far(QPointF(body.left() - px(8), y));
    far.cubicTo(QPointF(body.left() - px(8), y - px(60)), QPointF(end.x() - px(160), end.y() + px(30)), end);
    painter.drawPath(far);
}

} // namespace offshoot::ui
