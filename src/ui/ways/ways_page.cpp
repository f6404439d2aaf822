#include "ui/ways/ways_page.h"

#include "core/values/figures.h"
#include "ui/fields/option_list.h"
#include "ui/paint/figures.h"
#include "ui/paint/marks.h"

#include <QCheckBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

// Of a lane's width: where the ruler begins and ends.
constexpr double ruler_from = 0.34;
constexpr double ruler_to = 0.54;
constexpr double effort_px = 122;

QString timeText(double minutes)
{
    constexpr double step = 5;
    return WaysPage::tr("about %1 min").arg(std::max(step, std::round(minutes / step) * step));
}

} // namespace

/// A line that is cut where it is too long, whole on hover.
class ElidedLine : public QWidget
{
public:
    explicit ElidedLine(Look& look)
        : m_look(look)
    {
        sizedWith(*this, look, [this, &look] { setFixedHeight(look.px(18)); });
    }
    void show(const QString& text)
    {
        m_text = text;
        setToolTip(text);
        setAccessibleName(text);
        setVisible(!text.isEmpty());
        update();
    }

protected:
    void paintEvent(QPaintEvent* /*event*/) override
    {
        QPainter painter(this);
        paintText(painter, rect(), m_text, m_look.caption(), m_look.colours().softInk);
    }

private:
    Look& m_look;
    QString m_text;
};

/// Over the lanes, what the band in them is.
class WindowLabel : public QWidget
{
public:
    explicit WindowLabel(Look& look)
        : m_look(look)
    {
        sizedWith(*this, look, [this, &look] { setFixedHeight(look.px(18)); });
    }
    void show(const QString& text, double at)
    {
        m_text = text;
        m_at = at;
        update();
    }

protected:
    void paintEvent(QPaintEvent* /*event*/) override
    {
        QPainter painter(this);
        const double wide = m_look.px(180);
        paintText(painter, QRectF(m_at - wide / 2, 0, wide, height()), m_text, m_look.font(13, true),
                  m_look.colours().fits, Qt::AlignCenter);
    }

private:
    Look& m_look;
    QString m_text;
    double m_at = 0;
};

WaysPage::WaysPage(JobSession& session, Look& look, QWidget* parent)
    : WorkspacePage(session, look, parent)
    , m_decides(new ElidedLine(look))
    , m_ruler(new WindowLabel(look))
    , m_all(new QCheckBox)
    , m_schools(new ElidedLine(look))
    , m_options(new OptionList(
          tr("Ways, best first"), look, 48,
          [this](QPainter& painter, const QRectF& box, int row) { paintWay(painter, box, row); },
          [this](int row) { return wayText(row); }))
{
    auto* column = new QVBoxLayout;
    column->setSpacing(look.px(4));
    column->addWidget(m_decides);
    column->addWidget(m_ruler);
    column->addWidget(m_options, 1);
    auto* foot = new QHBoxLayout;
    foot->addWidget(m_all);
    foot->addStretch();
    foot->addWidget(new QLabel(tr("↑ ↓ look · Enter plans it")));
    column->addLayout(foot);
    body().addLayout(column);
    column->addWidget(m_schools);
    m_all->hide(); // until there are some
    connect(m_all, &QCheckBox::toggled, this, &WaysPage::showWays);
    connect(m_options, &OptionList::looked, this, [this](int row) {
        showSchools();
        const WorkedWay* way = at(row);
        if (way == nullptr || !way->plan)
            return m_session.clearPreview();
        m_session.preview([plan = *way->plan](Job& job) { job.plan = plan; });
    });
    connect(m_options, &OptionList::taken, this, &WaysPage::planRow);
    follow();
}

const WorkedWay* WaysPage::at(int row) const
{
    return row >= 0 && row < static_cast<int>(m_shown.size())
               ? &m_ways[m_shown[static_cast<std::size_t>(row)]]
               : nullptr;
}

/// Looking at one changes nothing of what the others come to.
void WaysPage::refresh()
{
    const Job& job = m_session.edited();
    if (m_for && *m_for == job)
        return;
    m_for = job;
    if (m_ways.empty())
        setSentence(tr("Every way is being worked out…"));
    m_work.start([this, job, units = m_shelf.units()](const Background::Wanted&) {
        return [this, ways = waysOf(job, units)] { take(ways); };
    });
}

