// Panel: what comes out to a front, its cut-outs, letters and what is behind them; the template.
#pragma once

#include "ui/panel/panel_picture.h"
#include "ui/plan/workspace_page.h"

class QLabel;
class QPushButton;

namespace offshoot::ui {

class PanelPage : public WorkspacePage
{
    Q_OBJECT

public:
    PanelPage(JobSession& session, Look& look, QWidget* parent = nullptr);
    /// As SVG or PDF by its ending; says what is wrong where it cannot.
    bool exportTemplate(const QString& path);

private:
    void refresh() override;
    QWidget* tools();
    QWidget* tables();
    QWidget* panelFields();
    void layOut();
    void say(const QString& text);

    PanelPicture* m_picture;
    QLabel* m_judged;
    QLabel* m_said;
    QPushButton* m_lay;
    QPushButton* m_drop;
    QPushButton* m_template;
    QWidget* m_rest = nullptr; ///< what there is to say once a panel is planned
};

} // namespace offshoot::ui
