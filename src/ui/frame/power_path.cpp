#include "ui/frame/power_path.h"

#include "core/evaluate/stations.h"
#include "core/supply/power_path.h"
#include "core/values/format.h"
#include "ui/paint/marks.h"
#include "ui/refresh.h"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainterPath>
#include <QToolTip>
#include <algorithm>
#include <tuple>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

// Heights at 100 %, from the top of the path.
constexpr double nameY = 6;
constexpr double markY = 36;
constexpr double ribbonY = 50;
constexpr double foundY = 54;
constexpr double plannedY = 73;
constexpr double ribbonH = 44;
constexpr double loopY = 122;
constexpr double measuredY = 150;
constexpr double pathH = 176;
constexpr double namesW = 70;
constexpr double leastColumn = 90;
// The other rails stand in lanes under the path, below a manifold that forks from the transformer.
constexpr double manifoldY = 178;
constexpr double lanesY = 186;
constexpr double laneH = 27;
constexpr double leastLane = 330;

/// What may share a column, in the order in which it does when space gets short.
const std::vector<std::vector<Station>>& groups()
{
    static const std::vector<std::vector<Station>> all{{Station::Inlet, Station::Fuse, Station::Inrush},
                                                       {Station::InputRectifier, Station::Reservoir},
                                                       {Station::Transformer, Station::OutputRectifier},
                                                       {Station::Cable, Station::Load}};
    return all;
}

} // namespace

PowerPath::PowerPath(JobSession& session, Look& look, QWidget* parent)
    : QWidget(parent)
    , m_session(session)
    , m_look(look)
{
    setObjectName(u"powerPath"_s);
    setAttribute(Qt::WA_OpaquePaintEvent);
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Power path"));
    connect(&session, &JobSession::changed, this,
            [this] { m_opened = m_opened && nothingKnown(m_session.job().found); });
    repaintWhenOther(*this, session, [this] {
        const Evaluation& e = m_session.evaluation();
        const Job& job = m_session.job();
        return std::tuple(e.stations, e.path, e.rails, e.units, closed(), hasFeedback(job.found),
                          job.need.load.kind,
                          job.plan.join ? std::optional(job.plan.join->kind) : std::nullopt);
    });
    connect(&session, &JobSession::selectionChanged, this, [this] {
        setAccessibleDescription(tr("%1 selected").arg(qs(view(m_session.selected()).name)));
        update();
    });
    connect(&look, &Look::changed, this, [this] {
        updateGeometry();
        update();
    });
}

QSize PowerPath::sizeHint() const { return {m_look.px(1000), heightAt(width())}; }

int PowerPath::heightAt(int wide) const
{
    const int perRow = lanesPerRow(wide);
    const int rows = (static_cast<int>(laneCount()) + perRow - 1) / perRow;
    return m_look.px(rows > 0 ? lanesY + rows * laneH + 4 : pathH);
}

/// The rails beside the first, then the units beside the one on the bench.
std::size_t PowerPath::laneCount() const
{
    const Evaluation& e = m_session.evaluation();
    return e.rails.size() - 1 + (e.units.empty() ? 0 : e.units.size() - 1);
}

int PowerPath::lanesPerRow(int wide) const
{
    return std::max(1, static_cast<int>((wide - m_look.px(20)) / m_look.px(leastLane)));
}

QRectF PowerPath::laneBox(std::size_t lane) const
{
    const int perRow = lanesPerRow(width());
    const int at = static_cast<int>(lane) - 1;
    const double wide = (width() - m_look.px(20)) / static_cast<double>(perRow);
    const int above = at / perRow;
    return {m_look.px(10) + (at % perRow) * wide, double(m_look.px(lanesY + above * laneH)), wide,
            double(m_look.px(laneH))};
}

const StationView& PowerPath::view(Station station) const
{
    return m_session.evaluation().stations.at(static_cast<std::size_t>(station));
}

bool PowerPath::closed() const { return !m_opened && nothingKnown(m_session.job().found); }

bool PowerPath::inClosedBox(Station station) const
{
    const std::vector<Station>& path = m_session.evaluation().path;
    return closed() && station != path.front() && station != path.back();
}