void WaysPage::take(std::vector<WorkedWay> ways)
{
    m_ways = std::move(ways);
    const WaysSentence sentence = waysSentence(*m_for, m_ways);
    setSentence(qs(sentence.answer));
    m_decides->show(qs(sentence.decides));
    showSchools();
    // The ruler holds the window and every reach that is not out of all proportion.
    const auto& target = m_for->need.target;
    m_low_v = target ? target->min_v : 0;
    m_high_v = target ? target->max_v : 1;
    const double most_v = target ? 2 * target->max_v : 1;
    for (const WorkedWay& way : m_ways)
        if (way.reaches) {
            m_low_v = std::min(m_low_v, way.reaches->min_v);
            m_high_v = std::max(m_high_v, std::min(way.reaches->max_v, most_v));
        }
    const double margin = std::max(0.12 * (m_high_v - m_low_v), 0.01);
    m_low_v = std::max(0.0, m_low_v - margin);
    m_high_v += margin;
    showWays();
}

/// Where good people disagree between two of the lanes, and which of them by this job's figures. All of them
/// where no lane is looked at, else those of that lane.
void WaysPage::showSchools()
{
    const WorkedWay* looked = at(m_options->current());
    QStringList lines;
    for (const WaySchool& school : waySchools(m_ways))
        if (looked == nullptr || school.pick == looked->way || school.other == looked->way)
            lines << qs(schoolWords(school));
    m_schools->show(lines.join(u"  "_s));
}

void WaysPage::showWays()
{
    if (!m_for)
        return;
    m_shown.clear();
    QStringList others;
    for (std::size_t i = 0; i < m_ways.size(); ++i)
        if (m_ways[i].concerned || m_all->isChecked())
            m_shown.push_back(i);
        else
            others << qs(std::string(wayWords(m_ways[i].way))).toLower();
    const auto folded = std::ranges::count_if(m_ways, [](const WorkedWay& way) { return !way.concerned; });
    m_all->setText(tr("Show the %1 that this need does not ask for").arg(folded));
    m_all->setToolTip(others.join(u", "_s));
    m_all->setVisible(folded > 0);
    m_options->setCount(static_cast<int>(m_shown.size()));
    if (m_options->current() < 0 && !m_shown.empty())
        m_options->follow(0);
    m_options->viewport()->update();
    labelWindow();
}

void WaysPage::labelWindow()
{
    const auto& target = m_for->need.target;
    if (!target)
        return m_ruler->show({}, 0);
    const double wide = m_options->viewport()->width();
    const QRectF ruler(wide * ruler_from, 0, wide * (ruler_to - ruler_from), 1);
    m_ruler->show(tr("%1 to %2").arg(volts(target->min_v), volts(target->max_v)), x(ruler, target->v));
}

void WaysPage::resizeEvent(QResizeEvent* event)
{
    WorkspacePage::resizeEvent(event);
    if (m_for)
        labelWindow();
}

double WaysPage::x(const QRectF& ruler, double v) const
{
    return ruler.left() + ruler.width() * std::clamp((v - m_low_v) / (m_high_v - m_low_v), 0.0, 1.0);
}

/// The window as a band through every lane, what the way reaches as a bar with its numbers.
void WaysPage::paintReach(QPainter& painter, const QRectF& box, const WorkedWay& way) const
{
    const Colours& c = m_look.colours();
    if (const auto& target = m_for->need.target) {
        QColor band = c.fits;
        band.setAlphaF(0.14F);
        painter.fillRect(
            QRectF(QPointF(x(box, target->min_v), box.top()), QPointF(x(box, target->max_v), box.bottom())),
            band);
        painter.setPen(QPen(c.fits, 1, Qt::DashLine));
        painter.drawLine(QPointF(x(box, target->v), box.top()), QPointF(x(box, target->v), box.bottom()));
    }
    if (!way.reaches)
        return;
    const double from = x(box, way.reaches->min_v);
    const double to = x(box, way.reaches->max_v);
    const double middle = box.top() + m_look.px(17);
    const bool breaks = way.verdict == Verdict::Breaks;
    painter.setPen(Qt::NoPen);
    painter.setBrush(breaks ? c.hairline : c.loss);
    painter.drawRect(QRectF(from, middle - m_look.px(5), std::max(2.0, to - from), m_look.px(10)));
    painter.setBrush(breaks ? c.found : c.planned);
    painter.drawEllipse(QPointF((from + to) / 2, middle), m_look.px(5), m_look.px(5));
    const double mid_v = (way.reaches->min_v + way.reaches->max_v) / 2;
    const QString text = volts(mid_v);
    const double wide = textWidth(text, m_look.font(13, true)) + m_look.px(6);
    const QRectF label(std::clamp((from + to) / 2 - wide / 2, box.left(), box.right() - wide),
                       middle + m_look.px(8), wide, m_look.px(16));
    painter.fillRect(label, c.sheet);
    paintText(painter, label, text, m_look.font(13, true), breaks ? c.softInk : c.planned, Qt::AlignCenter);
}

