// The steps of one stage as a list, each with its kind, its state and what it asks.
#pragma once

#include "ui/look.h"
#include "ui/session.h"

#include <QAbstractListModel>
#include <QStyledItemDelegate>

namespace offshoot::ui {

QString stepKindWord(StepKind kind);
/// "27.3 to 27.9 V", "below 10 V", or empty.
QString windowText(const Asked& asked);

/// As they were when they were last taken: its view does that while it is seen.
class StepModel : public QAbstractListModel
{
    Q_OBJECT

public:
    StepModel(Stage stage, JobSession& session, QObject* parent = nullptr);
    int rowCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& index, int role) const override;
    const StepView& at(int i) const { return m_steps.at(static_cast<std::size_t>(i)); }
    /// The first open step; the last one when none is.
    int firstOpen() const;
    /// Takes the steps from the session's evaluation as it is now.
    void take();

private:
    Stage m_stage;
    JobSession& m_session;
    std::vector<StepView> m_steps;
};

class StepDelegate : public QStyledItemDelegate
{
    Q_OBJECT

public:
    StepDelegate(const StepModel& model, Look& look, QObject* parent);
    void paint(QPainter* painter, const QStyleOptionViewItem& option,
               const QModelIndex& index) const override;
    QSize sizeHint(const QStyleOptionViewItem& option, const QModelIndex& index) const override;

private:
    const StepModel& m_model;
    Look& m_look;
};

} // namespace offshoot::ui