std::vector<PowerPath::Column> PowerPath::columns() const
{
    std::vector<std::vector<Station>> sets;
    const std::vector<Station>& path = m_session.evaluation().path;
    if (closed())
        sets = {{path.front()}, {path.begin() + 1, path.end() - 1}, {path.back()}};
    else
        for (const Station station : path)
            sets.push_back({station});
    const double widthPx = width() - m_look.px(namesW) - m_look.px(10);
    for (const auto& all : groups()) {
        if (widthPx / static_cast<double>(sets.size()) >= m_look.px(leastColumn))
            break;
        // Those of them that this kind has, where they are neighbours on its path.
        std::vector<Station> group;
        std::ranges::copy_if(all, std::back_inserter(group),
                             [&](Station s) { return std::ranges::find(path, s) != path.end(); });
        if (group.size() < 2 ||
            std::search(path.begin(), path.end(), group.begin(), group.end()) == path.end())
            continue;
        const bool open = std::find(group.begin(), group.end(), m_session.selected()) != group.end();
        const auto first = std::find(sets.begin(), sets.end(), std::vector{group.front()});
        if (open || first == sets.end())
            continue; // a group opens on selection
        const auto last = first + static_cast<std::ptrdiff_t>(group.size());
        *first = group;
        sets.erase(first + 1, last);
    }
    std::vector<Column> result;
    const double each = widthPx / static_cast<double>(sets.size());
    double x = m_look.px(namesW);
    for (auto& set : sets) {
        Column column{std::move(set), QRectF(x, 0, each, m_look.px(pathH)), nullptr, Verdict::Fits};
        for (Station station : column.stations) {
            const StationView& v = view(station);
            if (column.shown == nullptr || badness(v.verdict) > badness(column.verdict) ||
                column.shown->found.empty())
                column.shown = &v;
            column.verdict = worse(column.verdict, v.verdict);
        }
        result.push_back(std::move(column));
        x += each;
    }
    return result;
}

QRectF PowerPath::feedbackBox() const
{
    const auto all = columns();
    double left = 0;
    double right = 0;
    for (const Column& column : all) {
        if (std::count(column.stations.begin(), column.stations.end(), Station::Converter) > 0)
            left = column.box.center().x() - m_look.px(34);
        if (std::count(column.stations.begin(), column.stations.end(), Station::Smoothing) > 0)
            right = column.box.center().x() - m_look.px(36);
    }
    const double w = m_look.px(236);
    return {(left + right) / 2 - w / 2, double(m_look.px(loopY)), w, double(m_look.px(25))};
}

double PowerPath::thickness(double watts) const
{
    double most = 0;
    for (const StationView& v : m_session.evaluation().stations)
        most = std::max(most, v.power_w + v.loss_w);
    return m_look.px(ribbonH) * (most > 0 ? std::clamp(watts / most, 0.35, 1.0) : 1);
}

bool PowerPath::selected(const Column& column) const
{
    const Station station = spokenFor(m_session.evaluation().path, m_session.selected());
    return m_session.selectedRailAt() == 0 && std::ranges::count(column.stations, station) > 0;
}