void WaysPage::paintWay(QPainter& painter, const QRectF& box, int row) const
{
    const WorkedWay* way = at(row);
    if (way == nullptr)
        return;
    const Colours& c = m_look.colours();
    const double line = m_look.px(21);
    const double top = box.top() + m_look.px(4);
    const bool dim = way->verdict == Verdict::Breaks || !way->concerned;
    paintVerdict(painter, way->verdict, {box.left() + m_look.px(10), top + line / 2}, m_look.px(13), c);
    const double left = box.left() + m_look.px(26);
    const QRectF ruler(box.left() + box.width() * ruler_from, box.top(),
                       box.width() * (ruler_to - ruler_from), box.height());
    const QRectF name(left, top, ruler.left() - left - m_look.px(8), line);
    paintText(painter, name, qs(wayName(*way)), m_look.font(14, true), dim ? c.softInk : c.ink);
    paintText(painter, name.translated(0, line), qs(way->how), m_look.font(13), dim ? c.softInk : c.planned);
    paintReach(painter, ruler, *way);
    const double effort = m_look.px(effort_px);
    const double from = ruler.right() + m_look.px(10);
    const QRectF why(from, top, box.right() - from - effort, line);
    QString what;
    QColor colour = c.softInk;
    if (!way->stopped_by.empty()) {
        what = qs(way->stopped_by);
        colour = c.breaks;
    } else if (way->worst && way->verdict != Verdict::Fits) {
        what = tr("%1: %2, %3")
                   .arg(verdictWord(way->worst->verdict), qs(way->worst->part), qs(way->worst->quantity));
        colour = c.verdict(way->worst->verdict);
    }
    paintText(painter, why, what, m_look.font(13), colour);
    if (!way->plan)
        return;
    paintText(painter, why.translated(0, line),
              way->opens_mains_side ? tr("opens the mains side") : tr("output side only"), m_look.font(13),
              way->opens_mains_side ? c.breaks : c.softInk);
    const QRectF takes(box.right() - effort, top, effort - m_look.px(4), line);
    paintText(painter, takes, timeText(way->minutes), m_look.font(13, true), dim ? c.softInk : c.ink,
              Qt::AlignRight | Qt::AlignVCenter);
    QString needs = way->joints == 1 ? tr("1 joint") : tr("%1 joints").arg(way->joints);
    if (way->to_get > 0)
        needs += tr(" · %1 to get").arg(way->to_get);
    if (!way->reversible)
        needs = tr("cannot be undone");
    paintText(painter, takes.translated(0, line), needs, m_look.caption(),
              way->reversible ? c.softInk : c.tight, Qt::AlignRight | Qt::AlignVCenter);
}

QString WaysPage::wayText(int row) const
{
    const WorkedWay* way = at(row);
    if (way == nullptr)
        return {};
    QString text = tr("%1: %2").arg(qs(wayName(*way)), verdictWord(way->verdict));
    if (!way->how.empty())
        text += u", "_s + qs(way->how);
    if (way->reaches)
        text += tr(", reaches %1 to %2").arg(volts(way->reaches->min_v), volts(way->reaches->max_v));
    if (!way->stopped_by.empty())
        text += tr(", stopped: %1").arg(qs(way->stopped_by));
    if (way->plan)
        text += u", "_s + timeText(way->minutes);
    return text;
}

void WaysPage::planRow(int row)
{
    const WorkedWay* way = at(row);
    if (way == nullptr)
        return;
    const Way chosen = way->way;
    m_session.clearPreview();
    if (way->plan) {
        const Plan plan = *way->plan;
        m_session.edit(qs(std::string(wayWords(chosen))), [&](Job& job) { job.plan = plan; });
    }
    Q_EMIT planned(chosen);
}

} // namespace offshoot::ui
