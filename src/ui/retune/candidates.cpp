#include "ui/retune/candidates.h"

#include "core/evaluate/evaluation.h"
#include "core/values/format.h"
#include "ui/paint/axes.h"
#include "ui/paint/marks.h"
#include "ui/refresh.h"
#include "ui/retune/divider_drawing.h"

#include <algorithm>
#include <cmath>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

CandidateModel::CandidateModel(JobSession& session, QObject* parent)
    : QAbstractListModel(parent)
    , m_session(session)
{
    connect(&session, &JobSession::changed, this, &CandidateModel::take);
    take();
}

void CandidateModel::take()
{
    const auto& next = m_session.evaluation().candidates;
    const Job& job = m_session.job();
    if (next == m_candidates && job.need.target == m_target && job.plan.chosen == m_chosen)
        return;
    m_target = job.need.target;
    m_chosen = job.plan.chosen;
    const bool same =
        next.size() == m_candidates.size() && std::equal(next.begin(), next.end(), m_candidates.begin(),
                                                         [](const Candidate& a, const Candidate& b) {
                                                             return a.option.method == b.option.method &&
                                                                    a.option.network == b.option.network;
                                                         });
    if (!same)
        beginResetModel();
    m_candidates = next;
    if (!same)
        endResetModel();
    else if (!m_candidates.empty())
        Q_EMIT dataChanged(index(0), index(CandidateModel::rowCount() - 1));
}

int CandidateModel::rowCount(const QModelIndex& parent) const
{
    return parent.isValid() ? 0 : static_cast<int>(m_candidates.size());
}

QVariant CandidateModel::data(const QModelIndex& index, int role) const
{
    if (!index.isValid() || (role != Qt::DisplayRole && role != Qt::AccessibleTextRole))
        return {};
    const DividerOption& o = at(index.row()).option;
    return tr("%1 %2: %3, worst case %4 to %5 V, opens %6")
        .arg(qs(o.network.prettyText()), methodPhrase(o.method), qs(formatVolts(o.v)),
             qs(fixed(o.worst_min_v, 2)), qs(fixed(o.worst_max_v, 2)), outcomePhrase(o.if_open));
}

int CandidateModel::rowOf(const ChosenNetwork& chosen) const
{
    for (int i = 0; i < rowCount(); ++i)
        if (at(i).option.method == chosen.method && at(i).option.network == chosen.network)
            return i;
    return -1;
}

RulerScale rulerScale(const Target& target, double left, double right)
{
    // Wide enough for the spread of one-per-cent parts around the window, the same for every row.
    const double width = std::max(target.max_v - target.min_v, target.v * 0.012);
    const double room = std::max(width * 1.1, target.v * 0.036);
    return {target.min_v - room, target.max_v + room, left, right};
}

CandidateDelegate::CandidateDelegate(const CandidateModel& model, JobSession& session, Look& look,
                                     QObject* parent)
    : QStyledItemDelegate(parent)
    , m_model(model)
    , m_session(session)
    , m_look(look)
{}

QSize CandidateDelegate::sizeHint(const QStyleOptionViewItem& /*option*/, const QModelIndex& /*index*/) const
{
    return {m_look.px(300), m_look.px(50)};
}