void PowerPath::paintLoss(QPainter& painter, const std::vector<Column>& all, std::size_t at,
                          double bottom) const
{
    const Column& column = all[at];
    double watts = 0;
    QString name;
    for (Station station : column.stations)
        if (const StationView& v = view(station); v.loss_w > 0) {
            watts += v.loss_w;
            name = qs(v.loss_name);
        }
    constexpr double leastShownW = 0.05;
    if (watts < leastShownW)
        return;
    const double x = column.box.center().x() - m_look.px(18);
    const double w = m_look.px(std::clamp(4 + watts * 1.4, 5.0, 20.0));
    const double down = m_look.px(24);
    QPainterPath shoot(QPointF(x - w, bottom - 1));
    shoot.cubicTo(QPointF(x - w * 0.1, bottom), QPointF(x, bottom + down * 0.35),
                  QPointF(x + 2, bottom + down));
    shoot.cubicTo(QPointF(x + w * 0.55, bottom + down * 0.4), QPointF(x + w * 0.8, bottom),
                  QPointF(x + w * 1.5, bottom - 1));
    shoot.closeSubpath();
    painter.setPen(Qt::NoPen);
    painter.setBrush(m_look.colours().loss);
    painter.drawPath(shoot);
    const QString figure = qs(significant(watts, watts < 1 ? 1 : 2)) + u" W"_s;
    QString label = figure;
    // The outline of a selected column, this one or the next, would cross a long label.
    if (!selected(column) && (at + 1 == all.size() || !selected(all[at + 1])))
        label = name + u' ' + label;
    double room = std::min<double>(column.box.width() - m_look.px(16), width() - x - m_look.px(12));
    // The feedback loop comes down in front of the smoothing station.
    if (at + 1 < all.size() && std::ranges::count(all[at + 1].stations, Station::Smoothing) > 0)
        room = std::min(room, all[at + 1].box.center().x() - m_look.px(40) - x - m_look.px(12));
    // Further units come up in front of the cable.
    if (!m_session.evaluation().units.empty() && at + 1 < all.size() &&
        std::ranges::count(all[at + 1].stations, Station::Cable) > 0)
        room = std::min(room, all[at + 1].box.left() - x - m_look.px(16));
    if (textWidth(label, m_look.caption()) > room)
        label = figure;
    paintText(painter, QRectF(x + m_look.px(12), bottom + m_look.px(7), room, m_look.px(16)), label,
              m_look.caption(), m_look.colours().softInk);
}

void PowerPath::paintRibbon(QPainter& painter, const std::vector<Column>& all) const
{
    const double top = m_look.px(ribbonY);
    const double middle = top + m_look.px(ribbonH) / 2.0;
    const StationView& first = *all.front().shown;
    double before = thickness(first.power_w + first.loss_w);
    QPainterPath upper;
    std::vector<QPointF> lower;
    upper.moveTo(0, middle - before / 2);
    lower.emplace_back(0, middle + before / 2);
    std::vector<double> bottoms;
    for (const Column& column : all) {
        const double after = thickness(view(column.stations.back()).power_w);
        const double x = column.box.center().x();
        const double half = m_look.px(16);
        upper.lineTo(x - half, middle - before / 2);
        upper.cubicTo(x, middle - before / 2, x, middle - after / 2, x + half, middle - after / 2);
        lower.emplace_back(x - half, middle + before / 2);
        lower.emplace_back(x + half, middle + after / 2);
        bottoms.push_back(middle + std::min(before, after) / 2);
        before = after;
    }
    upper.lineTo(width(), middle - before / 2);
    upper.lineTo(width(), middle + before / 2);
    for (auto it = lower.rbegin(); it != lower.rend(); ++it)
        upper.lineTo(*it);
    upper.closeSubpath();
    for (std::size_t i = 0; i < all.size(); ++i)
        paintLoss(painter, all, i, bottoms[i]);
    painter.setPen(Qt::NoPen);
    painter.setBrush(m_look.colours().ribbon);
    painter.drawPath(upper);
    // A battery at the load can push back.
    if (m_session.job().need.load.kind == LoadKind::Battery) {
        const double x = width() - m_look.px(22);
        painter.setPen(QPen(m_look.colours().tight, 2));
        painter.setBrush(Qt::NoBrush);
        painter.drawPolyline(QPolygonF{{QPointF(x + 14, middle), QPointF(x, middle)}});
        painter.drawPolyline(
            QPolygonF{{QPointF(x + 6, middle - 5), QPointF(x, middle), QPointF(x + 6, middle + 5)}});
    }
}

/// The selected station is a tinted column with a thin outline, under everything else.
void PowerPath::paintSelection(QPainter& painter, const Column& column) const
{
    if (!selected(column))
        return;
    painter.setPen(QPen(m_look.colours().planned, hasFocus() ? 2.2 : 1.4));
    painter.setBrush(m_look.colours().selection);
    painter.drawRoundedRect(column.box.adjusted(3, 2, -3, -4), 4, 4);
}

