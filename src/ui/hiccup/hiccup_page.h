// Hiccup explained: the causes that look alike from outside, what speaks for and against each, and what to
// look at next.
#pragma once

#include "ui/plan/workspace_page.h"

#include <QWidget>

class QFormLayout;
class QLabel;

namespace offshoot::ui {

class HiccupPage : public WorkspacePage
{
    Q_OBJECT

public:
    HiccupPage(JobSession& session, Look& look, QWidget* parent = nullptr);

private:
    QWidget* questions();
    void ask(QFormLayout& form, const QString& question, std::optional<bool> HiccupSeen::*answer);
    void refresh() override;

    QLabel* m_causes;
    QLabel* m_hint = nullptr;
};

} // namespace offshoot::ui