void CandidateDelegate::paint(QPainter* painter, const QStyleOptionViewItem& option,
                              const QModelIndex& index) const
{
    const Colours& c = m_look.colours();
    const auto& target = m_session.job().need.target;
    const Candidate& candidate = m_model.at(index.row());
    const DividerOption& o = candidate.option;
    const QRectF box = option.rect;
    painter->save();
    painter->setRenderHint(QPainter::Antialiasing);
    const RulerScale scale = rulerScale(*target, box.left() + m_look.px(10), box.right() - m_look.px(10));
    QColor band = c.fits;
    band.setAlpha(m_look.dark() ? 46 : 34);
    painter->fillRect(QRectF(scale.x(target->min_v), box.top(),
                             scale.x(target->max_v) - scale.x(target->min_v), box.height()),
                      band);
    painter->setPen(QPen(c.fits, 1.2, Qt::DashLine));
    painter->drawLine(QPointF(scale.x(target->v), box.top()), QPointF(scale.x(target->v), box.bottom() + 1));
    const bool selected = (option.state & QStyle::State_Selected) != 0;
    if (selected) {
        painter->setPen(QPen(c.planned, 1.6));
        painter->setBrush(Qt::NoBrush);
        painter->drawRoundedRect(box.adjusted(1, 1, -1, -1), 4, 4);
    }
    const auto& chosen = m_session.job().plan.chosen;
    const bool planned = chosen && chosen->method == o.method && chosen->network == o.network;
    const bool bad = o.if_open.runaway || o.if_open.outcome == Outcome::High;
    const QString right = tr("%1 · opens: %2").arg(qs(formatVolts(o.v)), outcomePhrase(o.if_open));
    const double rightWidth = textWidth(right, m_look.font(13)) + 6;
    const QRectF line(box.left() + m_look.px(12), box.top() + m_look.px(3), box.width() - m_look.px(24),
                      m_look.px(20));
    paintText(*painter, QRectF(line.right() - rightWidth, line.top(), rightWidth, line.height()), right,
              m_look.font(13), bad ? c.breaks : c.softInk, Qt::AlignRight | Qt::AlignVCenter);
    const QString name = u"%1 %2"_s.arg(qs(o.network.prettyText()), methodPhrase(o.method));
    paintText(*painter, QRectF(line.left(), line.top(), line.width() - rightWidth - 10, line.height()), name,
              m_look.font(14, true), planned ? c.planned : c.ink);

    const auto bar = [&](double from, double to, double h, const QColor& colour) {
        const double a = std::clamp(scale.x(from), box.left() + 2, box.right() - 2);
        const double b = std::clamp(scale.x(to), box.left() + 2, box.right() - 2);
        painter->setPen(Qt::NoPen);
        painter->setBrush(colour);
        painter->drawRoundedRect(QRectF(a, box.top() + m_look.px(35) - h / 2, std::max(b - a, 2.0), h), 2, 2);
    };
    bar(candidate.plain.min_v, candidate.plain.max_v, m_look.px(10), c.ribbon);
    if (o.has_before)
        bar(o.worst_min_v, o.worst_max_v, m_look.px(10), c.loss);
    const double dot = scale.x(o.v);
    painter->setBrush(o.worst_in_window ? c.planned : o.in_window ? c.tight : c.breaks);
    if (dot > box.left() && dot < box.right())
        painter->drawEllipse(QPointF(dot, box.top() + m_look.px(35)), m_look.px(5), m_look.px(5));
    painter->restore();
}

RulerAxis::RulerAxis(JobSession& session, Look& look, QWidget* parent)
    : QWidget(parent)
    , m_session(session)
    , m_look(look)
{
    repaintWhenOther(*this, session, [&session] {
        return std::pair(session.job().need.target, session.evaluation().candidates.empty());
    });
}

QSize RulerAxis::sizeHint() const { return {m_look.px(300), m_look.px(30)}; }

void RulerAxis::paintEvent(QPaintEvent* /*event*/)
{
    const auto& target = m_session.job().need.target;
    if (!target || m_session.evaluation().candidates.empty())
        return;
    QPainter painter(this);
    const Colours& c = m_look.colours();
    const RulerScale scale = rulerScale(*target, m_look.px(10), width() - m_look.px(10));
    painter.setPen(QPen(c.ink, 1));
    painter.drawLine(QPointF(scale.left, 1), QPointF(scale.right, 1));
    const double span = scale.high_v - scale.low_v;
    const double step = niceStep(span, 8);
    const int decimals = std::max(0, static_cast<int>(-std::floor(std::log10(step) + 1e-9)));
    for (const double v : ticks(scale.low_v, scale.high_v, step)) {
        painter.setPen(QPen(c.ink, 1));
        painter.drawLine(QPointF(scale.x(v), 1), QPointF(scale.x(v), 6));
        paintText(painter, QRectF(scale.x(v) - 40, 8, 80, m_look.px(18)), qs(fixed(v, decimals)),
                  m_look.caption(), c.softInk, Qt::AlignCenter);
    }
    paintText(painter, QRectF(scale.right - 12, 8, 20, m_look.px(18)), u"V"_s, m_look.caption(), c.softInk,
              Qt::AlignRight);
}

} // namespace offshoot::ui