void PowerPath::paintColumn(QPainter& painter, const Column& column) const
{
    const Colours& c = m_look.colours();
    const StationView& v = *column.shown;
    const QRectF& box = column.box;
    const auto row = [&](double y, double h) {
        return QRectF(box.left() + 4, m_look.px(y), box.width() - 8, m_look.px(h));
    };
    QString name = qs(v.name);
    if (column.stations.size() > 1 && closed()) {
        paintText(painter, row(nameY, 20), tr("Supply"), m_look.font(13, true), c.ink, Qt::AlignCenter);
        paintText(painter, row(foundY + 8, 20), tr("not looked at yet"), m_look.font(13), c.found,
                  Qt::AlignCenter);
        painter.setPen(QPen(c.softInk, 1.4, Qt::DashLine));
        painter.setBrush(Qt::NoBrush);
        const double wide = std::min<double>(box.width(), m_look.px(220));
        painter.drawRoundedRect(
            QRectF(box.center().x() - wide / 2, m_look.px(ribbonY) - 5, wide, m_look.px(ribbonH) + 10), 4, 4);
        return;
    }
    if (column.stations.size() > 1)
        name = qs(view(column.stations.front()).name) + u" +%1"_s.arg(column.stations.size() - 1);
    paintText(painter, row(nameY, 20), name, m_look.font(13, true), c.ink, Qt::AlignCenter, Qt::ElideMiddle);
    bool anyRows = false;
    for (Station station : column.stations)
        anyRows = anyRows || view(station).has_rows;
    const QPointF mark(box.center().x(), m_look.px(markY));
    if (anyRows) {
        paintVerdict(painter, column.verdict, mark, m_look.px(12), c);
    } else {
        painter.setPen(QPen(c.softInk, 1.4));
        painter.drawLine(mark - QPointF(4, 0), mark + QPointF(4, 0));
    }
    const auto figure = [](const std::string& text) { return text.empty() ? u"–"_s : qs(text); };
    paintText(painter, row(foundY, 18), figure(v.found), m_look.font(13), c.found, Qt::AlignCenter);
    paintText(painter, row(plannedY, 20), figure(v.planned), m_look.font(15, true), c.planned,
              Qt::AlignCenter);
    paintText(painter, row(measuredY, 20), figure(v.measured), m_look.font(14), c.measured, Qt::AlignCenter);
}

void PowerPath::paintFeedback(QPainter& painter, const std::vector<Column>& all) const
{
    if (closed() || !hasFeedback(m_session.job().found))
        return;
    const Colours& c = m_look.colours();
    double from = 0;
    double to = 0;
    for (const Column& column : all) {
        if (std::count(column.stations.begin(), column.stations.end(), Station::Smoothing) > 0)
            from = column.box.center().x() - m_look.px(36);
        if (std::count(column.stations.begin(), column.stations.end(), Station::Converter) > 0)
            to = column.box.center().x() - m_look.px(34);
    }
    const QRectF box = feedbackBox();
    const double y = box.center().y();
    const double bottom = m_look.px(ribbonY + ribbonH) - 2;
    painter.setPen(QPen(c.softInk, 1.3));
    painter.setBrush(Qt::NoBrush);
    QPainterPath loop(QPointF(from, bottom));
    loop.lineTo(from, y - 6);
    loop.quadTo(from, y, from - 6, y);
    loop.lineTo(to + 6, y);
    loop.quadTo(to, y, to, y - 6);
    loop.lineTo(to, bottom + 4);
    painter.drawPath(loop);
    painter.drawPolyline(
        QPolygonF{{QPointF(to - 4, bottom + 9), QPointF(to, bottom + 3), QPointF(to + 4, bottom + 9)}});
    const bool selected = m_session.selected() == Station::Feedback;
    painter.setPen(selected ? QPen(c.planned, hasFocus() ? 2.2 : 1.4) : QPen(c.hairline, 1));
    painter.setBrush(selected ? c.selection : c.sheet);
    painter.drawRoundedRect(box, 4, 4);
    const StationView& v = view(Station::Feedback);
    double x = box.left() + m_look.px(12);
    if (v.has_rows)
        paintVerdict(painter, v.verdict, {x, y}, m_look.px(12), c);
    x += m_look.px(12);
    const auto put = [&](const QString& text, const QFont& font, const QColor& colour) {
        x += paintText(painter, QRectF(x, box.top(), box.right() - x - 4, box.height()), text, font, colour) +
             m_look.px(8);
    };
    put(qs(v.name), m_look.font(13, true), c.ink);
    put(v.found.empty() ? u"–"_s : qs(v.found), m_look.font(13), c.found);
    put(v.planned.empty() ? u"–"_s : qs(v.planned), m_look.font(14, true), c.planned);
    if (!v.measured.empty())
        put(qs(v.measured), m_look.font(13), c.measured);
}

