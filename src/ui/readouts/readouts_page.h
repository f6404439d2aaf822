// Readouts: is a display, or one's own meter, right? Its points beside what was true, what would cure it, and
// the accuracy that can be taken from it.
#pragma once

#include "core/evaluate/readout_view.h"
#include "ui/plan/workspace_page.h"

class QComboBox;
class QFormLayout;
class QPushButton;
class QVBoxLayout;

namespace offshoot::ui {

class ReadoutPicture : public QWidget
{
    Q_OBJECT

public:
    ReadoutPicture(const Look& look, QWidget* parent = nullptr);
    void show(const ReadoutView& view);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    const Look& m_look;
    ReadoutView m_view;
};

class ReadoutsPage : public WorkspacePage
{
    Q_OBJECT

public:
    ReadoutsPage(JobSession& session, Look& look, QWidget* parent = nullptr);
    /// Begins one for the bench meter, unless there is one of that quantity.
    void holdOwnMeter(Quantity quantity);

private:
    void refresh() override;
    QWidget* side();
    QWidget* fields();
    void addThroughFields(QFormLayout& form);
    void addClaimFields(QFormLayout& form);
    void add(bool ownMeter, Quantity quantity);
    /// The place that is shown; nothing while there is none.
    std::optional<ReadoutPlace> place(const Job& job) const;
    /// What is shown, of a job that is being changed; put back by change().
    HeldReadout held(const Job& job) const;
    void change(Job& job, const std::function<void(HeldReadout&)>& change) const;
    void renewTable();
    QString figuresHtml() const;

    ReadoutView m_view;
    QComboBox* m_which;
    ReadoutPicture* m_picture;
    QVBoxLayout* m_tablePlace;
    QWidget* m_table = nullptr;
    QString m_tableOf; ///< what its columns are for
    QWidget* m_fields;
    QLabel* m_says;
    QPushButton* m_take;
    QPushButton* m_remove;
};

} // namespace offshoot::ui
