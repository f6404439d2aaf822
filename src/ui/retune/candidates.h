// Every candidate from the drawer on one voltage ruler.
#pragma once

#include "ui/look.h"
#include "ui/session.h"

#include <QAbstractListModel>
#include <QStyledItemDelegate>
#include <QWidget>

namespace offshoot::ui {

class CandidateModel : public QAbstractListModel
{
    Q_OBJECT

public:
    explicit CandidateModel(JobSession& session, QObject* parent = nullptr);
    int rowCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& index, int role) const override;
    const Candidate& at(int i) const { return m_candidates.at(static_cast<std::size_t>(i)); }
    int rowOf(const ChosenNetwork& chosen) const;

private:
    void take();
    JobSession& m_session;
    std::vector<Candidate> m_candidates;
    // What their rows are drawn against:
    std::optional<Target> m_target;
    std::optional<ChosenNetwork> m_chosen;
};

/// The voltage scale all candidates share.
struct RulerScale
{
    double low_v;
    double high_v;
    double left;
    double right;
    double x(double v) const { return left + (v - low_v) / (high_v - low_v) * (right - left); }
};
RulerScale rulerScale(const Target& target, double left, double right);

class CandidateDelegate : public QStyledItemDelegate
{
    Q_OBJECT

public:
    CandidateDelegate(const CandidateModel& model, JobSession& session, Look& look, QObject* parent);
    void paint(QPainter* painter, const QStyleOptionViewItem& option,
               const QModelIndex& index) const override;
    QSize sizeHint(const QStyleOptionViewItem& option, const QModelIndex& index) const override;

private:
    const CandidateModel& m_model;
    JobSession& m_session;
    Look& m_look;
};

/// The ruler's axis under the list.
class RulerAxis : public QWidget
{
    Q_OBJECT

public:
    RulerAxis(JobSession& session, Look& look, QWidget* parent = nullptr);
    QSize sizeHint() const override;

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    JobSession& m_session;
    Look& m_look;
};

} // namespace offshoot::ui