/// The fork: from the transformer down to a manifold that every other rail hangs on, each as thick as its
/// power.
void PowerPath::paintLanes(QPainter& painter, const std::vector<Column>& all) const
{
    const auto& rails = m_session.evaluation().rails;
    if (rails.size() < 2)
        return;
    const Colours& c = m_look.colours();
    double fork = width() / 2.0;
    for (const Column& column : all)
        if (std::ranges::count(column.stations,
                               spokenFor(m_session.evaluation().path, Station::Transformer)) > 0)
            fork = column.box.right() - m_look.px(8);
    double others = 0;
    for (std::size_t i = 1; i < rails.size(); ++i)
        others += rails[i].power_w;
    const double total = std::max(others + rails.front().power_w, 1e-9);
    const double w = std::clamp(others / total * m_look.px(26), 4.0, double(m_look.px(22)));
    const double top = m_look.px(ribbonY + ribbonH) - 2;
    const double manifold = m_look.px(manifoldY);
    painter.setPen(Qt::NoPen);
    painter.setBrush(c.ribbon);
    painter.drawRect(QRectF(fork - w / 2, top, w, manifold - top + 2));
    double from = fork - w / 2;
    double to = fork + w / 2;
    for (std::size_t i = 1; i < rails.size(); ++i) {
        from = std::min(from, laneBox(i).left() + m_look.px(6));
        to = std::max(to, laneBox(i).left() + m_look.px(22));
    }
    painter.drawRect(QRectF(from, manifold, to - from, m_look.px(4)));
    for (std::size_t i = 1; i < rails.size(); ++i)
        paintLane(painter, i);
}

void PowerPath::paintLane(QPainter& painter, std::size_t rail) const
{
    const Colours& c = m_look.colours();
    const RailView& v = m_session.evaluation().rails[rail];
    const QRectF box = laneBox(rail);
    const double y = box.center().y();
    if (m_session.selectedRailAt() == rail) {
        painter.setPen(QPen(c.planned, hasFocus() ? 2.2 : 1.4));
        painter.setBrush(c.selection);
        painter.drawRoundedRect(box.adjusted(2, 1, -2, -1), 4, 4);
    }
    const double thick = std::clamp(thickness(v.power_w) / 3, 2.0, double(m_look.px(9)));
    painter.setPen(Qt::NoPen);
    painter.setBrush(c.ribbon);
    // Down from the manifold, then along the lane.
    painter.drawRect(
        QRectF(box.left() + m_look.px(6), m_look.px(manifoldY), thick, y - m_look.px(manifoldY) + thick / 2));
    painter.drawRect(QRectF(box.left() + m_look.px(6), y - thick / 2, m_look.px(18), thick));
    double x = box.left() + m_look.px(34);
    if (v.has_rows)
        paintVerdict(painter, v.verdict, {x, y}, m_look.px(12), c);
    x += m_look.px(14);
    const auto put = [&](const QString& text, const QFont& font, const QColor& colour) {
        x += paintText(painter, QRectF(x, box.top(), box.right() - x - 4, box.height()), text, font, colour) +
             m_look.px(10);
    };
    put(qs(v.name), m_look.font(13, true), c.ink);
    put(v.found.empty() ? u"–"_s : qs(v.found), m_look.font(13), c.found);
    put(v.planned.empty() ? u"–"_s : qs(v.planned), m_look.font(14, true), c.planned);
    put(v.measured.empty() ? u"–"_s : qs(v.measured), m_look.font(13), c.measured);
    QString more = v.users == 0   ? tr("users not known")
                   : v.users == 1 ? tr("1 user")
                                  : tr("%1 users").arg(v.users);
    if (v.follows)
        more = tr("moves along · ") + more;
    put(more, m_look.caption(), c.softInk);
}

