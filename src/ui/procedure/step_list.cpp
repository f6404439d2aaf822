#include "ui/procedure/step_list.h"

#include "core/evaluate/evaluation.h"
#include "core/values/format.h"
#include "ui/paint/marks.h"

namespace offshoot::ui {

using namespace Qt::StringLiterals;

QString stepKindWord(StepKind kind)
{
    switch (kind) {
    case StepKind::Look:
        return StepModel::tr("look");
    case StepKind::Isolate:
        return StepModel::tr("isolate");
    case StepKind::Prove:
        return StepModel::tr("prove");
    case StepKind::Touch:
        return StepModel::tr("touch");
    case StepKind::Power:
        return StepModel::tr("power");
    case StepKind::Probe:
        return StepModel::tr("probe");
    case StepKind::Adjust:
        return StepModel::tr("adjust");
    case StepKind::Wait:
        return StepModel::tr("wait");
    }
    return {};
}

QString windowText(const Asked& asked)
{
    if (!asked.window)
        return {};
    if (asked.quantity == Quantity::Voltage && asked.window->min && asked.window->max)
        return StepModel::tr("%1 to %2 V")
            .arg(qs(fixed(*asked.window->min, 2)), qs(fixed(*asked.window->max, 2)));
    const auto show = [&](double v) {
        if (asked.quantity == Quantity::Resistance)
            return qs(v < 10 ? formatValue(v, asked.quantity, 3) : formatOhms(std::round(v)));
        return qs(asked.quantity == Quantity::Voltage ? formatVolts(v) : formatValue(v, asked.quantity, 3));
    };
    if (asked.window->min && asked.window->max)
        return StepModel::tr("%1 to %2").arg(show(*asked.window->min), show(*asked.window->max));
    if (asked.window->max)
        return StepModel::tr("below %1").arg(show(*asked.window->max));
    return StepModel::tr("above %1").arg(show(*asked.window->min));
}

StepModel::StepModel(Stage stage, JobSession& session, QObject* parent)
    : QAbstractListModel(parent)
    , m_stage(stage)
    , m_session(session)
{}

void StepModel::take()
{
    std::vector<StepView> next;
    for (const StepView& view : m_session.evaluation().steps)
        if (view.step.stage == m_stage)
            next.push_back(view);
    const bool same = next.size() == m_steps.size() &&
                      std::equal(next.begin(), next.end(), m_steps.begin(),
                                 [](const StepView& a, const StepView& b) { return a.step.id == b.step.id; });
    if (!same)
        beginResetModel();
    m_steps = std::move(next);
    if (!same)
        endResetModel();
    else if (!m_steps.empty())
        Q_EMIT dataChanged(index(0), index(StepModel::rowCount() - 1));
}

int StepModel::rowCount(const QModelIndex& parent) const
{
    return parent.isValid() ? 0 : static_cast<int>(m_steps.size());
}

QVariant StepModel::data(const QModelIndex& index, int role) const
{
    if (!index.isValid() || (role != Qt::DisplayRole && role != Qt::AccessibleTextRole))
        return {};
    const StepView& view = at(index.row());
    const QString status = view.status == StepStatus::Done    ? tr("done")
                           : view.status == StepStatus::Again ? tr("again")
                                                              : tr("open");
    return u"%1, %2, %3"_s.arg(qs(view.step.title), stepKindWord(view.step.kind), status);
}

int StepModel::firstOpen() const
{
    for (int i = 0; i < rowCount(); ++i)
        if (at(i).status != StepStatus::Done)
            return i;
    return rowCount() - 1;
}

StepDelegate::StepDelegate(const StepModel& model, Look& look, QObject* parent)
    : QStyledItemDelegate(parent)
    , m_model(model)
    , m_look(look)
{}

QSize StepDelegate::sizeHint(const QStyleOptionViewItem& /*option*/, const QModelIndex& /*index*/) const
{
    return {m_look.px(240), m_look.px(38)};
}

void StepDelegate::paint(QPainter* painter, const QStyleOptionViewItem& option,
                         const QModelIndex& index) const
{
    const Colours& c = m_look.colours();
    const StepView& view = m_model.at(index.row());
    const QRectF box = option.rect;
    painter->save();
    painter->setRenderHint(QPainter::Antialiasing);
    if ((option.state & QStyle::State_Selected) != 0) {
        painter->setPen(QPen(c.planned, (option.state & QStyle::State_HasFocus) != 0 ? 1.8 : 1));
        painter->setBrush(c.selection);
        painter->drawRoundedRect(box.adjusted(1, 1, -2, -1), 4, 4);
    }
    const QPointF mark(box.left() + m_look.px(18), box.center().y());
    const double r = m_look.px(7);
    painter->setPen(QPen(view.status == StepStatus::Again ? c.tight : c.planned, 1.6));
    painter->setBrush(view.status == StepStatus::Done ? c.planned : QColor(Qt::transparent));
    painter->drawEllipse(mark, r, r);
    if (view.status == StepStatus::Done) {
        painter->setPen(QPen(c.sheet, 1.8));
        painter->drawPolyline(
            QPolygonF{{mark + QPointF(-3.5, 0), mark + QPointF(-1, 3), mark + QPointF(4, -3)}});
    } else if (view.status == StepStatus::Again) {
        paintText(*painter, QRectF(mark.x() - r, mark.y() - r, 2 * r, 2 * r), u"↻"_s, m_look.caption(),
                  c.tight, Qt::AlignCenter);
    }
    QString right = stepKindWord(view.step.kind);
    for (const auto& reading : view.readings)
        if (reading)
            right =
                qs(reading->quantity == Quantity::Voltage ? formatVolts(reading->value)
                                                          : formatValue(reading->value, reading->quantity));
    const auto verdict = view.verdict();
    const double rightWidth = textWidth(right, m_look.caption()) + 4;
    double edge = box.right() - m_look.px(8);
    if (verdict) {
        paintVerdict(*painter, *verdict, {edge - m_look.px(6), box.center().y()}, m_look.px(11), c);
        edge -= m_look.px(18);
    }
    paintText(*painter, QRectF(edge - rightWidth, box.top(), rightWidth, box.height()), right,
              m_look.caption(), verdict ? c.measured : c.softInk, Qt::AlignRight | Qt::AlignVCenter);
    const double left = box.left() + m_look.px(34);
    paintText(*painter, QRectF(left, box.top(), edge - rightWidth - left - 6, box.height()),
              qs(view.step.title), m_look.font(14, view.status != StepStatus::Done),
              view.status == StepStatus::Done ? c.softInk : c.ink);
    painter->restore();
}

} // namespace offshoot::ui
