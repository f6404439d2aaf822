// Rehouse: a bare adjustable module in a case of its own.
#pragma once

#include "ui/plan/workspace_page.h"

class QFormLayout;
class QLabel;
class QPushButton;

namespace offshoot::ui {

class ReachPicture;

class RehousePage : public WorkspacePage
{
    Q_OBJECT

public:
    RehousePage(JobSession& session, Look& look, QWidget* parent = nullptr);

private:
    void refresh() override;
    QWidget* tables();
    QWidget* feedFields();
    void toggle();

    ReachPicture* m_picture;
    QLabel* m_judged;
    QPushButton* m_toggle;
    QWidget* m_rest = nullptr; ///< what there is to say once it is planned
};

} // namespace offshoot::ui