/// Units beside the one on the bench come up from below and join the ribbon in front of the load: side by
/// side into one bus, stacked one on the other.
void PowerPath::paintUnits(QPainter& painter, const std::vector<Column>& all) const
{
    const Evaluation& e = m_session.evaluation();
    if (e.units.empty())
        return;
    const Colours& c = m_look.colours();
    double join = width() - m_look.px(30);
    for (const Column& column : all)
        if (std::count(column.stations.begin(), column.stations.end(), Station::Cable) > 0)
            join = column.box.left() + m_look.px(4);
    const double manifold = m_look.px(manifoldY);
    const double bottom = m_look.px(ribbonY + ribbonH) - 3;
    double to = join;
    double from = join;
    for (std::size_t unit = 1; unit < e.units.size(); ++unit) {
        const QRectF box = laneBox(e.rails.size() - 1 + unit);
        from = std::min(from, box.left() + m_look.px(6));
        to = std::max(to, box.left() + m_look.px(22));
    }
    const double w = m_look.px(7);
    const bool stacked = m_session.job().plan.join && m_session.job().plan.join->kind == Joining::Stacked;
    painter.setPen(Qt::NoPen);
    painter.setBrush(c.ribbon);
    painter.drawRect(QRectF(from, manifold, to - from, m_look.px(4)));
    painter.drawRect(QRectF(join - w / 2, bottom, w, manifold - bottom + 2));
    if (stacked) { // one on the other: steps where the units add their volts
        painter.setPen(QPen(c.planned, 2));
        const double y = (bottom + manifold) / 2;
        for (std::size_t i = 0; i < e.units.size(); ++i) {
            const double half = m_look.px(i % 2 == 0 ? 9 : 5);
            const double at =
                y + (static_cast<double>(i) - static_cast<double>(e.units.size()) / 2) * m_look.px(5);
            painter.drawLine(QPointF(join - half, at), QPointF(join + half, at));
        }
    } else {
        painter.setPen(QPen(c.planned, 2));
        painter.drawPolyline(
            QPolygonF{{QPointF(join - m_look.px(5), bottom + m_look.px(9)), QPointF(join, bottom + 3),
                       QPointF(join + m_look.px(5), bottom + m_look.px(9))}});
    }
    for (std::size_t unit = 1; unit < e.units.size(); ++unit)
        paintUnit(painter, unit);
}

void PowerPath::paintUnit(QPainter& painter, std::size_t unit) const
{
    const Colours& c = m_look.colours();
    const Evaluation& e = m_session.evaluation();
    const UnitView& v = e.units[unit];
    const QRectF box = laneBox(e.rails.size() - 1 + unit);
    const double y = box.center().y();
    painter.setPen(Qt::NoPen);
    painter.setBrush(c.ribbon);
    const double thick = m_look.px(5);
    painter.drawRect(
        QRectF(box.left() + m_look.px(6), m_look.px(manifoldY), thick, y - m_look.px(manifoldY) + thick / 2));
    painter.drawRect(QRectF(box.left() + m_look.px(6), y - thick / 2, m_look.px(18), thick));
    double x = box.left() + m_look.px(34);
    if (v.has_rows)
        paintVerdict(painter, v.verdict, {x, y}, m_look.px(12), c);
    x += m_look.px(14);
    const auto put = [&](const QString& text, const QFont& font, const QColor& colour) {
        x += paintText(painter, QRectF(x, box.top(), box.right() - x - 4, box.height()), text, font, colour) +
             m_look.px(10);
    };
    const QString tag = u"#"_s + qs(v.tag.value_or("1"));
    put(qs(v.name).endsWith(tag) ? qs(v.name) : tag + u' ' + qs(v.name), m_look.font(13, true), c.ink);
    put(v.found.empty() ? u"–"_s : qs(v.found), m_look.font(13), c.found);
    put(v.planned.empty() ? u"–"_s : qs(v.planned), m_look.font(14, true), c.planned);
    put(v.measured.empty() ? u"–"_s : qs(v.measured), m_look.font(13), c.measured);
    put(qs(v.place), m_look.caption(), c.softInk);
}

void PowerPath::paintRowNames(QPainter& painter) const
{
    const Colours& c = m_look.colours();
    const auto row = [&](double y, double h) {
        return QRectF(m_look.px(10), m_look.px(y), m_look.px(namesW - 10), m_look.px(h));
    };
    paintText(painter, row(foundY, 18), tr("found"), m_look.caption(), c.found);
    paintText(painter, row(plannedY, 20), tr("planned"), m_look.font(12, true), c.planned);
    paintText(painter, row(measuredY, 20), tr("measured"), m_look.caption(), c.measured);
}

