// Plan: the retune workspace. The divider with its real parts, a voltage ruler with every candidate from the
// drawer, the temporary trimmer beside it, and the questions on which good people disagree.
#pragma once

#include "ui/plan/workspace_page.h"
#include "ui/retune/candidates.h"

class QListView;
class QPushButton;
class QStackedWidget;

namespace offshoot::ui {

class RetunePage : public WorkspacePage
{
    Q_OBJECT

public:
    RetunePage(JobSession& session, Look& look, QWidget* parent = nullptr);
    /// Chooses candidate `row` for the plan.
    void plan(int row);

private:
    void refresh() override;
    QString sentence() const;
    QString windowWords() const;
    QString trimmerWords() const;
    QWidget* fixedPart();
    QWidget* ownNetwork();
    QWidget* trimmer();
    void previewRow(const QModelIndex& index);
    void followPlan();

    CandidateModel* m_model;
    QListView* m_list = nullptr;
    QLabel* m_window;
    QLabel* m_travel;
    QPushButton* m_usual;
    QLabel* m_schools;
    QStackedWidget* m_stack;
};

} // namespace offshoot::ui