void PowerPath::paintEvent(QPaintEvent* /*event*/)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const Colours& c = m_look.colours();
    painter.fillRect(rect(), c.sheet);
    const auto all = columns();
    for (const Column& column : all)
        paintSelection(painter, column);
    paintRibbon(painter, all);
    for (const Column& column : all)
        paintColumn(painter, column);
    paintLanes(painter, all);
    paintUnits(painter, all);
    paintFeedback(painter, all);
    paintRowNames(painter);
    painter.setPen(c.hairline);
    painter.drawLine(0, height() - 1, width(), height() - 1);
}

std::optional<Station> PowerPath::stationAt(QPointF position) const
{
    if (!closed() && hasFeedback(m_session.job().found) && feedbackBox().contains(position))
        return Station::Feedback;
    for (const Column& column : columns())
        if (column.box.contains(position) && position.y() < m_look.px(pathH))
            return closed() ? column.stations.front() : column.shown->station;
    return std::nullopt;
}

void PowerPath::mousePressEvent(QMouseEvent* event)
{
    for (std::size_t rail = 1; rail < m_session.evaluation().rails.size(); ++rail)
        if (laneBox(rail).contains(event->position()))
            return m_session.point(Station::Smoothing, rail);
    const auto station = stationAt(event->position());
    if (!station)
        return;
    open(*station);
    m_session.point(*station);
}

void PowerPath::open(Station station)
{
    m_opened = m_opened || inClosedBox(station);
    update();
}

void PowerPath::keyPressEvent(QKeyEvent* event)
{
    const std::vector<Station> order = walkOf(m_session.job(), m_session.evaluation());
    const Station selected = spokenFor(m_session.evaluation().path, m_session.selected());
    const auto found = std::ranges::find(order, selected);
    const std::ptrdiff_t at = found == order.end() ? 0 : found - order.begin();
    const auto last = static_cast<std::ptrdiff_t>(order.size()) - 1;
    if (event->key() == Qt::Key_Right || event->key() == Qt::Key_Left) {
        const std::ptrdiff_t next =
            std::clamp<std::ptrdiff_t>(at + (event->key() == Qt::Key_Right ? 1 : -1), 0, last);
        open(order[static_cast<std::size_t>(next)]);
        m_session.point(order[static_cast<std::size_t>(next)]);
        return;
    }
    const std::size_t rails = m_session.evaluation().rails.size();
    const std::size_t rail = m_session.selectedRailAt();
    if (event->key() == Qt::Key_Down && rail + 1 < rails)
        return m_session.point(Station::Smoothing, rail + 1);
    if (event->key() == Qt::Key_Up && rail > 0)
        return m_session.point(Station::Smoothing, rail - 1);
    QWidget::keyPressEvent(event);
}

void PowerPath::focusInEvent(QFocusEvent* event)
{
    QWidget::focusInEvent(event);
    update();
}

void PowerPath::focusOutEvent(QFocusEvent* event)
{
    QWidget::focusOutEvent(event);
    update();
}

bool PowerPath::event(QEvent* event)
{
    if (event->type() != QEvent::ToolTip)
        return QWidget::event(event);
    const auto* help = static_cast<QHelpEvent*>(event);
    const auto station = stationAt(help->pos());
    if (!station) {
        QToolTip::hideText();
        return true;
    }
    if (inClosedBox(*station)) {
        QToolTip::showText(help->globalPos(),
                           tr("Not looked at yet: What is it?, under Found, finds out with "
                              "you. A click shows what is assumed of it."),
                           this);
        return true;
    }
    const StationView& v = view(*station);
    const auto figure = [](const std::string& text) { return text.empty() ? u"–"_s : qs(text); };
    QString text = tr("%1: found %2, planned %3, measured %4")
                       .arg(qs(v.name), figure(v.found), figure(v.planned), figure(v.measured));
    if (!v.reason.empty())
        text += u"\n"_s + qs(v.reason);
    QToolTip::showText(help->globalPos(), text, this);
    return true;
}

} // namespace offshoot::ui
